package dev.cantina.cli;

import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.Session;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Source;
import dev.cantina.testing.CaseFiles;
import dev.cantina.testing.CaseResult;
import dev.cantina.testing.CaseRunner;
import dev.cantina.testing.Selector;
import dev.cantina.testing.TestCase;
import dev.cantina.workbench.RunPlace;
import dev.cantina.workbench.RunSettings;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import org.apache.commons.cli.Options;

/**
 * One run under a probe: of a routine, of a case ({@code --case}) or of a script ({@code --run}).
 */
final class WatchedRun {
    private WatchedRun() {}

    /** What says what to run. */
    static Options options() {
        Options options = CallCommand.failing(CallCommand.serving(CallCommand.argumentOptions()));
        Main.option(options, "case", "SELECTOR", "run a case: its data, its arguments");
        Main.option(options, "run", "FILE", "run a script");
        return options;
    }

    /** One run in a workspace. */
    private interface Work {
        Outcome run(Workspace workspace, Session session) throws ProjectException;
    }

    /**
     * Makes the run once for each probe, each time on the same data.
     *
     * @param command whose name a message gives
     * @return what the last came to
     * @throws ProjectException with the errors of a script that has some
     */
    static Outcome run(Invocation call, String command, List<Probe> probes)
            throws UsageException, ProjectException, SQLException {
        Project project = call.project();
        if (call.has("case")) {
            return testCase(call, project, probes);
        }
        if (call.has("run") && project.own().isPresent()) {
            Source text = RunCommand.source(call, project, call.value("run").get());
            Optional<ParsedFile> none = Optional.empty();
            try (RunPlace place =
                    new RunPlace(
                            call.settings(project),
                            none,
                            call.reached(none),
                            probes.get(0).detail())) {
                place.workspace();
                return repeated(
                        call, place, probes, (workspace, session) -> session.runServerScript(text));
            }
        }
        if (call.has("run")) {
            ParsedFile script =
                    Parser.parse(RunCommand.source(call, project, call.value("run").get()));
            Optional<ParsedFile> run = Optional.of(script);
            try (RunPlace place =
                    new RunPlace(
                            call.settings(project),
                            run,
                            call.reached(run),
                            probes.get(0).detail())) {
                return repeated(
                        call,
                        place,
                        probes,
                        (workspace, session) -> session.runScript(workspace.script(script)));
            }
        }
        if (call.arguments().isEmpty()) {
            throw new UsageException(
                    command
                            + " takes a routine, --case SELECTOR or --run FILE: cantina "
                            + command
                            + " ROUTINE [NAME=VALUE…]");
        }
        String name = call.arguments().get(0);
        List<String> names = CallCommand.names(call);
        Optional<ParsedFile> none = Optional.empty();
        try (RunPlace place =
                new RunPlace(
                        call.settings(project), none, call.reached(none), probes.get(0).detail())) {
            Workspace first = place.workspace();
            List<Optional<Object>> arguments =
                    CallCommand.arguments(call, first.routine(name, names), first);
            place.keep();
            return repeated(
                    call,
                    place,
                    probes,
                    (workspace, session) -> session.run(workspace.routine(name, names), arguments));
        }
    }

    private static Outcome repeated(Invocation call, RunPlace place, List<Probe> probes, Work work)
            throws UsageException, ProjectException, SQLException {
        RunSettings settings = call.settings(call.project());
        for (int i = 0; ; i++) {
            Workspace workspace = place.workspace();
            Session session = call.session(settings, workspace, Optional.of(probes.get(i)));
            try {
                Outcome outcome = work.run(workspace, session);
                boolean last = i == probes.size() - 1;
                if (last || outcome.kind() == Outcome.Kind.LIMITED) {
                    outcome.events();
                    return outcome;
                }
            } finally {
                session.close();
            }
            place.undo(workspace);
        }
    }

    private static Outcome testCase(Invocation call, Project project, List<Probe> probes)
            throws UsageException, ProjectException {
        TestCase testCase = found(call, project);
        try (CaseRunner runner = call.settings(project).cases()) {
            call.interrupts().during(runner::interrupt);
            CaseResult result = null;
            for (Probe probe : probes) {
                result = runner.run(testCase, call.settings(project).watched(Optional.of(probe)));
            }
            if (result.outcome().isEmpty() && result.problem().isPresent()) {
                throw new ProjectException(result.problem().get());
            }
            return result.outcome()
                    .orElseThrow(
                            () -> new ProjectException("the case is left out: " + testCase.name()));
        }
    }

    /** The case that a selector means; of several the first, and says so. */
    static TestCase found(Invocation call, Project project)
            throws UsageException, ProjectException {
        String wanted = call.value("case").orElseThrow();
        Selector selector = new Selector(List.of(wanted));
        List<TestCase> cases =
                CaseFiles.read(project).cases().stream().filter(selector::selects).toList();
        if (cases.isEmpty()) {
            throw new UsageException(
                    "no case fits "
                            + wanted
                            + "; a selector is a file, a routine, a tag or the name of a case, and"
                            + " cantina test --list shows them");
        }
        if (cases.size() > 1) {
            call.screen()
                    .note(cases.size() + " cases fit; this is the first: " + cases.get(0).name());
        }
        return cases.get(0);
    }
}
