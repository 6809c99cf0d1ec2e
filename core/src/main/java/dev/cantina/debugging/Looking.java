package dev.cantina.debugging;

import dev.cantina.check.Binder;
import dev.cantina.check.BoundRoutine;
import dev.cantina.check.Scope;
import dev.cantina.check.Variable;
import dev.cantina.runtime.Frame;
import dev.cantina.runtime.ProbeCode;
import dev.cantina.runtime.Program;
import dev.cantina.runtime.RaisedException;
import dev.cantina.runtime.Session;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.types.SqlType;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** Works out and changes what is asked for by text, in a frame that stands still. */
final class Looking {
    private Looking() {}

    static Expression readable(String text) throws DebugException {
        Parser.ParsedExpression parsed = Parser.parseExpression(new Source("input", text));
        if (parsed instanceof Parser.ParsedExpression.Unreadable unreadable) {
            throw new DebugException(
                    "'" + text + "' can't be read: " + unreadable.problem().message());
        }
        return ((Parser.ParsedExpression.Read) parsed).expression();
    }

    /** Binds an expression; a value of the wanted type is required where one is wanted. */
    static Binder.BoundProbe bind(
            Program program,
            BoundRoutine routine,
            Scope scope,
            String text,
            Optional<SqlType> wanted)
            throws DebugException {
        Expression expression = readable(text);
        Binder.BoundProbe probe =
                wanted.isPresent()
                        ? program.binder().probe(expression, wanted.get(), routine, scope)
                        : program.binder().probe(expression, routine, scope);
        for (Problem problem : probe.problems()) {
            if (problem.isError()) {
                throw new DebugException(
                        problem.message() + problem.mend().map(m -> "; " + m).orElse(""));
            }
        }
        return probe;
    }

    static ProbeCode compile(
            Program program, Session session, Frame frame, String text, Optional<SqlType> wanted)
            throws DebugException {
        Binder.BoundProbe probe =
                bind(program, frame.routine(), frame.place().scope(), text, wanted);
        return session.compile(frame, probe.expression(), probe.variables());
    }

    /**
     * The value of an expression in a frame.
     *
     * @throws DebugException where it can't be read, or raises a condition
     */
    static Object eval(Program program, Session session, Frame frame, String text)
            throws DebugException {
        try {
            return compile(program, session, frame, text, Optional.empty()).value(frame);
        } catch (RaisedException e) {
            throw new DebugException(e.condition().sqlstate() + " " + e.condition().message());
        }
    }

    /**
     * Gives a variable a value, by the store rules of its type.
     *
     * @return the value that it has now
     * @throws DebugException where there is no such variable, or the value does not fit
     */
    static Object set(Program program, Session session, Frame frame, String name, String text)
            throws DebugException {
        Optional<Scope.Found> found =
                frame.place().scope().find(name.strip().toUpperCase(Locale.ROOT));
        if (found.isEmpty() || found.get().field() >= 0) {
            List<String> known =
                    frame.place().scope().variables().stream().map(Variable::name).toList();
            throw new DebugException(
                    "there is no variable "
                            + name
                            + " here; there are "
                            + String.join(", ", known));
        }
        Variable variable = found.get().variable();
        if (variable.kind() == Variable.Kind.CONSTANT) {
            throw new DebugException(variable.name() + " is a constant and can't be changed");
        }
        try {
            Object value =
                    compile(program, session, frame, text, Optional.of(variable.type()))
                            .value(frame);
            frame.set(variable, value);
            return value;
        } catch (RaisedException e) {
            throw new DebugException(e.condition().sqlstate() + " " + e.condition().message());
        }
    }
}
