package dev.cantina.laboratory;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.project.Workspace;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Routines with a mistake of the kind, in which it is found, and sound ones, in which none is. */
class FaultLabTest {
    private static final String TABLES =
            """
            CREATE TABLE account (id INTEGER PRIMARY KEY, amount INTEGER NOT NULL CHECK (amount >= 0));
            CREATE TABLE entry (n INTEGER GENERATED ALWAYS AS IDENTITY PRIMARY KEY, account INTEGER
              REFERENCES account, amount INTEGER);
            CREATE TABLE log (line VARCHAR(80));
            """;

    /** Two updates and a row that belong together. */
    private static final String WORK =
            """
              UPDATE account SET amount = amount - 10 WHERE id = 1;
              UPDATE account SET amount = amount + 10 WHERE id = 2;
              INSERT INTO entry (account, amount) VALUES (1, -10);
            """;

    @TempDir Path folder;

    private FaultReport report(String routines, String settings)
            throws IOException, ProjectException, java.sql.SQLException {
        write("cantina.yaml", "project: bank\nfixture: base\n" + settings);
        write("tables/t.sql", TABLES);
        write("routines/r.sql", routines.replace("WORK", WORK));
        write("fixtures/base/account.csv", "id,amount\n1,100\n2,50\n");
        Project project = ProjectReader.read(folder);
        Clock still = Clock.fixed(Instant.parse("2026-09-20T08:00:00Z"), ZoneOffset.UTC);
        try (RoutineSubject subject =
                new RoutineSubject(
                        "p",
                        List.of(),
                        w ->
                                w.routine("p", List.of()).parameters().stream()
                                        .map(x -> Optional.empty())
                                        .toList(),
                        () -> Workspace.open(project, Optional.of("base")),
                        "cantina debug p",
                        project.limits(),
                        still)) {
            return new FaultLab(subject, 60, () -> false).run();
        }
    }

    private FaultReport report(String routines) throws Exception {
        return report(routines, "");
    }

    private void write(String name, String text) throws IOException {
        Files.createDirectories(folder.resolve(name).getParent());
        Files.writeString(folder.resolve(name), text);
    }

    private static String verdicts(FaultReport report) {
        return report.bad().stream()
                .map(f -> f.weight() + " " + f.faults().get(0).sqlstate() + " " + f.verdict())
                .distinct()
                .collect(Collectors.joining("\n"));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                // Nothing is handled: the whole is taken back.
                "CREATE PROCEDURE p () BEGIN WORK END;",
                "CREATE PROCEDURE p () BEGIN ATOMIC WORK END;",
                // All is taken back by the routine, and the caller told.
                "CREATE PROCEDURE p () BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN ROLLBACK;"
                        + " RESIGNAL; END; START TRANSACTION; WORK COMMIT; END;",
                // Told by a value that is another.
                "CREATE PROCEDURE p (OUT ok BOOLEAN) BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION"
                        + " BEGIN ROLLBACK; SET ok = FALSE; END; START TRANSACTION; WORK COMMIT; SET"
                        + " ok = TRUE; END;",
                // Told by a line.
                "CREATE PROCEDURE p () BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN ROLLBACK;"
                        + " REPORT 'it did not work'; END; START TRANSACTION; WORK COMMIT; END;",
                // An inner block is all or nothing, and is told.
                "CREATE PROCEDURE p (OUT ok INTEGER) BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION SET"
                        + " ok = 0; SET ok = 0; BEGIN ATOMIC WORK END; SET ok = 1; END;",
                // It only reads.
                "CREATE PROCEDURE p (OUT n INTEGER) SELECT COUNT(*) INTO n FROM account;",
                // NOT FOUND is no fault.
                "CREATE PROCEDURE p () BEGIN DECLARE CONTINUE HANDLER FOR NOT FOUND BEGIN END; WORK"
                        + " DELETE FROM entry WHERE n = 99; END;",
                // A line of the log stays, and nothing else.
                "CREATE PROCEDURE p () BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN ROLLBACK;"
                        + " INSERT INTO log VALUES ('failed'); COMMIT; RESIGNAL; END; START"
                        + " TRANSACTION; WORK COMMIT; END;",
                "CREATE PROCEDURE q () BEGIN WORK END; CREATE PROCEDURE p () CALL q();"
            })
    void soundRoutinesHaveNoFindings(String routines) throws Exception {
        FaultReport report = report(routines);
        assertEquals("", verdicts(report), routines);
        assertTrue(report.findings().size() > 2, report.findings().size() + "");
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "CREATE PROCEDURE p () BEGIN DECLARE CONTINUE HANDLER FOR SQLEXCEPTION BEGIN END;"
                        + " WORK END;",
                "CREATE PROCEDURE p () BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN END; WORK"
                        + " END;",
                "CREATE PROCEDURE p (OUT done INTEGER) BEGIN DECLARE CONTINUE HANDLER FOR SQLSTATE"
                        + " '23514' SET done = 1; WORK SET done = 1; END;",
                "CREATE PROCEDURE q () BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN END; WORK"
                        + " END; CREATE PROCEDURE p () CALL q();",
                "CREATE PROCEDURE p () BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION COMMIT; WORK END;"
            })
    void aPartThatStaysInSilenceIsFound(String routines) throws Exception {
        FaultReport report = report(routines);
        assertEquals(4, report.findings().get(0).weight(), verdicts(report));
        assertEquals(FaultFinding.Rows.PART, report.findings().get(0).rows());
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                // The caller is told, and a part is there.
                "CREATE PROCEDURE p () BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN COMMIT;"
                        + " RESIGNAL; END; WORK END;",
                "CREATE PROCEDURE p () BEGIN UPDATE account SET amount = amount - 10 WHERE id = 1;"
                        + " COMMIT; UPDATE account SET amount = amount + 10 WHERE id = 2; END;",
                "CREATE PROCEDURE p (OUT ok BOOLEAN) BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION SET"
                        + " ok = FALSE; WORK SET ok = TRUE; END;"
            })
    void aPartThatStaysAndIsToldIsFound(String routines) throws Exception {
        assertEquals(3, report(routines).findings().get(0).weight());
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "CREATE PROCEDURE p () BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION ROLLBACK; START"
                        + " TRANSACTION; WORK COMMIT; END;",
                "CREATE PROCEDURE p () BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN END; BEGIN"
                        + " ATOMIC WORK END; END;"
            })
    void whatIsNotDoneInSilenceIsFound(String routines) throws Exception {
        FaultReport report = report(routines);
        assertEquals(2, report.findings().get(0).weight(), verdicts(report));
    }

    @Test
    void aTriggersStatementsFailToo() throws Exception {
        FaultReport report =
                report(
                        "CREATE TRIGGER t AFTER UPDATE ON account FOR EACH ROW BEGIN DECLARE EXIT"
                                + " HANDLER FOR SQLEXCEPTION BEGIN END; INSERT INTO log VALUES ('x');"
                                + " END; CREATE PROCEDURE p () BEGIN WORK END;");
        FaultFinding worst = report.findings().get(0);
        assertEquals("t", worst.faults().get(0).routine());
        assertEquals(4, worst.weight(), verdicts(report));
        assertTrue(
                report.findings().stream()
                        .noneMatch(
                                f ->
                                        f.faults().get(0).routine().equals("t")
                                                && f.faults().get(0).sqlstate().equals("40001")));
    }

    @Test
    void aSerializationFailureTakesTheTransactionWithIt() throws Exception {
        // The first two updates are gone, and the row alone stays.
        FaultReport report =
                report(
                        "CREATE PROCEDURE p (OUT n INTEGER) BEGIN DECLARE CONTINUE HANDLER FOR"
                                + " SQLSTATE '40001' BEGIN END; UPDATE account SET amount = amount - 10"
                                + " WHERE id = 1; UPDATE account SET amount = amount + 10 WHERE id ="
                                + " 2; INSERT INTO entry (account, amount) VALUES (1, -10); SET n = 1;"
                                + " END;");
        FaultFinding second =
                report.findings().stream()
                        .filter(f -> f.faults().get(0).toString().startsWith("40001"))
                        .filter(f -> f.statement().contains("+ 10"))
                        .findFirst()
                        .orElseThrow();
        assertEquals(4, second.weight());
        assertEquals(List.of("entry"), second.left().stream().map(t -> t.table().name()).toList());
    }

    @Test
    void aRetryThatWorksDoesItAllTheSame() throws Exception {
        FaultReport report =
                report(
                        """
                        CREATE PROCEDURE p ()
                        BEGIN
                          DECLARE tries INTEGER DEFAULT 0;
                          DECLARE again BOOLEAN DEFAULT TRUE;
                          WHILE again DO
                            SET again = FALSE;
                            SET tries = tries + 1;
                            BEGIN
                              DECLARE EXIT HANDLER FOR SQLSTATE '40001'
                              BEGIN
                                ROLLBACK;
                                IF tries >= 3 THEN RESIGNAL; END IF;
                                SET again = TRUE;
                              END;
                              START TRANSACTION;
                        WORK
                              COMMIT;
                            END;
                          END WHILE;
                        END;
                        """);
        assertEquals("", verdicts(report));
        assertTrue(
                report.findings().stream()
                        .anyMatch(
                                f ->
                                        f.faults().get(0).sqlstate().equals("40001")
                                                && f.rows() == FaultFinding.Rows.ALL));
    }

    @Test
    void whatTheHandlerDoesMayFailAsWell() throws Exception {
        // It takes the first step back by hand; where that fails too, the step stays.
        FaultReport report =
                report(
                        "CREATE PROCEDURE p (OUT ok INTEGER) BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION"
                                + " BEGIN DECLARE CONTINUE HANDLER FOR SQLEXCEPTION BEGIN END; SET ok ="
                                + " 0; UPDATE account SET amount = 100 WHERE id = 1; END; UPDATE account"
                                + " SET amount = amount - 10 WHERE id = 1; INSERT INTO entry (account,"
                                + " amount) VALUES (1, -10); SET ok = 1; END;");
        FaultFinding worst = report.findings().get(0);
        assertEquals(2, worst.faults().size(), verdicts(report));
        assertEquals(FaultFinding.Rows.PART, worst.rows());
    }

    @Test
    void anInvariantIsLookedAt() throws Exception {
        String kept = "invariants:\n  money stays: { same: SELECT SUM(amount) FROM account }\n";
        FaultReport report =
                report(
                        "CREATE PROCEDURE p () BEGIN DECLARE CONTINUE HANDLER FOR SQLEXCEPTION BEGIN"
                                + " END; WORK END;",
                        kept);
        assertEquals(5, report.findings().get(0).weight());
        assertEquals("breaks 'money stays'", report.findings().get(0).verdict());
        assertEquals("", verdicts(report("CREATE PROCEDURE p () BEGIN WORK END;", kept)));
    }

    @Test
    void whatFailsAnywayIsSaid() {
        assertTrue(
                assertThrows(
                                ProjectException.class,
                                () -> report("CREATE PROCEDURE p () SIGNAL SQLSTATE '45000';"))
                        .getMessage()
                        .contains("ends in a condition even when nothing goes wrong"));
        assertTrue(
                assertThrows(
                                ProjectException.class,
                                () ->
                                        report(
                                                "CREATE PROCEDURE p () UPDATE account SET amount = 1;",
                                                "invariants: { money: { same: SELECT SUM(amount) FROM"
                                                        + " account } }\n"))
                        .getMessage()
                        .contains("does not hold even when nothing goes wrong"));
        assertTrue(
                assertThrows(
                                ProjectException.class,
                                () ->
                                        report(
                                                "CREATE PROCEDURE p () UPDATE account SET amount = 1;",
                                                "invariants: { rich: { none: SELECT id FROM account"
                                                        + " WHERE amount < 500 } }\n"))
                        .getMessage()
                        .contains("does not hold before anything was called: (1) (2)"));
    }

    @Test
    void aLoopIsTriedAtItsBeginningAndItsEnd() throws Exception {
        FaultReport report =
                report(
                        "CREATE PROCEDURE p () FOR i IN 1..200 DO INSERT INTO log VALUES ('x' || i); END"
                                + " FOR;");
        assertEquals(200, report.statements());
        assertEquals(196, report.left());
        assertEquals("", verdicts(report));
    }

    @Test
    void aStatementThatIsATextFailsToo() throws Exception {
        FaultReport report =
                report(
                        "CREATE PROCEDURE p () BEGIN DECLARE CONTINUE HANDLER FOR SQLEXCEPTION BEGIN END;"
                                + " EXECUTE IMMEDIATE 'UPDATE account SET amount = 1 WHERE id = 1';"
                                + " UPDATE account SET amount = 2 WHERE id = 2; END;");
        assertTrue(
                report.bad().stream().anyMatch(f -> f.statement().startsWith("EXECUTE IMMEDIATE")));
    }

    @ParameterizedTest
    @ValueSource(strings = {"23505@p:3", "40001@label_code.make:12#4", "08006@\"odd name\":1"})
    void aFaultIsWrittenAsItIsRead(String text) {
        assertEquals(text, Fault.of(text).toString());
    }

    @ParameterizedTest
    @ValueSource(strings = {"", "23505", "23505@p", "235@p:3", "23505@p:x", "23505@p:3#0"})
    void whatIsNoFaultIsRefused(String text) {
        assertThrows(IllegalArgumentException.class, () -> Fault.of(text));
    }
}
