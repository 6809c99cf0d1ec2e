package dev.cantina.syntax;

import dev.cantina.syntax.SqlText.NameUse;
import dev.cantina.syntax.SqlText.Role;
import dev.cantina.syntax.SqlText.Scope;
import dev.cantina.syntax.SqlText.TableUse;
import dev.cantina.syntax.SqlText.Use;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.Set;
import java.util.function.BooleanSupplier;

/**
 * Reads SQL statements tolerantly: it follows the shape of queries and changes well enough to find
 * each table, scope and name, and lets everything else stand as written. It refuses nothing but
 * brackets that do not close.
 */
final class SqlReader {
    /** Words that are never a name in a statement, beside the reserved ones. */
    private static final Set<String> KEYWORDS =
            Set.of(
                    ("SOME ASC DESC NULLS FIRST LAST LIMIT ONLY ROWS ROW NEXT WINDOW OVER "
                                    + "PARTITION RETURNING CONFLICT NOTHING MATCHED LATERAL UNNEST ESCAPE "
                                    + "SYMMETRIC RECURSIVE FILTER WITHIN INTERVAL CURRENT_DATE CURRENT_TIME "
                                    + "CURRENT_TIMESTAMP LOCALTIME LOCALTIMESTAMP CURRENT_USER OVERRIDING "
                                    + "PRECEDING FOLLOWING UNBOUNDED EXTRACT COLLATE ROLLUP CUBE IGNORE "
                                    + "RESPECT QUALIFY TABLESAMPLE PLACING BOTH LEADING TRAILING OF NO KEY "
                                    + "LOCKED WAIT NOWAIT SKIP SHARE PERCENT TIES OVERLAPS")
                            .split(" "));

    private static final Set<String> CLAUSES =
            Set.of(
                    ("FROM WHERE GROUP HAVING ORDER LIMIT OFFSET FETCH UNION EXCEPT "
                                    + "INTERSECT WINDOW FOR SELECT SET VALUES RETURNING QUALIFY INTO WHEN "
                                    + "USING ON")
                            .split(" "));
    private static final Set<String> COMMA = Set.of(",");

    private static final Set<String> BEFORE_VALUE =
            Set.of("(", ",", "=", "<>", "<", ">", "<=", ">=", "+", "-", "*", "/", "||");

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

    private static final Set<String> AFTER_FROM =
            Set.of(
                    ("WHERE GROUP HAVING ORDER LIMIT OFFSET FETCH UNION EXCEPT INTERSECT "
                                    + "WINDOW FOR RETURNING QUALIFY SET WHEN INTO ON USING")
                            .split(" "));
    private static final Set<String> JOINS =
            Set.of("JOIN", "INNER", "LEFT", "RIGHT", "FULL", "CROSS", "NATURAL");

    private static final Set<String> MOMENTS =
            Set.of(
                    "CURRENT_DATE",
                    "CURRENT_TIME",
                    "CURRENT_TIMESTAMP",
                    "LOCALTIME",
                    "LOCALTIMESTAMP");

    private final TokenReader reader;

    SqlReader(TokenReader reader) {
        this.reader = reader;
    }

    /** A scope while it is being read. */
    private static final class Draft {
        final List<TableUse> tables = new ArrayList<>();
        final List<NameUse> names = new ArrayList<>();
        final List<Name> outputs = new ArrayList<>();
        final List<Scope> children = new ArrayList<>();

        /** Where FROM stands; -1 where there is none, or where its rows are not a table's own. */
        int from = -1;

        boolean grouped;

        /** The values of its select list. */
        final List<Span> items = new ArrayList<>();

        Scope done(Span span) {
            return new Scope(span, tables, names, outputs, children);
        }
    }

    /** Where a reading ends, beside the end of the text and a closing bracket. */
    private String end = ";";

    private Optional<Span> into = Optional.empty();
    private List<SqlText.Edit> edits = new ArrayList<>();
    private List<SqlText.Call> calls = new ArrayList<>();
    private List<Name> labels = new ArrayList<>();

    /** The function whose bracket comes next. */
    private List<Name> called = List.of();

    private Optional<SqlText.Positioned> positioned = Optional.empty();
    private BooleanSupplier intoReader = () -> false;

    boolean seesBracketedQuery() {
        int ahead = 0;
        while (ahead < DEEPEST && reader.peek(ahead).is("(")) {
            ahead++;
        }
        Token token = reader.peek(ahead);
        boolean query =
                token.is("SELECT")
                        || token.is("VALUES")
                        || token.is("WITH")
                        || token.is("TABLE") && TokenReader.isName(reader.peek(ahead + 1));
        return ahead == 1 && query || ahead > 1 && query && isWhole(ahead);
    }

    private static final int DEEPEST = 200;

    /**
     * Whether brackets in brackets hold queries, and not a query that an expression begins with.
     */
    private boolean isWhole(int brackets) {
        int depth = 0;
        for (int ahead = 0; reader.peek(ahead).kind() != Token.Kind.END; ahead++) {
            Token token = reader.peek(ahead);
            if (token.is("(")) {
                depth++;
            } else if (token.is(")")) {
                depth--;
                Token next = reader.peek(ahead + 1);
                if (depth == 0) {
                    return true;
                }
                if (depth < brackets && !next.is(")") && !AFTER_QUERY.contains(next.text())) {
                    return false;
                }
            } else if (token.is(";")) {
                return true;
            }
        }
        return true;
    }

    private static final Set<String> AFTER_QUERY =
            Set.of("UNION", "EXCEPT", "INTERSECT", "ORDER", "FETCH", "LIMIT", "OFFSET");

    boolean seesQuery() {
        return reader.seesAny("SELECT", "WITH", "VALUES")
                || reader.sees("TABLE") && TokenReader.isName(reader.peek(1))
                || seesBracketedQuery();
    }

    /** A query up to {@code stop}, which is left standing. */
    SqlText query(String stop) {
        if (!seesQuery()) {
            throw reader.expected("a query", "");
        }
        return text(stop);
    }

    /** A whole statement up to its {@code ;}, which is left standing. */
    SqlText statement() {
        return text(";");
    }

    /**
     * A query with an INTO clause in its first SELECT.
     *
     * @param targets reads what stands after INTO and says whether that was wanted here
     */
    SqlText queryInto(BooleanSupplier targets) {
        BooleanSupplier outer = intoReader;
        intoReader = targets;
        into = Optional.empty();
        try {
            return text(";");
        } finally {
            intoReader = outer;
            into = Optional.empty();
        }
    }

    private SqlText text(String stop) {
        String outer = end;
        List<SqlText.Edit> outerEdits = edits;
        List<SqlText.Call> outerCalls = calls;
        List<Name> outerLabels = labels;
        end = stop;
        edits = new ArrayList<>();
        calls = new ArrayList<>();
        labels = new ArrayList<>();
        positioned = Optional.empty();
        Token first = reader.peek();
        Draft root = new Draft();
        try {
            switch (first.text()) {
                case "INSERT" -> insert(root);
                case "UPDATE" -> update(root);
                case "DELETE" -> delete(root);
                case "MERGE" -> merge(root);
                case "SELECT", "VALUES", "WITH", "TABLE", "(" -> query(root);
                default -> anything(root);
            }
            rest(root);
            Span span = reader.since(first);
            into.ifPresent(this::leaveOut);
            boolean ofOneTable =
                    first.is("SELECT")
                            && root.from >= 0
                            && !root.grouped
                            && root.tables.size() == 1
                            && root.tables.get(0).names().size() == 1;
            return new SqlText(
                    span,
                    first.text(),
                    root.done(span),
                    edits,
                    positioned,
                    calls,
                    root.items,
                    labels,
                    ofOneTable ? OptionalInt.of(root.from) : OptionalInt.empty());
        } finally {
            end = outer;
            edits = outerEdits;
            calls = outerCalls;
            labels = outerLabels;
        }
    }

    private void leaveOut(Span span) {
        edits.add(new SqlText.Edit(span, ""));
    }

    /** Whatever still stands before the end: read for its names, kept as it is. */
    private void rest(Draft scope) {
        while (!atStop()) {
            region(scope, Set.of());
            if (!atStop()) {
                name(scope, reader.take());
            }
        }
    }

    private boolean atStop() {
        return reader.atEnd() || reader.seesAny(")", ";") || reader.sees(end);
    }

    /** Statements of another kind, schema statements for one: nothing in them is resolved. */
    private void anything(Draft scope) {
        int depth = 0;
        while (!reader.atEnd() && !(depth == 0 && atStop()) && !reader.sees(";")) {
            Token token = reader.take();
            depth += token.is("(") ? 1 : token.is(")") ? -1 : 0;
        }
    }

    /** {@code query ::= [WITH …] arm { UNION | EXCEPT | INTERSECT [ALL] arm } [ORDER BY …]}. */
    private void query(Draft scope) {
        reader.enter();
        if (reader.accept("WITH")) {
            reader.accept("RECURSIVE");
            do {
                commonTable(scope);
            } while (reader.accept(","));
        }
        if (reader.seesAny("INSERT", "UPDATE", "DELETE", "MERGE")) {
            switch (reader.peek().text()) {
                case "INSERT" -> insert(scope);
                case "UPDATE" -> update(scope);
                case "DELETE" -> delete(scope);
                default -> merge(scope);
            }
            reader.leave();
            return;
        }
        Draft arm = new Draft();
        Token first = reader.peek();
        arm(arm);
        scope.items.addAll(arm.items);
        if (!reader.seesAny("UNION", "EXCEPT", "INTERSECT")) {
            // One arm only: it is the query, and what is known of it is known of the scope.
            scope.tables.addAll(arm.tables);
            scope.names.addAll(arm.names);
            scope.outputs.addAll(arm.outputs);
            scope.children.addAll(arm.children);
            scope.from = arm.from;
            scope.grouped = arm.grouped;
            reader.leave();
            return;
        }
        scope.outputs.addAll(arm.outputs);
        scope.children.add(arm.done(reader.since(first)));
        while (reader.seesAny("UNION", "EXCEPT", "INTERSECT")) {
            reader.take();
            if (!reader.accept("ALL")) {
                reader.accept("DISTINCT");
            }
            Draft next = new Draft();
            Token start = reader.peek();
            arm(next);
            scope.children.add(next.done(reader.since(start)));
        }
        reader.leave();
    }

    /** {@code name [(columns)] AS (query)}. */
    private void commonTable(Draft scope) {
        Token start = reader.peek();
        Name name = reader.name("a common table expression");
        List<Name> columns = columnList();
        reader.expect("AS", "after the name of a common table expression");
        reader.accept("NOT");
        reader.accept("MATERIALIZED");
        Scope body = child(scope);
        if (columns.isEmpty()) {
            columns = body.outputs();
        }
        scope.tables.add(
                new TableUse(
                        reader.since(start),
                        List.of(),
                        Optional.of(name),
                        columns,
                        Role.READ,
                        false));
    }

    private void arm(Draft scope) {
        if (reader.sees("(")) {
            Scope inner = child(scope);
            scope.outputs.addAll(inner.outputs());
        } else if (reader.accept("VALUES")) {
            region(
                    scope,
                    Set.of("ORDER", "LIMIT", "OFFSET", "FETCH", "UNION", "EXCEPT", "INTERSECT"));
        } else if (reader.accept("TABLE")) {
            tables(scope, true);
        } else {
            reader.expect("SELECT", "at the start of a query");
            if (!reader.accept("ALL")) {
                scope.grouped = reader.accept("DISTINCT");
            }
            selectList(scope);
        }
        clauses(scope);
    }

    private void selectList(Draft scope) {
        do {
            Token first = reader.peek();
            Token last = region(scope, CLAUSES, true);
            if (last != null) {
                scope.outputs.add(reader.nameOf(last));
            }
            scope.items.add(reader.since(first));
        } while (reader.accept(","));
    }

    private void clauses(Draft scope) {
        while (!atStop()) {
            if (reader.seesAny("UNION", "EXCEPT", "INTERSECT")) {
                return;
            } else if (reader.sees("FROM")) {
                scope.from = reader.take().start();
                tables(scope, true);
            } else if (reader.sees("INTO")) {
                intoClause();
            } else if (reader.accept("FOR", "READ", "ONLY")) {
                continue;
            } else if (reader.accept("WINDOW")) {
                windows(scope);
            } else if (reader.accept("ORDER")) {
                int before = scope.names.size();
                region(scope, CLAUSES);
                for (int i = before; i < scope.names.size(); i++) {
                    NameUse use = scope.names.get(i);
                    scope.names.set(i, new NameUse(use.span(), use.names(), use.use(), true));
                }
            } else if (reader.accept("WHERE") && reader.sees("CURRENT", "OF")) {
                Token current = reader.take();
                reader.take();
                Name cursor = reader.name("a cursor");
                positioned = Optional.of(new SqlText.Positioned(reader.since(current), cursor));
            } else {
                scope.grouped |= reader.seesAny("GROUP", "HAVING");
                if (CLAUSES.contains(reader.peek().text())) {
                    reader.take();
                }
                int before = reader.position();
                region(scope, CLAUSES);
                if (reader.position() == before && !atStop() && !isClause(reader.peek())) {
                    name(scope, reader.take());
                }
            }
        }
    }

    /** {@code WINDOW name AS (…) , …}. */
    private void windows(Draft scope) {
        do {
            if (TokenReader.isName(reader.peek()) && reader.peek(1).is("AS")) {
                labels.add(reader.nameOf(reader.take()));
                reader.take();
            }
            window();
            region(scope, WINDOW_END);
        } while (reader.accept(","));
    }

    private static final Set<String> WINDOW_END = union(CLAUSES, Set.of(","));

    /** Where a window begins: the name of another one is none of a value. */
    private void window() {
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

    /** Where the name of a window stands. */
    private int label = -1;

    private static boolean isClause(Token token) {
        return token.kind() == Token.Kind.WORD && CLAUSES.contains(token.text());
    }

    private void intoClause() {
        Token word = reader.take();
        if (!intoReader.getAsBoolean()) {
            throw reader.failure(
                    word,
                    "INTO stands only in the outermost SELECT of a statement",
                    "take the value with SET v = (SELECT …)");
        }
        if (into.isPresent()) {
            throw reader.failure(word, "a second INTO in one statement", "keep one of them");
        }
        into = Optional.of(reader.since(word));
    }

    /** A bracketed query with a scope of its own. */
    private Scope child(Draft scope) {
        Token open = reader.expect("(", "before a query");
        Draft inner = new Draft();
        String outer = end;
        end = ")";
        if (seesQuery() || CHANGES.contains(reader.peek().text())) {
            query(inner);
            clauses(inner);
        }
        rest(inner);
        end = outer;
        reader.expect(")", "to close the bracket opened before it");
        Scope done = inner.done(reader.since(open));
        scope.children.add(done);
        return done;
    }

    /** {@code tables ::= table { , table | join table [ON … | USING (…)] }}. */
    private void tables(Draft scope, boolean visible) {
        do {
            table(scope, visible);
            while (reader.peek().kind() == Token.Kind.WORD
                    && JOINS.contains(reader.peek().text())) {
                while (reader.seesAny(
                        "NATURAL", "INNER", "LEFT", "RIGHT", "FULL", "CROSS", "OUTER")) {
                    reader.take();
                }
                reader.expect("JOIN", "between two tables");
                table(scope, visible);
                if (reader.accept("ON")) {
                    region(scope, JOIN_END);
                } else if (reader.accept("USING")) {
                    labels.addAll(columnList());
                }
            }
        } while (reader.accept(","));
    }

    private static final Set<String> JOIN_END = union(AFTER_FROM, JOINS, Set.of(","));

    @SafeVarargs
    private static Set<String> union(Set<String>... sets) {
        Set<String> all = new java.util.HashSet<>();
        for (Set<String> set : sets) {
            all.addAll(set);
        }
        return Set.copyOf(all);
    }

    private void table(Draft scope, boolean visible) {
        Token start = reader.peek();
        reader.accept("LATERAL");
        reader.accept("ONLY");
        if (reader.sees("(")) {
            if (seesBracketedQuery()) {
                Scope inner = child(scope);
                derived(scope, start, inner.outputs(), visible);
            } else {
                reader.take();
                tables(scope, visible);
                reader.expect(")", "after the joined tables");
            }
            return;
        }
        if (reader.seesAny("FINAL", "NEW", "OLD")
                && reader.peek(1).is("TABLE")
                && reader.peek(2).is("(")
                && CHANGES.contains(reader.peek(3).text())) {
            delta(scope, start, visible);
            return;
        }
        if (reader.sees("TABLE", "(")
                && TokenReader.isName(reader.peek(2))
                && (reader.peek(3).is("(") || reader.peek(3).is("."))) {
            // ISO 9075-2, 7.6: TABLE (f(…)); the database is asked for f(…).
            reader.take();
            reader.take();
            leaveOut(reader.since(start));
            List<Name> function = qualified("a function");
            call(scope, start, function);
            Token close = reader.expect(")", "after the function of TABLE");
            leaveOut(reader.spanOf(close));
            functionTable(scope, start, function, visible);
            return;
        }
        boolean tableFunction = reader.accept("TABLE") || reader.accept("UNNEST");
        if (tableFunction) {
            bracket(scope);
            derived(scope, start, List.of(), visible);
            return;
        }
        List<Name> names = new ArrayList<>();
        names.add(reader.name("a table"));
        while (reader.accept(".")) {
            names.add(reader.name("a table"));
        }
        if (reader.sees("(")) {
            call(scope, start, names);
            functionTable(scope, start, names, visible);
            return;
        }
        target(scope, start, names, Role.READ, visible);
    }

    private static final Set<String> CHANGES = Set.of("INSERT", "UPDATE", "DELETE", "MERGE");

    /** {@code {FINAL | NEW | OLD} TABLE (change) [[AS] alias]} (ISO 9075-2, 7.6). */
    private void delta(Draft scope, Token start, boolean visible) {
        reader.take();
        reader.take();
        Scope inner = child(scope);
        List<Name> changed =
                inner.tables().stream()
                        .filter(t -> t.role() != Role.READ)
                        .map(TableUse::names)
                        .findFirst()
                        .orElse(List.of());
        Optional<Name> alias = alias();
        // Its rows stand for no row that could be changed through a cursor.
        scope.grouped = true;
        scope.tables.add(
                new TableUse(reader.since(start), changed, alias, List.of(), Role.READ, visible));
    }

    private void call(Draft scope, Token start, List<Name> function) {
        Span first = function.get(0).span();
        Span last = function.get(function.size() - 1).span();
        Span span = new Span(first.source(), first.start(), last.end());
        scope.names.add(new NameUse(span, function, Use.CALL, false));
        called = function;
        bracket(scope);
    }

    private void functionTable(Draft scope, Token start, List<Name> function, boolean visible) {
        Optional<Name> alias = alias();
        List<Name> columns = alias.isPresent() ? columnList() : List.of();
        Span span = reader.since(start);
        scope.tables.add(
                new TableUse(span, List.of(), alias, columns, Role.READ, visible, function));
    }

    private void derived(Draft scope, Token start, List<Name> outputs, boolean visible) {
        Optional<Name> alias = alias();
        List<Name> columns = alias.isPresent() ? columnList() : List.of();
        scope.tables.add(
                new TableUse(
                        reader.since(start),
                        List.of(),
                        alias,
                        columns.isEmpty() ? outputs : columns,
                        Role.READ,
                        visible));
    }

    private void target(Draft scope, Token start, List<Name> names, Role role, boolean visible) {
        Optional<Name> alias = alias();
        List<Name> columns =
                alias.isPresent() && role == Role.READ ? columnList() : List.<Name>of();
        scope.tables.add(new TableUse(reader.since(start), names, alias, columns, role, visible));
    }

    private Optional<Name> alias() {
        if (reader.accept("AS")) {
            return Optional.of(reader.name("an alias"));
        }
        Token token = reader.peek();
        boolean free =
                token.kind() == Token.Kind.DELIMITED
                        || token.kind() == Token.Kind.WORD
                                && !TokenReader.isReserved(token.text())
                                && !KEYWORDS.contains(token.text());
        return free ? Optional.of(reader.nameOf(reader.take())) : Optional.empty();
    }

    private List<Name> columnList() {
        if (!reader.accept("(")) {
            return List.of();
        }
        List<Name> names = new ArrayList<>();
        do {
            names.add(reader.name("a column"));
        } while (reader.accept(","));
        reader.expect(")", "after the columns");
        return names;
    }

    /** {@code INSERT INTO table [(columns)] {VALUES … | query | DEFAULT VALUES}}. */
    private void insert(Draft scope) {
        reader.take();
        reader.expect("INTO", "after INSERT");
        Token start = reader.peek();
        List<Name> table = qualified("a table");
        target(scope, start, table, Role.INSERT, false);
        if (reader.sees("(") && !seesBracketedQuery()) {
            for (Name column : columnList()) {
                scope.names.add(new NameUse(column.span(), List.of(column), Use.TARGET, false));
            }
        }
        if (reader.accept("OVERRIDING")) {
            reader.take();
            reader.expect("VALUE", "after OVERRIDING");
        }
        if (seesQuery()) {
            Draft inner = new Draft();
            Token first = reader.peek();
            query(inner);
            scope.children.add(inner.done(reader.since(first)));
        }
    }

    private List<Name> qualified(String what) {
        List<Name> names = new ArrayList<>();
        names.add(reader.name(what));
        while (reader.accept(".")) {
            names.add(reader.name(what));
        }
        return names;
    }

    /** {@code UPDATE table [AS alias] SET … [FROM …] [WHERE …]}. */
    private void update(Draft scope) {
        reader.take();
        Token start = reader.peek();
        target(scope, start, qualified("a table"), Role.UPDATE, true);
        reader.expect("SET", "in UPDATE");
        assignments(scope);
        clauses(scope);
    }

    private void assignments(Draft scope) {
        do {
            if (reader.accept("(")) {
                do {
                    assigned(scope);
                } while (reader.accept(","));
                reader.expect(")", "after the columns");
            } else {
                assigned(scope);
            }
            reader.expect("=", "after the column that is set");
            region(scope, ASSIGNMENT_END);
        } while (reader.accept(","));
    }

    private static final Set<String> ASSIGNMENT_END = union(CLAUSES, Set.of(","));

    private void assigned(Draft scope) {
        Token start = reader.peek();
        List<Name> names = qualified("a column");
        scope.names.add(new NameUse(reader.since(start), names, Use.TARGET, false));
    }

    /** {@code DELETE FROM table [AS alias] [WHERE …]}. */
    private void delete(Draft scope) {
        reader.take();
        reader.expect("FROM", "after DELETE");
        Token start = reader.peek();
        target(scope, start, qualified("a table"), Role.DELETE, true);
        clauses(scope);
    }

    /** {@code MERGE INTO table [AS alias] USING table ON … { WHEN … THEN … }}. */
    private void merge(Draft scope) {
        reader.take();
        reader.expect("INTO", "after MERGE");
        Token start = reader.peek();
        target(scope, start, qualified("a table"), Role.MERGE, true);
        if (reader.accept("USING")) {
            table(scope, true);
            reader.expect("ON", "in MERGE");
            region(scope, Set.of("WHEN"));
        }
        while (reader.accept("WHEN")) {
            region(scope, Set.of("THEN"));
            reader.expect("THEN", "in MERGE");
            if (reader.accept("UPDATE")) {
                reader.expect("SET", "in UPDATE");
                assignments(scope);
            } else if (reader.accept("INSERT")) {
                for (Name column : columnList()) {
                    scope.names.add(new NameUse(column.span(), List.of(column), Use.TARGET, false));
                }
                reader.expect("VALUES", "in INSERT");
                region(scope, Set.of("WHEN"));
            } else {
                reader.accept("DELETE");
                reader.accept("DO", "NOTHING");
            }
        }
    }

    private void region(Draft scope, Set<String> stops) {
        region(scope, stops, false);
    }

    /**
     * Reads values up to one of the stops, finding names and queries.
     *
     * @param item whether this is an item of a select list, which a comma ends too
     * @return the token that names the item's value, where one does
     */
    private Token region(Draft scope, Set<String> stops, boolean item) {
        Token naming = null;
        boolean operand = false;
        int cases = 0;
        while (!atStop()) {
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
            if (operand && token.kind() == Token.Kind.WORD && token.is("OVER")) {
                reader.take();
                window();
                operand = false;
            } else if (reader.position() == label) {
                labels.add(reader.nameOf(reader.take()));
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
                }
                operand = true;
            } else if (token.isLiteral()) {
                reader.take();
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
                    // A word with a value on either side of it is an operator of some database.
                    if (seesValue() && !stops.contains(reader.peek().text())) {
                        naming = null;
                        operand = false;
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
        }
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
    private void overlaps(Draft scope, Token open) {
        Token word = reader.take();
        Span close = reader.spanOf(reader.peek(-2));
        Token second = reader.peek();
        bracket(scope);
        edits.add(new SqlText.Edit(reader.spanOf(open), "CANTINA_OVERLAPS(", true));
        Span between = close.to(reader.spanOf(word)).to(reader.spanOf(second));
        edits.add(new SqlText.Edit(between, ", ", true));
    }

    private void moment(Draft scope) {
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
                && (AFTER_VALUE.contains(next.text()) || BEFORE_VALUE.contains(next.text()))
                && !next.is("(");
    }

    /** A name with its qualifiers; the first token is taken already. Gives the last token. */
    private Token name(Draft scope, Token first) {
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
    private void bracket(Draft scope) {
        List<Name> function = called;
        called = List.of();
        if (seesBracketedQuery() && !reader.peek(1).is("(")) {
            child(scope);
            return;
        }
        reader.enter();
        reader.expect("(", "");
        String outer = end;
        end = ")";
        arguments(scope, function);
        end = outer;
        reader.expect(")", "to close the bracket opened before it");
        reader.leave();
    }

    private void arguments(Draft scope, List<Name> function) {
        List<SqlText.Argument> arguments = new ArrayList<>();
        int start = reader.peek().start();
        while (!reader.sees(")") && !reader.atEnd() && !reader.sees(";")) {
            Optional<Name> name = Optional.empty();
            if (TokenReader.isName(reader.peek()) && reader.peek(1).is("=>")) {
                name = Optional.of(reader.nameOf(reader.take()));
                reader.take();
            }
            Token value = reader.peek();
            region(scope, COMMA);
            arguments.add(new SqlText.Argument(name, reader.since(value)));
            reader.accept(",");
        }
        if (!function.isEmpty()) {
            Span between = reader.between(start, Math.max(start, reader.lastEnd()));
            calls.add(new SqlText.Call(between, function, arguments));
        }
    }
}
