package dev.cantina.cli;

import dev.cantina.cli.Screen.Tone;
import dev.cantina.racing.RaceCall;
import dev.cantina.racing.RaceReport;
import dev.cantina.racing.RaceReport.Finding;
import dev.cantina.racing.RaceStep;
import dev.cantina.report.LabPage;
import dev.cantina.workbench.ValueText;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/** What racing calls has shown: statements over time, a column a session. */
final class RaceView {
    private static final int WIDTH = 116;
    private static final int MOST_ROWS = 6;
    private static final int ROOM = 44;

    private final Screen screen;
    private final List<RaceCall> calls;
    private final List<RaceReport> reports;

    RaceView(Screen screen, List<RaceCall> calls, List<RaceReport> reports) {
        this.screen = screen;
        this.calls = calls;
        this.reports = reports;
    }

    void show() {
        List<String> shown = new ArrayList<>();
        for (RaceReport report : reports) {
            for (Finding finding : report.findings()) {
                String key = finding.kind() + finding.run().order().toString() + finding.ends();
                if (shown.contains(key)) {
                    continue;
                }
                shown.add(key);
                show(report, finding);
            }
        }
        if (!shown.isEmpty()) {
            screen.line();
        }
        reports.forEach(this::summary);
    }

    private static String at(RaceReport report) {
        return report.level().isEmpty() ? "" : " at " + report.level();
    }

    private void show(RaceReport report, Finding finding) {
        screen.line();
        screen.line(screen.tone(Tone.BAD, finding.kind().words()) + at(report));
        int width = WIDTH / calls.size();
        row(calls.stream().map(RaceCall::text).toList(), width, Tone.STRONG);
        for (RaceStep step : finding.run().steps()) {
            List<String> cells = new ArrayList<>();
            for (int i = 1; i <= calls.size(); i++) {
                cells.add(i == step.session() ? cell(step, ROOM) : "");
            }
            row(cells, width, step.raised().isEmpty() ? Tone.PLAIN : Tone.BAD);
        }
        for (int i = 0; i < calls.size(); i++) {
            screen.line("  session " + (i + 1) + " " + ValueText.printable(finding.ends().get(i)));
        }
        finding.differences()
                .forEach(
                        (table, rows) -> {
                            screen.line("  " + ValueText.printable(table));
                            rows(" + ", rows.here(), Tone.BAD, "in this order");
                            rows(" - ", rows.serial(), Tone.GOOD, "one after the other");
                        });
    }

    private void rows(String sign, List<String> rows, Tone tone, String when) {
        for (int i = 0; i < Math.min(MOST_ROWS, rows.size()); i++) {
            screen.line(
                    "   "
                            + screen.tone(
                                    tone,
                                    sign + ValueText.printable(rows.get(i)) + "  (" + when + ")"));
        }
        if (rows.size() > MOST_ROWS) {
            screen.line("     and " + (rows.size() - MOST_ROWS) + " more");
        }
    }

    private void row(List<String> cells, int width, Tone tone) {
        StringBuilder line = new StringBuilder("  ");
        for (String cell : cells) {
            String text = ValueText.printable(cell);
            line.append(Screen.padded(shortened(text, width - 2), width));
        }
        screen.line(screen.tone(tone, line.toString().stripTrailing()));
    }

    private static String shortened(String text, int width) {
        return text.length() > width ? text.substring(0, width - 1) + "…" : text;
    }

    private static String cell(RaceStep step, int room) {
        String line = step.place().map(p -> String.format("%3d  ", p.line())).orElse("     ");
        String came =
                !step.raised().isEmpty()
                        ? "  " + step.raised()
                        : step.rows() < 0
                                ? ""
                                : step.rows() == 1 ? "  1 row" : "  " + step.rows() + " rows";
        String waited = step.waited() ? "  (waits)" : "";
        String text = step.what();

        return line + shortened(text, room) + came + waited;
    }

    private void summary(RaceReport report) {
        boolean good = report.findings().isEmpty();
        String orders =
                String.format(
                        Locale.ROOT, "%,d of %,.0f orders made", report.tried(), report.orders());
        screen.line(
                screen.tone(
                        good ? Tone.GOOD : Tone.BAD,
                        (report.level().isEmpty() ? "" : report.level() + ": ")
                                + (good
                                        ? "all as one after the other"
                                        : String.join(
                                                "; ",
                                                report.findings().stream()
                                                        .map(f -> f.kind().words())
                                                        .toList()))
                                + " ("
                                + orders
                                + (report.isCutShort()
                                        ? "; time ran out, --within SECONDS gives more"
                                        : "; the others differ in nothing that meets")
                                + ")"));
    }

    LabPage page() {
        List<LabPage.Finding> findings = new ArrayList<>();
        Map<String, String> counts = new LinkedHashMap<>();
        List<String> notes = new ArrayList<>();
        for (RaceReport report : reports) {
            counts.put("orders at " + report.level(), String.valueOf(report.tried()));
            report.findings().forEach(f -> findings.add(page(report, f)));
            if (report.isCutShort()) {
                notes.add(
                        "time ran out at " + report.level() + " before all that matter were made");
            }
        }
        return new LabPage(
                "at the same time: "
                        + String.join(" + ", calls.stream().map(RaceCall::text).toList()),
                findings.isEmpty()
                        ? "all is as with the calls one after the other"
                        : "the worst of each level stands first",
                findings.isEmpty(),
                counts,
                findings,
                notes);
    }

    private static String at(List<String> rows, int index) {
        return index < rows.size() ? rows.get(index) : "";
    }

    private LabPage.Finding page(RaceReport report, Finding finding) {
        List<List<String>> rows = new ArrayList<>();
        for (RaceStep step : finding.run().steps()) {
            List<String> cells = new ArrayList<>();
            for (int i = 1; i <= calls.size(); i++) {
                cells.add(i == step.session() ? cell(step, Integer.MAX_VALUE).strip() : "");
            }
            rows.add(cells);
        }
        List<LabPage.Part> parts = new ArrayList<>();
        parts.add(new LabPage.Part.Cells(calls.stream().map(RaceCall::text).toList(), rows));
        for (int i = 0; i < calls.size(); i++) {
            parts.add(new LabPage.Part.Words("session " + (i + 1) + " " + finding.ends().get(i)));
        }
        finding.differences()
                .forEach(
                        (table, d) -> {
                            List<List<String>> both = new ArrayList<>();
                            int most = Math.max(d.here().size(), d.serial().size());
                            for (int i = 0; i < most; i++) {
                                both.add(List.of(at(d.here(), i), at(d.serial(), i)));
                            }
                            parts.add(
                                    new LabPage.Part.Cells(
                                            List.of(
                                                    table + ", in this order",
                                                    table + ", one after the other"),
                                            both));
                        });
        return new LabPage.Finding(finding.kind().words(), report.level(), parts);
    }

    Map<String, Object> json() {
        Map<String, Object> object = new LinkedHashMap<>();
        object.put("calls", calls.stream().map(RaceCall::text).toList());
        object.put("levels", reports.stream().map(RaceView::json).toList());
        return object;
    }

    private static Map<String, Object> json(RaceReport report) {
        Map<String, Object> object = new LinkedHashMap<>();
        object.put("isolation", report.level().isEmpty() ? null : report.level());
        object.put("tried", report.tried());
        object.put("orders", report.orders());
        object.put("cut_short", report.isCutShort());
        object.put("findings", report.findings().stream().map(RaceView::json).toList());
        return object;
    }

    private static Map<String, Object> json(Finding finding) {
        Map<String, Object> object = new LinkedHashMap<>();
        object.put("kind", finding.kind().name().toLowerCase(Locale.ROOT));
        object.put("what", finding.kind().words());
        object.put("ends", finding.ends());
        object.put("order", finding.run().order());
        object.put("steps", finding.run().steps().stream().map(RaceView::json).toList());
        Map<String, Object> rows = new LinkedHashMap<>();
        finding.differences()
                .forEach(
                        (table, d) ->
                                rows.put(table, Map.of("here", d.here(), "serial", d.serial())));
        object.put("rows", rows);
        return object;
    }

    private static Map<String, Object> json(RaceStep step) {
        Map<String, Object> object = new LinkedHashMap<>();
        object.put("session", step.session());
        object.put("routine", step.routine());
        object.put("file", step.place().map(p -> (Object) p.source().name()).orElse(null));
        object.put("line", step.place().map(p -> (Object) p.line()).orElse(null));
        object.put("statement", step.what());
        object.put("rows", step.rows() < 0 ? null : step.rows());
        object.put("waited", step.waited());
        object.put("sqlstate", step.raised().isEmpty() ? null : step.raised());
        return object;
    }
}
