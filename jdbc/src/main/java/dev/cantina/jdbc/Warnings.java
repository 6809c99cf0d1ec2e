package dev.cantina.jdbc;

import dev.cantina.runtime.Outcome;
import java.sql.SQLWarning;

/** What a run has said and warned of. */
final class Warnings {
    private static final String SAID = "00000";
    private static final String WARNED = "01000";

    private Warnings() {}

    /** The first of them, with the others behind it; null where there is none. */
    static SQLWarning of(Outcome outcome) {
        SQLWarning first = null;
        for (String message : outcome.messages()) {
            first = behind(first, new SQLWarning(message, SAID));
        }
        for (String warning : outcome.warnings()) {
            first = behind(first, new SQLWarning(warning, WARNED));
        }
        return first;
    }

    private static SQLWarning behind(SQLWarning first, SQLWarning one) {
        if (first == null) {
            return one;
        }
        first.setNextWarning(one);
        return first;
    }
}
