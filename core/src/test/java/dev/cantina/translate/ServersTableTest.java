package dev.cantina.translate;

import static org.junit.jupiter.api.Assertions.assertEquals;

import dev.cantina.ConformanceTest;
import dev.cantina.Lab;
import dev.cantina.agree.MariaConformanceTest;
import dev.cantina.agree.PostgresConformanceTest;
import dev.cantina.translate.postgresql.PostgresTranslation;
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

    /** What became of a program on a server. */
    private enum Fate {
        EXACT,
        EMULATED,
        REFUSED
    }

    private static String table() throws Exception {
        Map<String, int[]> counts = new LinkedHashMap<>();
        Map<String, Map<String, Integer>> postgres = new LinkedHashMap<>();
        Map<String, Map<String, Integer>> maria = new LinkedHashMap<>();
        for (ConformanceTest.Section section : PostgresConformanceTest.sections().toList()) {
            int[] count = counts.computeIfAbsent(section.file(), f -> new int[7]);
            if (section.lines().stream().anyMatch(l -> l.matches("raises: UL.*"))) {
                count[6]++;
                continue;
            }
            try (Lab lab = ConformanceTest.lab(section)) {
                Translation here =
                        new PostgresTranslation(
                                        lab.program().catalog(),
                                        lab.program().binder(),
                                        Optional.empty())
                                .translate();
                String there = "(?s).*( refcursor|set_config\\().*";
                count[fate(here, there, section.file(), postgres).ordinal()]++;
                Translation other = MariaConformanceTest.translation(lab).translate();
                count[3 + fate(other, "(?s).*cantina_.*", section.file(), maria).ordinal()]++;
            }
        }
        StringBuilder table = new StringBuilder();
        table.append(
                "| conformance programs | PostgreSQL exact | emulated | refused |"
                        + " MariaDB exact | emulated | refused | only here |\n");
        table.append("|---|---|---|---|---|---|---|---|\n");
        int[] all = new int[7];
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
                .append(" |\n\n");
        reasons("PostgreSQL", postgres, table);
        reasons("MariaDB", maria, table);
        return table.toString();
    }

    /**
     * @param helped what a text has in it that emulates
     */
    private static Fate fate(
            Translation translation,
            String helped,
            String file,
            Map<String, Map<String, Integer>> reasons) {
        if (!translation.refused().isEmpty()) {
            reasons.computeIfAbsent(file, f -> new LinkedHashMap<>())
                    .merge(translation.refused().get(0).message(), 1, Integer::sum);
            return Fate.REFUSED;
        }
        boolean emulated =
                !translation.support().isEmpty()
                        || translation.objects().stream().anyMatch(o -> o.text().matches(helped));
        return emulated ? Fate.EMULATED : Fate.EXACT;
    }

    private static void reasons(
            String server, Map<String, Map<String, Integer>> reasons, StringBuilder table) {
        table.append("Refused on ")
                .append(server)
                .append(", with the reason that `ship` gives at the line:\n\n");
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
        table.append('\n');
    }
}
