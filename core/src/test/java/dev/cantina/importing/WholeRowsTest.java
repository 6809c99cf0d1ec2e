package dev.cantina.importing;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;

/** Rows with all that they refer to, of a server that is made of lists. */
class WholeRowsTest {
    private final Map<String, List<String[]>> there = new LinkedHashMap<>();
    private final List<LiveTable> tables = new ArrayList<>();
    private int asked;

    private final LiveServer server =
            new LiveServer() {
                @Override
                public Live read(List<String> schemas) {
                    throw new UnsupportedOperationException();
                }

                @Override
                public List<String[]> first(LiveTable table, int most) {
                    return there.get(table.name()).stream().limit(most).toList();
                }

                @Override
                public List<String[]> of(LiveTable table, String query) {
                    throw new UnsupportedOperationException();
                }

                @Override
                public List<String[]> with(
                        LiveTable table, List<Integer> columns, List<List<String>> values) {
                    asked++;
                    return there.get(table.name()).stream()
                            .filter(r -> values.contains(columns.stream().map(c -> r[c]).toList()))
                            .toList();
                }
            };

    private LiveTable table(
            String name, String columns, List<Integer> key, LiveTable.Reference... references) {
        LiveTable table =
                new LiveTable(
                        name,
                        name,
                        Arrays.stream(columns.split(" "))
                                .map(
                                        c ->
                                                new LiveTable.Column(
                                                        c,
                                                        c,
                                                        "int",
                                                        LiveTable.Kind.WHOLE,
                                                        true,
                                                        false))
                                .toList(),
                        key,
                        key.isEmpty() ? List.of() : List.of(key),
                        List.of(references),
                        true);
        tables.add(table);
        there.put(name, new ArrayList<>());
        return table;
    }

    private static LiveTable.Reference to(String parent, String column, int... columns) {
        return new LiveTable.Reference(
                "to_" + parent,
                Arrays.stream(columns).boxed().toList(),
                parent,
                List.of(column.split(" ")));
    }

    private void rows(String table, String... rows) {
        for (String row : rows) {
            String[] values = row.split(" ");
            for (int i = 0; i < values.length; i++) {
                values[i] = values[i].equals("-") ? null : values[i];
            }
            there.get(table).add(values);
        }
    }

    private static String shown(WholeRows rows) {
        return rows.rows().entrySet().stream()
                .map(
                        e ->
                                e.getKey().name()
                                        + e.getValue().stream()
                                                .map(r -> String.join(" ", Arrays.asList(r)))
                                                .toList())
                .collect(Collectors.joining(" "));
    }

    @Test
    void allThatIsReferredToAndNothingMore() throws Exception {
        table("a", "id b up", List.of(0), to("b", "id", 1), to("a", "id", 2));
        table("b", "id a", List.of(0), to("a", "id", 1));
        table("c", "id", List.of(0));
        rows("a", "1 20 3", "2 21 -", "3 - 2", "10 - -");
        rows("b", "20 10", "21 2", "22 1");
        rows("c", "5");
        WholeRows rows = new WholeRows(server, tables);
        rows.add(tables.get(0), server.first(tables.get(0), 1));
        assertEquals(List.of(), rows.complete());
        assertEquals("a[1 20 3, 2 21 null, 3 null 2, 10 null null] b[20 10, 21 2]", shown(rows));
    }

    @Test
    void rowsWithoutAKeyMayBeTheSame() throws Exception {
        table("a", "x y", List.of(), to("b", "p q", 0, 1));
        table("b", "p q", List.of());
        rows("a", "1 1", "1 1", "2 -", "- -");
        rows("b", "1 1", "1 1", "2 9");
        WholeRows rows = new WholeRows(server, tables);
        rows.add(tables.get(0), server.first(tables.get(0), 9));
        assertEquals(List.of(), rows.complete());
        assertEquals("a[null null, 1 1, 1 1, 2 null] b[1 1, 1 1]", shown(rows));
    }

    @Test
    void whatRefersToNothingIsLeftOutWithAllThatNeedsIt() throws Exception {
        table("a", "id b", List.of(0), to("b", "id", 1));
        table("b", "id c", List.of(0), to("c", "id", 1));
        table("c", "id", List.of(0));
        rows("a", "1 1", "2 2", "3 1");
        rows("b", "1 7", "2 8");
        rows("c", "8");
        WholeRows rows = new WholeRows(server, tables);
        rows.add(tables.get(0), server.first(tables.get(0), 9));
        assertEquals(
                List.of(
                        "rows of b (1): what they refer to in c is not there",
                        "rows of a (2): what they refer to in b is not there"),
                rows.complete());
        assertEquals("a[2 2] b[2 8] c[8]", shown(rows));
    }

    @Test
    void nothingIsAskedTwice() throws Exception {
        table("a", "id b", List.of(0), to("b", "id", 1));
        table("b", "id", List.of(0));
        for (int i = 0; i < 1200; i++) {
            rows("a", i + " " + i % 600);
        }
        for (int i = 0; i < 600; i++) {
            rows("b", String.valueOf(i));
        }
        WholeRows rows = new WholeRows(server, tables);
        rows.add(tables.get(0), server.first(tables.get(0), 5000));
        rows.add(tables.get(0), server.first(tables.get(0), 10));
        rows.complete();
        assertEquals(2, asked);
        assertEquals(1200, rows.rows().get(tables.get(0)).size());
        assertEquals(600, rows.rows().get(tables.get(1)).size());
    }
}
