package dev.cantina.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;

/** A trigger debugged on a server, beside the same on the embedded database. */
final class DebuggedThere {
    private static final String WORDS =
            """
            pause at vessel_journal:7 when now.code = 'T1'
            pause on write to journal
            continue
            vars
            eval (SELECT COUNT(*) FROM vessel WHERE level_l > was.level_l)
            stack
            rows vessel where code = 'T1'
            transaction
            into
            back
            back into
            continue
            quit
            """;

    private DebuggedThere() {}

    /** All that is shown is the same. */
    static void asHere(Cli cli, String place) {
        String[] wanted = {"debug", "move_wine", "source=T1", "target=C7", "litres=120", "--fresh"};
        Cli.Result here = cli.typing(WORDS, wanted);
        List<String> there = new ArrayList<>(List.of(wanted));
        there.addAll(List.of("--on", place, "--fixture", "cellar"));
        Cli.Result on = cli.typing(WORDS, there.toArray(String[]::new));
        String moment = "at \\d{4}-[-\\d]+ [:.\\d]+";
        assertEquals(here.out().replaceAll(moment, ""), on.out().replaceAll(moment, ""));
        assertTrue(on.out().contains("vessel_journal stopped at line 7"), on.out());
    }

    /** Where a condition is handled the server answers, and takes what is changed. */
    static void inAHandler(Cli cli, String place) throws IOException {
        cli.write(
                "routines/risky.sql",
                """
                CREATE FUNCTION risky (n INTEGER) RETURNS INTEGER
                BEGIN
                  DECLARE kept INTEGER DEFAULT 1;
                  DECLARE EXIT HANDLER FOR SQLSTATE '22012' RETURN kept;
                  SET kept = 7;
                  RETURN 10 / (n - 1);
                END;
                CREATE PROCEDURE dares (OUT r INTEGER)
                  SELECT risky(1) INTO r FROM vessel WHERE code = 'T1';
                """);
        String words =
                """
                pause on exception
                continue
                vars
                rows vessel where code = 'T1'
                eval (SELECT COUNT(*) FROM vessel)
                set kept = 42
                continue
                """;
        String here = cli.typing(words, "debug", "dares", "--fresh").out();
        String there =
                cli.typing(words, "debug", "dares", "--fresh", "--on", place, "--fixture", "cellar")
                        .out();
        String count = "\\(\\d+ statements.*";
        assertEquals(here.replaceAll(count, ""), there.replaceAll(count, ""));
        assertTrue(there.contains("gives r = 42"), there);
    }
}
