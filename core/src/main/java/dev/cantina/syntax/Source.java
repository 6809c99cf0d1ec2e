package dev.cantina.syntax;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/**
 * A text with a name and an index of its lines. Lines and columns count from 1; a column counts
 * UTF-16 units, as editors do.
 */
public final class Source {
    private final String name;
    private final String written;
    private final String text;

    /** Where this is sent in the place of another: what its places are in that. */
    private final Original original;

    /** Found when somebody first asks: most files have nothing to show a line of. */
    private volatile int[] lineStarts;

    /**
     * @param name how the file is shown to a person: its path below the project
     * @param text the whole text
     */
    public Source(String name, String text) {
        this(name, text, text, null);
    }

    private Source(String name, String written, String text, Original original) {
        this.name = name;
        this.written = written;
        this.text = text;
        this.original = original;
    }

    /**
     * A text that another was made of.
     *
     * @param starts where each stretch that was put in begins, ascending, and where it ends
     * @param places where each begins and ends in the original
     */
    private record Original(Source source, int[] starts, int[] places) {
        /** An offset in the original: in a stretch that was put in its first. */
        int offset(int made) {
            int found = Arrays.binarySearch(starts, made);
            int before = found >= 0 ? found : -found - 2;
            while (found >= 0 && before + 1 < starts.length && starts[before + 1] == made) {
                before++;
            }
            if (before < 0) {
                return made;
            }
            boolean inside = before % 2 == 0;
            return inside ? places[before] : places[before] + made - starts[before];
        }
    }

    /**
     * Puts other words in the place of some of a source. Places in what comes of it are shown as
     * the original has them, and so are its lines.
     */
    public static final class Rewriting {
        private final Source of;
        private final StringBuilder made = new StringBuilder();
        private final List<Integer> starts = new ArrayList<>();
        private final List<Integer> places = new ArrayList<>();
        private int at;

        public Rewriting(Source of) {
            this.of = of;
        }

        /**
         * Puts words, without an end of a line, in the place of a stretch.
         *
         * @param place of the source, behind those before
         */
        public void put(Span place, String words) {
            made.append(of.text, at, place.start());
            starts.add(made.length());
            places.add(place.start());
            made.append(words);
            starts.add(made.length());
            places.add(place.end());
            at = place.end();
        }

        /** What has come of it; the source itself where nothing was put. */
        public Source source() {
            if (starts.isEmpty()) {
                return of;
            }
            String text = made + of.text.substring(at);
            return new Source(
                    of.name,
                    text,
                    text,
                    new Original(
                            of,
                            starts.stream().mapToInt(i -> i).toArray(),
                            places.stream().mapToInt(i -> i).toArray()));
        }
    }

    /**
     * The same source, of which this is what is read: each character at its place, some of them
     * blank.
     */
    Source read(String what) {
        return what.equals(text) ? this : new Source(name, written, what, original);
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

    /** A stretch as its author wrote it, where this is sent in the place of another. */
    String writtenAt(int start, int end) {
        return original == null
                ? text.substring(start, end)
                : original.source.writtenAt(original.offset(start), original.offset(end));
    }

    public int lines() {
        return lineStarts().length;
    }

    public int lineOf(int offset) {
        int found = Arrays.binarySearch(lineStarts(), offset);
        return found >= 0 ? found + 1 : -found - 1;
    }

    public int columnOf(int offset) {
        if (original != null) {
            return original.source.columnOf(original.offset(offset));
        }
        return offset - lineStarts()[lineOf(offset) - 1] + 1;
    }

    /** The text of a line without its line end; empty where there is no such line. */
    public String line(int line) {
        if (original != null) {
            return original.source.line(line);
        }
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
