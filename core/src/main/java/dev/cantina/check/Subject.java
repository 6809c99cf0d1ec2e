package dev.cantina.check;

import dev.cantina.catalog.Catalog;
import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;

/** A routine that advice is given on, with what several rules ask of it, worked out once. */
final class Subject {
    private final BoundRoutine routine;
    private final Catalog catalog;
    private final List<BoundStatement> statements = new ArrayList<>();
    private final Map<BoundSql, List<ColumnUse>> uses = new IdentityHashMap<>();

    Subject(BoundRoutine routine, Catalog catalog) {
        this.routine = routine;
        this.catalog = catalog;
        Walker.statements(routine.body(), statements::add);
    }

    BoundRoutine routine() {
        return routine;
    }

    Catalog catalog() {
        return catalog;
    }

    /** Every statement of it, the outer before the inner. */
    List<BoundStatement> statements() {
        return statements;
    }

    /** What a statement of it stores, and finds its rows by. */
    List<ColumnUse> uses(BoundSql sql) {
        return uses.computeIfAbsent(sql, s -> ColumnUse.of(s, catalog));
    }
}
