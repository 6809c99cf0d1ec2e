package dev.cantina.runtime;

/** What written classes fetch when they are linked. */
public final class Constants {
    private Constants() {}

    /** The constants of a written class, once. */
    public static Object[] of(Class<?> type) {
        return RoutineLoader.constantsOf(type);
    }
}
