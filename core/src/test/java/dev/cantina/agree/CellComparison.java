package dev.cantina.agree;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.Lab;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.CatalogBuilder;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.ServerDatabase;
import dev.cantina.database.ServerPart;
import dev.cantina.project.Placement;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Program;
import dev.cantina.runtime.Session;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import java.nio.file.Path;
import java.sql.SQLException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/** Small pieces of a program, each of which reports, run in all ways and compared. */
final class CellComparison {
    private final Map<String, Integer> reasons = new TreeMap<>();
    private final List<String> differing = new ArrayList<>();
    private int refused;
    private int compared;

    /** Its name for a text of bytes, and how it writes one. */
    static String onPostgres(String sql) {
        return sql.replace("VARBINARY(4)", "BYTEA").replaceAll("X'([0-9A-F]*)'", "BYTEA '\\\\x$1'");
    }

    private static String there(RandomStage stage, String sql) {
        return stage.address().name().equals("postgresql") ? onPostgres(sql) : sql;
    }

    private final RandomStage stage;
    private final Free free;

    /** Whether a difference is one of those that docs/servers.md lets be. */
    interface Free {
        boolean is(String text, String one, String other);
    }

    CellComparison(RandomStage stage, Free free) {
        this.stage = stage;
        this.free = free;
    }

    /** Says what was found; nothing may differ, and more than half must have been compared. */
    void end() {
        differing.forEach(System.out::println);
        reasons.forEach((reason, times) -> System.out.println(times + " left out: " + reason));
        System.out.println(
                stage.address().name()
                        + ": "
                        + compared
                        + " compared, "
                        + refused
                        + " left out, "
                        + differing.size()
                        + " differ");
        assertEquals(0, differing.size(), "what stands above differs");
        assertTrue(refused < compared, refused + " of " + compared + " are left out");
    }

    /**
     * Compares them.
     *
     * @param tables those that the stage has, which are emptied first
     */
    void compare(Cells values, long seed, List<String> tables) throws Exception {
        for (String table : tables) {
            stage.execute("DELETE FROM " + table);
        }
        for (String row : values.rows().split(";\n")) {
            stage.execute(there(stage, row));
        }
        List<Cells.Cell> cells = usable(values);
        Map<Integer, String> here = new LinkedHashMap<>();
        parts(cells, here, some -> embedded(values, some));
        Map<Integer, String> shipped = new LinkedHashMap<>();
        parts(cells, shipped, some -> shipped(stage, values, some));
        Map<Integer, String> hosted = new LinkedHashMap<>();
        parts(cells, hosted, some -> hosted(stage, values, some));
        for (Cells.Cell cell : cells) {
            compared++;
            String one = here.get(cell.number());
            difference(seed, cell, "shipped", one, shipped.get(cell.number()));
            difference(seed, cell, "hosted ", one, hosted.get(cell.number()));
        }
    }

    private void difference(long seed, Cells.Cell cell, String way, String here, String there) {
        if (here.equals(there)) {
            return;
        }
        if (!free.is(cell.text(), here, there) && !free.is(cell.text(), there, here)) {
            differing.add(
                    "seed "
                            + seed
                            + " here "
                            + here
                            + " "
                            + way
                            + " "
                            + there
                            + "\n"
                            + cell.text());
        }
    }

    /** Those that can be checked and translated. */
    private List<Cells.Cell> usable(Cells values) throws Exception {
        List<Cells.Cell> cells = new ArrayList<>(values.cells());
        for (int turn = 0; turn < 40; turn++) {
            List<Problem> problems = new ArrayList<>();
            String program = values.program(cells);
            try (Lab lab = new Lab(values.tables() + values.rows(), program)) {
                lab.check().stream().filter(Problem::isError).forEach(problems::add);
                if (problems.isEmpty()) {
                    problems.addAll(stage.shipped(lab).translation().refused());
                }
            }
            if (problems.isEmpty()) {
                return cells;
            }
            for (Problem problem : problems) {
                int at = problem.span().start();
                for (Cells.Cell cell : List.copyOf(cells)) {
                    int from = program.indexOf(cell.text());
                    if (from <= at && at < from + cell.text().length() && cells.remove(cell)) {
                        refused++;
                        reasons.merge(
                                problem.message().replaceAll("[0-9]+|'[^']*'", "…"),
                                1,
                                Integer::sum);
                    }
                }
            }
        }
        throw new AssertionError("no program without problems");
    }

    private interface Way {
        List<String> run(List<Cells.Cell> cells) throws Exception;
    }

    /** What each reports; where a program can't be run at all, which of them it is. */
    private static void parts(List<Cells.Cell> cells, Map<Integer, String> results, Way way) {
        List<String> lines;
        try {
            lines = way.run(cells);
        } catch (Exception | AssertionError e) {
            if (cells.size() == 1) {
                results.put(cells.get(0).number(), "ENDS: " + e.getMessage());
            } else {
                parts(cells.subList(0, cells.size() / 2), results, way);
                parts(cells.subList(cells.size() / 2, cells.size()), results, way);
            }
            return;
        }
        cells.forEach(c -> results.put(c.number(), ""));
        for (String line : lines) {
            int colon = line.indexOf(": ");
            results.merge(
                    Integer.valueOf(line.substring(0, colon)),
                    line.substring(colon + 2),
                    String::concat);
        }
    }

    private static List<String> says(Behaviour behaviour) {
        behaviour
                .condition()
                .ifPresent(
                        c -> {
                            throw new AssertionError(c.toString());
                        });
        return behaviour.says();
    }

    private static List<String> embedded(Cells values, List<Cells.Cell> cells) {
        try (Lab lab = new Lab(values.tables() + values.rows(), values.program(cells))) {
            return says(Behaviour.of(lab.call("p", Map.of(), Limits.DEFAULT, Optional.empty())));
        }
    }

    private static List<String> shipped(RandomStage stage, Cells values, List<Cells.Cell> cells)
            throws Exception {
        try (Lab lab = new Lab(values.tables() + values.rows(), values.program(cells))) {
            RandomStage.Shipped shipped = stage.shipped(lab);
            List<ServerPart> made = new ArrayList<>();
            try {
                for (ServerPart part : shipped.parts()) {
                    stage.execute(part.create());
                    made.add(part);
                }
                RoutineSymbol symbol = lab.program().catalog().routines("P").get(0);
                return says(shipped.calls().call(symbol, List.of()));
            } finally {
                for (int i = made.size() - 1; i >= 0; i--) {
                    if (!made.get(i).identity().contains(" cantina")) {
                        drop(stage, made.get(i));
                    }
                }
            }
        }
    }

    private static void drop(RandomStage stage, ServerPart part) {
        try {
            stage.execute(part.drop());
        } catch (SQLException e) {
            throw new AssertionError(part.drop(), e);
        }
    }

    private static List<String> hosted(RandomStage stage, Cells values, List<Cells.Cell> cells)
            throws Exception {
        ParsedFile file = Parser.parse(new Source("routines.sql", values.program(cells)));
        try (ServerDatabase database = ServerDatabase.open(stage.address(), Path.of(""))) {
            database.scratch();
            database.create(
                    new Source("tables.sql", there(stage, values.tables() + values.rows())));
            Catalog catalog = new CatalogBuilder(database.tables(), p -> {}).build(List.of(file));
            Program bound = new Program(catalog, Optional.of(database));
            Placement.place(catalog, bound.binder(), database);
            database.install(catalog);
            database.keep();
            try (Session session =
                    new Session(
                            bound, database, Limits.DEFAULT, Clock.systemUTC(), Optional.empty())) {
                return says(Behaviour.of(session.run(catalog.routines("P").get(0), List.of())));
            }
        }
    }
}
