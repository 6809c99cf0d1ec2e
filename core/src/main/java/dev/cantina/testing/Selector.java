package dev.cantina.testing;

import java.util.List;
import java.util.Locale;
import java.util.regex.Pattern;

/**
 * Chooses cases by what a person types: a file or folder, a routine, a tag, or the name of a case,
 * in which {@code *} stands for anything.
 */
public final class Selector {
    private final List<String> words;

    public Selector(List<String> words) {
        this.words = words;
    }

    /** Whether any of the words means the case; without words all are meant. */
    public boolean selects(TestCase testCase) {
        return words.isEmpty() || words.stream().anyMatch(w -> means(w, testCase));
    }

    private static boolean means(String word, TestCase testCase) {
        String file = testCase.file();
        String path = word.endsWith("/") ? word.substring(0, word.length() - 1) : word;
        if (file.equals(path)
                || file.startsWith(path + "/")
                || file.endsWith("/" + path)
                || testCase.routine().equalsIgnoreCase(word)
                || testCase.tags().contains(word)) {
            return true;
        }
        String[] parts = word.split("\\*", -1);
        StringBuilder pattern = new StringBuilder();
        for (int i = 0; i < parts.length; i++) {
            pattern.append(i == 0 ? "" : ".*")
                    .append(Pattern.quote(parts[i].toLowerCase(Locale.ROOT)));
        }
        String name = testCase.name().toLowerCase(Locale.ROOT);
        int row = name.indexOf(TestCase.ROW_MARK);
        String asRow = row >= 0 ? name.substring(0, row) : name;
        return name.matches(pattern.toString()) || asRow.matches(pattern.toString());
    }
}
