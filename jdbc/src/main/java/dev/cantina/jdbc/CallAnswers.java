package dev.cantina.jdbc;

import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.ResultRows;
import dev.cantina.runtime.Session;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.Unit;
import dev.cantina.types.SqlType;
import dev.cantina.workbench.WrittenCall;
import java.lang.reflect.Method;
import java.math.BigDecimal;
import java.sql.BatchUpdateException;
import java.sql.CallableStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.SQLType;
import java.sql.SQLWarning;
import java.sql.Statement;
import java.sql.Types;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.h2.tools.SimpleResultSet;

/**
 * The call of a routine of the project, prepared: values in, values and rows out.
 *
 * <p>JDBC's names and numbers for parameters: the number is that of the marker in the text, from 1
 * on; the name is the routine's own for the parameter.
 */
final class CallAnswers extends Answers<CallableStatement> {
    private static final Map<Integer, Class<?>> CLASSES = new HashMap<>();

    static {
        for (int whole : new int[] {Types.TINYINT, Types.SMALLINT, Types.INTEGER}) {
            CLASSES.put(whole, Integer.class);
        }
        CLASSES.put(Types.BIGINT, Long.class);
        CLASSES.put(Types.DECIMAL, BigDecimal.class);
        CLASSES.put(Types.NUMERIC, BigDecimal.class);
        CLASSES.put(Types.REAL, Float.class);
        CLASSES.put(Types.FLOAT, Double.class);
        CLASSES.put(Types.DOUBLE, Double.class);
        CLASSES.put(Types.BOOLEAN, Boolean.class);
        CLASSES.put(Types.BIT, Boolean.class);
        for (int text : new int[] {Types.CHAR, Types.VARCHAR, Types.LONGVARCHAR, Types.NVARCHAR}) {
            CLASSES.put(text, String.class);
        }
        CLASSES.put(Types.DATE, java.sql.Date.class);
        CLASSES.put(Types.TIME, java.sql.Time.class);
        CLASSES.put(Types.TIMESTAMP, java.sql.Timestamp.class);
    }

    private final ConnectionAnswers connection;
    private final WrittenCall call;
    private final String text;
    private final RunningStatement running = new RunningStatement();
    private Map<Integer, Object> given = new HashMap<>();
    private Map<String, Object> named = new HashMap<>();
    private final Map<Object, Integer> registered = new HashMap<>();
    private final Map<Expression, Object> literals = new IdentityHashMap<>();
    private final List<Map<Integer, Object>> batch = new ArrayList<>();
    private RoutineSymbol routine;
    private SimpleResultSet out;
    private final Map<Object, Integer> columns = new HashMap<>();
    private List<ResultRows> results = List.of();
    private int at;
    private ResultSet open;
    private SQLWarning warnings;
    private int seconds;
    private long most;
    private boolean closed;

    CallAnswers(ConnectionAnswers connection, String text) {
        super(CallableStatement.class);
        this.connection = connection;
        this.text = text;
        this.call = WrittenCall.of(text);
        // A name that is wrong is told at once.
        resolve(call.arguments().stream().<SqlType>map(a -> SqlType.NULL).toList());
    }

    private void resolve(List<SqlType> types) {
        routine = call.routine(connection.program().workspace().catalog(), types);
    }

    @Override
    String describe() {
        return text;
    }

    @Override
    Object answer(String name, Method method, Object[] arguments) throws Throwable {
        if (name.equals("close")) {
            closed = true;
            return null;
        }
        if (name.equals("isClosed")) {
            return closed;
        }
        if (name.equals("cancel")) {
            running.cancel(connection.program());
            return null;
        }
        connection.checkOpen();
        if (closed) {
            throw Failures.of("07000", "the statement is closed");
        }
        boolean setsParameter =
                name.startsWith("set") && method.getDeclaringClass() != Statement.class;
        if (setsParameter) {
            set(name, arguments);
            return null;
        }
        boolean reads =
                name.startsWith("get") && method.getDeclaringClass() == CallableStatement.class;
        return reads ? read(name, arguments) : other(name, method, arguments);
    }

    private Object other(String name, Method method, Object[] arguments) throws Throwable {
        boolean worded = arguments.length > 0 && arguments[0] instanceof String;
        if (worded && (name.startsWith("execute") || name.equals("addBatch"))) {
            throw Failures.of("07000", "the statement was given already when it was prepared");
        }
        switch (name) {
            case "execute":
                run();
                return isRows();
            case "executeQuery":
                run();
                if (results.isEmpty()) {
                    throw Failures.of("07005", routine.name() + " has given no result set");
                }
                return rows();
            case "executeUpdate":
                run();
                return 0;
            case "executeLargeUpdate":
                run();
                return 0L;
            case "addBatch":
                batch.add(new HashMap<>(given));
                return null;
            case "clearBatch":
                batch.clear();
                return null;
            case "executeBatch":
                return batch();
            case "executeLargeBatch":
                return new long[batch().length];
            case "clearParameters":
                given.clear();
                named.clear();
                return null;
            case "registerOutParameter":
                register(arguments);
                return null;
            case "wasNull":
                return out != null && out.wasNull();
            case "getResultSet":
                return isRows() ? rows() : null;
            case "getUpdateCount":
                return isRows() || at > 0 ? -1 : 0;
            case "getLargeUpdateCount":
                return isRows() || at > 0 ? -1L : 0L;
            case "getMoreResults":
                at++;
                open = null;
                return isRows();
            case "getMetaData":
                return results.isEmpty() ? null : rows().getMetaData();
            case "getParameterMetaData":
                return new ParameterAnswers(routine, call).proxy();
            default:
                return ofStatement(name, arguments);
        }
    }

    /** What all statements have. */
    private Object ofStatement(String name, Object[] arguments) throws SQLException {
        switch (name) {
            case "getConnection":
                return connection.proxy();
            case "getWarnings":
                return warnings;
            case "clearWarnings":
                warnings = null;
                return null;
            case "getGeneratedKeys":
                return ResultAnswers.of(new ResultRows(List.of(), List.of()), proxy());
            case "setQueryTimeout":
                seconds = (Integer) arguments[0];
                return null;
            case "getQueryTimeout":
                return seconds;
            case "setMaxRows", "setLargeMaxRows":
                most = ((Number) arguments[0]).longValue();
                return null;
            case "getMaxRows":
                return (int) most;
            case "getLargeMaxRows":
                return most;
            case "getFetchDirection":
                return ResultSet.FETCH_FORWARD;
            case "getResultSetType":
                return ResultSet.TYPE_FORWARD_ONLY;
            case "getResultSetConcurrency":
                return ResultSet.CONCUR_READ_ONLY;
            case "getResultSetHoldability":
                return ResultSet.HOLD_CURSORS_OVER_COMMIT;
            case "getFetchSize", "getMaxFieldSize":
                return 0;
            case "isPoolable", "isCloseOnCompletion":
                return false;
            case "setFetchSize",
            "setFetchDirection",
            "setMaxFieldSize",
            "setPoolable",
            "setEscapeProcessing",
            "closeOnCompletion",
            "setCursorName":
                return null;
            default:
                throw Failures.of("0A000", name + " can't be asked of a call");
        }
    }

    // ------------------------------------------------------------------ values in

    private void set(String name, Object[] arguments) throws SQLException {
        Object held = Given.held(name, arguments);
        if (arguments[0] instanceof String parameter) {
            named.put(parameter.toUpperCase(Locale.ROOT), held);
            numbered(parameter).ifPresent(n -> given.put(n, held));
            return;
        }
        int number = (Integer) arguments[0];
        if (number < 1 || number > call.markers()) {
            throw Failures.of(
                    "07009", "the call has " + call.markers() + " markers, and no " + number);
        }
        if (call.gives() && number == 1) {
            throw Failures.of("07009", "marker 1 takes what the function gives");
        }
        given.put(number, held);
    }

    /** The marker that stands for a parameter. */
    private Optional<Integer> numbered(String parameter) throws SQLException {
        int position = position(parameter);
        return call.matched(routine)
                .get(position)
                .map(WrittenCall.Argument::marker)
                .filter(m -> m > 0);
    }

    private int position(String parameter) throws SQLException {
        for (int i = 0; i < routine.parameters().size(); i++) {
            if (routine.parameters().get(i).name().text().equalsIgnoreCase(parameter)) {
                return i;
            }
        }
        throw Failures.of("07009", "there is no parameter " + parameter + " in " + signature());
    }

    private String signature() {
        return routine.signature();
    }

    private void register(Object[] arguments) throws SQLException {
        Object type = arguments[1];
        int code =
                type instanceof SQLType known
                        ? known.getVendorTypeNumber() == null
                                ? Types.OTHER
                                : known.getVendorTypeNumber()
                        : (Integer) type;
        Object key = arguments[0];
        if (key instanceof String parameter) {
            position(parameter);
            key = parameter.toUpperCase(Locale.ROOT);
        } else if ((Integer) key < 1 || (Integer) key > call.markers()) {
            throw Failures.of(
                    "07009", "the call has " + call.markers() + " markers, and no " + key);
        }
        registered.put(key, code);
    }

    // ------------------------------------------------------------------ the run

    private void run() throws SQLException {
        List<SqlType> types = new ArrayList<>();
        for (WrittenCall.Argument argument : call.arguments()) {
            types.add(
                    argument.marker() > 0
                            ? Given.type(given.get(argument.marker()))
                            : SqlType.NULL);
        }
        resolve(types);
        List<Optional<WrittenCall.Argument>> matched = call.matched(routine);
        List<Optional<Object>> values = new ArrayList<>();
        for (int i = 0; i < matched.size(); i++) {
            values.add(value(routine.parameters().get(i), matched.get(i)));
        }
        out = null;
        results = List.of();
        at = 0;
        open = null;
        Outcome outcome =
                running.during(
                        connection.program(), seconds, () -> connection.call(routine, values));
        warnings = Warnings.of(outcome);
        take(outcome, matched);
    }

    private Optional<Object> value(
            ParameterSymbol parameter, Optional<WrittenCall.Argument> argument)
            throws SQLException {
        boolean output = parameter.mode().isOutput();
        if (argument.isEmpty()) {
            if (parameter.mode().isInput() && parameter.initial().isEmpty()) {
                throw Failures.of("07001", parameter.name() + " has no argument: " + signature());
            }
            return Optional.empty();
        }
        int marker = argument.get().marker();
        if (marker == 0) {
            if (output) {
                throw Failures.of(
                        "42000",
                        "parameter " + parameter.name() + " gives a value back: it needs a ?");
            }
            return written(parameter, argument.get().value().orElseThrow());
        }
        if (!parameter.mode().isInput()) {
            return Optional.empty();
        }
        if (!given.containsKey(marker)) {
            throw Failures.of(
                    "07001",
                    "marker "
                            + marker
                            + " ("
                            + parameter.name()
                            + ") has no value; give it one before the call, or setNull");
        }
        Object held = Given.fitting(given.get(marker), parameter.type());
        return Optional.of(held == null ? Session.NULL : held);
    }

    /** A value that stands in the call; a literal is worked out once. */
    private Optional<Object> written(ParameterSymbol parameter, Expression expression)
            throws SQLException {
        boolean literal = expression instanceof Expression.Literal;
        if (literal && ((Expression.Literal) expression).kind() == Expression.LiteralKind.DEFAULT) {
            if (parameter.initial().isEmpty()) {
                throw Failures.of("42000", parameter.name() + " has no default: " + signature());
            }
            return Optional.empty();
        }
        if (!literal) {
            Object value = connection.evaluate(expression);
            return Optional.of(value == null ? Session.NULL : value);
        }
        Object known = literals.get(expression);
        if (known == null) {
            Object value = connection.evaluate(expression);
            known = value == null ? Session.NULL : value;
            literals.put(expression, known);
        }
        return Optional.of(known);
    }

    private void take(Outcome outcome, List<Optional<WrittenCall.Argument>> matched)
            throws SQLException {
        results = outcome.results();
        if (most > 0) {
            results = results.stream().map(this::limited).toList();
        }
        List<SqlType.Field> fields = new ArrayList<>();
        List<Object> values = new ArrayList<>();
        columns.clear();
        if (call.gives()) {
            fields.add(new SqlType.Field("", routine.returns().orElse(SqlType.NULL)));
            values.add(outcome.returned());
            columns.put(1, 1);
        }
        for (int i = 0; i < matched.size(); i++) {
            ParameterSymbol parameter = routine.parameters().get(i);
            if (parameter.mode() == Unit.Mode.IN) {
                continue;
            }
            String name = parameter.name().text();
            fields.add(new SqlType.Field(name, parameter.type()));
            values.add(outcome.out().get(name));
            int column = fields.size();
            columns.put(name.toUpperCase(Locale.ROOT), column);
            matched.get(i)
                    .map(WrittenCall.Argument::marker)
                    .filter(m -> m > 0)
                    .ifPresent(m -> columns.put(m, column));
        }
        out = ResultAnswers.columns(fields);
        out.addRow(ResultAnswers.values(values.toArray(), fields));
        out.next();
    }

    private ResultRows limited(ResultRows rows) {
        int kept = (int) Math.min(most, rows.rows().size());
        return new ResultRows(rows.columns(), rows.rows().subList(0, kept));
    }

    private int[] batch() throws SQLException {
        Map<Integer, Object> own = given;
        int[] counts = new int[batch.size()];
        try {
            for (int i = 0; i < counts.length; i++) {
                given = batch.get(i);
                try {
                    run();
                } catch (SQLException e) {
                    throw new BatchUpdateException(
                            "call " + (i + 1) + " of " + counts.length + ": " + e.getMessage(),
                            e.getSQLState(),
                            e.getErrorCode(),
                            new int[i],
                            e);
                }
            }
            return counts;
        } finally {
            given = own;
            batch.clear();
        }
    }

    // ------------------------------------------------------------------ values out

    private boolean isRows() {
        return at < results.size();
    }

    private ResultSet rows() {
        if (open == null) {
            open = ResultAnswers.of(results.get(at), proxy());
        }
        return open;
    }

    private Object read(String name, Object[] arguments) throws SQLException {
        if (out == null) {
            throw Failures.of("24000", "the call has not been made: execute comes first");
        }
        Object key =
                arguments[0] instanceof String parameter
                        ? parameter.toUpperCase(Locale.ROOT)
                        : arguments[0];
        Integer column = columns.get(key);
        if (column == null) {
            throw Failures.of(
                    "07009",
                    (key instanceof String ? "parameter " + arguments[0] : "marker " + key)
                            + " gives nothing back: "
                            + signature());
        }
        Object more = arguments.length > 1 ? arguments[1] : null;
        if (name.equals("getArray")) {
            return out.getArray(column);
        }
        Object held = out.getObject(column);
        Integer code = registered.get(key);
        Class<?> wanted = code == null ? null : CLASSES.get(code);
        return Asked.value(held, name, name.equals("getObject") && more == null ? wanted : more);
    }
}
