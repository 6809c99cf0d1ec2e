package dev.cantina.drafting;

import dev.cantina.catalog.Table;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.ResultRows;
import dev.cantina.runtime.TableChanges;
import dev.cantina.types.SqlType;
import dev.cantina.types.Values;
import java.time.Duration;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

/**
 * What a run came to, in the words of a case file: {@code returns}, {@code raises}, {@code data}.
 */
public final class SeenOutcome {
    /** More rows than these are only counted. */
    private static final int MOST_ROWS = 12;

    /**
     * The classes of conditions whose messages each database words in its own way (ISO 9075-2, 24).
     */
    private static final Set<String> OF_DATABASES =
            Set.of(
                    "07", "08", "0A", "20", "21", "22", "23", "24", "25", "26", "2D", "34", "40",
                    "42", "44");

    private SeenOutcome() {}

    /** The expectations that a run fulfils, by their keys. */
    public static Map<String, Object> of(Outcome outcome) {
        Map<String, Object> seen = new LinkedHashMap<>();
        outcome.condition()
                .ifPresent(
                        c -> {
                            Map<String, Object> raises = new LinkedHashMap<>();
                            raises.put("sqlstate", c.sqlstate());
                            boolean own = !OF_DATABASES.contains(c.sqlstate().substring(0, 2));
                            if (own && c.message() != null && !c.message().isEmpty()) {
                                raises.put("message", c.message());
                            }
                            seen.put("raises", raises);
                        });
        if (outcome.condition().isEmpty()) {
            if (outcome.isFunction()) {
                seen.put("returns", value(outcome.returned()));
            } else if (!outcome.out().isEmpty()) {
                Map<String, Object> out = new LinkedHashMap<>();
                outcome.out().forEach((name, v) -> out.put(name, value(v)));
                seen.put("returns", out);
            }
        }
        if (!outcome.results().isEmpty()) {
            seen.put("results", outcome.results().stream().map(SeenOutcome::rows).toList());
        }
        if (!outcome.messages().isEmpty()) {
            seen.put("says", new ArrayList<>(outcome.messages()));
        }
        seen.put("data", data(TableChanges.of(outcome.events())));
        return seen;
    }

    private static Object value(Object value) {
        return value instanceof byte[] ? YamlText.ANY : value;
    }

    private static Object rows(ResultRows result) {
        if (result.rows().size() > MOST_ROWS) {
            return Map.of("rows", result.rows().size());
        }
        List<String> names = result.columns().stream().map(SqlType.Field::name).toList();
        boolean named = names.stream().distinct().count() == names.size();
        List<Object> rows = new ArrayList<>();
        for (Object[] row : result.rows()) {
            if (named) {
                Map<String, Object> one = new LinkedHashMap<>();
                for (int i = 0; i < row.length; i++) {
                    one.put(names.get(i), value(row[i]));
                }
                rows.add(one);
            } else {
                List<Object> one = new ArrayList<>();
                for (Object v : row) {
                    one.add(value(v));
                }
                rows.add(one);
            }
        }
        return Map.of("rows", rows);
    }

    /** What was changed; nothing else was. */
    public static Object data(List<TableChanges> changes) {
        if (changes.isEmpty()) {
            return "untouched";
        }
        Map<String, Object> data = new LinkedHashMap<>();
        for (TableChanges change : changes) {
            Map<String, Object> kinds = new LinkedHashMap<>();
            Table table = change.table();
            if (!change.added().isEmpty()) {
                kinds.put("added", written(table, change.added(), false));
            }
            if (!change.removed().isEmpty()) {
                kinds.put("removed", written(table, change.removed(), true));
            }
            if (!change.changed().isEmpty()) {
                kinds.put("changed", changed(table, change.changed()));
            }
            data.put(table.name(), kinds);
        }
        return data;
    }

    private static Object written(Table table, List<TableChanges.WrittenRow> rows, boolean byKey) {
        if (rows.size() > MOST_ROWS) {
            return rows.size();
        }
        List<Object> all = new ArrayList<>();
        for (TableChanges.WrittenRow row : rows) {
            Map<String, Object> one = new LinkedHashMap<>();
            for (int i = 0; i < row.row().length; i++) {
                boolean said =
                        !byKey || table.primaryKey().isEmpty() || table.primaryKey().contains(i);
                if (said && row.row()[i] != null) {
                    one.put(table.columns().get(i).name(), value(row.row()[i]));
                }
            }
            all.add(one);
        }
        return all;
    }

    private static Object changed(Table table, List<TableChanges.Changed> rows) {
        if (rows.size() > MOST_ROWS || table.primaryKey().isEmpty()) {
            return rows.size();
        }
        Map<String, Object> all = new LinkedHashMap<>();
        for (TableChanges.Changed row : rows) {
            Map<String, Object> columns = new LinkedHashMap<>();
            row.columns()
                    .forEach(
                            i -> columns.put(table.columns().get(i).name(), value(row.after()[i])));
            all.put(
                    table.primaryKey().stream()
                            .map(i -> Values.text(row.after()[i]))
                            .collect(Collectors.joining(", ")),
                    columns);
        }
        return all;
    }

    /**
     * Where one run comes to something else than others have in common, in words; the order of the
     * rows of a result counts for nothing.
     */
    public static Optional<String> firstOther(Object common, Object run) {
        return firstOther("", common, run);
    }

    private static Optional<String> firstOther(String at, Object common, Object run) {
        if (common == YamlText.ANY || ordered(common).equals(ordered(run))) {
            return Optional.empty();
        }
        if (common instanceof Map<?, ?> a && run instanceof Map<?, ?> b) {
            Set<Object> keys = new LinkedHashSet<>(a.keySet());
            keys.addAll(b.keySet());
            return keys.stream()
                    .flatMap(
                            k ->
                                    firstOther(
                                            at + (at.isEmpty() ? "" : ".") + k,
                                            a.containsKey(k) ? a.get(k) : "nothing",
                                            b.containsKey(k) ? b.get(k) : "nothing")
                                            .stream())
                    .findFirst();
        }
        if (common instanceof List<?> a && run instanceof List<?> b && a.size() == b.size()) {
            return IntStream.range(0, a.size())
                    .mapToObj(i -> firstOther(at + "." + (i + 1), a.get(i), b.get(i)))
                    .flatMap(Optional::stream)
                    .findFirst();
        }
        return Optional.of(at + " is " + YamlText.of(run) + ", not " + YamlText.of(common));
    }

    private static String ordered(Object value) {
        return value instanceof List<?> rows
                ? rows.stream().map(YamlText::of).sorted().toList().toString()
                : YamlText.of(value);
    }

    /**
     * What a case may expect of a call after two runs of it: of values that differ, any; of what
     * has another shape in each, such as rows that only one gives, nothing.
     *
     * @return empty where only one of them ends in a condition: nothing is to be expected of it
     */
    public static Optional<Map<String, Object>> expected(
            Map<String, Object> one, Map<String, Object> other) {
        if (one.containsKey("raises") != other.containsKey("raises")) {
            return Optional.empty();
        }
        Map<String, Object> all = new LinkedHashMap<>();
        one.forEach(
                (key, value) -> {
                    if (other.containsKey(key) && isOneShape(value, other.get(key))) {
                        all.put(key, common(value, other.get(key)));
                    }
                });
        return Optional.of(all);
    }

    /**
     * The same where no time is set for a case: what was near the time of the run, and will be
     * other tomorrow, may be anything.
     */
    public static Map<String, Object> timeless(Map<String, Object> seen, LocalDateTime now) {
        Map<String, Object> all = new LinkedHashMap<>();
        seen.forEach((key, value) -> all.put(key, timeless(value, now)));
        return all;
    }

    private static Object timeless(Object value, LocalDateTime now) {
        if (value == YamlText.ANY) {
            return value;
        }
        if (value instanceof Map<?, ?> map) {
            Map<Object, Object> all = new LinkedHashMap<>();
            map.forEach((k, v) -> all.put(k, timeless(v, now)));
            return all;
        }
        if (value instanceof List<?> list) {
            List<Object> all = new ArrayList<>();
            list.forEach(one -> all.add(timeless(one, now)));
            return all;
        }
        LocalDateTime moment =
                value instanceof LocalDate date
                        ? date.atTime(now.toLocalTime())
                        : value instanceof LocalDateTime local
                                ? local
                                : value instanceof OffsetDateTime offset
                                        ? offset.toLocalDateTime()
                                        : null;
        boolean near = moment != null && Duration.between(now, moment).abs().compareTo(NEAR) <= 0;
        return near ? YamlText.ANY : value;
    }

    /** A day in any zone. */
    private static final Duration NEAR = Duration.ofHours(39);

    private static boolean isOneShape(Object one, Object other) {
        if (one == YamlText.ANY || other == YamlText.ANY) {
            return true;
        }
        if (one instanceof Map<?, ?> a && other instanceof Map<?, ?> b) {
            return a.keySet().equals(b.keySet())
                    && a.keySet().stream().allMatch(k -> isOneShape(a.get(k), b.get(k)));
        }
        if (one instanceof List<?> a && other instanceof List<?> b) {
            return a.size() == b.size()
                    && IntStream.range(0, a.size()).allMatch(i -> isOneShape(a.get(i), b.get(i)));
        }
        return !(one instanceof Map<?, ?> || one instanceof List<?>)
                && !(other instanceof Map<?, ?> || other instanceof List<?>);
    }

    /** What two runs have in common; what differs between them may be anything. */
    public static Object common(Object one, Object other) {
        if (one instanceof Map<?, ?> a
                && other instanceof Map<?, ?> b
                && a.keySet().equals(b.keySet())) {
            Map<Object, Object> all = new LinkedHashMap<>();
            a.forEach((k, v) -> all.put(k, common(v, b.get(k))));
            return all;
        }
        if (one instanceof List<?> a && other instanceof List<?> b && a.size() == b.size()) {
            List<Object> all = new ArrayList<>();
            for (int i = 0; i < a.size(); i++) {
                all.add(common(a.get(i), b.get(i)));
            }
            return all;
        }
        boolean same = Objects.equals(one, other) || YamlText.of(one).equals(YamlText.of(other));
        return same ? one : YamlText.ANY;
    }
}
