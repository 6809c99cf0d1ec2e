package dev.cantina.cli;

import dev.cantina.cli.Screen.Tone;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.relations.SearchItems;
import dev.cantina.relations.WordSearch;
import dev.cantina.relations.WordSearch.Item;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.apache.commons.cli.Options;

/** {@code find WORDS}: by what a person remembers. */
final class FindCommand implements Command {
    private static final int SHOWN = 20;
    private static final int WIDTH = 36;

    @Override
    public String name() {
        return "find";
    }

    @Override
    public String arguments() {
        return "WORDS";
    }

    @Override
    public String summary() {
        return "routines, tables, columns, cases and comments by words of them, nearest first";
    }

    @Override
    public String example() {
        return "cantina --project demo/winery find level";
    }

    @Override
    public Options options() {
        Options options = new Options();
        Main.option(options, "all", null, "all that was found, not only the nearest");
        return CallCommand.serving(options);
    }

    @Override
    public int run(Invocation call) throws UsageException, ProjectException, SQLException {
        WordSearch search = new WordSearch(call.arguments());
        if (String.join("", call.arguments()).isBlank()) {
            throw new UsageException("find takes words: cantina find WORDS");
        }
        Project project = call.project();
        List<Item> items;
        if (call.value("on").isPresent()) {
            try (Workspace workspace = call.workspace(project, Optional.empty())) {
                items =
                        SearchItems.of(
                                workspace.database().connection(), workspace.catalog().tables());
            }
        } else {
            try (Workspace workspace = Workspace.open(project, Optional.empty())) {
                items = SearchItems.of(workspace);
            }
        }
        List<Item> found = search.in(items);
        List<Item> shown =
                call.has("all") || call.json()
                        ? found
                        : found.subList(0, Math.min(SHOWN, found.size()));
        if (call.json()) {
            call.screen().line(Json.text(json(shown)));
        } else {
            show(call.screen(), shown);
            if (found.size() > shown.size()) {
                call.screen()
                        .line(
                                call.screen()
                                        .tone(
                                                Tone.FAINT,
                                                "  and "
                                                        + (found.size() - shown.size())
                                                        + " more; --all shows them"));
            }
            if (found.isEmpty()) {
                call.screen().note("nothing is called like that, and no comment says it");
            }
        }
        return found.isEmpty() ? ExitCode.FAILED : ExitCode.WELL;
    }

    private static void show(Screen screen, List<Item> items) {
        int width =
                items.stream()
                        .filter(i -> i.kind() != WordSearch.Kind.COMMENT)
                        .mapToInt(i -> Screen.width(i.name()))
                        .filter(w -> w <= WIDTH)
                        .max()
                        .orElse(0);
        for (Item item : items) {
            String place =
                    item.file().isEmpty() ? "" : item.file() + ":" + Math.max(1, item.line());
            boolean comment = item.kind() == WordSearch.Kind.COMMENT;
            screen.line(
                    "  "
                            + screen.tone(
                                    Tone.FAINT,
                                    Screen.padded(item.kind().name().toLowerCase(Locale.ROOT), 11))
                            + (comment
                                    ? place + "  " + item.name()
                                    : screen.tone(Tone.STRONG, Screen.padded(item.name(), width))
                                            + "  "
                                            + screen.tone(
                                                    Tone.FAINT,
                                                    (item.text().isEmpty()
                                                                            || item.kind()
                                                                                    != WordSearch
                                                                                            .Kind
                                                                                            .COLUMN
                                                                    ? ""
                                                                    : item.text() + "  ")
                                                            + place)));
        }
    }

    private static Map<String, Object> json(List<Item> items) {
        List<Object> all = new ArrayList<>();
        for (Item item : items) {
            Map<String, Object> one = new LinkedHashMap<>();
            one.put("kind", item.kind().name().toLowerCase(Locale.ROOT));
            one.put("name", item.name());
            one.put("text", item.text());
            one.put("file", item.file().isEmpty() ? null : item.file());
            one.put("line", item.file().isEmpty() ? null : Math.max(1, item.line()));
            all.add(one);
        }
        Map<String, Object> object = new LinkedHashMap<>();
        object.put("found", all);
        return object;
    }
}
