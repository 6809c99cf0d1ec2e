package dev.cantina.editing;

import dev.cantina.syntax.Source;
import dev.cantina.syntax.SqlWords;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.List;
import java.util.Set;

/** How far in the lines of a text in the standard language stand, by its words. */
final class StandardLines {
    private static final Set<String> LOOPS = Set.of("WHILE", "FOR", "LOOP", "REPEAT");

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

    private final Source source;
    private final List<SqlWords.Word> words;
    private final LaidLines lines;
    private final Deque<Open> open = new ArrayDeque<>();

    private StandardLines(Source source) {
        this.source = source;
        this.words = SqlWords.of(source.written()).all();
        this.lines = new LaidLines(source);
    }

    static LaidLines of(Source source) {
        StandardLines standard = new StandardLines(source);
        standard.measure();
        return standard.lines;
    }

    private int level() {
        return open.isEmpty() ? 0 : open.peek().inside();
    }

    private boolean isFirst(int word) {
        int line = source.lineOf(words.get(word).start());
        return word == 0 || source.lineOf(words.get(word - 1).start()) < line;
    }

    private void stands(int word, int step) {
        if (isFirst(word)) {
            lines.stands(source.lineOf(words.get(word).start()), step);
        }
    }

    private void measure() {
        boolean begins = true;
        int statement = 0;
        for (int i = 0; i < words.size(); i++) {
            SqlWords.Word word = words.get(i);
            lines.keeps(word.start(), word.end());
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
}
