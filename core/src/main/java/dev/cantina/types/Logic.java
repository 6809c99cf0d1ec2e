package dev.cantina.types;

/** Three-valued logic (ISO 9075-2, 6.39): 0 is false, 1 true, 2 unknown. */
public final class Logic {
    public static final int FALSE = 0;
    public static final int TRUE = 1;
    public static final int UNKNOWN = 2;

    private static final int[] NOT = {TRUE, FALSE, UNKNOWN};

    private Logic() {}

    public static int not(int a) {
        return NOT[a];
    }

    public static int and(int a, int b) {
        if (a == FALSE || b == FALSE) {
            return FALSE;
        }
        return a == TRUE && b == TRUE ? TRUE : UNKNOWN;
    }

    public static int or(int a, int b) {
        if (a == TRUE || b == TRUE) {
            return TRUE;
        }
        return a == FALSE && b == FALSE ? FALSE : UNKNOWN;
    }

    public static int of(boolean value) {
        return value ? TRUE : FALSE;
    }

    /** The truth that a value stands for. */
    public static int of(Object value) {
        return value == null ? UNKNOWN : of(((Boolean) value).booleanValue());
    }

    /** The value that a truth stands for. */
    public static Boolean value(int truth) {
        return truth == UNKNOWN ? null : Boolean.valueOf(truth == TRUE);
    }
}
