package dev.cantina.racing;

import dev.cantina.runtime.Outcome;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Set;

/**
 * How a call ends, part by part, to be compared: its condition, or each value that it gives. A
 * number that the database has given to a row is another in each order, and is only known to be
 * one.
 */
final class RaceEnds {
    private RaceEnds() {}

    /** The parts, each as a text that tells it from all others. */
    static List<String> parts(Outcome outcome) {
        List<String> parts = new ArrayList<>();
        if (outcome.condition().isPresent()) {
            parts.add(
                    "ends in "
                            + outcome.condition().get().sqlstate()
                            + ": "
                            + outcome.condition().get().message());
            return parts;
        }
        parts.add("completes");
        if (outcome.isFunction()) {
            parts.add(text(outcome.returned()));
        }
        outcome.out().values().forEach(v -> parts.add(text(v)));
        outcome.results()
                .forEach(r -> parts.add("rows " + r.rows().stream().map(RaceEnds::text).toList()));
        parts.addAll(outcome.messages());
        return parts;
    }

    private static String text(Object value) {
        return value instanceof Object[] several
                ? Arrays.stream(several).map(RaceEnds::text).toList().toString()
                : value instanceof byte[] bytes ? Arrays.toString(bytes) : String.valueOf(value);
    }

    /** Another way in which a call has ended, and the numbers that the database gave then. */
    record Other(List<String> parts, Set<String> numbers) {}

    /**
     * Whether two ends are the same.
     *
     * @param all of the ways in which the call ends one after the other: where a part is a given
     *     number in each of them, any given number is as good
     */
    static boolean isSame(Other one, Other other, List<Other> all) {
        if (one.parts().size() != other.parts().size()) {
            return false;
        }
        for (int i = 0; i < one.parts().size(); i++) {
            boolean same = one.parts().get(i).equals(other.parts().get(i));
            if (!same && !(isNumber(one, i) && allNumbers(all, i))) {
                return false;
            }
        }
        return true;
    }

    private static boolean allNumbers(List<Other> all, int part) {
        return all.stream().allMatch(o -> isNumber(o, part));
    }

    private static boolean isNumber(Other one, int part) {
        return part < one.parts().size() && one.numbers().contains(one.parts().get(part));
    }
}
