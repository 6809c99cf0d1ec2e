package dev.cantina.syntax;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.lang.reflect.RecordComponent;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** The trees of data statements. */
class SqlTreeTest {
    private static SqlStatement tree(String text) {
        return SqlText.of(text).tree();
    }

    /** The kinds of nodes in a tree, without those of expressions; a value is written as it is. */
    private static String shape(Object part) {
        if (part instanceof Optional<?> some) {
            return some.map(SqlTreeTest::shape).orElse("");
        }
        if (part instanceof Collection<?> all) {
            return String.join(
                    " ", all.stream().map(SqlTreeTest::shape).filter(s -> !s.isEmpty()).toList());
        }
        if (part instanceof SqlValue value) {
            String text = value.span().text().replaceAll("\\s+", " ");
            boolean known = value.expression().filter(ExpressionWalk::isKnown).isPresent();
            return known ? "'" + text + "'" : "?'" + text + "'";
        }
        if (part instanceof Name name) {
            return name.key();
        }
        if (part instanceof Boolean said) {
            return said ? "+" : "";
        }
        if (part instanceof Enum<?> || part instanceof String) {
            return part.toString();
        }
        if (!(part instanceof Record) || part instanceof Span) {
            return "";
        }
        List<Object> parts = new ArrayList<>();
        parts.add(part.getClass().getSimpleName());
        for (RecordComponent component : part.getClass().getRecordComponents()) {
            parts.add(of(part, component));
        }
        return "(" + shape(parts) + ")";
    }

    private static Object of(Object part, RecordComponent component) {
        try {
            component.getAccessor().setAccessible(true);
            return component.getAccessor().invoke(part);
        } catch (ReflectiveOperationException e) {
            throw new AssertionError(e);
        }
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "SELECT a, b + 1 AS c FROM t WHERE a = 1 | (Select (Item 'a') (Item 'b + 1' C) (From (Named T)) (Where 'a = 1'))",
                "SELECT DISTINCT t.* FROM depot.t AS x (p, q) | (Select + (Item ?'t.*') (From (Named DEPOT T X P Q)))",
                "SELECT COUNT(*) n FROM t GROUP BY a, b HAVING COUNT(*) > 1 ORDER BY 1 DESC NULLS LAST, b | (Ordered (Select (Item 'COUNT(*)' N) (From (Named T)) (GroupBy 'a' 'b') (Having 'COUNT(*) > 1')) (OrderBy (SortKey '1' +) (SortKey 'b')))",
                "SELECT a FROM t ORDER BY a OFFSET 2 ROWS FETCH NEXT 3 ROWS ONLY | (Ordered (Select (Item 'a') (From (Named T))) (OrderBy (SortKey 'a')) (Offset '2') (Fetch '3' +))",
                "SELECT a FROM t FETCH FIRST ROW ONLY | (Ordered (Select (Item 'a') (From (Named T))) (Fetch +))",
                "SELECT a FROM t FETCH FIRST 5 PERCENT ROWS WITH TIES | (Ordered (Select (Item 'a') (From (Named T))) (Fetch '5'))",
                "SELECT a FROM t LIMIT 1 | (Ordered (Select (Item 'a') (From (Named T))) (Fetch '1' +))",
                "SELECT a FROM t LIMIT 1, 2 | (Select (Item 'a') (From (Named T)) (Opaque ?'LIMIT 1, 2'))",
                "SELECT 1 UNION ALL SELECT 2 INTERSECT SELECT 3 ORDER BY 1 | (Ordered (Combined UNION + (Select (Item '1')) (Combined INTERSECT (Select (Item '2')) (Select (Item '3')))) (OrderBy (SortKey '1')))",
                "SELECT 1 EXCEPT SELECT 2 UNION SELECT 3 | (Combined UNION (Combined EXCEPT (Select (Item '1')) (Select (Item '2'))) (Select (Item '3')))",
                "(SELECT a FROM t LIMIT 1) UNION VALUES (1), (2) | (Combined UNION (Bracketed (Ordered (Select (Item 'a') (From (Named T))) (Fetch '1' +))) (Values '1' '2'))",
                "SELECT * FROM (((VALUES (3), (7)) UNION VALUES (3), (4)) ORDER BY 1) AS d | (Select (Item ?'*') (From (Derived (Ordered (Bracketed (Combined UNION (Bracketed (Values '3' '7')) (Values '3' '4'))) (OrderBy (SortKey '1'))) D)))",
                "SELECT a IN ((SELECT 1) UNION (SELECT 2)), ((SELECT 1) + 2) * 3, f((SELECT 1)) | (Select (Item 'a IN ((SELECT 1) UNION (SELECT 2))') (Item '((SELECT 1) + 2) * 3') (Item 'f((SELECT 1))'))",
                "INSERT INTO t VALUES ((SELECT 1)), (((SELECT 1) UNION (SELECT 2))) | (Insert T (Values '(SELECT 1)' '((SELECT 1) UNION (SELECT 2))'))",
                "TABLE t | (OfTable (Named T))",
                "VALUES (1, 'a'), (2, DEFAULT) | (Values '1' ''a'' '2' 'DEFAULT')",
                "WITH RECURSIVE n (i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n) SELECT i FROM n | (With + (CommonTable N I (Combined UNION + (Select (Item '1')) (Select (Item 'i + 1') (From (Named N))))) (Select (Item 'i') (From (Named N))))",
                "WITH gone AS (DELETE FROM t RETURNING a) SELECT a FROM gone | (With (CommonTable GONE (Delete T (Returning (Item 'a')))) (Select (Item 'a') (From (Named GONE))))",
                "SELECT * FROM a LEFT OUTER JOIN b ON a.x = b.x NATURAL JOIN c CROSS JOIN d, e | (Select (Item ?'*') (From (Join (Join (Join (Named A) LEFT (Named B) 'a.x = b.x') INNER + (Named C)) CROSS (Named D)) (Named E)))",
                "SELECT * FROM a FULL JOIN b USING (x, y) | (Select (Item ?'*') (From (Join (Named A) FULL (Named B) X Y)))",
                "SELECT * FROM (a JOIN b ON TRUE), LATERAL (SELECT a.x) AS l (y) | (Select (Item ?'*') (From (Bracketed (Join (Named A) INNER (Named B) 'TRUE')) (Derived + (Select (Item 'a.x')) L Y)))",
                "SELECT * FROM TABLE (f(1)) AS r | (Select (Item ?'*') (From (OfFunction 'f(1)' R)))",
                "SELECT a FROM FINAL TABLE (INSERT INTO t VALUES (1)) AS n | (Select (Item 'a') (From (Delta FINAL (Insert T (Values '1')) N)))",
                "SELECT SUM(DISTINCT a) FILTER (WHERE b > 0) OVER (PARTITION BY c) AS s FROM t WINDOW w AS (ORDER BY a) | (Select (Item 'SUM(DISTINCT a) FILTER (WHERE b > 0) OVER (PARTITION BY c)' S) (From (Named T)) (Windows '(ORDER BY a)'))",
                "SELECT a FROM t FOR UPDATE OF a | (Ordered (Select (Item 'a') (From (Named T))) (Locking))",
                "SELECT a FROM t QUALIFY x = 1 | (Select (Item 'a') (From (Named T)) (Opaque ?'QUALIFY x = 1'))",
                "SELECT a AT TIME ZONE 'x' FROM t | (Select (Item ?'a AT TIME ZONE 'x'') (From (Named T)))",
                "SELECT d + INTERVAL '1' DAY FROM t | (Select (Item 'd + INTERVAL '1' DAY') (From (Named T)))",
                "SELECT (SELECT MAX(b) FROM u) + ? FROM t WHERE EXISTS (TABLE v) | (Select (Item '(SELECT MAX(b) FROM u) + ?') (From (Named T)) (Where 'EXISTS (TABLE v)'))",
                "INSERT INTO t (a, b) VALUES (1, 2), (3, 4) | (Insert T A B (Values '1' '2' '3' '4'))",
                "INSERT INTO t DEFAULT VALUES | (Insert T)",
                "INSERT INTO t SELECT a FROM u | (Insert T (Select (Item 'a') (From (Named U))))",
                "INSERT INTO t VALUES (1) RETURNING a, b AS c | (Insert T (Values '1') (Returning (Item 'a') (Item 'b' C)))",
                "INSERT INTO t VALUES (1) ON CONFLICT DO NOTHING | (Insert T (Values '1') (Opaque ?'ON CONFLICT DO NOTHING'))",
                "UPDATE t AS x SET a = 1, (b, c) = (2, 3) WHERE x.d IN (1, 2) | (Update T X (Assignment A '1') (Assignment B C '(2, 3)') (Where 'x.d IN (1, 2)'))",
                "UPDATE t SET a = u.a FROM u WHERE t.b = u.b | (Update T (Assignment A 'u.a') (From (Named U)) (Where 't.b = u.b'))",
                "DELETE FROM t WHERE CURRENT OF c | (Delete T (CurrentOf C))",
                "MERGE INTO t USING u ON t.a = u.a WHEN MATCHED AND u.b > 1 THEN UPDATE SET b = u.b WHEN NOT MATCHED THEN INSERT (a) VALUES (u.a) | (Merge T (Named U) 't.a = u.a' (Branch + 'u.b > 1' UPDATE (Assignment B 'u.b')) (Branch INSERT A 'u.a'))",
                "TRUNCATE TABLE depot.t | (Truncate DEPOT T)",
                "CREATE TABLE t (a INTEGER) | (Schema CREATE T ?'CREATE TABLE t (a INTEGER)')",
            })
    void aStatementIsRead(String text, String shape) {
        assertEquals(shape, shape(tree(text)));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "SELECT a FROM t WHERE b @> c",
                "SELECT a FROM t WHERE b COLLATE x = c",
                "SELECT a FROM t WHERE b IS JSON",
                "SELECT a FROM t WHERE MATCH (b) AGAINST ('x')",
            })
    void aValueThatIsNotKnownIsNone(String text) {
        Query.Select select = (Query.Select) tree(text);
        Clause.Where where = select.clause(Clause.Where.class).orElseThrow();
        assertTrue(where.condition().expression().filter(ExpressionWalk::isKnown).isEmpty(), text);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "SELECT a FROM t WHERE (b",
                "SELECT a FROM t)",
                "INSERT INTO t",
                "MERGE INTO t USING u",
            })
    void whatCantBeReadIsNoTree(String text) {
        SqlStatement read = tree(text);
        boolean known = read instanceof Query || read instanceof Change;
        boolean doubted =
                read instanceof Change change
                        && change.clauses().stream().anyMatch(Clause.Opaque.class::isInstance);
        assertTrue(!known || doubted, text);
    }

    /**
     * Of the statements in the suite and the demo nothing is unknown, however they are laid out.
     */
    @Test
    void allStatementsOfTheSuiteAreRead() throws IOException {
        int seen = 0;
        for (Path file : files()) {
            List<SqlText> texts = new ArrayList<>();
            collect(Parser.parse(new Source("x.sql", Files.readString(file))).units(), texts);
            for (SqlText text : texts) {
                seen++;
                String shape = shape(text.tree());
                assertTrue(!shape.contains("Opaque") && !shape.contains("Unread"), shape);
                assertTrue(
                        !shape.replaceAll("\\?'(\\w+\\s*[.]\\s*)?[*]'", "").contains("(Item ?"),
                        shape);
                String read = text.tree().span().text();
                String dressed = dressed(read);
                assertEquals(letters(shape(tree(read))), letters(shape(tree(dressed))), dressed);
                nested(text.tree(), text.tree().span());
            }
        }
        assertTrue(seen > 1000, "too few: " + seen);
    }

    private static List<Path> files() throws IOException {
        List<Path> files = new ArrayList<>();
        for (String folder : List.of("src/test/resources/conformance", "../demo")) {
            try (Stream<Path> found = Files.walk(Path.of(folder))) {
                found.filter(f -> f.toString().endsWith(".sql")).forEach(files::add);
            }
        }
        return files;
    }

    /** The same words with other blanks between them, and comments. */
    private static String dressed(String text) {
        StringBuilder all = new StringBuilder();
        for (Token token : Lexer.ofStatement(text).tokens()) {
            String written = text.substring(token.start(), token.end());
            boolean word = token.kind() == Token.Kind.WORD && !written.startsWith("`");
            all.append(word ? written.toLowerCase(Locale.ROOT) : written);
            all.append(all.length() % 3 == 0 ? " /* it's; ( */ " : "\n  ");
        }
        return all.toString();
    }

    /** Letters and signs alone, in one case. */
    private static String letters(String shape) {
        return shape.replaceAll("/\\* it's; \\( \\*/", "")
                .replaceAll("\\s+", "")
                .toUpperCase(Locale.ROOT);
    }

    private static void collect(Object part, List<SqlText> into) {
        if (part instanceof Optional<?> some) {
            some.ifPresent(one -> collect(one, into));
        } else if (part instanceof Collection<?> all) {
            all.forEach(one -> collect(one, into));
        } else if (part instanceof SqlText text) {
            into.add(text);
        } else if (part instanceof Record && !(part instanceof Span)) {
            for (RecordComponent component : part.getClass().getRecordComponents()) {
                collect(of(part, component), into);
            }
        }
    }

    /** Each part lies within the part around it. */
    private static void nested(Object part, Span around) {
        if (part instanceof Optional<?> some) {
            some.ifPresent(one -> nested(one, around));
        } else if (part instanceof Collection<?> all) {
            all.forEach(one -> nested(one, around));
        } else if (part instanceof Node node && !(part instanceof SqlText)) {
            Span span = node.span();
            assertTrue(
                    around.start() <= span.start() && span.end() <= around.end(),
                    () -> span.text() + " is not in " + around.text());
            if (node instanceof SqlValue value) {
                value.expression().ifPresent(e -> nested(e, span));
            } else if (node instanceof Record) {
                for (RecordComponent component : node.getClass().getRecordComponents()) {
                    nested(of(node, component), span);
                }
            }
        }
    }
}
