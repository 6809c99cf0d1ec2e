package dev.cantina.nativecode.mariadb;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.JsonRows;
import dev.cantina.database.ServerPart;
import dev.cantina.database.mariadb.MariaCatalog;
import dev.cantina.database.mariadb.MariaSession;
import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.nativecode.OwnObject;
import dev.cantina.nativecode.PlacedParts;
import dev.cantina.nativecode.PlacedRoutines;
import dev.cantina.nativecode.ProbeFollower;
import dev.cantina.nativecode.ServerCode;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.Program;
import dev.cantina.runtime.StackEntry;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.Unit;
import dev.cantina.types.ConditionException;
import dev.cantina.types.Conversion;
import dev.cantina.types.SqlType;
import dev.cantina.types.Values;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.HexFormat;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Callable;
import java.util.function.Consumer;

/** A project's routines on MariaDB, which runs them. */
public final class MariaCode implements ServerCode {
    private static final String PARAMETERS =
            """
            SELECT ROUTINE_TYPE, SPECIFIC_NAME, ORDINAL_POSITION, PARAMETER_MODE, PARAMETER_NAME,
                   DTD_IDENTIFIER
              FROM information_schema.PARAMETERS WHERE SPECIFIC_SCHEMA = DATABASE()
             ORDER BY ROUTINE_TYPE, SPECIFIC_NAME, ORDINAL_POSITION
            """;

    /** A parameter as the server has it; the one at 0 is what a function gives. */
    private record Parameter(int position, String mode, String name, String type) {}

    /** Holds a number of 64 bits without a sign. */
    static final SqlType WIDEST = new SqlType.Exact(20, 0);

    private static final Map<String, String> SYNONYMS =
            Map.ofEntries(
                    Map.entry("bool", "boolean"),
                    Map.entry("int1", "tinyint"),
                    Map.entry("int2", "smallint"),
                    Map.entry("int3", "mediumint"),
                    Map.entry("middleint", "mediumint"),
                    Map.entry("int4", "int"),
                    Map.entry("int8", "bigint"),
                    Map.entry("dec", "decimal"),
                    Map.entry("fixed", "decimal"),
                    Map.entry("float4", "float"),
                    Map.entry("float8", "double"),
                    Map.entry("real", "double"));

    private final Connection connection;
    private final MariaLoader loader;
    private final Map<RoutineSymbol, MariaRoutine> known = new IdentityHashMap<>();
    private Span scripted;

    private final Connector connector;
    private final List<RoutineSymbol> symbols = new ArrayList<>();
    private Connection controller;
    private Connection looking;
    private MariaInside inside;
    private boolean woven;
    private Probe.Detail weaving;
    private long turn;

    public MariaCode(Connection connection, Connector connector) {
        this.connection = connection;
        this.connector = connector;
        this.loader = new MariaLoader(connection);
    }

    @Override
    public void close() {
        ServerCode.letGo(controller, looking);
    }

    @Override
    public List<Problem> advice() {
        List<Problem> advice = new ArrayList<>(loader.unread());
        advice.addAll(inside.advice());
        return advice;
    }

    /** A copy of a routine in the standard language. */
    private record Copied(PlacedRoutines.Copy copy, MariaRoutine routine) {}

    private Optional<PlacedRoutines> standard = Optional.empty();
    private final List<Copied> copies = new ArrayList<>();

    @Override
    public Optional<PlacedRoutines> standard() {
        return standard;
    }

    @Override
    public boolean tellsOf(BoundRoutine routine) {
        return routines().contains(routine) || standard.filter(s -> s.has(routine)).isPresent();
    }

    @Override
    public void take(PlacedParts placed, Program program) {
        PlacedRoutines taken = new PlacedRoutines(program, placed.parts(), placed.key());
        Set<Integer> called = new HashSet<>();
        for (PlacedRoutines.Copy copy : taken.copies()) {
            Optional<MariaRoutine> routine = MariaCopies.head(copy);
            routine.ifPresent(r -> copies.add(new Copied(copy, r)));
            Optional<RoutineSymbol> symbol = taken.symbol(copy.routine());
            // One that stands there once more is called by others alone.
            if (routine.isPresent() && symbol.isPresent() && called.add(copy.routine())) {
                known.put(symbol.get(), routine.get());
                symbols.add(symbol.get());
            }
        }
        for (ServerPart part : placed.parts()) {
            if (part.identity().startsWith("package body ")) {
                MariaCopies.packaged(part.create())
                        .ifPresent(
                                p -> {
                                    module(p, program);
                                    modules.put(part.create(), p);
                                });
            }
        }
        standard = Optional.of(taken);
    }

    /** What modules have become, by what makes it. */
    private final Map<String, MariaPackage> modules = new LinkedHashMap<>();

    /** The routines of a module that others may call. */
    private void module(MariaPackage of, Program program) {
        for (MariaPackage.Member one : of.routines()) {
            List<RoutineSymbol> named =
                    program.catalog().routines().stream()
                            .filter(r -> r.module().isPresent() && r.isPublic())
                            .filter(r -> r.name().equalsIgnoreCase(one.routine().name()))
                            .toList();
            if (named.size() == 1) {
                known.put(named.get(0), one.routine());
            }
        }
    }

    /** The statements that put woven copies in the places of those copies. */
    private List<String> woven(Map<MariaRoutine, Integer> standIns, Probe.Detail detail)
            throws SQLException {
        List<String> woven = new ArrayList<>();
        if (!copies.isEmpty() || !modules.isEmpty()) {
            woven.addAll(MariaSession.statements());
        }
        for (Map.Entry<String, MariaPackage> one : modules.entrySet()) {
            PlacedRoutines placed = standard.orElseThrow();
            woven.addAll(
                    MariaCopies.woven(
                            connection,
                            one.getValue(),
                            placed.copies().stream()
                                    .filter(c -> c.create().equals(one.getKey()))
                                    .toList(),
                            placed,
                            detail,
                            r -> Optional.ofNullable(standIns.get(r)),
                            r -> List.of()));
        }
        for (Copied one : copies) {
            woven.add(
                    MariaCopies.woven(
                            connection,
                            one.copy(),
                            one.routine(),
                            standard.orElseThrow(),
                            detail,
                            Optional.ofNullable(standIns.get(one.routine())),
                            declared(one.routine())));
        }
        if (!copies.isEmpty() || !modules.isEmpty()) {
            woven.addAll(MariaSession.ownStatements());
        }
        return woven;
    }

    private List<MariaInside.Parameter> declared(MariaRoutine routine) throws SQLException {
        return declared(
                parameters()
                        .getOrDefault(MariaLoader.key(routine.what(), routine.name()), List.of()));
    }

    /** The number of the next stop. */
    long turn() {
        return turn;
    }

    void turn(long next) {
        turn = next;
    }

    MariaInside inside() {
        return inside;
    }

    List<RoutineSymbol> callable() {
        return symbols;
    }

    /** Woven copies can't be made inside a transaction, so they are made before one begins. */
    @Override
    public boolean expect(Optional<Probe.Detail> wanted) throws SQLException {
        Probe.Detail detail = wanted.orElse(Probe.Detail.HOLD);
        if (woven && detail == weaving) {
            return false;
        }
        List<String> all = new ArrayList<>();
        if (!woven) {
            all.addAll(helpers());
        }
        woven = true;
        weaving = detail;
        Map<MariaRoutine, Integer> numbers = new IdentityHashMap<>();
        for (int i = 0; i < symbols.size(); i++) {
            numbers.put(known.get(symbols.get(i)), i);
        }
        all.addAll(inside.woven(numbers, detail, standard.map(PlacedRoutines::count).orElse(0)));
        all.addAll(woven(numbers, detail));
        try (Statement statement = connection.createStatement()) {
            statement.setEscapeProcessing(false);
            for (String sql : all) {
                statement.execute(sql);
            }
        }
        return true;
    }

    /** What stands beside the woven copies. */
    static List<String> helpers() {
        List<String> all = new ArrayList<>();
        StringBuilder states = new StringBuilder();
        for (String state : MariaProbes.STATES) {
            states.append("WHEN '")
                    .append(state)
                    .append("' THEN SIGNAL SQLSTATE '")
                    .append(state)
                    .append("' SET MESSAGE_TEXT = message_; ");
        }
        MariaProbes.HELPERS.forEach(h -> all.add(h.replace("%s", states)));
        all.add("INSERT INTO cantina_at (sid, turn) VALUES (CONNECTION_ID(), -1)");
        all.add("COMMIT");
        return all;
    }

    /** What a routine that is replaced gives, in JSON. */
    String standIn(ServerRun run, int number, JsonNode arguments) {
        RoutineSymbol routine = symbols.get(number);
        List<Object> values = new ArrayList<>();
        for (int i = 0; i < routine.parameters().size(); i++) {
            JsonNode given = arguments.get(String.valueOf(i));
            values.add(held(given, routine.parameters().get(i).type()));
        }
        ObjectNode answer = JsonNodeFactory.instance.objectNode();
        try {
            Object[] after =
                    run.standIn().orElseThrow().stand(routine, values.toArray(), run::result);
            for (int i = 0; i < values.size(); i++) {
                if (routine.parameters().get(i).mode().isOutput()) {
                    put(answer, String.valueOf(i), after[i]);
                }
            }
            put(answer, "r", after[values.size()]);
        } catch (ConditionException e) {
            answer.put("state", e.condition().sqlstate());
            answer.put("message", e.condition().message());
        }
        return answer.toString();
    }

    private static void put(ObjectNode node, String name, Object value) {
        if (value == null) {
            node.putNull(name);
        } else {
            node.put(name, value instanceof Boolean truth ? truth ? "1" : "0" : Values.text(value));
        }
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
    public void finish() throws SQLException {
        loader.finish();
    }

    @Override
    public List<Problem> problems() {
        return loader.problems();
    }

    @Override
    public List<BoundRoutine> routines() {
        return inside.routines();
    }

    /** Takes a routine that somebody else has made there. */
    void made(MariaRoutine routine) {
        loader.routines().put(MariaLoader.key(routine.what(), routine.name()), routine);
    }

    @Override
    public List<OwnObject> objects(Set<Source> scripts, Consumer<Span> others) {
        return new MariaObjects(loader.routines()).of(loader.statements(), scripts, others);
    }

    private Map<String, List<Parameter>> parameters() throws SQLException {
        Map<String, List<Parameter>> parameters = new LinkedHashMap<>();
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(PARAMETERS)) {
            while (row.next()) {
                parameters
                        .computeIfAbsent(
                                MariaLoader.key(
                                        row.getString(1).toLowerCase(Locale.ROOT),
                                        row.getString(2)),
                                k -> new ArrayList<>())
                        .add(
                                new Parameter(
                                        row.getInt(3),
                                        row.getString(4),
                                        row.getString(5),
                                        row.getString(6)));
            }
        }
        return parameters;
    }

    private static List<MariaInside.Parameter> declared(List<Parameter> all) {
        return all.stream()
                .filter(p -> p.position() > 0)
                .map(
                        p ->
                                new MariaInside.Parameter(
                                        p.name(),
                                        p.type(),
                                        !"OUT".equals(p.mode()),
                                        "OUT".equals(p.mode()) || "INOUT".equals(p.mode())))
                .toList();
    }

    @Override
    public List<RoutineSymbol> symbols() throws SQLException {
        Map<String, List<Parameter>> parameters = parameters();
        known.clear();
        symbols.clear();
        inside = new MariaInside(connection);
        for (Map.Entry<String, MariaRoutine> entry : loader.routines().entrySet()) {
            MariaRoutine routine = entry.getValue();
            List<Parameter> declared = parameters.getOrDefault(entry.getKey(), List.of());
            RoutineSymbol symbol = symbol(routine, declared);
            if (!routine.what().equals("trigger")) {
                known.put(symbol, routine);
                symbols.add(symbol);
            }
            inside.add(routine, declared(declared), symbol.returns(), Optional.empty());
        }
        for (MariaPackage one : loader.packages().values()) {
            packaged(one);
        }
        return List.copyOf(symbols);
    }

    /** The routines of a package; those that its head promises are called from outside. */
    private void packaged(MariaPackage one) throws SQLException {
        if (one.speaksOtherwise()) {
            if (one.body()) {
                inside.unread(one);
            }
            return;
        }
        MariaPackage head = loader.packages().get(MariaLoader.key("package", one.name()));
        for (MariaPackage.Member member : one.routines()) {
            List<Parameter> declared = new ArrayList<>();
            member.returns().ifPresent(r -> declared.add(new Parameter(0, "", "", r)));
            for (MariaPackage.Parameter p : member.parameters()) {
                declared.add(new Parameter(declared.size() + 1, p.mode(), p.name(), p.type()));
            }
            RoutineSymbol symbol = symbol(member.routine(), declared);
            String name = member.routine().name().substring(one.name().length() + 1);
            if (head != null && head.promised().contains(name.toLowerCase(Locale.ROOT))) {
                known.put(symbol, member.routine());
                symbols.add(symbol);
            }
            inside.add(member.routine(), declared(declared), symbol.returns(), Optional.of(one));
        }
    }

    private static RoutineSymbol symbol(MariaRoutine routine, List<Parameter> declared) {
        Span place = routine.nameSpan();
        List<ParameterSymbol> parameters = new ArrayList<>();
        Optional<SqlType> returns = Optional.empty();
        for (Parameter one : declared) {
            SqlType type = held(one.type());
            if (one.position() == 0) {
                returns = Optional.of(type);
                continue;
            }
            Unit.Mode mode =
                    "OUT".equals(one.mode())
                            ? Unit.Mode.OUT
                            : "INOUT".equals(one.mode()) ? Unit.Mode.INOUT : Unit.Mode.IN;
            parameters.add(
                    new ParameterSymbol(
                            new Name(one.name(), false, place), mode, type, Optional.empty()));
        }
        return ServerCode.symbol(
                routine.span(),
                routine.what().equals("function"),
                new Name(routine.name(), false, place),
                parameters,
                returns);
    }

    /** The type that a value is held as; what the standard has not is a text. */
    static SqlType held(String written) {
        String lower = written.strip().toLowerCase(Locale.ROOT);
        String word = lower.replaceFirst("[^a-z0-9].*", "");
        if (word.equals("bit")) {
            return WIDEST;
        }
        SqlType type =
                MariaCatalog.written(
                        SYNONYMS.getOrDefault(word, word) + lower.substring(word.length()));
        if (type instanceof SqlType.Approximate) {
            // The server writes a FLOAT with the digits that it has.
            return SqlType.DOUBLE;
        }
        if (type instanceof SqlType.Text text && text.shape() == SqlType.Shape.FIXED) {
            // It does not send the blanks at the end of a CHAR.
            return new SqlType.Text(SqlType.Shape.VARYING, text.length());
        }
        return type instanceof SqlType.Unknown ? SqlType.VARCHAR : type;
    }

    /** A value that a probe tells, as it is held: what is true is a 1, and bytes are digits. */
    static Object held(JsonNode value, SqlType type) {
        boolean given = value != null && !value.isNull();
        if (given && type instanceof SqlType.Bytes) {
            return HexFormat.of().parseHex(value.asText());
        }
        boolean truth = given && type instanceof SqlType.Bool;
        return truth ? (Object) !value.asText().equals("0") : JsonRows.value(value, type);
    }

    static String quoted(String name) {
        return '`' + name.replace("`", "``") + '`';
    }

    // ---------------------------------------------------------------- calls

    @Override
    public Called call(RoutineSymbol routine, Object[] values, ServerRun run) throws SQLException {
        MariaRoutine one = known.get(routine);
        if (one == null
                && run.session().program().catalog().routinesCalled(routine.name()).size() > 1) {
            throw new SQLException(
                    "there are several "
                            + routine.name()
                            + ", of which none can be called from outside a module on MariaDB",
                    "0A000");
        }
        if (one == null) {
            throw ServerCode.notThere(routine);
        }
        List<String> texts = new ArrayList<>();
        List<Object> sent = new ArrayList<>();
        for (int i = 0; i < values.length; i++) {
            ParameterSymbol parameter = routine.parameters().get(i);
            if (parameter.mode().isOutput()) {
                texts.add("@cantina_p" + i);
                put(i, parameter.mode().isInput() ? values[i] : null, run, parameter.type());
            } else {
                texts.add("?");
                sent.add(run.session().database().driverValue(values[i], parameter.type()));
            }
        }
        Object[] after = Arrays.copyOf(values, values.length + 1);
        boolean function = one.what().equals("function");
        String sql =
                (function ? "SELECT " : "CALL ")
                        + one.callee()
                        + "("
                        + String.join(", ", texts)
                        + ")";
        try (PreparedStatement statement = connection.prepareStatement(sql)) {
            for (int i = 0; i < sent.size(); i++) {
                statement.setObject(i + 1, sent.get(i));
            }
            run.running(statement);
            execute(
                    statement,
                    statement::execute,
                    routine,
                    after,
                    rows -> {
                        if (function) {
                            ResultSet result = statement.getResultSet();
                            result.next();
                            after[values.length] =
                                    run.session()
                                            .database()
                                            .read(result, 1, routine.returns().orElseThrow());
                        } else {
                            results(statement, rows, run);
                        }
                        for (int i = 0; i < values.length; i++) {
                            if (routine.parameters().get(i).mode().isOutput()) {
                                after[i] = taken(i, routine.parameters().get(i).type());
                            }
                        }
                    },
                    run);
        }
        return new Called(after);
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
            connect();
            new MariaProbes(connection, controller, looking, this, run, routine)
                    .watch(statement, call, after, reading);
            return;
        }
        try {
            ProbeFollower.plain(call, reading);
        } finally {
            run.running(null);
        }
    }

    /** Opens what somebody who looks into the routines needs. */
    private void connect() throws SQLException {
        if (!woven) {
            throw new IllegalStateException("nobody has said that this run is watched");
        }
        if (controller != null) {
            return;
        }
        controller = connector.open();
        controller.setAutoCommit(true);
        looking = connector.open();
        looking.setAutoCommit(true);
        looking.setTransactionIsolation(Connection.TRANSACTION_READ_UNCOMMITTED);
        for (Connection other : List.of(controller, looking)) {
            try (Statement use = other.createStatement()) {
                use.execute("SET NAMES utf8mb4");
                use.execute("SET sql_mode = @@GLOBAL.sql_mode");
                use.execute("USE " + quoted(connection.getCatalog()));
            }
        }
    }

    private void put(int number, Object value, ServerRun run, SqlType type) throws SQLException {
        try (PreparedStatement set =
                connection.prepareStatement("SET @cantina_p" + number + " = ?")) {
            set.setObject(1, run.session().database().driverValue(value, type));
            set.execute();
        }
    }

    /** What a parameter has given; the variable that holds it knows no sizes. */
    private Object taken(int number, SqlType type) throws SQLException {
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery("SELECT @cantina_p" + number)) {
            row.next();
            String text = row.getString(1);
            if (text == null) {
                return null;
            }
            if (type instanceof SqlType.Bytes) {
                return row.getBytes(1);
            }
            if (type instanceof SqlType.Bool && text.matches("[01]")) {
                return text.equals("1");
            }
            try {
                return Conversion.cast(text, type);
            } catch (ConditionException e) {
                return text;
            }
        }
    }

    /** All that a statement gives, one set of rows after the other. */
    private static void results(Statement statement, boolean first, ServerRun run)
            throws SQLException {
        boolean rows = first;
        while (rows || statement.getUpdateCount() >= 0) {
            if (rows) {
                run.result(run.read(statement.getResultSet()));
            }
            rows = statement.getMoreResults();
        }
    }

    @Override
    public List<Span> statements(Source script) throws SQLException {
        return read(script).stream().map(MariaScript.Statement::span).toList();
    }

    private static List<MariaScript.Statement> read(Source script) throws SQLException {
        try {
            return MariaScript.of(script);
        } catch (NativeSyntaxException e) {
            throw new SQLException(e.span().place() + ": " + e.getMessage(), "42000");
        }
    }

    @Override
    public void script(Source script, ServerRun run) throws SQLException {
        for (MariaScript.Statement one : read(script)) {
            scripted = one.span();
            try (Statement statement = connection.createStatement()) {
                statement.setEscapeProcessing(false);
                run.running(statement);
                execute(
                        statement,
                        () -> statement.execute(one.span().text()),
                        null,
                        new Object[1],
                        rows -> results(statement, rows, run),
                        run);
            }
        }
        scripted = null;
    }

    /** The server says nothing of where it was. */
    @Override
    public List<StackEntry> stack(SQLException error) {
        return scripted == null
                ? List.of()
                : List.of(new StackEntry(scripted.source().name(), scripted));
    }
}
