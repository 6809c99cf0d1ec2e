package dev.cantina.database.postgresql;

import dev.cantina.database.ServerPart;
import dev.cantina.database.UnreachableException;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** Code of a project that stands on a PostgreSQL server for the time of one transaction. */
public final class PostgresParts {
    private final Connection connection;

    /** What puts the server's own code back, where the transaction is kept. */
    private final List<String> afterwards = new ArrayList<>();

    /** invalid_function_definition and wrong_object_type: it gives something else. */
    private static final Set<String> OTHER_RESULT = Set.of("42P13", "42809");

    /** What the server had that had to go for a run; a rollback alone brings it back whole. */
    private final List<String> pushedAside = new ArrayList<>();

    private final Set<String> schemas = new LinkedHashSet<>();

    /** What was placed, by identity: functions are there without what they do at first. */
    private final Set<String> own = new LinkedHashSet<>();

    /** What stands under each identity, in the server's own words. */
    private static final String STANDING =
            """
            SELECT i.identity,
                   CASE split_part(i.identity, ' ', 1)
                     WHEN 'schema' THEN (SELECT 'schema' FROM pg_namespace
                                          WHERE nspname = (parse_ident(substr(i.identity, 8)))[1])
                     WHEN 'trigger' THEN (SELECT pg_get_triggerdef(t.oid) FROM pg_trigger t
                                           WHERE NOT t.tgisinternal
                                             AND t.tgname = (parse_ident(substr(i.identity, 9), false))[1]
                                             AND t.tgrelid = to_regclass(regexp_replace(
                                                   substr(i.identity, 9), '^("([^"]|"")*"|[^ ]+) on ', '')))
                     ELSE (SELECT pg_get_functiondef(p.oid) FROM pg_proc p
                            WHERE p.oid = to_regprocedure(substr(i.identity, strpos(i.identity, ' ') + 1)))
                   END
              FROM unnest(?::text[]) AS i (identity)""";

    PostgresParts(Connection connection) {
        this.connection = connection;
    }

    /** What the server has of some parts, by identity; what it has not is left out. */
    public static Map<String, String> standing(Connection connection, Collection<String> identities)
            throws SQLException {
        Map<String, String> standing = new LinkedHashMap<>();
        try (PreparedStatement statement = connection.prepareStatement(STANDING)) {
            statement.setArray(1, connection.createArrayOf("text", identities.toArray()));
            try (ResultSet row = statement.executeQuery()) {
                while (row.next()) {
                    if (row.getString(2) != null) {
                        standing.put(row.getString(1), row.getString(2));
                    }
                }
            }
        }
        return standing;
    }

    /** Makes code stand on the server for as long as the transaction lasts. */
    void place(List<ServerPart> parts) throws SQLException {
        Map<String, String> before =
                standing(connection, parts.stream().map(ServerPart::identity).toList());
        execute("SET LOCAL lock_timeout = '10s'");
        for (ServerPart part : parts) {
            try {
                make(part);
            } catch (SQLException e) {
                throw new UnreachableException(
                        "55P03".equals(e.getSQLState())
                                ? "another session's run holds "
                                        + part.identity()
                                        + " on the server; try again when it is over"
                                : "the server refuses "
                                        + part.identity()
                                        + ", which SQL or a trigger calls: "
                                        + e.getMessage());
            }
            if (!own.add(part.identity())) {
                // What stood there before is known from the first time.
                continue;
            }
            String old = before.get(part.identity());
            boolean schema = part.identity().startsWith("schema ");
            if (schema) {
                schemas.add(part.identity().substring(7));
            }
            if (old == null) {
                afterwards.add(0, part.drop());
            } else if (!schema) {
                afterwards.add(old.replaceFirst("^CREATE TRIGGER", "CREATE OR REPLACE TRIGGER"));
            }
        }
        execute("SET LOCAL lock_timeout = DEFAULT");
    }

    /**
     * Makes one part. A routine of the same name and parameters that gives something else can't be
     * replaced: it is called something else for as long as the transaction lasts.
     */
    private void make(ServerPart part) throws SQLException {
        Savepoint before = connection.setSavepoint();
        try {
            execute(part.create());
            connection.releaseSavepoint(before);
        } catch (SQLException e) {
            if (!OTHER_RESULT.contains(e.getSQLState())) {
                throw e;
            }
            connection.rollback(before);
            // Under another name, so that what the server has made of it stays whole.
            String aside = "cantina_aside_" + (pushedAside.size() + 1);
            execute(
                    part.drop().replaceFirst("^DROP \\w+ (IF EXISTS )?", "ALTER ROUTINE ")
                            + " RENAME TO "
                            + aside);
            execute(part.create());
            connection.releaseSavepoint(before);
            pushedAside.add(part.identity());
        }
    }

    /** Whether anything was placed. */
    boolean isPlaced() {
        return !afterwards.isEmpty();
    }

    /** The schemas among what was placed. */
    Set<String> schemas() {
        return schemas;
    }

    /**
     * Looks whether what a run did can be kept without the run's own code.
     *
     * @throws UnreachableException where code of the server's own would be lost
     */
    void mayBeKept() throws UnreachableException {
        if (!pushedAside.isEmpty()) {
            throw new UnreachableException(
                    "the server has a "
                            + pushedAside.get(0)
                            + " of its own that gives something else; so nothing of the run is"
                            + " kept: give one of them another name");
        }
    }

    /** Takes away what was placed, and puts back what stood there. */
    void takeAway() throws SQLException {
        for (String sql : afterwards) {
            execute(sql);
        }
        afterwards.clear();
        own.clear();
    }

    private void execute(String sql) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.setEscapeProcessing(false);
            statement.execute(sql);
        }
    }
}
