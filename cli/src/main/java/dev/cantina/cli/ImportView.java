package dev.cantina.cli;

import com.github.difflib.DiffUtils;
import com.github.difflib.UnifiedDiffUtils;
import com.github.difflib.patch.AbstractDelta;
import com.github.difflib.patch.Patch;
import dev.cantina.importing.ImportedProject.Change;
import dev.cantina.importing.ImportedProject.State;
import dev.cantina.importing.ProjectImport;
import dev.cantina.project.Project;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/** What an import has made, or would. */
final class ImportView {
    private static final int AROUND = 3;
    private static final int MOST = 10;

    private final Screen screen;

    ImportView(Screen screen) {
        this.screen = screen;
    }

    /** A new project is there. */
    void begun(String folder, List<Change> changes, ProjectImport.Result result) {
        long tables = below(changes, "tables/");
        long routines = below(changes, "routines/");
        int rows = result.rows().values().stream().mapToInt(Integer::intValue).sum();
        screen.line(
                "  "
                        + count(tables, "file")
                        + " in tables/, "
                        + count(routines, "file")
                        + " in routines/, "
                        + (rows == 0
                                ? "no rows: --rows N takes some"
                                : count(rows, "row")
                                        + " of "
                                        + count(result.rows().size(), "table")));
        said(result);
        screen.line();
        screen.line("A project in " + folder + ". Try:");
        if (!folder.equals(".")) {
            screen.line("  cd " + Screen.typed(folder));
        }
        screen.line("  cantina trust");
        screen.line("  cantina check");
    }

    private static long below(List<Change> changes, String folder) {
        return changes.stream().filter(c -> c.path().startsWith(folder)).count();
    }

    private static String count(long number, String what) {
        return number + " " + what + (number == 1 ? "" : "s");
    }

    private void said(ProjectImport.Result result) {
        if (!result.hidden().isEmpty()) {
            screen.line(
                    "  hidden too, since they hold the same values: "
                            + String.join(", ", result.hidden()));
        }
        List<String> out = result.leftOut();
        for (String one : out.subList(0, Math.min(out.size(), MOST))) {
            screen.line("  " + screen.tone(Screen.Tone.CAREFUL, "left out") + "  " + one);
        }
        if (out.size() > MOST) {
            screen.line(
                    "  "
                            + screen.tone(Screen.Tone.CAREFUL, "left out")
                            + "  "
                            + (out.size() - MOST)
                            + " more; cantina import --json has them all");
        }
    }

    /** What differs, and what of it was taken. */
    void again(
            List<Change> changes, List<Change> taken, ProjectImport.Result result, boolean whole) {
        int same = 0;
        for (Change change : changes) {
            if (change.state() == State.SAME) {
                same++;
                continue;
            }
            boolean took = taken.contains(change);
            screen.line(
                    "  "
                            + screen.tone(
                                    took ? Screen.Tone.GOOD : tone(change.state()),
                                    String.format("%-16s", took ? "taken" : words(change.state())))
                            + change.path()
                            + (change.here() != null && change.there() != null
                                    ? "  " + screen.tone(Screen.Tone.FAINT, sizes(change))
                                    : ""));
            if (whole) {
                lines(change);
            }
        }
        said(result);
        screen.line(
                changes.size() == same
                        ? "nothing differs: " + count(same, "file")
                        : count(same, "file") + " the same");
        if (taken.isEmpty() && changes.size() > same && !whole) {
            screen.line("cantina import --diff shows it, --take FILE or --take all takes it");
        }
    }

    private static String words(State state) {
        return state == State.CHANGED_BOTH
                ? "changed both"
                : state.name().toLowerCase(Locale.ROOT).replace('_', ' ');
    }

    private static Screen.Tone tone(State state) {
        return switch (state) {
            case NEW -> Screen.Tone.NEW;
            case GONE, CHANGED_BOTH -> Screen.Tone.BAD;
            case CHANGED_HERE -> Screen.Tone.FAINT;
            default -> Screen.Tone.CAREFUL;
        };
    }

    private static List<String> split(String text) {
        return text == null || text.isEmpty() ? List.of() : List.of(text.split("\n"));
    }

    private static String sizes(Change change) {
        int added = 0;
        int gone = 0;
        for (AbstractDelta<String> delta :
                DiffUtils.diff(split(change.here()), split(change.there())).getDeltas()) {
            gone += delta.getSource().size();
            added += delta.getTarget().size();
        }
        return "+" + added + " -" + gone;
    }

    private void lines(Change change) {
        List<String> here = split(change.here());
        Patch<String> patch = DiffUtils.diff(here, split(change.there()));
        List<String> lines =
                UnifiedDiffUtils.generateUnifiedDiff("here", "there", here, patch, AROUND);
        for (String line : lines.subList(Math.min(2, lines.size()), lines.size())) {
            Screen.Tone tone =
                    line.startsWith("+")
                            ? Screen.Tone.GOOD
                            : line.startsWith("-") ? Screen.Tone.BAD : Screen.Tone.FAINT;
            screen.line("    " + screen.tone(tone, line));
        }
    }

    static String json(
            Project project,
            List<Change> changes,
            List<Change> taken,
            ProjectImport.Result result) {
        Map<String, Object> all = new LinkedHashMap<>();
        all.put("project", project.name());
        List<Map<String, Object>> files = new ArrayList<>();
        for (Change change : changes) {
            Map<String, Object> one = new LinkedHashMap<>();
            one.put("path", change.path());
            one.put("state", words(change.state()));
            one.put("taken", taken.contains(change));
            files.add(one);
        }
        all.put("files", files);
        all.put("rows", result.rows());
        all.put("hidden_too", result.hidden());
        all.put("left_out", result.leftOut());
        return Json.text(all);
    }
}
