package dev.cantina.cli;

import dev.cantina.binding.Binder;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.ServerDatabase;
import dev.cantina.nativecode.PlacedParts;
import dev.cantina.project.Placement;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Session;
import dev.cantina.workbench.ConsoleSession;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.apache.commons.cli.Options;

/** {@code console}: one session, open. */
final class ConsoleCommand implements Command {
    @Override
    public String name() {
        return "console";
    }

    @Override
    public String arguments() {
        return "";
    }

    @Override
    public String summary() {
        return "an open session: SQL, calls, blocks, variables, and a way back";
    }

    @Override
    public String example() {
        return "cantina --project demo/winery console";
    }

    @Override
    public Options options() {
        return CallCommand.keeping(new Options());
    }

    @Override
    public boolean hasJson() {
        return false;
    }

    @Override
    public Set<String> common() {
        return OF_RUNS;
    }

    @Override
    public int run(Invocation call) throws UsageException, ProjectException, SQLException {
        if (!call.arguments().isEmpty()) {
            throw new UsageException(
                    "console takes no arguments; statements are typed into it, or come from a pipe");
        }
        Project project = call.project();
        try (Workspace workspace =
                        call.workspace(project, Optional.empty(), ConsoleCommand::anything);
                Words words = words(call.screen())) {
            Session session = call.session(workspace, Optional.empty());
            try {
                ConsoleSession console = new ConsoleSession(workspace, session);
                words.complete(console::names);
                words.offer(ConsolePrompt.words(console));
                int code = new ConsolePrompt(call, words, console).run();
                if (call.has("keep")) {
                    workspace.database().commit();
                }
                return code;
            } finally {
                session.close();
            }
        }
    }

    /** Whatever is typed may name any routine. */
    private static PlacedParts anything(Catalog catalog, Binder binder, ServerDatabase database)
            throws ProjectException, SQLException {
        String names =
                String.join(" ", catalog.routines().stream().map(RoutineSymbol::name).toList());
        return Placement.forScript(names).place(catalog, binder, database);
    }

    private static Words words(Screen screen) {
        return screen.isTerminal() ? new Words.Typed(List.of()) : new Words.Piped(screen);
    }
}
