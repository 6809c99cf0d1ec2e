package dev.cantina.report;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.observe.Coverage;
import dev.cantina.syntax.Visible;
import dev.cantina.testing.CaseResult;
import dev.cantina.testing.CaseResult.Verdict;
import dev.cantina.testing.Difference;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;

/** One page that holds everything: results, differences, coverage over the source. */
public final class HtmlReport {
    static final String STYLE =
            """
            :root { color-scheme: light dark; --ink: #22252b; --paper: #ffffff; --line: #d9dbe0;
              --faint: #666c78; --good: #1c6b3c; --bad: #a8231c; --careful: #8a5a00;
              --good-wash: #e7f4ea; --bad-wash: #fbe9e7; --panel: #f6f7f9; }
            @media (prefers-color-scheme: dark) { :root { --ink: #e6e8ec; --paper: #17191d;
              --line: #363a42; --faint: #9aa1ad; --good: #7fd39a; --bad: #ff9b93; --careful: #e0b25c;
              --good-wash: #1b2e22; --bad-wash: #3a2020; --panel: #1f2228; } }
            * { box-sizing: border-box; }
            body { margin: 0 auto; max-width: 70rem; padding: 1.5rem 1rem 4rem; color: var(--ink);
              background: var(--paper); font: 16px/1.5 system-ui, sans-serif; }
            h1 { font-size: 1.6rem; margin: 0 0 .25rem; } h2 { font-size: 1.2rem; margin: 2.5rem 0 .75rem; }
            h3 { font-size: 1rem; margin: 1.5rem 0 .5rem; }
            .faint { color: var(--faint); } .good { color: var(--good); } .bad { color: var(--bad); }
            .careful { color: var(--careful); }
            .counts { display: flex; flex-wrap: wrap; gap: .75rem; margin: 1.25rem 0; }
            .count { border: 1px solid var(--line); border-radius: .5rem; padding: .6rem 1rem; min-width: 7rem; }
            .count b { display: block; font-size: 1.6rem; line-height: 1.2; }
            .scroll { overflow-x: auto; }
            table { border-collapse: collapse; width: 100%; }
            th, td { text-align: left; padding: .35rem .6rem; border-bottom: 1px solid var(--line);
              vertical-align: top; }
            th { font-weight: 600; } td.number, th.number { text-align: right; white-space: nowrap;
              font-variant-numeric: tabular-nums; }
            code, pre, .code { font-family: ui-monospace, "DejaVu Sans Mono", monospace; font-size: .85rem; }
            .case { border: 1px solid var(--line); border-left: 4px solid var(--bad); border-radius: .4rem;
              padding: .75rem 1rem; margin: .75rem 0; break-inside: avoid; }
            .case h3 { margin: 0 0 .25rem; }
            td.expected { background: var(--good-wash); } td.actual { background: var(--bad-wash); }
            td.code { overflow-wrap: anywhere; }
            details { border: 1px solid var(--line); border-radius: .4rem; margin: .5rem 0; }
            summary { cursor: pointer; padding: .5rem .8rem; display: flex; gap: 1rem; flex-wrap: wrap;
              justify-content: space-between; }
            pre.source { margin: 0; padding: .5rem 0; overflow-x: auto; background: var(--panel); }
            pre.source span { display: block; padding: 0 .8rem 0 0; white-space: pre; min-width: max-content; }
            pre.source i { display: inline-block; width: 4.5rem; padding-right: .6rem; text-align: right;
              color: var(--faint); font-style: normal; user-select: none; }
            pre.source .hit { background: var(--good-wash); } pre.source .miss { background: var(--bad-wash); }
            .bar { display: inline-block; width: 6rem; height: .5rem; background: var(--bad-wash);
              border: 1px solid var(--line); border-radius: .25rem; vertical-align: middle; overflow: hidden; }
            .bar b { display: block; height: 100%; background: var(--good); }
            @media print { body { max-width: none; } details > * { display: block; } summary { list-style: none; } }
            @media (max-width: 40rem) { body { font-size: 15px; } th, td { padding: .3rem .4rem; } }
            """;

    private final StringBuilder page = new StringBuilder();
    private final Report report;

    private HtmlReport(Report report) {
        this.report = report;
    }

    public static String of(Report report) {
        HtmlReport html = new HtmlReport(report);
        html.write();
        return html.page.toString();
    }

    private void write() {
        String title = report.project() + ": " + report.results().size() + " cases";
        page.append("<!DOCTYPE html>\n<html lang=\"en\">\n<head>\n<meta charset=\"utf-8\">\n")
                .append(
                        "<meta name=\"generator\" content=\"Cantina\">\n"
                                + "<meta name=\"viewport\" content=\"width=device-width, initial-scale=1\">\n")
                .append("<title>")
                .append(escaped(title))
                .append("</title>\n<style>\n")
                .append(STYLE)
                .append("</style>\n</head>\n<body>\n");
        page.append("<h1>").append(escaped(report.project())).append("</h1>\n");
        String at =
                DateTimeFormatter.ofPattern("d MMMM yyyy, HH:mm", Locale.ENGLISH)
                        .withZone(ZoneId.systemDefault())
                        .format(report.at());
        page.append("<p class=\"faint\">")
                .append(at)
                .append(
                        String.format(
                                Locale.ROOT, " · %.1f s</p>\n", report.elapsedMillis() / 1000));
        counts();
        differences();
        results();
        report.coverage().ifPresent(this::coverage);
        slowest();
        page.append("</body>\n</html>\n");
    }

    private void counts() {
        page.append("<div class=\"counts\">\n");
        count("passed", "good", String.valueOf(report.count(Verdict.PASSED)));
        long failed = report.count(Verdict.FAILED);
        count("failed", failed > 0 ? "bad" : "faint", String.valueOf(failed));
        long broken = report.count(Verdict.BROKEN);
        if (broken > 0) {
            count("broken", "bad", String.valueOf(broken));
        }
        long skipped = report.count(Verdict.SKIPPED);
        if (skipped > 0) {
            count("skipped", "faint", String.valueOf(skipped));
        }
        report.coverage()
                .ifPresent(
                        c ->
                                count(
                                        "of statements reached",
                                        "",
                                        String.format(Locale.ROOT, "%.1f %%", c.percent())));
        page.append("</div>\n");
    }

    private void count(String what, String tone, String number) {
        page.append("<div class=\"count\"><b class=\"")
                .append(tone)
                .append("\">")
                .append(number)
                .append("</b>")
                .append(what)
                .append("</div>\n");
    }

    private void differences() {
        List<CaseResult> bad =
                report.results().stream()
                        .filter(r -> r.verdict() == Verdict.FAILED || r.verdict() == Verdict.BROKEN)
                        .toList();
        if (bad.isEmpty()) {
            return;
        }
        page.append("<h2>What did not pass</h2>\n");
        for (CaseResult result : bad) {
            page.append("<div class=\"case\"><h3>")
                    .append(escaped(result.testCase().name()))
                    .append("</h3>\n<div class=\"faint code\">")
                    .append(escaped(result.testCase().place().place()))
                    .append("</div>\n");
            result.problem()
                    .ifPresent(
                            p ->
                                    page.append("<p class=\"bad\">")
                                            .append(escaped(p.span().place() + ": " + p.message()))
                                            .append("</p>\n"));
            if (!result.differences().isEmpty()) {
                table(result.differences());
            }
            page.append("</div>\n");
        }
    }

    private void table(List<Difference> differences) {
        boolean written = differences.stream().anyMatch(d -> d.writer().isPresent());
        page.append("<div class=\"scroll\"><table><tr><th>where</th><th>expected</th>")
                .append("<th>actual</th>")
                .append(written ? "<th>written by</th></tr>\n" : "</tr>\n");
        for (Difference difference : differences) {
            page.append("<tr><td class=\"code\">")
                    .append(escaped(difference.at()))
                    .append("</td><td class=\"code expected\">")
                    .append(escaped(Report.shown(difference.expected())))
                    .append("</td><td class=\"code actual\">")
                    .append(escaped(Report.shown(difference.actual())))
                    .append("</td>");
            if (written) {
                page.append("<td class=\"code\">")
                        .append(
                                difference
                                        .writer()
                                        .map(w -> escaped(w.routine() + ", " + w.place().place()))
                                        .orElse(""))
                        .append("</td>");
            }
            page.append("</tr>\n");
        }
        page.append("</table></div>\n");
    }

    private void results() {
        page.append("<h2>All cases</h2>\n<div class=\"scroll\"><table>")
                .append(
                        "<tr><th>verdict</th><th>case</th><th>routine</th><th class=\"number\">ms</th></tr>\n");
        String file = "";
        for (CaseResult result : report.results()) {
            if (!result.testCase().file().equals(file)) {
                file = result.testCase().file();
                page.append("<tr><th colspan=\"4\" class=\"code\">")
                        .append(escaped(file))
                        .append("</th></tr>\n");
            }
            String tone =
                    switch (result.verdict()) {
                        case PASSED -> "good";
                        case SKIPPED -> "faint";
                        default -> "bad";
                    };
            page.append("<tr><td class=\"")
                    .append(tone)
                    .append("\">")
                    .append(result.verdict().name().toLowerCase(Locale.ROOT))
                    .append("</td><td>")
                    .append(escaped(result.testCase().name()))
                    .append(
                            result.testCase()
                                    .skip()
                                    .map(s -> " <span class=\"faint\">" + escaped(s) + "</span>")
                                    .orElse(""))
                    .append("</td><td class=\"code\">")
                    .append(escaped(result.testCase().routine()))
                    .append("</td><td class=\"number\">")
                    .append(String.format(Locale.ROOT, "%.1f", result.elapsedMillis()))
                    .append("</td></tr>\n");
        }
        page.append("</table></div>\n");
    }

    private void coverage(Coverage coverage) {
        List<Coverage.OfFile> files = coverage.files();
        page.append("<h2>Coverage</h2>\n<div class=\"scroll\"><table><tr><th>routine</th><th></th>")
                .append("<th class=\"number\">statements</th><th class=\"number\">branches</th>")
                .append("<th class=\"number\">handlers</th><th class=\"number\">runs</th></tr>\n");
        for (Coverage.OfFile file : files) {
            for (Coverage.OfRoutine routine : file.routines()) {
                routine(routine);
            }
        }
        page.append("</table></div>\n");
        files.forEach(this::source);
    }

    private void routine(Coverage.OfRoutine routine) {
        int percent =
                routine.statements() == 0
                        ? 100
                        : (int) (100L * routine.reached() / routine.statements());
        boolean silent = routine.kind() == BoundRoutine.Kind.TRIGGER && routine.entered() == 0;
        page.append("<tr><td class=\"code\">")
                .append(escaped(routine.name()))
                .append(silent ? " <span class=\"bad\">never fired</span>" : "")
                .append("</td><td><span class=\"bar\"><b style=\"width:")
                .append(percent)
                .append("%\"></b></span></td>");
        number(routine.reached(), routine.statements());
        number(routine.taken(), routine.branches());
        number(routine.handled(), routine.handlers());
        page.append("<td class=\"number\">").append(routine.entered()).append("</td></tr>\n");
    }

    private void number(int part, int whole) {
        page.append("<td class=\"number ")
                .append(part < whole ? "careful" : "")
                .append("\">")
                .append(whole == 0 ? "–" : part + " of " + whole)
                .append("</td>");
    }

    private void source(Coverage.OfFile file) {
        long hit = file.lines().values().stream().filter(t -> t > 0).count();
        page.append("<details><summary><span class=\"code\">")
                .append(escaped(file.name()))
                .append("</span><span class=\"faint\">")
                .append(hit)
                .append(" of ")
                .append(file.lines().size())
                .append(" lines</span></summary>\n<pre class=\"source\">");
        int number = 0;
        for (String line : file.text().split("\\r?\\n", -1)) {
            number++;
            Long times = file.lines().get(number);
            page.append("<span")
                    .append(times == null ? "" : times > 0 ? " class=\"hit\"" : " class=\"miss\"")
                    .append("><i>")
                    .append(times == null ? "" : times > 0 ? times + " ×" : "0 ×")
                    .append("</i><i>")
                    .append(number)
                    .append("</i>")
                    .append(escaped(line))
                    .append("</span>");
        }
        page.append("</pre></details>\n");
    }

    private void slowest() {
        List<CaseResult> slow =
                report.results().stream()
                        .sorted(Comparator.comparingDouble((CaseResult r) -> -r.elapsedMillis()))
                        .limit(5)
                        .toList();
        page.append("<h2>The slowest</h2>\n<div class=\"scroll\"><table>\n");
        for (CaseResult result : slow) {
            page.append("<tr><td class=\"number\">")
                    .append(String.format(Locale.ROOT, "%.1f ms", result.elapsedMillis()))
                    .append("</td><td>")
                    .append(escaped(result.testCase().name()))
                    .append("</td><td class=\"code\">")
                    .append(escaped(result.testCase().file()))
                    .append("</td></tr>\n");
        }
        page.append("</table></div>\n");
    }

    static String escaped(String text) {
        return Visible.lines(text)
                .replace("&", "&amp;")
                .replace("<", "&lt;")
                .replace(">", "&gt;")
                .replace("\"", "&quot;");
    }
}
