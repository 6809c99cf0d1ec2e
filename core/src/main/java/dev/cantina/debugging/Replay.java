package dev.cantina.debugging;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.runtime.Frame;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Deque;
import java.util.List;

/**
 * A run that is repeated up to a moment: nothing stops it on the way, and what a person did in it
 * is done again at its time.
 */
final class Replay {
    private final ReplayLog story = new ReplayLog();
    private final List<String> notes = new ArrayList<>();
    private Deque<ReplayLog.Step> todo = new ArrayDeque<>();
    private ExecutionPoint target;
    private Stop.Reason reason = Stop.Reason.BACK;

    // To find when a line was last reached: the frame is known by what called it, and when.
    private int line;
    private BoundRoutine routine;
    private String wanted;
    private List<Long> callers = List.of();
    private ExecutionPoint found;

    /** Whether the first statement of a call is looked for, and not a line. */
    private boolean start;

    /** Whether the last breakpoint before the target is looked for. */
    private boolean passing;

    private Breakpoint passed;

    ReplayLog story() {
        return story;
    }

    /** Whether a run is to be repeated, or is being repeated. */
    boolean isOn() {
        return target != null;
    }

    /** The next run goes to a moment. */
    void to(ExecutionPoint moment, Stop.Reason why) {
        line = 0;
        start = false;
        passing = false;
        found = null;
        target = moment;
        reason = why;
        int undone = story.forgetAfter(moment);
        if (undone > 0) {
            note(
                    undone == 1
                            ? "what you changed after this moment is undone"
                            : "the "
                                    + undone
                                    + " changes that you made after this moment are undone");
        }
        todo = story.until(moment);
    }

    void restart() {
        passed = null;
        to(ExecutionPoint.before(1), Stop.Reason.START);
    }

    /** The next run finds out when a frame last stood at a line before a stop. */
    void find(Stop stop, int wantedLine) {
        target = stop.moment();
        reason = Stop.Reason.BACK;
        line = wantedLine;
        routine = stop.frame().routine();
        callers = callers(stop.frame());
        wanted = routine.name() + ":" + wantedLine;
        found = null;
        todo = story.until(target);
    }

    /** The next run finds out when a frame that waits or stands began. */
    void findStart(Stop stop, Frame frame) {
        find(stop, 0);
        start = true;
        routine = frame.routine();
        callers = callers(frame);
        wanted = routine.name();
    }

    /** The next run finds out at which breakpoint it was last before a stop. */
    void findBreakpoint(Stop stop) {
        find(stop, 0);
        passing = true;
        passed = null;
    }

    /** Whether breakpoints on the way are looked at. */
    boolean seeksBreakpoint() {
        return passing;
    }

    /** A breakpoint is reached on the way. */
    void passes(ExecutionPoint moment, Breakpoint breakpoint) {
        if (target.isAfter(moment)) {
            found = moment;
            passed = breakpoint;
        }
    }

    /** The breakpoint that the run was brought back to; null for none. */
    Breakpoint breakpoint() {
        return passed;
    }

    private static List<Long> callers(Frame frame) {
        List<Long> moments = new ArrayList<>();
        for (Frame f = frame.caller(); f != null; f = f.caller()) {
            moments.add(f.moment);
        }
        return moments;
    }

    void note(String text) {
        notes.add(text);
    }

    /** At which count of statements the run must be looked at next. */
    long next() {
        ExecutionPoint next = ReplayLog.next(todo).orElse(target);
        return next.phase() == ExecutionPoint.Phase.BEFORE ? next.statement() : Long.MAX_VALUE;
    }

    /** Marks the statements at the line that is looked for. */
    void mark(Frame frame) {
        if (start && frame.routine().name().equals(routine.name())) {
            Arrays.fill(frame.watch, (byte) 1);
        }
        if (line > 0 && frame.routine().name().equals(routine.name())) {
            for (int i = 0; i < frame.routine().places().size(); i++) {
                if (frame.routine().places().get(i).span().line() == line) {
                    frame.watch[i] = 1;
                }
            }
        }
    }

    /** What is to be done again at a moment. */
    List<ReplayLog.Step> due(long statement, ExecutionPoint.Phase phase) {
        List<ReplayLog.Step> due = new ArrayList<>();
        while (!todo.isEmpty()
                && todo.peek().moment().statement() == statement
                && todo.peek().moment().phase() == phase) {
            due.add(todo.poll());
        }
        return due;
    }

    /** Whether the moment is reached; looks for the line on the way. */
    boolean isThere(Frame frame, ExecutionPoint.Phase phase) {
        boolean there = frame.moment == target.statement() && phase == target.phase();
        if (start
                && phase == ExecutionPoint.Phase.BEFORE
                && frame.earlier == 0
                && frame.routine().name().equals(routine.name())
                && callers(frame).equals(callers)) {
            found = ExecutionPoint.before(frame.moment);
        }
        if (line > 0
                && !(there && phase == ExecutionPoint.Phase.BEFORE)
                && phase == ExecutionPoint.Phase.BEFORE
                && frame.place().span().line() == line
                && frame.routine().name().equals(routine.name())
                && callers(frame).equals(callers)) {
            found = ExecutionPoint.before(frame.moment);
        }
        return there;
    }

    /** Whether the run has shown when the line was last reached: the next one goes there. */
    boolean isFound() {
        if (passing && found == null) {
            passing = false;
            note("no breakpoint was reached before; this is the start");
            to(ExecutionPoint.before(1), Stop.Reason.BACK);
            return true;
        }
        if (line == 0 && !start && !passing) {
            return false;
        }
        if (found == null) {
            note(wanted + " was not reached before, in this call; this is where you were");
            return false;
        }
        to(found, Stop.Reason.BACK);
        return true;
    }

    Stop.Reason reason() {
        return reason;
    }

    /** The moment is reached: from here on the run goes on as it is told. */
    List<String> arrived() {
        List<String> all = List.copyOf(notes);
        notes.clear();
        target = null;
        line = 0;
        start = false;
        passed = null;
        return all;
    }
}
