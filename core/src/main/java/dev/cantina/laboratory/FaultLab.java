package dev.cantina.laboratory;

import dev.cantina.catalog.Column;
import dev.cantina.project.ProjectException;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.ResultRows;
import dev.cantina.runtime.RowEvent;
import dev.cantina.runtime.TableChanges;
import dev.cantina.types.Values;
import dev.cantina.types.Words;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.function.BooleanSupplier;

/**
 * Lets each statement of a run that touches data fail, with each condition that can come to it, one
 * run each; and once more each statement that is then run because of it.
 */
public final class FaultLab {
    /** How often one statement is tried: the first times that it is run, and the last. */
    private static final int TIMES = 3;

    /** How many second faults are tried at most behind one first. */
    private static final int SECONDS = 12;

    private final Subject subject;
    private final double seconds;
    private final BooleanSupplier isCalledOff;
    private FaultKinds kinds;
    private Subject.Ran whole;
    private boolean opensAnyway;

    /**
     * @param seconds after which no more is tried
     * @param isCalledOff asked between two runs; throws nothing
     */
    public FaultLab(Subject subject, double seconds, BooleanSupplier isCalledOff) {
        this.subject = subject;
        this.seconds = seconds;
        this.isCalledOff = isCalledOff;
    }

    /**
     * Tries them all.
     *
     * @throws ProjectException where the run does not complete even without a fault, or an
     *     invariant does not hold before it or after it
     */
    public FaultReport run() throws ProjectException, SQLException {
        kinds = FaultKinds.of(subject.workspace().database(), subject.workspace().catalog());
        long start = System.nanoTime();
        List<Tried> touches = undisturbed();
        List<Tried> chosen = chosen(touches);
        List<FaultFinding> findings = new ArrayList<>();
        boolean cut = false;
        for (Tried touch : chosen) {
            for (String state : touch.states) {
                cut = isOver(start);
                if (cut) {
                    break;
                }
                findings.addAll(tried(touch.fault(state), touch.statement));
            }
        }
        findings.sort(Comparator.comparingInt(FaultFinding::weight).reversed());
        return new FaultReport(
                subject.title(),
                subject.replay(),
                findings,
                touches.size(),
                touches.size() - chosen.size(),
                cut,
                (System.nanoTime() - start) / 1e6);
    }

    private boolean isOver(long start) {
        return (System.nanoTime() - start) / 1e9 > seconds || isCalledOff.getAsBoolean();
    }

    /** A statement that touched data, with the conditions that can come to it. */
    private record Tried(
            String routine, int line, int time, String statement, List<String> states) {
        Fault fault(String state) {
            return new Fault(state, routine, line, time);
        }

        String place() {
            return routine + ":" + line;
        }
    }

    private Tried tried(FaultProbe.Touch touch) {
        return new Tried(
                touch.routine(),
                touch.line(),
                touch.time(),
                touch.frame().place().span().text().strip().replaceAll("\\s+", " "),
                kinds.of(touch.frame(), touch.performed()));
    }

    /** The run in which nothing goes wrong. */
    private List<Tried> undisturbed() throws ProjectException, SQLException {
        List<Tried> touches = new ArrayList<>();
        FaultProbe probe =
                new FaultProbe(List.of(), Optional.empty(), touch -> touches.add(tried(touch)));
        whole = subject.run(probe);
        opensAnyway = probe.isLeftOpen();
        if (whole.outcome().kind() != Outcome.Kind.COMPLETED) {
            throw new ProjectException(
                    subject.title()
                            + " ends in a condition even when nothing goes wrong: "
                            + whole.outcome().condition().orElseThrow().message());
        }
        if (!whole.broken().isEmpty()) {
            throw new ProjectException(
                    "'"
                            + whole.broken().get(0).invariant().name()
                            + "' does not hold even when nothing goes wrong: expected "
                            + Values.text(text(whole.broken().get(0).expected()))
                            + ", it is "
                            + Values.text(text(whole.broken().get(0).actual())));
        }
        return touches;
    }

    private static Object text(Object value) {
        return value instanceof Words words ? words.text() : value;
    }

    private static List<Tried> chosen(List<Tried> touches) {
        Map<String, Integer> last = new HashMap<>();
        touches.forEach(t -> last.put(t.place(), t.time));
        return touches.stream()
                .filter(t -> t.time <= TIMES || t.time == last.get(t.place()))
                .toList();
    }

    /** A fault, and those that come behind it. */
    private List<FaultFinding> tried(Fault fault, String statement)
            throws ProjectException, SQLException {
        List<FaultFinding> findings = new ArrayList<>();
        List<Tried> behind = new ArrayList<>();
        findings.add(finding(List.of(fault), statement, behind));
        Set<String> seen = new HashSet<>();
        for (Tried second : behind) {
            if (seen.size() >= SECONDS || !seen.add(second.place() + "#" + second.time)) {
                continue;
            }
            // One that can be handled, and one that can't.
            for (String state : List.of(second.states.contains("53100") ? "53100" : "57014")) {
                List<Fault> both = List.of(fault, second.fault(state));
                findings.add(finding(both, second.statement, new ArrayList<>()));
            }
        }
        return findings;
    }

    /**
     * @param behind takes the statements that touch data when the first fault has come
     */
    private FaultFinding finding(List<Fault> faults, String statement, List<Tried> behind)
            throws ProjectException, SQLException {
        FaultProbe[] probe = new FaultProbe[1];
        probe[0] =
                new FaultProbe(
                        faults,
                        Optional.empty(),
                        touch -> {
                            if (probe[0].reached() > 0) {
                                behind.add(tried(touch));
                            }
                        });
        Subject.Ran ran = subject.run(probe[0]);
        return new FaultFinding(
                faults,
                statement,
                rows(ran),
                TableChanges.of(ran.events()),
                isTold(ran.outcome()),
                probe[0].isLeftOpen()
                        && !opensAnyway
                        && ran.outcome().kind() == Outcome.Kind.COMPLETED,
                ran.broken(),
                ran.outcome());
    }

    /** Whether a caller sees that it was not as it is when nothing goes wrong. */
    private boolean isTold(Outcome outcome) {
        Outcome good = whole.outcome();
        return outcome.kind() != Outcome.Kind.COMPLETED
                || !sameValues(outcome.out(), good.out())
                || !Values.same(outcome.returned(), good.returned())
                || !sameRows(outcome.results(), good.results())
                || !outcome.messages().equals(good.messages())
                || !outcome.warnings().equals(good.warnings());
    }

    private static boolean sameValues(Map<String, Object> one, Map<String, Object> other) {
        return one.keySet().equals(other.keySet())
                && one.entrySet().stream()
                        .allMatch(e -> Values.same(e.getValue(), other.get(e.getKey())));
    }

    private static boolean sameRows(List<ResultRows> one, List<ResultRows> other) {
        if (one.size() != other.size()) {
            return false;
        }
        for (int i = 0; i < one.size(); i++) {
            if (!Values.same(one.get(i).rows().toArray(), other.get(i).rows().toArray())) {
                return false;
            }
        }
        return true;
    }

    // ------------------------------------------------------------------ rows

    private FaultFinding.Rows rows(Subject.Ran ran) {
        List<RowEvent> events = kept(ran.events());
        List<RowEvent> wanted = kept(whole.events());
        if (events.isEmpty()) {
            boolean done = wanted.isEmpty() && ran.outcome().kind() == Outcome.Kind.COMPLETED;
            return done ? FaultFinding.Rows.ALL : FaultFinding.Rows.NONE;
        }
        if (counted(events, true).equals(counted(wanted, true))) {
            return FaultFinding.Rows.ALL;
        }
        Set<String> touched = counted(wanted, false).keySet();
        boolean meets = counted(events, false).keySet().stream().anyMatch(touched::contains);
        return meets ? FaultFinding.Rows.PART : FaultFinding.Rows.OTHERS;
    }

    /** Without rows that were changed and changed back. */
    private static List<RowEvent> kept(List<RowEvent> events) {
        return events.stream()
                .filter(
                        e ->
                                e.before() == null
                                        || e.after() == null
                                        || !Values.same(e.before(), e.after()))
                .toList();
    }

    /**
     * Rows by what tells them: what they have become, or only which they are. Numbers that are
     * given to rows count for nothing: one that was given and taken back is not given again.
     */
    private static Map<String, Integer> counted(List<RowEvent> events, boolean values) {
        Map<String, Integer> counts = new HashMap<>();
        for (RowEvent event : events) {
            StringBuilder text = new StringBuilder(event.table().key());
            if (event.before() != null) {
                text.append(" was ").append(key(event));
            }
            if (event.after() == null) {
                text.append(" gone");
            } else if (values || event.before() == null) {
                text.append(" is").append(shown(event));
            }
            counts.merge(text.toString(), 1, Integer::sum);
        }
        return counts;
    }

    private static String key(RowEvent event) {
        StringBuilder key = new StringBuilder();
        List<Integer> columns = event.table().primaryKey();
        for (int i = 0; i < event.before().length; i++) {
            if (columns.isEmpty() || columns.contains(i)) {
                key.append(Values.literal(event.before()[i])).append(' ');
            }
        }
        return key.toString();
    }

    private static String shown(RowEvent event) {
        StringBuilder shown = new StringBuilder();
        for (int i = 0; i < event.after().length; i++) {
            Column column = event.table().columns().get(i);
            if (!column.identity()) {
                shown.append(' ').append(Objects.toString(Values.literal(event.after()[i])));
            }
        }
        return shown.toString();
    }
}
