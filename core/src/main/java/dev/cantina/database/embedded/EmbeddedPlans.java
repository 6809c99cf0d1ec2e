package dev.cantina.database.embedded;

import dev.cantina.runtime.AccessPath;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.OptionalLong;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Asks the engine how it finds the rows of a statement: by {@code EXPLAIN ANALYZE}, which runs it,
 * or where that fails by {@code EXPLAIN}. It writes the statement with comments for each table:
 * what it goes by, and how many rows it looked at.
 */
final class EmbeddedPlans {
    private static final Pattern TABLE =
            Pattern.compile(
                    "^\\s*(?:FROM|(?:\\w+ )*JOIN|UPDATE|DELETE FROM|MERGE INTO|,)"
                            + "\\s+\"PUBLIC\"\\.\"([^\"]+)\".*");
    private static final Pattern PATH = Pattern.compile("^(\\s*)/\\* PUBLIC\\.(.*?)(?:\\s*\\*/)?$");
    private static final Pattern COUNT = Pattern.compile("^(\\s*)/\\* scanCount: (\\d+) \\*/");

    /** Work that asks the engine. */
    interface Asking<T> {
        T ask() throws SQLException;
    }

    /** Does work while no trigger fires. */
    interface Quietly {
        <T> T during(Asking<T> asking) throws SQLException;
    }

    private final Connection connection;
    private final Map<String, String> spellings;

    EmbeddedPlans(Connection connection, Map<String, String> spellings) {
        this.connection = connection;
        this.spellings = spellings;
    }

    List<AccessPath> accessPaths(String sql, Object[] values, Quietly quietly) throws SQLException {
        String verb = sql.strip().split("[^A-Za-z]", 2)[0].toUpperCase(Locale.ROOT);
        if (!List.of("INSERT", "UPDATE", "DELETE", "MERGE").contains(verb)) {
            return paths(explain("EXPLAIN ANALYZE ", sql, values));
        }
        try {
            return paths(quietly.during(() -> explain("EXPLAIN ANALYZE ", sql, values)));
        } catch (SQLException e) {
            return paths(explain("EXPLAIN ", sql, values));
        }
    }

    private String explain(String how, String sql, Object[] values) throws SQLException {
        try (PreparedStatement statement = connection.prepareStatement(how + sql)) {
            for (int i = 0; i < values.length; i++) {
                statement.setObject(i + 1, values[i]);
            }
            try (ResultSet result = statement.executeQuery()) {
                return result.next() ? result.getString(1) : "";
            }
        }
    }

    private List<AccessPath> paths(String plan) {
        List<AccessPath> paths = new ArrayList<>();
        String table = null;
        String indent = null;
        String path = null;
        for (String line : plan.lines().toList()) {
            Matcher named = TABLE.matcher(line);
            Matcher way = PATH.matcher(line);
            Matcher count = COUNT.matcher(line);
            if (named.matches()) {
                flush(table, path, OptionalLong.empty(), paths);
                table = named.group(1);
                path = null;
            } else if (way.matches() && table != null && path == null) {
                indent = way.group(1);
                path = way.group(2).strip();
            } else if (count.find() && path != null && count.group(1).equals(indent)) {
                // The engine counts the look that finds no more rows too.
                long scanned = Math.max(0, Long.parseLong(count.group(2)) - 1);
                flush(table, path, OptionalLong.of(scanned), paths);
                table = null;
                path = null;
            }
        }
        flush(table, path, OptionalLong.empty(), paths);
        return paths;
    }

    private void flush(String table, String path, OptionalLong scanned, List<AccessPath> into) {
        if (table == null || path == null) {
            return;
        }
        String name = spellings.getOrDefault(table, table);
        int colon = path.indexOf(": ");
        boolean whole = path.endsWith(".tableScan") || colon < 0;
        String way =
                path.endsWith(".tableScan")
                        ? "every row"
                        : colon < 0
                                ? "every row, through an index"
                                : (path.startsWith("PRIMARY_KEY") ? "key " : "index ")
                                        + path.substring(colon + 2)
                                                .replaceAll("\\?\\d+", "?")
                                                .toLowerCase(Locale.ROOT);
        into.add(new AccessPath(name, way, whole, scanned));
    }
}
