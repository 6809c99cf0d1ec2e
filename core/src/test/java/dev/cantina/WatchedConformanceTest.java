package dev.cantina;

import static org.junit.jupiter.api.Assertions.assertFalse;

import dev.cantina.debugging.Debugger;
import dev.cantina.debugging.Resume;
import dev.cantina.debugging.Stop;
import dev.cantina.observe.Profile;
import dev.cantina.observe.Trace;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Outcome;
import java.io.IOException;
import java.sql.SQLException;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.stream.Stream;
import org.junit.jupiter.api.Assumptions;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/**
 * The conformance programs once more, watched: whoever traces, profiles or debugs a routine, back
 * and forth, sees it do what it does unwatched.
 */
public class WatchedConformanceTest {
    private static final int STOPS = 40;
    private static final List<Resume.Kind> STEPS =
            List.of(
                    Resume.Kind.INTO,
                    Resume.Kind.INTO,
                    Resume.Kind.OVER,
                    Resume.Kind.OVER,
                    Resume.Kind.OUT,
                    Resume.Kind.BACK,
                    Resume.Kind.BACK_INTO,
                    Resume.Kind.RESTART);

    static Stream<ConformanceTest.Section> sections() throws IOException {
        return ConformanceTest.sections().stream()
                .filter(s -> s.lines().stream().noneMatch(l -> l.startsWith("problem: ")));
    }

    private static void watched(ConformanceTest.Section section, ConformanceTest.Caller caller)
            throws Exception {
        try (Lab lab = ConformanceTest.lab(section)) {
            ConformanceTest.calls(ConformanceTest.ground(lab, caller), section.lines());
        }
    }

    @ParameterizedTest(name = "{0}")
    @MethodSource("sections")
    void isTheSameWhenTraced(ConformanceTest.Section section) throws Exception {
        watched(
                section,
                (lab, routine, arguments) ->
                        lab.call(
                                routine,
                                arguments,
                                Limits.DEFAULT,
                                Optional.of(new Trace(event -> {}))));
    }

    @ParameterizedTest(name = "{0}")
    @MethodSource("sections")
    void isTheSameWhenProfiled(ConformanceTest.Section section) throws Exception {
        watched(
                section,
                (lab, routine, arguments) ->
                        lab.call(routine, arguments, Limits.DEFAULT, Optional.of(new Profile())));
    }

    @ParameterizedTest(name = "{0}")
    @MethodSource("sections")
    void isTheSameWhenDebuggedBackAndForth(ConformanceTest.Section section) throws Exception {
        Random random = new Random(section.behaviour().hashCode());
        watched(section, (lab, routine, arguments) -> walked(lab, routine, arguments, random));
    }

    private static Outcome walked(
            Lab lab, String routine, Map<String, Object> arguments, Random random)
            throws SQLException {
        int[] stops = new int[1];
        Debugger[] debugger = new Debugger[1];
        debugger[0] =
                new Debugger(
                        lab.program(),
                        stop -> Resume.of(step(debugger[0], stop, stops, random)),
                        true);
        lab.database().keep();
        while (true) {
            debugger[0].begin(lab.program(), Optional.empty());
            lab.database().seed(1);
            Outcome outcome =
                    lab.call(routine, arguments, Limits.DEFAULT, Optional.of(debugger[0]));
            if (!debugger[0].isAgain()) {
                assertFalse(debugger[0].isStrayed(), "the run went another way");
                return outcome;
            }
            // Where the program has changed the tables themselves, a whole new lab is wanted.
            Assumptions.assumeFalse(lab.database().isAltered());
            lab.database().restore();
        }
    }

    /** One of the steps, back and forth; after so many stops it only goes on. */
    public static Resume.Kind step(Debugger debugger, Stop stop, int[] stops, Random random) {
        if (++stops[0] > STOPS) {
            return Resume.Kind.CONTINUE;
        }
        Resume.Kind kind = STEPS.get(random.nextInt(STEPS.size()));
        boolean back = kind == Resume.Kind.BACK || kind == Resume.Kind.BACK_INTO;
        boolean possible = debugger.hasBefore(stop) && stop.moment().begun() > 1;
        return back && !possible ? Resume.Kind.OVER : kind;
    }
}
