package dev.cantina.laboratory;

import dev.cantina.drafting.SeenCases;
import dev.cantina.drafting.SeenOutcome;
import dev.cantina.drafting.YamlText;
import java.time.LocalDateTime;
import java.util.HashSet;
import java.util.Optional;
import java.util.Set;

/** Findings as a file of cases; each fails until the routine is mended. */
public final class FoundCases {
    private FoundCases() {}

    /**
     * Writes one.
     *
     * @param clock what the current time was in the runs
     */
    public static String of(
            Explorer.Report report, Optional<String> fixture, Optional<LocalDateTime> clock) {
        StringBuilder text = new StringBuilder();
        text.append(
                "# Found by trying arguments. Each case fails until the routine is mended; where it does\n"
                        + "# what it should, say so in the case: raises: { sqlstate: \"…\" }.\n");
        text.append(SeenCases.head(report.routine(), fixture, clock));
        text.append("cases:\n");
        Set<String> names = new HashSet<>();
        for (Explorer.Finding finding : report.findings()) {
            String name = SeenCases.others(finding.run(), report.base());
            for (int i = 2; !names.add(name); i++) {
                name = SeenCases.others(finding.run(), report.base()) + " (" + i + ")";
            }
            text.append("  # ").append(finding.what().replaceAll("\\s+", " ")).append('\n');
            text.append("  - case: ").append(YamlText.text(name)).append('\n');
            text.append("    pass: ").append(YamlText.of(finding.run().arguments())).append('\n');
            if (finding.kind() == Explorer.Kind.CHANGES) {
                Explorer.later(clock)
                        .ifPresent(c -> text.append("    clock: " + SeenCases.moment(c) + "\n"));
                text.append("    returns: ")
                        .append(YamlText.of(finding.run().outcome().returned()))
                        .append('\n');
            } else if (finding.kind() == Explorer.Kind.DISAGREES) {
                text.append("    seen:\n")
                        .append(SeenCases.seen(SeenOutcome.of(finding.run().outcome())));
            }
            text.append('\n');
        }
        return text.toString().stripTrailing() + "\n";
    }
}
