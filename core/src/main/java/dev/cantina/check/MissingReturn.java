package dev.cantina.check;

import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Span;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** A function that has a RETURN, and a path past it: ending there is 2F005. */
final class MissingReturn implements Advice.Rule {
    static final String NAME = "missing-return";
    private static final Pattern HEAD =
            Pattern.compile(
                    "(?i)(?:\\w+\\s+)*?FUNCTION\\s+(?<name>(?:\"(?:[^\"]|\"\")*\"|[^\\s(.]+|\\s*[.]\\s*)+)");

    @Override
    public String name() {
        return NAME;
    }

    @Override
    public void look(Subject subject, List<Problem> advice) {
        BoundRoutine routine = subject.routine();
        if (routine.kind() == BoundRoutine.Kind.FUNCTION
                && subject.completion().canComplete(routine.body())) {
            advice.add(
                    Problem.advice(
                            name(routine.span()),
                            NAME,
                            routine.name() + " can reach its end without a RETURN, which is 2F005",
                            "end each path with RETURN or SIGNAL"));
        }
    }

    /** The name in the head of a function. */
    private static Span name(Span function) {
        Matcher head = HEAD.matcher(function.text());
        return head.lookingAt()
                ? new Span(
                        function.source(),
                        function.start() + head.start("name"),
                        function.start() + head.end("name"))
                : function;
    }

    /** Whether a body has a RETURN at all, as each function must (ISO 9075-4, 15.1). */
    static boolean returns(BoundStatement body) {
        boolean[] found = {false};
        Walker.statements(
                body,
                s ->
                        found[0] |=
                                s instanceof BoundStatement.Return
                                        || s instanceof BoundStatement.ReturnTable);
        return found[0];
    }
}
