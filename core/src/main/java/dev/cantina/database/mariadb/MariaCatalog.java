package dev.cantina.database.mariadb;

import dev.cantina.catalog.Column;
import dev.cantina.catalog.Table;
import dev.cantina.database.ServerValues;
import dev.cantina.types.SqlType;
import dev.cantina.types.SqlType.Shape;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Reads the tables of a MariaDB server: those of the connection's database, views too. */
public final class MariaCatalog {
    /** Types that may have no sign, and then hold more. */
    private static final java.util.Set<String> UNSIGNED =
            java.util.Set.of("tinyint", "smallint", "mediumint", "int", "integer", "bigint");

    /** What Cantina keeps beside the tables of a scratch database begins so. */
    static final String OWN = "cantina_";

    private static final String COLUMNS =
            """
            SELECT c.TABLE_NAME, c.COLUMN_NAME, c.COLUMN_TYPE, c.NUMERIC_PRECISION,
                   c.NUMERIC_SCALE, c.CHARACTER_MAXIMUM_LENGTH, c.DATETIME_PRECISION,
                   c.IS_NULLABLE, c.COLUMN_DEFAULT, c.EXTRA, t.TABLE_TYPE = 'VIEW'
              FROM information_schema.COLUMNS c
              JOIN information_schema.TABLES t
                ON t.TABLE_SCHEMA = c.TABLE_SCHEMA AND t.TABLE_NAME = c.TABLE_NAME
             WHERE c.TABLE_SCHEMA = DATABASE() AND t.TABLE_TYPE <> 'SEQUENCE'
             ORDER BY c.TABLE_NAME, c.ORDINAL_POSITION
            """;
    private static final String KEYS =
            """
            SELECT TABLE_NAME, INDEX_NAME, COLUMN_NAME FROM information_schema.STATISTICS
             WHERE TABLE_SCHEMA = DATABASE() AND NON_UNIQUE = 0
             ORDER BY TABLE_NAME, INDEX_NAME, SEQ_IN_INDEX
            """;

    private final Connection connection;

    MariaCatalog(Connection connection) {
        this.connection = connection;
    }

    List<Table> tables() throws SQLException {
        Map<String, List<Column>> columns = new LinkedHashMap<>();
        Map<String, Boolean> views = new LinkedHashMap<>();
        try (PreparedStatement statement = connection.prepareStatement(COLUMNS);
                ResultSet row = statement.executeQuery()) {
            while (row.next()) {
                if (row.getString(1).startsWith(OWN)) {
                    continue;
                }
                views.put(row.getString(1), row.getBoolean(11));
                columns.computeIfAbsent(row.getString(1), t -> new ArrayList<>()).add(column(row));
            }
        }
        Map<String, Map<String, List<Integer>>> unique = keys(columns);
        Set<String> own =
                ServerValues.names(
                        connection,
                        "SELECT TABLE_NAME FROM information_schema.REFERENTIAL_CONSTRAINTS"
                                + " WHERE CONSTRAINT_SCHEMA = DATABASE()"
                                + " AND TABLE_NAME = REFERENCED_TABLE_NAME");
        List<Table> tables = new ArrayList<>();
        columns.forEach(
                (name, list) -> {
                    Map<String, List<Integer>> keys = unique.getOrDefault(name, Map.of());
                    tables.add(
                            new Table(
                                    name,
                                    key(name),
                                    List.copyOf(list),
                                    keys.getOrDefault("PRIMARY", List.of()),
                                    List.copyOf(keys.values()),
                                    views.get(name),
                                    own.contains(name)));
                });
        return tables;
    }

    private static Column column(ResultSet row) throws SQLException {
        String extra = row.getString(10);
        String initial = row.getString(9);
        boolean numbered = extra.contains("auto_increment");
        boolean given = initial != null && !initial.equals("NULL") && !numbered;
        return new Column(
                row.getString(2),
                key(row.getString(2)),
                type(row.getString(3), row.getInt(4), row.getInt(5), row.getLong(6), row.getInt(7)),
                "YES".equals(row.getString(8)),
                given ? Optional.of(initial) : Optional.empty(),
                numbered,
                extra.contains("GENERATED"));
    }

    private Map<String, Map<String, List<Integer>>> keys(Map<String, List<Column>> columns)
            throws SQLException {
        Map<String, Map<String, List<Integer>>> unique = new LinkedHashMap<>();
        try (PreparedStatement statement = connection.prepareStatement(KEYS);
                ResultSet row = statement.executeQuery()) {
            while (row.next()) {
                List<Column> list = columns.getOrDefault(row.getString(1), List.of());
                for (int i = 0; i < list.size(); i++) {
                    if (list.get(i).name().equals(row.getString(3))) {
                        unique.computeIfAbsent(row.getString(1), t -> new LinkedHashMap<>())
                                .computeIfAbsent(row.getString(2), k -> new ArrayList<>())
                                .add(i);
                    }
                }
            }
        }
        return unique;
    }

    /** A temporary table of the session, which the catalog of the server does not show. */
    Table temporary(String name) throws SQLException {
        List<Column> columns = new ArrayList<>();
        List<Integer> primary = new ArrayList<>();
        try (Statement statement = connection.createStatement();
                ResultSet row =
                        statement.executeQuery("SHOW COLUMNS FROM " + MariaSession.quoted(name))) {
            while (row.next()) {
                if ("PRI".equals(row.getString(4))) {
                    primary.add(columns.size());
                }
                String initial = row.getString(5);
                boolean numbered = row.getString(6).contains("auto_increment");
                columns.add(
                        new Column(
                                row.getString(1),
                                key(row.getString(1)),
                                written(row.getString(2)),
                                "YES".equals(row.getString(3)),
                                numbered ? Optional.empty() : Optional.ofNullable(initial),
                                numbered,
                                row.getString(6).contains("GENERATED")));
            }
        }
        return new Table(
                name,
                key(name),
                columns,
                primary,
                primary.isEmpty() ? List.of() : List.of(primary),
                false,
                false);
    }

    /** A type as the server writes it whole, {@code decimal(8,2)}. */
    public static SqlType written(String text) {
        java.util.regex.Matcher sizes =
                java.util.regex.Pattern.compile("\\((\\d+)(?:,(\\d+))?\\)").matcher(text);
        boolean sized = sizes.find();
        int first = sized ? Integer.parseInt(sizes.group(1)) : 0;
        int second = sized && sizes.group(2) != null ? Integer.parseInt(sizes.group(2)) : 0;
        return type(text, first, second, first, first);
    }

    /** Names count without their case on this server, and the standard folds them to upper case. */
    static String key(String name) {
        return name.toUpperCase(Locale.ROOT);
    }

    /**
     * A type by the server's name for it.
     *
     * @param written with its sizes and {@code unsigned}
     * @param fraction digits of the seconds
     */
    static SqlType type(String written, int precision, int scale, long length, int fraction) {
        String lower = written.toLowerCase(Locale.ROOT);
        String name = lower.replaceAll("[ (].*", "");
        if (written.equalsIgnoreCase("tinyint(1)")) {
            return SqlType.BOOLEAN;
        }
        int size = (int) Math.min(length, Integer.MAX_VALUE);
        if (UNSIGNED.contains(name) && (lower.contains("unsigned") || lower.contains("zerofill"))) {
            return name.equals("bigint") ? new SqlType.Exact(20, 0) : SqlType.BIGINT;
        }
        return switch (name) {
            case "boolean" -> SqlType.BOOLEAN;
            case "tinyint", "smallint", "year" -> SqlType.SMALLINT;
            case "mediumint", "int", "integer" -> SqlType.INTEGER;
            case "bigint" -> SqlType.BIGINT;
            case "decimal", "numeric" -> new SqlType.Exact(precision, scale);
            case "float" -> new SqlType.Approximate(true);
            case "double" -> SqlType.DOUBLE;
            case "char" -> new SqlType.Text(Shape.FIXED, Math.max(1, size));
            case "varchar" -> new SqlType.Text(Shape.VARYING, size);
            case "tinytext", "text", "mediumtext", "longtext", "enum", "set" ->
                    new SqlType.Text(Shape.VARYING, 0);
            case "binary", "varbinary", "tinyblob", "blob", "mediumblob", "longblob" ->
                    new SqlType.Bytes(Shape.VARYING, 0);
            case "date" -> SqlType.DATE;
            case "time" -> new SqlType.Time(fraction, false);
            case "datetime", "timestamp" -> new SqlType.Timestamp(fraction, false);
            case "uuid" -> new SqlType.Uuid();
            case "json" -> new SqlType.Json();
            default -> SqlType.NULL;
        };
    }
}
