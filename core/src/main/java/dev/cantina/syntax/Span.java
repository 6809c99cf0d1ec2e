package dev.cantina.syntax;

/**
 * A stretch of a source: offsets from {@code start} up to and without {@code end}. Two spans are
 * never compared for equality of what they hold, only for their place.
 */
public record Span(Source source, int start, int end) {
    public int line() {
        return source.lineOf(start);
    }

    public int column() {
        return source.columnOf(start);
    }

    /** The line of the last character. */
    public int endLine() {
        return source.lineOf(Math.max(start, end - 1));
    }

    /** The column just after the last character. */
    public int endColumn() {
        return source.columnOf(Math.max(start, end - 1)) + (end > start ? 1 : 0);
    }

    public String text() {
        return source.text().substring(start, end);
    }

    /** The same as its author wrote it, where another text is sent in its place. */
    public String written() {
        return source.writtenAt(start, end);
    }

    /** From the start of this one to the end of {@code last}. */
    public Span to(Span last) {
        return new Span(source, start, Math.max(end, last.end));
    }

    /** {@code file:line:column}. */
    public String place() {
        return source.name() + ":" + line() + ":" + column();
    }

    @Override
    public String toString() {
        return place();
    }
}
