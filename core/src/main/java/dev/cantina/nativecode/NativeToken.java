package dev.cantina.nativecode;

/** A token of a text in a server's own language. */
public interface NativeToken {
    /** Where it begins in its source. */
    int start();

    /** Where it ends, exclusive. */
    int end();

    /** A word in lower case, a quoted name without its quotes, else as written. */
    String text();

    /** Whether it is a word without quotes, which may be one of the language. */
    boolean isWord();

    /** Whether it is this word, or this symbol. */
    boolean is(String what);

    /** Whether it can be a name. */
    boolean isName();
}
