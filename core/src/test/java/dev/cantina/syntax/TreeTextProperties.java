package dev.cantina.syntax;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.io.IOException;
import java.lang.reflect.RecordComponent;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.Combinators;
import net.jqwik.api.Example;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;

/** A tree printed and read again is the same tree. */
class TreeTextProperties {
    private static Arbitrary<String> expressions(int depth) {
        Arbitrary<String> plain =
                Arbitraries.of(
                        "1",
                        "2.50",
                        "1e3",
                        "'it''s'",
                        "X'0AFF'",
                        "NULL",
                        "TRUE",
                        "a",
                        "b.c",
                        "\"Odd name\"",
                        "DATE '2024-02-29'",
                        "INTERVAL '3' DAY",
                        "CURRENT_DATE",
                        "(SELECT MAX(id) FROM t WHERE x = a)",
                        "EXISTS (SELECT 1 FROM t)");
        if (depth == 0) {
            return plain;
        }
        Arbitrary<String> inner = expressions(depth - 1);
        Arbitrary<String> binary =
                Combinators.combine(
                                inner,
                                Arbitraries.of(
                                        "+",
                                        "-",
                                        "*",
                                        "/",
                                        "||",
                                        "=",
                                        "<>",
                                        "<",
                                        ">=",
                                        "AND",
                                        "OR",
                                        "IS DISTINCT FROM",
                                        "LIKE",
                                        "NOT LIKE"),
                                inner)
                        .as((x, operator, y) -> "(" + x + ") " + operator + " (" + y + ")");
        Arbitrary<String> others =
                Combinators.combine(
                                inner,
                                inner,
                                Arbitraries.of(
                                        "NOT (%s) OR (%s)",
                                        "- (%s) * (%s)",
                                        "CASE WHEN %s THEN %s ELSE 0 END",
                                        "CASE %s WHEN 1 THEN %s END",
                                        "COALESCE(%s, %s)",
                                        "f(x => %s, y => %s)",
                                        "m.g(%s, %s)",
                                        "CAST(%s AS DECIMAL(8, 2)) + (%s)",
                                        "TRIM(LEADING (%s) FROM %s)",
                                        "(%s) BETWEEN SYMMETRIC (%s) AND 3",
                                        "(%s) NOT IN (%s, 4)",
                                        "(%s) IS NOT NULL AND (%s) IS UNKNOWN",
                                        "ARRAY[%s, %s]",
                                        "((%s) - (%s)) DAY",
                                        "a[%s] + b[%s]",
                                        "(%s) > ALL (SELECT n FROM t) OR (%s) IN (SELECT 1 FROM t)",
                                        "(%s, %s) OVERLAPS (a, b)",
                                        "SUBSTRING(%s FROM %s FOR 2)",
                                        "EXTRACT(YEAR FROM %s) + (%s)"))
                        .as((x, y, shape) -> String.format(shape, x, y));
        return Arbitraries.oneOf(plain, binary, others);
    }

    @Provide
    Arbitrary<String> values() {
        return expressions(3);
    }

    @Property(tries = 1500)
    void anExpressionSurvives(@ForAll("values") String text) {
        survives("CREATE FUNCTION f () RETURNS INTEGER RETURN " + text + ";");
    }

    private static Arbitrary<String> statements(int depth) {
        Arbitrary<String> value = expressions(1);
        Arbitrary<String> plain =
                Combinators.combine(
                                value,
                                Arbitraries.of(
                                        "SET a = %s",
                                        "SET (a, b[2]) = (%s, 1)",
                                        "SET (a, b) = (SELECT x, y FROM t)",
                                        "SELECT x INTO a FROM t WHERE x = 1",
                                        "UPDATE t SET x = a WHERE CURRENT OF c",
                                        "INSERT INTO t VALUES (r.*)",
                                        "CALL m.p(%s, x => 2)",
                                        "RETURN %s",
                                        "RETURN TABLE (SELECT x FROM t)",
                                        "SIGNAL SQLSTATE '45001' SET MESSAGE_TEXT = %s",
                                        "RESIGNAL",
                                        "GET STACKED DIAGNOSTICS CONDITION %s a = MESSAGE_TEXT",
                                        "GET DIAGNOSTICS a = ROW_COUNT, b = NUMBER",
                                        "START TRANSACTION ISOLATION LEVEL READ COMMITTED, READ ONLY",
                                        "ROLLBACK TO SAVEPOINT s",
                                        "COMMIT AND CHAIN",
                                        "REPORT 'x', %s",
                                        "OPEN c USING %s",
                                        "FETCH ABSOLUTE %s FROM c INTO a, b",
                                        "FETCH c INTO a",
                                        "CLOSE c",
                                        "PREPARE s FROM %s",
                                        "EXECUTE s INTO a USING %s",
                                        "EXECUTE IMMEDIATE %s",
                                        "DEALLOCATE PREPARE s",
                                        "LEAVE top"))
                        .as((v, shape) -> String.format(shape, v));
        if (depth == 0) {
            return plain;
        }
        Arbitrary<String> inner = statements(depth - 1);
        Arbitrary<String> nested =
                Combinators.combine(
                                value,
                                inner,
                                inner,
                                Arbitraries.of(
                                        "IF %1$s THEN %2$s; ELSEIF TRUE THEN %3$s; ELSE %2$s; END IF",
                                        "CASE %1$s WHEN 1 THEN %2$s; ELSE %3$s; END CASE",
                                        "CASE WHEN %1$s THEN %2$s; %3$s; END CASE",
                                        "top: WHILE %1$s DO %2$s; ITERATE top; %3$s; END WHILE top",
                                        "REPEAT %2$s; %3$s; UNTIL %1$s END REPEAT",
                                        "LOOP %2$s; %3$s; END LOOP",
                                        "FOR r AS c CURSOR FOR SELECT x FROM t DO %2$s; %3$s; END FOR",
                                        "one: BEGIN ATOMIC DECLARE v, w CONSTANT INTEGER DEFAULT %1$s;"
                                                + " DECLARE q CONDITION FOR SQLSTATE '45009'; DECLARE c SCROLL"
                                                + " CURSOR WITH RETURN FOR SELECT 1 FROM t; DECLARE d CURSOR FOR"
                                                + " s; DECLARE LOCAL TEMPORARY TABLE l (x INTEGER) ON COMMIT"
                                                + " PRESERVE ROWS; DECLARE UNDO HANDLER FOR q, SQLSTATE '22012',"
                                                + " NOT FOUND %2$s; %3$s; END"))
                        .as((v, x, y, shape) -> String.format(shape, v, x, y));
        return Arbitraries.oneOf(plain, nested);
    }

    @Provide
    Arbitrary<String> bodies() {
        return statements(3);
    }

    @Property(tries = 1000)
    void aBodySurvives(@ForAll("bodies") String text) {
        survives(
                "CREATE PROCEDURE p (IN a LIKE t.x, OUT r ROW(x INTEGER, y VARCHAR(5)), INOUT z TIMESTAMP(3)"
                        + " WITH TIME ZONE DEFAULT NULL) READS SQL DATA DYNAMIC RESULT SETS 2\n"
                        + text
                        + ";");
    }

    @Example
    void everyRoutineThatShipsSurvives() throws IOException {
        List<Path> roots =
                List.of(
                        Path.of("src/test/resources/conformance"),
                        Path.of("../demo/winery/routines"),
                        Path.of("../demo/winery/scripts"));
        int files = 0;
        for (Path root : roots) {
            try (Stream<Path> all = Files.walk(root)) {
                for (Path file : all.filter(f -> f.toString().endsWith(".sql")).toList()) {
                    String text = Files.readString(file);
                    if (Parser.parse(new Source("it", text)).problems().isEmpty()) {
                        survives(text);
                        files++;
                    }
                }
            }
        }
        assertEquals(true, files > 30, files + " files");
    }

    private static void survives(String text) {
        ParsedFile first = Parser.parse(new Source("first", text));
        assertEquals(List.of(), first.problems(), text);
        String printed = TreeText.of(first);
        ParsedFile second = Parser.parse(new Source("second", printed));
        assertEquals(List.of(), second.problems(), printed);
        assertEquals(shape(first.units()), shape(second.units()), printed);
    }

    /** A tree without its places. */
    private static String shape(Object node) {
        if (node instanceof Name name) {
            return name.written();
        }
        if (node instanceof Optional<?> optional) {
            return optional.map(TreeTextProperties::shape).orElse("-");
        }
        if (node instanceof java.util.Set<?> set) {
            return new TreeSet<>(set).toString();
        }
        if (node instanceof Collection<?> list) {
            return list.stream()
                    .map(TreeTextProperties::shape)
                    .collect(Collectors.joining(", ", "[", "]"));
        }
        if (node instanceof SqlText sql) {
            return sql.verb() + shape(sql.scope()) + shape(sql.edits()) + shape(sql.positioned());
        }
        if (!(node instanceof Record)) {
            return String.valueOf(node);
        }
        List<String> parts = new ArrayList<>();
        for (RecordComponent component : node.getClass().getRecordComponents()) {
            if (component.getType() != Span.class) {
                try {
                    parts.add(shape(component.getAccessor().invoke(node)));
                } catch (ReflectiveOperationException e) {
                    throw new IllegalStateException(e);
                }
            }
        }
        return node.getClass().getSimpleName() + parts;
    }
}
