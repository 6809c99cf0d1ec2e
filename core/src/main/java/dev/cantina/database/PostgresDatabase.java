package dev.cantina.database;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Table;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.runtime.AccessPath;
import dev.cantina.runtime.RowChange;
import dev.cantina.runtime.Session;
import dev.cantina.types.Condition;
import dev.cantina.types.IntervalValue;
import dev.cantina.types.SqlType;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.sql.Statement;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.time.OffsetTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.OptionalLong;
import org.postgresql.PGConnection;
import org.postgresql.jdbc.AutoSave;
import org.postgresql.util.PSQLException;
import org.postgresql.util.ServerErrorMessage;

/**
 * A PostgreSQL server, in one transaction from the opening to the closing. The routines' own code
 * runs in Cantina; the server runs the data statements.
 */
public final class PostgresDatabase implements ProjectDatabase {
    private final Connection connection;
    private final PostgresChanges changes;
    private Savepoint kept;

    /**
     * @param connection in a transaction; this object closes it
     */
    public PostgresDatabase(Connection connection) {
        this.connection = connection;
        this.changes = new PostgresChanges(connection);
    }

    @Override
    public List<Table> tables() throws SQLException {
        return new PostgresCatalog(connection).tables();
    }

    /**
     * @throws UnreachableException where the project has triggers or functions that would have to
     *     stand on the server, and do not
     */
    @Override
    public void install(Catalog catalog) throws SQLException {
        List<String> missing = new ArrayList<>();
        for (TriggerSymbol trigger : catalog.triggers()) {
            if (!stands(trigger.name())) {
                missing.add(trigger.name());
            }
        }
        if (!missing.isEmpty()) {
            throw new UnreachableException(
                    "the server has not got the project's triggers ("
                            + String.join(", ", missing)
                            + "), so the routines would not do there what they do here; taking them"
                            + " there is not built yet");
        }
        changes.watch(List.copyOf(catalog.tables()));
    }

    private boolean stands(String trigger) throws SQLException {
        try (PreparedStatement statement =
                connection.prepareStatement("SELECT 1 FROM pg_trigger WHERE tgname = ?")) {
            statement.setString(1, trigger.toLowerCase(Locale.ROOT));
            try (ResultSet row = statement.executeQuery()) {
                return row.next();
            }
        }
    }

    @Override
    public Connection connection() {
        return connection;
    }

    @Override
    public String parameter(SqlType type) {
        changes.touched();
        boolean unknown =
                type instanceof SqlType.Unknown
                        || type instanceof SqlType.Row
                        || type instanceof SqlType.Array;
        if (unknown) {
            return "?";
        }
        if (type instanceof SqlType.Exact || type instanceof SqlType.DecFloat) {
            return "CAST(? AS NUMERIC)";
        }
        if (type instanceof SqlType.Text) {
            return "CAST(? AS TEXT)";
        }
        if (type instanceof SqlType.Bytes) {
            return "CAST(? AS BYTEA)";
        }
        return "CAST(? AS " + type.sql() + ")";
    }

    /** The states of its own by which the server means one that all databases share. */
    private static final Map<String, String> STANDARD =
            Map.of(
                    "22P02", "22018", "42P01", "42S02", "42703", "42S22", "42P07", "42S01", "34000",
                    "24000");

    @Override
    public Condition condition(SQLException error) {
        String own = error.getSQLState() == null ? "HY000" : error.getSQLState();
        String state = STANDARD.getOrDefault(own, own);
        Condition condition = new Condition(state, String.valueOf(error.getMessage()));
        ServerErrorMessage said =
                error instanceof PSQLException e ? e.getServerErrorMessage() : null;
        if (said == null) {
            return condition;
        }
        condition = condition.saying(said.getMessage());
        if (!own.equals(state)) {
            condition = condition.with("VENDOR_CODE", own);
        }
        for (Map.Entry<String, String> item :
                Map.of(
                                "CONSTRAINT_NAME", text(said.getConstraint()),
                                "TABLE_NAME", text(said.getTable()),
                                "COLUMN_NAME", text(said.getColumn()),
                                "SCHEMA_NAME", text(said.getSchema()))
                        .entrySet()) {
            if (!item.getValue().isEmpty()) {
                condition = condition.with(item.getKey(), item.getValue());
            }
        }
        return condition;
    }

    private static String text(String value) {
        return value == null ? "" : value;
    }

    @Override
    public SqlType typeOf(ResultSetMetaData columns, int column) throws SQLException {
        String name = columns.getColumnTypeName(column);
        int precision = columns.getPrecision(column);
        int scale = columns.getScale(column);
        boolean unbounded = precision == 0 || precision == Integer.MAX_VALUE;
        int modifier =
                switch (name) {
                    case "numeric" -> unbounded ? -1 : (precision << 16 | scale) + 4;
                    case "varchar", "bpchar" -> unbounded ? -1 : precision + 4;
                    case "time", "timetz", "timestamp", "timestamptz" -> scale;
                    default -> -1;
                };
        return PostgresCatalog.type(name, modifier, name);
    }

    @Override
    public String columnName(ResultSetMetaData columns, int column) throws SQLException {
        return columns.getColumnLabel(column);
    }

    @Override
    public Object read(ResultSet row, int column, SqlType type) throws SQLException {
        if (type instanceof SqlType.Integral) {
            long value = row.getLong(column);
            return row.wasNull() ? null : (Object) value;
        }
        if (type instanceof SqlType.Text || type instanceof SqlType.Json) {
            return row.getString(column);
        }
        if (type instanceof SqlType.Exact) {
            return row.getBigDecimal(column);
        }
        if (type instanceof SqlType.Approximate) {
            double value = row.getDouble(column);
            return row.wasNull() ? null : (Object) value;
        }
        if (type instanceof SqlType.Date) {
            return row.getObject(column, LocalDate.class);
        }
        if (type instanceof SqlType.Time time) {
            Class<?> held = time.zone() ? OffsetTime.class : LocalTime.class;
            return row.getObject(column, held);
        }
        if (type instanceof SqlType.Timestamp stamp) {
            Class<?> held = stamp.zone() ? OffsetDateTime.class : LocalDateTime.class;
            return row.getObject(column, held);
        }
        if (type instanceof SqlType.Array && row.getArray(column) != null) {
            Object[] elements = (Object[]) row.getArray(column).getArray();
            Object[] held = new Object[elements.length];
            for (int i = 0; i < held.length; i++) {
                held[i] = JavaTypes.held(elements[i]);
            }
            return held;
        }
        return JavaTypes.held(row.getObject(column));
    }

    @Override
    public Object driverValue(Object value, SqlType type) {
        changes.touched();
        return value instanceof IntervalValue interval ? interval.toString() : value;
    }

    @Override
    public Object mark() throws SQLException {
        return connection.setSavepoint();
    }

    @Override
    public void rollbackTo(Object mark) throws SQLException {
        connection.rollback((Savepoint) mark);
        changes.touched();
    }

    @Override
    public void empty(String table) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute("TRUNCATE " + EmbeddedDatabase.quoted(table) + " RESTART IDENTITY");
        }
    }

    @Override
    public long position() throws SQLException {
        return changes.position();
    }

    @Override
    public List<RowChange> changesSince(long position) throws SQLException {
        return changes.since(
                position,
                (row, column, of, table) -> read(row, column, table.columns().get(of).type()));
    }

    /** The server's own estimate for a change; for a query it runs it, and counts. */
    @Override
    public List<AccessPath> accessPaths(String sql, Object[] values) throws SQLException {
        boolean query = sql.strip().toUpperCase(Locale.ROOT).startsWith("SELECT");
        Savepoint mark = connection.setSavepoint();
        try (PreparedStatement statement =
                connection.prepareStatement(
                        (query ? "EXPLAIN (ANALYZE, FORMAT JSON) " : "EXPLAIN (FORMAT JSON) ")
                                + sql)) {
            for (int i = 0; i < values.length; i++) {
                statement.setObject(i + 1, values[i]);
            }
            try (ResultSet row = statement.executeQuery()) {
                row.next();
                List<AccessPath> paths = new ArrayList<>();
                PostgresPlan.read(row.getString(1), paths);
                return paths;
            }
        } finally {
            connection.rollback(mark);
        }
    }

    @Override
    public void guard(boolean on) throws SQLException {
        connection.unwrap(PGConnection.class).setAutosave(on ? AutoSave.ALWAYS : AutoSave.NEVER);
    }

    /** Schema statements are part of the transaction here. */
    @Override
    public void schemaChanged() {
        changes.touched();
    }

    @Override
    public void attach(Session session) {
        changes.touched();
    }

    @Override
    public void detach(Session session) {
        changes.touched();
        try {
            guard(true);
        } catch (SQLException e) {
            // The connection is gone; whoever uses it next will hear of it.
            return;
        }
    }

    @Override
    public void keep() throws SQLException {
        kept = connection.setSavepoint();
    }

    @Override
    public void restore() throws SQLException {
        connection.rollback(kept);
        changes.touched();
    }

    @Override
    public boolean isAltered() {
        return false;
    }

    @Override
    public void seed(int seed) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute("SELECT setseed(" + 1.0 / (1 + Math.abs((double) seed)) + ")");
        }
    }

    @Override
    public Answer declareTable(String name, String definition) {
        return new Answer.Refused(
                new Condition("0A000", "a table of a block can't be had on a server yet"));
    }

    @Override
    public boolean knowsOverlaps() {
        return true;
    }

    @Override
    public String rowIdentity() {
        return "ctid";
    }

    @Override
    public synchronized Answer describe(List<String> pieces, List<SqlType> parameters) {
        StringBuilder text = new StringBuilder(pieces.get(0));
        for (int i = 0; i < parameters.size(); i++) {
            text.append(parameter(parameters.get(i))).append(pieces.get(i + 1));
        }
        try {
            Savepoint mark = connection.setSavepoint();
            try (PreparedStatement statement = connection.prepareStatement(text.toString())) {
                ResultSetMetaData columns = statement.getMetaData();
                List<SqlType.Field> fields = new ArrayList<>();
                for (int i = 1; columns != null && i <= columns.getColumnCount(); i++) {
                    fields.add(new SqlType.Field(columnName(columns, i), typeOf(columns, i)));
                }
                return new Answer.Taken(fields);
            } finally {
                connection.rollback(mark);
                connection.releaseSavepoint(mark);
            }
        } catch (SQLException e) {
            Condition reason = condition(e);
            boolean function = reason.sqlstate().equals("42883");
            return new Answer.Refused(
                    function
                            ? reason.saying(
                                    reason.message()
                                            + " on the server; a function of the project can't be"
                                            + " called there from inside SQL yet")
                            : reason);
        }
    }

    @Override
    public void commit() throws SQLException {
        changes.unwatch();
        connection.commit();
    }

    @Override
    public void close() throws SQLException {
        try {
            connection.rollback();
        } finally {
            connection.close();
        }
    }

    static OptionalLong rows(double counted) {
        return OptionalLong.of(Math.round(counted));
    }
}
