package dev.cantina.cli;

import dev.cantina.cli.Screen.Tone;
import dev.cantina.observe.Profile;
import dev.cantina.runtime.AccessPath;
import dev.cantina.workbench.ValueText;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** Shows a profile: the hottest lines, then each routine's source with its figures. */
final class ProfileView {
    private static final int HOTTEST = 8;
    private static final int TEXT = 54;

    private final Screen screen;

    ProfileView(Screen screen) {
        this.screen = screen;
    }

    void show(Profile profile, List<ProfileJson.Earlier> earlier, boolean compared) {
        List<Profile.Line> lines = profile.lines();
        long whole = Math.max(1, profile.flame().total());
        screen.line(screen.tone(Tone.STRONG, "The hottest lines"));
        screen.line(
                screen.tone(
                        Tone.FAINT,
                        "     own ms   share      runs      read   written"
                                + (compared ? "   own before" : "")));
        lines.stream()
                .sorted(Comparator.comparingLong((Profile.Line l) -> -l.own()))
                .limit(HOTTEST)
                .forEach(l -> hot(l, whole, earlier, compared));
        if (compared) {
            gone(lines, earlier);
        }
        accesses(profile.accesses());
        sources(lines, whole);
        for (String routine : profile.cutShort()) {
            screen.line();
            screen.line(
                    screen.tone(
                            Tone.CAREFUL,
                            "  a condition ended "
                                    + routine
                                    + ": some of the last runs of its lines are not counted"));
        }
    }

    private void hot(
            Profile.Line line, long whole, List<ProfileJson.Earlier> earlier, boolean compared) {
        String before = "";
        if (compared) {
            Optional<ProfileJson.Earlier> same = ProfileJson.same(line, earlier);
            before = same.map(e -> before(line, e)).orElse(Screen.padded("          new", 13));
        }
        screen.line(
                figures(line, whole)
                        + before
                        + "   "
                        + screen.tone(Tone.STRONG, line.routine() + ":" + line.line())
                        + "  "
                        + TraceView.oneLine(line.text(), TEXT));
    }

    private String before(Profile.Line line, ProfileJson.Earlier earlier) {
        double own = line.own() / 1e6;
        String text = String.format(Locale.ROOT, "%13.3f", earlier.ownMillis());
        boolean slower = own > earlier.ownMillis() * 1.2 && own - earlier.ownMillis() > 0.05;
        boolean faster = own < earlier.ownMillis() / 1.2 && earlier.ownMillis() - own > 0.05;
        return slower ? screen.tone(Tone.BAD, text) : faster ? screen.tone(Tone.GOOD, text) : text;
    }

    private void gone(List<Profile.Line> lines, List<ProfileJson.Earlier> earlier) {
        for (ProfileJson.Earlier one : earlier) {
            boolean there =
                    lines.stream()
                            .anyMatch(
                                    l ->
                                            l.routine().equals(one.routine())
                                                    && l.text().strip().equals(one.text()));
            if (!there && one.ownMillis() >= 0.05) {
                screen.line(
                        screen.tone(
                                Tone.FAINT,
                                String.format(
                                        Locale.ROOT,
                                        "  not run any more, %.3f ms before: %s:%d  %s",
                                        one.ownMillis(),
                                        one.routine(),
                                        one.line(),
                                        TraceView.oneLine(one.text(), TEXT))));
            }
        }
    }

    private String figures(Profile.Line line, long whole) {
        double share = 100.0 * line.own() / whole;
        return String.format(Locale.ROOT, "%11.3f", line.own() / 1e6)
                + screen.tone(
                        share >= 25 ? Tone.BAD : share >= 10 ? Tone.CAREFUL : Tone.FAINT,
                        String.format(Locale.ROOT, "%6.1f %%", share))
                + String.format(
                        Locale.ROOT,
                        "%10d%10s%10s",
                        line.runs(),
                        count(line.read()),
                        count(line.written()));
    }

    private static String count(long rows) {
        return rows == 0 ? "" : Long.toString(rows);
    }

    private void accesses(List<Profile.Access> accesses) {
        if (accesses.isEmpty()) {
            return;
        }
        screen.line();
        screen.line(
                screen.tone(Tone.STRONG, "How rows were found")
                        + screen.tone(Tone.FAINT, "  (asked the first time a statement ran)"));
        for (Profile.Access access : accesses) {
            screen.line(
                    "  "
                            + screen.tone(Tone.STRONG, access.routine() + ":" + access.line())
                            + "  "
                            + TraceView.oneLine(access.text(), 70));
            for (AccessPath path : access.paths()) {
                List<String> parts = new ArrayList<>();
                if (path.scanned().isPresent()) {
                    long scanned = path.scanned().getAsLong();
                    parts.add(scanned + " scanned");
                    if (access.rows() >= 0) {
                        parts.add("for " + access.rows());
                    }
                }
                screen.line(
                        "    "
                                + screen.tone(
                                        path.wholeTable() ? Tone.CAREFUL : Tone.FAINT,
                                        path.wholeTable() ? "whole table  " : "             ")
                                + path.table()
                                + "  "
                                + screen.tone(
                                        Tone.FAINT,
                                        (path.wholeTable() ? "" : "by ")
                                                + TraceView.oneLine(path.path(), 60))
                                + (parts.isEmpty() ? "" : "  " + String.join(" ", parts)));
            }
        }
    }

    /** The source of each routine that ran, with the figures of each line beside it. */
    private void sources(List<Profile.Line> lines, long whole) {
        String routine = "";
        int last = 0;
        for (Profile.Line line : lines) {
            if (!line.routine().equals(routine)) {
                screen.line();
                screen.line(
                        screen.tone(Tone.STRONG, line.routine())
                                + screen.tone(Tone.FAINT, "  " + line.file()));
                screen.line(
                        screen.tone(
                                Tone.FAINT, "     own ms   share      runs      read   written"));
                routine = line.routine();
                last = line.line();
            }
            if (line.line() > last + 1) {
                screen.line(screen.tone(Tone.FAINT, " ".repeat(52) + "   ⋮"));
            }
            last = line.line();
            screen.line(
                    figures(line, whole)
                            + screen.tone(
                                    Tone.FAINT, String.format(Locale.ROOT, "%6d  ", line.line()))
                            + ValueText.printable(line.text().replace('\t', ' ')));
        }
    }
}
