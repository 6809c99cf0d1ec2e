package dev.cantina.agree;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.Lab;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.CatalogBuilder;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.ServerDatabase;
import dev.cantina.database.ServerPart;
import dev.cantina.project.Arguments;
import dev.cantina.project.Placement;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Program;
import dev.cantina.runtime.Session;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Clock;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/**
 * Programs that nobody wrote, here, here on a server, and on the server by itself. {@code
 * -Dcantina.programs=N -Dcantina.seed=S} asks for more and for others, {@code -Dcantina.matrix=N}
 * for more of those in which failures meet handlers.
 */
class RandomProgramsTest {
    private static final int PROGRAMS = Integer.getInteger("cantina.programs", 100);
    private static final long SEED = Long.getLong("cantina.seed", 1);
    private static final List<Map<String, Object>> CALLS = calls();

    /** How many of the programs in which failures meet handlers. */
    private static final int MATRIX = Integer.getInteger("cantina.matrix", 150);

    /** One in so many programs is run by Cantina on the server too. */
    private static final int EVERY = Integer.getInteger("cantina.every", 5);

    private static final int SHOWN = Integer.getInteger("cantina.shown", 3);
    private static final Map<String, Integer> reasons = new TreeMap<>();

    private static List<Map<String, Object>> calls() {
        List<Map<String, Object>> calls = new ArrayList<>();
        for (Object[] one :
                new Object[][] {
                    {3, "Rosso"}, {0, ""}, {null, null}, {-7, " x "}, {2147483647, "12"}
                }) {
            Map<String, Object> call = new LinkedHashMap<>();
            call.put("i", one[0]);
            call.put("s", one[1]);
            calls.add(call);
        }
        return calls;
    }

    @Test
    @Timeout(3600)
    void doTheSameOnPostgres() throws Exception {
        compare(RandomStage.postgres(RandomProgram.TABLES), random(), CALLS, 0.12);
    }

    @Test
    @Timeout(3600)
    void doTheSameOnMaria() throws Exception {
        compare(RandomStage.maria(RandomProgram.TABLES), random(), CALLS, 0.15);
    }

    @Test
    @Timeout(3600)
    void failuresMeetTheirHandlersOnPostgres() throws Exception {
        compare(
                RandomStage.postgres(RandomProgram.TABLES),
                FailureMatrix.programs(MATRIX, SEED),
                CALLS.subList(0, 1),
                0.25);
    }

    @Test
    @Timeout(3600)
    void failuresMeetTheirHandlersOnMaria() throws Exception {
        compare(
                RandomStage.maria(RandomProgram.TABLES),
                FailureMatrix.programs(MATRIX, SEED),
                CALLS.subList(0, 1),
                0.25);
    }

    private static List<String> random() {
        List<String> programs = new ArrayList<>();
        for (int i = 0; i < PROGRAMS; i++) {
            programs.add("-- seed " + (SEED + i) + "\n" + program(SEED + i));
        }
        return programs;
    }

    private static void compare(
            RandomStage server, List<String> programs, List<Map<String, Object>> calls, double most)
            throws Exception {
        int refused = 0;
        reasons.clear();
        List<String> differing = new ArrayList<>();
        try (RandomStage stage = server) {
            for (int i = 0; i < programs.size(); i++) {
                String program = programs.get(i);
                Optional<String> difference;
                try {
                    difference = difference(stage, program, calls, i % EVERY == 0);
                } catch (Exception | AssertionError e) {
                    difference = Optional.of(e.toString());
                }
                if (difference.filter("refused"::equals).isPresent()) {
                    refused++;
                } else if (difference.isPresent()) {
                    differing.add(difference.get() + "\n" + program);
                }
            }
        }
        reasons.forEach((reason, times) -> System.out.println(times + " refused: " + reason));
        System.out.println(
                programs.size()
                        + " programs, "
                        + refused
                        + " refused, "
                        + differing.size()
                        + " differ");
        assertEquals(
                "", String.join("\n", differing.subList(0, Math.min(SHOWN, differing.size()))));
        assertTrue(
                refused < programs.size() * most,
                refused + " of " + programs.size() + " are refused");
    }

    static String program(long seed) {
        return RandomProgram.programs().generator(1000).next(new Random(seed * 7919)).value();
    }

    private static void execute(Connection connection, String sql) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute(sql);
        }
    }

    private static Optional<String> difference(
            RandomStage stage, String program, List<Map<String, Object>> calls, boolean all)
            throws Exception {
        try (Lab lab = new Lab(RandomProgram.TABLES + RandomProgram.ROWS, program)) {
            List<Problem> errors = lab.check().stream().filter(Problem::isError).toList();
            assertEquals(List.of(), errors, program);
            RandomStage.Shipped shipped = stage.shipped(lab);
            if (!shipped.translation().refused().isEmpty()) {
                shipped.translation()
                        .refused()
                        .forEach(p -> reasons.merge(p.message(), 1, Integer::sum));
                return Optional.of("refused");
            }
            List<ServerPart> parts = shipped.parts();
            for (ServerPart part : parts) {
                try {
                    stage.execute(part.create());
                } catch (SQLException e) {
                    return Optional.of(e.getMessage() + "\n" + part.create());
                }
            }
            try {
                List<String> here = new ArrayList<>();
                for (Map<String, Object> call : calls) {
                    here.add(here(lab, call));
                    stage.reset(parts);
                    RoutineSymbol symbol = main(lab);
                    Behaviour behaviour =
                            shipped.calls().call(symbol, Arguments.match(symbol, call));
                    String there = shown(symbol, behaviour, rows(stage.connection()));
                    if (!here.get(here.size() - 1).equals(there)) {
                        return Optional.of(
                                call + "\nhere  " + here.get(here.size() - 1) + "\nthere " + there);
                    }
                }
                return all ? onServer(stage, program, calls, here) : Optional.empty();
            } finally {
                for (int i = parts.size() - 1; i >= 0; i--) {
                    if (!parts.get(i).identity().contains(" cantina")) {
                        stage.execute(parts.get(i).drop());
                    }
                }
            }
        }
    }

    /** The second way: the routine in Cantina, its data statements on the server. */
    private static Optional<String> onServer(
            RandomStage stage, String program, List<Map<String, Object>> calls, List<String> here)
            throws Exception {
        ParsedFile file = Parser.parse(new Source("routines.sql", program));
        try (ServerDatabase database = ServerDatabase.open(stage.address(), Path.of(""))) {
            database.scratch();
            database.create(new Source("tables.sql", RandomProgram.TABLES + RandomProgram.ROWS));
            Catalog catalog = new CatalogBuilder(database.tables(), p -> {}).build(List.of(file));
            Program bound = new Program(catalog, Optional.of(database));
            Placement.place(catalog, bound.binder(), database);
            database.install(catalog);
            database.keep();
            for (int i = 0; i < calls.size(); i++) {
                RoutineSymbol symbol = catalog.routines("P").get(0);
                String there;
                try (Session session =
                        new Session(
                                bound,
                                database,
                                Limits.DEFAULT,
                                Clock.systemUTC(),
                                Optional.empty())) {
                    Behaviour behaviour =
                            Behaviour.of(
                                    session.run(symbol, Arguments.match(symbol, calls.get(i))));
                    there = shown(symbol, behaviour, rows(database.connection()));
                }
                database.restore();
                if (!here.get(i).equals(there)) {
                    return Optional.of(
                            "in Cantina on the server: "
                                    + calls.get(i)
                                    + "\nhere  "
                                    + here.get(i)
                                    + "\nthere "
                                    + there);
                }
            }
        }
        return Optional.empty();
    }

    private static RoutineSymbol main(Lab lab) {
        return lab.program().catalog().routines("P").get(0);
    }

    private static String here(Lab lab, Map<String, Object> call) throws Exception {
        Connection connection = lab.database().connection();
        execute(connection, "DELETE FROM item");
        execute(connection, "DELETE FROM log");
        execute(connection, "ALTER TABLE log ALTER COLUMN n RESTART WITH 1");
        for (String row : RandomProgram.ROWS.split(";\n")) {
            execute(connection, row);
        }
        connection.commit();
        Behaviour behaviour = Behaviour.of(lab.call("p", call, Limits.DEFAULT, Optional.empty()));
        return shown(main(lab), behaviour, rows(connection));
    }

    private static String shown(RoutineSymbol symbol, Behaviour behaviour, String rows) {
        ObservedResult seen = new ObservedResult();
        seen.call("", symbol, behaviour);
        return seen.places() + rows;
    }

    private static String rows(Connection connection) throws SQLException {
        StringBuilder rows = new StringBuilder();
        for (String query :
                List.of(
                        "SELECT id, name, qty, price FROM item ORDER BY id",
                        "SELECT line, k FROM log ORDER BY n")) {
            try (Statement statement = connection.createStatement();
                    ResultSet row = statement.executeQuery(query)) {
                while (row.next()) {
                    rows.append(" (");
                    for (int i = 1; i <= row.getMetaData().getColumnCount(); i++) {
                        rows.append(i == 1 ? "" : ", ").append(row.getString(i));
                    }
                    rows.append(")");
                }
            }
        }
        return rows.toString();
    }
}
