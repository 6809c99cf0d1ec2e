package dev.cantina.runtime;

import dev.cantina.types.ConditionException;
import dev.cantina.types.Texts;
import dev.cantina.types.Values;
import java.util.Arrays;

/** Small steps that written classes call. */
public final class Support {
    private Support() {}

    /** A field of a row, counted from 0; NULL of a NULL row. */
    public static Object field(Object row, int index) {
        return row == null ? null : normal(((Object[]) row)[index]);
    }

    /** Drivers hand out small whole numbers in classes of their own. */
    private static Object normal(Object value) {
        if (value instanceof Integer || value instanceof Short || value instanceof Byte) {
            return ((Number) value).longValue();
        }
        return value instanceof Float number ? (Object) number.doubleValue() : value;
    }

    /** The row with a field changed: the same one, or a new one for NULL. */
    public static Object withField(Object row, int size, int index, Object value) {
        Object[] fields = row == null ? new Object[size] : (Object[]) row;
        fields[index] = value;
        return fields;
    }

    /** An array whose element, a row, has another value in a field. */
    public static Object withElementField(
            Object array, long index, int size, int field, Object value, int maximum) {
        Object row = null;
        if (array != null && index >= 1 && index <= ((Object[]) array).length) {
            row = ((Object[]) array)[(int) index - 1];
        }
        // Another element may hold the same row.
        Object own = row == null ? null : ((Object[]) row).clone();
        return withElement(array, index, withField(own, size, field, value), maximum);
    }

    /** An element of an array, counted from 1; 2202E where there is none. */
    public static Object element(Object array, long index) {
        if (array == null) {
            return null;
        }
        Object[] elements = (Object[]) array;
        if (index < 1 || index > elements.length) {
            throw noElement(elements.length, index);
        }
        return elements[(int) index - 1];
    }

    private static ConditionException noElement(int length, long index) {
        return new ConditionException(
                "2202E", "there is no element " + index + " in an array of " + length);
    }

    /**
     * The array with an element changed. An index past its end makes it longer, NULL between (ISO
     * 9075-4, 14.5), up to {@code maximum}, where that is not 0.
     */
    public static Object withElement(Object array, long index, Object value, int maximum) {
        if (array == null) {
            // Null value in array target (ISO 9075-2, 24.1).
            throw new ConditionException("2200E", "an element of a NULL array can't be set");
        }
        Object[] elements = (Object[]) array;
        long most = maximum > 0 ? maximum : 10_000_000;
        if (index < 1 || index > most) {
            throw noElement(maximum > 0 ? maximum : elements.length, index);
        }
        if (index > elements.length) {
            elements = Arrays.copyOf(elements, (int) index);
        }
        elements[(int) index - 1] = value;
        return elements;
    }

    /** A value of its own: arrays and rows are copied, whatever they hold too. */
    public static Object copy(Object value) {
        if (!(value instanceof Object[] parts)) {
            return value;
        }
        Object[] copy = new Object[parts.length];
        for (int i = 0; i < copy.length; i++) {
            copy[i] = copy(parts[i]);
        }
        return copy;
    }

    /** {@code ||} of two values that are not NULL. */
    public static Object concatenate(Object left, Object right) {
        if (left instanceof Object[] a && right instanceof Object[] b) {
            Object[] both = Arrays.copyOf(a, a.length + b.length);
            System.arraycopy(b, 0, both, a.length, b.length);
            return both;
        }
        if (left instanceof byte[] a && right instanceof byte[] b) {
            byte[] both = Arrays.copyOf(a, a.length + b.length);
            System.arraycopy(b, 0, both, a.length, b.length);
            return both;
        }
        String a = Values.text(left);
        String b = Values.text(right);
        Texts.checkLength((long) a.length() + b.length());
        return a.concat(b);
    }

    /** Two values that are not NULL: negative, zero or positive. */
    public static int compare(Object left, Object right, boolean fixed) {
        if (fixed && left instanceof String a && right instanceof String b) {
            return Texts.compareFixed(a, b);
        }
        return Values.compare(normal(left), normal(right));
    }
}
