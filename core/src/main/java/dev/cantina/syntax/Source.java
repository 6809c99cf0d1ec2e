package dev.cantina.syntax;

import java.util.Arrays;

/**
 * A text with a name and an index of its lines. Lines and columns count from 1; a column counts
 * UTF-16 units, as editors do.
 */
public final class Source {
    private final String name;
    private final String written;
    private final String text;

    /** Found when somebody first asks: most files have nothing to show a line of. */
    private volatile int[] lineStarts;

    /**
     * @param name how the file is shown to a person: its path below the project
     * @param text the whole text
     */
    public Source(String name, String text) {
        this(name, text, text);
    }

    private Source(String name, String written, String text) {
        this.name = name;
        this.written = written;
        this.text = text;
    }

    /**
     * The same source, of which this is what is read: each character at its place, some of them
     * blank.
     */
    Source read(String what) {
        return what.equals(text) ? this : new Source(name, written, what);
    }

    /** The whole text as its author wrote it. */
    public String written() {
        return written;
    }

    public String name() {
        return name;
    }

    /** What is read of it: the comments in the middle of statements are blank. */
    public String text() {
        return text;
    }

    public int lines() {
        return lineStarts().length;
    }

    public int lineOf(int offset) {
        int found = Arrays.binarySearch(lineStarts(), offset);
        return found >= 0 ? found + 1 : -found - 1;
    }

    public int columnOf(int offset) {
        return offset - lineStarts()[lineOf(offset) - 1] + 1;
    }

    /** The text of a line without its line end; empty where there is no such line. */
    public String line(int line) {
        int[] starts = lineStarts();
        if (line < 1 || line > starts.length) {
            return "";
        }
        int start = starts[line - 1];
        int end = line == starts.length ? text.length() : starts[line] - 1;
        if (end > start && text.charAt(end - 1) == '\r') {
            end--;
        }
        return written.substring(start, end);
    }

    /** The stretch from offset {@code start} up to and without {@code end}. */
    public Span span(int start, int end) {
        return new Span(this, start, end);
    }

    private int[] lineStarts() {
        int[] known = lineStarts;
        if (known == null) {
            known = findLines(text);
            lineStarts = known;
        }
        return known;
    }

    private static int[] findLines(String text) {
        int[] starts = new int[16];
        int count = 1;
        for (int at = text.indexOf('\n'); at >= 0; at = text.indexOf('\n', at + 1)) {
            if (count == starts.length) {
                starts = Arrays.copyOf(starts, count * 2);
            }
            starts[count++] = at + 1;
        }
        return Arrays.copyOf(starts, count);
    }

    @Override
    public String toString() {
        return name;
    }
}
