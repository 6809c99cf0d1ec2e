package dev.cantina.runtime;

import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicInteger;

/**
 * Defines the classes that the compiler writes, and keeps their constants until they are linked.
 */
final class RoutineLoader extends ClassLoader {
    private final Map<String, Object[]> constants = new ConcurrentHashMap<>();
    private final AtomicInteger count = new AtomicInteger();

    RoutineLoader() {
        super(RoutineLoader.class.getClassLoader());
    }

    /** A class name that nobody has yet, with slashes. */
    String newName(String routine) {
        StringBuilder name = new StringBuilder("dev/cantina/runtime/written/");
        routine.chars()
                .limit(60)
                .forEach(
                        c ->
                                name.append(
                                        Character.isJavaIdentifierPart(c) && c < 128
                                                ? (char) c
                                                : '_'));
        return name.append('$').append(count.incrementAndGet()).toString();
    }

    Class<?> define(String name, byte[] code, Object[] values) {
        String dotted = name.replace('/', '.');
        constants.put(dotted, values);
        return defineClass(dotted, code, 0, code.length);
    }

    /** For the static initializer of a written class. */
    static Object[] constantsOf(Class<?> type) {
        return ((RoutineLoader) type.getClassLoader()).constants.remove(type.getName());
    }
}
