package dev.cantina.advice;

import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;

/**
 * A comment that silences a rule for one statement: {@code -- advice: whole-table off: the reason},
 * on the statement's first line or on the line before it. Without a reason it does not count.
 */
final class Silence {
    private Silence() {}

    static boolean covers(Problem problem) {
        Source source = problem.span().source();
        int line = problem.span().line();
        return says(source.line(line), problem.rule())
                || says(source.line(line - 1), problem.rule());
    }

    private static boolean says(String line, String rule) {
        int comment = line.indexOf("--");
        if (comment < 0) {
            return false;
        }
        String words = line.substring(comment + 2).strip();
        String prefix = "advice: " + rule + " off:";
        return words.startsWith(prefix) && words.length() > prefix.length() + 1;
    }
}
