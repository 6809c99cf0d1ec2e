package dev.cantina.testing;

import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.cantina.project.KeptFile;
import dev.cantina.project.Project;
import dev.cantina.testing.CaseResult.Verdict;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.OptionalDouble;

/**
 * What is kept of earlier runs, in {@code .cantina/cases.json}: of each case whether it passed, how
 * long it took, and what it depended on when it last passed. Where the file can't be written,
 * nothing is kept, and nothing else is lost.
 */
public final class SuiteMemory {
    private final KeptFile file;
    private final ObjectNode cases;

    private SuiteMemory(KeptFile file) {
        this.file = file;
        this.cases = file.read();
    }

    /** What is known of a project's cases; nothing where nothing was kept, or it can't be read. */
    public static SuiteMemory of(Project project) {
        return new SuiteMemory(new KeptFile(project, "cases.json"));
    }

    /** Whether the case did not pass when it was last run. */
    public boolean failed(TestCase testCase) {
        return !cases.path(testCase.id()).path("passed").asBoolean(true);
    }

    /** How long the case took when it was last run, in milliseconds. */
    public OptionalDouble millis(TestCase testCase) {
        double millis = cases.path(testCase.id()).path("ms").asDouble(-1);
        return millis < 0 ? OptionalDouble.empty() : OptionalDouble.of(millis);
    }

    /** Whether the case has passed with exactly what it depends on now. */
    public boolean isGreen(TestCase testCase, String fingerprint) {
        return cases.path(testCase.id()).path("green").asText("").equals(fingerprint);
    }

    /** Takes note of results; {@code fingerprints} by the identity of a case. */
    public void note(Collection<CaseResult> results, Map<String, String> fingerprints) {
        for (CaseResult result : results) {
            if (result.verdict() == Verdict.SKIPPED) {
                continue;
            }
            String id = result.testCase().id();
            ObjectNode one = cases.withObjectProperty(id);
            boolean passed = result.verdict() == Verdict.PASSED;
            one.put("passed", passed);
            one.put("ms", Math.round(result.elapsedMillis() * 1000) / 1000.0);
            if (passed && fingerprints.containsKey(id)) {
                one.put("green", fingerprints.get(id));
            } else if (!passed) {
                one.remove("green");
            }
        }
    }

    /** Writes what is known; a folder that can't be written to is passed over. */
    public void keep() {
        file.write(cases);
    }

    /**
     * One of several parts of a suite, which take about the same time by what is known.
     *
     * @param part from 1
     */
    public List<TestCase> share(List<TestCase> all, int part, int parts) {
        double known = 0;
        int count = 0;
        for (TestCase testCase : all) {
            if (millis(testCase).isPresent()) {
                known += millis(testCase).getAsDouble();
                count++;
            }
        }
        double usual = count == 0 ? 1 : known / count;
        List<TestCase> longest = new ArrayList<>(all);
        longest.sort(
                Comparator.comparingDouble((TestCase c) -> -millis(c).orElse(usual))
                        .thenComparing(TestCase::id));
        double[] load = new double[parts];
        List<TestCase> own = new ArrayList<>();
        for (TestCase testCase : longest) {
            int least = 0;
            for (int i = 1; i < parts; i++) {
                if (load[i] < load[least]) {
                    least = i;
                }
            }
            load[least] += Math.max(0.001, millis(testCase).orElse(usual));
            if (least == part - 1) {
                own.add(testCase);
            }
        }
        own.sort(Comparator.comparingInt(all::indexOf));
        return own;
    }
}
