package dev.cantina.deploy;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.check.ArgumentCasts;
import dev.cantina.check.BoundExpression;
import dev.cantina.check.BoundSql;
import dev.cantina.check.Variable;
import dev.cantina.check.WrittenNames;
import dev.cantina.database.DeltaTable;
import dev.cantina.database.PostgresTables;
import dev.cantina.database.PostgresWords;
import dev.cantina.database.ServerNames;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlText;
import dev.cantina.types.SqlType;
import dev.cantina.types.SqlType.Shape;
import java.util.Collections;
import java.util.HashSet;
import java.util.HexFormat;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;

/**
 * Expressions and data statements as PostgreSQL reads them: the author's own text, with only those
 * stretches in other words that mean something else there.
 */
final class PostgresExpressions {
    private static final Map<String, String> RENAMED =
            Map.of("TRUNCATE", "TRUNC", "LOG10", "LOG", "CEIL", "CEILING");
    private static final Set<String> ALIKE =
            Set.of(
                    ("CHAR_LENGTH CHARACTER_LENGTH OCTET_LENGTH POSITION SUBSTRING UPPER LOWER LTRIM"
                                    + " RTRIM OVERLAY REPLACE ABS MOD SIGN FLOOR CEILING ROUND TRUNC"
                                    + " POWER SQRT EXP LN CARDINALITY TRIM_ARRAY OVERLAPS LPAD RPAD")
                            .split(" "));

    private final Catalog catalog;
    private final Optional<ModuleSymbol> module;
    private final ServerNames names = ServerNames.postgres();
    private final Optional<String> run;

    /**
     * @param run what schemas are marked by that stand for a run alone, whose clock is Cantina's;
     *     empty for what is to stay
     */
    PostgresExpressions(Catalog catalog, Optional<ModuleSymbol> module, Optional<String> run) {
        this.catalog = catalog;
        this.module = module;
        this.run = run;
    }

    Catalog catalog() {
        return catalog;
    }

    ServerNames names() {
        return names;
    }

    /** An expression in PostgreSQL's words. */
    String of(BoundExpression e) {
        Splice splice = new Splice(e.span());
        edit(e, splice);
        return splice.text();
    }

    /** The same where the server would otherwise look for a function of another type. */
    String typed(BoundExpression e, SqlType type) {
        BoundExpression given = Written.bare(e);
        if (given.type().equals(type) && !(given instanceof BoundExpression.Constant)) {
            return of(e);
        }
        String name = PostgresTypes.bare(type, e.span());
        if (given instanceof BoundExpression.Constant constant && constant.value() == null) {
            return "CAST(NULL AS " + name + ")";
        }
        if (given instanceof BoundExpression.Constant
                && type.equals(SqlType.INTEGER)
                && given.type() instanceof SqlType.Integral) {
            return of(e);
        }
        String text = of(e);
        if (type instanceof SqlType.Integral && given.type() instanceof SqlType.Approximate) {
            text = "CAST(" + text + " AS numeric)";
        } else if (type instanceof SqlType.Text && given.type() instanceof SqlType.Bool) {
            text = "upper(CAST(" + text + " AS text))";
        }
        return "CAST(" + text + " AS " + name + ")";
    }

    void edit(BoundExpression e, Splice splice) {
        PostgresDigits.missing(e)
                .ifPresent(
                        digits -> {
                            if (shown) {
                                splice.aroundOnce(e.span(), "ROUND(", ", " + digits + ")");
                            }
                        });
        if (!(e instanceof BoundExpression.Convert) && Written.isMade(e)) {
            splice.put(e.span(), Written.made(e, this::wide, this::name));
        } else if (e instanceof BoundExpression.Constant constant) {
            constant(constant, splice);
        } else if (e instanceof BoundExpression.Read read) {
            if (!read.variable().isHidden() && !isRowStar(read.span())) {
                splice.put(read.span(), read(read));
            }
        } else if (e instanceof BoundExpression.Field field) {
            field(field, splice);
        } else if (e instanceof BoundExpression.ReadShared shared) {
            splice.put(shared.span(), shared(shared.module(), shared.index(), shared.span()));
        } else if (e instanceof BoundExpression.Element element) {
            splice.put(
                    element.span(),
                    "cantina.element(" + of(element.array()) + ", " + of(element.index()) + ")");
        } else if (e instanceof BoundExpression.Convert convert) {
            convert(convert, splice);
        } else if (e instanceof BoundExpression.Arithmetic sum) {
            arithmetic(sum, splice);
        } else if (e instanceof BoundExpression.Negate negate) {
            negated(negate, splice);
        } else if (e instanceof BoundExpression.Concatenate both) {
            concatenate(both, splice);
        } else if (e instanceof BoundExpression.Compare compare) {
            compare(compare, splice);
        } else if (e instanceof BoundExpression.IsTruth is && is.truth().isEmpty()) {
            edit(is.operand(), splice);
        } else if (e instanceof BoundExpression.Apply apply) {
            apply(apply, splice);
        } else if (e instanceof BoundExpression.Moment moment) {
            splice.put(moment.span(), moment(moment));
        } else if (e instanceof BoundExpression.Invoke invoke) {
            splice.put(invoke.span(), invoke(invoke));
        } else if (e instanceof BoundExpression.Ask ask) {
            ask(ask, splice);
        } else if (e instanceof BoundExpression.Several array
                && array.type() instanceof SqlType.Array
                && array.parts().isEmpty()) {
            splice.put(
                    array.span(),
                    "CAST('{}' AS " + PostgresTypes.of(array.type(), array.span()) + ")");
        } else if (e instanceof BoundExpression.CursorRow) {
            return;
        } else {
            if (e instanceof BoundExpression.Like like) {
                like(like, splice);
            }
            parts(e, splice);
        }
    }

    /** Without ESCAPE nothing is escaped; and what is escaped must be there to be. */
    private void like(BoundExpression.Like like, Splice splice) {
        BoundExpression pattern = Written.bare(like.pattern());
        boolean plain =
                pattern instanceof BoundExpression.Constant constant
                        && !String.valueOf(constant.value()).contains("\\");
        if (like.escape().isEmpty()) {
            if (!plain) {
                splice.around(pattern.span(), "", " ESCAPE ''");
            }
        } else {
            String escape = of(like.escape().get());
            splice.put(pattern.span(), "cantina.pattern(" + text(pattern) + ", " + escape + ")");
        }
    }

    private void parts(BoundExpression e, Splice splice) {
        e.parts().forEach(part -> edit(part, splice));
    }

    private static boolean isRowStar(Span span) {
        return span.text().endsWith("*");
    }

    private void constant(BoundExpression.Constant constant, Splice splice) {
        Span span = constant.span();
        String text = span.text();
        if (constant.type() instanceof SqlType.Bytes && text.regionMatches(true, 0, "X'", 0, 2)) {
            // The value and not the text: a type with a length has filled it up.
            String hex =
                    constant.value() instanceof byte[] bytes
                            ? HexFormat.of().formatHex(bytes)
                            : text.substring(2, text.length() - 1);
            splice.put(span, "'\\x" + hex + "'::bytea");
        } else if (text.equalsIgnoreCase("UNKNOWN")) {
            splice.put(span, "CAST(NULL AS boolean)");
        } else if (constant.type() instanceof SqlType.Approximate
                && text.matches("(?i)[-+]?[0-9.]+E[-+]?[0-9]+")) {
            splice.put(span, text + "::double precision");
        } else if (constant.type() instanceof SqlType.Timestamp stamp && stamp.zone()
                || constant.type() instanceof SqlType.Time time && time.zone()) {
            // Without these words the server drops the zone that stands in the literal.
            splice.put(span, text.replaceFirst("\\w+", "$0 WITH TIME ZONE"));
        }
    }

    private Map<Variable, String> shadowing = Map.of();

    /** Gives names to the variables that would hide others of their name. */
    void name(Map<Variable, String> own) {
        shadowing = own;
    }

    /** A variable's name. */
    String name(Variable variable) {
        String own = shadowing.get(variable);
        return own == null ? names.of(variable) : own;
    }

    private String read(BoundExpression.Read read) {
        String text = read.span().text();
        Variable variable = read.variable();
        if (variable.kind() == Variable.Kind.OLD_ROW) {
            return "OLD";
        }
        if (variable.kind() == Variable.Kind.NEW_ROW) {
            return "NEW";
        }
        if (shadowing.containsKey(variable)) {
            return shadowing.get(variable);
        }
        boolean hidden =
                !text.contains(".") && rows.contains(variable.name().toUpperCase(Locale.ROOT));
        if (hidden) {
            String label =
                    qualifier
                            .apply(variable)
                            .orElseThrow(
                                    () ->
                                            new Refusal(
                                                    read.span(),
                                                    "a table of this statement has the name of the"
                                                            + " variable "
                                                            + text));
            return label + "." + names.of(variable);
        }
        return text.matches("\"[^\"]*\"") ? names.of(variable) : dotted(text);
    }

    /** A name with its dots, each part written as the server wants it. */
    private String dotted(String text) {
        if (text.contains("\"")) {
            return text;
        }
        StringBuilder name = new StringBuilder();
        for (String part : text.split("\\s*\\.\\s*")) {
            name.append(name.length() == 0 ? "" : ".").append(names.of(part));
        }
        return name.toString();
    }

    private void field(BoundExpression.Field field, Splice splice) {
        if (isRowStar(field.span())) {
            return;
        }
        if (!(field.row() instanceof BoundExpression.Read read)) {
            if (field.row() instanceof BoundExpression.Element) {
                throw new Refusal(field.span(), "rows in arrays are not taken to PostgreSQL");
            }
            splice.put(field.span(), dotted(field.span().text()));
            return;
        }
        SqlType.Row type = (SqlType.Row) read.variable().type();
        String column = names.of(type.fields().get(field.index()).name());
        String row =
                switch (read.variable().kind()) {
                    case OLD_ROW -> "OLD";
                    case NEW_ROW -> "NEW";
                    default -> name(read.variable());
                };
        splice.put(field.span(), row + "." + column);
    }

    /** Where a module's variable lives: in a setting of the session. */
    static String setting(ModuleSymbol module, int index) {
        return (module.name() + "." + module.variables().get(index).name().text())
                .toLowerCase(Locale.ROOT);
    }

    private String shared(ModuleSymbol of, int index, Span span) {
        ModuleSymbol.Shared variable = of.variables().get(index);
        String function = schema(of) + "." + names.of(variable.name());
        if (variable.type() instanceof SqlType.Array || variable.type() instanceof SqlType.Row) {
            throw new Refusal(span, "a module's variable that is an array or a row");
        }
        return function + "()";
    }

    String schema(ModuleSymbol of) {
        return run.isPresent() ? names.of(of.name() + run.get()) : names.of(of.tree().name());
    }

    private void convert(BoundExpression.Convert convert, Splice splice) {
        if (Written.isCast(convert)) {
            splice.put(convert.span(), cast(convert));
            return;
        }
        if (convert.store()
                && convert.type().equals(SqlType.INTEGER)
                && (convert.operand() instanceof BoundExpression.Arithmetic sum
                                && (isInteger(sum.left()) || isInteger(sum.right()))
                        || convert.operand() instanceof BoundExpression.Negate negate
                                && isInteger(negate.operand()))) {
            narrow.add(convert.operand());
        }
        BoundExpression bare = Written.bare(convert.operand());
        if (convert.type() instanceof SqlType.Bytes bytes && bytes.length() > 0) {
            splice.put(bare.span(), octets(of(bare), bytes));
            return;
        }
        if (losesBlanks(bare, convert.type())) {
            splice.put(bare.span(), text(bare));
            return;
        }
        edit(convert.operand(), splice);
    }

    /** A binary string of a type with a length. */
    static String octets(String value, SqlType.Bytes type) {
        return "cantina.octets("
                + value
                + ", "
                + type.length()
                + ", "
                + (type.shape() == Shape.FIXED)
                + ")";
    }

    /** Whether a CHAR goes into a text of another kind, where the server drops its blanks. */
    static boolean losesBlanks(BoundExpression e, SqlType to) {
        return !(e instanceof BoundExpression.Constant) && losesBlanks(e.type(), to);
    }

    static boolean losesBlanks(SqlType from, SqlType to) {
        return from instanceof SqlType.Text a
                && a.shape() == Shape.FIXED
                && to instanceof SqlType.Text b
                && b.shape() != Shape.FIXED;
    }

    private static boolean isInteger(BoundExpression e) {
        return Written.bare(e).type().equals(SqlType.INTEGER);
    }

    private String cast(BoundExpression.Convert convert) {
        SqlType from = convert.operand().type();
        boolean days =
                convert.operand() instanceof BoundExpression.Apply apply
                        && apply.function().name().equals("DIFFERENCE")
                        && convert.type() instanceof SqlType.Integral
                        && areDays(apply);
        if (days) {
            List<BoundExpression> moments = ((BoundExpression.Apply) convert.operand()).arguments();
            return "(" + of(moments.get(0)) + " - " + of(moments.get(1)) + ")";
        }
        if (from instanceof SqlType.Interval) {
            throw new Refusal(convert.span(), "an interval is another thing there");
        }
        boolean outer = shown;
        shown |= convert.type() instanceof SqlType.Text && from instanceof SqlType.Exact;
        String operand = of(convert.operand());
        shown = outer;
        if (convert.type() instanceof SqlType.Bytes && !(from instanceof SqlType.Bytes)) {
            throw new Refusal(
                    convert.span(), "a text of hexadecimal digits is no binary string there");
        }
        if (convert.type() instanceof SqlType.Text
                && (from instanceof SqlType.Bytes
                        || from instanceof SqlType.Approximate
                        || from instanceof SqlType.Timestamp stamp && stamp.zone())) {
            operand = text(convert.operand());
        }
        if (losesBlanks(Written.bare(convert.operand()), convert.type())) {
            operand = text(convert.operand());
        }
        if (convert.type() instanceof SqlType.Text text && from instanceof SqlType.Bool) {
            return "CAST(upper(CAST("
                    + operand
                    + " AS text)) AS "
                    + PostgresTypes.of(text, convert.span())
                    + ")";
        }
        if (convert.type() instanceof SqlType.Bool && from instanceof SqlType.Text) {
            return "cantina.truth(" + operand + ")";
        }
        if (from instanceof SqlType.Text && kind(convert.type()).isPresent()) {
            operand = "cantina.moment(" + operand + ", '" + kind(convert.type()).get() + "')";
        }
        boolean shortens =
                convert.type() instanceof SqlType.Text text
                        && text.length() > 0
                        && !(from instanceof SqlType.Text)
                        && !(from instanceof SqlType.Unknown);
        if (convert.type() instanceof SqlType.Bytes bytes && bytes.length() > 0) {
            return octets("CAST(" + operand + " AS bytea)", bytes);
        }
        String type = PostgresTypes.of(convert.type(), convert.span());
        if (shortens) {
            int length = ((SqlType.Text) convert.type()).length();
            boolean fits =
                    from instanceof SqlType.Integral && length >= 20
                            || from instanceof SqlType.Exact exact
                                    && exact.precision() + 2 <= length
                                    && exact.precision() > 0
                            || from instanceof SqlType.Date && length >= 10;
            if (!fits) {
                return "CAST(cantina.fitting(CAST("
                        + operand
                        + " AS text), "
                        + length
                        + ") AS "
                        + type
                        + ")";
            }
        }
        if (convert.type() instanceof SqlType.Integral && from instanceof SqlType.Approximate) {
            return "CAST(CAST(" + operand + " AS numeric) AS " + type + ")";
        }
        return "CAST(" + operand + " AS " + type + ")";
    }

    /** What a text is looked at as before it is cast; nothing for what has a zone. */
    private static Optional<String> kind(SqlType type) {
        if (type instanceof SqlType.Date) {
            return Optional.of("date");
        }
        if (type instanceof SqlType.Time time && !time.zone()) {
            return Optional.of("time");
        }
        return type instanceof SqlType.Timestamp stamp && !stamp.zone()
                ? Optional.of("timestamp")
                : Optional.empty();
    }

    private void arithmetic(BoundExpression.Arithmetic sum, Splice splice) {
        BoundExpression left = Written.bare(sum.left());
        BoundExpression right = Written.bare(sum.right());
        boolean whole =
                left.type() instanceof SqlType.Integral && right.type() instanceof SqlType.Integral;
        boolean wide =
                left.type().equals(SqlType.BIGINT)
                        || right.type().equals(SqlType.BIGINT)
                        || narrow.contains(sum);
        // Whole numbers are worked out as BIGINT, so that no result on the way overflows.
        if (whole && !wide) {
            if (isLeaf(left)) {
                splice.around(left.span(), "", "::bigint");
            } else if (isLeaf(right)) {
                splice.around(right.span(), "", "::bigint");
            } else {
                splice.put(left.span(), "CAST(" + of(left) + " AS bigint)");
            }
        }
        parts(sum, splice);
    }

    private void negated(BoundExpression.Negate negate, Splice splice) {
        BoundExpression operand = Written.bare(negate.operand());
        boolean small =
                operand.type() instanceof SqlType.Integral
                        && !operand.type().equals(SqlType.BIGINT)
                        && !(operand instanceof BoundExpression.Constant)
                        && !narrow.contains(negate);
        if (small && isLeaf(operand)) {
            splice.around(operand.span(), "", "::bigint");
        } else if (small) {
            splice.put(operand.span(), wide(operand));
            return;
        }
        parts(negate, splice);
    }

    private String wide(BoundExpression e) {
        return "CAST(" + of(e) + " AS bigint)";
    }

    private static boolean isLeaf(BoundExpression e) {
        return e instanceof BoundExpression.Read
                || e instanceof BoundExpression.Constant
                || e instanceof BoundExpression.Invoke;
    }

    /** Sums and the like for a variable of their own size, which overflows where they would. */
    private final Set<BoundExpression> narrow = Collections.newSetFromMap(new IdentityHashMap<>());

    private void concatenate(BoundExpression.Concatenate both, Splice splice) {
        if (both.type() instanceof SqlType.Array) {
            // The server's own takes NULL for an array without elements.
            splice.put(
                    both.span(),
                    "cantina.joined(" + of(both.left()) + ", " + of(both.right()) + ")");
            return;
        }
        if (both.type() instanceof SqlType.Bytes) {
            parts(both, splice);
            return;
        }
        BoundExpression left = Written.bare(both.left());
        BoundExpression right = Written.bare(both.right());
        joined(both.left(), right, splice);
        joined(both.right(), left, splice);
    }

    private void joined(BoundExpression part, BoundExpression other, Splice splice) {
        BoundExpression bare = Written.bare(part);
        boolean otherIsText =
                other.type() instanceof SqlType.Text text && text.shape() != Shape.FIXED;
        if (bare.type() instanceof SqlType.Text text && text.shape() == Shape.FIXED) {
            splice.put(bare.span(), "rpad(" + of(bare) + ", " + Math.max(1, text.length()) + ")");
        } else if (bare.type() instanceof SqlType.Text || bare.type() instanceof SqlType.Unknown) {
            edit(bare, splice);
        } else {
            boolean simple =
                    bare instanceof BoundExpression.Read
                            || bare instanceof BoundExpression.Field
                            || bare instanceof BoundExpression.Constant
                            || bare instanceof BoundExpression.Invoke;
            boolean asItIs =
                    otherIsText
                            && (bare.type() instanceof SqlType.Integral
                                    || bare.type() instanceof SqlType.Exact
                                    || bare.type() instanceof SqlType.Date);
            if (asItIs && simple) {
                edit(bare, splice);
            } else {
                splice.put(bare.span(), text(bare));
            }
        }
    }

    /** A value as text, as {@code CAST(… AS VARCHAR)} gives it. */
    String text(BoundExpression value) {
        boolean outer = shown;
        shown = true;
        try {
            return shown(value);
        } finally {
            shown = outer;
        }
    }

    /** Whether the digits of what is said now will be seen. */
    private boolean shown;

    private String shown(BoundExpression value) {
        BoundExpression e = Written.bare(value);
        if (e.type() instanceof SqlType.Bool) {
            return "upper(CAST(" + of(e) + " AS text))";
        }
        if (e.type() instanceof SqlType.Text text && text.shape() == Shape.FIXED) {
            return "rpad(" + of(e) + ", " + Math.max(1, text.length()) + ")";
        }
        if (e.type() instanceof SqlType.Bytes) {
            return "upper(encode(" + of(e) + ", 'hex'))";
        }
        boolean zoned =
                e.type() instanceof SqlType.Timestamp stamp && stamp.zone()
                        || e.type() instanceof SqlType.Time time && time.zone();
        if (zoned || e.type() instanceof SqlType.Interval) {
            throw new Refusal(e.span(), "the text of " + e.type().sql() + " is another there");
        }
        if (e.type() instanceof SqlType.Approximate) {
            throw new Refusal(
                    e.span(), "an approximate number is written another way there; cast it first");
        }
        return e.type() instanceof SqlType.Text ? of(e) : "CAST(" + of(e) + " AS text)";
    }

    private void compare(BoundExpression.Compare compare, Splice splice) {
        BoundExpression left = Written.bare(compare.left());
        BoundExpression right = Written.bare(compare.right());
        boolean arrays =
                left.type() instanceof SqlType.Array && right.type() instanceof SqlType.Array;
        if (arrays) {
            // The server takes NULL in two arrays for the same.
            String same = "cantina.same(" + of(compare.left()) + ", " + of(compare.right()) + ")";
            switch (compare.operator()) {
                case EQUAL -> splice.put(compare.span(), same);
                case NOT_EQUAL -> splice.put(compare.span(), "(NOT " + same + ")");
                default -> throw new Refusal(compare.span(), "the order of arrays");
            }
            return;
        }
        boolean texts = left.type() instanceof SqlType.Text || right.type() instanceof SqlType.Text;
        boolean ordering =
                switch (compare.operator()) {
                    case LESS, LESS_OR_EQUAL, GREATER, GREATER_OR_EQUAL -> true;
                    default -> false;
                };
        if (texts && ordering) {
            splice.aroundOnce(right.span(), "(", " COLLATE \"C\")");
        }
        if (compare.fixed()) {
            padded(left, right, splice);
            padded(right, left, splice);
        }
        parts(compare, splice);
    }

    /** A CHAR beside a VARCHAR: trailing blanks count on neither side. */
    private void padded(BoundExpression e, BoundExpression other, Splice splice) {
        boolean varying =
                e.type() instanceof SqlType.Text text
                        && text.shape() != Shape.FIXED
                        && !(e instanceof BoundExpression.Constant);
        boolean fixed = other.type() instanceof SqlType.Text text && text.shape() == Shape.FIXED;
        if (varying && fixed) {
            splice.put(e.span(), "CAST(" + of(e) + " AS bpchar)");
        }
    }

    private void apply(BoundExpression.Apply apply, Splice splice) {
        String name = apply.function().name();
        List<BoundExpression> arguments = apply.arguments();
        if (name.startsWith("TRIM ")) {
            BoundExpression what = arguments.size() > 1 ? Written.bare(arguments.get(1)) : null;
            if (what != null && !isOneCharacter(what)) {
                splice.put(what.span(), "cantina.trimmed(" + text(what) + ")");
            }
            BoundExpression from = Written.bare(arguments.get(0));
            if (from.type() instanceof SqlType.Text text && text.shape() == Shape.FIXED) {
                splice.put(from.span(), text(from));
            }
            parts(apply, splice);
            return;
        }
        if (name.startsWith("EXTRACT ")) {
            String value = of(apply.arguments().get(0));
            String field = name.substring(8);
            SqlType from = apply.arguments().get(0).type();
            if (from instanceof SqlType.Timestamp stamp && stamp.zone()) {
                throw new Refusal(
                        apply.span(), "a moment is kept without the zone that it was written with");
            }
            splice.put(
                    apply.span(),
                    field.equals("SECOND")
                            ? "EXTRACT(SECOND FROM " + value + ")"
                            : "CAST(EXTRACT(" + field + " FROM " + value + ") AS integer)");
            return;
        }
        if (name.equals("GREATEST") || name.equals("LEAST")) {
            strict(apply, splice);
            return;
        }
        if (name.equals("+ INTERVAL") || name.equals("- INTERVAL")) {
            moved(apply, splice);
            return;
        }
        if (name.equals("DIFFERENCE")) {
            difference(apply, splice);
            return;
        }
        if (name.contains("INTERVAL")) {
            parts(apply, splice);
            return;
        }
        if (!ALIKE.contains(RENAMED.getOrDefault(name, name))) {
            throw new Refusal(apply.span(), name + " has no counterpart on PostgreSQL");
        }
        if (apply.type() instanceof SqlType.Text fold
                && fold.shape() == Shape.FIXED
                && (name.equals("UPPER") || name.equals("LOWER"))) {
            Splice inner = new Splice(apply.span());
            parts(apply, inner);
            String type = "char(" + Math.max(1, fold.length()) + ")";
            splice.put(apply.span(), "CAST(" + inner.text() + " AS " + type + ")");
            return;
        }
        // The server makes an approximate number of these.
        boolean whole =
                apply.type() instanceof SqlType.Integral && !name.equals("ABS") && isRounding(name);
        if (whole && arguments.size() == 1 && !name.equals("SIGN")) {
            splice.put(apply.span(), wide(Written.bare(arguments.get(0))));
            return;
        } else if (whole) {
            splice.around(apply.span(), "CAST(", " AS bigint)");
        }
        String written = apply.span().text();
        if (RENAMED.containsKey(name)) {
            Span word =
                    new Span(
                            apply.span().source(),
                            apply.span().start(),
                            apply.span().start() + name.length());
            if (written.regionMatches(true, 0, name, 0, name.length())) {
                splice.put(word, RENAMED.get(name));
            }
        }
        boolean wide = name.equals("ABS") && !arguments.get(0).type().equals(SqlType.BIGINT);
        boolean rounds = name.equals("ROUND") || name.startsWith("TRUNC");
        boolean toDouble = Set.of("POWER", "SQRT", "EXP", "LN", "LOG10").contains(name);
        for (BoundExpression argument : arguments) {
            BoundExpression bare = Written.bare(argument);
            if (rounds && arguments.size() > 1 && bare.type() instanceof SqlType.Approximate
                    || rounds && bare.type() instanceof SqlType.Approximate) {
                splice.put(bare.span(), "CAST(" + of(bare) + " AS numeric)");
            } else if (wide && bare.type() instanceof SqlType.Integral) {
                splice.put(bare.span(), "CAST(" + of(bare) + " AS bigint)");
            } else if (toDouble && !(bare.type() instanceof SqlType.Approximate)) {
                splice.put(bare.span(), "CAST(" + of(bare) + " AS double precision)");
            } else if (rounds
                    && arguments.indexOf(argument) == 1
                    && bare.type() instanceof SqlType.Integral
                    && !(bare instanceof BoundExpression.Constant)) {
                splice.put(bare.span(), "CAST(" + of(bare) + " AS integer)");
            } else if (wantsInteger(name, arguments.indexOf(argument))
                    && !(bare instanceof BoundExpression.Constant)
                    && !bare.type().equals(SqlType.INTEGER)) {
                splice.put(bare.span(), "CAST(" + of(bare) + " AS integer)");
            } else if (!(bare.type() instanceof SqlType.Text)
                    && wantsText(name, arguments.indexOf(argument))) {
                splice.put(bare.span(), text(bare));
            } else if (bare.type() instanceof SqlType.Text text
                    && text.shape() == Shape.FIXED
                    && !name.equals("UPPER")
                    && !name.equals("LOWER")) {
                splice.put(bare.span(), text(bare));
            }
        }
        parts(apply, splice);
    }

    private static boolean isRounding(String name) {
        return switch (name) {
            case "FLOOR", "CEILING", "CEIL", "ROUND", "TRUNC", "TRUNCATE", "SIGN" -> true;
            default -> false;
        };
    }

    static boolean isOneCharacter(BoundExpression e) {
        return e instanceof BoundExpression.Constant constant
                && constant.value() instanceof String text
                && text.codePointCount(0, text.length()) == 1;
    }

    private static boolean wantsInteger(String name, int position) {
        return position > 0 && (name.equals("SUBSTRING") || name.equals("TRIM_ARRAY"))
                || position > 1 && name.equals("OVERLAY")
                || position == 1 && (name.equals("LPAD") || name.equals("RPAD"));
    }

    private static boolean wantsText(String name, int position) {
        return switch (name) {
            case "CHAR_LENGTH",
                    "CHARACTER_LENGTH",
                    "UPPER",
                    "LOWER",
                    "LTRIM",
                    "RTRIM",
                    "REPLACE",
                    "POSITION" ->
                    true;
            case "SUBSTRING" -> position == 0;
            case "LPAD", "RPAD" -> position != 1;
            default -> false;
        };
    }

    /** GREATEST and LEAST are NULL where one of their arguments is. */
    private void strict(BoundExpression.Apply apply, Splice splice) {
        StringBuilder tests = new StringBuilder();
        for (BoundExpression argument : apply.arguments()) {
            if (!(Written.bare(argument) instanceof BoundExpression.Constant)) {
                tests.append(tests.length() == 0 ? "" : " AND ")
                        .append("(")
                        .append(of(argument))
                        .append(") IS NOT NULL");
            }
        }
        Splice inner = new Splice(apply.span());
        if (apply.type() instanceof SqlType.Text) {
            inner.around(apply.arguments().get(0).span(), "(", " COLLATE \"C\")");
        }
        parts(apply, inner);
        splice.put(
                apply.span(),
                tests.length() == 0
                        ? inner.text()
                        : "CASE WHEN " + tests + " THEN " + inner.text() + " END");
    }

    /** A date stays a date when an interval is added. */
    private void moved(BoundExpression.Apply apply, Splice splice) {
        Splice inner = new Splice(apply.span());
        parts(apply, inner);
        boolean date = apply.type() instanceof SqlType.Date;
        splice.put(apply.span(), date ? "CAST(" + inner.text() + " AS date)" : inner.text());
    }

    private void difference(BoundExpression.Apply apply, Splice splice) {
        String fields = ((SqlType.Interval) apply.type()).fields();
        if (!areDays(apply)) {
            throw new Refusal(
                    apply.span(), "a difference of moments in " + fields + " is another there");
        }
        splice.put(
                apply.span(),
                "make_interval(days => "
                        + of(apply.arguments().get(0))
                        + " - "
                        + of(apply.arguments().get(1))
                        + ")");
    }

    private static boolean areDays(BoundExpression.Apply apply) {
        return ((SqlType.Interval) apply.type()).fields().equalsIgnoreCase("DAY")
                && apply.arguments().stream()
                        .limit(2)
                        .allMatch(a -> a.type() instanceof SqlType.Date);
    }

    private String moment(BoundExpression.Moment moment) {
        return run.isPresent() && !moment.name().equals("CURRENT_USER")
                ? PostgresTables.moment(moment.name())
                : moment.span().text();
    }

    private String invoke(BoundExpression.Invoke invoke) {
        StringBuilder call = new StringBuilder(callee(invoke.routine())).append("(");
        List<BoundExpression> arguments = invoke.arguments();
        for (int i = 0; i < arguments.size(); i++) {
            SqlType type = invoke.routine().parameters().get(i).type();
            call.append(i == 0 ? "" : ", ").append(typed(arguments.get(i), type));
        }
        return call.append(")").toString();
    }

    String callee(RoutineSymbol routine) {
        String name = names.of(routine.tree().name());
        return routine.module().map(m -> schema(m) + "." + name).orElse(name);
    }

    private void ask(BoundExpression.Ask ask, Splice splice) {
        Splice own = new Splice(ask.span());
        sql(ask.sql(), own);
        // A function of the database, or a comparison with a query, has values before its query.
        ask.sql().parameters().stream().filter(p -> own.holds(p.span())).forEach(p -> edit(p, own));
        splice.put(ask.span(), PostgresWords.of(own.text(), catalog.tables()));
    }

    /**
     * @throws Refusal for the rows of a change that the server does not return
     */
    private static void checkDelta(BoundSql sql) {
        Span span = sql.source().span();
        DeltaTable.of(span.text())
                .filter(d -> !d.isReturned())
                .ifPresent(
                        d -> {
                            throw new Refusal(
                                    span,
                                    "PostgreSQL does not give the rows of "
                                            + d.kind()
                                            + " TABLE ("
                                            + d.verb()
                                            + " …)");
                        });
    }

    /** A data statement in PostgreSQL's words. */
    String of(BoundSql sql) {
        checkDelta(sql);
        Splice splice = new Splice(sql.source().span());
        sql(sql, splice);
        sql.source().edits().stream()
                .filter(e -> !e.overlaps())
                .forEach(e -> splice.put(e.span(), e.text()));
        return PostgresWords.of(splice.text().stripTrailing(), catalog.tables());
    }

    /** The same, with its INTO clause naming other variables. */
    String of(BoundSql sql, String into) {
        checkDelta(sql);
        Splice splice = new Splice(sql.source().span());
        sql(sql, splice);
        boolean found = false;
        for (SqlText.Edit edit : sql.source().edits()) {
            if (edit.overlaps()) {
                continue;
            }
            boolean clause = edit.span().text().strip().regionMatches(true, 0, "INTO", 0, 4);
            splice.put(edit.span(), clause ? into + trailing(edit.span().text()) : edit.text());
            found |= clause;
        }
        String text = PostgresWords.of(splice.text().stripTrailing(), catalog.tables());
        return found ? text : withInto(text, into);
    }

    private static String trailing(String text) {
        return text.substring(text.stripTrailing().length());
    }

    private static String withInto(String text, String into) {
        return "SELECT * " + into + " FROM (" + text + ") AS got";
    }

    private static final Pattern LIMITED =
            Pattern.compile("(?is).*\\b(FIRST|NEXT|LIMIT|OFFSET)\\s+");

    private java.util.function.Function<Variable, Optional<String>> qualifier =
            v -> Optional.empty();
    private Set<String> rows = Set.of();

    /** Says by what label a variable can be named that a statement's table would hide. */
    void qualifiedBy(java.util.function.Function<Variable, Optional<String>> labels) {
        qualifier = labels;
    }

    /** What means a row, or something of a row, in a statement: its tables, and hidden columns. */
    Set<String> rowNames(BoundSql sql) {
        Set<String> found = new HashSet<>();
        rowNames(sql.source().scope(), found);
        if (!found.isEmpty()) {
            found.addAll(List.of("CTID", "TABLEOID", "XMIN", "XMAX", "CMIN", "CMAX"));
        }
        return found;
    }

    private static void rowNames(SqlText.Scope scope, Set<String> into) {
        scope.tables().forEach(t -> t.known().ifPresent(n -> into.add(n.key())));
        scope.children().forEach(child -> rowNames(child, into));
    }

    private void sql(BoundSql sql, Splice splice) {
        Set<String> outer = rows;
        rows = rowNames(sql);
        replace(sql, splice);
        rows = outer;
    }

    private void replace(BoundSql sql, Splice splice) {
        for (BoundExpression parameter : sql.parameters()) {
            if (parameter instanceof BoundExpression.Constant || !splice.holds(parameter.span())) {
                continue;
            }
            Span span = parameter.span();
            String before = splice.before(span);
            if (LIMITED.matcher(before).matches()) {
                splice.put(span, "(" + of(parameter) + ")");
            } else {
                edit(parameter, splice);
            }
        }
        calls(sql.source().scope(), splice);
        casts(sql, splice);
        tables(sql.source().scope(), splice);
        WrittenNames.of(sql.source(), catalog, Map.of(), false, names::unreserved)
                .forEach(s -> splice.put(s.span(), s.text()));
    }

    /** A function is found there by the types of its arguments. */
    private void casts(BoundSql sql, Splice splice) {
        for (ArgumentCasts.Cast cast :
                ArgumentCasts.of(
                        sql.source(),
                        catalog,
                        module,
                        span ->
                                sql.parameters().stream()
                                        .filter(p -> p.span().equals(span))
                                        .map(BoundExpression::type)
                                        .findFirst())) {
            String type = PostgresTypes.bare(cast.type(), cast.span());
            splice.around(cast.span(), "CAST(", " AS " + type + ")");
        }
    }

    private void calls(SqlText.Scope scope, Splice splice) {
        for (SqlText.NameUse use : scope.names()) {
            if (use.use() != SqlText.Use.CALL) {
                continue;
            }
            String key = catalog.keyOf(use.names(), module);
            List<RoutineSymbol> functions = catalog.functions(key);
            if (!functions.isEmpty()) {
                splice.put(use.span(), callee(functions.get(0)));
            } else if (use.names().size() == 1 && RENAMED.containsKey(use.names().get(0).key())) {
                splice.put(use.span(), RENAMED.get(use.names().get(0).key()));
            }
        }
        scope.children().forEach(child -> calls(child, splice));
    }

    /** The tables of a block are named without the word MODULE. */
    private void tables(SqlText.Scope scope, Splice splice) {
        for (SqlText.TableUse use : scope.tables()) {
            if (use.names().size() == 2 && use.names().get(0).key().equals("MODULE")) {
                Span whole = use.names().get(0).span().to(use.names().get(1).span());
                splice.put(whole, names.of(use.names().get(1)));
            }
        }
        scope.children().forEach(child -> tables(child, splice));
    }
}
