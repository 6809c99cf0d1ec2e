package dev.cantina.ship.mariadb;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.Lab;
import dev.cantina.agree.MariaConformanceTest;
import dev.cantina.database.MariaServer;
import dev.cantina.database.ServerConnection;
import dev.cantina.ship.Plan;
import dev.cantina.ship.Plan.Action;
import dev.cantina.ship.Server;
import dev.cantina.ship.Shipment;
import dev.cantina.translate.ServerObject;
import dev.cantina.translate.Translation;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.Random;
import java.util.TreeMap;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Shipping to a real MariaDB server, which commits at every step. */
class MariaShipTest {
    private static final String TABLES =
            "CREATE TABLE tank (code VARCHAR(8) PRIMARY KEY, litres DECIMAL(8, 1));\n";
    private static final String ONE =
            """
            -- Adds to a tank.
            CREATE PROCEDURE fill (IN tank_code VARCHAR(8), IN l DECIMAL(8, 1))
            BEGIN
              -- more than before
              UPDATE tank SET litres = litres + l WHERE code = tank_code;
            END;
            CREATE FUNCTION twice (n INTEGER) RETURNS INTEGER RETURN n * 2;
            CREATE TRIGGER noted BEFORE UPDATE ON tank FOR EACH ROW SET NEW.litres = NEW.litres + 1;
            CREATE MODULE kept
              DECLARE rate INTEGER DEFAULT 3;
              FUNCTION times (n INTEGER) RETURNS INTEGER RETURN n * rate;
            END MODULE;
            """;

    private String url;
    private final String project = "ship";

    @BeforeEach
    void database() throws SQLException {
        url = MariaServer.database(TABLES);
    }

    private Connection connection() throws SQLException {
        return ServerConnection.open(
                new ServerConnection.Address("maria", url, "", ""), Path.of(""));
    }

    private MariaTarget server() throws SQLException {
        return new MariaTarget(connection());
    }

    private static Translation translation(String routines) {
        try (Lab lab = new Lab(TABLES, routines)) {
            return MariaConformanceTest.translation(lab).translate();
        } catch (SQLException e) {
            throw new IllegalStateException(e);
        }
    }

    private Plan plan(String routines) throws SQLException {
        try (Server server = server()) {
            return new Shipment(server, project).plan(translation(routines));
        }
    }

    private Plan ship(String routines) throws SQLException {
        try (Server server = server()) {
            Translation translation = translation(routines);
            Plan plan = new Shipment(server, project).plan(translation);
            server.perform(project, plan, "");
            return plan;
        }
    }

    private static List<String> shown(Plan plan) {
        return plan.steps().stream()
                .filter(s -> !s.object().file().isEmpty())
                .map(s -> s.action() + " " + s.object().name())
                .toList();
    }

    private String ask(String query) throws SQLException {
        try (Connection connection = connection();
                Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(query)) {
            return row.next() ? row.getString(1) : null;
        }
    }

    private void execute(String... statements) throws SQLException {
        try (Connection connection = connection();
                Statement statement = connection.createStatement()) {
            for (String sql : statements) {
                statement.execute(sql);
            }
            connection.commit();
        }
    }

    /** All that stands in the database, by name. */
    private TreeMap<String, String> standing() throws SQLException {
        TreeMap<String, String> all = new TreeMap<>();
        try (Connection connection = connection();
                Statement statement = connection.createStatement();
                ResultSet row =
                        statement.executeQuery(
                                "SELECT CONCAT(ROUTINE_TYPE, ' ', ROUTINE_NAME), ROUTINE_DEFINITION"
                                        + " FROM information_schema.ROUTINES"
                                        + " WHERE ROUTINE_SCHEMA = DATABASE() UNION ALL"
                                        + " SELECT CONCAT('TRIGGER ', TRIGGER_NAME), ACTION_STATEMENT"
                                        + " FROM information_schema.TRIGGERS"
                                        + " WHERE TRIGGER_SCHEMA = DATABASE()")) {
            while (row.next()) {
                all.put(row.getString(1), row.getString(2));
            }
        }
        return all;
    }

    @Test
    void whatIsNewIsCreatedAndRunsThere() throws SQLException {
        assertEquals(
                List.of("CREATE kept", "CREATE twice", "CREATE fill", "CREATE noted"),
                shown(ship(ONE)));
        execute("INSERT INTO tank VALUES ('A', 10)", "CALL fill('A', 5)");
        assertEquals("16.0", ask("SELECT litres FROM tank"));
        assertEquals("8", ask("SELECT twice(4)"));
        assertEquals("12", ask("SELECT kept.times(4)"));
        String text = standing().get("PROCEDURE fill");
        assertTrue(text.contains("-- more than before"), text);
    }

    @Test
    void theSameOnceMoreIsLeftAloneAndWhatChangedIsReplaced() throws SQLException {
        ship(ONE);
        assertTrue(shown(plan(ONE)).stream().allMatch(s -> s.startsWith("LEAVE ")));
        String other = ONE.replace("n * 2", "n * 3");
        assertTrue(shown(ship(other)).contains("REPLACE twice"));
        assertEquals("12", ask("SELECT twice(4)"));
    }

    @Test
    void whatLeftTheProjectIsDroppedAndWhatWasLostIsMadeAgain() throws SQLException {
        ship(ONE);
        execute("DROP PROCEDURE fill");
        String rest = ONE.replaceAll("(?s)CREATE FUNCTION.*?;\n", "");
        assertEquals(
                List.of("LEAVE kept", "CREATE fill", "LEAVE noted", "DROP twice"),
                shown(ship(rest)));
        assertTrue(!standing().containsKey("FUNCTION twice"));
    }

    @Test
    void whatSomebodyChangedThereIsHeldUntilItIsTakenOver() throws SQLException {
        ship(ONE);
        execute("CREATE OR REPLACE FUNCTION twice (n INTEGER) RETURNS INTEGER RETURN 99");
        Plan held = plan(ONE);
        assertTrue(held.isHeld());
        Plan.Step step =
                held.steps().stream()
                        .filter(s -> s.action() == Action.HOLD)
                        .findFirst()
                        .orElseThrow();
        assertTrue(step.standing().contains("RETURN 99"), step.standing());
        try (Server server = server()) {
            server.perform(project, held.takenOver(), "");
        }
        assertEquals("8", ask("SELECT twice(4)"));
        assertTrue(shown(plan(ONE)).stream().allMatch(s -> s.startsWith("LEAVE ")));
    }

    @Test
    void whatWasThereBeforeAndWhatTheServerHasItselfAreNotTouched() throws SQLException {
        execute("CREATE FUNCTION twice (n INTEGER) RETURNS INTEGER RETURN 1");
        assertTrue(shown(plan(ONE)).contains("HOLD twice"));
        assertEquals("1", ask("SELECT twice(4)"));
        Plan own = plan("CREATE FUNCTION reverse (t VARCHAR(10)) RETURNS VARCHAR(10) RETURN t;");
        assertEquals(List.of(), shown(own));
        assertTrue(
                own.refused().get(0).message().contains("MariaDB has a function reverse"),
                own.refused().toString());
    }

    @Test
    void removingTakesAwayAllOfItAndNothingElse() throws SQLException {
        execute("CREATE FUNCTION own () RETURNS INTEGER RETURN 1");
        ship(ONE);
        try (Server server = server()) {
            server.perform(project, new Shipment(server, project).removal(), "");
        }
        assertEquals(List.of("FUNCTION own"), List.copyOf(standing().keySet()));
        assertEquals(
                "tank",
                ask(
                        "SELECT GROUP_CONCAT(TABLE_NAME) FROM information_schema.TABLES"
                                + " WHERE TABLE_SCHEMA = DATABASE()"));
    }

    @Test
    void aStepThatFailsPutsAllOfItBack() throws SQLException {
        ship(ONE);
        TreeMap<String, String> before = standing();
        String other = ONE.replace("n * 2", "n * 3").replace("litres + l", "litres - l");
        Translation translation = translation(other + "CREATE PROCEDURE more () DELETE FROM tank;");
        try (Server server = server()) {
            Plan plan = new Shipment(server, project).plan(translation);
            // Somebody else makes what is to be made, in a shape that no OR REPLACE takes away.
            List<Plan.Step> steps = new java.util.ArrayList<>(plan.steps());
            Plan.Step last = steps.get(steps.size() - 1);
            ServerObject broken =
                    new ServerObject(
                            "procedure",
                            "broken",
                            "x.sql",
                            List.of(
                                    new dev.cantina.database.ServerPart(
                                            "procedure broken",
                                            "CREATE PROCEDURE broken () BEGIN THIS IS NONE END",
                                            "DROP PROCEDURE IF EXISTS broken")));
            steps.add(new Plan.Step(Action.CREATE, broken, "", last.takenOver(), ""));
            SQLException failed =
                    assertThrows(
                            SQLException.class,
                            () -> server.perform(project, new Plan(steps, List.of()), ""));
            assertTrue(failed.getMessage().contains("procedure broken"), failed.getMessage());
        }
        assertEquals(before, standing());
        assertTrue(shown(plan(ONE)).stream().allMatch(s -> s.startsWith("LEAVE ")));
    }

    @Test
    void aConnectionKilledAtAnyMomentLeavesTheOldOrTheNewOnceTheNextShipHasLooked()
            throws Exception {
        ship(ONE);
        TreeMap<String, String> old = standing();
        String other = ONE.replace("n * 2", "n * 3").replace("n * rate", "n * rate * 2");
        Translation translation = translation(other);
        Random random = new Random(7);
        int cut = 0;
        for (int i = 0; i < 12; i++) {
            MariaTarget server = server();
            String id = id(server);
            Plan plan = new Shipment(server, project).plan(translation);
            Thread killer = new Thread(() -> kill(id, random.nextInt(40)));
            killer.start();
            try {
                server.perform(project, plan, "");
            } catch (SQLException e) {
                cut++;
            }
            killer.join();
            try (MariaTarget next = server()) {
                next.recover();
                assertTrue(next.unfinished().isEmpty());
            }
            TreeMap<String, String> now = standing();
            if (!now.equals(old)) {
                assertTrue(now.get("FUNCTION twice").contains("n * 3"), now.toString());
                assertTrue(now.get("PACKAGE BODY kept").contains("rate * 2"), now.toString());
                assertTrue(shown(plan(other)).stream().allMatch(s -> s.startsWith("LEAVE ")));
                ship(ONE);
            }
            assertTrue(shown(plan(ONE)).stream().allMatch(s -> s.startsWith("LEAVE ")));
        }
        assertTrue(cut > 0, "none was cut off");
    }

    private static String id(MariaTarget server) throws SQLException {
        return server.connectionId();
    }

    private void kill(String id, int milliseconds) {
        try {
            Thread.sleep(milliseconds);
            execute("KILL " + id);
        } catch (SQLException e) {
            // It was over before.
            return;
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    @Test
    void twoWithOneNameAreToldApartByTheirParameters() throws SQLException {
        ship(
                """
                CREATE FUNCTION what (n INTEGER) RETURNS VARCHAR(10) RETURN 'number';
                CREATE FUNCTION what (t VARCHAR(5)) RETURNS VARCHAR(10) RETURN 'text';
                CREATE PROCEDURE p (IN a INTEGER DEFAULT 7, OUT b INTEGER) SET b = a;
                CREATE PROCEDURE q (OUT b INTEGER) CALL p(b => b);
                """);
        assertEquals("number", ask("SELECT what(1)"));
        assertEquals("text", ask("SELECT what_t('1')"));
        try (Connection connection = connection();
                Statement statement = connection.createStatement()) {
            statement.execute("CALL q(@b)");
            try (ResultSet row = statement.executeQuery("SELECT @b")) {
                row.next();
                assertEquals("7", row.getString(1));
            }
        }
    }

    @Test
    void aDatabaseThatComparesOtherwiseGetsTheCollationSaidAlong() throws SQLException {
        String name = url.replaceAll(".*/([^?]*).*", "$1");
        execute("ALTER DATABASE " + name + " COLLATE utf8mb4_general_ci");
        String routine =
                "CREATE FUNCTION same (a VARCHAR(5), b VARCHAR(5)) RETURNS BOOLEAN RETURN a = b;";
        try (Lab lab = new Lab(TABLES, routine);
                Server server = server()) {
            Translation translation =
                    server.translate(lab.program().catalog(), lab.program().binder());
            assertTrue(translation.objects().get(0).text().contains("COLLATE utf8mb4_nopad_bin"));
            server.perform(project, new Shipment(server, project).plan(translation), "");
        }
        assertEquals("0", ask("SELECT same('a', 'A')"));
        assertEquals("0", ask("SELECT same('a', 'a ')"));
        assertEquals("1", ask("SELECT same('a', 'a')"));
    }

    @Test
    void theSameSourcesNeedNoLookUnlessTheServerHasChanged() throws SQLException {
        try (Server server = server()) {
            Translation translation = translation(ONE);
            Plan plan = new Shipment(server, project).plan(translation);
            server.perform(project, plan, "abc");
        }
        try (Server server = server()) {
            Shipment shipment = new Shipment(server, project);
            assertTrue(shipment.unchanged("abd").isEmpty());
            assertEquals(shown(plan(ONE)), shown(shipment.unchanged("abc").orElseThrow()));
        }
        execute("CREATE OR REPLACE FUNCTION twice (n INTEGER) RETURNS INTEGER RETURN 99");
        try (Server server = server()) {
            assertTrue(new Shipment(server, project).unchanged("abc").isEmpty());
            server.perform(project, new Shipment(server, project).removal().takenOver(), "");
        }
        try (Server server = server()) {
            assertTrue(new Shipment(server, project).unchanged("abc").isEmpty());
            assertTrue(new Shipment(server, project).unchanged("").isEmpty());
        }
    }

    @Test
    void rightsAndCommentsReachTheServerAsTheyAreWritten() throws SQLException {
        ship(
                """
                CREATE PROCEDURE with_owner () SQL SECURITY DEFINER COMMENT 'it''s the owner''s'
                  /* SQL SECURITY INVOKER */ UPDATE tank SET litres = 1;
                CREATE PROCEDURE with_caller () SQL /* DEFINER */ SECURITY INVOKER
                  UPDATE tank SET litres = 1;
                CREATE PROCEDURE unsaid () -- SQL SECURITY INVOKER
                  UPDATE tank SET litres = 1;
                """);
        assertEquals(
                "unsaid DEFINER ,with_caller INVOKER ,with_owner DEFINER it's the owner's",
                ask(
                        "SELECT GROUP_CONCAT(CONCAT(ROUTINE_NAME, ' ', SECURITY_TYPE, ' ',"
                                + " ROUTINE_COMMENT) ORDER BY ROUTINE_NAME)"
                                + " FROM information_schema.ROUTINES"
                                + " WHERE ROUTINE_SCHEMA = DATABASE() AND ROUTINE_NAME IN"
                                + " ('with_owner', 'with_caller', 'unsaid')"));
    }

    @Test
    void delimitedNamesAreShippedLeftAloneAndRemoved() throws SQLException {
        String routines =
                """
                CREATE PROCEDURE "my proc" () UPDATE tank SET litres = 7;
                CREATE FUNCTION "Über Größe" (n INTEGER) RETURNS INTEGER RETURN n + 1;
                CREATE TRIGGER "My Trig" BEFORE UPDATE ON tank FOR EACH ROW
                  SET NEW.litres = NEW.litres + 1;
                """;
        ship(routines);
        execute("INSERT INTO tank VALUES ('A', 10)", "CALL `my proc`()");
        assertEquals("8.0", ask("SELECT litres FROM tank"));
        assertEquals("4", ask("SELECT `Über Größe`(3)"));
        assertEquals(
                List.of("LEAVE Über Größe", "LEAVE my proc", "LEAVE My Trig"),
                shown(plan(routines)));
        assertEquals(3, shown(ship("")).stream().filter(s -> s.startsWith("DROP")).count());
        assertEquals("{}", standing().toString());
    }

    @Test
    void aDivisionBesideATextIsRefusedAndNoDefect() throws SQLException {
        String routine =
                """
                CREATE PROCEDURE p (OUT n INTEGER)
                  SELECT litres / NULLIF(REPLACE(code, 'x', ''), '') INTO n FROM tank;
                """;
        String tables = "CREATE TABLE tank (code VARCHAR(9), litres INTEGER);";
        try (Lab lab = new Lab(tables, routine)) {
            String said = MariaConformanceTest.translation(lab).translate().refused().toString();
            assertTrue(said.contains("it can't be seen here whether they are"), said);
        }
    }
}
