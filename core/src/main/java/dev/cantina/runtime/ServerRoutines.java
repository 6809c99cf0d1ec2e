package dev.cantina.runtime;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import dev.cantina.types.Condition;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.Optional;

/** Routines in a server's own language, which that server runs. */
public interface ServerRoutines {
    /** Stands for an argument that is not given: its default is the server's business. */
    Object OMITTED = new Object();

    /**
     * What a call came to.
     *
     * @param values all parameters after it, and the result last: a value, or rows
     */
    record Called(Object[] values) {}

    /**
     * Calls a routine on the session's connection.
     *
     * @param values for all parameters; {@link #OMITTED} for those that are not given
     * @throws SQLException as the server raises it
     */
    Called call(RoutineSymbol routine, Object[] values, ServerRun run) throws SQLException;

    /**
     * Somebody is going to watch runs, before any row is changed: what has to stand for that is
     * made now, where it can't be made later.
     *
     * @param detail how much the probe wants; empty where routines are only replaced
     * @return whether something was made that is to be kept with the rows
     */
    default boolean expect(Optional<Probe.Detail> detail) throws SQLException {
        return false;
    }

    /**
     * Runs a script in the server's own words, statement by statement.
     *
     * @throws SQLException as the server raises it
     */
    void script(Source script, ServerRun run) throws SQLException;

    /**
     * The statements of a script in the server's own words.
     *
     * @throws SQLException where something in it has no end
     */
    List<Span> statements(Source script) throws SQLException;

    /** Those in the server's own language that can be looked into, as they are numbered there. */
    List<BoundRoutine> routines();

    /** Whether a routine can be looked into where the server runs it. */
    default boolean tellsOf(BoundRoutine routine) {
        return routines().contains(routine);
    }

    /** Where a condition was raised inside the server, innermost first. */
    List<StackEntry> stack(SQLException error);

    /** What a session is for a routine that a server runs. */
    interface ServerRun {
        Session session();

        /** Says what is running, so that it can be cancelled; null for nothing. */
        void running(Statement statement);

        /** Takes what the routine has said. */
        void told(String message);

        /** The rows of a result, to its end. */
        ResultRows read(ResultSet result) throws SQLException;

        /** One more set of rows that the routine has handed out. */
        void result(ResultRows rows);

        /** What watches the run, where the routine is to tell of itself. */
        Optional<Probe> probe();

        /** What replaces routines in the run. */
        Optional<StandIn> standIn();

        /** With whose rights it is run; empty for those of the project. */
        Optional<String> role();

        /** What an error is raised as, told to the probe. */
        RuntimeException failed(Throwable error);

        /** A routine has begun. */
        void entered(Frame frame);

        /** What time it was when the next things happened, in nanoseconds; 0 for now. */
        void time(long nanos);

        /**
         * The statement that a frame is at has changed rows.
         *
         * @param from how far the log of changes had got before
         */
        void wrote(Frame frame, long from, long rows);

        /**
         * What is written from here on is again the doing of the statement that the server runs.
         *
         * @param from how far the log of changes has got
         */
        void wroteOn(long from);

        /** A statement of the routine on the top of the stack is about to run. */
        void reached(Frame frame, int statement);

        /** A statement was reached some more times. */
        void counted(Frame frame, int statement, long times);

        /** Some of the last runs of a frame's statements were not told. */
        void cutShort(Frame frame);

        /** Statements have run some times since something was told last. */
        void passed(Frame frame, long[] times);

        /** A condition was raised in it. */
        void raised(Frame frame, Condition condition);

        /** It has run to its end. */
        void ending(Frame frame);

        /** It has ended; the condition is null where it completed. */
        void left(Frame frame, Condition condition);

        /** The condition that an error means. */
        Condition condition(SQLException error);
    }
}
