package dev.cantina.nativecode.mariadb;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.debugging.DebugException;
import dev.cantina.debugging.Debugger;
import dev.cantina.debugging.Resume;
import dev.cantina.hosting.HostingException;
import dev.cantina.hosting.PrivateServer;
import dev.cantina.nativecode.WatchedRoutines;
import dev.cantina.observe.Profile;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Frame;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.Session;
import dev.cantina.types.Values;
import java.io.IOException;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.Test;

/** What is told of routines that MariaDB runs, and that telling changes nothing in them. */
class MariaProbesTest extends WatchedRoutines {
    private static final String TABLES =
            """
            CREATE TABLE item (id INT PRIMARY KEY, n INT, note VARCHAR(20)) ENGINE=InnoDB;
            CREATE TABLE log (seq INT AUTO_INCREMENT PRIMARY KEY, what VARCHAR(20)) ENGINE=InnoDB;
            INSERT INTO item VALUES (1, 10, 'a'), (2, 20, NULL), (3, 30, 'c');
            """;

    @AfterAll
    static void end() throws HostingException {
        PrivateServer.of("mariadb").stop();
    }

    private Workspace open(String routines, boolean watched)
            throws IOException, ProjectException, SQLException {
        Workspace workspace = project("mariadb", TABLES, routines);
        if (watched) {
            workspace.program().expectWatching(Probe.Detail.HOLD);
        }
        workspace.database().keep();
        return workspace;
    }

    @Override
    protected Workspace watched(String routines) throws Exception {
        return open(routines, true);
    }

    private static final String LOGGED =
            """
            CREATE TRIGGER logged AFTER UPDATE ON item FOR EACH ROW
            BEGIN
              INSERT INTO log (what) VALUES (CONCAT('u', NEW.id));
              SET @seen = NEW.id;
            END;
            """;

    @Test
    void eachActivationIsAFrameOfItsOwn() throws Exception {
        String routines =
                LOGGED
                        + """
                        CREATE FUNCTION one(k INT) RETURNS INT NO SQL BEGIN
                          RETURN k;
                        END;
                        CREATE PROCEDURE down(IN k INT) BEGIN
                          IF k > 0 THEN
                            CALL down(k - 1);
                          END IF;
                        END;
                        CREATE PROCEDURE f() BEGIN
                          DECLARE x INT;
                          SET max_sp_recursion_depth = 9;
                          UPDATE item SET n = n + 1;
                          CALL down(2);
                          SELECT SUM(one(id)) INTO x FROM item;
                          SET x = one(1) + one(2);
                        END;
                        """;
        List<String> told = record(routines, Map.of(), false);
        assertEquals(
                List.of(
                        "1 f:16",
                        "1 f:17",
                        "2 logged:3",
                        "2 logged:4",
                        "2 left logged",
                        "2 logged:3",
                        "2 logged:4",
                        "2 left logged",
                        "2 logged:3",
                        "2 logged:4",
                        "2 left logged",
                        "1 f:18",
                        "2 down:10",
                        "2 down:11",
                        "3 down:10",
                        "3 down:11",
                        "4 down:10",
                        "4 left down",
                        "3 left down",
                        "2 left down",
                        "1 f:19",
                        "2 one:7",
                        "2 left one",
                        "2 one:7",
                        "2 left one",
                        "2 one:7",
                        "2 left one",
                        "1 f:20",
                        "2 one:7",
                        "2 left one",
                        "2 one:7",
                        "2 left one",
                        "1 left f"),
                told);
    }

    @Test
    void variablesAreThoseThatAreDeclaredThere() throws Exception {
        String routines =
                """
                CREATE PROCEDURE f(IN a INT, INOUT b DECIMAL(8, 2)) BEGIN
                  DECLARE c, `d e` VARCHAR(9) DEFAULT 'x''y\\\\z';
                  DECLARE f DATE DEFAULT '2031-05-06';
                  DECLARE g BOOLEAN DEFAULT TRUE;
                  SET b = NULL;
                  BEGIN
                    DECLARE a VARCHAR(9) DEFAULT 'inner';
                    FOR i IN 1 .. 1 DO
                      SET c = i;
                    END FOR;
                  END;
                  SET a = 2;
                END;
                """;
        List<String> told = record(routines, Map.of("a", 7, "b", "1.50"), true);
        assertEquals("1 f:5 a=7 b=1.50 c=x'y\\z d e=x'y\\z f=2031-05-06 g=TRUE", told.get(0));
        assertTrue(told.get(1).contains("a=inner") && told.get(1).contains("b=NULL"), told.get(1));
        assertTrue(told.get(2).contains(" i=1"), told.get(2));
        assertTrue(told.get(3).contains("a=7") && !told.get(3).contains("i="), told.get(3));
    }

    @Test
    void aHandlerIsFollowed() throws Exception {
        String routines =
                """
                CREATE PROCEDURE g() BEGIN
                  SIGNAL SQLSTATE '45001' SET MESSAGE_TEXT = 'no';
                END;
                CREATE PROCEDURE f(OUT s VARCHAR(9)) BEGIN
                  DECLARE CONTINUE HANDLER FOR SQLSTATE '45001' GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
                  CALL g();
                  SET @x = 1;
                END;
                """;
        assertEquals(
                List.of("1 f:6", "2 g:2", "2 left g", "1 f:5", "1 f:7", "1 left f"),
                record(routines, Map.of(), false));
    }

    /** Bodies that look at what a probe must not touch. */
    private static final List<String> BODIES =
            List.of(
                    "BEGIN UPDATE item SET n = 1 WHERE id < 3; SET x = ROW_COUNT(); END",
                    "BEGIN UPDATE item SET n = 1 WHERE id < 3; IF ROW_COUNT() = 2 THEN SET x = 'two'; END"
                            + " IF; END",
                    "BEGIN SELECT SQL_CALC_FOUND_ROWS n INTO @y FROM item LIMIT 1; SET x = FOUND_ROWS();"
                            + " END",
                    "BEGIN INSERT INTO log (what) VALUES ('a'), ('b'); SET x = CONCAT(LAST_INSERT_ID(),"
                            + " ROW_COUNT()); END",
                    "BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN GET DIAGNOSTICS CONDITION 1 @s ="
                            + " RETURNED_SQLSTATE, @m = MESSAGE_TEXT; SET x = CONCAT(@s, @m); END; INSERT"
                            + " INTO item VALUES (1, 1, 'dup'); SET x = 'after'; END",
                    "BEGIN DECLARE CONTINUE HANDLER FOR 1062 SET x = CONCAT(IFNULL(x, ''), 'h'); INSERT"
                            + " INTO item VALUES (1, 1, 'dup'); SET x = CONCAT(x, 'a'); END",
                    "BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION RESIGNAL SET MESSAGE_TEXT = 'again';"
                            + " SIGNAL SQLSTATE '45009' SET MESSAGE_TEXT = 'first'; END",
                    "BEGIN DECLARE done INT DEFAULT 0; DECLARE i INT; DECLARE c CURSOR FOR SELECT id FROM"
                            + " item ORDER BY id; DECLARE CONTINUE HANDLER FOR NOT FOUND SET done = 1; OPEN"
                            + " c; l: LOOP FETCH c INTO i; IF done THEN LEAVE l; END IF; SET x ="
                            + " CONCAT(IFNULL(x, ''), i); END LOOP; CLOSE c; END",
                    "BEGIN REPEAT SET x = CONCAT(IFNULL(x, ''), '.'); UNTIL LENGTH(x) > 3 END REPEAT; END",
                    "o: BEGIN WHILE TRUE DO SET x = 'in'; LEAVE o; END WHILE; SET x = 'out'; END",
                    "BEGIN CASE WHEN x IS NULL THEN SET x = 'null'; ELSE SET x = 'else'; END CASE; END",
                    "BEGIN CASE 3 WHEN 1 THEN SET x = 1; END CASE; END",
                    "BEGIN PREPARE s FROM 'SELECT n INTO @z FROM item WHERE id = ?'; SET @i = 2; EXECUTE s"
                            + " USING @i; DEALLOCATE PREPARE s; SET x = @z; END",
                    "BEGIN SELECT id, note FROM item; SELECT 'b' AS b; SET x = 'rows'; END",
                    "BEGIN SET x = (SELECT GROUP_CONCAT(note) FROM item); SELECT x INTO x; END",
                    "BEGIN DECLARE v INT; SELECT id INTO v FROM item WHERE id = 99; GET DIAGNOSTICS"
                            + " @n = NUMBER; SET x = CONCAT(@n, IFNULL(v, '-')); END",
                    "SET x = 'single'",
                    "IF x IS NULL THEN SET x = 'if'; END IF",
                    "BEGIN SAVEPOINT a; UPDATE item SET n = 0; ROLLBACK TO SAVEPOINT a; SELECT SUM(n) INTO"
                            + " x FROM item; END",
                    "BEGIN SET x = CAST('12abc' AS SIGNED); END");

    private static String shown(Outcome outcome) {
        return outcome.kind()
                + " "
                + outcome.out()
                + outcome.results().stream()
                        .map(r -> r.rows().stream().map(Values::text).toList())
                        .toList()
                + " "
                + outcome.condition().map(c -> c.sqlstate() + c.message()).orElse("")
                + " "
                + outcome.messages()
                + " "
                + outcome.stack().stream()
                        .map(s -> s.routine() + s.place().line())
                        .collect(Collectors.joining(","))
                + " "
                + outcome.events().stream()
                        .map(
                                e ->
                                        e.table().name()
                                                + Values.text(e.before())
                                                + Values.text(e.after()))
                        .toList();
    }

    @Test
    void aProbeChangesNothing() throws Exception {
        for (String body : BODIES) {
            String routine =
                    LOGGED
                            + "DELIMITER //\ncreate procedure f(inout x varchar(200))\nmodifies sql data\n"
                            + body
                            + " //\nDELIMITER ;\n";
            Map<String, Object> given = new java.util.HashMap<>();
            given.put("x", null);
            String plain;
            try (Workspace workspace = open(routine, false);
                    Session session = session(workspace, Optional.empty())) {
                assertEquals(List.of(), workspace.errors(), body);
                plain = shown(run(workspace, session, given));
            }
            for (Recorder recorder : List.of(new Recorder(true, true), new Recorder(false, true))) {
                try (Workspace workspace = open(routine, true);
                        Session session = session(workspace, Optional.of(recorder))) {
                    String woven = shown(run(workspace, session, given));
                    assertEquals(withoutStack(plain), withoutStack(woven), body);
                }
                assertFalse(recorder.lines.isEmpty(), body);
            }
            try (Workspace workspace = open(routine, true);
                    Session session = session(workspace, Optional.empty())) {
                assertEquals(
                        plain, shown(run(workspace, session, given)), "woven, and not watched");
            }
        }
    }

    /** What a routine asks of its statements afterwards (MariaDB, "ROW_COUNT", "Diagnostics"). */
    @Test
    void whatIsAskedAfterwardsIsAnsweredAlike() throws Exception {
        String others =
                """
                DELIMITER //
                CREATE PROCEDURE one_of() BEGIN UPDATE item SET n = n + 1 WHERE id < 3; SET @x = 1; SET @x = 2; END; //
                CREATE PROCEDURE two() BEGIN UPDATE item SET n = n + 1 WHERE id < 3; CALL one_of(); UPDATE item SET n = n + 1; END;
                //
                CREATE PROCEDURE three() BEGIN UPDATE item SET n = n + 1 WHERE id < 3; CALL two(); END;//
                CREATE PROCEDURE fails() BEGIN UPDATE item SET n = n + 1 WHERE id < 3; SIGNAL SQLSTATE '45000'; END; //
                CREATE PROCEDURE nothing() BEGIN END //
                """;
        List<String> bodies =
                List.of(
"""
      DECLARE v, w, k INT; DECLARE st VARCHAR(9); DECLARE m VARCHAR(200); DECLARE c CURSOR FOR SELECT id FROM item;
      SET x = '';
      INSERT IGNORE INTO item VALUES (1, 1, 'x');  GET DIAGNOSTICS k = NUMBER; SET x = CONCAT(x, ' direct ', k);
      INSERT IGNORE INTO item VALUES (1, 1, 'x'); SET v = 1; GET DIAGNOSTICS k = NUMBER; SET x = CONCAT(x, ' setlocal ', k);
      INSERT IGNORE INTO item VALUES (1, 1, 'x'); SET v = (SELECT MAX(id) FROM item); GET DIAGNOSTICS k = NUMBER; SET x = CONCAT(x, ' setq ', k);
      INSERT IGNORE INTO item VALUES (1, 1, 'x'); SET @x = 1; GET DIAGNOSTICS k = NUMBER; SET x = CONCAT(x, ' setuser ', k);
      INSERT IGNORE INTO item VALUES (1, 1, 'x'); IF v = 3 THEN SET w = 1; END IF; GET DIAGNOSTICS k = NUMBER; SET x = CONCAT(x, ' if ', k);
      INSERT IGNORE INTO item VALUES (1, 1, 'x'); OPEN c; GET DIAGNOSTICS k = NUMBER; SET x = CONCAT(x, ' open ', k);
      INSERT IGNORE INTO item VALUES (1, 1, 'x'); FETCH c INTO v; GET DIAGNOSTICS k = NUMBER; SET x = CONCAT(x, ' fetch ', k);
      INSERT IGNORE INTO item VALUES (1, 1, 'x'); CLOSE c; GET DIAGNOSTICS k = NUMBER; SET x = CONCAT(x, ' close ', k);
      INSERT IGNORE INTO item VALUES (1, 1, 'x'); SELECT MAX(id) INTO v FROM item; GET DIAGNOSTICS k = NUMBER; SET x = CONCAT(x, ' into ', k);
      INSERT IGNORE INTO item VALUES (1, 1, 'x'); DO 1; GET DIAGNOSTICS k = NUMBER; SET x = CONCAT(x, ' do ', k);
      INSERT IGNORE INTO item VALUES (1, 1, 'x'); UPDATE item SET n = 1; GET DIAGNOSTICS k = NUMBER; SET x = CONCAT(x, ' upd ', k);
      INSERT IGNORE INTO item VALUES (1, 1, 'x'); BEGIN DECLARE z INT DEFAULT 4; END; GET DIAGNOSTICS k = NUMBER; SET x = CONCAT(x, ' block ', k);
      INSERT IGNORE INTO item VALUES (1, 1, 'x'); GET DIAGNOSTICS w = NUMBER; GET DIAGNOSTICS k = NUMBER; SET x = CONCAT(x, ' gd ', k);
      INSERT IGNORE INTO item VALUES (1, 1, 'x'); WHILE v > 0 DO SET v = 0; END WHILE; GET DIAGNOSTICS k = NUMBER; SET x = CONCAT(x, ' wh ', k);
      INSERT IGNORE INTO item VALUES (1, 1, 'x'); PREPARE p FROM 'SELECT 1 INTO @q'; GET DIAGNOSTICS k = NUMBER; SET x = CONCAT(x, ' prep ', k);
      INSERT IGNORE INTO item VALUES (1, 1, 'x'); l: BEGIN LEAVE l; END; GET DIAGNOSTICS k = NUMBER; SET x = CONCAT(x, ' lab ', k);
      INSERT IGNORE INTO item VALUES (1, 1, 'x'); SET v = 1, @y = 2; GET DIAGNOSTICS k = NUMBER; SET x = CONCAT(x, ' both ', k);
      INSERT IGNORE INTO item VALUES (1, 1, 'x'); SET sql_mode = @@sql_mode; GET DIAGNOSTICS k = NUMBER; SET x = CONCAT(x, ' sys ', k);
      INSERT IGNORE INTO item VALUES (1, 1, 'x');   /* a */ SET V = 5 -- b\n; GET DIAGNOSTICS k = NUMBER; SET x = CONCAT(x, ' new ', k);
""",
"""
      DECLARE v, w, k INT; DECLARE st VARCHAR(9); DECLARE m VARCHAR(200); DECLARE c CURSOR FOR SELECT id FROM item;
      SET x = '';
      UPDATE item SET n = n + 1 WHERE id < 3;  SET x = CONCAT(x, ' direct ', ROW_COUNT());
      UPDATE item SET n = n + 1 WHERE id < 3; SET v = 1; SET x = CONCAT(x, ' setlocal ', ROW_COUNT());
      UPDATE item SET n = n + 1 WHERE id < 3; SET v = (SELECT MAX(id) FROM item); SET x = CONCAT(x, ' setq ', ROW_COUNT());
      UPDATE item SET n = n + 1 WHERE id < 3; SET @x = 1; SET x = CONCAT(x, ' setuser ', ROW_COUNT());
      UPDATE item SET n = n + 1 WHERE id < 3; IF v = 3 THEN SET w = 1; END IF; SET x = CONCAT(x, ' if ', ROW_COUNT());
      UPDATE item SET n = n + 1 WHERE id < 3; OPEN c; SET x = CONCAT(x, ' open ', ROW_COUNT());
      UPDATE item SET n = n + 1 WHERE id < 3; FETCH c INTO v; SET x = CONCAT(x, ' fetch ', ROW_COUNT());
      UPDATE item SET n = n + 1 WHERE id < 3; CLOSE c; SET x = CONCAT(x, ' close ', ROW_COUNT());
      UPDATE item SET n = n + 1 WHERE id < 3; SELECT MAX(id) INTO v FROM item; SET x = CONCAT(x, ' into ', ROW_COUNT());
      UPDATE item SET n = n + 1 WHERE id < 3; DO 1; SET x = CONCAT(x, ' do ', ROW_COUNT());
      UPDATE item SET n = n + 1 WHERE id < 3; UPDATE item SET n = 1; SET x = CONCAT(x, ' upd ', ROW_COUNT());
      UPDATE item SET n = n + 1 WHERE id < 3; BEGIN DECLARE z INT DEFAULT 4; END; SET x = CONCAT(x, ' block ', ROW_COUNT());
      UPDATE item SET n = n + 1 WHERE id < 3; GET DIAGNOSTICS w = NUMBER; SET x = CONCAT(x, ' gd ', ROW_COUNT());
      UPDATE item SET n = n + 1 WHERE id < 3; WHILE v > 0 DO SET v = 0; END WHILE; SET x = CONCAT(x, ' wh ', ROW_COUNT());
      UPDATE item SET n = n + 1 WHERE id < 3; PREPARE p FROM 'SELECT 1 INTO @q'; SET x = CONCAT(x, ' prep ', ROW_COUNT());
      UPDATE item SET n = n + 1 WHERE id < 3; l: BEGIN LEAVE l; END; SET x = CONCAT(x, ' lab ', ROW_COUNT());
      UPDATE item SET n = n + 1 WHERE id < 3; SET v = 1, @y = 2; SET x = CONCAT(x, ' both ', ROW_COUNT());
      UPDATE item SET n = n + 1 WHERE id < 3; SET sql_mode = @@sql_mode; SET x = CONCAT(x, ' sys ', ROW_COUNT());
      UPDATE item SET n = n + 1 WHERE id < 3;   /* a */ SET V = 5 -- b\n; SET x = CONCAT(x, ' new ', ROW_COUNT());
""",
"""
      DECLARE v, w, k INT; DECLARE st VARCHAR(9); DECLARE m VARCHAR(200); DECLARE c CURSOR FOR SELECT id FROM item;
      SET x = '';
      BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN  GET DIAGNOSTICS k = NUMBER; GET DIAGNOSTICS CONDITION 1 st = RETURNED_SQLSTATE; SET x = CONCAT(x, ' direct ', k, IFNULL(st, '-')); SET st = NULL; END; INSERT INTO item VALUES (1, 1, 'x'); END;
      BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN SET v = 1; GET DIAGNOSTICS k = NUMBER; GET DIAGNOSTICS CONDITION 1 st = RETURNED_SQLSTATE; SET x = CONCAT(x, ' setlocal ', k, IFNULL(st, '-')); SET st = NULL; END; INSERT INTO item VALUES (1, 1, 'x'); END;
      BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN SET v = (SELECT MAX(id) FROM item); GET DIAGNOSTICS k = NUMBER; GET DIAGNOSTICS CONDITION 1 st = RETURNED_SQLSTATE; SET x = CONCAT(x, ' setq ', k, IFNULL(st, '-')); SET st = NULL; END; INSERT INTO item VALUES (1, 1, 'x'); END;
      BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN SET @x = 1; GET DIAGNOSTICS k = NUMBER; GET DIAGNOSTICS CONDITION 1 st = RETURNED_SQLSTATE; SET x = CONCAT(x, ' setuser ', k, IFNULL(st, '-')); SET st = NULL; END; INSERT INTO item VALUES (1, 1, 'x'); END;
      BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN IF v = 3 THEN SET w = 1; END IF; GET DIAGNOSTICS k = NUMBER; GET DIAGNOSTICS CONDITION 1 st = RETURNED_SQLSTATE; SET x = CONCAT(x, ' if ', k, IFNULL(st, '-')); SET st = NULL; END; INSERT INTO item VALUES (1, 1, 'x'); END;
      BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN OPEN c; CLOSE c; GET DIAGNOSTICS k = NUMBER; GET DIAGNOSTICS CONDITION 1 st = RETURNED_SQLSTATE; SET x = CONCAT(x, ' open ', k, IFNULL(st, '-')); SET st = NULL; END; INSERT INTO item VALUES (1, 1, 'x'); END;
      BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN OPEN c; FETCH c INTO v; CLOSE c; GET DIAGNOSTICS k = NUMBER; GET DIAGNOSTICS CONDITION 1 st = RETURNED_SQLSTATE; SET x = CONCAT(x, ' fetch ', k, IFNULL(st, '-')); SET st = NULL; END; INSERT INTO item VALUES (1, 1, 'x'); END;
      BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN OPEN c; CLOSE c; GET DIAGNOSTICS k = NUMBER; GET DIAGNOSTICS CONDITION 1 st = RETURNED_SQLSTATE; SET x = CONCAT(x, ' close ', k, IFNULL(st, '-')); SET st = NULL; END; INSERT INTO item VALUES (1, 1, 'x'); END;
      BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN SELECT MAX(id) INTO v FROM item; GET DIAGNOSTICS k = NUMBER; GET DIAGNOSTICS CONDITION 1 st = RETURNED_SQLSTATE; SET x = CONCAT(x, ' into ', k, IFNULL(st, '-')); SET st = NULL; END; INSERT INTO item VALUES (1, 1, 'x'); END;
      BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN DO 1; GET DIAGNOSTICS k = NUMBER; GET DIAGNOSTICS CONDITION 1 st = RETURNED_SQLSTATE; SET x = CONCAT(x, ' do ', k, IFNULL(st, '-')); SET st = NULL; END; INSERT INTO item VALUES (1, 1, 'x'); END;
      BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN UPDATE item SET n = 1; GET DIAGNOSTICS k = NUMBER; GET DIAGNOSTICS CONDITION 1 st = RETURNED_SQLSTATE; SET x = CONCAT(x, ' upd ', k, IFNULL(st, '-')); SET st = NULL; END; INSERT INTO item VALUES (1, 1, 'x'); END;
      BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN BEGIN DECLARE z INT DEFAULT 4; END; GET DIAGNOSTICS k = NUMBER; GET DIAGNOSTICS CONDITION 1 st = RETURNED_SQLSTATE; SET x = CONCAT(x, ' block ', k, IFNULL(st, '-')); SET st = NULL; END; INSERT INTO item VALUES (1, 1, 'x'); END;
      BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN GET DIAGNOSTICS w = NUMBER; GET DIAGNOSTICS k = NUMBER; GET DIAGNOSTICS CONDITION 1 st = RETURNED_SQLSTATE; SET x = CONCAT(x, ' gd ', k, IFNULL(st, '-')); SET st = NULL; END; INSERT INTO item VALUES (1, 1, 'x'); END;
      BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN WHILE v > 0 DO SET v = 0; END WHILE; GET DIAGNOSTICS k = NUMBER; GET DIAGNOSTICS CONDITION 1 st = RETURNED_SQLSTATE; SET x = CONCAT(x, ' wh ', k, IFNULL(st, '-')); SET st = NULL; END; INSERT INTO item VALUES (1, 1, 'x'); END;
      BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN PREPARE p FROM 'SELECT 1 INTO @q'; GET DIAGNOSTICS k = NUMBER; GET DIAGNOSTICS CONDITION 1 st = RETURNED_SQLSTATE; SET x = CONCAT(x, ' prep ', k, IFNULL(st, '-')); SET st = NULL; END; INSERT INTO item VALUES (1, 1, 'x'); END;
      BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN l: BEGIN LEAVE l; END; GET DIAGNOSTICS k = NUMBER; GET DIAGNOSTICS CONDITION 1 st = RETURNED_SQLSTATE; SET x = CONCAT(x, ' lab ', k, IFNULL(st, '-')); SET st = NULL; END; INSERT INTO item VALUES (1, 1, 'x'); END;
      BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN SET v = 1, @y = 2; GET DIAGNOSTICS k = NUMBER; GET DIAGNOSTICS CONDITION 1 st = RETURNED_SQLSTATE; SET x = CONCAT(x, ' both ', k, IFNULL(st, '-')); SET st = NULL; END; INSERT INTO item VALUES (1, 1, 'x'); END;
      BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN SET sql_mode = @@sql_mode; GET DIAGNOSTICS k = NUMBER; GET DIAGNOSTICS CONDITION 1 st = RETURNED_SQLSTATE; SET x = CONCAT(x, ' sys ', k, IFNULL(st, '-')); SET st = NULL; END; INSERT INTO item VALUES (1, 1, 'x'); END;
      BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN   /* a */ SET V = 5 -- b\n; GET DIAGNOSTICS k = NUMBER; GET DIAGNOSTICS CONDITION 1 st = RETURNED_SQLSTATE; SET x = CONCAT(x, ' new ', k, IFNULL(st, '-')); SET st = NULL; END; INSERT INTO item VALUES (1, 1, 'x'); END;
""",
"""
      DECLARE v, w, k INT; DECLARE st VARCHAR(9); DECLARE m VARCHAR(200); DECLARE c CURSOR FOR SELECT id FROM item;
      SET x = '';
      BEGIN DECLARE CONTINUE HANDLER FOR SQLEXCEPTION BEGIN SET x = CONCAT(x, ' h', ROW_COUNT()); UPDATE item SET n = 9 WHERE id = 1; END; INSERT INTO item VALUES (1, 1, 'x'); SET x = CONCAT(x, ' after ', ROW_COUNT());
      UPDATE item SET n = n + 1 WHERE id < 3; SET v = (SELECT id FROM item); SET x = CONCAT(x, ' hs ', ROW_COUNT()); END;
      BEGIN DECLARE CONTINUE HANDLER FOR NOT FOUND SET v = 5; UPDATE item SET n = n + 1 WHERE id < 3; SELECT n INTO v FROM item WHERE id = 99; SET x = CONCAT(x, ' nf ', ROW_COUNT()); END;
      BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION SET w = ROW_COUNT(); UPDATE item SET n = n + 1 WHERE id < 3; INSERT INTO item VALUES (1, 1, 'x'); END; SET x = CONCAT(x, ' exit ', w, ' ', ROW_COUNT());
      BEGIN DECLARE CONTINUE HANDLER FOR SQLEXCEPTION BEGIN GET DIAGNOSTICS v = NUMBER; SET k = 2; GET DIAGNOSTICS CONDITION 1 st = RETURNED_SQLSTATE, m = MESSAGE_TEXT; UPDATE item SET n = 2; GET DIAGNOSTICS w = NUMBER; END; INSERT INTO item VALUES (1, 1, 'x'); SET x = CONCAT(x, ' c ', v, w, IFNULL(st, '-')); GET DIAGNOSTICS k = NUMBER; SET x = CONCAT(x, ' after ', k); END;
      CALL two(); SET x = CONCAT(x, ' two ', ROW_COUNT());
      CALL three(); SET v = 1; SET x = CONCAT(x, ' three ', ROW_COUNT());
      CALL one_of(); SET x = CONCAT(x, ' one ', ROW_COUNT());
      BEGIN DECLARE CONTINUE HANDLER FOR SQLEXCEPTION BEGIN END; CALL fails(); SET x = CONCAT(x, ' fails ', ROW_COUNT()); END;
""");
        for (String body : bodies) {
            String routines =
                    LOGGED
                            + others
                            + "CREATE PROCEDURE f(INOUT x VARCHAR(2000)) BEGIN\n"
                            + body
                            + "END; //\nDELIMITER ;\n";
            Map<String, Object> given = Map.of("x", "");
            String plain;
            try (Workspace workspace = open(routines, false);
                    Session session = session(workspace, Optional.empty())) {
                assertEquals(List.of(), workspace.errors());
                plain = withoutStack(shown(run(workspace, session, given)));
            }
            assertTrue(plain.contains("COMPLETED"), plain);
            for (Probe.Detail detail : List.of(Probe.Detail.COUNTS, Probe.Detail.ORDER)) {
                try (Workspace workspace = open(routines, false)) {
                    workspace.program().expectWatching(detail);
                    workspace.database().keep();
                    try (Session session = session(workspace, Optional.of(new Counter(detail)))) {
                        assertEquals(plain, withoutStack(shown(run(workspace, session, given))));
                    }
                }
            }
            for (Recorder recorder : List.of(new Recorder(true, true), new Recorder(false, true))) {
                try (Workspace workspace = open(routines, true);
                        Session session = session(workspace, Optional.of(recorder))) {
                    assertEquals(plain, withoutStack(shown(run(workspace, session, given))));
                }
                assertFalse(recorder.lines.isEmpty());
            }
        }
    }

    private Profile profiled(String routines, int k) throws Exception {
        Profile profile = new Profile();
        try (Workspace workspace = open(routines, false)) {
            assertEquals(List.of(), workspace.errors());
            workspace.program().expectWatching(profile.detail());
            workspace.database().keep();
            try (Session session = session(workspace, Optional.of(profile))) {
                assertEquals(
                        Outcome.Kind.COMPLETED, run(workspace, session, Map.of("k", k)).kind());
            }
        }
        return profile;
    }

    /** What can set off no other routine is counted, and told between others; nothing is lost. */
    @Test
    void aProfileCountsWhatIsNotToldOneByOne() throws Exception {
        String routines =
                """
                DELIMITER //
                CREATE FUNCTION inside(k INT) RETURNS INT DETERMINISTIC
                BEGIN
                  DECLARE s INT DEFAULT 0;
                  WHILE s < k DO
                    SET s = s + 1;
                  END WHILE;
                  RETURN s;
                END //
                CREATE PROCEDURE f(IN k INT, OUT n INT)
                BEGIN
                  DECLARE i INT DEFAULT 0;
                  DECLARE CONTINUE HANDLER FOR SQLSTATE '45000' SET n = n + 1;
                  SET n = 0;
                  around: LOOP
                    SET i = i + 1;
                    IF MOD(i, 100) = 0 THEN
                      SET n = n + inside(50) * 0;
                    END IF;
                    IF MOD(i, 50) = 0 THEN
                      SIGNAL SQLSTATE '45000';
                    END IF;
                    IF i = k THEN
                      LEAVE around;
                    END IF;
                    IF i >= 2000 THEN
                      UPDATE item SET n = 7 WHERE id = 1;
                    END IF;
                  END LOOP;
                END //
                DELIMITER ;
                """;
        Profile profile = profiled(routines, 3000);
        Map<Integer, Long> runs = new java.util.TreeMap<>();
        profile.lines().forEach(l -> runs.put(l.line(), l.runs()));
        assertEquals(3000, runs.get(16));
        assertEquals(3000, runs.get(17));
        assertEquals(30, runs.get(18));
        assertEquals(60, runs.get(21));
        assertEquals(60, runs.get(13));
        assertEquals(1, runs.get(24));
        assertEquals(1000, runs.get(27));
        assertEquals(1500, runs.get(6));
        assertEquals(30, runs.get(8));
    }

    /** Changes that can fire nothing are counted with their rows; all others are told. */
    @Test
    void aProfileKnowsWhoWroteWhichRows() throws Exception {
        String routines =
                """
                CREATE TABLE pile (id INT PRIMARY KEY, n INT, k INT, FOREIGN KEY (k) REFERENCES item (id) ON DELETE CASCADE) ENGINE=InnoDB;
                CREATE TABLE loud (id INT, n INT) ENGINE=InnoDB;
                CREATE VIEW seen AS SELECT id, n FROM pile;
                DELIMITER //
                CREATE TRIGGER logged AFTER INSERT ON loud FOR EACH ROW
                BEGIN
                  INSERT INTO log (what) VALUES ('x');
                END //
                CREATE PROCEDURE f(IN k INT, OUT n INT)
                BEGIN
                  DECLARE i INT DEFAULT 0;
                  SET n = 0;
                  WHILE i < k DO
                    SET i = i + 1;
                    INSERT INTO pile (id, n, k) VALUES (i, 0, 2), (-i, 0, 3);
                    UPDATE pile p SET p.n = p.n + 1 WHERE id IN (i, -i, i - 1);
                    UPDATE pile p SET p.n = p.n WHERE FALSE;
                    BEGIN
                      DECLARE EXIT HANDLER FOR SQLEXCEPTION DELETE FROM pile WHERE id = i - 2;
                      DELETE FROM pile WHERE id = -i;
                      INSERT INTO pile (id, n) VALUES (i, 1);
                    END;
                    INSERT INTO loud VALUES (i, i);
                    UPDATE seen SET n = 5 WHERE id = i;
                    INSERT INTO pile (id) VALUES (1) ON DUPLICATE KEY UPDATE n = 6;
                  END WHILE;
                END //
                DELIMITER ;
                """;
        Profile profile = profiled(routines, 100);
        Map<Integer, Long> runs = new java.util.TreeMap<>();
        Map<Integer, Long> written = new java.util.TreeMap<>();
        profile.lines().forEach(l -> runs.put(l.line(), l.runs()));
        profile.lines().forEach(l -> written.put(l.line(), l.written()));
        assertEquals(100, runs.get(15));
        assertEquals(200, written.get(15));
        assertEquals(100, runs.get(16));
        assertEquals(299, written.get(16));
        assertEquals(0, written.get(17));
        assertEquals(100, runs.get(20));
        assertEquals(100, written.get(20));
        assertEquals(100, runs.get(21));
        assertEquals(98, written.get(19));
        assertEquals(100, written.get(23));
        assertEquals(100, written.get(7));
        assertEquals(100, written.get(24));
    }

    /** Statements in a row have one counter; each is told with what was run before it. */
    @Test
    void aProfileCountsStatementsInARowOnce() throws Exception {
        String routine =
                """
                CREATE PROCEDURE f(OUT x VARCHAR(200)) BEGIN
                  DECLARE i INT DEFAULT 0;
                  outer_loop: WHILE i < 3000 DO
                    SET i = i + 1; UPDATE item SET n = i
                      WHERE id IN (1, 2) -- both; of them
                      ;
                    SET x = 'a;b';
                    IF i % 3 = 0 THEN SET x = 'c'; ITERATE outer_loop; END IF;
                    SET x = CONCAT(x, 'd'); DELETE FROM item WHERE id = 1000 + i;
                    one: BEGIN SET x = 'e'; SET x = 'f'; END;
                    IF i = 2999 THEN SET x = CONCAT(x, '!'); LEAVE outer_loop; END IF;
                  END WHILE;
                END;
                """;
        Map<String, Long> all = new java.util.HashMap<>();
        Profile profile = new Profile();
        try (Workspace workspace = open(routine, false)) {
            workspace.program().expectWatching(Probe.Detail.ORDER);
            workspace.database().keep();
            try (Session session = session(workspace, Optional.of(profile))) {
                assertEquals("{x=f!}", run(workspace, session, Map.of()).out().toString());
            }
        }
        Map<Integer, Long> runs = new java.util.TreeMap<>();
        Map<Integer, Long> written = new java.util.TreeMap<>();
        for (Profile.Line line : profile.lines()) {
            runs.merge(line.line(), line.runs(), Long::sum);
            written.merge(line.line(), line.written(), Long::sum);
        }
        assertEquals("{3=1, 4=2999, 7=2999, 8=2999, 9=2000, 10=2000, 11=2000}", runs.toString());
        assertEquals(2999 * 2, written.get(4));
    }

    /** The server keeps the modes of a session with what is made in it ("SQL_MODE"). */
    @Test
    void copiesAreMadeUnderTheModesOfTheRoutines() throws Exception {
        String routines =
                """
                SET sql_mode = '' ;
                CREATE FUNCTION lax() RETURNS TINYINT BEGIN DECLARE v TINYINT; SET v = 300; RETURN v; END;
                SET sql_mode = 'PIPES_AS_CONCAT';
                CREATE FUNCTION pipes() RETURNS VARCHAR(9) RETURN 1 || 2;
                SET sql_mode = 'ANSI_QUOTES';
                CREATE FUNCTION "the quotes"("a b" INT) RETURNS VARCHAR(9) RETURN CONCAT("a b", '"');
                SET sql_mode = 'NO_BACKSLASH_ESCAPES';
                CREATE FUNCTION slashes() RETURNS VARCHAR(9) RETURN CONCAT('\\', 'n');
                SET sql_mode = DEFAULT;
                CREATE FUNCTION usual() RETURNS VARCHAR(9) RETURN 1 || 2;
                CREATE PROCEDURE f(OUT x VARCHAR(200)) BEGIN
                  DECLARE EXIT HANDLER FOR 1264 SET x = CONCAT(x, ' strict');
                  SET x = CONCAT_WS(' ', lax(), pipes(), `the quotes`(7), slashes(), usual());
                  INSERT INTO item VALUES (300, 99999999999, NULL);
                END;
                """;
        for (boolean watched : List.of(false, true)) {
            Recorder recorder = new Recorder(true, true);
            try (Workspace workspace = open(routines, watched);
                    Session session =
                            session(
                                    workspace,
                                    watched ? Optional.of(recorder) : Optional.empty())) {
                assertEquals(
                        "{x=127 12 7\" \\n 1 strict}",
                        run(workspace, session, Map.of()).out().toString());
                assertEquals(List.of(), workspace.check());
                assertEquals(
                        watched,
                        recorder.lines.stream().anyMatch(l -> l.contains("the quotes")),
                        recorder.lines.toString());
            }
        }
    }

    /** There is no other name for what a block of the routine's own hides. */
    @Test
    void aHiddenParameterIsNotShownAsNull() throws Exception {
        String routine =
                """
                CREATE FUNCTION f(p INT, q INT) RETURNS INT BEGIN
                  DECLARE r INT DEFAULT p + 1;
                  DECLARE p INT DEFAULT 100;
                  RETURN p + q + r;
                END;
                """;
        List<Object> seen = new ArrayList<>();
        Probe probe =
                new Probe() {
                    @Override
                    public void entered(Frame frame) {
                        frame.session.watchAll(true);
                        Arrays.fill(frame.watch, (byte) 1);
                    }

                    @Override
                    public void reached(Frame frame) {
                        frame.routine().parameters().forEach(p -> seen.add(frame.get(p)));
                    }
                };
        try (Workspace workspace = open(routine, true);
                Session session = session(workspace, Optional.of(probe))) {
            Outcome outcome = run(workspace, session, Map.of("p", 5, "q", 6));
            assertEquals("112", Values.text(outcome.returned()));
        }
        assertEquals("[(not shown), 6]", seen.toString());
    }

    /** Names in double quotes, and texts in which a backslash is one ("SQL_MODE"). */
    @Test
    void namesAndTextsAreReadAsTheModesSay() throws Exception {
        String routines =
                """
                SET sql_mode = 'ANSI_QUOTES,NO_BACKSLASH_ESCAPES';
                DELIMITER //
                CREATE FUNCTION "an f"("a b" INT, "c""d" VARCHAR(20)) RETURNS VARCHAR(100)
                BEGIN
                  DECLARE "my ""var" VARCHAR(50) DEFAULT '\\';
                  DECLARE "back\\slash" INT DEFAULT 1;
                  "my label": WHILE "a b" > 0 DO
                    SET "a b" = "a b" - 1, "my ""var" = CONCAT("my ""var", '"', "c""d", '\\n');
                    IF "a b" = 1 THEN LEAVE "my label"; END IF;
                  END WHILE;
                  SET "back\\slash" = 2;
                  RETURN CONCAT("my ""var", "back\\slash");
                END //
                SET sql_mode = 'ANSI' //
                CREATE PROCEDURE f(OUT x VARCHAR(200))
                BEGIN
                  FOR "r w" IN (SELECT "id" AS "the id" FROM "item" WHERE "id" < 3 ORDER BY 1) DO
                    SET x = CONCAT_WS('-', x, "r w"."the id");
                  END FOR;
                  SET x = x || "an f"(3, 'x''y');
                END //
                """;
        for (boolean watched : List.of(false, true)) {
            Recorder recorder = new Recorder(true, true);
            try (Workspace workspace = open(routines, watched);
                    Session session =
                            session(
                                    workspace,
                                    watched ? Optional.of(recorder) : Optional.empty())) {
                assertEquals(
                        "{x=1-2\\\"x'y\\n\"x'y\\n2}",
                        run(workspace, session, Map.of()).out().toString());
                assertEquals(List.of(), workspace.check());
                String told = String.join("|", recorder.lines);
                for (String value :
                        List.of("a b=1", "my \"var=\\\"x'y", "back\\slash=2", "r w=[2]")) {
                    assertEquals(watched, told.contains(value), value + " in " + told);
                }
            }
        }
    }

    /** Triggers of one event run in the order that they were given ("Trigger Overview"). */
    @Test
    void copiesOfTriggersKeepTheirOrder() throws Exception {
        String trigger = "CREATE TRIGGER %s %s UPDATE ON item FOR EACH ROW %s %s;\n";
        String said = "SET @said = CONCAT(@said, '%s')";
        String before = "SET NEW.note = CONCAT(NEW.note, '%s')";
        String routines =
                trigger.formatted("c", "BEFORE", "", before.formatted("c"))
                        + trigger.formatted("b", "BEFORE", "PRECEDES c", before.formatted("b"))
                        + trigger.formatted("d", "BEFORE", "FOLLOWS b", before.formatted("d"))
                        + trigger.formatted("`e e`", "BEFORE", "", before.formatted("e"))
                        + trigger.formatted("z", "AFTER", "", said.formatted("z"))
                        + trigger.formatted("y", "AFTER", "", said.formatted("y"))
                        + "SET sql_mode = 'ANSI_QUOTES';\n"
                        + trigger.formatted("x", "AFTER", "PRECEDES y", said.formatted("x"))
                        + "SET sql_mode = DEFAULT;\n"
                        + """
                        CREATE PROCEDURE f(OUT x VARCHAR(200)) BEGIN
                          SET @said = '';
                          UPDATE item SET n = 0 WHERE id = 1;
                          SELECT CONCAT(note, @said) INTO x FROM item WHERE id = 1;
                        END;
                        """;
        for (boolean watched : List.of(false, true)) {
            Recorder recorder = new Recorder(true, true);
            try (Workspace workspace = open(routines, watched);
                    Session session =
                            session(
                                    workspace,
                                    watched ? Optional.of(recorder) : Optional.empty())) {
                Outcome outcome = run(workspace, session, Map.of());
                assertEquals("{x=abdcezxy}", outcome.out().toString(), recorder.lines.toString());
                assertEquals(1, outcome.events().size());
            }
        }
    }

    /** The server tells no places; what watches does. */
    private static String withoutStack(String shown) {
        return shown.replaceAll(" f\\d+(,f\\d+)* \\[", "  [");
    }

    @Test
    void countsAreThoseOfWhatIsTold() throws Exception {
        for (String body : BODIES) {
            String routine =
                    LOGGED
                            + "DELIMITER //\ncreate procedure f(inout x varchar(200))\nmodifies sql data\n"
                            + body
                            + " //\nDELIMITER ;\n";
            Map<String, Object> given = new java.util.HashMap<>();
            given.put("x", null);
            List<Map<String, Long>> counts = new ArrayList<>();
            boolean completed = false;
            for (Probe.Detail detail : List.of(Probe.Detail.ORDER, Probe.Detail.COUNTS)) {
                Counter counter = new Counter(detail);
                try (Workspace workspace = open(routine, false)) {
                    workspace.program().expectWatching(detail);
                    workspace.database().keep();
                    try (Session session = session(workspace, Optional.of(counter))) {
                        completed = run(workspace, session, given).kind() == Outcome.Kind.COMPLETED;
                    }
                }
                counts.add(counter.counts);
            }
            if (completed) {
                assertEquals(counts.get(0), counts.get(1), body);
            } else {
                // What a condition ends has told of each statement, and not how often.
                assertEquals(counts.get(0).keySet(), counts.get(1).keySet(), body);
            }
        }
    }

    private static final String LOOP =
            LOGGED
                    + """
                    CREATE PROCEDURE f(IN k INT, OUT s INT) BEGIN
                      DECLARE i INT DEFAULT 1; DECLARE note VARCHAR(90);
                      SET s = 0;
                      WHILE i <= k DO
                        SET s = s + i;
                        SET i = i + 1;
                      END WHILE;
                      UPDATE item SET n = s WHERE id = 3;
                    END;
                    """;

    @Test
    void aStopLooksAndChanges() throws Exception {
        Script script = new Script();
        List<Object> found = new ArrayList<>();
        script.act =
                (stop, debugger) -> {
                    Frame frame = stop.frame();
                    try {
                        if (frame.place().span().line() == 10) {
                            found.add(debugger.eval(frame, "i * 10 + s"));
                            found.add(debugger.eval(frame, "(SELECT COUNT(*) FROM item) > k"));
                            found.add(debugger.set(frame, "s", "s + 100"));
                            found.add(debugger.set(frame, "note", "'*/ /* \\\\ '' \"'"));
                        } else if (frame.place().span().line() == 13) {
                            found.add(
                                    frame.session
                                            .questions()
                                            .inspect("SELECT id FROM item", 9)
                                            .rows()
                                            .size());
                            found.add(debugger.set(frame, "k", "NULL"));
                            try {
                                debugger.change(frame, "UPDATE item SET note = 'x'");
                            } catch (DebugException e) {
                                found.add(e.getMessage().substring(0, 5));
                            }
                            found.add(value(frame, "note"));
                        } else if (frame.routine().name().equals("logged")) {
                            found.add(debugger.eval(frame, "CONCAT(OLD.n, '>', NEW.n)"));
                            found.add(value(frame.caller(), "s"));
                        }
                    } catch (DebugException | SQLException e) {
                        found.add(e.getMessage().substring(0, 5));
                    }
                    return Resume.of(Resume.Kind.CONTINUE);
                };
        try (Workspace workspace = open(LOOP, true)) {
            Debugger debugger = debugger(workspace, script, false);
            debugger.pauseAt("f", 10, Optional.of("i = 2"), 0, 1);
            debugger.pauseAt("f", 13, Optional.empty(), 0, 1);
            debugger.pauseAt("logged", 3, Optional.of("NEW.n > 100"), 0, 1);
            debugger.begin(workspace.program(), Optional.empty());
            try (Session session = session(workspace, Optional.of(debugger))) {
                Outcome outcome = run(workspace, session, Map.of("k", 3));
                assertEquals("{s=106}", outcome.out().toString());
                assertEquals(List.of("f:10", "f:13", "logged:3"), script.seen);
                assertEquals(
                        "[21, 0, 101, */ /* \\ ' \", 3, NULL, 0A000, */ /* \\ ' \", 30>106, 106]",
                        found.stream().map(Values::text).toList().toString());
                assertEquals(2, outcome.events().size());
            }
        }
    }

    @Test
    void whatIsAskedMayTakeAQueryWithVariablesAndIsCalledOff() throws Exception {
        Script script = new Script();
        List<Object> found = new ArrayList<>();
        script.act =
                (stop, debugger) -> {
                    Frame frame = stop.frame();
                    try {
                        if (frame.routine().name().equals("logged")) {
                            found.add(
                                    debugger.query(
                                                    frame,
                                                    "SELECT id FROM item WHERE id = NEW.id",
                                                    9)
                                            .rows()
                                            .size());
                            return Resume.of(Resume.Kind.CONTINUE);
                        }
                        found.add(debugger.evaluate(frame, "i + 1").type().sql());
                        found.add(
                                debugger.query(
                                                frame,
                                                "SELECT id, s AS `sum` FROM item WHERE id < K -- k\n",
                                                9)
                                        .rows()
                                        .size());
                        found.add(debugger.glance(frame, "s").orElseThrow().value());
                        found.add(debugger.glance(frame, "s + 1").isPresent());
                        Thread other = new Thread(() -> callOff(debugger));
                        other.start();
                        try {
                            debugger.eval(frame, "SLEEP(40)");
                        } catch (DebugException e) {
                            found.add(e.getMessage());
                        }
                        found.add(debugger.eval(frame, "s"));
                    } catch (DebugException e) {
                        found.add(e.getMessage());
                    }
                    return Resume.of(Resume.Kind.CONTINUE);
                };
        try (Workspace workspace = open(LOOP, true)) {
            Debugger debugger = debugger(workspace, script, false);
            debugger.pauseAt("f", 10, Optional.of("i = 2"), 0, 1);
            debugger.pauseAt("logged", 3, Optional.empty(), 0, 1);
            debugger.begin(workspace.program(), Optional.empty());
            try (Session session = session(workspace, Optional.of(debugger))) {
                Outcome outcome = run(workspace, session, Map.of("k", 3));
                assertEquals(Outcome.Kind.COMPLETED, outcome.kind());
                assertEquals(
                        "[BIGINT, 2, 1, FALSE, UL000 called off, 1, 1]",
                        found.stream().map(Values::text).toList().toString());
            }
        }
    }

    private static void callOff(Debugger debugger) {
        try {
            Thread.sleep(500);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
        debugger.callOff();
    }

    @Test
    void valuesAreThoseOfTheServer() throws Exception {
        String routine =
                """
                DELIMITER //
                CREATE PROCEDURE f(IN k INT, OUT s VARCHAR(200))
                BEGIN
                  DECLARE u BIGINT UNSIGNED DEFAULT 18446744073709551615;
                  DECLARE b BIT(12) DEFAULT b'1010';
                  DECLARE raw VARBINARY(9) DEFAULT x'00ff27';
                  DECLARE f REAL DEFAULT 0.1; DECLARE f4 FLOAT DEFAULT 0.1;
                  DECLARE yes BOOL DEFAULT TRUE;
                  DECLARE at POINT DEFAULT POINT(1, 2);
                  DECLARE r ROW (a INT, b INT);
                  SET s = '';
                  SET s = CONCAT_WS(' ', u, b + 0, HEX(raw), f, f4, yes, ST_X(at));
                END//
                DELIMITER ;
                """;
        Script script = new Script();
        List<Object> found = new ArrayList<>();
        script.act =
                (stop, debugger) -> {
                    Frame frame = stop.frame();
                    try {
                        for (String one : List.of("u", "b", "raw", "f", "f4", "yes", "at", "r")) {
                            found.add(value(frame, one));
                        }
                        found.add(debugger.eval(frame, "u - 1"));
                        found.add(debugger.eval(frame, "b + 1"));
                        found.add(debugger.eval(frame, "RAW = x'00ff27'"));
                        found.add(
                                frame.session
                                        .questions()
                                        .inspect("SELECT 18446744073709551614", 9)
                                        .rows()
                                        .get(0)[0]);
                        found.add(debugger.set(frame, "u", "u - 1"));
                        found.add(debugger.set(frame, "b", "b'11'"));
                        found.add(debugger.set(frame, "raw", "x'80fe'"));
                        found.add(debugger.set(frame, "at", "ST_AsText(POINT(3, 4))"));
                    } catch (DebugException | SQLException e) {
                        found.add(e.getMessage());
                    }
                    return Resume.of(Resume.Kind.CONTINUE);
                };
        try (Workspace workspace = open(routine, true)) {
            Debugger debugger = debugger(workspace, script, false);
            debugger.pauseAt("f", 12, Optional.empty(), 0, 1);
            debugger.begin(workspace.program(), Optional.empty());
            try (Session session = session(workspace, Optional.of(debugger))) {
                Outcome outcome = run(workspace, session, Map.of("k", 3));
                assertEquals(
                        "[18446744073709551615, 10, 00FF27, 0.1, 0.1, TRUE, POINT(1 2), [NULL, NULL],"
                                + " 18446744073709551614, 11, 1, 18446744073709551614,"
                                + " 18446744073709551614, 3, 80FE, POINT(3 4)]",
                        found.stream().map(Values::text).toList().toString());
                assertEquals(
                        "{s=18446744073709551614 3 80FE 0.1 0.1 1 3}", outcome.out().toString());
            }
        }
    }

    /** Rows that a routine declares are told field by field, and their fields can be asked for. */
    @Test
    void rowVariablesAreShown() throws Exception {
        String routine =
                """
                CREATE PROCEDURE f(IN k INT, OUT s VARCHAR(60))
                BEGIN
                  DECLARE r ROW(a INT, Bee VARCHAR(10), `c d` ENUM('x,y', 'z)'), e DECIMAL(8, 2));
                  DECLARE q ROW TYPE OF item;
                  DECLARE `end` ROW (x BIT(4), y VARBINARY(3));
                  SET r.a = k, r.bee = 'b', r.`c d` = 'x,y', `end`.x = b'101', `end`.y = x'00ff';
                  SELECT * INTO q FROM item ORDER BY id LIMIT 1;
                  SET s = CONCAT(r.bee, q.id);
                END;
                """;
        Script script = new Script();
        List<Object> found = new ArrayList<>();
        script.act =
                (stop, debugger) -> {
                    Frame frame = stop.frame();
                    try {
                        for (String one : List.of("r", "q", "end")) {
                            found.add(value(frame, one));
                        }
                        found.add(debugger.eval(frame, "r.a + q.id"));
                        found.add(debugger.eval(frame, "R.`c d`"));
                        debugger.set(frame, "r.a", "7");
                        debugger.set(frame, "r.bee", "'new'");
                        debugger.set(frame, "r.e", "NULL");
                        found.add(debugger.eval(frame, "r.a * 10"));
                        debugger.set(frame, "r.f", "7");
                    } catch (DebugException e) {
                        found.add(e.getMessage());
                    }
                    return Resume.of(Resume.Kind.CONTINUE);
                };
        try (Workspace workspace = open(routine, true)) {
            Debugger debugger = debugger(workspace, script, false);
            debugger.pauseAt("f", 8, Optional.empty(), 0, 1);
            debugger.begin(workspace.program(), Optional.empty());
            try (Session session = session(workspace, Optional.of(debugger))) {
                Outcome outcome = run(workspace, session, Map.of("k", 3));
                String all =
                        found.stream()
                                .map(
                                        v ->
                                                v instanceof Object[] fields
                                                        ? java.util.Arrays.stream(fields)
                                                                .map(Values::text)
                                                                .toList()
                                                                .toString()
                                                        : Values.text(v))
                                .toList()
                                .toString();
                assertTrue(all.startsWith("[[3, b, x,y, NULL], [1, "), all);
                assertTrue(all.contains("[5, 00FF], 4, x,y, "), all);
                assertTrue(all.contains("4, x,y, 70, "), all);
                assertTrue(all.contains("no field f"), all);
                assertEquals("{s=new1}", outcome.out().toString());
            }
        }
    }

    /** The rows of FOR, over a query or a cursor, and of the type of a cursor. */
    @Test
    void rowsOfLoopsAreShownAndChanged() throws Exception {
        String routine =
                """
                CREATE PROCEDURE f(IN k INT, OUT s VARCHAR(200))
                BEGIN
                  DECLARE `limit` INT DEFAULT 1;
                  DECLARE c CURSOR (lowest INT) FOR SELECT id, note AS remark, n * 1.5 AS half FROM item WHERE id >= lowest;
                  DECLARE d CURSOR FOR SELECT i.id AS id, k FROM item i WHERE i.id = k;
                  SET s = '';
                  FOR one IN (SELECT id, COUNT(*) AS many, k, `limit`, id + k, COUNT(*) FROM item AS x WHERE x.id <= k GROUP BY id) DO
                    SET s = CONCAT(s, one.id, ':', one.many, one.k, one.`COUNT(*)`, ' ');
                    FOR two IN c(one.id) DO
                      SET s = CONCAT(s, two.id, IFNULL(two.remark, '-'), two.half, ' ');
                    END FOR;
                  END FOR;
                  BEGIN
                    DECLARE q ROW TYPE OF d;
                    OPEN d;
                    FETCH d INTO q;
                    CLOSE d;
                    SET s = CONCAT(s, q.id, q.k);
                  END;
                END;
                """;
        Script script = new Script();
        List<String> found = new ArrayList<>();
        script.act =
                (stop, debugger) -> {
                    Frame frame = stop.frame();
                    try {
                        String names = frame.at < 5 ? "one two" : "q";
                        for (String one : names.split(" ")) {
                            Object value = value(frame, one);
                            found.add(
                                    value instanceof Object[] fields
                                            ? one
                                                    + java.util.Arrays.stream(fields)
                                                            .map(Values::text)
                                                            .toList()
                                            : one + " " + Values.text(value));
                        }
                        if (names.equals("q")) {
                            debugger.set(frame, "q.k", "q.id + 40");
                        } else {
                            debugger.set(frame, "two.remark", "CONCAT('was ', two.half)");
                            found.add(Values.text(debugger.eval(frame, "two.id + one.many")));
                        }
                    } catch (DebugException e) {
                        found.add(e.getMessage());
                    }
                    return Resume.of(Resume.Kind.CONTINUE);
                };
        String plain;
        try (Workspace workspace = open(routine, false);
                Session session = session(workspace, Optional.empty())) {
            Outcome outcome = run(workspace, session, Map.of("k", 1));
            assertEquals(Optional.empty(), outcome.condition());
            plain = outcome.out().toString();
        }
        try (Workspace workspace = open(routine, true)) {
            Debugger debugger = debugger(workspace, script, false);
            debugger.pauseAt("f", 10, Optional.empty(), 0, 1);
            debugger.pauseAt("f", 18, Optional.empty(), 0, 1);
            debugger.begin(workspace.program(), Optional.empty());
            try (Session session = session(workspace, Optional.of(debugger))) {
                Outcome outcome = run(workspace, session, Map.of("k", 1));
                assertEquals(Optional.empty(), outcome.condition(), found.toString());
                assertEquals("{s=1:111 1a15.0 2-30.0 3c45.0 11}", plain);
                assertEquals(
                        "{s=1:111 1was 15.015.0 2was 30.030.0 3was 45.045.0 141}",
                        outcome.out().toString(),
                        found.toString());
                assertEquals(
                        "[one[1, 1, 1], two[1, a, 15.0], 2, one[1, 1, 1], two[2, NULL, 30.0],"
                                + " 3, one[1, 1, 1], two[3, c, 45.0], 4, q[1, 1]]",
                        found.toString());
            }
        }
    }

    @Test
    void whatEndsARunLeavesNothing() throws Exception {
        Script script = new Script();
        script.act = (stop, debugger) -> Resume.of(Resume.Kind.QUIT);
        try (Workspace workspace = open(LOOP, true)) {
            Debugger debugger = debugger(workspace, script, true);
            debugger.begin(workspace.program(), Optional.empty());
            try (Session session = session(workspace, Optional.of(debugger))) {
                Outcome outcome = run(workspace, session, Map.of("k", 3));
                assertEquals("UL000", outcome.condition().orElseThrow().sqlstate());
                assertEquals(List.of(), outcome.events());
            }
            try (Session session = session(workspace, Optional.empty())) {
                assertEquals("{s=6}", run(workspace, session, Map.of("k", 3)).out().toString());
            }
        }
    }

    /** 20,000 stops, with a core that is busy. */
    @Test
    void manyStopsComeInTheirTurn() throws Exception {
        String routine =
                """
                CREATE PROCEDURE f() BEGIN
                  DECLARE s INT DEFAULT 0;
                  WHILE s < 5000 DO
                    SET s = s + 1;
                    SET @a = 1;
                    SET s = s + 0;
                  END WHILE;
                END;
                """;
        try (Workspace workspace = open(routine, true)) {
            List<Object> seen = new ArrayList<>();
            Probe probe =
                    new Probe() {
                        @Override
                        public void entered(Frame frame) {
                            frame.session.watchAll(true);
                            java.util.Arrays.fill(frame.watch, (byte) 1);
                        }

                        @Override
                        public void reached(Frame frame) {
                            if (frame.place().span().line() == 6) {
                                seen.add(value(frame, "s"));
                            }
                        }
                    };
            try (Busy busy = new Busy();
                    Session session = patient(workspace, probe)) {
                run(workspace, session, Map.of());
                assertTrue(busy.isGoing());
            }
            assertEquals(5_000, seen.size());
            for (int i = 0; i < seen.size(); i++) {
                assertEquals((long) i + 1, seen.get(i));
            }
        }
    }
}
