package dev.cantina.syntax;

import dev.cantina.syntax.SqlText.NameUse;
import dev.cantina.syntax.SqlText.Role;
import dev.cantina.syntax.SqlText.Use;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** Reads statements that change rows (ISO 9075-2, 14.9 to 14.15). */
final class ChangeReader {
    private static final Set<String> ASSIGNMENT_END =
            ValueReader.union(ValueReader.CLAUSES, Set.of(","));

    private final SqlReader sql;
    private final TokenReader reader;

    ChangeReader(SqlReader sql) {
        this.sql = sql;
        this.reader = sql.reader;
    }

    Change change(SqlScope scope) {
        return switch (reader.peek().text()) {
            case "INSERT" -> insert(scope);
            case "UPDATE" -> update(scope);
            case "DELETE" -> delete(scope);
            default -> merge(scope);
        };
    }

    /** {@code INSERT INTO table [(columns)] {VALUES … | query | DEFAULT VALUES}}. */
    private Change insert(SqlScope scope) {
        Token first = reader.take();
        reader.expect("INTO", "after INSERT");
        Token start = reader.peek();
        List<Name> table = sql.qualified("a table");
        sql.tables.target(scope, start, table, Role.INSERT, false);
        List<Name> columns = List.of();
        if (reader.sees("(") && !sql.seesBracketedQuery()) {
            columns = sql.tables.columnList();
            targets(scope, columns);
        }
        if (reader.accept("OVERRIDING")) {
            reader.take();
            reader.expect("VALUE", "after OVERRIDING");
        }
        Optional<Query> rows = Optional.empty();
        List<Clause> clauses = new ArrayList<>();
        if (sql.seesQuery()) {
            SqlScope inner = new SqlScope();
            Token begin = reader.peek();
            QueryReader.Tail tail = new QueryReader.Tail();
            SqlStatement query = sql.queries.query(inner, tail);
            scope.children.add(inner.done(reader.since(begin)));
            rows = query.query();
            clauses.addAll(tail.clauses);
            if (rows.isEmpty()) {
                clauses.add(sql.opaque(query.span()));
            }
        } else if (!reader.accept("DEFAULT", "VALUES")) {
            // Another form of some database's own.
            clauses.add(sql.opaque(reader.spanOf(reader.peek())));
        }
        return new Change.Insert(reader.since(first), table, columns, rows, clauses);
    }

    private static void targets(SqlScope scope, List<Name> columns) {
        for (Name column : columns) {
            scope.names.add(new NameUse(column.span(), List.of(column), Use.TARGET, false));
        }
    }

    /** {@code UPDATE table [AS alias] SET … [FROM …] [WHERE …]}. */
    private Change update(SqlScope scope) {
        Token first = reader.take();
        Token start = reader.peek();
        TableSource.Named target =
                sql.tables.target(scope, start, sql.qualified("a table"), Role.UPDATE, true);
        reader.expect("SET", "in UPDATE");
        List<Change.Assignment> assignments = assignments(scope);
        List<Clause> clauses = sql.queries.clauses(scope);
        return new Change.Update(
                reader.since(first), target.names(), target.alias(), assignments, clauses);
    }

    private List<Change.Assignment> assignments(SqlScope scope) {
        List<Change.Assignment> all = new ArrayList<>();
        do {
            Token first = reader.peek();
            List<List<Name>> columns = new ArrayList<>();
            if (reader.accept("(")) {
                do {
                    columns.add(assigned(scope));
                } while (reader.accept(","));
                reader.expect(")", "after the columns");
            } else {
                columns.add(assigned(scope));
            }
            reader.expect("=", "after the column that is set");
            SqlValue value = sql.values.value(scope, ASSIGNMENT_END);
            all.add(new Change.Assignment(reader.since(first), columns, value));
        } while (reader.accept(","));
        return all;
    }

    private List<Name> assigned(SqlScope scope) {
        Token start = reader.peek();
        List<Name> names = sql.qualified("a column");
        scope.names.add(new NameUse(reader.since(start), names, Use.TARGET, false));
        return names;
    }

    /** {@code DELETE FROM table [AS alias] [WHERE …]}. */
    private Change delete(SqlScope scope) {
        Token first = reader.take();
        reader.expect("FROM", "after DELETE");
        Token start = reader.peek();
        TableSource.Named target =
                sql.tables.target(scope, start, sql.qualified("a table"), Role.DELETE, true);
        List<Clause> clauses = sql.queries.clauses(scope);
        return new Change.Delete(reader.since(first), target.names(), target.alias(), clauses);
    }

    /** {@code MERGE INTO table [AS alias] USING table ON … { WHEN … THEN … }}. */
    private Change merge(SqlScope scope) {
        Token first = reader.take();
        reader.expect("INTO", "after MERGE");
        Token start = reader.peek();
        TableSource.Named target =
                sql.tables.target(scope, start, sql.qualified("a table"), Role.MERGE, true);
        Optional<TableSource> source = Optional.empty();
        Optional<SqlValue> on = Optional.empty();
        if (reader.accept("USING")) {
            source = Optional.of(sql.tables.table(scope, true));
            reader.expect("ON", "in MERGE");
            on = Optional.of(sql.values.value(scope, Set.of("WHEN")));
        }
        List<Change.Branch> branches = new ArrayList<>();
        List<Clause> unknown = new ArrayList<>();
        while (reader.sees("WHEN")) {
            branches.add(branch(scope, unknown));
        }
        return new Change.Merge(
                reader.since(first), target.names(), target.alias(), source, on, branches, unknown);
    }

    private Change.Branch branch(SqlScope scope, List<Clause> unknown) {
        Token when = reader.take();
        boolean matched = !reader.sees("NOT");
        int from = reader.position() + (matched ? 1 : 2);
        boolean known = reader.peek(matched ? 0 : 1).is("MATCHED");
        boolean conditional = reader.peek(matched ? 1 : 2).is("AND");
        sql.values.region(scope, Set.of("THEN"));
        int end = reader.position();
        if (!known || !conditional && end != from) {
            unknown.add(sql.opaque(reader.since(when)));
        }
        Optional<SqlValue> condition =
                known && conditional ? Optional.of(sql.value(from + 1, end)) : Optional.empty();
        reader.expect("THEN", "in MERGE");
        Change.Action action = Change.Action.NOTHING;
        List<Change.Assignment> assignments = List.of();
        List<Name> columns = List.of();
        List<SqlValue> values = List.of();
        if (reader.accept("UPDATE")) {
            action = Change.Action.UPDATE;
            reader.expect("SET", "in UPDATE");
            assignments = assignments(scope);
        } else if (reader.accept("INSERT")) {
            action = Change.Action.INSERT;
            columns = sql.tables.columnList();
            targets(scope, columns);
            reader.expect("VALUES", "in INSERT");
            boolean bracketed = reader.sees("(");
            values = bracketed ? sql.values.row(scope) : List.of();
            if (!reader.sees("WHEN") && !sql.atStop()) {
                Token more = reader.peek();
                sql.values.region(scope, Set.of("WHEN"), false, bracketed);
                unknown.add(sql.opaque(reader.since(more)));
            }
        } else if (reader.accept("DELETE")) {
            action = Change.Action.DELETE;
        } else {
            reader.accept("DO", "NOTHING");
        }
        return new Change.Branch(
                reader.since(when), matched, condition, action, assignments, columns, values);
    }

    /** {@code TRUNCATE [TABLE] table …}: nothing in it is resolved. */
    SqlStatement truncate() {
        Token first = reader.take();
        reader.accept("TABLE");
        List<Name> table = new ArrayList<>();
        if (reader.seesName()) {
            table.addAll(sql.qualified("a table"));
        }
        Token next = reader.peek();
        while (!reader.atEnd() && !sql.atStop()) {
            reader.take();
        }
        List<Clause> clauses =
                next == reader.peek() ? List.of() : List.of(sql.opaque(reader.since(next)));
        Span span = reader.since(first);
        return table.isEmpty() ? sql.unread(span) : new Change.Truncate(span, table, clauses);
    }
}
