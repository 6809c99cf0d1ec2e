package dev.cantina.jdbc;

import dev.cantina.project.ProjectException;
import dev.cantina.workbench.ProgramDatabase;
import dev.cantina.workbench.RunSettings;
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
    private final boolean fresh;
    private int connections;

    private Databases(Map<String, String> identity, ProgramDatabase database, boolean fresh) {
        this.identity = identity;
        this.database = database;
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
        try {
            return new Databases(url.identity(), ProgramDatabase.open(settings), url.isFresh());
        } catch (ProjectException e) {
            throw Failures.of(e);
        }
    }

    private Connection connection(DriverUrl url) throws SQLException {
        connections++;
        try {
            return new ConnectionAnswers(
                            url.text(), database.connect(Optional.empty()), this::released)
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
                database.close();
            }
        }
    }
}
