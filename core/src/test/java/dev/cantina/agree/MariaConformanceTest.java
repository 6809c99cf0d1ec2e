package dev.cantina.agree;

import static org.junit.jupiter.api.Assertions.assertEquals;

import dev.cantina.ConformanceTest;
import dev.cantina.Lab;
import dev.cantina.agree.mariadb.MariaCalls;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.MariaServer;
import dev.cantina.database.ServerPart;
import dev.cantina.database.mariadb.MariaDatabase;
import dev.cantina.database.mariadb.MariaSession;
import dev.cantina.database.mariadb.MariaStatementRewriter;
import dev.cantina.project.Arguments;
import dev.cantina.runtime.Database;
import dev.cantina.translate.ServerObject;
import dev.cantina.translate.Translation;
import dev.cantina.translate.mariadb.MariaTranslation;
import java.io.IOException;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.Assumptions;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/**
 * The conformance programs in MariaDB's language, run by the server itself: each behaves there as
 * it does here, or is refused before anything is sent.
 */
public class MariaConformanceTest {
    private static Connection connection;

    @BeforeAll
    static void connect() throws SQLException {
        connection = MariaServer.connect();
    }

    @AfterAll
    static void disconnect() throws SQLException {
        connection.close();
    }

    static Stream<ConformanceTest.Section> sections() throws IOException {
        return ConformanceTest.sections().stream()
                .filter(s -> s.lines().stream().noneMatch(l -> l.startsWith("problem: ")));
    }

    @ParameterizedTest(name = "{0}")
    @MethodSource("sections")
    void isTheSameNatively(ConformanceTest.Section section) throws Exception {
        try (Lab lab = ConformanceTest.lab(section)) {
            MariaTranslation maria = translation(lab);
            Translation translation = maria.translate();
            Assumptions.assumeTrue(
                    translation.refused().isEmpty(), () -> "refused: " + translation.refused());
            Assumptions.assumeFalse(
                    section.lines().stream().anyMatch(l -> l.matches("raises: UL.*")),
                    "limits are Cantina's own");
            create(translation);
            ConformanceTest.calls(ground(lab, maria), section.lines());
        }
    }

    private static void create(Translation translation) throws SQLException, IOException {
        try (Statement statement = connection.createStatement()) {
            statement.execute("DROP DATABASE IF EXISTS cantina_play");
            statement.execute("CREATE DATABASE cantina_play COLLATE " + MariaSession.COLLATION);
            statement.execute("USE cantina_play");
            statement.execute("SET max_statement_time = 5");
            for (String sql : ConformanceTest.tables().split(";\\s*\n")) {
                if (!sql.isBlank()) {
                    statement.execute(MariaStatementRewriter.of(sql));
                }
            }
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

    public static MariaTranslation translation(Lab lab) throws SQLException {
        return new MariaTranslation(
                lab.program().catalog(), lab.program().binder(), false, lab.database().cascaded());
    }

    private static ConformanceTest.Ground ground(Lab lab, MariaTranslation translation) {
        MariaCalls calls = new MariaCalls(connection, lab.program().catalog(), translation);
        MariaDatabase database = new MariaDatabase(connection);
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
                Translation translation = translation(lab).translate();
                all++;
                refused += translation.refused().isEmpty() ? 0 : 1;
            }
        }
        assertEquals(true, refused * 3 < all, refused + " of " + all + " are refused");
    }
}
