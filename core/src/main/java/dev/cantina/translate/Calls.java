package dev.cantina.translate;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundSql;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.CursorSymbol;
import dev.cantina.binding.Walker;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlText;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** What a routine calls: by CALL, in expressions, and in SQL. */
public final class Calls {
    /** A call and where it stands. */
    public record Call(RoutineSymbol routine, Span span) {}

    private Calls() {}

    /** Those alone that stand in SQL, which the database makes itself. */
    public static List<Call> inSql(
            BoundRoutine routine, Catalog catalog, Optional<ModuleSymbol> module) {
        List<Call> calls = new ArrayList<>();
        Walker.statements(
                routine.body(),
                s -> {
                    if (s instanceof BoundStatement.Block block) {
                        for (CursorSymbol cursor : block.cursors()) {
                            cursor.query().ifPresent(q -> sql(q, catalog, module, calls));
                        }
                    }
                    Walker.sql(s).ifPresent(sql -> sql(sql, catalog, module, calls));
                    Walker.expressions(
                            s,
                            e -> {
                                if (e instanceof BoundExpression.DatabaseExpression ask) {
                                    sql(ask.sql(), catalog, module, calls);
                                }
                            });
                });
        return calls;
    }

    public static List<Call> of(
            BoundRoutine routine, Catalog catalog, Optional<ModuleSymbol> module) {
        List<Call> calls = inSql(routine, catalog, module);
        Walker.statements(
                routine.body(),
                s -> {
                    if (s instanceof BoundStatement.Call call) {
                        calls.add(new Call(call.routine(), routine.places().get(call.at()).span()));
                    }
                    Walker.expressions(s, e -> expression(e, catalog, module, calls));
                });
        routine.condition()
                .ifPresent(c -> Walker.expressions(c, e -> expression(e, catalog, module, calls)));
        return calls;
    }

    private static void expression(
            BoundExpression e, Catalog catalog, Optional<ModuleSymbol> module, List<Call> calls) {
        if (e instanceof BoundExpression.Invoke invoke) {
            calls.add(new Call(invoke.routine(), invoke.span()));
        } else if (e instanceof BoundExpression.DatabaseExpression ask) {
            sql(ask.sql(), catalog, module, calls);
        }
    }

    private static void sql(
            BoundSql sql, Catalog catalog, Optional<ModuleSymbol> module, List<Call> calls) {
        scope(sql.source().scope(), catalog, module, calls);
    }

    private static void scope(
            SqlText.Scope scope, Catalog catalog, Optional<ModuleSymbol> module, List<Call> calls) {
        for (SqlText.NameUse use : scope.names()) {
            if (use.use() == SqlText.Use.CALL) {
                catalog.functions(catalog.keyOf(use.names(), module))
                        .forEach(f -> calls.add(new Call(f, use.span())));
            }
        }
        for (SqlText.TableUse use : scope.tables()) {
            if (!use.function().isEmpty()) {
                catalog.functions(catalog.keyOf(use.function(), module))
                        .forEach(f -> calls.add(new Call(f, use.span())));
            }
        }
        scope.children().forEach(child -> scope(child, catalog, module, calls));
    }
}
