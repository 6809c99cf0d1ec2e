package dev.cantina.cli;

import dev.cantina.cli.Screen.Tone;
import dev.cantina.drafting.SeenCases;
import dev.cantina.laboratory.Explorer;
import dev.cantina.report.LabPage;
import dev.cantina.workbench.ValueText;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/** What exploring a routine has found. */
final class ExploreView {
    private static final int WIDEST = 70;

    private final Invocation call;
    private final Screen screen;
    private final Explorer.Report report;
    private final Optional<String> server;

    ExploreView(Invocation call, Explorer.Report report, Optional<String> server) {
        this.call = call;
        this.screen = call.screen();
        this.report = report;
        this.server = server;
    }

    void show() {
        for (Explorer.Finding finding : report.findings()) {
            screen.line();
            screen.line(screen.tone(Tone.BAD, ValueText.printable(finding.what())));
            finding.where()
                    .ifPresent(
                            w -> {
                                String text =
                                        ValueText.printable(
                                                w.place().text().replaceAll("\\s+", " ").strip());
                                screen.line(
                                        "     at: "
                                                + w.routine()
                                                + " "
                                                + w.place().line()
                                                + "  "
                                                + (text.length() > WIDEST
                                                        ? text.substring(0, WIDEST - 1) + "…"
                                                        : text));
                            });
            if (!finding.run().arguments().isEmpty()) {
                screen.line(
                        "   with: "
                                + ValueText.printable(SeenCases.words(finding.run().arguments())));
            }
            screen.line(screen.tone(Tone.FAINT, "   look: " + look(finding)));
        }
        if (!report.findings().isEmpty()) {
            screen.line();
        }
        int found = report.findings().size();
        screen.line(
                screen.tone(
                        found == 0 ? Tone.GOOD : Tone.BAD,
                        report.routine()
                                + ": "
                                + (found == 0
                                        ? "nothing that it was not meant to do"
                                        : counted(found, "thing", "things")
                                                + " that it was not meant to do")
                                + " in "
                                + counted(report.runs(), "run", "runs")
                                + (report.elsewhere() > 0
                                        ? ", "
                                                + report.elsewhere()
                                                + " of them on "
                                                + server.orElse("")
                                                + " too"
                                        : "")));
        if (!report.unreached().isEmpty()) {
            screen.note(
                    "no run has reached "
                            + (report.unreached().size() == 1 ? "line " : "lines ")
                            + report.unreached().stream()
                                    .map(String::valueOf)
                                    .collect(Collectors.joining(", ")));
        }
        if (report.isOutOfTime()) {
            screen.note("it ended before all was tried; --seconds N gives more time");
        }
    }

    private String look(Explorer.Finding finding) {
        StringBuilder line = new StringBuilder("cantina debug " + report.routine());
        finding.run()
                .arguments()
                .forEach(
                        (name, value) ->
                                line.append(' ')
                                        .append(
                                                Screen.typed(
                                                        name
                                                                + "="
                                                                + DraftCommand.argument(value))));
        call.value("fixture").ifPresent(f -> line.append(" --fixture ").append(Screen.typed(f)));
        return line.toString();
    }

    private static String counted(int number, String one, String many) {
        return String.format(Locale.ROOT, "%,d %s", number, number == 1 ? one : many);
    }

    LabPage page() {
        List<LabPage.Finding> findings = new ArrayList<>();
        for (Explorer.Finding finding : report.findings()) {
            List<LabPage.Part> parts = new ArrayList<>();
            finding.where().ifPresent(w -> parts.add(new LabPage.Part.Words(w.place().text())));
            if (!finding.run().arguments().isEmpty()) {
                parts.add(
                        new LabPage.Part.Words(
                                "with " + SeenCases.words(finding.run().arguments())));
            }
            parts.add(new LabPage.Part.Command(look(finding)));
            findings.add(
                    new LabPage.Finding(
                            finding.what(),
                            finding.where()
                                    .map(w -> w.routine() + ", line " + w.place().line())
                                    .orElse(report.routine()),
                            parts));
        }
        Map<String, String> counts = new LinkedHashMap<>();
        counts.put("runs", String.valueOf(report.runs()));
        counts.put("things that it was not meant to do", String.valueOf(findings.size()));
        List<String> notes = new ArrayList<>();
        if (!report.unreached().isEmpty()) {
            notes.add("no run has reached these lines: " + report.unreached());
        }
        if (report.isOutOfTime()) {
            notes.add("it ended before all was tried");
        }
        return new LabPage(
                "arguments of " + report.routine(),
                findings.isEmpty()
                        ? "nothing that it was not meant to do"
                        : "each with as few unusual arguments as show it",
                findings.isEmpty(),
                counts,
                findings,
                notes);
    }

    Map<String, Object> json() {
        Map<String, Object> object = new LinkedHashMap<>();
        object.put("routine", report.routine());
        object.put("runs", report.runs());
        object.put("runs_elsewhere", report.elsewhere());
        object.put("cut_short", report.isOutOfTime());
        object.put("unreached", report.unreached());
        object.put("findings", report.findings().stream().map(this::json).toList());
        return object;
    }

    private Map<String, Object> json(Explorer.Finding finding) {
        Map<String, Object> object = new LinkedHashMap<>();
        object.put("kind", finding.kind().name().toLowerCase(Locale.ROOT));
        object.put("what", finding.what());
        object.put("in", finding.where().map(w -> (Object) w.routine()).orElse(null));
        object.put(
                "file", finding.where().map(w -> (Object) w.place().source().name()).orElse(null));
        object.put("line", finding.where().map(w -> (Object) w.place().line()).orElse(null));
        object.put("arguments", finding.run().arguments());
        object.put("look", look(finding));
        return object;
    }
}
