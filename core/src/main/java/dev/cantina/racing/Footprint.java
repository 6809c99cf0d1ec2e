package dev.cantina.racing;

import java.util.Collections;
import java.util.HashSet;
import java.util.Set;

/**
 * What a step touches, by the keys of tables.
 *
 * @param reads tables whose rows it looks at
 * @param writes tables whose rows it changes, or makes visible to others
 * @param seesAll whether it looks at the rows of all tables, or decides what of them is seen later
 * @param isAnything whether it may touch any table: what is not known
 */
record Footprint(Set<String> reads, Set<String> writes, boolean seesAll, boolean isAnything) {
    static final Footprint NOTHING = new Footprint(Set.of(), Set.of());
    static final Footprint ALL_SEEN = new Footprint(Set.of(), Set.of(), true, false);
    static final Footprint ANYTHING = new Footprint(Set.of(), Set.of(), false, true);

    Footprint(Set<String> reads, Set<String> writes) {
        this(reads, writes, false, false);
    }

    /** Whether it may matter which of the two comes first. */
    boolean meets(Footprint other) {
        boolean something = !isNothing() && !other.isNothing();
        return something && (isAnything || other.isAnything)
                || seesAll && !other.writes.isEmpty()
                || other.seesAll && !writes.isEmpty()
                || share(writes, other.writes)
                || share(writes, other.reads)
                || share(reads, other.writes);
    }

    private boolean isNothing() {
        return !isAnything && !seesAll && reads.isEmpty() && writes.isEmpty();
    }

    private static boolean share(Set<String> one, Set<String> other) {
        return !Collections.disjoint(one, other);
    }

    /** Both together. */
    Footprint and(Footprint other) {
        return new Footprint(
                union(reads, other.reads),
                union(writes, other.writes),
                seesAll || other.seesAll,
                isAnything || other.isAnything);
    }

    private static Set<String> union(Set<String> one, Set<String> other) {
        Set<String> all = new HashSet<>(one);
        all.addAll(other);
        return all;
    }
}
