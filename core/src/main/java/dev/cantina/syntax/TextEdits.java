package dev.cantina.syntax;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;

/** A stretch of a source with some of it said in other words; the rest stays as it was written. */
public final class TextEdits {
    /**
     * @param rank the lower ones of those that begin at one place come first
     * @param order the same of equal rank
     */
    private record Change(int start, int end, String text, int rank, int order) {
        boolean inserts() {
            return start == end;
        }

        boolean isBehind() {
            return inserts() && rank < BEHIND / 2;
        }

        /** How long the stretch is that words are put around; 0 for words by themselves. */
        int around() {
            return isBehind() ? rank - BEHIND : inserts() ? -rank : 0;
        }

        /** Whether words around a part of a stretch go with that, which is said otherwise. */
        boolean goesWith(Change whole) {
            int length = around();
            int place = isBehind() ? whole.end : whole.start;
            return length > 0 && length < whole.end - whole.start && start == place;
        }
    }

    /** The rank of what stands behind a stretch of no length. */
    private static final int BEHIND = Integer.MIN_VALUE;

    private final Span whole;
    private final List<Change> changes = new ArrayList<>();

    public TextEdits(Span whole) {
        this.whole = whole;
    }

    /** Whether a stretch lies in this one. */
    public boolean holds(Span span) {
        return span.source() == whole.source()
                && span.start() >= whole.start()
                && span.end() <= whole.end();
    }

    /** Whether a stretch is all of this one. */
    public boolean isAll(Span span) {
        return span.equals(whole);
    }

    /** The source from here to a stretch in it. */
    public String before(Span span) {
        return whole.source().text().substring(whole.start(), span.start());
    }

    /** Says a stretch in other words; one that lies elsewhere is let be. */
    public void put(Span span, String text) {
        if (holds(span)) {
            changes.add(new Change(span.start(), span.end(), text, 0, changes.size()));
        }
    }

    /**
     * Adds words before and after a stretch. What is around a longer one stays outside of them, and
     * what was added around this one before.
     */
    public void around(Span span, String before, String after) {
        if (holds(span)) {
            int length = span.end() - span.start();
            changes.add(new Change(span.start(), span.start(), before, -length, changes.size()));
        }
        behind(span, after);
    }

    /** The same where these words are not around it already. */
    public void aroundOnce(Span span, String before, String after) {
        boolean there =
                changes.stream()
                        .anyMatch(
                                c ->
                                        c.inserts()
                                                && c.start() == span.start()
                                                && c.rank() == span.start() - span.end()
                                                && c.text().equals(before));
        if (!there) {
            around(span, before, after);
        }
    }

    /** Adds words behind a stretch alone. */
    public void behind(Span span, String after) {
        if (holds(span)) {
            // Behind comes before whatever begins there.
            int rank = BEHIND + span.end() - span.start();
            changes.add(new Change(span.end(), span.end(), after, rank, -changes.size()));
        }
    }

    /**
     * The new text. Of two changes of one stretch the longer one counts, of equal ones the first.
     */
    public String text() {
        changes.sort(
                Comparator.comparingInt(Change::start)
                        .thenComparing(c -> c.inserts() ? 0 : 1)
                        .thenComparing(c -> -c.end())
                        .thenComparing(Change::rank)
                        .thenComparing(Change::order));
        StringBuilder text = new StringBuilder();
        String source = whole.source().text();
        int at = whole.start();
        Change before = null;
        for (int i = 0; i < changes.size(); i++) {
            Change change = changes.get(i);
            if (change.start() < at
                    || before != null && change.isBehind() && change.goesWith(before)
                    || change.inserts() && !change.isBehind() && isSaidOtherwise(i)) {
                continue;
            }
            before = change.inserts() ? before : change;
            text.append(source, at, change.start()).append(change.text());
            at = change.end();
        }
        return text.append(source, at, whole.end()).toString();
    }

    /** Whether a longer stretch that begins where words stand is said in other words. */
    private boolean isSaidOtherwise(int words) {
        Change change = changes.get(words);
        for (int i = words + 1;
                i < changes.size() && changes.get(i).start() == change.start();
                i++) {
            if (!changes.get(i).inserts()) {
                return change.goesWith(changes.get(i));
            }
        }
        return false;
    }
}
