package dev.cantina.report;

import java.time.Instant;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/**
 * What the safety lab has found, as one page that holds everything.
 *
 * @param title what was tried
 * @param summary what came of it, in a sentence
 * @param isGood whether nothing is to be looked at
 * @param counts numbers by what they count
 * @param findings the worst first
 * @param notes what else there is to say
 */
public record LabPage(
        String title,
        String summary,
        boolean isGood,
        Map<String, String> counts,
        List<Finding> findings,
        List<String> notes) {
    /**
     * One thing that was found.
     *
     * @param title what it is
     * @param place where, in words
     * @param parts what shows it
     */
    public record Finding(String title, String place, List<Part> parts) {}

    /** A part of what shows a finding. */
    public sealed interface Part {
        /** Some words. */
        record Words(String text) implements Part {}

        /** Lines as they are, and as they are otherwise. */
        record Lines(List<String> before, List<String> after) implements Part {}

        /** Rows of cells below their heads. */
        record Cells(List<String> heads, List<List<String>> rows) implements Part {}

        /** A command to type. */
        record Command(String text) implements Part {}
    }

    private static final String MORE =
            """
            pre.lines { margin: .4rem 0; padding: .4rem .8rem; background: var(--panel); overflow-x: auto; }
            pre.lines .before { color: var(--bad); } pre.lines .after { color: var(--good); }
            .case p { margin: .25rem 0; } .case table { font-family: ui-monospace, "DejaVu Sans Mono", monospace;
              font-size: .85rem; }
            """;

    /** The page. */
    public String html(Instant at) {
        StringBuilder page = new StringBuilder();
        page.append("<!DOCTYPE html>\n<html lang=\"en\">\n<head>\n<meta charset=\"utf-8\">\n")
                .append("<meta name=\"generator\" content=\"Cantina\">\n")
                .append(
                        "<meta name=\"viewport\" content=\"width=device-width, initial-scale=1\">\n")
                .append("<title>")
                .append(HtmlReport.escaped(title))
                .append("</title>\n<style>\n")
                .append(HtmlReport.STYLE)
                .append(MORE)
                .append("</style>\n</head>\n<body>\n<h1>")
                .append(HtmlReport.escaped(title))
                .append("</h1>\n<p class=\"faint\">")
                .append(
                        DateTimeFormatter.ofPattern("d MMMM yyyy, HH:mm", Locale.ENGLISH)
                                .withZone(ZoneId.systemDefault())
                                .format(at))
                .append("</p>\n<p class=\"")
                .append(isGood ? "good" : "bad")
                .append("\">")
                .append(HtmlReport.escaped(summary))
                .append("</p>\n<div class=\"counts\">\n");
        counts.forEach(
                (what, number) ->
                        page.append("<div class=\"count\"><b>")
                                .append(HtmlReport.escaped(number))
                                .append("</b>")
                                .append(HtmlReport.escaped(what))
                                .append("</div>\n"));
        page.append("</div>\n");
        findings.forEach(f -> finding(page, f));
        for (String note : notes) {
            page.append("<p class=\"faint\">").append(HtmlReport.escaped(note)).append("</p>\n");
        }
        return page.append("</body>\n</html>\n").toString();
    }

    private static void finding(StringBuilder page, Finding finding) {
        page.append("<div class=\"case\"><h3>")
                .append(HtmlReport.escaped(finding.title()))
                .append("</h3>\n<p class=\"faint code\">")
                .append(HtmlReport.escaped(finding.place()))
                .append("</p>\n");
        for (Part part : finding.parts()) {
            if (part instanceof Part.Words words) {
                page.append("<p>").append(HtmlReport.escaped(words.text())).append("</p>\n");
            } else if (part instanceof Part.Command command) {
                page.append("<p class=\"code faint\">")
                        .append(HtmlReport.escaped(command.text()))
                        .append("</p>\n");
            } else if (part instanceof Part.Lines lines) {
                page.append("<pre class=\"lines\">");
                lines.before().forEach(l -> line(page, "before", "- ", l));
                lines.after().forEach(l -> line(page, "after", "+ ", l));
                page.append("</pre>\n");
            } else if (part instanceof Part.Cells cells) {
                cells(page, cells);
            }
        }
        page.append("</div>\n");
    }

    private static void line(StringBuilder page, String tone, String sign, String text) {
        page.append("<span class=\"")
                .append(tone)
                .append("\">")
                .append(sign)
                .append(HtmlReport.escaped(text))
                .append("</span>\n");
    }

    private static void cells(StringBuilder page, Part.Cells cells) {
        page.append("<div class=\"scroll\"><table>\n<tr>");
        cells.heads()
                .forEach(h -> page.append("<th>").append(HtmlReport.escaped(h)).append("</th>"));
        page.append("</tr>\n");
        for (List<String> row : cells.rows()) {
            page.append("<tr>");
            row.forEach(c -> page.append("<td>").append(HtmlReport.escaped(c)).append("</td>"));
            page.append("</tr>\n");
        }
        page.append("</table></div>\n");
    }
}
