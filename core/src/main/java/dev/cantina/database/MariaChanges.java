package dev.cantina.database;

import dev.cantina.catalog.Table;
import dev.cantina.runtime.RowChange;
import dev.cantina.types.SqlType;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.List;

/** What changes in a transaction on MariaDB, row by row. */
interface MariaChanges {
    /** Reads a value as Cantina holds it. */
    interface Reader {
        Object read(ResultSet row, int column, SqlType type) throws SQLException;
    }

    /** Something may have been written, or taken back. */
    void touched();

    /** How far the log has got. */
    long position() throws SQLException;

    List<RowChange> since(long position) throws SQLException;

    /** A row as it stands in a result from a column on. */
    static Object[] row(ResultSet row, int from, Table table, Reader reader) throws SQLException {
        Object[] values = new Object[table.columns().size()];
        for (int i = 0; i < values.length; i++) {
            values[i] = reader.read(row, from + i, table.columns().get(i).type());
        }
        return values;
    }
}
