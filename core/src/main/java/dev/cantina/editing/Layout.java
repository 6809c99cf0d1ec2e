package dev.cantina.editing;

import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.SqlWords;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Sets the lines of routines as far in as the blocks that they stand in want it. What the author
 * has chosen stays: where lines break, how words are written, how the lines of a statement stand to
 * its first, how wide a step is. Comments stay where they are; blanks at the ends of lines go, and
 * so do empty lines beside others.
 */
public final class Layout {
    private static final Set<String> LOOPS = Set.of("WHILE", "FOR", "LOOP", "REPEAT");
    private static final int USUAL_STEP = 2;
    private static final Set<Integer> STEPS = Set.of(2, 3, 4, 8);

    /** A block, a statement with statements in it, or a CASE that gives a value. */
    private static final class Open {
        final String kind;

        /** How many steps in its first line stands. */
        final int base;

        /** Whether its condition is over, and statements stand in it. */
        boolean opened;

        /** Whether it has a branch: of a CASE. */
        boolean branched;

        Open(String kind, int base) {
            this.kind = kind;
            this.base = base;
        }

        int inside() {
            return base + (kind.equals("CASE") && opened ? 2 : 1);
        }
    }

    private final String text;
    private final Source source;
    private final List<SqlWords.Word> words;

    /** For each line how many steps in it stands; -1 where it goes on with the one before. */
    private final int[] steps;

    /** Whether a line begins inside a text in quotes, which is nobody's to change. */
    private final boolean[] fixed;

    private final Deque<Open> open = new ArrayDeque<>();

    private Layout(Source source) {
        this.source = source;
        this.text = source.written();
        this.words = SqlWords.of(text).all();
        this.steps = new int[source.lines() + 2];
        this.fixed = new boolean[source.lines() + 2];
        java.util.Arrays.fill(steps, -1);
    }

    /** A file's text laid out; empty where it can't be read, and nothing is known of its blocks. */
    public static Optional<String> of(ParsedFile file) {
        if (file.problems().stream().anyMatch(p -> p.isError()) || !file.faults().isEmpty()) {
            return Optional.empty();
        }
        Layout layout = new Layout(file.source());
        layout.measure();
        String laid = layout.written();
        // Whatever happens, no word of the author's is lost.
        return isSame(file.source().written(), laid)
                ? Optional.of(laid)
                : Optional.of(file.source().written());
    }

    private static boolean isSame(String before, String after) {
        return before.replaceAll("\\s+", "").equals(after.replaceAll("\\s+", ""))
                && SqlWords.of(before).all().stream()
                        .map(SqlWords.Word::text)
                        .toList()
                        .equals(
                                SqlWords.of(after).all().stream()
                                        .map(SqlWords.Word::text)
                                        .toList());
    }

    // ------------------------------------------------------------------ where lines stand

    private int level() {
        return open.isEmpty() ? 0 : open.peek().inside();
    }

    private boolean isFirst(int word) {
        int line = source.lineOf(words.get(word).start());
        return word == 0 || source.lineOf(words.get(word - 1).start()) < line;
    }

    private void stands(int word, int step) {
        if (isFirst(word)) {
            steps[source.lineOf(words.get(word).start())] = step;
        }
    }

    private void measure() {
        boolean begins = true;
        int statement = 0;
        for (int i = 0; i < words.size(); i++) {
            SqlWords.Word word = words.get(i);
            for (int line = source.lineOf(word.start()) + 1;
                    line <= source.lineOf(Math.max(word.start(), word.end() - 1));
                    line++) {
                fixed[line] = true;
            }
            if (begins) {
                statement = level();
            }
            Open top = open.peek();
            if (word.is("END") && top != null) {
                boolean value = top.kind.equals("VALUE");
                open.pop();
                if (!value) {
                    stands(i, top.base);
                    i = behindEnd(i);
                }
                begins = false;
            } else if (word.is("BEGIN")) {
                // One in the head of something stands where that does.
                int base = begins ? level() : statement;
                stands(i, base);
                open.push(new Open("BEGIN", base));
                begins = true;
                i += i + 1 < words.size() && words.get(i + 1).is("ATOMIC") ? 1 : 0;
            } else if (word.is("CASE") && !begins) {
                open.push(new Open("VALUE", 0));
            } else if (top != null && top.kind.equals("VALUE")) {
                begins = false;
            } else if (begins && (word.is("ELSE") || word.is("ELSEIF")) && top != null) {
                boolean ofCase = top.kind.equals("CASE");
                stands(i, top.base + (ofCase ? 1 : 0));
                top.opened = word.is("ELSE");
                begins = top.opened;
            } else if (word.is("WHEN")
                    && top != null
                    && top.kind.equals("CASE")
                    && (begins || !top.branched)) {
                stands(i, top.base + 1);
                top.opened = false;
                top.branched = true;
                begins = false;
            } else if (begins && word.is("UNTIL") && top != null) {
                stands(i, top.base);
                begins = false;
            } else if (begins && isLabel(i)) {
                stands(i, statement);
                i++;
            } else if (begins && opens(word)) {
                stands(i, statement);
                Open opened = new Open(word.text(), statement);
                opened.opened = word.is("LOOP") || word.is("REPEAT");
                open.push(opened);
                begins = opened.opened;
            } else if (word.is("THEN") && top != null && isCondition(top) && !top.opened) {
                top.opened = true;
                begins = true;
            } else if (word.is("DO") && top != null && LOOPS.contains(top.kind) && !top.opened) {
                top.opened = true;
                begins = true;
            } else if (word.is(";")) {
                begins = true;
            } else {
                if (begins) {
                    stands(i, statement);
                }
                begins = false;
                if (word.is("MODULE") && i > 0 && isCreated(i)) {
                    open.push(new Open("MODULE", 0));
                    i++;
                    begins = true;
                }
            }
        }
    }

    private boolean isCreated(int module) {
        return words.get(module - 1).is("CREATE") || words.get(module - 1).is("REPLACE");
    }

    /** What stands behind END with it: IF, a label. */
    private int behindEnd(int end) {
        int at = end;
        while (at + 1 < words.size()
                && source.lineOf(words.get(at + 1).start()) == source.lineOf(words.get(end).start())
                && !words.get(at + 1).is(";")
                && !words.get(at + 1).is("END")) {
            at++;
        }
        return at;
    }

    private static boolean isCondition(Open top) {
        return top.kind.equals("IF") || top.kind.equals("CASE");
    }

    private boolean isLabel(int word) {
        return word + 1 < words.size() && words.get(word + 1).is(":") && words.get(word).isName();
    }

    private static boolean opens(SqlWords.Word word) {
        return word.is("IF") || word.is("CASE") || LOOPS.stream().anyMatch(word::is);
    }

    // ------------------------------------------------------------------ the text

    private String written() {
        int step = step();
        List<String> lines = new ArrayList<>();
        int shift = 0;
        for (int line = 1; line <= source.lines(); line++) {
            String written = source.line(line);
            boolean goesOn = line < source.lines() && fixed[line + 1];
            if (fixed[line]) {
                lines.add(goesOn ? written : written.stripTrailing());
                continue;
            }
            String code = written.strip();
            if (code.isEmpty()) {
                if (!lines.isEmpty() && !lines.get(lines.size() - 1).isEmpty()) {
                    lines.add("");
                }
                continue;
            }
            int now = indent(written);
            if (steps[line] >= 0) {
                shift = steps[line] * step - now;
            } else if (code.startsWith("--") || code.startsWith("/*")) {
                // A comment stands with what comes behind it.
                shift = ofNext(line, step).map(next -> next - now).orElse(shift);
            }
            String kept = written.substring(written.length() - written.stripLeading().length());
            lines.add(
                    " ".repeat(Math.max(0, now + shift)) + (goesOn ? kept : kept.stripTrailing()));
        }
        while (!lines.isEmpty() && lines.get(lines.size() - 1).isEmpty()) {
            lines.remove(lines.size() - 1);
        }
        return String.join("\n", lines) + "\n";
    }

    /** Where the next line with words stands, if it begins something. */
    private Optional<Integer> ofNext(int line, int step) {
        for (int next = line + 1; next <= source.lines(); next++) {
            if (steps[next] >= 0) {
                boolean closes =
                        source.line(next)
                                .strip()
                                .toUpperCase(java.util.Locale.ROOT)
                                .startsWith("END");
                return Optional.of((steps[next] + (closes ? 1 : 0)) * step);
            }
            String code = source.line(next).strip();
            if (!code.isEmpty() && !code.startsWith("--")) {
                return Optional.empty();
            }
        }
        return Optional.empty();
    }

    /** How wide the author's step is: as most statements of outermost blocks stand in. */
    private int step() {
        Map<Integer, Integer> counts = new LinkedHashMap<>();
        for (int line = 1; line <= source.lines(); line++) {
            int indent = indent(source.line(line));
            if (steps[line] == 1 && STEPS.contains(indent)) {
                counts.merge(indent, 1, Integer::sum);
            }
        }
        return counts.entrySet().stream()
                .max(Map.Entry.comparingByValue())
                .map(Map.Entry::getKey)
                .orElse(USUAL_STEP);
    }

    /** How far in a line stands; a tab goes to the next fourth column. */
    private static int indent(String line) {
        int column = 0;
        for (int i = 0; i < line.length(); i++) {
            char c = line.charAt(i);
            if (c == ' ') {
                column++;
            } else if (c == '\t') {
                column += 4 - column % 4;
            } else {
                break;
            }
        }
        return column;
    }
}
