package dev.cantina.workbench;

import dev.cantina.binding.Binder;
import dev.cantina.binding.Variable;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.drafting.SavedCase;
import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.nativecode.NativeToken;
import dev.cantina.nativecode.OwnReading;
import dev.cantina.nativecode.ServerCode;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.RowEvent;
import dev.cantina.runtime.Session;
import dev.cantina.syntax.Declaration;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.SqlWords;
import dev.cantina.syntax.Statement;
import dev.cantina.syntax.Unit;
import dev.cantina.types.SqlType;
import java.sql.SQLException;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * A session that stays open: statements, calls and blocks one after the other, each in a
 * transaction of its own where START TRANSACTION has not begun one, and variables that live on.
 * Whoever opened the workspace can still take everything back.
 */
public final class ConsoleSession {
    /** What the text is called in which a statement stands that is run. */
    private static final String INPUT = "input";

    /**
     * A head on the line on which what is typed begins, so that its lines are those that are told.
     */
    private static final String HEAD = "CREATE PROCEDURE console () BEGIN ";

    private static final String TAIL = "\nEND;\n";

    /** A variable for a moment, whose name nobody gives another. */
    private static final String VALUE = "console_value_of_an_argument";

    /** Words whose statements have statements in them. */
    private static final Set<String> BLOCKS =
            Set.of("BEGIN", "IF", "CASE", "LOOP", "WHILE", "REPEAT", "FOR");

    private static final Set<String> MADE = Set.of("PROCEDURE", "FUNCTION", "TRIGGER", "MODULE");

    /** How far what was typed has come. */
    public enum Typed {
        NOTHING,
        PART,
        WHOLE
    }

    /** A variable of the session, and its value. */
    private record Held(Name name, SqlType type, Object value) {}

    /** Something that was done, and can be undone. */
    private record Done(String text, Object before, Optional<SavedCase.Call> call) {}

    private final Workspace workspace;
    private final Session session;
    private final long begun;
    private final Map<String, Held> variables = new LinkedHashMap<>();
    private final Deque<Done> undoable = new ArrayDeque<>();

    /** All that was done since the beginning, and not taken back. */
    private final List<Done> history = new ArrayList<>();

    /** How much of it was done before the transaction that is open. */
    private int begin;

    public ConsoleSession(Workspace workspace, Session session) throws SQLException {
        this.workspace = workspace;
        this.session = session;
        this.begun = session.position();
    }

    private Optional<OwnReading> own() {
        return workspace.project().own().map(o -> ServerCode.READINGS.get(o.dialect()));
    }

    // ------------------------------------------------------------------ what is typed

    /** The text that was looked at last, where it goes on, and whether a block is open in it. */
    private String part = "";

    private boolean inBlock;

    /** Whether a text can be run, or goes on. */
    public Typed typed(String text) {
        if (!part.isEmpty() && text.startsWith(part)) {
            // What ends neither a statement nor a block need not be looked at: a text may be long.
            String more = text.substring(part.length()).toUpperCase(Locale.ROOT);
            if (!more.contains(inBlock ? "END" : ";")) {
                part = text;
                return Typed.PART;
            }
        }
        Typed typed = own().isPresent() ? typedForServer(text) : typedHere(text);
        part = typed == Typed.PART ? text : "";
        return typed;
    }

    private Typed typedHere(String text) {
        List<SqlWords.Word> words = SqlWords.of(text).all();
        if (words.isEmpty()) {
            return text.isBlank() || !text.contains("/*") ? Typed.NOTHING : Typed.PART;
        }
        boolean closed = words.get(words.size() - 1).is(";");
        inBlock = false;
        if (!closed) {
            return Typed.PART;
        }
        boolean labelled = words.size() > 2 && words.get(1).is(":");
        SqlWords.Word first = words.get(labelled ? 2 : 0);
        boolean block = BLOCKS.stream().anyMatch(first::is) || makes(words).isPresent();
        inBlock = block && depth(words) > 0;
        return inBlock ? Typed.PART : Typed.WHOLE;
    }

    /** How many blocks are open behind a text. */
    private static int depth(List<SqlWords.Word> words) {
        int depth = 0;
        for (int i = 0; i < words.size(); i++) {
            SqlWords.Word word = words.get(i);
            boolean ended = i > 0 && words.get(i - 1).is("END");
            boolean begins =
                    i == 0
                            || List.of(
                                            ";", "BEGIN", "THEN", "ELSE", "DO", "LOOP", "REPEAT",
                                            ":", "ATOMIC")
                                    .stream()
                                    .anyMatch(words.get(i - 1)::is);
            if (ended) {
                continue;
            }
            boolean opens =
                    word.is("BEGIN")
                            || word.is("CASE")
                            || begins
                                    && List.of("IF", "LOOP", "WHILE", "REPEAT", "FOR").stream()
                                            .anyMatch(word::is);
            depth += opens ? 1 : word.is("END") ? -1 : 0;
        }
        return depth;
    }

    private Typed typedForServer(String text) {
        inBlock = false;
        Source source = new Source(INPUT, text);
        List<? extends NativeToken> tokens = own().get().tokens(source, 0, text.length());
        if (tokens.isEmpty()) {
            return text.isBlank() || text.strip().startsWith("--") ? Typed.NOTHING : Typed.PART;
        }
        try {
            own().get().read(source);
        } catch (NativeSyntaxException e) {
            return Typed.PART;
        }
        boolean closed = tokens.get(tokens.size() - 1).is(";");
        boolean made =
                tokens.get(0).is("create")
                        && tokens.stream().limit(8).anyMatch(ConsoleSession::isMade);
        boolean block =
                BLOCKS.contains(tokens.get(0).text().toUpperCase(Locale.ROOT))
                        && !(tokens.size() > 1 && tokens.get(1).is(";"));
        inBlock = closed && (made || block) && depthForServer(tokens) > 0;
        return closed && !inBlock ? Typed.WHOLE : Typed.PART;
    }

    private static boolean isMade(NativeToken token) {
        return MADE.contains(token.text().toUpperCase(Locale.ROOT));
    }

    private static int depthForServer(List<? extends NativeToken> tokens) {
        int depth = 0;
        for (int i = 0; i < tokens.size(); i++) {
            NativeToken token = tokens.get(i);
            NativeToken last = i > 0 ? tokens.get(i - 1) : token;
            boolean begins =
                    i == 0
                            || List.of(
                                            ";", "begin", "then", "else", "do", "loop", "repeat",
                                            ":", "atomic")
                                    .stream()
                                    .anyMatch(last::is);
            boolean opens =
                    token.is("begin")
                            || token.is("case")
                            || begins
                                    && List.of("if", "loop", "while", "repeat", "for").stream()
                                            .anyMatch(token::is);
            if (i > 0 && last.is("end")) {
                continue;
            }
            depth += opens ? 1 : token.is("end") ? -1 : 0;
        }
        return depth;
    }

    private static Optional<String> makes(List<SqlWords.Word> words) {
        if (!words.get(0).is("CREATE")) {
            return Optional.empty();
        }
        return words.stream().limit(4).map(SqlWords.Word::text).filter(MADE::contains).findFirst();
    }

    // ------------------------------------------------------------------ what is run

    /**
     * Runs what was typed. What a condition ends is taken back, and nothing before it.
     *
     * @throws ProjectException with the problems of a text that can't be run; their places are
     *     those of the text
     */
    public Outcome run(String text) throws ProjectException {
        if (own().isPresent()) {
            Optional<String> transaction = transaction(text);
            return transaction.isPresent()
                    ? statement(transaction.get())
                    : done(
                            text,
                            Optional.empty(),
                            open -> open.serverStep(new Source(INPUT, text)));
        }
        List<SqlWords.Word> words = SqlWords.of(text).all();
        Optional<String> made = makes(words);
        if (made.isPresent()) {
            throw refused(
                    text,
                    "a "
                            + made.get().toLowerCase(Locale.ROOT)
                            + " is written into a file below routines/, and the console begun again");
        }
        if (words.get(0).is("DECLARE")) {
            return declare(text);
        }
        return statement(text);
    }

    /** A statement that begins or ends a transaction is played here, so that all can be undone. */
    private static Optional<String> transaction(String text) {
        List<SqlWords.Word> words = SqlWords.of(text).all();
        String first = words.isEmpty() ? "" : words.get(0).text();
        boolean begins =
                first.equals("BEGIN")
                        && words.size() > 1
                        && List.of(";", "TRANSACTION", "WORK").stream().anyMatch(words.get(1)::is);
        if (begins) {
            return Optional.of("START TRANSACTION;");
        }
        boolean one = Set.of("COMMIT", "ROLLBACK", "START", "SAVEPOINT", "RELEASE").contains(first);
        return one ? Optional.of(text) : Optional.empty();
    }

    private static ProjectException refused(String text, String message) {
        Source source = new Source(INPUT, text);
        return new ProjectException(
                Problem.error(
                        source.span(0, Math.max(1, text.stripTrailing().length())),
                        "console",
                        message));
    }

    /** The procedure around a text, with the session's variables as its parameters. */
    private RoutineSymbol around(String text) throws ProjectException {
        Source source = new Source(INPUT, HEAD + text + TAIL);
        ParsedFile parsed = Parser.parse(source, workspace.project().reading());
        checked(text, parsed.problems());
        boolean one = parsed.units().size() == 1 && parsed.units().get(0) instanceof Unit.Routine;
        if (!one) {
            throw refused(text, "this is more than a statement, a call or a block");
        }
        List<ParameterSymbol> parameters =
                variables.values().stream()
                        .map(
                                v ->
                                        new ParameterSymbol(
                                                v.name, Unit.Mode.INOUT, v.type, Optional.empty()))
                        .toList();
        return new RoutineSymbol(
                (Unit.Routine) parsed.units().get(0),
                parameters,
                Optional.empty(),
                Optional.empty());
    }

    /** Problems at their places in the text that was typed. */
    private static void checked(String text, List<Problem> problems) throws ProjectException {
        Source typed = new Source(INPUT, text);
        List<Problem> errors = new ArrayList<>();
        for (Problem problem : problems) {
            if (problem.isError()) {
                int from =
                        Math.max(
                                0, Math.min(text.length(), problem.span().start() - HEAD.length()));
                int to =
                        Math.max(
                                from,
                                Math.min(text.length(), problem.span().end() - HEAD.length()));
                errors.add(
                        new Problem(
                                typed.span(from, to),
                                problem.severity(),
                                problem.rule(),
                                problem.message(),
                                problem.hint(),
                                Optional.empty()));
            }
        }
        if (!errors.isEmpty()) {
            throw new ProjectException(errors);
        }
    }

    private Binder.Result bound(String text, RoutineSymbol symbol) throws ProjectException {
        Binder.Result bound = workspace.program().binder().bind(symbol);
        checked(text, bound.problems());
        return bound;
    }

    private Outcome statement(String text) throws ProjectException {
        RoutineSymbol symbol = around(text);
        Binder.Result bound = bound(text, symbol);
        Object[] values = variables.values().stream().map(Held::value).toArray();
        return done(text, call(symbol), s -> s.step(bound.routine(), values));
    }

    /** What is done in a session. */
    private interface Work {
        Session.Step in(Session session);
    }

    private Outcome done(String text, Optional<SavedCase.Call> call, Work work)
            throws ProjectException {
        try {
            Object before = session.moment();
            Session.Step step = work.in(session);
            keep(step.values());
            Outcome outcome = step.outcome();
            List<RowEvent> changes = outcome.events();
            String first = text.strip().split("[\\s;]+", 2)[0].toUpperCase(Locale.ROOT);
            if (first.equals("START")) {
                undoable.clear();
                begin = history.size();
            } else if (step.ended() || first.equals("ROLLBACK")) {
                undoable.clear();
                if (first.equals("ROLLBACK") && step.ended()) {
                    history.subList(begin, history.size()).clear();
                }
                begin = history.size();
            } else if (outcome.kind() == Outcome.Kind.COMPLETED) {
                Done one = new Done(text, before, call);
                if (!changes.isEmpty()) {
                    undoable.push(one);
                }
                if (!changes.isEmpty() || call.isPresent()) {
                    history.add(one);
                }
            } else if (call.isPresent()) {
                history.add(new Done(text, before, call));
            }
            return outcome;
        } catch (SQLException e) {
            throw new ProjectException("the database: " + e.getMessage());
        }
    }

    private void keep(Object[] values) {
        int i = 0;
        for (Map.Entry<String, Held> entry : variables.entrySet()) {
            if (i < values.length) {
                Held held = entry.getValue();
                entry.setValue(new Held(held.name, held.type, values[i]));
            }
            i++;
        }
    }

    // ------------------------------------------------------------------ variables

    private Outcome declare(String text) throws ProjectException {
        Source source = new Source(INPUT, HEAD + text + TAIL);
        ParsedFile parsed = Parser.parse(source, workspace.project().reading());
        checked(text, parsed.problems());
        Statement body =
                parsed.units().stream()
                        .filter(Unit.Routine.class::isInstance)
                        .flatMap(u -> ((Unit.Routine) u).body().stream())
                        .findFirst()
                        .orElseThrow(() -> refused(text, "this can't be declared here"));
        boolean plain =
                body instanceof Statement.Compound compound
                        && compound.declarations().size() == 1
                        && compound.declarations().get(0) instanceof Declaration.Variables
                        && compound.statements().isEmpty();
        if (!plain) {
            throw refused(
                    text,
                    "only variables are declared here, one DECLARE at a time; cursors, conditions"
                            + " and handlers stand in a block");
        }
        Declaration.Variables declared =
                (Declaration.Variables) ((Statement.Compound) body).declarations().get(0);
        for (Name name : declared.names()) {
            if (variables.containsKey(name.key())) {
                throw refused(
                        text, "there is a variable " + name + " already; SET gives it a value");
            }
        }
        Binder.Result bound = bound(text, around(text));
        Map<String, Held> before = new LinkedHashMap<>(variables);
        for (Name name : declared.names()) {
            Variable variable =
                    bound.routine().variables().stream()
                            .filter(v -> v.kind() == Variable.Kind.LOCAL)
                            .filter(v -> v.span().start() == name.span().start())
                            .findFirst()
                            .orElseThrow(() -> refused(text, "this can't be declared here"));
            variables.put(name.key(), new Held(name, variable.type(), null));
        }
        List<String> sets = new ArrayList<>();
        declared.initial()
                .ifPresent(
                        e ->
                                declared.names()
                                        .forEach(
                                                n ->
                                                        sets.add(
                                                                "SET "
                                                                        + n.written()
                                                                        + " = "
                                                                        + e.span().text()
                                                                        + ";")));
        Outcome outcome = statement(sets.isEmpty() ? "BEGIN END;" : String.join(" ", sets));
        if (outcome.kind() != Outcome.Kind.COMPLETED) {
            variables.clear();
            variables.putAll(before);
        }
        return outcome;
    }

    /** The session's variables: name and type, and their values. */
    public Map<String, Object> variables() {
        Map<String, Object> all = new LinkedHashMap<>();
        variables.values().forEach(v -> all.put(v.name + " " + v.type.sql(), v.value));
        return all;
    }

    /** What may be typed: variables, tables, columns and routines. */
    public List<String> names() {
        List<String> names = new ArrayList<>();
        variables.values().forEach(v -> names.add(v.name.text()));
        workspace
                .catalog()
                .tables()
                .forEach(
                        t -> {
                            names.add(t.name());
                            t.columns().forEach(c -> names.add(c.name()));
                        });
        workspace.catalog().routines().stream()
                .filter(RoutineSymbol::isPublic)
                .forEach(r -> names.add(r.name()));
        return names.stream().distinct().toList();
    }

    // ------------------------------------------------------------------ looking and going back

    /** The rows that have changed since the console was begun. */
    public List<RowEvent> changes() throws SQLException {
        return session.eventsSince(begun);
    }

    /** Whether a transaction is open that only COMMIT makes last. */
    public boolean isTransactionOpen() {
        return session.isTransactionStarted();
    }

    /**
     * Takes back the last statement that has changed something.
     *
     * @return what was taken back; empty where nothing can be
     */
    public Optional<String> undo() throws SQLException {
        if (undoable.isEmpty()) {
            return Optional.empty();
        }
        Done last = undoable.pop();
        try {
            session.backTo(last.before);
        } catch (SQLException e) {
            // A ROLLBACK inside a block has gone back behind it.
            undoable.clear();
            return Optional.empty();
        }
        int at = history.indexOf(last);
        if (at >= 0) {
            history.subList(at, history.size()).clear();
        }
        return Optional.of(last.text);
    }

    // ------------------------------------------------------------------ a case of it

    /** The call that a text is, where it is one with values that are known before. */
    private Optional<SavedCase.Call> call(RoutineSymbol symbol) {
        if (!(symbol.tree().body().orElse(null) instanceof Statement.Compound compound)
                || compound.statements().size() != 1
                || !(compound.statements().get(0) instanceof Statement.Call called)) {
            return Optional.empty();
        }
        String name = String.join(".", called.name().stream().map(Name::text).toList());
        List<RoutineSymbol> found = workspace.catalog().routinesCalled(name);
        for (RoutineSymbol routine : found) {
            Optional<Map<String, Object>> pass = pass(routine, called.arguments());
            if (pass.isPresent()) {
                return Optional.of(new SavedCase.Call(routine.name(), pass.get()));
            }
        }
        return Optional.empty();
    }

    private Optional<Map<String, Object>> pass(
            RoutineSymbol routine, List<Expression.Argument> arguments) {
        Map<String, Object> pass = new LinkedHashMap<>();
        if (arguments.size() > routine.parameters().size()) {
            return Optional.empty();
        }
        for (int i = 0; i < arguments.size(); i++) {
            Expression.Argument argument = arguments.get(i);
            int at = i;
            Optional<ParameterSymbol> parameter =
                    routine.parameters().stream()
                            .filter(
                                    p ->
                                            argument.name().isPresent()
                                                    ? p.name().is(argument.name().get())
                                                    : routine.parameters().indexOf(p) == at)
                            .findFirst();
            if (parameter.isEmpty()) {
                return Optional.empty();
            }
            if (parameter.get().mode().isInput()) {
                Optional<Object> value = value(argument.value(), parameter.get().type());
                if (value.isEmpty()) {
                    return Optional.empty();
                }
                pass.put(
                        parameter.get().name().text(),
                        value.get() == Session.NULL ? null : value.get());
            }
        }
        return Optional.of(pass);
    }

    /** What an argument comes to before the call; empty where that can't be told. */
    private Optional<Object> value(Expression expression, SqlType type) {
        Name held = Name.of(VALUE, expression.span());
        variables.put(held.key(), new Held(held, type, null));
        try {
            String text = "SET " + VALUE + " = " + expression.span().text() + ";";
            RoutineSymbol symbol = around(text);
            Binder.Result bound = bound(text, symbol);
            Object[] values = variables.values().stream().map(Held::value).toArray();
            Object before = session.moment();
            Session.Step step = session.step(bound.routine(), values);
            session.backTo(before);
            if (step.outcome().kind() != Outcome.Kind.COMPLETED) {
                return Optional.empty();
            }
            Object value = step.values()[variables.size() - 1];
            return Optional.of(value == null ? Session.NULL : value);
        } catch (ProjectException | SQLException e) {
            return Optional.empty();
        } finally {
            variables.remove(held.key());
        }
    }

    /**
     * What was done, for a case: the statements before its calls, and the calls.
     *
     * @throws ProjectException where it can't be said in a case
     */
    public SavedCase saved() throws ProjectException {
        if (own().isPresent()) {
            throw new ProjectException(
                    "save case is for projects in the standard language; draft cases makes some here");
        }
        List<String> before = new ArrayList<>();
        List<SavedCase.Call> calls = new ArrayList<>();
        for (Done done : history) {
            if (done.call.isPresent()) {
                calls.add(done.call.get());
                continue;
            }
            if (!calls.isEmpty()) {
                throw new ProjectException(
                        "in a case what is done by hand comes before its calls; here it came behind"
                                + " one: "
                                + done.text.strip());
            }
            String first = done.text.strip().split("\\s+", 2)[0].toUpperCase(Locale.ROOT);
            if (!Set.of("INSERT", "UPDATE", "DELETE", "MERGE").contains(first)
                    || usesVariables(done.text)) {
                throw new ProjectException(
                        "a case can do plain INSERT, UPDATE and DELETE before its calls, without"
                                + " variables; this is none: "
                                + done.text.strip());
            }
            before.add(done.text.strip());
        }
        if (calls.isEmpty()) {
            throw new ProjectException(
                    "a case is about a call, and no routine was called yet: CALL …, with values or"
                            + " variables");
        }
        return new SavedCase(before, calls);
    }

    private boolean usesVariables(String text) {
        return SqlWords.of(text).all().stream()
                .anyMatch(w -> w.isName() && variables.containsKey(w.text()));
    }
}
