package dev.cantina.runtime;

import dev.cantina.binding.Binder;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.DeclaredTable;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.Table;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.types.Condition;
import dev.cantina.types.ConditionException;
import dev.cantina.types.SqlType;
import dev.cantina.types.Values;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Clock;
import java.time.LocalDateTime;
import java.time.OffsetDateTime;
import java.time.temporal.ChronoUnit;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Future;

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

    /** For compiled code: how conditions are raised and handled. */
    public final Handling handling;

    private final Transaction transaction;
    private final CallStack stack;
    private final Runs runs;
    private final Raising raising;
    private final ServerSide server;
    private final Calls calls;
    private final TriggerRunner triggers;
    private final Questions questions;
    private final TemporaryTables temporary;
    private Future<?> deadline;
    private final Diagnostics diagnostics = new Diagnostics();
    private final Map<String, Object[]> modules = new HashMap<>();
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
        this.stack = new CallStack(this, meter, limits, this.probe);
        this.raising = new Raising(this, meter, diagnostics, this.probe);
        this.server = new ServerSide(this, meter, statements, this.probe);
        this.calls = new Calls(this, statements, diagnostics, server);
        if (probed && program.placed().isPresent()) {
            // Before the first mark: no rollback may take back what it has set up.
            statements.follow(
                    program.placed().get().follow(database.connection(), server), this.probe);
        }
        this.transaction = new Transaction(database);
        if (probed) {
            transaction.remember();
        }
        this.runs = new Runs(this, meter, limits, transaction);
        this.handling = new Handling(this, diagnostics, runs.warnings());
        this.temporary = new TemporaryTables(database);
        this.triggers = new TriggerRunner(this, temporary, diagnostics);
        this.questions =
                new Questions(this, meter, diagnostics, statements, transaction, limits.seconds());
        this.data =
                new DataAccess(
                        this, database, statements, transaction, diagnostics, runs.results());
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
        return stack.top();
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
        return List.copyOf(runs.messages());
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

    void expire() {
        meter.expire();
        statements.cancel();
    }

    /** Lets go of the database; the transaction stays as it is. */
    @Override
    public void close() {
        runs.close();
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
        return runs.finished(
                symbol.name(),
                symbol.isFunction() && !rows,
                out,
                () -> {
                    Object[] values = new Object[arguments.size()];
                    for (int i = 0; i < values.length; i++) {
                        values[i] = runs.argument(symbol, i, arguments.get(i));
                    }
                    Object[] given = calls.perform(symbol, values);
                    for (int i = 0; i < values.length; i++) {
                        if (symbol.parameters().get(i).mode().isOutput()) {
                            out.put(symbol.parameters().get(i).name().text(), given[i]);
                        }
                    }
                    if (given[values.length] instanceof ResultRows table) {
                        runs.results().add(table);
                        return null;
                    }
                    return given[values.length];
                });
    }

    /** Runs the statements of a script, in one transaction, as {@link #run} does a routine. */
    public Outcome runScript(BoundRoutine script) {
        program.admit(script);
        return runs.finished(
                script.name(),
                false,
                Map.of(),
                () -> stack.activate(program.routine(script), new Object[0]).result);
    }

    /** Runs a script in the server's own words, in one transaction. */
    public Outcome runServerScript(Source script) {
        return runs.finished(script.name(), false, Map.of(), () -> server.script(script));
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
        return runs.open(
                code.name(),
                values,
                () -> {
                    Frame frame = stack.activate(program.routine(code), values);
                    given[0] = frame.give();
                    return null;
                },
                given);
    }

    /** The same of a script in the server's own words. */
    public Step serverStep(Source script) {
        return runs.open(
                script.name(), new Object[0], () -> server.script(script), new Object[1][]);
    }

    /** {@link #run} in the transaction that is open, as {@link #step} does. */
    Outcome call(RoutineSymbol symbol, List<Optional<Object>> arguments) {
        return runs.stepping(() -> run(symbol, arguments));
    }

    /**
     * Has a statement sent of which only the text is known, as {@link #step} runs one.
     *
     * @param work sends it
     */
    Outcome send(String statement, Optional<Statement> on, DataAccess.Work<Object> work) {
        return runs.stepping(
                () ->
                        runs.finished(
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
                                        throw raised(top(), e);
                                    }
                                }));
    }

    /** Has a value that stands in a call worked out, as {@link #step} runs a statement. */
    Outcome work(Expression expression) {
        return runs.stepping(
                () -> runs.finished("the value", true, Map.of(), () -> evaluate(expression)));
    }

    /**
     * The database has ended the transaction by itself, and taken it back (ISO 9075-2, 24.1, class
     * 40); what comes next begins another.
     */
    public void loseTransaction() {
        runs.undoAll();
        stack.closeCursors(c -> true);
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

    /** What the time is, is asked anew. */
    void newMoment() {
        momentOf = -1;
    }

    /** No routine stands that can go on behind a failure. */
    void unguarded() {
        stack.unguarded();
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
            if (top() != null) {
                throw e;
            }
            throw new ConditionException(e.condition());
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

    /** From now on the probe is told of every statement, or only of those marked one by one. */
    public void watchAll(boolean all) {
        stack.watchAll(all);
    }

    /** Marks a statement of a routine, for the probe to be told when it is reached. */
    public void watch(Routine routine, int statement) {
        stack.watch(routine, statement);
    }

    /** The frames of the routines that run. */
    CallStack frames() {
        return stack;
    }

    void reached(Frame frame) {
        probe.reached(frame);
    }

    /** Looks whether somebody wants the run to stop, or to end, after what may have taken long. */
    void look() {
        if (meter.statements >= meter.next) {
            meter.poll(top());
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

    void performed(Frame frame, Performed performed) {
        if (frame != null) {
            probe.performed(frame, performed);
        }
    }

    /** NOT FOUND or a warning, which ends nothing by itself. */
    void noticed(Condition condition) {
        if (top() != null) {
            probe.raised(top(), condition);
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

    /** What an error of the database is, that something asked has come to. */
    public Condition condition(SQLException error) {
        return raising.fromDatabase(top(), error);
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

    /** For compiled code: an ATOMIC block begins. */
    public Mark mark() throws SQLException {
        return transaction.mark();
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

    /** For compiled code: CALL; gives the values of all parameters after the run. */
    public Object[] call(Frame caller, RoutineReference reference, Object[] values) {
        return calls.call(caller, reference, values);
    }

    /** For compiled code: a function in an expression. */
    public Object invoke(Frame caller, RoutineReference reference, Object[] values) {
        return calls.invoke(caller, reference, values);
    }

    /** For the database: a function called from inside SQL. */
    public Object function(RoutineSymbol symbol, Object[] values) {
        return calls.function(symbol, values);
    }

    /** What is asked of this session while it stands. */
    public Questions questions() {
        return questions;
    }

    /** What time it is, in nanoseconds; of what a server has told, when it was. */
    public long nanos() {
        return server.nanos();
    }

    /** Whether what is handled now happened some time ago. */
    public boolean isTold() {
        return server.isTold();
    }

    /** The call stack from a frame down, innermost first. */
    public List<StackEntry> stack(Frame from) {
        return Raising.stack(from);
    }

    /** Makes a condition of whatever was thrown, with the call stack where it has none yet. */
    RaisedException raised(Frame frame, Throwable thrown) {
        return raising.raised(frame, thrown);
    }

    /** What is told of the run; empty where nobody watches. */
    Optional<Probe> probe() {
        return probed ? Optional.of(probe) : Optional.empty();
    }

    /** With whose rights the server runs what it runs. */
    Optional<String> role() {
        return Optional.ofNullable(role);
    }

    /** What stands in for routines. */
    Optional<StandIn> standIn() {
        return Optional.ofNullable(standIn);
    }

    /** The results that were given so far. */
    List<ResultRows> results() {
        return runs.results();
    }

    /** The limit of seconds does not count on. */
    void stopClock() {
        deadline.cancel(false);
    }

    /** It counts on, with so many seconds left. */
    void startClock(double seconds) {
        deadline = program.watchdog().after(Math.max(0, seconds), this::expire);
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
        triggers.fire(trigger, before, after, changes);
    }

    /** What the database writes from here on is the doing of the statement that called back. */
    void wroteOn() {
        try {
            transaction.written(top(), true);
        } catch (SQLException e) {
            throw raised(top(), e);
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
        return stack.isRestricted();
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

    void say(String message) {
        runs.messages().add(message);
        probe.said(message);
    }

    /** For compiled code: a transaction statement. */
    public void transaction(String verb, String savepoint, String modes, boolean chain) {
        for (Frame f = top(); f != null; f = f.caller) {
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
            stack.closeCursors(c -> c.isTakenBack(kept) || commit && c.endsWithTransaction());
        } catch (SQLException e) {
            throw raised(top(), e);
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
}
