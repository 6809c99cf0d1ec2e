package dev.cantina.translate.mariadb;

import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.BoundStatement.Handled;
import dev.cantina.binding.CursorSymbol;
import dev.cantina.binding.DeclaredTable;
import dev.cantina.binding.Variable;
import dev.cantina.database.mariadb.MariaConditions;
import dev.cantina.database.mariadb.MariaStatementRewriter;
import dev.cantina.syntax.Declaration;
import dev.cantina.syntax.Declaration.HandledKind;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.Statement;
import dev.cantina.translate.Effects;
import dev.cantina.translate.UnsupportedConstructException;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.TreeMap;

/** What a block declares, in MariaDB's words. */
final class MariaDeclarations {
    private final MariaBody body;
    private final MariaExpressions words;
    private final Effects effects;

    MariaDeclarations(MariaBody body, MariaExpressions words, Effects effects) {
        this.body = body;
        this.words = words;
        this.effects = effects;
    }

    /** Variables, and constants, which are variables there. */
    void variables(Declaration.Variables declaration) {
        SqlType type = SqlType.NULL;
        for (Name name : declaration.names()) {
            Variable variable = variable(name);
            type = variable.type();
            if (!words.name(variable).equals(name.text())) {
                body.edits().put(name.span(), words.name(variable));
            }
        }
        if (declaration.constant()) {
            int from = declaration.names().get(declaration.names().size() - 1).span().end();
            Span between =
                    new Span(declaration.span().source(), from, declaration.type().span().start());
            body.edits().put(between, " ");
        }
        type(declaration.type().span(), type);
    }

    private Variable variable(Name name) {
        return body.routine().variables().stream()
                .filter(v -> v.span() != null && v.span().start() == name.span().start())
                .findFirst()
                .orElseGet(
                        () ->
                                body.routine().variables().stream()
                                        .filter(v -> v.name().equals(name.text()))
                                        .findFirst()
                                        .orElseThrow(
                                                () ->
                                                        new UnsupportedConstructException(
                                                                name.span(),
                                                                "this variable has no counterpart")));
    }

    /** A declared type, left as it was written where the server means the same by it. */
    private void type(Span span, SqlType type) {
        String maria = words.type(type, span);
        String plain = span.text().replaceAll("\\s+", "");
        if (!plain.equalsIgnoreCase(maria.replace(" ", ""))) {
            body.edits().put(span, maria);
        }
    }

    /** A cursor with the server's words for its query. */
    void cursor(Declaration.Cursor declaration, BoundStatement.Block block) {
        CursorSymbol cursor =
                block.cursors().stream()
                        .filter(c -> c.name().equalsIgnoreCase(declaration.name().text()))
                        .findFirst()
                        .orElseThrow();
        if (cursor.query().isEmpty()) {
            throw new UnsupportedConstructException(
                    declaration.span(), "MariaDB has no cursors for prepared statements");
        }
        if (cursor.returned()) {
            body.edits().put(whole(declaration.span()), "");
            return;
        }
        name(declaration.name());
        Span query = declaration.query().orElseThrow().span();
        Span head = new Span(query.source(), declaration.name().span().end(), query.start());
        body.edits().put(head, " CURSOR FOR" + blank(head));
        body.edits().put(query, words.of(cursor.query().get()));
    }

    /** A declared name, in quotes where the server reserves it. */
    void name(Name name) {
        if (!name.delimited() && words.names().isReserved(name.text())) {
            body.edits().put(name.span(), words.names().of(name));
        }
    }

    private static String blank(Span head) {
        String text = head.text();
        String kept = text.substring(text.stripTrailing().length());
        return kept.isEmpty() ? " " : kept;
    }

    /** A declaration with the semicolon behind it. */
    private static Span whole(Span span) {
        String text = span.source().text();
        int end = span.end();
        while (end < text.length() && Character.isWhitespace(text.charAt(end))) {
            end++;
        }
        return new Span(
                span.source(),
                span.start(),
                end < text.length() && text.charAt(end) == ';' ? end + 1 : span.end());
    }

    /** The tables of a block, made where it begins. */
    void tables(BoundStatement.Block block, Statement.Compound tree) {
        if (block.tables().isEmpty()) {
            return;
        }
        List<String> made = new ArrayList<>();
        for (Declaration declaration : tree.declarations()) {
            if (!(declaration instanceof Declaration.TemporaryTable temporary)) {
                continue;
            }
            String key = temporary.name().key();
            boolean twice =
                    effects.isRecursive(body.routine())
                            || effects.calledDeclares(body.routine(), key);
            if (twice) {
                throw new UnsupportedConstructException(
                        temporary.span(),
                        "the table "
                                + temporary.name()
                                + " would be in use twice at a time, and MariaDB knows one in a"
                                + " session");
            }
            if (words.catalog().table(temporary.name()).isPresent()) {
                throw new UnsupportedConstructException(
                        temporary.span(),
                        "a table of the database has this name, and would be hidden there for the"
                                + " whole session");
            }
            body.edits().put(whole(temporary.span()), "");
            made.add(
                    "CREATE OR REPLACE TEMPORARY TABLE "
                            + words.names().of(temporary.name())
                            + " "
                            + MariaStatementRewriter.of(
                                    words.names().definition(temporary.definition().text())));
        }
        Span first = first(block, tree);
        String indent = body.indent(first);
        StringBuilder text = new StringBuilder();
        made.forEach(m -> text.append(m).append(";\n").append(indent));
        body.edits().put(new Span(first.source(), first.start(), first.start()), text.toString());
    }

    private Span first(BoundStatement.Block block, Statement.Compound tree) {
        if (block.statements().isEmpty()) {
            throw new UnsupportedConstructException(
                    tree.span(), "a block with a table and no statements");
        }
        return body.span(block.statements().get(0).at());
    }

    /** Drops them at its end. */
    void dropTables(BoundStatement.Block block, Statement.Compound tree) {
        if (block.tables().isEmpty()) {
            return;
        }
        Span last = body.span(block.statements().get(block.statements().size() - 1).at());
        StringBuilder text = new StringBuilder();
        for (DeclaredTable table : block.tables()) {
            text.append(";\n")
                    .append(body.indent(last))
                    .append("DROP TEMPORARY TABLE IF EXISTS ")
                    .append(words.names().of(table.table().name().toLowerCase(Locale.ROOT)));
        }
        body.edits().put(new Span(last.source(), last.end(), last.end()), text.toString());
    }

    /** The server's own numbers stand beside a state that it gives other errors. */
    void condition(Declaration.HandledCondition written, Handled handled) {
        boolean named = handled.kind() == HandledKind.NAMED;
        if (handled.kind() != HandledKind.SQLSTATE && !named) {
            return;
        }
        if (handled.sqlstate() == null || handled.sqlstate().isEmpty()) {
            throw new UnsupportedConstructException(
                    written.span(),
                    "a condition with no SQLSTATE is unknown there; declare it FOR SQLSTATE");
        }
        List<String> all = new ArrayList<>();
        new TreeMap<>(MariaConditions.states())
                .forEach(
                        (number, state) -> {
                            if (state.equals(handled.sqlstate())) {
                                all.add(String.valueOf(number));
                            }
                        });
        if (handled.sqlstate().equals("3B001")) {
            all.add("1305");
        }
        if (!all.isEmpty() || named) {
            all.add("SQLSTATE '" + handled.sqlstate() + "'");
            body.edits().put(written.span(), String.join(", ", all));
        }
    }
}
