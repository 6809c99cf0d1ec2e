package dev.cantina.runtime;

import dev.cantina.syntax.Source;
import dev.cantina.syntax.SqlWords;
import java.sql.SQLException;
import java.util.List;
import java.util.Set;

/**
 * What is done or asked beside a run's own statements is in its transaction, which is taken back
 * afterwards: a text that would end it is refused before anything sees it.
 */
public final class TransactionWords {
    private static final Set<String> ENDS =
            Set.of("COMMIT", "ROLLBACK", "ABORT", "END", "START", "XA");

    private TransactionWords() {}

    /**
     * Looks at a text that is to be one statement. Savepoints are the runner's own, too.
     *
     * @throws SQLException where it is several, or would end the transaction
     */
    public static void check(Program program, String sql) throws SQLException {
        if (program.statements(new Source("statement", sql)).size() > 1) {
            throw new SQLException("this is more than one statement; give one alone", "42601");
        }
        List<SqlWords.Word> words = SqlWords.of(sql).all();
        if (!words.isEmpty() && endsTransaction(words)) {
            throw new SQLException(
                    "what is done here is taken back afterwards as a whole; leave "
                            + words.get(0).text()
                            + " out",
                    "2D000");
        }
    }

    private static boolean endsTransaction(List<SqlWords.Word> words) {
        return switch (words.get(0).text()) {
            // A block of statements is none.
            case "BEGIN" ->
                    words.size() < 2 || !words.get(1).is("NOT") && !words.get(1).is("ATOMIC");
            case "PREPARE" -> words.size() > 1 && words.get(1).is("TRANSACTION");
            case "SET" ->
                    words.stream()
                            .anyMatch(
                                    w ->
                                            w.text().equalsIgnoreCase("AUTOCOMMIT")
                                                    || w.text().equalsIgnoreCase("@@AUTOCOMMIT"));
            default -> ENDS.contains(words.get(0).text());
        };
    }
}
