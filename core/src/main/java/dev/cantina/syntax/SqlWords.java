package dev.cantina.syntax;

import java.util.ArrayList;
import java.util.List;

/**
 * The words and signs of a data statement, with the brackets that they stand in: how it is laid out
 * and what its texts hold can't be seen here.
 */
public final class SqlWords {
    /**
     * A word or sign.
     *
     * @param text a word in upper case; a sign, a number or a literal as written
     * @param kind what it is
     * @param start its offset in the text
     * @param end the offset behind it
     * @param depth how many brackets are open around it; a bracket itself counts as outside
     */
    public record Word(String text, Kind kind, int start, int end, int depth) {
        /** Whether it is a word, not in quotes, or a sign. */
        public boolean is(String wanted) {
            return (kind == Kind.WORD || kind == Kind.SIGN) && text.equals(wanted);
        }

        /** Whether it may name something. */
        public boolean isName() {
            return kind == Kind.NAME || kind == Kind.WORD && !TokenReader.isReserved(text);
        }
    }

    /** What a word is; NAME is one in quotes. */
    public enum Kind {
        WORD,
        NAME,
        LITERAL,
        SIGN
    }

    private final String text;
    private final List<Word> words = new ArrayList<>();

    private SqlWords(String text) {
        this.text = text;
        int depth = 0;
        for (Token token : Lexer.ofStatement(text).tokens()) {
            if (token.kind() == Token.Kind.END) {
                break;
            }
            depth -= token.is(")") ? 1 : 0;
            Kind kind =
                    switch (token.kind()) {
                        case WORD -> text.charAt(token.start()) == '`' ? Kind.NAME : Kind.WORD;
                        case DELIMITED -> Kind.NAME;
                        case SYMBOL -> Kind.SIGN;
                        default -> Kind.LITERAL;
                    };
            words.add(new Word(token.text(), kind, token.start(), token.end(), depth));
            depth += token.is("(") ? 1 : 0;
        }
    }

    /** Those of a text. */
    public static SqlWords of(String text) {
        return new SqlWords(text);
    }

    /** Whether a text may hold a word: looked at before its words are, which takes longer. */
    public static boolean mayHold(String text, String word) {
        for (int i = 0; i + word.length() <= text.length(); i++) {
            if (text.regionMatches(true, i, word, 0, word.length())) {
                return true;
            }
        }
        return false;
    }

    /** All of them, in their order. */
    public List<Word> all() {
        return words;
    }

    /**
     * The stretch of the text from the word at {@code from} up to and without that at {@code to}.
     */
    public String between(int from, int to) {
        return from >= to ? "" : text.substring(words.get(from).start(), words.get(to - 1).end());
    }

    /** Where these words follow each other outside all brackets; -1 where they do not. */
    public int find(String... wanted) {
        return findFrom(0, wanted);
    }

    /** The same from a place on. */
    public int findFrom(int from, String... wanted) {
        for (int i = Math.max(0, from); i < words.size(); i++) {
            if (words.get(i).depth() == 0 && sees(i, wanted)) {
                return i;
            }
        }
        return -1;
    }

    /** Whether any of these words stands outside all brackets. */
    public boolean hasAny(String... wanted) {
        for (String word : wanted) {
            if (find(word) >= 0) {
                return true;
            }
        }
        return false;
    }

    /** Whether these words stand at a place, in whatever brackets. */
    public boolean sees(int at, String... wanted) {
        for (int i = 0; i < wanted.length; i++) {
            if (at + i < 0 || at + i >= words.size() || !words.get(at + i).is(wanted[i])) {
                return false;
            }
        }
        return true;
    }

    /** The place of the bracket that closes the one at {@code open}; the end where none does. */
    public int closing(int open) {
        int depth = words.get(open).depth();
        for (int i = open + 1; i < words.size(); i++) {
            if (words.get(i).depth() == depth && words.get(i).is(")")) {
                return i;
            }
        }
        return words.size();
    }
}
