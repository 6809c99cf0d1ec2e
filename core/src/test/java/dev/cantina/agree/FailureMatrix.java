package dev.cantina.agree;

import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;

/**
 * Programs in which each kind of failing statement meets each kind of handler, in each kind of
 * place: what the handler rules of ISO 9075-4, 14.2, say must come out the same everywhere.
 */
final class FailureMatrix {
    private static final String CALLED =
            """
            CREATE PROCEDURE bad (IN x INTEGER) SIGNAL SQLSTATE '45001' SET MESSAGE_TEXT = 'bad';
            CREATE PROCEDURE part (IN x INTEGER)
            BEGIN
              INSERT INTO log (line) VALUES ('part');
              SIGNAL SQLSTATE '45001' SET MESSAGE_TEXT = 'part';
            END;
            CREATE PROCEDURE whole (IN x INTEGER)
            BEGIN ATOMIC
              INSERT INTO log (line) VALUES ('whole');
              SIGNAL SQLSTATE '45003' SET MESSAGE_TEXT = 'whole';
            END;
            CREATE FUNCTION boom (x INTEGER) RETURNS INTEGER
            BEGIN
              IF x = 1 THEN SIGNAL SQLSTATE '45001' SET MESSAGE_TEXT = 'boom'; END IF;
              RETURN x;
            END;
            """;

    private static final List<String> STATEMENTS =
            List.of(
                    "SET n = 1 / zero;",
                    "IF 1 / zero = 1 THEN SET n = 5; END IF;",
                    "CASE 1 / zero WHEN 1 THEN SET n = 5; ELSE SET n = 6; END CASE;",
                    "WHILE 1 / zero > 0 DO SET n = 1; END WHILE;",
                    "FOR x AS SELECT id / zero AS q FROM item DO SET n = x.q; END FOR;",
                    "CALL bad(1);",
                    "CALL part(1);",
                    "CALL whole(1);",
                    "SET n = boom(1);",
                    "SELECT boom(w.id) INTO n FROM item w WHERE w.id = 1;",
                    "SELECT qty INTO n FROM item WHERE id = 99;",
                    "SELECT id INTO n FROM item;",
                    "SET n = (SELECT id FROM item);",
                    "INSERT INTO item (id, name) VALUES (1, 'x');",
                    "INSERT INTO item (id, name) VALUES (50, NULL);",
                    "UPDATE item SET qty = -1 WHERE id = 1;",
                    "UPDATE item SET price = price / (id - 2);",
                    "UPDATE item SET qty = 1 WHERE id = 99;",
                    "DELETE FROM item WHERE id = 99;",
                    "INSERT INTO log (line) SELECT name FROM item WHERE id = 99;",
                    "SIGNAL SQLSTATE '45001' SET MESSAGE_TEXT = 'own';",
                    "SIGNAL SQLSTATE '01H01';",
                    "SIGNAL SQLSTATE '02H01';",
                    "EXECUTE IMMEDIATE 'INSERT INTO item (id, name) VALUES (1, ''x'')';",
                    "EXECUTE IMMEDIATE 'DELETE FROM item WHERE id = 99';",
                    "CASE WHEN n = 77 THEN SET n = 1; END CASE;",
                    "SET t = 'abcdef' || n;",
                    "SET n = CAST(t AS INTEGER);",
                    "SET k = 30000 + 30000 + n;",
                    "FETCH c INTO n;",
                    "SET n = 4;");

    private static final List<String> HANDLERS =
            List.of(
                    "DECLARE CONTINUE HANDLER FOR SQLEXCEPTION SET r = r || 'X';",
                    "DECLARE EXIT HANDLER FOR SQLEXCEPTION SET r = r || 'X';",
                    "DECLARE CONTINUE HANDLER FOR NOT FOUND SET r = r || 'N';",
                    "DECLARE EXIT HANDLER FOR NOT FOUND, SQLWARNING SET r = r || 'N';",
                    "DECLARE EXIT HANDLER FOR SQLEXCEPTION SET r = r || 'G';"
                            + " DECLARE CONTINUE HANDLER FOR SQLSTATE '22012', SQLSTATE '23505', SQLSTATE"
                            + " '45001', SQLSTATE '21000', SQLSTATE '22001', SQLSTATE '22018', SQLSTATE"
                            + " '22003', SQLSTATE '20000', SQLSTATE '24000' SET r = r || 'S';",
                    "DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN SET r = r || 'R'; RESIGNAL; END;",
                    "DECLARE EXIT HANDLER FOR SQLEXCEPTION SIGNAL SQLSTATE '45002';",
                    "DECLARE CONTINUE HANDLER FOR SQLEXCEPTION, NOT FOUND INSERT INTO log (line)"
                            + " VALUES ('handled');",
                    "DECLARE CONTINUE HANDLER FOR SQLEXCEPTION BEGIN DECLARE q CHAR(5); GET"
                            + " DIAGNOSTICS CONDITION 1 q = RETURNED_SQLSTATE; SET r = r || q; END;");

    /** Where the statement stands ({@code $s}), with its handlers ({@code $h}). */
    private static final Map<String, String> PLACES = places();

    private static Map<String, String> places() {
        Map<String, String> places = new LinkedHashMap<>();
        places.put(
                "own block",
                "BEGIN $h INSERT INTO log (line) VALUES ('before'); $s SET r = r || 'a';"
                        + " INSERT INTO log (line) VALUES ('after'); END;");
        places.put(
                "block inside",
                "BEGIN $h BEGIN INSERT INTO log (line) VALUES ('before'); $s SET r = r || 'a'; END;"
                        + " SET r = r || 'b'; END;");
        places.put(
                "atomic block inside",
                "BEGIN $h BEGIN ATOMIC UPDATE item SET price = 7 WHERE id = 1; $s SET r = r || 'a';"
                        + " END; SET r = r || 'b'; END;");
        places.put(
                "atomic block",
                "BEGIN ATOMIC $h UPDATE item SET price = 7 WHERE id = 1; $s SET r = r || 'a'; END;");
        places.put(
                "turn of a loop",
                "WHILE turn < 2 DO SET turn = turn + 1; BEGIN $h SET r = r || turn; $s"
                        + " SET r = r || 'a'; END; END WHILE;");
        places.put(
                "row of a loop",
                "FOR one AS SELECT id FROM item ORDER BY id DO BEGIN $h SET r = r || one.id; $s"
                        + " SET r = r || 'a'; END; END FOR;");
        places.put(
                "loop with the handler outside",
                "BEGIN $h FOR one AS SELECT id FROM item ORDER BY id DO SET r = r || one.id; $s"
                        + " SET r = r || 'a'; END FOR; SET r = r || 'b'; END;");
        places.put(
                "branch",
                "BEGIN $h IF n = 3 THEN SET r = r || 'i'; $s SET r = r || 'a'; ELSE SET r = r || 'e';"
                        + " END IF; SET r = r || 'b'; END;");
        places.put(
                "block whose handler passes on",
                "BEGIN DECLARE CONTINUE HANDLER FOR SQLEXCEPTION SET r = r || 'O';"
                        + " BEGIN $h SET r = r || '1'; $s SET r = r || 'a'; END; SET r = r || 'b'; END;");
        return places;
    }

    private FailureMatrix() {}

    /** So many of all programs, or all of them where there are no more. */
    static List<String> programs(int most, long seed) {
        List<String> all = new ArrayList<>();
        for (String statement : STATEMENTS) {
            for (String handler : HANDLERS) {
                PLACES.forEach((name, place) -> all.add(program(name, place, handler, statement)));
            }
        }
        Collections.shuffle(all, new Random(seed));
        return all.subList(0, Math.min(most, all.size()));
    }

    private static String program(String name, String place, String handler, String statement) {
        return CALLED
                + "-- "
                + name
                + "\nCREATE PROCEDURE p (IN i INTEGER, IN s VARCHAR(12), OUT o INTEGER)\nBEGIN\n"
                + "  DECLARE zero, turn INTEGER DEFAULT 0;\n"
                + "  DECLARE n INTEGER DEFAULT 3;\n"
                + "  DECLARE k SMALLINT DEFAULT 7;\n"
                + "  DECLARE t VARCHAR(5) DEFAULT 'abc';\n"
                + "  DECLARE r VARCHAR(80) DEFAULT '';\n"
                + (statement.startsWith("FETCH")
                        ? "  DECLARE c CURSOR FOR SELECT id FROM item;\n"
                        : "")
                + "  "
                + place.replace("$h", handler).replace("$s", statement)
                + "\n  REPORT r, ' n=', n, ' k=', k, ' t=', t;\n"
                + "  SET o = n;\nEND;\n";
    }
}
