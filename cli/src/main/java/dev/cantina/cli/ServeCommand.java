package dev.cantina.cli;

import dev.cantina.project.ProjectException;
import dev.cantina.serve.Wire;
import dev.cantina.serve.debug.DebugService;
import dev.cantina.serve.language.LanguageService;
import dev.cantina.testing.CaseResult;
import dev.cantina.workbench.DebugSession;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.PrintStream;
import java.net.ServerSocket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.List;
import java.util.function.Consumer;
import org.apache.commons.cli.Options;

/** {@code serve debug} and {@code serve language}: the engines for an editor. */
final class ServeCommand implements Command {
    private static final int MOST_PORT = 65_535;

    @Override
    public String name() {
        return "serve";
    }

    @Override
    public String arguments() {
        return "debug|language";
    }

    @Override
    public String summary() {
        return "answer an editor, by the Debug Adapter and the Language Server Protocol";
    }

    @Override
    public String example() {
        return "cantina serve debug --help";
    }

    @Override
    public Options options() {
        Options options = new Options();
        Main.option(
                options,
                "port",
                "N",
                "wait for one editor at a port of this machine, not on the standard streams; 0 for"
                        + " any");
        return options;
    }

    @Override
    public boolean hasJson() {
        return false;
    }

    @Override
    public List<String> words() {
        return List.of("debug", "language");
    }

    @Override
    public int run(Invocation call) throws UsageException, ProjectException {
        String what = call.arguments().size() == 1 ? call.arguments().get(0) : "";
        Path folder = call.value("project").map(call.folder()::resolve).orElse(call.folder());
        Consumer<Wire> service =
                switch (what) {
                    case "debug" -> wire -> DebugService.serve(wire, folder, ServeCommand::text);
                    case "language" -> LanguageService::serve;
                    default ->
                            throw new UsageException(
                                    "serve takes what to serve, debug or language: cantina serve"
                                            + " debug");
                };
        if (!call.has("port")) {
            try (Wire wire = Wire.standard()) {
                service.accept(wire);
            }
            return ExitCode.WELL;
        }
        try (ServerSocket socket = Wire.listening(port("port", call.value("port").orElseThrow()))) {
            call.screen().note("waiting for an editor at port " + socket.getLocalPort());
            try (Wire wire = Wire.accepted(socket)) {
                service.accept(wire);
            }
            return ExitCode.WELL;
        } catch (IOException e) {
            throw new ProjectException("the port can't be used: " + e.getMessage());
        }
    }

    /** The number of a port that an option gives. */
    static int port(String option, String said) throws UsageException {
        try {
            int port = Integer.parseInt(said);
            if (port >= 0 && port <= MOST_PORT) {
                return port;
            }
        } catch (NumberFormatException e) {
            // Said below.
        }
        throw new UsageException(
                "--" + option + " takes a number up to " + MOST_PORT + ": --" + option + " 4711");
    }

    /** What a run came to, as a terminal shows it. */
    private static String text(DebugSession.Ending ending) {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        PrintStream out = new PrintStream(bytes, false, StandardCharsets.UTF_8);
        Screen screen = new Screen(out, out, false, false);
        ending.outcome().ifPresent(o -> new OutcomeView(screen).showButMessages(o, false));
        if (ending.result().isPresent()) {
            CaseResult result = ending.result().get();
            new TestView(screen).show(List.of(result), result.elapsedMillis(), false);
        }
        out.flush();
        return bytes.toString(StandardCharsets.UTF_8);
    }
}
