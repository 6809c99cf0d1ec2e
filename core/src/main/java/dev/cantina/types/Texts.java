package dev.cantina.types;

import java.util.function.IntUnaryOperator;

/** Texts, counted and compared by code point (ISO 9075-2, 6.31 and 6.32). */
public final class Texts {
    private static final long LONGEST = 100_000_000;

    private Texts() {}

    /** A text in another case, letter by letter as servers do it: none becomes two. */
    static String cased(String text, IntUnaryOperator letter) {
        StringBuilder cased = new StringBuilder(text.length());
        text.codePoints().map(letter).forEach(cased::appendCodePoint);
        return cased.toString();
    }

    public static int length(String text) {
        return text.codePointCount(0, text.length());
    }

    /** By code point; negative, zero or positive. */
    public static int compare(String a, String b) {
        int shorter = Math.min(a.length(), b.length());
        for (int i = 0; i < shorter; i++) {
            char x = a.charAt(i);
            char y = b.charAt(i);
            if (x != y) {
                // A surrogate stands for a code point above all that need none.
                boolean high = Character.isSurrogate(x);
                return high == Character.isSurrogate(y) ? x - y : high ? 1 : -1;
            }
        }
        return a.length() - b.length();
    }

    /** As {@link #compare}, where trailing blanks do not count: for CHAR. */
    public static int compareFixed(String a, String b) {
        return compare(withoutTrailingBlanks(a), withoutTrailingBlanks(b));
    }

    static String withoutTrailingBlanks(String text) {
        int end = text.length();
        while (end > 0 && text.charAt(end - 1) == ' ') {
            end--;
        }
        return text.substring(0, end);
    }

    /** For a store into VARCHAR(length): 22001 unless only blanks are lost. */
    public static String varying(String text, int length) {
        if (length == 0 || text.length() <= length || length(text) <= length) {
            return text;
        }
        int end = text.offsetByCodePoints(0, length);
        if (!text.substring(end).isBlank()) {
            throw new ConditionException(
                    "22001",
                    "a text of "
                            + length(text)
                            + " characters is too long for "
                            + length
                            + ": "
                            + Values.shortened(text));
        }
        return text.substring(0, end);
    }

    /** For a store into CHAR(length): the same, then padded with blanks. */
    public static String fixed(String text, int length) {
        String fitting = varying(text, length);
        int missing = length - length(fitting);
        return missing > 0 ? fitting + " ".repeat(missing) : fitting;
    }

    /** For a cast: what is too long is cut. */
    public static String cut(String text, int length) {
        if (length == 0 || text.length() <= length || length(text) <= length) {
            return text;
        }
        return text.substring(0, text.offsetByCodePoints(0, length));
    }

    /** {@code SUBSTRING(text FROM start)}. */
    public static String substring(String text, long start) {
        return substring(text, Math.max(start, 1), length(text));
    }

    /** {@code SUBSTRING(text FROM start FOR count)}; 22011 for a negative count. */
    public static String substring(String text, long start, long count) {
        if (count < 0) {
            throw new ConditionException(
                    "22011", "a substring can't have " + count + " characters");
        }
        int length = length(text);
        long from = Math.max(start, 1);
        long end = start > Long.MAX_VALUE - count ? Long.MAX_VALUE : start + count;
        long to = Math.min(end, length + 1L);
        if (from >= to) {
            return "";
        }
        int begin = text.offsetByCodePoints(0, (int) from - 1);
        return text.substring(begin, text.offsetByCodePoints(begin, (int) (to - from)));
    }

    /** {@code POSITION(what IN text)}: from 1, 0 where it is not found, 1 for an empty one. */
    public static long position(String what, String text) {
        int found = text.indexOf(what);
        return found < 0 ? 0 : text.codePointCount(0, found) + 1;
    }

    /** {@code TRIM}: one character, 22027 otherwise. */
    public static String trim(String text, String what, boolean leading, boolean trailing) {
        if (length(what) != 1) {
            throw new ConditionException("22027", "TRIM takes one character, not '" + what + "'");
        }
        int start = 0;
        int end = text.length();
        while (leading && start < end && text.startsWith(what, start)) {
            start += what.length();
        }
        while (trailing
                && end - what.length() >= start
                && text.startsWith(what, end - what.length())) {
            end -= what.length();
        }
        return text.substring(start, end);
    }

    /** {@code LPAD} and {@code RPAD}: filled up, or cut, to a length. */
    public static String pad(String text, long length, String fill, boolean left) {
        int has = length(text);
        if (length <= has) {
            return substring(text, 1, Math.max(0, length));
        }
        if (fill.isEmpty()) {
            return text;
        }
        checkLength(length);
        int missing = (int) length - has;
        int[] points = fill.codePoints().toArray();
        StringBuilder pad = new StringBuilder();
        for (int i = 0; i < missing; i++) {
            pad.appendCodePoint(points[i % points.length]);
        }
        return left ? pad + text : text + pad;
    }

    /**
     * A text has at most so many characters: more would take the memory of everything else.
     *
     * @throws ConditionException 54000
     */
    public static void checkLength(long length) {
        if (length > LONGEST) {
            throw new ConditionException(
                    "54000",
                    "a text of "
                            + length
                            + " characters is too long; at most "
                            + LONGEST
                            + " are kept");
        }
    }

    /** {@code OVERLAY(text PLACING what FROM start FOR count)}. */
    public static String overlay(String text, String what, long start, long count) {
        return substring(text, 1, Math.max(0, start - 1)) + what + substring(text, start + count);
    }

    public static String replace(String text, String what, String by) {
        return what.isEmpty() ? text : text.replace(what, by);
    }

    /**
     * {@code text LIKE pattern} (ISO 9075-2, 8.5).
     *
     * @param escape one character, or null; 22019 for another length, 22025 where it escapes
     *     nothing that could be escaped
     */
    public static boolean like(String text, String pattern, String escape) {
        if (escape != null && length(escape) != 1) {
            throw new ConditionException(
                    "22019", "the escape of LIKE is one character, not '" + escape + "'");
        }
        int[] points = pattern.codePoints().toArray();
        int[] meaning = new int[points.length];
        int size = 0;
        for (int i = 0; i < points.length; i++) {
            if (escape != null && points[i] == escape.codePointAt(0)) {
                i++;
                if (i == points.length
                        || points[i] != '%'
                                && points[i] != '_'
                                && points[i] != escape.codePointAt(0)) {
                    throw new ConditionException(
                            "22025",
                            "in LIKE '" + pattern + "' the escape stands before nothing to escape");
                }
                meaning[size++] = points[i];
            } else {
                meaning[size++] = points[i] == '%' ? -1 : points[i] == '_' ? -2 : points[i];
            }
        }
        return matches(text.codePoints().toArray(), meaning, size);
    }

    /** With one place to come back to: the last %, which is all that is ever needed. */
    private static boolean matches(int[] text, int[] pattern, int size) {
        int t = 0;
        int p = 0;
        int star = -1;
        int mark = 0;
        while (t < text.length) {
            if (p < size && pattern[p] == -1) {
                star = p++;
                mark = t;
            } else if (p < size && (pattern[p] == -2 || pattern[p] == text[t])) {
                p++;
                t++;
            } else if (star >= 0) {
                p = star + 1;
                t = ++mark;
            } else {
                return false;
            }
        }
        while (p < size && pattern[p] == -1) {
            p++;
        }
        return p == size;
    }
}
