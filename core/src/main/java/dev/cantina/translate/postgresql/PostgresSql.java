package dev.cantina.translate.postgresql;

import dev.cantina.binding.ArgumentCasts;
import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundSql;
import dev.cantina.binding.WrittenNames;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.DeltaTable;
import dev.cantina.database.ServerNames;
import dev.cantina.database.postgresql.PostgresStatementRewriter;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlText;
import dev.cantina.syntax.SqlWalk;
import dev.cantina.syntax.TextEdits;
import dev.cantina.translate.FixedVariables;
import dev.cantina.translate.UnsupportedConstructException;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Data statements as PostgreSQL reads them. */
final class PostgresSql {
    private final PostgresExpressions words;
    private final Catalog catalog;
    private final Optional<ModuleSymbol> module;
    private final ServerNames names;

    /**
     * @param words for the values in them
     */
    PostgresSql(PostgresExpressions words) {
        this.words = words;
        this.catalog = words.catalog();
        this.module = words.module();
        this.names = words.names();
    }

    void ask(BoundExpression.DatabaseExpression ask, TextEdits edits) {
        TextEdits own = new TextEdits(ask.span());
        sql(ask.sql(), own);
        // A function of the database, or a comparison with a query, has values before its query.
        ask.sql().parameters().stream()
                .filter(p -> own.holds(p.span()))
                .forEach(p -> words.edit(p, own));
        edits.put(ask.span(), PostgresStatementRewriter.of(own.text(), catalog.tables()));
    }

    /**
     * @throws UnsupportedConstructException for the rows of a change that the server does not
     *     return
     */
    private static void checkDelta(BoundSql sql) {
        Span span = sql.source().span();
        DeltaTable.of(span.text())
                .filter(d -> !d.isReturned())
                .ifPresent(
                        d -> {
                            throw new UnsupportedConstructException(
                                    span,
                                    "PostgreSQL does not give the rows of "
                                            + d.kind()
                                            + " TABLE ("
                                            + d.verb()
                                            + " …)");
                        });
    }

    /** A data statement in PostgreSQL's words. */
    String of(BoundSql sql) {
        checkDelta(sql);
        TextEdits edits = new TextEdits(sql.source().span());
        sql(sql, edits);
        sql.source().edits().stream()
                .filter(e -> !e.overlaps())
                .forEach(e -> edits.put(e.span(), e.text()));
        return PostgresStatementRewriter.of(edits.text().stripTrailing(), catalog.tables());
    }

    /** The same, with its INTO clause naming other variables. */
    String of(BoundSql sql, String into) {
        checkDelta(sql);
        TextEdits edits = new TextEdits(sql.source().span());
        sql(sql, edits);
        boolean found = false;
        for (SqlText.Edit edit : sql.source().edits()) {
            if (edit.overlaps()) {
                continue;
            }
            boolean clause = edit.span().text().strip().regionMatches(true, 0, "INTO", 0, 4);
            edits.put(edit.span(), clause ? into + trailing(edit.span().text()) : edit.text());
            found |= clause;
        }
        String text = PostgresStatementRewriter.of(edits.text().stripTrailing(), catalog.tables());
        return found ? text : withInto(text, into);
    }

    private static String trailing(String text) {
        return text.substring(text.stripTrailing().length());
    }

    private static String withInto(String text, String into) {
        return "SELECT * " + into + " FROM (" + text + ") AS got";
    }

    private void sql(BoundSql sql, TextEdits edits) {
        words.among(words.rowNames(sql), () -> replace(sql, edits));
    }

    /** Where the numbers of rows begin that are passed over, or left. */
    private static Set<Integer> counts(BoundSql sql) {
        Set<Integer> counts = new HashSet<>();
        SqlWalk.each(
                sql.source().tree(),
                found -> {
                    if (found.place() == SqlWalk.Place.COUNT && found.around().isEmpty()) {
                        counts.add(found.expression().span().start());
                    }
                });
        return counts;
    }

    private void replace(BoundSql sql, TextEdits edits) {
        FixedVariables.of(sql).stream()
                .filter(p -> edits.holds(p.span()))
                .forEach(p -> edits.put(p.span(), words.text(p)));
        Set<Integer> counts = counts(sql);
        for (BoundExpression parameter : sql.parameters()) {
            if (parameter instanceof BoundExpression.Constant || !edits.holds(parameter.span())) {
                continue;
            }
            Span span = parameter.span();
            if (counts.contains(span.start())) {
                edits.put(span, "(" + words.of(parameter) + ")");
            } else {
                words.edit(parameter, edits);
            }
        }
        calls(sql.source().scope(), edits);
        casts(sql, edits);
        tables(sql.source().scope(), edits);
        WrittenNames.of(sql.source(), catalog, Map.of(), false, names::unreserved)
                .forEach(s -> edits.put(s.span(), s.text()));
    }

    /** A function is found there by the types of its arguments. */
    private void casts(BoundSql sql, TextEdits edits) {
        for (ArgumentCasts.Cast cast :
                ArgumentCasts.of(
                        sql.source(),
                        catalog,
                        module,
                        span ->
                                sql.parameters().stream()
                                        .filter(p -> p.span().equals(span))
                                        .map(BoundExpression::type)
                                        .findFirst())) {
            String type = PostgresTypes.bare(cast.type(), cast.span());
            edits.around(cast.span(), "CAST(", " AS " + type + ")");
        }
    }

    private void calls(SqlText.Scope scope, TextEdits edits) {
        for (SqlText.NameUse use : scope.names()) {
            if (use.use() != SqlText.Use.CALL) {
                continue;
            }
            String key = catalog.keyOf(use.names(), module);
            List<RoutineSymbol> functions = catalog.functions(key);
            if (!functions.isEmpty()) {
                edits.put(use.span(), words.callee(functions.get(0)));
            } else if (use.names().size() == 1) {
                String own = use.names().get(0).key();
                String name = PostgresBuiltIns.renamed(own);
                if (!name.equals(own)) {
                    edits.put(use.span(), name);
                }
            }
        }
        scope.children().forEach(child -> calls(child, edits));
    }

    /** The tables of a block are named without the word MODULE. */
    private void tables(SqlText.Scope scope, TextEdits edits) {
        for (SqlText.TableUse use : scope.tables()) {
            if (use.names().size() == 2 && use.names().get(0).key().equals("MODULE")) {
                Span whole = use.names().get(0).span().to(use.names().get(1).span());
                edits.put(whole, names.of(use.names().get(1)));
            }
        }
        scope.children().forEach(child -> tables(child, edits));
    }
}
