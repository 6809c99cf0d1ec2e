package dev.cantina.cli;

import dev.cantina.types.SqlType;
import dev.cantina.types.Values;
import dev.cantina.workbench.ValueText;
import java.util.ArrayList;
import java.util.List;

/**
 * A value that is not as it was: a variable, or the element of an array or the field of a row that
 * makes the difference.
 *
 * @param name how it is reached, {@code shares[2]} or {@code now.level_l}
 */
record Altered(String name, SqlType type, Object before, Object after) {
    /** Where more parts than these differ, the whole is shown. */
    private static final int MOST_PARTS = 4;

    /** How much of a text that begins alike is kept before the first difference. */
    private static final int LEAD = 16;

    private static final int LONG = 60;

    /** What differs between two values of a variable, part by part where few parts do. */
    static List<Altered> between(String name, SqlType type, Object before, Object after) {
        Altered whole = new Altered(name, type, before, after);
        if (!(before instanceof Object[] then && after instanceof Object[] now)
                || then.length != now.length) {
            return List.of(whole);
        }
        List<Altered> parts = new ArrayList<>();
        for (int i = 0; i < then.length; i++) {
            if (!Values.same(then[i], now[i])) {
                parts.addAll(
                        between(
                                name + part(type, i),
                                ValueText.partType(type, i),
                                then[i],
                                now[i]));
            }
        }
        return parts.isEmpty() || parts.size() > MOST_PARTS ? List.of(whole) : parts;
    }

    private static String part(SqlType type, int i) {
        return type instanceof SqlType.Row row
                ? "." + row.fields().get(i).name()
                : "[" + (i + 1) + "]";
    }

    /** The same, with two long texts that begin alike cut to where they differ. */
    Altered cut() {
        if (!(before instanceof String then && after instanceof String now)) {
            return this;
        }
        int same = 0;
        while (same < Math.min(then.length(), now.length())
                && then.charAt(same) == now.charAt(same)) {
            same++;
        }
        if (same <= LEAD || Math.max(then.length(), now.length()) <= LONG) {
            return this;
        }
        int from = same - LEAD;
        if (Character.isLowSurrogate(now.charAt(from))) {
            from--;
        }
        return new Altered(name, type, "…" + then.substring(from), "…" + now.substring(from));
    }
}
