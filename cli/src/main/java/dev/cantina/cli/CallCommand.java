package dev.cantina.cli;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.project.Arguments;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.Session;
import java.sql.SQLException;
import java.time.Clock;
import java.util.List;
import java.util.Optional;

/** {@code call ROUTINE [NAME=VALUE…]}. */
final class CallCommand implements Command {
    @Override
    public String name() {
        return "call";
    }

    @Override
    public String arguments() {
        return "ROUTINE [NAME=VALUE…]";
    }

    @Override
    public String summary() {
        return "run one routine on the fixture: its results, its messages, every row it changed";
    }

    @Override
    public String example() {
        return "cantina --project demo/winery call move_wine source=T1 target=C7 litres=120";
    }

    @Override
    public int run(Invocation call) throws UsageException, ProjectException {
        if (call.arguments().isEmpty()) {
            throw new UsageException(
                    "call takes the name of a routine: cantina call ROUTINE [NAME=VALUE…]");
        }
        Project project = call.project();
        try (Workspace workspace = Workspace.open(project, Optional.of(call.fixture(project)))) {
            RoutineSymbol routine = workspace.routine(call.arguments().get(0));
            List<Optional<Object>> arguments = arguments(call, routine);
            Session session =
                    new Session(
                            workspace.program(),
                            workspace.database(),
                            call.limits(project),
                            Clock.systemDefaultZone(),
                            Optional.empty());
            call.interrupts().during(session::interrupt);
            try {
                Outcome outcome = session.run(routine, arguments);
                if (call.json()) {
                    call.screen().line(Json.text(OutcomeJson.of(outcome)));
                } else {
                    new OutcomeView(call.screen()).show(outcome, call.quiet());
                }
                return exitCode(outcome);
            } finally {
                session.close();
            }
        } catch (SQLException e) {
            call.screen().note("cantina: the database: " + e.getMessage());
            return ExitCode.DATABASE;
        }
    }

    static List<Optional<Object>> arguments(Invocation call, RoutineSymbol routine)
            throws UsageException {
        try {
            return Arguments.parse(routine, call.arguments().subList(1, call.arguments().size()));
        } catch (Arguments.MisfitException e) {
            throw new UsageException(e.getMessage());
        }
    }

    static int exitCode(Outcome outcome) {
        return switch (outcome.kind()) {
            case COMPLETED -> ExitCode.WELL;
            case RAISED -> ExitCode.RAISED;
            case LIMITED ->
                    outcome.condition().get().sqlstate().equals("UL000")
                            ? ExitCode.INTERRUPTED
                            : ExitCode.LIMITED;
        };
    }
}
