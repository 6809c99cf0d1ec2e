package dev.cantina.jdbc;

import dev.cantina.runtime.Outcome;
import dev.cantina.workbench.WrittenCall;
import java.lang.reflect.Method;
import java.sql.BatchUpdateException;
import java.sql.CallableStatement;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.SQLWarning;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * A statement of the program's own, prepared or not: the database runs it as it is written, and
 * what it sets off runs here. A CALL that is given to it is a call all the same.
 *
 * @param <T> Statement, PreparedStatement or CallableStatement
 */
final class StatementAnswers<T extends Statement> extends Answers<T> {
    private final ConnectionAnswers connection;
    private final Statement real;
    private final Optional<String> prepared;
    private final List<String> batch = new ArrayList<>();

    /** What was set since the last time, and of each turn, of a batch that is sent one by one. */
    private final List<Setting> set = new ArrayList<>();

    private final List<List<Setting>> turns = new ArrayList<>();

    private record Setting(Method method, Object[] arguments) {}

    private final RunningStatement running = new RunningStatement();
    private CallableStatement called;
    private SQLWarning warnings;

    /**
     * @param prepared its text; empty for one that is given a text each time
     */
    StatementAnswers(
            Class<T> type,
            ConnectionAnswers connection,
            Statement real,
            Optional<String> prepared) {
        super(type);
        this.connection = connection;
        this.real = real;
        this.prepared = prepared;
    }

    @Override
    String describe() {
        return prepared.orElseGet(super::describe);
    }

    @Override
    SQLException translated(SQLException failure) {
        return connection.translated(failure);
    }

    @Override
    Object answer(String name, Method method, Object[] arguments) throws Throwable {
        switch (name) {
            case "execute", "executeQuery", "executeUpdate", "executeLargeUpdate":
                return executed(name, method, arguments);
            case "executeBatch":
                return prepared.isEmpty() || isOneByOne()
                        ? batch()
                        : sent(prepared.get(), method, arguments);
            case "executeLargeBatch":
                return prepared.isEmpty() || isOneByOne()
                        ? java.util.Arrays.stream(batch()).asLongStream().toArray()
                        : sent(prepared.get(), method, arguments);
            case "addBatch":
                if (arguments.length == 1) {
                    batch.add((String) arguments[0]);
                    return null;
                }
                if (isOneByOne()) {
                    turns.add(List.copyOf(set));
                    return null;
                }
                return handOn(real, method, arguments);
            case "clearBatch":
                batch.clear();
                turns.clear();
                return handOn(real, method, arguments);
            case "getResultSet", "getGeneratedKeys":
                return called == null
                        ? wrapped((ResultSet) handOn(real, method, arguments))
                        : handOn(called, method, arguments);
            case "getUpdateCount", "getLargeUpdateCount", "getMoreResults":
                return handOn(called == null ? real : called, method, arguments);
            case "getConnection":
                return connection.proxy();
            case "getWarnings":
                return warnings == null ? handOn(real, method, arguments) : warnings;
            case "clearWarnings":
                warnings = null;
                return handOn(real, method, arguments);
            case "cancel":
                running.cancel(connection.program());
                return handOn(real, method, arguments);
            case "clearParameters":
                set.clear();
                return handOn(real, method, arguments);
            default:
                if (isOneByOne() && isSetting(method)) {
                    set.removeIf(s -> s.arguments()[0].equals(arguments[0]));
                    set.add(new Setting(method, arguments.clone()));
                }
                return handOn(real, method, arguments);
        }
    }

    private boolean isOneByOne() {
        return prepared.isPresent() && connection.program().isWatchedOnServer();
    }

    /** Whether it gives a marker its value. */
    private static boolean isSetting(Method method) {
        return method.getName().startsWith("set")
                && method.getDeclaringClass() == PreparedStatement.class;
    }

    private ResultSet wrapped(ResultSet rows) {
        return rows == null
                ? null
                : new ResultAnswers(rows, proxy(), (m, a) -> changed(rows, m, a)).proxy();
    }

    /** A row that is changed through a result set. */
    private Object changed(ResultSet rows, Method method, Object[] arguments) throws Throwable {
        String verb = method.getName().replace("Row", "").toUpperCase(java.util.Locale.ROOT);
        return send(verb, Optional.empty(), () -> method.invoke(rows, arguments));
    }

    private Object executed(String name, Method method, Object[] arguments) throws Throwable {
        called = null;
        String text = prepared.isPresent() ? prepared.get() : text(arguments[0]);
        if (prepared.isEmpty() && WrittenCall.isCall(text)) {
            called = new CallAnswers(connection, text).proxy();
            called.setQueryTimeout(real.getQueryTimeout());
            try {
                return PreparedStatement.class.getMethod(name).invoke(called);
            } finally {
                warnings = called.getWarnings();
            }
        }
        if (connection.endsTransaction(text)) {
            return switch (name) {
                case "execute" -> false;
                case "executeUpdate" -> 0;
                case "executeLargeUpdate" -> 0L;
                default -> throw Failures.of("07005", text.strip() + " gives no rows");
            };
        }
        return sent(text, method, arguments);
    }

    private Object sent(String text, Method method, Object[] arguments) throws Throwable {
        // A batch gives back what is said of it at its end only.
        Optional<Statement> heard =
                method.getName().endsWith("Batch") ? Optional.empty() : Optional.of(real);
        Object value = send(text, heard, () -> method.invoke(real, arguments));
        return value instanceof ResultSet rows ? wrapped(rows) : value;
    }

    private Object send(String text, Optional<Statement> on, ConnectionAnswers.Work work)
            throws SQLException {
        Outcome outcome =
                running.during(connection.program(), 0, () -> connection.send(text, on, work));
        warnings = Warnings.of(outcome);
        return outcome.returned();
    }

    private int[] batch() throws Throwable {
        int[] counts = new int[prepared.isEmpty() ? batch.size() : turns.size()];
        try {
            for (int i = 0; i < counts.length; i++) {
                try {
                    counts[i] = prepared.isEmpty() ? update(batch.get(i)) : update(turns.get(i));
                } catch (SQLException e) {
                    throw new BatchUpdateException(
                            "statement " + (i + 1) + " of " + counts.length + ": " + e.getMessage(),
                            e.getSQLState(),
                            e.getErrorCode(),
                            java.util.Arrays.copyOf(counts, i),
                            e);
                }
            }
            return counts;
        } finally {
            batch.clear();
            turns.clear();
        }
    }

    private int update(String text) throws Throwable {
        Method update = Statement.class.getMethod("executeUpdate", String.class);
        return (Integer) executed("executeUpdate", update, new Object[] {text});
    }

    private int update(List<Setting> turn) throws Throwable {
        for (Setting one : turn) {
            handOn(real, one.method(), one.arguments());
        }
        Method update = PreparedStatement.class.getMethod("executeUpdate");
        return (Integer) executed("executeUpdate", update, null);
    }
}
