package dev.cantina.nativecode;

import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Runs the scripts of a project in a server's own words. A statement that fails because something
 * is not there yet waits for the rest.
 *
 * @param <S> a statement of a script
 */
public abstract class ScriptLoader<S> {
    /**
     * What became of a statement that did not run.
     *
     * @param missing whether it may run when more is there
     */
    public record Failure(boolean missing, Problem problem) {}

    /** The connection that all is run on. */
    protected final Connection connection;

    private final List<Problem> problems = new ArrayList<>();
    private final List<S> done = new ArrayList<>();
    private List<S> waiting = new ArrayList<>();

    protected ScriptLoader(Connection connection) {
        this.connection = connection;
    }

    /** The statements of a script. */
    protected abstract List<S> statements(Source script) throws NativeSyntaxException;

    /** Whether a statement makes a trigger, or says something of one. */
    protected abstract boolean isOfTrigger(S statement);

    /**
     * Runs a statement.
     *
     * @return empty where it has run, or is nothing to be run
     * @throws SQLException where the connection is broken
     */
    protected abstract Optional<Failure> run(S statement) throws SQLException;

    /** What the scripts have set for themselves is set back. */
    protected abstract void restore() throws SQLException;

    /** What is wrong, and what was left out. */
    public List<Problem> problems() {
        return problems;
    }

    /** Takes something that was found wrong, or left out. */
    protected void say(Problem problem) {
        problems.add(problem);
    }

    /** Runs what can be run of scripts, and of what has waited. */
    public void load(List<Source> scripts, ServerCode.Part part) throws SQLException {
        for (Source script : scripts) {
            try {
                for (S statement : statements(script)) {
                    if (part == ServerCode.Part.ALL
                            || part == ServerCode.Part.TRIGGERS == isOfTrigger(statement)) {
                        waiting.add(statement);
                    }
                }
            } catch (NativeSyntaxException e) {
                if (part != ServerCode.Part.TRIGGERS) {
                    problems.add(Problem.error(e.span(), "syntax", e.getMessage()));
                }
            }
        }
        int before = -1;
        while (!waiting.isEmpty() && waiting.size() != before) {
            before = waiting.size();
            List<S> again = new ArrayList<>();
            for (S statement : waiting) {
                Optional<Failure> failure = run(statement);
                if (failure.isEmpty()) {
                    done.add(statement);
                } else if (failure.get().missing()) {
                    again.add(statement);
                } else {
                    problems.add(failure.get().problem());
                }
            }
            waiting = again;
        }
        restore();
    }

    /** All statements that have run, in that order. */
    protected List<S> done() {
        return done;
    }

    /** Whether statements wait for what is not there yet. */
    public boolean waits() {
        return !waiting.isEmpty();
    }

    /** Nothing more will come: what still waits is wrong. */
    public void finish() throws SQLException {
        for (S statement : waiting) {
            run(statement).ifPresent(failure -> problems.add(failure.problem()));
        }
        waiting = new ArrayList<>();
    }
}
