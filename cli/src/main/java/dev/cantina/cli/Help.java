package dev.cantina.cli;

import java.util.List;
import org.apache.commons.cli.Option;
import org.apache.commons.cli.Options;

/** What can be typed. */
final class Help {
    private Help() {}

    static void overview(Screen screen, List<Command> commands) {
        screen.line(
                screen.tone(Screen.Tone.STRONG, "cantina")
                        + " checks, runs, tests and debugs the routines of a database.");
        screen.line();
        screen.line("  cantina [--project DIR] COMMAND …");
        screen.line();
        for (Command command : commands) {
            screen.line(
                    "  "
                            + screen.tone(Screen.Tone.STRONG, Screen.padded(command.name(), 12))
                            + command.summary());
        }
        screen.line();
        screen.line(
                "cantina COMMAND --help says more of one; cantina help TOPIC of "
                        + String.join(", ", Topics.NAMES)
                        + ".");
        screen.line("New here? cantina demo");
    }

    static void command(Screen screen, Command command, Options options) {
        screen.line(
                screen.tone(Screen.Tone.STRONG, "cantina " + command.name())
                        + (command.arguments().isEmpty() ? "" : " " + command.arguments()));
        screen.line("  " + command.summary() + ".");
        screen.line();
        int width =
                options.getOptions().stream().mapToInt(o -> written(o).length()).max().orElse(0);
        for (Option option : options.getOptions()) {
            screen.line(
                    "  "
                            + Screen.padded(written(option), Math.max(24, width + 2))
                            + option.getDescription());
        }
        screen.line();
        screen.line(
                command.example().contains("--project")
                        ? "For example, on the demo project:"
                        : "For example:");
        screen.line("  " + command.example());
    }

    private static String written(Option option) {
        return "--" + option.getLongOpt() + (option.hasArg() ? " " + option.getArgName() : "");
    }
}
