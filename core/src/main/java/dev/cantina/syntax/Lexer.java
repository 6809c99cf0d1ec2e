package dev.cantina.syntax;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/**
 * Cuts a source into tokens (ISO 9075-2, 5.2). Never fails: what it cannot read becomes a problem
 * and is passed over.
 */
final class Lexer {
    private static final String[] LONG_SYMBOLS = {"<>", "<=", ">=", "||", "=>", "::", "!="};

    private final Source source;
    private final String text;
    private final List<Problem> problems;
    private final List<Token> tokens = new ArrayList<>();
    private final Map<String, String> words = new HashMap<>();
    private int at;

    Lexer(Source source, List<Problem> problems) {
        this.source = source;
        this.text = source.text();
        this.problems = problems;
    }

    List<Token> tokens() {
        while (skipSpace()) {
            token();
        }
        tokens.add(new Token(Token.Kind.END, text.length(), text.length(), ""));
        return tokens;
    }

    private boolean skipSpace() {
        while (at < text.length()) {
            char c = text.charAt(at);
            if (Character.isWhitespace(c) || c == '\uFEFF' || c == '\u00A0') {
                at++;
            } else if (c == '-' && next(1) == '-') {
                while (at < text.length() && text.charAt(at) != '\n') {
                    at++;
                }
            } else if (c == '/' && next(1) == '*') {
                bracketedComment();
            } else {
                return true;
            }
        }
        return false;
    }

    private void bracketedComment() {
        int start = at;
        int depth = 0;
        while (at < text.length()) {
            if (text.charAt(at) == '/' && next(1) == '*') {
                depth++;
                at += 2;
            } else if (text.charAt(at) == '*' && next(1) == '/') {
                at += 2;
                if (--depth == 0) {
                    return;
                }
            } else {
                at++;
            }
        }
        problem(start, start + 2, "this comment never ends", "close it with */");
    }

    private void token() {
        int start = at;
        char c = text.charAt(at);
        if (c == '\'') {
            quoted('\'', start, Token.Kind.TEXT);
        } else if (c == '"') {
            quoted('"', start, Token.Kind.DELIMITED);
        } else if ((c == 'X' || c == 'x') && next(1) == '\'') {
            at++;
            quoted('\'', start, Token.Kind.BYTES);
        } else if ((c == 'U' || c == 'u') && next(1) == '&' && next(2) == '\'') {
            at += 2;
            quoted('\'', start, Token.Kind.TEXT);
            unescapeLast();
        } else if (Character.isDigit(c) || c == '.' && Character.isDigit(next(1))) {
            number(start);
        } else if (Character.isLetter(c) || c == '_' || Character.isHighSurrogate(c)) {
            while (at < text.length() && isWordPart(text.charAt(at))) {
                at++;
            }
            add(Token.Kind.WORD, start, upper(text.substring(start, at)));
        } else {
            symbol(start, c);
        }
    }

    private static boolean isWordPart(char c) {
        return Character.isLetterOrDigit(c) || c == '_' || c == '$' || Character.isSurrogate(c);
    }

    private String upper(String word) {
        return words.computeIfAbsent(word, w -> w.toUpperCase(Locale.ROOT));
    }

    private void symbol(int start, char c) {
        for (String symbol : LONG_SYMBOLS) {
            if (text.startsWith(symbol, at)) {
                at += 2;
                add(Token.Kind.SYMBOL, start, symbol);
                return;
            }
        }
        at++;
        if ("+-*/=<>(),;.:?[]%&|^~#@{}!\\$".indexOf(c) < 0) {
            problem(
                    start,
                    at,
                    "unexpected character "
                            + (Character.isISOControl(c)
                                    ? String.format("U+%04X", (int) c)
                                    : "'" + c + "'"),
                    "remove it");
            return;
        }
        add(Token.Kind.SYMBOL, start, String.valueOf(c));
    }

    private void number(int start) {
        Token.Kind kind = Token.Kind.INTEGER;
        digits();
        if (at < text.length() && text.charAt(at) == '.') {
            kind = Token.Kind.DECIMAL;
            at++;
            digits();
        }
        if ((next(0) == 'e' || next(0) == 'E')
                && (Character.isDigit(next(1))
                        || (next(1) == '+' || next(1) == '-') && Character.isDigit(next(2)))) {
            kind = Token.Kind.APPROXIMATE;
            at += 2;
            digits();
        }
        add(kind, start, text.substring(start, at));
    }

    private void digits() {
        while (at < text.length() && text.charAt(at) >= '0' && text.charAt(at) <= '9') {
            at++;
        }
    }

    private void quoted(char quote, int start, Token.Kind kind) {
        StringBuilder value = new StringBuilder();
        at++;
        while (at < text.length()) {
            char c = text.charAt(at++);
            if (c != quote) {
                value.append(c);
            } else if (next(0) == quote) {
                value.append(quote);
                at++;
            } else {
                add(kind, start, value.toString());
                return;
            }
        }
        // The rest of the line is all that can be meant; what follows is read as usual.
        int lineEnd = text.indexOf('\n', start);
        at = lineEnd < 0 ? text.length() : lineEnd;
        problem(
                start,
                Math.min(start + 1, text.length()),
                quote == '"' ? "this delimited name never ends" : "this text never ends",
                "close it with " + quote);
        add(kind, start, text.substring(Math.min(start + 1, at), at));
    }

    /** {@code U&'…\0041…'}: the default escape character only. */
    private void unescapeLast() {
        Token last = tokens.remove(tokens.size() - 1);
        StringBuilder value = new StringBuilder();
        String raw = last.text();
        for (int i = 0; i < raw.length(); i++) {
            char c = raw.charAt(i);
            if (c != '\\') {
                value.append(c);
                continue;
            }
            boolean six = raw.startsWith("\\+", i);
            int from = i + (six ? 2 : 1);
            int to = from + (six ? 6 : 4);
            if (raw.startsWith("\\\\", i)) {
                value.append('\\');
                i++;
            } else {
                try {
                    value.appendCodePoint(Integer.parseInt(raw.substring(from, to), 16));
                    i = to - 1;
                } catch (IndexOutOfBoundsException | IllegalArgumentException e) {
                    problem(
                            last.start(),
                            last.end(),
                            "a Unicode escape is \\ and four hexadecimal digits, or \\+ and six",
                            "write \\\\ for the character \\");
                    break;
                }
            }
        }
        tokens.add(new Token(Token.Kind.TEXT, last.start(), last.end(), value.toString()));
    }

    private char next(int ahead) {
        return at + ahead < text.length() ? text.charAt(at + ahead) : '\0';
    }

    private void add(Token.Kind kind, int start, String value) {
        tokens.add(new Token(kind, start, at, value));
    }

    private void problem(int start, int end, String message, String mend) {
        problems.add(Problem.error(source.span(start, end), "syntax", message, mend));
    }
}
