package dev.cantina.cli;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.apache.commons.cli.Option;

/** {@code manual DIR}: a page for man, of the program and of each command. */
final class ManualCommand implements Command {
    @Override
    public String name() {
        return "manual";
    }

    @Override
    public String arguments() {
        return "DIR";
    }

    @Override
    public String summary() {
        return "write a manual page for each command, for man to show";
    }

    @Override
    public String example() {
        return "cantina manual manual-pages";
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
        if (call.arguments().size() != 1) {
            throw new UsageException("manual takes one folder: cantina manual DIR");
        }
        Path folder = call.folder().resolve(call.arguments().get(0));
        Map<String, String> pages = pages();
        try {
            Files.createDirectories(folder);
            for (String name : pages.keySet()) {
                Path file = folder.resolve(name);
                if (Files.exists(file) && !Files.readString(file).startsWith(FIRST)) {
                    throw new UsageException(
                            file + " is there already, and was not made by this command");
                }
            }
            for (Map.Entry<String, String> page : pages.entrySet()) {
                Files.writeString(
                        folder.resolve(page.getKey()), page.getValue(), StandardCharsets.UTF_8);
            }
        } catch (IOException e) {
            throw new UsageException(call.arguments().get(0) + ": " + FileTrouble.writing(e));
        }
        if (!call.quiet()) {
            call.screen().line("wrote " + pages.size() + " pages into " + call.arguments().get(0));
        }
        return ExitCode.WELL;
    }

    private static final String FIRST = ".\\\" Made by cantina manual\n";

    private static Map<String, String> pages() {
        Map<String, String> pages = new LinkedHashMap<>();
        StringBuilder all = head("CANTINA");
        all.append(".SH NAME\ncantina \\- check, run, test and debug the routines of a database\n")
                .append(".SH SYNOPSIS\n.B cantina\n[\\-\\-project DIR] COMMAND \\&...\n")
                .append(".SH COMMANDS\n");
        for (Command command : Main.COMMANDS) {
            all.append(".TP\n.B ")
                    .append(escaped(command.name()))
                    .append('\n')
                    .append(escaped(command.summary()))
                    .append("; see\n.BR cantina\\-")
                    .append(escaped(command.name()))
                    .append(" (1)\n");
            pages.put("cantina-" + command.name() + ".1", page(command));
        }
        for (String topic : Topics.NAMES) {
            all.append(".SH ")
                    .append(topic.toUpperCase(Locale.ROOT))
                    .append("\n.nf\n")
                    .append(lines(Topics.text(topic).orElseThrow()))
                    .append(".fi\n");
        }
        pages.put("cantina.1", all.toString());
        return pages;
    }

    private static StringBuilder head(String name) {
        return new StringBuilder(FIRST)
                .append(".TH ")
                .append(name)
                .append(" 1 \"\" \"cantina ")
                .append(Main.VERSION)
                .append("\" \"\"\n");
    }

    private static String page(Command command) {
        StringBuilder text = head("CANTINA\\-" + command.name().toUpperCase(Locale.ROOT));
        text.append(".SH NAME\ncantina\\-")
                .append(escaped(command.name()))
                .append(" \\- ")
                .append(escaped(command.summary()))
                .append("\n.SH SYNOPSIS\n.B cantina ")
                .append(escaped(command.name()))
                .append('\n')
                .append(escaped(command.arguments()))
                .append("\n.SH OPTIONS\n");
        for (Option option : Main.options(command).getOptions()) {
            text.append(".TP\n.B \\-\\-")
                    .append(escaped(option.getLongOpt()))
                    .append(option.hasArg() ? " " + escaped(option.getArgName()) : "")
                    .append('\n')
                    .append(escaped(option.getDescription()))
                    .append('\n');
        }
        return text.append(".SH EXAMPLE\n.nf\n")
                .append(lines(command.example()))
                .append(".fi\n.SH SEE ALSO\n.BR cantina (1)\n")
                .toString();
    }

    private static String lines(String text) {
        StringBuilder lines = new StringBuilder();
        text.lines().forEach(l -> lines.append(escaped(l)).append('\n'));
        return lines.toString();
    }

    /** A line as it is: nothing in it is taken for a word of the page's language (groff_man(7)). */
    private static String escaped(String line) {
        String text = line.replace("\\", "\\e").replace("-", "\\-").replace("…", "\\&...");
        return text.startsWith(".") || text.startsWith("'") ? "\\&" + text : text;
    }
}
