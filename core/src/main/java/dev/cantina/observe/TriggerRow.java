package dev.cantina.observe;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.cfg.JsonNodeFeature;
import com.fasterxml.jackson.databind.json.JsonMapper;
import dev.cantina.binding.Variable;
import dev.cantina.catalog.Column;
import dev.cantina.catalog.Table;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.runtime.Frame;
import dev.cantina.types.SqlType;
import dev.cantina.types.Values;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** The row that a trigger is fired for, as a trace shows it. */
final class TriggerRow {
    private TriggerRow() {}

    /** Its key, and what an update changes in it; else what is not NULL. */
    static List<TraceEvent.Value> of(Frame frame) {
        Map<String, Object> before = null;
        Map<String, Object> after = null;
        String was = "";
        String now = "";
        for (Variable variable : frame.routine().variables()) {
            if (variable.kind() == Variable.Kind.OLD_ROW) {
                before = fields(frame, variable);
                was = variable.name() + ".";
            } else if (variable.kind() == Variable.Kind.NEW_ROW) {
                after = fields(frame, variable);
                now = variable.name() + ".";
            }
        }
        Optional<Table> table = table(frame);
        List<TraceEvent.Value> values = new ArrayList<>();
        boolean both = before != null && after != null;
        Map<String, Object> names = after == null ? before : after;
        for (String column : names == null ? Set.<String>of() : names.keySet()) {
            Object old = before == null ? null : before.get(column);
            Object fresh = after == null ? null : after.get(column);
            boolean key =
                    table.filter(t -> t.primaryKey().contains(t.positionCalled(column)))
                            .isPresent();
            if (both && !Values.same(old, fresh)) {
                values.add(new TraceEvent.Value(was + column, old));
                values.add(new TraceEvent.Value(now + column, fresh));
            } else if (both ? key : old != null) {
                values.add(new TraceEvent.Value(was + column, old));
            } else if (!both && fresh != null) {
                values.add(new TraceEvent.Value(now + column, fresh));
            }
        }
        return values;
    }

    private static Optional<Table> table(Frame frame) {
        return frame.session
                .program()
                .catalog()
                .triggerAt(frame.routine().span())
                .map(TriggerSymbol::table);
    }

    /**
     * The fields of a row by their names, in their order; null where there is no row. What a
     * trigger of several tables works on is told as an object in JSON.
     */
    private static Map<String, Object> fields(Frame frame, Variable variable) {
        Object value = frame.get(variable);
        if (value == null) {
            return null;
        }
        Map<String, Object> fields = new LinkedHashMap<>();
        if (value instanceof Object[] all) {
            List<String> names =
                    table(frame)
                            .map(t -> t.columns().stream().map(Column::name).toList())
                            .orElseGet(
                                    () ->
                                            variable.type() instanceof SqlType.Row row
                                                    ? row.fields().stream()
                                                            .map(SqlType.Field::name)
                                                            .toList()
                                                    : List.of());
            for (int i = 0; i < Math.min(all.length, names.size()); i++) {
                fields.put(names.get(i), all[i]);
            }
            return fields;
        }
        try {
            JsonNode told = JSON.readTree(String.valueOf(value));
            told.properties()
                    .forEach(
                            f ->
                                    fields.put(
                                            f.getKey(),
                                            f.getValue().isNull()
                                                    ? null
                                                    : f.getValue().isTextual()
                                                            ? f.getValue().asText()
                                                            : f.getValue().toString()));
            return fields.isEmpty() ? null : fields;
        } catch (JsonProcessingException e) {
            // No row that can be shown.
            return null;
        }
    }

    /** Numbers keep all their digits. */
    private static final ObjectMapper JSON =
            JsonMapper.builder()
                    .enable(DeserializationFeature.USE_BIG_DECIMAL_FOR_FLOATS)
                    .disable(JsonNodeFeature.STRIP_TRAILING_BIGDECIMAL_ZEROES)
                    .build();
}
