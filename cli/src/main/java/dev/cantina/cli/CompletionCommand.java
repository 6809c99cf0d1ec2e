package dev.cantina.cli;

import dev.cantina.syntax.Nearest;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.apache.commons.cli.Option;

/** {@code completion SHELL}: what a shell needs to complete command lines. */
final class CompletionCommand implements Command {
    private static final List<String> SHELLS = List.of("bash", "zsh", "fish");

    @Override
    public String name() {
        return "completion";
    }

    @Override
    public String arguments() {
        return "bash|zsh|fish";
    }

    @Override
    public String summary() {
        return "what a shell needs to complete commands and options";
    }

    @Override
    public String example() {
        return "cantina completion bash";
    }

    @Override
    public List<String> words() {
        return SHELLS;
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
    public int run(Invocation call) throws UsageException {
        String shell = call.arguments().size() == 1 ? call.arguments().get(0) : "";
        if (!SHELLS.contains(shell)) {
            throw new UsageException(
                    "completion takes bash, zsh or fish"
                            + Nearest.to(shell, SHELLS)
                                    .filter(n -> !shell.isEmpty())
                                    .map(n -> "; did you mean " + n + "?")
                                    .orElse(""));
        }
        String text =
                switch (shell) {
                    case "bash" -> bash();
                    case "zsh" -> zsh();
                    default -> fish();
                };
        text.lines().forEach(call.screen()::line);
        return ExitCode.WELL;
    }

    private static List<Option> options(Command command) {
        return List.copyOf(Main.options(command).getOptions());
    }

    private static String each(String between, Function<Command, String> of) {
        return Main.COMMANDS.stream().map(of).collect(Collectors.joining(between));
    }

    private static String names() {
        return each(" ", Command::name);
    }

    private static String bash() {
        StringBuilder text = new StringBuilder();
        text.append("# cantina in bash: . <(cantina completion bash)\n")
                .append("_cantina() {\n")
                .append("  local cur=${COMP_WORDS[COMP_CWORD]} command= word words= options=\n")
                .append("  for word in \"${COMP_WORDS[@]:1:COMP_CWORD-1}\"; do\n")
                .append("    case $word in\n      ")
                .append(each("|", Command::name))
                .append(") command=$word; break ;;\n    esac\n  done\n")
                .append("  case $command in\n")
                .append("    '') words='")
                .append(names())
                .append(" help' options='--project --version --help' ;;\n");
        for (Command command : Main.COMMANDS) {
            text.append("    ").append(command.name()).append(") ");
            if (!command.words().isEmpty()) {
                text.append("words='").append(String.join(" ", command.words())).append("' ");
            }
            text.append("options='")
                    .append(
                            options(command).stream()
                                    .map(o -> "--" + o.getLongOpt())
                                    .collect(Collectors.joining(" ")))
                    .append("' ;;\n");
        }
        return text.append("  esac\n")
                .append("  case $cur in\n")
                .append("    -*) COMPREPLY=($(compgen -W \"$options\" -- \"$cur\")) ;;\n")
                .append("    *) COMPREPLY=($(compgen -W \"$words\" -- \"$cur\")) ;;\n")
                .append("  esac\n}\n")
                .append("complete -o default -F _cantina cantina\n")
                .toString();
    }

    private static String zsh() {
        StringBuilder text = new StringBuilder();
        text.append("#compdef cantina\n")
                .append("# cantina in zsh: a file called _cantina in a folder of $fpath\n")
                .append("_cantina() {\n")
                .append("  local -a commands\n  commands=(\n");
        for (Command command : Main.COMMANDS) {
            text.append("    ")
                    .append(quoted(command.name() + ":" + command.summary().replace(":", "\\:")))
                    .append('\n');
        }
        text.append("  )\n")
                .append("  local at=${words[(I)(")
                .append(each("|", Command::name))
                .append(")]}\n")
                .append("  if (( at == 0 || at == CURRENT )); then\n")
                .append("    _describe command commands\n    return\n  fi\n")
                .append("  case ${words[at]} in\n");
        for (Command command : Main.COMMANDS) {
            text.append("    ").append(command.name()).append(")\n      _arguments");
            for (Option option : options(command)) {
                String said =
                        "--"
                                + option.getLongOpt()
                                + "["
                                + option.getDescription().replaceAll("[\\[\\]]", "")
                                + "]"
                                + (option.hasArg()
                                        ? ":" + option.getArgName().replace(":", "") + ":_files"
                                        : "");
                text.append(" \\\n        ").append(quoted(said));
            }
            text.append(" \\\n        ")
                    .append(
                            quoted(
                                    command.words().isEmpty()
                                            ? "*: :_files"
                                            : "*: :(" + String.join(" ", command.words()) + ")"))
                    .append(" ;;\n");
        }
        return text.append("  esac\n}\n_cantina \"$@\"\n").toString();
    }

    private static String fish() {
        List<String> lines = new ArrayList<>();
        lines.add("# cantina in fish: cantina completion fish | source");
        String all = names();
        for (Command command : Main.COMMANDS) {
            lines.add(
                    "complete -c cantina -n 'not __fish_seen_subcommand_from "
                            + all
                            + "' -f -a "
                            + command.name()
                            + " -d "
                            + quoted(command.summary()));
        }
        for (Command command : Main.COMMANDS) {
            String seen =
                    "complete -c cantina -n '__fish_seen_subcommand_from " + command.name() + "'";
            if (!command.words().isEmpty()) {
                lines.add(seen + " -f -a '" + String.join(" ", command.words()) + "'");
            }
            for (Option option : options(command)) {
                lines.add(
                        seen
                                + " -l "
                                + option.getLongOpt()
                                + (option.hasArg() ? " -r" : "")
                                + " -d "
                                + quoted(option.getDescription()));
            }
        }
        return String.join("\n", lines) + "\n";
    }

    private static String quoted(String text) {
        return "'" + text.replace("'", "'\\''") + "'";
    }
}
