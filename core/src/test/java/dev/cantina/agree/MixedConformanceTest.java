package dev.cantina.agree;

import static org.junit.jupiter.api.Assertions.assertEquals;

import dev.cantina.ConformanceTest;
import dev.cantina.advice.CatalogCheck;
import dev.cantina.agree.WatchedHostedTest.Record;
import dev.cantina.agree.WatchedHostedTest.Way;
import dev.cantina.binding.Binder;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.CatalogBuilder;
import dev.cantina.database.MariaServer;
import dev.cantina.database.PostgresServer;
import dev.cantina.database.ServerConnection;
import dev.cantina.database.ServerDatabase;
import dev.cantina.database.UnreachableException;
import dev.cantina.nativecode.ServerCode;
import dev.cantina.project.Placement;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.Program;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import java.io.IOException;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Random;
import java.util.stream.Stream;
import org.junit.jupiter.api.Assumptions;
import org.junit.jupiter.api.Nested;
import org.junit.jupiter.api.TestInstance;
import org.junit.jupiter.api.parallel.Execution;
import org.junit.jupiter.api.parallel.ExecutionMode;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/**
 * The conformance programs as the standard part of a project in a server's own language, where that
 * server runs all of them: watched, and walked back and forth, they come to what they come to when
 * nobody watches, and what is heard is what is heard of them on the embedded database.
 */
class MixedConformanceTest {
    /** One of so many is taken in a build; {@code -Dcantina.all=true} takes all. */
    private static final int OF = 24;

    static Stream<ConformanceTest.Section> sections() throws IOException {
        return WatchedHostedTest.sections()
                .filter(s -> WatchedHostedTest.isAmong(s.behaviour() + " ", OF))
                .filter(s -> s.lines().stream().anyMatch(l -> l.startsWith("call: ")));
    }

    @Nested
    @Execution(ExecutionMode.CONCURRENT)
    @TestInstance(TestInstance.Lifecycle.PER_CLASS)
    class OnPostgres {
        private final ServerConnection.Address address =
                new ServerConnection.Address("postgresql", PostgresServer.url(), "", "");

        @Execution(ExecutionMode.SAME_THREAD)
        @ParameterizedTest(name = "{0}")
        @MethodSource("dev.cantina.agree.MixedConformanceTest#sections")
        void tellsTheSame(ConformanceTest.Section section) throws Exception {
            compare(address, section);
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
        @MethodSource("dev.cantina.agree.MixedConformanceTest#sections")
        void tellsTheSame(ConformanceTest.Section section) throws Exception {
            compare(address, section);
        }
    }

    private static void compare(ServerConnection.Address address, ConformanceTest.Section section)
            throws Exception {
        Record plain = new Record(Probe.Detail.ORDER);
        boolean runs = run(address, section, plain, WatchedHostedTest.under(Optional.empty()));
        Assumptions.assumeTrue(runs, "it can't stand on this server");
        Probe.Detail detail =
                section.behaviour().length() % 3 == 0 ? Probe.Detail.VALUES : Probe.Detail.HOLD;
        Record watched = new Record(detail, 0);
        run(address, section, watched, WatchedHostedTest.under(Optional.of(watched)));
        assertEquals(plain.outcomes, watched.outcomes, section.behaviour());
        Record here =
                WatchedHostedTest.embedded(
                        section.routines(), section.lines(), new Record(detail, 0));
        boolean same =
                here.outcomes.equals(plain.outcomes)
                        && !WatchedHostedTest.HEARD_OTHERWISE.contains(section.behaviour());
        if (same) {
            assertEquals(
                    text(address, here).strip(),
                    text(address, watched).strip(),
                    section.behaviour());
        }
        Record walked = new Record(Probe.Detail.HOLD);
        run(
                address,
                section,
                walked,
                WatchedHostedTest.walked(new Random(section.behaviour().hashCode())));
        assertEquals(plain.outcomes, walked.outcomes, section.behaviour());
    }

    /**
     * @return whether it can stand there
     */
    private static boolean run(
            ServerConnection.Address address,
            ConformanceTest.Section section,
            Record record,
            Way way)
            throws Exception {
        try (ServerDatabase database = ServerDatabase.open(address, Path.of(""))) {
            if (address.name().equals("postgresql")) {
                // Tables that are there for this transaction alone are gone with it.
                Assumptions.assumeFalse(ends(section.routines()), "it ends the transaction");
                database.scratch();
            }
            database.speakOwn();
            database.create(new Source("tables.sql", ConformanceTest.tables()));
            List<Problem> problems = new ArrayList<>();
            ParsedFile file = Parser.parse(new Source("routines.sql", section.routines()));
            problems.addAll(file.problems());
            try (ServerCode code =
                    ServerCode.KINDS
                            .get(address.name())
                            .on(
                                    database.connection(),
                                    () -> ServerConnection.open(address, Path.of("")))) {
                Catalog catalog =
                        new CatalogBuilder(database.tables(), problems::add)
                                .build(List.of(file))
                                .with(code.symbols());
                Program program =
                        new Program(
                                catalog,
                                Optional.of(database),
                                Program.class.getClassLoader(),
                                Optional.of(code));
                if (!stands(catalog, code, program, database)) {
                    return false;
                }
                problems.addAll(
                        new CatalogCheck(catalog, program.binder(), program::checkExternal)
                                .problems(List.of()));
                if (problems.stream().anyMatch(Problem::isError)) {
                    return false;
                }
                database.install(catalog);
                code.expect(java.util.Optional.of(record.detail()));
                WatchedHostedTest.run(program, database, record, way, section.lines());
                return true;
            }
        }
    }

    /**
     * What was heard; MariaDB has one state for all constraints, and packages that tell nothing.
     */
    private static String text(ServerConnection.Address address, Record heard) {
        return address.name().equals("mariadb")
                ? heard.text()
                        .replaceAll("(?m)^ +[\\w]+\\.\\w+(:| begins| ends).*(\\n|$)", "")
                        .replaceAll(" ends 23\\d{3}", " ends 23000")
                : heard.text();
    }

    private static boolean ends(String routines) {
        String text = routines.toUpperCase(Locale.ROOT);
        return text.contains("COMMIT") || text.contains("ROLLBACK");
    }

    private static boolean stands(
            Catalog catalog, ServerCode code, Program program, ServerDatabase database)
            throws SQLException {
        try {
            Placement.Standing standing =
                    Placement.beside(catalog, new Binder(catalog, Optional.of(database)), database);
            code.take(standing.parts(), program);
            return standing.refused().isEmpty();
        } catch (UnreachableException e) {
            return false;
        }
    }
}
