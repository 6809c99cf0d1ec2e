package dev.cantina.cli;

import dev.cantina.observe.Trace;
import dev.cantina.observe.TraceEvent;
import dev.cantina.project.ProjectException;
import dev.cantina.runtime.Outcome;
import java.io.BufferedWriter;
import java.io.IOException;
import java.io.OutputStreamWriter;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.sql.SQLException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Consumer;
import org.apache.commons.cli.Options;

/** {@code trace ROUTINE [NAME=VALUE…]}, {@code --case SELECTOR} and {@code --run FILE}. */
final class TraceCommand implements Command {
    @Override
    public String name() {
        return "trace";
    }

    @Override
    public String arguments() {
        return "ROUTINE [NAME=VALUE…]  or  --case SELECTOR  or  --run FILE";
    }

    @Override
    public String summary() {
        return "run it, and keep the journey: each statement, its time, rows and what it changed";
    }

    @Override
    public String example() {
        return "cantina --project demo/winery trace move_wine source=T1 target=C7 litres=120";
    }

    @Override
    public Options options() {
        Options options = WatchedRun.options();
        Main.option(options, "routine", "NAME", "only statements of this routine");
        Main.option(options, "table", "NAME", "only statements that read or change this table");
        Main.option(options, "at-least", "MS", "only statements that took so many milliseconds");
        Main.option(options, "to", "FILE", "write the trace as JSON Lines into a file");
        return options;
    }

    @Override
    public Set<String> common() {
        return OF_RUNS;
    }

    @Override
    public int run(Invocation call) throws UsageException, ProjectException, SQLException {
        try {
            if (call.value("to").isPresent()) {
                try (Writer writer =
                        Files.newBufferedWriter(call.folder().resolve(call.value("to").get()))) {
                    Outcome outcome = lines(call, writer);
                    return CallCommand.ended(call, outcome);
                }
            }
            if (call.json()) {
                Writer writer =
                        new BufferedWriter(
                                new OutputStreamWriter(
                                        call.screen().out(), StandardCharsets.UTF_8));
                Outcome outcome = lines(call, writer);
                writer.flush();
                return CallCommand.exitCode(outcome);
            }
            Consumer<TraceEvent> view = TraceFilter.of(call, new TraceView(call.screen()));
            Outcome outcome = WatchedRun.run(call, name(), List.of(new Trace(view)));
            if (!call.quiet()) {
                call.screen().line();
                call.screen().line(new OutcomeView(call.screen()).ending(outcome));
            }
            return CallCommand.exitCode(outcome);
        } catch (IOException | UncheckedIOException e) {
            throw new ProjectException(
                    "the trace can't be written to "
                            + call.value("to").orElse("the output")
                            + ": "
                            + FileTrouble.writing(e));
        }
    }

    /** The trace as JSON Lines, and the outcome as the last of them. */
    private Outcome lines(Invocation call, Writer writer)
            throws UsageException, ProjectException, SQLException {
        TraceJson json = new TraceJson(writer);
        Outcome outcome =
                WatchedRun.run(call, name(), List.of(new Trace(TraceFilter.of(call, json))));
        Map<String, Object> last = new LinkedHashMap<>();
        last.put("event", "outcome");
        last.putAll(OutcomeJson.of(outcome));
        json.line(last);
        return outcome;
    }
}
