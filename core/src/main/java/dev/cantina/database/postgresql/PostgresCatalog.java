package dev.cantina.database.postgresql;

import dev.cantina.catalog.Column;
import dev.cantina.catalog.Table;
import dev.cantina.database.ServerValues;
import dev.cantina.database.embedded.EmbeddedDatabase;
import dev.cantina.types.SqlType;
import dev.cantina.types.SqlType.Shape;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Reads the tables of a PostgreSQL server: those of the current schema, views too. */
public final class PostgresCatalog {
    private static final String COLUMNS =
            """
            SELECT %2$s, a.attname, t.typname, CASE o.typtype WHEN 'd' THEN o.typtypmod ELSE a.atttypmod END, a.attnotnull,
                   pg_get_expr(d.adbin, d.adrelid), a.attidentity <> '', a.attgenerated <> '',
                   c.relkind IN ('v', 'm'), format_type(a.atttypid, a.atttypmod)
              FROM pg_class c
              JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum > 0 AND NOT a.attisdropped
              JOIN pg_type o ON o.oid = a.atttypid
              -- A domain holds what the type holds that it is made of.
              JOIN pg_type t ON t.oid = CASE WHEN o.typtype <> 'd' THEN o.oid ELSE
                (WITH RECURSIVE made AS (SELECT o.typbasetype AS base UNION ALL
                   SELECT d.typbasetype FROM made m JOIN pg_type d ON d.oid = m.base
                    WHERE d.typtype = 'd') SELECT min(base) FROM made m JOIN pg_type d
                    ON d.oid = m.base WHERE d.typtype <> 'd') END
              LEFT JOIN pg_attrdef d ON d.adrelid = c.oid AND d.adnum = a.attnum
             WHERE c.relnamespace %1$s AND c.relkind IN ('r', 'p', 'v', 'm')
             ORDER BY 1, a.attnum
            """;
    private static final String KEYS =
            """
            SELECT %2$s, i.indexrelid, i.indisprimary, a.attname
              FROM pg_index i
              JOIN pg_class c ON c.oid = i.indrelid
              JOIN unnest(i.indkey) WITH ORDINALITY AS k (attnum, n) ON TRUE
              JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum = k.attnum
             WHERE c.relnamespace %1$s AND i.indisunique AND i.indpred IS NULL
             ORDER BY 1, i.indexrelid, k.n
            """;
    private static final int HEADER = 4;

    private final Connection connection;
    private final boolean own;

    /**
     * @param own whether types that the standard has not are to be shown as texts
     */
    PostgresCatalog(Connection connection, boolean own) {
        this.connection = connection;
        this.own = own;
    }

    List<Table> tables() throws SQLException {
        return own ? tables(OWN_SCHEMAS, OWN_NAME) : tables("= current_schema::regnamespace", NAME);
    }

    /** A temporary table of the session. */
    Table temporary(String name) throws SQLException {
        return tables("= pg_my_temp_schema()", NAME).stream()
                .filter(t -> t.name().equals(name))
                .findFirst()
                .orElseThrow(() -> new SQLException("there is no table " + name, "42P01"));
    }

    private static final String NAME = "c.relname";

    /** All schemas but the system's own, of a database that is a run's own. */
    static final String OWN_SCHEMAS =
            "IN (SELECT oid FROM pg_namespace WHERE nspname <> 'information_schema'"
                    + " AND nspname NOT LIKE 'pg\\_%%')";

    private static final String OWN_NAME = ownName("c");

    /**
     * A table's name, with its schema where that is not the first; what has a dot in itself stands
     * in quotes.
     *
     * @param alias of pg_class in the query
     */
    static String ownName(String alias) {
        String part =
                "CASE WHEN strpos(%1$s, '.') > 0 THEN '\"' || replace(%1$s, '\"', '\"\"') || '\"' ELSE %1$s END";
        String table = part.formatted(alias + ".relname::text");
        String schema =
                "(SELECT "
                        + part.formatted("nspname::text")
                        + " FROM pg_namespace WHERE oid = "
                        + alias
                        + ".relnamespace)";
        return "CASE WHEN %s.relnamespace = current_schema::regnamespace THEN %s ELSE %s || '.' || %s END"
                .formatted(alias, table, schema, table);
    }

    private List<Table> tables(String schema, String name) throws SQLException {
        Map<String, List<Column>> columns = new LinkedHashMap<>();
        Map<String, Boolean> views = new LinkedHashMap<>();
        try (PreparedStatement statement =
                        connection.prepareStatement(COLUMNS.formatted(schema, name));
                ResultSet row = statement.executeQuery()) {
            while (row.next()) {
                String table = row.getString(1);
                views.put(table, row.getBoolean(9));
                String initial = row.getString(6);
                boolean numbered =
                        row.getBoolean(7) || initial != null && initial.startsWith("nextval(");
                columns.computeIfAbsent(table, t -> new ArrayList<>())
                        .add(
                                new Column(
                                        row.getString(2),
                                        key(row.getString(2)),
                                        shownType(
                                                row.getString(3), row.getInt(4), row.getString(10)),
                                        !row.getBoolean(5),
                                        numbered ? Optional.empty() : Optional.ofNullable(initial),
                                        numbered,
                                        row.getBoolean(8)));
            }
        }
        Map<String, Map<Long, List<Integer>>> unique = new LinkedHashMap<>();
        Map<String, Long> primary = new LinkedHashMap<>();
        keys(schema, name, columns, unique, primary);
        Set<String> selfish =
                ServerValues.names(
                        connection,
                        "SELECT "
                                + name
                                + " FROM pg_constraint k JOIN pg_class c ON c.oid = k.conrelid"
                                + " WHERE k.contype = 'f' AND k.conrelid = k.confrelid");
        List<Table> tables = new ArrayList<>();
        columns.forEach(
                (table, list) -> {
                    Map<Long, List<Integer>> keys = unique.getOrDefault(table, Map.of());
                    tables.add(
                            new Table(
                                    table,
                                    key(table),
                                    List.copyOf(list),
                                    primary.containsKey(table)
                                            ? keys.get(primary.get(table))
                                            : List.of(),
                                    List.copyOf(keys.values()),
                                    views.get(table),
                                    selfish.contains(table)));
                });
        return tables;
    }

    private SqlType shownType(String name, int modifier, String shown) {
        SqlType type = type(name, modifier, shown);
        return own ? shown(type) : type;
    }

    /** A type as it can be shown: one that the standard has not as a text. */
    static SqlType shown(SqlType type) {
        if (type instanceof SqlType.Array array) {
            return array.element() instanceof SqlType.Unknown ? SqlType.VARCHAR : type;
        }
        return type instanceof SqlType.Unknown ? SqlType.VARCHAR : type;
    }

    /**
     * A type as a routine's parameter has it.
     *
     * @param name the server's own
     */
    public static SqlType parameter(String name) {
        return shown(type(name, -1, name));
    }

    private void keys(
            String schema,
            String name,
            Map<String, List<Column>> columns,
            Map<String, Map<Long, List<Integer>>> unique,
            Map<String, Long> primary)
            throws SQLException {
        try (PreparedStatement statement =
                        connection.prepareStatement(KEYS.formatted(schema, name));
                ResultSet row = statement.executeQuery()) {
            while (row.next()) {
                String table = row.getString(1);
                long index = row.getLong(2);
                if (row.getBoolean(3)) {
                    primary.put(table, index);
                }
                List<Column> list = columns.getOrDefault(table, List.of());
                for (int i = 0; i < list.size(); i++) {
                    if (list.get(i).name().equals(row.getString(4))) {
                        unique.computeIfAbsent(table, t -> new LinkedHashMap<>())
                                .computeIfAbsent(index, k -> new ArrayList<>())
                                .add(i);
                    }
                }
            }
        }
    }

    /** A table as a statement says it, with its schema where it has one. */
    public static String quoted(String name) {
        List<String> parts = new ArrayList<>();
        StringBuilder part = new StringBuilder();
        boolean inside = false;
        for (int i = 0; i < name.length(); i++) {
            char c = name.charAt(i);
            boolean doubled = inside && c == '"' && name.startsWith("\"\"", i);
            if (doubled) {
                part.append(name.charAt(i++));
            } else if (c == '"' && (inside || part.length() == 0)) {
                inside = !inside;
            } else if (c == '.' && !inside) {
                parts.add(EmbeddedDatabase.quoted(part.toString()));
                part.setLength(0);
            } else {
                part.append(c);
            }
        }
        parts.add(EmbeddedDatabase.quoted(part.toString()));
        return String.join(".", parts);
    }

    /** The server keeps ordinary names in lower case, and the standard folds them to upper case. */
    static String key(String name) {
        return name.equals(name.toLowerCase(Locale.ROOT)) ? name.toUpperCase(Locale.ROOT) : name;
    }

    /**
     * A type by the server's name for it.
     *
     * @param modifier the server's own number for lengths and precisions; -1 where there is none
     * @param shown the type as the server writes it
     */
    static SqlType type(String name, int modifier, String shown) {
        int length = modifier < HEADER ? 0 : modifier - HEADER;
        int digits = modifier < 0 ? 6 : modifier;
        return switch (name) {
            case "int2" -> SqlType.SMALLINT;
            case "int4", "serial" -> SqlType.INTEGER;
            case "int8", "bigserial", "oid" -> SqlType.BIGINT;
            case "numeric" ->
                    modifier < HEADER
                            ? SqlType.DECIMAL
                            : new SqlType.Exact(length >> 16, length & 0x7ff);
            case "float4" -> new SqlType.Approximate(true);
            case "float8" -> SqlType.DOUBLE;
            case "bool" -> SqlType.BOOLEAN;
            case "bpchar" -> new SqlType.Text(Shape.FIXED, Math.max(1, length));
            case "varchar", "text", "name" -> new SqlType.Text(Shape.VARYING, length);
            case "bytea" -> new SqlType.Bytes(Shape.VARYING, 0);
            case "date" -> SqlType.DATE;
            case "time" -> new SqlType.Time(digits, false);
            case "timetz" -> new SqlType.Time(digits, true);
            case "timestamp" -> new SqlType.Timestamp(digits, false);
            case "timestamptz" -> new SqlType.Timestamp(digits, true);
            case "uuid" -> new SqlType.Uuid();
            case "json", "jsonb" -> new SqlType.Json();
            default ->
                    name.startsWith("_")
                            ? new SqlType.Array(
                                    type(name.substring(1), modifier, shown.replace("[]", "")), 0)
                            : SqlType.NULL;
        };
    }
}
