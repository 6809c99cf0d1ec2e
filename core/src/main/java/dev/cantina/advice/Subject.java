package dev.cantina.advice;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundSql;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.Completion;
import dev.cantina.binding.Walker;
import dev.cantina.catalog.Catalog;
import dev.cantina.facts.ColumnUse;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;

/** A routine that advice is given on, with what several rules ask of it, worked out once. */
final class Subject {
    private final BoundRoutine routine;
    private final Catalog catalog;
    private final List<BoundStatement> statements = new ArrayList<>();
    private final List<BoundExpression> expressions = new ArrayList<>();
    private final List<Sent> sent = new ArrayList<>();
    private final BitSet assigned = new BitSet();
    private final Completion completion;
    private final Map<BoundSql, List<ColumnUse>> uses = new IdentityHashMap<>();

    /** A statement and the SQL that it sends. */
    record Sent(BoundStatement by, BoundSql sql) {}

    Subject(BoundRoutine routine, Catalog catalog) {
        this.routine = routine;
        this.catalog = catalog;
        this.completion = new Completion(routine.body());
        Walker.statements(routine.body(), statements::add);
        for (BoundStatement s : statements) {
            Walker.expressions(s, expressions::add);
            Walker.sql(s).ifPresent(sql -> sent.add(new Sent(s, sql)));
            if (!routine.places().get(s.at()).what().equals("DECLARE")) {
                assigned.or(Walker.assigned(s));
            }
        }
    }

    BoundRoutine routine() {
        return routine;
    }

    Catalog catalog() {
        return catalog;
    }

    /** Which of its statements control can go on after. */
    Completion completion() {
        return completion;
    }

    /** Every statement of it, the outer before the inner. */
    List<BoundStatement> statements() {
        return statements;
    }

    /** Every expression in its statements, the outer before the inner. */
    List<BoundExpression> expressions() {
        return expressions;
    }

    /** The SQL of its statements, cursors left out. */
    List<Sent> sent() {
        return sent;
    }

    /** The slots that its statements give values to, beside declarations. Not to be changed. */
    BitSet assigned() {
        return assigned;
    }

    /** What a statement of it stores, and finds its rows by. */
    List<ColumnUse> uses(BoundSql sql) {
        return uses.computeIfAbsent(sql, s -> ColumnUse.of(s, catalog));
    }
}
