package dev.cantina.facts;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.Lab;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundSql;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.Walker;
import dev.cantina.catalog.Catalog;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class RowFactsTest {
    private static final String TABLES =
            """
            CREATE TABLE t (code VARCHAR(5) PRIMARY KEY, price INTEGER, tag CHAR(3) UNIQUE);
            CREATE TABLE pair (a INTEGER, b BIGINT, note VARCHAR(9), PRIMARY KEY (a, b));
            CREATE VIEW cheap AS SELECT code, price FROM t;
            """;

    private static final String ROWS =
            """
            INSERT INTO t VALUES ('a', 1, 'x'), ('b', 2, 'y'), ('1', 3, 'z'), ('01', 3, NULL);
            INSERT INTO pair VALUES (1, 1, 'p'), (1, 2, 'q'), (2, 1, 'q');
            """;

    private static final String HEAD =
            "CREATE PROCEDURE p (IN w VARCHAR(5), IN n INTEGER, IN d DOUBLE PRECISION, IN c CHAR(5))\n"
                    + "BEGIN\nDECLARE v VARCHAR(20);\n";

    /** A bound statement and what it is asked about. */
    private record Case(BoundSql sql, Catalog catalog) {}

    private static Case bound(String statement) {
        try (Lab lab = new Lab(TABLES, HEAD + statement + ";\nEND;")) {
            assertEquals(List.of(), lab.check().stream().filter(p -> p.isError()).toList());
            Catalog catalog = lab.program().catalog();
            BoundRoutine routine = lab.program().binder().bind(catalog.routines().get(0)).routine();
            List<BoundSql> found = new ArrayList<>();
            Walker.statements(routine.body(), s -> Walker.sql(s).ifPresent(found::add));
            assertEquals(1, found.size(), statement);
            return new Case(found.get(0), catalog);
        }
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                // exactly one | at most one | query
                "YES | YES | SELECT COUNT(*) INTO v FROM t",
                "YES | YES | SELECT MAX(price) + 1 INTO v FROM t WHERE price > 5 ORDER BY 1",
                "YES | YES | SELECT COALESCE(SUM(price), 0) INTO v FROM t JOIN pair ON price = a",
                "NO | YES | SELECT COALESCE(price, 0) INTO v FROM t WHERE code = w",
                "NO | NO | SELECT COUNT(*) INTO v FROM t GROUP   BY price",
                "NO | NO | SELECT COUNT(*) INTO v FROM t HAVING COUNT(*) > 9",
                "NO | NO | SELECT SUM(price) OVER () INTO v FROM t",
                "NO | NO | SELECT (SELECT COUNT(*) FROM pair) INTO v FROM t",
                "YES | YES | SELECT n + 1 INTO v",
                "NO | YES | SELECT n + 1 INTO v WHERE n > 1",
                "UNKNOWN | UNKNOWN | SELECT no_one_knows(n) INTO v",
                "NO | YES | SELECT price INTO v FROM t WHERE 'a' = t.code AND price > 1",
                "NO | YES | SELECT x.price INTO v FROM t AS x WHERE x.code = w",
                "NO | YES | SELECT price INTO v FROM t WHERE (code = w)",
                "NO | NO | SELECT price INTO v FROM t WHERE code = w OR price = 1",
                "NO | NO | SELECT price INTO v FROM t WHERE NOT code = w",
                "NO | NO | SELECT price INTO v FROM t WHERE price BETWEEN 1 AND 2",
                "NO | NO | SELECT price INTO v FROM t WHERE code = code",
                "NO | NO | SELECT price INTO v FROM t WHERE code = 1",
                "NO | NO | SELECT price INTO v FROM t WHERE code = c",
                "NO | YES | SELECT price INTO v FROM t WHERE tag = c",
                "NO | NO | SELECT price INTO v FROM t WHERE code = UPPER(w)",
                "NO | NO | SELECT note INTO v FROM pair WHERE a = n",
                "NO | YES | SELECT note INTO v FROM pair WHERE a = 1 AND b = -2",
                "NO | NO | SELECT note INTO v FROM pair WHERE a = 1 AND b = d",
                "NO | NO | SELECT note INTO v FROM pair WHERE (a = 1 AND b = 2) IS TRUE",
                "NO | YES | SELECT price INTO v FROM t ORDER BY price FETCH FIRST ROW ONLY",
                "NO | YES | SELECT price INTO v FROM t FETCH NEXT 1 ROWS ONLY",
                "NO | NO | SELECT price INTO v FROM t ORDER BY price FETCH FIRST 1 ROW WITH TIES",
                "NO | NO | SELECT price INTO v FROM t FETCH FIRST 2 ROWS ONLY",
                "NO | YES | SELECT price INTO v FROM t LIMIT 1",
                "UNKNOWN | YES | SELECT COUNT(*) INTO v FROM t OFFSET 1 ROWS",
                "NO | NO | SELECT code INTO v FROM t UNION SELECT note FROM pair",
                "NO | YES | SELECT code INTO v FROM t WHERE code = w EXCEPT SELECT note FROM pair",
                "NO | UNKNOWN | SELECT price INTO v FROM cheap WHERE code = w",
                "NO | NO | SELECT price INTO v FROM t, pair WHERE code = w",
            })
    void aQuerysRowsAreKnown(Answer exactlyOne, Answer atMostOne, String query)
            throws SQLException {
        String known = query.replace("no_one_knows(n)", "RAND()");
        Case it = bound(known);
        assertEquals(exactlyOne, RowFacts.exactlyOne(it.sql(), it.catalog()), query);
        assertEquals(atMostOne, RowFacts.atMostOne(it.sql(), it.catalog()), query);
        if (atMostOne.isYes()) {
            int rows = rows(known);
            assertTrue(rows <= 1 && (rows == 1 || !exactlyOne.isYes()), query + ": " + rows);
        }
    }

    /** How many rows a query has, over tables with rows in them. */
    private static int rows(String query) throws SQLException {
        String plain =
                query.replace(" INTO v", "")
                        .replaceAll("\\bw\\b", "'a'")
                        .replaceAll("\\bn\\b", "1")
                        .replaceAll("\\bc\\b", "'x'");
        try (Connection connection = DriverManager.getConnection("jdbc:h2:mem:");
                Statement statement = connection.createStatement()) {
            statement.execute(TABLES + ROWS);
            int rows = 0;
            try (ResultSet result = statement.executeQuery(plain)) {
                while (result.next()) {
                    rows++;
                }
            }
            return rows;
        }
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "YES | UPDATE t SET price = 8 -- it's dearer; WHERE code = 'zz'",
                "NO | UPDATE t SET price = 8",
                "NO | UPDATE t SET price = (SELECT MAX(a) FROM pair WHERE a = n)",
                "NO | UPDATE t SET price = 1 WHERE code = w OR code = 'b'",
                "YES | UPDATE t AS x SET price = 1 WHERE x.code = w",
                "YES | DELETE FROM pair WHERE b = n AND a = 1 AND note = w",
                "NO | DELETE FROM pair WHERE b = n",
                "NO | DELETE FROM pair",
            })
    void aChangesRowsAreKnown(Answer atMostOne, String change) {
        Case it = bound(change.replace("; ", "\n"));
        assertEquals(atMostOne, RowFacts.changesAtMostOne(it.sql(), it.catalog()));
        assertEquals(
                change.contains("WHERE a = n") ? Answer.NO : Answer.of(change.contains("WHERE")),
                RowFacts.hasCondition(it.sql()));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                // some | one | INSERT
                "YES | YES | INSERT INTO t VALUES (w, n, 'q')",
                "YES | YES | INSERT INTO t (code) VALUES ((SELECT MAX(note) FROM pair))",
                "YES | NO | INSERT INTO t (code) VALUES (w), ('z')",
                "NO | NO | INSERT INTO t SELECT note, a, NULL FROM pair",
                "NO | NO | INSERT INTO t (code) SELECT note FROM (VALUES ('a')) AS v (note)",
            })
    void anInsertsRowsAreKnown(Answer some, Answer one, String insert) {
        Case it = bound(insert);
        assertEquals(some, RowFacts.insertsSome(it.sql()));
        assertEquals(one, RowFacts.insertsOne(it.sql()));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                // can raise | computes | query
                "NO | NO | SELECT price INTO v FROM t WHERE code = w AND price IS NOT NULL ORDER BY 1",
                "NO | NO | SELECT x.code INTO v FROM t x JOIN pair ON x.price = a FETCH FIRST ROW ONLY",
                "YES | YES | SELECT price * 2 INTO v FROM t",
                "YES | YES | SELECT price*2 INTO v FROM t",
                "YES | YES | SELECT code INTO v FROM t ORDER BY -price",
                "YES | YES | SELECT CAST(code AS INTEGER) INTO v FROM t",
                "YES | YES | SELECT code INTO v FROM t WHERE code LIKE w",
                "UNKNOWN | YES | SELECT (SELECT MAX(a) FROM pair) INTO v FROM t",
                "UNKNOWN | NO | SELECT code INTO v FROM cheap",
                "UNKNOWN | UNKNOWN | SELECT code INTO v FROM t FOR UPDATE",
                "UNKNOWN | UNKNOWN | SELECT code INTO v FROM t UNION SELECT note FROM pair",
            })
    void whatAQueryCanRaiseIsKnown(Answer raises, Answer computes, String query) {
        Case it = bound(query);
        assertEquals(raises, RaiseFacts.canRaise(it.sql(), it.catalog()));
        assertEquals(computes, RaiseFacts.computes(it.sql()));
    }

    @Test
    void aChangeThroughACursorIsOfOneRow() {
        try (Lab lab =
                new Lab(
                        TABLES,
                        """
                        CREATE PROCEDURE p ()
                        BEGIN
                          DECLARE c CURSOR FOR SELECT code FROM t FOR UPDATE;
                          OPEN c;
                          DELETE FROM t WHERE CURRENT  OF c;
                        END;
                        """)) {
            Catalog catalog = lab.program().catalog();
            BoundRoutine routine = lab.program().binder().bind(catalog.routines().get(0)).routine();
            List<BoundSql> found = new ArrayList<>();
            Walker.statements(
                    routine.body(),
                    s -> {
                        if (s instanceof BoundStatement.Execute execute) {
                            found.add(execute.sql());
                        }
                    });
            assertEquals(Answer.YES, RowFacts.changesAtMostOne(found.get(0), catalog));
            assertEquals(Answer.YES, RowFacts.hasCondition(found.get(0)));
        }
    }
}
