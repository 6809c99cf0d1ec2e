package dev.cantina.translate.mariadb;

import dev.cantina.binding.BoundExpression;
import dev.cantina.syntax.TextEdits;
import dev.cantina.translate.SourceForm;
import dev.cantina.translate.UnsupportedConstructException;
import dev.cantina.types.SqlType;
import dev.cantina.types.SqlType.Shape;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** The language's functions as MariaDB has them: by another name, by a function of ours, or not. */
final class MariaBuiltIns {
    private final MariaExpressions words;

    /**
     * @param words for their arguments
     */
    MariaBuiltIns(MariaExpressions words) {
        this.words = words;
    }

    /** A call, in the server's words. */
    void apply(BoundExpression.Apply apply, TextEdits edits) {
        String name = apply.function().name();
        List<BoundExpression> given = apply.arguments();
        if (name.startsWith("TRIM ") || name.equals("+ INTERVAL") || name.equals("- INTERVAL")) {
            boolean variable =
                    name.contains("INTERVAL")
                            && given.stream()
                                    .anyMatch(
                                            a ->
                                                    a.type() instanceof SqlType.Interval
                                                            && !(SourceForm.bare(a)
                                                                    instanceof
                                                                    BoundExpression.Constant));
            if (variable) {
                throw new UnsupportedConstructException(apply.span(), "MariaDB keeps no intervals");
            }
            if (name.startsWith("TRIM ")) {
                trim(given, edits);
            }
            if (apply.type() instanceof SqlType.Time && name.contains("INTERVAL")) {
                // A time of day goes round; the server's would grow past its end.
                TextEdits inner = new TextEdits(apply.span());
                words.parts(apply, inner);
                inner.around(given.get(0).span(), "CAST(TIMESTAMP('2000-01-02', ", ")");
                edits.put(apply.span(), inner.text() + " AS TIME(6))");
                return;
            }
            words.parts(apply, edits);
            return;
        }
        if (name.startsWith("EXTRACT ")) {
            extract(apply, name.substring(8), edits);
            return;
        }
        if (name.contains("INTERVAL") || name.equals("DIFFERENCE")) {
            throw new UnsupportedConstructException(apply.span(), "MariaDB keeps no intervals");
        }
        Optional<String> other = other(name, given);
        if (other.isPresent()) {
            edits.put(apply.span(), other.get());
            return;
        }
        boolean trims = (name.equals("LTRIM") || name.equals("RTRIM")) && given.size() > 1;
        if (apply.function().on("mariadb").isEmpty() || trims) {
            throw new UnsupportedConstructException(
                    apply.span(), name + " has no counterpart on MariaDB");
        }
        for (BoundExpression argument : given) {
            BoundExpression bare = SourceForm.bare(argument);
            // What is folded of a CHAR is one, whose blanks are left out as those of all are.
            boolean folds = name.equals("UPPER") || name.equals("LOWER");
            boolean fixed =
                    !folds
                            && bare.type() instanceof SqlType.Text text
                            && text.shape() == Shape.FIXED;
            if (fixed || bare.type() instanceof SqlType.Bool) {
                edits.put(bare.span(), words.text(bare));
            }
        }
        words.parts(apply, edits);
    }

    private void trim(List<BoundExpression> given, TextEdits edits) {
        BoundExpression from = SourceForm.bare(given.get(0));
        if (from.type() instanceof SqlType.Text text && text.shape() == Shape.FIXED) {
            edits.put(from.span(), words.text(from));
        }
        if (given.size() > 1 && !SourceForm.isOneCharacter(SourceForm.bare(given.get(1)))) {
            BoundExpression what = SourceForm.bare(given.get(1));
            edits.put(what.span(), "cantina_trimmed(" + words.text(what) + ")");
        }
    }

    /** Functions that the server has by another name, or not at all. */
    private Optional<String> other(String name, List<BoundExpression> given) {
        List<String> texts = new ArrayList<>();
        for (BoundExpression argument : given) {
            boolean text = argument.type() instanceof SqlType.Text;
            texts.add(text ? words.text(argument) : words.of(argument));
        }
        return switch (name) {
            case "SUBSTRING" -> {
                boolean plain =
                        isAtLeast(given.get(1), 1)
                                && (given.size() < 3 || isAtLeast(given.get(2), 0));
                String length = given.size() < 3 ? "2147483647" : texts.get(2);
                yield Optional.of(
                        plain
                                ? "SUBSTRING(" + String.join(", ", texts) + ")"
                                : "cantina_substring("
                                        + words.text(given.get(0))
                                        + ", "
                                        + texts.get(1)
                                        + ", "
                                        + length
                                        + ")");
            }
            case "MOD" -> {
                boolean whole =
                        given.get(0).type() instanceof SqlType.Integral
                                && given.get(1).type() instanceof SqlType.Integral;
                String beside = words.beside(SourceForm.bare(given.get(0)));
                String rest =
                        "MOD("
                                + texts.get(0)
                                + ", "
                                + (whole ? "cantina_whole_divisor(" : "cantina_divisor(")
                                + beside
                                + texts.get(1)
                                + (beside.isEmpty() ? "))" : ")))");
                int left = MariaExpressions.scale(SourceForm.bare(given.get(0)));
                int right = MariaExpressions.scale(SourceForm.bare(given.get(1)));
                yield Optional.of(
                        whole || left < 0 || right < 0
                                ? rest
                                : "CAST("
                                        + rest
                                        + " AS DECIMAL(65, "
                                        + Math.max(left, right)
                                        + "))");
            }
            case "TRUNCATE", "TRUNC" ->
                    Optional.of(
                            "TRUNCATE("
                                    + texts.get(0)
                                    + ", "
                                    + (given.size() > 1 ? texts.get(1) : "0")
                                    + ")");
            case "OVERLAY" -> {
                String length =
                        given.size() > 3 ? texts.get(3) : "CHAR_LENGTH(" + texts.get(1) + ")";
                yield Optional.of(
                        "CONCAT(LEFT("
                                + texts.get(0)
                                + ", "
                                + texts.get(2)
                                + " - 1), "
                                + texts.get(1)
                                + ", SUBSTRING("
                                + texts.get(0)
                                + ", "
                                + texts.get(2)
                                + " + "
                                + length
                                + "))");
            }
            case "REPLACE" -> {
                // Where nothing is replaced the server does not mind by what.
                boolean sure = SourceForm.bare(given.get(2)) instanceof BoundExpression.Constant;
                yield sure
                        ? Optional.empty()
                        : Optional.of(
                                "IF(("
                                        + texts.get(2)
                                        + ") IS NULL, NULL, REPLACE("
                                        + String.join(", ", texts)
                                        + "))");
            }
            case "LPAD", "RPAD" -> {
                boolean plain =
                        isAtLeast(given.get(1), 0)
                                && (given.size() < 3
                                        || SourceForm.bare(given.get(2))
                                                        instanceof BoundExpression.Constant fill
                                                && fill.value() instanceof String text
                                                && !text.isEmpty());
                yield plain
                        ? Optional.empty()
                        : Optional.of(
                                "cantina_padded("
                                        + words.text(given.get(0))
                                        + ", "
                                        + texts.get(1)
                                        + ", "
                                        + (given.size() < 3 ? "' '" : words.text(given.get(2)))
                                        + ", "
                                        + (name.equals("LPAD") ? "TRUE" : "FALSE")
                                        + ")");
            }
            case "POWER" ->
                    isAtLeast(given.get(0), 1)
                            ? Optional.empty()
                            : Optional.of(
                                    "cantina_power(" + texts.get(0) + ", " + texts.get(1) + ")");
            case "SQRT" ->
                    Optional.of(
                            "SQRT(cantina_within("
                                    + texts.get(0)
                                    + ", 0, '2201F', 'the root of a negative number'))");
            case "LN", "LOG10" ->
                    Optional.of(
                            name
                                    + "(cantina_within("
                                    + texts.get(0)
                                    + ", 0, '2201E', 'the logarithm of what is not positive'))");
            default -> Optional.empty();
        };
    }

    private static boolean isAtLeast(BoundExpression e, long least) {
        return SourceForm.bare(e) instanceof BoundExpression.Constant constant
                && constant.value() instanceof Number number
                && number.longValue() >= least;
    }

    private void extract(BoundExpression.Apply apply, String field, TextEdits edits) {
        BoundExpression from = apply.arguments().get(0);
        if (from.type() instanceof SqlType.Interval || field.startsWith("TIMEZONE")) {
            throw new UnsupportedConstructException(
                    apply.span(), "MariaDB keeps no intervals and no time zones");
        }
        String value = words.of(from);
        edits.put(
                apply.span(),
                field.equals("SECOND")
                        ? "(SECOND(" + value + ") + MICROSECOND(" + value + ") * 0.000001)"
                        : "EXTRACT(" + field + " FROM " + value + ")");
    }
}
