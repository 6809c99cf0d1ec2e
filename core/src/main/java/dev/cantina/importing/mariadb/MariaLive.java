package dev.cantina.importing.mariadb;

import dev.cantina.importing.FileNames;
import dev.cantina.importing.ImportedFile;
import dev.cantina.importing.Live;
import dev.cantina.importing.LiveRows;
import dev.cantina.importing.LiveServer;
import dev.cantina.importing.LiveTable;
import java.nio.charset.StandardCharsets;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;

/** A MariaDB server that is read from: one database of it. */
public final class MariaLive implements LiveServer {
    private final Connection connection;

    /**
     * @param connection in a transaction; nothing of it is used by anybody else
     */
    public MariaLive(Connection connection) throws SQLException {
        this.connection = connection;
        connection.rollback();
        execute("SET NAMES utf8mb4");
        // What SHOW CREATE says is read under the server's usual mode.
        execute("SET sql_mode = '', time_zone = @@GLOBAL.time_zone");
        execute("SET sql_quote_show_create = 1");
        execute("SET SESSION TRANSACTION ISOLATION LEVEL REPEATABLE READ");
        execute("START TRANSACTION WITH CONSISTENT SNAPSHOT, READ ONLY");
    }

    private void execute(String sql) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute(sql);
        }
    }

    @Override
    public Live read(List<String> schemas) throws SQLException, UnknownSchemaException {
        if (schemas.size() > 1) {
            throw new UnknownSchemaException(
                    "a run has one database of MariaDB; name one schema, and import the others as"
                            + " projects of their own");
        }
        if (!schemas.isEmpty()) {
            List<String> all =
                    LiveRows.of(connection, "SHOW DATABASES").stream().map(r -> r[0]).toList();
            if (!all.contains(schemas.get(0))) {
                throw new UnknownSchemaException(
                        "there is no database "
                                + schemas.get(0)
                                + "; there are "
                                + String.join(", ", all));
            }
            execute("USE " + quoted(schemas.get(0)));
        }
        if (LiveRows.of(connection, "SELECT DATABASE()").get(0)[0] == null) {
            throw new UnknownSchemaException(
                    "the url names no database; say one there, or by --schema");
        }
        FileNames names = new FileNames();
        List<String> leftOut = new ArrayList<>();
        List<ImportedFile> files = new ArrayList<>();
        MariaTables tables = new MariaTables(connection, names, leftOut);
        files.addAll(tables.files());
        files.addAll(new MariaStored(connection, names, leftOut).files());
        return new Live(files, tables.fixture(), tables.live(), List.of(), leftOut);
    }

    static String quoted(String name) {
        return '`' + name.replace("`", "``") + '`';
    }

    /** A column as its text: one that is read back to the same value. */
    private static String text(LiveTable.Column column) {
        String name = column.sql();
        String type = column.type().toLowerCase(Locale.ROOT).replaceAll("[ (].*", "");
        return switch (type) {
            case "bit" ->
                    "CONCAT('b''', LPAD(BIN("
                            + name
                            + "), "
                            + column.type().replaceAll("\\D", "")
                            + ", '0'), '''')";
            case "binary", "varbinary", "tinyblob", "blob", "mediumblob", "longblob" ->
                    "LOWER(HEX(" + name + "))";
            // As a text it has six digits; as a double it is written whole.
            case "float" ->
                    "IF(CAST(CAST(%1$s AS CHAR) AS FLOAT) = %1$s, CAST(%1$s AS CHAR), CAST(CAST(%1$s AS DOUBLE) AS CHAR))"
                            .formatted(name);
            default -> "CAST(" + name + " AS CHAR)";
        };
    }

    private static String columns(LiveTable table) {
        return table.columns().stream().map(MariaLive::text).collect(Collectors.joining(", "));
    }

    @Override
    public List<String[]> first(LiveTable table, int most) throws SQLException {
        String order =
                table.key().isEmpty()
                        ? ""
                        : " ORDER BY "
                                + table.key().stream()
                                        .map(i -> table.columns().get(i).sql())
                                        .collect(Collectors.joining(", "));
        return LiveRows.of(
                connection,
                "SELECT " + columns(table) + " FROM " + table.sql() + order + " LIMIT " + most);
    }

    @Override
    public List<String[]> of(LiveTable table, String query) throws SQLException {
        return LiveRows.of(
                connection, "SELECT " + columns(table) + " FROM (" + query + "\n) AS taken");
    }

    @Override
    public List<String[]> with(LiveTable table, List<Integer> columns, List<List<String>> values)
            throws SQLException {
        String names =
                columns.stream()
                        .map(i -> table.columns().get(i).sql())
                        .collect(Collectors.joining(", "));
        String rows =
                values.stream()
                        .map(
                                row -> {
                                    List<String> texts = new ArrayList<>();
                                    for (int i = 0; i < row.size(); i++) {
                                        LiveTable.Column column =
                                                table.columns().get(columns.get(i));
                                        texts.add(value(row.get(i), column));
                                    }
                                    return "(" + String.join(", ", texts) + ")";
                                })
                        .collect(Collectors.joining(", "));
        return LiveRows.of(
                connection,
                "SELECT "
                        + columns(table)
                        + " FROM "
                        + table.sql()
                        + " WHERE ("
                        + names
                        + ") IN ("
                        + rows
                        + ")");
    }

    private static String value(String text, LiveTable.Column column) {
        boolean number =
                column.kind() == LiveTable.Kind.WHOLE || column.kind() == LiveTable.Kind.DECIMAL;
        if (number && text.matches("-?[0-9.]+(e[-+]?[0-9]+)?")) {
            return text;
        }
        return column.kind() == LiveTable.Kind.BYTES
                ? "X'" + text + "'"
                : "_utf8mb4 X'"
                        + HexFormat.of().formatHex(text.getBytes(StandardCharsets.UTF_8))
                        + "'";
    }
}
