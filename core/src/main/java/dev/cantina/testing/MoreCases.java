package dev.cantina.testing;

import dev.cantina.project.YamlNode;
import dev.cantina.syntax.Span;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.stream.Collectors;

/**
 * Cases with other arguments than those that somebody has thought of: the values that the cases of
 * a routine give its parameters, mixed, and the edges beside them. From the same cases come the
 * same.
 */
public final class MoreCases {
    private MoreCases() {}

    /**
     * Makes cases.
     *
     * @param cases those that are there
     * @param count how many at most of each routine that is called alone in one of them
     */
    public static List<TestCase> of(List<TestCase> cases, int count) {
        Map<String, List<TestCase>> byRoutine =
                cases.stream()
                        .filter(c -> c.calls().size() == 1 && c.skip().isEmpty())
                        .collect(
                                Collectors.groupingBy(
                                        TestCase::routine,
                                        LinkedHashMap::new,
                                        Collectors.toList()));
        List<TestCase> made = new ArrayList<>();
        byRoutine.forEach((routine, known) -> made.addAll(of(routine, known, count)));
        return made;
    }

    private static List<TestCase> of(String routine, List<TestCase> known, int count) {
        Map<String, List<YamlNode>> values = new LinkedHashMap<>();
        for (TestCase one : known) {
            one.calls().get(0).pass().forEach((name, value) -> add(values, name, value));
        }
        values.replaceAll((name, list) -> withEdges(list));
        Map<String, TestCase> made = new LinkedHashMap<>();
        Random random = new Random(routine.hashCode());
        for (int i = 0; i < count && !values.isEmpty(); i++) {
            TestCase base = known.get(random.nextInt(known.size()));
            Map<String, YamlNode> pass = new LinkedHashMap<>(base.calls().get(0).pass());
            pass.replaceAll(
                    (name, value) -> {
                        List<YamlNode> all = values.get(name);
                        return random.nextInt(3) == 0 ? value : all.get(random.nextInt(all.size()));
                    });
            TestCase more = with(base, pass);
            made.putIfAbsent(more.name(), more);
        }
        return new ArrayList<>(made.values());
    }

    private static void add(Map<String, List<YamlNode>> values, String name, YamlNode value) {
        values.computeIfAbsent(name, n -> new ArrayList<>()).add(value);
    }

    /** NULL, and what is next to nothing. */
    private static List<YamlNode> withEdges(List<YamlNode> list) {
        List<YamlNode> all = new ArrayList<>(list);
        Span place = list.get(0).span();
        all.add(new YamlNode.Scalar(place, null, "null"));
        boolean numbers =
                list.stream()
                        .anyMatch(
                                n ->
                                        n instanceof YamlNode.Scalar s
                                                && s.value() instanceof BigDecimal);
        boolean texts =
                list.stream()
                        .anyMatch(
                                n -> n instanceof YamlNode.Scalar s && s.value() instanceof String);
        for (String number : numbers ? List.of("0", "1", "-1", "0.5") : List.<String>of()) {
            all.add(new YamlNode.Scalar(place, new BigDecimal(number), number));
        }
        if (texts && !numbers) {
            all.add(new YamlNode.Scalar(place, "", ""));
        }
        return all;
    }

    private static TestCase with(TestCase base, Map<String, YamlNode> pass) {
        TestCase.Call call = base.calls().get(0);
        String shown =
                pass.entrySet().stream()
                        .map(
                                e ->
                                        e.getKey()
                                                + " "
                                                + (e.getValue() instanceof YamlNode.Scalar s
                                                        ? s.text()
                                                        : "…"))
                        .collect(Collectors.joining(", "));
        return new TestCase(
                base.place(),
                base.routine() + ": " + shown,
                base.fixture(),
                base.before(),
                List.of(call.passing(pass)),
                Optional.empty(),
                Optional.empty(),
                base.standIns(),
                Optional.empty(),
                base.as(),
                base.clock(),
                base.limits(),
                Optional.empty(),
                base.tags(),
                false,
                base.invariants(),
                Optional.empty());
    }
}
