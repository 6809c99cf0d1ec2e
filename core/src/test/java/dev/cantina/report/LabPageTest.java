package dev.cantina.report;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.report.LabPage.Finding;
import dev.cantina.report.LabPage.Part;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** The page of the safety lab. */
class LabPageTest {
    private static final String HOSTILE = "<script>alert('x')</script> & \u202e \u0007";

    @Test
    void whatComesFromOutsideIsShownAndNeverRun() {
        List<Part> parts =
                List.of(
                        new Part.Words(HOSTILE),
                        new Part.Command(HOSTILE),
                        new Part.Lines(List.of(HOSTILE), List.of(HOSTILE)),
                        new Part.Cells(List.of(HOSTILE), List.of(List.of(HOSTILE))));
        String page =
                new LabPage(
                                HOSTILE,
                                HOSTILE,
                                false,
                                Map.of(HOSTILE, HOSTILE),
                                List.of(new Finding(HOSTILE, HOSTILE, parts)),
                                List.of(HOSTILE))
                        .html(Instant.EPOCH);
        assertFalse(page.contains("<script"), page);
        assertFalse(page.contains("\u202e"), "a text that turns the line about");
        assertFalse(page.contains("\u0007"));
        assertEquals(15, page.split("&lt;script&gt;", -1).length);
        assertFalse(page.contains("http:") || page.contains("https:"), "nothing from elsewhere");
    }

    @Test
    void eachPartHasItsForm() {
        String page =
                new LabPage(
                                "title",
                                "all well",
                                true,
                                Map.of("runs", "12"),
                                List.of(
                                        new Finding(
                                                "what",
                                                "where",
                                                List.of(
                                                        new Part.Lines(List.of("  a"), List.of()),
                                                        new Part.Cells(
                                                                List.of("one", "two"),
                                                                List.of(List.of("1", "")))))),
                                List.of("a note"))
                        .html(Instant.EPOCH);
        assertTrue(page.contains("<p class=\"good\">all well</p>"), page);
        assertTrue(page.contains("<b>12</b>runs"), page);
        assertTrue(page.contains("<span class=\"before\">-   a</span>"), page);
        assertTrue(page.contains("<th>one</th><th>two</th>"), page);
        assertTrue(page.contains("<td>1</td><td></td>"), page);
        assertTrue(page.contains("<p class=\"faint\">a note</p>"), page);
    }
}
