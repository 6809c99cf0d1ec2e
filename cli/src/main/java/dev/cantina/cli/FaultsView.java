package dev.cantina.cli;

import dev.cantina.cli.Screen.Tone;
import dev.cantina.laboratory.Fault;
import dev.cantina.laboratory.FaultFinding;
import dev.cantina.laboratory.FaultReport;
import dev.cantina.report.LabPage;
import dev.cantina.runtime.TableChanges;
import dev.cantina.types.Words;
import dev.cantina.workbench.ValueText;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;

/** What trying faults has shown: a table a routine, the worst first. */
final class FaultsView {
    private static final int WIDEST = 52;

    private final Screen screen;
    private final boolean all;

    /**
     * @param all whether what has ended well is shown too
     */
    FaultsView(Screen screen, boolean all) {
        this.screen = screen;
        this.all = all;
    }

    void show(FaultReport report) {
        List<FaultFinding> shown = all ? report.findings() : report.bad();
        Map<String, List<FaultFinding>> routines = new LinkedHashMap<>();
        for (FaultFinding finding : shown) {
            routines.computeIfAbsent(last(finding).routine(), r -> new ArrayList<>()).add(finding);
        }
        for (Map.Entry<String, List<FaultFinding>> one : routines.entrySet()) {
            screen.line();
            screen.line(screen.tone(Tone.STRONG, one.getKey()));
            grouped(one.getValue()).forEach(g -> group(report, g));
        }
        screen.line();
        summary(report);
    }

    private static Fault last(FaultFinding finding) {
        return finding.faults().get(finding.faults().size() - 1);
    }

    /** Those of one statement with one verdict stand together. */
    private static List<List<FaultFinding>> grouped(List<FaultFinding> findings) {
        Map<String, List<FaultFinding>> groups = new LinkedHashMap<>();
        for (FaultFinding finding : findings) {
            Fault fault = last(finding);
            groups.computeIfAbsent(
                            fault.line()
                                    + " "
                                    + finding.verdict()
                                    + " "
                                    + counts(finding)
                                    + " "
                                    + finding.faults().size(),
                            g -> new ArrayList<>())
                    .add(finding);
        }
        return List.copyOf(groups.values());
    }

    private void group(FaultReport report, List<FaultFinding> group) {
        FaultFinding first = group.get(0);
        String text = ValueText.printable(first.statement());
        screen.line(
                String.format(Locale.ROOT, "%5d  ", last(first).line())
                        + (text.length() > WIDEST ? text.substring(0, WIDEST - 1) + "…" : text));
        screen.line(
                "         "
                        + screen.tone(
                                first.weight() > 2
                                        ? Tone.BAD
                                        : first.weight() > 0 ? Tone.CAREFUL : Tone.GOOD,
                                first.verdict())
                        + (counts(first).isEmpty() ? "" : ":  " + counts(first)));
        String what = what(group);
        screen.line(
                screen.tone(
                        Tone.FAINT,
                        "         when: "
                                + what
                                + (first.faults().size() > 1
                                        ? ", after "
                                                + first.faults().get(0).what()
                                                + " in line "
                                                + first.faults().get(0).line()
                                        : "")));
        if (first.weight() > 0) {
            screen.line(screen.tone(Tone.FAINT, "         look: " + replay(report, first)));
        }
    }

    private static String what(List<FaultFinding> group) {
        return group.stream()
                .map(f -> last(f).what() + (last(f).time() > 1 ? " #" + last(f).time() : ""))
                .distinct()
                .collect(Collectors.joining(", "));
    }

    private static String replay(FaultReport report, FaultFinding finding) {
        return report.replay()
                + finding.faults().stream()
                        .map(
                                f ->
                                        f.toString().contains("#")
                                                ? " --fault '" + f + "'"
                                                : " --fault " + f)
                        .collect(Collectors.joining());
    }

    private static String counts(FaultFinding finding) {
        if (!finding.broken().isEmpty()) {
            return "expected "
                    + ValueText.brief(
                            dev.cantina.types.SqlType.NULL,
                            plain(finding.broken().get(0).expected()))
                    + ", it is "
                    + ValueText.brief(
                            dev.cantina.types.SqlType.NULL,
                            plain(finding.broken().get(0).actual()));
        }
        return finding.left().stream()
                .map(
                        t ->
                                t.table().name()
                                        + part(t.changed().size(), "changed")
                                        + part(t.added().size(), "added")
                                        + part(t.removed().size(), "removed"))
                .collect(Collectors.joining(", "));
    }

    private static Object plain(Object value) {
        return value instanceof Words words ? words.text() : value;
    }

    private static String part(int rows, String what) {
        return rows == 0 ? "" : " " + rows + " " + what;
    }

    private void summary(FaultReport report) {
        long none = count(report, FaultFinding.Rows.NONE) + count(report, FaultFinding.Rows.OTHERS);
        long whole = count(report, FaultFinding.Rows.ALL);
        int bad = report.bad().size();
        int tried = report.findings().size();
        String of = " of " + counted(tried, "fault", "faults");
        screen.line(
                screen.tone(
                        bad == 0 ? Tone.GOOD : Tone.BAD,
                        report.title()
                                + ": "
                                + (bad == 0
                                        ? "none" + of + " leaves anything to look at"
                                        : bad
                                                + of
                                                + (bad == 1 ? " leaves" : " leave")
                                                + " something to look at")));
        screen.line(
                "  "
                        + none
                        + (none == 1 ? " leaves" : " leave")
                        + " nothing and the caller is told, "
                        + whole
                        + (whole == 1 ? " does" : " do")
                        + " it all the same; data is touched "
                        + counted(report.statements(), "time", "times")
                        + String.format(Locale.ROOT, "  (%.0f ms)", report.elapsedMillis()));
        if (report.left() > 0) {
            screen.line(
                    "  not tried: "
                            + counted(report.left(), "more run", "more runs")
                            + " of statements that were tried often enough");
        }
        if (report.isCut()) {
            screen.line("  the time was up before all was tried; --within gives more");
        }
    }

    private static long count(FaultReport report, FaultFinding.Rows rows) {
        return report.findings().stream().filter(f -> f.rows() == rows && f.weight() == 0).count();
    }

    private static String counted(int number, String one, String many) {
        return number + " " + (number == 1 ? one : many);
    }

    // ------------------------------------------------------------------ the page

    static LabPage page(FaultReport report) {
        List<LabPage.Finding> findings = new ArrayList<>();
        for (List<FaultFinding> group : grouped(report.bad())) {
            FaultFinding first = group.get(0);
            List<LabPage.Part> parts = new ArrayList<>();
            parts.add(new LabPage.Part.Words(first.statement()));
            if (!counts(first).isEmpty()) {
                parts.add(new LabPage.Part.Words(counts(first)));
            }
            parts.add(new LabPage.Part.Words("when: " + what(group)));
            parts.add(new LabPage.Part.Command(replay(report, first)));
            findings.add(
                    new LabPage.Finding(
                            first.verdict(),
                            last(first).routine() + ", line " + last(first).line(),
                            parts));
        }
        Map<String, String> counts = new LinkedHashMap<>();
        counts.put("faults tried", String.valueOf(report.findings().size()));
        counts.put("leave something to look at", String.valueOf(report.bad().size()));
        counts.put("times data is touched", String.valueOf(report.statements()));
        List<String> notes = new ArrayList<>();
        if (report.left() > 0) {
            notes.add(
                    "not tried: "
                            + counted(report.left(), "more run", "more runs")
                            + " of statements that were tried often enough");
        }
        if (report.isCut()) {
            notes.add("the time was up before all was tried");
        }
        return new LabPage(
                "faults of " + report.title(),
                report.bad().isEmpty()
                        ? "no fault leaves anything to look at"
                        : "the worst stands first",
                report.bad().isEmpty(),
                counts,
                findings,
                notes);
    }

    // ------------------------------------------------------------------ JSON

    static Map<String, Object> json(FaultReport report) {
        Map<String, Object> object = new LinkedHashMap<>();
        object.put("title", report.title());
        object.put("statements", report.statements());
        object.put("tried", report.findings().size());
        object.put("not_tried", report.left());
        object.put("cut_short", report.isCut());
        object.put("elapsed_ms", Json.millis(report.elapsedMillis()));
        object.put("findings", report.findings().stream().map(f -> json(report, f)).toList());
        return object;
    }

    private static Map<String, Object> json(FaultReport report, FaultFinding finding) {
        Map<String, Object> object = new LinkedHashMap<>();
        object.put("faults", finding.faults().stream().map(Fault::toString).toList());
        object.put("routine", last(finding).routine());
        object.put("line", last(finding).line());
        object.put("statement", finding.statement());
        object.put("weight", finding.weight());
        object.put("verdict", finding.verdict());
        object.put("rows", finding.rows().name().toLowerCase(Locale.ROOT));
        object.put("told", finding.isTold());
        object.put("left_open", finding.isLeftOpen());
        object.put("broken", finding.broken().stream().map(b -> b.invariant().name()).toList());
        Map<String, Object> left = new LinkedHashMap<>();
        for (TableChanges table : finding.left()) {
            Map<String, Object> counts = new LinkedHashMap<>();
            counts.put("changed", table.changed().size());
            counts.put("added", table.added().size());
            counts.put("removed", table.removed().size());
            left.put(table.table().name(), counts);
        }
        object.put("left", left);
        object.put("look", replay(report, finding));
        return object;
    }
}
