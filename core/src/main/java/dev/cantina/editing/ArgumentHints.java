package dev.cantina.editing;

import dev.cantina.binding.NamedUse;
import dev.cantina.binding.NamedUse.Meaning;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.nativecode.NativeToken;
import dev.cantina.nativecode.OwnText;
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

    /** Those of a text in a server's own words; routines that share a name are passed over. */
    static List<Hint> of(OwnNames names, OwnText text) {
        List<Hint> hints = new ArrayList<>();
        for (OwnNames.Use use : names.all()) {
            List<OwnText.Unit> called =
                    use.declares() || use.meaning().what() != OwnNames.What.ROUTINE
                            ? List.of()
                            : names.units().values().stream()
                                    .flatMap(List::stream)
                                    .filter(
                                            u ->
                                                    use.meaning().declared().stream()
                                                            .anyMatch(
                                                                    d -> OwnNames.same(d, u.at())))
                                    .toList();
            if (called.size() == 1) {
                arguments(text, use.span().end(), called.get(0), hints);
            }
        }
        return hints;
    }

    private static void arguments(OwnText text, int from, OwnText.Unit called, List<Hint> hints) {
        // A function is not given what it hands out.
        List<String> parameters =
                called.parameters().stream()
                        .filter(p -> called.kind() == OwnText.Kind.PROCEDURE || p.isInput())
                        .map(OwnText.Parameter::name)
                        .toList();
        List<? extends NativeToken> tokens = text.tokens();
        int at = 0;
        while (at < tokens.size() && tokens.get(at).start() < from) {
            at++;
        }
        if (at == tokens.size() || !tokens.get(at).is("(")) {
            return;
        }
        int depth = 0;
        int argument = 0;
        NativeToken first = null;
        for (int i = at + 1; i < tokens.size() && !tokens.get(i).is(";"); i++) {
            NativeToken token = tokens.get(i);
            boolean closes = depth == 0 && token.is(")");
            if (closes || depth == 0 && token.is(",")) {
                String name = argument < parameters.size() ? parameters.get(argument) : "";
                argument++;
                if (first != null
                        && !name.isEmpty()
                        && !OwnView.key(first).equals(OwnView.key(name))) {
                    hints.add(new Hint(first.start(), name));
                }
                first = null;
                if (closes) {
                    return;
                }
            } else if (token.is("=>") || token.is(":=") && depth == 0) {
                // From here on each says its name.
                return;
            } else if (first == null) {
                first = token;
            }
            depth += token.is("(") || token.is("[") ? 1 : token.is(")") || token.is("]") ? -1 : 0;
        }
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
