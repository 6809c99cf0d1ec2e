package dev.cantina.racing;

import dev.cantina.database.ProjectDatabase;
import dev.cantina.project.ProjectException;
import dev.cantina.runtime.Outcome;
import dev.cantina.types.Condition;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;

/** One order of steps, as it is made. */
final class RaceCourse {
    /** How long sessions may wait for each other, and nobody ends one of them. */
    static final long PATIENCE_NANOS = 10_000_000_000L;

    /** What makes more steps can't be tried in many orders, and may never end. */
    private static final int MOST_STEPS = 1000;

    private final List<RaceSession> sessions;
    private final Object monitor;
    private final ProjectDatabase watching;
    private final List<RaceStep> steps = new ArrayList<>();
    private final List<List<Integer>> choices = new ArrayList<>();

    /** The last step of each session, by its place in the list. */
    private final Map<Integer, Integer> last = new HashMap<>();

    private final Set<Integer> blocked = new HashSet<>();
    private boolean deadlock;
    private boolean hanging;

    RaceCourse(List<RaceSession> sessions, Object monitor, ProjectDatabase watching) {
        this.sessions = sessions;
        this.monitor = monitor;
        this.watching = watching;
    }

    void run(List<Integer> order) throws ProjectException, SQLException {
        int current = 0;
        while (true) {
            settle();
            List<Integer> standing;
            synchronized (monitor) {
                standing = RaceSession.standing(sessions);
                if (standing.isEmpty()) {
                    break;
                }
                if (steps.size() >= MOST_STEPS) {
                    throw new ProjectException(
                            "the calls make more than "
                                    + MOST_STEPS
                                    + " steps that touch data, the last in "
                                    + steps.get(steps.size() - 1).routine()
                                    + ": too many to be put in other orders");
                }
                current = chosen(standing, order, current);
                choices.add(first(standing, current));
                last.put(current, steps.size());
                RaceSession session = session(current);
                steps.add(session.next());
                session.grant();
            }
        }
        synchronized (monitor) {
            sessions.forEach(this::note);
        }
    }

    private int chosen(List<Integer> standing, List<Integer> order, int current) {
        int wanted = steps.size() < order.size() ? order.get(steps.size()) : current;
        return standing.contains(wanted) ? wanted : standing.get(0);
    }

    private static List<Integer> first(List<Integer> standing, int chosen) {
        List<Integer> all = new ArrayList<>(List.of(chosen));
        standing.stream().filter(s -> s != chosen).forEach(all::add);
        return all;
    }

    private RaceSession session(int number) {
        return sessions.stream().filter(s -> s.number() == number).findFirst().orElseThrow();
    }

    /** What the last step of a session came to. */
    private void note(RaceSession session) {
        Integer at = last.get(session.number());
        if (at != null) {
            steps.set(
                    at,
                    steps.get(at)
                            .done(
                                    session.rows(),
                                    steps.get(at).waited() || blocked.contains(session.number()),
                                    session.raised()));
        }
    }

    /** Waits until each session stands, has ended, or waits for a lock of another. */
    private void settle() throws SQLException {
        long since = System.nanoTime();
        int pause = watching.lockWaitPauseMillis();
        Map<Integer, Integer> seen = new HashMap<>();
        while (true) {
            List<RaceSession> running = new ArrayList<>();
            synchronized (monitor) {
                for (RaceSession session : sessions) {
                    if (session.state() == RaceSession.State.RUNS) {
                        running.add(session);
                    } else {
                        note(session);
                        blocked.remove(session.number());
                    }
                }
                if (running.isEmpty()) {
                    return;
                }
                try {
                    monitor.wait(pause);
                } catch (InterruptedException e) {
                    Thread.currentThread().interrupt();
                    return;
                }
            }
            boolean allWait = true;
            for (RaceSession session : running) {
                boolean waits =
                        session.state() == RaceSession.State.RUNS
                                && watching.waitsForLock(
                                        session.connection().database(), session.thread());
                int times = waits ? seen.merge(session.number(), 1, Integer::sum) : 0;
                allWait &= times >= watching.lockWaitLooks();
                if (!waits) {
                    seen.remove(session.number());
                }
            }
            synchronized (monitor) {
                boolean still = running.stream().allMatch(s -> s.state() == RaceSession.State.RUNS);
                if (allWait && still) {
                    running.forEach(s -> waits(s.number()));
                    boolean anyStands = !RaceSession.standing(sessions).isEmpty();
                    if (anyStands) {
                        return;
                    }
                    // All that are left wait for each other, or for somebody from outside.
                    deadlock |= running.size() > 1;
                }
                if (System.nanoTime() - since > PATIENCE_NANOS) {
                    if (hanging) {
                        throw new SQLException(
                                "the sessions wait without end, and can't be ended", "57014");
                    }
                    hanging = true;
                    running.forEach(RaceSession::cancel);
                    since = System.nanoTime();
                }
            }
        }
    }

    private void waits(int number) {
        blocked.add(number);
        Integer at = last.get(number);
        if (at != null) {
            RaceStep step = steps.get(at);
            steps.set(at, step.done(step.rows(), true, step.raised()));
        }
    }

    RaceRun came(List<RaceCall.Found> calls, RaceRows.End end)
            throws ProjectException, SQLException {
        List<Outcome> outcomes = new ArrayList<>();
        for (RaceSession session : sessions) {
            if (session.failure().isPresent()) {
                throw failure(session.failure().get());
            }
            outcomes.add(session.outcome());
            boolean waited = steps.stream().anyMatch(RaceStep::waited);
            deadlock |=
                    waited
                            && session.outcome()
                                    .condition()
                                    .filter(RaceCourse::isDeadlock)
                                    .isPresent();
        }
        return new RaceRun(
                List.copyOf(steps),
                List.copyOf(choices),
                List.copyOf(calls),
                List.copyOf(outcomes),
                end.rows(),
                end.numbers(),
                end.broken(),
                deadlock,
                hanging);
    }

    private static RuntimeException failure(Throwable failed)
            throws ProjectException, SQLException {
        if (failed instanceof SQLException sql) {
            throw sql;
        }
        if (failed instanceof RuntimeException unchecked) {
            throw unchecked;
        }
        throw new IllegalStateException(failed);
    }

    /** Whether a session was ended since it and another waited for each other. */
    static boolean isDeadlock(Condition condition) {
        boolean says =
                condition.message() != null
                        && condition.message().toLowerCase(Locale.ROOT).contains("deadlock");
        return condition.sqlstate().equals("40P01")
                || condition.sqlstate().startsWith("40") && says;
    }
}
