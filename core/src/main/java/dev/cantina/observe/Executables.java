package dev.cantina.observe;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundStatement;
import java.util.ArrayList;
import java.util.List;
import java.util.OptionalInt;
import java.util.TreeSet;

/**
 * What of a routine can be reached, by the numbers of its places: its statements, the branches of
 * its choices, its handlers.
 */
public final class Executables {
    /**
     * A branch of an IF or a CASE.
     *
     * @param choice the place of the IF or CASE
     * @param first the place of the first statement in it; empty for a branch that has none
     * @param others for an ELSE that is not written, the first places of the branches that are
     */
    public record Branch(int choice, OptionalInt first, List<Integer> others) {
        /** How often it was taken, by how often each place was reached. */
        public long taken(long[] reached) {
            if (first.isPresent()) {
                return reached[first.getAsInt()];
            }
            long elsewhere = others.stream().mapToLong(i -> reached[i]).sum();
            return Math.max(0, reached[choice] - elsewhere);
        }
    }

    /** A handler, by the line that declares it and the place of its first statement. */
    public record Handler(int line, OptionalInt first) {}

    private final TreeSet<Integer> statements = new TreeSet<>();
    private final List<Branch> branches = new ArrayList<>();
    private final List<Handler> handlers = new ArrayList<>();

    private Executables() {}

    public static Executables of(BoundRoutine routine) {
        Executables all = new Executables();
        all.add(routine.body());
        return all;
    }

    public TreeSet<Integer> statements() {
        return statements;
    }

    public List<Branch> branches() {
        return branches;
    }

    public List<Handler> handlers() {
        return handlers;
    }

    private void all(List<BoundStatement> list) {
        list.forEach(this::add);
    }

    private void add(BoundStatement s) {
        if (s instanceof BoundStatement.Block block) {
            block.initial().stream().filter(Executables::isWorked).forEach(this::add);
            for (BoundStatement.Handler handler : block.handlers()) {
                handlers.add(new Handler(handler.span().line(), first(handler.body())));
                add(handler.body());
            }
            all(block.statements());
        } else if (s instanceof BoundStatement.If choice) {
            statements.add(choice.at());
            branches(choice.at(), choice.branches());
            otherwise(choice.at(), choice.branches(), choice.otherwise().orElse(null));
        } else if (s instanceof BoundStatement.Case choice) {
            statements.add(choice.at());
            branches(choice.at(), choice.branches());
            choice.otherwise().ifPresent(o -> otherwise(choice.at(), choice.branches(), o));
        } else if (s instanceof BoundStatement.While loop) {
            if (loop.condition().isPresent() || loop.statements().isEmpty()) {
                statements.add(loop.at());
            }
            all(loop.statements());
        } else if (s instanceof BoundStatement.Repeat loop) {
            all(loop.statements());
            statements.add(loop.conditionAt());
        } else if (s instanceof BoundStatement.For loop) {
            statements.add(loop.at());
            all(loop.statements());
        } else {
            statements.add(s.at());
        }
    }

    private void branches(int choice, List<BoundStatement.Branch> list) {
        for (BoundStatement.Branch branch : list) {
            OptionalInt first = first(branch.statements());
            if (first.isPresent()) {
                branches.add(new Branch(choice, first, List.of()));
            }
            all(branch.statements());
        }
    }

    private void otherwise(
            int choice, List<BoundStatement.Branch> list, List<BoundStatement> statements) {
        OptionalInt first = statements == null ? OptionalInt.empty() : first(statements);
        List<Integer> others = new ArrayList<>();
        list.forEach(b -> first(b.statements()).ifPresent(others::add));
        if (first.isPresent() || others.size() == list.size()) {
            branches.add(new Branch(choice, first, others));
        }
        if (statements != null) {
            all(statements);
        }
    }

    /** A declaration without a default, or with NULL, is no statement. */
    private static boolean isWorked(BoundStatement initial) {
        return !(initial instanceof BoundStatement.Assign assign
                && assign.assignments().get(0).value() instanceof BoundExpression.Constant constant
                && constant.value() == null);
    }

    private static OptionalInt first(List<BoundStatement> list) {
        for (BoundStatement s : list) {
            OptionalInt first = first(s);
            if (first.isPresent()) {
                return first;
            }
        }
        return OptionalInt.empty();
    }

    private static OptionalInt first(BoundStatement s) {
        if (s instanceof BoundStatement.Block block) {
            OptionalInt initial =
                    first(block.initial().stream().filter(Executables::isWorked).toList());
            return initial.isPresent() ? initial : first(block.statements());
        }
        if (s instanceof BoundStatement.Repeat loop) {
            OptionalInt inside = first(loop.statements());
            return inside.isPresent() ? inside : OptionalInt.of(loop.conditionAt());
        }
        if (s instanceof BoundStatement.While loop && loop.condition().isEmpty()) {
            OptionalInt inside = first(loop.statements());
            return inside.isPresent() ? inside : OptionalInt.of(loop.at());
        }
        return OptionalInt.of(s.at());
    }
}
