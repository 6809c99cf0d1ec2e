package dev.cantina.catalog;

import dev.cantina.syntax.Name;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Unit;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/**
 * Tells what a stretch that could not be read, or not whole, may have been meant to be. Quotes and
 * comments count for nothing here: one that was left open is often the error.
 */
final class FaultReader {
    private static final Set<String> ROUTINES = Set.of("PROCEDURE", "FUNCTION", "MODULE");

    /** What CREATE can make that no run sets off. */
    private static final Set<String> QUIET =
            Set.of("TABLE", "VIEW", "INDEX", "UNIQUE", "SEQUENCE", "SCHEMA", "DOMAIN", "TYPE");

    private FaultReader() {}

    /** Empty where all of it is in the catalog, errors and all. */
    static Optional<Fault> of(ParsedFile.Fault fault) {
        List<String> words = words(fault.span().text());
        List<String> created = created(words);
        if (fault.unit().isPresent() && !(fault.unit().get() instanceof Unit.Step)) {
            // What begins in the middle of it was swallowed.
            List<String> more = created.isEmpty() ? created : created.subList(1, created.size());
            return more.isEmpty()
                    ? Optional.empty()
                    : Optional.of(made(fault, more.contains("TRIGGER"), Optional.empty()));
        }
        boolean first = !words.isEmpty() && words.get(0).equals("CREATE");
        if (first && created.size() == 1 && created.get(0).equals("TRIGGER")) {
            return Optional.of(made(fault, true, fault.table().map(Name::key)));
        }
        boolean routine = first && !created.isEmpty() && ROUTINES.contains(created.get(0));
        return Optional.of(made(fault, !routine || created.contains("TRIGGER"), Optional.empty()));
    }

    /** The same of a statement that stands where only definitions may. */
    static Optional<Fault> of(Unit.Step step, List<dev.cantina.syntax.Problem> errors) {
        List<String> words = words(step.span().text());
        boolean harmless =
                words.size() < 2 || !words.get(0).equals("CREATE") || QUIET.contains(words.get(1));
        return harmless
                ? Optional.empty()
                : Optional.of(
                        new Fault(errors, Optional.of(step.span().text()), true, Optional.empty()));
    }

    private static Fault made(ParsedFile.Fault fault, boolean trigger, Optional<String> table) {
        String text = fault.span().text();
        return new Fault(
                fault.errors(),
                text.isEmpty() ? Optional.empty() : Optional.of(text),
                trigger,
                table);
    }

    /** What each CREATE makes: TRIGGER, PROCEDURE, FUNCTION or MODULE; others are left out. */
    private static List<String> created(List<String> words) {
        List<String> created = new ArrayList<>();
        for (int i = 1; i < words.size(); i++) {
            String before = words.get(i - 1);
            String word = words.get(i);
            if ((before.equals("CREATE") || before.equals("REPLACE"))
                    && (word.equals("TRIGGER") || ROUTINES.contains(word))) {
                created.add(word);
            }
        }
        return created;
    }

    private static List<String> words(String text) {
        List<String> words = new ArrayList<>();
        int start = -1;
        for (int i = 0; i <= text.length(); i++) {
            boolean part = i < text.length() && Character.isJavaIdentifierPart(text.charAt(i));
            if (part && start < 0) {
                start = i;
            } else if (!part && start >= 0) {
                words.add(text.substring(start, i).toUpperCase(Locale.ROOT));
                start = -1;
            }
        }
        return words;
    }
}
