package dev.cantina.testing;

import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.project.YamlNode;
import dev.cantina.project.YamlReader;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.types.ConditionException;
import dev.cantina.types.Conversion;
import dev.cantina.types.SqlType;
import java.nio.file.Path;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Reads the case files of a project. A file or case that is wrong is broken; the others are read.
 */
public final class CaseFiles {
    private static final Set<String> FILE_KEYS =
            Set.of("routine", "fixture", "before", "cases", "tags", "clock");
    private static final Set<String> CASE_KEYS =
            Set.of(
                    ("case routine fixture before pass each returns raises says data skip "
                                    + "tags clock")
                            .split(" "));

    /** What was found: cases that can be run, and those that are broken before they begin. */
    public record Found(List<TestCase> cases, List<CaseResult> broken) {}

    private final List<TestCase> cases = new ArrayList<>();
    private final List<CaseResult> broken = new ArrayList<>();

    private CaseFiles() {}

    /**
     * All case files, in name order.
     *
     * @throws ProjectException where the folder can't be read
     */
    public static Found read(Project project) throws ProjectException {
        CaseFiles files = new CaseFiles();
        Path folder = project.root().resolve("cases");
        for (Path path : ProjectReader.files(folder, ".yaml", ".yml")) {
            files.file(path, project.shown(path));
        }
        return new Found(files.cases, files.broken);
    }

    private void file(Path path, String shown) {
        try {
            YamlNode.Mapping top =
                    YamlReader.read(ProjectReader.source(path, shown))
                            .mapping("a case file", FILE_KEYS);
            if (top.get("cases").isEmpty()) {
                throw top.wrong("a case file has a list called cases");
            }
            Set<String> names = new LinkedHashSet<>();
            for (YamlNode node : top.get("cases").get().sequence("cases").items()) {
                try {
                    one(top, node, names);
                } catch (ProjectException e) {
                    breaks(node, nameOf(node), shown, e);
                }
            }
        } catch (ProjectException e) {
            Source nothing = new Source(shown, "");
            breaks(new YamlNode.Scalar(nothing.span(0, 0), null, ""), shown, shown, e);
        }
    }

    private static String nameOf(YamlNode node) {
        return node.get("case")
                .filter(n -> n instanceof YamlNode.Scalar)
                .map(n -> ((YamlNode.Scalar) n).text())
                .orElse("a case without a name");
    }

    private void breaks(YamlNode node, String name, String shown, ProjectException e) {
        Problem problem =
                e.problems().isEmpty()
                        ? Problem.error(node.span(), "case", e.getMessage())
                        : e.problems().get(0);
        TestCase stub =
                new TestCase(
                        node.span(),
                        name,
                        "",
                        Optional.empty(),
                        List.of(),
                        Map.of(),
                        Optional.empty(),
                        Optional.empty(),
                        Optional.empty(),
                        Optional.empty(),
                        Optional.empty(),
                        Optional.empty(),
                        List.of());
        broken.add(broken(stub, problem));
    }

    static CaseResult broken(TestCase testCase, Problem problem) {
        return new CaseResult(
                testCase,
                CaseResult.Verdict.BROKEN,
                0,
                List.of(),
                Optional.of(problem),
                Optional.empty());
    }

    private void one(YamlNode.Mapping file, YamlNode node, Set<String> names)
            throws ProjectException {
        YamlNode.Mapping mapping = node.mapping("a case", CASE_KEYS);
        if (mapping.get("case").isEmpty()) {
            throw mapping.wrong("a case has a name: case: what it shows");
        }
        String name = mapping.get("case").get().text("the name of a case");
        if (!names.add(name)) {
            throw mapping.get("case").get().wrong("two cases of this file are called " + name);
        }
        Optional<YamlNode> routine = mapping.get("routine").or(() -> file.get("routine"));
        if (routine.isEmpty()) {
            throw mapping.wrong("a case, or its file, names a routine: routine: NAME");
        }
        Map<String, YamlNode> pass = new LinkedHashMap<>();
        if (mapping.get("pass").isPresent()) {
            pass.putAll(mapping.get("pass").get().mapping("pass").fields());
        }
        if (mapping.get("each").isEmpty()) {
            cases.add(build(file, mapping, name, routine.get().text("routine"), pass));
            return;
        }
        for (YamlNode row : mapping.get("each").get().sequence("each").items()) {
            YamlNode.Mapping values = row.mapping("a row of each");
            Map<String, YamlNode> own = new LinkedHashMap<>(pass);
            YamlNode.Mapping varied = mapping;
            StringBuilder suffix = new StringBuilder();
            for (Map.Entry<String, YamlNode> value : values.fields().entrySet()) {
                if (value.getKey().contains(".") || CASE_KEYS.contains(value.getKey())) {
                    varied = at(varied, List.of(value.getKey().split("\\.")), value.getValue());
                } else {
                    own.put(value.getKey(), value.getValue());
                    suffix.append(suffix.length() == 0 ? "" : ", ")
                            .append(value.getKey())
                            .append(' ')
                            .append(shown(value.getValue()));
                }
            }
            String rowName = name + TestCase.ROW_MARK + suffix;
            if (!names.add(rowName)) {
                rowName += " (" + names.size() + ")";
            }
            cases.add(build(file, varied, rowName, routine.get().text("routine"), own));
        }
    }

    private static String shown(YamlNode node) {
        if (!(node instanceof YamlNode.Scalar scalar)) {
            return "…";
        }
        String text = scalar.value() == null ? "NULL" : scalar.text();
        return text.isBlank() ? "'" + text + "'" : text;
    }

    /** The mapping with the value at a path put in. */
    private static YamlNode.Mapping at(YamlNode.Mapping mapping, List<String> path, YamlNode value)
            throws ProjectException {
        String key = path.get(0);
        if (path.size() == 1) {
            return YamlNode.with(mapping, Map.of(key, value));
        }
        YamlNode.Mapping inner =
                mapping.get(key).isPresent()
                        ? mapping.get(key).get().mapping(key)
                        : new YamlNode.Mapping(value.span(), Map.of(), Map.of());
        return YamlNode.with(mapping, Map.of(key, at(inner, path.subList(1, path.size()), value)));
    }

    private static TestCase build(
            YamlNode.Mapping file,
            YamlNode.Mapping mapping,
            String name,
            String routine,
            Map<String, YamlNode> pass)
            throws ProjectException {
        List<YamlNode> before = new ArrayList<>();
        file.get("before").ifPresent(before::add);
        mapping.get("before").ifPresent(before::add);
        Optional<YamlNode> fixture = mapping.get("fixture").or(() -> file.get("fixture"));
        List<String> tags = new ArrayList<>();
        for (Optional<YamlNode> list : List.of(file.get("tags"), mapping.get("tags"))) {
            if (list.isPresent()) {
                for (YamlNode tag : list.get().sequence("tags").items()) {
                    tags.add(tag.text("a tag"));
                }
            }
        }
        return new TestCase(
                mapping.span(),
                name,
                routine,
                fixture.isPresent() ? Optional.of(fixture.get().text("fixture")) : Optional.empty(),
                before,
                pass,
                mapping.get("returns"),
                mapping.get("raises"),
                mapping.get("says"),
                mapping.get("data"),
                clock(mapping.get("clock").or(() -> file.get("clock"))),
                mapping.get("skip").isPresent()
                        ? Optional.of(mapping.get("skip").get().text("skip"))
                        : Optional.empty(),
                tags);
    }

    private static Optional<LocalDateTime> clock(Optional<YamlNode> node) throws ProjectException {
        if (node.isEmpty()) {
            return Optional.empty();
        }
        try {
            Object moment =
                    Conversion.cast(node.get().text("clock"), new SqlType.Timestamp(6, false));
            return Optional.of((LocalDateTime) moment);
        } catch (ConditionException e) {
            throw node.get().wrong("clock: " + e.condition().message());
        }
    }
}
