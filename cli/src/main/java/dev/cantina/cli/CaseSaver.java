package dev.cantina.cli;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.drafting.SavedCase;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Session;
import dev.cantina.testing.CaseRunner;
import java.nio.file.Path;
import java.sql.SQLException;
import java.time.Clock;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.temporal.ChronoUnit;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Writes what was done by hand as a case. */
final class CaseSaver {
    private CaseSaver() {}

    /** The file that {@code --save-case} names, which must be a new one. */
    static Optional<Path> file(Invocation call, Project project) throws UsageException {
        Optional<Path> file = call.value("save-case").map(call.folder()::resolve);
        if (file.isPresent()) {
            if (call.value("on").isPresent()) {
                throw new UsageException(
                        "--save-case is for the fixture: a case does not run on a server's own rows");
            }
            DraftCommand.free(file.get(), project.shown(file.get()));
        }
        return file;
    }

    /** Writes one call, and what comes of it, into a new file. */
    static void save(
            Invocation call,
            Project project,
            Path file,
            RoutineSymbol routine,
            List<Optional<Object>> arguments)
            throws UsageException, ProjectException, SQLException {
        Map<String, Object> pass = new LinkedHashMap<>();
        for (int i = 0; i < arguments.size(); i++) {
            if (arguments.get(i).isPresent()) {
                Object value = arguments.get(i).get();
                pass.put(
                        routine.parameters().get(i).name().text(),
                        value == Session.NULL ? null : value);
            }
        }
        String name = routine.name() + " as it was called";
        String text =
                text(
                        call,
                        project,
                        new SavedCase(List.of(), List.of(new SavedCase.Call(routine.name(), pass))),
                        name);
        DraftCommand.write(file, project.shown(file), text);
        call.screen().note("wrote " + project.shown(file));
    }

    /** The text of a case file for what was done. */
    static String text(Invocation call, Project project, SavedCase saved, String name)
            throws UsageException, ProjectException, SQLException {
        Limits limits = call.limits(project);
        Clock clock = call.clock();
        LocalDateTime moment =
                call.value("clock").isPresent()
                        ? LocalDateTime.now(clock).truncatedTo(ChronoUnit.SECONDS)
                        : LocalDate.now(clock).atTime(9, 0);
        return saved.text(
                project,
                name,
                call.value("fixture"),
                call.value("clock").isPresent() || hasClock(project)
                        ? Optional.of(moment)
                        : Optional.empty(),
                () -> new CaseRunner(project, call.value("fixture"), limits, clock));
    }

    /**
     * Whether a time is worth saying: routines of PostgreSQL's own see one only where it is set.
     */
    private static boolean hasClock(Project project) {
        return project.own().filter(o -> o.dialect().equals("postgresql")).isEmpty();
    }
}
