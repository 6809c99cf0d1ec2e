package dev.cantina.syntax;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class NearestTest {
    private static final List<String> COLUMNS =
            List.of("code", "kind", "capacity_l", "level_l", "lot_id", "grower_id", "grower_name");

    @ParameterizedTest
    @CsvSource({
        "coed, code",
        "KIND_, kind",
        "levl_l, level_l",
        "levl, level_l",
        "capcity, capacity_l",
        "lotid, lot_id",
        "grower,",
        "xyz,",
        "co,",
        "vintage,",
    })
    void theNameThatWasMeant(String written, String meant) {
        Optional<String> found = Nearest.to(written, COLUMNS);
        assertEquals(Optional.ofNullable(meant), found);
    }

    /** Of many names only those are shown that somebody can take in. */
    @Test
    void ofManyNamesTheNearestAreListed() {
        assertEquals("there are a, b", Nearest.listed("x", List.of("a", "b", "a")));
        List<String> many =
                IntStream.range(0, 40).mapToObj(i -> "routine_" + (100 + i) * 7919).toList();
        String listed = Nearest.listed("ROUTINE_791900", many);
        assertTrue(listed.startsWith("there are 40, the nearest routine_791900, "), listed);
        assertEquals(9, listed.split(", ").length);
    }
}
