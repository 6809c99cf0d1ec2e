package dev.cantina.importing.postgresql;

import dev.cantina.importing.FileNames;
import dev.cantina.importing.ImportedFile;
import dev.cantina.importing.Live;
import dev.cantina.importing.LiveRows;
import dev.cantina.importing.LiveTable;
import dev.cantina.importing.SqlServer;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;

/** A PostgreSQL server that is read from: its catalog writes all that it has down itself. */
public final class PgLive extends SqlServer {
    private List<String> path = List.of();

    /**
     * @param connection in a transaction; nothing of it is used by anybody else
     */
    public PgLive(Connection connection) throws SQLException {
        super(connection);
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
        PgScope scope = new PgScope(connection, wanted, mainSchema(), new FileNames(), leftOut);
        PgObjects objects = new PgObjects(scope);
        files.addAll(objects.files());
        PgTables tables = new PgTables(scope);
        files.addAll(tables.files());
        files.addAll(new PgRoutines(scope).files());
        new PgRights(scope).file().ifPresent(files::add);
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

    @Override
    protected String text(LiveTable.Column column) {
        return switch (column.type()) {
            // Its text would depend on the server's money.
            case "money" -> column.sql() + "::numeric::text";
            case "bytea" -> "encode(" + column.sql() + ", 'hex')";
            default -> column.sql() + "::text";
        };
    }

    @Override
    protected String value(String text, LiveTable.Column column) {
        return column.type().equals("bytea")
                ? "decode(" + LiveRows.literal(text) + ", 'hex')"
                : "CAST(" + LiveRows.literal(text) + " AS " + column.type() + ")";
    }
}
