package dev.cantina.database.postgresql;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Column;
import dev.cantina.catalog.Table;
import dev.cantina.database.DatabaseException;
import dev.cantina.database.ProjectDatabase;
import dev.cantina.database.ServerDatabase;
import dev.cantina.database.ServerKind;
import dev.cantina.database.ServerNames;
import dev.cantina.database.ServerPart;
import dev.cantina.database.ServerValues;
import dev.cantina.database.embedded.EmbeddedDatabase;
import dev.cantina.database.embedded.JavaTypes;
import dev.cantina.runtime.AccessPath;
import dev.cantina.runtime.RowChange;
import dev.cantina.runtime.Session;
import dev.cantina.runtime.StandingServer;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.Unit;
import dev.cantina.types.Condition;
import dev.cantina.types.IntervalValue;
import dev.cantina.types.SqlType;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.sql.SQLWarning;
import java.sql.Savepoint;
import java.sql.Statement;
import java.sql.Types;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.time.OffsetTime;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.UnaryOperator;
import org.postgresql.PGConnection;
import org.postgresql.util.PGInterval;
import org.postgresql.util.PSQLException;
import org.postgresql.util.ServerErrorMessage;

/**
 * A PostgreSQL server, in one transaction from the opening to the closing. The routines' own code
 * runs in Cantina; the server runs the data statements.
 */
public final class PostgresDatabase implements ServerDatabase {
    private final Connection connection;
    private final PostgresChanges changes;
    private List<Table> tables = List.of();
    private final PostgresGuard guard;
    private final PostgresParts parts;
    private final PostgresCircles circles;
    private final Map<String, String> declared;
    private Opener opener;

    /** Whether another has made the schema that this one works in. */
    private boolean joined;

    private Session session;
    private Map<String, String> numbers = Map.of();
    private boolean scratch;
    private boolean speaksOwn;

    /** Whether routines of its own language see the session's clock; and how it is spoken to. */
    private boolean clocked;

    private UnaryOperator<String> sent = UnaryOperator.identity();
    private UnaryOperator<String> made = UnaryOperator.identity();

    /** Whether a routine could commit, so that the database is what it was no more. */
    private boolean altered;

    private StandingServer standing;
    private Savepoint kept;

    /**
     * @param connection in a transaction; this object closes it
     */
    public PostgresDatabase(Connection connection) {
        this(connection, new ConcurrentHashMap<>());
    }

    private PostgresDatabase(Connection connection, Map<String, String> declared) {
        this.declared = declared;
        this.connection = connection;
        this.changes = new PostgresChanges(connection);
        this.guard = new PostgresGuard(connection);
        this.parts = new PostgresParts(connection);
        this.circles = new PostgresCircles(connection);
    }

    @Override
    public void reachedBy(Opener how) {
        opener = how;
    }

    @Override
    public ProjectDatabase beside(List<Table> known) throws SQLException {
        Connection another = opener.open();
        try {
            PostgresDatabase made = new PostgresDatabase(another, declared);
            made.joined = true;
            made.scratch = true;
            made.tables = List.copyOf(known);
            made.execute("SET search_path TO " + connection.getSchema());
            another.commit();
            return made;
        } catch (SQLException e) {
            another.close();
            throw e;
        }
    }

    /** The number of the server's process for a connection; 0 until somebody asks. */
    private int process;

    private int process() throws SQLException {
        if (process == 0) {
            process = connection.unwrap(PGConnection.class).getBackendPID();
        }
        return process;
    }

    @Override
    public boolean waitsForLock(ProjectDatabase another, Thread by) throws SQLException {
        try (Statement statement = connection.createStatement();
                ResultSet row =
                        statement.executeQuery(
                                "SELECT COUNT(*) FROM pg_locks WHERE NOT granted AND pid = "
                                        + ((PostgresDatabase) another).process())) {
            row.next();
            return row.getInt(1) > 0;
        }
    }

    /** The clock of the session is that of what the server runs by itself. */
    @Override
    public <T> T running(Running<T> work) throws SQLException {
        if (joined && session != null) {
            clock(session);
        }
        return work.run();
    }

    @Override
    public boolean tellsChanges() {
        return !joined;
    }

    @Override
    public void end(boolean commit) throws SQLException {
        ServerDatabase.super.end(commit);
        guard.forget();
        changes.touched();
    }

    @Override
    public void abandon(String prefix, String mark) throws SQLException {
        connection.rollback();
        PostgresSchemas.drop(connection, mark);
        PostgresSchemas.sweep(connection, prefix, mark);
        connection.commit();
    }

    @Override
    public void speakOwn() {
        speaksOwn = true;
        changes.outlive();
    }

    @Override
    public boolean isEmpty() throws SQLException {
        try (Statement statement = connection.createStatement();
                ResultSet row =
                        statement.executeQuery(
                                "SELECT NOT EXISTS (SELECT 1 FROM pg_class WHERE oid >= 16384)"
                                        + " AND NOT EXISTS (SELECT 1 FROM pg_proc WHERE oid >= 16384)")) {
            row.next();
            return row.getBoolean(1);
        }
    }

    @Override
    public List<Table> tables() throws SQLException {
        return new PostgresCatalog(connection, speaksOwn).tables();
    }

    @Override
    public void install(Catalog catalog) throws SQLException {
        tables = List.copyOf(catalog.tables());
        changes.watch(tables);
    }

    /**
     * A schema of its own for tables and rows that are to be gone afterwards: it lives in the
     * transaction, and ends with it, however that ends.
     */
    @Override
    public ServerKind kind() {
        return new PostgresKind();
    }

    @Override
    public void scratch() throws SQLException {
        String name = "cantina_scratch_" + Long.toHexString(System.nanoTime());
        execute("CREATE SCHEMA " + name);
        execute("SET LOCAL search_path TO " + name);
        clockNow();
        scratch = true;
    }

    /** Until a session says what the time is, it is the server's. */
    private void clockNow() throws SQLException {
        execute(
                "SELECT set_config('"
                        + PostgresTables.CLOCK
                        + "', CAST(LOCALTIMESTAMP AS text), FALSE)");
    }

    /** The same in a schema that stays when the transaction is committed. */
    @Override
    public void scratch(String schema) throws SQLException {
        PostgresSchemas.hold(connection, schema);
        execute("CREATE SCHEMA " + schema);
        execute("SET search_path TO " + schema);
        clockNow();
        scratch = true;
    }

    private void execute(String sql) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.setEscapeProcessing(false);
            statement.execute(sql);
        }
    }

    @Override
    public List<ServerPart> place(List<ServerPart> wanted) throws SQLException {
        clockNow();
        List<ServerPart> placed =
                wanted.stream()
                        .map(
                                p ->
                                        new ServerPart(
                                                p.identity(),
                                                made.apply(p.create()),
                                                p.drop(),
                                                p.modes()))
                        .toList();
        parts.place(placed);
        return placed;
    }

    @Override
    public void create(Source script) throws DatabaseException {
        for (Span span : Parser.statements(script)) {
            try {
                execute(scratch ? PostgresTables.clocked(span.text()) : span.text());
            } catch (SQLException e) {
                throw new DatabaseException(
                        Problem.error(
                                span,
                                "refused-sql",
                                "the server refuses this: " + condition(e).message()));
            }
        }
    }

    @Override
    public void numberOn(List<Table> tables) throws SQLException {
        for (Table table : tables) {
            for (Column column : table.columns()) {
                if (column.identity() && !table.view()) {
                    String name = PostgresCatalog.quoted(table.name());
                    String of = EmbeddedDatabase.quoted(column.name());
                    execute(
                            "SELECT setval(pg_get_serial_sequence('"
                                    + name
                                    + "', '"
                                    + column.name()
                                    + "'), COALESCE(MAX("
                                    + of
                                    + "), 1), MAX("
                                    + of
                                    + ") IS NOT NULL) FROM "
                                    + name);
                }
            }
        }
    }

    @Override
    public Optional<String> cannotActAs(String role) throws SQLException {
        if (!speaksOwn) {
            return ServerDatabase.super.cannotActAs(role);
        }
        try (PreparedStatement statement =
                connection.prepareStatement(
                        "SELECT pg_has_role(oid, 'MEMBER') FROM pg_roles WHERE rolname = ?")) {
            statement.setString(1, role);
            try (ResultSet row = statement.executeQuery()) {
                return row.next() && row.getBoolean(1)
                        ? Optional.empty()
                        : Optional.of(
                                "there is no role "
                                        + role
                                        + "; CREATE ROLE in a file of tables: makes one");
            }
        }
    }

    @Override
    public void beforeFixture() throws SQLException {
        if (speaksOwn) {
            circles.loosen();
        }
    }

    @Override
    public void afterFixture() throws SQLException {
        if (speaksOwn) {
            circles.tighten();
        }
    }

    @Override
    public String givesKeys() {
        return speaksOwn ? " OVERRIDING SYSTEM VALUE" : "";
    }

    @Override
    public List<String> inReferenceOrder(List<String> tables) throws SQLException {
        return ServerValues.inReferenceOrder(
                connection,
                "SELECT "
                        + (speaksOwn
                                ? PostgresCatalog.ownName("c") + ", " + PostgresCatalog.ownName("p")
                                : "c.relname, p.relname")
                        + " FROM pg_constraint k"
                        + " JOIN pg_class c ON c.oid = k.conrelid"
                        + " JOIN pg_class p ON p.oid = k.confrelid"
                        + " WHERE k.contype = 'f'"
                        + (speaksOwn ? "" : " AND c.relnamespace = current_schema::regnamespace"),
                PostgresCatalog::key,
                tables);
    }

    private static final ServerNames NAMES = ServerNames.postgres();

    @Override
    public String name(String word) {
        return NAMES.unreserved(word);
    }

    @Override
    public boolean runsAlone() {
        return true;
    }

    @Override
    public Map<String, Set<Unit.Event>> cascaded() throws SQLException {
        String rule =
                "CASE %s WHEN 'c' THEN 'CASCADE' WHEN 'n' THEN 'SET NULL' WHEN 'd' THEN 'SET DEFAULT' END";
        return ServerValues.cascaded(
                connection,
                "SELECT c.relname, "
                        + rule.formatted("k.confdeltype")
                        + ", "
                        + rule.formatted("k.confupdtype")
                        + " FROM pg_constraint k JOIN pg_class c ON c.oid = k.conrelid"
                        + " WHERE k.contype = 'f'",
                PostgresCatalog::key);
    }

    @Override
    public String written(String name, String key) {
        return speaksOwn ? PostgresCatalog.quoted(name) : EmbeddedDatabase.quoted(name);
    }

    @Override
    public Connection connection() {
        return connection;
    }

    @Override
    public boolean hasFunction(String name, int arguments) {
        try (PreparedStatement statement =
                connection.prepareStatement(
                        "SELECT 1 FROM pg_proc WHERE pronamespace = 'pg_catalog'::regnamespace"
                                + " AND proname = lower(?) AND (pronargs = ? OR provariadic <> 0)")) {
            statement.setString(1, name);
            statement.setInt(2, arguments);
            try (ResultSet row = statement.executeQuery()) {
                return row.next();
            }
        } catch (SQLException e) {
            // What can't be told is taken for hidden.
            return true;
        }
    }

    @Override
    public boolean takesRows() {
        return true;
    }

    @Override
    public String words(String statement) {
        return speaksOwn ? sent.apply(statement) : PostgresStatementRewriter.of(statement, tables);
    }

    @Override
    public String parameter(SqlType type) {
        changes.touched();
        if (speaksOwn && (type instanceof SqlType.Text || type instanceof SqlType.Json)) {
            return "?";
        }
        String server = type(type);
        return server.isEmpty() ? "?" : "CAST(? AS " + server + ")";
    }

    /** What the server calls a type that a value is sent with; empty where it sees that itself. */
    private static String type(SqlType type) {
        if (type instanceof SqlType.Unknown || type instanceof SqlType.Row) {
            return "";
        }
        if (type instanceof SqlType.Array array) {
            String element = type(array.element());
            return element.isEmpty() ? "" : element + "[]";
        }
        if (type instanceof SqlType.Exact || type instanceof SqlType.DecFloat) {
            return "NUMERIC";
        }
        if (type instanceof SqlType.Text text && text.shape() == SqlType.Shape.FIXED) {
            // Where its blanks count it is made a text: see PostgresWords.
            return "BPCHAR";
        }
        if (type instanceof SqlType.Text) {
            return "TEXT";
        }
        return type instanceof SqlType.Bytes ? "BYTEA" : type.sql();
    }

    @Override
    public Optional<String> argument(SqlType parameter) {
        return Optional.of(
                parameter instanceof SqlType.Exact
                        ? "numeric"
                        : parameter.sql().toLowerCase(Locale.ROOT));
    }

    /** The states of its own by which the server means one that all databases share. */
    private static final Map<String, String> STANDARD =
            Map.of(
                    "22P02", "22018", "42P01", "42S02", "42703", "42S22", "42P07", "42S01", "34000",
                    "24000");

    @Override
    public Condition condition(SQLException error) {
        String own = error.getSQLState() == null ? "HY000" : error.getSQLState();
        String state = speaksOwn ? own : STANDARD.getOrDefault(own, own);
        Condition condition = new Condition(state, String.valueOf(error.getMessage()));
        ServerErrorMessage said =
                error instanceof PSQLException e ? e.getServerErrorMessage() : null;
        if (said == null) {
            return condition;
        }
        condition =
                condition.saying(
                        speaksOwn && own.equals("2D000")
                                ? said.getMessage()
                                        + ": this stands in a transaction, which is taken back;"
                                        + " where a procedure is called by itself it may end its own"
                                : said.getMessage());
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
        SqlType type = PostgresCatalog.type(name, modifier, name);
        return speaksOwn ? PostgresCatalog.shown(type) : type;
    }

    @Override
    public String columnName(ResultSetMetaData columns, int column) throws SQLException {
        return columns.getColumnLabel(column);
    }

    @Override
    public Object read(ResultSet row, int column, SqlType type) throws SQLException {
        if (speaksOwn) {
            return shown(row, column, type);
        }
        Object value = given(row, column, type);
        if (value != null && ENDLESS.contains(value)) {
            // The standard's datetimes have none (ISO 9075-2, 4.6.2).
            throw new SQLException(
                    "the server gives infinity, which no variable of a date or time holds",
                    "22008");
        }
        return value;
    }

    /** A value that is there to be shown: infinity, and what is no number, by its word. */
    private Object shown(ResultSet row, int column, SqlType type) throws SQLException {
        if (type instanceof SqlType.Exact
                && NO_NUMBERS.contains(String.valueOf(row.getString(column)))) {
            return row.getString(column);
        }
        Object value = given(row, column, type);
        return value != null && ENDLESS.contains(value) ? row.getString(column) : value;
    }

    private Object given(ResultSet row, int column, SqlType type) throws SQLException {
        if (type instanceof SqlType.Array && row.getArray(column) != null) {
            Object[] elements = (Object[]) row.getArray(column).getArray();
            Object[] held = new Object[elements.length];
            for (int i = 0; i < held.length; i++) {
                held[i] =
                        speaksOwn && elements[i] instanceof Float number
                                ? Double.valueOf(number.toString())
                                : JavaTypes.held(elements[i]);
            }
            return held;
        }
        boolean open = type instanceof SqlType.Unknown || type instanceof SqlType.Interval;
        if (open
                && row.getMetaData().getColumnType(column) == Types.OTHER
                && row.getObject(column) instanceof PGInterval interval) {
            return PostgresIntervals.held(interval);
        }
        boolean zone =
                type instanceof SqlType.Time time && time.zone()
                        || type instanceof SqlType.Timestamp stamp && stamp.zone();
        return ServerValues.read(
                row,
                column,
                type,
                zone ? OffsetTime.class : LocalTime.class,
                zone ? OffsetDateTime.class : LocalDateTime.class);
    }

    private static final Set<String> NO_NUMBERS = Set.of("NaN", "Infinity", "-Infinity");

    /** How the driver gives infinity, and the infinity before all time. */
    private static final Set<Object> ENDLESS =
            Set.of(
                    LocalDate.MAX,
                    LocalDate.MIN,
                    LocalDateTime.MAX,
                    LocalDateTime.MIN,
                    OffsetDateTime.MAX,
                    OffsetDateTime.MIN);

    @Override
    public Object driverValue(Object value, SqlType type) {
        changes.touched();
        if (value instanceof Object[] elements && type instanceof SqlType.Array array) {
            try {
                return connection.createArrayOf(
                        type(array.element()).toLowerCase(Locale.ROOT), elements);
            } catch (SQLException e) {
                // The driver knows no such type; it says so itself where the value is sent.
                return value;
            }
        }
        return value instanceof IntervalValue interval ? PostgresIntervals.sent(interval) : value;
    }

    /** What is wrong with a marker of a type that only its value tells is nothing yet. */
    private static final Set<String> OPEN_TYPES = Set.of("42725", "42P18", "42883", "42804");

    /** The driver asks nothing until a statement is run, or its columns are wanted. */
    @Override
    public void validate(String sql) throws SQLException {
        mustAnswer();
        Savepoint mark = connection.setSavepoint();
        try (PreparedStatement statement = connection.prepareStatement(sql)) {
            statement.getMetaData();
        } catch (SQLException e) {
            if (!OPEN_TYPES.contains(e.getSQLState())) {
                throw e;
            }
        } finally {
            connection.rollback(mark);
            connection.releaseSavepoint(mark);
        }
    }

    @Override
    public String ownTable(String key) {
        return plain(key);
    }

    @Override
    public Object mark() throws SQLException {
        mustAnswer();
        return guard.mark();
    }

    @Override
    public void letCommit(boolean on) throws SQLException {
        if (on) {
            connection.commit();
            guard.forget();
            altered = true;
        }
        connection.setAutoCommit(on);
        changes.touched();
    }

    @Override
    public void rollbackTo(Object mark) throws SQLException {
        if (altered) {
            // What a routine has committed is gone with the database alone.
            connection.rollback();
            guard.forget();
            changes.touched();
            return;
        }
        guard.rollbackTo((String) mark);
        redeclare();
        changes.touched();
    }

    @Override
    public void empty(String table) throws SQLException {
        mustAnswer();
        try (Statement statement = connection.createStatement()) {
            if (joined) {
                declare(ownTable(table), declared.get(ownTable(table)));
            }
            statement.execute("TRUNCATE pg_temp." + ownTable(table) + " RESTART IDENTITY");
        }
    }

    @Override
    public void seeClock(UnaryOperator<String> texts, UnaryOperator<String> parts) {
        sent = texts;
        made = parts;
        clocked = true;
    }

    /** Routines of its own language ask the server for the time, but where they are made not to. */
    @Override
    public boolean hasClock() {
        return !speaksOwn || clocked;
    }

    @Override
    public Optional<StandingServer> standing() {
        return Optional.ofNullable(standing);
    }

    @Override
    public void standing(StandingServer server) {
        standing = server;
        changes.touched();
    }

    @Override
    public long position() throws SQLException {
        return standing == null ? changes.position() : changes.position(standing);
    }

    @Override
    public List<RowChange> changesSince(long position) throws SQLException {
        if (standing != null) {
            return changes.since(position, standing);
        }
        return changes.since(position, this::shown);
    }

    /** The server's own estimate for a change; for a query it runs it, and counts. */
    @Override
    public List<AccessPath> accessPaths(String sql, Object[] values) throws SQLException {
        mustAnswer();
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
        guard.turn(on);
    }

    @Override
    public boolean isGuarded() {
        return guard.isOn();
    }

    @Override
    public String guarded(String sql) {
        return guard.text(sql);
    }

    @Override
    public boolean executeGuarded(PreparedStatement statement) throws SQLException {
        return guard.execute(statement);
    }

    /** Schema statements are part of the transaction here. */
    @Override
    public void schemaChanged() {
        changes.touched();
    }

    @Override
    public void attach(Session attached) {
        session = attached;
        changes.touched();
        guard.forget();
        if (scratch || parts.isPlaced() || clocked) {
            try {
                clock(attached);
            } catch (SQLException e) {
                // The connection is gone; the first statement of the run will say so.
                return;
            }
        }
    }

    private void clock(Session of) throws SQLException {
        String now = java.sql.Timestamp.valueOf(of.now().toLocalDateTime()).toString();
        execute("SELECT set_config('" + PostgresTables.CLOCK + "', '" + now + "', FALSE)");
        if (clocked) {
            execute(
                    "SELECT set_config('"
                            + PostgresTables.MOMENT
                            + "', CAST(date_part('epoch', timestamptz '"
                            + now
                            + "') AS text), FALSE)");
        }
    }

    @Override
    public void detach(Session attached) {
        session = null;
        changes.touched();
        guard.forget();
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
        guard.forget();
        numbers = new LinkedHashMap<>();
        try (Statement statement = connection.createStatement();
                ResultSet row =
                        statement.executeQuery(
                                "SELECT format('%I.%I', schemaname, sequencename),"
                                        + " COALESCE(last_value, start_value) || ', ' || (last_value IS NOT NULL)"
                                        + " FROM pg_sequences WHERE "
                                        + (speaksOwn
                                                ? "schemaname NOT LIKE 'pg\\_%'"
                                                : "schemaname = current_schema"))) {
            while (row.next()) {
                numbers.put(row.getString(1), row.getString(2));
            }
        }
    }

    @Override
    public void restore() throws SQLException {
        if (altered) {
            connection.rollback();
            return;
        }
        connection.rollback(kept);
        guard.forget();
        if (scratch || speaksOwn) {
            // Numbers that were used up are not given back by a rollback.
            for (Map.Entry<String, String> number : numbers.entrySet()) {
                execute("SELECT setval('" + number.getKey() + "', " + number.getValue() + ")");
            }
        }
        redeclare();
        changes.touched();
    }

    /** The tables of blocks that a rollback has taken away with it. */
    private void redeclare() throws SQLException {
        if (joined) {
            // Each is made when it is used.
            return;
        }
        for (Map.Entry<String, String> table : declared.entrySet()) {
            declare(table.getKey(), table.getValue());
        }
    }

    private void declare(String table, String definition) throws SQLException {
        execute("CREATE TEMPORARY TABLE IF NOT EXISTS " + table + " " + definition);
    }

    @Override
    public boolean isAltered() {
        return altered;
    }

    @Override
    public void seed(int seed) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute("SELECT setseed(" + 1.0 / (1 + Math.abs((double) seed)) + ")");
        }
    }

    @Override
    public Answer declareTable(String name, String definition) {
        String table = plain(name);
        String made =
                PostgresTables.translated(NAMES.definition(definition))
                        .replaceAll("(?s)^(AS .* FROM )\"(\\w+)\"$", "$1$2");
        String known = declared.get(table);
        if (known != null && !known.equals(made)) {
            return new Answer.Refused(
                    new Condition(
                            "0A000",
                            "there is a table "
                                    + table
                                    + " of another shape in the session, and the server knows one of a name"));
        }
        try {
            if (known == null) {
                Savepoint mark = connection.setSavepoint();
                try {
                    execute("CREATE TEMPORARY TABLE " + table + " " + made);
                } catch (SQLException e) {
                    connection.rollback(mark);
                    throw e;
                }
                declared.put(table, made);
            }
            Table found =
                    new PostgresCatalog(connection, speaksOwn).temporary(table.replace("\"", ""));
            return new Answer.Declared(found, name);
        } catch (SQLException e) {
            return new Answer.Refused(condition(e));
        }
    }

    /** A key as the server writes it: what nobody put in quotes is in small letters. */
    private static String plain(String key) {
        return key.equals(key.toUpperCase(Locale.ROOT))
                ? NAMES.unreserved(key.toLowerCase(Locale.ROOT))
                : EmbeddedDatabase.quoted(key);
    }

    @Override
    public boolean knowsOverlaps() {
        return true;
    }

    /** The schema of a module has the run's mark behind its name. */
    @Override
    public String called(String key) {
        int dot = key.indexOf('.');
        String module = key.substring(0, dot).toLowerCase(Locale.ROOT);
        return parts.schemas().stream()
                .filter(s -> s.toLowerCase(Locale.ROOT).startsWith(module + "_"))
                .map(s -> s + key.substring(dot).toLowerCase(Locale.ROOT))
                .findFirst()
                .orElse('"' + key + '"');
    }

    /** What its own code has said by RAISE NOTICE and its kin. */
    /** What probes say begins so, which nobody has said. */
    public static final String PROBE = "CANTINA ";

    @Override
    public List<String> notices(Statement statement) throws SQLException {
        SQLWarning first = statement.getWarnings();
        if (first == null) {
            return List.of();
        }
        List<String> notices = new ArrayList<>();
        for (SQLWarning one = first; one != null; one = one.getNextWarning()) {
            if (!one.getMessage().startsWith(PROBE)) {
                notices.add(one.getMessage());
            }
        }
        statement.clearWarnings();
        return notices;
    }

    @Override
    public Optional<List<String>> identityAfter(Table table) {
        return Optional.of(List.of("", " RETURNING ctid"));
    }

    @Override
    public String rowIdentity() {
        return "ctid";
    }

    /** A marker whose length is told: what is described has it too. */
    private String sized(SqlType type) {
        return type instanceof SqlType.Text text
                        && text.shape() == SqlType.Shape.FIXED
                        && text.length() > 0
                ? "CAST(? AS CHARACTER(" + text.length() + "))"
                : parameter(type);
    }

    @Override
    public synchronized Answer describe(List<String> pieces, List<SqlType> parameters) {
        StringBuilder text = new StringBuilder(pieces.get(0));
        for (int i = 0; i < parameters.size(); i++) {
            String marker = sized(parameters.get(i));
            // No value is known, nor wanted.
            text.append(standing == null ? marker : marker.replace("?", "NULL"));
            text.append(pieces.get(i + 1));
        }
        try {
            if (standing != null) {
                return new Answer.Taken(StandingColumns.of(standing, words(text.toString())));
            }
            Savepoint mark = connection.setSavepoint();
            try (PreparedStatement statement =
                    connection.prepareStatement(words(text.toString()))) {
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

    /** The connection is busy with a routine that stands, and would never answer. */
    private void mustAnswer() throws SQLException {
        if (standing != null) {
            throw new SQLException(
                    "the server stands in a routine, and does nothing else meanwhile", "0A000");
        }
    }

    @Override
    public void commit() throws SQLException {
        parts.mayBeKept();
        changes.unwatch();
        parts.takeAway();
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
