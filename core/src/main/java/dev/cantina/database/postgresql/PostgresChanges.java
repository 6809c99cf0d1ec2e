package dev.cantina.database.postgresql;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.cfg.JsonNodeFeature;
import com.fasterxml.jackson.databind.json.JsonMapper;
import dev.cantina.catalog.Table;
import dev.cantina.database.JsonRows;
import dev.cantina.database.RowLines;
import dev.cantina.database.RowReader;
import dev.cantina.database.ServerValues;
import dev.cantina.runtime.RowChange;
import dev.cantina.runtime.StandingServer;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * What changes in a transaction on PostgreSQL, row by row: triggers that stand for as long as the
 * transaction write each row's before and after into a table of the session's own. Whatever is
 * rolled back to a savepoint takes its lines with it.
 */
final class PostgresChanges {
    /** Before all others in the order of names: what they see has happened is written down. */
    private static final String TRIGGER = "\"!cantina_changes\"";

    /** Parts of tables: the trigger of the whole is theirs too. */
    private static final String PARTS =
            "SELECT " + PostgresCatalog.ownName("c") + " FROM pg_class c WHERE c.relispartition";

    private final Connection connection;
    private final Map<String, String> rowTypes = new HashMap<>();
    private List<Table> tables = List.of();
    private boolean dirty = true;
    private boolean outlives;
    private long position;

    PostgresChanges(Connection connection) {
        this.connection = connection;
    }

    /** What is written down outlives a commit. */
    void outlive() {
        outlives = true;
    }

    /** From now on the changes of these tables are written down. */
    void watch(List<Table> watched) throws SQLException {
        Set<String> parts = ServerValues.names(connection, PARTS);
        tables = watched.stream().filter(t -> !t.view() && !parts.contains(t.name())).toList();
        try (Statement statement = connection.createStatement()) {
            statement.execute(
                    "CREATE TEMPORARY TABLE cantina_changes ("
                            + "seq BIGINT GENERATED ALWAYS AS IDENTITY, tab TEXT NOT NULL,"
                            + " was JSONB, now JSONB)"
                            + (outlives ? "" : " ON COMMIT DROP"));
            // Rows may be changed with the rights of another.
            statement.execute("GRANT ALL ON pg_temp.cantina_changes TO PUBLIC");
            statement.execute("GRANT ALL ON SEQUENCE pg_temp.cantina_changes_seq_seq TO PUBLIC");
            statement.execute(
                    """
                    CREATE FUNCTION pg_temp.cantina_change() RETURNS TRIGGER LANGUAGE plpgsql AS $$
                    BEGIN
                      INSERT INTO pg_temp.cantina_changes (tab, was, now) VALUES (TG_ARGV[0],
                        CASE WHEN TG_OP <> 'INSERT' THEN to_jsonb(OLD) END,
                        CASE WHEN TG_OP <> 'DELETE' THEN to_jsonb(NEW) END);
                      RETURN NULL;
                    END $$""");
            for (Table table : tables) {
                statement.execute(
                        "CREATE TRIGGER "
                                + TRIGGER
                                + " AFTER INSERT OR UPDATE OR DELETE ON "
                                + PostgresCatalog.quoted(table.name())
                                + " FOR EACH ROW EXECUTE FUNCTION pg_temp.cantina_change('"
                                + table.name().replace("'", "''")
                                + "')");
            }
        }
    }

    /** Leaves no trace of the watching. */
    void unwatch() throws SQLException {
        try (Statement statement = connection.createStatement()) {
            for (Table table : tables) {
                statement.execute(
                        "DROP TRIGGER " + TRIGGER + " ON " + PostgresCatalog.quoted(table.name()));
            }
            statement.execute("DROP FUNCTION pg_temp.cantina_change()");
            statement.execute("DROP TABLE pg_temp.cantina_changes");
        }
        tables = List.of();
    }

    /** Something may have been written, or taken back. */
    void touched() {
        dirty = true;
    }

    long position() throws SQLException {
        if (tables.isEmpty() || !dirty) {
            return position;
        }
        try (Statement statement = connection.createStatement();
                ResultSet row =
                        statement.executeQuery(
                                "SELECT COALESCE(MAX(seq), 0) FROM pg_temp.cantina_changes")) {
            row.next();
            position = row.getLong(1);
            return position;
        }
    }

    /** The same, asked of a server that is busy with a routine that stands. */
    long position(StandingServer server) throws SQLException {
        if (tables.isEmpty()) {
            return 0;
        }
        return Long.parseLong(
                server.text("SELECT COALESCE(MAX(seq), 0) FROM pg_temp.cantina_changes"));
    }

    List<RowChange> since(long from, StandingServer server) throws SQLException {
        if (tables.isEmpty()) {
            return List.of();
        }
        String text =
                server.text(
                        "SELECT json_agg(json_build_array(seq, tab, was, now) ORDER BY seq)"
                                + " FROM pg_temp.cantina_changes WHERE seq > "
                                + from);
        List<RowChange> lines = new ArrayList<>();
        if (text != null) {
            try {
                for (JsonNode line : JSON.readTree(text)) {
                    tables.stream()
                            .filter(t -> t.name().equals(line.get(1).asText()))
                            .findFirst()
                            .ifPresent(
                                    t ->
                                            lines.add(
                                                    new RowChange(
                                                            t,
                                                            row(t, line.get(2)),
                                                            row(t, line.get(3)),
                                                            line.get(0).asLong())));
                }
            } catch (JsonProcessingException e) {
                throw new SQLException(e);
            }
        }
        return RowLines.folded(lines);
    }

    private static final ObjectMapper JSON =
            JsonMapper.builder()
                    .enable(DeserializationFeature.USE_BIG_DECIMAL_FOR_FLOATS)
                    .disable(JsonNodeFeature.STRIP_TRAILING_BIGDECIMAL_ZEROES)
                    .build();

    private static Object[] row(Table table, JsonNode row) {
        return row.isNull() ? null : JsonRows.row(table, row);
    }

    /** The type of a table's rows, by its schema too: a type of the server's may have its name. */
    private String rowType(Table table) throws SQLException {
        String known = rowTypes.get(table.name());
        if (known != null) {
            return known;
        }
        try (PreparedStatement statement =
                connection.prepareStatement(
                        "SELECT quote_ident(n.nspname) || '.' || quote_ident(c.relname)"
                                + " FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace"
                                + " WHERE c.oid = to_regclass(?)")) {
            String quoted = PostgresCatalog.quoted(table.name());
            statement.setString(1, quoted);
            try (ResultSet row = statement.executeQuery()) {
                String found = row.next() ? row.getString(1) : quoted;
                rowTypes.put(table.name(), found);
                return found;
            }
        }
    }

    List<RowChange> since(long from, RowReader reader) throws SQLException {
        List<RowChange> lines = new ArrayList<>();
        for (Table table : tables) {
            String name = rowType(table);
            // A row that is not there is not made: its domains may allow no NULL.
            String sql =
                    "SELECT c.seq, c.was IS NOT NULL, c.now IS NOT NULL,"
                            + " (CASE WHEN c.was IS NOT NULL THEN jsonb_populate_record(NULL::"
                            + name
                            + ", c.was) END).*, (CASE WHEN c.now IS NOT NULL THEN"
                            + " jsonb_populate_record(NULL::"
                            + name
                            + ", c.now) END).*"
                            + " FROM pg_temp.cantina_changes c WHERE c.tab = ? AND c.seq > ?"
                            + " ORDER BY c.seq";
            int width = table.columns().size();
            try (PreparedStatement statement = connection.prepareStatement(sql)) {
                statement.setString(1, table.name());
                statement.setLong(2, from);
                try (ResultSet row = statement.executeQuery()) {
                    while (row.next()) {
                        Object[] was = row.getBoolean(2) ? new Object[width] : null;
                        Object[] now = row.getBoolean(3) ? new Object[width] : null;
                        for (int i = 0; i < width; i++) {
                            if (was != null) {
                                was[i] = reader.read(row, 4 + i, table.columns().get(i).type());
                            }
                            if (now != null) {
                                now[i] =
                                        reader.read(
                                                row, 4 + width + i, table.columns().get(i).type());
                            }
                        }
                        lines.add(new RowChange(table, was, now, row.getLong(1)));
                    }
                }
            }
        }
        lines.sort((a, b) -> Long.compare(a.position(), b.position()));
        return RowLines.folded(lines);
    }
}
