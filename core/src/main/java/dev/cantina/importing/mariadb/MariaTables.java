package dev.cantina.importing.mariadb;

import dev.cantina.database.References;
import dev.cantina.importing.FileNames;
import dev.cantina.importing.ImportedFile;
import dev.cantina.importing.LiveRows;
import dev.cantina.importing.LiveTable;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/** The tables, views and sequences of a MariaDB database, as the server writes them. */
final class MariaTables {
    private final Connection connection;
    private final FileNames names;
    private final List<String> leftOut;
    private final String database;
    private final List<ImportedFile> files = new ArrayList<>();
    private final List<ImportedFile> fixture = new ArrayList<>();
    private final Map<String, LiveTable> tables = new LinkedHashMap<>();

    MariaTables(Connection connection, FileNames names, List<String> leftOut) throws SQLException {
        this.connection = connection;
        this.names = names;
        this.leftOut = leftOut;
        this.database = LiveRows.of(connection, "SELECT DATABASE()").get(0)[0];
        settings();
        read();
        tables();
        views();
        sequences();
    }

    List<ImportedFile> files() {
        return files;
    }

    List<ImportedFile> fixture() {
        return fixture;
    }

    List<LiveTable> live() {
        return List.copyOf(tables.values());
    }

    private static final String HERE = " = DATABASE()";

    /** Parameters and variables of routines have the database's collation. */
    private void settings() throws SQLException {
        String[] row =
                LiveRows.of(
                                connection,
                                "SELECT DEFAULT_CHARACTER_SET_NAME, DEFAULT_COLLATION_NAME"
                                        + " FROM information_schema.SCHEMATA WHERE SCHEMA_NAME"
                                        + HERE)
                        .get(0);
        files.add(
                new ImportedFile(
                        names.path("tables", "_database"),
                        "ALTER DATABASE CHARACTER SET = "
                                + row[0]
                                + " COLLATE = "
                                + row[1]
                                + ";\n"));
    }

    private void read() throws SQLException {
        Map<String, List<LiveTable.Column>> columns = new LinkedHashMap<>();
        for (String[] row :
                LiveRows.of(
                        connection,
                        "SELECT c.TABLE_NAME, c.COLUMN_NAME, c.COLUMN_TYPE, c.DATA_TYPE,"
                                + " c.IS_NULLABLE, c.GENERATION_EXPRESSION"
                                + " FROM information_schema.COLUMNS c JOIN information_schema.TABLES t"
                                + " USING (TABLE_SCHEMA, TABLE_NAME) WHERE c.TABLE_SCHEMA"
                                + HERE
                                + " AND t.TABLE_TYPE IN ('BASE TABLE', 'SYSTEM VERSIONED')"
                                // What a ship has left there is no part of the project.
                                + " AND c.TABLE_NAME NOT IN ('cantina_ledger', 'cantina_steps')"
                                + " ORDER BY c.TABLE_NAME, c.ORDINAL_POSITION")) {
            columns.computeIfAbsent(row[0], t -> new ArrayList<>())
                    .add(
                            new LiveTable.Column(
                                    row[1],
                                    MariaLive.quoted(row[1]),
                                    row[2],
                                    kind(row[3], row[2]),
                                    row[4].equals("YES"),
                                    row[5] != null && !row[5].isEmpty()));
        }
        columns.forEach(
                (name, list) ->
                        tables.put(
                                name,
                                new LiveTable(
                                        name,
                                        MariaLive.quoted(name),
                                        list,
                                        new ArrayList<>(),
                                        new ArrayList<>(),
                                        new ArrayList<>(),
                                        true)));
        keys();
        references();
    }

    private void keys() throws SQLException {
        Map<String, List<Integer>> keys = new LinkedHashMap<>();
        for (String[] row :
                LiveRows.of(
                        connection,
                        "SELECT TABLE_NAME, INDEX_NAME, COLUMN_NAME FROM information_schema.STATISTICS"
                                + " WHERE TABLE_SCHEMA"
                                + HERE
                                + " AND NON_UNIQUE = 0 ORDER BY TABLE_NAME, INDEX_NAME, SEQ_IN_INDEX")) {
            LiveTable table = tables.get(row[0]);
            if (table != null) {
                List<Integer> key =
                        keys.computeIfAbsent(
                                row[0] + "." + row[1],
                                k -> {
                                    List<Integer> fresh =
                                            row[1].equals("PRIMARY")
                                                    ? table.key()
                                                    : new ArrayList<>();
                                    table.unique().add(fresh);
                                    return fresh;
                                });
                key.add(table.position(row[2]));
            }
        }
    }

    private void references() throws SQLException {
        Map<String, LiveTable.Reference> found = new LinkedHashMap<>();
        for (String[] row :
                LiveRows.of(
                        connection,
                        "SELECT TABLE_NAME, CONSTRAINT_NAME, COLUMN_NAME, REFERENCED_TABLE_NAME,"
                                + " REFERENCED_COLUMN_NAME, REFERENCED_TABLE_SCHEMA"
                                + " FROM information_schema.KEY_COLUMN_USAGE WHERE TABLE_SCHEMA"
                                + HERE
                                + " AND REFERENCED_TABLE_NAME IS NOT NULL"
                                + " ORDER BY TABLE_NAME, CONSTRAINT_NAME, ORDINAL_POSITION")) {
            LiveTable table = tables.get(row[0]);
            if (!row[5].equals(database) || !tables.containsKey(row[3])) {
                leftOut.add(
                        "the foreign key "
                                + row[1]
                                + " of "
                                + row[0]
                                + " is kept, and refers to a table outside of what is imported");
                continue;
            }
            LiveTable.Reference reference =
                    found.computeIfAbsent(
                            row[0] + "." + row[1],
                            k -> {
                                LiveTable.Reference fresh =
                                        new LiveTable.Reference(
                                                row[1],
                                                new ArrayList<>(),
                                                row[3],
                                                new ArrayList<>());
                                table.references().add(fresh);
                                return fresh;
                            });
            reference.columns().add(table.position(row[2]));
            reference.parents().add(row[4]);
        }
    }

    private static LiveTable.Kind kind(String type, String whole) {
        return switch (type.toLowerCase(Locale.ROOT)) {
            case "tinyint", "smallint", "mediumint", "int", "bigint" ->
                    whole.equalsIgnoreCase("tinyint(1)")
                            ? LiveTable.Kind.TRUTH
                            : LiveTable.Kind.WHOLE;
            case "decimal", "float", "double" -> LiveTable.Kind.DECIMAL;
            case "date" -> LiveTable.Kind.DATE;
            case "datetime", "timestamp" -> LiveTable.Kind.MOMENT;
            case "time" -> LiveTable.Kind.TIME;
            case "uuid" -> LiveTable.Kind.UUID;
            case "binary", "varbinary", "tinyblob", "blob", "mediumblob", "longblob" ->
                    LiveTable.Kind.BYTES;
            case "char", "varchar", "tinytext", "text", "mediumtext" -> LiveTable.Kind.TEXT;
            // JSON is a LONGTEXT here, and must stay what can be read.
            default -> LiveTable.Kind.OTHER;
        };
    }

    private void tables() throws SQLException {
        List<References.Edge> edges = new ArrayList<>();
        tables.values()
                .forEach(
                        t ->
                                t.references()
                                        .forEach(
                                                r ->
                                                        edges.add(
                                                                new References.Edge(
                                                                        t.name(), r.parent()))));
        References references = new References(edges);
        for (LiveTable table : tables.values()) {
            String text = LiveRows.of(connection, "SHOW CREATE TABLE " + table.sql()).get(0)[1];
            boolean circle =
                    table.references().stream()
                            .filter(r -> !r.parent().equals(table.name()))
                            .anyMatch(
                                    r ->
                                            references.isInCircle(
                                                    new References.Edge(table.name(), r.parent())));
            files.add(
                    new ImportedFile(
                            names.path("tables", table.name()),
                            circle
                                    ? apart(table, withoutNumber(text))
                                    : withoutNumber(text) + ";\n"));
        }
    }

    /** The next number is no part of what a table is. */
    private static String withoutNumber(String text) {
        int end = text.lastIndexOf("\n)");
        return text.substring(0, end + 1)
                + text.substring(end + 1)
                        .replaceFirst("^(\\) ENGINE=\\w+) AUTO_INCREMENT=\\d+", "$1");
    }

    /** The foreign keys of a table in a circle come when the other tables may be there. */
    private static String apart(LiveTable table, String text) {
        List<String> lines = new ArrayList<>();
        List<String> keys = new ArrayList<>();
        for (String line : text.split("\n")) {
            if (line.startsWith("  CONSTRAINT `") && line.contains("` FOREIGN KEY (")) {
                keys.add(line.strip().replaceFirst(",$", ""));
            } else {
                lines.add(line);
            }
        }
        StringBuilder all = new StringBuilder();
        for (int i = 0; i < lines.size(); i++) {
            boolean last = i + 1 < lines.size() && lines.get(i + 1).startsWith(")");
            all.append(last ? lines.get(i).replaceFirst(",$", "") : lines.get(i)).append('\n');
        }
        StringBuilder made = new StringBuilder(all.toString().stripTrailing()).append(";\n");
        keys.forEach(
                k ->
                        made.append("\nALTER TABLE ")
                                .append(table.sql())
                                .append(" ADD ")
                                .append(k)
                                .append(";\n"));
        return made.toString();
    }

    private void views() throws SQLException {
        for (String[] row : named("VIEW")) {
            String text =
                    LiveRows.of(connection, "SHOW CREATE VIEW " + MariaLive.quoted(row[0]))
                            .get(0)[1];
            files.add(
                    new ImportedFile(
                            names.path("tables", "views", row[0]), withoutDatabase(text) + ";\n"));
        }
    }

    /** A view names this database with each table, and a run has one of another name. */
    private String withoutDatabase(String text) {
        String prefix = MariaLive.quoted(database) + ".";
        StringBuilder made = new StringBuilder();
        boolean quoted = false;
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            if (quoted && c == '\\' && i + 1 < text.length()) {
                made.append(c).append(text.charAt(++i));
                continue;
            }
            quoted ^= c == '\'';
            if (!quoted && text.startsWith(prefix, i)) {
                i += prefix.length() - 1;
                continue;
            }
            made.append(c);
        }
        return made.toString();
    }

    private void sequences() throws SQLException {
        StringBuilder numbers = new StringBuilder();
        for (String[] row : named("SEQUENCE")) {
            String quoted = MariaLive.quoted(row[0]);
            String text = LiveRows.of(connection, "SHOW CREATE SEQUENCE " + quoted).get(0)[1];
            files.add(new ImportedFile(names.path("tables", "sequences", row[0]), text + ";\n"));
            String next =
                    LiveRows.of(connection, "SELECT next_not_cached_value FROM " + quoted)
                            .get(0)[0];
            numbers.append("ALTER SEQUENCE ").append(quoted);
            numbers.append(" RESTART WITH ").append(next).append(";\n");
        }
        if (numbers.length() > 0) {
            fixture.add(new ImportedFile("numbers.sql", numbers.toString()));
        }
    }

    private List<String[]> named(String kind) throws SQLException {
        return LiveRows.of(
                connection,
                "SELECT TABLE_NAME FROM information_schema.TABLES WHERE TABLE_SCHEMA"
                        + HERE
                        + " AND TABLE_TYPE = '"
                        + kind
                        + "' ORDER BY 1");
    }
}
