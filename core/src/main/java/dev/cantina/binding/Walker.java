package dev.cantina.binding;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.Predicate;

/** Visits every statement or expression of a bound tree, the outer before the inner. */
public final class Walker {
    private Walker() {}

    /** The statement itself and all in it, handlers included. */
    public static void statements(BoundStatement s, Consumer<BoundStatement> visitor) {
        visitor.accept(s);
        if (s instanceof BoundStatement.Block block) {
            block.initial().forEach(i -> statements(i, visitor));
            block.handlers().forEach(h -> statements(h.body(), visitor));
        }
        List<List<BoundStatement>> rows = s.rows();
        for (int i = 0; i < rows.size(); i++) {
            List<BoundStatement> row = rows.get(i);
            for (int j = 0; j < row.size(); j++) {
                statements(row.get(j), visitor);
            }
        }
    }

    /** Whether a handler anywhere in a statement takes a condition of a kind. */
    public static boolean handles(BoundStatement body, Predicate<BoundStatement.Handled> taken) {
        boolean[] found = {false};
        statements(
                body,
                s -> {
                    if (s instanceof BoundStatement.Block block) {
                        found[0] |=
                                block.handlers().stream()
                                        .flatMap(h -> h.conditions().stream())
                                        .anyMatch(taken);
                    }
                });
        return found[0];
    }

    /** The statements right inside a statement; handlers and defaults left out. */
    public static List<BoundStatement> children(BoundStatement s) {
        List<BoundStatement> all = new ArrayList<>();
        s.rows().forEach(all::addAll);
        return all;
    }

    /** The expressions that stand in a statement itself, those of the statements in it left out. */
    public static void expressions(BoundStatement s, Consumer<BoundExpression> visitor) {
        Consumer<BoundExpression> deep = e -> expressions(e, visitor);
        if (s instanceof BoundStatement.Assign assign) {
            assign.assignments().forEach(a -> assignment(a, deep));
        } else if (s instanceof BoundStatement.SelectInto fill) {
            fill.query().parameters().forEach(deep);
            fill.targets().forEach(t -> target(t, deep));
        } else if (s instanceof BoundStatement.If choice) {
            choice.branches().forEach(b -> deep.accept(b.condition()));
        } else if (s instanceof BoundStatement.Case choice) {
            choice.operand().ifPresent(a -> deep.accept(a.value()));
            choice.branches().forEach(b -> deep.accept(b.condition()));
        } else if (s instanceof BoundStatement.While loop) {
            loop.condition().ifPresent(deep);
        } else if (s instanceof BoundStatement.Repeat loop) {
            deep.accept(loop.condition());
        } else if (s instanceof BoundStatement.For loop) {
            loop.cursor().query().ifPresent(q -> q.parameters().forEach(deep));
        } else if (s instanceof BoundStatement.Call call) {
            for (BoundStatement.Argument argument : call.arguments()) {
                argument.value().ifPresent(deep);
                argument.result().ifPresent(r -> target(r.target(), deep));
            }
        } else if (s instanceof BoundStatement.Return give) {
            give.value().ifPresent(deep);
        } else if (s instanceof BoundStatement.ReturnTable give) {
            give.query().parameters().forEach(deep);
        } else if (s instanceof BoundStatement.Signal signal) {
            signal.items().forEach(i -> deep.accept(i.value()));
        } else if (s instanceof BoundStatement.GetDiagnostics get) {
            get.condition().ifPresent(deep);
            get.items().forEach(i -> target(i.assignment().target(), deep));
        } else if (s instanceof BoundStatement.Report report) {
            report.items().forEach(deep);
        } else if (s instanceof BoundStatement.Execute execute) {
            execute.sql().parameters().forEach(deep);
        } else if (s instanceof BoundStatement.ReturnResultSet handOut) {
            handOut.sql().parameters().forEach(deep);
        } else if (s instanceof BoundStatement.Block block) {
            block.cursors().forEach(c -> c.query().ifPresent(q -> q.parameters().forEach(deep)));
        } else if (s instanceof BoundStatement.Fetch fetch) {
            fetch.offset().ifPresent(deep);
            fetch.targets().forEach(t -> target(t, deep));
        } else if (s instanceof BoundStatement.Open open) {
            open.using().forEach(deep);
        } else if (s instanceof BoundStatement.Prepare prepare) {
            deep.accept(prepare.text());
        } else if (s instanceof BoundStatement.ExecuteDynamic perform) {
            perform.text().ifPresent(deep);
            perform.using().forEach(deep);
            perform.targets().forEach(t -> target(t, deep));
        } else if (!hasNoExpressions(s)) {
            throw new IllegalStateException("a statement that is not known: " + s.getClass());
        }
    }

    private static boolean hasNoExpressions(BoundStatement s) {
        return s instanceof BoundStatement.Leave
                || s instanceof BoundStatement.Iterate
                || s instanceof BoundStatement.Transaction
                || s instanceof BoundStatement.Close
                || s instanceof BoundStatement.Deallocate;
    }

    private static void assignment(
            BoundStatement.Assignment assignment, Consumer<BoundExpression> deep) {
        target(assignment.target(), deep);
        deep.accept(assignment.value());
    }

    private static void target(BoundStatement.Target target, Consumer<BoundExpression> deep) {
        if (target instanceof BoundStatement.Target.OfArray element) {
            deep.accept(element.index());
        } else if (target instanceof BoundStatement.Target.OfElement element) {
            deep.accept(element.index());
        }
    }

    /** The expression itself and all in it. */
    public static void expressions(BoundExpression e, Consumer<BoundExpression> visitor) {
        visitor.accept(e);
        List<BoundExpression> parts = e.parts();
        for (int i = 0; i < parts.size(); i++) {
            expressions(parts.get(i), visitor);
        }
    }

    /** The variables that a statement itself gives values to. */
    public static BitSet assigned(BoundStatement s) {
        BitSet slots = new BitSet();
        Consumer<BoundStatement.Target> set = t -> slots.set(t.variable().slot());
        if (s instanceof BoundStatement.Assign assign) {
            assign.assignments().forEach(a -> set.accept(a.target()));
        } else if (s instanceof BoundStatement.SelectInto fill) {
            fill.targets().forEach(set);
        } else if (s instanceof BoundStatement.Fetch fetch) {
            fetch.targets().forEach(set);
        } else if (s instanceof BoundStatement.ExecuteDynamic perform) {
            perform.targets().forEach(set);
        } else if (s instanceof BoundStatement.Call call) {
            call.arguments().stream()
                    .flatMap(a -> a.result().stream())
                    .forEach(a -> set.accept(a.target()));
        } else if (s instanceof BoundStatement.GetDiagnostics get) {
            get.items().forEach(i -> set.accept(i.assignment().target()));
        }
        return slots;
    }

    /** The SQL that a statement itself sends. */
    public static Optional<BoundSql> sql(BoundStatement s) {
        if (s instanceof BoundStatement.Execute x) {
            return Optional.of(x.sql());
        }
        if (s instanceof BoundStatement.ReturnResultSet x) {
            return Optional.of(x.sql());
        }
        if (s instanceof BoundStatement.SelectInto x) {
            return Optional.of(x.query());
        }
        if (s instanceof BoundStatement.ReturnTable x) {
            return Optional.of(x.query());
        }
        if (s instanceof BoundStatement.For x) {
            return x.cursor().query();
        }
        return Optional.empty();
    }
}
