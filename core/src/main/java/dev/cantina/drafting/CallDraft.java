package dev.cantina.drafting;

import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.project.Workspace;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Unit.Mode;
import dev.cantina.types.Values;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * A ready call of a routine, with values that its tables have.
 *
 * @param arguments what is handed in, by parameter
 * @param block the same as a block of SQL, with variables for what comes back
 */
public record CallDraft(Map<String, Object> arguments, String block) {
    /** Drafts a call. */
    public static CallDraft of(Workspace workspace, RoutineSymbol routine) throws SQLException {
        Candidates candidates = new Candidates(routine, new ParameterValues(workspace, routine));
        Map<String, Object> arguments = new LinkedHashMap<>();
        for (ParameterSymbol parameter : routine.parameters()) {
            String name = parameter.name().text();
            if (parameter.mode().isInput()) {
                boolean left = parameter.initial().isPresent() && candidates.known(name).isEmpty();
                List<Object> values = candidates.of(name);
                if (!left) {
                    arguments.put(name, values.isEmpty() ? null : values.get(0));
                }
            }
        }
        return new CallDraft(arguments, block(routine, arguments));
    }

    private static String block(RoutineSymbol routine, Map<String, Object> arguments) {
        StringBuilder text = new StringBuilder("BEGIN\n");
        List<String> given = new ArrayList<>();
        List<String> back = new ArrayList<>();
        for (ParameterSymbol parameter : routine.parameters()) {
            String name = parameter.name().written();
            Object value = arguments.get(parameter.name().text());
            if (parameter.mode() == Mode.IN) {
                if (arguments.containsKey(parameter.name().text())) {
                    given.add(name + " => " + literal(value));
                }
                continue;
            }
            text.append("  DECLARE ").append(name).append(' ').append(parameter.type().sql());
            if (parameter.mode() == Mode.INOUT && value != null) {
                text.append(" DEFAULT ").append(literal(value));
            }
            text.append(";\n");
            given.add(name + " => " + name);
            back.add("'" + parameter.name().text().replace("'", "''") + " ', " + name);
        }
        text.append(back.isEmpty() ? "" : "\n");
        String call = written(routine) + "(" + String.join(", ", given) + ")";
        if (routine.isFunction()) {
            text.append("  REPORT ").append(call).append(";\n");
        } else {
            text.append("  CALL ").append(call).append(";\n");
        }
        back.forEach(b -> text.append("  REPORT ").append(b).append(";\n"));
        return text.append("END;\n").toString();
    }

    private static String written(RoutineSymbol routine) {
        StringBuilder name = new StringBuilder();
        for (String part : routine.name().split("\\.")) {
            name.append(name.length() == 0 ? "" : ".")
                    .append(Name.written(part, part.toUpperCase(java.util.Locale.ROOT)));
        }
        return name.toString();
    }

    private static String literal(Object value) {
        return value == null ? "NULL" : Values.literal(value);
    }
}
