package dev.cantina.editing;

import dev.cantina.binding.NamedUse.Meaning;
import dev.cantina.binding.Variable;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** A text of a project in the standard language. */
public final class StandardText implements AskedText {
    private final ProjectState state;
    private final ProjectView view;
    private final Source source;

    public StandardText(ProjectState state, ProjectView view, Source source) {
        this.state = state;
        this.view = view;
        this.source = source;
    }

    public ProjectState state() {
        return state;
    }

    public ProjectView view() {
        return view;
    }

    @Override
    public Project project() {
        return state.project();
    }

    @Override
    public Source source() {
        return source;
    }

    private String file() {
        return source.name();
    }

    /** The name at an offset, where it is known what it means. */
    public Optional<NameFinder.Found> found(int offset) {
        return new NameFinder(view).at(state, file(), offset);
    }

    @Override
    public Optional<Hovered> hover(int offset) {
        return found(offset).map(f -> new Hovered(f.span(), Described.of(view, f.meaning())));
    }

    @Override
    public List<Span> definitions(int offset) {
        return found(offset).flatMap(new NameFinder(view)::definition).stream().toList();
    }

    @Override
    public List<Span> references(int offset) {
        return found(offset).map(f -> new NameFinder(view).references(state, f)).orElse(List.of());
    }

    @Override
    public List<Completion.Offer> completion(int offset) {
        return file().endsWith(".sql")
                ? Completion.at(view, file(), source.written(), offset)
                : CaseOutline.offers(new StandardWords(view), file(), source.written(), offset);
    }

    @Override
    public Optional<Call> call(int offset) {
        return CallHint.at(view, source.written(), offset)
                .map(
                        hint ->
                                new Call(
                                        hint.routines().stream()
                                                .map(StandardText::signature)
                                                .toList(),
                                        hint.argument()));
    }

    private static Signature signature(RoutineSymbol routine) {
        return new Signature(
                routine.signature(),
                Described.of(routine).text(),
                routine.parameters().stream()
                        .map(
                                p ->
                                        (routine.isFunction() ? "" : p.mode() + " ")
                                                + p.name()
                                                + " "
                                                + p.type().sql())
                        .toList());
    }

    @Override
    public List<Outline> outline() {
        ParsedFile parsed = view.files().get(file());
        return parsed != null ? Outline.of(parsed) : CaseOutline.of(source);
    }

    @Override
    public List<int[]> folds() {
        return Folds.of(view, file(), source);
    }

    @Override
    public List<Callable> callables() {
        return Outline.callable(view, file()).stream()
                .map(
                        r ->
                                new Callable(
                                        r.tree().name().span(),
                                        r.name(),
                                        r.parameters().stream()
                                                .filter(p -> p.mode().isInput())
                                                .map(p -> p.name().text() + " " + p.type().sql())
                                                .toList()))
                .toList();
    }

    @Override
    public List<Span> variables(int offset) {
        return new NameFinder(view)
                .variables(file(), source, offset).stream().map(NameFinder.Named::span).toList();
    }

    @Override
    public Optional<String> laid() {
        ParsedFile parsed = view.files().get(file());
        return parsed != null && parsed.source().written().equals(source.written())
                ? Layout.of(parsed)
                : Optional.empty();
    }

    @Override
    public List<ArgumentHints.Hint> argumentHints() {
        return ArgumentHints.of(view, file(), source);
    }

    private NameFinder.Found named(int offset) throws ProjectException {
        NameFinder.Found found = found(offset).orElseThrow(Rename::nothingNamed);
        Optional<String> refusal = Rename.refusal(found);
        if (refusal.isPresent()) {
            throw new ProjectException(refusal.get());
        }
        return found;
    }

    @Override
    public Span renamable(int offset) throws ProjectException {
        return named(offset).span();
    }

    @Override
    public Rename.Change rename(int offset, String name) throws ProjectException {
        return Rename.of(state, named(offset), name);
    }

    @Override
    public List<Marked> names() {
        List<Marked> all = new ArrayList<>();
        if (file().endsWith(".sql")) {
            for (NameFinder.Named named : new NameFinder(view).all(file(), source)) {
                all.add(
                        new Marked(
                                named.span(),
                                mark(named.meaning()),
                                named.declares(),
                                isFixed(named.meaning())));
            }
        }
        return all;
    }

    private static Mark mark(Meaning meaning) {
        if (meaning instanceof Meaning.OfVariable of) {
            return of.variable().kind().isParameter() ? Mark.PARAMETER : Mark.VARIABLE;
        }
        if (meaning instanceof Meaning.OfRoutine) {
            return Mark.FUNCTION;
        }
        if (meaning instanceof Meaning.OfTable) {
            return Mark.TABLE;
        }
        if (meaning instanceof Meaning.OfColumn || meaning instanceof Meaning.OfField) {
            return Mark.COLUMN;
        }
        if (meaning instanceof Meaning.OfModule) {
            return Mark.MODULE;
        }
        return meaning instanceof Meaning.OfLabel ? Mark.LABEL : Mark.VARIABLE;
    }

    private static boolean isFixed(Meaning meaning) {
        return meaning instanceof Meaning.OfVariable of
                && of.variable().kind() == Variable.Kind.CONSTANT;
    }
}
