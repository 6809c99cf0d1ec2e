package dev.cantina.syntax;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.util.Optional;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class ProblemTest {
    /** An edit is offered only where it would be right as it stands. */
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "levl | level_l | level_l",
                "levl | LEVEL_L | LEVEL_L",
                "levl | levelL |",
                "orde | order |",
                "levl | 2nd |",
                "\"Levl\" | level_l |",
                "a.levl | level_l |",
                "levl | my level |",
            })
    void aNameThatMayNeedQuotesIsNoEdit(String written, String nearest, String edit) {
        Source source = new Source("x.sql", written);
        Problem problem =
                Problem.unknown(
                        source.span(0, written.length()),
                        "unknown-name",
                        "there is none",
                        Optional.of(nearest),
                        "");
        assertEquals(Optional.of("did you mean " + nearest + "?"), problem.hint());
        assertEquals(Optional.ofNullable(edit), problem.edit().map(Problem.Edit::text));
    }
}
