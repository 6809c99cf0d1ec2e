package dev.cantina.syntax;

import dev.cantina.syntax.Unit.Characteristics;
import dev.cantina.syntax.Unit.Event;
import dev.cantina.syntax.Unit.Mode;
import dev.cantina.syntax.Unit.Parameter;
import dev.cantina.syntax.Unit.RoutineKind;
import dev.cantina.syntax.Unit.Timing;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Reads a file of routines, or a script (language profile, "Source text"). Never fails: whatever
 * the text holds, the result is a tree of what could be read and a problem for each thing that
 * could not.
 */
public final class Parser {
    private final List<Problem> problems = new ArrayList<>();
    private final Source source;
    private final Optional<String> schema;
    private final TokenReader reader;
    private final TypeParser types;
    private final ExpressionParser expressions;
    private final StatementParser statements;

    /** The table of the trigger that is read, as far as it is. */
    private Optional<Name> triggerTable = Optional.empty();

    private Parser(Source written, Reading reading) {
        Lexer lexer = new Lexer(written, problems, reading);
        OwnSchema own = new OwnSchema(lexer.tokens(), reading.schema());
        StringBuilder text = new StringBuilder(lexer.quiet());
        List<Token> tokens = own.without(text);
        this.schema = own.schema();
        this.source = written.read(text.toString());
        this.reader = new TokenReader(source, tokens);
        this.types = new TypeParser(reader);
        SqlReader sql = new SqlReader(reader);
        this.expressions = new ExpressionParser(reader, types, sql);
        this.statements = new StatementParser(reader, types, expressions, sql, problems);
    }

    /** Reads all units of a file that is written as the standard has it. */
    public static ParsedFile parse(Source source) {
        return parse(source, Reading.STANDARD);
    }

    /** Reads all units of a file. */
    public static ParsedFile parse(Source source, Reading reading) {
        Parser parser = new Parser(source, reading);
        List<Stretch> stretches = parser.stretches();
        List<Unit> units =
                DropBeforeCreate.without(
                        stretches.stream().flatMap(s -> s.unit().stream()).toList());
        parser.problems.sort(Comparator.comparingInt(problem -> problem.span().start()));
        List<Problem> problems = List.copyOf(parser.problems);
        return new ParsedFile(
                parser.source,
                units,
                problems,
                faults(parser.source, stretches, problems),
                parser.schema);
    }

    /** From where a unit, or something else, begins to where the next does. */
    private record Stretch(int start, Optional<Unit> unit, Optional<Name> table) {}

    /** Each error belongs to the stretch that it stands in: a quote left open spoils its own. */
    private static List<ParsedFile.Fault> faults(
            Source source, List<Stretch> stretches, List<Problem> problems) {
        List<ParsedFile.Fault> faults = new ArrayList<>();
        int next = 0;
        for (int i = 0; i < stretches.size() && next < problems.size(); i++) {
            boolean last = i == stretches.size() - 1;
            int end = last ? source.text().length() : stretches.get(i + 1).start();
            List<Problem> errors = new ArrayList<>();
            while (next < problems.size() && (last || problems.get(next).span().start() < end)) {
                errors.add(problems.get(next++));
            }
            errors.removeIf(p -> !p.isError());
            if (!errors.isEmpty()) {
                int start = i == 0 ? 0 : stretches.get(i).start();
                faults.add(
                        new ParsedFile.Fault(
                                source.span(start, end),
                                stretches.get(i).unit(),
                                stretches.get(i).table(),
                                errors));
            }
        }
        if (stretches.isEmpty() && problems.stream().anyMatch(Problem::isError)) {
            Span all = source.span(0, source.text().length());
            faults.add(new ParsedFile.Fault(all, Optional.empty(), Optional.empty(), problems));
        }
        return faults;
    }

    /** What stands in a source that is to hold one expression only, or the problem with it. */
    public sealed interface ParsedExpression {
        record Read(Expression expression) implements ParsedExpression {}

        record Unreadable(Problem problem) implements ParsedExpression {}
    }

    /** Reads a text that is one expression, as a debugger is given one. */
    public static ParsedExpression parseExpression(Source source) {
        Parser parser = new Parser(source, Reading.STANDARD);
        try {
            Expression expression = parser.expressions.expression();
            if (!parser.reader.atEnd()) {
                throw parser.reader.expected("nothing more", "after the expression");
            }
            if (!parser.problems.isEmpty()) {
                return new ParsedExpression.Unreadable(parser.problems.get(0));
            }
            return new ParsedExpression.Read(expression);
        } catch (TokenReader.Failure failure) {
            return new ParsedExpression.Unreadable(failure.problem());
        }
    }

    /** The statements of a script that goes to a database as it is, without their {@code ;}. */
    public static List<Span> statements(Source source) {
        Lexer lexer = new Lexer(source, new ArrayList<>());
        List<Token> tokens = lexer.tokens();
        TokenReader reader = new TokenReader(source.read(lexer.quiet()), tokens);
        List<Span> spans = new ArrayList<>();
        while (!reader.atEnd()) {
            Token first = reader.peek();
            if (reader.accept(";")) {
                continue;
            }
            while (!reader.atEnd() && !reader.sees(";")) {
                reader.take();
            }
            spans.add(reader.since(first));
        }
        return spans;
    }

    /** The identifiers of a source as their author wrote them, by what they are compared by. */
    public static Map<String, String> spellings(Source source) {
        Map<String, String> spellings = new HashMap<>();
        for (Token token : new Lexer(source, new ArrayList<>()).tokens()) {
            if (token.kind() == Token.Kind.WORD) {
                spellings.putIfAbsent(
                        token.text(), source.text().substring(token.start(), token.end()));
            }
        }
        return spellings;
    }

    private List<Stretch> stretches() {
        List<Stretch> stretches = new ArrayList<>();
        while (!reader.atEnd()) {
            int start = reader.position();
            int offset = reader.peek().start();
            Optional<Unit> unit = Optional.empty();
            triggerTable = Optional.empty();
            try {
                if (reader.accept(";")) {
                    continue;
                }
                unit = Optional.of(unit());
                if (!reader.atEnd() && !reader.accept(";")) {
                    throw reader.expected("';'", "at the end");
                }
            } catch (TokenReader.Failure failure) {
                problems.add(failure.problem());
                reader.depth(0);
                skipUnit(start);
            }
            stretches.add(new Stretch(offset, unit, triggerTable));
        }
        return stretches;
    }

    /** Passes on to the next CREATE that can begin a unit. */
    private void skipUnit(int start) {
        if (reader.position() == start) {
            reader.take();
        }
        while (!reader.atEnd() && !seesRoutine()) {
            reader.take();
        }
    }

    private boolean seesRoutine() {
        int ahead = reader.sees("CREATE", "OR", "REPLACE") ? 3 : 1;
        ahead += definer(ahead);
        Token kind = reader.peek(ahead);
        if (kind.is("FUNCTION") && reader.peek(ahead + 1).is("(")) {
            return false;
        }
        return reader.sees("CREATE")
                && (kind.is("PROCEDURE")
                        || kind.is("FUNCTION")
                        || kind.is("TRIGGER")
                        || kind.is("MODULE"));
    }

    /** How many tokens {@code DEFINER = user} has; 0 where it does not stand there. */
    private int definer(int ahead) {
        if (!reader.peek(ahead).is("DEFINER") || !reader.peek(ahead + 1).is("=")) {
            return 0;
        }
        for (int i = 3; i <= LONGEST_DEFINER; i++) {
            Token token = reader.peek(ahead + i);
            if (token.is("PROCEDURE") || token.is("FUNCTION") || token.is("TRIGGER")) {
                return i;
            }
        }
        return 0;
    }

    /** {@code DEFINER = 'name' @ 'host'} with room for brackets. */
    private static final int LONGEST_DEFINER = 7;

    /** A routine belongs to whoever ships it, which CURRENT_USER says too. */
    private void takeDefiner() {
        int tokens = definer(0);
        if (tokens == 0) {
            return;
        }
        Token first = reader.peek();
        boolean brackets = tokens == 5 && reader.peek(3).is("(") && reader.peek(4).is(")");
        boolean own =
                (tokens == 3 || brackets)
                        && (reader.peek(2).is("CURRENT_USER") || reader.peek(2).is("CURRENT_ROLE"));
        for (int i = 0; i < tokens; i++) {
            reader.take();
        }
        if (!own) {
            problems.add(
                    Problem.error(
                            reader.since(first),
                            "definer",
                            "DEFINER names a user of one server, and a routine belongs to the user who"
                                    + " ships it",
                            "leave DEFINER out, and ship as that user; SQL SECURITY says whose"
                                    + " rights count"));
        }
    }

    /** {@code unit ::= CREATE [OR REPLACE] {PROCEDURE | FUNCTION | TRIGGER} … | statement}. */
    private Unit unit() {
        Token first = reader.peek();
        if (!seesRoutine()) {
            Statement statement = statements.statement();
            return new Unit.Step(reader.since(first), statement);
        }
        reader.take();
        reader.accept("OR", "REPLACE");
        takeDefiner();
        if (reader.accept("PROCEDURE")) {
            return routine(first, RoutineKind.PROCEDURE);
        }
        if (reader.accept("FUNCTION")) {
            return routine(first, RoutineKind.FUNCTION);
        }
        if (reader.accept("MODULE")) {
            return module(first);
        }
        reader.expect("TRIGGER", "after CREATE");
        return trigger(first);
    }

    /**
     * {@code MODULE name { [PRIVATE] [DECLARE] {PROCEDURE … | FUNCTION … | declaration} ; } END
     * MODULE} (ISO 9075-4, 9.1).
     */
    private Unit module(Token first) {
        ifNotExists();
        Name name = own("a module");
        List<Unit.Routine> routines = new ArrayList<>();
        List<Declaration> declared = new ArrayList<>();
        Set<String> privateNames = new HashSet<>();
        while (!reader.atEnd() && !reader.sees("END", "MODULE")) {
            int start = reader.position();
            try {
                element(routines, declared, privateNames);
                if (!reader.accept(";")) {
                    throw reader.expected("';'", "at the end");
                }
            } catch (TokenReader.Failure failure) {
                problems.add(failure.problem());
                reader.depth(0);
                skipElement(start);
            }
        }
        reader.expect("END", "to close MODULE " + name);
        reader.expect("MODULE", "after END");
        if (reader.seesName()) {
            reader.take();
        }
        return new Unit.Module(reader.since(first), name, routines, declared, privateNames);
    }

    private void element(
            List<Unit.Routine> routines, List<Declaration> declared, Set<String> privateNames) {
        boolean hidden = reader.accept("PRIVATE");
        Token start = reader.peek();
        boolean routine =
                reader.seesAny("PROCEDURE", "FUNCTION")
                        || reader.sees("DECLARE", "PROCEDURE")
                        || reader.sees("DECLARE", "FUNCTION");
        if (routine) {
            reader.accept("DECLARE");
            RoutineKind kind =
                    reader.take().is("PROCEDURE") ? RoutineKind.PROCEDURE : RoutineKind.FUNCTION;
            Unit.Routine read = (Unit.Routine) routine(start, kind);
            routines.add(read);
            if (hidden) {
                privateNames.add(read.name().key());
            }
            return;
        }
        if (!reader.sees("DECLARE")) {
            throw reader.expected("PROCEDURE, FUNCTION, DECLARE or END MODULE", "in a module");
        }
        Declaration declaration = statements.declaration();
        declared.add(declaration);
        if (hidden && declaration instanceof Declaration.Variables variables) {
            variables.names().forEach(n -> privateNames.add(n.key()));
        }
    }

    /** Passes on to what can be the next element of a module, or its end. */
    private void skipElement(int start) {
        if (reader.position() == start) {
            reader.take();
        }
        while (!reader.atEnd()
                && !reader.sees("END", "MODULE")
                && !reader.seesAny("PROCEDURE", "FUNCTION", "PRIVATE")
                && !seesRoutine()) {
            reader.take();
        }
    }

    private Unit routine(Token first, RoutineKind kind) {
        ifNotExists();
        Name name = own("a " + kind.word());
        List<Parameter> parameters = new ArrayList<>();
        reader.expect("(", "after the name of the " + kind.word());
        if (!reader.sees(")")) {
            do {
                parameters.add(parameter(kind));
            } while (reader.accept(","));
        }
        reader.expect(")", "after the parameters");
        Optional<TypeSyntax> returns = Optional.empty();
        if (kind == RoutineKind.FUNCTION) {
            reader.expect("RETURNS", "after the parameters of a function");
            returns = Optional.of(reader.sees("TABLE") ? types.table() : types.type());
        }
        Characteristics characteristics = new CharacteristicsParser(reader).characteristics();
        Optional<Statement> body = Optional.empty();
        if (characteristics.external().isEmpty()) {
            body = Optional.of(statements.statement());
        }
        return new Unit.Routine(
                reader.since(first), kind, name, parameters, returns, characteristics, body);
    }

    /** Whether IF NOT EXISTS stands before the name of what is created. */
    private void ifNotExists() {
        if (reader.accept("IF")) {
            reader.expect("NOT", "after IF");
            reader.expect("EXISTS", "after NOT");
        }
    }

    /** A name in the project's own schema. */
    private Name own(String what) {
        Name name = reader.name(what);
        if (reader.sees(".")) {
            throw reader.failure(
                    reader.peek(),
                    name
                            + " is another schema than "
                            + schema.map(s -> "the project's own, " + s)
                                    .orElse("the project's own"),
                    "put what belongs to it into a project of its own, or say schema: in cantina.yaml");
        }
        return name;
    }

    /** {@code [IN | OUT | INOUT] name type [DEFAULT e]}. */
    private Parameter parameter(RoutineKind kind) {
        Token start = reader.peek();
        Mode mode = Mode.IN;
        if (reader.seesAny("IN", "OUT")
                || reader.sees("INOUT") && TokenReader.isName(reader.peek(1))) {
            Token word = reader.take();
            mode = Mode.valueOf(word.text());
            if (kind == RoutineKind.FUNCTION && mode != Mode.IN) {
                throw reader.failure(
                        word,
                        "a function has only IN parameters",
                        "write a procedure to give several values back");
            }
        }
        Name name = reader.name("a parameter");
        TypeSyntax type = types.type();
        Optional<Expression> initial =
                reader.accept("DEFAULT") ? Optional.of(expressions.expression()) : Optional.empty();
        return new Parameter(reader.since(start), mode, name, type, initial);
    }

    private Unit trigger(Token first) {
        ifNotExists();
        Name name = own("a trigger");
        Timing timing;
        if (reader.accept("BEFORE")) {
            timing = Timing.BEFORE;
        } else if (reader.accept("AFTER")) {
            timing = Timing.AFTER;
        } else if (reader.accept("INSTEAD", "OF")) {
            timing = Timing.INSTEAD_OF;
        } else {
            throw reader.expected("BEFORE, AFTER or INSTEAD OF", "after the name of the trigger");
        }
        if (!reader.seesAny("INSERT", "DELETE", "UPDATE")) {
            throw reader.expected("INSERT, DELETE or UPDATE", "");
        }
        Event event = Event.valueOf(reader.take().text());
        List<Name> columns = new ArrayList<>();
        if (event == Event.UPDATE && reader.accept("OF")) {
            do {
                columns.add(reader.name("a column"));
            } while (reader.accept(","));
        }
        reader.expect("ON", "before the trigger's table");
        Name table = own("a table");
        triggerTable = Optional.of(table);
        Optional<Name> oldRow = Optional.empty();
        Optional<Name> newRow = Optional.empty();
        Optional<Name> oldTable = Optional.empty();
        Optional<Name> newTable = Optional.empty();
        if (reader.accept("REFERENCING")) {
            while (reader.seesAny("OLD", "NEW")) {
                boolean old = reader.take().is("OLD");
                boolean whole = reader.accept("TABLE");
                if (!whole) {
                    reader.accept("ROW");
                }
                reader.accept("AS");
                Optional<Name> alias = Optional.of(reader.name("the row"));
                if (old) {
                    oldTable = whole ? alias : oldTable;
                    oldRow = whole ? oldRow : alias;
                } else {
                    newTable = whole ? alias : newTable;
                    newRow = whole ? newRow : alias;
                }
            }
        }
        boolean eachRow = false;
        if (reader.accept("FOR", "EACH")) {
            eachRow = reader.sees("ROW");
            if (!eachRow && !reader.sees("STATEMENT")) {
                throw reader.expected("ROW or STATEMENT", "after FOR EACH");
            }
            reader.take();
        }
        Optional<Expression> when = Optional.empty();
        if (reader.accept("WHEN")) {
            reader.expect("(", "after WHEN");
            when = Optional.of(expressions.expression());
            reader.expect(")", "after the trigger's condition");
        }
        Statement body = statements.statement();
        return new Unit.Trigger(
                reader.since(first),
                name,
                timing,
                event,
                columns,
                table,
                oldRow,
                newRow,
                oldTable,
                newTable,
                eachRow,
                when,
                body);
    }
}
