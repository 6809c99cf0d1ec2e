package dev.cantina.syntax;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.util.List;
import java.util.Optional;
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
}
