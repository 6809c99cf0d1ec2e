package dev.cantina.laboratory;

import dev.cantina.drafting.SeenCases;
import dev.cantina.drafting.YamlText;
import dev.cantina.laboratory.MutantReport.Draft;
import dev.cantina.laboratory.MutantReport.Result;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** The calls that would notice mistakes as a file of cases, to be judged by a person. */
public final class MutantCases {
    private MutantCases() {}

    /**
     * Writes one; calls that notice several mistakes are one case.
     *
     * @param clock what the current time was in the runs
     */
    public static String of(
            MutantReport report, Optional<String> fixture, Optional<LocalDateTime> clock) {
        Map<String, List<Result>> calls = new LinkedHashMap<>();
        for (Result result : report.results()) {
            result.draft()
                    .ifPresent(
                            d ->
                                    calls.computeIfAbsent(
                                                    d.routine() + YamlText.of(d.arguments()),
                                                    k -> new ArrayList<>())
                                            .add(result));
        }
        StringBuilder text = new StringBuilder();
        text.append(
                "# Each case notices mistakes that no other does. What is seen: was seen of the routine\n"
                        + "# as it is: judge it, and write returns:, raises: or data: in its place.\n");
        fixture.ifPresent(f -> text.append("fixture: ").append(YamlText.text(f)).append('\n'));
        clock.ifPresent(c -> text.append("clock: ").append(SeenCases.moment(c)).append('\n'));
        text.append("cases:\n");
        int number = 1;
        for (List<Result> results : calls.values()) {
            Draft draft = results.get(0).draft().orElseThrow();
            for (Result result : results) {
                text.append("  # ")
                        .append(result.routine())
                        .append(' ')
                        .append(result.mutation().line())
                        .append(": ")
                        .append(result.mutation().kind().words())
                        .append('\n');
            }
            text.append("  - case: ")
                    .append(YamlText.text(draft.routine() + " " + number++))
                    .append('\n');
            text.append("    routine: ").append(YamlText.text(draft.routine())).append('\n');
            text.append("    pass: ").append(YamlText.of(draft.arguments())).append('\n');
            text.append("    seen:\n").append(SeenCases.seen(draft.seen())).append('\n');
        }
        return text.toString().stripTrailing() + "\n";
    }
}
