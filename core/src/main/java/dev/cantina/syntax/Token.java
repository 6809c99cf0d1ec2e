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

    boolean is(String word) {
        return (kind == Kind.WORD || kind == Kind.SYMBOL) && text.equals(word);
    }

    boolean isLiteral() {
        return switch (kind) {
            case INTEGER, DECIMAL, APPROXIMATE, TEXT, BYTES -> true;
            default -> false;
        };
    }
}
