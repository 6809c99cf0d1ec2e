package dev.cantina.cli;

import dev.cantina.catalog.Column;
import dev.cantina.catalog.Table;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.relations.MapReader;
import dev.cantina.relations.ProjectMap;
import dev.cantina.relations.ProjectMap.Thing;
import dev.cantina.syntax.Nearest;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.apache.commons.cli.Options;

/** {@code map [NAME]}: who calls and touches what. */
final class MapCommand implements Command {
    /**
     * What is asked about.
     *
     * @param column of a table
     */
    record Asked(Thing thing, Optional<String> column) {}

    @Override
    public String name() {
        return "map";
    }

    @Override
    public String arguments() {
        return "[ROUTINE|TABLE|TABLE.COLUMN]";
    }

    @Override
    public String summary() {
        return "who calls whom, who touches which tables, and what a change would touch";
    }

    @Override
    public String example() {
        return "cantina --project demo/winery map vessel.level_l";
    }

    @Override
    public Options options() {
        Options options = new Options();
        Main.option(options, "page", "FILE", "draw it, as a page (SVG) that a browser shows");
        return options;
    }

    @Override
    public int run(Invocation call) throws UsageException, ProjectException {
        if (call.arguments().size() > 1) {
            throw new UsageException("map takes one name, or none for the whole project");
        }
        Project project = call.project();
        ProjectMap map;
        List<Asked> asked;
        try (Workspace workspace = Workspace.open(project, Optional.empty())) {
            map = MapReader.of(workspace);
            asked = call.arguments().isEmpty() ? List.of() : asked(map, call.arguments().get(0));
            for (Asked one : asked) {
                if (one.column().isPresent()) {
                    hasColumn(call, workspace, one.thing().name(), one.column().get());
                }
            }
        }
        if (call.value("page").isPresent()) {
            page(call, project, map, asked);
        }
        MapView view = new MapView(call.screen(), map);
        if (call.json()) {
            call.screen().line(Json.text(view.json(asked)));
        } else if (!asked.isEmpty()) {
            asked.forEach(view::about);
        } else if (call.value("page").isEmpty()) {
            view.whole();
        }
        return ExitCode.WELL;
    }

    private static List<Asked> asked(ProjectMap map, String name) throws UsageException {
        List<Asked> found = new ArrayList<>();
        map.called(name).forEach(t -> found.add(new Asked(t, Optional.empty())));
        int dot = name.lastIndexOf('.');
        if (found.isEmpty() && dot > 0) {
            String column = name.substring(dot + 1);
            map.called(name.substring(0, dot)).stream()
                    .filter(t -> t.kind().isTable())
                    .forEach(t -> found.add(new Asked(t, Optional.of(column))));
        }
        if (found.isEmpty()) {
            List<String> names = map.things().stream().map(Thing::name).toList();
            throw new UsageException(
                    "nothing is called "
                            + name
                            + " here"
                            + Nearest.to(name, names)
                                    .map(n -> "; did you mean " + n + "?")
                                    .orElse("; cantina map shows what there is"));
        }
        return found;
    }

    /** A slip of the pen is not a column that nothing touches. */
    private static void hasColumn(Invocation call, Workspace workspace, String name, String column)
            throws UsageException {
        Optional<Table> table = workspace.catalog().tableCalled(name);
        if (table.isEmpty()) {
            call.screen().note("what columns " + name + " has is not known here");
            return;
        }
        List<String> columns = table.get().columns().stream().map(Column::name).toList();
        if (columns.stream().noneMatch(column::equalsIgnoreCase)) {
            throw new UsageException(
                    name
                            + " has no column "
                            + column
                            + Nearest.to(column, columns)
                                    .map(n -> "; did you mean " + n + "?")
                                    .orElse("; it has " + String.join(", ", columns)));
        }
    }

    private static void page(Invocation call, Project project, ProjectMap map, List<Asked> asked)
            throws UsageException {
        Path file = call.folder().resolve(call.value("page").get());
        try {
            if (file.getParent() != null) {
                Files.createDirectories(file.getParent());
            }
            Files.writeString(
                    file, new MapPage(map, asked).svg(project.name()), StandardCharsets.UTF_8);
        } catch (IOException e) {
            throw new UsageException(call.value("page").get() + ": " + FileTrouble.writing(e));
        }
        if (!call.quiet() && !call.json()) {
            call.screen().line("wrote " + call.value("page").get());
        }
    }
}
