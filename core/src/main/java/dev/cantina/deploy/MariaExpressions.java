package dev.cantina.deploy;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.check.Binder;
import dev.cantina.check.BoundExpression;
import dev.cantina.check.BoundSql;
import dev.cantina.check.Variable;
import dev.cantina.check.Walker;
import dev.cantina.database.MariaWords;
import dev.cantina.database.ServerNames;
import dev.cantina.syntax.Span;
import dev.cantina.types.SqlType;
import dev.cantina.types.SqlType.Shape;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.function.Predicate;
import java.util.stream.Collectors;

/**
 * Expressions and data statements as MariaDB reads them: the author's own text, with only those
 * stretches in other words that mean something else there.
 */
final class MariaExpressions {
    private static final Set<String> ALIKE =
            Set.of(
                    ("CHAR_LENGTH CHARACTER_LENGTH OCTET_LENGTH POSITION UPPER LOWER LTRIM RTRIM"
                                    + " REPLACE ABS SIGN FLOOR CEILING CEIL ROUND POWER EXP LPAD RPAD"
                                    + " GREATEST LEAST")
                            .split(" "));

    private final Catalog catalog;
    private final Binder binder;
    private final Optional<ModuleSymbol> module;
    private final ServerNames names = ServerNames.mariadb();
    private final boolean collated;
    private final Function<RoutineSymbol, String> called;
    private final Predicate<ModuleSymbol.Shared> hidden;
    private final Map<String, String> casts = new TreeMap<>();
    private Optional<MariaNames> variables = Optional.empty();

    /**
     * @param called what a routine is called there, without its module
     * @param hidden whether a column has the name of a module's variable
     */
    MariaExpressions(
            Catalog catalog,
            Binder binder,
            Optional<ModuleSymbol> module,
            boolean collated,
            Function<RoutineSymbol, String> called,
            Predicate<ModuleSymbol.Shared> hidden) {
        this.catalog = catalog;
        this.binder = binder;
        this.module = module;
        this.collated = collated;
        this.called = called;
        this.hidden = hidden;
    }

    /** From now on the variables are those of a routine. */
    void in(MariaNames routine) {
        variables = Optional.of(routine);
    }

    /** The tables that the routine declares itself. */
    Map<String, String> declared() {
        return variables.map(MariaNames::tables).orElse(Map.of());
    }

    ServerNames names() {
        return names;
    }

    Catalog catalog() {
        return catalog;
    }

    Optional<ModuleSymbol> module() {
        return module;
    }

    /** The functions that cast, with the server's types, that were used so far. */
    Map<String, String> casts() {
        return casts;
    }

    String type(SqlType type, Span span) {
        return MariaTypes.of(type, span, collated);
    }

    /** An expression in MariaDB's words. */
    String of(BoundExpression e) {
        Splice splice = new Splice(e.span());
        edit(e, splice);
        return splice.text();
    }

    String name(Variable variable) {
        return variables.map(v -> v.of(variable)).orElseGet(() -> names.of(variable.name()));
    }

    void edit(BoundExpression e, Splice splice) {
        if (!(e instanceof BoundExpression.Convert) && Written.isMade(e)) {
            splice.put(e.span(), Written.made(e, part -> "(" + of(part) + ")", this::name));
        } else if (e instanceof BoundExpression.Constant constant) {
            constant(constant, splice);
        } else if (e instanceof BoundExpression.Read read) {
            read(read, splice);
        } else if (e instanceof BoundExpression.Field field) {
            field(field, splice);
        } else if (e instanceof BoundExpression.ReadShared shared) {
            splice.put(shared.span(), shared(shared));
        } else if (e instanceof BoundExpression.Element) {
            throw new Refusal(e.span(), "MariaDB has no arrays");
        } else if (e instanceof BoundExpression.Convert convert) {
            convert(convert, splice);
        } else if (e instanceof BoundExpression.Arithmetic sum) {
            arithmetic(sum, splice);
        } else if (e instanceof BoundExpression.Concatenate both) {
            concatenate(both, splice);
        } else if (e instanceof BoundExpression.Compare compare) {
            compare(compare, splice);
        } else if (e instanceof BoundExpression.Distinct distinct) {
            String same = "(" + of(distinct.left()) + " <=> " + of(distinct.right()) + ")";
            splice.put(distinct.span(), distinct.negated() ? same : "NOT " + same);
        } else if (e instanceof BoundExpression.Apply apply) {
            apply(apply, splice);
        } else if (e instanceof BoundExpression.Moment moment) {
            splice.put(moment.span(), MariaWords.of(moment.span().text()));
        } else if (e instanceof BoundExpression.Invoke invoke) {
            splice.put(invoke.span(), invoke(invoke));
        } else if (e instanceof BoundExpression.Ask ask) {
            ask(ask, splice);
        } else if (e instanceof BoundExpression.CursorRow) {
            throw new Refusal(e.span(), "MariaDB has no changes WHERE CURRENT OF a cursor");
        } else if (e instanceof BoundExpression.Like like) {
            like(like, splice);
        } else if (e instanceof BoundExpression.Several several) {
            if (several.type() instanceof SqlType.Array) {
                throw new Refusal(e.span(), "MariaDB has no arrays");
            }
            parts(e, splice);
        } else if (e instanceof BoundExpression.IsNull is
                && is.operand().type() instanceof SqlType.Row row) {
            splice.put(is.span(), isNull(is, row));
        } else if (Written.symmetric(e).isPresent()) {
            symmetric(Written.symmetric(e).get(), splice);
        } else {
            parts(e, splice);
        }
    }

    /** IS NULL of a row asks each of its fields, which the server does not. */
    private String isNull(BoundExpression.IsNull is, SqlType.Row row) {
        List<String> fields = new ArrayList<>();
        if (is.operand() instanceof BoundExpression.Several several) {
            several.parts().forEach(part -> fields.add("(" + of(part) + ")"));
        } else if (is.operand() instanceof BoundExpression.Read read) {
            row.fields().forEach(f -> fields.add(row(read.variable()) + "." + names.of(f.name())));
        } else {
            throw new Refusal(is.span(), "a row that is no variable");
        }
        return fields.stream()
                .map(field -> field + (is.negated() ? " IS NOT NULL" : " IS NULL"))
                .collect(Collectors.joining(" AND ", "(", ")"));
    }

    /** BETWEEN SYMMETRIC: between the one and the other, or the other way round. */
    private void symmetric(Written.Symmetric between, Splice splice) {
        String operand = of(between.operand());
        String low = of(between.low());
        String high = of(between.high());
        String both =
                "("
                        + operand
                        + " BETWEEN "
                        + low
                        + " AND "
                        + high
                        + " OR "
                        + operand
                        + " BETWEEN "
                        + high
                        + " AND "
                        + low
                        + ")";
        splice.put(between.span(), between.negated() ? "NOT " + both : both);
    }

    private void parts(BoundExpression e, Splice splice) {
        e.parts().forEach(part -> edit(part, splice));
    }

    private static void constant(BoundExpression.Constant constant, Splice splice) {
        Span span = constant.span();
        String text = span.text();
        if (text.equalsIgnoreCase("UNKNOWN")) {
            splice.put(span, "NULL");
        } else if (text.regionMatches(true, 0, "U&'", 0, 3)) {
            splice.put(span, "'" + String.valueOf(constant.value()).replace("'", "''") + "'");
        } else if (text.matches("(?is)INTERVAL\\b.*\\bTO\\b.*")) {
            splice.put(span, text.replaceAll("(?i)\\b(\\w+)\\s+TO\\s+(\\w+)\\s*$", "$1_$2"));
        } else if (text.matches("(?is)TIME\\s*'.*[+-]\\d\\d:\\d\\d'")
                || text.matches("(?is)TIMESTAMP\\s*'.* .*[+-]\\d\\d:\\d\\d'")) {
            throw new Refusal(span, "MariaDB keeps no time zone with a moment");
        }
    }

    private void read(BoundExpression.Read read, Splice splice) {
        Variable variable = read.variable();
        if (variable.isHidden() || read.span().text().endsWith("*")) {
            return;
        }
        switch (variable.kind()) {
            case OLD_ROW -> splice.put(read.span(), "OLD");
            case NEW_ROW -> splice.put(read.span(), "NEW");
            default -> {
                boolean plain = read.span().text().equalsIgnoreCase(variable.name());
                boolean same = variables.isEmpty() || !variables.get().isChanged(variable);
                if (!plain || !same || names.isReserved(variable.name())) {
                    splice.put(read.span(), name(variable));
                }
            }
        }
    }

    private void field(BoundExpression.Field field, Splice splice) {
        if (!(field.row() instanceof BoundExpression.Read read)) {
            throw new Refusal(field.span(), "a row that is no variable");
        }
        SqlType.Row type = (SqlType.Row) read.variable().type();
        if (field.span().text().endsWith("*")) {
            String row = row(read.variable());
            splice.put(
                    field.span(),
                    type.fields().stream()
                            .map(f -> row + "." + names.of(f.name()))
                            .collect(Collectors.joining(", ")));
            return;
        }
        String column = names.of(type.fields().get(field.index()).name());
        splice.put(field.span(), row(read.variable()) + "." + column);
    }

    /** What a row is called. */
    String row(Variable variable) {
        return switch (variable.kind()) {
            case OLD_ROW -> "OLD";
            case NEW_ROW -> "NEW";
            default -> name(variable);
        };
    }

    private String shared(BoundExpression.ReadShared shared) {
        ModuleSymbol.Shared variable = shared.module().variables().get(shared.index());
        if (module.filter(m -> m == shared.module()).isPresent()) {
            return shared(variable);
        }
        return names.of(shared.module().tree().name()) + "." + getter(variable) + "()";
    }

    /** What a module's variable is called inside it: not as a column of its statements is. */
    String shared(ModuleSymbol.Shared variable) {
        return hidden.test(variable)
                ? names.of("v_" + variable.name().text())
                : names.of(variable.name());
    }

    /** The function of a module that gives one of its variables to those outside. */
    String getter(ModuleSymbol.Shared variable) {
        return names.of("get_" + variable.name().text().toLowerCase(Locale.ROOT));
    }

    private void convert(BoundExpression.Convert convert, Splice splice) {
        if (Written.isCast(convert)) {
            splice.put(convert.span(), cast(convert));
            return;
        }
        boolean parsed =
                convert.operand().type() instanceof SqlType.Text
                        && !(convert.type() instanceof SqlType.Text)
                        && !(convert.operand() instanceof BoundExpression.Constant);
        if (parsed) {
            splice.put(convert.span(), cast(convert.operand(), convert.type(), convert.span()));
            return;
        }
        BoundExpression bare = Written.bare(convert.operand());
        if (PostgresExpressions.losesBlanks(bare, convert.type())) {
            splice.put(bare.span(), text(bare));
            return;
        }
        boolean rounded =
                bare.type() instanceof SqlType.Approximate
                        && convert.type() instanceof SqlType.Integral
                        && !(bare instanceof BoundExpression.Constant);
        if (rounded) {
            // The server rounds the half of an approximate number to the even one.
            splice.put(convert.span(), cast(convert.operand(), convert.type(), convert.span()));
            return;
        }
        edit(convert.operand(), splice);
    }

    /** The digits after the point of a number that keeps them; -1 of another. */
    private static int scale(BoundExpression e) {
        if (e.type() instanceof SqlType.Integral) {
            return 0;
        }
        return e.type() instanceof SqlType.Exact exact && exact.precision() > 0
                ? exact.scale()
                : -1;
    }

    private String cast(BoundExpression.Convert convert) {
        boolean days =
                convert.operand() instanceof BoundExpression.Apply apply
                        && apply.function().name().equals("DIFFERENCE")
                        && convert.type() instanceof SqlType.Integral;
        if (days) {
            BoundExpression.Apply apply = (BoundExpression.Apply) convert.operand();
            String fields = ((SqlType.Interval) apply.type()).fields();
            boolean dates =
                    apply.arguments().stream()
                            .limit(2)
                            .allMatch(a -> a.type() instanceof SqlType.Date);
            if (!fields.equalsIgnoreCase("DAY") || !dates) {
                throw new Refusal(convert.span(), "MariaDB keeps no intervals");
            }
            return "DATEDIFF("
                    + of(apply.arguments().get(0))
                    + ", "
                    + of(apply.arguments().get(1))
                    + ")";
        }
        if (convert.operand().type() instanceof SqlType.Interval
                || convert.type() instanceof SqlType.Interval) {
            throw new Refusal(convert.span(), "MariaDB keeps no intervals");
        }
        return cast(convert.operand(), convert.type(), convert.span());
    }

    private String cast(BoundExpression operand, SqlType to, Span span) {
        SqlType from = operand.type();
        String maria = type(to, span);
        if (to instanceof SqlType.Array) {
            throw new Refusal(span, "MariaDB has no arrays");
        }
        boolean nothing =
                Written.bare(operand) instanceof BoundExpression.Constant constant
                        && constant.value() == null;
        if (nothing) {
            return "NULL";
        }
        if (to instanceof SqlType.Bytes && !(from instanceof SqlType.Bytes)) {
            throw new Refusal(span, "a text of hexadecimal digits is no binary string there");
        }
        if (to instanceof SqlType.Text text) {
            String value = text(operand);
            if (text.length() == 0) {
                return value;
            }
            if (from instanceof SqlType.Text) {
                String cut = "LEFT(" + value + ", " + text.length() + ")";
                return text.shape() == Shape.FIXED
                        ? "RPAD(" + value + ", " + text.length() + ", ' ')"
                        : cut;
            }
            boolean fits =
                    from instanceof SqlType.Integral && text.length() >= 20
                            || from instanceof SqlType.Exact exact
                                    && exact.precision() + 2 <= text.length()
                                    && exact.precision() > 0
                            || from instanceof SqlType.Date && text.length() >= 10;
            if (fits && text.shape() != Shape.FIXED) {
                return "CAST(" + value + " AS CHAR)";
            }
            // A number that goes to a function as it is may lose its decimals on the way.
            return made(to, maria, from.isNumeric() ? "CONCAT(" + value + ")" : value);
        }
        if (from.equals(to)) {
            return of(operand);
        }
        boolean wider =
                from instanceof SqlType.Integral
                        && (to.equals(SqlType.BIGINT)
                                || to instanceof SqlType.Exact exact && exact.precision() == 0);
        if (wider) {
            return "CAST(" + of(operand) + " AS " + castable(maria) + ")";
        }
        if (to instanceof SqlType.Approximate) {
            return from instanceof SqlType.Text
                    ? made(to, maria, of(operand))
                    : "CAST(" + of(operand) + " AS DOUBLE)";
        }
        if (to instanceof SqlType.Date && from instanceof SqlType.Timestamp
                || to instanceof SqlType.Timestamp && from instanceof SqlType.Date
                || to instanceof SqlType.Time && from instanceof SqlType.Timestamp
                || to instanceof SqlType.Timestamp && from instanceof SqlType.Timestamp
                || to instanceof SqlType.Json) {
            return to instanceof SqlType.Json
                    ? of(operand)
                    : "CAST(" + of(operand) + " AS " + maria + ")";
        }
        return made(to, maria, of(operand));
    }

    private static String castable(String maria) {
        return maria.equals("BIGINT") ? "SIGNED" : maria;
    }

    /** A call of the function that casts to a type. */
    private String made(SqlType to, String maria, String value) {
        String name = MariaSupport.castTo(to, maria);
        casts.put(name, maria);
        return name + "(" + value + ")";
    }

    private void arithmetic(BoundExpression.Arithmetic sum, Splice splice) {
        BoundExpression left = Written.bare(sum.left());
        BoundExpression right = Written.bare(sum.right());
        if (sum.operator() != dev.cantina.syntax.Expression.Operator.DIVIDE) {
            parts(sum, splice);
            return;
        }
        boolean sure =
                right instanceof BoundExpression.Constant constant
                        && constant.value() instanceof Number number
                        && number.doubleValue() != 0;
        boolean whole =
                left.type() instanceof SqlType.Integral && right.type() instanceof SqlType.Integral;
        boolean approximate =
                left.type() instanceof SqlType.Approximate
                        || right.type() instanceof SqlType.Approximate;
        String check =
                whole
                        ? "cantina_whole_divisor("
                        : approximate ? "cantina_double_divisor(" : "cantina_divisor(";
        Span between = new Span(sum.span().source(), left.span().end(), right.span().start());
        int slash = between.text().indexOf('/');
        int at = between.start() + slash;
        if (whole) {
            boolean spaced = between.text().startsWith(" ", slash + 1);
            splice.put(new Span(between.source(), at, at + 1), spaced ? "DIV" : " DIV ");
        } else if (!approximate) {
            splice.around(sum.left().span(), "CAST(", " AS DECIMAL(65, 30))");
        }
        if (!sure) {
            String beside = beside(left);
            splice.around(sum.right().span(), check + beside, beside.isEmpty() ? ")" : "))");
        }
        parts(sum, splice);
    }

    /**
     * What stands before a divisor so that nothing is looked at where the dividend is NULL; empty
     * where that would work the dividend out twice.
     */
    private String beside(BoundExpression dividend) {
        boolean plain = dividend instanceof BoundExpression.Read;
        return plain ? "IF(" + of(dividend) + " IS NULL, NULL, " : "";
    }

    private void concatenate(BoundExpression.Concatenate both, Splice splice) {
        if (both.type() instanceof SqlType.Array) {
            throw new Refusal(both.span(), "MariaDB has no arrays");
        }
        if (both.type() instanceof SqlType.Bytes) {
            parts(both, splice);
            return;
        }
        for (BoundExpression side : List.of(both.left(), both.right())) {
            BoundExpression bare = Written.bare(side);
            if (bare instanceof BoundExpression.Concatenate inner
                    && !(inner.type() instanceof SqlType.Bytes)) {
                concatenate(inner, splice);
            } else {
                String text = text(bare);
                // The server binds || more than what stands beside it here.
                boolean apart =
                        bare instanceof BoundExpression.Arithmetic && !isBracketed(bare.span());
                splice.put(bare.span(), apart ? "(" + text + ")" : text);
            }
        }
    }

    private static boolean isBracketed(Span span) {
        String text = span.source().text();
        int before = span.start() - 1;
        int after = span.end();
        while (before >= 0 && Character.isWhitespace(text.charAt(before))) {
            before--;
        }
        while (after < text.length() && Character.isWhitespace(text.charAt(after))) {
            after++;
        }
        return before >= 0
                && after < text.length()
                && text.charAt(before) == '('
                && text.charAt(after) == ')';
    }

    /** A value as text, as {@code CAST(… AS VARCHAR)} gives it. */
    String text(BoundExpression value) {
        BoundExpression e = Written.bare(value);
        SqlType type = e.type();
        if (type instanceof SqlType.Bool) {
            String truth = of(e);
            return "CASE WHEN " + truth + " THEN 'TRUE' WHEN NOT (" + truth + ") THEN 'FALSE' END";
        }
        if (type instanceof SqlType.Text text && text.shape() == Shape.FIXED) {
            return e instanceof BoundExpression.Constant
                    ? of(e)
                    : "RPAD(" + of(e) + ", " + Math.max(1, text.length()) + ", ' ')";
        }
        if (type instanceof SqlType.Bytes) {
            return "HEX(" + of(e) + ")";
        }
        if (type instanceof SqlType.Timestamp stamp && stamp.precision() > 0
                || type instanceof SqlType.Time time
                        && (time.precision() > 0 || e instanceof BoundExpression.Apply)) {
            return "TRIM(TRAILING '.' FROM TRIM(TRAILING '0' FROM " + of(e) + "))";
        }
        if (type instanceof SqlType.Approximate) {
            throw new Refusal(
                    e.span(), "an approximate number is written another way there; cast it first");
        }
        if (type instanceof SqlType.Interval) {
            throw new Refusal(e.span(), "MariaDB keeps no intervals");
        }
        boolean quotient = type instanceof SqlType.Exact exact && exact.precision() == 0;
        return quotient && holdsDivision(e)
                ? "TRIM(TRAILING '.' FROM TRIM(TRAILING '0' FROM (" + of(e) + ")))"
                : of(e);
    }

    private static boolean holdsDivision(BoundExpression e) {
        boolean[] found = {false};
        Walker.expressions(
                e,
                part ->
                        found[0] |=
                                part instanceof BoundExpression.Arithmetic sum
                                        && sum.operator()
                                                == dev.cantina.syntax.Expression.Operator.DIVIDE);
        return found[0];
    }

    private void compare(BoundExpression.Compare compare, Splice splice) {
        if (compare.fixed()) {
            for (BoundExpression side : List.of(compare.left(), compare.right())) {
                BoundExpression bare = Written.bare(side);
                boolean varying =
                        bare.type() instanceof SqlType.Text text && text.shape() != Shape.FIXED;
                if (bare instanceof BoundExpression.Constant constant
                        && constant.value() instanceof String text) {
                    if (text.endsWith(" ")) {
                        splice.put(bare.span(), "RTRIM(" + of(bare) + ")");
                    }
                } else if (varying || !(bare instanceof BoundExpression.Read)) {
                    splice.put(bare.span(), "RTRIM(" + of(bare) + ")");
                }
            }
        }
        parts(compare, splice);
    }

    private void like(BoundExpression.Like like, Splice splice) {
        BoundExpression operand = Written.bare(like.operand());
        boolean fixed = operand.type() instanceof SqlType.Text text && text.shape() == Shape.FIXED;
        if (fixed || !(operand.type() instanceof SqlType.Text)) {
            splice.put(operand.span(), text(operand));
        }
        BoundExpression pattern = Written.bare(like.pattern());
        boolean plain =
                pattern instanceof BoundExpression.Constant constant
                        && !String.valueOf(constant.value()).contains("\\");
        if (like.escape().isEmpty() && !plain) {
            // To the server a backslash escapes, whatever its mode says of backslashes.
            splice.put(pattern.span(), "REPLACE(" + text(pattern) + ", '\\', '\\\\')");
        }
        if (like.escape().isPresent()) {
            splice.put(
                    pattern.span(),
                    "cantina_pattern(" + text(pattern) + ", " + of(like.escape().get()) + ")");
            BoundExpression escape = Written.bare(like.escape().get());
            if (!PostgresExpressions.isOneCharacter(escape)) {
                // The server has an error of its own for one that is too long, and looks first.
                splice.put(escape.span(), "LEFT(CONCAT(" + of(escape) + ", '|'), 1)");
                return;
            }
        }
        parts(like, splice);
    }

    private void apply(BoundExpression.Apply apply, Splice splice) {
        String name = apply.function().name();
        List<BoundExpression> given = apply.arguments();
        if (name.startsWith("TRIM ") || name.equals("+ INTERVAL") || name.equals("- INTERVAL")) {
            boolean variable =
                    name.contains("INTERVAL")
                            && given.stream()
                                    .anyMatch(
                                            a ->
                                                    a.type() instanceof SqlType.Interval
                                                            && !(Written.bare(a)
                                                                    instanceof
                                                                    BoundExpression.Constant));
            if (variable) {
                throw new Refusal(apply.span(), "MariaDB keeps no intervals");
            }
            if (name.startsWith("TRIM ")) {
                trim(given, splice);
            }
            parts(apply, splice);
            if (apply.type() instanceof SqlType.Time && name.contains("INTERVAL")) {
                // A time of day goes round; the server's would grow past its end.
                splice.around(given.get(0).span(), "CAST(TIMESTAMP('2000-01-02', ", ")");
                splice.put(end(apply.span()), " AS TIME(6))");
            }
            return;
        }
        if (name.startsWith("EXTRACT ")) {
            extract(apply, name.substring(8), splice);
            return;
        }
        if (name.contains("INTERVAL") || name.equals("DIFFERENCE")) {
            throw new Refusal(apply.span(), "MariaDB keeps no intervals");
        }
        Optional<String> other = other(name, given);
        if (other.isPresent()) {
            splice.put(apply.span(), other.get());
            return;
        }
        boolean trims = (name.equals("LTRIM") || name.equals("RTRIM")) && given.size() > 1;
        if (!ALIKE.contains(name) || trims) {
            throw new Refusal(apply.span(), name + " has no counterpart on MariaDB");
        }
        for (BoundExpression argument : given) {
            BoundExpression bare = Written.bare(argument);
            // What is folded of a CHAR is one, whose blanks are left out as those of all are.
            boolean folds = name.equals("UPPER") || name.equals("LOWER");
            boolean fixed =
                    !folds
                            && bare.type() instanceof SqlType.Text text
                            && text.shape() == Shape.FIXED;
            if (fixed || bare.type() instanceof SqlType.Bool) {
                splice.put(bare.span(), text(bare));
            }
        }
        parts(apply, splice);
    }

    private void trim(List<BoundExpression> given, Splice splice) {
        BoundExpression from = Written.bare(given.get(0));
        if (from.type() instanceof SqlType.Text text && text.shape() == Shape.FIXED) {
            splice.put(from.span(), text(from));
        }
        if (given.size() > 1 && !PostgresExpressions.isOneCharacter(Written.bare(given.get(1)))) {
            BoundExpression what = Written.bare(given.get(1));
            splice.put(what.span(), "cantina_trimmed(" + text(what) + ")");
        }
    }

    private static Span end(Span span) {
        return new Span(span.source(), span.end(), span.end());
    }

    /** Functions that the server has by another name, or not at all. */
    private Optional<String> other(String name, List<BoundExpression> given) {
        List<String> texts = new ArrayList<>();
        for (BoundExpression argument : given) {
            boolean text = argument.type() instanceof SqlType.Text;
            texts.add(text ? text(argument) : of(argument));
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
                                        + text(given.get(0))
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
                String beside = beside(Written.bare(given.get(0)));
                String rest =
                        "MOD("
                                + texts.get(0)
                                + ", "
                                + (whole ? "cantina_whole_divisor(" : "cantina_divisor(")
                                + beside
                                + texts.get(1)
                                + (beside.isEmpty() ? "))" : ")))");
                int left = scale(Written.bare(given.get(0)));
                int right = scale(Written.bare(given.get(1)));
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
        return Written.bare(e) instanceof BoundExpression.Constant constant
                && constant.value() instanceof Number number
                && number.longValue() >= least;
    }

    private void extract(BoundExpression.Apply apply, String field, Splice splice) {
        BoundExpression from = apply.arguments().get(0);
        if (from.type() instanceof SqlType.Interval || field.startsWith("TIMEZONE")) {
            throw new Refusal(apply.span(), "MariaDB keeps no intervals and no time zones");
        }
        String value = of(from);
        splice.put(
                apply.span(),
                field.equals("SECOND")
                        ? "(SECOND(" + value + ") + MICROSECOND(" + value + ") * 0.000001)"
                        : "EXTRACT(" + field + " FROM " + value + ")");
    }

    private String invoke(BoundExpression.Invoke invoke) {
        List<String> given = new ArrayList<>();
        invoke.arguments().forEach(a -> given.add(of(a)));
        return callee(invoke.routine()) + "(" + String.join(", ", given) + ")";
    }

    /** A routine as it is called from here. */
    String callee(RoutineSymbol routine) {
        String name = called.apply(routine);
        boolean inside = routine.module().equals(module);
        return inside
                ? name
                : routine.module().map(m -> names.of(m.tree().name()) + "." + name).orElse(name);
    }

    /** What is passed for a parameter that a call leaves out. */
    String initial(ParameterSymbol parameter) {
        return of(binder.initial(parameter).expression());
    }

    // ---------------------------------------------------------------- SQL

    private void ask(BoundExpression.Ask ask, Splice splice) {
        if (ask.sql().parameters().stream().anyMatch(p -> !isInside(p, ask.sql()))) {
            ask.sql().parameters().stream()
                    .filter(p -> splice.holds(p.span()))
                    .forEach(p -> edit(p, splice));
        }
        splice.put(ask.sql().source().span(), of(ask.sql()));
    }

    private static boolean isInside(BoundExpression e, BoundSql sql) {
        return new Splice(sql.source().span()).holds(e.span());
    }

    /** A data statement in MariaDB's words. */
    String of(BoundSql sql) {
        return of(sql, Optional.empty());
    }

    /**
     * The same.
     *
     * @param into takes the place of what stands after INTO
     */
    String of(BoundSql sql, Optional<String> into) {
        return new MariaSql(this).of(sql, into);
    }
}
