package dev.cantina.testing;

import dev.cantina.programs.ProgramSettings;
import dev.cantina.project.ProjectException;
import dev.cantina.racing.Race;
import dev.cantina.racing.RaceCall;
import dev.cantina.racing.RaceReport;
import dev.cantina.runtime.Outcome;
import dev.cantina.types.Words;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.function.BooleanSupplier;
import java.util.stream.Collectors;

/** Runs a case whose calls are made at the same time. */
final class AtOnceRun {
    private AtOnceRun() {}

    /**
     * Makes its order, or all that matter.
     *
     * @param isOver whether no more orders are to be begun
     * @return what is other than with the calls one after the other
     */
    static List<Difference> run(
            TestCase testCase, ProgramSettings settings, CaseRunner runner, BooleanSupplier isOver)
            throws ProjectException, SQLException {
        AtOnce atOnce = testCase.atOnce().orElseThrow();
        List<RaceCall> calls = new ArrayList<>();
        for (TestCase.Call call : testCase.calls()) {
            calls.add(
                    new RaceCall(
                            call.routine(),
                            workspace -> {
                                var routine = CaseRunner.routine(workspace, call);
                                return new RaceCall.Found(
                                        routine, runner.arguments(workspace, call, routine));
                            }));
        }
        Race race = new Race(settings, calls, atOnce.level(), testCase.invariants(), isOver);
        if (!atOnce.order().isEmpty()) {
            return race.once(atOnce.order()).map(AtOnceRun::difference).stream().toList();
        }
        RaceReport report = race.run();
        if (report.isCutShort()) {
            throw new ProjectException(
                    "there was no time for all orders of "
                            + testCase.name()
                            + "; limits: { seconds: N } gives more, or order says one");
        }
        return report.findings().stream().map(AtOnceRun::difference).toList();
    }

    private static Difference difference(RaceReport.Finding finding) {
        String order =
                finding.run().order().stream()
                        .map(String::valueOf)
                        .collect(Collectors.joining(", "));
        StringBuilder text = new StringBuilder(finding.kind().words());
        finding.run().broken().forEach(name -> text.append(": ").append(name));
        for (int i = 0; i < finding.run().outcomes().size(); i++) {
            Outcome outcome = finding.run().outcomes().get(i);
            outcome.condition()
                    .ifPresent(
                            c ->
                                    text.append("; ")
                                            .append(outcome.routine())
                                            .append(" ends in ")
                                            .append(c.sqlstate()));
        }
        finding.differences()
                .forEach(
                        (table, rows) ->
                                rows.here().stream()
                                        .limit(2)
                                        .forEach(
                                                r ->
                                                        text.append("; ")
                                                                .append(table)
                                                                .append(": ")
                                                                .append(r)));
        return Difference.of(
                "at_once [" + order + "]",
                new Words("as one after the other"),
                new Words(text.toString()));
    }
}
