package dev.cantina.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertSame;

import dev.cantina.types.SqlType;
import java.util.List;
import org.junit.jupiter.api.Test;

class AlteredTest {
    private static final SqlType ARRAY = new SqlType.Array(SqlType.INTEGER, 10);
    private static final SqlType ROW =
            new SqlType.Row(
                    List.of(
                            new SqlType.Field("code", SqlType.INTEGER),
                            new SqlType.Field("levels", ARRAY)));

    private static Object[] of(Object... parts) {
        return parts;
    }

    private static List<String> names(SqlType type, Object before, Object after) {
        return Altered.between("v", type, before, after).stream().map(Altered::name).toList();
    }

    @Test
    void aPlainValueIsItself() {
        Altered only = Altered.between("v", SqlType.INTEGER, 1L, null).get(0);
        assertEquals(new Altered("v", SqlType.INTEGER, 1L, null), only);
    }

    @Test
    void ofAnArrayTheElementsThatDiffer() {
        assertEquals(List.of("v[2]"), names(ARRAY, of(1L, 2L, 3L), of(1L, 7L, 3L)));
        assertEquals(List.of("v[1]", "v[3]"), names(ARRAY, of(1L, 2L, null), of(null, 2L, 3L)));
    }

    @Test
    void anArrayThatHasGrownIsShownWhole() {
        assertEquals(List.of("v"), names(ARRAY, of(1L), of(1L, 2L)));
        assertEquals(List.of("v"), names(ARRAY, null, of(1L)));
        assertEquals(List.of("v"), names(ARRAY, of(1L), null));
    }

    @Test
    void whereManyElementsDifferTheWholeIsShown() {
        assertEquals(List.of("v"), names(ARRAY, of(1L, 2L, 3L, 4L, 5L), of(2L, 3L, 4L, 5L, 6L)));
    }

    @Test
    void ofARowTheFieldsThatDifferAndWhatIsInThem() {
        Object[] before = of(1L, of(5L, 6L));
        Object[] after = of(1L, of(5L, 7L));
        Altered only = Altered.between("v", ROW, before, after).get(0);
        assertEquals(new Altered("v.levels[2]", SqlType.INTEGER, 6L, 7L), only);
        assertEquals(List.of("v.code"), names(ROW, before, of(2L, of(5L, 6L))));
    }

    @Test
    void longTextsThatBeginAlikeAreCutToWhereTheyDiffer() {
        String start = "x".repeat(100);
        Altered cut = new Altered("v", SqlType.NULL, start + "ab", start + "cd").cut();
        assertEquals("…" + "x".repeat(16) + "ab", cut.before());
        assertEquals("…" + "x".repeat(16) + "cd", cut.after());
    }

    @Test
    void aLetterOfTwoCharactersIsNotCutInTwo() {
        String start = "\uD83C\uDF77".repeat(40);
        Altered cut = new Altered("v", SqlType.NULL, start + "a", start + "b").cut();
        assertEquals("…" + "\uD83C\uDF77".repeat(8) + "b", cut.after());
        String odd = "-" + start.substring(0, 78);
        cut = new Altered("v", SqlType.NULL, odd + "a", odd + "-b").cut();
        assertEquals("…" + "\uD83C\uDF77".repeat(8) + "-b", cut.after());
    }

    @Test
    void shortTextsAndOtherValuesStayWhole() {
        Altered brief = new Altered("v", SqlType.NULL, "abc", "abd");
        assertSame(brief, brief.cut());
        Altered number = new Altered("v", SqlType.INTEGER, 1L, 2L);
        assertSame(number, number.cut());
    }
}
