package dev.cantina.cli;

import dev.cantina.editing.Layout;
import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.nativecode.OwnReading;
import dev.cantina.nativecode.OwnText;
import dev.cantina.nativecode.ServerCode;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Source;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicInteger;
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
        // Routines that are not laid out, and need not be.
        AtomicInteger asItIs = new AtomicInteger();
        for (Path file : files(call, project)) {
            String shown = project.shown(file);
            Source source = ProjectReader.source(file, shown);
            Optional<String> laid =
                    isStandard(project, file)
                            ? standard(project, source, leftAlone)
                            : own(project, source, leftAlone, asItIs);
            if (laid.isPresent() && !laid.get().equals(source.written())) {
                if (!call.has("show")) {
                    write(file, shown, laid.get());
                }
                changed.add(shown);
            }
        }
        if (asItIs.get() > 0 && !call.quiet()) {
            call.screen()
                    .note(
                            (asItIs.get() == 1 ? "1 routine is" : asItIs + " routines are")
                                    + " left as written: in another language, or between single"
                                    + " quotes");
        }
        return told(call, changed, leftAlone);
    }

    private static boolean isStandard(Project project, Path file) throws ProjectException {
        return project.own().isEmpty()
                || ProjectReader.matching(project, project.own().get().standard()).contains(file);
    }

    private static Optional<String> standard(
            Project project, Source source, Map<String, String> leftAlone) {
        ParsedFile parsed = Parser.parse(source, project.reading());
        Optional<String> laid = Layout.of(parsed);
        if (laid.isEmpty()) {
            leftAlone.put(
                    source.name(),
                    parsed.problems().isEmpty()
                            ? "it can't be read"
                            : parsed.problems().get(0).span().place()
                                    + ": "
                                    + parsed.problems().get(0).message());
        }
        return laid;
    }

    /** What is in a server's own words; routines that can't be read there stay as they are. */
    private static Optional<String> own(
            Project project, Source source, Map<String, String> leftAlone, AtomicInteger asItIs) {
        OwnReading reading = ServerCode.READINGS.get(project.own().orElseThrow().dialect());
        try {
            OwnText text = reading.read(source);
            for (OwnText.Unit unit : Layout.leftAlone(text)) {
                if (unit.unread().isPresent()) {
                    leftAlone.put(
                            unit.name() + ", " + unit.at().place(),
                            unit.unread().get().getMessage());
                } else {
                    asItIs.incrementAndGet();
                }
            }
            return Optional.of(Layout.of(text, reading));
        } catch (NativeSyntaxException e) {
            leftAlone.put(source.name(), e.getMessage());
            return Optional.empty();
        }
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

    /** The files that were asked for, or all with routines. */
    private static List<Path> files(Invocation call, Project project)
            throws UsageException, ProjectException {
        List<Path> all = new ArrayList<>();
        if (project.own().isEmpty()) {
            all.addAll(ProjectReader.files(project.root().resolve("routines"), ".sql"));
        } else {
            all.addAll(ProjectReader.matching(project, project.own().get().standard()));
            all.addAll(ProjectReader.matching(project, project.own().get().routines()));
        }
        if (call.arguments().isEmpty()) {
            return all.stream().distinct().toList();
        }
        List<Path> chosen = new ArrayList<>();
        for (String argument : call.arguments()) {
            Path wanted = call.folder().resolve(argument).toAbsolutePath().normalize();
            List<Path> fitting =
                    all.stream()
                            .filter(f -> f.toAbsolutePath().normalize().startsWith(wanted))
                            .toList();
            if (fitting.isEmpty()) {
                throw new UsageException(argument + " is no file or folder of routines here");
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
