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
import dev.cantina.database.postgresql.PostgresWords;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlText;
import dev.cantina.translate.FixedVariables;
import dev.cantina.translate.Refusal;
import dev.cantina.translate.Splice;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;

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

    void ask(BoundExpression.Ask ask, Splice splice) {
        Splice own = new Splice(ask.span());
        sql(ask.sql(), own);
        // A function of the database, or a comparison with a query, has values before its query.
        ask.sql().parameters().stream()
                .filter(p -> own.holds(p.span()))
                .forEach(p -> words.edit(p, own));
        splice.put(ask.span(), PostgresWords.of(own.text(), catalog.tables()));
    }

    /**
     * @throws Refusal for the rows of a change that the server does not return
     */
    private static void checkDelta(BoundSql sql) {
        Span span = sql.source().span();
        DeltaTable.of(span.text())
                .filter(d -> !d.isReturned())
                .ifPresent(
                        d -> {
                            throw new Refusal(
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
        Splice splice = new Splice(sql.source().span());
        sql(sql, splice);
        sql.source().edits().stream()
                .filter(e -> !e.overlaps())
                .forEach(e -> splice.put(e.span(), e.text()));
        return PostgresWords.of(splice.text().stripTrailing(), catalog.tables());
    }

    /** The same, with its INTO clause naming other variables. */
    String of(BoundSql sql, String into) {
        checkDelta(sql);
        Splice splice = new Splice(sql.source().span());
        sql(sql, splice);
        boolean found = false;
        for (SqlText.Edit edit : sql.source().edits()) {
            if (edit.overlaps()) {
                continue;
            }
            boolean clause = edit.span().text().strip().regionMatches(true, 0, "INTO", 0, 4);
            splice.put(edit.span(), clause ? into + trailing(edit.span().text()) : edit.text());
            found |= clause;
        }
        String text = PostgresWords.of(splice.text().stripTrailing(), catalog.tables());
        return found ? text : withInto(text, into);
    }

    private static String trailing(String text) {
        return text.substring(text.stripTrailing().length());
    }

    private static String withInto(String text, String into) {
        return "SELECT * " + into + " FROM (" + text + ") AS got";
    }

    private static final Pattern LIMITED =
            Pattern.compile("(?is).*\\b(FIRST|NEXT|LIMIT|OFFSET)\\s+");

    private void sql(BoundSql sql, Splice splice) {
        words.among(words.rowNames(sql), () -> replace(sql, splice));
    }

    private void replace(BoundSql sql, Splice splice) {
        FixedVariables.of(sql).stream()
                .filter(p -> splice.holds(p.span()))
                .forEach(p -> splice.put(p.span(), words.text(p)));
        for (BoundExpression parameter : sql.parameters()) {
            if (parameter instanceof BoundExpression.Constant || !splice.holds(parameter.span())) {
                continue;
            }
            Span span = parameter.span();
            String before = splice.before(span);
            if (LIMITED.matcher(before).matches()) {
                splice.put(span, "(" + words.of(parameter) + ")");
            } else {
                words.edit(parameter, splice);
            }
        }
        calls(sql.source().scope(), splice);
        casts(sql, splice);
        tables(sql.source().scope(), splice);
        WrittenNames.of(sql.source(), catalog, Map.of(), false, names::unreserved)
                .forEach(s -> splice.put(s.span(), s.text()));
    }

    /** A function is found there by the types of its arguments. */
    private void casts(BoundSql sql, Splice splice) {
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
            splice.around(cast.span(), "CAST(", " AS " + type + ")");
        }
    }

    private void calls(SqlText.Scope scope, Splice splice) {
        for (SqlText.NameUse use : scope.names()) {
            if (use.use() != SqlText.Use.CALL) {
                continue;
            }
            String key = catalog.keyOf(use.names(), module);
            List<RoutineSymbol> functions = catalog.functions(key);
            if (!functions.isEmpty()) {
                splice.put(use.span(), words.callee(functions.get(0)));
            } else if (use.names().size() == 1) {
                String own = use.names().get(0).key();
                String name = PostgresBuiltIns.renamed(own);
                if (!name.equals(own)) {
                    splice.put(use.span(), name);
                }
            }
        }
        scope.children().forEach(child -> calls(child, splice));
    }

    /** The tables of a block are named without the word MODULE. */
    private void tables(SqlText.Scope scope, Splice splice) {
        for (SqlText.TableUse use : scope.tables()) {
            if (use.names().size() == 2 && use.names().get(0).key().equals("MODULE")) {
                Span whole = use.names().get(0).span().to(use.names().get(1).span());
                splice.put(whole, names.of(use.names().get(1)));
            }
        }
        scope.children().forEach(child -> tables(child, splice));
    }
}
