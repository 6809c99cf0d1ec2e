package dev.cantina.types;

/** Words that stand in the place of a value, for a person. */
public record Words(String text) {
    @Override
    public String toString() {
        return text;
    }
}
