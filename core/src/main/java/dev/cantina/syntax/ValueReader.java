package dev.cantina.syntax;

import dev.cantina.syntax.SqlText.NameUse;
import dev.cantina.syntax.SqlText.Use;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;

/** Reads values in data statements: finds the names and the queries in them, and where they end. */
final class ValueReader {
    /** Words that are never a name in a statement, beside the reserved ones. */
    static final Set<String> KEYWORDS =
            Set.of(
                    ("SOME ASC DESC NULLS FIRST LAST LIMIT ONLY ROWS ROW NEXT WINDOW OVER "
                                    + "PARTITION RETURNING CONFLICT NOTHING MATCHED LATERAL UNNEST ESCAPE "
                                    + "SYMMETRIC RECURSIVE FILTER WITHIN INTERVAL CURRENT_DATE CURRENT_TIME "
                                    + "CURRENT_TIMESTAMP LOCALTIME LOCALTIMESTAMP CURRENT_USER OVERRIDING "
                                    + "PRECEDING FOLLOWING UNBOUNDED EXTRACT COLLATE ROLLUP CUBE IGNORE "
                                    + "RESPECT QUALIFY TABLESAMPLE PLACING BOTH LEADING TRAILING OF NO KEY "
                                    + "LOCKED WAIT NOWAIT SKIP SHARE PERCENT TIES OVERLAPS")
                            .split(" "));

    static final Set<String> CLAUSES =
            Set.of(
                    ("FROM WHERE GROUP HAVING ORDER LIMIT OFFSET FETCH UNION EXCEPT "
                                    + "INTERSECT WINDOW FOR SELECT SET VALUES RETURNING QUALIFY INTO WHEN "
                                    + "USING ON")
                            .split(" "));
    private static final Set<String> COMMA = Set.of(",");

    private static final Set<String> BEFORE_VALUE =
            Set.of("(", ",", "=", "<>", "<", ">", "<=", ">=", "+", "-", "*", "/", "||", "=>");

    /** Words that a value follows. */
    private static final Set<String> WORDS_BEFORE_VALUE =
            Set.of(
                    ("SELECT DISTINCT WHERE AND OR NOT ON CASE WHEN THEN ELSE BY BETWEEN LIKE SET"
                                    + " HAVING")
                            .split(" "));

    /** Keywords that may stand alone in a value's place. */
    private static final Set<String> NO_VALUES = Set.of("MATCHED");

    private static final Set<String> AFTER_VALUE =
            Set.of(
                    (") ; * AND OR IS THEN ELSE WHEN END FROM WHERE GROUP HAVING ORDER UNION FETCH FOR"
                                    + " AS ASC DESC IN LIKE NOT BETWEEN EXCEPT INTERSECT")
                            .split(" "));

    private static final Set<String> MOMENTS =
            Set.of(
                    "CURRENT_DATE",
                    "CURRENT_TIME",
                    "CURRENT_TIMESTAMP",
                    "LOCALTIME",
                    "LOCALTIMESTAMP");

    private final SqlReader sql;
    private final TokenReader reader;

    /** The function whose bracket comes next. */
    private List<Name> called = List.of();

    /** Where the name of a window stands. */
    private int label = -1;

    ValueReader(SqlReader sql) {
        this.sql = sql;
        this.reader = sql.reader;
    }

    @SafeVarargs
    static Set<String> union(Set<String>... sets) {
        Set<String> all = new HashSet<>();
        for (Set<String> set : sets) {
            all.addAll(set);
        }
        return Set.copyOf(all);
    }

    /** Says whose bracket comes next. */
    void callOf(List<Name> function) {
        called = function;
    }

    /** Where the value ended that was read last: an alias belongs to none. */
    private int valueEnd;

    int valueEnd() {
        return valueEnd;
    }

    /** A value up to one of the stops. */
    SqlValue value(SqlScope scope, Set<String> stops) {
        int from = reader.position();
        region(scope, stops);
        return sql.value(from, reader.position());
    }

    void region(SqlScope scope, Set<String> stops) {
        region(scope, stops, false, false);
    }

    /**
     * Reads values up to one of the stops, finding names and queries.
     *
     * @param item whether this is an item of a select list, which a comma ends too
     * @param valued whether a value stands right before it
     */
    Token region(SqlScope scope, Set<String> stops, boolean item, boolean valued) {
        Token naming = null;
        boolean operand = valued;
        int cases = 0;
        int value = reader.position();
        while (!sql.atStop()) {
            Token token = reader.peek();
            if (cases == 0
                    && (token.kind() == Token.Kind.WORD || token.is(","))
                    && stops.contains(token.text())
                    && !isDistinctFrom(token)) {
                break;
            }
            if (item && token.is(",")) {
                break;
            }
            naming = null;
            int before = reader.position();
            boolean named = false;
            if (operand && token.kind() == Token.Kind.WORD && token.is("OVER")) {
                reader.take();
                window();
                operand = false;
            } else if (reader.position() == label) {
                sql.notes().labels.add(reader.nameOf(reader.take()));
                operand = true;
            } else if (token.is("(")) {
                bracket(scope);
                if (reader.sees("OVERLAPS", "(")) {
                    overlaps(scope, token);
                }
                operand = true;
            } else if (token.is("AS")) {
                reader.take();
                if (TokenReader.isName(reader.peek())) {
                    naming = reader.take();
                    named = true;
                }
                operand = true;
            } else if (token.isLiteral()) {
                boolean interval = reader.peek(-1).is("INTERVAL");
                reader.take();
                while (interval && reader.seesAny(FIELDS)) {
                    reader.take();
                }
                operand = true;
            } else if (token.kind() == Token.Kind.SYMBOL) {
                reader.take();
                operand = token.is("]");
            } else if (MOMENTS.contains(token.text()) && token.kind() == Token.Kind.WORD) {
                moment(scope);
                operand = true;
            } else if (operand && operator()) {
                operand = false;
            } else if (isNameHere(token)) {
                if (operand) {
                    naming = reader.take();
                    named = true;
                    // A word with a value on either side of it is an operator of some database.
                    if (seesValue() && !stops.contains(reader.peek().text())) {
                        naming = null;
                        operand = false;
                        value = reader.position();
                        continue;
                    }
                } else {
                    naming = name(scope, reader.take());
                }
                operand = true;
            } else {
                reader.take();
                cases += token.is("CASE") ? 1 : token.is("END") && cases > 0 ? -1 : 0;
                operand =
                        token.is("END")
                                || token.is("NULL")
                                || token.is("TRUE")
                                || token.is("FALSE");
            }
            value = named ? before : reader.position();
        }
        valueEnd = value;
        return naming;
    }

    /**
     * Operators of several words that only one database or another has, or that are seldom seen.
     */
    private static final List<String[]> OPERATORS =
            List.of(
                    new String[] {"SIMILAR", "TO"},
                    new String[] {"AT", "TIME", "ZONE"},
                    new String[] {"MEMBER", "OF"},
                    new String[] {"SOUNDS", "LIKE"},
                    new String[] {"ILIKE"},
                    new String[] {"REGEXP"},
                    new String[] {"RLIKE"},
                    new String[] {"DIV"});

    private boolean operator() {
        return OPERATORS.stream().anyMatch(words -> reader.accept(words));
    }

    /** What an interval is counted in. */
    private static final String[] FIELDS = {
        "YEAR", "MONTH", "DAY", "HOUR", "MINUTE", "SECOND", "TO"
    };

    /** Whether a value begins here, and no clause. */
    private boolean seesValue() {
        Token token = reader.peek();
        return token.isLiteral() || isNameHere(token) && !KEYWORDS.contains(token.text());
    }

    /** Whether FROM here is that of {@code IS [NOT] DISTINCT FROM}, and begins no clause. */
    private boolean isDistinctFrom(Token token) {
        return token.is("FROM")
                && reader.peek(-1).is("DISTINCT")
                && (reader.peek(-2).is("IS") || reader.peek(-2).is("NOT"));
    }

    /** {@code (a, b) OVERLAPS (c, d)}, for which the database is given a function. */
    private void overlaps(SqlScope scope, Token open) {
        Token word = reader.take();
        Span close = reader.spanOf(reader.peek(-2));
        Token second = reader.peek();
        bracket(scope);
        sql.notes().edits.add(new SqlText.Edit(reader.spanOf(open), "CANTINA_OVERLAPS(", true));
        Span between = close.to(reader.spanOf(word)).to(reader.spanOf(second));
        sql.notes().edits.add(new SqlText.Edit(between, ", ", true));
    }

    private void moment(SqlScope scope) {
        Token word = reader.take();
        if (reader.sees("(") && reader.peek(1).kind() == Token.Kind.INTEGER) {
            reader.take();
            reader.take();
            reader.expect(")", "after the precision");
        }
        scope.names.add(
                new NameUse(reader.since(word), List.of(reader.nameOf(word)), Use.MOMENT, false));
    }

    private boolean isNameHere(Token token) {
        if (token.kind() == Token.Kind.DELIMITED) {
            return true;
        }
        if (token.kind() != Token.Kind.WORD) {
            return false;
        }
        if (reader.isReservedCall()) {
            return true;
        }
        if (TokenReader.isReserved(token.text())) {
            return false;
        }
        if (FRAMES.contains(token.text()) && seesFrame()) {
            return false;
        }
        // DATE '…' and its kin; and a word such as FIRST may be a name where a dot follows.
        Token next = reader.peek(1);
        if (next.is("FROM") && reader.peek(-1).is("(") && reader.peek(-2).is("EXTRACT")) {
            return false;
        }
        return next.kind() != Token.Kind.TEXT
                && (!KEYWORDS.contains(token.text()) || next.is(".") || standsAlone(next));
    }

    /** Whether {@code ROWS [BETWEEN] UNBOUNDED PRECEDING} and its like follow. */
    private boolean seesFrame() {
        Token bound = reader.peek(reader.peek(1).is("BETWEEN") ? 3 : 2);
        return bound.is("PRECEDING") || bound.is("FOLLOWING") || bound.is("ROW");
    }

    /** What the frame of a window begins with. */
    private static final Set<String> FRAMES = Set.of("ROWS", "RANGE", "GROUPS");

    /** Whether the word here is a value by itself, as no keyword is: {@code VALUES (no, 1)}. */
    private boolean standsAlone(Token next) {
        Token before = reader.peek(-1);
        boolean value =
                BEFORE_VALUE.contains(before.text())
                        || before.kind() == Token.Kind.WORD
                                && WORDS_BEFORE_VALUE.contains(before.text())
                                && !NO_VALUES.contains(reader.peek().text());
        return value
                && (next.is("(")
                        ? CALLABLE.contains(reader.peek().text())
                        : AFTER_VALUE.contains(next.text()) || BEFORE_VALUE.contains(next.text()));
    }

    /**
     * Keywords with which no value begins: where one could, and a bracket follows, one is called.
     */
    private static final Set<String> CALLABLE =
            Set.of(
                    ("SHARE PERCENT SKIP WAIT NOWAIT TIES LOCKED KEY NO OF NEXT FIRST LAST NULLS ASC"
                                    + " DESC NOTHING IGNORE RESPECT PRECEDING FOLLOWING UNBOUNDED"
                                    + " OVERRIDING CONFLICT RECURSIVE")
                            .split(" "));

    /** A name with its qualifiers; the first token is taken already. Gives the last token. */
    Token name(SqlScope scope, Token first) {
        if (first.kind() != Token.Kind.WORD && first.kind() != Token.Kind.DELIMITED) {
            return null;
        }
        List<Name> names = new ArrayList<>();
        names.add(reader.nameOf(first));
        Token last = first;
        while (reader.sees(".") && !reader.peek(1).is("*")) {
            reader.take();
            last = reader.take();
            names.add(reader.nameOf(last));
        }
        if (reader.accept(".")) {
            // r.* stands for the columns of a table, or the fields of a row variable.
            reader.take();
            names.add(new Name("*", true, reader.since(first)));
            last = null;
        }
        Use use = reader.sees("(") ? Use.CALL : Use.VALUE;
        scope.names.add(new NameUse(reader.since(first), names, use, false));
        called = use == Use.CALL ? names : List.of();
        return use == Use.CALL ? null : last;
    }

    /** A bracket: a query of its own, or values of the scope around it. */
    void bracket(SqlScope scope) {
        List<Name> function = called;
        called = List.of();
        boolean argument = !function.isEmpty() && reader.peek(1).is("(");
        if (sql.seesBracketedQuery() && !argument) {
            sql.queries.child(scope);
            return;
        }
        bracketed(scope, function, NOT_KEPT);
    }

    /** A row of VALUES in its brackets. */
    List<SqlValue> row(SqlScope scope) {
        called = List.of();
        if (sql.seesBracketedQuery() && !reader.peek(1).is("(")) {
            int from = reader.position();
            sql.queries.child(scope);
            return List.of(sql.value(from, reader.position()));
        }
        List<SqlValue> values = new ArrayList<>();
        bracketed(scope, List.of(), values::add);
        return values;
    }

    private static final Consumer<SqlValue> NOT_KEPT = value -> {};

    private void bracketed(SqlScope scope, List<Name> function, Consumer<SqlValue> values) {
        reader.enter();
        reader.expect("(", "");
        String outer = sql.endAtBracket();
        arguments(scope, function, values);
        sql.endAt(outer);
        reader.expect(")", "to close the bracket opened before it");
        reader.leave();
    }

    private void arguments(SqlScope scope, List<Name> function, Consumer<SqlValue> values) {
        List<SqlText.Argument> arguments = new ArrayList<>();
        int start = reader.peek().start();
        while (!reader.sees(")") && !reader.atEnd() && !reader.sees(";")) {
            Optional<Name> name = Optional.empty();
            if (TokenReader.isName(reader.peek()) && reader.peek(1).is("=>")) {
                name = Optional.of(reader.nameOf(reader.take()));
                reader.take();
            }
            Token value = reader.peek();
            int from = reader.position();
            region(scope, COMMA);
            if (values != NOT_KEPT) {
                values.accept(sql.value(from, reader.position()));
            }
            arguments.add(new SqlText.Argument(name, reader.since(value)));
            reader.accept(",");
        }
        if (!function.isEmpty()) {
            Span between = reader.between(start, Math.max(start, reader.lastEnd()));
            sql.notes().calls.add(new SqlText.Call(between, function, arguments));
        }
    }

    /** Where a window begins: the name of another one is none of a value. */
    void window() {
        int ahead = reader.sees("(") ? 1 : 0;
        Token name = reader.peek(ahead);
        Token next = reader.peek(ahead + 1);
        boolean word = name.kind() == Token.Kind.DELIMITED || isWindowName(name);
        if (word && (ahead == 0 || WINDOW_CLAUSES.contains(next.text()))) {
            label = reader.position() + ahead;
        }
    }

    private static boolean isWindowName(Token token) {
        return token.kind() == Token.Kind.WORD
                && !TokenReader.isReserved(token.text())
                && !WINDOW_CLAUSES.contains(token.text());
    }

    private static final Set<String> WINDOW_CLAUSES =
            Set.of("PARTITION", "ORDER", "ROWS", "RANGE", "GROUPS", ")");
}
