package dev.cantina.syntax;

import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** Finds the name that was probably meant. */
public final class Nearest {
    private Nearest() {}

    /**
     * The candidate that differs least from {@code written}, without regard to case; empty where
     * none is near enough to be a slip of the hand.
     */
    public static Optional<String> to(String written, Collection<String> candidates) {
        String wanted = written.toUpperCase(Locale.ROOT);
        int best = Math.max(1, wanted.length() / 3) + 1;
        String found = null;
        for (String candidate : candidates) {
            int distance = distance(wanted, candidate.toUpperCase(Locale.ROOT), best);
            if (distance < best) {
                best = distance;
                found = candidate;
            }
        }
        return Optional.ofNullable(found).or(() -> longer(wanted, candidates));
    }

    /**
     * What there is, in words: all names, or of many those that differ least from what was written.
     *
     * @param known at least one
     */
    public static String listed(String written, Collection<String> known) {
        List<String> names = known.stream().distinct().toList();
        if (names.size() <= MANY) {
            return "there are " + String.join(", ", names);
        }
        String wanted = written.toUpperCase(Locale.ROOT);
        Comparator<String> likeness =
                Comparator.comparingInt(
                        name ->
                                distance(
                                        wanted,
                                        name.toUpperCase(Locale.ROOT),
                                        wanted.length() + name.length() + 1));
        return "there are "
                + names.size()
                + ", the nearest "
                + String.join(", ", names.stream().sorted(likeness).limit(FEW).toList());
    }

    private static final int MANY = 30;
    private static final int FEW = 8;

    /** The only candidate that has the letters of a shortened word, in order, and its first two. */
    private static Optional<String> longer(String wanted, Collection<String> candidates) {
        if (wanted.length() < 3) {
            return Optional.empty();
        }
        String found = null;
        for (String candidate : candidates) {
            String name = candidate.toUpperCase(Locale.ROOT);
            if (name.startsWith(wanted.substring(0, 2))
                    && name.length() <= wanted.length() * 2
                    && holds(name, wanted)) {
                if (found != null) {
                    return Optional.empty();
                }
                found = candidate;
            }
        }
        return Optional.ofNullable(found);
    }

    private static boolean holds(String name, String letters) {
        int at = 0;
        for (int i = 0; i < name.length() && at < letters.length(); i++) {
            at += name.charAt(i) == letters.charAt(at) ? 1 : 0;
        }
        return at == letters.length();
    }

    /** Insertions, removals, changes and swaps of neighbours, at most {@code limit}. */
    private static int distance(String a, String b, int limit) {
        if (Math.abs(a.length() - b.length()) >= limit) {
            return limit;
        }
        int[] before = new int[b.length() + 1];
        int[] last = new int[b.length() + 1];
        int[] row = new int[b.length() + 1];
        for (int j = 0; j <= b.length(); j++) {
            last[j] = j;
        }
        for (int i = 1; i <= a.length(); i++) {
            row[0] = i;
            for (int j = 1; j <= b.length(); j++) {
                int change = a.charAt(i - 1) == b.charAt(j - 1) ? 0 : 1;
                row[j] = Math.min(Math.min(last[j], row[j - 1]) + 1, last[j - 1] + change);
                if (i > 1
                        && j > 1
                        && a.charAt(i - 1) == b.charAt(j - 2)
                        && a.charAt(i - 2) == b.charAt(j - 1)) {
                    row[j] = Math.min(row[j], before[j - 2] + 1);
                }
            }
            int[] spare = before;
            before = last;
            last = row;
            row = spare;
        }
        return last[b.length()];
    }
}
