package dev.cantina.editing;

import dev.cantina.binding.NamedUse;
import dev.cantina.binding.NamedUse.Meaning;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.SqlWords;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Which parameter each argument of a call is for, where the call does not say it. */
public final class ArgumentHints {
    private ArgumentHints() {}

    /**
     * A parameter's name in front of an argument.
     *
     * @param offset of the argument
     */
    public record Hint(int offset, String parameter) {}

    /** Those of a file, in a text that may be newer than what was checked. */
    public static List<Hint> of(ProjectView view, String file, Source source) {
        String text = source.written();
        List<Hint> hints = new ArrayList<>();
        for (CheckedUnit unit : view.units().getOrDefault(file, List.of())) {
            for (NamedUse use : unit.uses()) {
                if (use.meaning() instanceof Meaning.OfRoutine of) {
                    arguments(text, unit.moved(use.span()).end(), of.routine().parameters(), hints);
                }
            }
        }
        return hints.stream().distinct().toList();
    }

    private static void arguments(
            String text, int from, List<ParameterSymbol> parameters, List<Hint> hints) {
        int end = text.indexOf(';', from);
        String rest = text.substring(Math.min(from, text.length()), end < 0 ? text.length() : end);
        List<SqlWords.Word> words = SqlWords.of(rest).all();
        if (words.isEmpty() || !words.get(0).is("(")) {
            return;
        }
        int argument = 0;
        Optional<SqlWords.Word> first = Optional.empty();
        for (int i = 1; i < words.size(); i++) {
            SqlWords.Word word = words.get(i);
            boolean closes = word.depth() == 0 && word.is(")");
            if (closes || word.depth() == 1 && word.is(",")) {
                int number = argument++;
                if (first.isPresent() && number < parameters.size()) {
                    String name = parameters.get(number).name().text();
                    // What is called like its parameter says so itself.
                    if (!first.get().text().equalsIgnoreCase(name)) {
                        hints.add(new Hint(from + first.get().start(), name));
                    }
                }
                first = Optional.empty();
                if (closes) {
                    return;
                }
            } else if (word.is("=") && i + 1 < words.size() && words.get(i + 1).is(">")
                    || word.is("=>")) {
                // From here on each says its name.
                return;
            } else if (first.isEmpty()) {
                first = Optional.of(word);
            }
        }
    }
}
