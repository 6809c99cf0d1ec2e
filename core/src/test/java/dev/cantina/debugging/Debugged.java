package dev.cantina.debugging;

import dev.cantina.Lab;
import dev.cantina.runtime.Frame;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Outcome;
import java.sql.SQLException;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** A run under a debugger, whose stops are answered from a list and written down. */
final class Debugged implements AutoCloseable {
    /** What a person says at one stop. */
    interface Answer {
        Resume at(Stop stop) throws DebugException;
    }

    final Lab lab;
    final Debugger debugger;
    final List<String> stops = new ArrayList<>();
    final List<Stop> seen = new ArrayList<>();
    final List<String> told = new ArrayList<>();
    private final Deque<Answer> answers = new ArrayDeque<>();

    Debugged(String tables, String routines) {
        this(tables, routines, true);
    }

    Debugged(String tables, String routines, boolean stopAtStart) {
        lab = new Lab(tables, routines);
        debugger =
                new Debugger(
                        lab.program(),
                        new StopListener() {
                            @Override
                            public Resume stopped(Stop stop) {
                                return Debugged.this.stopped(stop);
                            }

                            @Override
                            public void told(Breakpoint breakpoint, Frame frame, String text) {
                                told.add(text);
                            }

                            @Override
                            public void said(String message) {
                                told.add("says " + message);
                            }
                        },
                        stopAtStart);
    }

    private Resume stopped(Stop stop) {
        seen.add(stop);
        stops.add(stop.frame().routine().name() + ":" + stop.line() + " " + stop.reason());
        try {
            return answers.isEmpty() ? Resume.of(Resume.Kind.CONTINUE) : answers.poll().at(stop);
        } catch (DebugException e) {
            throw new IllegalStateException(e);
        }
    }

    void say(Resume.Kind... kinds) {
        for (Resume.Kind kind : kinds) {
            answers.add(stop -> Resume.of(kind));
        }
    }

    void say(Answer answer) {
        answers.add(answer);
    }

    Outcome run(String routine, Map<String, Object> arguments) {
        return run(routine, arguments, Limits.DEFAULT);
    }

    Outcome run(String routine, Map<String, Object> arguments, Limits limits) {
        try {
            lab.database().keep();
            while (true) {
                lab.database().seed(1);
                debugger.begin(lab.program(), Optional.empty());
                Outcome outcome = lab.call(routine, arguments, limits, Optional.of(debugger));
                if (!debugger.isAgain()) {
                    return outcome;
                }
                lab.database().restore();
            }
        } catch (SQLException e) {
            throw new IllegalStateException(e);
        }
    }

    @Override
    public void close() {
        lab.close();
    }
}
