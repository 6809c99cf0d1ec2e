package dev.cantina.nativecode.postgresql;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.nativecode.BoundNative;
import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.nativecode.NativeVariable;
import dev.cantina.nativecode.OwnObject;
import dev.cantina.nativecode.PlacedParts;
import dev.cantina.nativecode.PlacedRoutines;
import dev.cantina.nativecode.ProbeFollower;
import dev.cantina.nativecode.ServerCode;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.Program;
import dev.cantina.runtime.RoutineCode;
import dev.cantina.runtime.StackEntry;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Callable;
import java.util.function.Consumer;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.postgresql.util.PSQLException;

/** A project's routines on PostgreSQL, which runs them. */
public final class PgCode implements ServerCode {
    private static final Pattern CONTEXT =
            Pattern.compile("PL/pgSQL function (.+) line (\\d+) at [^\\n]*");

    /**
     * A routine as the server has it, and where it was written.
     *
     * @param value the type of the one value that it gives, by its full name; empty where it gives
     *     none, or one that no variable may be declared for
     */
    record Known(
            long oid,
            PgRoutine written,
            boolean trigger,
            String signature,
            String callee,
            List<String> types,
            List<String> names,
            List<Character> modes,
            Returns returns,
            String returnType,
            boolean composite,
            boolean variadic,
            String language,
            Optional<String> value) {}

    /** What a routine gives. */
    enum Returns {
        NOTHING,
        VALUE,
        ROWS,
        OUT
    }

    private final Connection connection;
    private final PgLoader loader;
    private final PgRoutines catalog;

    private final Connector connector;
    private final PgWeaving weaving;
    private Connection controller;
    private PgCommits commits;
    private PgInside inside;
    private Optional<PgStandard> standard = Optional.empty();
    private Optional<PgClock> clock = Optional.empty();

    public PgCode(Connection connection, Connector connector) {
        this.connection = connection;
        this.connector = connector;
        this.weaving = new PgWeaving(connection, this);
        this.loader = new PgLoader(connection, connector);
        this.catalog = new PgRoutines(connection, loader);
    }

    @Override
    public void close() {
        ServerCode.letGo(controller);
    }

    /** What is inside of the routines, read when somebody wants to look. */
    private PgInside inside() {
        if (inside == null) {
            List<Known> own = catalog.all().stream().filter(k -> !isStandard(k)).toList();
            inside = new PgInside(connection, own, standard().map(PlacedRoutines::count).orElse(0));
        }
        return inside;
    }

    @Override
    public List<BoundRoutine> routines() {
        return inside().routines();
    }

    @Override
    public List<Problem> advice() {
        return inside().advice();
    }

    BoundNative bound(int routine) {
        return inside().bound(routine);
    }

    RoutineCode code(int routine) {
        return inside().code(routine);
    }

    /** The routines that can be called from outside, as they are numbered for stand-ins. */
    List<RoutineSymbol> callable() {
        return catalog.symbols();
    }

    Known known(RoutineSymbol symbol) {
        return catalog.of(symbol);
    }

    List<String> woven(Probe.Detail detail, Set<Known> without) {
        List<String> woven = new ArrayList<>(inside().woven(detail, without));
        standard.ifPresent(s -> woven.addAll(s.woven(detail, without)));
        return woven;
    }

    /** All routines as they were before anybody wove them. */
    List<String> unwoven(Set<Known> without) {
        List<String> unwoven = new ArrayList<>(inside().unwoven(without));
        standard.ifPresent(s -> unwoven.addAll(s.unwoven(without)));
        return unwoven;
    }

    /**
     * What is woven now stays as long as what is kept, so that not every run has to: of a project
     * with hundreds of routines that is most of its time.
     */
    @Override
    public boolean expect(Optional<Probe.Detail> detail) throws SQLException {
        return detail.isPresent() && weaving.become(detail, Map.of());
    }

    PgWeaving weaving() {
        return weaving;
    }

    private boolean isStandard(Known one) {
        return standard.filter(s -> s.has(one)).isPresent();
    }

    @Override
    public Optional<PlacedRoutines> standard() {
        return standard.map(PgStandard::routines);
    }

    @Override
    public boolean tellsOf(BoundRoutine routine) {
        return routines().contains(routine) || standard().filter(s -> s.has(routine)).isPresent();
    }

    @Override
    public void take(PlacedParts placed, Program program) throws SQLException {
        PgStandard taken =
                new PgStandard(new PlacedRoutines(program, placed.parts(), placed.key()));
        catalog.take(taken);
        standard = Optional.of(taken);
        commits = null;
        inside = null;
    }

    /** Whether only a value tells what fields it has. */
    boolean isRecord(NativeVariable variable) {
        return inside().isRecord(variable);
    }

    List<String> fieldTypes(NativeVariable variable) {
        return inside().fieldTypes(variable);
    }

    String typeName(NativeVariable variable) {
        return inside().typeName(variable);
    }

    @Override
    public Optional<Clocked> clocked(List<Source> scripts) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            for (String one : PgClock.MADE) {
                statement.execute(one);
            }
        }
        PgClock set = new PgClock(scripts);
        clock = Optional.of(set);
        return Optional.of(new Clocked(set.clocked(scripts), set::sent, set::made));
    }

    /** What somebody wants to look at, as it is sent. */
    String sent(String sql) {
        return clock.isPresent() ? PgClock.looked(sql) : sql;
    }

    @Override
    public void load(List<Source> scripts, Part part) throws SQLException {
        loader.load(scripts, part);
    }

    @Override
    public boolean waits() {
        return loader.waits();
    }

    @Override
    public Set<String> leftOut() {
        return loader.leftOut();
    }

    @Override
    public void finish() throws SQLException {
        loader.finish();
    }

    @Override
    public List<Problem> problems() {
        return loader.problems();
    }

    /** Takes a routine that somebody else has made there. */
    void made(PgRoutine routine) {
        loader.routines().add(routine);
    }

    /** All routines that were made from texts, trigger functions too. */
    List<Known> known() {
        return catalog.all();
    }

    @Override
    public List<OwnObject> objects(Set<Source> scripts, Consumer<Span> others) {
        return new PgObjects(catalog.all()).of(loader.statements(), scripts, others);
    }

    @Override
    public List<RoutineSymbol> symbols() throws SQLException {
        commits = null;
        inside = null;
        catalog.read();
        return catalog.symbols();
    }

    static String quoted(String name) {
        return '"' + name.replace("\"", "\"\"") + '"';
    }

    // ---------------------------------------------------------------- calls

    @Override
    public Called call(RoutineSymbol routine, Object[] values, ServerRun run) throws SQLException {
        Known one = catalog.of(routine);
        if (one == null) {
            throw ServerCode.notThere(routine);
        }
        clock.ifPresent(c -> c.admit(quoted(one.written.name())));
        PgCall call = new PgCall(connection, one, routine, values, run);
        Object[] after = java.util.Arrays.copyOf(values, values.length + 1);
        for (int i = 0; i < values.length; i++) {
            after[i] = values[i] == OMITTED ? null : values[i];
        }
        try (PreparedStatement statement = connection.prepareStatement(call.sql())) {
            call.fill(statement);
            run.running(statement);
            execute(
                    statement,
                    commits().mayEnd(one)
                            ? () -> committing(statement, run)
                            : () -> as(run.role(), statement),
                    routine,
                    after,
                    rows -> {
                        if (rows) {
                            call.read(statement.getResultSet(), after);
                        }
                    },
                    run);
        }
        return new Called(after);
    }

    private PgCommits commits() {
        if (commits == null) {
            commits = new PgCommits(catalog.all());
        }
        return commits;
    }

    /**
     * Runs a statement that may end transactions: it stands in none, and what was made for the run
     * is committed before it.
     */
    private boolean committing(PreparedStatement statement, ServerRun run) throws SQLException {
        connector.staying();
        run.session().database().letCommit(true);
        try (Statement set = connection.createStatement()) {
            if (run.role().isPresent()) {
                set.execute("SET ROLE " + quoted(run.role().get()));
            }
            try {
                return statement.execute();
            } finally {
                set.execute("RESET ROLE");
            }
        } finally {
            run.session().database().letCommit(false);
        }
    }

    /** Runs a statement with the rights of a role, and of nobody else afterwards. */
    private boolean as(Optional<String> role, PreparedStatement statement) throws SQLException {
        if (role.isEmpty()) {
            return statement.execute();
        }
        Savepoint before = connection.setSavepoint();
        try (Statement set = connection.createStatement()) {
            set.execute("SET LOCAL ROLE " + quoted(role.get()));
            boolean rows = statement.execute();
            set.execute("RESET ROLE");
            connection.releaseSavepoint(before);
            return rows;
        } catch (SQLException e) {
            // That takes the role back too.
            if (!connection.isClosed()) {
                connection.rollback(before);
            }
            throw e;
        }
    }

    private void execute(
            Statement statement,
            Callable<Boolean> call,
            RoutineSymbol routine,
            Object[] after,
            ProbeFollower.Reading reading,
            ServerRun run)
            throws SQLException {
        if (run.probe().isPresent() || run.standIn().isPresent()) {
            if (controller == null) {
                controller = connector.open();
                controller.setAutoCommit(true);
            }
            new PgProbes(connection, controller, this, run, routine)
                    .watch(statement, call, after, reading);
            return;
        }
        weaving.leave();
        try {
            ProbeFollower.plain(call, reading);
        } finally {
            run.running(null);
            run.session().database().notices(statement).forEach(run::told);
        }
    }

    /** ROLLBACK of the whole, which would take the session's own marks along. */
    private static boolean rollsBack(PgScript.Statement statement) {
        return statement.begins("abort")
                || statement.begins("rollback")
                        && statement.tokens().stream().noneMatch(t -> t.is("to"));
    }

    private static List<PgScript.Statement> read(Source script) throws SQLException {
        try {
            return PgScript.of(script);
        } catch (NativeSyntaxException e) {
            throw new SQLException(e.span().place() + ": " + e.getMessage(), "42601");
        }
    }

    @Override
    public List<Span> statements(Source script) throws SQLException {
        return read(script).stream().map(PgScript.Statement::span).toList();
    }

    @Override
    public void script(Source script, ServerRun run) throws SQLException {
        for (PgScript.Statement one : read(script)) {
            scripted = one.span();
            String text = clock.map(c -> c.sent(one.span().text())).orElse(one.span().text());
            if (PgLoader.endsTransactions(one) || rollsBack(one)) {
                throw new SQLException(
                        one.span().place()
                                + ": a script runs in one transaction, which is taken back; leave "
                                + one.span().text()
                                + " out",
                        "2D000");
            }
            try (Statement statement = connection.createStatement()) {
                statement.setEscapeProcessing(false);
                run.running(statement);
                execute(
                        statement,
                        () -> statement.execute(text),
                        null,
                        new Object[1],
                        rows -> {
                            if (rows) {
                                run.result(run.read(statement.getResultSet()));
                            }
                        },
                        run);
            }
        }
        scripted = null;
    }

    /** The statement of a script that runs. */
    private Span scripted;

    /** A line of a routine's body. */
    private Optional<StackEntry> at(Known one, int line) {
        return isStandard(one)
                ? standard.get().at(one, line)
                : Optional.of(
                        new StackEntry(
                                one.written.name(),
                                PgLoader.lineOf(one.written.body().get(), line)));
    }

    @Override
    public List<StackEntry> stack(SQLException error) {
        List<StackEntry> stack = new ArrayList<>();
        String where =
                error instanceof PSQLException e
                                && e.getServerErrorMessage() != null
                                && e.getServerErrorMessage().getWhere() != null
                        ? e.getServerErrorMessage().getWhere()
                        : "";
        for (String line : where.split("\n")) {
            Matcher matcher = CONTEXT.matcher(line.strip());
            if (matcher.matches()) {
                String signature = matcher.group(1);
                catalog.all().stream()
                        .filter(k -> k.signature.equals(signature))
                        .filter(k -> k.written.body().isPresent())
                        .findFirst()
                        .flatMap(k -> at(k, Integer.parseInt(matcher.group(2))))
                        .ifPresent(stack::add);
            }
        }
        if (scripted != null) {
            stack.add(new StackEntry(scripted.source().name(), scripted));
        }
        return stack;
    }
}
