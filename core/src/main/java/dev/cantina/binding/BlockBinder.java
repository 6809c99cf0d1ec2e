package dev.cantina.binding;

import dev.cantina.binding.BoundStatement.Assignment;
import dev.cantina.binding.BoundStatement.Target;
import dev.cantina.syntax.Declaration;
import dev.cantina.syntax.EditPlaces;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.Statement;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** Binds blocks with what they declare, handlers among it (ISO 9075-4, 14.1 and 14.2). */
final class BlockBinder {
    private final StatementBinder binder;
    private final Binding binding;
    private final ExpressionBinder expressions;
    private final SqlBinder sql;
    private final ConditionBinder conditions;

    BlockBinder(
            StatementBinder binder,
            Binding binding,
            ExpressionBinder expressions,
            SqlBinder sql,
            ConditionBinder conditions) {
        this.binder = binder;
        this.binding = binding;
        this.expressions = expressions;
        this.sql = sql;
        this.conditions = conditions;
    }

    BoundStatement compound(Statement.Compound compound, Scope outer) {
        JumpTarget target = new JumpTarget(compound.label().map(Name::text).orElse(""), false);
        binding.labels(compound.label(), compound.span(), target);
        Scope scope = outer.block(compound.label(), target);
        int at = binder.place(compound, outer, "BEGIN");
        binding.atomicBlocks += compound.atomic() ? 1 : 0;
        List<BoundStatement> initial = new ArrayList<>();
        List<CursorSymbol> cursors = new ArrayList<>();
        List<DeclaredTable> tables = new ArrayList<>();
        List<Declaration.Handler> handlers = new ArrayList<>();
        for (Declaration declaration : compound.declarations()) {
            if (declaration instanceof Declaration.Variables variables) {
                scope = variables(variables, scope, initial);
            } else if (declaration instanceof Declaration.Condition condition) {
                onlyOnce(condition.name(), scope);
                notSuccess(condition.span(), condition.sqlstate());
                scope = scope.withCondition(condition.name(), condition.sqlstate());
                binding.declares(
                        condition.name().span(),
                        new NamedUse.Meaning.OfCondition(condition.name()));
            } else if (declaration instanceof Declaration.Cursor cursor) {
                onlyOnce(cursor.name(), scope);
                Scope declared = scope;
                Optional<BoundSql> query = cursor.query().map(q -> sql.bind(q, declared));
                CursorSymbol symbol =
                        new CursorSymbol(
                                binding.cursors++,
                                cursor.name().text(),
                                cursor.scroll(),
                                cursor.withHold()
                                        ? CursorSymbol.Lifetime.HELD
                                        : CursorSymbol.Lifetime.TRANSACTION,
                                cursor.withReturn(),
                                query,
                                cursor.statement().map(Name::key),
                                query.map(BoundSql::columns).orElse(List.of()),
                                new CursorSymbol.Positioning(),
                                cursor.span());
                cursor.query()
                        .ifPresent(
                                q ->
                                        binder.cursorQueries.put(
                                                symbol, new StatementBinder.Queried(q, declared)));
                cursors.add(symbol);
                binding.declares(cursor.name().span(), new NamedUse.Meaning.OfCursor(symbol));
                scope = scope.withCursor(cursor.name(), symbol);
            } else if (declaration instanceof Declaration.TemporaryTable table) {
                onlyOnce(table.name(), scope);
                Optional<DeclaredTable> declared = declaredTable(table);
                declared.ifPresent(tables::add);
                if (declared.isPresent()) {
                    scope = scope.withTable(table.name(), declared.get());
                }
            } else {
                handlers.add((Declaration.Handler) declaration);
            }
        }
        List<BoundStatement.Handler> bound = new ArrayList<>();
        Set<String> taken = new HashSet<>();
        for (Declaration.Handler handler : handlers) {
            BoundStatement.Handler one = handler(handler, compound, scope);
            if (!one.conditions().stream().map(BlockBinder::key).allMatch(taken::add)) {
                binding.error(
                        handler.span(),
                        "duplicate-name",
                        "this block has two handlers for one condition",
                        "keep one of them, or put the other into a block of its own");
            }
            bound.add(one);
        }
        List<BoundStatement> statements = binder.all(compound.statements(), scope);
        boolean atomic = compound.atomic();
        binding.atomicBlocks -= atomic ? 1 : 0;
        return new BoundStatement.Block(
                at, target, atomic, initial, bound, cursors, tables, statements);
    }

    private Optional<DeclaredTable> declaredTable(Declaration.TemporaryTable table) {
        Name name = table.name();
        if (binding.catalog.table(name).isPresent()) {
            binding.error(
                    name.span(),
                    "duplicate-name",
                    "there is a table " + name + " in the database already",
                    "give the temporary one another name");
            return Optional.empty();
        }
        return binding.declare(name, table.definition().text(), table.preserve(), false);
    }

    private void onlyOnce(Name name, Scope scope) {
        if (scope.declaresHere(name.key())) {
            binding.error(
                    name.span(),
                    "duplicate-name",
                    name + " is declared twice in this block",
                    "give one of them another name");
        }
    }

    private Scope variables(
            Declaration.Variables declaration, Scope outer, List<BoundStatement> initial) {
        Scope scope = outer;
        SqlType type = binding.resolve(declaration.type());
        if (declaration.constant() && declaration.initial().isEmpty()) {
            binding.error(
                    declaration.span(),
                    "wrong-declaration",
                    "a constant needs its value",
                    "add DEFAULT and the value");
        }
        Variable.Kind variableKind =
                declaration.constant() ? Variable.Kind.CONSTANT : Variable.Kind.LOCAL;
        for (Name name : declaration.names()) {
            onlyOnce(name, scope);
            Variable variable = binding.variable(name.text(), type, variableKind, name.span());
            // A block entered again starts with fresh variables, so one without a default is set
            // too.
            Scope before = scope;
            int at = binding.place(declaration.span(), before, "DECLARE");
            BoundExpression value =
                    declaration
                            .initial()
                            .map(e -> expressions.stored(e, type, before, name.text()))
                            .orElseGet(() -> new BoundExpression.Constant(name.span(), null, type));
            initial.add(
                    new BoundStatement.Assign(
                            at, List.of(new Assignment(new Target.Whole(variable), value))));
            scope = scope.with(name, variable);
        }
        return scope;
    }

    /** What tells a condition of handlers from others: its SQLSTATE, where it has one. */
    private static String key(BoundStatement.Handled handled) {
        if (!handled.sqlstate().isEmpty()) {
            return handled.sqlstate();
        }
        return handled.name().isEmpty() ? handled.kind().name() : '"' + handled.name();
    }

    private void notSuccess(Span span, Optional<String> sqlstate) {
        if (sqlstate.filter(s -> s.startsWith("00")).isPresent()) {
            binding.error(
                    Problem.error(
                                    span,
                                    "wrong-sqlstate",
                                    "class 00 means success, which is no condition to handle",
                                    "use '45000' for a condition of your own")
                            .with(EditPlaces.text(span, sqlstate.get()), "'45000'"));
        }
    }

    private BoundStatement.Handler handler(
            Declaration.Handler handler, Statement.Compound block, Scope scope) {
        if (handler.action() == Declaration.HandlerAction.UNDO && !block.atomic()) {
            binding.error(
                    Problem.error(
                                    handler.span(),
                                    "wrong-declaration",
                                    "an UNDO handler stands only in an ATOMIC block",
                                    "write BEGIN ATOMIC, or declare an EXIT handler")
                            .with(EditPlaces.words(block.span(), "BEGIN"), "BEGIN ATOMIC"));
        }
        List<BoundStatement.Handled> handled = new ArrayList<>();
        for (Declaration.HandledCondition condition : handler.conditions()) {
            switch (condition.kind()) {
                case NAMED -> {
                    Optional<Optional<String>> found =
                            scope.condition(condition.text().toUpperCase(java.util.Locale.ROOT));
                    scope.conditionName(condition.text().toUpperCase(java.util.Locale.ROOT))
                            .ifPresent(
                                    n ->
                                            binding.means(
                                                    condition.span(),
                                                    new NamedUse.Meaning.OfCondition(n)));
                    if (found.isEmpty()) {
                        binding.noCondition(condition.span(), condition.text());
                    } else {
                        handled.add(
                                new BoundStatement.Handled(
                                        condition.kind(),
                                        found.get().orElse(""),
                                        condition.text().toUpperCase(java.util.Locale.ROOT)));
                    }
                }
                default ->
                        handled.add(
                                new BoundStatement.Handled(condition.kind(), condition.text(), ""));
            }
        }
        handler.conditions().stream()
                .filter(c -> c.kind() == Declaration.HandledKind.SQLSTATE)
                .forEach(c -> notSuccess(c.span(), Optional.of(c.text())));
        int number = binding.handlers++;
        BoundStatement body = binder.bind(handler.body(), scope);
        return new BoundStatement.Handler(number, handler.action(), handled, body, handler.span());
    }
}
