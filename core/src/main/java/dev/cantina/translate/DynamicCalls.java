package dev.cantina.translate;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.Walker;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlWords;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * A CALL in dynamic SQL whose values go into variables (ISO 9075-2, 20.10). Servers want to be told
 * what each marker stands for, so the text must be known where the routine is shipped.
 *
 * @param routine that is called
 * @param markers the parameter of each marker, in their order
 */
public record DynamicCalls(RoutineSymbol routine, List<ParameterSymbol> markers) {
    /**
     * The CALL that an EXECUTE with INTO runs; empty where it runs no CALL.
     *
     * @throws UnsupportedConstructException where its values go into variables, and what its
     *     markers are is not known
     */
    public static Optional<DynamicCalls> of(
            BoundStatement.ExecuteDynamic perform,
            BoundRoutine within,
            Catalog catalog,
            Span span,
            String server) {
        if (perform.targets().isEmpty()) {
            return Optional.empty();
        }
        List<BoundExpression> texts = texts(perform, within);
        Set<Optional<String>> known = new HashSet<>();
        texts.forEach(text -> known.add(constant(text)));
        if (known.stream().flatMap(Optional::stream).noneMatch(DynamicCalls::calls)) {
            return Optional.empty();
        }
        Optional<DynamicCalls> call =
                known.size() == 1
                        ? read(known.iterator().next().orElseThrow(), catalog)
                        : Optional.empty();
        return Optional.of(
                call.filter(c -> c.fits(perform))
                        .orElseThrow(
                                () ->
                                        new UnsupportedConstructException(
                                                span,
                                                server
                                                        + " must know what the markers of this CALL"
                                                        + " are; write the CALL as a statement")));
    }

    /** The texts that an EXECUTE can run. */
    private static List<BoundExpression> texts(
            BoundStatement.ExecuteDynamic perform, BoundRoutine within) {
        List<BoundExpression> texts = new ArrayList<>();
        perform.text().ifPresent(texts::add);
        perform.name()
                .ifPresent(
                        name ->
                                Walker.statements(
                                        within.body(),
                                        s -> {
                                            if (s instanceof BoundStatement.Prepare prepare
                                                    && prepare.name().equals(name)) {
                                                texts.add(prepare.text());
                                            }
                                        }));
        return texts;
    }

    /**
     * The procedures that an EXECUTE can call: none where its text begins with another word, and
     * all that there are where the text is not known.
     */
    public static List<RoutineSymbol> callable(
            BoundStatement.ExecuteDynamic perform, BoundRoutine within, Catalog catalog) {
        List<RoutineSymbol> found = new ArrayList<>();
        for (BoundExpression text : texts(perform, within)) {
            Optional<String> beginning = beginning(text);
            SqlWords words = SqlWords.of(beginning.orElse(""));
            boolean other = !words.all().isEmpty() && !words.sees(0, "CALL");
            if (!other) {
                catalog.routines().stream()
                        .filter(r -> !r.isFunction())
                        .filter(r -> mayBe(words, r))
                        .forEach(found::add);
            }
        }
        return found;
    }

    private static boolean mayBe(SqlWords call, RoutineSymbol procedure) {
        String own = procedure.tree().name().text();
        return call.all().size() < 3
                || call.all().stream()
                        .anyMatch(w -> w.text().replace("\"", "").equalsIgnoreCase(own));
    }

    /** What a text begins with, for sure. */
    private static Optional<String> beginning(BoundExpression text) {
        BoundExpression first = SourceForm.bare(text);
        boolean whole = true;
        while (first instanceof BoundExpression.Concatenate both) {
            first = SourceForm.bare(both.left());
            whole = false;
        }
        boolean cut = !whole;
        // A word that goes on in the next part is not known.
        return constant(first).map(t -> cut ? t.replaceFirst("[\\p{L}\\p{N}_]+$", "") : t);
    }

    private boolean fits(BoundStatement.ExecuteDynamic perform) {
        return markers.stream().filter(p -> p.mode().isInput()).count() == perform.using().size()
                && markers.stream().filter(p -> p.mode().isOutput()).count()
                        == perform.targets().size();
    }

    private static Optional<String> constant(BoundExpression text) {
        return SourceForm.bare(text) instanceof BoundExpression.Constant constant
                ? Optional.ofNullable(constant.value()).map(String::valueOf)
                : Optional.empty();
    }

    private static boolean calls(String text) {
        return SqlWords.of(text).sees(0, "CALL");
    }

    private static Optional<DynamicCalls> read(String text, Catalog catalog) {
        SqlWords words = SqlWords.of(text);
        List<SqlWords.Word> all = words.all();
        if (!words.sees(2, "(") || words.closing(2) != all.size() - 1) {
            return Optional.empty();
        }
        List<RoutineSymbol> called =
                catalog.routinesCalled(all.get(1).text()).stream()
                        .filter(r -> !r.isFunction())
                        .toList();
        if (called.size() != 1) {
            return Optional.empty();
        }
        List<ParameterSymbol> parameters = called.get(0).parameters();
        List<ParameterSymbol> markers = new ArrayList<>();
        int at = 0;
        int depth = all.get(2).depth();
        for (int i = 3; i < all.size() - 1; i++) {
            SqlWords.Word word = all.get(i);
            boolean top = word.depth() == depth + 1;
            if (word.is("=") || at == parameters.size()) {
                return Optional.empty();
            } else if (word.is("?")) {
                markers.add(parameters.get(at));
            } else if (top && word.is(",")) {
                at++;
            } else if (parameters.get(at).mode().isOutput()) {
                return Optional.empty();
            }
        }
        return at == parameters.size() - 1
                ? Optional.of(new DynamicCalls(called.get(0), markers))
                : Optional.empty();
    }
}
