package dev.cantina.runtime;

import dev.cantina.binding.BoundSql;
import dev.cantina.syntax.SqlWords;
import dev.cantina.types.ConditionException;
import dev.cantina.types.Conversion;
import dev.cantina.types.SqlType;
import dev.cantina.types.Values;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.Consumer;
import java.util.regex.Pattern;

/**
 * Sends a session's SQL. A statement is prepared once for its place in the code and kept; where the
 * same place is reached again while it still runs, in a recursion, it is prepared once more.
 */
final class Statements {
    /** A statement that is prepared and at rest, with the types of what it gives. */
    private static final class Prepared {
        final PreparedStatement statement;

        /** Whether it undoes itself alone where it fails. */
        final boolean guarded;

        List<SqlType.Field> columns;

        Prepared(PreparedStatement statement, boolean guarded) {
            this.statement = statement;
            this.guarded = guarded;
        }
    }

    private final Database database;
    private final Limits limits;
    private Prepared[] idle = new Prepared[16];

    /**
     * What can be cancelled. Who cancels may see it a moment late: a fence at each statement costs
     * more than that is worth.
     */
    private final AtomicReference<Statement> running = new AtomicReference<>();

    private final Consumer<String> told;

    /**
     * @param told takes what code of the server's own says
     */
    Statements(Database database, Limits limits, Consumer<String> told) {
        this.told = told;
        this.database = database;
        this.limits = limits;
    }

    private Prepared acquire(DataSite site) throws SQLException {
        if (site.id() >= idle.length) {
            idle = java.util.Arrays.copyOf(idle, Math.max(site.id() + 1, idle.length * 2));
        }
        Prepared prepared = idle[site.id()];
        boolean guarded = database.isGuarded();
        if (prepared != null) {
            idle[site.id()] = null;
            if (prepared.guarded == guarded) {
                return prepared;
            }
            prepared.statement.close();
        }
        String text = guarded ? database.guarded(text(site)) : text(site);
        return new Prepared(database.connection().prepareStatement(text), guarded);
    }

    /** Hears what the copies tell that the database runs by itself. */
    private PlacedCode.Follower follower;

    private Probe hearer;

    /** From now on somebody hears what statements set off, whenever the probe listens. */
    void follow(PlacedCode.Follower by, Probe probe) {
        follower = by;
        hearer = probe;
    }

    private boolean isFollowed() {
        return follower != null && hearer.listens();
    }

    /**
     * Has a statement run that is not prepared here, and hears what it sets off.
     *
     * @param on what the work runs
     */
    <T> T heard(Statement on, DataAccess.Work<T> work) throws SQLException {
        if (!isFollowed()) {
            return work.run();
        }
        List<T> given = new ArrayList<>();
        try {
            follower.execute(on, () -> given.add(work.run()));
        } finally {
            // What the copies have told is for nobody else.
            database.notices(on).forEach(told);
            on.clearWarnings();
        }
        return given.get(0);
    }

    private boolean run(Prepared prepared) throws SQLException {
        return prepared.guarded
                ? database.executeGuarded(prepared.statement)
                : prepared.statement.execute();
    }

    private boolean followed(Prepared prepared) throws SQLException {
        try {
            return follower.execute(
                    prepared.statement,
                    () -> {
                        // What it says of itself is gone with the next thing that is sent.
                        boolean given = run(prepared);
                        if (given) {
                            database.checkWarnings(prepared.statement);
                        }
                        return given;
                    });
        } finally {
            database.notices(prepared.statement).forEach(told);
        }
    }

    /** Runs it, and says whether it gives rows. */
    private boolean execute(Prepared prepared) throws SQLException {
        boolean rows;
        if (isFollowed()) {
            return followed(prepared);
        }
        try {
            rows = run(prepared);
        } finally {
            database.notices(prepared.statement).forEach(told);
        }
        if (rows) {
            database.checkWarnings(prepared.statement);
        }
        return rows;
    }

    /**
     * Runs a query.
     *
     * @throws SQLException 07005, where it is none
     */
    private ResultSet open(Prepared prepared) throws SQLException {
        if (!execute(prepared)) {
            throw new SQLException("the statement gives no rows", "07005");
        }
        return prepared.statement.getResultSet();
    }

    private void release(DataSite site, Prepared prepared) throws SQLException {
        running.lazySet(null);
        if (idle[site.id()] == null) {
            idle[site.id()] = prepared;
        } else {
            prepared.statement.close();
        }
    }

    /** What a place sends. */
    String text(DataSite site) {
        List<String> pieces = site.sql().pieces();
        StringBuilder text = new StringBuilder(pieces.get(0));
        for (int i = 0; i < site.parameterTypes().size(); i++) {
            text.append(database.parameter(site.parameterTypes().get(i)));
            text.append(pieces.get(i + 1));
        }
        return database.words(text.toString());
    }

    private void bind(DataSite site, PreparedStatement statement, Object[] values)
            throws SQLException {
        for (int i = 0; i < values.length; i++) {
            Object value = values[i];
            if (value instanceof Long number) {
                // Sent as its own type, it need not be converted by the database.
                if (site.isSmall(i) && number == number.intValue()) {
                    statement.setInt(i + 1, number.intValue());
                } else {
                    statement.setLong(i + 1, number);
                }
            } else {
                Object sent = value instanceof String text ? site.stored(i, text) : value;
                statement.setObject(
                        i + 1, database.driverValue(sent, site.parameterTypes().get(i)));
            }
        }
        running.lazySet(statement);
    }

    /** What a place sends, with the values in it, for a server that takes a text alone. */
    private String whole(DataSite site, Object[] values, StandingServer server) {
        List<String> pieces = site.sql().pieces();
        StringBuilder text = new StringBuilder(pieces.get(0));
        for (int i = 0; i < values.length; i++) {
            SqlType type = site.parameterTypes().get(i);
            Object sent = values[i] instanceof String word ? site.stored(i, word) : values[i];
            text.append(database.parameter(type).replace("?", server.literal(sent, type)));
            text.append(pieces.get(i + 1));
        }
        return database.words(text.toString());
    }

    /** What a server tells in texts, as values of the types that the place expects. */
    private static ResultRows typed(ResultRows told, DataSite site) {
        if (site.sql().columns().size() != told.columns().size()) {
            return told;
        }
        List<SqlType.Field> columns = new ArrayList<>();
        for (int i = 0; i < told.columns().size(); i++) {
            SqlType type = site.sql().columns().get(i).type();
            SqlType.Field column = told.columns().get(i);
            columns.add(
                    type instanceof SqlType.Unknown
                            ? column
                            : new SqlType.Field(column.name(), type));
        }
        for (Object[] row : told.rows()) {
            for (int i = 0; i < row.length; i++) {
                row[i] =
                        row[i] == null
                                ? null
                                : Conversion.cast(
                                        row[i] instanceof Number ? row[i] : Values.text(row[i]),
                                        columns.get(i).type());
            }
        }
        return new ResultRows(columns, told.rows());
    }

    /** Runs a query that stands in no program. */
    ResultRows once(DataSite site, Object[] values, long most) throws SQLException {
        Optional<StandingServer> standing = database.standing();
        if (standing.isPresent()) {
            return typed(standing.get().query(whole(site, values, standing.get()), most), site);
        }
        Statement before = running.get();
        try (PreparedStatement statement = database.connection().prepareStatement(text(site))) {
            bind(site, statement, values);
            ResultSet result = statement.executeQuery();
            List<SqlType.Field> columns = named(columns(result.getMetaData()), site.sql());
            return new ResultRows(columns, rows(result, columns, most));
        } finally {
            running.lazySet(before);
        }
    }

    /** While a routine stands in it, a database answers queries alone. */
    private static SQLException busy() {
        return new SQLException(
                "rows can't be changed from here while the server stands in a routine; sql! does"
                        + " that",
                "0A000");
    }

    /** Runs a change or a schema statement, and gives the number of rows. */
    long update(DataSite site, Object[] values) throws SQLException {
        if (database.standing().isPresent()) {
            throw busy();
        }
        Prepared prepared = acquire(site);
        try {
            bind(site, prepared.statement, values);
            return execute(prepared) ? 0 : prepared.statement.getUpdateCount();
        } finally {
            release(site, prepared);
        }
    }

    /** Runs a query, and reads at most so many rows; more than the limit end the run. */
    ResultRows query(DataSite site, Object[] values, long most) throws SQLException {
        Optional<StandingServer> standing = database.standing();
        if (standing.isPresent()) {
            return typed(standing.get().query(whole(site, values, standing.get()), most), site);
        }
        Prepared prepared = acquire(site);
        try {
            bind(site, prepared.statement, values);
            try (ResultSet result = open(prepared)) {
                if (prepared.columns == null) {
                    prepared.columns = named(columns(result.getMetaData()), site.sql());
                }
                return new ResultRows(prepared.columns, rows(result, prepared.columns, most));
            }
        } finally {
            release(site, prepared);
        }
    }

    /**
     * Runs a query for its only row; null where there is none, 21000 where there are two.
     *
     * @param width how many columns it must have, or -1
     */
    Object[] oneRow(DataSite site, Object[] values, int width) throws SQLException {
        if (database.standing().isPresent()) {
            ResultRows two = query(site, values, 2);
            checkWidth(two.columns().size(), width);
            if (two.rows().size() > 1) {
                throw severalRows();
            }
            return two.rows().isEmpty() ? null : two.rows().get(0);
        }
        Prepared prepared = acquire(site);
        try {
            bind(site, prepared.statement, values);
            try (ResultSet result = open(prepared)) {
                if (prepared.columns == null) {
                    prepared.columns = named(columns(result.getMetaData()), site.sql());
                }
                checkWidth(prepared.columns.size(), width);
                if (!result.next()) {
                    return null;
                }
                Object[] row = row(result, prepared.columns);
                if (result.next()) {
                    throw severalRows();
                }
                return row;
            }
        } finally {
            release(site, prepared);
        }
    }

    static void checkWidth(int columns, int width) {
        if (width >= 0 && columns != width) {
            throw new ConditionException(
                    "42601", "the query gives " + columns + " values for " + width + " variables");
        }
    }

    static ConditionException severalRows() {
        return new ConditionException("21000", "the query gives more than one row");
    }

    private Object[] row(ResultSet result, List<SqlType.Field> columns) throws SQLException {
        Object[] row = new Object[columns.size()];
        for (int i = 0; i < row.length; i++) {
            row[i] = database.read(result, i + 1, columns.get(i).type());
        }
        return row;
    }

    /** The rows of a result that somebody else has opened. */
    ResultRows read(ResultSet result) throws SQLException {
        List<SqlType.Field> columns = columns(result.getMetaData());
        return new ResultRows(columns, rows(result, columns, Long.MAX_VALUE));
    }

    /**
     * Output names as their author wrote them, where the engine has folded them; and what is true
     * or false, or bytes, as such, where the engine gives a number or a text.
     */
    private static List<SqlType.Field> named(List<SqlType.Field> columns, BoundSql sql) {
        List<SqlType.Field> named = new ArrayList<>();
        boolean described = sql.columns().size() == columns.size();
        for (int i = 0; i < columns.size(); i++) {
            SqlType.Field column = columns.get(i);
            SqlType told = described ? sql.columns().get(i).type() : column.type();
            boolean better = told instanceof SqlType.Bool || told instanceof SqlType.Bytes;
            String written =
                    sql.scope().outputs().stream()
                            .filter(n -> n.key().equals(column.name()))
                            .map(n -> n.text())
                            .findFirst()
                            .orElse(column.name());
            named.add(new SqlType.Field(written, better ? told : column.type()));
        }
        return named;
    }

    /** What a statement given as text came to: rows, or how many it changed. */
    record Performed(Optional<ResultRows> rows, long changed) {}

    /** Some databases take {@code $1} for a marker, and no value would ever reach it. */
    private static void refuseNumbered(String text) throws SQLException {
        if (text.indexOf('$') < 0 || QUOTED_BY_DOLLARS.matcher(text).find()) {
            return;
        }
        List<SqlWords.Word> words = SqlWords.of(text).all();
        for (int i = 0; i + 1 < words.size(); i++) {
            SqlWords.Word next = words.get(i + 1);
            if (words.get(i).is("$")
                    && next.start() == words.get(i).end()
                    && Character.isDigit(text.charAt(next.start()))) {
                throw new SQLException(
                        "a marker is written ?, not $"
                                + next.text()
                                + ", in a statement given as"
                                + " text",
                        "42601");
            }
        }
    }

    private static final Pattern QUOTED_BY_DOLLARS = Pattern.compile("\\$\\w*\\$");

    /** Asks the database whether it takes a text. */
    void validate(String text) throws SQLException {
        refuseNumbered(text);
        database.validate(database.words(text));
    }

    /** Runs a text with values for its markers. */
    Performed perform(String text, Object[] values, long most) throws SQLException {
        if (database.standing().isPresent()) {
            throw busy();
        }
        refuseNumbered(text);
        database.admit(text);
        try (PreparedStatement statement =
                database.connection().prepareStatement(database.words(text))) {
            running.lazySet(statement);
            if (!execute(statement, values)) {
                return new Performed(Optional.empty(), statement.getUpdateCount());
            }
            database.checkWarnings(statement);
            try (ResultSet result = statement.getResultSet()) {
                List<SqlType.Field> columns = columns(result.getMetaData());
                return new Performed(
                        Optional.of(new ResultRows(columns, rows(result, columns, most))), 0);
            }
        } finally {
            running.lazySet(null);
        }
    }

    private boolean execute(PreparedStatement statement, Object[] values) throws SQLException {
        try {
            for (int i = 0; i < values.length; i++) {
                statement.setObject(i + 1, database.driverValue(values[i], SqlType.NULL));
            }
            return isFollowed()
                    ? follower.execute(statement, statement::execute)
                    : statement.execute();
        } catch (SQLException e) {
            checkMarkers(statement, values.length);
            throw e;
        } finally {
            database.notices(statement).forEach(told);
        }
    }

    /** Each driver says in its own way that there are more markers than values, or fewer. */
    private static void checkMarkers(PreparedStatement statement, int values) {
        int markers;
        try {
            markers = statement.getParameterMetaData().getParameterCount();
        } catch (SQLException unknown) {
            return;
        }
        if (markers != values) {
            throw new ConditionException(
                    "07001",
                    "the statement has " + markers + " markers, and USING gives " + values);
        }
    }

    List<SqlType.Field> columns(ResultSetMetaData data) throws SQLException {
        List<SqlType.Field> columns = new ArrayList<>();
        for (int i = 1; i <= data.getColumnCount(); i++) {
            columns.add(new SqlType.Field(database.columnName(data, i), database.typeOf(data, i)));
        }
        return columns;
    }

    List<Object[]> rows(ResultSet result, List<SqlType.Field> columns, long most)
            throws SQLException {
        List<Object[]> rows = new ArrayList<>();
        while (rows.size() < most && result.next()) {
            if (rows.size() >= limits.rows()) {
                throw new ConditionException(
                        "UL004",
                        "the limit of "
                                + limits.rows()
                                + " rows held is passed; raise it with --limit rows="
                                + limits.rows() * 10);
            }
            rows.add(row(result, columns));
        }
        return rows;
    }

    /** Stops the statement that runs; may be called from any thread. */
    void cancel() {
        Statement statement = running.get();
        if (statement != null) {
            try {
                statement.cancel();
            } catch (SQLException e) {
                // It has ended by itself in the meantime.
                return;
            }
        }
    }

    /**
     * What runs now, of what is not sent from here; null for nothing.
     *
     * @return what ran before
     */
    Statement running(Statement statement) {
        return running.getAndSet(statement);
    }

    void close() {
        if (follower != null) {
            follower.close();
            follower = null;
        }
        for (Prepared prepared : idle) {
            if (prepared != null) {
                try {
                    prepared.statement.close();
                } catch (SQLException e) {
                    // The connection is gone, and the statement with it.
                    return;
                }
            }
        }
        idle = new Prepared[16];
    }
}
