package dev.cantina.database;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.runtime.RaisedException;
import dev.cantina.runtime.Session;
import java.sql.SQLException;

/** Where the written entries of functions lead. */
public final class FunctionEntry {
    private FunctionEntry() {}

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
