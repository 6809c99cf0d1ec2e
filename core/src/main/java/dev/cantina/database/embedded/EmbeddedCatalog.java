package dev.cantina.database.embedded;

import dev.cantina.catalog.Column;
import dev.cantina.catalog.Table;
import dev.cantina.database.ServerValues;
import dev.cantina.types.SqlType;
import dev.cantina.types.SqlType.Shape;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Reads the tables of the embedded engine from its information schema (ISO 9075-11). */
final class EmbeddedCatalog {
    private final Connection connection;
    private final Map<String, String> spellings;

    /**
     * @param spellings how authors wrote the names that the engine keeps in upper case
     */
    EmbeddedCatalog(Connection connection, Map<String, String> spellings) {
        this.connection = connection;
        this.spellings = spellings;
    }

    /** One table, a temporary one too. */
    Optional<Table> table(String key) throws SQLException {
        return tables().stream().filter(t -> t.key().equals(key)).findFirst();
    }

    List<Table> tables() throws SQLException {
        Map<String, List<Column>> columns = columns();
        Map<String, Map<String, List<Integer>>> keys = new LinkedHashMap<>();
        Map<String, String> primary = new LinkedHashMap<>();
        keys(columns, keys, primary);
        Set<String> views = views();
        Set<String> own =
                ServerValues.names(
                        connection,
                        "SELECT C.TABLE_NAME FROM INFORMATION_SCHEMA.REFERENTIAL_CONSTRAINTS R"
                                + " JOIN INFORMATION_SCHEMA.TABLE_CONSTRAINTS C"
                                + " ON C.CONSTRAINT_NAME = R.CONSTRAINT_NAME"
                                + " AND C.CONSTRAINT_SCHEMA = R.CONSTRAINT_SCHEMA"
                                + " JOIN INFORMATION_SCHEMA.TABLE_CONSTRAINTS P"
                                + " ON P.CONSTRAINT_NAME = R.UNIQUE_CONSTRAINT_NAME"
                                + " AND P.CONSTRAINT_SCHEMA = R.UNIQUE_CONSTRAINT_SCHEMA"
                                + " WHERE C.TABLE_NAME = P.TABLE_NAME");
        List<Table> tables = new ArrayList<>();
        columns.forEach(
                (table, list) -> {
                    Map<String, List<Integer>> unique =
                            keys.getOrDefault(table, new LinkedHashMap<>());
                    tables.add(
                            new Table(
                                    spelled(table),
                                    table,
                                    List.copyOf(list),
                                    unique.getOrDefault(primary.get(table), List.of()),
                                    List.copyOf(unique.values()),
                                    views.contains(table),
                                    own.contains(table)));
                });
        return tables;
    }

    private Set<String> views() throws SQLException {
        Set<String> views = new HashSet<>();
        String sql =
                "SELECT TABLE_NAME FROM INFORMATION_SCHEMA.VIEWS"
                        + " WHERE TABLE_SCHEMA = CURRENT_SCHEMA";
        try (PreparedStatement statement = connection.prepareStatement(sql);
                ResultSet row = statement.executeQuery()) {
            while (row.next()) {
                views.add(row.getString(1));
            }
        }
        return views;
    }

    private String spelled(String name) {
        return spellings.getOrDefault(name, name);
    }

    private Map<String, List<Column>> columns() throws SQLException {
        Map<String, List<Column>> tables = new LinkedHashMap<>();
        String sql =
                "SELECT TABLE_NAME, COLUMN_NAME, DATA_TYPE, CHARACTER_MAXIMUM_LENGTH,"
                        + " NUMERIC_PRECISION, NUMERIC_SCALE, DATETIME_PRECISION, IS_NULLABLE,"
                        + " COLUMN_DEFAULT, IS_IDENTITY, IS_GENERATED, DECLARED_NUMERIC_PRECISION"
                        + " FROM INFORMATION_SCHEMA.COLUMNS WHERE TABLE_SCHEMA = CURRENT_SCHEMA"
                        + " ORDER BY TABLE_NAME, ORDINAL_POSITION";
        try (PreparedStatement statement = connection.prepareStatement(sql);
                ResultSet row = statement.executeQuery()) {
            while (row.next()) {
                String name = row.getString("COLUMN_NAME");
                tables.computeIfAbsent(row.getString("TABLE_NAME"), t -> new ArrayList<>())
                        .add(
                                new Column(
                                        spelled(name),
                                        name,
                                        type(row),
                                        row.getString("IS_NULLABLE").equals("YES"),
                                        Optional.ofNullable(row.getString("COLUMN_DEFAULT")),
                                        row.getString("IS_IDENTITY").equals("YES"),
                                        row.getString("IS_GENERATED").equals("ALWAYS")));
            }
        }
        return tables;
    }

    private static SqlType type(ResultSet row) throws SQLException {
        long length = row.getLong("CHARACTER_MAXIMUM_LENGTH");
        int precision = row.getInt("NUMERIC_PRECISION");
        int scale = row.getInt("NUMERIC_SCALE");
        int digits = row.getInt("DATETIME_PRECISION");
        return type(row.getString("DATA_TYPE"), length, precision, scale, digits);
    }

    /** The type of one of the engine's values. */
    static SqlType type(org.h2.value.Value value) {
        org.h2.value.TypeInfo type = value.getType();
        return type(
                org.h2.value.Value.getTypeName(type.getValueType()),
                type.getPrecision(),
                (int) type.getPrecision(),
                type.getScale(),
                type.getScale());
    }

    /** A type by the engine's name for it. */
    static SqlType type(String name, long length, int precision, int scale, int digits) {
        boolean unbounded = length > 1_000_000;
        int characters = unbounded ? 0 : (int) length;
        return switch (name) {
            case "TINYINT", "SMALLINT" -> SqlType.SMALLINT;
            case "INTEGER" -> SqlType.INTEGER;
            case "BIGINT" -> SqlType.BIGINT;
            case "NUMERIC", "DECIMAL" ->
                    precision >= 100_000 && scale == 0
                            ? SqlType.DECIMAL
                            : new SqlType.Exact(precision, scale);
            case "REAL" -> new SqlType.Approximate(true);
            case "DOUBLE PRECISION", "FLOAT" -> SqlType.DOUBLE;
            case "DECFLOAT" -> new SqlType.DecFloat(Math.min(precision, 1000));
            case "BOOLEAN" -> SqlType.BOOLEAN;
            case "CHARACTER" -> new SqlType.Text(Shape.FIXED, characters);
            case "CHARACTER VARYING", "VARCHAR_IGNORECASE" ->
                    new SqlType.Text(Shape.VARYING, characters);
            case "CHARACTER LARGE OBJECT" -> new SqlType.Text(Shape.LARGE, characters);
            case "BINARY" -> new SqlType.Bytes(Shape.FIXED, characters);
            case "BINARY VARYING" -> new SqlType.Bytes(Shape.VARYING, characters);
            case "BINARY LARGE OBJECT" -> new SqlType.Bytes(Shape.LARGE, characters);
            case "DATE" -> SqlType.DATE;
            case "TIME" -> new SqlType.Time(digits, false);
            case "TIME WITH TIME ZONE" -> new SqlType.Time(digits, true);
            case "TIMESTAMP" -> new SqlType.Timestamp(digits, false);
            case "TIMESTAMP WITH TIME ZONE" -> new SqlType.Timestamp(digits, true);
            case "UUID" -> new SqlType.Uuid();
            case "JSON" -> new SqlType.Json();
            default ->
                    name.startsWith("INTERVAL ")
                            ? new SqlType.Interval(name.substring(9).replaceAll("\\(\\d+\\)", ""))
                            : SqlType.NULL;
        };
    }

    private void keys(
            Map<String, List<Column>> columns,
            Map<String, Map<String, List<Integer>>> keys,
            Map<String, String> primary)
            throws SQLException {
        String sql =
                "SELECT C.TABLE_NAME, C.CONSTRAINT_NAME, C.CONSTRAINT_TYPE, K.COLUMN_NAME"
                        + " FROM INFORMATION_SCHEMA.TABLE_CONSTRAINTS C"
                        + " JOIN INFORMATION_SCHEMA.KEY_COLUMN_USAGE K"
                        + " ON K.CONSTRAINT_NAME = C.CONSTRAINT_NAME"
                        + " AND K.CONSTRAINT_SCHEMA = C.CONSTRAINT_SCHEMA"
                        + " WHERE C.TABLE_SCHEMA = CURRENT_SCHEMA"
                        + " AND C.CONSTRAINT_TYPE IN ('PRIMARY KEY', 'UNIQUE')"
                        + " ORDER BY C.CONSTRAINT_NAME, K.ORDINAL_POSITION";
        try (PreparedStatement statement = connection.prepareStatement(sql);
                ResultSet row = statement.executeQuery()) {
            while (row.next()) {
                String table = row.getString(1);
                String name = row.getString(2);
                if (row.getString(3).equals("PRIMARY KEY")) {
                    primary.put(table, name);
                }
                String column = row.getString(4);
                List<Column> list = columns.getOrDefault(table, List.of());
                for (int i = 0; i < list.size(); i++) {
                    if (list.get(i).key().equals(column)) {
                        keys.computeIfAbsent(table, t -> new LinkedHashMap<>())
                                .computeIfAbsent(name, n -> new ArrayList<>())
                                .add(i);
                    }
                }
            }
        }
    }
}
