package dev.cantina.editing;

import dev.cantina.binding.NamedUse;
import dev.cantina.binding.NamedUse.Meaning;
import dev.cantina.binding.Variable;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.project.ProjectException;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlWords;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/**
 * Gives something another name, wherever it is named. It is done only where it is shown that all
 * names of the project mean afterwards what they meant before, and that nothing is wrong that was
 * right.
 */
public final class Rename {
    private final ProjectState state;
    private final ProjectView view;
    private final NameFinder.Found found;
    private final String name;

    private Rename(ProjectState state, NameFinder.Found found, String name) {
        this.state = state;
        this.view = state.view().orElseThrow();
        this.found = found;
        this.name = name;
    }

    /** Whether something can be given another name at all; the answer says why not. */
    public static Optional<String> refusal(NameFinder.Found found) {
        Meaning meaning = found.meaning();
        if (meaning instanceof Meaning.OfTable || meaning instanceof Meaning.OfColumn) {
            return Optional.of(
                    "tables and columns have rows that go by their names; they are not renamed here");
        }
        if (meaning instanceof Meaning.OfField) {
            return Optional.of("a field goes by the name that its type or its query gives it");
        }
        if (meaning instanceof Meaning.OfVariable of
                && of.variable().span().text().length() > of.variable().name().length() + 2) {
            return Optional.of(of.variable().name() + " is given by the language");
        }
        return Optional.empty();
    }

    /**
     * The places that another name is written to, file by file.
     *
     * @throws ProjectException where it would change what something means; the message says what
     */
    public static Map<String, List<Span>> places(
            ProjectState state, NameFinder.Found found, String name) throws ProjectException {
        Optional<String> refusal = refusal(found);
        if (refusal.isPresent()) {
            throw new ProjectException(refusal.get());
        }
        if (!isName(name)) {
            throw new ProjectException("'" + name + "' can't be a name without quotes");
        }
        Rename rename = new Rename(state, found, name);
        rename.checkFree();
        Map<String, List<Span>> places = rename.places();
        rename.prove(places);
        return places;
    }

    /** Whether nothing of the kind has the new name. */
    private void checkFree() throws ProjectException {
        if (name.equalsIgnoreCase(old())) {
            return;
        }
        String key = name.toUpperCase(Locale.ROOT);
        if (found.meaning() instanceof Meaning.OfRoutine of) {
            String inside = of.routine().module().map(m -> m.key() + ".").orElse("");
            if (!view.catalog().routines(inside + key).isEmpty()) {
                throw refused("there is a routine of this name");
            }
        }
        if (found.meaning() instanceof Meaning.OfModule && view.catalog().module(key).isPresent()) {
            throw refused("there is a module of this name");
        }
    }

    private static boolean isName(String name) {
        List<SqlWords.Word> words = SqlWords.of(name).all();
        return words.size() == 1
                && words.get(0).kind() == SqlWords.Kind.WORD
                && words.get(0).isName()
                && words.get(0).start() == 0
                && words.get(0).end() == name.length();
    }

    private Map<String, List<Span>> places() {
        Map<String, List<Span>> places = new LinkedHashMap<>();
        for (Span span : new NameFinder(view).references(found)) {
            add(places, span);
        }
        for (String file : state.caseFiles()) {
            inCases(file, places);
        }
        return places;
    }

    private static void add(Map<String, List<Span>> places, Span span) {
        List<Span> known = places.computeIfAbsent(span.source().name(), f -> new ArrayList<>());
        if (known.stream().noneMatch(s -> s.start() == span.start())) {
            known.add(span);
        }
    }

    private void inCases(String file, Map<String, List<Span>> places) {
        Optional<String> text = state.text(file);
        if (text.isEmpty()) {
            return;
        }
        for (CaseNames.Use use : CaseNames.of(new Source(file, text.get()))) {
            if (CaseNames.same(use.span().text(), use.name())) {
                inCase(use).ifPresent(span -> add(places, span));
            }
        }
    }

    /** What of a name in a case is the one that is renamed. */
    private Optional<Span> inCase(CaseNames.Use use) {
        Optional<Meaning.OfArgument> parameter = new NameFinder(view).argument(found);
        if (parameter.isPresent()) {
            boolean fits =
                    use.kind() == CaseNames.Kind.PARAMETER
                            && CaseNames.same(use.routine(), parameter.get().routine().name())
                            && CaseNames.same(use.name(), old());
            return fits ? Optional.of(use.span()) : Optional.empty();
        }
        if (use.kind() != CaseNames.Kind.ROUTINE) {
            return Optional.empty();
        }
        int dot = use.name().lastIndexOf('.');
        Span span = use.span();
        if (found.meaning() instanceof Meaning.OfRoutine of
                && CaseNames.same(use.name(), of.routine().name())) {
            return Optional.of(span.source().span(span.start() + dot + 1, span.end()));
        }
        boolean inModule =
                found.meaning() instanceof Meaning.OfModule of
                        && dot > 0
                        && CaseNames.same(use.name().substring(0, dot), of.module().name());
        return inModule
                ? Optional.of(span.source().span(span.start(), span.start() + dot))
                : Optional.empty();
    }

    private String old() {
        if (found.meaning() instanceof Meaning.OfVariable of) {
            return of.variable().name();
        }
        // In a case a routine of a module stands with the module's name before it.
        return found.meaning() instanceof Meaning.OfRoutine of
                ? of.routine().tree().name().text()
                : found.span().text();
    }

    // ------------------------------------------------------------------ the proof

    private void prove(Map<String, List<Span>> places) throws ProjectException {
        for (String file : places.keySet()) {
            if (view.files().containsKey(file) && !view.files().get(file).faults().isEmpty()) {
                throw refused(file + " can't be read as it is");
            }
        }
        Map<String, List<Problem>> wrongNow = new HashMap<>();
        Map<String, List<Problem>> wrongThen = new HashMap<>();
        try (ProjectState then = new ProjectState(state.project(), wrongThen::put);
                ProjectState now = new ProjectState(state.project(), wrongNow::put)) {
            for (String file : view.files().keySet()) {
                Optional<String> text = state.text(file);
                if (text.isPresent()) {
                    now.change(file, text.get());
                    then.change(
                            file, renamed(text.get(), places.getOrDefault(file, List.of()), name));
                }
            }
            for (Source script : view.tables()) {
                now.change(script.name(), script.written());
                then.change(script.name(), script.written());
            }
            while (!now.check() || !then.check()) {
                continue;
            }
            compare(now, then);
            for (String file : wrongThen.keySet()) {
                List<Problem> errors = errors(wrongThen.get(file));
                if (errors.size() > errors(wrongNow.getOrDefault(file, List.of())).size()) {
                    throw wrong(errors.get(0));
                }
            }
        }
    }

    private static List<Problem> errors(List<Problem> problems) {
        return problems.stream().filter(Problem::isError).toList();
    }

    private ProjectException wrong(Problem problem) {
        return refused(problem.span().place() + " would be wrong: " + problem.message());
    }

    /** A text with a name written at some of its places. */
    public static String renamed(String text, List<Span> places, String name) {
        StringBuilder all = new StringBuilder(text);
        places.stream()
                .sorted(Comparator.comparingInt(Span::start).reversed())
                .forEach(s -> all.replace(s.start(), s.end(), name));
        return all.toString();
    }

    private void compare(ProjectState now, ProjectState then) throws ProjectException {
        ProjectView before = now.view().orElseThrow();
        ProjectView after = then.view().orElseThrow();
        for (String file : before.units().keySet()) {
            List<CheckedUnit> old = before.units().get(file);
            List<CheckedUnit> fresh = after.units().getOrDefault(file, List.of());
            if (old.size() != fresh.size()) {
                throw refused(file + " would not hold the same routines");
            }
            for (int i = 0; i < old.size(); i++) {
                compare(file, old.get(i), fresh.get(i));
            }
        }
    }

    private void compare(String file, CheckedUnit before, CheckedUnit after)
            throws ProjectException {
        List<Problem> wrong = after.problems().stream().filter(Problem::isError).toList();
        long known = before.problems().stream().filter(Problem::isError).count();
        if (wrong.size() > known) {
            throw wrong(wrong.get(0));
        }
        List<String> meant = meanings(before);
        List<String> means = meanings(after);
        for (int i = 0; i < Math.min(meant.size(), means.size()); i++) {
            if (!meant.get(i).equals(means.get(i))) {
                throw refused(
                        "a name in "
                                + before.routine().map(r -> r.name()).orElse(file)
                                + " would mean something else");
            }
        }
        if (meant.size() != means.size()) {
            throw refused(
                    "a name in "
                            + before.routine().map(r -> r.name()).orElse(file)
                            + " would mean something else");
        }
    }

    private ProjectException refused(String why) {
        return new ProjectException(old() + " can't be called " + name + ": " + why);
    }

    /** What the names of a routine mean, in the order of its text, whatever they are. */
    private List<String> meanings(CheckedUnit unit) {
        Map<Object, Integer> numbers = new IdentityHashMap<>();
        List<NamedUse> uses = new ArrayList<>(unit.uses());
        uses.sort(Comparator.comparingInt((NamedUse u) -> u.span().start()));
        List<String> all = new ArrayList<>();
        for (NamedUse use : uses) {
            all.add(meaning(use.meaning(), numbers));
        }
        return all;
    }

    private String meaning(Meaning meaning, Map<Object, Integer> numbers) {
        if (meaning instanceof Meaning.OfVariable of) {
            return "variable " + of.variable().slot();
        }
        if (meaning instanceof Meaning.OfField of) {
            Variable row = of.row();
            return "field " + row.slot() + " " + of.field();
        }
        if (meaning instanceof Meaning.OfRoutine of) {
            return "routine " + renamedKey(of.routine());
        }
        if (meaning instanceof Meaning.OfArgument of) {
            return "argument " + renamedKey(of.routine()) + " " + of.index();
        }
        if (meaning instanceof Meaning.OfTable of) {
            return "table " + of.table().key();
        }
        if (meaning instanceof Meaning.OfColumn of) {
            return "column " + of.table().key() + "." + of.key();
        }
        if (meaning instanceof Meaning.OfModule of) {
            return "module " + moduleKey(of.module().key());
        }
        if (meaning instanceof Meaning.OfShared of) {
            return "shared " + moduleKey(of.module().key()) + " " + of.index();
        }
        Object one =
                meaning instanceof Meaning.OfCursor c
                        ? c.cursor()
                        : meaning instanceof Meaning.OfLabel l
                                ? l.target()
                                : ((Meaning.OfCondition) meaning).declared();
        numbers.putIfAbsent(one, numbers.size());
        return meaning.getClass().getSimpleName() + " " + numbers.get(one);
    }

    /** A routine's key; the renamed one has its old one. */
    private String renamedKey(RoutineSymbol routine) {
        boolean is =
                found.meaning() instanceof Meaning.OfRoutine of
                        && moduleOf(of.routine()).equals(moduleOf(routine))
                        && routine.tree().name().text().equalsIgnoreCase(name);
        return moduleOf(routine)
                + "."
                + (is ? old() : routine.tree().name().key()).toUpperCase(Locale.ROOT);
    }

    private String moduleOf(RoutineSymbol routine) {
        return routine.module().map(m -> moduleKey(m.key())).orElse("");
    }

    /** A module's key; the renamed one has its old one. */
    private String moduleKey(String key) {
        boolean is =
                found.meaning() instanceof Meaning.OfModule
                        && (key.equalsIgnoreCase(name) || key.equalsIgnoreCase(old()));
        return (is ? old() : key).toUpperCase(Locale.ROOT);
    }
}
