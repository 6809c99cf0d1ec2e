package dev.cantina.database.embedded;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Column;
import dev.cantina.catalog.Table;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.runtime.RowChange;
import dev.cantina.runtime.Session;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Unit;
import dev.cantina.types.IntervalValue;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Deque;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.stream.IntStream;
import org.h2.api.ErrorCode;
import org.h2.message.DbException;

/**
 * Makes the engine fire the triggers of a catalog. A BEFORE row trigger becomes one of the engine's
 * own; what runs after a statement becomes two, one at each end of it, with its rows kept in
 * between.
 */
final class EmbeddedTriggers {
    private final EmbeddedDatabase database;
    private final Map<String, FiredTrigger> fired = new HashMap<>();
    private int count;

    EmbeddedTriggers(EmbeddedDatabase database) {
        this.database = database;
    }

    private ChangeLog changes() {
        return database.here().changes();
    }

    FiredTrigger fired(String trigger) {
        return fired.get(trigger);
    }

    /**
     * @param type the class that the engine calls
     */
    void install(Statement statement, Catalog catalog, String type) throws SQLException {
        new SelfReferences(database)
                .each(
                        statement,
                        (table, event, check) -> {
                            Object begun = new Object();
                            begin(statement, table, event, type, begun);
                            create(
                                    statement,
                                    "AFTER " + event,
                                    table,
                                    false,
                                    type,
                                    (before, after) ->
                                            check.check(changes().since(end(begun).position)));
                        },
                        catalog);
        Set<TriggerSymbol> queued = Collections.newSetFromMap(new IdentityHashMap<>());
        for (TriggerSymbol trigger : catalog.triggers()) {
            Unit.Trigger tree = trigger.tree();
            if (tree.timing() == Unit.Timing.AFTER && tree.eachRow()) {
                if (!queued.contains(trigger)) {
                    List<TriggerSymbol> together = together(trigger, catalog);
                    queued.addAll(together);
                    afterRows(statement, together, type);
                }
            } else if (tree.oldTable().isPresent() || tree.newTable().isPresent()) {
                withTransition(statement, trigger, type);
            } else if (tree.eachRow()) {
                create(statement, trigger, timing(tree), true, type, row(trigger));
            } else {
                create(
                        statement,
                        trigger,
                        timing(tree),
                        false,
                        type,
                        (before, after) -> {
                            if (session() != null && isSet(trigger)) {
                                session().fire(trigger, null, null, List.of());
                            }
                        });
            }
        }
        for (Table table : catalog.tables()) {
            late(statement, table, catalog, type);
        }
    }

    /** The AFTER row triggers of the same table and event, in their order. */
    private static List<TriggerSymbol> together(TriggerSymbol first, Catalog catalog) {
        return catalog.triggers().stream()
                .filter(t -> t.table().key().equals(first.table().key()))
                .filter(t -> t.tree().event() == first.tree().event())
                .filter(t -> t.tree().timing() == Unit.Timing.AFTER && t.tree().eachRow())
                .toList();
    }

    /**
     * AFTER row triggers run when all rows of the statement have been changed (ISO 9075-2, 4.45.2):
     * the rows wait till its end.
     */
    private void afterRows(Statement statement, List<TriggerSymbol> triggers, String type)
            throws SQLException {
        TriggerSymbol first = triggers.get(0);
        Table table = first.table();
        Unit.Event event = first.tree().event();
        Object begun = new Object();
        begin(statement, table, event, type, begun);
        create(
                statement,
                "AFTER " + event,
                table,
                true,
                type,
                (before, after) -> {
                    normalize(before);
                    normalize(after);
                    current(begun).rows.add(new RowChange(table, before, after, 0));
                });
        create(
                statement,
                "AFTER " + event,
                table,
                false,
                type,
                (before, after) -> {
                    List<RowChange> rows = end(begun).rows;
                    for (RowChange row : rows) {
                        for (TriggerSymbol trigger : triggers) {
                            if (session() != null && concerns(trigger, row.before(), row.after())) {
                                session().fire(trigger, row.before(), row.after(), rows);
                            }
                        }
                    }
                });
    }

    private void begin(
            Statement statement, Table table, Unit.Event event, String type, Object begun)
            throws SQLException {
        create(
                statement,
                "BEFORE " + event,
                table,
                false,
                type,
                (before, after) ->
                        database.here()
                                .begun(begun)
                                .push(new Begun(depth(), changes().position(), new ArrayList<>())));
    }

    /** The statement that runs; one inside this one that failed has left its place behind. */
    private Begun current(Object trigger) {
        Deque<Begun> begun = database.here().begun(trigger);
        while (begun.peek().depth > depth()) {
            begun.pop();
        }
        return begun.peek();
    }

    private Begun end(Object trigger) {
        current(trigger);
        return database.here().begun(trigger).pop();
    }

    private Session session() {
        return database.session();
    }

    private static String timing(Unit.Trigger tree) {
        return tree.timing() == Unit.Timing.INSTEAD_OF ? "INSTEAD OF" : tree.timing().name();
    }

    private void create(
            Statement statement,
            TriggerSymbol trigger,
            String timing,
            boolean eachRow,
            String type,
            FiredTrigger action)
            throws SQLException {
        create(
                statement,
                timing + " " + trigger.tree().event(),
                trigger.table(),
                eachRow,
                type,
                action);
    }

    private void create(
            Statement statement,
            String when,
            Table table,
            boolean eachRow,
            String type,
            FiredTrigger action)
            throws SQLException {
        String name = "CANTINA_" + count++;
        // Before a row is inserted there is no savepoint that could be too old.
        boolean first = when.equals("BEFORE INSERT");
        fired.put(
                name,
                first
                        ? action
                        : (before, after) -> {
                            database.here().freshSavepoint();
                            action.fire(before, after);
                        });
        database.register(
                statement,
                "CREATE TRIGGER "
                        + name
                        + " "
                        + when
                        + " ON "
                        + EmbeddedDatabase.quoted(table.key())
                        + (eachRow ? " FOR EACH ROW" : "")
                        + " CALL '"
                        + type
                        + "'");
    }

    private FiredTrigger row(TriggerSymbol trigger) {
        return (before, after) -> {
            if (session() != null && concerns(trigger, before, after)) {
                normalize(before);
                normalize(after);
                session().fire(trigger, before, after, List.of());
                giveBack(after);
            }
        };
    }

    /** Where in the log a statement has begun, and the rows that it has changed since. */
    record Begun(int depth, long position, List<RowChange> rows) {}

    private int depth() {
        return session() == null ? 0 : session().changeDepth();
    }

    private void withTransition(Statement statement, TriggerSymbol trigger, String type)
            throws SQLException {
        Object begun = new Object();
        begin(statement, trigger.table(), trigger.tree().event(), type, begun);
        create(
                statement,
                trigger,
                "AFTER",
                false,
                type,
                (before, after) -> {
                    long since = end(begun).position;
                    if (session() != null && isSet(trigger)) {
                        session().fire(trigger, null, null, of(trigger, changes().since(since)));
                    }
                });
    }

    /** The changes that are the trigger's: of its table, and of its event. */
    private static List<RowChange> of(TriggerSymbol trigger, List<RowChange> changes) {
        List<RowChange> rows = new ArrayList<>();
        for (RowChange change : changes) {
            Unit.Event event =
                    change.before() == null
                            ? Unit.Event.INSERT
                            : change.after() == null ? Unit.Event.DELETE : Unit.Event.UPDATE;
            if (change.table().key().equals(trigger.table().key())
                    && event == trigger.tree().event()) {
                rows.add(change);
            }
        }
        return rows;
    }

    /** UPDATE OF: whether the statement sets one of the columns, as far as that is known. */
    private boolean isSet(TriggerSymbol trigger) {
        List<Name> columns = trigger.tree().columns();
        Optional<Set<String>> set =
                columns.isEmpty() ? Optional.empty() : session().updating(trigger.table());
        return set.isEmpty() || columns.stream().anyMatch(c -> set.get().contains(c.key()));
    }

    /**
     * UPDATE OF: whether the statement sets one of the columns (ISO 9075-2, 4.45.2); where another
     * than an UPDATE of the table changes the row, whether one of them differs.
     */
    private boolean concerns(TriggerSymbol trigger, Object[] before, Object[] after) {
        List<Name> columns = trigger.tree().columns();
        if (columns.isEmpty() || before == null || after == null) {
            return true;
        }
        if (session().updating(trigger.table()).isPresent()) {
            return isSet(trigger);
        }
        for (Name name : columns) {
            int column = trigger.table().position(name.key());
            if (column >= 0 && !Objects.deepEquals(before[column], after[column])) {
                return true;
            }
        }
        return false;
    }

    /** In place: the engine takes the changed row from the same array. */
    private static void normalize(Object[] row) throws SQLException {
        for (int i = 0; row != null && i < row.length; i++) {
            row[i] = JavaTypes.held(row[i]);
        }
    }

    /** The row as the engine takes it. */
    private static void giveBack(Object[] row) {
        for (int i = 0; row != null && i < row.length; i++) {
            if (row[i] instanceof IntervalValue interval) {
                row[i] = JavaTypes.engine(interval);
            }
        }
    }

    /**
     * A column that is NOT NULL may be filled by a BEFORE trigger; the engine looks before it fires
     * any, so here it is looked after them (ISO 9075-2, 15.10).
     */
    private void late(Statement statement, Table table, Catalog catalog, String type)
            throws SQLException {
        if (IntStream.range(0, table.columns().size()).noneMatch(i -> isLate(table, i))) {
            return;
        }
        for (Unit.Event event : List.of(Unit.Event.INSERT, Unit.Event.UPDATE)) {
            boolean filled =
                    catalog.triggers().stream()
                            .anyMatch(
                                    t ->
                                            t.table().key().equals(table.key())
                                                    && t.tree().timing() == Unit.Timing.BEFORE
                                                    && t.tree().eachRow());
            if (!filled) {
                return;
            }
            create(
                    statement,
                    "BEFORE " + event,
                    table,
                    true,
                    type,
                    (before, after) -> checkNulls(table, after));
        }
        database.allowNulls(table, i -> isLate(table, i));
    }

    private static boolean isLate(Table table, int index) {
        Column column = table.columns().get(index);
        return !column.nullable() && !column.identity() && !column.generated();
    }

    private static void checkNulls(Table table, Object[] row) throws SQLException {
        for (int i = 0; i < table.columns().size(); i++) {
            if (row[i] == null && isLate(table, i)) {
                throw DbException.getJdbcSQLException(
                        ErrorCode.NULL_NOT_ALLOWED, table.columns().get(i).key());
            }
        }
    }
}
