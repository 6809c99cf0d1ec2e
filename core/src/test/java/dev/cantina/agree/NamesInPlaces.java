package dev.cantina.agree;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Words that mean something somewhere, as the names of everything that a routine can name. */
final class NamesInPlaces implements Cells {
    static final String TABLES =
            "CREATE TABLE bin (id INTEGER PRIMARY KEY, qty INTEGER, label VARCHAR(20));\n";

    /** Where a name may stand; {@code %1$s} is the name, and {@code %2$s} begins its line. */
    private static final Map<String, String> PLACES = new LinkedHashMap<>();

    static {
        PLACES.put(
                "variable",
                "DECLARE %1$s INTEGER DEFAULT 3; SET %1$s = %1$s + 1; REPORT %2$s, %1$s, -%1$s;");
        PLACES.put(
                "variable in a query",
                "DECLARE %1$s INTEGER DEFAULT 3; SELECT %1$s + qty INTO r FROM bin WHERE id = %1$s"
                        + " - 2; REPORT %2$s, r;");
        PLACES.put(
                "target of a query",
                "DECLARE %1$s INTEGER; SELECT qty INTO %1$s FROM bin WHERE id = 1; REPORT %2$s,"
                        + " %1$s;");
        PLACES.put("label", "%1$s: LOOP SET r = 1; LEAVE %1$s; END LOOP %1$s; REPORT %2$s, r;");
        PLACES.put(
                "cursor",
                "DECLARE %1$s CURSOR FOR SELECT qty FROM bin ORDER BY id; OPEN %1$s; FETCH %1$s"
                        + " INTO r; CLOSE %1$s; REPORT %2$s, r;");
        PLACES.put(
                "row of FOR",
                "FOR %1$s AS SELECT qty FROM bin WHERE id = 2 DO SET r = %1$s.qty; END FOR; REPORT"
                        + " %2$s, r;");
        PLACES.put(
                "column alias",
                "FOR x AS SELECT qty + 1 AS %1$s FROM bin WHERE id = 2 DO SET r = x.%1$s; END FOR;"
                        + " REPORT %2$s, r;");
        PLACES.put(
                "table alias",
                "SELECT %1$s.qty INTO r FROM bin AS %1$s WHERE %1$s.id = 1; REPORT %2$s, r;");
        PLACES.put(
                "condition",
                "DECLARE %1$s CONDITION FOR SQLSTATE '45001'; DECLARE EXIT HANDLER FOR %1$s REPORT"
                        + " %2$s, 'handled'; SIGNAL %1$s;");
        PLACES.put(
                "savepoint",
                "SAVEPOINT %1$s; UPDATE bin SET qty = 99 WHERE id = 1; ROLLBACK TO SAVEPOINT %1$s;"
                        + " SELECT qty INTO r FROM bin WHERE id = 1; REPORT %2$s, r;");
        PLACES.put(
                "common table",
                "WITH %1$s AS (SELECT qty FROM bin) SELECT MAX(%1$s.qty) INTO r FROM %1$s; REPORT"
                        + " %2$s, r;");
        PLACES.put(
                "derived table",
                "SELECT %1$s.qty + 1 INTO r FROM (SELECT qty FROM bin WHERE id = 2) AS %1$s; REPORT"
                        + " %2$s, r;");
        PLACES.put(
                "order by alias",
                "DECLARE c CURSOR FOR SELECT qty AS %1$s FROM bin ORDER BY %1$s DESC; OPEN c; FETCH"
                        + " c INTO r; CLOSE c; REPORT %2$s, r;");
        PLACES.put(
                "field",
                "DECLARE x ROW (%1$s INTEGER, b INTEGER); SET x.%1$s = 4; SET x.b = x.%1$s; REPORT"
                        + " %2$s, x.b;");
        PLACES.put("constant", "DECLARE %1$s CONSTANT INTEGER DEFAULT 6; REPORT %2$s, %1$s * 2;");
        PLACES.put(
                "statement name",
                "PREPARE %1$s FROM 'SELECT qty FROM bin WHERE id = ?'; EXECUTE %1$s INTO r USING 2;"
                        + " DEALLOCATE PREPARE %1$s; REPORT %2$s, r;");
    }

    private final List<Cell> cells = new ArrayList<>();

    NamesInPlaces(List<String> words) {
        int number = 0;
        for (String word : words) {
            for (String place : PLACES.values()) {
                number++;
                String mark = "'" + number + ": '";
                cells.add(
                        new Cell(
                                number,
                                "  BEGIN\n    DECLARE r INTEGER;\n    BEGIN "
                                        + place.formatted(word, mark)
                                        + " END;\n  END;\n"));
            }
        }
    }

    @Override
    public String tables() {
        return TABLES;
    }

    @Override
    public String rows() {
        return "INSERT INTO bin VALUES (1, 10, 'a');\nINSERT INTO bin VALUES (2, 20, 'b');\n";
    }

    @Override
    public List<Cell> cells() {
        return cells;
    }

    @Override
    public String program(List<Cell> some) {
        StringBuilder text = new StringBuilder("CREATE PROCEDURE p ()\nBEGIN\n");
        some.forEach(c -> text.append(c.text()));
        return text.append("END;\n").toString();
    }
}
