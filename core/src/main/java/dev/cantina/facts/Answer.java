package dev.cantina.facts;

/** What is known of a question. */
public enum Answer {
    YES,
    NO,
    /** It can't be told: take the safe way. */
    UNKNOWN;

    public boolean isYes() {
        return this == YES;
    }

    public boolean isNo() {
        return this == NO;
    }

    static Answer of(boolean known) {
        return known ? YES : NO;
    }
}
