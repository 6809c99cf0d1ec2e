package dev.cantina.cli;

import dev.cantina.editing.Layout;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Parser;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.apache.commons.cli.Options;

/** {@code format [PATH…]}. */
final class FormatCommand implements Command {
    @Override
    public String name() {
        return "format";
    }

    @Override
    public String arguments() {
        return "[PATH…]";
    }

    @Override
    public String summary() {
        return "set the lines of routines as far in as their blocks want it";
    }

    @Override
    public String example() {
        return "cantina --project demo/winery format --show";
    }

    @Override
    public Options options() {
        Options options = new Options();
        Main.option(options, "show", null, "only say which files would change; 1 where some would");
        return options;
    }

    @Override
    public boolean hasJson() {
        return false;
    }

    @Override
    public int run(Invocation call) throws UsageException, ProjectException {
        Project project = call.project();
        List<String> changed = new ArrayList<>();
        Map<String, String> leftAlone = new LinkedHashMap<>();
        for (Path file : files(call, project)) {
            String shown = project.shown(file);
            ParsedFile parsed = Parser.parse(ProjectReader.source(file, shown), project.reading());
            Optional<String> laid = Layout.of(parsed);
            if (laid.isEmpty()) {
                leftAlone.put(
                        shown,
                        parsed.problems().isEmpty()
                                ? "it can't be read"
                                : parsed.problems().get(0).span().place()
                                        + ": "
                                        + parsed.problems().get(0).message());
            } else if (!laid.get().equals(parsed.source().written())) {
                if (!call.has("show")) {
                    write(file, shown, laid.get());
                }
                changed.add(shown);
            }
        }
        return told(call, changed, leftAlone);
    }

    private static int told(Invocation call, List<String> changed, Map<String, String> leftAlone) {
        changed.forEach(f -> call.screen().line("  " + f));
        leftAlone.forEach((f, why) -> call.screen().note("left alone: " + f + "; " + why));
        if (!call.quiet()) {
            String files = changed.size() == 1 ? "1 file" : changed.size() + " files";
            call.screen()
                    .line(
                            changed.isEmpty()
                                    ? "all is laid out already"
                                    : files + (call.has("show") ? " would change" : " changed"));
        }
        boolean trouble = !leftAlone.isEmpty() || call.has("show") && !changed.isEmpty();
        return trouble ? ExitCode.FAILED : ExitCode.WELL;
    }

    /** The files that were asked for, or all with routines in the standard language. */
    private static List<Path> files(Invocation call, Project project)
            throws UsageException, ProjectException {
        List<Path> all =
                project.own().isEmpty()
                        ? ProjectReader.files(project.root().resolve("routines"), ".sql")
                        : ProjectReader.matching(project, project.own().get().standard());
        if (call.arguments().isEmpty()) {
            return all;
        }
        List<Path> chosen = new ArrayList<>();
        for (String argument : call.arguments()) {
            Path wanted = call.folder().resolve(argument).toAbsolutePath().normalize();
            List<Path> fitting =
                    all.stream()
                            .filter(f -> f.toAbsolutePath().normalize().startsWith(wanted))
                            .toList();
            if (fitting.isEmpty()) {
                throw new UsageException(
                        argument
                                + " is no file or folder of routines in the standard language here");
            }
            chosen.addAll(fitting);
        }
        return chosen.stream().distinct().toList();
    }

    private static void write(Path file, String shown, String text) throws ProjectException {
        try {
            Files.writeString(file, text, StandardCharsets.UTF_8);
        } catch (IOException e) {
            throw new ProjectException(shown + ": " + FileTrouble.writing(e));
        }
    }
}
