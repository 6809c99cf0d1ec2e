package dev.cantina.nativecode.mariadb;

import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.nativecode.NativeToken;
import dev.cantina.syntax.Source;
import java.util.List;
import java.util.Locale;
import java.util.Set;

/**
 * The tokens of a text for MariaDB (its documentation, Language Structure). Comments are passed
 * over; of one that the server runs, {@code /*!}, the marks are.
 */
final class MariaLexer {
    /** What a token is. */
    enum Kind {
        WORD,
        QUOTED_NAME,
        STRING,
        NUMBER,
        VARIABLE,
        SYMBOL
    }

    /**
     * A token.
     *
     * @param text a word in lower case, a quoted name without its quotes, else as written
     */
    record Token(Kind kind, int start, int end, String text) implements NativeToken {
        @Override
        public boolean isWord() {
            return kind == Kind.WORD;
        }

        @Override
        public boolean is(String what) {
            return (kind == Kind.WORD || kind == Kind.SYMBOL) && text.equals(what);
        }

        @Override
        public boolean isName() {
            return kind == Kind.WORD || kind == Kind.QUOTED_NAME;
        }
    }

    private final Source source;
    private final String text;
    private final int end;
    private int at;

    /** What ends a statement, and so a word before it. */
    private String delimiter = ";";

    /** Whether a backslash in a text escapes what follows. */
    private boolean escapes = true;

    /** Whether a name, and no text, stands between double quotes. */
    private boolean names;

    /** The modes that have it so, by themselves or among others ("SQL_MODE"). */
    private static final Set<String> ANSI_QUOTES =
            Set.of("ANSI_QUOTES", "ANSI", "ORACLE", "MSSQL", "DB2", "POSTGRESQL", "MAXDB");

    MariaLexer(Source source, int from, int end) {
        this.source = source;
        this.text = source.written();
        this.at = from;
        this.end = end;
    }

    int at() {
        return at;
    }

    void delimiter(String said) {
        delimiter = said;
    }

    /** From now on texts are read as in a session with this {@code sql_mode}. */
    void modes(String said) {
        List<String> modes = List.of(said.toUpperCase(Locale.ROOT).split("\\s*,\\s*"));
        escapes = !modes.contains("NO_BACKSLASH_ESCAPES");
        names = modes.stream().anyMatch(ANSI_QUOTES::contains);
    }

    /** One that reads another stretch in the same modes. */
    MariaLexer of(int from, int to) {
        MariaLexer other = new MariaLexer(source, from, to);
        other.escapes = escapes;
        other.names = names;
        return other;
    }

    /** Goes on from another place. */
    void to(int place) {
        at = place;
    }

    private NativeSyntaxException unended(int from, String what) {
        return new NativeSyntaxException(
                source.span(from, Math.min(end, from + 1)), what + " that begins here has no end");
    }

    private char peek(int offset) {
        return at + offset < end ? text.charAt(at + offset) : '\0';
    }

    /** Goes behind blanks and comments. */
    void skip() throws NativeSyntaxException {
        while (at < end) {
            char c = text.charAt(at);
            if (Character.isWhitespace(c)) {
                at++;
            } else if (c == '#' || c == '-' && peek(1) == '-' && isBlank(peek(2))) {
                int line = text.indexOf('\n', at);
                at = line < 0 || line > end ? end : line;
            } else if (c == '/'
                    && peek(1) == '*'
                    && (peek(2) == '!' || text.startsWith("/*M!", at))) {
                at += peek(2) == '!' ? 3 : 4;
                while (Character.isDigit(peek(0))) {
                    at++;
                }
            } else if (c == '*' && peek(1) == '/') {
                at += 2;
            } else if (c == '/' && peek(1) == '*') {
                int close = text.indexOf("*/", at + 2);
                if (close < 0 || close + 2 > end) {
                    throw unended(at, "a comment");
                }
                at = close + 2;
            } else {
                return;
            }
        }
    }

    private static boolean isBlank(char c) {
        return c == '\0' || Character.isWhitespace(c) || Character.isISOControl(c);
    }

    /** The next token; null at the end. */
    Token next() throws NativeSyntaxException {
        skip();
        if (at >= end) {
            return null;
        }
        int from = at;
        char c = text.charAt(at);
        if (c == '\'' || c == '"' && !names) {
            quoted(c, "a text", escapes);
            return token(Kind.STRING, from);
        }
        if ((c == 'x' || c == 'X' || c == 'b' || c == 'B' || c == 'n' || c == 'N')
                && peek(1) == '\'') {
            at++;
            quoted('\'', "a text", escapes);
            return token(Kind.STRING, from);
        }
        if (c == '`' || c == '"') {
            quoted(c, "a name in quotes", false);
            String quote = String.valueOf(c);
            return new Token(
                    Kind.QUOTED_NAME,
                    from,
                    at,
                    text.substring(from + 1, at - 1).replace(quote + quote, quote));
        }
        if (c == '@') {
            at++;
            while (peek(0) == '@' || isNamePart(peek(0)) || peek(0) == '.') {
                at++;
            }
            if (peek(0) == '`' || peek(0) == '\'' || peek(0) == '"') {
                quoted(peek(0), "a variable's name", false);
            }
            return token(Kind.VARIABLE, from);
        }
        if (isNamePart(c) && !Character.isDigit(c)) {
            return word(from);
        }
        if (Character.isDigit(c) || c == '.' && Character.isDigit(peek(1))) {
            while (Character.isLetterOrDigit(peek(0)) || peek(0) == '.' && peek(1) != '.') {
                boolean sign =
                        (peek(0) == 'e' || peek(0) == 'E') && (peek(1) == '-' || peek(1) == '+');
                at += sign ? 2 : 1;
            }
            return token(Kind.NUMBER, from);
        }
        at++;
        if (c == ':' && peek(0) == '=' || c == '.' && peek(0) == '.') {
            at++;
        }
        return token(Kind.SYMBOL, from);
    }

    private Token word(int from) {
        while (at < end
                && isNamePart(text.charAt(at))
                && !(at > from && text.startsWith(delimiter, at))) {
            at++;
        }
        return new Token(Kind.WORD, from, at, text.substring(from, at).toLowerCase(Locale.ROOT));
    }

    private Token token(Kind kind, int from) {
        return new Token(kind, from, at, text.substring(from, at));
    }

    private static boolean isNamePart(char c) {
        return c == '_' || c == '$' || Character.isLetterOrDigit(c) || c > 127;
    }

    private void quoted(char quote, String what, boolean escapes) throws NativeSyntaxException {
        int from = at;
        at++;
        while (true) {
            if (at >= end) {
                throw unended(from, what);
            }
            char c = text.charAt(at);
            if (c == '\\' && escapes) {
                at += 2;
            } else if (c == quote && peek(1) == quote) {
                at += 2;
            } else if (c == quote) {
                at++;
                return;
            } else {
                at++;
            }
        }
    }
}
