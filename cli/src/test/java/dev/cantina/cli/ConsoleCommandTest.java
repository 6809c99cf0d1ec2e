package dev.cantina.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The console, from a pipe. */
class ConsoleCommandTest {
    @TempDir Path folder;
    private Cli cli;

    @BeforeEach
    void winery() throws IOException {
        cli = Cli.winery(folder);
    }

    private String out(String... lines) {
        return cli.typing(String.join("\n", lines) + "\n", "console").out();
    }

    /** What came back for the last line. */
    private static String last(String out, String line) {
        return out.substring(out.lastIndexOf("sql> " + line));
    }

    @Test
    void variablesLiveOn() {
        String out =
                out(
                        "DECLARE a, b INTEGER DEFAULT 2 + 3;",
                        "DECLARE t VARCHAR(10);",
                        "DECLARE list INTEGER ARRAY[5];",
                        "SET (a, t) = (7, 'x''y');",
                        "SET list = ARRAY[1, a];",
                        "BEGIN DECLARE a INTEGER DEFAULT 100; SET b = a + b; END;",
                        "SELECT a + b AS s FROM (VALUES (1)) AS v(x);",
                        "vars");
        assertTrue(out.contains("s\n  112"), out);
        String vars = last(out, "vars");
        assertTrue(vars.contains("a INTEGER = 7\n"), vars);
        assertTrue(vars.contains("b INTEGER = 105\n"), vars);
        assertTrue(vars.contains("t VARCHAR(10) = 'x'y'\n"), vars);
        assertTrue(vars.contains("list INTEGER ARRAY[5] = [1, 7]"), vars);
        // A statement that fails leaves them as they were.
        out = out("DECLARE a INTEGER DEFAULT 1;", "BEGIN SET a = 2; SET a = 1 / 0; END;", "vars");
        assertTrue(out.contains("22012"), out);
        assertTrue(last(out, "vars").contains("a INTEGER = 1"), out);
    }

    @Test
    void aTextGoesOnToItsSemicolonOrItsEnd() {
        String out =
                out(
                        "SELECT 'a;",
                        "b' AS x -- ; no end",
                        "  FROM lot FETCH FIRST ROW ONLY;",
                        "",
                        "-- nothing",
                        "l: FOR r AS SELECT code FROM vessel WHERE code = 'T1' DO",
                        "  IF r.code = 'T1' THEN REPORT CASE WHEN TRUE THEN 'yes;' END; END IF;",
                        "END FOR;",
                        "REPORT 'last';");
        assertTrue(out.contains("  says  yes;\n"), out);
        assertTrue(out.contains("  says  last\n"), out);
        assertEquals(5, out.split("\n  -> ", -1).length, out);
    }

    @Test
    void eachStatementStandsForItselfUnlessATransactionIsBegun() {
        String out =
                out(
                        "UPDATE vessel SET level_l = 150 WHERE code = 'B1';",
                        "ROLLBACK;",
                        "START TRANSACTION;",
                        "DELETE FROM movement;",
                        "SAVEPOINT s;",
                        "DELETE FROM intake;",
                        "ROLLBACK TO SAVEPOINT s;",
                        "changes",
                        "ROLLBACK;",
                        "changes");
        String before =
                out.substring(out.indexOf("sql> changes"), out.lastIndexOf("sql> ROLLBACK;"));
        assertTrue(before.contains("movement  2 removed"), before);
        assertFalse(before.contains("intake"), before);
        String after = last(out, "changes");
        assertTrue(after.contains("'B1'     level_l 200.0 → 150.0"), after);
        assertFalse(after.contains("movement"), after);
    }

    @Test
    void undoTakesBackOneStatementAfterAnother() {
        String out =
                out(
                        "UPDATE vessel SET level_l = 150 WHERE code = 'B1';",
                        "SELECT code FROM vessel WHERE code = 'B1';",
                        "DECLARE m DECIMAL(8, 1);",
                        "CALL move_wine('T1', 'C7', 20, m);",
                        "undo",
                        "undo",
                        "undo",
                        "changes",
                        "INSERT INTO lot VALUES (99, 2031, 'x');",
                        "INSERT INTO lot VALUES (99, 2031, 'x');",
                        "undo",
                        "changes");
        assertTrue(out.contains("taken back: CALL move_wine"), out);
        assertTrue(out.contains("taken back: UPDATE vessel"), out);
        assertTrue(out.contains("there is nothing to take back"), out);
        assertTrue(out.contains("taken back: INSERT INTO lot"), out);
        assertTrue(last(out, "changes").contains("nothing has changed"), out);
    }

    @Test
    void whatWasDoneBecomesACase() throws IOException {
        String out =
                out(
                        "UPDATE vessel SET level_l = 150",
                        " WHERE code = 'B1';",
                        "DECLARE n INTEGER DEFAULT 5;",
                        "DECLARE m DECIMAL(8, 1);",
                        "CALL move_wine('B1', target => 'C7', litres => n * 4, moved => m);",
                        "CALL move_wine('T2', 'C7', 1, m);",
                        "CALL move_wine('T1', 'C7', 1, m);",
                        "undo",
                        "save case A little wine!",
                        "save case A little wine!");
        assertTrue(out.contains("wrote cases/a_little_wine_.yaml"), out);
        assertTrue(out.contains("cases/a_little_wine_.yaml is there already"), out);
        String text = Files.readString(cli.path("cases/a_little_wine_.yaml"));
        assertTrue(text.contains("pass: { source: B1, target: C7, litres: 20.0 }"), text);
        assertTrue(text.contains("message: \"T2 does not hold 1.0 litres\""), text);
        assertFalse(text.contains("source: T1"), text);
        Cli.Result test = cli.run("test", "cases/a_little_wine_.yaml");
        assertEquals(ExitCode.WELL, test.code(), test.out());
        String none = out("save case x", "save case");
        assertTrue(none.contains("no routine was called yet"), none);
        assertTrue(none.contains("takes the name of the case"), none);
        String late =
                out(
                        "DECLARE m DECIMAL(8, 1);",
                        "CALL move_wine('T1', 'C7', 1, m);",
                        "DELETE FROM movement;",
                        "save case x");
        assertTrue(late.contains("here it came behind one: DELETE FROM movement;"), late);
        assertFalse(Files.exists(cli.path("cases/x.yaml")));
    }

    @Test
    void oneCallBecomesACase() throws IOException {
        Cli.Result saved =
                cli.run(
                        "call",
                        "topping_loss",
                        "vessel=B1",
                        "months=2",
                        "--save-case",
                        "cases/one.yaml");
        assertTrue(saved.err().contains("wrote cases/one.yaml"), saved.err());
        assertEquals(ExitCode.WELL, cli.run("test", "cases/one.yaml").code());
        Cli.Result twice =
                cli.run(
                        "call",
                        "topping_loss",
                        "vessel=B1",
                        "months=2",
                        "--save-case",
                        "cases/one.yaml");
        assertEquals(ExitCode.USAGE, twice.code());
        assertTrue(twice.err().contains("is there already"), twice.err());
    }

    @Test
    void badInputGetsAClearWordAndTheConsoleGoesOn() {
        Cli.Result result =
                cli.typing(
                        "SELCT 1;\nSET nn = 1;\nSELECT * FROM nosuch;\nCREATE PROCEDURE p () BEGIN END;\n"
                                + "DECLARE c CURSOR FOR SELECT 1 FROM lot;\nDECLARE a INTEGER;\n"
                                + "DECLARE a DATE;\nDECLARE b INTEGER DEFAULT 1 / 0;\nvars\n;\n"
                                + "REPORT 'on';\nBEGIN\n  SET a = 1;\n",
                        "console");
        String out = result.out();
        assertEquals(ExitCode.FAILED, result.code());
        assertTrue(out.contains("  SELCT 1;\n  ^^^^^\n  no statement begins with SELCT"), out);
        assertTrue(out.contains("there is no variable nn here"), out);
        assertTrue(out.contains("there is no table nosuch here"), out);
        assertTrue(out.contains("a procedure is written into a file"), out);
        assertTrue(out.contains("cursors, conditions and handlers stand in a block"), out);
        assertTrue(out.contains("there is a variable a already"), out);
        String vars = out.substring(out.indexOf("sql> vars"));
        assertFalse(vars.contains("b INTEGER"), vars);
        assertTrue(vars.contains("says  on"), vars);
        assertTrue(result.err().contains("has no end, and was not run: BEGIN"), result.err());
        assertTrue(cli.run("console", "x").err().contains("console takes no arguments"));
    }

    @Test
    void limitsAreForEachStatement() {
        Cli.Result result =
                cli.typing(
                        "DECLARE i INTEGER DEFAULT 0;\n"
                                + "WHILE i < 400 DO SET i = i + 1; END WHILE;\n"
                                + "WHILE i < 800 DO SET i = i + 1; END WHILE;\n"
                                + "WHILE TRUE DO SET i = i + 1; END WHILE;\nvars\n",
                        "console",
                        "--limit",
                        "statements=1000");
        assertTrue(result.out().contains("UL001"), result.out());
        assertTrue(last(result.out(), "vars").contains("i INTEGER = 800"), result.out());
    }
}
