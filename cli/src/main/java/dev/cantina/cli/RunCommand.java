package dev.cantina.cli;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.Session;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Source;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.Optional;
import java.util.Set;
import org.apache.commons.cli.Options;

/** {@code run FILE}, or {@code -} for the standard input. */
final class RunCommand implements Command {
    @Override
    public String name() {
        return "run";
    }

    @Override
    public String arguments() {
        return "FILE";
    }

    @Override
    public String summary() {
        return "run a script: blocks, calls, statements (- reads the standard input)";
    }

    @Override
    public String example() {
        return "cantina --project demo/winery run scripts/october.sql";
    }

    @Override
    public Options options() {
        return CallCommand.keeping(new Options());
    }

    @Override
    public Set<String> common() {
        return OF_RUNS;
    }

    @Override
    public int run(Invocation call) throws UsageException, ProjectException, SQLException {
        if (call.arguments().size() != 1) {
            throw new UsageException(
                    "run takes one file, or - for the standard input: cantina run FILE");
        }
        Project project = call.project();
        if (project.own().isPresent()) {
            Source text = source(call, project, call.arguments().get(0));
            try (Workspace workspace = call.workspace(project, Optional.empty());
                    Session session = call.session(workspace, Optional.empty())) {
                return CallCommand.ended(call, session.runServerScript(text));
            }
        }
        ParsedFile script = Parser.parse(source(call, project, call.arguments().get(0)));
        try (Workspace workspace = call.workspace(project, Optional.of(script))) {
            BoundRoutine bound;
            try {
                bound = workspace.script(script);
            } catch (ProjectException e) {
                e.problems().forEach(new ProblemView(call.screen())::toError);
                return ExitCode.FAILED;
            }
            Session session = call.session(workspace, Optional.empty());
            try {
                Outcome outcome = session.runScript(bound);
                int code = CallCommand.ended(call, outcome);
                call.settle(workspace, outcome);
                return code;
            } finally {
                session.close();
            }
        }
    }

    /** A script by its name, seen from the current folder or from the project; - is the input. */
    static Source source(Invocation call, Project project, String name)
            throws UsageException, ProjectException {
        if (name.equals("-")) {
            try {
                String text = new String(System.in.readAllBytes(), StandardCharsets.UTF_8);
                return new Source("standard input", text);
            } catch (IOException e) {
                throw new UsageException("the standard input can't be read");
            }
        }
        Path file = call.folder().resolve(name);
        if (!Files.exists(file)) {
            file = project.root().resolve(name);
        }
        return ProjectReader.source(file, project.shown(file.normalize()));
    }
}
