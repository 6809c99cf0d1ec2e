package dev.cantina.runtime;

import dev.cantina.syntax.SqlWords;
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
 * everything back; for the routine there is no difference. For a program that calls, COMMIT and
 * ROLLBACK are real instead, and others see what was committed.
 */
final class Transaction {
    private final Database database;
    private final Writers writers = new Writers();

    /** What was changed before a schema statement ended the real transaction. */
    private final List<RowEvent> earlier = new ArrayList<>();

    private long start;
    private final Map<String, Savepoint> savepoints = new LinkedHashMap<>();
    private Mark committed;
    private boolean started;
    private boolean real;

    /** Whether each statement belongs to a transaction that its program ends. */
    private boolean open;

    /** Counts what a rollback may have to take back beside rows. */
    private long count;

    private long committedAt;

    /** A savepoint, and the count when it was set. */
    private record Savepoint(Mark mark, long count) {}

    Transaction(Database database) throws SQLException {
        this.database = database;
        this.committed = mark();
        this.start = committed.position();
    }

    /** From now on what is committed is there for others too, and can't be taken back. */
    void real() {
        real = true;
    }

    boolean isReal() {
        return real;
    }

    /** Whether from now on a transaction is open until it is ended, whoever has begun it. */
    void open(boolean until) {
        open = until;
    }

    /** Another run begins: what was changed till now is not its doing. */
    void begin() throws SQLException {
        earlier.clear();
        start = database.position();
    }

    /** The rows that the session has changed so far, and that have stayed changed. */
    List<RowEvent> events() throws SQLException {
        List<RowEvent> events = new ArrayList<>(earlier);
        events.addAll(eventsSince(start));
        return events;
    }

    List<RowEvent> eventsSince(long position) throws SQLException {
        List<RowEvent> events = new ArrayList<>();
        for (RowChange change : database.changesSince(position)) {
            Optional<StackEntry> writer = writers.at(change.position());
            events.add(new RowEvent(change.table(), change.before(), change.after(), writer));
        }
        return events;
    }

    /** Takes back what was changed since a mark, and with it every COMMIT behind it. */
    void backTo(Mark mark) throws SQLException {
        rollbackTo(mark);
        if (committed.position() > mark.position()) {
            committed = mark;
        }
    }

    /** What tells one transaction from the next. */
    Object committed() {
        return committed;
    }

    Mark mark() throws SQLException {
        return new Mark(database.mark(), database.position());
    }

    /** Whether the database has gone back behind a mark by itself. */
    boolean isGone(Mark mark) {
        return real && database.isBehind(mark.position());
    }

    void rollbackTo(Mark mark) throws SQLException {
        if (database.isBehind(mark.position())) {
            // All of it was taken back already, with what came before.
            return;
        }
        database.rollbackTo(mark.database());
        writers.truncate(mark.position());
    }

    /**
     * From here on, a position, the changes are those of a frame's statement, or nobody's.
     *
     * @param wanted whether the position is wanted by whoever calls this; to ask for it may cost a
     *     message to a server
     * @return the position; -1 where it was not asked for
     */
    long written(Frame writer, boolean wanted) throws SQLException {
        if (!wanted && writers.continues(writer)) {
            return -1;
        }
        long position = database.position();
        writers.begin(position, writer);
        return position;
    }

    /** From a position on the changes are those of a frame's statement. */
    void wrote(long position, Frame writer) {
        writers.begin(position, writer);
    }

    /** A statement has failed, and the database has taken back what it did. */
    void failed() throws SQLException {
        writers.truncate(database.position());
    }

    /**
     * A schema statement has ended the real transaction, and committed it.
     *
     * @param before the {@link #events} before it
     */
    void schemaChanged(List<RowEvent> before) throws SQLException {
        earlier.clear();
        earlier.addAll(before);
        writers.clear();
        commit();
        start = committed.position();
    }

    /** Whether START TRANSACTION was said and nothing has ended it since. */
    boolean isStarted() {
        return started || open;
    }

    /** Whether what was run leaves the transaction as it is. */
    boolean staysOpen() {
        return real ? open : started;
    }

    /** Whether nothing may be changed in the transaction. */
    boolean isReadOnly() {
        return readOnly;
    }

    private boolean readOnly;

    /**
     * The access mode of the transaction that begins here.
     *
     * @throws ConditionException 25001 where one has changes already
     */
    void access(String modes) throws SQLException {
        SqlWords words = SqlWords.of(modes);
        boolean asked = words.find("READ", "ONLY") >= 0;
        if (asked && hasChanges()) {
            throw new ConditionException(
                    "25001",
                    "a transaction with uncommitted changes is open; it can't become READ ONLY");
        }
        if (asked || words.find("READ", "WRITE") >= 0) {
            readOnly = asked;
        }
    }

    /** What was changed since the last COMMIT. */
    List<RowEvent> uncommitted() throws SQLException {
        return eventsSince(committed.position());
    }

    private boolean written;

    /** Something was changed, of which the database keeps no log. */
    void written() {
        written = true;
    }

    boolean hasChanges() {
        if (!database.tellsChanges()) {
            return written;
        }
        try {
            return database.position() != committed.position();
        } catch (SQLException e) {
            throw new IllegalStateException(e);
        }
    }

    List<String> savepoints() {
        return List.copyOf(savepoints.keySet());
    }

    /** One more; what has a higher count came later. */
    long count() {
        return ++count;
    }

    /**
     * A transaction statement.
     *
     * @return what has a higher count than this was taken back; {@link Long#MAX_VALUE} for nothing
     */
    long perform(String verb, String savepoint, String modes, boolean chain) throws SQLException {
        boolean before = readOnly;
        switch (verb) {
            case "START" -> {
                if (hasChanges()) {
                    throw new ConditionException(
                            "25001",
                            "a transaction with uncommitted changes is open already; "
                                    + "COMMIT or ROLLBACK it before START TRANSACTION");
                }
                committed = mark();
                savepoints.clear();
                started = true;
                readOnly = false;
                access(modes);
            }
            case "COMMIT" -> {
                commit();
                started = chain;
                readOnly = chain && before;
            }
            case "ROLLBACK" -> {
                rollback();
                started = chain;
                readOnly = chain && before;
                return committedAt;
            }
            case "SAVEPOINT" -> {
                savepoints.remove(savepoint);
                savepoints.put(savepoint, new Savepoint(mark(), count()));
            }
            case "ROLLBACK_TO" -> {
                Savepoint found = find(savepoint);
                rollbackTo(found.mark());
                dropAfter(savepoint, false);
                return found.count();
            }
            case "RELEASE" -> {
                find(savepoint);
                dropAfter(savepoint, true);
            }
            default ->
                    // SET TRANSACTION: isolation is the real transaction's, which is one for the
                    // run.
                    access(modes);
        }
        return Long.MAX_VALUE;
    }

    private Savepoint find(String savepoint) {
        Savepoint mark = savepoints.get(savepoint);
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
        if (real) {
            end(true);
        }
        committed = mark();
        committedAt = count();
        savepoints.clear();
        started = false;
        readOnly = false;
    }

    private long commits;
    private long rollbacks;

    /** How often the real transaction was committed. */
    long commits() {
        return commits;
    }

    /** How often the real transaction was taken back as a whole. */
    long rollbacks() {
        return rollbacks;
    }

    private boolean remembers;

    /** What is committed within a run counts among what the run has changed. */
    void remember() {
        remembers = true;
    }

    private void end(boolean commit) throws SQLException {
        List<RowEvent> kept = commit && remembers ? events() : List.copyOf(earlier);
        written = false;
        commits += commit ? 1 : 0;
        rollbacks += commit ? 0 : 1;
        earlier.clear();
        earlier.addAll(kept);
        writers.clear();
        database.end(commit);
        start = database.position();
    }

    void rollback() throws SQLException {
        if (real) {
            end(false);
            committed = mark();
        } else {
            rollbackTo(committed);
        }
        savepoints.clear();
        started = false;
        readOnly = false;
    }
}
