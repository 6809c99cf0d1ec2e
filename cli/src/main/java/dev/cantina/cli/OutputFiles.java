package dev.cantina.cli;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.function.Predicate;

/**
 * The files that a command is told to write. One that already exists and that no such command has
 * made is left alone, unless it is said to be replaced; that is looked at before anything runs.
 */
final class OutputFiles {
    /** Says that whatever is there may be replaced. */
    static final String REPLACE = "replace";

    private static final int BEGINNING = 4096;

    /** What the beginning of a file looks like that a command has made, by its option. */
    private static final Map<String, Predicate<String>> MADE =
            Map.ofEntries(
                    made("ship to", text -> text.startsWith("-- Made by cantina ship")),
                    made("trace to", text -> text.startsWith("{\"event\":\"enter\"")),
                    made(
                            "profile save",
                            text -> text.startsWith("{") && text.contains("\"own_ms\"")),
                    made(
                            "profile flame",
                            text -> text.contains("<svg") && text.contains("cantina profile")),
                    made("map page", text -> text.contains("<svg") && text.contains("cantina map")),
                    made("faults page", OutputFiles::isPage),
                    made("explore page", OutputFiles::isPage),
                    made("mutants page", OutputFiles::isPage),
                    made("race page", OutputFiles::isPage),
                    made("report junit", text -> text.contains("<testsuites")),
                    made("report tap", text -> text.startsWith("TAP version")),
                    made("report lcov", text -> text.startsWith("TN:")),
                    made("report html", OutputFiles::isPage),
                    made("call save-args", text -> false),
                    made("debug record", text -> false));

    private static boolean isPage(String text) {
        return text.contains("name=\"generator\" content=\"Cantina\"");
    }

    private static Map.Entry<String, Predicate<String>> made(
            String option, Predicate<String> looks) {
        return Map.entry(option, looks);
    }

    private OutputFiles() {}

    /**
     * Looks at the files that a command line names.
     *
     * @throws UsageException where one is there that would be lost
     */
    static void admit(Command command, Invocation call) throws UsageException {
        if (call.has(REPLACE)) {
            return;
        }
        for (String option : List.of("to", "save", "flame", "page", "save-args", "record")) {
            String key = command.name() + " " + option;
            if (MADE.containsKey(key) && call.value(option).isPresent()) {
                admit(call, call.value(option).get(), MADE.get(key));
            }
        }
        List<String> reports =
                command.options().hasOption("report") ? call.values("report") : new ArrayList<>();
        for (String report : reports) {
            int sign = report.indexOf('=');
            String kind = sign < 0 ? "" : report.substring(0, sign).toLowerCase(Locale.ROOT);
            if (MADE.containsKey("report " + kind)) {
                admit(call, report.substring(sign + 1), MADE.get("report " + kind));
            }
        }
    }

    private static void admit(Invocation call, String name, Predicate<String> made)
            throws UsageException {
        Path file = call.folder().resolve(name);
        if (name.equals("-") || !Files.isRegularFile(file)) {
            return;
        }
        String text;
        try (InputStream in = Files.newInputStream(file)) {
            text = new String(in.readNBytes(BEGINNING), StandardCharsets.UTF_8);
        } catch (IOException e) {
            // What can't be read is no file of ours.
            text = "?";
        }
        if (!text.isEmpty() && !made.test(text)) {
            throw new UsageException(
                    name
                            + " already exists, and was not made by this command; name another file, or"
                            + " say --replace");
        }
    }
}
