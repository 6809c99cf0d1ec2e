package dev.cantina.catalog;

import dev.cantina.syntax.Problem;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * Something in a project's files that the catalog has not taken: what it would have been is known
 * in part, or not at all.
 *
 * @param text all of it; empty where even that can't be known
 * @param trigger whether it may be a trigger
 * @param table the key of the trigger's table; empty where it may be any
 */
public record Fault(
        List<Problem> errors, Optional<String> text, boolean trigger, Optional<String> table) {
    public Fault {
        errors = List.copyOf(errors);
    }

    /** Whether a change of a table may set it off. */
    public boolean firesOn(String tableKey) {
        return trigger && table.map(tableKey::equals).orElse(true);
    }

    /** Whether a routine of a name may be meant by it. */
    public boolean mayDefine(String routineKey) {
        String name = routineKey.substring(routineKey.lastIndexOf('.') + 1);
        if (text.isEmpty()) {
            return true;
        }
        String all = text.get().toUpperCase(Locale.ROOT);
        String wanted = name.toUpperCase(Locale.ROOT);
        for (int at = all.indexOf(wanted); at >= 0; at = all.indexOf(wanted, at + 1)) {
            int end = at + wanted.length();
            boolean begins = at == 0 || !Character.isJavaIdentifierPart(all.charAt(at - 1));
            boolean ends = end == all.length() || !Character.isJavaIdentifierPart(all.charAt(end));
            if (begins && ends) {
                return true;
            }
        }
        return false;
    }
}
