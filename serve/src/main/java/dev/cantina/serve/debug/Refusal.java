package dev.cantina.serve.debug;

import dev.cantina.debugging.DebugException;
import dev.cantina.project.ProjectException;
import dev.cantina.runtime.Program;
import dev.cantina.runtime.RaisedException;
import dev.cantina.syntax.Problem;
import dev.cantina.types.ConditionException;
import java.sql.SQLException;
import java.util.List;
import org.eclipse.lsp4j.jsonrpc.ResponseErrorException;
import org.eclipse.lsp4j.jsonrpc.messages.ResponseError;
import org.eclipse.lsp4j.jsonrpc.messages.ResponseErrorCode;

/** Why something can't be done, as an answer. */
final class Refusal {
    private static final int MOST = 5;

    private Refusal() {}

    static ResponseErrorException of(Exception e) {
        return new ResponseErrorException(
                new ResponseError(ResponseErrorCode.RequestFailed, text(e), null));
    }

    /** What there is to say, in a line; of several problems the first ones. */
    static String text(Exception e) {
        if (e instanceof ProjectException project && !project.problems().isEmpty()) {
            return text(project.problems());
        }
        if (e instanceof Program.UnsoundException unsound) {
            return text(unsound.problems());
        }
        if (e instanceof RaisedException raised) {
            return raised.condition().sqlstate() + " " + raised.condition().message();
        }
        if (e instanceof SQLException) {
            return "the database: " + e.getMessage();
        }
        for (Throwable cause = e.getCause(); cause != null; cause = cause.getCause()) {
            if (cause instanceof SQLException) {
                return "the database: " + cause.getMessage();
            }
        }
        boolean ours =
                e instanceof DebugException
                        || e instanceof ProjectException
                        || e instanceof ConditionException;
        return ours ? e.getMessage() : "a defect of Cantina's own: " + e;
    }

    private static String text(List<Problem> problems) {
        List<String> lines =
                problems.stream()
                        .filter(Problem::isError)
                        .limit(MOST)
                        .map(p -> p.span().place() + ": " + p.message())
                        .toList();
        return String.join("\n", lines);
    }
}
