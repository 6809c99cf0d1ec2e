package dev.cantina.database.embedded;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.runtime.RaisedException;
import dev.cantina.runtime.ResultRows;
import dev.cantina.runtime.Session;
import dev.cantina.types.ConditionException;
import dev.cantina.types.Conversion;
import dev.cantina.types.DatetimeFunctions;
import dev.cantina.types.SqlType;
import java.math.BigDecimal;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Types;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.h2.jdbc.JdbcConnection;
import org.h2.tools.SimpleResultSet;
import org.h2.value.Value;
import org.h2.value.ValueToObjectConverter;

/** Where the written entries of functions lead. */
public final class FunctionEntry {
    /** The engine asks for the columns of a table function through a connection of this name. */
    private static final String ONLY_COLUMNS = "jdbc:columnlist:connection";

    private FunctionEntry() {}

    /**
     * The session's moment for a column's default; the machine's own outside a run.
     *
     * @param entry the written class, whose loader knows the database
     */
    public static Object moment(Class<?> entry, String name) {
        Session session = loader(entry).database().session();
        if (session != null) {
            return session.moment(name);
        }
        OffsetDateTime now = OffsetDateTime.now();
        return switch (name) {
            case "CURRENT_DATE" -> now.toLocalDate();
            case "CURRENT_TIME" -> now.toOffsetTime();
            case "LOCALTIME" -> now.toLocalTime();
            case "LOCALTIMESTAMP" -> now.toLocalDateTime();
            default -> now;
        };
    }

    /** OVERLAPS, which the engine does not have; its arguments are of any type. */
    public static Boolean overlaps(
            Connection connection, Value start1, Value end1, Value start2, Value end2)
            throws SQLException {
        Value[] values = {start1, end1, start2, end2};
        Object[] held = new Object[values.length];
        for (int i = 0; i < held.length; i++) {
            held[i] =
                    JavaTypes.held(
                            ValueToObjectConverter.valueToDefaultObject(
                                    values[i], (JdbcConnection) connection, false));
        }
        return DatetimeFunctions.overlaps(held[0], held[1], held[2], held[3]);
    }

    private static EntryLoader loader(Class<?> entry) {
        return (EntryLoader) entry.getClassLoader();
    }

    /**
     * Runs a function that the engine has called.
     *
     * @param entry the written class, whose loader knows the function and its database
     * @throws SQLException carries the condition that the function ended in through the engine
     */
    public static Object call(Class<?> entry, int number, Object[] arguments) throws SQLException {
        List<RoutineSymbol> functions = loader(entry).functions(number);
        Object result = run(entry, functions, arguments);
        Class<?> type = EntryLoader.result(functions);
        if (functions.size() > 1 && type == BigDecimal.class) {
            return Conversion.cast(result, SqlType.DECIMAL);
        }
        if (functions.size() > 1 && type == String.class) {
            return Conversion.cast(result, SqlType.VARCHAR);
        }
        return JavaTypes.given(result, type);
    }

    private static Object run(Class<?> entry, List<RoutineSymbol> functions, Object[] arguments)
            throws SQLException {
        Session session = loader(entry).database().session();
        if (session == null) {
            throw new SQLException(functions.get(0).name() + " was called outside a run", "39000");
        }
        Object[] held = new Object[arguments.length];
        List<SqlType> types = new ArrayList<>();
        for (int i = 0; i < held.length; i++) {
            Object argument = arguments[i];
            SqlType type = SqlType.NULL;
            if (argument instanceof Value value) {
                type = EmbeddedCatalog.type(value);
                JdbcConnection connection = (JdbcConnection) session.database().connection();
                argument = ValueToObjectConverter.valueToDefaultObject(value, connection, false);
            }
            types.add(type);
            held[i] = JavaTypes.held(argument);
        }
        RoutineSymbol function =
                functions.size() == 1 ? functions.get(0) : Catalog.closest(functions, types);
        try {
            return session.function(function, held);
        } catch (RaisedException e) {
            throw new SQLException(e.getMessage(), e.condition().sqlstate(), e);
        } catch (ConditionException e) {
            throw new SQLException(e.getMessage(), e.condition().sqlstate(), e);
        } catch (RuntimeException e) {
            throw new SQLException(e.getMessage(), "XX000", e);
        }
    }

    /**
     * Runs a function that gives rows, or tells its columns.
     *
     * @param arguments the engine's connection, and then the function's own
     */
    public static Object table(Class<?> entry, int number, Object[] arguments) throws SQLException {
        List<RoutineSymbol> functions = loader(entry).functions(number);
        SqlType.Table type = (SqlType.Table) functions.get(0).returns().orElseThrow();
        SimpleResultSet rows = new SimpleResultSet();
        for (SqlType.Field column : type.columns()) {
            rows.addColumn(
                    column.name().toUpperCase(java.util.Locale.ROOT),
                    jdbcType(column.type()),
                    JavaTypes.precision(column.type()),
                    JavaTypes.scale(column.type()));
        }
        boolean columnsOnly =
                ((Connection) arguments[0]).getMetaData().getURL().equals(ONLY_COLUMNS);
        if (!columnsOnly) {
            Object[] own = Arrays.copyOfRange(arguments, 1, arguments.length);
            for (Object[] row : ((ResultRows) run(entry, functions, own)).rows()) {
                Object[] given = new Object[row.length];
                for (int i = 0; i < given.length; i++) {
                    Class<?> as = JavaTypes.of(type.columns().get(i).type());
                    given[i] = JavaTypes.given(row[i], as);
                }
                rows.addRow(given);
            }
        }
        return rows;
    }

    private static int jdbcType(SqlType type) {
        Class<?> as = JavaTypes.of(type);
        if (as == Long.class) {
            return Types.BIGINT;
        }
        if (as == Integer.class) {
            return Types.INTEGER;
        }
        if (as == BigDecimal.class) {
            return Types.DECIMAL;
        }
        if (as == Double.class) {
            return Types.DOUBLE;
        }
        if (as == Boolean.class) {
            return Types.BOOLEAN;
        }
        if (as == byte[].class) {
            return Types.VARBINARY;
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
        return as == String.class ? Types.VARCHAR : Types.OTHER;
    }
}
