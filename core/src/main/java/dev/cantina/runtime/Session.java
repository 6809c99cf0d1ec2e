package dev.cantina.runtime;

import dev.cantina.binding.Binder;
import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundSql;
import dev.cantina.binding.DeclaredTable;
import dev.cantina.binding.Variable;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.Table;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.syntax.Declaration.HandlerAction;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Unit;
import dev.cantina.types.Condition;
import dev.cantina.types.ConditionException;
import dev.cantina.types.Conversion;
import dev.cantina.types.SqlType;
import dev.cantina.types.Values;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Clock;
import java.time.LocalDateTime;
import java.time.OffsetDateTime;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Future;
import java.util.function.Function;
import java.util.function.Predicate;
import java.util.function.Supplier;

/**
 * One run on one connection: the transaction, the diagnostics area, the clock, the limits, the
 * probe and the call stack. All its methods but {@link #interrupt} belong to one thread. The
 * methods that compiled code calls are marked so; nobody else should call them.
 */
public final class Session implements AutoCloseable {
    /** An argument that is NULL. */
    public static final Object NULL = new Object();

    private static final Probe NOBODY = new Probe() {};

    private final Program program;
    private final Database database;
    private final Limits limits;
    private final Clock clock;
    private final boolean probed;
    private final Probe probe;
    private final Meter meter;
    private final Statements statements;

    /** For compiled code: the statements that go to the database. */
    public final DataAccess data;

    private final Transaction transaction;
    private final TemporaryTables temporary;
    private Future<?> deadline;
    private final Diagnostics diagnostics = new Diagnostics();
    private final List<ResultRows> results = new ArrayList<>();
    private final List<String> messages = new ArrayList<>();
    private final List<String> warnings = new ArrayList<>();
    private final Map<RoutineCode, byte[]> watches = new HashMap<>();
    private final Map<String, Object[]> modules = new HashMap<>();
    private Optional<Changes> unread = Optional.empty();
    private Frame top;

    /** How many routines on the stack have said that they change no data. */
    private int restricting;

    /** How many routines on the stack can go on after a statement of theirs has failed. */
    private int guarding;

    private byte watching;
    private long momentOf = -1;
    private OffsetDateTime moment;

    /**
     * @param probe watches the run; empty for a run that carries no probe points
     * @throws SQLException where the connection is broken
     */
    public Session(
            Program program, Database database, Limits limits, Clock clock, Optional<Probe> probe)
            throws SQLException {
        this.program = program;
        this.database = database;
        this.limits = limits;
        this.clock = clock;
        this.probed = probe.isPresent();
        this.probe = probe.orElse(NOBODY);
        this.meter = new Meter(limits);
        this.statements = new Statements(database, limits, this::say);
        if (probed && program.placed().isPresent()) {
            // Before the first mark: no rollback may take back what it has set up.
            statements.follow(
                    program.placed().get().follow(database.connection(), serverRun), this.probe);
        }
        this.transaction = new Transaction(database);
        if (probed) {
            transaction.remember();
        }
        this.temporary = new TemporaryTables(database);
        this.data = new DataAccess(this, database, statements, transaction, diagnostics, results);
        this.deadline = program.watchdog().after(limits.seconds(), this::expire);
        database.attach(this);
    }

    public Program program() {
        return program;
    }

    public Database database() {
        return database;
    }

    /** The frame that runs; null where none does. */
    public Frame top() {
        return top;
    }

    /**
     * The rows that this session has changed so far and that have stayed changed, in the order of
     * their first change.
     *
     * @throws SQLException where the connection is broken
     */
    public List<RowEvent> events() throws SQLException {
        return transaction.events();
    }

    /** The same, of what was changed since a {@link #position}. */
    public List<RowEvent> eventsSince(long position) throws SQLException {
        return transaction.eventsSince(position);
    }

    /** How far the log of changes has got. */
    public long position() throws SQLException {
        return database.position();
    }

    /** What was reported so far. */
    public List<String> messages() {
        return List.copyOf(messages);
    }

    /** Whether a transaction was started and not ended yet, or has changes. */
    public boolean inTransaction() {
        return transaction.isStarted() || transaction.hasChanges();
    }

    public List<String> savepoints() {
        return transaction.savepoints();
    }

    public long statementCount() {
        return meter.statements;
    }

    /** Ends the run as soon as it can be ended; may be called from any thread. */
    public void interrupt() {
        meter.interrupt();
        statements.cancel();
    }

    private void expire() {
        meter.expire();
        statements.cancel();
    }

    /** Lets go of the database; the transaction stays as it is. */
    @Override
    public void close() {
        unread.ifPresent(Changes::events);
        deadline.cancel(false);
        statements.close();
        database.detach(this);
    }

    /**
     * Runs a routine from the top, in a transaction that is committed when it completes and rolled
     * back when it ends in a condition.
     *
     * @param arguments a value for each parameter, {@link #NULL} for NULL; empty where the
     *     parameter only gives, or its default is to be taken. Each is stored into the parameter's
     *     type
     * @throws Program.UnsoundException where the routine, or one that it calls, has errors
     */
    public Outcome run(RoutineSymbol symbol, List<Optional<Object>> arguments) {
        program.admit(symbol, standIn);
        Map<String, Object> out = new LinkedHashMap<>();
        boolean rows = symbol.returns().filter(SqlType.Table.class::isInstance).isPresent();
        return finished(
                symbol.name(),
                symbol.isFunction() && !rows,
                out,
                () -> {
                    Object[] values = new Object[arguments.size()];
                    for (int i = 0; i < values.length; i++) {
                        values[i] = argument(symbol, i, arguments.get(i));
                    }
                    Object[] given = perform(symbol, values);
                    for (int i = 0; i < values.length; i++) {
                        if (symbol.parameters().get(i).mode().isOutput()) {
                            out.put(symbol.parameters().get(i).name().text(), given[i]);
                        }
                    }
                    if (given[values.length] instanceof ResultRows table) {
                        results.add(table);
                        return null;
                    }
                    return given[values.length];
                });
    }

    /** Runs a routine, written in SQL or in Java: all parameters after it, and the result last. */
    private Object[] perform(RoutineSymbol symbol, Object[] values) {
        if (isNullOnNull(symbol, values)) {
            return new Object[values.length + 1];
        }
        if (program.onServer().isPresent()) {
            return onServer(symbol, values);
        }
        if (symbol.tree().body().isEmpty()) {
            return external(symbol, values);
        }
        return perform(program.routine(symbol), values);
    }

    /** Calls a Java method, which may use this session's connection and hand out rows. */
    private Object[] external(RoutineSymbol symbol, Object[] values) {
        if (symbol.isOnServer()) {
            return onServer(symbol, values);
        }
        ExternalRoutine routine = program.external(symbol);
        data.wrote();
        ExternalRoutine.Called called =
                DefaultConnection.during(database.connection(), () -> routine.call(values));
        try {
            for (ResultSet result : called.results()) {
                try (result) {
                    results.add(statements.read(result));
                }
            }
        } catch (SQLException e) {
            throw raised(top, e);
        }
        return called.values();
    }

    /** What time it was when the server told what is handled now; 0 where it is now. */
    private long toldAt;

    /** What time it is, in nanoseconds; of what a server has told, when it was. */
    public long nanos() {
        return toldAt == 0 ? System.nanoTime() : toldAt;
    }

    /** Whether what is handled now happened some time ago. */
    public boolean isTold() {
        return toldAt != 0;
    }

    /** Has the server run a routine that is in its own language. */
    private Object[] onServer(RoutineSymbol symbol, Object[] values) {
        if (isOnServer) {
            throw new ConditionException(
                    "55006",
                    "the server stands in a routine, and can be asked for "
                            + symbol.name()
                            + " by a query alone: (SELECT "
                            + symbol.name()
                            + "(…))");
        }
        return hasServer(server -> server.call(symbol, values, serverRun).values());
    }

    /** What the server is to do with the project's routines. */
    private interface OnServer<T> {
        T by(ServerRoutines server) throws SQLException;
    }

    private <T> T hasServer(OnServer<T> done) {
        data.wrote();
        isOnServer = true;
        try {
            T given = done.by(program.onServer().orElseThrow());
            // Not all that is cut off ends in an error: a sleep does not.
            meter.poll(top);
            return given;
        } catch (SQLException e) {
            throw raised(top, e);
        } finally {
            isOnServer = false;
        }
    }

    /** Whether the server runs a routine just now. */
    private boolean isOnServer;

    private final ServerRoutines.ServerRun serverRun =
            new ServerRoutines.ServerRun() {
                @Override
                public Session session() {
                    return Session.this;
                }

                @Override
                public void running(Statement statement) {
                    statements.running(statement);
                }

                @Override
                public void told(String message) {
                    say(message);
                }

                @Override
                public ResultRows read(ResultSet result) throws SQLException {
                    return statements.read(result);
                }

                @Override
                public void result(ResultRows rows) {
                    results.add(rows);
                }

                @Override
                public Condition condition(SQLException error) {
                    return database.condition(error);
                }

                @Override
                public Optional<Probe> probe() {
                    return probed ? Optional.of(probe) : Optional.empty();
                }

                @Override
                public Optional<String> role() {
                    return Optional.ofNullable(role);
                }

                @Override
                public Optional<StandIn> standIn() {
                    return Optional.ofNullable(standIn);
                }

                @Override
                public RuntimeException failed(Throwable error) {
                    return Session.this.raised(top, error);
                }

                @Override
                public void entered(Frame frame) {
                    place(frame);
                    top = frame;
                    probe.entered(frame);
                }

                @Override
                public void time(long nanos) {
                    toldAt = nanos;
                }

                @Override
                public void wrote(Frame frame, long from, long rows) {
                    boolean holds = probe.detail() == Probe.Detail.HOLD;
                    if (holds) {
                        transaction.wrote(from, frame);
                    }
                    if (probe.wantsData()) {
                        probe.performed(
                                frame,
                                new Performed(
                                        Optional.empty(),
                                        Optional.of(frame.place().span().text()),
                                        new Object[0],
                                        rows,
                                        true,
                                        holds ? from : -1));
                    }
                }

                @Override
                public void wroteOn(long from) {
                    transaction.wrote(from, top);
                }

                @Override
                public void reached(Frame frame, int statement) {
                    meter.statements++;
                    frame.at = statement;
                    frame.earlier = frame.moment;
                    frame.moment = meter.statements;
                    // Beside what a server's statement takes, looking takes no time.
                    meter.poll(frame);
                    if (frame.watch[statement] != 0 || meter.statements >= meter.stop) {
                        probe.reached(frame);
                    }
                }

                @Override
                public void counted(Frame frame, int statement, long times) {
                    meter.statements += times;
                    probe.counted(frame, statement, times);
                }

                @Override
                public void cutShort(Frame frame) {
                    probe.cutShort(frame);
                }

                @Override
                public void passed(Frame frame, long[] times) {
                    for (long one : times) {
                        meter.statements += one;
                    }
                    probe.passed(frame, times);
                }

                @Override
                public void raised(Frame frame, Condition condition) {
                    probe.raised(frame, condition);
                }

                @Override
                public void ending(Frame frame) {
                    probe.ending(frame);
                }

                @Override
                public void left(Frame frame, Condition condition) {
                    probe.left(frame, condition);
                    top = frame.caller;
                }
            };

    private Object[] perform(Routine routine, Object[] values) {
        Frame frame = activate(routine, values);
        Object[] given = Arrays.copyOf(frame.give(), values.length + 1);
        given[values.length] = frame.result;
        return given;
    }

    /** Runs the statements of a script, in one transaction, as {@link #run} does a routine. */
    public Outcome runScript(BoundRoutine script) {
        program.admit(script);
        return finished(
                script.name(),
                false,
                Map.of(),
                () -> activate(program.routine(script), new Object[0]).result);
    }

    /** Runs a script in the server's own words, in one transaction. */
    public Outcome runServerScript(Source script) {
        return finished(
                script.name(),
                false,
                Map.of(),
                () ->
                        hasServer(
                                server -> {
                                    server.script(script, serverRun);
                                    return null;
                                }));
    }

    /**
     * What a step of an open session came to.
     *
     * @param values of its parameters afterwards; as they were where it ended in a condition
     * @param ended whether it has ended a transaction that an earlier step had started
     */
    public record Step(Outcome outcome, Object[] values, boolean ended) {}

    /**
     * Runs a piece of code in an open session: in the transaction that START TRANSACTION has begun
     * before it, or else in one of its own. What a condition ends is taken back, and nothing before
     * it. The limits are for each step.
     *
     * @param values of its parameters, by their types
     */
    public Step step(BoundRoutine code, Object[] values) {
        program.admit(code);
        Object[][] given = {values};
        return open(
                code.name(),
                values,
                () -> {
                    Frame frame = activate(program.routine(code), values);
                    given[0] = frame.give();
                    return null;
                },
                given);
    }

    /** The same of a script in the server's own words. */
    public Step serverStep(Source script) {
        return open(
                script.name(),
                new Object[0],
                () ->
                        hasServer(
                                server -> {
                                    server.script(script, serverRun);
                                    return null;
                                }),
                new Object[1][]);
    }

    private Step open(String name, Object[] values, Supplier<Object> work, Object[][] given) {
        boolean started = transaction.isStarted();
        Outcome outcome = stepping(() -> finished(name, false, Map.of(), work));
        boolean done = outcome.kind() == Outcome.Kind.COMPLETED;
        return new Step(
                outcome,
                done && given[0] != null ? given[0] : values,
                started && !transaction.isStarted());
    }

    /** Whether the transaction stays open behind what runs now. */
    private boolean stepping;

    /** Runs something in the transaction that is open, with limits of its own. */
    private Outcome stepping(Supplier<Outcome> work) {
        meter.restart();
        deadline.cancel(false);
        deadline = program.watchdog().after(limits.seconds(), this::expire);
        momentOf = -1;
        stepping = true;
        try {
            return work.get();
        } finally {
            stepping = false;
            deadline.cancel(false);
        }
    }

    /** {@link #run} in the transaction that is open, as {@link #step} does. */
    Outcome call(RoutineSymbol symbol, List<Optional<Object>> arguments) {
        return stepping(() -> run(symbol, arguments));
    }

    /**
     * Has a statement sent of which only the text is known, as {@link #step} runs one.
     *
     * @param work sends it
     */
    Outcome send(String statement, Optional<Statement> on, DataAccess.Work<Object> work) {
        return stepping(
                () ->
                        finished(
                                "the statement",
                                false,
                                Map.of(),
                                () -> {
                                    try {
                                        return data.sent(
                                                statement,
                                                on.isPresent()
                                                        ? () -> statements.heard(on.get(), work)
                                                        : work);
                                    } catch (SQLException e) {
                                        throw raised(top, e);
                                    }
                                }));
    }

    /** Has a value that stands in a call worked out, as {@link #step} runs a statement. */
    Outcome work(Expression expression) {
        return stepping(() -> finished("the value", true, Map.of(), () -> evaluate(expression)));
    }

    /**
     * The database has ended the transaction by itself, and taken it back (ISO 9075-2, 24.1, class
     * 40); what comes next begins another.
     */
    public void loseTransaction() {
        undoAll();
        closeCursors(c -> true);
    }

    /** What ends this session's transactions. */
    Transaction transaction() {
        return transaction;
    }

    /**
     * This moment, for {@link #backTo}.
     *
     * @throws SQLException where the connection is broken
     */
    public Object moment() throws SQLException {
        return transaction.mark();
    }

    /** Takes back all rows that were changed since a moment, what was committed too. */
    public void backTo(Object moment) throws SQLException {
        transaction.backTo((Mark) moment);
    }

    /** Whether START TRANSACTION was said and nothing has ended it since. */
    public boolean isTransactionStarted() {
        return transaction.isStarted();
    }

    private Outcome finished(
            String name, boolean function, Map<String, Object> out, Supplier<Object> work) {
        Object returned = null;
        RaisedException raised = null;
        begin();
        Optional<Mark> before = stepping ? Optional.of(marked()) : Optional.empty();
        Object committed = transaction.committed();
        try {
            returned = work.get();
            if (!stepping || !transaction.staysOpen()) {
                transaction.commit();
            }
        } catch (Program.UnsoundException e) {
            throw e;
        } catch (RuntimeException | SQLException | StackOverflowError e) {
            raised = raised(null, e);
            if (before.isPresent() && transaction.committed() == committed) {
                takeBack(before.get());
            } else {
                undoAll();
            }
        }
        if (raised != null && transaction.isReal() && !transaction.staysOpen()) {
            // Nothing is left to take back, but others may wait for its locks.
            undoAll();
        }
        Changes changes = new Changes(transaction.isReal() ? List::of : this::changes);
        unread = Optional.of(changes).filter(c -> !transaction.isReal());
        Outcome.Kind kind =
                raised == null
                        ? Outcome.Kind.COMPLETED
                        : raised.condition().isLimit() ? Outcome.Kind.LIMITED : Outcome.Kind.RAISED;
        return new Outcome(
                name,
                function,
                kind,
                raised == null ? Collections.unmodifiableMap(out) : Map.of(),
                returned,
                List.copyOf(results),
                List.copyOf(messages),
                List.copyOf(warnings),
                changes,
                Optional.ofNullable(raised).map(RaisedException::condition),
                raised == null ? List.of() : raised.stack(),
                meter.statements,
                meter.elapsedMillis());
    }

    private Object argument(RoutineSymbol symbol, int position, Optional<Object> given) {
        SqlType type = symbol.parameters().get(position).type();
        if (given.isPresent()) {
            // A server knows values that the standard's types do not hold.
            return given.get() == NULL
                    ? null
                    : symbol.isOnServer() ? given.get() : Conversion.store(given.get(), type);
        }
        if (symbol.parameters().get(position).initial().isEmpty()) {
            return null;
        }
        return symbol.isOnServer()
                ? ServerRoutines.OMITTED
                : program.defaultOf(symbol, position, this);
    }

    /** What was said and given belongs to the run before; module variables stay. */
    private void begin() {
        unread.ifPresent(Changes::events);
        results.clear();
        messages.clear();
        warnings.clear();
        try {
            guarding = 0;
            database.guard(probed);
            transaction.begin();
        } catch (SQLException e) {
            throw raised(null, e);
        }
    }

    /** The time by this session's clock. */
    public OffsetDateTime now() {
        return OffsetDateTime.now(clock);
    }

    /**
     * The value of an expression that stands in no routine, with this session's clock.
     *
     * @throws ConditionException where it can't be bound or worked out
     */
    public Object evaluate(Expression expression) {
        Binder.BoundProbe bound = program.binder().value(expression);
        for (Problem problem : bound.problems()) {
            if (problem.isError()) {
                throw new ConditionException("42000", problem.message());
            }
        }
        try {
            return RoutineCompiler.expression(program, bound.expression(), bound.variables())
                    .value(this);
        } catch (RaisedException e) {
            if (top != null) {
                throw e;
            }
            throw new ConditionException(e.condition());
        }
    }

    private List<RowEvent> changes() {
        try {
            return events();
        } catch (SQLException e) {
            throw new IllegalStateException("the changes can't be read: " + e.getMessage(), e);
        }
    }

    private Mark marked() {
        try {
            return transaction.mark();
        } catch (SQLException e) {
            throw raised(null, e);
        }
    }

    private void takeBack(Mark mark) {
        try {
            if (transaction.isGone(mark)) {
                // The database has taken all of it back, to end a deadlock for one.
                transaction.rollback();
                return;
            }
            transaction.rollbackTo(mark);
        } catch (SQLException e) {
            if (transaction.isReal()) {
                undoAll();
                return;
            }
            throw new IllegalStateException("the rollback failed: " + e.getMessage(), e);
        }
    }

    private void undoAll() {
        try {
            transaction.rollback();
        } catch (SQLException e) {
            throw new IllegalStateException("the rollback failed: " + e.getMessage(), e);
        }
    }

    /** Puts a frame on the stack, runs it, and takes it off; the frame is good to read after. */
    private Frame activate(Routine routine, Object[] values) {
        Frame frame = routine.code(probed).newFrame();
        place(frame);
        frame.take(values);
        top = frame;
        boolean restricts = routine.bound().access() != Unit.SqlAccess.MODIFIES_SQL_DATA;
        restricting += restricts ? 1 : 0;
        boolean guards = routine.outlivesFailures();
        RaisedException raised = null;
        try {
            if (guards && guarding++ == 0) {
                guard();
            }
            probe.entered(frame);
            int end = frame.run();
            probe.ending(frame);
            if (end == 0 && routine.bound().kind() == BoundRoutine.Kind.FUNCTION) {
                throw new ConditionException(
                        "2F005", routine.bound().name() + " ended without a RETURN");
            }
            handOutCursors(frame);
            return frame;
        } catch (Program.UnsoundException e) {
            throw e;
        } catch (RuntimeException | StackOverflowError e) {
            raised = raised(frame, e);
            throw raised;
        } finally {
            probe.left(frame, raised == null ? null : raised.condition());
            closeTables(frame, 0);
            top = frame.caller;
            restricting -= restricts ? 1 : 0;
            if (guards && --guarding == 0) {
                guard();
            }
        }
    }

    /** Gives a frame its place above the one that runs. */
    private void place(Frame frame) {
        frame.session = this;
        frame.meter = meter;
        frame.caller = top;
        frame.depth = top == null ? 1 : top.depth + 1;
        if (probed) {
            frame.watch = watch(frame.code);
        }
        if (frame.depth > limits.depth()) {
            throw raised(
                    top,
                    meter.limit(
                            "UL003",
                            "the limit of " + limits.depth() + " calls deep " + cycle(),
                            top,
                            "depth=" + limits.depth() * 10));
        }
    }

    /** A run that is watched is looked into by others, who must not find a transaction spoilt. */
    private void guard() {
        try {
            database.guard(probed || guarding > 0);
        } catch (SQLException e) {
            throw raised(top, e);
        }
    }

    /** For compiled code: a block with a table of its own begins. */
    public void openTable(Frame frame, DeclaredTable table) {
        try {
            temporary.open(frame, table);
        } catch (SQLException e) {
            throw raised(frame, e);
        }
    }

    /** For compiled code: a block ends, and its tables from a number on with it. */
    public void closeTables(Frame frame, int from) {
        try {
            temporary.close(frame, from);
        } catch (SQLException e) {
            throw raised(frame, e);
        }
    }

    /** The routines that call each other, for a run that has gone too deep. */
    private String cycle() {
        List<String> names = new ArrayList<>();
        for (Frame f = top; f != null && names.size() < 6; f = f.caller) {
            if (!names.isEmpty() && names.get(0).equals(f.routine().name())) {
                break;
            }
            names.add(f.routine().name());
        }
        java.util.Collections.reverse(names);
        return "(" + String.join(" → ", names) + " → …)";
    }

    /** Closes those cursors of all routines that run (ISO 9075-2, 17.7 and 17.8). */
    private void closeCursors(Predicate<Cursor> which) {
        for (Frame f = top; f != null; f = f.caller) {
            for (int i = 0; f.cursors != null && i < f.cursors.length; i++) {
                if (f.cursors[i] != null && which.test(f.cursors[i])) {
                    f.cursors[i] = null;
                }
            }
        }
    }

    private void handOutCursors(Frame frame) {
        if (frame.cursors != null) {
            for (Cursor cursor : frame.cursors) {
                if (cursor != null && cursor.isReturned()) {
                    results.add(cursor.rest());
                }
            }
        }
    }

    private byte[] watch(RoutineCode code) {
        return watches.computeIfAbsent(
                code,
                c -> {
                    byte[] flags = new byte[Math.max(1, c.routine().places().size())];
                    Arrays.fill(flags, watching);
                    return flags;
                });
    }

    /** From now on the probe is told of every statement, or only of those marked one by one. */
    public void watchAll(boolean all) {
        watching = (byte) (all ? 1 : 0);
        watches.values().forEach(flags -> Arrays.fill(flags, watching));
    }

    /** Marks a statement of a routine, for the probe to be told when it is reached. */
    public void watch(Routine routine, int statement) {
        watch(routine.code(true))[statement] = 1;
    }

    void reached(Frame frame) {
        probe.reached(frame);
    }

    /** Looks whether somebody wants the run to stop, or to end, after what may have taken long. */
    void look() {
        if (meter.statements >= meter.next) {
            meter.poll(top);
        }
    }

    /** Whether the probe is to be told what goes to the database. */
    boolean tellsData() {
        return probed && probe.wantsData();
    }

    void performing(Frame frame, Performed performed) {
        if (frame != null) {
            probe.performing(frame, performed);
        }
    }

    /**
     * How the database finds the rows of a statement that is about to be sent. What it does in
     * order to find out is taken back.
     *
     * @throws SQLException where it can't tell
     */
    public List<AccessPath> accessPaths(Performed performed) throws SQLException {
        Object[] values = new Object[performed.values().length];
        for (int i = 0; i < values.length; i++) {
            SqlType type =
                    performed.site().isPresent()
                            ? performed.site().get().parameterTypes().get(i)
                            : SqlType.NULL;
            values[i] = database.driverValue(performed.values()[i], type);
        }
        Mark mark = transaction.mark();
        try {
            return database.accessPaths(text(performed), values);
        } finally {
            transaction.rollbackTo(mark);
        }
    }

    void performed(Frame frame, Performed performed) {
        if (frame != null) {
            probe.performed(frame, performed);
        }
    }

    /** NOT FOUND or a warning, which ends nothing by itself. */
    void noticed(Condition condition) {
        if (top != null) {
            probe.raised(top, condition);
        }
    }

    /** What was sent, with a marker for each value. */
    public String text(Performed performed) {
        return performed.text().orElseGet(() -> statements.text(performed.site().orElseThrow()));
    }

    /** The probe is told of every statement from this count on. */
    public void stopAt(long statement) {
        meter.stop = statement;
    }

    /** The probe is told of a statement soon, whichever it is; may be called from any thread. */
    public void breakIn() {
        meter.breakIn();
    }

    /** Work of a probe on a session that stands still. */
    public interface Aside<T, E extends Exception> {
        T run() throws E;
    }

    /**
     * Does something while the run waits, which leaves no trace in it: not in the time that it may
     * take, nor in the count of its statements, nor in its diagnostics area.
     */
    public <T, E extends Exception> T aside(Aside<T, E> work) throws E {
        long count = meter.statements;
        Diagnostics.Area area = diagnostics.current();
        long start = System.nanoTime();
        long begun = meter.begun();
        long next = meter.next;
        try {
            return work.run();
        } finally {
            // What waited inside this is part of it, and not to be taken off twice.
            meter.begin(begun + System.nanoTime() - start);
            meter.statements = count;
            meter.next = next;
            diagnostics.set(area);
        }
    }

    private volatile boolean asked;

    /**
     * {@link #aside} for what a person asks: it may take as long as a run may, counted afresh, and
     * {@link #callOff} ends it.
     */
    public <T, E extends Exception> T asked(Aside<T, E> work) throws E {
        boolean within = asked;
        Future<?> end = program.watchdog().after(limits.seconds(), this::expireQuestion);
        asked = true;
        try {
            return aside(
                    () -> {
                        meter.begin(System.nanoTime());
                        meter.statements = 0;
                        return work.run();
                    });
        } finally {
            asked = within;
            end.cancel(false);
            meter.answered();
        }
    }

    /** Ends what a person has asked, and not the run; may be called from any thread. */
    public void callOff() {
        if (asked) {
            meter.callOff();
            endQuestion();
        }
    }

    private void expireQuestion() {
        if (asked) {
            meter.expire();
            endQuestion();
        }
    }

    private void endQuestion() {
        if (database.standing().isPresent()) {
            database.standing().get().callOff();
        } else {
            statements.cancel();
        }
    }

    /** {@link #aside} for an expression that is looked at often. */
    public Object glance(ProbeCode code, Frame frame) {
        long count = meter.statements;
        Diagnostics.Area area = diagnostics.current();
        try {
            return code.value(frame);
        } finally {
            meter.statements = count;
            diagnostics.set(area);
        }
    }

    /** The same for work that waits for a person, whom the limit of seconds does not hurry. */
    public <T, E extends Exception> T waiting(Aside<T, E> work) throws E {
        deadline.cancel(false);
        try {
            return aside(work);
        } finally {
            deadline = program.watchdog().after(Math.max(0, meter.left()), this::expire);
        }
    }

    /** A diagnostics area, as a person looks at it (ISO 9075-2, 23.1). */
    public record Diagnosis(
            Condition condition, long rowCount, String command, String routine, boolean handled) {}

    /** The area of the last statement, then those of the handlers that run, innermost first. */
    public List<Diagnosis> diagnoses() {
        List<Diagnosis> all = new ArrayList<>();
        for (Diagnostics.Area area : diagnostics.all()) {
            all.add(
                    new Diagnosis(
                            area.condition(),
                            area.rowCount(),
                            area.command(),
                            area.routine(),
                            !all.isEmpty()));
        }
        return all;
    }

    /** What was changed since the last COMMIT. */
    public List<RowEvent> uncommitted() throws SQLException {
        return transaction.uncommitted();
    }

    /**
     * Makes a condition of whatever was thrown, with the call stack as it is now where it has none
     * yet.
     */
    RaisedException raised(Frame frame, Throwable thrown) {
        if (thrown instanceof RaisedException known) {
            return known;
        }
        Condition condition;
        if (thrown instanceof ConditionException e) {
            condition = e.condition();
        } else if (thrown instanceof SQLException e) {
            for (Throwable cause = e; cause != null; cause = cause.getCause()) {
                if (cause instanceof RaisedException known) {
                    return known;
                }
                if (cause instanceof Program.UnsoundException unsound) {
                    throw unsound;
                }
            }
            condition = fromDatabase(frame, e);
        } else if (thrown instanceof StackOverflowError) {
            condition = tooDeep();
        } else if (thrown instanceof RuntimeException e) {
            throw e;
        } else {
            throw new IllegalStateException(thrown);
        }
        Frame at = frame == null ? top : frame;
        RaisedException raised = new RaisedException(condition, stack(at, thrown));
        diagnostics.set(
                at == null
                        ? new Diagnostics.Area(condition, 0, "", "")
                        : new Diagnostics.Area(
                                condition, 0, at.place().command(), at.routine().name()));
        if (at != null) {
            probe.raised(at, condition);
        }
        return raised;
    }

    private Condition tooDeep() {
        return new Condition(
                "UL003", "the calls are nested too deep for this machine's stack " + cycle());
    }

    /** What an error of the database is, that something asked has come to. */
    public Condition condition(SQLException error) {
        return fromDatabase(top, error);
    }

    /** What an error of the database is: its own, or the end that was put to it. */
    private Condition fromDatabase(Frame frame, SQLException e) {
        if (meter.isInterrupted()) {
            return meter.interruption(frame).condition();
        }
        if (meter.isExpired()) {
            return meter.expiry(frame).condition();
        }
        if (meter.isCalledOff()) {
            return Meter.calledOff().condition();
        }
        for (Throwable cause = e; cause != null; cause = cause.getCause()) {
            if (cause instanceof StackOverflowError) {
                return tooDeep();
            }
        }
        return database.condition(e);
    }

    /** The call stack from a frame down, innermost first. */
    public List<StackEntry> stack(Frame from) {
        List<StackEntry> stack = new ArrayList<>();
        for (Frame f = from; f != null; f = f.caller) {
            stack.add(f.entry());
        }
        return stack;
    }

    /** The same, with what the server has run inside of it. */
    private List<StackEntry> stack(Frame from, Throwable thrown) {
        if (program.onServer().isEmpty() || !(thrown instanceof SQLException error)) {
            return stack(from);
        }
        List<StackEntry> all = new ArrayList<>(program.onServer().get().stack(error));
        Frame outside = from;
        while (outside instanceof ServerFrame && !all.isEmpty()) {
            // The server knows better where it was.
            outside = outside.caller;
        }
        all.addAll(stack(outside));
        return all;
    }

    /** For compiled code: the variables of a module, made when one of them is first used. */
    public Object[] module(ModuleSymbol module) {
        Object[] values = modules.get(module.key());
        if (values == null) {
            values = new Object[module.variables().size()];
            modules.put(module.key(), values);
            for (int i = 0; i < values.length; i++) {
                if (module.variables().get(i).initial().isPresent()) {
                    values[i] = program.initial(module, i, this);
                }
            }
        }
        return values;
    }

    /** For compiled code: the handler for what was thrown; raises what none of them takes. */
    public int choose(Frame frame, Throwable thrown, HandlerTable table) throws SQLException {
        if (thrown instanceof Program.UnsoundException e) {
            throw e;
        }
        RaisedException raised = raised(frame, thrown);
        HandlerTable.Entry entry =
                raised.condition().isLimit() ? null : table.choose(raised.condition());
        if (entry == null) {
            throw raised;
        }
        int left = entry.left().outermost(frame);
        boolean goesOn = entry.action() == HandlerAction.CONTINUE;
        if (left >= 0 && !goesOn) {
            transaction.rollbackTo(frame.marks[left]);
        }
        frame.runs(entry.number(), goesOn ? left : -1);
        diagnostics.push(raised, frame);
        return entry.number();
    }

    /** For compiled code: a handler has ended. */
    public void handled() {
        diagnostics.pop();
    }

    /** For compiled code: an ATOMIC block begins. */
    public Mark mark() throws SQLException {
        return transaction.mark();
    }

    /** For compiled code: an ATOMIC block is left by a condition; gives what to throw on. */
    public RuntimeException undone(Frame frame, Throwable thrown, Mark mark) throws SQLException {
        if (thrown instanceof Program.UnsoundException e) {
            throw e;
        }
        RaisedException raised = raised(frame, thrown);
        transaction.rollbackTo(mark);
        return raised;
    }

    /** For compiled code: a CASE statement found no branch (ISO 9075-4, 14.7). */
    public static RuntimeException noCase() {
        return new ConditionException("20000", "no branch of CASE fits; add an ELSE");
    }

    /** For compiled code: the index of an element, which can't be NULL. */
    public static long index(Object index) {
        if (index == null) {
            throw new ConditionException("2202E", "the index of an array element is NULL");
        }
        return (Long) index;
    }

    private StandIn standIn;

    /** Routines that are called from now on are replaced by others; not those run from the top. */
    public void replace(StandIn by) {
        standIn = by;
    }

    private String role;

    /** What the server runs from now on is run with the rights of a role. */
    public void actAs(String name) {
        role = name;
    }

    private boolean isReplaced(RoutineSymbol symbol) {
        return standIn != null && standIn.replaces(symbol);
    }

    /** For compiled code: CALL; gives the values of all parameters after the run. */
    public Object[] call(Frame caller, RoutineReference reference, Object[] values) {
        if (isReplaced(reference.symbol())) {
            Object[] stood = standIn.stand(reference.symbol(), values, results::add);
            diagnostics.clear("CALL");
            return stood;
        }
        Object[] given =
                reference.isExternal()
                        ? external(reference.symbol(), values)
                        : activate(reference.routine(program), values).give();
        diagnostics.clear("CALL");
        return given;
    }

    /** For compiled code: a function in an expression. */
    public Object invoke(Frame caller, RoutineReference reference, Object[] values) {
        return function(reference.symbol(), values, reference);
    }

    /** For the database: a function called from inside SQL. */
    public Object function(RoutineSymbol symbol, Object[] values) {
        Object[] stored = new Object[symbol.parameters().size()];
        for (int i = 0; i < stored.length; i++) {
            if (i >= values.length) {
                stored[i] = program.defaultOf(symbol, i, this);
                continue;
            }
            stored[i] = Conversion.store(values[i], symbol.parameters().get(i).type());
        }
        long written = data.writes();
        Object result = function(symbol, stored, null);
        if (data.writes() != written) {
            wroteOn();
        }
        return result;
    }

    private static boolean isNullOnNull(RoutineSymbol symbol, Object[] values) {
        return symbol.isFunction()
                && symbol.tree().characteristics().nullOnNull()
                && Arrays.asList(values).contains(null);
    }

    private Object function(RoutineSymbol symbol, Object[] values, RoutineReference reference) {
        if (isNullOnNull(symbol, values)) {
            return null;
        }
        if (isReplaced(symbol)) {
            return standIn.stand(symbol, values, results::add)[values.length];
        }
        Diagnostics.Area before = diagnostics.current();
        Object result;
        if (symbol.tree().body().isEmpty()) {
            result = external(symbol, values)[values.length];
        } else {
            Routine routine =
                    reference == null ? program.routine(symbol) : reference.routine(program);
            result = activate(routine, values).result;
        }
        diagnostics.set(before);
        return result;
    }

    /**
     * For the database: a trigger fires.
     *
     * @param before the old row, null for an insert
     * @param after the new row, null for a delete; a BEFORE trigger changes it in place
     * @param changes the rows that the statement changed, for a trigger with transition tables
     */
    public void fire(
            TriggerSymbol trigger, Object[] before, Object[] after, List<RowChange> changes) {
        Routine routine = routine(trigger);
        if (changes.isEmpty()
                && routine.bound().oldTable().isEmpty()
                && routine.bound().newTable().isEmpty()) {
            fire(trigger, routine, before, after);
            return;
        }
        Object use = new Object();
        try {
            try {
                transition(use, routine.bound().oldTable(), changes, RowChange::before);
                transition(use, routine.bound().newTable(), changes, RowChange::after);
                fire(trigger, routine, before, after);
            } finally {
                temporary.close(use, 0);
            }
        } catch (SQLException e) {
            throw raised(top, e);
        }
    }

    private void transition(
            Object use,
            Optional<DeclaredTable> table,
            List<RowChange> changes,
            Function<RowChange, Object[]> side)
            throws SQLException {
        if (table.isPresent()) {
            temporary.open(use, table.get());
            temporary.fill(table.get(), changes.stream().map(side).toList());
        }
    }

    private TriggerSymbol lastTrigger;
    private Routine lastFired;

    /** A trigger fires for many rows in a row, and need not be looked up for each. */
    private Routine routine(TriggerSymbol trigger) {
        if (trigger != lastTrigger) {
            lastFired = program.routine(trigger);
            lastTrigger = trigger;
        }
        return lastFired;
    }

    private void fire(TriggerSymbol trigger, Routine routine, Object[] before, Object[] after) {
        Object[] rows =
                !trigger.tree().eachRow()
                        ? new Object[0]
                        : switch (trigger.tree().event()) {
                            case INSERT -> new Object[] {after};
                            case DELETE -> new Object[] {before};
                            case UPDATE -> new Object[] {before, after};
                        };
        Diagnostics.Area area = diagnostics.current();
        long written = data.writes();
        Frame frame = activate(routine, rows);
        if (trigger.tree().timing() == Unit.Timing.BEFORE && after != null) {
            Object[] left = frame.give();
            if (left[left.length - 1] == null) {
                throw raised(
                        top,
                        new ConditionException(
                                "22004",
                                "the trigger " + trigger.name() + " has made its new row NULL"));
            }
        }
        diagnostics.set(area);
        if (data.writes() != written) {
            wroteOn();
        }
    }

    /** What the database writes from here on is the doing of the statement that called back. */
    private void wroteOn() {
        try {
            transaction.written(top, true);
        } catch (SQLException e) {
            throw raised(top, e);
        }
    }

    /** How many statements that change rows are inside each other right now. */
    public int changeDepth() {
        return data.depth();
    }

    /** The columns that the UPDATE of a table that runs sets; empty where none of it is known. */
    public Optional<Set<String>> updating(Table table) {
        return data.updating(table);
    }

    /** Whether a routine on the stack has said that it changes no data. */
    boolean isRestricted() {
        return restricting > 0;
    }

    /**
     * For compiled code: raises the warning or NOT FOUND that the last statement left, where a
     * handler is for it; without one the routine goes on (ISO 9075-4, 14.2).
     */
    public void raiseCompletion(HandlerTable handlers) {
        Condition condition = diagnostics.current().condition();
        boolean completion = condition.isWarning() || condition.isNotFound();
        if (completion && handlers.choose(condition) != null) {
            throw new RaisedException(condition, stack(top));
        }
    }

    /** For compiled code: a statement begins that does not ask the diagnostics area. */
    public void clear(String command) {
        diagnostics.clear(command);
    }

    /** For compiled code: REPORT. */
    public void report(Object[] values) {
        StringBuilder line = new StringBuilder();
        for (Object value : values) {
            line.append(Values.text(value));
        }
        say(line.toString());
    }

    private void say(String message) {
        messages.add(message);
        probe.said(message);
    }

    /** For compiled code: SIGNAL and RESIGNAL (ISO 9075-4, 22.1 and 22.2). */
    public void signal(
            Frame frame,
            boolean resignal,
            String sqlstate,
            String name,
            String[] items,
            Object[] values) {
        Condition condition = diagnostics.signalled(resignal, sqlstate, name, items, values);
        if (condition.isWarning() || condition.isNotFound()) {
            String command = resignal ? "RESIGNAL" : "SIGNAL";
            diagnostics.set(new Diagnostics.Area(condition, 0, command, frame.routine().name()));
            if (condition.isWarning()) {
                warnings.add(condition.message());
            }
            noticed(condition);
            return;
        }
        if (resignal) {
            throw new RaisedException(condition, diagnostics.cause().stack());
        }
        throw new ConditionException(condition);
    }

    /** For compiled code: GET STACKED DIAGNOSTICS stands only in a handler. */
    public void checkStacked(boolean stacked) {
        diagnostics.checkStacked(stacked);
    }

    /** For compiled code: the number of a condition that is there. */
    public int conditionNumber(boolean stacked, Object number) {
        return diagnostics.conditionNumber(stacked, number);
    }

    /** For compiled code: an item of a diagnostics area, or of one of its conditions. */
    public Object diagnostic(boolean stacked, int condition, String item) {
        return diagnostics.item(stacked, condition, item);
    }

    /** For compiled code: a transaction statement. */
    public void transaction(String verb, String savepoint, String modes, boolean chain) {
        for (Frame f = top; f != null; f = f.caller) {
            if (f.routine().places().get(f.at).atomic()) {
                throw new ConditionException(
                        "2D000",
                        verb.replace('_', ' ')
                                + " can't be done inside an ATOMIC block of "
                                + f.routine().name());
            }
            BoundRoutine.Kind kind = f.routine().kind();
            if (kind == BoundRoutine.Kind.FUNCTION || kind == BoundRoutine.Kind.TRIGGER) {
                throw new ConditionException(
                        "2D000",
                        verb.replace('_', ' ')
                                + " can't be done while the "
                                + kind.word()
                                + " "
                                + f.routine().name()
                                + " runs");
            }
        }
        try {
            if (verb.equals("COMMIT")) {
                temporary.committed();
            }
            long kept = transaction.perform(verb, savepoint, modes, chain);
            boolean commit = verb.equals("COMMIT");
            closeCursors(c -> c.isTakenBack(kept) || commit && c.endsWithTransaction());
        } catch (SQLException e) {
            throw raised(top, e);
        }
    }

    /** For compiled code: CURRENT_TIMESTAMP and its kin; one value in a statement. */
    public Object moment(String name) {
        if (momentOf != meter.statements) {
            momentOf = meter.statements;
            moment = OffsetDateTime.now(clock).truncatedTo(ChronoUnit.MICROS);
        }
        LocalDateTime local = moment.toLocalDateTime();
        return switch (name) {
            case "CURRENT_DATE" -> local.toLocalDate();
            case "CURRENT_TIME" -> moment.toOffsetTime().truncatedTo(ChronoUnit.SECONDS);
            case "LOCALTIME" -> local.toLocalTime().truncatedTo(ChronoUnit.SECONDS);
            case "LOCALTIMESTAMP" -> local;
            case "CURRENT_TIMESTAMP" -> moment;
            default -> "cantina";
        };
    }

    /** Compiles an expression to be worked out in frames of a routine, by this session alone. */
    public ProbeCode compile(Frame frame, BoundExpression expression, List<Variable> variables) {
        return RoutineCompiler.expression(program, frame.code(), expression, variables);
    }

    /**
     * Runs a query that a person asks, with the variables of a frame in it.
     *
     * @param most how many rows to read at most
     * @throws SQLException where the database refuses
     */
    public ResultRows inspect(Frame frame, BoundSql query, long most) throws SQLException {
        Object[] values = new Object[query.parameters().size()];
        for (int i = 0; i < values.length; i++) {
            values[i] =
                    compile(frame, query.parameters().get(i), frame.routine().variables())
                            .value(frame);
        }
        return statements.once(new DataSite(0, query, program.catalog()), values, most);
    }

    /**
     * Runs a query given as text, as the running transaction sees it.
     *
     * @param most how many rows to read at most
     * @throws SQLException where the database refuses
     */
    public ResultRows inspect(String sql, long most) throws SQLException {
        if (database.standing().isPresent()) {
            return database.standing().get().query(sql, most);
        }
        Statement before = null;
        try (var statement = database.connection().createStatement()) {
            before = statements.running(statement);
            ResultSet result = statement.executeQuery(database.words(sql));
            List<SqlType.Field> columns = statements.columns(result.getMetaData());
            return new ResultRows(columns, statements.rows(result, columns, most));
        } finally {
            statements.running(before);
        }
    }

    /**
     * Runs a change given as text, inside the running transaction; gives the number of rows.
     *
     * @throws SQLException where the database refuses
     */
    public int change(String sql) throws SQLException {
        if (database.standing().isPresent()) {
            transaction.written(null, true);
            return database.standing().get().change(sql);
        }
        program.admit(sql);
        transaction.written(null, true);
        Statement before = null;
        try (var statement = database.connection().createStatement()) {
            before = statements.running(statement);
            return statement.executeUpdate(database.words(sql));
        } catch (SQLException e) {
            transaction.failed();
            throw e;
        } finally {
            statements.running(before);
        }
    }
}
