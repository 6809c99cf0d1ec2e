package dev.cantina.agree;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.runtime.Database;
import dev.cantina.runtime.ResultRows;
import dev.cantina.runtime.Session;
import dev.cantina.types.Conversion;
import dev.cantina.types.SqlType;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Calls shipped routines on a server, which runs them itself. */
public interface NativeCalls {
    /**
     * Calls a routine, in a transaction of its own.
     *
     * @param arguments as {@link Session#run} takes them
     * @throws SQLException where the connection is gone; what the routine raises is part of what is
     *     given back
     */
    Behaviour call(RoutineSymbol routine, List<Optional<Object>> arguments) throws SQLException;

    /** A value with the length and the scale that its type has: not every server returns it so. */
    static Object fitted(Object value, SqlType type) {
        return value == null ? null : Conversion.store(value, type);
    }

    /**
     * All rows of a result.
     *
     * @param known its first columns, where their types are known better than the server tells them
     */
    static ResultRows rows(Database database, ResultSet result, List<SqlType.Field> known)
            throws SQLException {
        ResultSetMetaData columns = result.getMetaData();
        List<SqlType.Field> fields = new ArrayList<>(known);
        for (int i = fields.size() + 1; i <= columns.getColumnCount(); i++) {
            fields.add(
                    new SqlType.Field(
                            database.columnName(columns, i), database.typeOf(columns, i)));
        }
        List<Object[]> rows = new ArrayList<>();
        while (result.next()) {
            Object[] row = new Object[fields.size()];
            for (int i = 0; i < row.length; i++) {
                row[i] = database.read(result, i + 1, fields.get(i).type());
            }
            rows.add(row);
        }
        return new ResultRows(fields, rows);
    }
}
