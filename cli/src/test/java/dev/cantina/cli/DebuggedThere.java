package dev.cantina.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

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
}
