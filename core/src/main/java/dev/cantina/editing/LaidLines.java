package dev.cantina.editing;

import dev.cantina.syntax.Source;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** How far in each line of a text is to stand, and the text with its lines so. */
final class LaidLines {
    private static final int USUAL_STEP = 2;
    private static final Set<Integer> STEPS = Set.of(2, 3, 4, 8);

    private final Source source;

    /** For each line how many steps in it stands; -1 where it goes on with the one before. */
    private final int[] steps;

    /** Whether a line stays as it is. */
    private final boolean[] fixed;

    LaidLines(Source source) {
        this.source = source;
        this.steps = new int[source.lines() + 2];
        this.fixed = new boolean[source.lines() + 2];
        Arrays.fill(steps, -1);
    }

    /** A line stands so many steps in. */
    void stands(int line, int step) {
        steps[line] = step;
    }

    /** A stretch of the text that is nobody's to change begins in one line and ends in another. */
    void keeps(int start, int end) {
        for (int line = source.lineOf(start) + 1;
                line <= source.lineOf(Math.max(start, end - 1));
                line++) {
            fixed[line] = true;
        }
    }

    /** Lines stay as they are. */
    void keepsLines(int from, int to) {
        Arrays.fill(fixed, from, Math.min(to + 1, fixed.length), true);
    }

    /** Lines are laid out. */
    void laysLines(int from, int to) {
        Arrays.fill(fixed, from, Math.min(to + 1, fixed.length), false);
    }

    /** The text with its lines so. */
    String written() {
        int step = step();
        String[] raw = source.written().split("\n", -1);
        List<String> lines = new ArrayList<>();
        List<String> ends = new ArrayList<>();
        int shift = 0;
        for (int line = 1; line <= source.lines(); line++) {
            String written = source.line(line);
            // Each line ends as its author's editor ended it.
            String end = raw[line - 1].endsWith("\r") ? "\r\n" : "\n";
            boolean goesOn = line < source.lines() && fixed[line + 1];
            if (fixed[line]) {
                lines.add(goesOn ? written : written.stripTrailing());
                ends.add(end);
                continue;
            }
            String code = written.strip();
            if (code.isEmpty()) {
                if (!lines.isEmpty() && !lines.get(lines.size() - 1).isEmpty()) {
                    lines.add("");
                    ends.add(end);
                }
                continue;
            }
            int now = indent(written);
            if (steps[line] >= 0) {
                shift = steps[line] * step - now;
            } else if (isComment(code)) {
                // A comment stands with what comes behind it.
                shift = ofNext(line, step).map(next -> next - now).orElse(shift);
            }
            String kept = written.substring(written.length() - written.stripLeading().length());
            lines.add(
                    " ".repeat(Math.max(0, now + shift)) + (goesOn ? kept : kept.stripTrailing()));
            ends.add(end);
        }
        while (!lines.isEmpty() && lines.get(lines.size() - 1).isEmpty()) {
            lines.remove(lines.size() - 1);
        }
        StringBuilder text = new StringBuilder();
        for (int i = 0; i < lines.size(); i++) {
            // The last line may have none of its own.
            boolean none = i == lines.size() - 1 && i > 0;
            text.append(lines.get(i)).append(none ? ends.get(i - 1) : ends.get(i));
        }
        return text.isEmpty() ? "\n" : text.toString();
    }

    private static boolean isComment(String code) {
        return code.startsWith("--") || code.startsWith("/*") || code.startsWith("#");
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
            if (!code.isEmpty() && !isComment(code)) {
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
