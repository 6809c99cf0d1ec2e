package dev.cantina.catalog;

import java.util.ArrayDeque;
import java.util.Collections;
import java.util.Deque;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * The routines that some code may call, those that these may call and so on, told without binding
 * anything: a routine counts as called where its name stands, in whatever part of the text.
 */
final class NameReach {
    private static final Pattern WORD = Pattern.compile("[\\p{L}\\p{N}_]+");

    /** What makes SQL out of a text. */
    private static final Set<String> DYNAMIC = Set.of("PREPARE", "EXECUTE");

    private final Set<RoutineSymbol> routines = Collections.newSetFromMap(new IdentityHashMap<>());
    private boolean unbounded;

    NameReach(Catalog catalog, String text) {
        Set<String> words = new HashSet<>(words(text));
        catalog.triggers().forEach(t -> words.addAll(words(t.tree().span().text())));
        Deque<RoutineSymbol> left = new ArrayDeque<>(catalog.routines());
        boolean found = true;
        while (found && !unbounded) {
            found = false;
            unbounded = words.stream().anyMatch(DYNAMIC::contains);
            for (int i = left.size(); i > 0; i--) {
                RoutineSymbol routine = left.remove();
                if (!words.containsAll(words(routine.tree().name().text()))) {
                    left.add(routine);
                    continue;
                }
                found = true;
                routines.add(routine);
                words.addAll(words(routine.tree().span().text()));
                routine.module().ifPresent(m -> words.addAll(words(m.tree().span().text())));
                unbounded |= routine.tree().body().isEmpty();
            }
        }
    }

    /** Whether it may call anything: it puts SQL together as it runs, or is not written in SQL. */
    boolean isUnbounded() {
        return unbounded;
    }

    Set<RoutineSymbol> routines() {
        return routines;
    }

    private static List<String> words(String text) {
        Matcher matcher = WORD.matcher(text);
        return matcher.results().map(r -> r.group().toUpperCase(Locale.ROOT)).toList();
    }
}
