package dev.cantina.cli;

import dev.cantina.database.UnreachableException;
import dev.cantina.project.ProjectException;
import dev.cantina.runtime.Program;
import dev.cantina.syntax.Nearest;
import java.io.FileDescriptor;
import java.io.FileOutputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.apache.commons.cli.CommandLine;
import org.apache.commons.cli.DefaultParser;
import org.apache.commons.cli.Option;
import org.apache.commons.cli.Options;
import org.apache.commons.cli.ParseException;
import org.apache.commons.cli.UnrecognizedOptionException;

/** The program: finds the command, runs it, and ends with its exit code. */
public final class Main {
    static final List<Command> COMMANDS =
            List.of(
                    new NewCommand(),
                    new ImportCommand(),
                    new CheckCommand(),
                    new CallCommand(),
                    new RunCommand(),
                    new TestCommand(),
                    new ConsoleCommand(),
                    new DebugCommand(),
                    new FaultsCommand(),
                    new ExploreCommand(),
                    new MutantsCommand(),
                    new RaceCommand(),
                    new TraceCommand(),
                    new ProfileCommand(),
                    new ShipCommand(),
                    new AgreeCommand(),
                    new DraftCommand(),
                    new MapCommand(),
                    new FindCommand(),
                    new FormatCommand(),
                    new ServeCommand(),
                    new TrustCommand(),
                    new ServerCommand(),
                    new CompletionCommand(),
                    new ManualCommand(),
                    new DemoCommand());

    static final String VERSION = "0.1.0";

    /** The options of all commands that they mean something to: the value, and what it is for. */
    private static final Map<String, List<String>> COMMON = common();

    private static Map<String, List<String>> common() {
        Map<String, List<String>> all = new LinkedHashMap<>();
        all.put("project", List.of("DIR", "the project's folder (otherwise the one you are in)"));
        all.put("fixture", List.of("NAME", "the fixture to run on"));
        all.put("limit", List.of("NAME=N", "a limit: statements, seconds, depth or rows"));
        all.put("clock", List.of("TIMESTAMP", "what the current time is"));
        return all;
    }

    private Main() {}

    public static void main(String[] arguments) {
        closeEngine();
        boolean terminal = System.console() != null;
        boolean colour = terminal && System.getenv("NO_COLOR") == null;
        Screen screen =
                new Screen(
                        stream(FileDescriptor.out), stream(FileDescriptor.err), colour, terminal);
        Interrupts interrupts = new Interrupts().install();
        int code = run(List.of(arguments), screen, Path.of(""), interrupts);
        screen.out().flush();
        screen.err().flush();
        interrupts.finished();
        System.exit(code);
    }

    /** The embedded engine loads no class by name but Cantina's, and makes no objects of bytes. */
    private static void closeEngine() {
        System.setProperty("h2.allowedClasses", "dev.cantina.*");
        System.setProperty("h2.serializeJavaObject", "false");
    }

    private static PrintStream stream(FileDescriptor descriptor) {
        return new PrintStream(new FileOutputStream(descriptor), false, StandardCharsets.UTF_8);
    }

    /** Runs a command line in a folder. */
    static int run(List<String> arguments, Screen screen, Path folder, Interrupts interrupts) {
        List<String> words = new ArrayList<>(arguments);
        List<String> before = new ArrayList<>();
        // Options may stand before the command as well: --project DIR check
        while (!words.isEmpty() && words.get(0).startsWith("-")) {
            String option = words.remove(0);
            before.add(option);
            if (option.equals("--project") && !words.isEmpty()) {
                before.add(words.remove(0));
            }
        }
        boolean traceErrors = arguments.contains("--trace-errors");
        try {
            if (words.isEmpty() || words.get(0).equals("help")) {
                return overview(screen, words, before);
            }
            String name = words.remove(0);
            Command command = command(name);
            words.addAll(0, before);
            CommandLine line = parse(command, words);
            if (line.hasOption("help")) {
                Help.command(screen, command, options(command));
                return ExitCode.WELL;
            }
            Screen used = line.hasOption("plain") ? screen.plain() : screen;
            Invocation invocation = new Invocation(line, used, folder, interrupts);
            OutputFiles.admit(command, invocation);
            int code = command.run(invocation);
            invocation.notCome().ifPresent(n -> used.note("note: " + n));
            return code;
        } catch (UsageException e) {
            screen.note("cantina: " + e.getMessage());
            return ExitCode.USAGE;
        } catch (ProjectException e) {
            if (e.problems().isEmpty()) {
                screen.note("cantina: " + e.getMessage());
            }
            e.problems().forEach(p -> new ProblemView(screen).toError(p));
            return ExitCode.USAGE;
        } catch (UnreachableException e) {
            screen.note("cantina: " + e.getMessage());
            return ExitCode.DATABASE;
        } catch (SQLException e) {
            screen.note("cantina: the database: " + e.getMessage());
            return ExitCode.DATABASE;
        } catch (Program.UnsoundException e) {
            e.problems().forEach(p -> new ProblemView(screen).toError(p));
            screen.note("cantina: " + e.getMessage());
            return ExitCode.USAGE;
        } catch (RuntimeException | Error e) {
            for (Throwable cause = e.getCause(); cause != null; cause = cause.getCause()) {
                if (cause instanceof SQLException) {
                    screen.note("cantina: the database: " + cause.getMessage());
                    return ExitCode.DATABASE;
                }
            }
            screen.note(
                    "cantina: a defect of Cantina's own: "
                            + e
                            + (traceErrors
                                    ? ""
                                    : "\n  run it again with --trace-errors for the details"));
            if (traceErrors) {
                e.printStackTrace(screen.err());
            }
            return ExitCode.USAGE;
        }
    }

    private static int overview(Screen screen, List<String> words, List<String> before)
            throws UsageException {
        if (words.size() > 1) {
            Optional<String> topic = Topics.text(words.get(1));
            if (topic.isPresent()) {
                topic.get().lines().forEach(screen::line);
                return ExitCode.WELL;
            }
            Command command = command(words.get(1));
            Help.command(screen, command, options(command));
            return ExitCode.WELL;
        }
        if (before.contains("--version")) {
            screen.line("cantina " + VERSION);
            return ExitCode.WELL;
        }
        boolean asked = !words.isEmpty() || before.contains("--help");
        if (!asked && !before.isEmpty()) {
            throw new UsageException("no command; cantina --help shows them");
        }
        Help.overview(screen, COMMANDS);
        return asked ? ExitCode.WELL : ExitCode.USAGE;
    }

    static Command command(String name) throws UsageException {
        for (Command command : COMMANDS) {
            if (command.name().equals(name)) {
                return command;
            }
        }
        List<String> names = new ArrayList<>(COMMANDS.stream().map(Command::name).toList());
        throw new UsageException(
                "there is no command "
                        + name
                        + Nearest.to(name, names)
                                .map(n -> "; did you mean " + n + "?")
                                .orElse("; there are " + String.join(", ", names)));
    }

    static Options options(Command command) {
        Options options = new Options();
        command.options().getOptions().forEach(options::addOption);
        Set<String> common = command.common();
        COMMON.forEach(
                (name, said) -> {
                    if (common.contains(name)) {
                        option(options, name, said.get(0), said.get(1));
                    }
                });
        if (command.hasJson()) {
            option(options, "json", null, "one JSON object instead of text");
        }
        boolean writes =
                options.hasLongOption("to") && !command.name().equals("draft")
                        || List.of("save", "flame", "page", "save-args", "record", "report")
                                .stream()
                                .anyMatch(options::hasLongOption);
        if (writes) {
            option(
                    options,
                    OutputFiles.REPLACE,
                    null,
                    "write files even where others would be lost");
        }
        option(options, "plain", null, "no colour, no drawing");
        option(options, "quiet", null, "only what went wrong");
        option(options, "trace-errors", null, "show the details of a defect of Cantina's own");
        option(options, "help", null, "this text");
        return options;
    }

    static void option(Options options, String name, String value, String text) {
        Option.Builder builder = Option.builder().longOpt(name).desc(text);
        if (value != null) {
            builder.hasArg().argName(value);
        }
        options.addOption(builder.get());
    }

    private static CommandLine parse(Command command, List<String> words) throws UsageException {
        Options options = options(command);
        try {
            DefaultParser parser = DefaultParser.builder().setAllowPartialMatching(false).get();
            return parser.parse(options, words.toArray(String[]::new));
        } catch (UnrecognizedOptionException e) {
            List<String> known =
                    options.getOptions().stream().map(o -> "--" + o.getLongOpt()).toList();
            Optional<String> nearest = Nearest.to(e.getOption(), known);
            throw new UsageException(
                    command.name()
                            + " has no option "
                            + e.getOption()
                            + nearest.map(n -> "; did you mean " + n + "?")
                                    .orElse("; see cantina " + command.name() + " --help"));
        } catch (ParseException e) {
            throw new UsageException(
                    e.getMessage() + "; see cantina " + command.name() + " --help");
        }
    }

    /** Splits a line as a person would type it; for the demo, which shows what it runs. */
    static List<String> words(String line) {
        return new ArrayList<>(Arrays.asList(line.strip().split("\\s+")));
    }
}
