package dev.cantina.runtime;

import dev.cantina.catalog.Table;
import dev.cantina.types.ConditionException;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * The transaction of a session, and the rows changed in it. COMMIT, ROLLBACK and savepoints are
 * played on marks inside one real transaction, so that whoever opened the session can still take
 * everything back; for the routine there is no difference.
 */
final class Transaction {
    private final Database database;
    private final List<RowEvent> events = new ArrayList<>();
    private final Map<String, Mark> savepoints = new LinkedHashMap<>();
    private Mark committed;
    private boolean changed;
    private boolean started;

    Transaction(Database database) throws SQLException {
        this.database = database;
        this.committed = mark();
    }

    List<RowEvent> events() {
        return events;
    }

    Mark mark() throws SQLException {
        return new Mark(database.mark(), events.size());
    }

    void rollbackTo(Mark mark) throws SQLException {
        database.rollbackTo(mark.database());
        forget(mark.events());
    }

    /** Drops the row events since there were so many: the database has taken those rows back. */
    void forget(int count) {
        if (events.size() > count) {
            events.subList(count, events.size()).clear();
        }
    }

    void event(Table table, Object[] before, Object[] after, Optional<StackEntry> writer) {
        events.add(new RowEvent(table, before, after, writer));
        changed = true;
    }

    void changed() {
        changed = true;
    }

    /** Whether START TRANSACTION was said and nothing has ended it since. */
    boolean isStarted() {
        return started;
    }

    boolean hasChanges() {
        return changed;
    }

    List<String> savepoints() {
        return List.copyOf(savepoints.keySet());
    }

    void perform(String verb, String savepoint, boolean chain) throws SQLException {
        switch (verb) {
            case "START" -> {
                if (changed) {
                    throw new ConditionException(
                            "25001",
                            "a transaction with uncommitted changes is open already; "
                                    + "COMMIT or ROLLBACK it before START TRANSACTION");
                }
                committed = mark();
                savepoints.clear();
                started = true;
            }
            case "COMMIT" -> {
                commit();
                started = chain;
            }
            case "ROLLBACK" -> {
                rollback();
                started = chain;
            }
            case "SAVEPOINT" -> {
                savepoints.remove(savepoint);
                savepoints.put(savepoint, mark());
            }
            case "ROLLBACK_TO" -> {
                rollbackTo(find(savepoint));
                dropAfter(savepoint, false);
            }
            case "RELEASE" -> {
                find(savepoint);
                dropAfter(savepoint, true);
            }
            default -> {
                // SET TRANSACTION: isolation is the real transaction's, which is one for the run.
            }
        }
    }

    private Mark find(String savepoint) {
        Mark mark = savepoints.get(savepoint);
        if (mark == null) {
            throw new ConditionException("3B001", "there is no savepoint " + savepoint);
        }
        return mark;
    }

    private void dropAfter(String savepoint, boolean itself) {
        List<String> names = new ArrayList<>(savepoints.keySet());
        int from = names.indexOf(savepoint) + (itself ? 0 : 1);
        names.subList(from, names.size()).forEach(savepoints::remove);
    }

    void commit() throws SQLException {
        committed = mark();
        savepoints.clear();
        changed = false;
        started = false;
    }

    void rollback() throws SQLException {
        rollbackTo(committed);
        savepoints.clear();
        changed = false;
        started = false;
    }
}
