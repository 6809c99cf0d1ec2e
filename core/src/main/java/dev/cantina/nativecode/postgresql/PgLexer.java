package dev.cantina.nativecode.postgresql;

import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.nativecode.NativeToken;
import dev.cantina.syntax.Source;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/**
 * The tokens of a text for PostgreSQL (its documentation, 4.1, Lexical Structure): comments are
 * passed over, nested ones too.
 */
final class PgLexer {
    /** What a token is. */
    enum Kind {
        WORD,
        QUOTED_NAME,
        STRING,
        DOLLAR_STRING,
        NUMBER,
        PARAMETER,
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

    private static final String OPERATORS = "+-*/<>=~!@#%^&|`?";

    private final Source source;
    private final String text;
    private final int end;

    /** A quote: doubled in a body that stands between quotes itself. */
    private final String quote;

    private final List<Token> tokens = new ArrayList<>();
    private int at;

    private PgLexer(Source source, int from, int end, boolean doubled) {
        this.quote = doubled ? "''" : "'";
        this.source = source;
        this.text = source.written();
        this.at = from;
        this.end = end;
    }

    /**
     * All tokens from one offset to another.
     *
     * @param doubled whether the text stands between quotes, and each of its own is doubled
     */
    static List<Token> read(Source source, int from, int end, boolean doubled)
            throws NativeSyntaxException {
        PgLexer lexer = new PgLexer(source, from, end, doubled);
        while (lexer.next()) {
            continue;
        }
        return lexer.tokens;
    }

    /**
     * One token after another, for who must look at the text between them.
     *
     * @return where the token at or after an offset is; null at the end
     */
    static Token token(Source source, int from, int end) throws NativeSyntaxException {
        PgLexer lexer = new PgLexer(source, from, end, false);
        return lexer.next() ? lexer.tokens.get(0) : null;
    }

    private NativeSyntaxException unended(int from, String what) {
        return new NativeSyntaxException(
                source.span(from, Math.min(end, from + 1)), what + " that begins here has no end");
    }

    private char peek(int offset) {
        return at + offset < end ? text.charAt(at + offset) : '\0';
    }

    private void skip() throws NativeSyntaxException {
        while (at < end) {
            char c = text.charAt(at);
            if (Character.isWhitespace(c)) {
                at++;
            } else if (c == '-' && peek(1) == '-') {
                int line = text.indexOf('\n', at);
                at = line < 0 || line > end ? end : line;
            } else if (c == '/' && peek(1) == '*') {
                comment();
            } else {
                return;
            }
        }
    }

    private void comment() throws NativeSyntaxException {
        int from = at;
        int depth = 0;
        do {
            if (at + 1 >= end) {
                throw unended(from, "a comment");
            }
            if (text.startsWith("/*", at)) {
                depth++;
                at += 2;
            } else if (text.startsWith("*/", at)) {
                depth--;
                at += 2;
            } else {
                at++;
            }
        } while (depth > 0);
    }

    private boolean next() throws NativeSyntaxException {
        skip();
        if (at >= end) {
            return false;
        }
        int from = at;
        char c = text.charAt(at);
        if (c == '\'') {
            string(from, false);
        } else if ((c == 'e' || c == 'E') && peek(1) == '\'') {
            at++;
            string(from, true);
        } else if (isPrefix(c) && peek(1) == '\'') {
            at++;
            string(from, false);
        } else if ((c == 'u' || c == 'U')
                && peek(1) == '&'
                && (peek(2) == '\'' || peek(2) == '"')) {
            at += 2;
            if (peek(0) == '\'') {
                string(from, false);
            } else {
                quotedName(from);
            }
        } else if (c == '"') {
            quotedName(from);
        } else if (c == '$' && Character.isDigit(peek(1))) {
            at++;
            while (Character.isDigit(peek(0))) {
                at++;
            }
            add(Kind.PARAMETER, from);
        } else if (c == '$') {
            dollar(from);
        } else if (isNameStart(c)) {
            while (at < end && isNamePart(text.charAt(at))) {
                at++;
            }
            tokens.add(
                    new Token(
                            Kind.WORD,
                            from,
                            at,
                            text.substring(from, at).toLowerCase(Locale.ROOT)));
        } else if (Character.isDigit(c) || c == '.' && Character.isDigit(peek(1))) {
            number(from);
        } else {
            symbol(from, c);
        }
        return true;
    }

    private static boolean isPrefix(char c) {
        return c == 'b' || c == 'B' || c == 'x' || c == 'X' || c == 'n' || c == 'N';
    }

    private static boolean isNameStart(char c) {
        return c == '_' || Character.isLetter(c) || c > 127;
    }

    private static boolean isNamePart(char c) {
        return isNameStart(c) || Character.isDigit(c) || c == '$';
    }

    private void add(Kind kind, int from) {
        tokens.add(new Token(kind, from, at, text.substring(from, at)));
    }

    private void string(int from, boolean escapes) throws NativeSyntaxException {
        at += quote.length();
        while (true) {
            if (at >= end) {
                throw unended(from, "a text");
            }
            char c = text.charAt(at);
            if (c == '\\' && escapes) {
                at += 2;
            } else if (text.startsWith(quote + quote, at)) {
                at += 2 * quote.length();
            } else if (text.startsWith(quote, at)) {
                at += quote.length();
                break;
            } else {
                at++;
            }
        }
        add(Kind.STRING, from);
    }

    private void quotedName(int from) throws NativeSyntaxException {
        at++;
        while (true) {
            if (at >= end) {
                throw unended(from, "a name in quotes");
            }
            if (text.charAt(at) == '"' && peek(1) == '"') {
                at += 2;
            } else if (text.charAt(at) == '"') {
                at++;
                break;
            } else {
                at++;
            }
        }
        int name = text.indexOf('"', from) + 1;
        tokens.add(
                new Token(
                        Kind.QUOTED_NAME,
                        from,
                        at,
                        text.substring(name, at - 1).replace("\"\"", "\"")));
    }

    private void dollar(int from) throws NativeSyntaxException {
        int tagEnd = at + 1;
        while (tagEnd < end && isNamePart(text.charAt(tagEnd)) && text.charAt(tagEnd) != '$') {
            tagEnd++;
        }
        if (tagEnd >= end || text.charAt(tagEnd) != '$') {
            symbol(from, '$');
            return;
        }
        String tag = text.substring(from, tagEnd + 1);
        int close = text.indexOf(tag, tagEnd + 1);
        if (close < 0 || close + tag.length() > end) {
            throw unended(from, "a text in " + tag);
        }
        at = close + tag.length();
        add(Kind.DOLLAR_STRING, from);
    }

    private void number(int from) {
        boolean dot = false;
        while (at < end) {
            char c = text.charAt(at);
            if (c == '.' && !dot && peek(1) != '.') {
                dot = true;
                at++;
            } else if ((c == 'e' || c == 'E')
                    && (Character.isDigit(peek(1))
                            || (peek(1) == '-' || peek(1) == '+') && Character.isDigit(peek(2)))) {
                at += 2;
            } else if (Character.isLetterOrDigit(c) || c == '_') {
                at++;
            } else {
                break;
            }
        }
        add(Kind.NUMBER, from);
    }

    private void symbol(int from, char c) {
        at++;
        if (c == ':' && (peek(0) == '=' || peek(0) == ':') || c == '.' && peek(0) == '.') {
            at++;
        } else if (text.startsWith("<<", from) || text.startsWith(">>", from)) {
            at = from + 2;
        } else if (OPERATORS.indexOf(c) >= 0) {
            while (OPERATORS.indexOf(peek(0)) >= 0
                    && peek(0) != '\0'
                    && !text.startsWith("--", at)
                    && !text.startsWith("/*", at)) {
                at++;
            }
            // A label may stand right behind an operator, and a sign before a number.
            String all = text.substring(from, at);
            boolean plain = all.chars().noneMatch(x -> "~!@#%^&|`?".indexOf(x) >= 0);
            while (plain
                    && at - from > 1
                    && (text.charAt(at - 1) == '+' || text.charAt(at - 1) == '-')) {
                at--;
            }
        }
        add(Kind.SYMBOL, from);
    }
}
