package dev.cantina.jdbc;

import dev.cantina.runtime.Program;
import dev.cantina.types.ConditionException;
import java.lang.reflect.InvocationHandler;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Method;
import java.lang.reflect.Proxy;
import java.sql.SQLException;
import java.time.DateTimeException;

/**
 * Stands for an object of JDBC's: answers some of its methods itself, and hands the others on to
 * the database's own.
 *
 * @param <T> what it stands for
 */
abstract class Answers<T> implements InvocationHandler {
    private static final Object[] NONE = {};

    private final Class<T> type;
    private final T proxy;

    Answers(Class<T> type) {
        this.type = type;
        this.proxy =
                type.cast(
                        Proxy.newProxyInstance(
                                Answers.class.getClassLoader(), new Class<?>[] {type}, this));
    }

    /** What the program holds. */
    final T proxy() {
        return proxy;
    }

    /** Answers a method. */
    abstract Object answer(String name, Method method, Object[] arguments) throws Throwable;

    @Override
    public final Object invoke(Object self, Method method, Object[] given) throws Throwable {
        Object[] arguments = given == null ? NONE : given;
        switch (method.getName()) {
            case "equals":
                return arguments[0] == self;
            case "hashCode":
                return System.identityHashCode(self);
            case "toString":
                return describe();
            case "isWrapperFor":
                return ((Class<?>) arguments[0]).isInstance(self);
            case "unwrap":
                if (((Class<?>) arguments[0]).isInstance(self)) {
                    return self;
                }
                throw Failures.of(
                        "0A000", "this is no " + ((Class<?>) arguments[0]).getSimpleName());
            default:
                break;
        }
        try {
            return answer(method.getName(), method, arguments);
        } catch (InvocationTargetException e) {
            throw failure(e.getCause());
        } catch (Program.UnsoundException e) {
            throw Failures.of(e);
        } catch (ConditionException e) {
            throw Failures.of(e.condition().sqlstate(), e.condition().message());
        }
    }

    /** What a value is asked for as, and is not, is an error of SQL too. */
    private Throwable failure(Throwable cause) {
        if (cause instanceof SQLException failure) {
            return translated(failure);
        }
        boolean value =
                cause instanceof ClassCastException
                        || cause instanceof IllegalArgumentException
                        || cause instanceof DateTimeException;
        if (!value) {
            return cause;
        }
        SQLException failure =
                Failures.of("22018", "the value is not of the type that is asked for");
        failure.initCause(cause);
        return failure;
    }

    /** A text that must be there. */
    static String text(Object given) throws SQLException {
        if (given == null) {
            throw Failures.of("42000", "a statement is a text, and this is null");
        }
        return (String) given;
    }

    /** An error of the database, with the state that the standard has for it. */
    SQLException translated(SQLException failure) {
        return failure;
    }

    String describe() {
        return "Cantina's " + type.getSimpleName();
    }

    /** Hands a method on. */
    static Object handOn(Object target, Method method, Object[] arguments) throws Throwable {
        return method.invoke(target, arguments);
    }
}
