package dev.cantina.nativecode.postgresql;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.postgresql.PostgresCatalog;
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
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.Unit;
import dev.cantina.types.SqlType;
import java.sql.Array;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Locale;
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
    /** The procedures and functions of the database's own schemas, as its catalog has them. */
    private static final String ROUTINES =
            """
            SELECT p.oid, n.nspname, p.proname, p.prokind, p.proretset, rt.typname, rt.typtype,
                   p.proargmodes::text[], p.proargnames,
                   ARRAY(SELECT t.typname FROM unnest(COALESCE(p.proallargtypes, p.proargtypes::oid[]))
                           WITH ORDINALITY a (id, n) JOIN pg_type t ON t.oid = a.id ORDER BY a.n)
                     ::text[],
                   ARRAY(SELECT format_type(a.id, NULL)
                           FROM unnest(COALESCE(p.proallargtypes, p.proargtypes::oid[]))
                           WITH ORDINALITY a (id, n) ORDER BY a.n)::text[],
                   p.pronargdefaults, p.prosrc, p.oid::regprocedure::text, p.provariadic <> 0,
                   l.lanname, format_type(p.prorettype, NULL),
                   CASE WHEN pg_function_is_visible(p.oid) THEN '' ELSE n.nspname || '.' END,
                   (SELECT quote_ident(nspname) FROM pg_namespace WHERE oid = rt.typnamespace)
              FROM pg_proc p JOIN pg_namespace n ON n.oid = p.pronamespace
              JOIN pg_type rt ON rt.oid = p.prorettype
              JOIN pg_language l ON l.oid = p.prolang
             WHERE n.nspname NOT IN ('pg_catalog', 'information_schema')
               AND n.nspname NOT LIKE 'pg\\_%' AND p.prokind IN ('f', 'p')
               AND NOT EXISTS (SELECT 1 FROM pg_depend d
                                WHERE d.classid = 'pg_proc'::regclass AND d.objid = p.oid
                                  AND d.deptype = 'e')
             ORDER BY p.oid
            """;

    /** Each domain with the type that it is made of in the end. */
    private static final String DOMAINS =
            """
            WITH RECURSIVE made (domain, base) AS (
              SELECT oid, typbasetype FROM pg_type WHERE typtype = 'd' AND oid >= 16384
              UNION ALL
              SELECT m.domain, t.typbasetype FROM made m JOIN pg_type t ON t.oid = m.base
               WHERE t.typtype = 'd')
            SELECT format_type(m.domain, NULL), format_type(m.base, NULL)
              FROM made m JOIN pg_type t ON t.oid = m.base WHERE t.typtype <> 'd'
            """;

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
    private final Map<RoutineSymbol, Known> known = new IdentityHashMap<>();
    private final List<Known> all = new ArrayList<>();
    private final List<RoutineSymbol> symbols = new ArrayList<>();
    private final Map<String, String> domains = new HashMap<>();

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
    }

    @Override
    public void close() {
        ServerCode.letGo(controller);
    }

    /** What is inside of the routines, read when somebody wants to look. */
    private PgInside inside() {
        if (inside == null) {
            List<Known> own = all.stream().filter(k -> !isStandard(k)).toList();
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
        return List.copyOf(symbols);
    }

    Known known(RoutineSymbol symbol) {
        return known.get(symbol);
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
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(ROUTINES)) {
            while (row.next()) {
                Optional<PlacedRoutines.Copy> copy = taken.copy(row.getString(13));
                if (copy.isPresent()) {
                    Known one = known(row, PgStandard.head(copy.get()));
                    all.add(one);
                    taken.take(copy.get(), one)
                            .ifPresent(
                                    symbol -> {
                                        known.put(symbol, one);
                                        symbols.add(symbol);
                                    });
                }
            }
        }
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
        PgClock made = new PgClock(scripts);
        clock = Optional.of(made);
        return Optional.of(new Clocked(made.clocked(scripts), made::sent, made::made));
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
        return all;
    }

    @Override
    public List<OwnObject> objects(Set<Source> scripts, Consumer<Span> others) {
        return new PgObjects(all).of(loader.statements(), scripts, others);
    }

    @Override
    public List<RoutineSymbol> symbols() throws SQLException {
        known.clear();
        all.clear();
        commits = null;
        inside = null;
        symbols.clear();
        Set<PgRoutine> taken = new HashSet<>();
        domains.clear();
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(DOMAINS)) {
            while (row.next()) {
                domains.put(row.getString(1), row.getString(2));
            }
        }
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(ROUTINES)) {
            while (row.next()) {
                Optional<PgRoutine> written =
                        written(row.getString(2), row.getString(3), row.getString(13), taken);
                if (written.isEmpty()) {
                    continue;
                }
                taken.add(written.get());
                Known one = known(row, written.get());
                all.add(one);
                if (!one.trigger) {
                    RoutineSymbol symbol = symbol(one, row.getInt(12), row.getString(18));
                    known.put(symbol, one);
                    symbols.add(symbol);
                }
            }
        }
        return List.copyOf(symbols);
    }

    /** The text that a routine was made from: of those with its name the last with its body. */
    private Optional<PgRoutine> written(
            String schema, String name, String body, Set<PgRoutine> taken) {
        PgRoutine found = null;
        for (PgRoutine one : loader.routines()) {
            boolean named =
                    one.name().equals(name)
                            && one.schema().map(schema::equals).orElse(true)
                            && !taken.contains(one);
            boolean same =
                    one.body().isEmpty()
                            || body == null
                            || body.isEmpty()
                            || one.text().equals(body);
            if (named && same) {
                found = one;
                if (one.schema().isPresent()) {
                    break;
                }
            }
        }
        return Optional.ofNullable(found);
    }

    private static List<String> texts(Array array) throws SQLException {
        return array == null ? List.of() : List.of((String[]) array.getArray());
    }

    private Known known(ResultSet row, PgRoutine written) throws SQLException {
        List<String> types = texts(row.getArray(10));
        List<Character> modes = new ArrayList<>();
        texts(row.getArray(8)).forEach(m -> modes.add(m.charAt(0)));
        while (modes.size() < types.size()) {
            modes.add('i');
        }
        List<String> names = new ArrayList<>(texts(row.getArray(9)));
        while (names.size() < types.size()) {
            names.add("");
        }
        boolean procedure = row.getString(4).equals("p");
        String returned = row.getString(6);
        boolean rows = row.getBoolean(5);
        boolean out = modes.contains('o') || modes.contains('b');
        Returns returns =
                procedure
                        ? out ? Returns.OUT : Returns.NOTHING
                        : rows
                                ? Returns.ROWS
                                : returned.equals("void")
                                        ? Returns.NOTHING
                                        : out ? Returns.OUT : Returns.VALUE;
        return new Known(
                row.getLong(1),
                written,
                returned.equals("trigger") || returned.equals("event_trigger"),
                row.getString(14),
                quoted(row.getString(2)) + "." + quoted(row.getString(3)),
                texts(row.getArray(11)),
                names,
                modes,
                returns,
                row.getString(17),
                row.getString(7).equals("c"),
                row.getBoolean(15),
                row.getString(16),
                returns == Returns.VALUE && "berm".contains(row.getString(7))
                        ? Optional.of(row.getString(19) + "." + quoted(returned))
                        : Optional.empty());
    }

    static String quoted(String name) {
        return '"' + name.replace("\"", "\"\"") + '"';
    }

    /** A name as people write it: one of small letters without quotes. */
    private static Name name(String text, Span span) {
        boolean plain = text.equals(text.toLowerCase(Locale.ROOT));
        return new Name(text, !plain, span);
    }

    /** The columns of the rows that it gives, where its head names them. */
    private List<SqlType.Field> columns(Known one) {
        List<SqlType.Field> columns = new ArrayList<>();
        for (int i = 0; i < one.types.size(); i++) {
            char mode = one.modes.get(i);
            if (mode == 't' || mode == 'o' || mode == 'b') {
                columns.add(new SqlType.Field(one.names.get(i), held(one.types.get(i))));
            }
        }
        return columns;
    }

    private RoutineSymbol symbol(Known one, int defaults, String before) {
        Span place = one.written.nameSpan();
        List<ParameterSymbol> parameters = new ArrayList<>();
        long inputs = one.modes.stream().filter(m -> m != 'o' && m != 't').count();
        int input = 0;
        for (int i = 0; i < one.types.size(); i++) {
            char mode = one.modes.get(i);
            if (mode == 't') {
                continue;
            }
            boolean given = mode != 'o';
            input += given ? 1 : 0;
            boolean initial = given && input > inputs - defaults;
            parameters.add(
                    new ParameterSymbol(
                            name(parameterName(one, i), place),
                            mode == 'o'
                                    ? Unit.Mode.OUT
                                    : mode == 'b' ? Unit.Mode.INOUT : Unit.Mode.IN,
                            held(one.types.get(i)),
                            initial
                                    ? Optional.of(new Expression.Opaque(place, List.of()))
                                    : Optional.empty()));
        }
        boolean function = one.returns == Returns.VALUE || one.returns == Returns.ROWS;
        Optional<SqlType> returns =
                switch (one.returns) {
                    case VALUE -> Optional.of(held(one.returnType));
                    case ROWS -> Optional.of(new SqlType.Table(columns(one)));
                    default -> Optional.empty();
                };
        String shown = before + one.written.name();
        Unit.Routine tree =
                new Unit.Routine(
                        one.written.span(),
                        function ? Unit.RoutineKind.FUNCTION : Unit.RoutineKind.PROCEDURE,
                        name(shown, place),
                        List.of(),
                        Optional.empty(),
                        new Unit.Characteristics(
                                RoutineSymbol.SERVER,
                                Optional.empty(),
                                Optional.empty(),
                                0,
                                false,
                                Optional.empty(),
                                Optional.empty(),
                                Optional.empty(),
                                Optional.empty()),
                        Optional.empty());
        return new RoutineSymbol(tree, parameters, returns, Optional.empty());
    }

    private static String parameterName(Known one, int i) {
        return one.names.get(i).isEmpty() ? "arg" + (i + 1) : one.names.get(i);
    }

    /** The type that values of a parameter's type have: that of a domain is what it is made of. */
    private SqlType held(String shown) {
        return type(domains.getOrDefault(shown, shown));
    }

    /** The type of a parameter by what the server shows of it. */
    static SqlType type(String shown) {
        if (shown.equals("anyarray") || shown.equals("anycompatiblearray")) {
            return type("text[]");
        }
        boolean array = shown.endsWith("[]");
        String bare = array ? shown.substring(0, shown.length() - 2) : shown;
        String name =
                switch (bare) {
                    case "smallint" -> "int2";
                    case "integer" -> "int4";
                    case "bigint" -> "int8";
                    case "real" -> "float4";
                    case "double precision" -> "float8";
                    case "boolean" -> "bool";
                    // Without a length it holds one character alone.
                    case "character varying", "character" -> "varchar";
                    case "time without time zone" -> "time";
                    case "time with time zone" -> "timetz";
                    case "timestamp without time zone" -> "timestamp";
                    case "timestamp with time zone" -> "timestamptz";
                    default -> bare;
                };
        return PostgresCatalog.parameter(array ? "_" + name : name);
    }

    // ---------------------------------------------------------------- calls

    @Override
    public Called call(RoutineSymbol routine, Object[] values, ServerRun run) throws SQLException {
        Known one = known.get(routine);
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
            commits = new PgCommits(all);
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
                all.stream()
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
