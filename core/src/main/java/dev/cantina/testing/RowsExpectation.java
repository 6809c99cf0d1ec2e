package dev.cantina.testing;

import dev.cantina.project.ProjectException;
import dev.cantina.project.YamlNode;
import dev.cantina.runtime.ResultRows;
import dev.cantina.syntax.Nearest;
import dev.cantina.syntax.Problem;
import dev.cantina.types.SqlType;
import dev.cantina.types.Values;
import dev.cantina.types.Words;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Compares the rows of a result, in their order or in any. */
final class RowsExpectation {
    private final String at;
    private final ResultRows actual;
    private final List<Difference> differences;

    RowsExpectation(String at, ResultRows actual, List<Difference> differences) {
        this.at = at;
        this.actual = actual;
        this.differences = differences;
    }

    /** With rows as written: by column name, or all values of a row in a list. */
    void compare(YamlNode written, boolean anyOrder) throws ProjectException {
        List<Map<Integer, Expectation>> wanted = new ArrayList<>();
        for (YamlNode row : written.sequence("rows").items()) {
            wanted.add(row(row));
        }
        compare(wanted, anyOrder);
    }

    /** With the rows of another query. */
    void compare(ResultRows other, boolean anyOrder) {
        List<Map<Integer, Expectation>> wanted = new ArrayList<>();
        for (Object[] row : other.rows()) {
            Map<Integer, Expectation> values = new LinkedHashMap<>();
            for (int i = 0; i < Math.min(row.length, actual.columns().size()); i++) {
                values.put(i, new Expectation.Equal(row[i]));
            }
            wanted.add(values);
        }
        compare(wanted, anyOrder);
    }

    private Map<Integer, Expectation> row(YamlNode node) throws ProjectException {
        Map<Integer, Expectation> row = new LinkedHashMap<>();
        if (node instanceof YamlNode.Sequence values) {
            if (values.items().size() != actual.columns().size()) {
                throw node.wrong(
                        "this row has "
                                + values.items().size()
                                + " values, and the result "
                                + actual.columns().size()
                                + " columns");
            }
            for (int i = 0; i < values.items().size(); i++) {
                row.put(i, Expectation.of(values.items().get(i)));
            }
            return row;
        }
        YamlNode.Mapping mapping = node.mapping("a row");
        for (Map.Entry<String, YamlNode> field : mapping.fields().entrySet()) {
            row.put(column(field.getKey(), mapping), Expectation.of(field.getValue()));
        }
        return row;
    }

    private int column(String name, YamlNode.Mapping row) throws ProjectException {
        List<String> known = actual.columns().stream().map(SqlType.Field::name).toList();
        for (int i = 0; i < known.size(); i++) {
            if (known.get(i).equalsIgnoreCase(name)) {
                return i;
            }
        }
        throw new ProjectException(
                Problem.unknown(
                        row.keys().getOrDefault(name, row.span()),
                        "unknown-column",
                        "the result has no column " + name,
                        Nearest.to(name, known),
                        Nearest.listed(name, known)));
    }

    private void compare(List<Map<Integer, Expectation>> wanted, boolean anyOrder) {
        if (anyOrder) {
            inAnyOrder(wanted);
            return;
        }
        for (int i = 0; i < Math.max(wanted.size(), actual.rows().size()); i++) {
            String place = at + "[" + i + "]";
            if (i >= wanted.size()) {
                differences.add(
                        Difference.of(
                                place,
                                new Words("no row"),
                                new Words(words(actual.rows().get(i)))));
            } else if (i >= actual.rows().size()) {
                differences.add(
                        Difference.of(place, new Words(words(wanted.get(i))), new Words("no row")));
            } else {
                Object[] row = actual.rows().get(i);
                wanted.get(i)
                        .forEach(
                                (column, expectation) -> {
                                    if (!expectation.matches(row[column], type(column))) {
                                        differences.add(
                                                Difference.of(
                                                        place
                                                                + "."
                                                                + actual.columns()
                                                                        .get(column)
                                                                        .name(),
                                                        expectation.shown(),
                                                        row[column]));
                                    }
                                });
            }
        }
    }

    private SqlType type(int column) {
        return actual.columns().get(column).type();
    }

    private void inAnyOrder(List<Map<Integer, Expectation>> wanted) {
        List<Object[]> left = new ArrayList<>(actual.rows());
        for (int i = 0; i < wanted.size(); i++) {
            Map<Integer, Expectation> row = wanted.get(i);
            boolean found = false;
            for (int j = 0; j < left.size() && !found; j++) {
                Object[] candidate = left.get(j);
                found =
                        row.entrySet().stream()
                                .allMatch(
                                        e ->
                                                e.getValue()
                                                        .matches(
                                                                candidate[e.getKey()],
                                                                type(e.getKey())));
                if (found) {
                    left.remove(j);
                }
            }
            if (!found) {
                differences.add(
                        Difference.of(
                                at + "[" + i + "]",
                                new Words(words(row)),
                                new Words("no such row")));
            }
        }
        for (Object[] row : left) {
            differences.add(Difference.of(at, new Words("no more rows"), new Words(words(row))));
        }
    }

    private String words(Map<Integer, Expectation> row) {
        List<String> parts = new ArrayList<>();
        row.forEach(
                (column, expectation) -> {
                    Object shown = expectation.shown();
                    parts.add(
                            actual.columns().get(column).name()
                                    + " "
                                    + (shown instanceof Words words
                                            ? words.text()
                                            : Values.literal(shown)));
                });
        return String.join(", ", parts);
    }

    private String words(Object[] row) {
        List<String> parts = new ArrayList<>();
        for (int i = 0; i < row.length; i++) {
            parts.add(actual.columns().get(i).name() + " " + Values.shortened(row[i]));
        }
        return String.join(", ", parts);
    }
}
