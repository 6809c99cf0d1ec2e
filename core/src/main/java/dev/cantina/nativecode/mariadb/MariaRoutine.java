package dev.cantina.nativecode.mariadb;

import dev.cantina.nativecode.mariadb.MariaLexer.Token;
import dev.cantina.syntax.Span;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * The head of a CREATE PROCEDURE, FUNCTION or TRIGGER.
 *
 * @param span the whole statement
 * @param what {@code procedure}, {@code function} or {@code trigger}
 * @param name without its database
 * @param table of a trigger
 * @param body where the body begins, by the number of its token; -1 where it can't be told
 * @param modes the session's {@code sql_mode} when it was made, which the server keeps with it
 */
public record MariaRoutine(
        MariaScript.Statement statement,
        Span span,
        String what,
        String name,
        Span nameSpan,
        Optional<String> table,
        int body,
        String modes) {
    /** Whether a trigger says itself behind or before which other it runs. */
    boolean isOrdered() {
        List<Token> tokens = statement.tokens();
        return what.equals("trigger")
                && body >= 2
                && (tokens.get(body - 2).is("follows") || tokens.get(body - 2).is("precedes"));
    }

    /** The mode in which a routine is written in other words than usual. */
    private static final String OTHER = "ORACLE";

    /** What may stand behind the type of a function (MariaDB, CREATE FUNCTION). */
    static final Set<String> CHARACTERISTICS =
            Set.of(
                    "language",
                    "not",
                    "deterministic",
                    "contains",
                    "no",
                    "reads",
                    "modifies",
                    "sql",
                    "comment");

    /** Whether its text is read otherwise than usual. */
    boolean speaksOtherwise() {
        return speaksOtherwise(modes);
    }

    static boolean speaksOtherwise(String modes) {
        return has(modes, OTHER);
    }

    /** Whether a session's modes have one. */
    static boolean has(String modes, String mode) {
        return List.of(modes.split(",")).contains(mode);
    }

    /** Whether it belongs to a package. */
    boolean isInPackage() {
        return !statement.begins("create");
    }

    /** As SQL calls it. */
    String callee() {
        int dot = isInPackage() ? name.indexOf('.') : -1;
        return dot < 0
                ? MariaCode.quoted(name)
                : MariaCode.quoted(name.substring(0, dot))
                        + "."
                        + MariaCode.quoted(name.substring(dot + 1));
    }

    /**
     * The head of what a statement creates; empty where that is no routine or trigger.
     *
     * @param modes the session's {@code sql_mode}
     */
    static Optional<MariaRoutine> of(MariaScript.Statement statement, String modes) {
        List<Token> tokens = statement.tokens();
        int at = statement.stored();
        if (at < 0) {
            return Optional.empty();
        }
        String what = tokens.get(at).text();
        if (!List.of("procedure", "function", "trigger").contains(what)) {
            return Optional.empty();
        }
        at++;
        if (at + 2 < tokens.size() && tokens.get(at).is("if") && tokens.get(at + 1).is("not")) {
            at += 3;
        }
        if (at + 2 < tokens.size() && tokens.get(at + 1).is(".")) {
            at += 2;
        }
        if (at >= tokens.size() || !isName(tokens.get(at))) {
            return Optional.empty();
        }
        Token name = tokens.get(at);
        String written = statement.span().source().written();
        String text = text(name, written);
        Optional<String> table = Optional.empty();
        int body = what.equals("trigger") ? triggerBody(tokens, at) : routineBody(tokens, at + 1);
        if (what.equals("trigger")) {
            for (int i = at; i + 1 < tokens.size(); i++) {
                if (tokens.get(i).is("on")) {
                    int last = i + 1;
                    while (last + 2 < tokens.size() && tokens.get(last + 1).is(".")) {
                        last += 2;
                    }
                    Token of = tokens.get(last);
                    table = Optional.of(text(of, written));
                    break;
                }
            }
        }
        return Optional.of(
                new MariaRoutine(
                        statement,
                        statement.span(),
                        what,
                        text,
                        statement.span().source().span(name.start(), name.end()),
                        table,
                        body,
                        modes));
    }

    /** Under ANSI_QUOTES a name may stand in the quotes of texts. */
    private static boolean isName(Token token) {
        return token.isName()
                || token.kind() == MariaLexer.Kind.STRING && token.text().startsWith("\"");
    }

    static String text(Token name, String written) {
        if (name.kind() == MariaLexer.Kind.STRING) {
            return name.text().substring(1, name.text().length() - 1).replace("\"\"", "\"");
        }
        return name.kind() == MariaLexer.Kind.QUOTED_NAME
                ? name.text()
                : written.substring(name.start(), name.end());
    }

    /** Behind FOR EACH ROW, and FOLLOWS or PRECEDES another. */
    private static int triggerBody(List<Token> tokens, int from) {
        for (int i = from; i + 3 < tokens.size(); i++) {
            if (tokens.get(i).is("each") && tokens.get(i + 1).is("row")) {
                boolean ordered =
                        tokens.get(i + 2).is("follows") || tokens.get(i + 2).is("precedes");
                return ordered ? i + 4 : i + 2;
            }
        }
        return -1;
    }

    /** Behind the parameters, what is returned, and the characteristics. */
    static int routineBody(List<Token> tokens, int from) {
        int i = from;
        int depth = 0;
        do {
            if (i >= tokens.size()) {
                return -1;
            }
            depth += tokens.get(i).is("(") ? 1 : tokens.get(i).is(")") ? -1 : 0;
            i++;
        } while (depth > 0);
        if (i < tokens.size() && tokens.get(i).is("returns")) {
            i += 2;
            int inside = 0;
            while (i < tokens.size() && (inside > 0 || isType(tokens, i))) {
                inside += tokens.get(i).is("(") ? 1 : tokens.get(i).is(")") ? -1 : 0;
                i++;
            }
        }
        while (i < tokens.size()) {
            Token token = tokens.get(i);
            if (token.is("comment") || token.is("language")) {
                i += 2;
            } else if (token.is("not") && next(tokens, i).is("deterministic")) {
                i += 2;
            } else if (token.is("deterministic")) {
                i++;
            } else if (token.is("sql") && next(tokens, i).is("security")) {
                i += 3;
            } else if (token.is("contains") || token.is("no") && next(tokens, i).is("sql")) {
                i += 2;
            } else if ((token.is("reads") || token.is("modifies")) && next(tokens, i).is("sql")) {
                i += 3;
            } else {
                return i;
            }
        }
        return -1;
    }

    private static Token next(List<Token> tokens, int i) {
        return tokens.get(Math.min(i + 1, tokens.size() - 1));
    }

    /** Whether a token still belongs to the type that is returned. */
    private static boolean isType(List<Token> tokens, int i) {
        Token token = tokens.get(i);
        return token.is("(")
                || token.is(")")
                || token.is(",")
                || token.is("unsigned")
                || token.is("signed")
                || token.is("zerofill")
                || token.is("charset")
                || token.is("character")
                || token.is("set")
                || token.is("collate")
                || token.is("precision")
                || token.is("varying")
                || token.is("aggregate")
                || token.is("unicode")
                || token.is("ascii")
                || token.is("binary")
                || token.is("byte")
                || tokens.get(i - 1).is("of")
                || tokens.get(i - 1).is(".")
                || token.is("of")
                || token.is("type")
                || token.is(".")
                || token.kind() == MariaLexer.Kind.NUMBER
                || token.kind() == MariaLexer.Kind.STRING
                || tokens.get(i - 1).is("charset")
                || tokens.get(i - 1).is("set")
                || tokens.get(i - 1).is("collate");
    }
}
