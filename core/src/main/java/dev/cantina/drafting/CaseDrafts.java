package dev.cantina.drafting;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Outcome;
import dev.cantina.testing.CaseRunner;
import java.sql.SQLException;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Drafts the cases of a routine: it is run with many arguments, and a run is kept for each thing
 * that no run before it has shown. What was seen of it stands under {@code seen:}, for a person to
 * judge. The same routine on the same rows gives the same cases, unless time runs out.
 */
public final class CaseDrafts {
    /**
     * What was drafted.
     *
     * @param unsteady arguments of calls that end in a condition in one run and not in another
     */
    public record Drafted(
            String text,
            int cases,
            int tried,
            List<Integer> unreached,
            boolean outOfTime,
            List<Map<String, Object>> unsteady) {}

    private static final int MOST_CASES = 40;

    private final CaseRunner second;
    private final RoutineSymbol routine;
    private final Optional<LocalDateTime> clock;
    private final Optional<String> fixture;
    private final ArgumentSearch search;

    /**
     * @param second makes what is kept once more, in a session and a transaction of its own
     * @param clock what the current time is in the cases; empty where it can't be set
     * @param fixture said in the file; empty for the project's own
     * @param seconds how long to try at most
     */
    public CaseDrafts(
            CaseRunner runner,
            CaseRunner second,
            Workspace workspace,
            RoutineSymbol routine,
            Optional<LocalDateTime> clock,
            Optional<String> fixture,
            int seconds)
            throws SQLException {
        this.second = second;
        this.routine = routine;
        this.clock = clock;
        this.fixture = fixture;
        this.search =
                new ArgumentSearch(
                        runner, workspace, routine, clock, fixture, List.of(), false, seconds);
    }

    /**
     * Tries, chooses, and writes.
     *
     * @throws ProjectException where not even one run can be made
     */
    public Drafted draft() throws ProjectException {
        List<ArgumentSearch.Run> kept = new ArrayList<>(search.search());
        choose(kept);
        return written(kept);
    }

    /** Those that show something new, the ones nearest to the first before the others. */
    private void choose(List<ArgumentSearch.Run> kept) {
        Set<String> known = new HashSet<>();
        List<ArgumentSearch.Run> unique = new ArrayList<>(new LinkedHashSet<>(kept));
        kept.clear();
        kept.addAll(unique);
        kept.forEach(r -> known.addAll(r.items()));
        for (ArgumentSearch.Run run : search.runs()) {
            boolean limited = run.outcome().kind() == Outcome.Kind.LIMITED;
            if (!limited && kept.size() < MOST_CASES && !known.containsAll(run.items())) {
                known.addAll(run.items());
                kept.add(run);
            }
        }
        kept.removeIf(r -> r.outcome().kind() == Outcome.Kind.LIMITED);
    }

    // ------------------------------------------------------------------ the file

    private Drafted written(List<ArgumentSearch.Run> kept) throws ProjectException {
        Map<String, Object> base = kept.isEmpty() ? Map.of() : kept.get(0).arguments();
        SeenCases.Written file =
                SeenCases.of(
                        "# Drafted from what was seen. Judge each case: what is right is moved out from\n"
                                + "# under seen:, and what is not right is a mistake that was found.\n",
                        routine.name(),
                        fixture,
                        clock,
                        kept,
                        base,
                        search,
                        second);
        return new Drafted(
                file.text(),
                kept.size() - file.unsteady().size(),
                search.runs().size(),
                search.unreached(),
                search.isOutOfTime(),
                file.unsteady());
    }
}
