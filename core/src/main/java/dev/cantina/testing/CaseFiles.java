package dev.cantina.testing;

import dev.cantina.project.Invariant;
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
import java.util.Collection;
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
            Set.of(
                    "routine",
                    "fixture",
                    "before",
                    "cases",
                    "tags",
                    "clock",
                    "limits",
                    "stand_in",
                    "as",
                    "invariants");
    private static final Set<String> CASE_KEYS =
            Set.of(
                    ("case routine fixture before pass calls each returns results raises says data "
                                    + "ask stand_in asked limits skip tags clock as seen invariants at_once")
                            .split(" "));
    private static final Set<String> CALL_KEYS =
            Set.of("routine pass returns results raises says data seen".split(" "));

    private static final List<String> NOT_AT_ONCE =
            List.of(
                    "before",
                    "returns",
                    "results",
                    "raises",
                    "says",
                    "data",
                    "ask",
                    "stand_in",
                    "asked",
                    "as",
                    "seen",
                    "each");

    /** What may be seen of a run, and is expected of it until a person has judged it. */
    private static final Set<String> SEEN_KEYS =
            Set.of("returns", "results", "raises", "says", "data");

    /** What was found: cases that can be run, and those that are broken before they begin. */
    public record Found(List<TestCase> cases, List<CaseResult> broken) {}

    private final List<TestCase> cases = new ArrayList<>();
    private final List<CaseResult> broken = new ArrayList<>();

    private final Project project;

    private CaseFiles(Project project) {
        this.project = project;
    }

    /**
     * All case files, in name order.
     *
     * @throws ProjectException where the folder can't be read
     */
    public static Found read(Project project) throws ProjectException {
        CaseFiles files = new CaseFiles(project);
        Path folder = project.root().resolve("cases");
        for (Path path : ProjectReader.files(folder, ".yaml", ".yml")) {
            files.file(path, project.shown(path));
        }
        return new Found(files.cases, files.broken);
    }

    /**
     * What holds after each run of some routines: the project's invariants, and those of the cases
     * that call one of them.
     *
     * @throws ProjectException where the folder can't be read
     */
    public static List<Invariant> invariants(Project project, Collection<String> routines)
            throws ProjectException {
        Map<String, Invariant> all = new LinkedHashMap<>();
        project.invariants().forEach(i -> all.put(i.name(), i));
        for (TestCase testCase : read(project).cases()) {
            boolean calls =
                    testCase.calls().stream()
                            .anyMatch(
                                    c -> routines.stream().anyMatch(c.routine()::equalsIgnoreCase));
            if (calls) {
                testCase.invariants().forEach(i -> all.putIfAbsent(i.name(), i));
            }
        }
        return List.copyOf(all.values());
    }

    /** The cases of one file, as its text stands now. */
    public static Found read(Project project, Source file) {
        CaseFiles files = new CaseFiles(project);
        files.file(file);
        return new Found(files.cases, files.broken);
    }

    private void file(Path path, String shown) {
        try {
            file(ProjectReader.source(path, shown));
        } catch (ProjectException e) {
            unread(shown, e);
        }
    }

    private void unread(String shown, ProjectException e) {
        Source nothing = new Source(shown, "");
        breaks(new YamlNode.Scalar(nothing.span(0, 0), null, ""), shown, shown, e);
    }

    private void file(Source file) {
        String shown = file.name();
        try {
            YamlNode.Mapping top = YamlReader.read(file).mapping("a case file", FILE_KEYS);
            if (top.get("cases").isEmpty()) {
                throw top.wrong("a case file has a list called cases");
            }
            if (top.get("cases").get().sequence("cases").items().isEmpty()) {
                throw top.get("cases").get().wrong("this list of cases is empty; add a case");
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
            unread(shown, e);
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
        TestCase stub = TestCase.stub(node.span(), name);
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
        if (mapping.get("each").isEmpty()) {
            cases.add(build(file, mapping, name, Map.of()));
            return;
        }
        for (EachRows.Row row : EachRows.read(mapping.get("each").get(), project)) {
            if (row instanceof EachRows.Row.Wrong wrong) {
                TestCase stub = TestCase.stub(node.span(), name + TestCase.ROW_MARK + "a row");
                broken.add(broken(stub, wrong.problem()));
                continue;
            }
            Map<String, YamlNode> own = new LinkedHashMap<>();
            YamlNode.Mapping varied = mapping;
            StringBuilder suffix = new StringBuilder();
            for (Map.Entry<String, YamlNode> value :
                    ((EachRows.Row.Values) row).fields().entrySet()) {
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
                names.add(rowName);
            }
            try {
                cases.add(build(file, varied, rowName, own));
            } catch (ProjectException e) {
                breaks(node, rowName, mapping.span().source().name(), e);
            }
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

    /** A case or call in which what was only seen counts like what was judged. */
    private static YamlNode.Mapping withSeen(YamlNode.Mapping mapping) throws ProjectException {
        if (mapping.get("seen").isEmpty()) {
            return mapping;
        }
        YamlNode.Mapping seen = mapping.get("seen").get().mapping("seen", SEEN_KEYS);
        for (String key : seen.fields().keySet()) {
            if (mapping.get(key).isPresent()) {
                throw mapping.get(key)
                        .get()
                        .wrong(key + " stands here and under seen; take one of them away");
            }
        }
        return YamlNode.with(mapping, seen.fields());
    }

    private static boolean isSeen(YamlNode.Mapping mapping) throws ProjectException {
        if (mapping.get("seen").isPresent()) {
            return true;
        }
        boolean any = false;
        if (mapping.get("calls").isPresent()) {
            for (YamlNode call : mapping.get("calls").get().sequence("calls").items()) {
                any |= call.get("seen").isPresent();
            }
        }
        return any;
    }

    private TestCase build(
            YamlNode.Mapping file, YamlNode.Mapping written, String name, Map<String, YamlNode> row)
            throws ProjectException {
        YamlNode.Mapping mapping = withSeen(written);
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
        Optional<YamlNode> standIns = mapping.get("stand_in");
        if (standIns.isPresent() && file.get("stand_in").isPresent()) {
            standIns =
                    Optional.of(
                            YamlNode.with(
                                    file.get("stand_in").get().mapping("stand_in"),
                                    standIns.get().mapping("stand_in").fields()));
        }
        boolean several = mapping.get("calls").isPresent();
        return new TestCase(
                mapping.span(),
                name,
                fixture.isPresent() ? Optional.of(fixture.get().text("fixture")) : Optional.empty(),
                before,
                calls(file, mapping, row),
                several ? mapping.get("data") : Optional.empty(),
                mapping.get("ask"),
                standIns.or(() -> file.get("stand_in")),
                mapping.get("asked"),
                mapping.get("as").or(() -> file.get("as")),
                clock(mapping.get("clock").or(() -> file.get("clock"))),
                mapping.get("limits").or(() -> file.get("limits")),
                mapping.get("skip").isPresent()
                        ? Optional.of(mapping.get("skip").get().text("skip"))
                        : Optional.empty(),
                tags,
                isSeen(written),
                invariants(file, mapping),
                atOnce(file, mapping));
    }

    /** What a case with calls at the same time can't say is not passed over. */
    private static Optional<AtOnce> atOnce(YamlNode.Mapping file, YamlNode.Mapping mapping)
            throws ProjectException {
        if (mapping.get("at_once").isEmpty()) {
            return Optional.empty();
        }
        List<YamlNode> calls =
                mapping.get("calls").isPresent()
                        ? mapping.get("calls").get().sequence("calls").items()
                        : List.of();
        List<YamlNode> parts = new ArrayList<>(calls);
        parts.add(file);
        parts.add(mapping);
        for (YamlNode part : parts) {
            for (String key : NOT_AT_ONCE) {
                if (part.get(key).isPresent()) {
                    throw part.get(key)
                            .get()
                            .wrong(
                                    key
                                            + " can't stand in a case with at_once: it passes where"
                                            + " all is as with the calls one after the other");
                }
            }
        }
        return Optional.of(AtOnce.read(mapping.get("at_once").get(), calls.size()));
    }

    /** The project's, those of the file, and the case's own. */
    private List<Invariant> invariants(YamlNode.Mapping file, YamlNode.Mapping mapping)
            throws ProjectException {
        List<Invariant> all = project.invariants();
        for (YamlNode.Mapping level : List.of(file, mapping)) {
            if (level.get("invariants").isPresent()) {
                all = Invariant.read(level.get("invariants").get(), all);
            }
        }
        return all;
    }

    private static List<TestCase.Call> calls(
            YamlNode.Mapping file, YamlNode.Mapping mapping, Map<String, YamlNode> row)
            throws ProjectException {
        if (mapping.get("calls").isEmpty()) {
            return List.of(call(file, mapping, mapping, "", row));
        }
        for (String key : List.of("returns", "results", "raises", "says")) {
            if (mapping.get(key).isPresent()) {
                throw mapping.get(key)
                        .get()
                        .wrong(key + " stands beside pass, in the call that it is of");
            }
        }
        List<TestCase.Call> calls = new ArrayList<>();
        for (YamlNode node : mapping.get("calls").get().sequence("calls").items()) {
            YamlNode.Mapping one = withSeen(node.mapping("a call", CALL_KEYS));
            calls.add(call(file, mapping, one, "calls[" + calls.size() + "].", row));
        }
        if (calls.isEmpty()) {
            throw mapping.get("calls").get().wrong("calls is empty; a case calls something");
        }
        return calls;
    }

    private static TestCase.Call call(
            YamlNode.Mapping file,
            YamlNode.Mapping mapping,
            YamlNode.Mapping call,
            String at,
            Map<String, YamlNode> row)
            throws ProjectException {
        Optional<YamlNode> routine =
                call.get("routine").or(() -> mapping.get("routine")).or(() -> file.get("routine"));
        if (routine.isEmpty()) {
            throw mapping.wrong("a case, or its file, names a routine: routine: NAME");
        }
        Map<String, YamlNode> pass = new LinkedHashMap<>();
        if (mapping.get("pass").isPresent()) {
            pass.putAll(mapping.get("pass").get().mapping("pass").fields());
        }
        if (call != mapping && call.get("pass").isPresent()) {
            pass.putAll(call.get("pass").get().mapping("pass").fields());
        }
        pass.putAll(row);
        return new TestCase.Call(
                call.span(),
                at,
                routine.get().text("routine"),
                pass,
                call.get("returns"),
                call.get("results"),
                call.get("raises"),
                call.get("says"),
                call.get("data"));
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
