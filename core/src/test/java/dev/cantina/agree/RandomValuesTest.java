package dev.cantina.agree;

import java.util.List;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/**
 * Values that nobody wrote are the same on the embedded database, with {@code --on}, and in what is
 * shipped. {@code -Dcantina.values=N -Dcantina.seed=S} asks for more and for others.
 */
class RandomValuesTest {
    private static final int PROGRAMS = Integer.getInteger("cantina.values", 12);
    private static final long SEED = Long.getLong("cantina.seed", 1);
    private static final int EACH = 25;

    @Test
    @Timeout(3600)
    void areTheSameOnPostgres() throws Exception {
        compare(RandomStage.postgres(CellComparison.onPostgres(RandomValues.TABLES)));
    }

    @Test
    @Timeout(3600)
    void areTheSameOnMaria() throws Exception {
        compare(RandomStage.maria(RandomValues.TABLES));
    }

    private static void compare(RandomStage server) throws Exception {
        try (RandomStage stage = server) {
            CellComparison comparison = new CellComparison(stage, RandomValuesTest::isFree);
            for (int i = 0; i < PROGRAMS; i++) {
                comparison.compare(new RandomValues(SEED + i, EACH), SEED + i, List.of("v", "w"));
            }
            comparison.end();
        }
    }

    /** What can decide a value before all of it is worked out. */
    private static final Pattern LAZY =
            Pattern.compile("\\b(CASE|COALESCE|NULLIF|AND|OR|IN|BETWEEN|GREATEST|LEAST)\\b");

    private static final Pattern QUERY = Pattern.compile("\\b(FROM v|UPDATE w|INSERT INTO w)\\b");

    /** Whether a difference is one of those that docs/servers.md lets be. */
    private static boolean isFree(String text, String one, String other) {
        boolean query = QUERY.matcher(text).find();
        if (query && text.contains("REPLACE(") && one.contains("NULL")) {
            // MariaDB minds a NULL only where it is put somewhere.
            return true;
        }
        if (query && (one.contains("42883") || one.contains("can't run before"))) {
            // The server has no such function of these types, and says so.
            return true;
        }
        // Sums in a data statement have another size on MariaDB.
        return one.startsWith("!")
                && (other.contains("NULL")
                        || LAZY.matcher(text.substring(text.indexOf("END;"))).find()
                        || query && one.equals("!22003"));
    }
}
