package dev.cantina.testing;

import dev.cantina.runtime.StackEntry;
import java.util.Optional;

/**
 * One thing that is not as expected.
 *
 * @param at a path into the case, such as {@code data.vessel.changed.T1.level_l}
 * @param expected a value, or words where no single value was expected
 * @param actual likewise
 * @param writer the statement that wrote the actual value, where one did
 */
public record Difference(String at, Object expected, Object actual, Optional<StackEntry> writer) {
    static Difference of(String at, Object expected, Object actual) {
        return new Difference(at, expected, actual, Optional.empty());
    }
}
