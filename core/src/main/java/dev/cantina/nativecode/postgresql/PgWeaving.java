package dev.cantina.nativecode.postgresql;

import dev.cantina.runtime.Probe;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * What stands for the routines of a project in the run's transaction: they themselves, or copies
 * with probes, and stand-ins for some. A setting of the session says which, so that it goes back
 * with the transaction as the copies do.
 */
final class PgWeaving {
    private static final String SETTING = "cantina.woven";

    private final Connection connection;
    private final PgCode code;

    /** Whether copies were ever made here, so that some may stand. */
    private boolean ever;

    PgWeaving(Connection connection, PgCode code) {
        this.connection = connection;
        this.code = code;
    }

    /** The routines themselves stand from now on, without probes and stand-ins. */
    void leave() throws SQLException {
        if (ever) {
            become(Optional.empty(), Map.of());
        }
    }

    /**
     * Puts what is wanted in the place of what stands.
     *
     * @param detail what copies with probes tell; empty for the routines themselves
     * @param stubs stand-ins for some, as they are made
     * @return whether anything else stood
     */
    boolean become(Optional<Probe.Detail> detail, Map<PgCode.Known, String> stubs)
            throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.setEscapeProcessing(false);
            String probes = detail.map(Enum::name).orElse("");
            String wanted =
                    probes
                            + stubs.keySet().stream()
                                    .map(one -> " " + one.oid())
                                    .sorted()
                                    .collect(Collectors.joining());
            String stands = stands(statement);
            if (stands.equals(wanted)) {
                return false;
            }
            ever = true;
            if (!stands.equals(probes)) {
                Set<PgCode.Known> without = stubs.keySet();
                all(
                        statement,
                        detail.isPresent()
                                ? code.woven(detail.get(), without)
                                : code.unwoven(without));
            }
            all(statement, List.copyOf(stubs.values()));
            statement.execute(
                    "SELECT pg_catalog.set_config('" + SETTING + "', '" + wanted + "', FALSE)");
            return true;
        }
    }

    /** What stands; what copies with probes need is made where it is not there. */
    private static String stands(Statement statement) throws SQLException {
        String stands;
        boolean helped;
        try (ResultSet row =
                statement.executeQuery(
                        "SELECT COALESCE(pg_catalog.current_setting('"
                                + SETTING
                                + "', TRUE), ''), to_regprocedure('"
                                + PgFollower.STOP
                                + "') IS NOT NULL")) {
            row.next();
            stands = row.getString(1);
            helped = row.getBoolean(2);
        }
        if (!helped) {
            all(statement, PgFollower.HELPERS);
        }
        return stands;
    }

    private static void all(Statement statement, List<String> creates) throws SQLException {
        for (String create : creates) {
            statement.execute(create);
        }
    }
}
