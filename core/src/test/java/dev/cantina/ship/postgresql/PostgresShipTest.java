package dev.cantina.ship.postgresql;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.Lab;
import dev.cantina.database.PostgresServer;
import dev.cantina.ship.Plan;
import dev.cantina.ship.Plan.Action;
import dev.cantina.ship.Server;
import dev.cantina.ship.Shipment;
import dev.cantina.translate.Translation;
import dev.cantina.translate.postgresql.PostgresTranslation;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Shipping to a PostgreSQL server: what is planned, done, left alone, held and taken away. */
class PostgresShipTest {
    private static final String TABLES =
            "CREATE TABLE tank (code VARCHAR(8) PRIMARY KEY, litres NUMERIC(8, 1) NOT NULL)";
    private static final String ONE =
            """
            -- Fills a tank.
            CREATE PROCEDURE fill (IN which VARCHAR(8), IN l DECIMAL(8, 1))
            BEGIN
              -- more than before
              UPDATE tank SET litres = litres + l WHERE code = which;
            END;
            CREATE FUNCTION twice (n INTEGER) RETURNS INTEGER RETURN n * 2;
            CREATE TRIGGER noted BEFORE UPDATE ON tank FOR EACH ROW SET NEW.litres = NEW.litres + 1;
            """;

    private String url;
    private static int projects;
    private final String project = "ship" + projects++;

    @BeforeEach
    void schema() throws SQLException {
        url = PostgresServer.schema(TABLES);
    }

    private Connection connection() throws SQLException {
        return DriverManager.getConnection(url);
    }

    private Server server() throws SQLException {
        Connection connection = connection();
        connection.setAutoCommit(false);
        return new PostgresTarget(connection);
    }

    private static Translation translation(String routines) {
        try (Lab lab = new Lab(TABLES + ";", routines)) {
            return new PostgresTranslation(
                            lab.program().catalog(),
                            lab.program().binder(),
                            java.util.Optional.empty())
                    .translate();
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
            row.next();
            return row.getString(1);
        }
    }

    private void execute(String sql) throws SQLException {
        try (Connection connection = connection();
                Statement statement = connection.createStatement()) {
            statement.execute(sql);
        }
    }

    @Test
    void whatIsNewIsCreatedAndRunsThere() throws SQLException {
        assertEquals(List.of("CREATE twice", "CREATE fill", "CREATE noted"), shown(ship(ONE)));
        execute("INSERT INTO tank VALUES ('A', 10)");
        execute("CALL fill('A', 5)");
        assertEquals("16.0", ask("SELECT litres FROM tank"));
        assertEquals("8", ask("SELECT twice(4)"));
        String text = ask("SELECT pg_get_functiondef('fill'::regproc)");
        assertTrue(text.contains("-- more than before"), text);
    }

    @Test
    void theSameOnceMoreIsLeftAloneAndWhatChangedIsReplaced() throws SQLException {
        ship(ONE);
        assertEquals(List.of("LEAVE twice", "LEAVE fill", "LEAVE noted"), shown(plan(ONE)));
        String other = ONE.replace("n * 2", "n * 3");
        assertEquals(List.of("REPLACE twice", "LEAVE fill", "LEAVE noted"), shown(ship(other)));
        assertEquals("12", ask("SELECT twice(4)"));
    }

    @Test
    void anotherReturnTypeAndOtherParameterNamesAreTakenToo() throws SQLException {
        ship(ONE);
        ship(
                ONE.replace(
                        "(n INTEGER) RETURNS INTEGER RETURN n * 2",
                        "(m INTEGER) RETURNS BIGINT RETURN m * 4"));
        assertEquals("16", ask("SELECT twice(4)"));
    }

    @Test
    void whatLeftTheProjectIsDroppedAndWhatWasLostIsMadeAgain() throws SQLException {
        ship(ONE);
        execute("DROP PROCEDURE fill");
        String rest = ONE.replaceAll("(?s)CREATE FUNCTION.*?;", "");
        assertEquals(List.of("CREATE fill", "LEAVE noted", "DROP twice"), shown(ship(rest)));
        assertEquals(
                "0",
                ask(
                        "SELECT count(*) FROM pg_proc WHERE proname = 'twice' AND pronamespace = current_schema::regnamespace"));
    }

    @Test
    void whatSomebodyChangedThereIsHeldUntilItIsTakenOver() throws SQLException {
        ship(ONE);
        execute(
                "CREATE OR REPLACE FUNCTION twice (n INTEGER) RETURNS INTEGER LANGUAGE sql AS 'SELECT 99'");
        Plan held = plan(ONE);
        assertTrue(held.isHeld());
        Plan.Step step =
                held.steps().stream()
                        .filter(s -> s.action() == Action.HOLD)
                        .findFirst()
                        .orElseThrow();
        assertTrue(step.standing().contains("SELECT 99"), step.standing());
        try (Server server = server()) {
            server.perform(project, held.takenOver(), "");
        }
        assertEquals("8", ask("SELECT twice(4)"));
        assertEquals(List.of("LEAVE twice", "LEAVE fill", "LEAVE noted"), shown(plan(ONE)));
    }

    @Test
    void whatWasThereBeforeIsNotTouched() throws SQLException {
        execute("CREATE FUNCTION twice (n INTEGER) RETURNS INTEGER LANGUAGE sql AS 'SELECT 1'");
        Plan plan = plan(ONE);
        assertEquals(List.of("HOLD twice", "CREATE fill", "CREATE noted"), shown(plan));
        assertEquals("1", ask("SELECT twice(4)"));
    }

    @Test
    void aNameThatTheServerHasItselfIsHeld() throws SQLException {
        Plan plan = plan("CREATE FUNCTION reverse (t VARCHAR(10)) RETURNS VARCHAR(10) RETURN t;");
        assertEquals(List.of("HOLD reverse"), shown(plan));
        assertTrue(plan.takenOver().isHeld(), "taking over would not help");
    }

    @Test
    void removingTakesAwayAllOfItAndNothingElse() throws SQLException {
        execute("CREATE FUNCTION own () RETURNS INTEGER LANGUAGE sql AS 'SELECT 1'");
        ship(ONE);
        try (Server server = server()) {
            server.perform(project, new Shipment(server, project).removal(), "");
        }
        assertEquals(
                "own",
                ask(
                        "SELECT string_agg(proname, ' ') FROM pg_proc"
                                + " WHERE pronamespace = current_schema::regnamespace"));
        assertEquals(
                "0",
                ask(
                        "SELECT count(*) FROM pg_trigger WHERE tgname = 'noted' AND tgrelid = 'tank'::regclass"));
        assertTrue(
                plan(ONE).steps().stream()
                        .allMatch(s -> s.action() == Action.CREATE || s.object().file().isEmpty()));
    }

    @Test
    void aStepThatFailsLeavesNothingBehind() throws SQLException {
        Translation translation = translation(ONE);
        try (Server server = server()) {
            Plan plan = new Shipment(server, project).plan(translation);
            execute("DROP TABLE tank");
            SQLException failed =
                    assertThrows(SQLException.class, () -> server.perform(project, plan, ""));
            assertTrue(failed.getMessage().contains("trigger noted"), failed.getMessage());
        }
        assertEquals(
                "0",
                ask(
                        "SELECT count(*) FROM pg_proc"
                                + " WHERE pronamespace = current_schema::regnamespace"));
    }

    @Test
    void overloadsStandBesideEachOther() throws SQLException {
        ship(
                """
                CREATE FUNCTION what (n INTEGER) RETURNS VARCHAR(10) RETURN 'number';
                CREATE FUNCTION what (t VARCHAR(5)) RETURNS VARCHAR(10) RETURN 'text';
                CREATE PROCEDURE p (IN a INTEGER DEFAULT 7, OUT b INTEGER) SET b = a;
                """);
        assertEquals("number", ask("SELECT what(1)"));
        assertEquals("text", ask("SELECT what('1'::varchar)"));
        assertEquals("7", ask("CALL p(b => NULL)"));
        assertEquals("9", ask("CALL p(9, NULL)"));
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
        execute(
                "CREATE OR REPLACE FUNCTION twice (n INTEGER) RETURNS INTEGER LANGUAGE sql AS 'SELECT 99'");
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
                CREATE PROCEDURE unsaid () -- SQL SECURITY DEFINER
                  UPDATE tank SET litres = 1;
                """);
        String rights =
                "SELECT string_agg(proname || ' ' || prosecdef, ', ' ORDER BY proname) FROM pg_proc"
                        + " WHERE pronamespace = current_schema::regnamespace"
                        + " AND proname IN ('with_owner', 'with_caller', 'unsaid')";
        assertEquals("unsaid false, with_caller false, with_owner true", ask(rights));
        assertEquals("it's the owner's", ask("SELECT obj_description('with_owner'::regproc)"));
    }

    @Test
    void delimitedNamesAndAnythingInATextAreShippedLeftAloneAndRemoved() throws SQLException {
        String routines =
                """
                CREATE FUNCTION "My $body$ F" (n INTEGER) RETURNS VARCHAR(40)
                  RETURN '$body$; DROP TABLE tank; --' || n;
                CREATE PROCEDURE "Über ""Größe" () UPDATE tank SET litres = 7;
                CREATE TRIGGER "My on Trig" BEFORE UPDATE ON tank FOR EACH ROW
                  SET NEW.litres = NEW.litres + 1;
                """;
        ship(routines);
        assertEquals("$body$; DROP TABLE tank; --3", ask("SELECT \"My $body$ F\"(3)"));
        execute("INSERT INTO tank VALUES ('A', 10)");
        execute("CALL \"Über \"\"Größe\"()");
        assertEquals("8.0", ask("SELECT litres FROM tank"));
        assertEquals(
                List.of("LEAVE My $body$ F", "LEAVE Über \"Größe", "LEAVE My on Trig"),
                shown(plan(routines)));
        assertEquals(
                List.of("DROP My on Trig", "DROP Über \"Größe", "DROP My $body$ F"),
                shown(ship("")).stream().distinct().toList());
        execute("UPDATE tank SET litres = 5");
        assertEquals("5.0", ask("SELECT litres FROM tank"));
    }

    /** Two projects share what is shipped along, and somebody without rights there may use it. */
    @Test
    void whatIsShippedAlongIsSharedAndOpenToEverybody() throws SQLException {
        String routines =
                """
                CREATE FUNCTION cut (t VARCHAR(10), c VARCHAR(10)) RETURNS VARCHAR(10)
                  RETURN TRIM(BOTH c FROM t);
                """;
        assertTrue(translation(routines).support().size() > 1, "it needs nothing there");
        ship(routines);
        String other = project + "_other";
        try (Server server = server()) {
            Translation same = translation(routines.replace("cut", "cut_other"));
            server.perform(other, new Shipment(server, other).plan(same), "");
        }
        String user = "cellar_hand_" + System.nanoTime();
        String home = ask("SELECT current_schema");
        execute(
                "CREATE ROLE "
                        + user
                        + "; GRANT USAGE ON SCHEMA "
                        + home
                        + " TO "
                        + user
                        + "; CREATE FUNCTION as_hand() RETURNS TEXT LANGUAGE plpgsql AS $$ BEGIN"
                        + " RETURN cut('xax', 'x') || cut_other('yby', 'y'); END $$");
        try {
            assertEquals("ab", asUser(user, "SELECT as_hand()"));
            ship("");
            execute("DROP FUNCTION as_hand()");
            assertEquals("b", asUser(user, "SELECT cut_other('yby', 'y')"));
        } finally {
            execute("REVOKE ALL ON SCHEMA " + home + " FROM " + user + "; DROP ROLE " + user);
        }
        try (Server server = server()) {
            server.perform(other, new Shipment(server, other).plan(translation("")), "");
        }
        assertEquals(
                "0",
                ask(
                        "SELECT count(*) FROM pg_proc WHERE proname LIKE 'cut%'"
                                + " AND pronamespace = current_schema::regnamespace"));
    }

    private String asUser(String user, String query) throws SQLException {
        try (Connection connection = connection();
                Statement statement = connection.createStatement()) {
            statement.execute("SET ROLE " + user);
            try (ResultSet row = statement.executeQuery(query)) {
                row.next();
                return row.getString(1);
            }
        }
    }
}
