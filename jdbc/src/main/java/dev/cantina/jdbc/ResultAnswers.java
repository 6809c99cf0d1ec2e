package dev.cantina.jdbc;

import dev.cantina.database.embedded.JavaTypes;
import dev.cantina.runtime.ResultRows;
import dev.cantina.types.IntervalValue;
import dev.cantina.types.SqlType;
import dev.cantina.types.Values;
import java.lang.reflect.Method;
import java.sql.JDBCType;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.sql.Types;
import java.util.List;
import org.h2.tools.SimpleResultSet;

/** A result set: the database's, or rows that a routine has given. */
final class ResultAnswers extends Answers<ResultSet> {
    /** How a row is changed through it, which triggers may see. */
    interface Changing {
        Object change(Method method, Object[] arguments) throws Throwable;
    }

    private final ResultSet real;
    private final Statement statement;
    private final Changing changing;

    /**
     * @param statement that it came from; null where it came from none
     * @param changing null where nothing can be changed
     */
    ResultAnswers(ResultSet real, Statement statement, Changing changing) {
        super(ResultSet.class);
        this.real = real;
        this.statement = statement;
        this.changing = changing;
    }

    @Override
    Object answer(String name, Method method, Object[] arguments) throws Throwable {
        switch (name) {
            case "getStatement":
                return statement;
            case "insertRow", "updateRow", "deleteRow":
                return changing == null
                        ? handOn(real, method, arguments)
                        : changing.change(method, arguments);
            default:
                return isValue(name, method)
                        ? value(name, arguments)
                        : handOn(real, method, arguments);
        }
    }

    /** Whether a method gives the value of a column that a routine has given. */
    private boolean isValue(String name, Method method) {
        Class<?>[] types = method.getParameterTypes();
        return real instanceof SimpleResultSet
                && name.startsWith("get")
                && types.length > 0
                && (types[0] == int.class || types[0] == String.class)
                && !name.equals("getArray");
    }

    private Object value(String name, Object[] arguments) throws SQLException {
        Object held =
                arguments[0] instanceof String label
                        ? real.getObject(label)
                        : real.getObject((Integer) arguments[0]);
        return Asked.value(held, name, arguments.length > 1 ? arguments[1] : null);
    }

    /** Rows that a routine has given. */
    static ResultSet of(ResultRows rows, Statement statement) {
        SimpleResultSet made = columns(rows.columns());
        for (Object[] row : rows.rows()) {
            made.addRow(values(row, rows.columns()));
        }
        return new ResultAnswers(made, statement, null).proxy();
    }

    static SimpleResultSet columns(List<SqlType.Field> columns) {
        SimpleResultSet made = new SimpleResultSet();
        made.setAutoClose(false);
        for (SqlType.Field column : columns) {
            SqlType type = column.type();
            made.addColumn(
                    column.name(),
                    jdbcType(type),
                    JDBCType.valueOf(jdbcType(type)).getName(),
                    JavaTypes.precision(type),
                    JavaTypes.scale(type));
        }
        return made;
    }

    static Object[] values(Object[] row, List<SqlType.Field> columns) {
        Object[] values = new Object[row.length];
        for (int i = 0; i < values.length; i++) {
            values[i] = value(row[i], columns.get(i).type());
        }
        return values;
    }

    private static Object value(Object held, SqlType type) {
        if (held instanceof Long number
                && type instanceof SqlType.Integral whole
                && whole.size() != SqlType.Whole.BIGINT) {
            return number.intValue();
        }
        if (held instanceof IntervalValue) {
            return Values.text(held);
        }
        return held;
    }

    static int jdbcType(SqlType type) {
        if (type instanceof SqlType.Integral whole) {
            return switch (whole.size()) {
                case SMALLINT -> Types.SMALLINT;
                case INTEGER -> Types.INTEGER;
                case BIGINT -> Types.BIGINT;
            };
        }
        if (type instanceof SqlType.Exact || type instanceof SqlType.DecFloat) {
            return Types.DECIMAL;
        }
        if (type instanceof SqlType.Approximate number) {
            return number.single() ? Types.REAL : Types.DOUBLE;
        }
        if (type instanceof SqlType.Bool) {
            return Types.BOOLEAN;
        }
        if (type instanceof SqlType.Text text) {
            return switch (text.shape()) {
                case FIXED -> Types.CHAR;
                case VARYING -> Types.VARCHAR;
                case LARGE -> Types.CLOB;
            };
        }
        if (type instanceof SqlType.Bytes bytes) {
            return switch (bytes.shape()) {
                case FIXED -> Types.BINARY;
                case VARYING -> Types.VARBINARY;
                case LARGE -> Types.BLOB;
            };
        }
        if (type instanceof SqlType.Date) {
            return Types.DATE;
        }
        if (type instanceof SqlType.Time time) {
            return time.zone() ? Types.TIME_WITH_TIMEZONE : Types.TIME;
        }
        if (type instanceof SqlType.Timestamp moment) {
            return moment.zone() ? Types.TIMESTAMP_WITH_TIMEZONE : Types.TIMESTAMP;
        }
        if (type instanceof SqlType.Array) {
            return Types.ARRAY;
        }
        return type instanceof SqlType.Interval || type instanceof SqlType.Json
                ? Types.VARCHAR
                : Types.OTHER;
    }
}
