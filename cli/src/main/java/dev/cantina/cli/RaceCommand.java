package dev.cantina.cli;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.laboratory.RaceCases;
import dev.cantina.project.Arguments;
import dev.cantina.project.Invariant;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.racing.IsolationLevel;
import dev.cantina.racing.Race;
import dev.cantina.racing.RaceCall;
import dev.cantina.racing.RaceReport;
import dev.cantina.testing.CaseFiles;
import dev.cantina.workbench.RunSettings;
import java.nio.file.Path;
import java.sql.SQLException;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.atomic.AtomicBoolean;
import org.apache.commons.cli.Options;

/** {@code race CALL…}: calls at the same time, in every order of their statements that matters. */
final class RaceCommand implements Command {
    private static final double SECONDS = 60;

    @Override
    public String name() {
        return "race";
    }

    @Override
    public String arguments() {
        return "'ROUTINE NAME=VALUE…'…";
    }

    @Override
    public String summary() {
        return "make calls at the same time, in every order of their statements that matters";
    }

    @Override
    public String example() {
        return "cantina --project demo/winery race move_wine source=T1 target=C7 litres=50"
                + " --isolation read_committed";
    }

    @Override
    public Options options() {
        Options options = new Options();
        Main.option(
                options,
                "on",
                "DATABASE",
                "on this server, in a schema of its own, with the fixture");
        Main.option(
                options,
                "isolation",
                "LEVEL",
                "at this level; all four, one after the other, if not said");
        Main.option(options, "within", "SECONDS", "begin no more after so long; 60 if not said");
        Main.option(options, "to", "FILE", "write what was found as cases into a new file");
        LabPages.option(options);
        return options;
    }

    @Override
    public Set<String> common() {
        return OF_RUNS;
    }

    @Override
    public int run(Invocation call) throws UsageException, ProjectException, SQLException {
        Project project = call.project();
        if (project.own().isPresent()) {
            throw new UsageException(
                    "race is for routines of the standard language: where a server runs its own,"
                            + " nothing can stand between their statements");
        }
        List<RaceCall> calls = calls(call.arguments());
        Optional<Path> file = call.value("to").map(call.folder()::resolve);
        if (file.isPresent()) {
            DraftCommand.free(file.get(), project.shown(file.get()), "");
        }
        List<IsolationLevel> levels = levels(call);
        RunSettings settings = call.settings(project).withClockStopped();
        AtomicBoolean calledOff = new AtomicBoolean();
        call.interrupts().during(() -> calledOff.set(true));
        long deadline = System.nanoTime() + (long) (call.within(SECONDS) * 1e9);
        List<Invariant> invariants =
                CaseFiles.invariants(
                        project, calls.stream().map(c -> c.text().split(" ")[0]).toList());
        List<RaceReport> reports = new ArrayList<>();
        for (int i = 0; i < levels.size(); i++) {
            // Each level has its share of what is left.
            long now = System.nanoTime();
            long until = now + (deadline - now) / (levels.size() - i);
            reports.add(
                    new Race(
                                    settings.program(),
                                    calls,
                                    levels.get(i),
                                    invariants,
                                    () -> calledOff.get() || System.nanoTime() > until)
                            .run());
        }
        RaceView view = new RaceView(call.screen(), calls, reports);
        if (call.json()) {
            call.screen().line(Json.text(view.json()));
        } else {
            view.show();
        }
        LabPages.write(call, view::page);
        if (file.isPresent() && reports.stream().anyMatch(r -> !r.findings().isEmpty())) {
            LabPages.cases(
                    call,
                    project,
                    file.get(),
                    RaceCases.of(
                            reports,
                            call.value("fixture"),
                            call.value("clock").map(c -> LocalDateTime.now(settings.clock()))));
        }
        return reports.stream().allMatch(r -> r.findings().isEmpty())
                ? ExitCode.WELL
                : ExitCode.FAILED;
    }

    private static List<IsolationLevel> levels(Invocation call) throws UsageException {
        Optional<String> said = call.value("isolation");
        if (said.isEmpty()) {
            return IsolationLevel.all();
        }
        Optional<IsolationLevel> level = IsolationLevel.of(said.get());
        if (level.isEmpty()) {
            throw new UsageException(
                    "--isolation takes READ UNCOMMITTED, READ COMMITTED, REPEATABLE READ or"
                            + " SERIALIZABLE, not "
                            + said.get());
        }
        return List.of(level.get());
    }

    /** A call by itself is made twice at the same time. */
    private static List<RaceCall> calls(List<String> said) throws UsageException {
        if (said.isEmpty()) {
            throw new UsageException(
                    "race takes calls, each as one word of the command line: cantina race"
                            + " 'ROUTINE NAME=VALUE' 'ROUTINE NAME=VALUE'; one alone is made twice");
        }
        List<List<String>> all = new ArrayList<>();
        boolean oneCall = said.stream().skip(1).allMatch(RaceCommand::isArgument);
        if (oneCall && said.size() > 1) {
            all.add(said);
        } else {
            for (String one : said) {
                if (isArgument(one)) {
                    throw new UsageException(
                            one
                                    + " is no call: a call and its arguments are one word of the"
                                    + " command line, in quotes");
                }
                all.add(words(one));
            }
        }
        if (all.size() == 1) {
            all.add(all.get(0));
        }
        if (all.size() > 4) {
            throw new UsageException("race makes at most four calls at the same time");
        }
        List<RaceCall> calls = new ArrayList<>();
        for (List<String> words : all) {
            if (words.isEmpty()) {
                throw new UsageException("one of the calls is empty");
            }
            calls.add(call(words));
        }
        return calls;
    }

    private static boolean isArgument(String word) {
        int sign = word.indexOf('=');
        int blank = word.indexOf(' ');
        return sign > 0 && (blank < 0 || sign < blank);
    }

    private static RaceCall call(List<String> words) {
        List<String> given = words.subList(1, words.size());
        List<String> names =
                given.stream()
                        .filter(w -> w.indexOf('=') > 0)
                        .map(w -> w.substring(0, w.indexOf('=')).strip())
                        .toList();
        return new RaceCall(
                String.join(" ", words),
                workspace -> {
                    RoutineSymbol routine = workspace.routine(words.get(0), names);
                    try {
                        Map<String, Object> values =
                                Arguments.read(routine, given, Map.of(), workspace::ask);
                        return new RaceCall.Found(routine, Arguments.match(routine, values));
                    } catch (Arguments.MisfitException e) {
                        throw new ProjectException(e.getMessage());
                    }
                });
    }

    /** Words with blanks between them; blanks in quotes are part of a word. */
    private static List<String> words(String text) throws UsageException {
        List<String> words = new ArrayList<>();
        StringBuilder word = new StringBuilder();
        boolean quoted = false;
        boolean any = false;
        for (char c : text.toCharArray()) {
            if (c == '\'') {
                quoted = !quoted;
                any = true;
            } else if (c == ' ' && !quoted) {
                if (any) {
                    words.add(word.toString());
                    word.setLength(0);
                    any = false;
                }
            } else {
                word.append(c);
                any = true;
            }
        }
        if (quoted) {
            throw new UsageException("a quote is not closed in: " + text);
        }
        if (any) {
            words.add(word.toString());
        }
        return words;
    }
}
