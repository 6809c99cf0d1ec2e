package dev.cantina.relations;

import dev.cantina.syntax.Nearest;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** Finds things by words that a person remembers of them, the nearest first. */
public final class WordSearch {
    /** What can be found. */
    public enum Kind {
        PROCEDURE,
        FUNCTION,
        TRIGGER,
        TABLE,
        VIEW,
        COLUMN,
        CASE,
        COMMENT,
        SCRIPT
    }

    /**
     * Something that can be found.
     *
     * @param name as it is called
     * @param text what else is said of it, which is searched too
     * @param file where it is; empty for what a server has
     * @param line from 1
     */
    public record Item(Kind kind, String name, String text, String file, int line) {}

    /** How far a word is from what was found, from 0; the farther the less likely. */
    private static final int WHOLE = 0;

    private static final int PART = 10;
    private static final int BEGINS = 20;
    private static final int INSIDE = 30;
    private static final int TEXT = 40;
    private static final int NEAR = 60;
    private static final int NEVER = 1000;

    private final List<String> words;

    /**
     * @param words all of them must be found
     */
    public WordSearch(List<String> words) {
        this.words =
                words.stream()
                        .flatMap(w -> Arrays.stream(w.strip().split("\\s+")))
                        .map(w -> w.toLowerCase(Locale.ROOT))
                        .filter(w -> !w.isEmpty())
                        .toList();
    }

    /** Those of some items that fit, the nearest first; in their own order where equally near. */
    public List<Item> in(List<Item> items) {
        record Found(Item item, int distance) {}
        List<Found> found = new ArrayList<>();
        for (Item item : items) {
            int distance = distance(item);
            if (distance < NEVER) {
                found.add(new Found(item, distance));
            }
        }
        return found.stream()
                .sorted(Comparator.comparingInt(Found::distance))
                .map(Found::item)
                .toList();
    }

    private int distance(Item item) {
        int sum = 0;
        for (String word : words) {
            int one = distance(word, item);
            if (one >= NEVER) {
                return NEVER;
            }
            sum += one;
        }
        // A thing itself is nearer than a case or a comment that speaks of it.
        int kind = item.kind() == Kind.COMMENT ? 5 : item.kind() == Kind.CASE ? 4 : 0;
        return words.isEmpty() ? NEVER : sum + kind + Math.min(3, item.name().length() / 20);
    }

    private int distance(String word, Item item) {
        String name = item.name().toLowerCase(Locale.ROOT);
        boolean sentence = item.kind() == Kind.CASE || item.kind() == Kind.COMMENT;
        String whole = sentence ? name : name.substring(name.lastIndexOf('.') + 1);
        if (name.equals(word) || whole.equals(word)) {
            return WHOLE;
        }
        if (item.kind() == Kind.COLUMN) {
            // The table helps to say which column is meant, and is found by itself.
            boolean ofTable =
                    words.size() > 1 && name.substring(0, name.lastIndexOf('.')).contains(word);
            if (ofTable && !whole.contains(word)) {
                return INSIDE;
            }
            name = whole;
        }
        List<String> parts = List.of(name.split("[^\\p{L}\\p{N}]+"));
        if (parts.contains(word)) {
            return sentence ? TEXT : PART;
        }
        if (parts.stream().anyMatch(p -> p.startsWith(word))) {
            return sentence ? TEXT + 2 : BEGINS;
        }
        if (name.contains(word)) {
            return sentence ? TEXT + 4 : INSIDE;
        }
        boolean says = item.text().toLowerCase(Locale.ROOT).contains(word);
        if (says && item.kind() != Kind.COLUMN) {
            return TEXT + 6;
        }
        Optional<String> near =
                sentence || word.length() < 4
                        ? Optional.empty()
                        : Nearest.to(word, List.of(whole)).or(() -> Nearest.to(word, parts));
        return near.isPresent() ? NEAR : NEVER;
    }
}
