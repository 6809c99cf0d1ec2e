package dev.cantina.runtime;

import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.types.Condition;
import dev.cantina.types.ConditionException;
import dev.cantina.types.Conversion;
import dev.cantina.types.SqlType;
import java.lang.reflect.Array;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Method;
import java.lang.reflect.Modifier;
import java.math.BigDecimal;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.util.ArrayList;
import java.util.List;

/**
 * A routine that is a static Java method (ISO/IEC 9075-13): IN parameters as values, OUT and INOUT
 * as arrays of one element, and after them one array for each result set. What it throws is 38000
 * with its message, or its own SQLSTATE where it is an {@code SQLException} with one.
 */
final class ExternalRoutine {
    private final RoutineSymbol symbol;
    private final Method method;

    private ExternalRoutine(RoutineSymbol symbol, Method method) {
        this.symbol = symbol;
        this.method = method;
    }

    /**
     * Finds the method of {@code EXTERNAL NAME '[jar:]package.Class.method[(types)]'}.
     *
     * @throws ConditionException 46103 where there is no such class, 38000 where no method fits
     */
    static ExternalRoutine find(RoutineSymbol symbol, ClassLoader loader) {
        String name = symbol.tree().characteristics().external().orElse("");
        String reference =
                name.substring(name.indexOf(':') + 1).replaceFirst("\\(.*\\)$", "").strip();
        int dot = reference.lastIndexOf('.');
        if (dot < 1) {
            throw new ConditionException(
                    "46001", "'" + name + "' names no method: write 'package.Class.method'");
        }
        Class<?> type;
        try {
            // Nothing of it runs before it is called.
            type = Class.forName(reference.substring(0, dot), false, loader);
        } catch (ClassNotFoundException | LinkageError e) {
            throw missing(reference.substring(0, dot));
        }
        if (type.getClassLoader() != loader) {
            // A class of Java's or of Cantina's own is no routine of the project's.
            throw missing(reference.substring(0, dot));
        }
        if (symbol.returns().filter(SqlType.Table.class::isInstance).isPresent()) {
            throw new ConditionException(
                    "46001",
                    "a Java function gives one value; write a procedure with DYNAMIC RESULT SETS 1"
                            + " to hand out rows");
        }
        String wanted = reference.substring(dot + 1);
        for (Method method : type.getMethods()) {
            boolean fits =
                    method.getName().equals(wanted)
                            && Modifier.isStatic(method.getModifiers())
                            && method.getParameterCount()
                                    == symbol.parameters().size()
                                            + symbol.tree().characteristics().resultSets()
                            && fits(method, symbol.parameters());
            if (fits) {
                return new ExternalRoutine(symbol, method);
            }
        }
        throw new ConditionException(
                "46001",
                type.getName()
                        + " has no public static method "
                        + wanted
                        + " that takes the parameters of "
                        + symbol.signature());
    }

    private static ConditionException missing(String name) {
        return new ConditionException(
                "46103",
                "there is no class "
                        + name
                        + " in the jars of lib/ that are trusted; cantina trust --show lists them");
    }

    private static boolean fits(Method method, List<ParameterSymbol> parameters) {
        Class<?>[] types = method.getParameterTypes();
        for (int i = parameters.size(); i < types.length; i++) {
            if (types[i] != ResultSet[].class) {
                return false;
            }
        }
        for (int i = 0; i < parameters.size(); i++) {
            boolean gives = parameters.get(i).mode().isOutput();
            if (gives && !types[i].isArray()) {
                return false;
            }
            Class<?> held = gives ? types[i].getComponentType() : types[i];
            if (!fits(parameters.get(i).type(), held)) {
                return false;
            }
        }
        return true;
    }

    private static boolean fits(SqlType type, Class<?> held) {
        if (type.isNumeric()) {
            return held.isPrimitive() && held != boolean.class && held != char.class
                    || Number.class.isAssignableFrom(held);
        }
        if (type instanceof SqlType.Bool) {
            return held == boolean.class || held == Boolean.class;
        }
        if (type instanceof SqlType.Text) {
            return held == String.class;
        }
        return !held.isPrimitive();
    }

    /**
     * What a call came to.
     *
     * @param values all parameters after it, and the result last
     * @param results the result sets that the method has opened
     */
    record Called(Object[] values, List<ResultSet> results) {}

    /** Calls the method, with one array more for each result set that it may give. */
    Called call(Object[] values) {
        Class<?>[] types = method.getParameterTypes();
        Object[] arguments = new Object[types.length];
        for (int i = values.length; i < types.length; i++) {
            arguments[i] = new ResultSet[1];
        }
        for (int i = 0; i < values.length; i++) {
            ParameterSymbol parameter = symbol.parameters().get(i);
            if (parameter.mode().isOutput()) {
                arguments[i] = Array.newInstance(types[i].getComponentType(), 1);
                if (parameter.mode().isInput() && values[i] != null) {
                    Array.set(arguments[i], 0, java(values[i], types[i].getComponentType()));
                }
            } else {
                arguments[i] = given(parameter, values[i], types[i]);
            }
        }
        Object returned;
        try {
            returned = method.invoke(null, arguments);
        } catch (InvocationTargetException e) {
            throw raised(e.getCause());
        } catch (IllegalAccessException | IllegalArgumentException e) {
            throw new ConditionException("46001", symbol.name() + ": " + e.getMessage());
        }
        List<Object> after = new ArrayList<>();
        for (int i = 0; i < values.length; i++) {
            ParameterSymbol parameter = symbol.parameters().get(i);
            after.add(
                    parameter.mode().isOutput()
                            ? Conversion.store(sql(Array.get(arguments[i], 0)), parameter.type())
                            : values[i]);
        }
        after.add(
                symbol.returns().isPresent()
                        ? Conversion.store(sql(returned), symbol.returns().get())
                        : null);
        List<ResultSet> results = new ArrayList<>();
        for (int i = values.length; i < types.length; i++) {
            ResultSet result = ((ResultSet[]) arguments[i])[0];
            if (result != null) {
                results.add(result);
            }
        }
        return new Called(after.toArray(), results);
    }

    private static Object given(ParameterSymbol parameter, Object value, Class<?> type) {
        if (value == null && type.isPrimitive()) {
            throw new ConditionException(
                    "39004",
                    "parameter "
                            + parameter.name()
                            + " is NULL, which a Java "
                            + type
                            + " can't be");
        }
        return value == null ? null : java(value, type);
    }

    private static ConditionException raised(Throwable cause) {
        String message =
                cause.getMessage() == null ? cause.getClass().getSimpleName() : cause.getMessage();
        boolean own =
                cause instanceof SQLException e
                        && e.getSQLState() != null
                        && e.getSQLState().matches("[0-9A-Z]{5}");
        return new ConditionException(
                new Condition(own ? ((SQLException) cause).getSQLState() : "38000", message));
    }

    /** A value as an object of a Java class. */
    private static Object java(Object value, Class<?> type) {
        if (value instanceof Number number && type != Object.class) {
            return number(number, type);
        }
        if (value instanceof LocalDate date && type == java.sql.Date.class) {
            return java.sql.Date.valueOf(date);
        }
        if (value instanceof LocalTime time && type == java.sql.Time.class) {
            return java.sql.Time.valueOf(time);
        }
        if (value instanceof LocalDateTime moment && type == java.sql.Timestamp.class) {
            return java.sql.Timestamp.valueOf(moment);
        }
        return value;
    }

    private static Object number(Number number, Class<?> type) {
        if (type == BigDecimal.class) {
            return Conversion.cast(number, SqlType.DECIMAL);
        }
        if (type == int.class || type == Integer.class) {
            return ((Long) Conversion.cast(number, SqlType.INTEGER)).intValue();
        }
        if (type == short.class || type == Short.class) {
            return ((Long) Conversion.cast(number, SqlType.SMALLINT)).shortValue();
        }
        if (type == float.class || type == Float.class) {
            return number.floatValue();
        }
        if (type == double.class || type == Double.class) {
            return number.doubleValue();
        }
        return type == long.class || type == Long.class
                ? Conversion.cast(number, SqlType.BIGINT)
                : number;
    }

    /** A Java object as a value is held. */
    private static Object sql(Object value) {
        if (value instanceof Integer || value instanceof Short || value instanceof Byte) {
            return ((Number) value).longValue();
        }
        if (value instanceof Float number) {
            return number.doubleValue();
        }
        if (value instanceof java.sql.Timestamp moment) {
            return moment.toLocalDateTime();
        }
        if (value instanceof java.sql.Date date) {
            return date.toLocalDate();
        }
        return value instanceof java.sql.Time time ? time.toLocalTime() : value;
    }
}
