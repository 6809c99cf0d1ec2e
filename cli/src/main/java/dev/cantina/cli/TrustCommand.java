package dev.cantina.cli;

import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Trust;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.apache.commons.cli.Options;

/** {@code trust}: lets a project run the classes of its jars and go to its databases. */
final class TrustCommand implements Command {
    @Override
    public String name() {
        return "trust";
    }

    @Override
    public String arguments() {
        return "";
    }

    @Override
    public String summary() {
        return "let a project run its jars and go to its databases, after a look at them";
    }

    @Override
    public String example() {
        return "cantina --project demo/winery trust --show";
    }

    @Override
    public Options options() {
        Options options = new Options();
        Main.option(options, "show", null, "only show what reaches outside");
        Main.option(options, "forget", null, "trust none of it any longer");
        return options;
    }

    @Override
    public int run(Invocation call) throws UsageException, ProjectException {
        if (!call.arguments().isEmpty()) {
            throw new UsageException(
                    "trust takes no names: all that the project reaches is trusted, or none of it");
        }
        if (call.has("show") && call.has("forget")) {
            throw new UsageException("--show changes nothing, and --forget does; say one of them");
        }
        Project project = call.project();
        Trust trust = Trust.here();
        List<Trust.Reach> all = trust.of(project);
        if (call.has("forget")) {
            trust.forget(all);
        } else if (!call.has("show") && !all.isEmpty()) {
            trust.trust(all);
        }
        if (call.json()) {
            List<Map<String, Object>> list = new ArrayList<>();
            for (Trust.Reach reach : all) {
                Map<String, Object> one = new LinkedHashMap<>();
                one.put("kind", reach.kind());
                one.put("name", reach.name());
                one.put("does", reach.does());
                one.put("trusted", trust.isTrusted(reach));
                list.add(one);
            }
            call.screen().line(Json.text(Map.of("project", project.name(), "outside", list)));
            return ExitCode.WELL;
        }
        if (call.quiet()) {
            return ExitCode.WELL;
        }
        Screen screen = call.screen();
        for (Trust.Reach reach : all) {
            boolean trusted = trust.isTrusted(reach);
            screen.line(
                    "  "
                            + screen.tone(
                                    trusted ? Screen.Tone.GOOD : Screen.Tone.BAD,
                                    String.format("%-12s", trusted ? "trusted" : "not trusted"))
                            + String.format("%-9s ", reach.kind())
                            + screen.tone(Screen.Tone.STRONG, reach.name())
                            + "  "
                            + reach.does());
        }
        screen.line(
                all.isEmpty()
                        ? project.name() + " reaches nothing outside its own tables"
                        : "what is changed of these is asked for again");
        return ExitCode.WELL;
    }
}
