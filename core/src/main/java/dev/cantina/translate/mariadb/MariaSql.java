package dev.cantina.translate.mariadb;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundSql;
import dev.cantina.binding.ColumnTypes;
import dev.cantina.binding.SqlDivision;
import dev.cantina.binding.WrittenNames;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.database.ServerNames;
import dev.cantina.database.mariadb.MariaStatementRewriter;
import dev.cantina.syntax.CastParts;
import dev.cantina.syntax.Change;
import dev.cantina.syntax.Clause;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlText;
import dev.cantina.syntax.SqlWalk;
import dev.cantina.syntax.TableSource;
import dev.cantina.syntax.TextEdits;
import dev.cantina.syntax.TypeSyntax;
import dev.cantina.syntax.Unit;
import dev.cantina.translate.FixedVariables;
import dev.cantina.translate.UnsupportedConstructException;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;

/** Data statements as MariaDB reads them. */
final class MariaSql {
    private final MariaExpressions words;
    private final Catalog catalog;
    private final Optional<ModuleSymbol> module;
    private final ServerNames names;

    /**
     * @param words for the values in them
     */
    MariaSql(MariaExpressions words) {
        this.words = words;
        this.catalog = words.catalog();
        this.module = words.module();
        this.names = words.names();
    }

    /**
     * A data statement in MariaDB's words.
     *
     * @param into takes the place of what stands after INTO
     */
    String of(BoundSql sql, Optional<String> into) {
        SqlText source = sql.source();
        refuse(sql);
        refuseFromItself(sql);
        if (sql.query() && sql.changes() && into.isEmpty()) {
            throw new UnsupportedConstructException(
                    source.span(), "MariaDB gives the rows of a change to its caller alone");
        }
        TextEdits edits = new TextEdits(source.span());
        boolean put = false;
        for (SqlText.Edit edit : source.edits()) {
            String text = edit.span().text();
            boolean clause = text.strip().regionMatches(true, 0, "INTO", 0, 4);
            if (edit.overlaps()) {
                throw new UnsupportedConstructException(edit.span(), "MariaDB has no OVERLAPS");
            }
            if (clause && into.isPresent()) {
                edits.put(edit.span(), into.get() + text.substring(text.stripTrailing().length()));
                put = true;
            } else if (!clause) {
                edits.put(edit.span(), edit.text());
            }
        }
        render(sql, edits);
        String text = MariaStatementRewriter.words(edits.text()).stripTrailing();
        return into.isPresent() && !put ? text + "\n" + into.get() : text;
    }

    /** What the server has not got, or means otherwise. */
    private static void refuse(BoundSql sql) {
        SqlText source = sql.source();
        if (source.tree() instanceof Change.Merge) {
            throw new UnsupportedConstructException(source.span(), "MariaDB has no MERGE");
        }
        if (source.positioned().isPresent()) {
            throw new UnsupportedConstructException(
                    source.positioned().get().span(),
                    "MariaDB has no changes WHERE CURRENT OF a cursor");
        }
        SqlWalk.each(
                source.tree(),
                new SqlWalk.Visitor() {
                    @Override
                    public void table(TableSource table) {
                        if (table instanceof TableSource.Join join
                                && join.kind() == TableSource.JoinKind.FULL) {
                            throw new UnsupportedConstructException(
                                    join.span(), "MariaDB has no FULL JOIN");
                        }
                    }

                    @Override
                    public void clause(Clause clause) {
                        if (clause instanceof Clause.OrderBy order) {
                            order.keys().stream()
                                    .filter(k -> k.nullsFirst().isPresent())
                                    .forEach(k -> refuseNulls(source.span()));
                        }
                    }

                    @Override
                    public void found(SqlWalk.Found found) {
                        refuse(found.expression(), source.span());
                    }
                });
    }

    private static void refuseNulls(Span span) {
        throw new UnsupportedConstructException(
                span, "MariaDB has no NULLS FIRST and NULLS LAST; sort by (x IS NULL) before x");
    }

    private static void refuse(Expression e, Span whole) {
        if (e instanceof Expression.IsDistinct test && !test.negated()) {
            throw new UnsupportedConstructException(
                    e.span(),
                    "MariaDB has no IS DISTINCT FROM; say NOT (… IS NOT DISTINCT FROM …)");
        }
        if (e instanceof Expression.Between between && between.symmetric()) {
            throw new UnsupportedConstructException(e.span(), "MariaDB has no BETWEEN SYMMETRIC");
        }
        if (e instanceof Expression.Aggregate aggregate) {
            if (aggregate.filter().isPresent()) {
                throw new UnsupportedConstructException(
                        e.span(), "MariaDB has no FILTER for aggregates");
            }
            aggregate.keys().stream()
                    .filter(Expression.Key::saysNulls)
                    .forEach(k -> refuseNulls(whole));
        }
        if (e instanceof Expression.Window window) {
            window.keys().stream()
                    .filter(Expression.Key::saysNulls)
                    .forEach(k -> refuseNulls(whole));
        }
    }

    /** What an INSERT reads of its own table is NULL there where a trigger fires before it. */
    private void refuseFromItself(BoundSql sql) {
        for (SqlText.TableUse use : sql.source().scope().tables()) {
            if (use.role() != SqlText.Role.INSERT || use.names().isEmpty()) {
                continue;
            }
            String key = use.names().get(use.names().size() - 1).key();
            boolean fires =
                    catalog.triggers().stream()
                            .map(TriggerSymbol::tree)
                            .filter(t -> t.timing() == Unit.Timing.BEFORE)
                            .filter(t -> t.event() == Unit.Event.INSERT)
                            .anyMatch(t -> t.table().key().equals(key));
            if (fires && isRead(key, sql.source().scope(), use)) {
                throw new UnsupportedConstructException(
                        use.span(),
                        "MariaDB loses what an INSERT reads of its own table where a trigger fires"
                                + " before it; read it into a table of its own first");
            }
        }
    }

    private static boolean isRead(String key, SqlText.Scope scope, SqlText.TableUse change) {
        boolean here =
                scope.tables().stream()
                        .filter(t -> t != change && !t.names().isEmpty())
                        .anyMatch(t -> t.names().get(t.names().size() - 1).key().equals(key));
        return here || scope.children().stream().anyMatch(c -> isRead(key, c, change));
    }

    /** Says a stretch of a statement in the server's words. */
    private void render(BoundSql sql, TextEdits edits) {
        FixedVariables.of(sql).stream()
                .filter(p -> edits.holds(p.span()))
                .forEach(p -> edits.put(p.span(), words.text(p)));
        for (BoundExpression parameter : sql.parameters()) {
            if (edits.holds(parameter.span())) {
                words.edit(parameter, edits);
            }
        }
        calls(sql, sql.source().scope(), edits);
        WrittenNames.of(sql.source(), catalog, words.declared(), true, names::unreserved)
                .forEach(s -> edits.put(s.span(), s.text()));
        tables(sql.source().scope(), edits);
        divisions(sql, edits);
        SqlWalk.each(sql.source().tree(), found -> expression(found.expression(), sql, edits));
    }

    private void expression(Expression e, BoundSql sql, TextEdits edits) {
        if (e instanceof Expression.Cast cast) {
            cast(cast, sql, edits);
        } else if (e instanceof Expression.Call call
                && call.key().equals("MOD")
                && call.arguments().size() == 2) {
            rest(call, sql, edits);
        }
    }

    /** A CAST to a number is an error where there is none, or none that fits; the server's is 0. */
    private void cast(Expression.Cast cast, BoundSql sql, TextEdits edits) {
        Optional<SqlType> type =
                number(cast.type())
                        .or(() -> moment(cast.type()).filter(t -> isText(cast.operand(), sql)));
        CastParts parts = CastParts.of(cast);
        if (type.isPresent() && edits.holds(cast.span()) && !isInValue(parts.head(), sql)) {
            edits.put(parts.head(), words.caster(type.get(), parts.head()) + "(CONCAT(");
            edits.put(parts.tail(), "))");
        }
    }

    private static Optional<SqlType> moment(TypeSyntax type) {
        if (!(type instanceof TypeSyntax.Predefined known)) {
            return Optional.empty();
        }
        int digits = known.arguments().isEmpty() ? -1 : known.arguments().get(0);
        return switch (known.name()) {
            case "DATE" -> Optional.of(SqlType.DATE);
            case "TIME" -> Optional.of(new SqlType.Time(Math.max(0, digits), false));
            case "TIMESTAMP" -> Optional.of(new SqlType.Timestamp(digits < 0 ? 6 : digits, false));
            default -> Optional.empty();
        };
    }

    /** Whether it is a text for certain: a literal, a variable, a column, or texts put together. */
    private boolean isText(Expression e, BoundSql sql) {
        if (e instanceof Expression.Literal literal) {
            return literal.kind() == Expression.LiteralKind.TEXT;
        }
        if (e instanceof Expression.Binary binary) {
            return binary.operator() == Expression.Operator.CONCATENATE;
        }
        return sql.parameterAt(e.span())
                .map(BoundExpression::type)
                .or(() -> ColumnTypes.of(e.span().text(), sql, catalog))
                .filter(SqlType.Text.class::isInstance)
                .isPresent();
    }

    /** The type of numbers that a CAST names. */
    private static Optional<SqlType> number(TypeSyntax type) {
        if (!(type instanceof TypeSyntax.Predefined known)) {
            return Optional.empty();
        }
        List<Integer> arguments = known.arguments();
        return switch (known.name()) {
            case "INTEGER" -> Optional.of(SqlType.INTEGER);
            case "SMALLINT" -> Optional.of(SqlType.SMALLINT);
            case "BIGINT" -> Optional.of(SqlType.BIGINT);
            case "DOUBLE PRECISION" -> Optional.of(SqlType.DOUBLE);
            case "DECIMAL", "NUMERIC" ->
                    arguments.isEmpty() || arguments.get(0) > 99
                            ? Optional.empty()
                            : Optional.of(
                                    new SqlType.Exact(
                                            arguments.get(0),
                                            arguments.size() > 1 ? arguments.get(1) : 0));
            default -> Optional.empty();
        };
    }

    /** The rest of a division by zero is an error too; the server's is NULL in a query. */
    private void rest(Expression.Call call, BoundSql sql, TextEdits edits) {
        Expression divisor = call.arguments().get(1).value();
        Span span = divisor.span();
        boolean inside = edits.holds(span) && !edits.isAll(span);
        if (!SqlDivision.isSafe(divisor) && inside && !isInValue(span, sql)) {
            String value = rendered(span, sql);
            edits.put(span, "IF((" + value + ") = 0, cantina_whole_divisor(0), " + value + ")");
        }
    }

    /**
     * Whole numbers are cut, and others keep enough digits; by zero is an error, also in a query.
     */
    private void divisions(BoundSql sql, TextEdits edits) {
        if (sql.source().span().text().indexOf('/') < 0) {
            return;
        }
        for (SqlDivision division : SqlDivision.of(sql, catalog)) {
            if (!edits.holds(division.place()) || isInValue(division.place(), sql)) {
                continue;
            }
            switch (division.kind()) {
                case OPEN ->
                        throw new UnsupportedConstructException(
                                division.place(),
                                "MariaDB keeps decimals where whole numbers are divided, and it can't"
                                        + " be seen here whether they are; CAST one side, or divide in"
                                        + " a variable");
                case WHOLE -> edits.put(division.place(), " DIV ");
                case EXACT -> edits.around(division.left(), "CAST(", " AS DECIMAL(65, 30))");
                default -> {}
            }
            if (!division.safe()) {
                String check =
                        switch (division.kind()) {
                            case WHOLE -> "cantina_whole_divisor(";
                            case EXACT -> "cantina_divisor(";
                            default -> "cantina_double_divisor(";
                        };
                String beside =
                        division.name()
                                .filter(n -> isColumn(n, sql))
                                .map(n -> "IF(" + rendered(n, sql) + " IS NULL, NULL, ")
                                .orElse("");
                edits.around(division.right(), check + beside, beside.isEmpty() ? ")" : "))");
            }
        }
    }

    /** A stretch in the server's words, to be written once more. */
    private String rendered(Span span, BoundSql sql) {
        TextEdits inner = new TextEdits(span);
        render(sql, inner);
        return inner.text();
    }

    private static boolean isColumn(Span name, BoundSql sql) {
        return sql.parameters().stream().noneMatch(p -> p.span().start() == name.start());
    }

    private static boolean isInValue(Span place, BoundSql sql) {
        return sql.parameters().stream()
                .anyMatch(p -> p.span().start() < place.start() && place.end() < p.span().end());
    }

    private void calls(BoundSql sql, SqlText.Scope scope, TextEdits edits) {
        for (SqlText.NameUse use : scope.names()) {
            if (!edits.holds(use.span())) {
                continue;
            }
            if (use.use() == SqlText.Use.CALL) {
                call(sql, use, edits);
            }
        }
        for (SqlText.TableUse use : scope.tables()) {
            if (!use.function().isEmpty()) {
                throw new UnsupportedConstructException(
                        use.span(), "MariaDB's functions give no rows");
            }
        }
        scope.children().forEach(child -> calls(sql, child, edits));
    }

    private void call(BoundSql sql, SqlText.NameUse use, TextEdits edits) {
        List<RoutineSymbol> all = catalog.functions(catalog.keyOf(use.names(), module));
        if (all.isEmpty()) {
            return;
        }
        SqlText.Call call = callOf(sql, use);
        List<SqlText.Argument> given = call.arguments();
        List<Name> said = given.stream().flatMap(a -> a.name().stream()).toList();
        List<RoutineSymbol> fitting =
                all.stream()
                        .filter(f -> given.size() <= f.parameters().size())
                        .filter(f -> given.size() >= f.required())
                        .filter(
                                f ->
                                        said.stream()
                                                .allMatch(
                                                        n ->
                                                                f.parameters().stream()
                                                                        .anyMatch(
                                                                                p ->
                                                                                        p.name()
                                                                                                .is(
                                                                                                        n))))
                        .toList();
        if (fitting.size() != 1) {
            throw new UnsupportedConstructException(
                    use.span(), "which of several functions this is depends on types there");
        }
        RoutineSymbol function = fitting.get(0);
        edits.put(use.span(), words.callee(function));
        if (!call.isNamed() && given.size() == function.parameters().size()) {
            return;
        }
        List<String> texts = new ArrayList<>();
        for (int i = 0; i < function.parameters().size(); i++) {
            ParameterSymbol parameter = function.parameters().get(i);
            Optional<Span> value = Optional.empty();
            for (int k = 0; k < given.size(); k++) {
                int position = k;
                boolean fits =
                        given.get(k).name().map(n -> parameter.name().is(n)).orElse(position == i);
                value = fits ? Optional.of(given.get(k).span()) : value;
            }
            if (value.isEmpty()) {
                texts.add(words.initial(parameter));
            } else {
                TextEdits inner = new TextEdits(value.get());
                render(sql, inner);
                texts.add(inner.text().strip());
            }
        }
        edits.put(call.span(), String.join(", ", texts));
    }

    /** The call that a function's name stands in: the first that begins behind it. */
    private static SqlText.Call callOf(BoundSql sql, SqlText.NameUse use) {
        return sql.source().calls().stream()
                .filter(c -> c.function().equals(use.names()))
                .filter(c -> c.span().start() > use.span().end())
                .min(Comparator.comparingInt(c -> c.span().start()))
                .orElseThrow(
                        () ->
                                new UnsupportedConstructException(
                                        use.span(), "this call has no end"));
    }

    /** {@code t AS x (a, b)}: the columns of a query alone can be named there. */
    private static void renamed(SqlText.TableUse use, TextEdits edits) {
        Span alias = use.alias().get().span();
        Span whole = use.span();
        String list = whole.source().text().substring(alias.end(), whole.end()).strip();
        if (!list.startsWith("(") || !edits.holds(whole)) {
            return;
        }
        if (!use.names().isEmpty() || !whole.text().startsWith("(")) {
            throw new UnsupportedConstructException(
                    alias, "MariaDB renames no columns of a table; query it in brackets");
        }
    }

    /** Tables by the names that the server knows, whose case counts there. */
    private void tables(SqlText.Scope scope, TextEdits edits) {
        for (SqlText.TableUse use : scope.tables()) {
            if (use.visible() && use.alias().isPresent()) {
                renamed(use, edits);
            }
            if (use.names().size() == 2 && use.names().get(0).key().equals("MODULE")) {
                Span whole = use.names().get(0).span().to(use.names().get(1).span());
                edits.put(whole, names.of(use.names().get(1)));
            }
        }
        scope.children().forEach(child -> tables(child, edits));
    }
}
