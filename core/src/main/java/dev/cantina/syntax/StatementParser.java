package dev.cantina.syntax;

import dev.cantina.syntax.Statement.TransactionVerb;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** Statements of a routine (ISO 9075-4, clauses 14 and 15). */
final class StatementParser {
    private static final Set<String> DATA_WORDS =
            Set.of(
                    ("SELECT WITH VALUES INSERT UPDATE DELETE MERGE CREATE ALTER DROP "
                                    + "TRUNCATE GRANT REVOKE COMMENT ANALYZE REPLACE LOCK")
                            .split(" "));
    private static final List<String> STATEMENT_WORDS =
            List.of(
                    ("SET IF CASE WHILE REPEAT LOOP FOR LEAVE ITERATE CALL RETURN SIGNAL "
                                    + "RESIGNAL GET START COMMIT ROLLBACK SAVEPOINT RELEASE REPORT PREPARE EXECUTE DEALLOCATE OPEN FETCH "
                                    + "CLOSE BEGIN SELECT INSERT UPDATE DELETE MERGE WITH CREATE DROP ALTER "
                                    + "DECLARE")
                            .split(" "));

    private final TokenReader reader;
    private final ExpressionParser expressions;
    private final SqlReader sql;
    private final DeclarationParser declarations;
    private final List<Problem> problems;

    StatementParser(
            TokenReader reader,
            TypeParser types,
            ExpressionParser expressions,
            SqlReader sql,
            List<Problem> problems) {
        this.reader = reader;
        this.expressions = expressions;
        this.sql = sql;
        this.problems = problems;
        this.declarations = new DeclarationParser(reader, types, expressions, sql, this);
    }

    /** A declaration of a module, without its {@code ;}. */
    Declaration declaration() {
        return declarations.declaration();
    }

    /** {@code statement ::= [label:] labelled | plain}, without its {@code ;}. */
    Statement statement() {
        reader.enter();
        try {
            Token first = reader.peek();
            if (TokenReader.isName(first) && reader.peek(1).is(":")) {
                Name label = reader.nameOf(reader.take());
                reader.take();
                return labelled(first, Optional.of(label));
            }
            return labelled(first, Optional.empty());
        } finally {
            reader.leave();
        }
    }

    private Statement labelled(Token first, Optional<Name> label) {
        return switch (reader.peek().text()) {
            case "BEGIN" -> compound(first, label);
            case "WHILE" -> whileLoop(first, label);
            case "REPEAT" -> repeat(first, label);
            case "LOOP" -> loop(first, label);
            case "FOR" -> forLoop(first, label);
            default -> {
                if (label.isPresent()) {
                    throw reader.expected("BEGIN, WHILE, REPEAT, LOOP or FOR", "after a label");
                }
                yield plain();
            }
        };
    }

    private Statement plain() {
        Token first = reader.peek();
        if (first.kind() == Token.Kind.WORD) {
            switch (first.text()) {
                case "SET":
                    return set();
                case "IF":
                    return ifStatement();
                case "CASE":
                    return caseStatement();
                case "LEAVE":
                    reader.take();
                    Name left = reader.name("a label");
                    return new Statement.Leave(reader.since(first), left);
                case "ITERATE":
                    reader.take();
                    Name again = reader.name("a label");
                    return new Statement.Iterate(reader.since(first), again);
                case "CALL":
                    return call();
                case "RETURN":
                    return returnStatement();
                case "SIGNAL", "RESIGNAL":
                    return signal();
                case "GET":
                    return getDiagnostics();
                case "START", "COMMIT", "ROLLBACK", "SAVEPOINT", "RELEASE":
                    return transaction();
                case "REPORT":
                    reader.take();
                    List<Expression> items = expressions.expressions();
                    return new Statement.Report(reader.since(first), items);
                case "OPEN":
                    reader.take();
                    Name opened = reader.name("a cursor");
                    List<Expression> using = using();
                    return new Statement.Open(reader.since(first), opened, using);
                case "PREPARE":
                    return prepare();
                case "EXECUTE":
                    return execute();
                case "DEALLOCATE":
                    reader.take();
                    reader.expect("PREPARE", "after DEALLOCATE");
                    Name forgotten = reader.name("a prepared statement");
                    return new Statement.Deallocate(reader.since(first), forgotten);
                case "FETCH":
                    return fetch();
                case "CLOSE":
                    reader.take();
                    Name closed = reader.name("a cursor");
                    return new Statement.Close(reader.since(first), closed);
                case "SELECT", "WITH":
                    return select();
                case "DECLARE":
                    throw reader.failure(
                            first,
                            "a declaration belongs at the head of a block, before its statements",
                            "move it up, or open a block of its own with BEGIN … END");
                default:
                    if (DATA_WORDS.contains(first.text())) {
                        SqlText text = sql.statement();
                        return new Statement.Data(text.span(), text);
                    }
            }
        }
        if (sql.seesQuery()) {
            SqlText text = sql.statement();
            return new Statement.Data(text.span(), text);
        }
        Optional<String> nearest =
                first.kind() == Token.Kind.WORD
                        ? Nearest.to(first.text(), STATEMENT_WORDS)
                        : Optional.empty();
        if (nearest.isEmpty()) {
            throw reader.expected("a statement", "");
        }
        Span word = reader.spanOf(first);
        throw new TokenReader.Failure(
                Problem.error(
                                word,
                                "syntax",
                                "no statement begins with " + word.text(),
                                "did you mean " + nearest.get() + "?")
                        .with(word, nearest.get()));
    }

    /** {@code BEGIN [[NOT] ATOMIC] { declaration ; } { statement ; } END [label]}. */
    private Statement compound(Token first, Optional<Name> label) {
        reader.expect("BEGIN", "");
        boolean atomic = false;
        if (reader.accept("ATOMIC")) {
            atomic = true;
        } else {
            reader.accept("NOT", "ATOMIC");
        }
        List<Declaration> declared = new ArrayList<>();
        while (reader.sees("DECLARE")) {
            recovering(() -> declared.add(declarations.declaration()));
        }
        List<Statement> statements = statements("", "END");
        reader.expectEnd("BEGIN", first);
        endLabel(label);
        return new Statement.Compound(reader.since(first), label, atomic, declared, statements);
    }

    private void endLabel(Optional<Name> label) {
        Token token = reader.peek();
        if (!TokenReader.isName(token)) {
            return;
        }
        Name name = reader.nameOf(reader.take());
        if (label.isEmpty() || !label.get().is(name)) {
            Problem problem =
                    Problem.error(
                            name.span(),
                            "syntax",
                            "the label " + name + " at the end is not the one at the beginning",
                            label.map(l -> "write " + l)
                                    .orElse("label the beginning: " + name + ":"));
            problems.add(
                    label.map(l -> problem.with(name.span(), l.span().text())).orElse(problem));
        }
    }

    /**
     * Statements, each with its {@code ;}, up to one of the words that may follow them.
     *
     * @param own the word after this statement list's own END; empty for a block
     */
    private List<Statement> statements(String own, String... ends) {
        List<Statement> statements = new ArrayList<>();
        int failures = 0;
        while (!reader.atEnd()) {
            if (reader.seesAny(ends) && !(failures > 0 && seesForeignEnd(own))) {
                break;
            }
            if (failures > 0 && seesStray(own)) {
                skipStatement();
                continue;
            }
            int before = problems.size();
            recovering(() -> statements.add(statement()));
            failures += problems.size() - before;
        }
        return statements;
    }

    /** After a failure inside its head, the end of a compound statement is left over. */
    private boolean seesForeignEnd(String own) {
        String word = reader.peek(1).text();
        return reader.sees("END")
                && !word.equals(own)
                && Set.of("IF", "CASE", "WHILE", "REPEAT", "LOOP", "FOR").contains(word);
    }

    private boolean seesStray(String own) {
        return reader.seesAny("ELSE", "ELSEIF", "WHEN", "UNTIL", "THEN", "DO")
                || seesForeignEnd(own);
    }

    /** Runs one production and its {@code ;}; what fails becomes a problem, and is passed over. */
    private void recovering(Runnable production) {
        int depth = reader.depth();
        int start = reader.position();
        try {
            production.run();
            if (reader.atEnd() || !reader.accept(";")) {
                throw reader.expected("';'", "at the end of the statement");
            }
        } catch (TokenReader.Failure failure) {
            problems.add(failure.problem());
            reader.depth(depth);
            if (reader.position() == start && !reader.sees(";")) {
                reader.take();
            }
            skipStatement();
        }
    }

    /** Passes over what is left of a statement, its {@code ;} included. */
    private void skipStatement() {
        while (!reader.atEnd() && !reader.sees("CREATE", "OR", "REPLACE")) {
            if (reader.take().is(";")) {
                return;
            }
        }
    }

    private Statement set() {
        Token first = reader.take();
        if (reader.sees("TRANSACTION")) {
            reader.take();
            String modes = modes();
            return new Statement.Transaction(
                    reader.since(first), TransactionVerb.SET, Optional.empty(), modes, false);
        }
        if (reader.accept("(")) {
            return setSeveral(first);
        }
        Statement.Target target = target();
        assignment(target);
        Expression value = expressions.expression();
        Statement only = new Statement.Set(reader.since(first), target, value);
        if (!reader.sees(",")) {
            return only;
        }
        // One after the other, as if each were a statement.
        List<Statement> all = new ArrayList<>(List.of(only));
        while (reader.accept(",")) {
            Token start = reader.peek();
            Statement.Target next = target();
            assignment(next);
            Expression given = expressions.expression();
            all.add(new Statement.Set(reader.since(start), next, given));
        }
        return new Statement.Compound(reader.since(first), Optional.empty(), false, List.of(), all);
    }

    /** {@code =}, or {@code :=} as one sign. */
    private void assignment(Statement.Target target) {
        Token sign = reader.peek();
        boolean colon = reader.accept(":") && reader.peek().start() == sign.end();
        if (sign.is(":") && !colon) {
            throw reader.failure(sign, "expected '=' after " + target.span().text(), "write =");
        }
        reader.expect("=", "after " + target.span().text());
    }

    private Statement setSeveral(Token first) {
        List<Statement.Target> targets = targets();
        reader.expect(")", "after the variables to be set");
        reader.expect("=", "after the variables to be set");
        if (sql.seesBracketedQuery()) {
            reader.expect("(", "");
            SqlText query = sql.query(")");
            reader.expect(")", "after the query");
            return new Statement.SetSeveral(
                    reader.since(first), targets, List.of(), Optional.of(query));
        }
        reader.expect("(", "before the values");
        List<Expression> values = expressions.expressions();
        reader.expect(")", "after the values");
        return new Statement.SetSeveral(reader.since(first), targets, values, Optional.empty());
    }

    List<Statement.Target> targets() {
        List<Statement.Target> targets = new ArrayList<>();
        do {
            targets.add(target());
        } while (reader.accept(","));
        return targets;
    }

    /** {@code target ::= name { . name } ['[' index ']' [. field]]}. */
    private Statement.Target target() {
        Token first = reader.peek();
        List<Name> names = new ArrayList<>();
        names.add(reader.name("a variable"));
        while (reader.accept(".")) {
            names.add(expressions.anyName());
        }
        Optional<Expression> index = Optional.empty();
        if (reader.accept("[")) {
            index = Optional.of(expressions.expression());
            reader.expect("]", "after the index");
        }
        Optional<Name> field =
                index.isPresent() && reader.accept(".")
                        ? Optional.of(expressions.anyName())
                        : Optional.empty();
        return new Statement.Target(reader.since(first), names, index, field);
    }

    private Statement select() {
        List<Statement.Target> targets = new ArrayList<>();
        SqlText text =
                sql.queryInto(
                        () -> {
                            targets.addAll(targets());
                            return true;
                        });
        return targets.isEmpty()
                ? new Statement.Data(text.span(), text)
                : new Statement.SelectInto(text.span(), targets, text);
    }

    /** {@code IF c THEN … { ELSEIF c THEN … } [ELSE …] END IF}. */
    private Statement ifStatement() {
        Token first = reader.peek();
        List<Statement.Branch> branches = new ArrayList<>();
        do {
            Token start = reader.take();
            Expression condition = expressions.expression();
            reader.expect("THEN", "after the condition of IF");
            List<Statement> statements = statements("IF", "ELSEIF", "ELSE", "END");
            branches.add(new Statement.Branch(reader.since(start), condition, statements));
        } while (reader.sees("ELSEIF"));
        Optional<List<Statement>> otherwise =
                reader.accept("ELSE") ? Optional.of(statements("IF", "END")) : Optional.empty();
        close(first, "IF");
        return new Statement.If(reader.since(first), branches, otherwise);
    }

    private void close(Token first, String word) {
        reader.expectEnd(word, first);
        if (!reader.accept(word)) {
            int line = reader.spanOf(first).line();
            throw reader.expected(word, "after END: this closes " + word + " at line " + line);
        }
    }

    private Statement caseStatement() {
        Token first = reader.take();
        Optional<Expression> operand =
                reader.sees("WHEN") ? Optional.empty() : Optional.of(expressions.expression());
        List<Statement.Branch> branches = new ArrayList<>();
        while (reader.sees("WHEN")) {
            Token start = reader.take();
            Expression when = when(operand.isPresent());
            reader.expect("THEN", "after WHEN");
            List<Statement> statements = statements("CASE", "WHEN", "ELSE", "END");
            branches.add(new Statement.Branch(reader.since(start), when, statements));
        }
        if (branches.isEmpty()) {
            throw reader.expected("WHEN", "in CASE");
        }
        Optional<List<Statement>> otherwise =
                reader.accept("ELSE") ? Optional.of(statements("CASE", "END")) : Optional.empty();
        close(first, "CASE");
        return new Statement.Case(reader.since(first), operand, branches, otherwise);
    }

    /** A condition, or the values of an operand's branch (ISO 9075-4, 13.6). */
    private Expression when(boolean operand) {
        Token start = reader.peek();
        Expression when = expressions.expression();
        if (!operand || !reader.sees(",")) {
            return when;
        }
        List<Expression> values = new ArrayList<>(List.of(when));
        while (reader.accept(",")) {
            values.add(expressions.expression());
        }
        return new Expression.AnyOf(reader.since(start), values);
    }

    private Statement whileLoop(Token first, Optional<Name> label) {
        Token word = reader.take();
        Expression condition = expressions.expression();
        reader.expect("DO", "after the condition of WHILE");
        List<Statement> statements = statements("WHILE", "END");
        close(word, "WHILE");
        endLabel(label);
        return new Statement.While(reader.since(first), label, condition, statements);
    }

    private Statement repeat(Token first, Optional<Name> label) {
        Token word = reader.take();
        List<Statement> statements = statements("REPEAT", "UNTIL", "END");
        reader.expect("UNTIL", "in REPEAT");
        Expression condition = expressions.expression();
        close(word, "REPEAT");
        endLabel(label);
        return new Statement.Repeat(reader.since(first), label, statements, condition);
    }

    private Statement loop(Token first, Optional<Name> label) {
        Token word = reader.take();
        List<Statement> statements = statements("LOOP", "END");
        close(word, "LOOP");
        endLabel(label);
        return new Statement.Loop(reader.since(first), label, statements);
    }

    /** {@code FOR row AS [cursor CURSOR [WITH HOLD] FOR] query DO … END FOR}. */
    private Statement forLoop(Token first, Optional<Name> label) {
        Token word = reader.take();
        Name row = reader.name("the row of FOR");
        if (reader.accept("IN")) {
            return new RangeLoop(reader, expressions)
                    .read(
                            first,
                            label,
                            row,
                            () -> {
                                List<Statement> turn = statements("FOR", "END");
                                close(word, "FOR");
                                endLabel(label);
                                return turn;
                            });
        }
        reader.expect("AS", "after the name of the row");
        Optional<Name> cursor = Optional.empty();
        if (TokenReader.isName(reader.peek()) && !sql.seesQuery()) {
            cursor = Optional.of(reader.name("a cursor"));
            if (reader.seesAny("INSENSITIVE", "SENSITIVE", "ASENSITIVE")) {
                reader.take();
            }
            reader.expect("CURSOR", "after the name of the cursor");
            // Its cursor is open as long as the loop runs, held or not.
            if (reader.seesAny("WITH", "WITHOUT")) {
                reader.take();
                reader.expect("HOLD", "after WITH");
            }
            reader.expect("FOR", "after CURSOR");
        }
        SqlText query = sql.query("DO");
        reader.expect("DO", "after the query of FOR");
        List<Statement> statements = statements("FOR", "END");
        close(word, "FOR");
        endLabel(label);
        return new Statement.For(reader.since(first), label, row, cursor, query, statements);
    }

    private Statement call() {
        Token first = reader.take();
        List<Name> name = new ArrayList<>();
        name.add(reader.name("a procedure"));
        while (reader.accept(".")) {
            name.add(expressions.anyName());
        }
        List<Expression.Argument> arguments = new ArrayList<>();
        // Where nothing is given, nothing need stand there.
        if (!reader.sees(";") && !reader.atEnd()) {
            reader.expect("(", "after the name of the procedure");
            expressions.arguments(arguments);
            reader.expect(")", "after the arguments");
        }
        return new Statement.Call(reader.since(first), name, arguments);
    }

    private Statement returnStatement() {
        Token first = reader.take();
        if (reader.sees("TABLE", "(")) {
            reader.take();
            reader.take();
            SqlText query = sql.query(")");
            reader.expect(")", "after the query of RETURN TABLE");
            return new Statement.ReturnTable(reader.since(first), query);
        }
        Optional<Expression> value =
                reader.sees(";") || reader.atEnd()
                        ? Optional.empty()
                        : Optional.of(expressions.expression());
        return new Statement.Return(reader.since(first), value);
    }

    /** {@code SIGNAL | RESIGNAL [SQLSTATE [VALUE] 'x' | name] [SET item = e, …]}. */
    private Statement signal() {
        Token first = reader.take();
        boolean resignal = first.is("RESIGNAL");
        Optional<String> state = Optional.empty();
        Optional<Name> condition = Optional.empty();
        if (reader.sees("SQLSTATE")) {
            state = Optional.of(declarations.sqlstate());
        } else if (reader.seesName()) {
            condition = Optional.of(reader.name("a condition"));
        } else if (!resignal) {
            throw reader.expected("SQLSTATE or the name of a condition", "after SIGNAL");
        }
        List<Statement.SignalItem> items = new ArrayList<>();
        if (reader.accept("SET")) {
            do {
                Token start = reader.peek();
                Name item = reader.name("an item such as MESSAGE_TEXT");
                reader.expect("=", "after " + item);
                Expression value = expressions.expression();
                items.add(new Statement.SignalItem(reader.since(start), item, value));
            } while (reader.accept(","));
        }
        return new Statement.Signal(reader.since(first), resignal, state, condition, items);
    }

    private Statement getDiagnostics() {
        Token first = reader.take();
        boolean stacked = reader.accept("STACKED");
        if (!stacked) {
            reader.accept("CURRENT");
        }
        reader.expect("DIAGNOSTICS", "after GET");
        Optional<Expression> condition = Optional.empty();
        if (reader.accept("CONDITION") || reader.accept("EXCEPTION")) {
            condition = Optional.of(expressions.expression());
        }
        List<Statement.DiagnosticsItem> items = new ArrayList<>();
        do {
            Token start = reader.peek();
            Statement.Target target = target();
            reader.expect("=", "after " + target.span().text());
            Name item = reader.name("an item such as ROW_COUNT");
            items.add(new Statement.DiagnosticsItem(reader.since(start), target, item));
        } while (reader.accept(","));
        return new Statement.GetDiagnostics(reader.since(first), stacked, condition, items);
    }

    private Statement transaction() {
        Token first = reader.take();
        Optional<Name> savepoint = Optional.empty();
        String modes = "";
        boolean chain = false;
        TransactionVerb verb;
        switch (first.text()) {
            case "START" -> {
                reader.expect("TRANSACTION", "after START");
                verb = TransactionVerb.START;
                modes = reader.sees(";") || reader.atEnd() ? "" : modes();
            }
            case "SAVEPOINT" -> {
                verb = TransactionVerb.SAVEPOINT;
                savepoint = Optional.of(reader.name("a savepoint"));
            }
            case "RELEASE" -> {
                verb = TransactionVerb.RELEASE;
                reader.expect("SAVEPOINT", "after RELEASE");
                savepoint = Optional.of(reader.name("a savepoint"));
            }
            default -> {
                verb = first.is("COMMIT") ? TransactionVerb.COMMIT : TransactionVerb.ROLLBACK;
                reader.accept("WORK");
                if (verb == TransactionVerb.ROLLBACK && reader.accept("TO")) {
                    reader.accept("SAVEPOINT");
                    verb = TransactionVerb.ROLLBACK_TO;
                    savepoint = Optional.of(reader.name("a savepoint"));
                } else if (reader.accept("AND", "CHAIN")) {
                    chain = true;
                } else {
                    reader.accept("AND", "NO", "CHAIN");
                }
            }
        }
        return new Statement.Transaction(reader.since(first), verb, savepoint, modes, chain);
    }

    private static final List<String[]> MODES =
            List.of(
                    new String[] {"ISOLATION", "LEVEL", "READ", "UNCOMMITTED"},
                    new String[] {"ISOLATION", "LEVEL", "READ", "COMMITTED"},
                    new String[] {"ISOLATION", "LEVEL", "REPEATABLE", "READ"},
                    new String[] {"ISOLATION", "LEVEL", "SERIALIZABLE"},
                    new String[] {"READ", "ONLY"},
                    new String[] {"READ", "WRITE"});

    /** Isolation and access modes, kept as words (ISO 9075-2, 17.3). */
    private String modes() {
        List<String> modes = new ArrayList<>();
        do {
            Token at = reader.peek();
            String[] mode =
                    MODES.stream().filter(words -> reader.sees(words)).findFirst().orElse(null);
            if (mode == null) {
                throw reader.expected("READ ONLY, READ WRITE or ISOLATION LEVEL and its name", "");
            }
            if (modes.stream().anyMatch(known -> known.startsWith("READ") == mode.length < 3)) {
                String kind = mode.length < 3 ? "READ ONLY or READ WRITE" : "its isolation level";
                throw reader.failure(at, "the transaction says " + kind + " twice", "say it once");
            }
            reader.accept(mode);
            modes.add(String.join(" ", mode));
        } while (reader.accept(","));
        return String.join(", ", modes);
    }

    private List<Expression> using() {
        return reader.accept("USING") ? expressions.expressions() : List.of();
    }

    /** {@code PREPARE name FROM text} (ISO 9075-2, 20.7). */
    private Statement prepare() {
        Token first = reader.take();
        Name name = reader.name("a prepared statement");
        reader.expect("FROM", "after the name of the prepared statement");
        Expression text = expressions.expression();
        return new Statement.Prepare(reader.since(first), name, text);
    }

    /** {@code EXECUTE IMMEDIATE text} or {@code EXECUTE name [INTO …] [USING …]}. */
    private Statement execute() {
        Token first = reader.take();
        if (reader.accept("IMMEDIATE")) {
            Expression text = expressions.expression();
            return new Statement.ExecuteImmediate(reader.since(first), text);
        }
        Name name = reader.name("a prepared statement");
        List<Statement.Target> targets = reader.accept("INTO") ? targets() : List.of();
        List<Expression> values = using();
        return new Statement.Execute(reader.since(first), name, targets, values);
    }

    /** {@code FETCH [[orientation] FROM] cursor INTO targets}. */
    private Statement fetch() {
        Token first = reader.take();
        String orientation = "NEXT";
        Optional<Expression> offset = Optional.empty();
        if (reader.seesAny("NEXT", "PRIOR", "FIRST", "LAST", "ABSOLUTE", "RELATIVE")
                && !reader.peek(1).is("INTO")) {
            orientation = reader.take().text();
            if (orientation.equals("ABSOLUTE") || orientation.equals("RELATIVE")) {
                offset = Optional.of(expressions.expression());
            }
        }
        reader.accept("FROM");
        Name cursor = reader.name("a cursor");
        reader.expect("INTO", "after the cursor of FETCH");
        List<Statement.Target> targets = targets();
        return new Statement.Fetch(reader.since(first), orientation, offset, cursor, targets);
    }
}
