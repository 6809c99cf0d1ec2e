package dev.cantina.agree;

import dev.cantina.syntax.Expression;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Source;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** Words as names, on the embedded database, with {@code --on}, and in what is shipped. */
class NamesInPlacesTest {
    /** Every how many of the words are looked at. */
    private static final int EVERY = Integer.getInteger("cantina.words", 60);

    private static final int EACH = 3;

    @Test
    @Timeout(3600)
    void areTheSameOnPostgres() throws Exception {
        compare(RandomStage.postgres(NamesInPlaces.TABLES), "SELECT word FROM pg_get_keywords()");
    }

    @Test
    @Timeout(3600)
    void areTheSameOnMaria() throws Exception {
        compare(
                RandomStage.maria(NamesInPlaces.TABLES),
                "SELECT word FROM information_schema.keywords");
    }

    private static void compare(RandomStage server, String query) throws Exception {
        try (RandomStage stage = server) {
            List<String> words = words(stage, query);
            CellComparison comparison = new CellComparison(stage, (text, one, other) -> false);
            for (int i = 0; i < words.size(); i += EACH) {
                List<String> some = words.subList(i, Math.min(words.size(), i + EACH));
                comparison.compare(new NamesInPlaces(some), i, List.of("bin"));
            }
            comparison.end();
        }
    }

    private static List<String> words(RandomStage stage, String query) throws SQLException {
        List<String> words = new ArrayList<>();
        int place = Integer.getInteger("cantina.seed", 1);
        try (Statement statement = stage.connection().createStatement();
                ResultSet row = statement.executeQuery(query + " ORDER BY 1")) {
            while (row.next()) {
                String word = row.getString(1).toLowerCase(Locale.ROOT);
                if (word.matches("[a-z_]+") && isName(word) && place++ % EVERY == 0) {
                    words.add(word);
                }
            }
        }
        return words;
    }

    /** Whether the language lets it be a name. */
    private static boolean isName(String word) {
        return Parser.parseExpression(new Source("word", word))
                        instanceof Parser.ParsedExpression.Read read
                && read.expression() instanceof Expression.Reference;
    }
}
