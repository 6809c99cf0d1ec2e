package dev.cantina.cli;

import dev.cantina.cli.Screen.Tone;
import dev.cantina.drafting.SeenCases;
import dev.cantina.laboratory.MutantReport;
import dev.cantina.laboratory.MutantReport.Draft;
import dev.cantina.laboratory.MutantReport.Result;
import dev.cantina.laboratory.MutantReport.Verdict;
import dev.cantina.laboratory.Mutation;
import dev.cantina.report.LabPage;
import dev.cantina.workbench.ValueText;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/** The mistakes that were planted, and which of them nobody noticed. */
final class MutantsView {
    private final Screen screen;
    private final MutantReport report;
    private final boolean all;

    /**
     * @param all whether the mistakes that were noticed are shown, too
     */
    MutantsView(Screen screen, MutantReport report, boolean all) {
        this.screen = screen;
        this.report = report;
        this.all = all;
    }

    void show() {
        Map<String, List<Result>> unreached = new LinkedHashMap<>();
        report.results().stream()
                .filter(r -> r.verdict() == Verdict.UNREACHED)
                .forEach(r -> unreached.computeIfAbsent(at(r), k -> new ArrayList<>()).add(r));
        for (Result result : report.results()) {
            boolean good =
                    result.verdict() == Verdict.NOTICED || result.verdict() == Verdict.INDISTINCT;
            if (result.verdict() == Verdict.UNREACHED) {
                List<Result> here = unreached.remove(at(result));
                if (here != null) {
                    unreached(here);
                }
            } else if (all || !good) {
                show(result, good);
            }
        }
        summary();
    }

    private static String at(Result result) {
        return result.mutation().span().source().name() + ":" + result.mutation().line();
    }

    /** All mistakes of a line that no case runs through. */
    private void unreached(List<Result> here) {
        screen.line();
        screen.line(
                screen.tone(Tone.STRONG, at(here.get(0)))
                        + "  "
                        + screen.tone(
                                Tone.BAD,
                                "no case runs through it, with "
                                        + counted(here.size(), "mistake", "mistakes")));
        screen.line("   " + ValueText.printable(here.get(0).mutation().before().get(0)));
        here.stream()
                .flatMap(r -> r.draft().stream())
                .findFirst()
                .ifPresent(d -> screen.line("   would notice: " + ValueText.printable(words(d))));
    }

    private void show(Result result, boolean good) {
        Mutation mutation = result.mutation();
        screen.line();
        screen.line(
                screen.tone(Tone.STRONG, at(result))
                        + "  "
                        + screen.tone(good ? Tone.GOOD : Tone.BAD, mutation.kind().words()));
        mutation.before()
                .forEach(l -> screen.line(screen.tone(Tone.BAD, " - " + ValueText.printable(l))));
        mutation.after()
                .forEach(l -> screen.line(screen.tone(Tone.GOOD, " + " + ValueText.printable(l))));
        screen.line("   " + ValueText.printable(verdict(result)));
        result.draft().ifPresent(d -> screen.line("   " + ValueText.printable(draft(d))));
    }

    private static String verdict(Result result) {
        return switch (result.verdict()) {
            case NOTICED -> "noticed by " + result.by().orElse("");
            case UNNOTICED ->
                    result.cases() == 1
                            ? "the one case that runs through it does not notice"
                            : "none of the "
                                    + result.cases()
                                    + " cases that run through it notices";
            case UNREACHED -> "";
            case INDISTINCT -> "no run can tell: " + result.why().orElse("");
        };
    }

    private static String draft(Draft draft) {
        return "would notice: " + words(draft) + "; with the mistake " + draft.other();
    }

    private static String words(Draft draft) {
        return draft.routine()
                + (draft.arguments().isEmpty()
                        ? ""
                        : " with " + SeenCases.words(draft.arguments()));
    }

    private void summary() {
        long unnoticed = report.count(Verdict.UNNOTICED);
        long unreached = report.count(Verdict.UNREACHED);
        boolean clean = report.noticed() == report.all() && report.untried() == 0;
        if (!report.results().isEmpty()) {
            screen.line();
        }
        screen.line(
                screen.tone(
                                clean ? Tone.GOOD : Tone.BAD,
                                report.all() == 0
                                        ? "there is nothing in which a mistake could be made"
                                        : String.format(
                                                Locale.ROOT,
                                                "%,d of %s noticed, %.1f %%",
                                                report.noticed(),
                                                counted(report.all(), "mistake is", "mistakes are"),
                                                floor(report.percent())))
                        + (unnoticed == 0
                                ? ""
                                : "; cases run through "
                                        + String.format(Locale.ROOT, "%,d", unnoticed)
                                        + " and notice nothing")
                        + (unreached == 0
                                ? ""
                                : "; no case runs through "
                                        + String.format(Locale.ROOT, "%,d", unreached)));
        long same = report.count(Verdict.INDISTINCT);
        if (same > 0) {
            screen.note(
                    counted(same, "mistake", "mistakes")
                            + " more can't be told from what is right, and "
                            + (same == 1 ? "does" : "do")
                            + " not count");
        }
        if (!report.leftOut().isEmpty()) {
            screen.note(
                    counted(report.leftOut().size(), "case does", "cases do")
                            + " not pass as it is, and can notice nothing: "
                            + ValueText.printable(report.leftOut().get(0))
                            + (report.leftOut().size() > 1 ? ", …" : ""));
        }
        if (!report.kept().isEmpty()) {
            screen.note(
                    counted(report.kept().size(), "routine is", "routines are")
                            + " as before, and not tried again");
        }
        if (report.untried() > 0) {
            screen.note(
                    "it ended before "
                            + counted(report.untried(), "mistake", "mistakes")
                            + " were tried; --within SECONDS gives more time");
        }
    }

    /** Never 100.0 where something is missing. */
    private static double floor(double percent) {
        return Math.floor(percent * 10) / 10;
    }

    private static String counted(long number, String one, String many) {
        return String.format(Locale.ROOT, "%,d %s", number, number == 1 ? one : many);
    }

    LabPage page() {
        List<LabPage.Finding> findings = new ArrayList<>();
        for (Result result : report.results()) {
            boolean good =
                    result.verdict() == Verdict.NOTICED || result.verdict() == Verdict.INDISTINCT;
            if (good && !all) {
                continue;
            }
            List<LabPage.Part> parts = new ArrayList<>();
            parts.add(
                    new LabPage.Part.Lines(result.mutation().before(), result.mutation().after()));
            parts.add(
                    new LabPage.Part.Words(
                            result.verdict() == Verdict.UNREACHED
                                    ? "no case runs through it"
                                    : verdict(result)));
            result.draft().ifPresent(d -> parts.add(new LabPage.Part.Words(draft(d))));
            findings.add(new LabPage.Finding(result.mutation().kind().words(), at(result), parts));
        }
        Map<String, String> counts = new LinkedHashMap<>();
        counts.put("mistakes", String.valueOf(report.all()));
        counts.put("noticed", String.valueOf(report.noticed()));
        counts.put("percent", String.format(Locale.ROOT, "%.1f", floor(report.percent())));
        counts.put(
                "can't be told from what is right",
                String.valueOf(report.count(Verdict.INDISTINCT)));
        List<String> notes = new ArrayList<>();
        if (!report.leftOut().isEmpty()) {
            notes.add(
                    "these cases do not pass as it is, and can notice nothing: "
                            + String.join("; ", report.leftOut()));
        }
        if (report.untried() > 0) {
            notes.add(
                    "it ended before "
                            + counted(report.untried(), "mistake", "mistakes")
                            + " were tried");
        }
        boolean clean = report.noticed() == report.all();
        return new LabPage(
                "mistakes that cases notice",
                clean ? "each mistake is noticed" : "what nobody notices",
                clean,
                counts,
                findings,
                notes);
    }

    Map<String, Object> json() {
        Map<String, Object> object = new LinkedHashMap<>();
        object.put("cases", report.cases());
        object.put("left_out", report.leftOut());
        object.put("noticed", report.noticed());
        object.put("mistakes", report.all());
        object.put("percent", Math.floor(report.percent() * 100) / 100);
        object.put("indistinct", report.count(Verdict.INDISTINCT));
        object.put("untried", report.untried());
        object.put("kept", report.kept().stream().map(k -> k.routine()).toList());
        object.put("results", report.results().stream().map(MutantsView::json).toList());
        return object;
    }

    private static Map<String, Object> json(Result result) {
        Mutation mutation = result.mutation();
        Map<String, Object> object = new LinkedHashMap<>();
        object.put("routine", result.routine());
        object.put("file", mutation.span().source().name());
        object.put("line", mutation.line());
        object.put("kind", mutation.kind().name().toLowerCase(Locale.ROOT));
        object.put("what", mutation.kind().words());
        object.put("before", mutation.before());
        object.put("after", mutation.after());
        object.put("verdict", result.verdict().name().toLowerCase(Locale.ROOT));
        object.put("cases", result.cases());
        object.put("by", result.by().orElse(null));
        object.put("why", result.why().orElse(null));
        object.put("would_notice", result.draft().map(MutantsView::json).orElse(null));
        return object;
    }

    private static Map<String, Object> json(Draft draft) {
        Map<String, Object> object = new LinkedHashMap<>();
        object.put("routine", draft.routine());
        object.put("arguments", draft.arguments());
        object.put("other", draft.other());
        return object;
    }
}
