package dev.cantina.serve.debug;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.google.gson.Gson;
import com.google.gson.GsonBuilder;
import dev.cantina.project.Arguments;
import dev.cantina.project.JsonValues;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.runtime.Limits;
import dev.cantina.syntax.Nearest;
import dev.cantina.testing.CaseFiles;
import dev.cantina.testing.Selector;
import dev.cantina.testing.TestCase;
import dev.cantina.types.ConditionException;
import dev.cantina.workbench.DebugTarget;
import dev.cantina.workbench.RunSettings;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * What an editor says is to be run: {@code project}, one of {@code routine} (with {@code
 * arguments}, an object or a list of {@code NAME=VALUE}), {@code case} and {@code script}; {@code
 * on}, {@code fixture}, {@code clock}, {@code limits}, {@code stopAtStart}, {@code atDifference}.
 */
final class LaunchArguments {
    private static final Gson GSON = new GsonBuilder().serializeNulls().create();
    private static final List<String> KNOWN =
            List.of(
                    "project",
                    "routine",
                    "arguments",
                    "case",
                    "script",
                    "on",
                    "fixture",
                    "clock",
                    "limits",
                    "stopAtStart",
                    "atDifference");

    /** What the protocol and editors put there themselves. */
    private static final List<String> EDITORS = List.of("noDebug", "type", "request", "name");

    private final Map<String, Object> said;
    private final Path folder;

    /**
     * @param folder in which paths begin that are not absolute
     */
    LaunchArguments(Map<String, Object> said, Path folder) throws ProjectException {
        this.said = said;
        this.folder = folder;
        for (String name : said.keySet()) {
            boolean editors = EDITORS.contains(name) || name.startsWith("_") || !isOurs(name);
            if (!editors && !KNOWN.contains(name)) {
                throw new ProjectException(
                        "launch has no "
                                + name
                                + Nearest.to(name, KNOWN)
                                        .map(n -> "; did you mean " + n + "?")
                                        .orElse(""));
            }
        }
        long targets =
                List.of("routine", "case", "script").stream()
                        .filter(t -> text(t).isPresent())
                        .count();
        if (targets != 1) {
            throw new ProjectException(
                    "launch takes one of routine, case and script: \"routine\": \"move_wine\"");
        }
    }

    /** Whether a name could be one of ours mistyped; editors add others that are not to disturb. */
    private static boolean isOurs(String name) {
        return Nearest.to(name, KNOWN).isPresent();
    }

    private Optional<String> text(String name) {
        return Optional.ofNullable(said.get(name)).map(Object::toString).filter(t -> !t.isEmpty());
    }

    private boolean isTrue(String name) {
        return text(name).filter(t -> t.equals("true")).isPresent();
    }

    boolean stopsAtStart() {
        return isTrue("stopAtStart");
    }

    /** Whether it is to be run without any stop. */
    boolean isWithoutStops() {
        return isTrue("noDebug");
    }

    Project project() throws ProjectException {
        Optional<String> named = text("project");
        return named.isPresent()
                ? ProjectReader.read(path(named.get()))
                : ProjectReader.find(folder);
    }

    private Path path(String text) throws ProjectException {
        try {
            return folder.resolve(text);
        } catch (InvalidPathException e) {
            throw new ProjectException("'" + text + "' is no path");
        }
    }

    RunSettings settings(Project project) throws ProjectException {
        Limits limits = project.limits();
        if (said.get("limits") instanceof Map<?, ?> named) {
            for (Map.Entry<?, ?> one : named.entrySet()) {
                try {
                    limits = RunSettings.limit(limits, one.getKey() + "=" + one.getValue());
                } catch (IllegalArgumentException e) {
                    throw new ProjectException("limits: " + e.getMessage());
                }
            }
        } else if (said.get("limits") != null) {
            throw new ProjectException("limits is an object: \"limits\": {\"seconds\": 5}");
        }
        try {
            return new RunSettings(
                    text("clock").isPresent() ? project.withClock() : project,
                    text("on"),
                    text("fixture"),
                    limits,
                    RunSettings.clock(text("clock")));
        } catch (ConditionException e) {
            throw new ProjectException("clock: " + e.condition().message());
        }
    }

    DebugTarget target(Project project) throws ProjectException {
        if (text("case").isPresent()) {
            return new DebugTarget.Case(testCase(project), isTrue("atDifference"));
        }
        if (text("script").isPresent()) {
            Path file = path(text("script").get()).toAbsolutePath().normalize();
            return new DebugTarget.Script(
                    ProjectReader.source(file, SourcePaths.name(project, file)));
        }
        Map<String, Object> saved = Map.of();
        List<String> words = List.of();
        Object arguments = said.get("arguments");
        if (arguments instanceof List<?> list) {
            words = list.stream().map(String::valueOf).toList();
        } else if (arguments instanceof Map<?, ?> members) {
            try {
                saved = JsonValues.members(GSON.toJson(members));
            } catch (JsonProcessingException e) {
                throw new ProjectException("arguments: " + e.getOriginalMessage());
            }
        } else if (arguments != null) {
            throw new ProjectException(
                    "arguments is an object, or a list of \"NAME=VALUE\": \"arguments\":"
                            + " {\"vessel\": \"B1\"}");
        }
        return routine(text("routine").get(), words, saved);
    }

    private static DebugTarget routine(String name, List<String> words, Map<String, Object> saved) {
        List<String> names =
                words.isEmpty()
                        ? List.copyOf(saved.keySet())
                        : words.stream()
                                .filter(w -> w.indexOf('=') > 0)
                                .map(w -> w.substring(0, w.indexOf('=')).strip())
                                .toList();
        return new DebugTarget.Routine(
                name,
                names,
                (routine, workspace) -> {
                    try {
                        return Arguments.match(
                                routine, Arguments.read(routine, words, saved, workspace::ask));
                    } catch (Arguments.MisfitException e) {
                        throw new ProjectException(e.getMessage());
                    }
                });
    }

    private TestCase testCase(Project project) throws ProjectException {
        String wanted = text("case").orElseThrow();
        Selector selector = new Selector(List.of(wanted));
        CaseFiles.Found found = CaseFiles.read(project);
        for (TestCase one : found.cases()) {
            if (selector.selects(one)) {
                return one;
            }
        }
        throw new ProjectException(
                "no case fits "
                        + wanted
                        + "; a selector is a file, a routine, a tag or the name of a case"
                        + found.broken().stream()
                                .flatMap(b -> b.problem().stream())
                                .map(p -> "\n" + p.span().place() + ": " + p.message())
                                .collect(Collectors.joining()));
    }
}
