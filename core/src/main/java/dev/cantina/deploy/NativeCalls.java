package dev.cantina.deploy;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.runtime.Session;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;

/** Calls shipped routines on a server, which runs them itself. */
public interface NativeCalls {
    /**
     * Calls a routine, in a transaction of its own.
     *
     * @param arguments as {@link Session#run} takes them
     * @throws SQLException where the connection is gone; what the routine raises is part of what is
     *     given back
     */
    Behaviour call(RoutineSymbol routine, List<Optional<Object>> arguments) throws SQLException;
}
