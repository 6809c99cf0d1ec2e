package dev.cantina.check;

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
        children(s).forEach(child -> statements(child, visitor));
    }

    /** Whether a handler anywhere in a statement takes a condition of a kind. */
    static boolean handles(BoundStatement body, Predicate<BoundStatement.Handled> taken) {
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
        rows(s).forEach(all::addAll);
        return all;
    }

    /** The same, each row of statements that follow each other on its own. */
    public static List<List<BoundStatement>> rows(BoundStatement s) {
        if (s instanceof BoundStatement.Block block) {
            return List.of(block.statements());
        }
        if (s instanceof BoundStatement.If choice) {
            return branches(choice.branches(), choice.otherwise());
        }
        if (s instanceof BoundStatement.Case choice) {
            return branches(choice.branches(), choice.otherwise());
        }
        if (s instanceof BoundStatement.While loop) {
            return List.of(loop.statements());
        }
        if (s instanceof BoundStatement.Repeat loop) {
            return List.of(loop.statements());
        }
        return s instanceof BoundStatement.For loop ? List.of(loop.statements()) : List.of();
    }

    private static List<List<BoundStatement>> branches(
            List<BoundStatement.Branch> branches, Optional<List<BoundStatement>> otherwise) {
        List<List<BoundStatement>> rows = new ArrayList<>();
        branches.forEach(branch -> rows.add(branch.statements()));
        otherwise.ifPresent(rows::add);
        return rows;
    }

    /** The expressions that stand in a statement itself, those of the statements in it left out. */
    public static void expressions(BoundStatement s, Consumer<BoundExpression> visitor) {
        Consumer<BoundExpression> deep = e -> expressions(e, visitor);
        if (s instanceof BoundStatement.Assign assign) {
            assign.assignments().forEach(a -> assignment(a, deep));
        } else if (s instanceof BoundStatement.Fill fill) {
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
            call.arguments().forEach(a -> a.value().ifPresent(deep));
        } else if (s instanceof BoundStatement.Return give) {
            give.value().ifPresent(deep);
        } else if (s instanceof BoundStatement.ReturnTable give) {
            give.query().parameters().forEach(deep);
        } else if (s instanceof BoundStatement.Signal signal) {
            signal.items().forEach(i -> deep.accept(i.value()));
        } else if (s instanceof BoundStatement.GetDiagnostics get) {
            get.condition().ifPresent(deep);
        } else if (s instanceof BoundStatement.Report report) {
            report.items().forEach(deep);
        } else if (s instanceof BoundStatement.Execute execute) {
            execute.sql().parameters().forEach(deep);
        } else if (s instanceof BoundStatement.HandOut handOut) {
            handOut.sql().parameters().forEach(deep);
        } else if (s instanceof BoundStatement.Block block) {
            block.cursors().forEach(c -> c.query().ifPresent(q -> q.parameters().forEach(deep)));
        } else if (s instanceof BoundStatement.Fetch fetch) {
            fetch.offset().ifPresent(deep);
        } else if (s instanceof BoundStatement.Open open) {
            open.using().forEach(deep);
        } else if (s instanceof BoundStatement.Prepare prepare) {
            deep.accept(prepare.text());
        } else if (s instanceof BoundStatement.Perform perform) {
            perform.text().ifPresent(deep);
            perform.using().forEach(deep);
            perform.targets().forEach(t -> target(t, deep));
        }
    }

    private static void assignment(
            BoundStatement.Assignment assignment, Consumer<BoundExpression> deep) {
        target(assignment.target(), deep);
        deep.accept(assignment.value());
    }

    private static void target(BoundStatement.Target target, Consumer<BoundExpression> deep) {
        if (target instanceof BoundStatement.Target.OfArray element) {
            deep.accept(element.index());
        }
    }

    /** The expression itself and all in it. */
    public static void expressions(BoundExpression e, Consumer<BoundExpression> visitor) {
        visitor.accept(e);
        parts(e).forEach(part -> expressions(part, visitor));
    }

    /** The expressions right inside an expression. */
    public static List<BoundExpression> parts(BoundExpression e) {
        if (e instanceof BoundExpression.Field x) {
            return List.of(x.row());
        }
        if (e instanceof BoundExpression.Element x) {
            return List.of(x.array(), x.index());
        }
        if (e instanceof BoundExpression.Arithmetic x) {
            return List.of(x.left(), x.right());
        }
        if (e instanceof BoundExpression.Negate x) {
            return List.of(x.operand());
        }
        if (e instanceof BoundExpression.Concatenate x) {
            return List.of(x.left(), x.right());
        }
        if (e instanceof BoundExpression.Compare x) {
            return List.of(x.left(), x.right());
        }
        if (e instanceof BoundExpression.Logical x) {
            return List.of(x.left(), x.right());
        }
        if (e instanceof BoundExpression.Not x) {
            return List.of(x.operand());
        }
        if (e instanceof BoundExpression.IsNull x) {
            return List.of(x.operand());
        }
        if (e instanceof BoundExpression.IsTruth x) {
            return List.of(x.operand());
        }
        if (e instanceof BoundExpression.Distinct x) {
            return List.of(x.left(), x.right());
        }
        if (e instanceof BoundExpression.Like x) {
            return x.escape().isPresent()
                    ? List.of(x.operand(), x.pattern(), x.escape().get())
                    : List.of(x.operand(), x.pattern());
        }
        if (e instanceof BoundExpression.Choice x) {
            List<BoundExpression> parts = new ArrayList<>();
            for (BoundExpression.Option option : x.options()) {
                parts.add(option.condition());
                parts.add(option.value());
            }
            parts.add(x.otherwise());
            return parts;
        }
        if (e instanceof BoundExpression.Let x) {
            return List.of(x.value(), x.body());
        }
        if (e instanceof BoundExpression.Convert x) {
            return List.of(x.operand());
        }
        if (e instanceof BoundExpression.Apply x) {
            return x.arguments();
        }
        if (e instanceof BoundExpression.Invoke x) {
            return x.arguments();
        }
        if (e instanceof BoundExpression.Ask x) {
            return x.sql().parameters();
        }
        if (e instanceof BoundExpression.Several x) {
            return x.parts();
        }
        return List.of();
    }

    /** The variables that a statement itself gives values to. */
    public static BitSet assigned(BoundStatement s) {
        BitSet slots = new BitSet();
        Consumer<BoundStatement.Target> set = t -> slots.set(t.variable().slot());
        if (s instanceof BoundStatement.Assign assign) {
            assign.assignments().forEach(a -> set.accept(a.target()));
        } else if (s instanceof BoundStatement.Fill fill) {
            fill.targets().forEach(set);
        } else if (s instanceof BoundStatement.Fetch fetch) {
            fetch.targets().forEach(set);
        } else if (s instanceof BoundStatement.Perform perform) {
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
        if (s instanceof BoundStatement.HandOut x) {
            return Optional.of(x.sql());
        }
        if (s instanceof BoundStatement.Fill x) {
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
