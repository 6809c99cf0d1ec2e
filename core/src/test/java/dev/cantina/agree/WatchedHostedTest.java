package dev.cantina.agree;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;

import dev.cantina.ConformanceTest;
import dev.cantina.Lab;
import dev.cantina.WatchedConformanceTest;
import dev.cantina.advice.CatalogCheck;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.Variable;
import dev.cantina.binding.Walker;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.CatalogBuilder;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.MariaServer;
import dev.cantina.database.PostgresServer;
import dev.cantina.database.ProjectDatabase;
import dev.cantina.database.ServerConnection;
import dev.cantina.database.ServerDatabase;
import dev.cantina.database.UnreachableException;
import dev.cantina.debugging.Debugger;
import dev.cantina.debugging.Resume;
import dev.cantina.nativecode.PlacedParts;
import dev.cantina.project.Arguments;
import dev.cantina.project.Placement;
import dev.cantina.project.ProjectException;
import dev.cantina.runtime.Frame;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.PlacedCode;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.Program;
import dev.cantina.runtime.ResultRows;
import dev.cantina.runtime.Session;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Unit;
import dev.cantina.types.Condition;
import dev.cantina.types.SqlType;
import dev.cantina.types.Values;
import java.io.IOException;
import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.stream.Stream;
import org.junit.jupiter.api.Assumptions;
import org.junit.jupiter.api.Nested;
import org.junit.jupiter.api.TestInstance;
import org.junit.jupiter.api.parallel.Execution;
import org.junit.jupiter.api.parallel.ExecutionMode;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/**
 * The conformance programs watched, with their data on a server: what is heard of the triggers and
 * functions that the server runs by itself is what is heard of them on the embedded database,
 * statement by statement, with all values; and they do the same as when nobody watches.
 */
class WatchedHostedTest {
    static Stream<ConformanceTest.Section> sections() throws IOException {
        // What ends at a limit takes long, and is told until then.
        return PostgresConformanceTest.sections()
                .filter(s -> !s.behaviour().matches(".*\\blimit\\b.*"));
    }

    /** Writes down what it hears. */
    static final class Record implements Probe {
        private final Probe.Detail detail;
        final List<String> heard = new ArrayList<>();
        final List<String> outcomes = new ArrayList<>();

        /** How deep a frame is whose declarations are heard of. */
        private final int declares;

        Record(Probe.Detail detail) {
            this(detail, 1);
        }

        Record(Probe.Detail detail, int declares) {
            this.detail = detail;
            this.declares = declares;
        }

        @Override
        public Detail detail() {
            return detail;
        }

        /** What was heard, but for routines in which nothing was done. */
        String text() {
            List<String> all = new ArrayList<>();
            for (String line : heard) {
                String last = all.isEmpty() ? "" : all.get(all.size() - 1);
                boolean begun = last.endsWith(" begins");
                String name = begun ? last.substring(0, last.length() - 6) : "";
                if (begun && line.equals(name + "ends NULL")) {
                    all.remove(all.size() - 1);
                } else {
                    all.add(line);
                }
            }
            return String.join("\n", all);
        }

        @Override
        public void entered(Frame frame) {
            frame.session.watchAll(true);
            hear(indent(frame) + frame.routine().name() + " begins");
        }

        /** What a declaration works out is done when a copy is heard of first. */
        private static boolean isDeclared(Frame frame) {
            boolean[] found = {false};
            Walker.statements(
                    frame.routine().body(),
                    s ->
                            found[0] |=
                                    s instanceof BoundStatement.Block block
                                            && block.initial().stream()
                                                    .anyMatch(i -> i.at() == frame.at));
            return found[0];
        }

        @Override
        public void reached(Frame frame) {
            if (frame.depth() > declares && isDeclared(frame)) {
                return;
            }
            StringBuilder values = new StringBuilder();
            for (Variable one : frame.place().scope().variables()) {
                values.append(' ').append(one.name()).append('=').append(shown(frame.get(one)));
            }
            boolean told = detail == Detail.HOLD || detail == Detail.VALUES;
            hear(
                    indent(frame)
                            + frame.routine().name()
                            + ":"
                            + frame.place().span().line()
                            + (told ? values : ""));
        }

        @Override
        public void left(Frame frame, Condition condition) {
            hear(
                    indent(frame)
                            + frame.routine().name()
                            + " ends "
                            + (condition != null
                                    ? condition.sqlstate()
                                    : frame.result instanceof ResultRows
                                            ? "(not shown)"
                                            : shown(frame.result)));
        }

        /** Enough of what has no end. */
        private void hear(String line) {
            if (heard.size() < 3000) {
                heard.add(line);
            }
        }

        private static String indent(Frame frame) {
            return " ".repeat(frame.depth());
        }

        private static String shown(Object value) {
            if (value instanceof Object[] parts) {
                List<String> all = new ArrayList<>();
                for (Object part : parts) {
                    all.add(shown(part));
                }
                return all.toString();
            }
            return value == null ? "NULL" : Values.text(value);
        }
    }

    @Nested
    @Execution(ExecutionMode.CONCURRENT)
    @TestInstance(TestInstance.Lifecycle.PER_CLASS)
    class OnPostgres {
        private final ServerConnection.Address address =
                new ServerConnection.Address("postgresql", PostgresServer.url(), "", "");

        @Execution(ExecutionMode.SAME_THREAD)
        @ParameterizedTest(name = "{0}")
        @MethodSource("dev.cantina.agree.WatchedHostedTest#sections")
        void tellsTheSame(ConformanceTest.Section section) throws Exception {
            direct(address, section);
        }

        @Execution(ExecutionMode.SAME_THREAD)
        @ParameterizedTest(name = "{0}")
        @MethodSource("dev.cantina.agree.WatchedHostedTest#sections")
        void tellsTheSameOfAllThatSqlCalls(ConformanceTest.Section section) throws Exception {
            throughSql(address, section);
        }
    }

    @Nested
    @Execution(ExecutionMode.CONCURRENT)
    @TestInstance(TestInstance.Lifecycle.PER_CLASS)
    class OnMaria {
        private final ServerConnection.Address address =
                new ServerConnection.Address("mariadb", MariaServer.url(), "", "");

        @Execution(ExecutionMode.SAME_THREAD)
        @ParameterizedTest(name = "{0}")
        @MethodSource("dev.cantina.agree.WatchedHostedTest#sections")
        void tellsTheSame(ConformanceTest.Section section) throws Exception {
            direct(address, section);
        }

        @Execution(ExecutionMode.SAME_THREAD)
        @ParameterizedTest(name = "{0}")
        @MethodSource("dev.cantina.agree.WatchedHostedTest#sections")
        void tellsTheSameOfAllThatSqlCalls(ConformanceTest.Section section) throws Exception {
            throughSql(address, section);
        }
    }

    /** Whether a section is one of those that are taken of so many. */
    static boolean isAmong(String behaviour, int of) {
        return Boolean.getBoolean("cantina.all") || Math.floorMod(behaviour.hashCode(), of) == 0;
    }

    /** How often functions in a query are called, and in which order, is each database's affair. */
    static final Set<String> HEARD_OTHERWISE =
            Set.of(
                    "functions in a query take arguments of other types than they were declared with",
                    "functions in every clause of a query",
                    "functions with the names of keywords are called in SQL, by place and by name",
                    "inside a data statement a function's arguments may be named too, defaults between"
                            + " them",
                    "a function that reads is used in a query, a condition, an assignment and an"
                            + " argument",
                    "UPDATE OF, WHEN with a function, and both rows in a query",
                    // PL/pgSQL leaves the other side of AND out where one decides.
                    "beside a NULL the other operand is worked out all the same, and may raise",
                    // The messages are the server's.
                    "GET DIAGNOSTICS after each kind of statement",
                    // MariaDB knows a new row's number when it is stored, and fires the triggers
                    // of each row before it looks at the next.
                    "the key of a row whose values come from variables, and are cut by a trigger",
                    "a trigger's rows and variables that servers reserve",
                    "a trigger calls a procedure that changes another table whose trigger signals",
                    "a BEFORE trigger changes what is stored, and one after it sees that",
                    "a statement that fails in its third row runs no AFTER trigger");

    /**
     * What a watched run comes to is what it comes to when nobody watches; and where that is what
     * it comes to here, what is heard is the same too.
     */
    private static boolean compare(
            ServerConnection.Address address, String behaviour, String routines, List<String> lines)
            throws Exception {
        Optional<Record> there =
                heard(
                        address,
                        routines,
                        lines,
                        Optional.of(new Record(Probe.Detail.HOLD)),
                        Optional.empty());
        if (there.isEmpty()) {
            return false;
        }
        Record unwatched =
                heard(address, routines, lines, Optional.empty(), Optional.empty()).orElseThrow();
        assertEquals(
                String.join("\n", unwatched.outcomes),
                String.join("\n", there.get().outcomes),
                behaviour);
        if (isAmong(behaviour, 4)) {
            Way walk = walked(new Random(behaviour.hashCode()));
            Record back =
                    heard(address, routines, lines, Optional.empty(), Optional.of(walk))
                            .orElseThrow();
            assertEquals(
                    String.join("\n", unwatched.outcomes),
                    String.join("\n", back.outcomes),
                    behaviour);
        }
        Record here = embedded(routines, lines);
        if (here.outcomes.equals(there.get().outcomes) && !HEARD_OTHERWISE.contains(behaviour)) {
            assertEquals(here.text(), there.get().text(), behaviour);
        }
        return true;
    }

    private static void direct(ServerConnection.Address address, ConformanceTest.Section section)
            throws Exception {
        Assumptions.assumeTrue(
                isAmong(section.behaviour(), 2), "one in two; -Dcantina.all=true takes all");
        String text = section.routines().toUpperCase(Locale.ROOT);
        boolean may = Stream.of("TRIGGER", "FUNCTION", "EXECUTE").anyMatch(text::contains);
        Assumptions.assumeTrue(
                may && compare(address, section.behaviour(), section.routines(), section.lines()),
                "the server runs nothing of it by itself");
    }

    /** The calls of a section, each made by SQL: all that is called runs on the server. */
    private static void throughSql(
            ServerConnection.Address address, ConformanceTest.Section section) throws Exception {
        Assumptions.assumeTrue(
                isAmong(section.behaviour(), 12), "one in twelve; -Dcantina.all=true takes all");
        boolean compared = false;
        for (String line : section.lines()) {
            if (line.startsWith("call: ")) {
                Optional<SqlCall> call = SqlCall.of(section.routines(), line.substring(6));
                compared |=
                        call.isPresent()
                                && compare(
                                        address,
                                        section.behaviour(),
                                        call.get().routines(),
                                        List.of(call.get().line()));
            }
        }
        Assumptions.assumeTrue(compared, "nothing of it can be called by SQL there");
    }

    private static Record embedded(String routines, List<String> lines) throws Exception {
        return embedded(routines, lines, new Record(Probe.Detail.HOLD));
    }

    static Record embedded(String routines, List<String> lines, Record record) throws Exception {
        try (Lab lab = new Lab(ConformanceTest.tables(), routines)) {
            run(lab.program(), lab.database(), record, under(Optional.of(record)), lines);
        }
        return record;
    }

    /** How a routine is run: by itself, heard, or debugged. */
    interface Way {
        Outcome run(
                Program program,
                ProjectDatabase database,
                RoutineSymbol routine,
                List<Optional<Object>> arguments)
                throws Exception;
    }

    static Way under(Optional<Probe> probe) {
        return (program, database, routine, arguments) -> {
            Session session =
                    new Session(program, database, Limits.DEFAULT, Clock.systemUTC(), probe);
            try {
                return session.run(routine, arguments);
            } finally {
                session.close();
            }
        };
    }

    /** Debugged back and forth, by steps that nobody has chosen. */
    static Way walked(Random random) {
        return (program, database, routine, arguments) -> {
            int[] stops = new int[1];
            Debugger[] debugger = new Debugger[1];
            debugger[0] =
                    new Debugger(
                            program,
                            stop ->
                                    Resume.of(
                                            WatchedConformanceTest.step(
                                                    debugger[0], stop, stops, random)),
                            true);
            database.keep();
            while (true) {
                debugger[0].begin(program, Optional.empty());
                Outcome outcome =
                        under(Optional.of(debugger[0])).run(program, database, routine, arguments);
                if (!debugger[0].isAgain()) {
                    assertFalse(debugger[0].isStrayed(), "the run went another way");
                    return outcome;
                }
                Assumptions.assumeFalse(database.isAltered());
                database.restore();
                Assumptions.assumeFalse(database.isAltered());
            }
        };
    }

    static void run(
            Program program, ProjectDatabase database, Record record, Way way, List<String> lines)
            throws Exception {
        for (String line : lines) {
            if (!line.startsWith("call: ")) {
                continue;
            }
            ConformanceTest.Call call = ConformanceTest.Call.of(line.substring(6));
            RoutineSymbol symbol =
                    Arguments.choose(
                            program.catalog().routines(call.routine().toUpperCase(Locale.ROOT)),
                            call.arguments().keySet());
            Outcome outcome =
                    way.run(program, database, symbol, Arguments.match(symbol, call.arguments()));
            record.outcomes.add(
                    outcome.condition().map(Condition::sqlstate).orElse("completed")
                            + " "
                            + outcome.out().values().stream().map(Record::shown).toList()
                            + outcome.messages());
        }
    }

    /**
     * What was heard on a server; empty where it can't run there, or runs nothing by itself.
     *
     * @param watching hears it; empty for a run that nobody watches
     * @param way how it is run, where that is not by itself
     */
    private static Optional<Record> heard(
            ServerConnection.Address address,
            String routines,
            List<String> lines,
            Optional<Record> watching,
            Optional<Way> way)
            throws Exception {
        try (ServerDatabase database = ServerDatabase.open(address, Path.of(""))) {
            database.scratch();
            database.create(new Source("tables.sql", ConformanceTest.tables()));
            List<Problem> problems = new ArrayList<>();
            ParsedFile file = Parser.parse(new Source("routines.sql", routines));
            problems.addAll(file.problems());
            Catalog catalog =
                    new CatalogBuilder(database.tables(), problems::add).build(List.of(file));
            Program program = new Program(catalog, Optional.of(database));
            PlacedParts placed;
            try {
                placed = Placement.place(catalog, program.binder(), database);
            } catch (ProjectException | UnreachableException e) {
                return Optional.empty();
            }
            problems.addAll(
                    new CatalogCheck(catalog, program.binder(), program::checkExternal)
                            .problems(List.of()));
            if (problems.stream().anyMatch(Problem::isError)) {
                return Optional.empty();
            }
            database.install(catalog);
            Optional<PlacedCode> code =
                    placed.code(
                            database.kind().name(),
                            database.connection(),
                            () -> ServerConnection.open(address, Path.of("")),
                            program);
            if (code.isEmpty()) {
                return Optional.empty();
            }
            Record record = watching.orElseGet(() -> new Record(Probe.Detail.HOLD));
            try (PlacedCode open = code.get()) {
                if (watching.isPresent() || way.isPresent()) {
                    program.placed(open);
                    open.expect(Probe.Detail.HOLD);
                }
                run(
                        program,
                        database,
                        record,
                        way.orElseGet(() -> under(watching.map(r -> r))),
                        lines);
            }
            return Optional.of(record);
        }
    }

    /** A call that SQL makes: with the routines that are needed for it. */
    private record SqlCall(String routines, String line) {
        static Optional<SqlCall> of(String routines, String written) throws Exception {
            ConformanceTest.Call call = ConformanceTest.Call.of(written);
            RoutineSymbol symbol;
            try (Lab lab = new Lab(ConformanceTest.tables(), routines)) {
                symbol =
                        Arguments.choose(
                                lab.program()
                                        .catalog()
                                        .routines(call.routine().toUpperCase(Locale.ROOT)),
                                call.arguments().keySet());
            }
            boolean all =
                    symbol.parameters().stream()
                            .allMatch(
                                    p ->
                                            !p.mode().isInput()
                                                    || call.arguments().keySet().stream()
                                                            .anyMatch(
                                                                    a ->
                                                                            a.equalsIgnoreCase(
                                                                                    p.name()
                                                                                            .text())));
            if (!all
                    || symbol.module().isPresent()
                    || symbol.tree().body().isEmpty()
                    || symbol.returns().filter(SqlType.Table.class::isInstance).isPresent()) {
                return Optional.empty();
            }
            List<String> taken = new ArrayList<>();
            List<String> passed = new ArrayList<>();
            List<String> held = new ArrayList<>();
            List<String> given = new ArrayList<>();
            List<String> arguments = new ArrayList<>();
            for (Unit.Parameter one : symbol.tree().parameters()) {
                String name = "via_" + (passed.size() + 1);
                String type = one.type().span().text();
                if (one.mode().isInput()) {
                    taken.add(name + " " + type);
                    given.add(name);
                    Object value =
                            call.arguments().entrySet().stream()
                                    .filter(e -> e.getKey().equalsIgnoreCase(one.name().text()))
                                    .map(e -> Optional.ofNullable(e.getValue()))
                                    .findFirst()
                                    .orElseThrow()
                                    .orElse(null);
                    arguments.add(name + "=" + literal(value, written, one.name().text()));
                }
                boolean out = one.mode() != Unit.Mode.IN;
                if (out) {
                    held.add(
                            "DECLARE given_"
                                    + name
                                    + " "
                                    + type
                                    + (one.mode().isInput() ? " DEFAULT " + name : "")
                                    + ";");
                }
                passed.add(out ? "given_" + name : name);
            }
            String name = symbol.tree().name().written();
            String function = name;
            String type = "INTEGER";
            String before = "";
            if (symbol.isFunction()) {
                type = symbol.tree().returns().orElseThrow().span().text();
            } else {
                function = "via_function";
                before =
                        "CREATE FUNCTION via_function ("
                                + String.join(", ", taken)
                                + ") RETURNS INTEGER BEGIN "
                                + String.join(" ", held)
                                + " CALL "
                                + name
                                + "("
                                + String.join(", ", passed)
                                + "); RETURN 1; END;\n";
            }
            List<String> outside = new ArrayList<>(taken);
            outside.add("OUT via_result " + type);
            return Optional.of(
                    new SqlCall(
                            routines
                                    + "\n"
                                    + before
                                    + "CREATE PROCEDURE via_sql ("
                                    + String.join(", ", outside)
                                    + ") BEGIN SELECT "
                                    + function
                                    + "("
                                    + String.join(", ", given)
                                    + ") INTO via_result FROM (SELECT COUNT(*) AS via_n FROM tag) AS"
                                    + " via_one; END;\n",
                            "call: via_sql " + String.join(", ", arguments)));
        }

        private static String literal(Object value, String written, String name) {
            return value == null
                    ? "NULL"
                    : written.matches("(?is).*\\b" + name + "\\s*=\\s*'.*")
                            ? "'" + value.toString().replace("'", "''") + "'"
                            : value.toString();
        }
    }
}
