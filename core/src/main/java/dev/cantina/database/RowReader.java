package dev.cantina.database;

import dev.cantina.catalog.Table;
import dev.cantina.types.SqlType;
import java.sql.ResultSet;
import java.sql.SQLException;

/** Reads a value of a result as Cantina holds it. */
public interface RowReader {
    Object read(ResultSet row, int column, SqlType type) throws SQLException;

    /** A row of a table as it stands in a result from a column on. */
    default Object[] row(ResultSet row, int from, Table table) throws SQLException {
        Object[] values = new Object[table.columns().size()];
        for (int i = 0; i < values.length; i++) {
            values[i] = read(row, from + i, table.columns().get(i).type());
        }
        return values;
    }
}
