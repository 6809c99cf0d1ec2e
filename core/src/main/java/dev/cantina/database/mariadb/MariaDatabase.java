package dev.cantina.database.mariadb;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Table;
import dev.cantina.database.DatabaseException;
import dev.cantina.database.ProjectDatabase;
import dev.cantina.database.ServerDatabase;
import dev.cantina.database.ServerKind;
import dev.cantina.database.ServerNames;
import dev.cantina.database.ServerPart;
import dev.cantina.database.ServerValues;
import dev.cantina.database.UnreachableException;
import dev.cantina.facts.KeptBlanks;
import dev.cantina.runtime.AccessPath;
import dev.cantina.runtime.RowChange;
import dev.cantina.runtime.Session;
import dev.cantina.runtime.StandingServer;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlText;
import dev.cantina.syntax.SqlWalk;
import dev.cantina.syntax.TextEdits;
import dev.cantina.syntax.Unit;
import dev.cantina.types.Condition;
import dev.cantina.types.SqlType;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.sql.Statement;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;

/**
 * A MariaDB server. The routines' own code runs in Cantina, the server runs the data statements, in
 * one transaction. The server commits at every schema statement, so what needs some stands in a
 * scratch database, which is removed afterwards; what a dead run has left, the next one removes.
 */
public final class MariaDatabase implements ServerDatabase {
    /** The names of scratch databases begin so; each holds a lock of its name. */
    public static final String SCRATCH = "cantina_scratch_";

    private final Connection connection;
    private final MariaCircles circles;
    private final Map<String, String> declared;
    private Opener opener;

    /** Whether another has made the database that this one works in. */
    private boolean joined;

    private Session session;
    private MariaChanges changes;
    private String own = "";
    private boolean lasting;
    private boolean speaksOwn;
    private StandingServer standing;
    private boolean borrowed;
    private String real = "";
    private boolean altered;

    /** Whether the connection keeps values from one run to the next: the variables of packages. */
    private boolean remembers;

    private Map<String, Long> numbers = Map.of();

    /**
     * @param connection in a transaction; this object closes it
     */
    public MariaDatabase(Connection connection) {
        this(connection, new ConcurrentHashMap<>());
    }

    private MariaDatabase(Connection connection, Map<String, String> declared) {
        this.declared = declared;
        this.connection = connection;
        this.circles = new MariaCircles(connection);
    }

    @Override
    public void reachedBy(Opener how) {
        opener = how;
    }

    @Override
    public ProjectDatabase beside(List<Table> known) throws SQLException {
        Connection another = opener.open();
        try {
            MariaDatabase made = new MariaDatabase(another, declared);
            made.joined = true;
            made.own = own;
            made.lasting = true;
            made.execute("USE " + own);
            made.number = ((org.mariadb.jdbc.Connection) another).getThreadId();
            another.setCatalog(own);
            another.commit();
            return made;
        } catch (SQLException e) {
            another.close();
            throw e;
        }
    }

    /** The server's number of this connection; 0 until somebody asks. */
    private long number;

    @Override
    public boolean waitsForLock(ProjectDatabase another, Thread by) throws SQLException {
        try (Statement statement = connection.createStatement();
                ResultSet row =
                        statement.executeQuery(
                                "SELECT COUNT(*) FROM information_schema.INNODB_TRX WHERE"
                                        + " trx_state = 'LOCK WAIT' AND trx_mysql_thread_id = "
                                        + ((MariaDatabase) another).number)) {
            row.next();
            return row.getInt(1) > 0;
        }
    }

    /** The server looks at its transactions at most so often, and says the same meanwhile. */
    @Override
    public int lockWaitPauseMillis() {
        return 120;
    }

    /** Each answer is a new one. */
    @Override
    public int lockWaitLooks() {
        return 1;
    }

    /** The clock of the session is that of what the server runs by itself. */
    @Override
    public <T> T running(Running<T> work) throws SQLException {
        if (joined && session != null) {
            clock(session.now().toLocalDateTime());
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
        touched();
    }

    @Override
    public void abandon(String prefix, String mark) throws SQLException {
        connection.rollback();
        execute("DROP DATABASE IF EXISTS " + prefix + mark);
        sweep(connection, prefix);
    }

    @Override
    public List<Table> tables() throws SQLException {
        return new MariaCatalog(connection).tables();
    }

    @Override
    public void install(Catalog catalog) throws SQLException {
        remembers = speaksOwn && hasPackages();
        List<Table> tables = catalog.tables().stream().filter(t -> !t.view()).toList();
        changes =
                own.isEmpty() || borrowed
                        ? new MariaSnapshots(connection, tables, this::read)
                        : new MariaLog(connection, tables, this::read);
    }

    @Override
    public void speakOwn() throws SQLException {
        speaksOwn = true;
        MariaSession.beginOwn(connection);
        scratch();
    }

    @Override
    public ServerKind kind() {
        return new MariaKind();
    }

    @Override
    public void scratch() throws SQLException {
        sweep(connection, SCRATCH);
        String name =
                SCRATCH + Long.toHexString(System.nanoTime()) + "_" + ProcessHandle.current().pid();
        begin(name);
    }

    @Override
    public void scratch(String name) throws SQLException {
        lasting = true;
        begin(name);
    }

    private void begin(String name) throws SQLException {
        execute("DO GET_LOCK('" + name + "', 0)");
        try {
            execute(
                    "CREATE DATABASE "
                            + name
                            + (speaksOwn
                                    ? ""
                                    : " CHARACTER SET utf8mb4 COLLATE " + MariaSession.COLLATION));
        } catch (SQLException e) {
            if (e.getErrorCode() != 1044) {
                throw e;
            }
            throw new UnreachableException(
                    "the user may not make a scratch database, in which a fixture's tables stand, and"
                            + " functions that SQL calls; grant all rights on `cantina\\_%`.*");
        }
        own = name;
        // What a block declared was made where the connection was before.
        declared.clear();
        execute("USE " + name);
        connection.setCatalog(name);
    }

    /** Removes databases whose names begin so and whose locks nobody holds. */
    public static void sweep(Connection connection, String prefix) throws SQLException {
        List<String> left = new ArrayList<>();
        try (PreparedStatement statement =
                connection.prepareStatement(
                        "SELECT SCHEMA_NAME FROM information_schema.SCHEMATA"
                                + " WHERE LEFT(SCHEMA_NAME, ?) = ? AND IS_FREE_LOCK(SCHEMA_NAME)")) {
            statement.setInt(1, prefix.length());
            statement.setString(2, prefix);
            try (ResultSet row = statement.executeQuery()) {
                while (row.next()) {
                    left.add(row.getString(1));
                }
            }
        }
        try (Statement statement = connection.createStatement()) {
            for (String name : left) {
                statement.execute("DROP DATABASE IF EXISTS " + name);
            }
        }
    }

    private void execute(String sql) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.setEscapeProcessing(false);
            statement.execute(sql);
        }
    }

    @Override
    public List<ServerPart> place(List<ServerPart> parts) throws SQLException {
        says |= parts.stream().anyMatch(p -> p.create().contains(SAYS));
        if (parts.isEmpty()) {
            return List.of();
        }
        if (own.isEmpty()) {
            borrow();
        }
        if (speaksOwn) {
            // The server keeps with each how the session was set that made it.
            MariaSession.execute(connection, MariaSession.statements());
        }
        try {
            return made(parts);
        } finally {
            if (speaksOwn) {
                MariaSession.execute(connection, MariaSession.ownStatements());
            }
        }
    }

    private List<ServerPart> made(List<ServerPart> parts) throws SQLException {
        List<ServerPart> made = new ArrayList<>();
        for (ServerPart part : parts) {
            if (borrowed && part.identity().startsWith("trigger ")) {
                checkShipped(part.identity().replaceFirst("^trigger ", ""));
                continue;
            }
            try {
                execute(part.create());
                made.add(part);
            } catch (SQLException e) {
                throw new UnreachableException(
                        "the server refuses "
                                + part.identity()
                                + ", which SQL or a trigger calls: "
                                + condition(e).message());
            }
        }
        return made;
    }

    /**
     * A scratch database for functions, in which the tables of the real one are seen by views that
     * can be written through.
     */
    private void borrow() throws SQLException {
        borrowed = true;
        real = connection.getCatalog();
        List<Table> tables = tables();
        scratch();
        for (Table table : tables) {
            String name = MariaSession.quoted(table.name());
            execute(
                    "CREATE SQL SECURITY INVOKER VIEW "
                            + name
                            + " AS SELECT * FROM "
                            + MariaSession.quoted(real)
                            + "."
                            + name);
        }
    }

    /** A trigger on a table that is somebody's own: the server must set it off by itself. */
    private void checkShipped(String trigger) throws SQLException {
        try (PreparedStatement statement =
                connection.prepareStatement(
                        "SELECT COUNT(*) FROM information_schema.TRIGGERS"
                                + " WHERE TRIGGER_SCHEMA = ? AND TRIGGER_NAME = ?")) {
            statement.setString(1, real);
            statement.setString(2, trigger.replace("`", ""));
            try (ResultSet row = statement.executeQuery()) {
                row.next();
                if (row.getInt(1) == 0) {
                    throw new UnreachableException(
                            "the trigger "
                                    + trigger
                                    + " can't stand on "
                                    + real
                                    + " for one run alone: MariaDB would set it off for everybody;"
                                    + " run with --fixture, or ship it first");
                }
            }
        }
    }

    @Override
    public boolean heedsCase() {
        return true;
    }

    private static final ServerNames NAMES = ServerNames.mariadb();

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
        return cascaded(connection);
    }

    /** What foreign keys do with the rows of which tables, which sets off no trigger there. */
    public static Map<String, Set<Unit.Event>> cascaded(Connection connection) throws SQLException {
        return ServerValues.cascaded(
                connection,
                "SELECT TABLE_NAME, DELETE_RULE, UPDATE_RULE"
                        + " FROM information_schema.REFERENTIAL_CONSTRAINTS"
                        + " WHERE CONSTRAINT_SCHEMA = DATABASE()",
                MariaCatalog::key);
    }

    @Override
    public void create(Source script) throws DatabaseException {
        for (Span span : Parser.statements(script)) {
            try {
                execute(MariaStatementRewriter.of(span.text()));
            } catch (SQLException e) {
                throw new DatabaseException(
                        Problem.error(
                                span,
                                "refused-sql",
                                "the server refuses this: " + condition(e).message()));
            }
        }
    }

    /** The server goes on after the numbers that are there by itself. */
    @Override
    public void numberOn(List<Table> tables) {}

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
    public List<String> inReferenceOrder(List<String> tables) throws SQLException {
        return ServerValues.inReferenceOrder(
                connection,
                "SELECT TABLE_NAME, REFERENCED_TABLE_NAME"
                        + " FROM information_schema.REFERENTIAL_CONSTRAINTS"
                        + " WHERE CONSTRAINT_SCHEMA = DATABASE()",
                MariaCatalog::key,
                tables);
    }

    @Override
    public String written(String name, String key) {
        return MariaSession.quoted(name);
    }

    @Override
    public Connection connection() {
        return connection;
    }

    @Override
    public String words(String statement) {
        return speaksOwn ? statement : MariaStatementRewriter.of(fixed(statement));
    }

    /** How a CHAR is sent, before it is known where it stands. */
    private static final String FIXED = "CAST(? AS CHAR CHARACTER SET utf8mb4)";

    /** A CHAR beside a comparison goes without the blanks that a column's value has not there. */
    private static String fixed(String statement) {
        if (!statement.contains(FIXED)) {
            return statement;
        }
        SqlText text = SqlText.of(statement);
        TextEdits edits = new TextEdits(text.span());
        SqlWalk.each(
                text.tree(),
                found -> {
                    Span span = found.expression().span();
                    if (found.expression() instanceof Expression.Cast
                            && span.text().equals(FIXED)) {
                        edits.put(span, KeptBlanks.isCompared(found) ? "RTRIM(?)" : "?");
                    }
                });
        return edits.text();
    }

    @Override
    public String parameter(SqlType type) {
        touched();
        if (type instanceof SqlType.Date) {
            return "CAST(? AS DATE)";
        }
        if (type instanceof SqlType.Timestamp stamp) {
            return "CAST(? AS DATETIME(" + Math.min(6, stamp.precision()) + "))";
        }
        if (type instanceof SqlType.Time time) {
            return "CAST(? AS TIME(" + Math.min(6, time.precision()) + "))";
        }
        if (type instanceof SqlType.Text text && text.shape() == SqlType.Shape.FIXED) {
            return FIXED;
        }
        return type instanceof SqlType.Approximate ? "CAST(? AS DOUBLE)" : "?";
    }

    private void touched() {
        if (changes != null) {
            changes.touched();
        }
    }

    /**
     * A query that divides by zero, casts a text that is no number, or a number that does not fit,
     * gives some value there, and a warning.
     */
    @Override
    public void checkWarnings(Statement query) throws SQLException {
        if (speaksOwn || query.getWarnings() == null) {
            return;
        }
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery("SHOW WARNINGS")) {
            while (row.next()) {
                int code = row.getInt(2);
                // A text that is cut by a CAST is meant to be.
                boolean warning =
                        row.getString(1).equals("Warning")
                                && !row.getString(3)
                                        .matches("(?s)Truncated incorrect (VAR)?(CHAR|BINARY).*");
                if (code == DIVISION_BY_ZERO) {
                    throw new SQLException("division by zero", "22012", code);
                }
                if (warning && (code == WRONG_VALUE || code == OUT_OF_RANGE) || code == OVERFLOW) {
                    throw new SQLException(row.getString(3), "22000", code);
                }
            }
        }
    }

    private static final String SAYS = "@cantina_says";

    /** Whether code on the server may report lines, which it keeps in a variable. */
    private boolean says;

    @Override
    public List<String> notices(Statement run) throws SQLException {
        if (!says || run.isClosed()) {
            return List.of();
        }
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery("SELECT " + SAYS)) {
            String lines = row.next() ? row.getString(1) : null;
            if (lines == null) {
                return List.of();
            }
            statement.execute("SET " + SAYS + " = NULL");
            return List.of(lines.split("\n", -1));
        }
    }

    /** There is no such savepoint, for one. */
    private static final int NO_SUCH = 1305;

    private static final String KEPT = "cantina_kept";
    private static final int DIVISION_BY_ZERO = 1365;
    private static final int WRONG_VALUE = 1292;
    private static final int OUT_OF_RANGE = 1264;
    private static final int OVERFLOW = 1916;

    /** The driver asks nothing until a statement is run, or its columns are wanted. */
    @Override
    public void validate(String sql) throws SQLException {
        mustAnswer();
        try (PreparedStatement statement = connection.prepareStatement(sql)) {
            statement.getMetaData();
        }
    }

    @Override
    public Condition condition(SQLException error) {
        return speaksOwn ? MariaConditions.own(error) : MariaConditions.condition(error);
    }

    @Override
    public SqlType typeOf(ResultSetMetaData columns, int column) throws SQLException {
        String name = columns.getColumnTypeName(column).toLowerCase(Locale.ROOT);
        int precision = columns.getPrecision(column);
        int scale = columns.getScale(column);
        boolean truth = name.equals("boolean") || name.equals("tinyint") && precision == 1;
        // COUNT(*) || ':' is a text, which the server says is VARBINARY.
        boolean text = name.equals("varbinary") && columns.getTableName(column).isEmpty();
        // The standard has no numbers without a sign.
        String number = speaksOwn ? name : name.replace(" unsigned", "");
        SqlType type =
                MariaCatalog.type(
                        truth ? "boolean" : text ? "varchar" : number,
                        precision,
                        scale,
                        precision,
                        Math.min(scale, 6));
        return speaksOwn && type instanceof SqlType.Unknown ? SqlType.VARCHAR : type;
    }

    @Override
    public String columnName(ResultSetMetaData columns, int column) throws SQLException {
        return columns.getColumnLabel(column);
    }

    @Override
    public Object read(ResultSet row, int column, SqlType type) throws SQLException {
        return speaksOwn
                ? MariaValues.shown(row, column, type)
                : MariaValues.held(row, column, type);
    }

    @Override
    public Object driverValue(Object value, SqlType type) {
        touched();
        if (value instanceof Object[] || value instanceof dev.cantina.types.IntervalValue) {
            throw new dev.cantina.types.ConditionException(
                    "0A000", "MariaDB has no columns that hold this value: " + type.sql());
        }
        if (speaksOwn && type instanceof SqlType.Unknown && value instanceof String text) {
            return MariaValues.bytes(text).map(Object.class::cast).orElse(text);
        }
        return value;
    }

    @Override
    public Object mark() throws SQLException {
        mustAnswer();
        return connection.setSavepoint();
    }

    @Override
    public void rollbackTo(Object mark) throws SQLException {
        try {
            connection.rollback((Savepoint) mark);
        } catch (SQLException e) {
            if (!speaksOwn || e.getErrorCode() != NO_SUCH) {
                throw e;
            }
            // A routine has ended the transaction by itself.
            connection.rollback();
            altered = true;
        }
        touched();
    }

    /** TRUNCATE and ALTER would commit, even here; DROP and CREATE of such a table do not. */
    @Override
    public void empty(String table) throws SQLException {
        mustAnswer();
        String made = declared.getOrDefault(table, "");
        String name = MariaSession.quoted(table);
        if (joined && !made.isEmpty()) {
            execute("CREATE TEMPORARY TABLE IF NOT EXISTS " + name + " " + made);
        }
        if (made.contains("AUTO_INCREMENT")) {
            execute("CREATE OR REPLACE TEMPORARY TABLE " + name + " " + made);
        } else {
            execute("DELETE FROM " + name);
        }
    }

    @Override
    public Optional<StandingServer> standing() {
        return Optional.ofNullable(standing);
    }

    /** The connection is busy with a routine that stands, and would never answer. */
    private void mustAnswer() throws SQLException {
        if (standing != null) {
            throw new SQLException(
                    "the server stands in a routine, and does nothing else meanwhile", "0A000");
        }
    }

    @Override
    public void standing(StandingServer server) {
        standing = server;
        if (changes != null) {
            changes.reading(server == null ? null : server.connection());
        }
    }

    @Override
    public long position() throws SQLException {
        return changes == null ? 0 : changes.position();
    }

    @Override
    public List<RowChange> changesSince(long position) throws SQLException {
        return changes == null ? List.of() : changes.since(position);
    }

    /** The server's own estimate. */
    @Override
    public List<AccessPath> accessPaths(String sql, Object[] values) throws SQLException {
        mustAnswer();
        return MariaPlan.read(connection, sql, values);
    }

    @Override
    public void schemaChanged() {
        altered = true;
        touched();
    }

    /** The server's clock is the session's for as long as that lasts. */
    private boolean hasPackages() throws SQLException {
        try (Statement statement = connection.createStatement();
                ResultSet row =
                        statement.executeQuery(
                                "SELECT 1 FROM information_schema.ROUTINES WHERE ROUTINE_SCHEMA ="
                                        + " DATABASE() AND ROUTINE_TYPE = 'PACKAGE BODY' LIMIT 1")) {
            return row.next();
        }
    }

    /** The variables of the connection, which no transaction brings back, are those of one run. */
    private void forgetVariables() throws SQLException {
        StringBuilder set = new StringBuilder();
        try (Statement statement = connection.createStatement();
                ResultSet row =
                        statement.executeQuery(
                                "SELECT VARIABLE_NAME FROM information_schema.USER_VARIABLES")) {
            while (row.next()) {
                set.append(set.length() == 0 ? "SET @" : ", @")
                        .append(MariaSession.quoted(row.getString(1)))
                        .append(" = NULL");
            }
        }
        if (set.length() > 0) {
            execute(set.toString());
        }
    }

    @Override
    public void attach(Session attached) {
        session = attached;
        touched();
        try {
            clock(attached.now().toLocalDateTime());
            if (speaksOwn) {
                forgetVariables();
            }
        } catch (SQLException e) {
            // The connection is gone; the first statement of the run will say so.
            return;
        }
    }

    /** Makes it a moment on the server, for this connection. */
    public void clock(LocalDateTime now) throws SQLException {
        execute(
                "SET timestamp = "
                        + now.toEpochSecond(ZoneOffset.UTC)
                        + String.format(Locale.ROOT, ".%06d", now.getNano() / 1000));
    }

    @Override
    public void detach(Session attached) {
        session = null;
        touched();
        // Only another connection begins with fresh ones.
        altered |= remembers;
        try {
            execute("SET timestamp = DEFAULT");
        } catch (SQLException e) {
            // The connection is gone; whoever uses it next will hear of it.
            return;
        }
    }

    @Override
    public void keep() throws SQLException {
        connection.commit();
        numbers = numbers();
        altered = false;
        if (speaksOwn) {
            execute("SAVEPOINT " + KEPT);
        }
    }

    private Map<String, Long> numbers() throws SQLException {
        Map<String, Long> found = new LinkedHashMap<>();
        try (Statement statement = connection.createStatement();
                ResultSet row =
                        statement.executeQuery(
                                "SELECT TABLE_NAME, AUTO_INCREMENT FROM information_schema.TABLES"
                                        + " WHERE TABLE_SCHEMA = DATABASE()"
                                        + " AND AUTO_INCREMENT IS NOT NULL"
                                        + " AND LEFT(TABLE_NAME, 8) <> 'cantina_'")) {
            while (row.next()) {
                found.put(row.getString(1), row.getLong(2));
            }
        }
        return found;
    }

    @Override
    public void restore() throws SQLException {
        if (speaksOwn) {
            try {
                execute("ROLLBACK TO SAVEPOINT " + KEPT);
            } catch (SQLException e) {
                if (e.getErrorCode() != NO_SUCH) {
                    throw e;
                }
                // What a routine has committed is gone with the database alone.
                altered = true;
            }
        }
        connection.rollback();
        if (!own.isEmpty()) {
            // Numbers that were used up are not given back by a rollback.
            boolean numbersReset = false;
            for (Map.Entry<String, Long> now : numbers().entrySet()) {
                Long before = numbers.get(now.getKey());
                if (before != null && !before.equals(now.getValue())) {
                    numbersReset = true;
                    execute(
                            "ALTER TABLE "
                                    + MariaSession.quoted(now.getKey())
                                    + " AUTO_INCREMENT = "
                                    + before);
                }
            }
            if (speaksOwn && numbersReset) {
                // A routine that has run reads the text of its cursors once more when a table was
                // altered, and trips over a line end before it; a new routine makes it read anew.
                execute("CREATE OR REPLACE PROCEDURE cantina_anew() BEGIN END");
            }
        }
        if (speaksOwn) {
            execute("SAVEPOINT " + KEPT);
        }
        touched();
    }

    @Override
    public boolean isAltered() {
        return altered;
    }

    @Override
    public void seed(int seed) throws SQLException {
        execute("SET rand_seed1 = " + Math.abs((long) seed) + ", rand_seed2 = 1");
    }

    @Override
    public Answer declareTable(String name, String definition) {
        String table =
                name.equals(name.toUpperCase(Locale.ROOT)) ? name.toLowerCase(Locale.ROOT) : name;
        String made =
                MariaStatementRewriter.of(NAMES.definition(definition))
                        .replaceAll("(?s)^(AS .* FROM )\"(\\w+)\"$", "$1$2");
        String known = declared.get(table);
        if (known != null && !known.equals(made)) {
            return new Answer.Refused(
                    new Condition(
                            "0A000",
                            "there is a table "
                                    + table
                                    + " of another shape in the session, and the server knows one"
                                    + " of a name"));
        }
        try {
            if (known == null) {
                execute("CREATE TEMPORARY TABLE " + MariaSession.quoted(table) + " " + made);
                declared.put(table, made);
            }
            return new Answer.Declared(new MariaCatalog(connection).temporary(table), table);
        } catch (SQLException e) {
            return new Answer.Refused(condition(e));
        }
    }

    @Override
    public boolean cutsQuotients() {
        return false;
    }

    /** BOOLEAN is another word for TINYINT(1), and what is compared is an INT. */
    @Override
    public boolean knowsBooleans() {
        return false;
    }

    /** Its functions have no defaults. */
    @Override
    public boolean hasFunction(String name, int arguments) {
        return MariaFunctions.has(name);
    }

    @Override
    public boolean wantsAllArguments() {
        return true;
    }

    @Override
    public String function(String name) {
        return ServerNames.mariadb().beginning(name);
    }

    @Override
    public String called(String key) {
        return key;
    }

    /** What identifies a row has no name there: see the refusals of positioned changes. */
    @Override
    public String rowIdentity() {
        return "_rowid";
    }

    @Override
    public synchronized Answer describe(List<String> pieces, List<SqlType> parameters) {
        Answer typed = describe(pieces, parameters, this::described);
        // Some places take a marker and no CAST of one: LIMIT does.
        return typed instanceof Answer.Refused
                ? describe(
                        pieces,
                        parameters,
                        t -> t instanceof SqlType.Text ? described(t) : parameter(t))
                : typed;
    }

    private Answer describe(
            List<String> pieces, List<SqlType> parameters, Function<SqlType, String> marker) {
        StringBuilder text = new StringBuilder(pieces.get(0));
        for (int i = 0; i < parameters.size(); i++) {
            text.append(marker.apply(parameters.get(i)));
            text.append(pieces.get(i + 1));
        }
        String words = words(text.toString());
        if (MariaStatementRewriter.hasNullCases(words)) {
            return new Answer.Refused(
                    new Condition(
                            "0A000",
                            "MariaDB finds nothing behind a WHEN that is NULL; write CASE WHEN … = …"
                                    + " in place of CASE … WHEN",
                            Map.of()));
        }
        Connection asked = standing == null ? connection : standing.connection();
        try (PreparedStatement statement = asked.prepareStatement(words)) {
            ResultSetMetaData columns = statement.getMetaData();
            List<SqlType.Field> fields = new ArrayList<>();
            for (int i = 1; columns != null && i <= columns.getColumnCount(); i++) {
                SqlType type = typeOf(columns, i);
                boolean column = !columns.getTableName(i).isEmpty();
                boolean guessed = !column && !parameters.isEmpty();
                fields.add(
                        new SqlType.Field(
                                columnName(columns, i), guessed ? unbounded(type) : type));
            }
            return new Answer.Taken(fields);
        } catch (SQLException e) {
            return new Answer.Refused(condition(e));
        }
    }

    /** To the server a marker by itself is of bytes, and so is what is made of it. */
    private String described(SqlType type) {
        if (type instanceof SqlType.Text) {
            return "CAST(? AS CHAR)";
        }
        if (type instanceof SqlType.Integral) {
            return "CAST(? AS SIGNED)";
        }
        if (type instanceof SqlType.Exact exact) {
            boolean bounded = exact.precision() > 0 && exact.precision() <= 65;
            return bounded
                    ? "CAST(? AS DECIMAL(" + exact.precision() + ", " + exact.scale() + "))"
                    : "CAST(? AS DECIMAL(65, 30))";
        }
        return parameter(type);
    }

    /** What is made of a marker has a length and digits that are not known before it is run. */
    private static SqlType unbounded(SqlType type) {
        if (type instanceof SqlType.Text text && text.shape() == SqlType.Shape.VARYING) {
            return SqlType.VARCHAR;
        }
        return type instanceof SqlType.Exact ? SqlType.DECIMAL : type;
    }

    @Override
    public void commit() throws SQLException {
        connection.commit();
    }

    @Override
    public void close() throws SQLException {
        try {
            connection.rollback();
            if (!own.isEmpty() && !lasting) {
                execute("DROP DATABASE IF EXISTS " + own);
            }
        } finally {
            connection.close();
        }
    }
}
