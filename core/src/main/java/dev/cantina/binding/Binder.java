package dev.cantina.binding;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Describer;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.Table;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.syntax.Declaration;
import dev.cantina.syntax.EditPlaces;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlText;
import dev.cantina.syntax.Statement;
import dev.cantina.syntax.Unit;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * Binds routines and triggers: every name and type resolved against a catalog. The result is there
 * even where problems are; it may be run only where none of them is an error.
 */
public final class Binder {
    private final Catalog catalog;
    private final Optional<Describer> describer;

    /**
     * @param describer asked for the types of queries, and whether it takes each statement; without
     *     one, both come out only when the routine runs
     */
    public Binder(Catalog catalog, Optional<Describer> describer) {
        this.catalog = catalog;
        this.describer = describer;
    }

    /** Whether the database has users, so that SQL SECURITY can be seen to work. */
    public boolean knowsRights() {
        return describer.map(Describer::knowsRights).orElse(true);
    }

    public Catalog catalog() {
        return catalog;
    }

    /** What binding gave. */
    public record Result(BoundRoutine routine, List<Problem> problems, List<NamedUse> uses) {}

    private boolean recording;

    /** The same, which also tells what each name means. */
    public Binder recording() {
        Binder binder = new Binder(catalog, describer);
        binder.recording = true;
        return binder;
    }

    private Binding binding() {
        Binding binding = new Binding(catalog, describer, new ArrayList<>());
        binding.uses = recording ? new ArrayList<>() : null;
        return binding;
    }

    /** An expression bound at a place of a routine, with the slots that it adds to the frame's. */
    public record BoundProbe(
            BoundExpression expression, List<Variable> variables, List<Problem> problems) {}

    /** Binds a procedure or function that has a body. */
    public Result bind(RoutineSymbol symbol) {
        Binding binding = binding();
        Unit.Routine tree = symbol.tree();
        binding.watchesWarnings = watchesWarnings(tree.span());
        binding.module = symbol.module();
        binding.access = tree.characteristics().access().orElse(Unit.SqlAccess.MODIFIES_SQL_DATA);
        Scope scope = moduleScope(symbol.module()).block(Optional.of(tree.name()), null);
        List<Variable> parameters = new ArrayList<>();
        tree.parameters().forEach(p -> binding.means(p.type()));
        tree.returns().ifPresent(binding::means);
        for (ParameterSymbol parameter : symbol.parameters()) {
            Name name = parameter.name();
            if (scope.declaresHere(name.key())) {
                binding.error(
                        name.span(),
                        "duplicate-name",
                        "two parameters are called " + name,
                        "give one of them another name");
            }
            Variable variable =
                    binding.variable(
                            name.text(),
                            parameter.type(),
                            Variable.Kind.valueOf(parameter.mode().name()),
                            name.span());
            parameters.add(variable);
            scope = scope.with(name, variable);
        }
        BoundRoutine.Kind kind =
                symbol.isFunction() ? BoundRoutine.Kind.FUNCTION : BoundRoutine.Kind.PROCEDURE;
        SqlBinder sql = new SqlBinder(binding);
        ExpressionBinder expressions = new ExpressionBinder(binding, sql);
        StatementBinder statements =
                new StatementBinder(binding, expressions, sql, kind, symbol.returns());
        binding.isOf(tree.span(), tree.body().orElseThrow());
        for (ParameterSymbol parameter : symbol.parameters()) {
            parameter
                    .initial()
                    .ifPresent(
                            e ->
                                    expressions.stored(
                                            e,
                                            parameter.type(),
                                            Scope.EMPTY,
                                            "parameter " + parameter.name()));
        }
        BoundStatement body = statements.bind(tree.body().orElseThrow(), scope);
        if (kind == BoundRoutine.Kind.FUNCTION
                && new Completion(body).canComplete(body)
                && !Completion.returns(body)) {
            binding.error(
                    tree.name().span(),
                    "missing-return",
                    tree.name() + " has no RETURN, so it can give no value",
                    "end each path with RETURN or SIGNAL");
        }
        return result(
                binding,
                kind,
                Name.of(symbol.name(), tree.name().span()),
                tree.span(),
                parameters,
                symbol.returns(),
                Optional.empty(),
                body);
    }

    /** Whether a handler of warnings, or a look at the diagnostics area, may stand in a text. */
    private static boolean watchesWarnings(Span text) {
        String words = text.text().toUpperCase(Locale.ROOT);
        return words.contains("SQLWARNING")
                || words.contains("'01")
                || words.contains("DIAGNOSTICS");
    }

    /** The conditions of a module, which its routines see. */
    private static Scope moduleScope(Optional<ModuleSymbol> module) {
        Scope scope = Scope.EMPTY;
        if (module.isPresent()) {
            for (Declaration declaration : module.get().tree().declarations()) {
                if (declaration instanceof Declaration.Condition condition) {
                    scope = scope.withCondition(condition.name(), condition.sqlstate());
                }
            }
        }
        return scope;
    }

    /** Binds the initial value of a module's variable; it may use those declared before it. */
    public BoundProbe initial(ModuleSymbol module, int index) {
        Binding binding = new Binding(catalog, describer, new ArrayList<>());
        binding.module = Optional.of(module);
        ModuleSymbol.Shared variable = module.variables().get(index);
        ExpressionBinder expressions = new ExpressionBinder(binding, new SqlBinder(binding));
        BoundExpression bound =
                expressions.stored(
                        variable.initial().orElseThrow(),
                        variable.type(),
                        Scope.EMPTY,
                        variable.name().text());
        return new BoundProbe(bound, List.copyOf(binding.variables), List.copyOf(binding.problems));
    }

    /** Binds a trigger to its table. */
    public Result bind(TriggerSymbol symbol) {
        Binding binding = binding();
        Unit.Trigger tree = symbol.tree();
        binding.watchesWarnings = watchesWarnings(tree.span());
        Table table = symbol.table();
        binding.means(tree.table().span(), new NamedUse.Meaning.OfTable(table));
        for (Name column : tree.columns()) {
            binding.means(column.span(), new NamedUse.Meaning.OfColumn(table, column.key()));
        }
        for (Name column : tree.columns()) {
            if (table.column(column.key()).isEmpty()) {
                binding.unknown(
                        column.span(),
                        "column of " + table.name() + " called",
                        column.text(),
                        table.columns().stream().map(c -> c.name()).toList());
            }
        }
        Scope scope = Scope.EMPTY.block(Optional.of(tree.name()), null);
        List<Variable> parameters = new ArrayList<>();
        SqlType.Row row = table.rowType();
        if (tree.eachRow() && tree.event() != Unit.Event.INSERT) {
            scope =
                    row(
                            tree.oldRow(),
                            "OLD",
                            Variable.Kind.OLD_ROW,
                            row,
                            tree,
                            scope,
                            binding,
                            parameters);
        }
        if (tree.eachRow() && tree.event() != Unit.Event.DELETE) {
            scope =
                    row(
                            tree.newRow(),
                            "NEW",
                            Variable.Kind.NEW_ROW,
                            row,
                            tree,
                            scope,
                            binding,
                            parameters);
        }
        if (tree.timing() != Unit.Timing.AFTER
                && (tree.oldTable().isPresent() || tree.newTable().isPresent())) {
            Problem problem =
                    Problem.error(
                            tree.oldTable().or(tree::newTable).get().span(),
                            "wrong-declaration",
                            "only an AFTER trigger can see what its statement changed",
                            "write AFTER, or use the OLD and NEW row");
            binding.error(
                    tree.timing() == Unit.Timing.BEFORE
                            ? problem.with(EditPlaces.words(tree.span(), "BEFORE"), "AFTER")
                            : problem);
        } else {
            binding.oldTable = transition(tree.oldTable(), table, binding);
            binding.newTable = transition(tree.newTable(), table, binding);
        }
        if (binding.oldTable.isPresent()) {
            scope = scope.withTable(tree.oldTable().get(), binding.oldTable.get());
        }
        if (binding.newTable.isPresent()) {
            scope = scope.withTable(tree.newTable().get(), binding.newTable.get());
        }
        wrongTransition(tree, binding);
        SqlBinder sql = new SqlBinder(binding);
        ExpressionBinder expressions = new ExpressionBinder(binding, sql);
        StatementBinder statements =
                new StatementBinder(
                        binding, expressions, sql, BoundRoutine.Kind.TRIGGER, Optional.empty());
        binding.isOf(tree.span(), tree.body());
        if (tree.timing() == Unit.Timing.BEFORE) {
            statements.allowNewRow();
        }
        Scope inner = scope;
        Optional<BoundExpression> when = tree.when().map(e -> expressions.condition(e, inner));
        BoundStatement body = statements.bind(tree.body(), scope);
        return result(
                binding,
                BoundRoutine.Kind.TRIGGER,
                tree.name(),
                tree.span(),
                parameters,
                Optional.empty(),
                when,
                body);
    }

    /** The rows before or after the statement, as a table of its own (ISO 9075-2, 4.45). */
    private static Optional<DeclaredTable> transition(
            Optional<Name> name, Table table, Binding binding) {
        return name.flatMap(
                n -> {
                    if (binding.catalog.table(n).isPresent()) {
                        binding.error(
                                n.span(),
                                "duplicate-name",
                                "there is a table " + n + " in the database already",
                                "give the transition table another name");
                        return Optional.empty();
                    }
                    String rows = "AS SELECT * FROM \"" + table.key().replace("\"", "\"\"") + '"';
                    return binding.declare(n, rows, false, true);
                });
    }

    /** An INSERT has no rows before it, and a DELETE none after. */
    private static void wrongTransition(Unit.Trigger tree, Binding binding) {
        Optional<Name> before = tree.oldRow().or(tree::oldTable);
        Optional<Name> after = tree.newRow().or(tree::newTable);
        if (tree.event() == Unit.Event.INSERT && before.isPresent()) {
            binding.error(
                    before.get().span(),
                    "wrong-declaration",
                    "an inserted row was not there before",
                    "leave out OLD");
        }
        if (tree.event() == Unit.Event.DELETE && after.isPresent()) {
            binding.error(
                    after.get().span(),
                    "wrong-declaration",
                    "a deleted row is not there afterwards",
                    "leave out NEW");
        }
        Optional<Name> row = tree.oldRow().or(tree::newRow);
        if (!tree.eachRow() && row.isPresent()) {
            binding.error(
                    row.get().span(),
                    "wrong-declaration",
                    "a trigger FOR EACH STATEMENT has no row",
                    "write FOR EACH ROW, or name OLD TABLE and NEW TABLE");
        }
    }

    /** Binds the statements of a script, one after the other, as one piece of code. */
    public Result bindScript(String name, Span span, List<Statement> script) {
        Binding binding = binding();
        binding.watchesWarnings = watchesWarnings(span);
        SqlBinder sql = new SqlBinder(binding);
        ExpressionBinder expressions = new ExpressionBinder(binding, sql);
        StatementBinder statements =
                new StatementBinder(
                        binding, expressions, sql, BoundRoutine.Kind.SCRIPT, Optional.empty());
        expressions.allowLeavingOut();
        Statement all = new Statement.Compound(span, Optional.empty(), false, List.of(), script);
        BoundStatement body = statements.bind(all, Scope.EMPTY);
        return result(
                binding,
                BoundRoutine.Kind.SCRIPT,
                Name.of(name, span),
                span,
                List.of(),
                Optional.empty(),
                Optional.empty(),
                body);
    }

    private static Scope row(
            Optional<Name> alias,
            String otherwise,
            Variable.Kind kind,
            SqlType.Row type,
            Unit.Trigger tree,
            Scope scope,
            Binding binding,
            List<Variable> parameters) {
        Name name = alias.orElse(Name.of(otherwise, tree.span()));
        Variable variable = binding.variable(name.text(), type, kind, name.span());
        parameters.add(variable);
        return scope.with(name, variable);
    }

    private static Result result(
            Binding binding,
            BoundRoutine.Kind kind,
            Name name,
            Span span,
            List<Variable> parameters,
            Optional<SqlType> returns,
            Optional<BoundExpression> when,
            BoundStatement body) {
        BoundRoutine routine =
                new BoundRoutine(
                        kind,
                        name.text(),
                        name.key(),
                        span,
                        parameters,
                        returns,
                        List.copyOf(binding.variables),
                        binding.cursors,
                        when,
                        body,
                        List.copyOf(binding.places),
                        binding.asksDiagnostics,
                        binding.oldTable,
                        binding.newTable,
                        binding.access);
        return new Result(
                routine,
                List.copyOf(binding.problems),
                binding.uses == null ? List.of() : List.copyOf(binding.uses));
    }

    /** Binds an expression at a place of a routine: a watch, or a breakpoint's condition. */
    public BoundProbe probe(Expression expression, BoundRoutine routine, Scope scope) {
        Binding binding = new Binding(catalog, describer, new ArrayList<>());
        binding.variables.addAll(routine.variables());
        binding.module = catalog.moduleOf(routine.span());
        ExpressionBinder expressions = new ExpressionBinder(binding, new SqlBinder(binding));
        BoundExpression bound = expressions.bind(expression, scope);
        return new BoundProbe(bound, List.copyOf(binding.variables), List.copyOf(binding.problems));
    }

    /** A query bound as if it stood in a routine. */
    public record BoundQuery(BoundSql sql, List<Problem> problems) {}

    /** Binds a query that a debugger asks. */
    public BoundQuery query(SqlText query, BoundRoutine routine, Scope scope) {
        Binding binding = new Binding(catalog, describer, new ArrayList<>());
        binding.variables.addAll(routine.variables());
        binding.module = catalog.moduleOf(routine.span());
        BoundSql bound = new SqlBinder(binding).bind(query, scope);
        return new BoundQuery(bound, List.copyOf(binding.problems));
    }

    /** Binds an expression that stands in no routine, and sees no variable. */
    public BoundProbe value(Expression expression) {
        Binding binding = new Binding(catalog, describer, new ArrayList<>());
        ExpressionBinder expressions = new ExpressionBinder(binding, new SqlBinder(binding));
        BoundExpression bound = expressions.bind(expression, Scope.EMPTY);
        return new BoundProbe(bound, List.copyOf(binding.variables), List.copyOf(binding.problems));
    }

    /** Binds the default of a parameter, which sees no variable. */
    public BoundProbe initial(ParameterSymbol parameter) {
        Binding binding = new Binding(catalog, describer, new ArrayList<>());
        ExpressionBinder expressions = new ExpressionBinder(binding, new SqlBinder(binding));
        BoundExpression bound =
                expressions.stored(
                        parameter.initial().orElseThrow(),
                        parameter.type(),
                        Scope.EMPTY,
                        "parameter " + parameter.name());
        return new BoundProbe(bound, List.copyOf(binding.variables), List.copyOf(binding.problems));
    }

    /** Binds a value for a variable: what a debugger's {@code set} stores. */
    public BoundProbe probe(
            Expression expression, SqlType type, BoundRoutine routine, Scope scope) {
        Binding binding = new Binding(catalog, describer, new ArrayList<>());
        binding.variables.addAll(routine.variables());
        binding.module = catalog.moduleOf(routine.span());
        ExpressionBinder expressions = new ExpressionBinder(binding, new SqlBinder(binding));
        BoundExpression bound = expressions.stored(expression, type, scope, "it");
        return new BoundProbe(bound, List.copyOf(binding.variables), List.copyOf(binding.problems));
    }
}
