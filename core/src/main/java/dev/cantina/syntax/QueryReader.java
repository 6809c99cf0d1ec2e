package dev.cantina.syntax;

import dev.cantina.syntax.SqlText.NameUse;
import dev.cantina.syntax.SqlText.Role;
import dev.cantina.syntax.SqlText.TableUse;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** Reads queries (ISO 9075-2, 7.12 to 7.17). */
final class QueryReader {
    private static final int DEEPEST = 200;

    private static final Set<String> AFTER_QUERY =
            Set.of("UNION", "EXCEPT", "INTERSECT", "ORDER", "FETCH", "LIMIT", "OFFSET");

    private static final Set<String> AFTER_VALUES =
            Set.of("ORDER", "LIMIT", "OFFSET", "FETCH", "UNION", "EXCEPT", "INTERSECT");

    private static final Set<String> AFTER_ROW = ValueReader.union(AFTER_VALUES, Set.of(","));

    private static final Set<String> CLAUSE_OR_COMMA =
            ValueReader.union(ValueReader.CLAUSES, Set.of(","));

    private final SqlReader sql;
    private final TokenReader reader;

    QueryReader(SqlReader sql) {
        this.sql = sql;
        this.reader = sql.reader;
    }

    /** A query in brackets with its scope. */
    record Inner(SqlText.Scope scope, SqlStatement tree) {}

    /** What stands behind the rows of a VALUES and belongs to the INSERT around it. */
    static final class Tail {
        final List<Clause> clauses = new ArrayList<>();
    }

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

    /**
     * Whether brackets in brackets hold queries, and not a query that an expression begins with.
     */
    private boolean isWhole(int brackets) {
        int depth = 0;
        int open = brackets;
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
                // One of the first brackets ends here, and no later one.
                boolean first = depth < open;
                open = Math.min(open, depth);
                if (first && !next.is(")") && !AFTER_QUERY.contains(next.text())) {
                    return false;
                }
            } else if (token.is(";")) {
                return true;
            }
        }
        return true;
    }

    boolean seesQuery() {
        return reader.seesAny("SELECT", "WITH", "VALUES")
                || reader.sees("TABLE") && TokenReader.isName(reader.peek(1))
                || seesBracketedQuery();
    }

    SqlStatement query(SqlScope scope) {
        Tail tail = new Tail();
        SqlStatement query = query(scope, tail);
        if (tail.clauses.isEmpty() || !(query instanceof Query whole)) {
            return query;
        }
        Span last = tail.clauses.get(tail.clauses.size() - 1).span();
        return new Query.Ordered(query.span().to(last), whole, tail.clauses);
    }

    /**
     * {@code query ::= [WITH …] operand { UNION | EXCEPT | INTERSECT [ALL] operand } [ORDER BY …]}.
     *
     * @param tail takes what follows the rows of VALUES and is no clause of a query
     */
    SqlStatement query(SqlScope scope, Tail tail) {
        reader.enter();
        Token first = reader.peek();
        if (!reader.accept("WITH")) {
            SqlStatement query = combined(scope, tail);
            reader.leave();
            return query;
        }
        boolean recursive = reader.accept("RECURSIVE");
        List<Query.CommonTable> tables = new ArrayList<>();
        do {
            tables.add(commonTable(scope));
        } while (reader.accept(","));
        SqlStatement body =
                TableReader.CHANGES.contains(reader.peek().text())
                                && reader.peek().kind() == Token.Kind.WORD
                        ? sql.changes.change(scope)
                        : combined(scope, tail);
        reader.leave();
        return new Query.With(reader.since(first), recursive, tables, body);
    }

    /** {@code name [(columns)] AS (query)}. */
    private Query.CommonTable commonTable(SqlScope scope) {
        Token start = reader.peek();
        Name name = reader.name("a common table expression");
        List<Name> columns = sql.tables.columnList();
        reader.expect("AS", "after the name of a common table expression");
        reader.accept("NOT");
        reader.accept("MATERIALIZED");
        Inner inner = child(scope);
        Span span = reader.since(start);
        scope.tables.add(
                new TableUse(
                        span,
                        List.of(),
                        Optional.of(name),
                        columns.isEmpty() ? inner.scope().outputs() : columns,
                        Role.READ,
                        false));
        return new Query.CommonTable(span, name, columns, inner.tree());
    }

    /** Queries put together; INTERSECT binds more than the others (ISO 9075-2, 7.17). */
    private Query combined(SqlScope scope, Tail tail) {
        SqlScope only = new SqlScope();
        Token first = reader.peek();
        Operand operand = operand(only, tail);
        scope.items.addAll(only.items);
        if (!seesSetOperator()) {
            // One operand only: it is the query, and what is known of it is known of the scope.
            scope.takeIn(only);
            return operand.whole(reader.since(first));
        }
        scope.outputs.addAll(only.outputs);
        scope.children.add(only.done(reader.since(first)));
        List<Query> operands = new ArrayList<>();
        List<Query.SetOperator> operators = new ArrayList<>();
        List<Boolean> all = new ArrayList<>();
        while (seesSetOperator()) {
            operands.add(operand.whole(operand.query().span()));
            operators.add(Query.SetOperator.valueOf(reader.take().text()));
            boolean keeps = reader.accept("ALL");
            if (!keeps) {
                reader.accept("DISTINCT");
            }
            all.add(keeps);
            SqlScope next = new SqlScope();
            Token start = reader.peek();
            operand = operand(next, tail);
            scope.children.add(next.done(reader.since(start)));
        }
        operands.add(operand.query());
        Query query = fold(operands, operators, all);
        return new Operand(query, operand.tail()).whole(reader.since(first));
    }

    private boolean seesSetOperator() {
        return reader.seesAny("UNION", "EXCEPT", "INTERSECT");
    }

    private static Query fold(
            List<Query> operands, List<Query.SetOperator> operators, List<Boolean> all) {
        for (int i = 0; i < operators.size(); ) {
            if (operators.get(i) == Query.SetOperator.INTERSECT) {
                join(operands, operators, all, i);
            } else {
                i++;
            }
        }
        while (!operators.isEmpty()) {
            join(operands, operators, all, 0);
        }
        return operands.get(0);
    }

    private static void join(
            List<Query> operands, List<Query.SetOperator> operators, List<Boolean> all, int at) {
        Query left = operands.get(at);
        Query right = operands.remove(at + 1);
        Span span = left.span().to(right.span());
        operands.set(
                at, new Query.Combined(span, operators.remove(at), all.remove(at), left, right));
    }

    /**
     * One of the queries that are put together.
     *
     * @param tail the clauses behind it, which are those of the whole where it is the last
     */
    private record Operand(Query query, List<Clause> tail) {
        Query whole(Span span) {
            return tail.isEmpty() ? query : new Query.Ordered(span, query, tail);
        }
    }

    private Operand operand(SqlScope scope, Tail tail) {
        Token first = reader.peek();
        if (reader.sees("(")) {
            Inner inner = child(scope);
            scope.outputs.addAll(inner.scope().outputs());
            Query query = new Query.Bracketed(reader.since(first), inner.tree());
            return new Operand(query, clauses(scope));
        }
        if (reader.accept("VALUES")) {
            List<List<SqlValue>> rows = rows(scope, tail);
            Query query = new Query.Values(reader.since(first), rows);
            return new Operand(query, clauses(scope));
        }
        if (reader.accept("TABLE")) {
            List<TableSource> tables = sql.tables.tables(scope, true);
            Query query = new Query.OfTable(reader.since(first), tables);
            return new Operand(query, clauses(scope));
        }
        reader.expect("SELECT", "at the start of a query");
        boolean distinct = false;
        if (!reader.accept("ALL")) {
            distinct = reader.accept("DISTINCT");
            scope.grouped = distinct;
        }
        List<Query.Item> items = selectList(scope);
        List<Clause> all = clauses(scope);
        int own = 0;
        while (own < all.size() && isOfSelect(all.get(own))) {
            own++;
        }
        Span last = own == 0 ? items.get(items.size() - 1).span() : all.get(own - 1).span();
        Span span = reader.spanOf(first).to(last);
        Query select = new Query.Select(span, distinct, items, all.subList(0, own));
        return new Operand(select, all.subList(own, all.size()));
    }

    /** Whether a clause belongs to a SELECT, and not to the query as a whole. */
    private static boolean isOfSelect(Clause clause) {
        return !(clause instanceof Clause.OrderBy
                || clause instanceof Clause.Offset
                || clause instanceof Clause.Fetch
                || clause instanceof Clause.Locking);
    }

    private List<List<SqlValue>> rows(SqlScope scope, Tail tail) {
        List<List<SqlValue>> rows = new ArrayList<>();
        do {
            rows.add(
                    reader.sees("(")
                            ? sql.values.row(scope)
                            : List.of(sql.values.value(scope, AFTER_ROW)));
        } while (reader.accept(","));
        Token more = reader.peek();
        if (reader.accept("RETURNING")) {
            tail.clauses.add(returning(scope, more));
            return rows;
        }
        int behind = reader.position();
        sql.values.region(scope, AFTER_VALUES, false, true);
        if (reader.position() > behind) {
            tail.clauses.add(sql.opaque(reader.since(more)));
        }
        return rows;
    }

    private Clause returning(SqlScope scope, Token word) {
        List<Query.Item> items = new ArrayList<>();
        do {
            Token first = reader.peek();
            int from = reader.position();
            Token naming = sql.values.region(scope, CLAUSE_OR_COMMA, false, false);
            items.add(item(first, from, naming));
        } while (reader.accept(","));
        return new Clause.Returning(reader.since(word), items);
    }

    private Query.Item item(Token first, int from, Token naming) {
        int end = sql.values.valueEnd();
        boolean aliased = end < reader.position() && naming != null;
        Optional<Name> alias = aliased ? Optional.of(reader.nameOf(naming)) : Optional.empty();
        return new Query.Item(reader.since(first), sql.value(from, end), alias);
    }

    private List<Query.Item> selectList(SqlScope scope) {
        List<Query.Item> items = new ArrayList<>();
        do {
            Token first = reader.peek();
            int from = reader.position();
            Token naming = sql.values.region(scope, ValueReader.CLAUSES, true, false);
            if (naming != null) {
                scope.outputs.add(reader.nameOf(naming));
            }
            scope.items.add(reader.since(first));
            items.add(item(first, from, naming));
        } while (reader.accept(","));
        return items;
    }

    /** The clauses of a query or a change, in whatever order they stand. */
    List<Clause> clauses(SqlScope scope) {
        List<Clause> all = new ArrayList<>();
        while (!sql.atStop() && !seesSetOperator()) {
            Token first = reader.peek();
            if (reader.accept("FROM")) {
                scope.from = first.start();
                List<TableSource> tables = sql.tables.tables(scope, true);
                all.add(new Clause.From(reader.since(first), tables));
            } else if (reader.sees("INTO")) {
                all.add(sql.intoClause());
            } else if (reader.accept("FOR", "READ", "ONLY")) {
                all.add(new Clause.Locking(reader.since(first)));
            } else if (reader.accept("WINDOW")) {
                all.add(windows(scope, first));
            } else if (reader.accept("ORDER")) {
                all.add(orderBy(scope, first));
            } else if (reader.accept("WHERE")) {
                all.add(where(scope, first));
            } else if (reader.seesAny("GROUP", "HAVING")) {
                scope.grouped = true;
                all.add(reader.accept("GROUP") ? groupBy(scope, first) : having(scope));
            } else if (reader.seesAny("OFFSET", "FETCH", "LIMIT")) {
                all.add(count(scope));
            } else {
                all.add(other(scope));
            }
        }
        return all;
    }

    private Clause where(SqlScope scope, Token first) {
        if (reader.sees("CURRENT", "OF")) {
            return sql.currentOf(first);
        }
        SqlValue condition = sql.values.value(scope, ValueReader.CLAUSES);
        return new Clause.Where(reader.since(first), condition);
    }

    private Clause having(SqlScope scope) {
        Token first = reader.take();
        SqlValue condition = sql.values.value(scope, ValueReader.CLAUSES);
        return new Clause.Having(reader.since(first), condition);
    }

    private Clause groupBy(SqlScope scope, Token first) {
        reader.accept("BY");
        List<SqlValue> values = new ArrayList<>();
        do {
            values.add(sql.values.value(scope, CLAUSE_OR_COMMA));
        } while (reader.accept(","));
        return new Clause.GroupBy(reader.since(first), values);
    }

    private Clause orderBy(SqlScope scope, Token first) {
        int before = scope.names.size();
        reader.accept("BY");
        List<Clause.SortKey> keys = new ArrayList<>();
        do {
            keys.add(sortKey(scope));
        } while (reader.accept(","));
        for (int i = before; i < scope.names.size(); i++) {
            NameUse use = scope.names.get(i);
            scope.names.set(i, new NameUse(use.span(), use.names(), use.use(), true));
        }
        return new Clause.OrderBy(reader.since(first), keys);
    }

    /** {@code value [ASC | DESC] [NULLS {FIRST | LAST}]}. */
    private Clause.SortKey sortKey(SqlScope scope) {
        Token first = reader.peek();
        int from = reader.position();
        sql.values.region(scope, CLAUSE_OR_COMMA);
        int end = reader.position();
        Optional<Boolean> nulls = Optional.empty();
        if (end - from > 2 && back(end, 2).is("NULLS")) {
            nulls = Optional.of(back(end, 1).is("FIRST"));
            end -= 2;
        }
        boolean descending = end - from > 1 && back(end, 1).is("DESC");
        if (descending || end - from > 1 && back(end, 1).is("ASC")) {
            end--;
        }
        Span span = reader.since(first);
        return new Clause.SortKey(span, sql.value(from, end), descending, nulls);
    }

    private Token back(int end, int tokens) {
        return reader.peek(end - tokens - reader.position());
    }

    /** OFFSET, FETCH or LIMIT. */
    private Clause count(SqlScope scope) {
        Token first = reader.take();
        int from = reader.position();
        sql.values.region(scope, ValueReader.CLAUSES);
        int end = reader.position();
        Span span = reader.since(first);
        if (first.is("FETCH")) {
            return fetch(span, from, end);
        }
        if (first.is("OFFSET")) {
            boolean rows = end - from > 1 && isRows(back(end, 1));
            return new Clause.Offset(span, sql.value(from, rows ? end - 1 : end));
        }
        // LIMIT with two numbers, or WITH TIES, is more than a count.
        return end - from == 1
                ? new Clause.Fetch(span, Optional.of(sql.value(from, end)), true)
                : sql.opaque(span);
    }

    private static boolean isRows(Token token) {
        return token.is("ROW") || token.is("ROWS");
    }

    /** {@code FETCH {FIRST | NEXT} [count [PERCENT]] {ROW | ROWS} {ONLY | WITH TIES}}. */
    private Clause fetch(Span span, int from, int end) {
        boolean ties = end - from > 3 && back(end, 1).is("TIES");
        int rows = end - (ties ? 3 : 2);
        boolean known =
                rows > from
                        && isRows(back(rows + 1, 1))
                        && (ties || back(end, 1).is("ONLY"))
                        && (back(from + 1, 1).is("FIRST") || back(from + 1, 1).is("NEXT"));
        if (!known) {
            return sql.opaque(span);
        }
        boolean percent = back(rows, 1).is("PERCENT");
        int stop = percent ? rows - 1 : rows;
        Optional<SqlValue> count =
                stop > from + 1 ? Optional.of(sql.value(from + 1, stop)) : Optional.empty();
        return new Clause.Fetch(span, count, !ties && !percent);
    }

    /** A clause of another kind, FOR UPDATE and RETURNING among them. */
    private Clause other(SqlScope scope) {
        Token first = reader.peek();
        if (reader.accept("RETURNING")) {
            return returning(scope, first);
        }
        if (isClause(first)) {
            reader.take();
        }
        int before = reader.position();
        sql.values.region(scope, ValueReader.CLAUSES);
        if (reader.position() == before && !sql.atStop() && !isClause(reader.peek())) {
            sql.values.name(scope, reader.take());
        }
        Span span = reader.since(first);
        if (first.is("FOR")) {
            return new Clause.Locking(span);
        }
        return sql.opaque(span);
    }

    static boolean isClause(Token token) {
        return token.kind() == Token.Kind.WORD && ValueReader.CLAUSES.contains(token.text());
    }

    /** {@code WINDOW name AS (…) , …}. */
    private Clause windows(SqlScope scope, Token first) {
        List<SqlValue> all = new ArrayList<>();
        do {
            if (TokenReader.isName(reader.peek()) && reader.peek(1).is("AS")) {
                sql.notes().labels.add(reader.nameOf(reader.take()));
                reader.take();
            }
            sql.values.window();
            all.add(sql.values.value(scope, CLAUSE_OR_COMMA));
        } while (reader.accept(","));
        return new Clause.Windows(reader.since(first), all);
    }

    /** A bracketed query with a scope of its own. */
    Inner child(SqlScope scope) {
        Token open = reader.expect("(", "before a query");
        SqlScope inner = new SqlScope();
        String outer = sql.endAtBracket();
        Token first = reader.peek();
        SqlStatement tree = sql.unread(reader.spanOf(first));
        if (seesQuery()) {
            tree = more(query(inner), clauses(inner));
        } else if (TableReader.CHANGES.contains(first.text())) {
            tree = sql.changes.change(inner);
            if (!clauses(inner).isEmpty()) {
                tree = sql.unread(reader.since(first));
            }
        }
        tree = sql.rest(inner, tree);
        sql.endAt(outer);
        Span within = reader.since(first);
        reader.expect(")", "to close the bracket opened before it");
        SqlText.Scope done = inner.done(reader.since(open));
        scope.children.add(done);
        SqlText text = SqlText.nested(within, first.text(), done, inner.items, tree);
        sql.nested(first.start(), text);
        return new Inner(done, tree);
    }

    private SqlStatement more(SqlStatement query, List<Clause> clauses) {
        if (clauses.isEmpty()) {
            return query;
        }
        Span span = query.span().to(clauses.get(clauses.size() - 1).span());
        return query instanceof Query read
                ? new Query.Ordered(span, read, clauses)
                : sql.unread(span);
    }
}
