package dev.cantina.syntax;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;

/**
 * Cuts a source into tokens (ISO 9075-2, 5.2). Never fails: what it cannot read becomes a problem
 * and is passed over.
 */
final class Lexer {
    private static final String SYMBOLS = "+-*/=<>(),;.:?[]%&|^~#@{}!\\$";
    private static final int ASCII = 128;

    /** What a character of ASCII can be part of. */
    private static final byte[] CLASSES = new byte[ASCII];

    private static final int SPACE = 1;
    private static final int WORD_START = 2;
    private static final int WORD_PART = 4;

    /** The symbols of one character, each one text for all its uses. */
    private static final String[] SHORT_SYMBOLS = new String[ASCII];

    static {
        for (char c = 0; c < ASCII; c++) {
            boolean start = Character.isLetter(c) || c == '_';
            CLASSES[c] |= Character.isWhitespace(c) ? SPACE : 0;
            CLASSES[c] |= start ? WORD_START : 0;
            CLASSES[c] |= start || Character.isDigit(c) || c == '$' ? WORD_PART : 0;
        }
        for (char c : SYMBOLS.toCharArray()) {
            SHORT_SYMBOLS[c] = String.valueOf(c);
        }
    }

    private final Source source;
    private final String text;

    /** The characters of the text and a zero. */
    private final char[] characters;

    private final List<Problem> problems;
    private final List<Token> tokens = new ArrayList<>();
    private final Words words = new Words();
    private int at;

    Lexer(Source source, List<Problem> problems) {
        this.source = source;
        this.text = source.text();
        this.characters = Arrays.copyOf(text.toCharArray(), text.length() + 1);
        this.problems = problems;
    }

    List<Token> tokens() {
        while (skipSpace()) {
            token();
        }
        tokens.add(new Token(Token.Kind.END, text.length(), text.length(), ""));
        return tokens;
    }

    /** The words of a text, each one text for all the places where it is written the same way. */
    private static final class Words {
        private String[] written = new String[256];
        private String[] upper = new String[256];
        private int count;

        /** The number of a word, by which both its texts are found until the next is asked for. */
        int find(char[] characters, int start, int end) {
            int hash = 0;
            for (int i = start; i < end; i++) {
                hash = 31 * hash + characters[i];
            }
            int slot = slot(hash);
            while (written[slot] != null) {
                if (isSame(written[slot], characters, start, end)) {
                    return slot;
                }
                slot = slot + 1 & written.length - 1;
            }
            String word = new String(characters, start, end - start);
            if (++count > written.length / 2) {
                grow();
                slot = free(hash);
            }
            put(slot, word, word.toUpperCase(Locale.ROOT));
            return slot;
        }

        String written(int number) {
            return written[number];
        }

        String upper(int number) {
            return upper[number];
        }

        private void put(int slot, String word, String inUpper) {
            written[slot] = word;
            upper[slot] = inUpper.equals(word) ? word : inUpper;
        }

        private int slot(int hash) {
            return (hash ^ hash >>> 15) & written.length - 1;
        }

        private int free(int hash) {
            int slot = slot(hash);
            while (written[slot] != null) {
                slot = slot + 1 & written.length - 1;
            }
            return slot;
        }

        private static boolean isSame(String word, char[] characters, int start, int end) {
            int length = end - start;
            if (word.length() != length) {
                return false;
            }
            for (int i = 0; i < length; i++) {
                if (word.charAt(i) != characters[start + i]) {
                    return false;
                }
            }
            return true;
        }

        private void grow() {
            String[] oldWritten = written;
            String[] oldUpper = upper;
            written = new String[oldWritten.length * 2];
            upper = new String[oldWritten.length * 2];
            for (int i = 0; i < oldWritten.length; i++) {
                if (oldWritten[i] != null) {
                    // A text's hash code is worked out the same way (java.lang.String).
                    put(free(oldWritten[i].hashCode()), oldWritten[i], oldUpper[i]);
                }
            }
        }
    }

    private boolean skipSpace() {
        while (at < text.length()) {
            char c = characters[at];
            if (isSpace(c)) {
                at++;
            } else if (c == '-' && next(1) == '-') {
                while (at < text.length() && characters[at] != '\n') {
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

    private static boolean isSpace(char c) {
        return c < ASCII
                ? (CLASSES[c] & SPACE) != 0
                : Character.isWhitespace(c) || c == '\uFEFF' || c == '\u00A0';
    }

    private static boolean isWordStart(char c) {
        return c < ASCII
                ? (CLASSES[c] & WORD_START) != 0
                : Character.isLetter(c) || Character.isHighSurrogate(c);
    }

    private static boolean isWordPart(char c) {
        return c < ASCII
                ? (CLASSES[c] & WORD_PART) != 0
                : Character.isLetterOrDigit(c) || Character.isSurrogate(c);
    }

    private void bracketedComment() {
        int start = at;
        int depth = 0;
        while (at < text.length()) {
            if (characters[at] == '/' && next(1) == '*') {
                depth++;
                at += 2;
            } else if (characters[at] == '*' && next(1) == '/') {
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
        char c = characters[at];
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
        } else if (isWordStart(c)) {
            while (isWordPart(characters[at])) {
                at++;
            }
            int word = words.find(characters, start, at);
            tokens.add(
                    new Token(Token.Kind.WORD, start, at, words.upper(word), words.written(word)));
        } else {
            symbol(start, c);
        }
    }

    private void symbol(int start, char c) {
        String two = ofTwo(c, next(1));
        if (!two.isEmpty()) {
            at += 2;
            add(Token.Kind.SYMBOL, start, two);
            return;
        }
        at++;
        if (c >= ASCII || SHORT_SYMBOLS[c] == null) {
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
        add(Token.Kind.SYMBOL, start, SHORT_SYMBOLS[c]);
    }

    /** The symbol of two characters that these are; empty where they are none. */
    private static String ofTwo(char first, char second) {
        return switch (first) {
            case '<' -> second == '>' ? "<>" : second == '=' ? "<=" : "";
            case '>' -> second == '=' ? ">=" : "";
            case '=' -> second == '>' ? "=>" : "";
            case '|' -> second == '|' ? "||" : "";
            case ':' -> second == ':' ? "::" : "";
            case '!' -> second == '=' ? "!=" : "";
            default -> "";
        };
    }

    private void number(int start) {
        Token.Kind kind = Token.Kind.INTEGER;
        digits();
        if (at < text.length() && characters[at] == '.') {
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
        while (at < text.length() && characters[at] >= '0' && characters[at] <= '9') {
            at++;
        }
    }

    private void quoted(char quote, int start, Token.Kind kind) {
        StringBuilder value = new StringBuilder();
        at++;
        while (at < text.length()) {
            char c = characters[at++];
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
        return at + ahead < text.length() ? characters[at + ahead] : '\0';
    }

    private void add(Token.Kind kind, int start, String value) {
        tokens.add(new Token(kind, start, at, value));
    }

    private void problem(int start, int end, String message, String mend) {
        problems.add(Problem.error(source.span(start, end), "syntax", message, mend));
    }
}
