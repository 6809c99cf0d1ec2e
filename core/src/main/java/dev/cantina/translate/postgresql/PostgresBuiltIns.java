package dev.cantina.translate.postgresql;

import dev.cantina.binding.BoundExpression;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.TextEdits;
import dev.cantina.translate.SourceForm;
import dev.cantina.translate.UnsupportedConstructException;
import dev.cantina.types.Functions;
import dev.cantina.types.SqlType;
import dev.cantina.types.SqlType.Shape;
import java.util.List;
import java.util.Optional;

/**
 * The language's functions as PostgreSQL has them: by another name, of other types, or not at all.
 */
final class PostgresBuiltIns {
    private static final String SERVER = "postgresql";

    private final PostgresExpressions words;

    /**
     * @param words for their arguments
     */
    PostgresBuiltIns(PostgresExpressions words) {
        this.words = words;
    }

    /** What the server calls a function; its own name where that is the same. */
    static String renamed(String name) {
        return Functions.find(name).flatMap(f -> f.on(SERVER)).orElse(name);
    }

    /** A call, in the server's words. */
    void apply(BoundExpression.Apply apply, TextEdits edits) {
        String name = apply.function().name();
        List<BoundExpression> arguments = apply.arguments();
        if (name.startsWith("TRIM ")) {
            BoundExpression what = arguments.size() > 1 ? SourceForm.bare(arguments.get(1)) : null;
            if (what != null && !SourceForm.isOneCharacter(what)) {
                edits.put(what.span(), "cantina.trimmed(" + words.text(what) + ")");
            }
            BoundExpression from = SourceForm.bare(arguments.get(0));
            if (from.type() instanceof SqlType.Text text && text.shape() == Shape.FIXED) {
                edits.put(from.span(), words.text(from));
            }
            words.parts(apply, edits);
            return;
        }
        if (name.startsWith("EXTRACT ")) {
            String value = words.of(apply.arguments().get(0));
            String field = name.substring(8);
            SqlType from = apply.arguments().get(0).type();
            if (from instanceof SqlType.Timestamp stamp && stamp.zone()) {
                throw new UnsupportedConstructException(
                        apply.span(), "a moment is kept without the zone that it was written with");
            }
            edits.put(
                    apply.span(),
                    field.equals("SECOND")
                            ? "EXTRACT(SECOND FROM " + value + ")"
                            : "CAST(EXTRACT(" + field + " FROM " + value + ") AS integer)");
            return;
        }
        if (name.equals("GREATEST") || name.equals("LEAST")) {
            strict(apply, edits);
            return;
        }
        if (name.equals("+ INTERVAL") || name.equals("- INTERVAL")) {
            moved(apply, edits);
            return;
        }
        if (name.equals("DIFFERENCE")) {
            difference(apply, edits);
            return;
        }
        if (name.contains("INTERVAL")) {
            words.parts(apply, edits);
            return;
        }
        if (name.equals("MOD") && apply.type() instanceof SqlType.Approximate) {
            // The server has a rest of exact numbers alone.
            String rest =
                    "MOD(CAST("
                            + words.of(arguments.get(0))
                            + " AS numeric), CAST("
                            + words.of(arguments.get(1))
                            + " AS numeric))";
            edits.put(apply.span(), "CAST(" + rest + " AS double precision)");
            return;
        }
        Optional<String> there = apply.function().on(SERVER);
        if (there.isEmpty()) {
            throw new UnsupportedConstructException(
                    apply.span(), name + " has no counterpart on PostgreSQL");
        }
        if (apply.type() instanceof SqlType.Text fold
                && fold.shape() == Shape.FIXED
                && (name.equals("UPPER") || name.equals("LOWER"))) {
            TextEdits inner = new TextEdits(apply.span());
            words.parts(apply, inner);
            String type = "char(" + Math.max(1, fold.length()) + ")";
            edits.put(apply.span(), "CAST(" + inner.text() + " AS " + type + ")");
            return;
        }
        // The server makes an approximate number of these.
        boolean whole =
                apply.type() instanceof SqlType.Integral && !name.equals("ABS") && isRounding(name);
        if (whole && arguments.size() == 1 && !name.equals("SIGN")) {
            String same = PostgresTypes.of(apply.type(), apply.span());
            String value = words.of(SourceForm.bare(arguments.get(0)));
            edits.put(apply.span(), "CAST(" + value + " AS " + same + ")");
            return;
        } else if (whole) {
            String same = PostgresTypes.of(apply.type(), apply.span());
            edits.around(apply.span(), "CAST(", " AS " + same + ")");
        }
        String written = apply.span().text();
        if (!there.get().equals(name)) {
            Span word =
                    new Span(
                            apply.span().source(),
                            apply.span().start(),
                            apply.span().start() + name.length());
            if (written.regionMatches(true, 0, name, 0, name.length())) {
                edits.put(word, there.get());
            }
        }
        boolean wide = name.equals("ABS") && !arguments.get(0).type().equals(SqlType.BIGINT);
        boolean rounds = name.equals("ROUND") || name.startsWith("TRUNC");
        boolean toDouble = apply.function().isApproximate();
        for (BoundExpression argument : arguments) {
            BoundExpression bare = SourceForm.bare(argument);
            if (rounds && arguments.size() > 1 && bare.type() instanceof SqlType.Approximate
                    || rounds && bare.type() instanceof SqlType.Approximate) {
                edits.put(bare.span(), "CAST(" + words.of(bare) + " AS numeric)");
            } else if (wide && bare.type() instanceof SqlType.Integral) {
                edits.put(bare.span(), "CAST(" + words.of(bare) + " AS bigint)");
            } else if (toDouble && !(bare.type() instanceof SqlType.Approximate)) {
                edits.put(bare.span(), "CAST(" + words.of(bare) + " AS double precision)");
            } else if (rounds
                    && arguments.indexOf(argument) == 1
                    && bare.type() instanceof SqlType.Integral
                    && !(bare instanceof BoundExpression.Constant)) {
                edits.put(bare.span(), "CAST(" + words.of(bare) + " AS integer)");
            } else if (apply.function().traits().whole().contains(arguments.indexOf(argument))
                    && !(bare instanceof BoundExpression.Constant)
                    && !bare.type().equals(SqlType.INTEGER)) {
                edits.put(bare.span(), "CAST(" + words.of(bare) + " AS integer)");
            } else if (!(bare.type() instanceof SqlType.Text)
                    && apply.function().traits().texts().contains(arguments.indexOf(argument))) {
                edits.put(bare.span(), words.text(bare));
            } else if (bare.type() instanceof SqlType.Text text
                    && text.shape() == Shape.FIXED
                    && !name.equals("UPPER")
                    && !name.equals("LOWER")) {
                edits.put(bare.span(), words.text(bare));
            }
        }
        words.parts(apply, edits);
    }

    private static boolean isRounding(String name) {
        return switch (name) {
            case "FLOOR", "CEILING", "CEIL", "ROUND", "TRUNC", "TRUNCATE", "SIGN" -> true;
            default -> false;
        };
    }

    /** GREATEST and LEAST are NULL where one of their arguments is. */
    private void strict(BoundExpression.Apply apply, TextEdits edits) {
        StringBuilder tests = new StringBuilder();
        for (BoundExpression argument : apply.arguments()) {
            if (!(SourceForm.bare(argument) instanceof BoundExpression.Constant)) {
                tests.append(tests.length() == 0 ? "" : " AND ")
                        .append("(")
                        .append(words.of(argument))
                        .append(") IS NOT NULL");
            }
        }
        TextEdits inner = new TextEdits(apply.span());
        if (apply.type() instanceof SqlType.Text) {
            inner.around(apply.arguments().get(0).span(), "((", ") COLLATE \"C\")");
        }
        words.parts(apply, inner);
        edits.put(
                apply.span(),
                tests.length() == 0
                        ? inner.text()
                        : "CASE WHEN " + tests + " THEN " + inner.text() + " END");
    }

    /** A date stays a date when an interval is added. */
    private void moved(BoundExpression.Apply apply, TextEdits edits) {
        TextEdits inner = new TextEdits(apply.span());
        words.parts(apply, inner);
        boolean date = apply.type() instanceof SqlType.Date;
        edits.put(apply.span(), date ? "CAST(" + inner.text() + " AS date)" : inner.text());
    }

    private void difference(BoundExpression.Apply apply, TextEdits edits) {
        String fields = ((SqlType.Interval) apply.type()).fields();
        if (!areDays(apply)) {
            throw new UnsupportedConstructException(
                    apply.span(), "a difference of moments in " + fields + " is another there");
        }
        edits.put(
                apply.span(),
                "make_interval(days => "
                        + words.of(apply.arguments().get(0))
                        + " - "
                        + words.of(apply.arguments().get(1))
                        + ")");
    }

    static boolean areDays(BoundExpression.Apply apply) {
        return ((SqlType.Interval) apply.type()).fields().equalsIgnoreCase("DAY")
                && apply.arguments().stream()
                        .limit(2)
                        .allMatch(a -> a.type() instanceof SqlType.Date);
    }
}
