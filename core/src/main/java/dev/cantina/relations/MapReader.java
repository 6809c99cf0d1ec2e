package dev.cantina.relations;

import dev.cantina.binding.Binder;
import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundSql;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.NamedUse;
import dev.cantina.binding.NamedUse.Meaning;
import dev.cantina.binding.Walker;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.Table;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.editing.OwnLinks;
import dev.cantina.editing.TableSources;
import dev.cantina.facts.Reach;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.project.Workspace;
import dev.cantina.project.YamlNode;
import dev.cantina.relations.ProjectMap.CaseUse;
import dev.cantina.relations.ProjectMap.Kind;
import dev.cantina.relations.ProjectMap.Thing;
import dev.cantina.relations.ProjectMap.Way;
import dev.cantina.syntax.Change;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Query;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlText;
import dev.cantina.syntax.SqlWalk;
import dev.cantina.syntax.SqlWords;
import dev.cantina.testing.CaseFiles;
import dev.cantina.testing.TestCase;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Reads a project into a map. */
public final class MapReader {
    private final Workspace workspace;
    private final Project project;
    private final Catalog catalog;
    private final ProjectMap map = new ProjectMap();

    /** How many routines have a name. */
    private final Map<String, Integer> shared = new HashMap<>();

    private MapReader(Workspace workspace) {
        this.workspace = workspace;
        this.project = workspace.project();
        this.catalog = workspace.catalog();
        for (RoutineSymbol routine : catalog.routines()) {
            shared.merge(routine.name().toLowerCase(Locale.ROOT), 1, Integer::sum);
        }
    }

    /**
     * The map of a project that is open.
     *
     * @throws ProjectException where its files can't be read
     */
    public static ProjectMap of(Workspace workspace) throws ProjectException {
        MapReader reader = new MapReader(workspace);
        reader.tables();
        if (reader.project.own().isPresent()) {
            OwnLinks.of(reader.project).forEach(reader::own);
        }
        reader.routines();
        reader.scripts();
        reader.cases();
        return reader.map;
    }

    private void tables() throws ProjectException {
        List<Source> scripts = scripts("tables");
        TableSources.Places places = TableSources.places(scripts);
        for (Table table : catalog.tables()) {
            Optional<Span> at = places.of(table.key(), Optional.empty());
            map.add(new Thing(table.view() ? Kind.VIEW : Kind.TABLE, table.name(), at));
        }
        for (Source script : scripts) {
            views(script);
        }
    }

    private List<Source> scripts(String folder) throws ProjectException {
        List<Source> all = new ArrayList<>();
        List<Path> files =
                folder.equals("tables") && project.own().isPresent()
                        ? ProjectReader.matching(project, project.own().get().tables())
                        : ProjectReader.files(project.root().resolve(folder), ".sql");
        for (Path file : files) {
            all.add(ProjectReader.source(file, project.shown(file)));
        }
        return all;
    }

    /** A view reads what stands in its query. */
    private void views(Source script) {
        List<SqlWords.Word> words = SqlWords.of(script.written()).all();
        Optional<Thing> view = Optional.empty();
        for (int i = 1; i < words.size(); i++) {
            if (words.get(i).is(";")) {
                view = Optional.empty();
            } else if (words.get(i - 1).is("VIEW")) {
                view = table(words.get(i).text()).filter(t -> t.kind() == Kind.VIEW);
            } else if (view.isPresent() && words.get(i).isName()) {
                Thing from = view.get();
                table(words.get(i).text())
                        .filter(t -> !t.equals(from))
                        .ifPresent(t -> map.link(from, t, Way.READS, List.of("*")));
            }
        }
    }

    private Optional<Thing> table(String name) {
        return map.called(name).stream().filter(t -> t.kind().isTable()).findFirst();
    }

    private Thing thing(Table table) {
        return map.add(
                new Thing(table.view() ? Kind.VIEW : Kind.TABLE, table.name(), Optional.empty()));
    }

    /** Routines that share a name are told apart by the types of their parameters. */
    private Thing thing(RoutineSymbol routine) {
        int same = shared.getOrDefault(routine.name().toLowerCase(Locale.ROOT), 0);
        List<String> types = routine.parameters().stream().map(p -> p.type().sql()).toList();
        return new Thing(
                routine.isFunction() ? Kind.FUNCTION : Kind.PROCEDURE,
                routine.name() + (same > 1 ? "(" + String.join(", ", types) + ")" : ""),
                Optional.of(routine.tree().name().span()));
    }

    private void routines() {
        Binder binder = new Binder(catalog, Optional.of(workspace.database())).recording();
        for (RoutineSymbol routine : catalog.routines()) {
            if (!routine.isOnServer()) {
                map.add(thing(routine));
            }
        }
        for (RoutineSymbol routine : catalog.routines()) {
            if (!routine.isOnServer() && routine.tree().body().isPresent()) {
                Binder.Result bound = binder.bind(routine);
                code(map.add(thing(routine)), bound, -1);
                Reach reach = Reach.of(bound.routine(), catalog, routine.module());
                if (reach.isUnbounded()) {
                    map.unbounded(map.add(thing(routine)));
                }
            }
        }
        for (TriggerSymbol trigger : catalog.triggers()) {
            Thing thing =
                    map.add(
                            new Thing(
                                    Kind.TRIGGER,
                                    trigger.name(),
                                    Optional.of(trigger.tree().name().span())));
            map.fires(
                    thing(trigger.table()),
                    thing,
                    switch (trigger.tree().event()) {
                        case INSERT -> Way.INSERTS;
                        case UPDATE -> Way.UPDATES;
                        case DELETE -> Way.DELETES;
                    });
            Binder.Result bound = binder.bind(trigger);
            code(thing, bound, trigger.tree().table().span().start());
            if (Reach.of(bound.routine(), catalog, Optional.empty()).isUnbounded()) {
                map.unbounded(thing);
            }
        }
    }

    // ------------------------------------------------------------------ what code names

    /**
     * @param head where the table of a trigger is named; -1 for a routine
     */
    private void code(Thing from, Binder.Result bound, int head) {
        Map<Integer, Way> changed = new HashMap<>();
        Set<Integer> targets = new HashSet<>();
        for (SqlText text : texts(bound.routine())) {
            roles(text.scope(), changed, targets);
            whole(from, text);
        }
        for (NamedUse use : bound.uses()) {
            int at = use.span().start();
            if (use.meaning() instanceof Meaning.OfRoutine of) {
                Thing to = map.add(thing(of.routine()));
                if (!use.declares()) {
                    map.link(from, to, Way.CALLS, List.of());
                }
            } else if (use.meaning() instanceof Meaning.OfTable of
                    && at != head
                    && isOfProject(of.table())) {
                map.link(from, thing(of.table()), changed.getOrDefault(at, Way.READS), List.of());
            } else if (use.meaning() instanceof Meaning.OfColumn of && isOfProject(of.table())) {
                Way way = targets.contains(at) ? written(from, of.table()) : Way.READS;
                map.link(
                        from,
                        thing(of.table()),
                        way,
                        List.of(of.table().column(of.key()).map(c -> c.name()).orElse(of.key())));
            }
        }
    }

    /** A table of a block's own is nobody else's. */
    private boolean isOfProject(Table table) {
        return catalog.table(table.key()).filter(t -> t == table).isPresent();
    }

    /** How a routine changes a table whose column it gives a value to. */
    private Way written(Thing from, Table table) {
        return map.from(from).stream()
                .filter(l -> l.to().equals(thing(table)) && l.way().isChange())
                .reduce((first, last) -> last)
                .map(ProjectMap.Link::way)
                .orElse(Way.UPDATES);
    }

    private static List<SqlText> texts(BoundRoutine routine) {
        List<SqlText> all = new ArrayList<>();
        Walker.statements(
                routine.body(),
                s -> {
                    Walker.sql(s).map(BoundSql::source).ifPresent(all::add);
                    if (s instanceof BoundStatement.Block block) {
                        block.cursors()
                                .forEach(c -> c.query().map(BoundSql::source).ifPresent(all::add));
                    }
                    Walker.expressions(
                            s,
                            e -> {
                                if (e instanceof BoundExpression.DatabaseExpression query) {
                                    all.add(query.sql().source());
                                }
                            });
                });
        return all;
    }

    private static void roles(
            SqlText.Scope scope, Map<Integer, Way> changed, Set<Integer> targets) {
        for (SqlText.TableUse use : scope.tables()) {
            Way way =
                    switch (use.role()) {
                        case READ -> Way.READS;
                        case INSERT -> Way.INSERTS;
                        case UPDATE -> Way.UPDATES;
                        case DELETE -> Way.DELETES;
                        case MERGE -> Way.MERGES;
                    };
            for (Name name : use.names()) {
                changed.merge(name.span().start(), way, (a, b) -> a == Way.READS ? b : a);
            }
        }
        for (SqlText.NameUse use : scope.names()) {
            if (use.use() == SqlText.Use.TARGET && !use.names().isEmpty()) {
                targets.add(use.names().get(use.names().size() - 1).span().start());
            }
        }
        scope.children().forEach(c -> roles(c, changed, targets));
    }

    /** {@code SELECT *}, and an INSERT that names no columns, mean all of them. */
    private void whole(Thing from, SqlText text) {
        boolean[] all = {false};
        SqlWalk.each(
                text.tree(),
                new SqlWalk.Visitor() {
                    @Override
                    public void query(Query query) {
                        all[0] |=
                                query instanceof Query.Select select
                                        && select.items().stream().anyMatch(Query.Item::isAll);
                    }

                    @Override
                    public void found(SqlWalk.Found found) {
                        // Only what stands around the expressions matters.
                    }
                });
        if (all[0]) {
            tablesOf(text.scope(), SqlText.Role.READ)
                    .forEach(t -> map.link(from, t, Way.READS, List.of("*")));
        }
        if (text.tree() instanceof Change.Insert insert && insert.columns().isEmpty()) {
            tablesOf(text.scope(), SqlText.Role.INSERT)
                    .forEach(t -> map.link(from, t, Way.INSERTS, List.of("*")));
        }
    }

    private List<Thing> tablesOf(SqlText.Scope scope, SqlText.Role role) {
        List<Thing> all = new ArrayList<>();
        for (SqlText.TableUse use : scope.tables()) {
            if (use.role() == role && !use.names().isEmpty()) {
                Name name = use.names().get(use.names().size() - 1);
                catalog.table(name).map(this::thing).ifPresent(all::add);
            }
        }
        scope.children().forEach(c -> all.addAll(tablesOf(c, role)));
        return all;
    }

    // ------------------------------------------------------------------ what else there is

    /** What a text in a server's own words says. */
    private void own(OwnLinks.Link link) {
        Thing from = own(link.kind(), link.from(), link.at());
        if (link.isUnbounded()) {
            map.unbounded(from);
        } else if (link.firesOn().isPresent()) {
            for (String event : link.changes()) {
                map.fires(
                        own(OwnLinks.Kind.TABLE, link.firesOn().get(), Optional.empty()),
                        from,
                        way(event));
            }
        } else if (!link.to().isEmpty()) {
            Thing to = own(link.toKind(), link.to(), link.toAt());
            boolean calls = link.toKind() != OwnLinks.Kind.TABLE;
            map.link(
                    from,
                    to,
                    calls ? Way.CALLS : way(link.changes().stream().findFirst().orElse("")),
                    link.column().stream().toList());
        }
    }

    private static Way way(String change) {
        return switch (change) {
            case "insert" -> Way.INSERTS;
            case "update" -> Way.UPDATES;
            case "delete" -> Way.DELETES;
            case "merge" -> Way.MERGES;
            default -> Way.READS;
        };
    }

    private Thing own(OwnLinks.Kind kind, String name, Optional<Span> at) {
        return map.add(
                new Thing(
                        switch (kind) {
                            case PROCEDURE -> Kind.PROCEDURE;
                            case FUNCTION -> Kind.FUNCTION;
                            case TRIGGER -> Kind.TRIGGER;
                            case TABLE -> Kind.TABLE;
                        },
                        name,
                        at));
    }

    /** Scripts call routines by name. */
    private void scripts() throws ProjectException {
        for (Source script : scripts("scripts")) {
            Thing thing = new Thing(Kind.SCRIPT, script.name(), Optional.of(script.span(0, 0)));
            List<SqlWords.Word> words = SqlWords.of(script.written()).all();
            for (int i = 0; i < words.size(); i++) {
                boolean called =
                        i + 1 < words.size() && words.get(i + 1).is("(")
                                || i > 0 && words.get(i - 1).is("CALL");
                String name = words.get(i).text();
                map.called(name).stream()
                        .filter(t -> called && !t.kind().isTable() && t.kind() != Kind.TRIGGER)
                        .forEach(t -> map.link(map.add(thing), t, Way.CALLS, List.of()));
                Way way = change(words, i);
                table(name)
                        .filter(t -> !called || way.isChange())
                        .ifPresent(t -> map.link(map.add(thing), t, way, List.of("*")));
            }
        }
    }

    /** What the word before a table does with it. */
    private static Way change(List<SqlWords.Word> words, int i) {
        if (i == 0) {
            return Way.READS;
        }
        SqlWords.Word before = words.get(i - 1);
        boolean deletes = i > 1 && before.is("FROM") && words.get(i - 2).is("DELETE");
        return before.is("INTO")
                ? Way.INSERTS
                : before.is("UPDATE") ? Way.UPDATES : deletes ? Way.DELETES : Way.READS;
    }

    private void cases() throws ProjectException {
        for (TestCase one : CaseFiles.read(project).cases()) {
            Set<String> routines = new LinkedHashSet<>();
            Set<String> tables = new LinkedHashSet<>();
            for (TestCase.Call call : one.calls()) {
                routines.add(call.routine().toLowerCase(Locale.ROOT));
                call.data().ifPresent(d -> named(d, tables));
            }
            one.data().ifPresent(d -> named(d, tables));
            map.use(new CaseUse(one.file(), one.name(), routines, tables));
        }
    }

    private static void named(YamlNode data, Set<String> tables) {
        if (data instanceof YamlNode.Mapping mapping) {
            mapping.fields().keySet().stream()
                    .filter(k -> !k.equals("others"))
                    .forEach(k -> tables.add(k.toLowerCase(Locale.ROOT)));
        }
    }
}
