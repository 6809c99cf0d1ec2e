package dev.cantina.syntax;

import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.Example;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;

/** Whatever a text is, it gives a tree or problems, with places inside it. */
class ParserProperties {
    private static final List<String> WORDS =
            List.of(
                    ("CREATE PROCEDURE FUNCTION TRIGGER MODULE BEGIN END IF THEN ELSE ELSEIF CASE WHEN WHILE DO"
                                    + " LOOP REPEAT UNTIL FOR AS SELECT INTO FROM WHERE SET DECLARE HANDLER CURSOR"
                                    + " CONTINUE EXIT SQLSTATE NOT FOUND SIGNAL CALL RETURN INSERT VALUES UPDATE"
                                    + " DELETE MERGE USING ON WITH a b p t 1 2.5 'x' '45000' ( ) , ; . = + - * / ||"
                                    + " < > [ ] : ? INTEGER VARCHAR ARRAY ROW LIKE NULL TRUE AND OR IN BETWEEN"
                                    + " EXISTS CAST INTERVAL DAY DATE --x /* */ \" ' $")
                            .split(" "));

    @Provide
    Arbitrary<String> programs() {
        return Arbitraries.of(WORDS).list().ofMaxSize(60).map(words -> String.join(" ", words));
    }

    @Property(tries = 2000)
    void anyRowOfWordsIsReadToItsEnd(@ForAll("programs") String text) {
        holds(text);
    }

    @Property(tries = 1000)
    void anyTextIsReadToItsEnd(@ForAll String text) {
        holds(text);
    }

    @Example
    void eachCharacterIsReadToItsEnd() {
        for (char c = 0; c < Character.MAX_VALUE; c++) {
            holds(String.valueOf(c));
            holds("SET a = 1" + c + "b." + c);
        }
    }

    private static void holds(String text) {
        ParsedFile file = Parser.parse(new Source("any.sql", text));
        for (Problem problem : file.problems()) {
            Span span = problem.span();
            assertTrue(
                    span.start() >= 0 && span.start() <= span.end() && span.end() <= text.length());
            assertTrue(!problem.message().isBlank());
        }
        boolean blank = file.units().isEmpty() && file.problems().isEmpty();
        assertTrue(!blank || Parser.statements(new Source("any.sql", text)).isEmpty());
    }
}
