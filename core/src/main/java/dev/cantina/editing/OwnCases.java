package dev.cantina.editing;

import dev.cantina.syntax.Nearest;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.testing.CaseFiles;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * What is wrong with cases of a project in a server's own language before they are run: no server
 * is wanted to say it. A name is one that is missing only where it stands in no text of the
 * project: what else makes something is not known.
 */
public final class OwnCases {
    private final OwnView view;
    private final OwnWords words;

    private OwnCases(OwnView view) {
        this.view = view;
        this.words = new OwnWords(view);
    }

    /** What is wrong with a file. */
    public static List<Problem> wrong(OwnState state, String file) {
        String text = state.text(file).orElse("");
        if (text.isEmpty()) {
            return List.of();
        }
        Source source = new Source(file, text);
        List<Problem> wrong =
                CaseFiles.read(state.project(), source).broken().stream()
                        .flatMap(b -> b.problem().stream())
                        .toList();
        if (!wrong.isEmpty()) {
            return wrong;
        }
        OwnCases cases = new OwnCases(state.view());
        List<Problem> problems = new ArrayList<>();
        for (CaseNames.Use use : CaseNames.of(source)) {
            cases.look(use).ifPresent(problems::add);
        }
        return problems;
    }

    private Optional<Problem> look(CaseNames.Use use) {
        return switch (use.kind()) {
            case ROUTINE ->
                    missing(use, "unknown-routine", "there is no routine ", words.routines());
            case TABLE ->
                    use.name().equals("others")
                            ? Optional.empty()
                            : missing(use, "unknown-table", "there is no table ", words.tables());
            case COLUMN ->
                    missing(
                            use,
                            "unknown-column",
                            use.routine() + " has no column ",
                            words.columns(use.routine()));
            case PARAMETER -> {
                // What is returned may be a row of whatever fields.
                boolean unsure =
                        use.returned()
                                || use.name().contains(".")
                                || CaseOutline.KEYS.contains(use.name());
                yield unsure
                        ? Optional.empty()
                        : missing(
                                use,
                                "unknown-parameter",
                                use.routine() + " has no parameter ",
                                words.parameters(use.routine()));
            }
            case RESULT, CASE -> Optional.empty();
        };
    }

    private Optional<Problem> missing(
            CaseNames.Use use, String rule, String message, List<Completion.Offer> known) {
        String name = OwnView.key(use.name().substring(use.name().lastIndexOf('.') + 1));
        boolean stands =
                known.isEmpty()
                        || Stream.concat(
                                        view.files().values().stream().map(f -> f.source()),
                                        view.standard().values().stream().map(f -> f.source()))
                                .anyMatch(
                                        s ->
                                                SqlElsewhere.word(
                                                                s.span(0, s.text().length()), name)
                                                        .isPresent());
        if (stands) {
            return Optional.empty();
        }
        List<String> names = known.stream().map(Completion.Offer::name).distinct().toList();
        return Optional.of(
                Problem.unknown(
                        use.span(),
                        rule,
                        message + use.name(),
                        Nearest.to(use.name(), names),
                        names.isEmpty() ? "" : Nearest.listed(use.name(), names)));
    }
}
