package dev.cantina.agree;

import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.Table;
import dev.cantina.runtime.ResultRows;
import dev.cantina.runtime.TableChanges;
import dev.cantina.types.SqlType;
import dev.cantina.types.Values;
import java.math.BigDecimal;
import java.math.MathContext;
import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * What was seen of a case, as texts by place, so that it can be laid beside what was seen
 * elsewhere: {@code raises}, {@code out.moved}, {@code data.vessel}.
 */
public final class ObservedResult {
    /** As many digits of a quotient as every database keeps. */
    private static final MathContext SURE = new MathContext(16);

    private final Map<String, String> places = new LinkedHashMap<>();
    private String ended = "completed";

    /** The texts by place. */
    public Map<String, String> places() {
        return Collections.unmodifiableMap(places);
    }

    /** How the last call ended: {@code completed}, or an SQLSTATE. */
    public String ended() {
        return ended;
    }

    /**
     * Adds a call.
     *
     * @param at what its places begin with; empty where it is the only one
     */
    void call(String at, RoutineSymbol routine, Behaviour behaviour) {
        ended = behaviour.condition().map(c -> c.sqlstate()).orElse("completed");
        places.put(at + "raises", behaviour.condition().map(c -> c.sqlstate()).orElse("nothing"));
        boolean completed = behaviour.condition().isEmpty();
        boolean value =
                routine.isFunction()
                        && !(routine.returns().orElse(SqlType.NULL) instanceof SqlType.Table);
        if (completed && value) {
            places.put(
                    at + "returns",
                    text(behaviour.returned(), routine.returns().orElse(SqlType.NULL)));
        }
        for (Map.Entry<String, Object> out : behaviour.out().entrySet()) {
            SqlType type =
                    routine.parameters().stream()
                            .filter(p -> p.name().text().equalsIgnoreCase(out.getKey()))
                            .map(ParameterSymbol::type)
                            .findFirst()
                            .orElse(SqlType.NULL);
            places.put(
                    at + "out." + out.getKey().toLowerCase(Locale.ROOT),
                    text(out.getValue(), type));
        }
        for (int i = 0; completed && i < behaviour.results().size(); i++) {
            places.put(at + "results[" + i + "]", rows(behaviour.results().get(i)));
        }
        if (!behaviour.says().isEmpty()) {
            places.put(at + "says", String.join(" | ", behaviour.says()));
        }
    }

    /**
     * Takes what another way says of a constraint for its own words, where this server has one
     * state for all that a constraint refuses (MariaDB, "SQLSTATE Errors").
     */
    void constraintsAs(ObservedResult other) {
        for (Map.Entry<String, String> place : places.entrySet()) {
            String said = other.places.getOrDefault(place.getKey(), "");
            boolean raised = place.getKey().equals("raises") || place.getKey().endsWith(".raises");
            if (raised && place.getValue().equals("23000") && said.startsWith("23")) {
                place.setValue(said);
                ended = ended.equals("23000") ? said : ended;
            }
        }
    }

    private static String rows(ResultRows result) {
        return result.rows().stream()
                .map(
                        row -> {
                            List<String> values = new ArrayList<>();
                            for (int i = 0; i < row.length; i++) {
                                values.add(text(row[i], result.columns().get(i).type()));
                            }
                            return values.stream().collect(Collectors.joining(", ", "(", ")"));
                        })
                .collect(Collectors.joining(" "));
    }

    /** Adds what changed in the end. */
    void changes(List<TableChanges> changes) {
        for (TableChanges table : changes) {
            List<String> lines = new ArrayList<>();
            table.added().forEach(w -> lines.add("+ " + row(table.table(), w.row())));
            table.removed().forEach(w -> lines.add("- " + row(table.table(), w.row())));
            table.changed()
                    .forEach(
                            c ->
                                    lines.add(
                                            row(table.table(), c.before())
                                                    + " → "
                                                    + row(table.table(), c.after())));
            Collections.sort(lines);
            if (!lines.isEmpty()) {
                places.put(
                        "data." + table.table().name().toLowerCase(Locale.ROOT),
                        String.join(" ", lines));
            }
        }
    }

    private static String row(Table table, Object[] row) {
        List<String> values = new ArrayList<>();
        for (int i = 0; i < row.length; i++) {
            values.add(text(row[i], table.columns().get(i).type()));
        }
        return values.stream().collect(Collectors.joining(", ", "(", ")"));
    }

    /** Numbers by their value; those with no scale of their own by the digits that are sure. */
    private static String text(Object value, SqlType type) {
        if (value instanceof BigDecimal number) {
            boolean open =
                    type instanceof SqlType.Exact exact && exact.precision() == 0
                            || type instanceof SqlType.DecFloat
                            || type instanceof SqlType.Unknown
                            || number.precision() > 30;
            BigDecimal sure = open ? number.round(SURE) : number;
            return sure.signum() == 0 ? "0" : sure.stripTrailingZeros().toPlainString();
        }
        if (value instanceof Long || value instanceof Integer) {
            return value.toString();
        }
        if (value instanceof Object[] list) {
            SqlType element = type instanceof SqlType.Array array ? array.element() : SqlType.NULL;
            List<String> texts = new ArrayList<>();
            for (Object one : list) {
                texts.add(text(one, element));
            }
            return texts.toString();
        }
        if (value instanceof String text && type instanceof SqlType.Text of) {
            return of.shape() == SqlType.Shape.FIXED
                    ? Values.literal(text.stripTrailing())
                    : Values.literal(text);
        }
        return Values.literal(value);
    }

    /** The places where the ways do not say the same, with what each says. */
    static Map<String, Map<String, String>> differences(
            Map<String, Optional<ObservedResult>> ways) {
        Map<String, Map<String, String>> all = new LinkedHashMap<>();
        ways.forEach(
                (way, seen) ->
                        seen.ifPresent(
                                s ->
                                        s.places.forEach(
                                                (at, text) ->
                                                        all.computeIfAbsent(
                                                                        at,
                                                                        a -> new LinkedHashMap<>())
                                                                .put(way, text))));
        Map<String, Map<String, String>> differing = new LinkedHashMap<>();
        all.forEach(
                (at, texts) -> {
                    Map<String, String> full = new LinkedHashMap<>();
                    ways.forEach(
                            (way, seen) ->
                                    seen.ifPresent(
                                            s ->
                                                    full.put(
                                                            way,
                                                            texts.getOrDefault(way, "nothing"))));
                    if (full.values().stream().distinct().count() > 1) {
                        differing.put(at, full);
                    }
                });
        return differing;
    }
}
