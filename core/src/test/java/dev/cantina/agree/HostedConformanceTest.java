package dev.cantina.agree;

import static org.junit.jupiter.api.Assertions.assertThrows;

import dev.cantina.ConformanceTest;
import dev.cantina.advice.CatalogCheck;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.CatalogBuilder;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.MariaServer;
import dev.cantina.database.PostgresServer;
import dev.cantina.database.ServerConnection;
import dev.cantina.database.ServerDatabase;
import dev.cantina.project.Arguments;
import dev.cantina.project.Placement;
import dev.cantina.project.ProjectException;
import dev.cantina.runtime.Database;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Program;
import dev.cantina.runtime.Session;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import java.io.IOException;
import java.nio.file.Path;
import java.sql.SQLException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import org.junit.jupiter.api.Assumptions;
import org.junit.jupiter.api.Nested;
import org.junit.jupiter.api.TestInstance;
import org.junit.jupiter.api.function.Executable;
import org.junit.jupiter.api.parallel.Execution;
import org.junit.jupiter.api.parallel.ExecutionMode;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/**
 * The conformance programs run by Cantina, with their data on a server: each does there what it
 * does on the embedded database, or is refused before it runs.
 */
class HostedConformanceTest {
    /** An UPDATE that passes keys on looks at each row as it comes: both servers say 23505. */
    private static final String KEYS = "an UPDATE may pass keys on from row to row";

    private static final String EVERY_TYPE =
            "a value of every kind of type goes to the database and comes back";

    /**
     * What can't be the same on PostgreSQL: it keeps a moment and not the offset it was written
     * with, and ends triggers that set each other off by a limit of its own.
     */
    private static final Set<String> NOT_ON_POSTGRES =
            Set.of(KEYS, EVERY_TYPE, "a trigger that fires itself ends at the depth limit");

    /**
     * What can't be the same on MariaDB: it has no arrays and no intervals to send, and looks at
     * foreign keys row by row.
     */
    private static final Set<String> NOT_ON_MARIA =
            Set.of(
                    KEYS,
                    EVERY_TYPE,
                    "intervals go to the database and come back",
                    "rows of one INSERT may refer to each other",
                    "a trigger before an INSERT of rows of its own table",
                    "WHERE CURRENT OF finds its row after a whole-number key has been changed",
                    "rows that refer to each other may be deleted together, and not one of them"
                            + " alone");

    static Stream<ConformanceTest.Section> sections() throws IOException {
        return PostgresConformanceTest.sections();
    }

    @Nested
    @Execution(ExecutionMode.CONCURRENT)
    @TestInstance(TestInstance.Lifecycle.PER_CLASS)
    class OnPostgres {
        @Execution(ExecutionMode.SAME_THREAD)
        @ParameterizedTest(name = "{0}")
        @MethodSource("dev.cantina.agree.HostedConformanceTest#sections")
        void isTheSame(ConformanceTest.Section section) throws Throwable {
            hosted(
                    new ServerConnection.Address("postgresql", PostgresServer.url(), "", ""),
                    section,
                    NOT_ON_POSTGRES);
        }
    }

    @Nested
    @Execution(ExecutionMode.CONCURRENT)
    @TestInstance(TestInstance.Lifecycle.PER_CLASS)
    class OnMaria {
        @Execution(ExecutionMode.SAME_THREAD)
        @ParameterizedTest(name = "{0}")
        @MethodSource("dev.cantina.agree.HostedConformanceTest#sections")
        void isTheSame(ConformanceTest.Section section) throws Throwable {
            hosted(
                    new ServerConnection.Address("mariadb", MariaServer.url(), "", ""),
                    section,
                    NOT_ON_MARIA);
        }
    }

    private static void hosted(
            ServerConnection.Address address, ConformanceTest.Section section, Set<String> other)
            throws Throwable {
        try (ServerDatabase database = ServerDatabase.open(address, Path.of(""))) {
            database.scratch();
            database.create(new Source("tables.sql", ConformanceTest.tables()));
            List<Problem> problems = new ArrayList<>();
            ParsedFile file = Parser.parse(new Source("routines.sql", section.routines()));
            problems.addAll(file.problems());
            Catalog catalog =
                    new CatalogBuilder(database.tables(), problems::add).build(List.of(file));
            Program program = new Program(catalog, Optional.of(database));
            try {
                Placement.place(catalog, program.binder(), database);
            } catch (ProjectException e) {
                Assumptions.abort("refused: " + e.problems());
            }
            problems.addAll(
                    new CatalogCheck(catalog, program.binder(), program::checkExternal)
                            .problems(List.of()));
            List<Problem> errors = problems.stream().filter(Problem::isError).toList();
            Assumptions.assumeTrue(errors.isEmpty(), () -> "refused: " + errors);
            database.install(catalog);
            Executable calls =
                    () -> ConformanceTest.calls(ground(program, database), section.lines());
            if (other.contains(section.behaviour())) {
                assertThrows(
                        AssertionError.class, calls, "it is the same now; take it off the list");
            } else {
                calls.execute();
            }
        }
    }

    private static ConformanceTest.Ground ground(Program program, ServerDatabase database) {
        return new ConformanceTest.Ground() {
            @Override
            public Behaviour call(String routine, Map<String, Object> arguments)
                    throws SQLException {
                RoutineSymbol symbol =
                        Arguments.choose(
                                program.catalog().routines(routine.toUpperCase(Locale.ROOT)),
                                arguments.keySet());
                Session session =
                        new Session(
                                program,
                                database,
                                Limits.DEFAULT,
                                Clock.systemUTC(),
                                Optional.empty());
                try {
                    return Behaviour.of(session.run(symbol, Arguments.match(symbol, arguments)));
                } catch (Arguments.MisfitException | Program.UnsoundException e) {
                    throw new IllegalStateException(e);
                } finally {
                    session.close();
                }
            }

            @Override
            public Database database() {
                return database;
            }
        };
    }
}
