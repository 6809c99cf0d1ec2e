package dev.cantina.nativecode.postgresql;

import dev.cantina.nativecode.postgresql.PgLexer.Kind;
import dev.cantina.nativecode.postgresql.PgLexer.Token;
import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * The head of a CREATE FUNCTION or CREATE PROCEDURE.
 *
 * @param span the whole statement
 * @param name its last part, as the server keeps it
 * @param nameSpan where that stands
 * @param language in lower case
 * @param body what stands between the quotes of its body; empty where it has none, or one with
 *     escapes
 * @param doubled whether quotes in the body are doubled
 */
public record PgRoutine(
        Span span,
        boolean function,
        Optional<String> schema,
        String name,
        Span nameSpan,
        String language,
        Optional<Span> body,
        boolean doubled) {
    /** Its body as the server keeps it. */
    String text() {
        String text = body.orElseThrow().text();
        return doubled ? text.replace("''", "'") : text;
    }

    /** The head of what a statement creates; empty where that is no routine. */
    public static Optional<PgRoutine> of(PgScript.Statement statement) {
        List<Token> tokens = statement.tokens();
        int at = 1;
        if (!statement.begins("create")) {
            return Optional.empty();
        }
        if (at + 1 < tokens.size() && tokens.get(at).is("or") && tokens.get(at + 1).is("replace")) {
            at += 2;
        }
        if (at >= tokens.size()
                || !(tokens.get(at).is("function") || tokens.get(at).is("procedure"))) {
            return Optional.empty();
        }
        boolean function = tokens.get(at).is("function");
        at++;
        List<Token> name = new ArrayList<>();
        while (at < tokens.size() && tokens.get(at).isName()) {
            name.add(tokens.get(at));
            at++;
            if (at < tokens.size() && tokens.get(at).is(".")) {
                at++;
            } else {
                break;
            }
        }
        if (name.isEmpty() || at >= tokens.size() || !tokens.get(at).is("(")) {
            return Optional.empty();
        }
        int depth = 0;
        do {
            depth += tokens.get(at).is("(") ? 1 : tokens.get(at).is(")") ? -1 : 0;
            at++;
        } while (depth > 0 && at < tokens.size());
        String language = "sql";
        Optional<Span> body = Optional.empty();
        boolean doubled = false;
        for (int i = at; i + 1 < tokens.size(); i++) {
            Token next = tokens.get(i + 1);
            if (tokens.get(i).is("language")) {
                language =
                        next.kind() == Kind.STRING
                                ? next.text().replace("'", "").toLowerCase(Locale.ROOT)
                                : next.text();
            } else if (tokens.get(i).is("as") && next.kind() == Kind.DOLLAR_STRING) {
                int tag = next.text().indexOf('$', 1) + 1;
                body =
                        Optional.of(
                                statement
                                        .span()
                                        .source()
                                        .span(next.start() + tag, next.end() - tag));
            } else if (tokens.get(i).is("as")
                    && next.kind() == Kind.STRING
                    && next.text().startsWith("'")) {
                doubled = true;
                body =
                        Optional.of(
                                statement.span().source().span(next.start() + 1, next.end() - 1));
            }
        }
        Token last = name.get(name.size() - 1);
        return Optional.of(
                new PgRoutine(
                        statement.span(),
                        function,
                        name.size() > 1
                                ? Optional.of(name.get(name.size() - 2).text())
                                : Optional.empty(),
                        last.text(),
                        statement.span().source().span(last.start(), last.end()),
                        language,
                        body,
                        doubled));
    }
}
