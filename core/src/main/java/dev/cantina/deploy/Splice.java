package dev.cantina.deploy;

import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;

/** A stretch of a source with some of it said in other words; the rest stays as it was written. */
final class Splice {
    private record Change(int start, int end, String text) {}

    private final Span whole;
    private final List<Change> changes = new ArrayList<>();

    Splice(Span whole) {
        this.whole = whole;
    }

    /** Whether a stretch lies in this one. */
    boolean holds(Span span) {
        return span.source() == whole.source()
                && span.start() >= whole.start()
                && span.end() <= whole.end();
    }

    /** The source from here to a stretch in it. */
    String before(Span span) {
        return whole.source().text().substring(whole.start(), span.start());
    }

    /** Says a stretch in other words; one that lies elsewhere is let be. */
    void put(Span span, String text) {
        if (holds(span)) {
            changes.add(new Change(span.start(), span.end(), text));
        }
    }

    /** Adds words before and after a stretch. */
    void around(Span span, String before, String after) {
        put(new Span(span.source(), span.start(), span.start()), before);
        put(new Span(span.source(), span.end(), span.end()), after);
    }

    /**
     * The new text. Of two changes of one stretch the longer one counts, of equal ones the first.
     */
    String text() {
        changes.sort(
                Comparator.comparingInt(Change::start)
                        .thenComparing(c -> c.end() == c.start() ? 0 : 1)
                        .thenComparing(c -> -c.end()));
        StringBuilder text = new StringBuilder();
        String source = whole.source().text();
        int at = whole.start();
        for (Change change : changes) {
            boolean inserted = change.start() == change.end();
            if (change.start() < at) {
                continue;
            }
            text.append(source, at, change.start()).append(change.text());
            at = inserted ? change.start() : change.end();
        }
        return text.append(source, at, whole.end()).toString();
    }
}
