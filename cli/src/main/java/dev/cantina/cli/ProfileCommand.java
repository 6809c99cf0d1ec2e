package dev.cantina.cli;

import dev.cantina.observe.Profile;
import dev.cantina.project.ProjectException;
import dev.cantina.report.FlameGraph;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.Probe;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import org.apache.commons.cli.Options;

/** {@code profile ROUTINE [NAME=VALUE…]}, {@code --case SELECTOR} and {@code --run FILE}. */
final class ProfileCommand implements Command {
    @Override
    public String name() {
        return "profile";
    }

    @Override
    public String arguments() {
        return "ROUTINE [NAME=VALUE…]  or  --case SELECTOR  or  --run FILE";
    }

    @Override
    public String summary() {
        return "run it, and count: time, runs and rows a line, and how rows were found";
    }

    @Override
    public String example() {
        return "cantina --project demo/winery profile settle_vintage year=2031";
    }

    @Override
    public Options options() {
        Options options = WatchedRun.options();
        Main.option(options, "flame", "FILE", "write a flame graph as one SVG file");
        Main.option(options, "save", "FILE", "keep the profile in a JSON file");
        Main.option(options, "compare", "FILE", "beside a profile that was kept");
        options.addOption(null, "cold", false, "count the first run, with all that it has to load");
        return options;
    }

    @Override
    public Set<String> common() {
        return OF_RUNS;
    }

    @Override
    public int run(Invocation call) throws UsageException, ProjectException, SQLException {
        List<ProfileJson.Earlier> earlier =
                call.has("compare")
                        ? ProfileJson.read(call.folder().resolve(call.value("compare").get()))
                        : List.of();
        Profile profile = new Profile();
        // The first run reads classes and compiles routines, which is nobody's line.
        List<Probe> probes = call.has("cold") ? List.of(profile) : List.of(new Profile(), profile);
        Outcome outcome = WatchedRun.run(call, name(), probes);
        if (call.json()) {
            call.screen().line(Json.text(ProfileJson.of(profile, outcome)));
        } else {
            if (!call.quiet()) {
                new ProfileView(call.screen()).show(profile, earlier, call.has("compare"));
                call.screen().line();
            }
            outcome.condition()
                    .ifPresent(c -> new OutcomeView(call.screen()).condition(c, outcome.stack()));
            call.screen().line(ending(call, profile, outcome));
        }
        write(call, "save", Json.text(ProfileJson.of(profile, outcome)) + "\n");
        write(call, "flame", FlameGraph.svg(profile.flame(), outcome.routine()));
        return CallCommand.exitCode(outcome);
    }

    private static String ending(Invocation call, Profile profile, Outcome outcome) {
        return new OutcomeView(call.screen()).ending(outcome)
                + call.screen()
                        .tone(
                                Screen.Tone.FAINT,
                                String.format(
                                        Locale.ROOT,
                                        "; %.1f ms of it in statements, the rest compiled and"
                                                + " counted",
                                        profile.flame().total() / 1e6));
    }

    private static void write(Invocation call, String option, String text) throws ProjectException {
        if (call.value(option).isEmpty()) {
            return;
        }
        Path file = call.folder().resolve(call.value(option).get());
        try {
            Files.writeString(file, text);
        } catch (IOException e) {
            throw new ProjectException(
                    call.value(option).get() + " can't be written: " + FileTrouble.writing(e));
        }
        if (!call.quiet() && !call.json()) {
            call.screen().note("wrote " + call.value(option).get());
        }
    }
}
