package dev.cantina.jdbc;

import dev.cantina.programs.ProgramDatabase;
import dev.cantina.project.ProjectException;
import dev.cantina.serve.debug.ProgramDebugging;
import dev.cantina.workbench.RunSettings;
import java.io.IOException;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * The projects that this program has open. Connections of the same URL share their rows, which stay
 * until the program ends; where it says {@code fresh=yes}, until the last of them is closed.
 */
final class Databases {
    private static final Map<Map<String, String>, Databases> OPEN = new HashMap<>();

    private final Map<String, String> identity;
    private final ProgramDatabase database;
    private final Optional<ProgramDebugging> debugging;
    private final boolean fresh;
    private final Set<Connection> connections = Collections.newSetFromMap(new IdentityHashMap<>());

    private Databases(
            Map<String, String> identity,
            ProgramDatabase database,
            Optional<ProgramDebugging> debugging,
            boolean fresh) {
        this.identity = identity;
        this.database = database;
        this.debugging = debugging;
        this.fresh = fresh;
    }

    static Connection connect(DriverUrl url) throws SQLException {
        synchronized (OPEN) {
            Databases found = OPEN.get(url.identity());
            if (found == null) {
                found = opened(url);
                OPEN.put(url.identity(), found);
            }
            return found.connection(url);
        }
    }

    private static Databases opened(DriverUrl url) throws SQLException {
        RunSettings settings = url.settings();
        boolean fresh = url.isFresh();
        boolean waits = url.isWaiting();
        Optional<Integer> port = url.debugPort();
        ProgramDatabase database;
        try {
            database = ProgramDatabase.open(settings.program(), port.isPresent());
        } catch (ProjectException e) {
            throw Failures.of(e);
        }
        try {
            Optional<ProgramDebugging> debugging =
                    port.isPresent()
                            ? Optional.of(debugging(database, port.get(), waits))
                            : Optional.empty();
            return new Databases(url.identity(), database, debugging, fresh);
        } catch (SQLException e) {
            database.close();
            throw e;
        }
    }

    private static ProgramDebugging debugging(ProgramDatabase database, int port, boolean waits)
            throws SQLException {
        try {
            ProgramDebugging debugging = ProgramDebugging.listen(database.workspace(), port, waits);
            System.err.println(
                    "Cantina: a debugger may attach at port "
                            + debugging.port()
                            + (waits ? ", and is waited for" : ""));
            return debugging;
        } catch (IOException e) {
            throw Failures.of(
                    "08001",
                    "a debugger can't attach at port "
                            + port
                            + ": "
                            + e.getMessage()
                            + "; another program may have it: debug=0 takes any that is free");
        }
    }

    private Connection connection(DriverUrl url) throws SQLException {
        try {
            Connection made =
                    new ConnectionAnswers(
                                    url.text(),
                                    database.connect(debugging.map(d -> d)),
                                    this::released)
                            .proxy();
            connections.add(made);
            return made;
        } catch (SQLException | RuntimeException e) {
            closeIfUnused();
            throw e;
        }
    }

    private void released(Connection closed) {
        synchronized (OPEN) {
            connections.remove(closed);
            closeIfUnused();
        }
    }

    private void closeIfUnused() {
        if (connections.isEmpty() && fresh) {
            OPEN.remove(identity);
            close();
        }
    }

    private void close() {
        debugging.ifPresent(ProgramDebugging::close);
        database.close();
    }

    static {
        Runtime.getRuntime().addShutdownHook(new Thread(Databases::leave, "cantina-jdbc-end"));
    }

    /** The program ends: nothing is left on a server, and who debugs it is told. */
    private static void leave() {
        List<Databases> all;
        synchronized (OPEN) {
            all = List.copyOf(OPEN.values());
        }
        for (Databases one : all) {
            List<Runnable> closing = new ArrayList<>();
            for (Connection open : List.copyOf(one.connections)) {
                try {
                    open.abort(closing::add);
                } catch (SQLException e) {
                    // It is closed already.
                    continue;
                }
            }
            // What stands is let go before anybody waits for it; it has been told to end.
            one.debugging.ifPresent(ProgramDebugging::close);
            closing.forEach(Runnable::run);
            synchronized (OPEN) {
                if (OPEN.remove(one.identity, one)) {
                    one.close();
                }
            }
        }
    }
}
