package dev.cantina.deploy;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.Lab;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.PostgresServer;
import dev.cantina.database.ServerPart;
import dev.cantina.project.Arguments;
import dev.cantina.runtime.Limits;
import dev.cantina.syntax.Problem;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
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
 * Programs that nobody wrote, here and on a PostgreSQL server by itself. {@code
 * -Dcantina.programs=N -Dcantina.seed=S} asks for more and for others.
 */
class RandomProgramsTest {
    private static final int PROGRAMS = Integer.getInteger("cantina.programs", 100);
    private static final long SEED = Long.getLong("cantina.seed", 1);
    private static final List<Map<String, Object>> CALLS = calls();
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
    void doTheSameHereAndThere() throws Exception {
        int refused = 0;
        List<String> differing = new ArrayList<>();
        try (Connection connection = DriverManager.getConnection(PostgresServer.url())) {
            prepare(connection);
            for (int i = 0; i < PROGRAMS; i++) {
                String program = program(SEED + i);
                Optional<String> difference = difference(connection, program);
                if (difference.filter("refused"::equals).isPresent()) {
                    refused++;
                } else if (difference.isPresent()) {
                    differing.add("seed " + (SEED + i) + "\n" + difference.get() + "\n" + program);
                }
            }
        }
        reasons.forEach((reason, times) -> System.out.println(times + " refused: " + reason));
        System.out.println(
                PROGRAMS + " programs, " + refused + " refused, " + differing.size() + " differ");
        assertEquals("", String.join("\n", differing.subList(0, Math.min(3, differing.size()))));
        assertTrue(refused < PROGRAMS * 0.6, refused + " of " + PROGRAMS + " are refused");
    }

    static String program(long seed) {
        return RandomProgram.programs().generator(1000).next(new Random(seed * 7919)).value();
    }

    private static void execute(Connection connection, String sql) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute(sql);
        }
    }

    private static void prepare(Connection connection) throws SQLException {
        execute(connection, "DROP SCHEMA IF EXISTS play_random CASCADE");
        execute(connection, "CREATE SCHEMA play_random");
        execute(connection, "SET search_path TO play_random");
        execute(connection, "SET statement_timeout = '10s'");
        execute(connection, RandomProgram.TABLES);
    }

    private static Optional<String> difference(Connection connection, String program)
            throws Exception {
        try (Lab lab = new Lab(RandomProgram.TABLES + RandomProgram.ROWS, program)) {
            List<Problem> errors = lab.check().stream().filter(Problem::isError).toList();
            assertEquals(List.of(), errors, program);
            Translation translation =
                    new PostgresTranslation(
                                    lab.program().catalog(),
                                    lab.program().binder(),
                                    Optional.empty())
                            .translate();
            if (!translation.refused().isEmpty()) {
                translation.refused().forEach(p -> reasons.merge(p.message(), 1, Integer::sum));
                return Optional.of("refused");
            }
            List<ServerPart> parts = new ArrayList<>();
            translation.support().forEach(o -> parts.addAll(o.parts()));
            translation.objects().forEach(o -> parts.addAll(o.parts()));
            for (ServerPart part : parts) {
                try {
                    execute(connection, part.create());
                } catch (SQLException e) {
                    return Optional.of(e.getMessage() + "\n" + part.create());
                }
            }
            try {
                for (Map<String, Object> call : CALLS) {
                    String here = here(lab, call);
                    String there = there(connection, lab, call);
                    if (!here.equals(there)) {
                        return Optional.of(call + "\nhere  " + here + "\nthere " + there);
                    }
                }
                return Optional.empty();
            } finally {
                for (int i = parts.size() - 1; i >= 0; i--) {
                    if (!parts.get(i).identity().contains(" cantina")) {
                        execute(connection, parts.get(i).drop());
                    }
                }
            }
        }
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

    private static String there(Connection connection, Lab lab, Map<String, Object> call)
            throws Exception {
        execute(connection, "ALTER TABLE item DISABLE TRIGGER USER");
        execute(connection, "TRUNCATE item, log RESTART IDENTITY");
        execute(connection, RandomProgram.ROWS);
        execute(connection, "ALTER TABLE item ENABLE TRIGGER USER");
        RoutineSymbol symbol = main(lab);
        Behaviour behaviour =
                new PostgresCalls(connection, lab.program().catalog(), Optional.empty())
                        .call(symbol, Arguments.match(symbol, call));
        return shown(symbol, behaviour, rows(connection));
    }

    private static String shown(RoutineSymbol symbol, Behaviour behaviour, String rows) {
        Seen seen = new Seen();
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
