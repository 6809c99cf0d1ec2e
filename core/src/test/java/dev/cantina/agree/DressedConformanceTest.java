package dev.cantina.agree;

import dev.cantina.ConformanceTest;
import dev.cantina.Dress;
import dev.cantina.Lab;
import java.io.IOException;
import java.util.stream.Stream;
import org.junit.jupiter.api.Assumptions;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/**
 * The conformance programs once more, with other blanks, line breaks, letter case and comments: the
 * layout of a text does not decide its meaning, here or shipped. {@code -Dcantina.dress=N} asks for
 * another dress.
 */
class DressedConformanceTest {
    private static final long SEED = Long.getLong("cantina.dress", 1);

    @BeforeAll
    static void connect() throws Exception {
        PostgresConformanceTest.connect();
        MariaConformanceTest.connect();
    }

    /** Those of which the answer does not tell a line, and that are to run. */
    static Stream<ConformanceTest.Section> sections() throws IOException {
        return PostgresConformanceTest.sections()
                .filter(s -> s.lines().stream().noneMatch(l -> l.matches("raises: UL.*")))
                .map(DressedConformanceTest::dressed);
    }

    private static ConformanceTest.Section dressed(ConformanceTest.Section section) {
        String routines = Dress.of(section.routines(), SEED + section.behaviour().hashCode());
        return new ConformanceTest.Section(
                section.file(), section.behaviour(), routines, section.lines());
    }

    @ParameterizedTest(name = "{0}")
    @MethodSource("sections")
    void isTheSameHere(ConformanceTest.Section section) throws Exception {
        try (Lab lab = ConformanceTest.lab(section)) {
            ConformanceTest.calls(ConformanceTest.plain(lab), section.lines());
        }
    }

    @ParameterizedTest(name = "{0}")
    @MethodSource("sections")
    void isTheSameOnPostgres(ConformanceTest.Section section) throws Exception {
        Assumptions.assumeTrue(isFor(section, 0), "on MariaDB; -Dcantina.all=true takes both");
        new PostgresConformanceTest().isTheSameNatively(section);
    }

    @ParameterizedTest(name = "{0}")
    @MethodSource("sections")
    void isTheSameOnMaria(ConformanceTest.Section section) throws Exception {
        Assumptions.assumeTrue(isFor(section, 1), "on PostgreSQL; -Dcantina.all=true takes both");
        new MariaConformanceTest().isTheSameNatively(section);
    }

    /** Each is made on one of the servers, and all of them here. */
    private static boolean isFor(ConformanceTest.Section section, int server) {
        return Boolean.getBoolean("cantina.all")
                || Math.floorMod(section.behaviour().hashCode(), 2) == server;
    }
}
