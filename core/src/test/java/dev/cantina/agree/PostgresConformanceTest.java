package dev.cantina.agree;

import static org.junit.jupiter.api.Assertions.assertEquals;

import dev.cantina.ConformanceTest;
import dev.cantina.Lab;
import dev.cantina.agree.postgresql.PostgresCalls;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.PostgresServer;
import dev.cantina.database.ServerPart;
import dev.cantina.database.postgresql.PostgresDatabase;
import dev.cantina.project.Arguments;
import dev.cantina.runtime.Database;
import dev.cantina.translate.ServerObject;
import dev.cantina.translate.Translation;
import dev.cantina.translate.postgresql.PostgresNames;
import dev.cantina.translate.postgresql.PostgresTranslation;
import java.io.IOException;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.Assumptions;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/**
 * The conformance programs in PostgreSQL's language, run by the server itself: each behaves there
 * as it does here, or is refused before anything is sent.
 */
public class PostgresConformanceTest {
    private static Connection connection;

    @BeforeAll
    static void connect() throws SQLException {
        connection = DriverManager.getConnection(PostgresServer.url());
    }

    @AfterAll
    static void disconnect() throws SQLException {
        connection.close();
    }

    public static Stream<ConformanceTest.Section> sections() throws IOException {
        return ConformanceTest.sections().stream()
                .filter(s -> s.lines().stream().noneMatch(l -> l.startsWith("problem: ")));
    }

    @ParameterizedTest(name = "{0}")
    @MethodSource("sections")
    void isTheSameNatively(ConformanceTest.Section section) throws Exception {
        try (Lab lab = ConformanceTest.lab(section)) {
            Translation translation =
                    new PostgresTranslation(
                                    lab.program().catalog(),
                                    lab.program().binder(),
                                    Optional.empty())
                            .translate();
            Assumptions.assumeTrue(
                    translation.refused().isEmpty(), () -> "refused: " + translation.refused());
            Assumptions.assumeFalse(
                    section.lines().stream().anyMatch(l -> l.matches("raises: UL.*")),
                    "limits are Cantina's own");
            create(translation);
            Assumptions.assumeTrue(
                    PostgresNames.taken(connection, translation.objects()).isEmpty(),
                    "the server has functions of these names");
            ConformanceTest.calls(ground(lab), section.lines());
        }
    }

    private static void create(Translation translation) throws SQLException, IOException {
        connection.setAutoCommit(true);
        try (Statement statement = connection.createStatement()) {
            statement.execute("DISCARD ALL");
            statement.execute("DROP SCHEMA IF EXISTS play CASCADE");
            statement.execute("DROP SCHEMA IF EXISTS m CASCADE");
            statement.execute("CREATE SCHEMA play");
            statement.execute("SET search_path TO play");
            statement.execute("SET statement_timeout = '5s'");
            statement.execute(ConformanceTest.tables());
            for (List<ServerObject> objects :
                    List.of(translation.support(), translation.objects())) {
                for (ServerObject object : objects) {
                    for (ServerPart part : object.parts()) {
                        String sql = part.create();
                        try {
                            statement.execute(sql);
                        } catch (SQLException e) {
                            throw new SQLException(e.getMessage() + "\n" + sql, e.getSQLState(), e);
                        }
                    }
                }
            }
        }
    }

    private static ConformanceTest.Ground ground(Lab lab) {
        PostgresCalls calls =
                new PostgresCalls(connection, lab.program().catalog(), Optional.empty());
        PostgresDatabase database = new PostgresDatabase(connection);
        return new ConformanceTest.Ground() {
            @Override
            public Behaviour call(String routine, Map<String, Object> arguments)
                    throws SQLException {
                RoutineSymbol symbol =
                        Arguments.choose(
                                lab.program().catalog().routines(routine.toUpperCase(Locale.ROOT)),
                                arguments.keySet());
                try {
                    return calls.call(symbol, Arguments.match(symbol, arguments));
                } catch (Arguments.MisfitException e) {
                    throw new IllegalStateException(e);
                }
            }

            @Override
            public Database database() {
                return database;
            }
        };
    }

    /** Most of the language is taken there: what is refused is the smaller part. */
    @org.junit.jupiter.api.Test
    void mostIsTranslated() throws Exception {
        int all = 0;
        int refused = 0;
        for (ConformanceTest.Section section : sections().toList()) {
            try (Lab lab = ConformanceTest.lab(section)) {
                Translation translation =
                        new PostgresTranslation(
                                        lab.program().catalog(),
                                        lab.program().binder(),
                                        Optional.empty())
                                .translate();
                all++;
                refused += translation.refused().isEmpty() ? 0 : 1;
            }
        }
        assertEquals(true, refused * 3 < all, refused + " of " + all + " are refused");
    }
}
