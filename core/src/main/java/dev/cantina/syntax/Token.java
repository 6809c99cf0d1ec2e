package dev.cantina.syntax;

/**
 * A token of a source.
 *
 * @param text what it means: a word in upper case, a delimited identifier or a text literal without
 *     its quotes, a number or a symbol as written
 * @param written a word as its author wrote it; otherwise the same
 */
record Token(Kind kind, int start, int end, String text, String written) {
    Token(Kind kind, int start, int end, String text) {
        this(kind, start, end, text, text);
    }

    /** The same, so many characters further on. */
    Token at(int offset) {
        return new Token(kind, start + offset, end + offset, text, written);
    }

    enum Kind {
        WORD,
        DELIMITED,
        INTEGER,
        DECIMAL,
        APPROXIMATE,
        TEXT,
        BYTES,
        SYMBOL,
        END
    }

    /**
     * Whether this is a word or symbol. The parser asks it several times of each token, so it looks
     * at no letters: the lexer interns the texts of both, as the language does its literals.
     *
     * @param word a literal
     */
    @SuppressWarnings("StringEquality")
    boolean is(String word) {
        return text == word && (kind == Kind.WORD || kind == Kind.SYMBOL);
    }

    boolean isLiteral() {
        return switch (kind) {
            case INTEGER, DECIMAL, APPROXIMATE, TEXT, BYTES -> true;
            default -> false;
        };
    }
}
