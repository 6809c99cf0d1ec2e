package dev.cantina.translate;

import dev.cantina.syntax.Source;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Deque;
import java.util.List;

/**
 * A text under construction, line by line and indented, into which the author's comments are put
 * where they stood.
 */
public final class Lines {
    private static final String STEP = "  ";

    private record Comment(int start, int end, String text) {}

    private final List<String> lines = new ArrayList<>();
    private final Deque<Comment> comments = new ArrayDeque<>();
    private final Source source;
    private int depth;

    /**
     * @param from where the comments begin that are wanted
     * @param to where they end
     */
    public Lines(Source source, int from, int to) {
        this.source = source;
        collect(from, to);
    }

    private void collect(int from, int to) {
        String text = source.text();
        int at = from;
        while (at < to) {
            char c = text.charAt(at);
            int end = at + 1;
            if (c == '\'' || c == '"') {
                end = text.indexOf(c, at + 1) + 1;
                end = end == 0 ? to : end;
            } else if (text.startsWith("--", at)) {
                end = text.indexOf('\n', at);
                end = end < 0 ? to : end;
                comments.add(new Comment(at, end, text.substring(at, end).strip()));
            } else if (text.startsWith("/*", at)) {
                end = text.indexOf("*/", at) + 2;
                end = end < 2 ? to : end;
                comments.add(new Comment(at, end, text.substring(at, end)));
            }
            at = end;
        }
    }

    public Lines in() {
        depth++;
        return this;
    }

    public Lines out() {
        depth--;
        return this;
    }

    /** Adds a line, or several; those after the first keep their distance from it. */
    public Lines add(String text) {
        String indent = STEP.repeat(depth);
        BitSet inside = Layout.insideLiterals(text);
        String[] all = text.split("\n", -1);
        for (int i = 0; i < all.length; i++) {
            String line = inside.get(i) ? all[i] : all[i].isBlank() ? "" : indent + all[i];
            lines.add(inside.get(i + 1) ? line : line.stripTrailing());
        }
        return this;
    }

    /** Adds a text of the source that begins at an offset, moved as a whole to where it is now. */
    public Lines add(String prefix, int offset, String text, String suffix) {
        return add(prefix + moved(offset, text) + suffix);
    }

    /** A text of the source with the indentation of its first line taken from all its lines. */
    public String moved(int offset, String text) {
        if (!text.contains("\n")) {
            return text;
        }
        int before = source.columnOf(offset) - 1;
        int own = 0;
        int start = offset - before;
        while (own < before && Character.isWhitespace(source.text().charAt(start + own))) {
            own++;
        }
        BitSet inside = Layout.insideLiterals(text);
        String[] all = text.split("\n", -1);
        StringBuilder moved = new StringBuilder(all[0]);
        for (int i = 1; i < all.length; i++) {
            int cut = 0;
            while (cut < own
                    && cut < all[i].length()
                    && all[i].charAt(cut) == ' '
                    && !inside.get(i)) {
                cut++;
            }
            moved.append('\n').append(all[i], cut, all[i].length());
        }
        return moved.toString();
    }

    /** This place, for lines that are added to it later. */
    public int mark() {
        return lines.size();
    }

    /** Adds lines at a place, with the indentation of now. */
    public void insert(int mark, List<String> texts) {
        List<String> after = new ArrayList<>(lines.subList(mark, lines.size()));
        lines.subList(mark, lines.size()).clear();
        texts.forEach(this::add);
        lines.addAll(after);
    }

    /** Adds the comments that stand before an offset and were not added yet. */
    public Lines comments(int before) {
        while (!comments.isEmpty() && comments.peek().start() < before) {
            Comment comment = comments.poll();
            if (follows(comment)
                    && !lines.isEmpty()
                    && !lines.get(lines.size() - 1).contains("--")) {
                lines.set(lines.size() - 1, lines.get(lines.size() - 1) + "  " + comment.text());
            } else {
                add(moved(comment.start(), comment.text()));
            }
        }
        return this;
    }

    /** Passes over the comments within a stretch, which came with its text. */
    public void pass(int start, int end) {
        comments.removeIf(c -> c.start() >= start && c.end() <= end);
    }

    /** Whether something stands before it on its line. */
    private boolean follows(Comment comment) {
        String text = source.text();
        int line = text.lastIndexOf('\n', comment.start() - 1) + 1;
        return !text.substring(line, comment.start()).isBlank();
    }

    @Override
    public String toString() {
        return String.join("\n", lines) + "\n";
    }
}
