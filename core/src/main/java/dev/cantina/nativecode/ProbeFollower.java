package dev.cantina.nativecode;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.cantina.binding.Variable;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.runtime.Frame;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.RaisedException;
import dev.cantina.runtime.ResultRows;
import dev.cantina.runtime.ServerFrame;
import dev.cantina.runtime.ServerRoutines.ServerRun;
import dev.cantina.runtime.StandingServer;
import dev.cantina.types.Condition;
import dev.cantina.types.ConditionException;
import dev.cantina.types.Values;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.FutureTask;
import java.util.stream.LongStream;

/**
 * Makes frames of what the probes of woven routines tell, whatever server they run on.
 *
 * <p>What is told is an object: {@code a} the number of the activation, {@code d} how deep the
 * server's stack is there, {@code p} the place, or a number below 0 for a routine that is replaced;
 * {@code v} the variables by their names; {@code w} how far the log of changes has got; {@code t}
 * the time in microseconds, where the run does not wait.
 */
public abstract class ProbeFollower implements ServerFrame.Standing, StandingServer {
    /** The statement that stands for the end of a body. */
    public static final int ENDED = (1 << 20) - 1;

    /** What stands for the counts of all statements. */
    public static final int COUNTED = ENDED - 1;

    /** What stands for the handling of a condition. */
    public static final int CAUGHT = COUNTED - 1;

    /** What stands for a condition that ends a body, which completes all the same. */
    public static final int FAILED = CAUGHT - 1;

    /** How often a statement that can set off no other is told before it is counted alone. */
    public static final int TOLD = 16;

    /** How many bits of a place are the statement's number. */
    public static final int PLACES = 20;

    protected final ServerRun run;
    private final RoutineSymbol called;
    protected final boolean holds;
    protected final Optional<Probe.Detail> detail;
    private final List<Frame> stack = new ArrayList<>();
    private final Map<Frame, Activation> activations = new HashMap<>();

    /** Those that end by a condition, and tell nobody of it but in a parameter. */
    private final Map<Frame, Condition> failed = new HashMap<>();

    /** How often the statements of a frame have run, as it was told last. */
    private final Map<Frame, long[]> passed = new HashMap<>();

    private final Map<Frame, long[]> rowsBefore = new HashMap<>();

    private final Map<String, JsonNode> changed = new LinkedHashMap<>();
    private long written;
    private long offset;

    /** When the call was over. */
    private volatile long over;

    /** The statement that calls, and the task in which it runs. */
    protected Statement statement;

    protected FutureTask<Boolean> running;

    /** What is done with what a statement gives. */
    public interface Reading {
        /** Whether rows are the first that it gives. */
        void read(boolean rows) throws SQLException;
    }

    /** An activation by its number, and how deep the server's own stack is there. */
    private record Activation(long number, int depth) {}

    /**
     * @param called what is called from outside, which nothing replaces; null for a statement
     */
    protected ProbeFollower(ServerRun run, RoutineSymbol called) {
        this.run = run;
        this.called = called;
        this.detail = run.probe().map(Probe::detail);
        this.holds = detail.equals(Optional.of(Probe.Detail.HOLD));
    }

    /** What a probe tells next; null where the call has ended. */
    protected abstract JsonNode next() throws SQLException;

    /**
     * Lets the run go on.
     *
     * @param answer what it is told, in JSON; empty for nothing
     */
    protected abstract void goOn(String answer) throws SQLException;

    /** What a routine that is replaced is to give, in JSON. */
    protected String standIn(JsonNode told) {
        throw new IllegalStateException("nothing is replaced here");
    }

    @Override
    public Object set(ServerFrame frame, Variable variable, String field, String expression)
            throws SQLException {
        throw new UnsupportedOperationException("nothing here is in the server's language");
    }

    @Override
    public ServerFrame.Value value(ServerFrame frame, String expression) throws SQLException {
        throw new UnsupportedOperationException("nothing here is in the server's language");
    }

    @Override
    public ResultRows query(ServerFrame frame, String query, long most) throws SQLException {
        throw new UnsupportedOperationException("nothing here is in the server's language");
    }

    /** The routines that are heard of. */
    protected abstract Followed followed();

    /** What is done before all else, which leaves nothing behind where it fails. */
    protected void begin() throws SQLException {}

    /** Puts what the probes need beside the routines. */
    protected abstract void prepare() throws SQLException;

    /** Takes back what a call that failed has done. */
    protected void undo() throws SQLException {}

    /**
     * What is done when the call is over, on its own thread: nobody is to wait for a stop more.
     *
     * @param failed whether it has ended in an error
     */
    protected void done(boolean failed) throws SQLException {}

    /** Ends the statement that runs. */
    protected abstract void cancel();

    /** The state of a call that is interrupted. */
    protected abstract String interrupted();

    /** Lets go of what only a run needs. */
    protected abstract void end() throws SQLException;

    /**
     * Runs a statement that calls routines, follows it, and reads what it gives.
     *
     * @param after what the call gives: the parameters, then the value returned
     */
    public void watch(Statement on, Callable<Boolean> call, Object[] after, Reading reading)
            throws SQLException {
        begin();
        try {
            prepare();
            reading.read(execute(on, call));
            ended(after, null);
        } catch (SQLException e) {
            undo();
            RuntimeException failed = run.failed(e);
            ended(after, failed instanceof RaisedException raised ? raised.condition() : null);
            throw failed;
        } catch (RuntimeException e) {
            undo();
            ended(after, e instanceof ConditionException c ? c.condition() : null);
            throw e;
        } finally {
            run.running(null);
            end();
        }
    }

    /** The same where nobody looks into the routines. */
    public static void plain(Callable<Boolean> call, Reading reading) throws SQLException {
        try {
            reading.read(call.call());
        } catch (SQLException e) {
            throw e;
        } catch (Exception e) {
            throw new IllegalStateException(e);
        }
    }

    /** Runs a statement on a thread of its own, and hears meanwhile what is told. */
    protected boolean execute(Statement on, Callable<Boolean> call) throws SQLException {
        statement = on;
        running =
                new FutureTask<>(
                        () -> {
                            boolean failed = true;
                            try {
                                boolean rows = call.call();
                                failed = false;
                                return rows;
                            } finally {
                                over = System.nanoTime();
                                done(failed);
                            }
                        });
        followed().start(running);
        try {
            follow();
        } catch (RuntimeException | SQLException e) {
            // Somebody has ended the run, who must not leave the server standing.
            cancel();
            throw e;
        }
        try {
            return running.get();
        } catch (ExecutionException e) {
            if (e.getCause() instanceof SQLException sql) {
                throw sql;
            }
            throw new IllegalStateException(e.getCause());
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new SQLException("interrupted", interrupted());
        }
    }

    /**
     * An error of a statement that has set off routines, told to the frames that it ends.
     *
     * @param error what to give for what is no error of the server's
     */
    protected SQLException raised(Exception thrown, SQLException error) {
        RuntimeException failed = run.failed(thrown);
        ended(new Object[0], failed instanceof RaisedException r ? r.condition() : null);
        return new SQLException(
                error.getMessage(), error.getSQLState(), error.getErrorCode(), failed);
    }

    /** The routines that are replaced in this run. */
    protected List<RoutineSymbol> replaced(List<RoutineSymbol> callable) throws SQLException {
        if (run.standIn().isPresent()) {
            for (RoutineSymbol one : run.session().program().catalog().routines()) {
                if (!callable.contains(one) && run.standIn().get().replaces(one)) {
                    throw new SQLException(
                            one.name()
                                    + " can't be stood in for here: nobody looks into it on this"
                                    + " server",
                            "0A000");
                }
            }
        }
        return run.standIn().isEmpty()
                ? List.of()
                : callable.stream()
                        .filter(r -> r != called && run.standIn().get().replaces(r))
                        .toList();
    }

    /**
     * Rows that statements changed which were not told one by one: each is given its own. Where the
     * log has fewer it is not of these tables alone, and all go to what was told last.
     *
     * @param values how often each statement has run, and how many rows it has changed so far
     */
    private void wroteQuietly(Frame frame, JsonNode values, long now) {
        if (!values.path(0).isArray()) {
            return;
        }
        JsonNode rows = values.get(1);
        long[] before = rowsBefore.computeIfAbsent(frame, f -> new long[rows.size()]);
        long[] more = new long[before.length];
        long all = 0;
        for (int i = 0; i < more.length; i++) {
            more[i] = rows.get(i).asLong() - before[i];
            before[i] = rows.get(i).asLong();
            all += more[i];
        }
        if (all > now - written) {
            return;
        }
        int at = frame.at;
        for (int i = 0; i < more.length; i++) {
            if (more[i] > 0) {
                frame.at = i;
                run.wrote(frame, written, more[i]);
                written += more[i];
            }
        }
        frame.at = at;
    }

    /** How far the log of changes has got before the call. */
    protected void written(long position) {
        written = position;
    }

    /**
     * Whether an expression may name a variable, as a whole word: others need not be sent along. An
     * escape that can spell a name differently takes all along.
     */
    protected static boolean names(String expression, String variable) {
        String text = expression.toLowerCase(Locale.ROOT);
        String word = variable.toLowerCase(Locale.ROOT);
        if (text.contains("u&\"") || word.contains("\"") || word.contains("`")) {
            return true;
        }
        for (int at = text.indexOf(word); at >= 0; at = text.indexOf(word, at + 1)) {
            int end = at + word.length();
            boolean begins = at == 0 || !inAWord(text.charAt(at - 1));
            boolean ends = end == text.length() || !inAWord(text.charAt(end));
            if (begins && ends) {
                return true;
            }
        }
        return false;
    }

    private static boolean inAWord(char c) {
        return Character.isLetterOrDigit(c) || Character.isSurrogate(c) || c == '_' || c == '$';
    }

    /** Whether a frame is the one that stands. */
    protected boolean stands(Frame frame) {
        return !stack.isEmpty() && frame == stack.get(stack.size() - 1);
    }

    /** Gives a variable a value when the run goes on. */
    protected void change(String name, JsonNode value) {
        changed.put(name, value);
    }

    /** The value that a variable gets when the run goes on; null for none. */
    protected JsonNode changed(String name) {
        return changed.get(name);
    }

    /** Hears all that is told, to the end of the call. */
    protected void follow() throws SQLException {
        while (true) {
            JsonNode told = next();
            if (told == null) {
                return;
            }
            if (told.get("p").asLong() < 0) {
                goOn(standIn(told));
                continue;
            }
            if (told.has("t")) {
                run.time(told.get("t").asLong() * 1000 + offset);
            }
            Frame stood = standing(told);
            if (holds) {
                goOn(stood == null ? "" : followed().answer(stood).orElseGet(this::answer));
            }
        }
    }

    /** Whatever is done with what is told, the server stands meanwhile, and answers. */
    private Frame standing(JsonNode told) {
        if (!holds) {
            return reach(told);
        }
        run.session().database().standing(this);
        try {
            return reach(told);
        } finally {
            run.session().database().standing(null);
        }
    }

    /**
     * What time it was by the server's clock.
     *
     * @param micros by that
     * @param nanos by the one here
     */
    protected void clock(long micros, long nanos) {
        offset = nanos - micros * 1000;
    }

    /**
     * A statement is reached: the frames are made those that it stands in.
     *
     * @return the one that stands; null for none
     */
    private Frame reach(JsonNode told) {
        long activation = told.get("a").asLong();
        long place = told.get("p").asLong();
        int routine = (int) (place >> PLACES);
        int statementNumber = (int) (place & ((1 << PLACES) - 1));
        int depth = told.get("d").asInt();
        int found = -1;
        for (int i = stack.size() - 1; i >= 0 && found < 0; i--) {
            found = activations.get(stack.get(i)).number() == activation ? i : -1;
        }
        int known = found;
        // What has ended meanwhile tells nothing of it: it is no longer where something else is.
        boolean ends = statementNumber == CAUGHT || statementNumber == FAILED;
        Condition why = ends ? handled(told).orElse(null) : null;
        while (known >= 0
                ? stack.size() > known + 1
                : !stack.isEmpty()
                        && activations.get(stack.get(stack.size() - 1)).depth() >= depth) {
            leave(why);
        }
        if (known >= 0) {
            wroteQuietly(stack.get(known), told.path("v"), told.path("w").asLong());
        }
        wrote(told.path("w").asLong());
        if (statementNumber == COUNTED) {
            if (known >= 0 && detail.equals(Optional.of(Probe.Detail.COUNTS))) {
                counted(stack.get(known), told.get("v"));
            } else if (known >= 0) {
                passed(stack.get(known), told.get("v"), -1);
            }
            return null;
        }
        if (statementNumber == ENDED) {
            if (known < 0 && followed().isSetOff()) {
                // There was no statement in it.
                enter(followed().frame(routine), activation, depth);
            }
            return known > 0 || followed().isSetOff() ? end(routine, told.get("v")) : null;
        }
        if (ends && (known < 0 || why == null)) {
            return null;
        }
        if (ends) {
            Frame at = stack.get(known);
            followed().take(at, routine, at.at, told.get("v"));
            if (statementNumber == FAILED) {
                failed.put(at, why);
            } else {
                run.raised(at, why);
            }
            return at;
        }
        Frame frame = known >= 0 ? stack.get(known) : followed().frame(routine);
        JsonNode values = told.path("v");
        if (!values.isArray()) {
            followed().take(frame, routine, statementNumber, values);
        }
        if (known < 0) {
            frame.at = statementNumber;
            enter(frame, activation, depth);
        }
        if (values.isArray()) {
            passed(frame, values, statementNumber);
        }
        if (followed().beginsHandler(routine, statementNumber)) {
            handled(told).ifPresent(c -> run.raised(frame, c));
        }
        run.reached(frame, statementNumber);
        return frame;
    }

    /** A body has come to its end. */
    private Frame end(int routine, JsonNode values) {
        Frame frame = stack.get(stack.size() - 1);
        followed().gives(frame, routine, values);
        Condition condition = failed.remove(frame);
        if (condition == null && followed().saysItsEnd(routine)) {
            run.ending(frame);
        }
        leave(condition);
        return frame;
    }

    private void enter(Frame frame, long activation, int depth) {
        run.entered(frame);
        stack.add(frame);
        activations.put(frame, new Activation(activation, depth));
    }

    /** The condition that is handled at a place. */
    protected Optional<Condition> handled(JsonNode told) {
        JsonNode values = told.get("v");
        return values != null && values.hasNonNull("sqlstate")
                ? Optional.of(
                        new Condition(
                                values.get("sqlstate").asText(), values.path("sqlerrm").asText()))
                : Optional.empty();
    }

    /** Each statement tells of its first time itself. */
    private void counted(Frame frame, JsonNode counts) {
        for (int i = 0; i < counts.size(); i++) {
            long times = counts.get(i).asLong();
            if (times > 1) {
                run.counted(frame, i, times - 1);
            }
        }
    }

    /**
     * Statements have run that were not told one by one.
     *
     * @param counts how often each has run so far
     * @param told the one that is told now; -1 for none
     */
    private void passed(Frame frame, JsonNode values, int told) {
        JsonNode counts = values.path(0).isArray() ? values.get(0) : values;
        long[] before = passed.computeIfAbsent(frame, f -> new long[counts.size()]);
        long[] times = new long[before.length];
        boolean any = false;
        for (int i = 0; i < times.length; i++) {
            long now = counts.get(i).asLong();
            times[i] = now - before[i] - (i == told && now > before[i] ? 1 : 0);
            before[i] = now;
            any |= times[i] > 0;
        }
        if (any) {
            run.passed(frame, times);
        }
    }

    /** How far the log of changes has got: what came since is the work of who is on the top. */
    private void wrote(long now) {
        if (now > written && !stack.isEmpty()) {
            run.wrote(stack.get(stack.size() - 1), written, now - written);
        }
        written = now;
    }

    private void leave(Condition condition) {
        Frame frame = stack.remove(stack.size() - 1);
        activations.remove(frame);
        long[] counts = passed.remove(frame);
        rowsBefore.remove(frame);
        if (condition != null && counts != null && LongStream.of(counts).anyMatch(c -> c >= TOLD)) {
            run.cutShort(frame);
        }
        run.left(frame, condition);
        if (stack.isEmpty() && followed().isSetOff()) {
            run.wroteOn(written);
        }
    }

    /** The call has ended: all its frames go. */
    public void ended(Object[] after, Condition condition) {
        run.time(holds ? 0 : over);
        if (condition == null && !stack.isEmpty() && !followed().isSetOff()) {
            Frame outermost = stack.get(0);
            while (stack.size() > 1) {
                leave(null);
            }
            give(outermost, after);
            run.ending(outermost);
        }
        while (!stack.isEmpty()) {
            leave(condition);
        }
        run.time(0);
    }

    private static void give(Frame frame, Object[] after) {
        frame.result = after[after.length - 1];
        frame.given();
        List<Variable> parameters = frame.routine().parameters();
        for (int i = 0; i < parameters.size() && i < after.length - 1; i++) {
            Variable.Kind kind = parameters.get(i).kind();
            boolean out = kind == Variable.Kind.OUT || kind == Variable.Kind.INOUT;
            if (out && !isSame(frame.get(parameters.get(i)), after[i])) {
                frame.set(parameters.get(i), after[i]);
            }
        }
    }

    /** Whether a value is one that a probe has told in the server's own words. */
    private static boolean isSame(Object told, Object read) {
        return told instanceof String text
                        && read != null
                        && (read instanceof Object[] || text.equals(Values.text(read)))
                || told instanceof Double a
                        && read instanceof Double b
                        && a.floatValue() == b.floatValue();
    }

    private String answer() {
        if (changed.isEmpty()) {
            return "";
        }
        ObjectNode all = JsonNodeFactory.instance.objectNode();
        changed.forEach(all::set);
        changed.clear();
        return all.toString();
    }
}
