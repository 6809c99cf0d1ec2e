package dev.cantina.database.embedded;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Column;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.Table;
import dev.cantina.database.DatabaseException;
import dev.cantina.database.ProjectDatabase;
import dev.cantina.database.ServerNames;
import dev.cantina.database.ServerValues;
import dev.cantina.runtime.AccessPath;
import dev.cantina.runtime.RowChange;
import dev.cantina.runtime.Session;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.Unit;
import dev.cantina.types.Condition;
import dev.cantina.types.ConditionException;
import dev.cantina.types.IntervalValue;
import dev.cantina.types.SqlType;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.time.OffsetTime;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.HashMap;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.function.IntPredicate;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.h2.engine.Constants;
import org.h2.engine.SessionLocal;
import org.h2.jdbc.JdbcConnection;
import org.h2.mvstore.db.MVTable;
import org.h2.mvstore.tx.Transaction;
import org.h2.schema.Schema;
import org.h2.schema.SchemaObject;
import org.h2.schema.Sequence;

/**
 * H2, in memory and private to its maker. Triggers and functions of the project run in the session
 * that is attached. Several may share the same rows, each with a connection and transactions of its
 * own ({@link #beside}); those belong to the first, which must outlive them.
 */
public final class EmbeddedDatabase implements ProjectDatabase {
    private static final Pattern MOMENT =
            Pattern.compile(
                    "\\b(CURRENT_DATE|CURRENT_TIMESTAMP|CURRENT_TIME|LOCALTIMESTAMP|LOCALTIME)\\b(?:\\(\\d+\\))?");
    private static final Map<String, Class<?>> MOMENTS =
            Map.of(
                    "CURRENT_DATE", LocalDate.class,
                    "CURRENT_TIME", OffsetTime.class,
                    "CURRENT_TIMESTAMP", OffsetDateTime.class,
                    "LOCALTIME", LocalTime.class,
                    "LOCALTIMESTAMP", LocalDateTime.class);

    private final Connection connection;
    private final EmbeddedRights rights;
    private final Map<String, String> spellings;
    private final EntryLoader loader;
    private final ChangeLog changes;

    /** What was described already; the same statement stands in many routines. */
    private final Map<String, Answer> answers;

    private final EmbeddedTriggers triggers;
    private final EmbeddedTables tables;

    /** The first of those that share their rows. */
    private final EmbeddedDatabase first;

    /** Those that were opened beside this one. */
    private final List<EmbeddedDatabase> others = new CopyOnWriteArrayList<>();

    /** Which of them runs a statement on this thread. */
    private final ThreadLocal<EmbeddedDatabase> running = new ThreadLocal<>();

    /** The statements that change rows right now, by the triggers that they have reached. */
    private final Map<Object, Deque<EmbeddedTriggers.Begun>> begun = new IdentityHashMap<>();

    private EmbeddedConditions conditions;
    private Session session;
    private Map<String, Long> kept = Map.of();
    private boolean altered;

    private EmbeddedDatabase(Connection connection, EmbeddedRights rights) {
        this.connection = connection;
        this.rights = rights;
        this.first = this;
        this.spellings = new ConcurrentHashMap<>();
        this.answers = new ConcurrentHashMap<>();
        this.loader = new EntryLoader(this);
        this.changes = new ChangeLog((JdbcConnection) connection);
        this.triggers = new EmbeddedTriggers(this);
        this.tables = new EmbeddedTables(connection, spellings, this::condition);
    }

    private EmbeddedDatabase(Connection connection, EmbeddedDatabase first) {
        this.connection = connection;
        this.first = first;
        this.rights = first.rights;
        this.spellings = first.spellings;
        this.answers = first.answers;
        this.loader = first.loader;
        this.changes = first.changes.beside((JdbcConnection) connection);
        this.triggers = first.triggers;
        this.tables = first.tables.beside(connection);
    }

    /** Words that the engine would reserve and that tables and columns are often called. */
    private static final String NOT_RESERVED = "DAY,HOUR,KEY,MINUTE,MONTH,SECOND,VALUE,YEAR";

    private static final ServerNames NAMES = ServerNames.embedded();

    @Override
    public String name(String word) {
        return NAMES.unreserved(word);
    }

    @Override
    public Optional<String> result(SqlType returns) {
        boolean digits = returns instanceof SqlType.Exact exact && exact.precision() > 0;
        return digits ? Optional.of(returns.sql()) : Optional.empty();
    }

    /** An empty database. */
    public static EmbeddedDatabase open() throws SQLException {
        // A name that nobody guesses.
        Connection connection = connect("jdbc:h2:mem:" + UUID.randomUUID());
        try (Statement statement = connection.createStatement()) {
            statement.execute(
                    "CREATE ALIAS CANTINA_OVERLAPS FOR '"
                            + FunctionEntry.class.getName()
                            + ".overlaps'");
        }
        EmbeddedRights rights = new EmbeddedRights(connection);
        connection.setAutoCommit(false);
        return new EmbeddedDatabase(connection, rights);
    }

    private static Connection connect(String url) throws SQLException {
        return DriverManager.getConnection(url + ";NON_KEYWORDS=" + NOT_RESERVED);
    }

    @Override
    public boolean waitsForLock(ProjectDatabase another, Thread by) {
        for (StackTraceElement one : by.getStackTrace()) {
            boolean row =
                    one.getMethodName().equals("waitForThisToEnd")
                            && one.getClassName().equals(Transaction.class.getName());
            boolean table =
                    one.getMethodName().startsWith("doLock")
                            && one.getClassName().equals(MVTable.class.getName());
            if (row || table) {
                return true;
            }
        }
        return false;
    }

    /** A thread that may go on may not have begun to. */
    @Override
    public int lockWaitLooks() {
        return 5;
    }

    @Override
    public ProjectDatabase beside(List<Table> known) throws SQLException {
        Connection another = connect(connection.getMetaData().getURL());
        another.setAutoCommit(false);
        EmbeddedDatabase made = new EmbeddedDatabase(another, first);
        first.others.add(made);
        return made;
    }

    @Override
    public <T> T running(Running<T> work) throws SQLException {
        EmbeddedDatabase before = first.running.get();
        first.running.set(this);
        if (before != this) {
            // What a statement that failed has left behind.
            begun.clear();
        }
        try {
            return work.run();
        } finally {
            if (before == null) {
                first.running.remove();
            } else {
                first.running.set(before);
            }
        }
    }

    /** The one of those with the same rows whose statement runs. */
    EmbeddedDatabase here() {
        EmbeddedDatabase other = first.others.isEmpty() ? null : first.running.get();
        return other == null ? first : other;
    }

    ChangeLog changes() {
        return changes;
    }

    /** The statements that have reached a trigger, innermost first. */
    Deque<EmbeddedTriggers.Begun> begun(Object trigger) {
        return begun.computeIfAbsent(trigger, t -> new ArrayDeque<>());
    }

    /**
     * Runs a script of the project's tables.
     *
     * @throws DatabaseException with the statement that the engine refuses
     */
    @Override
    public void create(Source script) throws DatabaseException {
        Parser.spellings(script).forEach(spellings::putIfAbsent);
        for (Span span : Parser.statements(script)) {
            try (Statement statement = connection.createStatement()) {
                EmbeddedRights.admit(span.text());
                statement.execute(span.text());
            } catch (SQLException e) {
                throw new DatabaseException(
                        Problem.error(
                                span,
                                "refused-sql",
                                "the database refuses this: " + condition(e).message()));
            }
        }
    }

    @Override
    public void admit(String statement) throws SQLException {
        EmbeddedRights.admit(statement);
    }

    /** The tables as they are now. */
    @Override
    public List<Table> tables() throws SQLException {
        return new EmbeddedCatalog(connection, spellings).tables();
    }

    /**
     * Registers the triggers and the functions of a catalog with the engine, and from then on tells
     * the changes of its tables.
     */
    @Override
    public void install(Catalog catalog) throws SQLException {
        Thread thread = Thread.currentThread();
        ClassLoader before = thread.getContextClassLoader();
        thread.setContextClassLoader(loader);
        try (Statement statement = connection.createStatement()) {
            install(statement, catalog);
            connection.commit();
            changes.watch(catalog);
        } finally {
            thread.setContextClassLoader(before);
        }
    }

    private void install(Statement statement, Catalog catalog) throws SQLException {
        clockDefaults(statement, catalog);
        triggers.install(statement, catalog, loader.triggerClass());
        Set<String> named = new HashSet<>();
        for (RoutineSymbol routine : catalog.routines()) {
            if (routine.isFunction() && named.add(routine.key())) {
                function(statement, catalog.functions(routine.key()));
            }
        }
    }

    /** Column defaults take the session's clock too, by functions in the place of the moments. */
    private void clockDefaults(Statement statement, Catalog catalog) throws SQLException {
        java.util.Set<String> known = new HashSet<>();
        for (Table table : catalog.tables()) {
            for (Column column : table.columns()) {
                String initial = column.initial().orElse("");
                Matcher moment = MOMENT.matcher(initial);
                if (column.identity() || column.generated() || !moment.find()) {
                    continue;
                }
                if (known.isEmpty()) {
                    for (Map.Entry<String, Class<?>> entry : MOMENTS.entrySet()) {
                        String method = loader.momentEntry(entry.getKey(), entry.getValue());
                        register(
                                statement,
                                "CREATE ALIAS CANTINA_" + entry.getKey() + " FOR '" + method + "'");
                        known.add(entry.getKey());
                    }
                }
                statement.execute(
                        "ALTER TABLE "
                                + quoted(table.key())
                                + " ALTER COLUMN "
                                + quoted(column.key())
                                + " SET DEFAULT "
                                + moment.replaceAll("CANTINA_$1()"));
            }
        }
    }

    public static String quoted(String name) {
        return '"' + name.replace("\"", "\"\"") + '"';
    }

    /** Never as DETERMINISTIC: the engine would call it while a statement is only prepared. */
    private void function(Statement statement, List<RoutineSymbol> overloads) throws SQLException {
        String name = overloads.get(0).key();
        boolean plain = name.matches("[A-Z_][A-Z0-9_]*");
        if (plain && OWN.computeIfAbsent(name, this::knows)) {
            return;
        }
        register(
                statement,
                "CREATE ALIAS "
                        + quoted(overloads.get(0).key())
                        + " FOR '"
                        + loader.functionEntry(overloads)
                        + "'");
    }

    /** Registers a class of Cantina's own with the engine. */
    void register(Statement statement, String sql) throws SQLException {
        rights.register(statement, sql);
    }

    FiredTrigger fired(String trigger) {
        return triggers.fired(trigger);
    }

    Session session() {
        return here().session;
    }

    @Override
    public void attach(Session attached) {
        session = attached;
    }

    @Override
    public void detach(Session attached) {
        if (session == attached) {
            session = null;
        }
    }

    @Override
    public Connection connection() {
        return connection;
    }

    @Override
    public String parameter(SqlType type) {
        if (type instanceof SqlType.Interval interval) {
            boolean months = IntervalValue.isYearMonth(interval.fields());
            return "CAST(? AS INTERVAL "
                    + (months ? "YEAR(18) TO MONTH" : "DAY(18) TO SECOND(9)")
                    + ")";
        }
        return isUnbounded(type) ? "?" : "CAST(? AS " + type.sql() + ")";
    }

    private static boolean isUnbounded(SqlType type) {
        return type instanceof SqlType.Unknown
                || type instanceof SqlType.Exact exact && exact.precision() == 0
                || type instanceof SqlType.Row
                || type instanceof SqlType.Array array && isUnbounded(array.element());
    }

    @Override
    public Condition condition(SQLException error) {
        if (conditions == null) {
            conditions = new EmbeddedConditions(spellings, checks());
        }
        return conditions.condition(error);
    }

    private Map<String, String> checks() {
        Map<String, String> checks = new HashMap<>();
        try (Statement statement = connection.createStatement();
                ResultSet row =
                        statement.executeQuery(
                                "SELECT CONSTRAINT_NAME, CHECK_CLAUSE"
                                        + " FROM INFORMATION_SCHEMA.CHECK_CONSTRAINTS")) {
            while (row.next()) {
                checks.put(row.getString(1), row.getString(2));
            }
        } catch (SQLException e) {
            // Without the clauses the messages name the constraint alone.
            return Map.of();
        }
        return checks;
    }

    /** Which of the names that projects gave to functions the engine has functions of. */
    private static final Map<String, Boolean> OWN = new ConcurrentHashMap<>();

    private static final int FUNCTION_NOT_FOUND = 90022;

    /** The engine takes its own of a name, whatever arguments there are. */
    @Override
    public boolean hasFunction(String name, int arguments) {
        return OWN.getOrDefault(name, false);
    }

    /** Asks the engine for a function that the project has not given it yet. */
    private boolean knows(String name) {
        try (PreparedStatement call = connection.prepareStatement("CALL " + name + "()")) {
            return call != null;
        } catch (SQLException e) {
            return e.getErrorCode() != FUNCTION_NOT_FOUND;
        }
    }

    @Override
    public SqlType typeOf(ResultSetMetaData columns, int column) throws SQLException {
        int precision = columns.getPrecision(column);
        int scale = columns.getScale(column);
        return EmbeddedCatalog.type(
                columns.getColumnTypeName(column), precision, precision, scale, scale);
    }

    /**
     * What the engine adds where it names a column by its expression: a schema, types of variables.
     */
    private static final Pattern OWN_WORDS =
            Pattern.compile(
                    "\\bPUBLIC\\.|CAST\\((\\?)\\d+ AS [^()]*(?:\\([^()]*\\))?\\)|(\\?)\\d+");

    private static final String WRITTEN = "$1$2";

    @Override
    public String columnName(ResultSetMetaData columns, int column) throws SQLException {
        String label = columns.getColumnLabel(column);
        String spelt = spellings.get(label);
        return spelt != null ? spelt : OWN_WORDS.matcher(label).replaceAll(WRITTEN);
    }

    @Override
    public Object read(ResultSet row, int column, SqlType type) throws SQLException {
        if (type instanceof SqlType.Integral) {
            long value = row.getLong(column);
            return row.wasNull() ? null : (Object) value;
        }
        if (type instanceof SqlType.Time time && !time.zone()) {
            // What the driver gives otherwise has whole seconds.
            return row.getObject(column, LocalTime.class);
        }
        Object value =
                type instanceof SqlType.Json || type instanceof SqlType.Text
                        ? row.getString(column)
                        : JavaTypes.held(row.getObject(column));
        if (value instanceof Double number && !Double.isFinite(number)) {
            throw new ConditionException(EmbeddedConditions.notFinite(number.toString(), Map.of()));
        }
        return value;
    }

    @Override
    public Object driverValue(Object value, SqlType type) {
        if (value instanceof IntervalValue interval) {
            return JavaTypes.engine(interval);
        }
        return value;
    }

    /**
     * Lets NULL into columns, whose NOT NULL somebody else sees to. Those of a key can't be had
     * that way by a statement.
     */
    void allowNulls(Table table, IntPredicate columns) {
        org.h2.table.Table known =
                engine().getDatabase()
                        .getSchema(Constants.SCHEMA_MAIN)
                        .getTableOrView(engine(), table.key());
        for (int i = 0; i < table.columns().size(); i++) {
            if (columns.test(i)) {
                known.getColumn(table.columns().get(i).key()).setNullable(true);
            }
        }
    }

    private SessionLocal engine() {
        return (SessionLocal) ((JdbcConnection) connection).getSession();
    }

    /**
     * The next savepoint is one of this moment. The engine keeps the last one till a statement
     * begins: that of an UPDATE while its triggers run, whose first statement would be taken back
     * to it, and one that lies ahead after something was taken back.
     */
    void freshSavepoint() {
        engine().startStatementWithinTransaction(null);
    }

    /** By the engine's own session: a JDBC savepoint can't be gone back to inside a trigger. */
    @Override
    public Object mark() {
        freshSavepoint();
        return engine().setSavepoint();
    }

    @Override
    public void rollbackTo(Object mark) {
        engine().rollbackTo((SessionLocal.Savepoint) mark);
        freshSavepoint();
    }

    @Override
    public long position() {
        return changes.position();
    }

    @Override
    public boolean isBehind(long position) {
        return changes.position() < position;
    }

    @Override
    public List<RowChange> changesSince(long position) throws SQLException {
        return changes.since(position);
    }

    /** Triggers keep still meanwhile, and a function that the statement calls is not there. */
    @Override
    public List<AccessPath> accessPaths(String sql, Object[] values) throws SQLException {
        Map<String, Long> numbers = sequences();
        try {
            return new EmbeddedPlans(connection, spellings).accessPaths(sql, values, this::quietly);
        } finally {
            restoreSequences(numbers);
        }
    }

    private <T> T quietly(EmbeddedPlans.Asking<T> asking) throws SQLException {
        Session attached = session;
        session = null;
        try {
            return asking.ask();
        } finally {
            session = attached;
        }
    }

    @Override
    public synchronized Answer declareTable(String name, String definition) {
        answers.clear();
        return tables.declare(name, definition);
    }

    @Override
    public Optional<List<String>> identityAfter(Table table) {
        // A whole number that is the key is the row's identity too.
        return table.primaryKey().size() == 1
                        && table.columns().get(table.primaryKey().get(0)).type()
                                instanceof SqlType.Integral
                ? Optional.of(
                        List.of(
                                "SELECT "
                                        + quoted(
                                                table.columns()
                                                        .get(table.primaryKey().get(0))
                                                        .key())
                                        + " FROM FINAL TABLE (",
                                ")"))
                : Optional.empty();
    }

    @Override
    public String rowIdentity() {
        return "_ROWID_";
    }

    @Override
    public void empty(String table) throws SQLException {
        tables.empty(table);
    }

    /** Makes identity columns go on after the highest number that is there. */
    @Override
    public void numberOn(List<Table> tables) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            for (Table table : tables) {
                for (Column column : table.columns()) {
                    if (column.identity()) {
                        numberOn(statement, table, column);
                    }
                }
            }
        }
    }

    private static void numberOn(Statement statement, Table table, Column column)
            throws SQLException {
        String target = quoted(table.key());
        String name = quoted(column.key());
        long next;
        try (ResultSet row =
                statement.executeQuery(
                        "SELECT COALESCE(MAX(" + name + "), 0) + 1 FROM " + target)) {
            row.next();
            next = row.getLong(1);
        }
        if (next > 1) {
            statement.execute(
                    "ALTER TABLE " + target + " ALTER COLUMN " + name + " RESTART WITH " + next);
        }
    }

    /** The same tables, those that others refer to before those. */
    @Override
    public List<String> inReferenceOrder(List<String> tables) throws SQLException {
        Map<String, List<String>> parents = new HashMap<>();
        String sql =
                "SELECT C.TABLE_NAME, P.TABLE_NAME"
                        + " FROM INFORMATION_SCHEMA.REFERENTIAL_CONSTRAINTS R"
                        + " JOIN INFORMATION_SCHEMA.TABLE_CONSTRAINTS C"
                        + " ON C.CONSTRAINT_NAME = R.CONSTRAINT_NAME"
                        + " JOIN INFORMATION_SCHEMA.TABLE_CONSTRAINTS P"
                        + " ON P.CONSTRAINT_NAME = R.UNIQUE_CONSTRAINT_NAME";
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(sql)) {
            while (row.next()) {
                parents.computeIfAbsent(row.getString(1), t -> new ArrayList<>())
                        .add(row.getString(2));
            }
        }
        java.util.LinkedHashSet<String> ordered = new java.util.LinkedHashSet<>();
        for (String table : tables) {
            place(table, parents, ordered, new HashSet<>());
        }
        ordered.retainAll(tables);
        return List.copyOf(ordered);
    }

    @Override
    public String written(String name, String key) {
        return quoted(key);
    }

    @Override
    public boolean knowsRights() {
        return false;
    }

    @Override
    public Map<String, Set<Unit.Event>> cascaded() throws SQLException {
        return ServerValues.cascaded(
                connection,
                "SELECT T.TABLE_NAME, R.DELETE_RULE, R.UPDATE_RULE"
                        + " FROM INFORMATION_SCHEMA.REFERENTIAL_CONSTRAINTS R"
                        + " JOIN INFORMATION_SCHEMA.TABLE_CONSTRAINTS T"
                        + " ON T.CONSTRAINT_NAME = R.CONSTRAINT_NAME"
                        + " AND T.CONSTRAINT_SCHEMA = R.CONSTRAINT_SCHEMA",
                name -> name);
    }

    public static void place(
            String table,
            Map<String, List<String>> parents,
            Set<String> ordered,
            Set<String> open) {
        if (!ordered.contains(table) && open.add(table)) {
            for (String parent : parents.getOrDefault(table, List.of())) {
                place(parent, parents, ordered, open);
            }
            ordered.add(table);
        }
    }

    /** Keeps the rows and numbers as they are now, for {@link #restore}. */
    @Override
    public void keep() throws SQLException {
        connection.commit();
        kept = sequences();
        altered = false;
    }

    /** Takes back all since {@link #keep}; where {@link #isAltered}, that can't be done. */
    @Override
    public void restore() throws SQLException {
        connection.rollback();
        restoreSequences(kept);
    }

    /** Makes the engine's random numbers those that follow from a seed. */
    @Override
    public void seed(int seed) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute("CALL RAND(" + seed + ")");
        }
    }

    /** Whether a schema statement has been run, which this engine commits. */
    @Override
    public boolean isAltered() {
        return altered;
    }

    @Override
    public void schemaChanged() {
        answers.clear();
        first.changes.schemaChanged();
        first.others.forEach(o -> o.changes.schemaChanged());
        altered = true;
    }

    /** Where each sequence stands, the hidden ones of identity columns included. */
    private Map<String, Long> sequences() {
        Map<String, Long> values = new HashMap<>();
        for (Schema schema : engine().getDatabase().getAllSchemasNoMeta()) {
            for (SchemaObject sequence : schema.getAllSequences()) {
                values.put(sequence.getName(), ((Sequence) sequence).getBaseValue());
            }
        }
        return values;
    }

    @Override
    public void commit() throws SQLException {
        connection.commit();
    }

    /** Puts sequences back to where {@link #sequences} found them; a rollback leaves them alone. */
    private void restoreSequences(Map<String, Long> values) {
        for (Schema schema : engine().getDatabase().getAllSchemasNoMeta()) {
            for (SchemaObject object : schema.getAllSequences()) {
                Sequence sequence = (Sequence) object;
                Long value = values.get(sequence.getName());
                if (value != null && value != sequence.getBaseValue()) {
                    sequence.modify(value, null, null, null, null, null, null);
                }
            }
        }
    }

    @Override
    public Answer describe(List<String> pieces, List<SqlType> parameters) {
        StringBuilder text = new StringBuilder(256).append(pieces.get(0));
        for (int i = 0; i < parameters.size(); i++) {
            text.append(parameter(parameters.get(i))).append(pieces.get(i + 1));
        }
        String sql = text.toString();
        String shape = shape(sql);
        Answer known = answers.get(shape);
        return known == null ? asked(shape, sql) : known;
    }

    /** One thread at a time asks the engine. */
    private synchronized Answer asked(String shape, String sql) {
        return answers.computeIfAbsent(shape, s -> describe(sql));
    }

    private static final List<String> CHANGES = List.of("UPDATE", "INSERT", "DELETE", "MERGE");

    private static boolean isChange(String sql) {
        for (String verb : CHANGES) {
            if (sql.regionMatches(true, 0, verb, 0, verb.length())) {
                return true;
            }
        }
        return false;
    }

    /**
     * A text with other digits in numbers that mean nothing to who describes it: what a value is
     * compared with has no part in the types of a result, and a change has no result.
     */
    private static String shape(String sql) {
        boolean change = isChange(sql);
        char[] shape = sql.toCharArray();
        boolean quoted = false;
        boolean inWord = false;
        boolean inNumber = false;
        boolean free = change;
        for (int i = 0; i < shape.length; i++) {
            char c = shape[i];
            quoted ^= c == '\'' || c == '"';
            boolean digit = c >= '0' && c <= '9';
            if (digit && !quoted && !inWord) {
                inNumber = true;
                shape[i] = free ? '1' : c;
            } else {
                inWord = isWordPart(c) && (inWord || !digit);
                boolean compares = c == '<' || c == '>' || c == '=';
                free = change || compares || free && c == ' ' && !inNumber;
                inNumber = false;
            }
        }
        return new String(shape);
    }

    private static boolean isWordPart(char c) {
        return c >= 'a' && c <= 'z'
                || c >= 'A' && c <= 'Z'
                || c == '_'
                || c == '$'
                || c >= '0' && c <= '9'
                || c >= 128 && Character.isJavaIdentifierPart(c);
    }

    private Answer describe(String text) {
        try (PreparedStatement statement = connection.prepareStatement(text)) {
            ResultSetMetaData data = statement.getMetaData();
            List<SqlType.Field> columns = new ArrayList<>();
            for (int i = 1; data != null && i <= data.getColumnCount(); i++) {
                columns.add(new SqlType.Field(columnName(data, i), typeOf(data, i)));
            }
            return new Answer.Taken(columns);
        } catch (SQLException e) {
            return new Answer.Refused(condition(e));
        }
    }

    /** How a name that the engine keeps in upper case was written. */
    public Optional<String> spelling(String name) {
        return Optional.ofNullable(spellings.get(name));
    }

    @Override
    public void close() throws SQLException {
        first.others.remove(this);
        connection.close();
    }
}
