package dev.cantina.runtime;

import java.lang.invoke.MethodHandles;

/** What written classes fetch when they are linked. */
public final class Constants {
    private Constants() {}

    /** The constants of a written class, once. */
    public static Object[] of(Class<?> type) {
        return RoutineLoader.constantsOf(type);
    }

    /** One of the many constants of a large class. */
    public static Object constant(
            MethodHandles.Lookup lookup, String name, Class<?> type, int index) throws Throwable {
        Object[] all =
                (Object[])
                        lookup.findStaticGetter(lookup.lookupClass(), "constants", Object[].class)
                                .invoke();
        return all[index];
    }
}
