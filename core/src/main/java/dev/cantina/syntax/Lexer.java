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
            SHORT_SYMBOLS[c] = String.valueOf(c).intern();
        }
    }

    private final Source source;
    private final String text;

    /** The characters of the text and a zero. */
    private final char[] characters;

    private final int length;

    private final List<Problem> problems;
    private final boolean backticks;

    /** Whether {@code #} begins a comment. */
    private final boolean hashes;

    private final List<Token> tokens;
    private final List<Comments.Comment> comments = new ArrayList<>();
    private final Words words;
    private int at;

    Lexer(Source source, List<Problem> problems) {
        this(source, problems, Reading.STANDARD);
    }

    Lexer(Source source, List<Problem> problems, Reading reading) {
        this(source, problems, reading.backticks(), reading.backticks());
    }

    /** Reads what is on its way to a server, where names may stand in backticks. */
    static Lexer ofStatement(String text) {
        return new Lexer(new Source("sql", text), new ArrayList<>(), true, false);
    }

    /** The tokens of a stretch of a statement, at their places in its source. */
    static List<Token> ofStretch(Span span) {
        return ofStatement(span.text()).tokens().stream().map(t -> t.at(span.start())).toList();
    }

    private Lexer(Source source, List<Problem> problems, boolean backticks, boolean hashes) {
        this.backticks = backticks;
        this.hashes = hashes;
        this.source = source;
        this.text = source.text();
        this.length = text.length();
        this.words = new Words(length);
        this.characters = new char[length + 1];
        text.getChars(0, length, characters, 0);
        this.problems = problems;
        // A token has four to five characters, the blanks before it among them.
        this.tokens = new ArrayList<>(length / 5 + 1);
    }

    List<Token> tokens() {
        while (skipSpace()) {
            token();
        }
        tokens.add(new Token(Token.Kind.END, length, length, ""));
        return tokens;
    }

    /** The text without the comments in its statements; {@link #tokens} comes first. */
    String quiet() {
        String quiet = Comments.masked(text, tokens, comments);
        return ticked.isEmpty() ? quiet : withoutTicks(quiet);
    }

    /** Names in backticks, whose quotes are the standard's from here on, or none at all. */
    private String withoutTicks(String quiet) {
        StringBuilder all = new StringBuilder(quiet);
        for (Token token : ticked) {
            boolean plain = token.kind() == Token.Kind.WORD;
            all.setCharAt(token.start(), plain ? ' ' : '"');
            all.setCharAt(token.end() - 1, plain ? ' ' : '"');
        }
        return all.toString();
    }

    private final List<Token> ticked = new ArrayList<>();

    /** {@code `name`}: an ordinary name where it could be written as one. */
    private void backticked(int start) {
        int end = text.indexOf('`', start + 1);
        if (end < 0) {
            at++;
            problem(start, at, "this name never ends", "close it with `");
            return;
        }
        String name = text.substring(start + 1, end);
        at = end + 1;
        boolean plain =
                !name.isEmpty()
                        && isWordStart(name.charAt(0))
                        && name.chars().allMatch(c -> isWordPart((char) c))
                        && !TokenReader.isReserved(name.toUpperCase(Locale.ROOT));
        Token token =
                plain
                        ? new Token(
                                Token.Kind.WORD,
                                start,
                                at,
                                name.toUpperCase(Locale.ROOT).intern(),
                                name)
                        : new Token(Token.Kind.DELIMITED, start, at, name);
        tokens.add(token);
        ticked.add(token);
    }

    /** A word of a text, the same for all the places where it is written the same way. */
    private static final class Word {
        final int hash;
        final char[] letters;
        final String written;
        final String upper;

        Word(int hash, char[] letters) {
            this.hash = hash;
            this.letters = letters;
            String word = new String(letters);
            this.upper = word.toUpperCase(Locale.ROOT).intern();
            this.written = word.equals(upper) ? upper : word;
        }

        boolean is(int otherHash, char[] text, int start, int end) {
            if (hash != otherHash || letters.length != end - start) {
                return false;
            }
            for (int i = 0; i < letters.length; i++) {
                if (letters[i] != text[start + i]) {
                    return false;
                }
            }
            return true;
        }
    }

    /** The words of a text, found by their letters. */
    private static final class Words {
        private Word[] slots;
        private int count;

        /**
         * @param length of the text: a short one has few words
         */
        Words(int length) {
            slots = new Word[Integer.highestOneBit(Math.max(16, Math.min(512, length / 2)))];
        }

        Word find(int hash, char[] text, int start, int end) {
            int slot = slot(hash);
            while (slots[slot] != null) {
                if (slots[slot].is(hash, text, start, end)) {
                    return slots[slot];
                }
                slot = slot + 1 & slots.length - 1;
            }
            Word word = new Word(hash, Arrays.copyOfRange(text, start, end));
            slots[slot] = word;
            if (++count > slots.length / 2) {
                grow();
            }
            return word;
        }

        private int slot(int hash) {
            return (hash ^ hash >>> 15) & slots.length - 1;
        }

        private void grow() {
            Word[] old = slots;
            slots = new Word[old.length * 2];
            for (Word word : old) {
                if (word != null) {
                    int slot = slot(word.hash);
                    while (slots[slot] != null) {
                        slot = slot + 1 & slots.length - 1;
                    }
                    slots[slot] = word;
                }
            }
        }
    }

    private boolean skipSpace() {
        while (at < length) {
            at = afterSpace(at);
            char c = characters[at];
            if (at == length) {
                return false;
            } else if (c == '-' && next(1) == '-') {
                int start = at;
                while (at < length && characters[at] != '\n') {
                    at++;
                }
                comments.add(new Comments.Comment(start, at, tokens.size()));
            } else if (c == '#' && hashes) {
                int start = at;
                while (at < length && characters[at] != '\n') {
                    at++;
                }
                comments.add(new Comments.Comment(start, at, tokens.size()));
            } else if (c == '/' && next(1) == '*') {
                int start = at;
                bracketedComment();
                comments.add(new Comments.Comment(start, at, tokens.size()));
            } else {
                return true;
            }
        }
        return false;
    }

    private int afterSpace(int start) {
        char[] all = characters;
        int end = start;
        while (isSpace(all[end])) {
            end++;
        }
        return end;
    }

    private static boolean isSpace(char c) {
        return c < ASCII
                ? (CLASSES[c] & SPACE) != 0
                : Character.isWhitespace(c) || c == '\uFEFF' || c == '\u00A0';
    }

    /** Digits of other scripts are no digits of SQL (ISO 9075-2, 5.1). */
    private static boolean isDigit(char c) {
        return c >= '0' && c <= '9';
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
        while (at < length) {
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
        if (isWordStart(c)) {
            if ((c == 'X' || c == 'x') && next(1) == '\'') {
                at++;
                quoted('\'', start, Token.Kind.BYTES);
            } else if ((c == 'U' || c == 'u') && next(1) == '&' && next(2) == '\'') {
                at += 2;
                quoted('\'', start, Token.Kind.TEXT);
                unescapeLast();
            } else {
                word(start);
            }
        } else if (c == '\'') {
            quoted('\'', start, Token.Kind.TEXT);
        } else if (c == '`' && backticks) {
            backticked(start);
        } else if (c == '"') {
            quoted('"', start, Token.Kind.DELIMITED);
        } else if (isDigit(c) || c == '.' && isDigit(next(1))) {
            number(start);
        } else {
            symbol(start, c);
        }
    }

    private void word(int start) {
        char[] all = characters;
        int hash = 0;
        int end = start;
        while (isWordPart(all[end])) {
            hash = 31 * hash + all[end++];
        }
        at = end;
        Word word = words.find(hash, all, start, end);
        tokens.add(new Token(Token.Kind.WORD, start, end, word.upper, word.written));
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
                    c == '`'
                            ? "put names in double quotes, or say dialect: mariadb in cantina.yaml"
                            : "remove it");
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
            case '.' -> second == '.' ? ".." : "";
            default -> "";
        };
    }

    private void number(int start) {
        Token.Kind kind = Token.Kind.INTEGER;
        digits();
        if (at < length && characters[at] == '.' && next(1) != '.') {
            kind = Token.Kind.DECIMAL;
            at++;
            digits();
        }
        if ((next(0) == 'e' || next(0) == 'E')
                && (isDigit(next(1)) || (next(1) == '+' || next(1) == '-') && isDigit(next(2)))) {
            kind = Token.Kind.APPROXIMATE;
            at += 2;
            digits();
        }
        if (isWordStart(next(0))) {
            // ISO 9075-2, 5.2: a number and a word are kept apart; to servers they are one name.
            problem(start, at + 1, "a number runs into a word", "put a blank between them");
        }
        add(kind, start, text.substring(start, at));
    }

    private void digits() {
        while (isDigit(characters[at])) {
            at++;
        }
    }

    private void quoted(char quote, int start, Token.Kind kind) {
        at++;
        int plain = text.indexOf(quote, at);
        if (plain >= 0 && characters[plain + 1] != quote) {
            String value = text.substring(at, plain);
            at = plain + 1;
            add(kind, start, value);
            return;
        }
        StringBuilder value = new StringBuilder();
        while (at < length) {
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
        at = lineEnd < 0 ? length : lineEnd;
        problem(
                start,
                Math.min(start + 1, length),
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
        return at + ahead < length ? characters[at + ahead] : '\0';
    }

    private void add(Token.Kind kind, int start, String value) {
        tokens.add(new Token(kind, start, at, value));
    }

    private void problem(int start, int end, String message, String hint) {
        problems.add(Problem.error(source.span(start, end), "syntax", message, hint));
    }
}
