package dev.cantina.database.postgresql;

import dev.cantina.catalog.Table;
import dev.cantina.database.DeltaTable;
import dev.cantina.facts.KeptBlanks;
import dev.cantina.syntax.Clause;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.Expression.LiteralKind;
import dev.cantina.syntax.ExpressionWalk;
import dev.cantina.syntax.Query;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlText;
import dev.cantina.syntax.SqlWalk;
import dev.cantina.syntax.SqlWords;
import dev.cantina.syntax.TextEdits;
import dev.cantina.syntax.TypeSyntax;
import java.util.Collection;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * Data statements as PostgreSQL reads them. Its GREATEST and LEAST leave NULLs out, where those of
 * the other databases, and of expressions outside SQL, are NULL then; and NULL stands last there.
 */
public final class PostgresStatementRewriter {
    private static final Set<String> WHOLE =
            Set.of(
                    "EXTRACT YEAR",
                    "EXTRACT MONTH",
                    "EXTRACT DAY",
                    "EXTRACT HOUR",
                    "EXTRACT MINUTE");

    private static final String HEAD = "SELECT ";

    private final SqlText text;
    private final PostgresOrder order;
    private final boolean divides;

    private PostgresStatementRewriter(SqlText text, Collection<Table> tables) {
        this.text = text;
        this.order = new PostgresOrder(text, tables);
        this.divides = SqlWords.of(text.span().text()).all().stream().anyMatch(w -> w.is("/"));
    }

    /**
     * The statement in PostgreSQL's words.
     *
     * @param tables that it may be about
     */
    public static String of(String sql, Collection<Table> tables) {
        String known = DeltaTable.of(sql).map(PostgresStatementRewriter::returning).orElse(sql);
        boolean plain =
                Stream.of(
                                "X'",
                                "TRUNCATE",
                                "EXTRACT",
                                "SIGN",
                                "CAST",
                                "BPCHAR",
                                "GREATEST",
                                "LEAST",
                                "ORDER")
                        .noneMatch(w -> SqlWords.mayHold(known, w));
        if (plain) {
            return known;
        }
        SqlText read = SqlText.of(known);
        if (read.tree().isData()) {
            return new PostgresStatementRewriter(read, tables).rewritten(read.whole());
        }
        int query = read.queryInside();
        if (query >= 0) {
            return known.substring(0, query) + of(known.substring(query), tables);
        }
        // A value by itself.
        SqlText value = SqlText.of(HEAD + known);
        return value.tree() instanceof Query.Select select && select.items().size() == 1
                ? new PostgresStatementRewriter(value, tables)
                        .rewritten(value.whole())
                        .substring(HEAD.length())
                : new PostgresStatementRewriter(read, tables).rewritten(read.whole());
    }

    private String rewritten(Span span) {
        TextEdits edits = new TextEdits(span);
        SqlWalk.each(
                text.tree(),
                new SqlWalk.Visitor() {
                    @Override
                    public void clause(Clause clause) {
                        if (clause instanceof Clause.OrderBy by) {
                            by.keys().forEach(key -> order.sorted(key, edits));
                        }
                    }

                    @Override
                    public void found(SqlWalk.Found found) {
                        if (edits.holds(found.expression().span())) {
                            edit(found, edits);
                        }
                    }
                });
        return edits.text();
    }

    private void edit(SqlWalk.Found found, TextEdits edits) {
        Expression e = found.expression();
        if (e instanceof Expression.Literal literal && literal.kind() == LiteralKind.BYTES) {
            String written = literal.span().text();
            String digits =
                    written.substring(1)
                            .codePoints()
                            .filter(c -> Character.digit(c, 16) >= 0)
                            .mapToObj(Character::toString)
                            .collect(Collectors.joining());
            edits.put(literal.span(), "CAST('\\x" + digits + "' AS bytea)");
        } else if (e instanceof Expression.Cast cast) {
            cast(found, cast, edits);
        } else if (e instanceof Expression.Call call) {
            call(call, edits);
        } else if (e instanceof Expression.Window window) {
            window.keys().forEach(key -> order.sorted(key, edits));
        } else if (e instanceof Expression.Aggregate aggregate) {
            aggregate.keys().forEach(key -> order.sorted(key, edits));
        }
    }

    private static void cast(SqlWalk.Found found, Expression.Cast cast, TextEdits edits) {
        if (!(cast.type() instanceof TypeSyntax.Predefined type)) {
            return;
        }
        boolean fixed = type.name().equals("CHAR") || type.name().equals("CHARACTER");
        if (fixed && type.arguments().size() == 1 && KeptBlanks.at(found)) {
            // Beside a text it would lose the blanks at its end.
            edits.around(cast.span(), "rpad(", ", " + type.arguments().get(0) + ")");
        } else if (type.name().equals("BPCHAR")
                && type.arguments().isEmpty()
                && cast.operand() instanceof Expression.Parameter
                && !KeptBlanks.isCompared(found)) {
            edits.put(type.span(), "TEXT");
        }
    }

    /** What EXTRACT gives keeps decimals where it is divided; SIGN gives an approximate number. */
    private void call(Expression.Call call, TextEdits edits) {
        if (call.name().size() > 1 || call.name().get(0).delimited()) {
            return;
        }
        switch (call.key()) {
            case "TRUNCATE" -> edits.put(call.name().get(0).span(), "TRUNC");
            case "SIGN" -> edits.around(call.span(), "CAST(", " AS integer)");
            case "GREATEST", "LEAST" -> extreme(call, edits);
            default -> {
                if (divides && WHOLE.contains(call.key())) {
                    edits.around(call.span(), "CAST(", " AS integer)");
                }
            }
        }
    }

    /** A subquery that names each value once. */
    private void extreme(Expression.Call call, TextEdits edits) {
        List<Expression> values =
                call.arguments().stream().map(Expression.Argument::value).toList();
        // An aggregate in a subquery would count the subquery's rows.
        boolean aggregates =
                values.stream()
                        .anyMatch(
                                v -> ExpressionWalk.any(v, PostgresStatementRewriter::isAggregate));
        if (aggregates || values.isEmpty()) {
            return;
        }
        edits.put(
                call.span(),
                "(SELECT CASE WHEN count(v) = count(*) THEN "
                        + (call.key().equals("GREATEST") ? "max" : "min")
                        + "(v) END FROM (VALUES "
                        + values.stream()
                                .map(value -> "(" + rewritten(value.span()) + ")")
                                .collect(Collectors.joining(", "))
                        + ") AS among (v))");
    }

    private static boolean isAggregate(Expression e) {
        return e instanceof Expression.Aggregate
                || e instanceof Expression.Call call
                        && (call.key().endsWith("_AGG") || call.key().equals("EVERY"));
    }

    /** The rows of a change, by a common table expression that returns them. */
    private static String returning(DeltaTable delta) {
        String words =
                "WITH cantina_changed AS ("
                        + delta.change()
                        + " RETURNING *) "
                        + delta.before()
                        + "cantina_changed AS "
                        + delta.known()
                        + (delta.after().isEmpty() ? "" : " " + delta.after());
        return delta.isReturned() && delta.isOrdered()
                ? words
                : delta.before()
                        + delta.kind()
                        + " TABLE ("
                        + delta.change()
                        + ") AS "
                        + delta.known()
                        + " "
                        + delta.after();
    }
}
