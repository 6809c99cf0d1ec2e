package dev.cantina.importing;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;

/** Names of files for what a server has, which may be called anything. */
public final class FileNames {
    private static final int LONGEST = 100;

    private final Set<String> taken = new HashSet<>();

    /**
     * A path that no other file has, on file systems without case too.
     *
     * @param parts the folders, and the name without its ending
     */
    public String path(String... parts) {
        List<String> safe = new ArrayList<>();
        for (String part : parts) {
            safe.add(safe(part));
        }
        String path = String.join("/", safe);
        String free = path;
        for (int i = 2; !taken.add(free.toLowerCase(Locale.ROOT)); i++) {
            free = path + "-" + i;
        }
        return free + ".sql";
    }

    /** Whether a fixture's file can have the name of a table. */
    static boolean isSafe(String name) {
        return safe(name).equals(name);
    }

    private static String safe(String name) {
        StringBuilder safe = new StringBuilder();
        name.codePoints()
                .limit(LONGEST)
                .forEach(
                        c ->
                                safe.appendCodePoint(
                                        Character.isLetterOrDigit(c) || "_-.$".indexOf(c) >= 0
                                                ? c
                                                : '_'));
        String text = safe.toString();
        return text.startsWith(".") || text.isEmpty() ? "_" + text : text;
    }
}
