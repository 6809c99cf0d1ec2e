package dev.cantina.testing;

import static org.junit.jupiter.api.Assertions.assertEquals;

import dev.cantina.project.ProjectException;
import dev.cantina.project.YamlNode;
import dev.cantina.project.YamlReader;
import dev.cantina.syntax.Source;
import dev.cantina.types.SqlType;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What a case expects, beside a value of a type. */
class ExpectationTest {
    private static final SqlType CHAR = new SqlType.Text(SqlType.Shape.FIXED, 5);

    private static Expectation of(String yaml) throws ProjectException {
        YamlNode.Mapping read =
                YamlReader.read(new Source("c.yaml", "v: " + yaml)).mapping("c", Set.of("v"));
        return Expectation.of(read.get("v").orElseThrow());
    }

    /** ISO 9075-2, 8.2: the shorter of two of CHAR is padded before they are compared. */
    @ParameterizedTest
    @CsvSource({
        "ab, true, false",
        "'\"ab   \"', true, true",
        "'\"ab  \"', true, false",
        "'\" ab\"', false, false",
        "abc, false, false",
        "{ not: ab }, false, true",
        "{ not: abc }, true, true",
        "{ like: ab }, false, false",
        "{ like: ab% }, true, true",
        "{ any: true }, true, true",
        "null, false, false"
    })
    void blanksAtTheEndOfACharDoNotCount(String yaml, boolean ofChar, boolean ofVarchar)
            throws ProjectException {
        assertEquals(ofChar, of(yaml).matches("ab   ", CHAR), yaml);
        assertEquals(ofVarchar, of(yaml).matches("ab   ", SqlType.VARCHAR), yaml);
    }

    @Test
    void theElementsOfAnArrayAreOfItsType() throws ProjectException {
        Object[] actual = {"ab   ", null, "c    "};
        Expectation wanted = of("[ ab, null, c ]");
        assertEquals(true, wanted.matches(actual, new SqlType.Array(CHAR, 9)));
        assertEquals(false, wanted.matches(actual, new SqlType.Array(SqlType.VARCHAR, 9)));
        assertEquals(false, of("[ ab, null ]").matches(actual, new SqlType.Array(CHAR, 9)));
        assertEquals(false, wanted.matches(null, new SqlType.Array(CHAR, 9)));
    }
}
