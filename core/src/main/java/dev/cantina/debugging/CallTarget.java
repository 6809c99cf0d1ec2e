package dev.cantina.debugging;

import dev.cantina.runtime.Frame;
import dev.cantina.syntax.SqlWords;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/**
 * A call that a statement names: where to step into.
 *
 * @param routine its name
 * @param time which of the statement's calls of this routine it is, from 1
 */
public record CallTarget(String routine, int time) {
    /** Those of the statement that a frame stands at; the statements inside it are others. */
    static List<CallTarget> of(Frame frame, List<String> routines) {
        String text = frame.routine().head(frame.at).text();
        List<SqlWords.Word> words = SqlWords.of(text).all();
        Map<String, Integer> times = new HashMap<>();
        List<CallTarget> targets = new ArrayList<>();
        for (int i = 0; i < words.size(); i++) {
            String word = text.substring(words.get(i).start(), words.get(i).end());
            boolean called =
                    i + 1 < words.size() && words.get(i + 1).text().equals("(")
                            || i > 0 && words.get(i - 1).is("CALL");
            if (called && routines.stream().anyMatch(word::equalsIgnoreCase)) {
                String key = word.toLowerCase(Locale.ROOT);
                targets.add(new CallTarget(word, times.merge(key, 1, Integer::sum)));
            }
        }
        return targets;
    }
}
