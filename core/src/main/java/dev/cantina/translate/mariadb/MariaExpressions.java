package dev.cantina.translate.mariadb;

import dev.cantina.binding.Binder;
import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundSql;
import dev.cantina.binding.Variable;
import dev.cantina.binding.Walker;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.ServerNames;
import dev.cantina.database.mariadb.MariaStatementRewriter;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.TextEdits;
import dev.cantina.translate.SourceForm;
import dev.cantina.translate.UnsupportedConstructException;
import dev.cantina.types.SqlType;
import dev.cantina.types.SqlType.Shape;
import java.util.ArrayList;
import java.util.IdentityHashMap;
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
public final class MariaExpressions {
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
        TextEdits edits = new TextEdits(e.span());
        edit(e, edits);
        return edits.text();
    }

    /** A variable as it is read, the rows of a trigger too. */
    String said(Variable variable) {
        return variable.type() instanceof SqlType.Row ? row(variable) : name(variable);
    }

    String name(Variable variable) {
        return variables.map(v -> v.of(variable)).orElseGet(() -> names.of(variable.name()));
    }

    /** What is worked out once, by the variable that holds it and that nobody declared. */
    private final Map<Variable, BoundExpression> held = new IdentityHashMap<>();

    private BoundExpression held(BoundExpression bare) {
        return bare instanceof BoundExpression.Read read && held.containsKey(read.variable())
                ? SourceForm.bare(held.get(read.variable()))
                : bare;
    }

    void edit(BoundExpression e, TextEdits edits) {
        if (e instanceof BoundExpression.Let let) {
            held.put(let.variable(), let.value());
        }
        if (!(e instanceof BoundExpression.Convert) && SourceForm.isMade(e)) {
            edits.put(e.span(), SourceForm.made(e, part -> "(" + of(part) + ")", this::name));
        } else if (e instanceof BoundExpression.Constant constant) {
            constant(constant, edits);
        } else if (e instanceof BoundExpression.Read read) {
            read(read, edits);
        } else if (e instanceof BoundExpression.Field field) {
            field(field, edits);
        } else if (e instanceof BoundExpression.ReadShared shared) {
            edits.put(shared.span(), shared(shared));
        } else if (e instanceof BoundExpression.Element) {
            throw new UnsupportedConstructException(e.span(), "MariaDB has no arrays");
        } else if (e instanceof BoundExpression.Convert convert) {
            new MariaConversions(this).convert(convert, edits);
        } else if (e instanceof BoundExpression.Arithmetic sum) {
            arithmetic(sum, edits);
        } else if (e instanceof BoundExpression.Concatenate both) {
            concatenate(both, edits);
        } else if (MariaCases.of(e).isPresent()) {
            new MariaCases(this).write(e, MariaCases.of(e).get(), edits);
        } else if (e instanceof BoundExpression.Compare compare) {
            compare(compare, edits);
        } else if (e instanceof BoundExpression.Distinct distinct) {
            String same = "(" + of(distinct.left()) + " <=> " + of(distinct.right()) + ")";
            edits.put(distinct.span(), distinct.negated() ? same : "NOT " + same);
        } else if (e instanceof BoundExpression.Apply apply) {
            new MariaBuiltIns(this).apply(apply, edits);
        } else if (e instanceof BoundExpression.CurrentDatetime moment) {
            edits.put(moment.span(), MariaStatementRewriter.of(moment.span().text()));
        } else if (e instanceof BoundExpression.Invoke invoke) {
            edits.put(invoke.span(), invoke(invoke));
        } else if (e instanceof BoundExpression.DatabaseExpression ask) {
            ask(ask, edits);
        } else if (e instanceof BoundExpression.CursorRow) {
            throw new UnsupportedConstructException(
                    e.span(), "MariaDB has no changes WHERE CURRENT OF a cursor");
        } else if (e instanceof BoundExpression.Like like) {
            like(like, edits);
        } else if (e instanceof BoundExpression.RowConstructor several) {
            if (several.type() instanceof SqlType.Array) {
                throw new UnsupportedConstructException(e.span(), "MariaDB has no arrays");
            }
            parts(e, edits);
        } else if (e instanceof BoundExpression.IsNull is
                && is.operand().type() instanceof SqlType.Row row) {
            edits.put(is.span(), isNull(is, row));
        } else if (SourceForm.symmetric(e).isPresent()) {
            symmetric(SourceForm.symmetric(e).get(), edits);
        } else if (e instanceof BoundExpression.Let let) {
            // A comparison may want the value in other words than it has by itself.
            edit(let.body(), edits);
            edit(let.value(), edits);
        } else {
            parts(e, edits);
        }
    }

    /** IS NULL of a row asks each of its fields, which the server does not. */
    private String isNull(BoundExpression.IsNull is, SqlType.Row row) {
        List<String> fields = new ArrayList<>();
        if (is.operand() instanceof BoundExpression.RowConstructor several) {
            several.parts().forEach(part -> fields.add("(" + of(part) + ")"));
        } else if (is.operand() instanceof BoundExpression.Read read) {
            row.fields().forEach(f -> fields.add(row(read.variable()) + "." + names.of(f.name())));
        } else {
            throw new UnsupportedConstructException(is.span(), "a row that is no variable");
        }
        return fields.stream()
                .map(field -> field + (is.negated() ? " IS NOT NULL" : " IS NULL"))
                .collect(Collectors.joining(" AND ", "(", ")"));
    }

    /** BETWEEN SYMMETRIC: between the one and the other, or the other way round. */
    private void symmetric(SourceForm.Symmetric between, TextEdits edits) {
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
        edits.put(between.span(), between.negated() ? "NOT " + both : both);
    }

    void parts(BoundExpression e, TextEdits edits) {
        e.parts().forEach(part -> edit(part, edits));
    }

    private static void constant(BoundExpression.Constant constant, TextEdits edits) {
        Span span = constant.span();
        String text = span.text();
        if (text.equalsIgnoreCase("UNKNOWN")) {
            edits.put(span, "NULL");
        } else if (text.regionMatches(true, 0, "U&'", 0, 3)) {
            edits.put(span, "'" + String.valueOf(constant.value()).replace("'", "''") + "'");
        } else if (text.matches("(?is)INTERVAL\\b.*\\bTO\\b.*")) {
            edits.put(span, text.replaceAll("(?i)\\b(\\w+)\\s+TO\\s+(\\w+)\\s*$", "$1_$2"));
        } else if (text.matches("(?is)TIME\\s*'.*[+-]\\d\\d:\\d\\d'")
                || text.matches("(?is)TIMESTAMP\\s*'.* .*[+-]\\d\\d:\\d\\d'")) {
            throw new UnsupportedConstructException(
                    span, "MariaDB keeps no time zone with a moment");
        }
    }

    private void read(BoundExpression.Read read, TextEdits edits) {
        Variable variable = read.variable();
        if (variable.isHidden() || read.span().text().endsWith("*")) {
            return;
        }
        switch (variable.kind()) {
            case OLD_ROW -> edits.put(read.span(), "OLD");
            case NEW_ROW -> edits.put(read.span(), "NEW");
            default -> {
                boolean plain = read.span().text().equalsIgnoreCase(variable.name());
                boolean same = variables.isEmpty() || !variables.get().isChanged(variable);
                if (!plain || !same || names.isReserved(variable.name())) {
                    edits.put(read.span(), name(variable));
                }
            }
        }
    }

    private void field(BoundExpression.Field field, TextEdits edits) {
        if (!(field.row() instanceof BoundExpression.Read read)) {
            throw new UnsupportedConstructException(field.span(), "a row that is no variable");
        }
        SqlType.Row type = (SqlType.Row) read.variable().type();
        if (field.span().text().endsWith("*")) {
            String row = row(read.variable());
            edits.put(
                    field.span(),
                    type.fields().stream()
                            .map(f -> row + "." + names.of(f.name()))
                            .collect(Collectors.joining(", ")));
            return;
        }
        String column = names.of(type.fields().get(field.index()).name());
        edits.put(field.span(), row(read.variable()) + "." + column);
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

    /** A call of the function that casts to a type. */
    String made(SqlType to, String maria, String value) {
        return caster(to, maria) + "(" + value + ")";
    }

    private String caster(SqlType to, String maria) {
        String name = MariaSupport.castTo(to, maria);
        casts.put(name, maria);
        return name;
    }

    /** The name of the function that casts to a type. */
    String caster(SqlType to, Span span) {
        return caster(to, type(to, span));
    }

    /** The digits after the point of a number that keeps them; -1 of another. */
    static int scale(BoundExpression e) {
        if (e.type() instanceof SqlType.Integral) {
            return 0;
        }
        boolean cut =
                e instanceof BoundExpression.Apply apply
                        && Set.of("FLOOR", "CEILING", "CEIL").contains(apply.function().name());
        if (cut && e.type() instanceof SqlType.Exact) {
            return 0;
        }
        return e.type() instanceof SqlType.Exact exact && exact.precision() > 0
                ? exact.scale()
                : -1;
    }

    private void arithmetic(BoundExpression.Arithmetic sum, TextEdits edits) {
        BoundExpression left = SourceForm.bare(sum.left());
        BoundExpression right = SourceForm.bare(sum.right());
        if (sum.operator() != dev.cantina.syntax.Expression.Operator.DIVIDE) {
            parts(sum, edits);
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
            edits.put(new Span(between.source(), at, at + 1), spaced ? "DIV" : " DIV ");
        } else if (!approximate) {
            edits.around(sum.left().span(), "CAST(", " AS DECIMAL(65, 30))");
        }
        if (!sure) {
            String beside = beside(left);
            edits.around(sum.right().span(), check + beside, beside.isEmpty() ? ")" : "))");
        }
        parts(sum, edits);
    }

    /**
     * What stands before a divisor so that nothing is looked at where the dividend is NULL; empty
     * where that would work the dividend out twice.
     */
    String beside(BoundExpression dividend) {
        boolean plain = dividend instanceof BoundExpression.Read;
        return plain ? "IF(" + of(dividend) + " IS NULL, NULL, " : "";
    }

    private void concatenate(BoundExpression.Concatenate both, TextEdits edits) {
        if (both.type() instanceof SqlType.Array) {
            throw new UnsupportedConstructException(both.span(), "MariaDB has no arrays");
        }
        if (both.type() instanceof SqlType.Bytes) {
            parts(both, edits);
            return;
        }
        for (BoundExpression side : List.of(both.left(), both.right())) {
            BoundExpression bare = SourceForm.bare(side);
            if (bare instanceof BoundExpression.Concatenate inner
                    && !(inner.type() instanceof SqlType.Bytes)) {
                concatenate(inner, edits);
            } else {
                String text = text(bare);
                // The server binds || more than what stands beside it here.
                boolean apart =
                        bare instanceof BoundExpression.Arithmetic && !isBracketed(bare.span());
                edits.put(bare.span(), apart ? "(" + text + ")" : text);
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
        BoundExpression e = SourceForm.bare(value);
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
        boolean leaf =
                e instanceof BoundExpression.Read
                        || e instanceof BoundExpression.Constant
                        || e instanceof BoundExpression.Field;
        if (type instanceof SqlType.Timestamp whole && whole.precision() == 0 && !leaf) {
            // With an interval of seconds it gets their parts as well.
            return "CAST(" + of(e) + " AS DATETIME(0))";
        }
        if (type instanceof SqlType.Timestamp moment && moment.precision() > 0
                || type instanceof SqlType.Time time
                        && (time.precision() > 0 || e instanceof BoundExpression.Apply)) {
            // Of what has no point the noughts at the end belong to the seconds.
            boolean stamp = type instanceof SqlType.Timestamp;
            String all = "CAST(" + of(e) + " AS " + (stamp ? "DATETIME(6))" : "TIME(6))");
            return "TRIM(TRAILING '.' FROM TRIM(TRAILING '0' FROM " + all + "))";
        }
        if (type instanceof SqlType.Approximate) {
            throw new UnsupportedConstructException(
                    e.span(), "an approximate number is written another way there; cast it first");
        }
        if (type instanceof SqlType.Interval) {
            throw new UnsupportedConstructException(e.span(), "MariaDB keeps no intervals");
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

    private void compare(BoundExpression.Compare compare, TextEdits edits) {
        for (BoundExpression side : List.of(compare.left(), compare.right())) {
            BoundExpression bare = held(SourceForm.bare(side));
            if (compare.fixed() && losesBlanks(bare)) {
                edits.put(bare.span(), side(bare, true));
            }
        }
        parts(compare, edits);
    }

    /**
     * One side of a comparison.
     *
     * @param fixed whether blanks at its end do not count
     */
    String side(BoundExpression bare, boolean fixed) {
        return fixed && losesBlanks(bare) ? "RTRIM(" + of(bare) + ")" : of(bare);
    }

    /** Whether it has blanks at its end; a CHAR variable has none there. */
    private static boolean losesBlanks(BoundExpression bare) {
        if (bare instanceof BoundExpression.Constant constant
                && constant.value() instanceof String text) {
            return text.endsWith(" ");
        }
        boolean varying = bare.type() instanceof SqlType.Text text && text.shape() != Shape.FIXED;
        return varying || !(bare instanceof BoundExpression.Read);
    }

    private void like(BoundExpression.Like like, TextEdits edits) {
        BoundExpression operand = SourceForm.bare(like.operand());
        boolean fixed = operand.type() instanceof SqlType.Text text && text.shape() == Shape.FIXED;
        if (fixed || !(operand.type() instanceof SqlType.Text)) {
            edits.put(operand.span(), text(operand));
        }
        BoundExpression pattern = SourceForm.bare(like.pattern());
        boolean plain =
                pattern instanceof BoundExpression.Constant constant
                        && !String.valueOf(constant.value()).contains("\\");
        if (like.escape().isEmpty() && !plain) {
            // To the server a backslash escapes, whatever its mode says of backslashes.
            edits.put(pattern.span(), "REPLACE(" + text(pattern) + ", '\\', '\\\\')");
        }
        if (like.escape().isPresent()) {
            edits.put(
                    pattern.span(),
                    "cantina_pattern(" + text(pattern) + ", " + of(like.escape().get()) + ")");
            BoundExpression escape = SourceForm.bare(like.escape().get());
            if (!SourceForm.isOneCharacter(escape)) {
                // The server has an error of its own for one that is too long, and looks first.
                edits.put(escape.span(), "LEFT(CONCAT(" + of(escape) + ", '|'), 1)");
                return;
            }
        }
        parts(like, edits);
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
    public String initial(ParameterSymbol parameter) {
        return of(binder.initial(parameter).expression());
    }

    // ---------------------------------------------------------------- SQL

    private void ask(BoundExpression.DatabaseExpression ask, TextEdits edits) {
        if (ask.sql().parameters().stream().anyMatch(p -> !isInside(p, ask.sql()))) {
            ask.sql().parameters().stream()
                    .filter(p -> edits.holds(p.span()))
                    .forEach(p -> edit(p, edits));
        }
        edits.put(ask.sql().source().span(), of(ask.sql()));
    }

    private static boolean isInside(BoundExpression e, BoundSql sql) {
        return new TextEdits(sql.source().span()).holds(e.span());
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
