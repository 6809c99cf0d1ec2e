package dev.cantina.database;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.runtime.RaisedException;
import dev.cantina.runtime.Session;
import java.sql.SQLException;
import java.time.OffsetDateTime;

/** Where the written entries of functions lead. */
public final class FunctionEntry {
    private FunctionEntry() {}

    /**
     * The session's moment for a column's default; the machine's own outside a run.
     *
     * @param entry the written class, whose loader knows the database
     */
    public static Object moment(Class<?> entry, String name) {
        Session session = ((EntryLoader) entry.getClassLoader()).database().session();
        if (session != null) {
            return session.moment(name);
        }
        OffsetDateTime now = OffsetDateTime.now();
        return switch (name) {
            case "CURRENT_DATE" -> now.toLocalDate();
            case "CURRENT_TIME" -> now.toOffsetTime();
            case "LOCALTIME" -> now.toLocalTime();
            case "LOCALTIMESTAMP" -> now.toLocalDateTime();
            default -> now;
        };
    }

    /**
     * Runs a function that the engine has called.
     *
     * @param entry the written class, whose loader knows the function and its database
     * @throws SQLException carries the condition that the function ended in through the engine
     */
    public static Object call(Class<?> entry, int number, Object[] arguments) throws SQLException {
        EntryLoader loader = (EntryLoader) entry.getClassLoader();
        RoutineSymbol function = loader.function(number);
        Session session = loader.database().session();
        if (session == null) {
            throw new SQLException(function.name() + " was called outside a run", "39000");
        }
        Object[] held = new Object[arguments.length];
        for (int i = 0; i < held.length; i++) {
            held[i] = JavaTypes.held(arguments[i]);
        }
        try {
            Object result = session.function(function, held);
            return JavaTypes.given(result, JavaTypes.of(function.returns().orElseThrow()));
        } catch (RaisedException e) {
            throw new SQLException(e.getMessage(), e.condition().sqlstate(), e);
        } catch (RuntimeException e) {
            throw new SQLException(e.getMessage(), "XX000", e);
        }
    }
}
