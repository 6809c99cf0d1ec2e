package dev.cantina.editing;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.NamedUse;
import dev.cantina.binding.NamedUse.Meaning;
import dev.cantina.catalog.Column;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.Table;
import dev.cantina.project.ProjectException;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

/** Shows that all names of a project mean with a new name what they meant with the old one. */
final class RenameProof {
    private final NameFinder.Found found;
    private final String old;
    private final String name;
    private final Map<String, List<Problem>> wrongNow;
    private final Function<String, ProjectException> refused;

    /**
     * @param wrongNow what is wrong before, by files
     * @param refused says why the name can't be given
     */
    RenameProof(
            NameFinder.Found found,
            String old,
            String name,
            Map<String, List<Problem>> wrongNow,
            Function<String, ProjectException> refused) {
        this.found = found;
        this.old = old;
        this.name = name;
        this.wrongNow = wrongNow;
        this.refused = refused;
    }

    /** Compares the project as it is with what it would be. */
    void compare(ProjectState now, ProjectState then, Map<String, List<Problem>> wrongThen)
            throws ProjectException {
        ProjectView before = now.view().orElseThrow();
        ProjectView after = then.view().orElseThrow();
        for (String file : before.units().keySet()) {
            List<CheckedUnit> old = before.units().get(file);
            List<CheckedUnit> fresh = after.units().getOrDefault(file, List.of());
            if (old.size() != fresh.size()) {
                throw refused.apply(file + " would not hold the same routines");
            }
            for (int i = 0; i < old.size(); i++) {
                compare(file, old.get(i), fresh.get(i));
            }
        }
        tables(before.catalog().tables(), after.catalog().tables());
        for (String file : wrongThen.keySet()) {
            List<Problem> errors = errors(wrongThen.get(file));
            if (errors.size() > errors(wrongNow.getOrDefault(file, List.of())).size()) {
                throw wrong(errors.get(0));
            }
        }
    }

    /** Compares statements that stand in no routine, before and after. */
    void compare(ProjectState now, ProjectState then, Source before, Source after)
            throws ProjectException {
        List<NamedUse> meant;
        try {
            meant = now.uses(before);
        } catch (ProjectException e) {
            // It names nothing that is renamed, or it would have been said.
            return;
        }
        List<NamedUse> means;
        try {
            means = then.uses(after);
        } catch (ProjectException e) {
            throw refused.apply(before.name() + " would be wrong: " + e.getMessage());
        }
        if (!meanings(meant).equals(meanings(means))) {
            throw refused.apply("a name in " + before.name() + " would mean something else");
        }
    }

    private static List<Problem> errors(List<Problem> problems) {
        return problems.stream().filter(Problem::isError).toList();
    }

    private ProjectException wrong(Problem problem) {
        return refused.apply(problem.span().place() + " would be wrong: " + problem.message());
    }

    private void compare(String file, CheckedUnit before, CheckedUnit after)
            throws ProjectException {
        List<Problem> wrong = errors(after.problems());
        if (wrong.size() > errors(before.problems()).size()) {
            throw wrong(wrong.get(0));
        }
        if (!meanings(before.uses()).equals(meanings(after.uses()))) {
            throw refused.apply(
                    "a name in "
                            + before.routine().map(r -> r.name()).orElse(file)
                            + " would mean something else");
        }
    }

    /** Whether the tables are the same but for the name. */
    private void tables(Collection<Table> before, Collection<Table> after) throws ProjectException {
        List<String> were = shapes(before);
        List<String> are = shapes(after);
        if (!were.equals(are)) {
            throw refused.apply("the tables would be others");
        }
    }

    private List<String> shapes(Collection<Table> tables) {
        return tables.stream()
                .map(
                        t ->
                                tableKey(t.key())
                                        + t.columns().stream()
                                                .map(c -> columnKey(t, c) + " " + c.type().sql())
                                                .toList()
                                        + t.primaryKey()
                                        + t.uniqueKeys()
                                        + t.view())
                .sorted()
                .toList();
    }

    /**
     * Where fields of rows are named that go by the column's name now, and by the new one then:
     * those of rows that a query gives with the column under its own name.
     *
     * @param places what is renamed already
     */
    List<Span> fields(ProjectState now, ProjectState then, Map<String, List<Span>> places) {
        List<Span> fields = new ArrayList<>();
        ProjectView before = now.view().orElseThrow();
        ProjectView after = then.view().orElseThrow();
        for (String file : before.units().keySet()) {
            List<CheckedUnit> fresh = after.units().getOrDefault(file, List.of());
            List<CheckedUnit> units = before.units().get(file);
            for (int i = 0; i < Math.min(units.size(), fresh.size()); i++) {
                CheckedUnit unit = units.get(i);
                Optional<BoundRoutine> routine = fresh.get(i).routine();
                if (routine.isPresent()) {
                    fields(unit.uses(), routine.get(), unit::moved, fields);
                }
            }
        }
        return unknown(fields, places);
    }

    /** The same in statements that stand in no routine. */
    List<Span> fields(
            ProjectState now,
            ProjectState then,
            Source before,
            Source after,
            Map<String, List<Span>> places)
            throws ProjectException {
        List<Span> fields = new ArrayList<>();
        fields(now.bound(before).uses(), then.bound(after).routine(), s -> s, fields);
        return unknown(fields, places);
    }

    private void fields(
            List<NamedUse> uses, BoundRoutine then, Function<Span, Span> moved, List<Span> fields) {
        for (NamedUse use : uses) {
            if (use.meaning() instanceof Meaning.OfField of
                    && of.field().equalsIgnoreCase(old)
                    && isGone(of, then)) {
                fields.add(moved.apply(use.span()));
            }
        }
    }

    private static List<Span> unknown(List<Span> fields, Map<String, List<Span>> places) {
        return fields.stream()
                .filter(
                        f ->
                                places.getOrDefault(f.source().name(), List.of()).stream()
                                        .noneMatch(s -> s.start() == f.start()))
                .toList();
    }

    /** Whether the row at the same slot has no field of the old name, and one of the new. */
    private boolean isGone(Meaning.OfField field, BoundRoutine routine) {
        return routine.variables().stream()
                .filter(v -> v.slot() == field.row().slot())
                .filter(v -> v.type() instanceof SqlType.Row)
                .map(v -> (SqlType.Row) v.type())
                .anyMatch(
                        r ->
                                r.fields().stream().noneMatch(f -> f.name().equalsIgnoreCase(old))
                                        && r.fields().stream()
                                                .anyMatch(f -> f.name().equalsIgnoreCase(name)));
    }

    // ------------------------------------------------------------------ what names mean

    /** What names mean, in the order of their text, whatever they are. */
    private List<String> meanings(List<NamedUse> named) {
        Map<Object, Integer> numbers = new IdentityHashMap<>();
        List<NamedUse> uses = new ArrayList<>(named);
        uses.sort(Comparator.comparingInt((NamedUse u) -> u.span().start()));
        return uses.stream().map(u -> meaning(u.meaning(), numbers)).toList();
    }

    private String meaning(Meaning meaning, Map<Object, Integer> numbers) {
        if (meaning instanceof Meaning.OfVariable of) {
            return "variable " + of.variable().slot();
        }
        if (meaning instanceof Meaning.OfField of) {
            return "field " + of.row().slot() + " " + place(of);
        }
        if (meaning instanceof Meaning.OfRoutine of) {
            return "routine " + renamedKey(of.routine());
        }
        if (meaning instanceof Meaning.OfArgument of) {
            return "argument " + renamedKey(of.routine()) + " " + of.index();
        }
        if (meaning instanceof Meaning.OfTable of) {
            return "table " + tableKey(of.table().key());
        }
        if (meaning instanceof Meaning.OfColumn of) {
            return "column "
                    + tableKey(of.table().key())
                    + "."
                    + of.table().column(of.key()).map(c -> columnKey(of.table(), c)).orElse("");
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

    /** Which field of its row it is: the name may be another. */
    private static String place(Meaning.OfField of) {
        if (of.row().type() instanceof SqlType.Row row) {
            for (int i = 0; i < row.fields().size(); i++) {
                if (row.fields().get(i).name().equalsIgnoreCase(of.field())) {
                    return String.valueOf(i);
                }
            }
        }
        return of.field().toUpperCase(Locale.ROOT);
    }

    /** A table's key; the renamed one has its old one. */
    private String tableKey(String key) {
        boolean is =
                found.meaning() instanceof Meaning.OfTable of
                        && (key.equalsIgnoreCase(name) || key.equals(of.table().key()));
        return is ? old.toUpperCase(Locale.ROOT) : key;
    }

    private String columnKey(Table table, Column column) {
        boolean is =
                found.meaning() instanceof Meaning.OfColumn of
                        && of.table().key().equals(table.key())
                        && (column.key().equalsIgnoreCase(name) || column.key().equals(of.key()));
        return is ? old.toUpperCase(Locale.ROOT) : column.key();
    }

    /** A routine's key; the renamed one has its old one. */
    private String renamedKey(RoutineSymbol routine) {
        boolean is =
                found.meaning() instanceof Meaning.OfRoutine of
                        && moduleOf(of.routine()).equals(moduleOf(routine))
                        && routine.tree().name().text().equalsIgnoreCase(name);
        return moduleOf(routine)
                + "."
                + (is ? old : routine.tree().name().key()).toUpperCase(Locale.ROOT);
    }

    private String moduleOf(RoutineSymbol routine) {
        return routine.module().map(m -> moduleKey(m.key())).orElse("");
    }

    /** A module's key; the renamed one has its old one. */
    private String moduleKey(String key) {
        boolean is =
                found.meaning() instanceof Meaning.OfModule
                        && (key.equalsIgnoreCase(name) || key.equalsIgnoreCase(old));
        return (is ? old : key).toUpperCase(Locale.ROOT);
    }
}
