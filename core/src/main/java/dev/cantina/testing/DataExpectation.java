package dev.cantina.testing;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Table;
import dev.cantina.project.ProjectException;
import dev.cantina.project.YamlNode;
import dev.cantina.runtime.TableChanges;
import dev.cantina.syntax.Nearest;
import dev.cantina.syntax.Problem;
import dev.cantina.types.Values;
import dev.cantina.types.Words;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** Compares what a routine changed with what {@code data} says: exactly that, and nothing else. */
final class DataExpectation {
    private static final Set<String> KINDS = Set.of("added", "removed", "changed");

    private final Catalog catalog;
    private final String prefix;
    private final List<Difference> differences;

    /**
     * @param prefix what the paths of differences begin with
     */
    DataExpectation(Catalog catalog, String prefix, List<Difference> differences) {
        this.catalog = catalog;
        this.prefix = prefix;
        this.differences = differences;
    }

    void compare(YamlNode data, List<TableChanges> changes) throws ProjectException {
        Map<String, TableChanges> left = new LinkedHashMap<>();
        changes.forEach(c -> left.put(c.table().key(), c));
        if (data instanceof YamlNode.Scalar scalar) {
            if (!"untouched".equals(scalar.value())) {
                throw data.wrong("data is untouched, or a mapping of tables");
            }
        } else {
            YamlNode.Mapping tables = data.mapping("data");
            for (Map.Entry<String, YamlNode> entry : tables.fields().entrySet()) {
                if (!entry.getKey().equals("others")) {
                    Table table = table(entry.getKey(), tables);
                    table(table, entry.getValue(), Optional.ofNullable(left.remove(table.key())));
                }
            }
            if (tables.get("others").isPresent()) {
                if (!tables.get("others").get().text("others").equals("free")) {
                    throw tables.get("others").get().wrong("others is free, or is left out");
                }
                return;
            }
        }
        left.values().forEach(this::unexpected);
    }

    private Table table(String name, YamlNode.Mapping tables) throws ProjectException {
        Optional<Table> table = catalog.tableCalled(name);
        if (table.isPresent()) {
            return table.get();
        }
        List<String> known = catalog.tables().stream().map(Table::name).toList();
        throw new ProjectException(
                Problem.unknown(
                        tables.keys().get(name),
                        "unknown-table",
                        "there is no table " + name,
                        Nearest.to(name, known),
                        Nearest.listed(name, known)));
    }

    /** A table that was not to change. */
    private void unexpected(TableChanges changes) {
        String at = prefix + "." + changes.table().name();
        rows(at + ".added", List.of(), changes.table(), changes.added());
        rows(at + ".removed", List.of(), changes.table(), changes.removed());
        for (TableChanges.Changed change : changes.changed()) {
            unexpectedChange(at + ".changed", changes.table(), change);
        }
    }

    private void unexpectedChange(String at, Table table, TableChanges.Changed change) {
        for (int column : change.columns()) {
            differences.add(
                    new Difference(
                            at
                                    + "."
                                    + key(table, change.after())
                                    + "."
                                    + table.columns().get(column).name(),
                            change.before()[column],
                            change.after()[column],
                            change.writer()));
        }
    }

    static String key(Table table, Object[] row) {
        List<Integer> positions = table.primaryKey();
        if (positions.isEmpty()) {
            return "row";
        }
        return positions.stream().map(i -> Values.text(row[i])).collect(Collectors.joining(", "));
    }

    private void table(Table table, YamlNode wanted, Optional<TableChanges> changes)
            throws ProjectException {
        TableChanges actual =
                changes.orElse(new TableChanges(table, List.of(), List.of(), List.of()));
        if (wanted instanceof YamlNode.Scalar scalar && scalar.value() != null) {
            whole(table, scalar, actual);
            return;
        }
        YamlNode.Mapping kinds = wanted.mapping(table.name(), KINDS);
        String at = prefix + "." + table.name();
        rows(at + ".added", kinds.get("added"), table, actual.added());
        rows(at + ".removed", kinds.get("removed"), table, actual.removed());
        changed(at + ".changed", kinds.get("changed"), actual);
    }

    /** {@code more} or {@code fewer} rows than before, {@code free}, or {@code untouched}. */
    private void whole(Table table, YamlNode.Scalar wanted, TableChanges actual)
            throws ProjectException {
        long more = (long) actual.added().size() - actual.removed().size();
        switch (wanted.text()) {
            case "free" -> {
                // Whatever becomes of it.
            }
            case "untouched" -> unexpected(actual);
            case "more", "fewer" -> {
                boolean fits = wanted.text().equals("more") ? more > 0 : more < 0;
                if (!fits) {
                    differences.add(
                            Difference.of(
                                    prefix + "." + table.name(),
                                    new Words(wanted.text() + " rows than before"),
                                    new Words(
                                            more == 0
                                                    ? "as many as before"
                                                    : Math.abs(more)
                                                            + (more > 0 ? " more" : " fewer"))));
                }
            }
            default -> throw wanted.wrong("a table is more, fewer, untouched, free, or a mapping");
        }
    }

    private void rows(
            String at, Optional<YamlNode> wanted, Table table, List<TableChanges.WrittenRow> actual)
            throws ProjectException {
        if (wanted.isEmpty()) {
            rows(at, List.of(), table, actual);
        } else if (wanted.get() instanceof YamlNode.Scalar count) {
            count(at, count, actual.size());
        } else {
            List<Map<Integer, Expectation>> rows = new ArrayList<>();
            for (YamlNode row : wanted.get().sequence(at).items()) {
                rows.add(row(table, row));
            }
            rows(at, rows, table, actual);
        }
    }

    private void count(String at, YamlNode.Scalar wanted, int actual) throws ProjectException {
        BigDecimal number = wanted.number(at);
        if (number.compareTo(BigDecimal.valueOf(actual)) != 0) {
            differences.add(Difference.of(at, number, (long) actual));
        }
    }

    /** The expected columns of a row, by position. */
    private static Map<Integer, Expectation> row(Table table, YamlNode node)
            throws ProjectException {
        YamlNode.Mapping mapping = node.mapping("a row of " + table.name());
        Map<Integer, Expectation> row = new LinkedHashMap<>();
        for (Map.Entry<String, YamlNode> field : mapping.fields().entrySet()) {
            int position = table.positionCalled(field.getKey());
            if (position < 0) {
                List<String> known = table.columns().stream().map(c -> c.name()).toList();
                throw new ProjectException(
                        Problem.unknown(
                                mapping.keys().getOrDefault(field.getKey(), node.span()),
                                "unknown-column",
                                "column " + field.getKey() + " not found in " + table.name(),
                                Nearest.to(field.getKey(), known),
                                Nearest.listed(field.getKey(), known)));
            }
            row.put(position, Expectation.of(field.getValue()));
        }
        return row;
    }

    /** Pairs each expected row with the actual one that fits it, or comes nearest. */
    private void rows(
            String at,
            List<Map<Integer, Expectation>> wanted,
            Table table,
            List<TableChanges.WrittenRow> actual) {
        List<TableChanges.WrittenRow> left = new ArrayList<>(actual);
        List<Integer> unmatched = new ArrayList<>();
        for (int i = 0; i < wanted.size(); i++) {
            Map<Integer, Expectation> row = wanted.get(i);
            Optional<TableChanges.WrittenRow> fit =
                    left.stream().filter(w -> misses(table, row, w.row()).isEmpty()).findFirst();
            if (fit.isPresent()) {
                left.remove(fit.get());
            } else {
                unmatched.add(i);
            }
        }
        for (int i : unmatched) {
            Map<Integer, Expectation> row = wanted.get(i);
            String place = at + "[" + i + "]";
            Optional<TableChanges.WrittenRow> nearest =
                    left.stream()
                            .min(
                                    (a, b) ->
                                            misses(table, row, a.row()).size()
                                                    - misses(table, row, b.row()).size());
            if (nearest.isEmpty()) {
                differences.add(Difference.of(place, words(table, row), new Words("no such row")));
                continue;
            }
            left.remove(nearest.get());
            for (int column : misses(table, row, nearest.get().row())) {
                differences.add(
                        new Difference(
                                place + "." + table.columns().get(column).name(),
                                row.get(column).shown(),
                                nearest.get().row()[column],
                                nearest.get().writer()));
            }
        }
        for (TableChanges.WrittenRow row : left) {
            differences.add(
                    new Difference(
                            at,
                            new Words("no row"),
                            new Words(words(table, row.row())),
                            row.writer()));
        }
    }

    private static List<Integer> misses(
            Table table, Map<Integer, Expectation> wanted, Object[] row) {
        return wanted.entrySet().stream()
                .filter(
                        e ->
                                !e.getValue()
                                        .matches(
                                                row[e.getKey()],
                                                table.columns().get(e.getKey()).type()))
                .map(Map.Entry::getKey)
                .toList();
    }

    private static Words words(Table table, Map<Integer, Expectation> row) {
        return new Words(
                row.entrySet().stream()
                        .map(
                                e -> {
                                    Object shown = e.getValue().shown();
                                    return table.columns().get(e.getKey()).name()
                                            + " "
                                            + (shown instanceof Words w
                                                    ? w.text()
                                                    : Values.literal(shown));
                                })
                        .collect(Collectors.joining(", ")));
    }

    private static String words(Table table, Object[] row) {
        List<String> fields = new ArrayList<>();
        for (int i = 0; i < row.length; i++) {
            if (row[i] != null) {
                fields.add(table.columns().get(i).name() + " " + Values.shortened(row[i]));
            }
        }
        return String.join(", ", fields);
    }

    private void changed(String at, Optional<YamlNode> wanted, TableChanges actual)
            throws ProjectException {
        if (wanted.isPresent() && wanted.get() instanceof YamlNode.Scalar count) {
            count(at, count, actual.changed().size());
            return;
        }
        Map<String, TableChanges.Changed> left = new LinkedHashMap<>();
        actual.changed().forEach(c -> left.put(key(actual.table(), c.after()), c));
        if (wanted.isPresent()) {
            YamlNode.Mapping rows = wanted.get().mapping(at);
            for (Map.Entry<String, YamlNode> entry : rows.fields().entrySet()) {
                changedRow(
                        at + "." + entry.getKey(),
                        actual.table(),
                        row(actual.table(), entry.getValue()),
                        Optional.ofNullable(left.remove(entry.getKey())));
            }
        }
        left.values().forEach(c -> unexpectedChange(at, actual.table(), c));
    }

    private void changedRow(
            String at,
            Table table,
            Map<Integer, Expectation> wanted,
            Optional<TableChanges.Changed> actual) {
        if (actual.isEmpty()) {
            differences.add(Difference.of(at, words(table, wanted), new Words("not changed")));
            return;
        }
        TableChanges.Changed change = actual.get();
        wanted.forEach(
                (column, expectation) -> {
                    if (!expectation.matches(
                            change.after()[column], table.columns().get(column).type())) {
                        differences.add(
                                new Difference(
                                        at + "." + table.columns().get(column).name(),
                                        expectation.shown(),
                                        change.after()[column],
                                        change.writer()));
                    }
                });
        for (int column : change.columns()) {
            if (!wanted.containsKey(column)) {
                differences.add(
                        new Difference(
                                at + "." + table.columns().get(column).name(),
                                change.before()[column],
                                change.after()[column],
                                change.writer()));
            }
        }
    }
}
