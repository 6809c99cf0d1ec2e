package dev.cantina.catalog;

import dev.cantina.syntax.Declaration;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Nearest;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Unit;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;

/** Makes a catalog of the units of files; what is wrong with them becomes a problem. */
public final class CatalogBuilder {
    private final Map<String, Table> tables = new LinkedHashMap<>();
    private final Map<String, List<RoutineSymbol>> byKey = new HashMap<>();
    private final Consumer<Problem> problems;
    private final TypeResolver types;

    /** By tree: what is wrong with the text of units that the catalog takes. */
    private final Map<Unit, List<Problem>> errors = new IdentityHashMap<>();

    private final List<Fault> faults = new ArrayList<>();

    /** What was found wrong with the unit at hand. */
    private final List<Problem> found = new ArrayList<>();

    public CatalogBuilder(List<Table> tables, Consumer<Problem> problems) {
        tables.forEach(table -> this.tables.put(table.key(), table));
        this.problems =
                problem -> {
                    found.add(problem);
                    problems.accept(problem);
                };
        this.types = new TypeResolver(this.tables, this.problems);
    }

    /** The tables, and the routines and triggers of the files in their order. */
    public Catalog build(List<ParsedFile> files) {
        List<RoutineSymbol> routines = new ArrayList<>();
        List<TriggerSymbol> triggers = new ArrayList<>();
        List<ModuleSymbol> modules = new ArrayList<>();
        for (ParsedFile file : files) {
            List<TriggerSymbol> inFile = new ArrayList<>();
            otherSchema(file);
            file.faults().forEach(this::fault);
            for (Unit unit : file.units()) {
                found.clear();
                if (unit instanceof Unit.Routine routine) {
                    routine(routine, Optional.empty(), routines);
                } else if (unit instanceof Unit.Module module) {
                    module(module, routines, modules);
                } else if (unit instanceof Unit.Trigger trigger) {
                    trigger(trigger, inFile);
                } else {
                    problems.accept(
                            Problem.error(
                                    unit.span(),
                                    "misplaced-statement",
                                    "a file in routines/ holds CREATE PROCEDURE, FUNCTION, TRIGGER or MODULE",
                                    "put statements to run into a script or a fixture"));
                }
                List<Problem> wrong = found.stream().filter(Problem::isError).toList();
                if (!wrong.isEmpty()) {
                    wrong(unit, wrong);
                }
            }
            inFile.sort(Comparator.comparing(TriggerSymbol::name));
            triggers.addAll(inFile);
        }
        return new Catalog(tables.values(), routines, triggers, modules, errors, faults, schema);
    }

    /** The schema of the files before this one, where they say one. */
    private Optional<String> schema = Optional.empty();

    private void otherSchema(ParsedFile file) {
        if (file.schema().isEmpty()) {
            return;
        }
        if (schema.isPresent() && !schema.equals(file.schema()) && !file.units().isEmpty()) {
            problems.accept(
                    Problem.error(
                            file.units().get(0).span(),
                            "other-schema",
                            "this file's routines are in schema "
                                    + file.schema().get()
                                    + ", and those of the files before it in "
                                    + schema.get(),
                            "a project has one schema of its own; move the others into a project of"
                                    + " theirs"));
        }
        schema = schema.or(file::schema);
    }

    /** What the reader found: it spoils the unit that was read there, and whatever was not. */
    private void fault(ParsedFile.Fault fault) {
        fault.unit().ifPresent(unit -> spoil(unit, fault.errors()));
        FaultReader.of(fault).ifPresent(faults::add);
    }

    /** An error in a routine of a module is that routine's; any other the module's. */
    private void spoil(Unit unit, List<Problem> wrong) {
        for (Problem problem : wrong) {
            Unit spoilt = unit;
            if (unit instanceof Unit.Module module) {
                for (Unit.Routine routine : module.routines()) {
                    if (routine.span().start() <= problem.span().start()
                            && problem.span().end() <= routine.span().end()) {
                        spoilt = routine;
                    }
                }
            }
            errors.computeIfAbsent(spoilt, u -> new ArrayList<>()).add(problem);
        }
    }

    /** What was found here; a unit that is not taken for it is as good as one not read. */
    private void wrong(Unit unit, List<Problem> wrong) {
        spoil(unit, wrong);
        Optional<String> text = Optional.of(unit.span().text());
        if (unit instanceof Unit.Step step) {
            FaultReader.of(step, wrong).ifPresent(faults::add);
        } else if (unit instanceof Unit.Trigger trigger) {
            Optional<String> table = Optional.of(trigger.table().key()).filter(tables::containsKey);
            faults.add(new Fault(wrong, text, true, table));
        } else {
            faults.add(new Fault(wrong, Optional.of(head(unit)), false, Optional.empty()));
        }
    }

    /** The names that a routine or module would have been called by. */
    private static String head(Unit unit) {
        if (unit instanceof Unit.Module module) {
            return module.routines().stream()
                    .map(r -> r.name().key())
                    .collect(java.util.stream.Collectors.joining(" "));
        }
        return ((Unit.Routine) unit).name().key();
    }

    private void module(
            Unit.Module tree, List<RoutineSymbol> routines, List<ModuleSymbol> modules) {
        if (modules.stream().anyMatch(m -> m.key().equals(tree.name().key()))) {
            problems.accept(
                    Problem.error(
                            tree.name().span(),
                            "duplicate-name",
                            "module " + tree.name() + " already exists",
                            "give one of them another name"));
            return;
        }
        List<ModuleSymbol.Shared> variables = new ArrayList<>();
        for (Declaration declaration : tree.declarations()) {
            if (declaration instanceof Declaration.Variables shared) {
                SqlType type = types.resolve(shared.type());
                for (Name name : shared.names()) {
                    variables.add(
                            new ModuleSymbol.Shared(
                                    name,
                                    type,
                                    shared.constant(),
                                    tree.privateNames().contains(name.key()),
                                    shared.initial()));
                }
            } else if (!(declaration instanceof Declaration.Condition)) {
                problems.accept(
                        Problem.error(
                                declaration.span(),
                                "wrong-declaration",
                                "a module declares variables, constants and conditions",
                                "put cursors and handlers into a routine"));
            }
        }
        ModuleSymbol symbol = new ModuleSymbol(tree, variables);
        modules.add(symbol);
        tree.routines().forEach(r -> routine(r, Optional.of(symbol), routines));
    }

    private void routine(
            Unit.Routine tree, Optional<ModuleSymbol> module, List<RoutineSymbol> routines) {
        List<ParameterSymbol> parameters = new ArrayList<>();
        for (Unit.Parameter parameter : tree.parameters()) {
            parameters.add(
                    new ParameterSymbol(
                            parameter.name(),
                            parameter.mode(),
                            types.resolve(parameter.type()),
                            parameter.initial()));
        }
        Optional<SqlType> returns = tree.returns().map(types::resolve);
        RoutineSymbol symbol = new RoutineSymbol(tree, parameters, returns, module);
        List<RoutineSymbol> named = byKey.computeIfAbsent(symbol.key(), k -> new ArrayList<>());
        for (RoutineSymbol other : named) {
            if (clash(other, symbol)) {
                Name name = tree.name();
                problems.accept(
                        Problem.error(
                                name.span(),
                                "duplicate-name",
                                name + " already exists, at " + other.tree().name().span(),
                                "give one of them another name, or other parameters"));
                return;
            }
        }
        named.add(symbol);
        routines.add(symbol);
    }

    private static boolean clash(RoutineSymbol a, RoutineSymbol b) {
        if (a.isFunction() != b.isFunction() || a.parameters().size() != b.parameters().size()) {
            return false;
        }
        return !a.isFunction()
                || a.parameters().stream()
                        .map(ParameterSymbol::type)
                        .toList()
                        .equals(b.parameters().stream().map(ParameterSymbol::type).toList());
    }

    private void trigger(Unit.Trigger tree, List<TriggerSymbol> triggers) {
        Table table = tables.get(tree.table().key());
        if (table == null) {
            List<String> known = tables.values().stream().map(Table::name).toList();
            problems.accept(
                    Problem.unknown(
                            tree.table().span(),
                            "unknown-name",
                            "there is no table " + tree.table(),
                            Nearest.to(tree.table().text(), known),
                            ""));
            return;
        }
        boolean instead = tree.timing() == Unit.Timing.INSTEAD_OF;
        if (instead != table.view()) {
            problems.accept(
                    Problem.error(
                            tree.name().span(),
                            "wrong-declaration",
                            table.view()
                                    ? table.name()
                                            + " is a view, which has INSTEAD OF triggers alone"
                                    : table.name() + " is a table, and INSTEAD OF is for views",
                            table.view() ? "write INSTEAD OF" : "write BEFORE or AFTER"));
            return;
        }
        if (instead && !tree.eachRow()) {
            problems.accept(
                    Problem.error(
                            tree.name().span(),
                            "wrong-declaration",
                            "an INSTEAD OF trigger does the work of each row",
                            "write FOR EACH ROW"));
            return;
        }
        triggers.add(new TriggerSymbol(tree, table));
    }
}
