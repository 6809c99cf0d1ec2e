package dev.cantina.editing;

import dev.cantina.advice.CatalogCheck;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.NamedUse;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.util.List;
import java.util.Optional;

/**
 * What was found in a routine or trigger. Its places are those of the text in which it was checked;
 * in the text as it is now they may stand elsewhere, as a whole.
 *
 * @param start where it began in the text in which it was checked
 * @param now where it begins in the text as it is
 * @param source the text as it is
 */
record CheckedUnit(CatalogCheck.Found found, int start, int now, Source source) {
    /** The same in a text in which it begins elsewhere. */
    CheckedUnit at(int begins, Source in) {
        return new CheckedUnit(found, start, begins, in);
    }

    List<Problem> problems() {
        return found.problems().stream().map(this::moved).toList();
    }

    private Problem moved(Problem problem) {
        return new Problem(
                moved(problem.span()),
                problem.severity(),
                problem.rule(),
                problem.message(),
                problem.hint(),
                problem.edit().map(e -> new Problem.Edit(moved(e.range()), e.text())));
    }

    /** A place as it is now. */
    Span moved(Span span) {
        int delta = now - start;
        int most = source.text().length();
        int from = Math.max(0, Math.min(most, span.start() + delta));
        return source.span(from, Math.max(from, Math.min(most, span.end() + delta)));
    }

    /**
     * An offset of a newer text, in the one in which it was checked: what stands before all that
     * was typed since is where it was, and so is what stands behind it, counted from the end.
     */
    int then(String text, int offset) {
        return then(routine().map(r -> r.span().source().written()).orElse(text), text, offset);
    }

    /** The same from one text to an older one. */
    static int then(String old, String text, int offset) {
        int most = Math.min(old.length(), text.length());
        int alike = 0;
        while (alike < most && old.charAt(alike) == text.charAt(alike)) {
            alike++;
        }
        int behind = 0;
        while (behind < most - alike
                && old.charAt(old.length() - 1 - behind)
                        == text.charAt(text.length() - 1 - behind)) {
            behind++;
        }
        if (offset <= alike) {
            return offset;
        }
        return behind > 0 && offset >= text.length() - behind
                ? offset - text.length() + old.length()
                : alike;
    }

    List<NamedUse> uses() {
        return found.bound().map(b -> b.uses()).orElse(List.of());
    }

    Optional<BoundRoutine> routine() {
        return found.bound().map(b -> b.routine());
    }
}
