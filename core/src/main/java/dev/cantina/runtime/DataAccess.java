package dev.cantina.runtime;

import dev.cantina.binding.BoundSql;
import dev.cantina.binding.CursorSymbol;
import dev.cantina.catalog.Table;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlText;
import dev.cantina.syntax.SqlWords;
import dev.cantina.syntax.Unit;
import dev.cantina.types.Condition;
import dev.cantina.types.ConditionException;
import dev.cantina.types.Conversion;
import dev.cantina.types.SqlType;
import java.sql.SQLException;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.ToLongFunction;

/**
 * A session's way to the database: changes and queries, cursors, and statements given as text. The
 * public methods are for compiled code alone.
 */
public final class DataAccess {
    /** What a session does itself, and a text can't. */
    private static final List<String> TRANSACTION_WORDS =
            List.of("COMMIT", "ROLLBACK", "SAVEPOINT", "RELEASE", "START", "SET", "CALL", "BEGIN");

    /** The first words of statements that change nothing. */
    private static final List<String> QUERIES = List.of("SELECT", "VALUES", "TABLE", "EXPLAIN");

    /** The first words of statements that leave the transaction as it is. */
    private static final List<String> KEEPING =
            List.of(
                    "SELECT", "WITH", "VALUES", "TABLE", "INSERT", "UPDATE", "DELETE", "MERGE",
                    "EXPLAIN");

    private final Session session;
    private final Database database;
    private final Statements statements;
    private final Transaction transaction;
    private final Diagnostics diagnostics;
    private final List<ResultRows> results;
    private final Map<String, String> prepared = new HashMap<>();
    private int depth;
    private long writes;

    /**
     * @param results where rows go that are handed out
     */
    DataAccess(
            Session session,
            Database database,
            Statements statements,
            Transaction transaction,
            Diagnostics diagnostics,
            List<ResultRows> results) {
        this.session = session;
        this.database = database;
        this.statements = statements;
        this.transaction = transaction;
        this.diagnostics = diagnostics;
        this.results = results;
    }

    /** How many statements that change rows are inside each other right now. */
    int depth() {
        return depth;
    }

    /** How many statements were sent that may write. */
    long writes() {
        return writes;
    }

    /** Something was run that may write. */
    void wrote() {
        writes++;
    }

    /** 2F002 where a routine on the stack has said that it changes no data. */
    private void checkAccess() {
        if (database.standing().isPresent()) {
            throw new ConditionException(
                    "0A000",
                    "rows can't be changed from here while the server stands in a routine; sql!"
                            + " does that");
        }
        for (Frame f = session.top(); session.isRestricted() && f != null; f = f.caller) {
            Unit.SqlAccess access = f.routine().access();
            if (access != Unit.SqlAccess.MODIFIES_SQL_DATA) {
                throw new ConditionException(
                        "2F002",
                        f.routine().name()
                                + " says "
                                + access.name().replace('_', ' ')
                                + ", so data can't be changed while it runs");
            }
        }
    }

    /** 25006 where the transaction says that it is READ ONLY (ISO 9075-2, 17.3). */
    private void checkReadOnly(BoundSql sql) {
        if (transaction.isReadOnly() && (!sql.changesRows() || changesLasting(sql.scope()))) {
            throw readOnly();
        }
    }

    private static ConditionException readOnly() {
        return new ConditionException(
                "25006", "the transaction is READ ONLY, so data can't be changed in it");
    }

    /** Whether a table is changed that is not a block's own. */
    private boolean changesLasting(SqlText.Scope scope) {
        for (SqlText.TableUse use : scope.tables()) {
            if (use.role() != SqlText.Role.READ && !use.names().isEmpty()) {
                String key = use.names().get(use.names().size() - 1).key();
                if (session.program().catalog().table(key).isPresent()) {
                    return true;
                }
            }
        }
        return scope.children().stream().anyMatch(this::changesLasting);
    }

    /** What a query needs that goes over the rows of a change. */
    private void checkQuery(DataSite site) {
        if (site.changesInside()) {
            checkAccess();
            checkReadOnly(site.sql());
        }
    }

    /** For compiled code: a change or a schema statement. */
    public void update(DataSite site, Object[] values) {
        checkAccess();
        checkReadOnly(site.sql());
        Frame frame = session.top();
        DataSite outer = changing;
        int before = depth;
        try {
            long from = transaction.written(frame, session.tellsData());
            writes++;
            boolean data = site.changesRows();
            performing(frame, site, values, from);
            changing = site;
            depth++;
            long rows =
                    site.movesAt() >= 0
                            ? moved(frame, site, values)
                            : data
                                    ? statements.update(site, values)
                                    : changeSchema(() -> statements.update(site, values));
            if (site.deletesAt() >= 0 && rows > 0) {
                frame.cursors[site.deletesAt()].rowDeleted();
            }
            if (rows > 0) {
                transaction.written();
            }
            succeeded(site, rows, data && rows == 0);
            if (from >= 0) {
                performed(frame, site, values, rows, from);
            }
        } catch (SQLException e) {
            throw failed(frame, e);
        } finally {
            changing = outer;
            depth = before;
        }
    }

    /** Changes a cursor's row, and tells the cursor what it is known by from now on. */
    private long moved(Frame frame, DataSite site, Object[] values) throws SQLException {
        ResultRows rows = statements.query(site, values, 2);
        if (!rows.rows().isEmpty()) {
            frame.cursors[site.movesAt()].rowMoved(rows.rows().get(0)[0]);
        }
        return rows.rows().size();
    }

    /** The statement that changes rows right now; null where none does. */
    private DataSite changing;

    /** The same of one that is known as a text alone. */
    private String changingText;

    /** The columns that the UPDATE of a table that runs sets; empty where none of it is known. */
    Optional<Set<String>> updating(Table table) {
        if (changing == null && changingText != null) {
            SqlText text = SqlText.of(changingText);
            return updating(table, text.verb(), text.scope());
        }
        return changing == null
                ? Optional.empty()
                : updating(table, changing.sql().verb(), changing.sql().scope());
    }

    private static Optional<Set<String>> updating(Table table, String verb, SqlText.Scope scope) {
        if (!verb.equals("UPDATE") || scope.tables().isEmpty()) {
            return Optional.empty();
        }
        List<Name> updated = scope.tables().get(0).names();
        return updated.get(updated.size() - 1).key().equals(table.key())
                ? Optional.of(DataSite.updated(scope))
                : Optional.empty();
    }

    /**
     * Runs a statement of which only the text is known, and which somebody else sends: its triggers
     * are told which columns it sets.
     */
    <T> T sent(String statement, Work<T> work) throws SQLException {
        boolean schema = !KEEPING.contains(firstWord(statement));
        String outer = changingText;
        DataSite site = changing;
        try {
            writes++;
            changing = null;
            changingText = statement;
            depth++;
            T result = schema ? changeSchema(work) : work.run();
            if (!QUERIES.contains(firstWord(statement))) {
                transaction.written();
            }
            return result;
        } finally {
            changing = site;
            changingText = outer;
            depth--;
        }
    }

    /** What an error of the database raises, which has taken back what the statement did. */
    private RaisedException failed(Frame frame, SQLException e) {
        try {
            transaction.failed();
        } catch (SQLException broken) {
            e.addSuppressed(broken);
        }
        return session.raised(frame, e);
    }

    /** Work of a statement. */
    interface Work<T> {
        T run() throws SQLException;
    }

    /** A schema statement ends the transaction; what was marked before is gone. */
    private <T> T changeSchema(Work<T> statement) throws SQLException {
        List<RowEvent> before = transaction.events();
        long position = database.position();
        database.schemaChanged();
        try {
            T result = statement.run();
            transaction.schemaChanged(before);
            return result;
        } catch (SQLException e) {
            if (database.position() < position) {
                transaction.schemaChanged(before);
            }
            throw e;
        }
    }

    private void performing(Frame frame, DataSite site, Object[] values, long from) {
        if (session.tellsData()) {
            session.performing(frame, performed(site, values, -1, from));
        }
    }

    private static Performed performed(DataSite site, Object[] values, long rows, long from) {
        return new Performed(Optional.of(site), Optional.empty(), values, rows, from >= 0, from);
    }

    /** Tells the probe, where there is one. */
    private void performed(Frame frame, DataSite site, Object[] values, long rows, long from) {
        if (session.tellsData()) {
            session.performed(frame, performed(site, values, rows, from));
        }
    }

    private void succeeded(DataSite site, long rows, boolean notFound) {
        succeeded(site.command(), rows, notFound);
    }

    private void succeeded(String command, long rows, boolean notFound) {
        Condition condition =
                notFound
                        ? new Condition("02000", "no row was found")
                        : Diagnostics.Area.CLEAR.condition();
        diagnostics.set(
                new Diagnostics.Area(
                        condition,
                        rows,
                        command,
                        session.top() == null ? "" : session.top().routine().name()));
        if (notFound) {
            session.noticed(condition);
        }
        session.look();
    }

    private void droppedNull(DataSite site) {
        Condition warning = new Condition("01003", "an aggregate has left a NULL out");
        diagnostics.set(
                new Diagnostics.Area(warning, 1, site.command(), session.top().routine().name()));
        session.noticed(warning);
    }

    private ResultRows query(DataSite site, Object[] values, long most) {
        return asking(
                site,
                values,
                () -> statements.query(site, values, most),
                rows -> rows.rows().size());
    }

    /**
     * Asks the database. A query over the rows of a change is a change as well: it is undone where
     * it fails, also where that is because of what it gives.
     *
     * @param count how many rows there are in what was asked for
     */
    private <T> T asking(DataSite site, Object[] values, Work<T> work, ToLongFunction<T> count) {
        Frame frame = session.top();
        checkQuery(site);
        DataSite outer = changing;
        int before = depth;
        try {
            Mark mark = null;
            long from = -1;
            if (site.changesInside()) {
                mark = transaction.mark();
                from = transaction.written(frame, session.tellsData());
                writes++;
                changing = site;
                depth++;
            }
            performing(frame, site, values, from);
            T result;
            try {
                result = work.run();
            } catch (ConditionException e) {
                if (mark != null) {
                    transaction.rollbackTo(mark);
                }
                throw e;
            }
            performed(frame, site, values, count.applyAsLong(result), from);
            return result;
        } catch (SQLException e) {
            throw failed(frame, e);
        } finally {
            changing = outer;
            depth = before;
        }
    }

    /**
     * For compiled code: SELECT INTO; null where there is no row, 21000 where there are two.
     *
     * @param width how many values are wanted, or -1 where the whole row is
     */
    public Object[] oneRow(DataSite site, Object[] values, int width) {
        int counts = site.sql().counts();
        Object[] row =
                asking(
                        site,
                        values,
                        () -> statements.oneRow(site, values, width < 0 ? width : width + counts),
                        found -> found == null ? 0 : 1);
        if (row == null || counts == 0) {
            succeeded(site, row == null ? 0 : 1, row == null);
            return row;
        }
        succeeded(site, 1, false);
        int shown = row.length - counts;
        for (int i = shown; i < row.length; i++) {
            if (row[i] instanceof Number dropped && dropped.longValue() > 0) {
                droppedNull(site);
            }
        }
        return Arrays.copyOf(row, shown);
    }

    /** The only row of a result, or null; 21000 where there are two. */
    private static Object[] only(ResultRows result, int width) {
        Statements.checkWidth(result.columns().size(), width);
        if (result.rows().size() > 1) {
            throw Statements.severalRows();
        }
        return result.rows().isEmpty() ? null : result.rows().get(0);
    }

    /** For compiled code: one value from the database. */
    public Object ask(DataSite site, Object[] values, SqlType type) {
        Object[] row =
                asking(
                        site,
                        values,
                        () -> statements.oneRow(site, values, -1),
                        found -> found == null ? 0 : 1);
        Object value = row == null ? null : truth(row[0], type);
        return type instanceof SqlType.Unknown ? value : Conversion.cast(value, type);
    }

    /** What is true or false is a number to some databases. */
    private static Object truth(Object value, SqlType type) {
        return type instanceof SqlType.Bool && value instanceof Long number ? number != 0 : value;
    }

    /** For compiled code: a query whose rows go to the caller. */
    public void handOut(DataSite site, Object[] values) {
        ResultRows rows = query(site, values, Long.MAX_VALUE);
        results.add(rows);
        succeeded(site, rows.rows().size(), false);
    }

    private static void closedCursor(Frame frame, CursorSymbol cursor) {
        if (frame.cursors == null) {
            frame.cursors = new Cursor[frame.routine().cursors()];
        }
        if (frame.cursors[cursor.slot()] != null) {
            throw new ConditionException("24000", "cursor " + cursor.name() + " is open already");
        }
    }

    /** For compiled code: OPEN. */
    public void open(Frame frame, CursorSymbol cursor, DataSite site, Object[] values) {
        closedCursor(frame, cursor);
        ResultRows result = query(site, values, Long.MAX_VALUE);
        boolean identified = cursor.positioning().query().isPresent();
        frame.cursors[cursor.slot()] =
                identified
                        ? Cursor.identified(cursor, result, transaction.count())
                        : new Cursor(cursor, result, transaction.count());
    }

    /** For compiled code: what identifies the row that a cursor stands on. */
    public Object cursorRow(Frame frame, int slot, String name) {
        return opened(frame, slot, name).identity();
    }

    /** For compiled code: RETURN TABLE. */
    public Object table(DataSite site, Object[] values, SqlType.Table type) {
        ResultRows rows = query(site, values, Long.MAX_VALUE);
        Statements.checkWidth(rows.columns().size(), type.columns().size());
        for (Object[] row : rows.rows()) {
            for (int i = 0; i < row.length; i++) {
                row[i] = Conversion.store(row[i], type.columns().get(i).type());
            }
        }
        return new ResultRows(type.columns(), rows.rows());
    }

    /** For compiled code: OPEN of a cursor for a prepared statement. */
    public void open(Frame frame, CursorSymbol cursor, Object[] values) {
        closedCursor(frame, cursor);
        Statements.Performed performed =
                perform(prepared(cursor.statement().orElseThrow()), values, Long.MAX_VALUE);
        ResultRows rows =
                performed
                        .rows()
                        .orElseThrow(
                                () ->
                                        new ConditionException(
                                                "07005",
                                                "the statement of cursor "
                                                        + cursor.name()
                                                        + " gives no rows"));
        frame.cursors[cursor.slot()] = new Cursor(cursor, rows, transaction.count());
    }

    private String prepared(String name) {
        String text = prepared.get(name);
        if (text == null) {
            throw new ConditionException("26000", "there is no prepared statement " + name);
        }
        return text;
    }

    /** For compiled code: PREPARE (ISO 9075-2, 20.7). */
    public void prepare(String name, Object text) {
        prepared.remove(name);
        String statement = dynamic(text);
        try {
            if (firstWord(statement).equals("CALL")) {
                DynamicCall.of(statement, session.program().catalog());
            } else if (!TRANSACTION_WORDS.contains(firstWord(statement))) {
                statements.validate(statement);
            }
        } catch (SQLException e) {
            throw session.raised(session.top(), e);
        }
        prepared.put(name, statement);
    }

    private static String dynamic(Object text) {
        if (text == null) {
            throw new ConditionException("22004", "the text of a statement is NULL");
        }
        List<Span> statements = Parser.statements(new Source("statement", text.toString()));
        if (statements.size() != 1) {
            throw new ConditionException(
                    "42000",
                    statements.isEmpty()
                            ? "the text of a statement is empty"
                            : "a text is executed that holds more than one statement");
        }
        return statements.get(0).text();
    }

    /** The word that a statement begins with, whatever comments and brackets come before it. */
    static String firstWord(String statement) {
        return SqlWords.of(statement).all().stream()
                .filter(w -> !w.is("("))
                .findFirst()
                .map(w -> w.text().toUpperCase(java.util.Locale.ROOT))
                .orElse("");
    }

    /** For compiled code: DEALLOCATE PREPARE. */
    public void deallocate(String name) {
        prepared(name);
        prepared.remove(name);
    }

    /**
     * For compiled code: EXECUTE, or EXECUTE IMMEDIATE where there is a text.
     *
     * @param width how many values go into variables; 0 hands the rows of a query out
     * @return the row for the variables, or null
     */
    public Object[] execute(String name, Object text, Object[] values, int width) {
        String statement = name == null ? dynamic(text) : prepared(name);
        String verb = firstWord(statement);
        if (verb.equals("CALL")) {
            return call(name, statement, values, width);
        }
        if (TRANSACTION_WORDS.contains(verb)) {
            throw new ConditionException(
                    "0A000", verb + " can't be executed dynamically; write it as a statement");
        }
        if (!List.of("SELECT", "WITH", "VALUES", "TABLE").contains(verb)) {
            checkAccess();
            if (transaction.isReadOnly()) {
                throw readOnly();
            }
        }
        boolean data = List.of("INSERT", "UPDATE", "DELETE", "MERGE").contains(verb);
        Statements.Performed performed = perform(statement, values, width > 0 ? 2 : Long.MAX_VALUE);
        boolean rows = performed.rows().isPresent();
        long count = rows ? performed.rows().get().rows().size() : performed.changed();
        succeeded(
                name == null ? "EXECUTE IMMEDIATE" : "EXECUTE",
                count,
                (data || width > 0) && count == 0);
        if (!rows) {
            return null;
        }
        if (width == 0) {
            results.add(performed.rows().get());
            return null;
        }
        return only(performed.rows().get(), width);
    }

    private Object[] call(String name, String statement, Object[] values, int width) {
        Object[] given =
                DynamicCall.of(statement, session.program().catalog()).run(session, values);
        succeeded(name == null ? "EXECUTE IMMEDIATE" : "EXECUTE", 0, false);
        if (width == 0) {
            return null;
        }
        if (given.length != width) {
            throw new ConditionException(
                    "07002",
                    "the procedure gives "
                            + given.length
                            + " values back, and INTO takes "
                            + width);
        }
        return given;
    }

    private Statements.Performed perform(String statement, Object[] values, long most) {
        Frame frame = session.top();
        long from;
        try {
            from = transaction.written(frame, session.tellsData());
            if (session.tellsData()) {
                session.performing(
                        frame,
                        new Performed(
                                Optional.empty(),
                                Optional.of(statement),
                                values,
                                -1,
                                !QUERIES.contains(firstWord(statement)),
                                from));
            }
            Statements.Performed performed =
                    sent(statement, () -> statements.perform(statement, values, most));
            if (from >= 0 && session.tellsData()) {
                Optional<ResultRows> rows = performed.rows();
                long count = rows.isPresent() ? rows.get().rows().size() : performed.changed();
                session.performed(
                        frame,
                        new Performed(
                                Optional.empty(),
                                Optional.of(statement),
                                values,
                                count,
                                rows.isEmpty(),
                                from));
            }
            return performed;
        } catch (SQLException e) {
            throw failed(frame, e);
        }
    }

    /** For compiled code: the next row of a FOR loop, or null. */
    public Object[] next(Frame frame, int slot) {
        return frame.cursors[slot].next();
    }

    private static Cursor opened(Frame frame, int slot, String name) {
        Cursor cursor = frame.cursors == null ? null : frame.cursors[slot];
        if (cursor == null) {
            throw new ConditionException("24000", "cursor " + name + " is not open");
        }
        return cursor;
    }

    /** For compiled code: FETCH; null where there is no row. */
    public Object[] fetch(Frame frame, int slot, String name, String orientation, Object offset) {
        Cursor cursor = opened(frame, slot, name);
        Object[] row = cursor.fetch(orientation, offset == null ? 0 : (Long) offset);
        Condition condition =
                row == null
                        ? new Condition("02000", "cursor " + name + " has no row there")
                        : Diagnostics.Area.CLEAR.condition();
        diagnostics.set(
                new Diagnostics.Area(
                        condition, row == null ? 0 : 1, "FETCH", frame.routine().name()));
        if (row == null) {
            session.noticed(condition);
        }
        return row;
    }

    /** For compiled code: CLOSE. */
    public void close(Frame frame, int slot, String name) {
        opened(frame, slot, name);
        frame.cursors[slot] = null;
    }

    /** For compiled code: a cursor's block begins or ends. */
    public void forget(Frame frame, int slot) {
        if (frame.cursors != null) {
            frame.cursors[slot] = null;
        }
    }
}
