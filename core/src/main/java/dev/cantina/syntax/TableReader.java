package dev.cantina.syntax;

import dev.cantina.syntax.SqlText.NameUse;
import dev.cantina.syntax.SqlText.Role;
import dev.cantina.syntax.SqlText.TableUse;
import dev.cantina.syntax.SqlText.Use;
import dev.cantina.syntax.TableSource.JoinKind;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** Reads what a FROM clause takes rows from (ISO 9075-2, 7.6 and 7.10). */
final class TableReader {
    private static final Set<String> JOINS =
            Set.of("JOIN", "INNER", "LEFT", "RIGHT", "FULL", "CROSS", "NATURAL");

    private static final Set<String> JOIN_END =
            ValueReader.union(
                    Set.of(
                            ("WHERE GROUP HAVING ORDER LIMIT OFFSET FETCH UNION EXCEPT INTERSECT "
                                            + "WINDOW FOR RETURNING QUALIFY SET WHEN INTO ON USING")
                                    .split(" ")),
                    JOINS,
                    Set.of(","));

    static final Set<String> CHANGES = Set.of("INSERT", "UPDATE", "DELETE", "MERGE");

    private final SqlReader sql;
    private final TokenReader reader;

    TableReader(SqlReader sql) {
        this.sql = sql;
        this.reader = sql.reader;
    }

    /** {@code tables ::= table { , table | join table [ON … | USING (…)] }}. */
    List<TableSource> tables(SqlScope scope, boolean visible) {
        List<TableSource> all = new ArrayList<>();
        do {
            Token first = reader.peek();
            TableSource left = table(scope, visible);
            while (reader.peek().kind() == Token.Kind.WORD
                    && JOINS.contains(reader.peek().text())) {
                left = join(scope, visible, first, left);
            }
            all.add(left);
        } while (reader.accept(","));
        return all;
    }

    private TableSource join(SqlScope scope, boolean visible, Token first, TableSource left) {
        List<String> words = new ArrayList<>();
        while (reader.seesAny("NATURAL", "INNER", "LEFT", "RIGHT", "FULL", "CROSS", "OUTER")) {
            words.add(reader.take().text());
        }
        reader.expect("JOIN", "between two tables");
        TableSource right = table(scope, visible);
        Optional<SqlValue> on = Optional.empty();
        List<Name> using = List.of();
        if (reader.accept("ON")) {
            on = Optional.of(sql.values.value(scope, JOIN_END));
        } else if (reader.accept("USING")) {
            using = columnList();
            sql.notes().labels.addAll(using);
        }
        boolean natural = words.remove("NATURAL");
        return new TableSource.Join(
                reader.since(first), left, kind(words), natural, right, on, using);
    }

    private static JoinKind kind(List<String> words) {
        return switch (String.join(" ", words)) {
            case "", "INNER" -> JoinKind.INNER;
            case "LEFT", "LEFT OUTER" -> JoinKind.LEFT;
            case "RIGHT", "RIGHT OUTER" -> JoinKind.RIGHT;
            case "FULL", "FULL OUTER" -> JoinKind.FULL;
            case "CROSS" -> JoinKind.CROSS;
            default -> JoinKind.UNKNOWN;
        };
    }

    TableSource table(SqlScope scope, boolean visible) {
        Token start = reader.peek();
        int first = reader.position();
        boolean lateral = reader.accept("LATERAL");
        reader.accept("ONLY");
        if (reader.sees("(")) {
            return bracketed(scope, start, lateral, visible);
        }
        if (reader.seesAny("FINAL", "NEW", "OLD")
                && reader.peek(1).is("TABLE")
                && reader.peek(2).is("(")
                && CHANGES.contains(reader.peek(3).text())) {
            return delta(scope, start, visible);
        }
        if (reader.sees("TABLE", "(")
                && TokenReader.isName(reader.peek(2))
                && (reader.peek(3).is("(") || reader.peek(3).is("."))) {
            // ISO 9075-2, 7.6: TABLE (f(…)); the database is asked for f(…).
            reader.take();
            reader.take();
            sql.leaveOut(reader.since(start));
            int call = reader.position();
            List<Name> function = sql.qualified("a function");
            call(scope, function);
            SqlValue value = sql.value(call, reader.position());
            Token close = reader.expect(")", "after the function of TABLE");
            sql.leaveOut(reader.spanOf(close));
            return functionTable(scope, start, function, value, visible);
        }
        if (reader.accept("TABLE") || reader.accept("UNNEST")) {
            sql.values.bracket(scope);
            SqlValue value = sql.value(first, reader.position());
            Derivation named = derived(scope, start, List.of(), visible);
            return new TableSource.OfFunction(
                    reader.since(start), value, named.alias(), named.columns());
        }
        List<Name> names = sql.qualified("a table");
        if (reader.sees("(")) {
            call(scope, names);
            return functionTable(scope, start, names, sql.value(first, reader.position()), visible);
        }
        return target(scope, start, names, Role.READ, visible);
    }

    private TableSource bracketed(SqlScope scope, Token start, boolean lateral, boolean visible) {
        if (sql.seesBracketedQuery()) {
            QueryReader.Inner inner = sql.queries.child(scope);
            Derivation named = derived(scope, start, inner.scope().outputs(), visible);
            return new TableSource.Derived(
                    reader.since(start), lateral, inner.tree(), named.alias(), named.columns());
        }
        reader.take();
        List<TableSource> inside = tables(scope, visible);
        reader.expect(")", "after the joined tables");
        return new TableSource.Bracketed(reader.since(start), inside);
    }

    /** {@code {FINAL | NEW | OLD} TABLE (change) [[AS] alias]} (ISO 9075-2, 7.6). */
    private TableSource delta(SqlScope scope, Token start, boolean visible) {
        String which = reader.take().text();
        reader.take();
        QueryReader.Inner inner = sql.queries.child(scope);
        List<Name> changed =
                inner.scope().tables().stream()
                        .filter(t -> t.role() != Role.READ)
                        .map(TableUse::names)
                        .findFirst()
                        .orElse(List.of());
        Optional<Name> alias = alias();
        // Its rows stand for no row that could be changed through a cursor.
        scope.grouped = true;
        Span span = reader.since(start);
        scope.tables.add(new TableUse(span, changed, alias, List.of(), Role.READ, visible));
        return new TableSource.Delta(span, which, inner.tree(), alias);
    }

    private void call(SqlScope scope, List<Name> function) {
        Span first = function.get(0).span();
        Span last = function.get(function.size() - 1).span();
        Span span = new Span(first.source(), first.start(), last.end());
        scope.names.add(new NameUse(span, function, Use.CALL, false));
        sql.values.callOf(function);
        sql.values.bracket(scope);
    }

    private TableSource functionTable(
            SqlScope scope, Token start, List<Name> function, SqlValue call, boolean visible) {
        Derivation named = derivation();
        Span span = reader.since(start);
        scope.tables.add(
                new TableUse(
                        span,
                        List.of(),
                        named.alias(),
                        named.columns(),
                        Role.READ,
                        visible,
                        function));
        return new TableSource.OfFunction(span, call, named.alias(), named.columns());
    }

    /** What a derived table and its columns are called. */
    private record Derivation(Optional<Name> alias, List<Name> columns) {}

    private Derivation derivation() {
        Optional<Name> alias = alias();
        return new Derivation(alias, alias.isPresent() ? columnList() : List.of());
    }

    private Derivation derived(SqlScope scope, Token start, List<Name> outputs, boolean visible) {
        Derivation named = derivation();
        scope.tables.add(
                new TableUse(
                        reader.since(start),
                        List.of(),
                        named.alias(),
                        named.columns().isEmpty() ? outputs : named.columns(),
                        Role.READ,
                        visible));
        return named;
    }

    TableSource.Named target(
            SqlScope scope, Token start, List<Name> names, Role role, boolean visible) {
        Optional<Name> alias = alias();
        List<Name> columns =
                alias.isPresent() && role == Role.READ ? columnList() : List.<Name>of();
        Span span = reader.since(start);
        scope.tables.add(new TableUse(span, names, alias, columns, role, visible));
        return new TableSource.Named(span, names, alias, columns);
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
                                && !ValueReader.KEYWORDS.contains(token.text());
        return free ? Optional.of(reader.nameOf(reader.take())) : Optional.empty();
    }

    List<Name> columnList() {
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
}
