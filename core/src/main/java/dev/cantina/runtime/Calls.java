package dev.cantina.runtime;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.types.Conversion;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.Arrays;
import java.util.Optional;

/**
 * How a session calls routines: its own, those of Java, the server's, and what stands in for one.
 */
final class Calls {
    private final Session session;
    private final Statements statements;
    private final Diagnostics diagnostics;
    private final ServerSide server;

    Calls(Session session, Statements statements, Diagnostics diagnostics, ServerSide server) {
        this.session = session;
        this.statements = statements;
        this.diagnostics = diagnostics;
        this.server = server;
    }

    /** Runs a routine, written in SQL or in Java: all parameters after it, and the result last. */
    Object[] perform(RoutineSymbol symbol, Object[] values) {
        if (isNullOnNull(symbol, values)) {
            return new Object[values.length + 1];
        }
        if (session.program().onServer().isPresent()) {
            return server.call(symbol, values);
        }
        if (symbol.tree().body().isEmpty()) {
            return external(symbol, values);
        }
        return perform(session.program().routine(symbol), values);
    }

    /** Calls a Java method, which may use this session's connection and hand out rows. */
    private Object[] external(RoutineSymbol symbol, Object[] values) {
        if (symbol.isOnServer()) {
            return server.call(symbol, values);
        }
        ExternalRoutine routine = session.program().external(symbol);
        session.data.wrote();
        ExternalRoutine.Called called =
                DefaultConnection.during(
                        session.database().connection(), () -> routine.call(values));
        try {
            for (ResultSet result : called.results()) {
                try (result) {
                    session.results().add(statements.read(result));
                }
            }
        } catch (SQLException e) {
            throw session.raised(session.top(), e);
        }
        return called.values();
    }

    private Object[] perform(Routine routine, Object[] values) {
        Frame frame = session.frames().activate(routine, values);
        Object[] given = Arrays.copyOf(frame.give(), values.length + 1);
        given[values.length] = frame.result;
        return given;
    }

    private boolean isReplaced(RoutineSymbol symbol) {
        Optional<StandIn> standIn = session.standIn();
        return standIn.isPresent() && standIn.get().replaces(symbol);
    }

    /** CALL; gives the values of all parameters after the run. */
    Object[] call(Frame caller, RoutineReference reference, Object[] values) {
        if (isReplaced(reference.symbol())) {
            Object[] stood =
                    session.standIn()
                            .get()
                            .stand(reference.symbol(), values, session.results()::add);
            diagnostics.clear("CALL");
            return stood;
        }
        Object[] given =
                reference.isExternal()
                        ? external(reference.symbol(), values)
                        : session.frames()
                                .activate(reference.routine(session.program()), values)
                                .give();
        diagnostics.clear("CALL");
        return given;
    }

    /** A function in an expression. */
    Object invoke(Frame caller, RoutineReference reference, Object[] values) {
        return function(reference.symbol(), values, reference);
    }

    /** A function called from inside SQL. */
    Object function(RoutineSymbol symbol, Object[] values) {
        Object[] stored = new Object[symbol.parameters().size()];
        for (int i = 0; i < stored.length; i++) {
            if (i >= values.length) {
                stored[i] = session.program().defaultOf(symbol, i, session);
                continue;
            }
            stored[i] = Conversion.store(values[i], symbol.parameters().get(i).type());
        }
        long written = session.data.writes();
        Object result = function(symbol, stored, null);
        if (session.data.writes() != written) {
            session.wroteOn();
        }
        return result;
    }

    private static boolean isNullOnNull(RoutineSymbol symbol, Object[] values) {
        return symbol.isFunction()
                && symbol.tree().characteristics().nullOnNull()
                && Arrays.asList(values).contains(null);
    }

    private Object function(RoutineSymbol symbol, Object[] values, RoutineReference reference) {
        if (isNullOnNull(symbol, values)) {
            return null;
        }
        if (isReplaced(symbol)) {
            return session.standIn()
                    .get()
                    .stand(symbol, values, session.results()::add)[values.length];
        }
        Diagnostics.Area before = diagnostics.current();
        Object result;
        if (symbol.tree().body().isEmpty()) {
            result = external(symbol, values)[values.length];
        } else {
            Routine routine =
                    reference == null
                            ? session.program().routine(symbol)
                            : reference.routine(session.program());
            result = session.frames().activate(routine, values).result;
        }
        diagnostics.set(before);
        return result;
    }
}
