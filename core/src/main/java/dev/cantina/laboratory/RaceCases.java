package dev.cantina.laboratory;

import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.drafting.SeenCases;
import dev.cantina.drafting.YamlText;
import dev.cantina.racing.RaceCall;
import dev.cantina.racing.RaceReport;
import dev.cantina.racing.RaceReport.Finding;
import java.time.LocalDateTime;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** What racing calls has found as a file of cases, which fail until it is mended. */
public final class RaceCases {
    private RaceCases() {}

    /**
     * Writes one.
     *
     * @param clock what the current time was
     */
    public static String of(
            List<RaceReport> reports, Optional<String> fixture, Optional<LocalDateTime> clock) {
        StringBuilder text = new StringBuilder();
        text.append(
                "# Calls at the same time, in an order that comes to something else than one after the\n"
                        + "# other. Each case fails until that is mended; without order: every order is made.\n");
        fixture.ifPresent(f -> text.append("fixture: ").append(YamlText.text(f)).append('\n'));
        clock.ifPresent(c -> text.append("clock: ").append(SeenCases.moment(c)).append('\n'));
        text.append("cases:\n");
        Set<String> names = new HashSet<>();
        for (RaceReport report : reports) {
            for (Finding finding : report.findings()) {
                String name = finding.kind().words() + ", " + report.level();
                for (int i = 2; !names.add(name); i++) {
                    name = finding.kind().words() + ", " + report.level() + " (" + i + ")";
                }
                text.append("  - case: ").append(YamlText.text(name)).append('\n');
                text.append("    calls:\n");
                for (RaceCall.Found call : finding.run().calls()) {
                    text.append("      - { routine: ")
                            .append(YamlText.text(call.routine().name()))
                            .append(", pass: ")
                            .append(YamlText.of(passed(call)))
                            .append(" }\n");
                }
                text.append("    at_once: { order: [")
                        .append(
                                finding.run().order().stream()
                                        .map(String::valueOf)
                                        .collect(Collectors.joining(", ")))
                        .append("], isolation: ")
                        .append(report.level())
                        .append(" }\n\n");
            }
        }
        return text.toString().stripTrailing() + "\n";
    }

    private static Map<String, Object> passed(RaceCall.Found call) {
        Map<String, Object> passed = new LinkedHashMap<>();
        List<ParameterSymbol> parameters = call.routine().parameters();
        for (int i = 0; i < parameters.size() && i < call.arguments().size(); i++) {
            if (parameters.get(i).mode().isInput() && call.arguments().get(i).isPresent()) {
                passed.put(parameters.get(i).name().text(), call.arguments().get(i).get());
            }
        }
        return passed;
    }
}
