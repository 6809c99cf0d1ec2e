package dev.cantina.cli;

import dev.cantina.cli.Screen.Tone;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.project.Trust;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Stream;
import org.apache.commons.cli.Options;

/**
 * {@code demo}: the whole tour, on a copy of the winery in a temporary folder. Each step is a
 * command that could be typed, and is shown as such; the tour checks that each ends as it should.
 */
final class DemoCommand implements Command {
    /**
     * The winery in one language: what differs from one to the next.
     *
     * @param folder below {@code demo}
     * @param move what moves 120 litres
     * @param tooMuch what moves more than there is room for
     * @param settle what pays a vintage
     * @param file where the mistake is
     */
    private record Winery(
            String folder,
            List<String> move,
            List<String> tooMuch,
            List<String> settle,
            String file,
            String mistake,
            String right) {
        static final Winery STANDARD =
                new Winery(
                        "winery",
                        List.of("source=T1", "target=C7", "litres=120"),
                        List.of("source=T1", "target=C7", "litres=200"),
                        List.of("year=2031"),
                        "routines/topping_loss.sql",
                        "WHILE month <= months DO",
                        "WHILE month < months DO");
        static final Map<String, Winery> ALL =
                Map.of(
                        "standard",
                        STANDARD,
                        "postgresql",
                        new Winery(
                                "winery-postgresql",
                                STANDARD.move,
                                STANDARD.tooMuch,
                                STANDARD.settle,
                                "db/functions/topping_loss.sql",
                                "FOR month IN 0..months LOOP",
                                "FOR month IN 1..months LOOP"),
                        "mariadb",
                        new Winery(
                                "winery-mariadb",
                                List.of("p_source=T1", "p_target=C7", "p_litres=120"),
                                List.of("p_source=T1", "p_target=C7", "p_litres=200"),
                                List.of("p_year=2031", "at_most=9"),
                                STANDARD.file,
                                STANDARD.mistake,
                                STANDARD.right));
    }

    @Override
    public String name() {
        return "demo";
    }

    @Override
    public String arguments() {
        return "";
    }

    @Override
    public String summary() {
        return "the whole tour, on data that ships with it";
    }

    @Override
    public String example() {
        return "cantina demo";
    }

    @Override
    public Options options() {
        Options options = new Options();
        Main.option(
                options,
                "dialect",
                "KIND",
                "the winery in a server's own language, on a private server: postgresql or mariadb");
        Main.option(options, "keep-in", "DIR", "keep the copy of the winery in this new folder");
        return options;
    }

    /** What the tour has used, and whether all went as it should. */
    private static final class Tour {
        final List<String> used = new ArrayList<>();
        boolean well = true;
    }

    @Override
    public boolean hasJson() {
        return false;
    }

    @Override
    public Set<String> common() {
        return Set.of();
    }

    @Override
    public int run(Invocation call) throws UsageException, ProjectException {
        Winery shown = Winery.ALL.get(call.value("dialect").orElse("standard"));
        if (shown == null) {
            throw new UsageException(
                    "--dialect is standard, postgresql or mariadb, not "
                            + call.value("dialect").get());
        }
        Path winery = winery(shown.folder);
        Path copy;
        try {
            copy =
                    call.has("keep-in")
                            ? Files.createDirectories(
                                    call.folder().resolve(call.value("keep-in").get()))
                            : Files.createTempDirectory("cantina-demo");
            copyFolder(winery, copy);
        } catch (IOException e) {
            throw new UsageException("the demo can't be copied (" + ProjectReader.reason(e) + ")");
        }
        try {
            return tour(call, copy, shown);
        } finally {
            if (!call.has("keep-in")) {
                remove(copy);
            }
        }
    }

    private int tour(Invocation call, Path copy, Winery winery)
            throws UsageException, ProjectException {
        Tour tour = new Tour();
        Screen screen = call.screen();
        if (winery != Winery.STANDARD && !System.getenv().containsKey(Trust.VARIABLE)) {
            // It is ours, and the copy is gone afterwards.
            Trust.here().trust(Trust.here().of(ProjectReader.read(copy)));
        }
        chapter(screen, "Colle Lantana, a made-up winery", "Its routines are read and checked.");
        step(call, copy, tour, ExitCode.WELL, "check");

        chapter(
                screen,
                "One call",
                "Wine is moved. Every row that changes is shown, the trigger's too.");
        step(call, copy, tour, ExitCode.WELL, words("call move_wine", winery.move));

        chapter(
                screen,
                "A call that can't work",
                "The routine raises a condition; nothing is left half done.");
        step(call, copy, tour, ExitCode.RAISED, words("call move_wine", winery.tooMuch));

        chapter(screen, "The cases", "Each starts from the same fixture. One finds a mistake.");
        step(call, copy, tour, ExitCode.FAILED, "test", "--quiet");

        chapter(screen, "The debugger", "A script of words stops where the wrong value is born.");
        debug(call, copy, tour);

        chapter(
                screen,
                "The trace",
                "Every statement that touches the ledger, and the way to it; no routine was edited.");
        step(
                call,
                copy,
                tour,
                ExitCode.WELL,
                words(
                        // What a server runs tells no tables.
                        winery == Winery.STANDARD
                                ? "trace move_wine --table movement"
                                : "trace move_wine",
                        winery.move));

        chapter(screen, "The profile", "Time and rows, line by line, and how rows were found.");
        step(call, copy, tour, ExitCode.WELL, words("profile settle_vintage", winery.settle));

        chapter(
                screen,
                "The correction",
                "The loop ran once too often: month goes from 0 up to and with months.");
        hint(screen, copy, winery);
        step(call, copy, tour, ExitCode.WELL, "test", "--quiet");

        screen.line(
                tour.well
                        ? screen.tone(Tone.GOOD, "The tour is over, and all is well.") + " It used:"
                        : screen.tone(Tone.BAD, "The tour did not go as it should.") + " It used:");
        for (String line : tour.used) {
            screen.line("  cantina " + line);
        }
        screen.line(
                "Type them yourself in demo/"
                        + winery.folder
                        + ", or start your own project: cantina new DIR");
        return tour.well ? ExitCode.WELL : ExitCode.FAILED;
    }

    private static void chapter(Screen screen, String title, String text) {
        screen.line(screen.tone(Tone.STRONG, title));
        screen.line(screen.tone(Tone.FAINT, text));
    }

    private static void step(
            Invocation call, Path project, Tour tour, int expected, String... words) {
        String shown = String.join(" ", words);
        tour.used.add(shown);
        Screen screen = call.screen();
        screen.line(screen.tone(Tone.NEW, "$ cantina " + shown));
        List<String> line = new ArrayList<>(List.of(words));
        line.add("--project");
        line.add(project.toString());
        if (call.has("plain")) {
            line.add("--plain");
        }
        int code = Main.run(line, screen, call.folder(), new Interrupts());
        screen.line();
        if (code != expected) {
            tour.well = false;
            screen.line("exit code " + code + " where " + expected + " was expected");
        }
    }

    private static void debug(Invocation call, Path project, Tour tour) throws ProjectException {
        String script = ProjectReader.source(project.resolve("month.words"), "month.words").text();
        InputStream before = System.in;
        System.setIn(new ByteArrayInputStream(script.getBytes(StandardCharsets.UTF_8)));
        try {
            Screen screen = call.screen();
            Screen pipe = new Screen(screen.out(), screen.err(), screen.hasColour(), false);
            String shown = "debug --case 'two months in a barrel of 200 litres' < month.words";
            tour.used.add(shown);
            screen.line(screen.tone(Tone.NEW, "$ cantina " + shown));
            List<String> line =
                    new ArrayList<>(
                            List.of(
                                    "debug",
                                    "--case",
                                    "two months in a barrel of 200 litres",
                                    "--project",
                                    project.toString()));
            if (call.has("plain")) {
                line.add("--plain");
            }
            tour.well &= Main.run(line, pipe, call.folder(), new Interrupts()) == ExitCode.FAILED;
            screen.line();
        } finally {
            System.setIn(before);
        }
    }

    private static String[] words(String first, List<String> arguments) {
        List<String> all = new ArrayList<>(List.of(first.split(" ")));
        all.addAll(arguments);
        return all.toArray(String[]::new);
    }

    private static void hint(Screen screen, Path project, Winery winery) throws ProjectException {
        Path file = project.resolve(winery.file);
        String text = ProjectReader.source(file, winery.file).text();
        try {
            Files.writeString(
                    file, text.replace(winery.mistake, winery.right), StandardCharsets.UTF_8);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        screen.line("  " + screen.tone(Tone.BAD, "- " + winery.mistake));
        screen.line("  " + screen.tone(Tone.GOOD, "+ " + winery.right));
    }

    /** Where the winery is: beside the program. */
    private static Path winery(String folder) throws ProjectException {
        String home = System.getenv("CANTINA_HOME");
        Path jar =
                Path.of(
                        java.net.URI.create(
                                DemoCommand.class
                                        .getProtectionDomain()
                                        .getCodeSource()
                                        .getLocation()
                                        .toString()));
        for (Path start : home == null ? List.of(jar) : List.of(Path.of(home), jar)) {
            for (Path at = start; at != null; at = at.getParent()) {
                Path winery = at.resolve("demo").resolve(folder);
                if (Files.isDirectory(winery)) {
                    return winery;
                }
            }
        }
        throw new ProjectException(
                "the demo's folder demo/" + folder + " is not beside the program");
    }

    private static void copyFolder(Path from, Path to) throws IOException {
        try (Stream<Path> all = Files.walk(from)) {
            for (Path path : all.sorted().toList()) {
                Path target = to.resolve(from.relativize(path).toString());
                if (Files.isDirectory(path)) {
                    Files.createDirectories(target);
                } else {
                    Files.copy(path, target);
                }
            }
        }
    }

    private static void remove(Path folder) {
        try (Stream<Path> all = Files.walk(folder)) {
            for (Path path : all.sorted(Comparator.reverseOrder()).toList()) {
                Files.delete(path);
            }
        } catch (IOException e) {
            // A temporary folder: the machine clears it in time.
            return;
        }
    }
}
