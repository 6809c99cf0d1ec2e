package dev.cantina.deploy;

import dev.cantina.check.BoundExpression;
import dev.cantina.check.BoundSql;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlWords;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;

/**
 * Variables of type CHAR in a data statement where their blanks at the end count (ISO 9075-2, 6.29
 * and 8.5): beside {@code ||} and LIKE, and as a function's argument. Both servers leave them out.
 */
final class KeptBlanks {
    /** Functions that take a text with all its blanks. */
    private static final Set<String> KEEPING =
            Set.of(
                    "CHAR_LENGTH",
                    "CHARACTER_LENGTH",
                    "OCTET_LENGTH",
                    "SUBSTRING",
                    "POSITION",
                    "REPLACE",
                    "LPAD",
                    "RPAD",
                    "LTRIM",
                    "OVERLAY",
                    "CONCAT");

    private KeptBlanks() {}

    static List<BoundExpression> of(BoundSql sql) {
        List<BoundExpression> fixed =
                sql.parameters().stream()
                        .filter(BoundExpression.Read.class::isInstance)
                        .filter(
                                p ->
                                        p.type() instanceof SqlType.Text text
                                                && text.shape() == SqlType.Shape.FIXED)
                        .toList();
        if (fixed.isEmpty()) {
            return fixed;
        }
        Span whole = sql.source().span();
        SqlWords words = SqlWords.of(whole.text());
        List<BoundExpression> kept = new ArrayList<>();
        for (int i = 0; i < words.all().size(); i++) {
            int start = whole.start() + words.all().get(i).start();
            int at = i;
            fixed.stream()
                    .filter(p -> p.span().start() == start && count(words, at))
                    .forEach(kept::add);
        }
        return kept;
    }

    private static boolean count(SqlWords words, int at) {
        if (words.sees(at + 1, "||") || words.sees(at - 1, "||") || words.sees(at - 1, "LIKE")) {
            return true;
        }
        if (words.sees(at + 1, "LIKE") || words.sees(at + 1, "NOT", "LIKE")) {
            return true;
        }
        if (words.sees(at - 2, "CAST", "(")) {
            return words.sees(at + 1, "AS", "VARCHAR");
        }
        boolean argument =
                words.sees(at - 1, "(") || words.sees(at - 1, ",") || words.sees(at - 1, "IN");
        int open = at - 1;
        int depth = words.all().get(at).depth() - 1;
        while (open > 0 && !(words.sees(open, "(") && words.all().get(open).depth() == depth)) {
            open--;
        }
        return argument && open > 0 && KEEPING.contains(words.all().get(open - 1).text());
    }
}
