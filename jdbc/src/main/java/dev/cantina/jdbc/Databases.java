package dev.cantina.jdbc;

import dev.cantina.project.ProjectException;
import dev.cantina.serve.debug.ProgramDebugging;
import dev.cantina.workbench.ProgramDatabase;
import dev.cantina.workbench.RunSettings;
import java.io.IOException;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;

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
    private int connections;

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
            database = ProgramDatabase.open(settings);
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
        connections++;
        try {
            return new ConnectionAnswers(
                            url.text(), database.connect(debugging.map(d -> d)), this::released)
                    .proxy();
        } catch (SQLException | RuntimeException e) {
            released();
            throw e;
        }
    }

    private void released() {
        synchronized (OPEN) {
            connections--;
            if (connections == 0 && fresh) {
                OPEN.remove(identity);
                debugging.ifPresent(ProgramDebugging::close);
                database.close();
            }
        }
    }
}
