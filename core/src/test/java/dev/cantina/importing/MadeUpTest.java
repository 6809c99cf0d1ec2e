package dev.cantina.importing;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.importing.LiveTable.Kind;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.UUID;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.IntRange;
import net.jqwik.api.constraints.StringLength;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Made-up values: of the same shape, the same for the same, never one for two. */
class MadeUpTest {
    private static final MadeUp MADE_UP = new MadeUp(new byte[32]);
    private static final MadeUp OTHER =
            new MadeUp("another key of another user".getBytes(StandardCharsets.UTF_8));

    private static String shape(String text) {
        return text.replaceAll("\\p{Lu}", "A")
                .replaceAll("\\p{Ll}", "a")
                .replaceAll("\\p{Nd}", "9");
    }

    @Property(tries = 300)
    void aTextKeepsItsShape(@ForAll @StringLength(max = 300) String text) {
        String made = MADE_UP.of(text, Kind.TEXT);
        assertEquals(made, MADE_UP.of(text, Kind.TEXT));
        assertEquals(text.codePointCount(0, text.length()), made.codePointCount(0, made.length()));
        assertEquals(
                text.getBytes(StandardCharsets.UTF_8).length,
                made.getBytes(StandardCharsets.UTF_8).length);
    }

    @ParameterizedTest
    @CsvSource({
        "'Ann O''Neil-Smith'",
        "ann@example.org",
        "+43 1 555 07",
        "Zoë Ångström",
        "Ωμέγα",
        "Ж",
        "''"
    })
    void lettersStayLettersAndDigitsDigits(String text) {
        String made = MADE_UP.of(text, Kind.TEXT);
        assertEquals(shape(text), shape(made));
        if (text.length() > 1) {
            assertNotEquals(text, made);
            assertNotEquals(made, OTHER.of(text, Kind.TEXT));
        }
    }

    /** All texts of a shape, so that two that become one would be seen. */
    @Test
    void noTwoBecomeOne() {
        Set<String> texts = new HashSet<>();
        Set<String> small = new HashSet<>();
        for (char a = 'a'; a <= 'z'; a++) {
            for (char b = 'A'; b <= 'Z'; b++) {
                for (char c = '0'; c <= '9'; c++) {
                    String made = MADE_UP.of("" + a + b + '-' + c, Kind.TEXT);
                    assertTrue(made.matches("[a-z][A-Z]-[0-9]"), made);
                    texts.add(made);
                    // Nor where a server takes great letters and small ones for the same.
                    small.add(made.toLowerCase(Locale.ROOT));
                }
            }
        }
        assertEquals(26 * 26 * 10, texts.size());
        assertEquals(texts.size(), small.size());
        assertEquals(
                MADE_UP.of("aB", Kind.TEXT).toLowerCase(Locale.ROOT),
                MADE_UP.of("Ab", Kind.TEXT).toLowerCase(Locale.ROOT));
    }

    @Test
    void noTwoNumbersBecomeOneAndAllFitTheirTypes() {
        Set<String> made = new HashSet<>();
        for (int i = -32_768; i < 65_536; i++) {
            String one = MADE_UP.of(String.valueOf(i), Kind.WHOLE);
            int value = Integer.parseInt(one);
            assertEquals(String.valueOf(i).length(), one.length());
            assertEquals(i >= -32_767 && i < 32_768, value >= -32_767 && value < 32_768, one);
            assertEquals(i >= -127 && i < 128, value >= -127 && value < 128, one);
            made.add(one);
        }
        assertEquals(32_768 + 65_536, made.size());
        assertEquals(
                "9223372036854775807".length(),
                MADE_UP.of("9223372036854775807", Kind.WHOLE).length());
        long most = Long.parseLong(MADE_UP.of("9223372036854775807", Kind.WHOLE));
        assertTrue(most > 0);
    }

    @Property(tries = 300)
    void aDecimalKeepsItsDigits(@ForAll @IntRange(min = -99_999) int unscaled) {
        BigDecimal value = BigDecimal.valueOf(unscaled, 2);
        BigDecimal made = new BigDecimal(MADE_UP.of(value.toPlainString(), Kind.DECIMAL));
        assertEquals(2, made.scale());
        assertEquals(value.precision(), made.precision());
    }

    @Test
    void daysStayInTheirYears() {
        Set<LocalDate> days = new HashSet<>();
        for (LocalDate day = LocalDate.of(2024, 1, 1);
                day.getYear() == 2024;
                day = day.plusDays(1)) {
            LocalDate made = LocalDate.parse(MADE_UP.of(day.toString(), Kind.DATE));
            assertEquals(2024, made.getYear());
            days.add(made);
        }
        assertEquals(366, days.size());
        String moment = MADE_UP.of("2026-01-02 03:04:05.678+00", Kind.MOMENT);
        assertTrue(moment.matches("2026-\\d\\d-\\d\\d \\d\\d:\\d\\d:\\d\\d\\.678\\+00"), moment);
        for (String none : List.of("infinity", "0000-00-00", "2026-02-00", "838:59:59", "NaN")) {
            assertEquals(
                    none,
                    MADE_UP.of(
                            none,
                            none.contains(":")
                                    ? Kind.TIME
                                    : none.equals("NaN") ? Kind.DECIMAL : Kind.DATE));
        }
    }

    @Test
    void aUuidStaysOneOfItsVersion() {
        String uuid = "3f2504e0-4f89-41d3-9a0c-0305e82c3301";
        UUID made = UUID.fromString(MADE_UP.of(uuid, Kind.UUID));
        assertNotEquals(uuid, made.toString());
        assertEquals(4, made.version());
        assertEquals(UUID.fromString(uuid).variant(), made.variant());
        assertEquals("", MADE_UP.of("", Kind.BYTES));
        assertTrue(MADE_UP.of("00ff", Kind.BYTES).matches("[0-9a-f]{4}"));
    }
}
