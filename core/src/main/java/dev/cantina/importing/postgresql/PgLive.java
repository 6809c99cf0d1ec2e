package dev.cantina.importing.postgresql;

import dev.cantina.importing.FileNames;
import dev.cantina.importing.ImportedFile;
import dev.cantina.importing.Live;
import dev.cantina.importing.LiveRows;
import dev.cantina.importing.LiveServer;
import dev.cantina.importing.LiveTable;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;

/** A PostgreSQL server that is read from: its catalog writes all that it has down itself. */
public final class PgLive implements LiveServer {
    private final Connection connection;
    private List<String> path = List.of();

    /**
     * @param connection in a transaction; nothing of it is used by anybody else
     */
    public PgLive(Connection connection) throws SQLException {
        this.connection = connection;
        connection.rollback();
        execute("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ, READ ONLY");
        for (String setting :
                List.of(
                        "DateStyle = 'ISO'",
                        "IntervalStyle = 'postgres'",
                        "TimeZone = 'UTC'",
                        "extra_float_digits = 1",
                        "bytea_output = 'hex'",
                        "standard_conforming_strings = on")) {
            execute("SET LOCAL " + setting);
        }
    }

    private void execute(String sql) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute(sql);
        }
    }

    @Override
    public Live read(List<String> schemas) throws SQLException, UnknownSchemaException {
        path =
                column(
                        "SELECT s FROM unnest(current_schemas(FALSE)) s WHERE NOT (s = 'cantina'"
                                + " AND to_regclass('cantina.ledger') IS NOT NULL)");
        // Only what is in the first schema is written without its name.
        execute(
                "SELECT set_config('search_path', quote_ident("
                        + LiveRows.literal(mainSchema())
                        + "), TRUE)");
        List<String> all =
                column(
                        "SELECT nspname FROM pg_namespace n WHERE nspname <> 'information_schema'"
                                + " AND nspname NOT LIKE 'pg\\_%' AND "
                                + PgObjects.ofNoExtension("pg_namespace", "n.oid")
                                // What a ship has left there is no part of the project.
                                + " AND NOT (nspname = 'cantina'"
                                + " AND to_regclass('cantina.ledger') IS NOT NULL)"
                                + " ORDER BY nspname");
        for (String schema : schemas) {
            if (!all.contains(schema)) {
                throw new UnknownSchemaException(
                        "there is no schema " + schema + "; there are " + String.join(", ", all));
            }
        }
        List<String> wanted = schemas.isEmpty() ? all : schemas;
        List<ImportedFile> files = new ArrayList<>();
        List<ImportedFile> fixture = new ArrayList<>();
        List<String> leftOut = new ArrayList<>();
        FileNames names = new FileNames();
        PgObjects objects = new PgObjects(connection, wanted, mainSchema(), names, leftOut);
        files.addAll(objects.files());
        PgTables tables = new PgTables(connection, wanted, mainSchema(), names, leftOut);
        files.addAll(tables.files());
        files.addAll(new PgRoutines(connection, wanted, mainSchema(), names, leftOut).files());
        new PgRights(connection, wanted, names).file().ifPresent(files::add);
        fixture.addAll(objects.fixture());
        return new Live(
                files,
                fixture,
                tables.live(),
                path.equals(List.of("public")) ? List.of() : path,
                leftOut);
    }

    /** The schema that names without one mean. */
    private String mainSchema() {
        return path.isEmpty() ? "" : path.get(0);
    }

    private List<String> column(String sql) throws SQLException {
        return LiveRows.of(connection, sql).stream().map(r -> r[0]).toList();
    }

    /** A column as its text: one that is read back to the same value. */
    private static String text(LiveTable.Column column) {
        return switch (column.type()) {
            // Its text would depend on the server's money.
            case "money" -> column.sql() + "::numeric::text";
            case "bytea" -> "encode(" + column.sql() + ", 'hex')";
            default -> column.sql() + "::text";
        };
    }

    private static String columns(LiveTable table) {
        return table.columns().stream().map(PgLive::text).collect(Collectors.joining(", "));
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
        return column.type().equals("bytea")
                ? "decode(" + LiveRows.literal(text) + ", 'hex')"
                : "CAST(" + LiveRows.literal(text) + " AS " + column.type() + ")";
    }
}
