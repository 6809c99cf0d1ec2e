package dev.cantina.binding;

import dev.cantina.binding.NamedUse.Meaning;
import dev.cantina.catalog.Describer;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.Table;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlText;
import dev.cantina.syntax.SqlText.NameUse;
import dev.cantina.syntax.SqlText.TableUse;
import dev.cantina.syntax.Unit;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * Finds the variables in a statement that goes to the database. A column of the statement's tables
 * wins over a variable of its name (language profile, "Names"); what is neither is left standing,
 * and the database judges it.
 */
final class SqlBinder {
    private final Binding binding;

    SqlBinder(Binding binding) {
        this.binding = binding;
    }

    /** Scopes with those around them. */
    private record Inside(SqlText.Scope scope, Inside outer) {}

    /** The text that a query has at one place more than was written. */
    private Optional<SqlWriting.Replacement> addition = Optional.empty();

    /**
     * A cursor's query with one more column: what identifies the row. Empty where the database
     * refuses it.
     */
    Optional<BoundSql> identifying(SqlText query, Scope scope) {
        String identity = binding.describer.map(Describer::rowIdentity).orElse("");
        String table = query.scope().tables().get(0).known().orElseThrow().written();
        Span source = query.span();
        Span before = new Span(source.source(), query.from().getAsInt(), query.from().getAsInt());
        addition =
                Optional.of(
                        new SqlWriting.Replacement(
                                before, List.of(), ", " + table + "." + identity + " "));
        try {
            return Optional.of(bind(query, scope));
        } finally {
            addition = Optional.empty();
        }
    }

    /** How many columns the query has more than was written. */
    private int counts;

    /**
     * A query of one row, with the number of NULLs that each of its aggregates leaves out, where
     * somebody may look for that (ISO 9075-2, 10.9: 01003).
     */
    BoundSql counting(SqlText query, Scope scope) {
        Optional<CountedAggregates> aggregates =
                binding.watchesWarnings ? CountedAggregates.of(query.tree()) : Optional.empty();
        if (aggregates.isEmpty()) {
            return bind(query, scope);
        }
        int from = aggregates.get().from();
        StringBuilder more = new StringBuilder();
        for (String argument : aggregates.get().arguments()) {
            more.append(", COUNT(*) - COUNT(").append(argument).append(") ");
        }
        counts = aggregates.get().arguments().size();
        addition =
                Optional.of(
                        new SqlWriting.Replacement(
                                new Span(query.span().source(), from, from),
                                List.of(),
                                more.toString()));
        try {
            return bind(query, scope);
        } finally {
            addition = Optional.empty();
            counts = 0;
        }
    }

    /**
     * @param prefix what the text sent has before it
     * @param suffix what it has after it
     */
    BoundSql bind(SqlText text, Scope scope, String prefix, String suffix) {
        return bind(text, scope, List.of(prefix), List.of(), suffix);
    }

    BoundSql bind(SqlText text, Scope scope) {
        return bind(text, scope, "", "");
    }

    /**
     * The same with values of its own before it: {@code pieces} has one more than {@code values}.
     */
    BoundSql bind(
            SqlText text,
            Scope scope,
            List<String> before,
            List<BoundExpression> values,
            String suffix) {
        List<SqlWriting.Replacement> replacements = new ArrayList<>();
        Set<String> tables = new LinkedHashSet<>();
        collect(new Inside(text.scope(), null), scope, replacements, tables);
        boolean overlaps = binding.describer.map(Describer::knowsOverlaps).orElse(false);
        text.edits().stream()
                .filter(e -> !e.overlaps() || !overlaps)
                .forEach(
                        e ->
                                replacements.add(
                                        new SqlWriting.Replacement(e.span(), List.of(), e.text())));
        addition.ifPresent(replacements::add);
        binding.describer.ifPresent(
                d ->
                        WrittenNames.of(text, binding.catalog, binding.made, d.heedsCase(), d::name)
                                .forEach(s -> replacements.add(renamed(s))));
        replacements.addAll(casts(text, List.copyOf(replacements)));
        text.calls().forEach(call -> replacements.addAll(result(call)));
        cut.forEach(s -> replacements.add(new SqlWriting.Replacement(s, List.of(), " DIV ")));
        text.positioned()
                .ifPresent(
                        p ->
                                scope.cursor(p.cursor().key())
                                        .ifPresent(c -> replacements.add(positioned(p, c))));
        List<SqlWriting.Place> places = new ArrayList<>(replacements);
        places.addAll(arranged(text, scope));
        refuseRows(text);
        refuseHidden(text);
        // Of two that begin together the longer one holds the other, and a call its only argument.
        places.sort(
                Comparator.<SqlWriting.Place>comparingInt(p -> p.span().start())
                        .thenComparing(p -> p.span().start() == p.span().end() ? 0 : 1)
                        .thenComparing(p -> -p.span().end())
                        .thenComparing(p -> p instanceof SqlWriting.Arranged ? 0 : 1));
        SqlWriting writing = new SqlWriting(text.span().source().text(), before, values, places);
        writing.write(text.span().start(), text.span().end());
        List<String> pieces = writing.end(suffix);
        List<BoundExpression> parameters = writing.parameters();
        boolean silent =
                binding.access == Unit.SqlAccess.NO_SQL
                        || binding.access == Unit.SqlAccess.CONTAINS_SQL;
        if (silent && text.isQuery() && !tables.isEmpty()) {
            binding.wrongAccess(text.span(), Unit.SqlAccess.READS_SQL_DATA);
        }
        BoundSql whole = bound(text, pieces, parameters, List.of(), tables, 0);
        if (binding.access != Unit.SqlAccess.MODIFIES_SQL_DATA
                && text.isQuery()
                && whole.changes()) {
            binding.wrongAccess(text.span(), Unit.SqlAccess.MODIFIES_SQL_DATA);
        }
        boolean cuts = binding.describer.map(Describer::cutsQuotients).orElse(true);
        if (!cuts && cut.isEmpty() && text.span().text().indexOf('/') >= 0) {
            cut = wholeDivisions(whole);
            if (!cut.isEmpty()) {
                try {
                    return bind(text, scope, before, values, suffix);
                } finally {
                    cut = List.of();
                }
            }
        }
        List<SqlType.Field> columns = new DescribedColumns(binding).of(text, pieces, parameters);
        int shown = Math.max(0, columns.size() - counts);
        return bound(text, pieces, parameters, columns.subList(0, shown), tables, counts);
    }

    /** What stands before and behind the arguments that the database wants cast. */
    private List<SqlWriting.Replacement> casts(
            SqlText text, List<SqlWriting.Replacement> variables) {
        List<SqlWriting.Replacement> casts = new ArrayList<>();
        if (binding.describer.isEmpty() || text.calls().isEmpty()) {
            return casts;
        }
        Describer database = binding.describer.get();
        for (ArgumentCasts.Cast cast :
                ArgumentCasts.of(
                        text,
                        binding.catalog,
                        binding.module,
                        span ->
                                variables.stream()
                                        .filter(v -> v.span().equals(span))
                                        .filter(v -> v.values().size() == 1)
                                        .map(v -> v.values().get(0).type())
                                        .findFirst())) {
            Optional<String> type = database.argument(cast.type());
            if (type.isPresent()) {
                Span span = cast.span();
                casts.add(inserted(span, span.start(), "CAST("));
                casts.add(inserted(span, span.end(), " AS " + type.get() + ")"));
            }
        }
        return casts;
    }

    /** What stands before and behind a call whose value the database wants cast. */
    private List<SqlWriting.Replacement> result(SqlText.Call call) {
        List<RoutineSymbol> functions =
                binding.catalog.functions(binding.catalog.keyOf(call.function(), binding.module));
        Optional<String> type =
                functions.size() == 1
                        ? functions.get(0).returns().flatMap(this::result)
                        : Optional.empty();
        String source = call.span().source().text();
        int end = call.span().end();
        while (end < source.length() && Character.isWhitespace(source.charAt(end))) {
            end++;
        }
        if (type.isEmpty() || end >= source.length() || source.charAt(end) != ')') {
            return List.of();
        }
        int start = call.function().get(0).span().start();
        return List.of(
                inserted(call.span(), start, "CAST("),
                inserted(call.span(), end + 1, " AS " + type.get() + ")"));
    }

    private Optional<String> result(SqlType returns) {
        return binding.describer.flatMap(d -> d.result(returns));
    }

    private static SqlWriting.Replacement inserted(Span span, int at, String text) {
        return new SqlWriting.Replacement(new Span(span.source(), at, at), List.of(), text);
    }

    private static SqlWriting.Replacement renamed(Spellings.Spelling spelling) {
        return new SqlWriting.Replacement(spelling.span(), List.of(), spelling.text());
    }

    /** The divisions of whole numbers, where the database would keep decimals. */
    private List<Span> cut = List.of();

    private List<Span> wholeDivisions(BoundSql sql) {
        List<Span> found = new ArrayList<>();
        for (SqlDivision division : SqlDivision.of(sql, binding.catalog)) {
            if (division.kind() == SqlDivision.Kind.WHOLE) {
                found.add(division.place());
            } else if (division.kind() == SqlDivision.Kind.OPEN) {
                binding.error(
                        division.place(),
                        "open-division",
                        "the database keeps decimals where whole numbers are divided, and it can't"
                                + " be seen here whether they are",
                        "CAST one side to DECIMAL or to INTEGER, or divide in a variable");
            }
        }
        return found;
    }

    private static BoundSql bound(
            SqlText text,
            List<String> pieces,
            List<BoundExpression> parameters,
            List<SqlType.Field> columns,
            Set<String> tables,
            int counts) {
        return new BoundSql(
                text.span(),
                text.verb(),
                text.isQuery(),
                List.copyOf(pieces),
                List.copyOf(parameters),
                columns,
                tables,
                text,
                counts);
    }

    /** A function of the project's is hidden in SQL by one of the database's own. */
    private void refuseHidden(SqlText text) {
        for (SqlText.Call call : text.calls()) {
            String key = binding.catalog.keyOf(call.function(), binding.module);
            boolean hidden =
                    call.function().size() == 1
                            && !call.function().get(0).delimited()
                            && !binding.catalog.functions(key).isEmpty()
                            && binding.describer
                                    .filter(d -> d.hasFunction(key, call.arguments().size()))
                                    .isPresent();
            if (hidden) {
                binding.error(
                        call.span(),
                        "hidden-function",
                        "the database has a function "
                                + call.function().get(0)
                                + " of its own, which SQL would call; SET a variable from yours, or"
                                + " rename it");
            }
        }
    }

    /** A function that gives a row can't be called where SQL would not know what that is. */
    private void refuseRows(SqlText text) {
        if (binding.describer.map(Describer::takesRows).orElse(true)) {
            return;
        }
        for (SqlText.Call call : text.calls()) {
            String key = binding.catalog.keyOf(call.function(), binding.module);
            boolean row =
                    binding.catalog.functions(key).stream()
                            .anyMatch(f -> f.returns().orElseThrow() instanceof SqlType.Row);
            if (row) {
                binding.error(
                        call.span(),
                        "refused-sql",
                        call.function().get(call.function().size() - 1)
                                + " gives a row, which SQL can't use here; SET a row variable from it");
            }
        }
    }

    /**
     * The calls of a statement whose arguments are not all there in their order, as far as the
     * database minds.
     */
    private List<SqlWriting.Arranged> arranged(SqlText text, Scope scope) {
        List<SqlWriting.Arranged> arranged = new ArrayList<>();
        boolean whole = binding.describer.map(Describer::wantsAllArguments).orElse(false);
        for (SqlText.Call call : text.calls()) {
            if (!whole && !call.isNamed()) {
                continue;
            }
            String key = binding.catalog.keyOf(call.function(), binding.module);
            List<RoutineSymbol> functions = binding.catalog.functions(key);
            if (functions.isEmpty()) {
                continue;
            }
            RoutineSymbol function =
                    functions.stream()
                            .filter(f -> takes(f, call))
                            .findFirst()
                            .orElse(functions.get(0));
            if (call.isNamed() || call.arguments().size() < function.parameters().size()) {
                arranged.add(
                        new SqlWriting.Arranged(
                                call.span(), arranged(call, function, scope, whole)));
            }
        }
        return arranged;
    }

    /**
     * @param whole whether those at the end that are left out are to be sent too
     */
    private List<SqlWriting.Argument> arranged(
            SqlText.Call call, RoutineSymbol function, Scope scope, boolean whole) {
        ExpressionBinder expressions = new ExpressionBinder(binding, this);
        List<ExpressionBinder.Given<Span>> given = new ArrayList<>();
        for (SqlText.Argument argument : call.arguments()) {
            given.add(
                    new ExpressionBinder.Given<>(
                            argument.name(), argument.span(), argument.span()));
        }
        List<Optional<Span>> matched = expressions.match(function, given, call.span());
        int last = matched.size();
        while (!whole && last > 0 && matched.get(last - 1).isEmpty()) {
            last--;
        }
        List<SqlWriting.Argument> arguments = new ArrayList<>();
        for (int i = 0; i < last; i++) {
            ParameterSymbol parameter = function.parameters().get(i);
            Optional<BoundExpression> initial =
                    matched.get(i).isPresent()
                            ? Optional.empty()
                            : Optional.of(
                                    expressions.value(
                                            parameter, Optional.empty(), scope, call.span()));
            arguments.add(new SqlWriting.Argument(matched.get(i).orElse(call.span()), initial));
        }
        return arguments;
    }

    private static boolean takes(RoutineSymbol function, SqlText.Call call) {
        return call.arguments().size() <= function.parameters().size()
                && call.arguments().stream()
                        .flatMap(a -> a.name().stream())
                        .allMatch(
                                n -> function.parameters().stream().anyMatch(p -> p.name().is(n)));
    }

    private SqlWriting.Replacement positioned(SqlText.Positioned positioned, CursorSymbol cursor) {
        String identity = binding.describer.map(Describer::rowIdentity).orElse("");
        return new SqlWriting.Replacement(
                positioned.span(),
                List.of(new BoundExpression.CursorRow(positioned.span(), cursor)),
                "",
                identity + " = ");
    }

    private void collect(
            Inside inside,
            Scope scope,
            List<SqlWriting.Replacement> replacements,
            Set<String> tables) {
        if (binding.uses != null) {
            meanings(inside, scope);
        }
        for (TableUse use : inside.scope().tables()) {
            if (!use.names().isEmpty()) {
                Name name = use.names().get(use.names().size() - 1);
                tables.add(name.key());
                declared(use, scope).ifPresent(d -> declared(use, d, replacements));
            }
        }
        for (NameUse use : inside.scope().names()) {
            if (use.use() == SqlText.Use.MOMENT) {
                // The session's clock, not the database's: one value in a statement.
                BoundExpression moment =
                        FunctionBinder.moment(use.span(), use.names().get(0).key());
                replacements.add(new SqlWriting.Replacement(use.span(), List.of(moment)));
            } else if (use.use() == SqlText.Use.CALL) {
                // The engine knows a function of a module by one name.
                String key = binding.catalog.keyOf(use.names(), binding.module);
                if (key.contains(".") && !binding.catalog.functions(key).isEmpty()) {
                    String called =
                            binding.describer.map(d -> d.called(key)).orElse('"' + key + '"');
                    replacements.add(new SqlWriting.Replacement(use.span(), List.of(), called));
                } else if (use.names().size() == 1 && !binding.catalog.functions(key).isEmpty()) {
                    Name name = use.names().get(0);
                    String called =
                            binding.describer.map(d -> d.function(name.text())).orElse(name.text());
                    if (!name.delimited() && !called.equals(name.text())) {
                        replacements.add(new SqlWriting.Replacement(use.span(), List.of(), called));
                    }
                }
            } else if (use.use() == SqlText.Use.VALUE) {
                List<BoundExpression> values = values(use, inside, scope);
                if (values.size() == 1) {
                    binding.means(use.names(), values.get(0));
                }
                if (!values.isEmpty()) {
                    replacements.add(new SqlWriting.Replacement(use.span(), values));
                }
            }
        }
        for (SqlText.Scope child : inside.scope().children()) {
            collect(new Inside(child, inside), scope, replacements, tables);
        }
    }

    /** Tells which tables, columns and functions the names of a query mean. */
    private void meanings(Inside inside, Scope scope) {
        for (TableUse use : inside.scope().tables()) {
            if (!use.function().isEmpty()) {
                called(use.function());
            } else if (!use.names().isEmpty()) {
                table(use, inside, scope)
                        .ifPresent(
                                t ->
                                        binding.means(
                                                use.names().get(use.names().size() - 1).span(),
                                                new Meaning.OfTable(t)));
            }
        }
        for (NameUse use : inside.scope().names()) {
            List<Name> names = use.names();
            Name last = names.get(names.size() - 1);
            switch (use.use()) {
                case CALL -> called(names);
                case TARGET ->
                        inside.scope().tables().stream()
                                .filter(t -> t.role() != SqlText.Role.READ)
                                .findFirst()
                                .flatMap(t -> table(t, inside, scope))
                                .ifPresent(t -> column(last, t));
                case VALUE -> {
                    if (names.size() == 1) {
                        columnOf(last, inside, scope).ifPresent(t -> column(last, t));
                    } else if (names.size() == 2) {
                        qualified(names, inside, scope);
                    }
                }
                default -> {
                    // The clock is no name of anybody's.
                }
            }
        }
    }

    private void called(List<Name> names) {
        List<RoutineSymbol> functions =
                binding.catalog.functions(binding.catalog.keyOf(names, binding.module));
        if (!functions.isEmpty()) {
            binding.calls(names, functions.get(0));
        }
    }

    private void column(Name name, Table table) {
        if (table.column(name.key()).isPresent()) {
            binding.means(name.span(), new Meaning.OfColumn(table, name.key()));
        }
    }

    /** {@code v.code}, where v is a table of the query or of one around it. */
    private void qualified(List<Name> names, Inside inside, Scope scope) {
        for (Inside i = inside; i != null; i = i.outer()) {
            for (TableUse use : i.scope().tables()) {
                if (use.known().filter(k -> k.is(names.get(0))).isPresent()) {
                    Optional<Table> table = table(use, inside, scope);
                    table.ifPresent(t -> column(names.get(1), t));
                    if (use.alias().isEmpty()) {
                        table.ifPresent(
                                t -> binding.means(names.get(0).span(), new Meaning.OfTable(t)));
                    }
                    return;
                }
            }
        }
    }

    /** The table whose column a bare name is. */
    private Optional<Table> columnOf(Name name, Inside inside, Scope scope) {
        Inside inner = null;
        for (Inside i = inside; i != null; i = i.outer()) {
            if (inner == null || seesTables(inner, i)) {
                for (TableUse use : i.scope().tables()) {
                    if (use.visible() && hasColumn(use, name, inside, scope)) {
                        return table(use, inside, scope);
                    }
                }
            }
            inner = i;
        }
        return Optional.empty();
    }

    /** The table that a use of one means; empty for a query's own, and for one in brackets. */
    private Optional<Table> table(TableUse use, Inside inside, Scope scope) {
        if (use.names().isEmpty()) {
            return Optional.empty();
        }
        Optional<DeclaredTable> declared = declared(use, scope);
        if (declared.isPresent()) {
            return declared.map(DeclaredTable::table);
        }
        Name name = use.names().get(use.names().size() - 1);
        for (Inside i = inside; i != null; i = i.outer()) {
            for (TableUse common : i.scope().tables()) {
                if (common.names().isEmpty()
                        && !common.visible()
                        && common.alias().filter(a -> a.is(name)).isPresent()) {
                    return Optional.empty();
                }
            }
        }
        return binding.catalog.table(name);
    }

    /** The table of a block that a table of a statement is. */
    private static Optional<DeclaredTable> declared(TableUse use, Scope scope) {
        List<Name> names = use.names();
        boolean plain = names.size() == 1;
        boolean ofModule = names.size() == 2 && names.get(0).key().equals("MODULE");
        return plain || ofModule
                ? scope.table(names.get(names.size() - 1).key())
                : Optional.empty();
    }

    /** Names a block's table as the database does. */
    private void declared(
            TableUse use, DeclaredTable declared, List<SqlWriting.Replacement> replacements) {
        Name last = use.names().get(use.names().size() - 1);
        if (declared.readOnly() && use.role() != SqlText.Role.READ) {
            binding.error(
                    last.span(),
                    "not-assignable",
                    last + " shows what the statement changed, and can't be changed itself",
                    "change the trigger's table");
        }
        boolean same = declared.sqlName().equals(declared.table().key());
        if (use.names().size() == 1 && same) {
            return;
        }
        boolean alias = use.alias().isEmpty() && use.role() != SqlText.Role.INSERT;
        replacements.add(
                new SqlWriting.Replacement(
                        use.names().get(0).span().to(last.span()),
                        List.of(),
                        same
                                ? named(last)
                                : '"'
                                        + declared.sqlName()
                                        + '"'
                                        + (alias ? " AS " + named(last) : "")));
    }

    /** A name as the database wants it written. */
    private String named(Name name) {
        return name.delimited()
                ? name.written()
                : binding.describer.map(d -> d.name(name.text())).orElse(name.text());
    }

    /** The variable that a name means, or the fields of a row; empty where it means none. */
    private List<BoundExpression> values(NameUse use, Inside inside, Scope scope) {
        List<Name> names = use.names();
        Name first = names.get(0);
        if (names.size() == 1) {
            boolean output =
                    use.order()
                            && inside.scope().outputs().stream().anyMatch(name -> name.is(first));
            if (output || isColumn(first, inside, scope)) {
                return List.of();
            }
            return scope.find(first.key())
                    .map(f -> read(use.span(), f))
                    .or(() -> shared(use))
                    .map(List::of)
                    .orElse(List.of());
        }
        if (isTable(first, inside)) {
            return List.of();
        }
        Name second = names.get(1);
        if (second.text().equals("*") && second.delimited()) {
            return scope.find(first.key())
                    .filter(found -> found.type() instanceof SqlType.Row)
                    .map(found -> fields(use.span(), found))
                    .orElse(List.of());
        }
        return ExpressionBinder.chain(use.span(), names, scope)
                .or(() -> shared(use))
                .map(List::of)
                .orElse(List.of());
    }

    private Optional<BoundExpression> shared(NameUse use) {
        return new ExpressionBinder(binding, this).shared(use.span(), use.names());
    }

    private static List<BoundExpression> fields(Span span, Scope.Found found) {
        List<BoundExpression> fields = new ArrayList<>();
        List<SqlType.Field> types = ((SqlType.Row) found.type()).fields();
        for (int i = 0; i < types.size(); i++) {
            fields.add(new BoundExpression.Field(span, read(span, found), i, types.get(i).type()));
        }
        return fields;
    }

    static BoundExpression read(Span span, Scope.Found found) {
        BoundExpression variable = new BoundExpression.Read(span, found.variable());
        return found.field() < 0
                ? variable
                : new BoundExpression.Field(span, variable, found.field(), found.type());
    }

    private boolean isColumn(Name name, Inside inside, Scope scope) {
        Inside inner = null;
        for (Inside i = inside; i != null; i = i.outer()) {
            if (inner == null || seesTables(inner, i)) {
                for (TableUse use : i.scope().tables()) {
                    if (use.visible() && hasColumn(use, name, inside, scope)) {
                        return true;
                    }
                }
            }
            inner = i;
        }
        return false;
    }

    /**
     * Whether a query sees the tables of the one around it: what stands among these itself, a
     * change whose rows are a table too, does not (ISO 9075-2, 7.6), unless it says LATERAL.
     */
    private static boolean seesTables(Inside inner, Inside around) {
        Span span = inner.scope().span();
        return around.scope().tables().stream()
                .filter(use -> use.function().isEmpty())
                .filter(use -> use.span().start() <= span.start())
                .filter(use -> span.end() <= use.span().end())
                .allMatch(use -> use.span().text().regionMatches(true, 0, "LATERAL", 0, 7));
    }

    private boolean hasColumn(TableUse use, Name name, Inside inside, Scope scope) {
        if (!use.columns().isEmpty()) {
            return use.columns().stream().anyMatch(column -> column.is(name));
        }
        if (!use.function().isEmpty()) {
            String key = binding.catalog.keyOf(use.function(), binding.module);
            return binding.catalog.functions(key).stream()
                    .flatMap(f -> f.returns().stream())
                    .filter(SqlType.Table.class::isInstance)
                    .flatMap(t -> ((SqlType.Table) t).columns().stream())
                    .anyMatch(c -> c.name().equalsIgnoreCase(name.key()));
        }
        if (use.names().isEmpty()) {
            return false;
        }
        Optional<DeclaredTable> declared = declared(use, scope);
        if (declared.isPresent()) {
            return declared.get().table().column(name.key()).isPresent();
        }
        Name table = use.names().get(use.names().size() - 1);
        for (Inside i = inside; i != null; i = i.outer()) {
            for (TableUse common : i.scope().tables()) {
                if (common.names().isEmpty()
                        && !common.visible()
                        && common.alias().filter(a -> a.is(table)).isPresent()) {
                    return common.columns().stream().anyMatch(column -> column.is(name));
                }
            }
        }
        return binding.catalog.table(table).flatMap(t -> t.column(name.key())).isPresent();
    }

    private static boolean isTable(Name name, Inside inside) {
        Inside inner = null;
        for (Inside i = inside; i != null; i = i.outer()) {
            if (inner == null || seesTables(inner, i)) {
                for (TableUse use : i.scope().tables()) {
                    if (use.known().filter(known -> known.is(name)).isPresent()) {
                        return true;
                    }
                }
            }
            inner = i;
        }
        return false;
    }
}
