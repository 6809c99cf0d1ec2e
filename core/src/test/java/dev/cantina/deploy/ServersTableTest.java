package dev.cantina.deploy;

import static org.junit.jupiter.api.Assertions.assertEquals;

import dev.cantina.ConformanceTest;
import dev.cantina.Lab;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;

/**
 * The table of docs/servers.md is what the conformance programs come to, and nobody's opinion;
 * {@code -Dcantina.write=true} writes it anew.
 */
class ServersTableTest {
    private static final Path PAGE = Path.of("../docs/servers.md");
    private static final String BEGIN = "<!-- made by ServersTableTest -->\n";
    private static final String END = "<!-- end -->";

    @Test
    void theTableOfTheDocsIsOfToday() throws Exception {
        String page = Files.readString(PAGE);
        int from = page.indexOf(BEGIN) + BEGIN.length();
        int to = page.indexOf(END);
        String table = table();
        if (Boolean.getBoolean("cantina.write")) {
            Files.writeString(PAGE, page.substring(0, from) + table + page.substring(to));
            return;
        }
        assertEquals(table, page.substring(from, to));
    }

    private static String table() throws Exception {
        Map<String, int[]> counts = new LinkedHashMap<>();
        Map<String, Map<String, Integer>> reasons = new LinkedHashMap<>();
        for (ConformanceTest.Section section : PostgresConformanceTest.sections().toList()) {
            int[] count = counts.computeIfAbsent(section.file(), f -> new int[4]);
            if (section.lines().stream().anyMatch(l -> l.matches("raises: UL.*"))) {
                count[3]++;
                continue;
            }
            try (Lab lab = ConformanceTest.lab(section)) {
                Translation translation =
                        new PostgresTranslation(
                                        lab.program().catalog(),
                                        lab.program().binder(),
                                        Optional.empty())
                                .translate();
                if (!translation.refused().isEmpty()) {
                    count[2]++;
                    reasons.computeIfAbsent(section.file(), f -> new LinkedHashMap<>())
                            .merge(translation.refused().get(0).message(), 1, Integer::sum);
                } else {
                    boolean helped =
                            !translation.support().isEmpty()
                                    || translation.objects().stream()
                                            .anyMatch(
                                                    o ->
                                                            o.text().contains("set_config(")
                                                                    || o.text()
                                                                            .contains(
                                                                                    " refcursor"));
                    count[helped ? 1 : 0]++;
                }
            }
        }
        StringBuilder table = new StringBuilder();
        table.append("| conformance programs | exact | emulated | refused | only here |\n");
        table.append("|---|---|---|---|---|\n");
        int[] all = new int[4];
        counts.forEach(
                (file, count) -> {
                    table.append("| ").append(file);
                    for (int i = 0; i < count.length; i++) {
                        all[i] += count[i];
                        table.append(" | ").append(count[i] == 0 ? "" : count[i]);
                    }
                    table.append(" |\n");
                });
        table.append("| **all** | ")
                .append(
                        java.util.Arrays.stream(all)
                                .mapToObj(String::valueOf)
                                .collect(Collectors.joining(" | ")))
                .append(" |\n\nRefused, with the reason that `ship` gives at the line:\n\n");
        reasons.forEach(
                (file, list) ->
                        list.forEach(
                                (reason, times) ->
                                        table.append("- ")
                                                .append(file)
                                                .append(": ")
                                                .append(reason)
                                                .append(
                                                        times > 1
                                                                ? " (" + times + " programs)"
                                                                : "")
                                                .append('\n')));
        return table.toString();
    }
}
