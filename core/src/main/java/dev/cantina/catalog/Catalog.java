package dev.cantina.catalog;

import dev.cantina.syntax.Name;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.Unit;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** What exists in a project and its database. Never changes. */
public final class Catalog {
    private final Map<String, Table> tables;
    private final Map<String, List<RoutineSymbol>> routines;
    private final List<TriggerSymbol> triggers;
    private final List<ModuleSymbol> modules;
    private final Map<Unit, List<Problem>> errors;
    private final List<Fault> faults;
    private final Optional<String> schema;

    /**
     * @param errors what is wrong with the text of the routines, triggers and modules, by their
     *     trees
     * @param faults what could not be taken at all
     * @param schema the key of the schema that the routines say they are in
     */
    Catalog(
            Collection<Table> tables,
            Collection<RoutineSymbol> routines,
            Collection<TriggerSymbol> triggers,
            Collection<ModuleSymbol> modules,
            Map<Unit, List<Problem>> errors,
            Collection<Fault> faults,
            Optional<String> schema) {
        Map<String, Table> byName = new LinkedHashMap<>();
        tables.forEach(table -> byName.put(table.key(), table));
        this.tables = byName;
        Map<String, List<RoutineSymbol>> named = new LinkedHashMap<>();
        for (RoutineSymbol routine : routines) {
            named.computeIfAbsent(routine.key(), key -> new ArrayList<>()).add(routine);
        }
        this.routines = named;
        this.triggers = List.copyOf(triggers);
        this.modules = List.copyOf(modules);
        this.errors = errors;
        this.schema = schema;
        this.faults = List.copyOf(faults);
    }

    /**
     * What of it code can set off in which some words stand: told by names alone, so rather too
     * much than too little, and all of it where SQL is put together as it runs. Triggers are all
     * kept.
     *
     * @param text the code, or what names the routine that is to run
     */
    public Catalog reachedFrom(String text) {
        NameReach reach = new NameReach(this, text);
        if (reach.isUnbounded()) {
            return this;
        }
        Set<ModuleSymbol> whole = new HashSet<>();
        reach.routines().forEach(r -> r.module().ifPresent(whole::add));
        return new Catalog(
                tables.values(),
                routines().stream()
                        .filter(
                                r ->
                                        reach.routines().contains(r)
                                                || r.module().filter(whole::contains).isPresent())
                        .toList(),
                triggers,
                modules.stream().filter(whole::contains).toList(),
                errors,
                faults,
                schema);
    }

    /** The same with routines that a server has itself. */
    public Catalog with(Collection<RoutineSymbol> onServer) {
        List<RoutineSymbol> all = new ArrayList<>(routines());
        all.addAll(onServer);
        return new Catalog(tables.values(), all, triggers, modules, errors, faults, schema);
    }

    /** What could not be taken of the project's files. */
    public List<Fault> faults() {
        return faults;
    }

    /** The errors in the text of a routine, or of the module that it belongs to. */
    public List<Problem> errors(RoutineSymbol routine) {
        List<Problem> own = errors.getOrDefault(routine.tree(), List.of());
        List<Problem> shared =
                routine.module()
                        .map(m -> errors.getOrDefault(m.tree(), List.of()))
                        .orElse(List.of());
        if (own.isEmpty() || shared.isEmpty()) {
            return own.isEmpty() ? shared : own;
        }
        List<Problem> both = new ArrayList<>(own);
        both.addAll(shared);
        return both;
    }

    /** The errors in the text of a trigger. */
    public List<Problem> errors(TriggerSymbol trigger) {
        return errors.getOrDefault(trigger.tree(), List.of());
    }

    public Collection<Table> tables() {
        return tables.values();
    }

    public Optional<Table> table(Name name) {
        return table(name.key());
    }

    public Optional<Table> table(String key) {
        return Optional.ofNullable(tables.get(key));
    }

    /** All routines of a name, whatever their parameters. */
    public List<RoutineSymbol> routines(String key) {
        return routines.getOrDefault(key, List.of());
    }

    /**
     * The routines of a name as a person writes it, outside any SQL: an ordinary name in whatever
     * case, or a delimited one, with its quotes or without.
     */
    public List<RoutineSymbol> routinesCalled(String name) {
        for (String key : keys(name)) {
            if (routines.containsKey(key)) {
                return routines.get(key);
            }
        }
        List<String> alike =
                routines.keySet().stream().filter(k -> k.equalsIgnoreCase(name)).toList();
        return alike.size() == 1 ? routines.get(alike.get(0)) : List.of();
    }

    /** The same of a table. */
    public Optional<Table> tableCalled(String name) {
        return tableCalled(name, tables);
    }

    /** The same among tables by their keys. */
    public static Optional<Table> tableCalled(String name, Map<String, Table> tables) {
        for (String key : keys(name)) {
            if (tables.containsKey(key)) {
                return Optional.of(tables.get(key));
            }
        }
        List<String> alike =
                tables.keySet().stream().filter(k -> k.equalsIgnoreCase(name)).toList();
        return alike.size() == 1 ? Optional.of(tables.get(alike.get(0))) : Optional.empty();
    }

    private static List<String> keys(String name) {
        boolean quoted = name.length() > 2 && name.startsWith("\"") && name.endsWith("\"");
        return quoted
                ? List.of(name.substring(1, name.length() - 1).replace("\"\"", "\""))
                : List.of(name.toUpperCase(Locale.ROOT), name);
    }

    public List<RoutineSymbol> routines() {
        return routines.values().stream().flatMap(List::stream).toList();
    }

    /** The module of the routine whose text stands at a place; empty where it is in none. */
    public Optional<ModuleSymbol> moduleOf(Span routine) {
        return routines().stream()
                .filter(r -> r.tree().span().equals(routine))
                .findFirst()
                .flatMap(RoutineSymbol::module);
    }

    /** The trigger whose text stands at a place. */
    public Optional<TriggerSymbol> triggerAt(Span place) {
        return triggers().stream().filter(t -> t.tree().span().equals(place)).findFirst();
    }

    public List<RoutineSymbol> functions(String key) {
        return routines(key).stream().filter(RoutineSymbol::isFunction).toList();
    }

    public Optional<ModuleSymbol> module(String key) {
        return modules.stream().filter(m -> m.key().equals(key)).findFirst();
    }

    public List<ModuleSymbol> modules() {
        return modules;
    }

    /**
     * The key by which a routine is found that a call in a module, or in none, names.
     *
     * @param names the parts of the name as called
     */
    public String keyOf(List<Name> names, Optional<ModuleSymbol> within) {
        Name last = names.get(names.size() - 1);
        boolean own = schema.isPresent() && names.get(0).key().equals(schema.get());
        if (names.size() > 1 && own && module(names.get(0).key()).isEmpty()) {
            return keyOf(names.subList(1, names.size()), within);
        }
        if (names.size() > 1) {
            return names.get(names.size() - 2).key() + "." + last.key();
        }
        String inside = within.map(m -> m.key() + "." + last.key()).orElse("");
        return routines(inside).isEmpty() ? last.key() : inside;
    }

    /** In the order in which they fire. */
    public List<TriggerSymbol> triggers() {
        return triggers;
    }

    /**
     * The routine of a kind that a number of arguments fits, and of several the one whose types fit
     * best (ISO 9075-2, 9.6).
     */
    public Optional<RoutineSymbol> find(String key, boolean function, List<SqlType> arguments) {
        RoutineSymbol best = null;
        int bestScore = Integer.MAX_VALUE;
        for (RoutineSymbol routine : routines(key)) {
            if (routine.isFunction() != function
                    || arguments.size() > routine.parameters().size()
                    || arguments.size() < routine.required()) {
                continue;
            }
            int score = distance(routine, arguments);
            if (score < bestScore) {
                best = routine;
                bestScore = score;
            }
        }
        return Optional.ofNullable(best);
    }

    /** Of several routines with as many parameters, the one whose types fit best. */
    public static RoutineSymbol closest(List<RoutineSymbol> routines, List<SqlType> arguments) {
        RoutineSymbol best = routines.get(0);
        for (RoutineSymbol routine : routines) {
            if (distance(routine, arguments) < distance(best, arguments)) {
                best = routine;
            }
        }
        return best;
    }

    private static int distance(RoutineSymbol routine, List<SqlType> arguments) {
        int score = routine.parameters().size() - arguments.size();
        for (int i = 0; i < arguments.size(); i++) {
            SqlType given = arguments.get(i);
            SqlType wanted = routine.parameters().get(i).type();
            if (given.equals(wanted)) {
                continue;
            }
            boolean sameFamily = given.getClass() == wanted.getClass();
            score +=
                    sameFamily
                            ? 10
                            : dev.cantina.types.TypeRules.storable(given, wanted) ? 100 : 100_000;
        }
        return score;
    }
}
