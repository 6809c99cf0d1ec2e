package dev.cantina.importing.mariadb;

import dev.cantina.importing.FileNames;
import dev.cantina.importing.ImportedFile;
import dev.cantina.importing.Live;
import dev.cantina.importing.LiveRows;
import dev.cantina.importing.LiveTable;
import dev.cantina.importing.SqlServer;
import java.nio.charset.StandardCharsets;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Locale;

/** A MariaDB server that is read from: one database of it. */
public final class MariaLive extends SqlServer {

    /**
     * @param connection in a transaction; nothing of it is used by anybody else
     */
    public MariaLive(Connection connection) throws SQLException {
        super(connection);
        connection.rollback();
        execute("SET NAMES utf8mb4");
        // What SHOW CREATE says is read under the server's usual mode.
        execute("SET sql_mode = '', time_zone = @@GLOBAL.time_zone");
        execute("SET sql_quote_show_create = 1");
        execute("SET SESSION TRANSACTION ISOLATION LEVEL REPEATABLE READ");
        execute("START TRANSACTION WITH CONSISTENT SNAPSHOT, READ ONLY");
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

    @Override
    protected String text(LiveTable.Column column) {
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

    @Override
    protected String value(String text, LiveTable.Column column) {
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
