package dev.cantina.debugging;

import dev.cantina.binding.Binder;
import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.Scope;
import dev.cantina.binding.Variable;
import dev.cantina.binding.Walker;
import dev.cantina.runtime.Frame;
import dev.cantina.runtime.ProbeCode;
import dev.cantina.runtime.Program;
import dev.cantina.runtime.RaisedException;
import dev.cantina.runtime.ResultRows;
import dev.cantina.runtime.ServerFrame;
import dev.cantina.runtime.Session;
import dev.cantina.runtime.Support;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.SqlWords;
import dev.cantina.syntax.Unit;
import dev.cantina.types.Condition;
import dev.cantina.types.ConditionException;
import dev.cantina.types.SqlType;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** Works out and changes what is asked for by text, in a frame that stands still. */
final class FrameInspector {
    private FrameInspector() {}

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
                boolean variable = problem.message().startsWith("there is no variable ");
                throw new DebugException(
                        problem.message()
                                + problem.hint()
                                        .map(m -> "; " + m)
                                        .orElse(variable ? "; " + known(scope) : ""));
            }
        }
        return probe;
    }

    /** The same in a frame: what a server holds of a module can't be seen from outside of it. */
    private static Binder.BoundProbe bind(
            Program program, Frame frame, String text, Optional<SqlType> wanted)
            throws DebugException {
        Binder.BoundProbe probe =
                bind(program, frame.routine(), frame.place().scope(), text, wanted);
        if (frame.isElsewhere()) {
            List<String> held = new ArrayList<>();
            Walker.expressions(
                    probe.expression(),
                    e -> {
                        if (e instanceof BoundExpression.ReadShared shared) {
                            held.add(shared.module().variables().get(shared.index()).name().text());
                        } else if (e instanceof BoundExpression.Invoke invoke
                                && invoke.routine().module().isPresent()) {
                            held.add(invoke.routine().name());
                        }
                    });
            if (!held.isEmpty()) {
                throw new DebugException(
                        held.get(0)
                                + " is a module's, whose variables the server holds while it runs"
                                + " this: nobody outside sees them");
            }
        }
        return probe;
    }

    static ProbeCode compile(
            Program program, Session session, Frame frame, String text, Optional<SqlType> wanted)
            throws DebugException {
        Binder.BoundProbe probe = bind(program, frame, text, wanted);
        return session.questions().compile(frame, probe.expression(), probe.variables());
    }

    /**
     * The value of an expression in a frame.
     *
     * @throws DebugException where it can't be read, or raises a condition
     */
    static Evaluated eval(Program program, Session session, Frame frame, String text)
            throws DebugException {
        if (frame instanceof ServerFrame own) {
            Optional<Evaluated> known = NamedValue.of(own, text);
            if (known.isPresent() && known.get().type() instanceof SqlType.Row) {
                return known.get();
            }
            ServerFrame.Value value = ask(session, () -> own.value(text));
            return new Evaluated(value.type(), value.value());
        }
        try {
            Binder.BoundProbe probe = bind(program, frame, text, Optional.empty());
            Object value =
                    session.questions()
                            .compile(frame, probe.expression(), probe.variables())
                            .value(frame);
            return new Evaluated(probe.expression().type(), value);
        } catch (RaisedException e) {
            throw new DebugException(e.condition().sqlstate() + " " + e.condition().message());
        }
    }

    /**
     * The value of a variable, a field or an element that a text names, which asks nobody and sets
     * nothing off; empty for any other text.
     */
    static Optional<Evaluated> glance(Program program, Session session, Frame frame, String text) {
        if (frame instanceof ServerFrame own) {
            return NamedValue.of(own, text);
        }
        try {
            BoundExpression bound = bind(program, frame, text, Optional.empty()).expression();
            return isNamed(bound)
                    ? Optional.of(eval(program, session, frame, text))
                    : Optional.empty();
        } catch (DebugException e) {
            return Optional.empty();
        }
    }

    private static boolean isNamed(BoundExpression e) {
        if (e instanceof BoundExpression.Field field) {
            return isNamed(field.row());
        }
        if (e instanceof BoundExpression.Element element) {
            return isNamed(element.array())
                    && (element.index() instanceof BoundExpression.Constant
                            || isNamed(element.index()));
        }
        return e instanceof BoundExpression.Read || e instanceof BoundExpression.ReadShared;
    }

    /**
     * The rows of a query as the running transaction sees them, with the variables of a frame in
     * it.
     *
     * @param most how many rows to read at most
     * @throws DebugException where it can't be read, or the database refuses it
     */
    static ResultRows query(Program program, Session session, Frame frame, String text, int most)
            throws DebugException {
        String query = text.strip();
        while (query.endsWith(";")) {
            query = query.substring(0, query.length() - 1).strip();
        }
        String whole = query;
        if (frame instanceof ServerFrame own) {
            return ask(session, () -> own.query(whole, most));
        }
        if (!namesAny(frame.place().scope(), query)) {
            return ask(session, () -> session.questions().inspect(whole, most));
        }
        Parser.ParsedExpression parsed =
                Parser.parseExpression(new Source("input", "EXISTS (" + query + "\n)"));
        if (!(parsed instanceof Parser.ParsedExpression.Read read)
                || !(read.expression() instanceof Expression.Exists exists)) {
            throw new DebugException("'" + query + "' can't be read as a query");
        }
        Binder.BoundQuery bound =
                program.binder().query(exists.query(), frame.routine(), frame.place().scope());
        for (Problem problem : bound.problems()) {
            if (problem.isError()) {
                throw new DebugException(
                        problem.message() + problem.hint().map(m -> "; " + m).orElse(""));
            }
        }
        return ask(session, () -> session.questions().inspect(frame, bound.sql(), most));
    }

    /** Whether a text has a word that is also the name of a variable. */
    private static boolean namesAny(Scope scope, String text) {
        List<String> names = scope.variables().stream().map(Variable::name).toList();
        return SqlWords.of(text).all().stream()
                .anyMatch(w -> names.stream().anyMatch(w.text()::equalsIgnoreCase));
    }

    /**
     * Gives a variable, an element of an array, a field of a row or a variable of a module a value,
     * by the store rules of its type.
     *
     * @return the value that it has now
     * @throws DebugException where there is no such variable, or the value does not fit
     */
    static Object set(Program program, Session session, Frame frame, String name, String text)
            throws DebugException {
        if (frame instanceof ServerFrame own) {
            return set(session, own, name, text);
        }
        if (frame.isElsewhere() && frame != session.top()) {
            throw new DebugException(
                    "a variable can be changed in the routine that stands, and not in one that waits"
                            + " for it, where the server runs both");
        }
        BoundExpression target;
        try {
            target = bind(program, frame, name, Optional.empty()).expression();
        } catch (DebugException e) {
            boolean plain = !frame.isElsewhere() && name.matches("[\\p{L}_][\\p{L}\\p{N}_]*");
            throw plain
                    ? new DebugException(
                            "there is no variable "
                                    + name
                                    + " here; "
                                    + known(frame.place().scope()))
                    : e;
        }
        checkAssignable(program, frame, target, name);
        try {
            Object value =
                    compile(program, session, frame, text, Optional.of(target.type())).value(frame);
            return store(session, frame, target, value);
        } catch (RaisedException e) {
            throw new DebugException(e.condition().sqlstate() + " " + e.condition().message());
        } catch (ConditionException e) {
            throw new DebugException(e.condition().sqlstate() + " " + e.condition().message());
        }
    }

    /** Asks the server, whose conditions are told as they are. */
    private static <T> T ask(Session session, Question<T> question) throws DebugException {
        try {
            return question.answer();
        } catch (RaisedException e) {
            throw new DebugException(e.condition().sqlstate() + " " + e.condition().message());
        } catch (ConditionException e) {
            throw new DebugException(e.condition().sqlstate() + " " + e.condition().message());
        } catch (SQLException e) {
            for (Throwable cause = e; cause != null; cause = cause.getCause()) {
                if (cause instanceof RaisedException raised) {
                    throw new DebugException(
                            raised.condition().sqlstate() + " " + raised.condition().message());
                }
            }
            Condition condition = session.condition(e);
            throw new DebugException(condition.sqlstate() + " " + condition.message());
        }
    }

    /** Something that a server is asked. */
    private interface Question<T> {
        T answer() throws SQLException;
    }

    /** A variable of a routine that a server runs takes what that makes of an expression. */
    private static Object set(Session session, ServerFrame frame, String name, String text)
            throws DebugException {
        int dot = dot(name);
        String whole = (dot < 0 ? name : name.substring(0, dot)).strip();
        String behind = dot < 0 ? "" : name.substring(dot + 1).strip();
        Optional<Variable> plain = named(frame.place().scope(), whole);
        if (plain.isEmpty() && dot >= 0) {
            int next = dot(behind);
            String inside = (next < 0 ? behind : behind.substring(0, next)).strip();
            Optional<Variable> labelled = frame.labelled(key(whole), key(inside));
            if (labelled.isPresent()) {
                String field = next < 0 ? "" : bare(behind.substring(next + 1).strip());
                return set(session, frame, labelled.get(), name, field, text);
            }
        }
        Variable variable =
                plain.orElseThrow(
                        () ->
                                new DebugException(
                                        "there is no variable "
                                                + whole
                                                + " here; "
                                                + known(frame.place().scope())));
        return set(session, frame, variable, name, bare(behind), text);
    }

    private static Object set(
            Session session,
            ServerFrame frame,
            Variable variable,
            String name,
            String field,
            String text)
            throws DebugException {
        if (variable.kind() == Variable.Kind.CONSTANT) {
            throw new DebugException(name + " is a constant and can't be changed");
        }
        Object held = ask(session, () -> frame.set(variable, field, text));
        return field.isEmpty() ? held : ofField(variable, field, held);
    }

    /** The point behind a name, which may stand in quotes; -1 for none. */
    private static int dot(String name) {
        char quote = name.isEmpty() ? ' ' : name.charAt(0);
        boolean quoted = quote == '"' || quote == '`';
        return name.indexOf('.', quoted ? Math.max(0, name.indexOf(quote, 1)) : 0);
    }

    /** A name as it is told: one without quotes in small letters. */
    private static String key(String name) {
        String bare = bare(name);
        return bare.equals(name) ? name.toLowerCase(Locale.ROOT) : bare;
    }

    /** A name without the quotes that a server's language may put around it. */
    private static String bare(String name) {
        for (String quote : List.of("\"", "`")) {
            if (name.length() > 2 && name.startsWith(quote) && name.endsWith(quote)) {
                return name.substring(1, name.length() - 1).replace(quote + quote, quote);
            }
        }
        return name;
    }

    /**
     * The variable that a name means: one that is written as it is goes before one in other case.
     */
    private static Optional<Variable> named(Scope scope, String name) {
        String bare = bare(name);
        List<String> spellings =
                bare.equals(name) ? List.of(name.toLowerCase(Locale.ROOT), name) : List.of(bare);
        return spellings.stream()
                .flatMap(s -> scope.variables().stream().filter(v -> v.name().equals(s)))
                .findFirst()
                .or(
                        () ->
                                scope.variables().stream()
                                        .filter(v -> v.name().equalsIgnoreCase(bare))
                                        .findFirst());
    }

    /** What a field of a row holds. */
    private static Object ofField(Variable variable, String field, Object row) {
        if (variable.type() instanceof SqlType.Row type && row instanceof Object[] values) {
            for (int i = 0; i < Math.min(values.length, type.fields().size()); i++) {
                if (type.fields().get(i).name().equalsIgnoreCase(field)) {
                    return values[i];
                }
            }
        }
        return row;
    }

    private static String known(Scope scope) {
        List<String> names = scope.variables().stream().map(Variable::name).toList();
        return names.isEmpty() ? "there is none" : "there are " + String.join(", ", names);
    }

    private static Object store(
            Session session, Frame frame, BoundExpression target, Object value) {
        if (target instanceof BoundExpression.Read read) {
            frame.set(read.variable(), value);
        } else if (target instanceof BoundExpression.ReadShared shared) {
            session.module(shared.module())[shared.index()] = value;
        } else if (target instanceof BoundExpression.Field field) {
            Variable row = ((BoundExpression.Read) field.row()).variable();
            int size = ((SqlType.Row) row.type()).fields().size();
            frame.set(row, Support.withField(frame.get(row), size, field.index(), value));
        } else if (target instanceof BoundExpression.Element element) {
            Variable array = ((BoundExpression.Read) element.array()).variable();
            long index =
                    Session.index(
                            session.questions()
                                    .compile(frame, element.index(), frame.routine().variables())
                                    .value(frame));
            int most = ((SqlType.Array) array.type()).maximum();
            frame.set(array, Support.withElement(frame.get(array), index, value, most));
        }
        return value;
    }

    private static void checkAssignable(
            Program program, Frame frame, BoundExpression target, String name)
            throws DebugException {
        BoundExpression whole = target;
        if (target instanceof BoundExpression.Field field) {
            whole = field.row();
        } else if (target instanceof BoundExpression.Element element) {
            whole = element.array();
        }
        if (whole instanceof BoundExpression.ReadShared) {
            if (whole != target) {
                throw new DebugException("a variable of a module is set as a whole");
            }
            BoundExpression.ReadShared shared = (BoundExpression.ReadShared) whole;
            if (shared.module().variables().get(shared.index()).constant()) {
                throw new DebugException(name + " is a constant and can't be changed");
            }
            return;
        }
        if (!(whole instanceof BoundExpression.Read read)) {
            throw new DebugException(name + " is no variable; " + known(frame.place().scope()));
        }
        switch (read.variable().kind()) {
            case CONSTANT ->
                    throw new DebugException(
                            read.variable().name() + " is a constant and can't be changed");
            case LOOP_ROW ->
                    throw new DebugException(
                            read.variable().name()
                                    + " is the row of a loop, and can't be changed; sql! changes the"
                                    + " table");
            case OLD_ROW ->
                    throw new DebugException("OLD shows the row as it was; it can't be changed");
            case NEW_ROW -> {
                boolean before =
                        program.catalog()
                                .triggerAt(frame.routine().span())
                                .filter(t -> t.tree().timing() == Unit.Timing.BEFORE)
                                .isPresent();
                if (!before) {
                    throw new DebugException(
                            "the row is written already, so NEW can't be changed; sql! changes the"
                                    + " table");
                }
            }
            default -> {
                return;
            }
        }
    }

    /**
     * Runs a change given as text, inside the running transaction; gives the number of rows.
     *
     * @throws DebugException where the database refuses, or the statement would end the transaction
     */
    static int change(Session session, String statement) throws DebugException {
        if (!isChange(statement)) {
            throw new DebugException(
                    "sql! takes "
                            + String.join(", ", CHANGES)
                            + "; what would end the transaction can't be taken back");
        }
        try {
            return ask(session, () -> session.questions().change(statement));
        } catch (Program.UnsoundException e) {
            throw new DebugException(
                    "that would set off what can't be read: " + first(e.problems()));
        }
    }

    static boolean isChange(String text) {
        return CHANGES.contains(text.strip().split("[^A-Za-z]", 2)[0].toUpperCase(Locale.ROOT));
    }

    private static String first(List<Problem> problems) {
        return problems.get(0).span().place() + ": " + problems.get(0).message();
    }

    private static final List<String> CHANGES = List.of("INSERT", "UPDATE", "DELETE", "MERGE");
}
