package dev.cantina.debugging;

import dev.cantina.binding.Variable;
import dev.cantina.runtime.ServerFrame;
import dev.cantina.types.SqlType;
import java.util.List;
import java.util.Optional;

/** A variable of a routine that a server runs, or a field of one, by its plain name. */
final class NamedValue {
    private NamedValue() {}

    /** What a text names; empty where it is anything but a name, or names nothing that is known. */
    static Optional<Evaluated> of(ServerFrame frame, String text) {
        String[] parts = text.strip().split("\\s*\\.\\s*", -1);
        for (String part : parts) {
            if (part.isEmpty() || !isWord(part)) {
                return Optional.empty();
            }
        }
        Optional<Variable> variable =
                frame.place().scope().variables().stream()
                        .filter(v -> v.name().equalsIgnoreCase(parts[0]))
                        .findFirst();
        if (variable.isEmpty() || parts.length > 2) {
            return Optional.empty();
        }
        Object value = frame.get(variable.get());
        if (parts.length == 1) {
            return isHeld(variable.get().type())
                    ? Optional.of(new Evaluated(variable.get().type(), value))
                    : Optional.empty();
        }
        if (!(variable.get().type() instanceof SqlType.Row row)) {
            return Optional.empty();
        }
        List<SqlType.Field> fields = row.fields();
        for (int i = 0; i < fields.size(); i++) {
            if (fields.get(i).name().equalsIgnoreCase(parts[1])) {
                Object field = value instanceof Object[] all ? all[i] : null;
                return Optional.of(new Evaluated(fields.get(i).type(), field));
            }
        }
        return Optional.empty();
    }

    /** Whether values of a type are told as such, and not as a text that stands for them. */
    private static boolean isHeld(SqlType type) {
        return !(type instanceof SqlType.Unknown);
    }

    private static boolean isWord(String text) {
        return Character.isUnicodeIdentifierStart(text.codePointAt(0)) || text.charAt(0) == '_'
                ? text.codePoints().allMatch(c -> Character.isUnicodeIdentifierPart(c) || c == '$')
                : false;
    }
}
