package dev.cantina.translate.postgresql;

import dev.cantina.binding.Binder;
import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.Walker;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.database.ServerNames;
import dev.cantina.database.ServerPart;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.TypeSyntax;
import dev.cantina.syntax.Unit;
import dev.cantina.translate.BoundRoutines;
import dev.cantina.translate.Effects;
import dev.cantina.translate.Lines;
import dev.cantina.translate.LongNames;
import dev.cantina.translate.ServerObject;
import dev.cantina.translate.Translation;
import dev.cantina.translate.UnsupportedConstructException;
import dev.cantina.translate.UnsupportedReport;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Translates a project's routines, modules and triggers into PL/pgSQL. */
public final class PostgresTranslation {
    private static final String RULE = "not-on-postgresql";

    private final Catalog catalog;
    private final Binder binder;
    private final BoundRoutines routines;
    private final Effects effects;
    private final Optional<String> run;
    private Optional<String> marks;
    private final UnsupportedReport unsupported;
    private final List<ServerObject> objects = new ArrayList<>();

    /**
     * @param binder for a catalog without errors
     * @param run marks the schemas of what stands for a run alone, and takes its clock from it;
     *     empty for what is to stay
     */
    public PostgresTranslation(Catalog catalog, Binder binder, Optional<String> run) {
        this.catalog = catalog;
        this.binder = binder;
        this.routines = new BoundRoutines(binder);
        this.effects = new Effects(routines);
        this.unsupported = new UnsupportedReport(RULE, catalog, routines);
        this.run = run;
        this.marks = run;
    }

    /**
     * Marks the places of routines and triggers that are to stay.
     *
     * @param key tells the marks
     */
    PostgresTranslation marked(String key) {
        marks = Optional.of(key);
        return this;
    }

    public Translation translate() {
        catalog.modules().forEach(this::module);
        List<RoutineSymbol> symbols = new ArrayList<>(catalog.routines());
        // What is in the server's own language is there already.
        symbols.removeIf(RoutineSymbol::isOnServer);
        symbols.sort(Comparator.comparing(r -> !r.isFunction()));
        Map<RoutineSymbol, ServerObject> made = new java.util.LinkedHashMap<>();
        for (RoutineSymbol routine : symbols) {
            try {
                made.put(routine, routine(routine));
            } catch (UnsupportedConstructException e) {
                unsupported.add(routine, e);
            }
        }
        unsupported.loseCallers(made);
        List<ServerObject> triggers = triggers();
        made.forEach((routine, object) -> objects.add(withCopy(routine, object)));
        objects.addAll(triggers);
        Translation translation =
                new Translation(used(), List.copyOf(objects), unsupported.refused());
        if (run.isEmpty() && marks.isPresent()) {
            // A schema that is called like the user would be the first that names are looked for
            // in.
            return marked(translation, "cantina_support");
        }
        return run.isEmpty() ? translation : marked(translation, "cantina" + run.get());
    }

    /** Functions that do nothing yet, so that what calls them can be looked at. */
    public List<ServerPart> signatures(Collection<RoutineSymbol> wanted) {
        List<ServerPart> parts = new ArrayList<>();
        for (ModuleSymbol module : catalog.modules()) {
            if (wanted.stream().anyMatch(r -> r.module().equals(Optional.of(module)))) {
                String schema = words(Optional.of(module)).schema(module);
                parts.add(
                        new ServerPart(
                                "schema " + schema,
                                "CREATE SCHEMA IF NOT EXISTS " + schema,
                                "DROP SCHEMA IF EXISTS " + schema));
            }
        }
        for (RoutineSymbol routine : wanted) {
            if (!routine.isFunction()) {
                continue;
            }
            try {
                PostgresExpressions words = words(routine.module());
                PostgresSignature signature = new PostgresSignature(routine, words);
                String name = words.callee(routine);
                String create =
                        "CREATE OR REPLACE FUNCTION "
                                + name
                                + " ("
                                + String.join(", ", signature.parameters())
                                + ") RETURNS "
                                + returned(routine, words)
                                + " LANGUAGE plpgsql AS "
                                + TAG
                                + " BEGIN RETURN; END "
                                + TAG;
                boolean rows = routine.returns().get() instanceof SqlType.Table;
                parts.add(
                        routinePart(
                                "FUNCTION",
                                name,
                                signature.types(),
                                tagged(rows ? create : create.replace("RETURN;", "RETURN NULL;"))));
            } catch (UnsupportedConstructException e) {
                // It is refused with its reason when it is translated whole.
                continue;
            }
        }
        return parts;
    }

    /** What Cantina needs itself, in a schema of the run's own. */
    private static Translation marked(Translation translation, String schema) {
        return new Translation(
                translation.support().stream().map(o -> marked(o, schema)).toList(),
                translation.objects().stream().map(o -> marked(o, schema)).toList(),
                translation.refused());
    }

    private static ServerObject marked(ServerObject object, String schema) {
        List<ServerPart> parts = new ArrayList<>();
        for (ServerPart part : object.parts()) {
            parts.add(
                    new ServerPart(
                            marked(part.identity(), schema),
                            marked(part.create(), schema),
                            marked(part.drop(), schema)));
        }
        return new ServerObject(object.kind(), object.name(), object.file(), parts);
    }

    private static String marked(String text, String schema) {
        return text.replaceAll("\\bcantina\\.(?=\\w+ ?\\()", schema + ".")
                .replaceAll("(?i)\\b(schema (?:if (?:not )?exists )?)cantina\\b", "$1" + schema);
    }

    /** Of the functions that translations may call those that these do. */
    private List<ServerObject> used() {
        List<ServerObject> support = PostgresSupport.objects();
        StringBuilder texts = new StringBuilder();
        objects.forEach(o -> texts.append(o.text()));
        List<ServerObject> used = new ArrayList<>();
        for (int i = support.size() - 1; i > 0; i--) {
            // One that calls another stands after it.
            if (texts.indexOf(support.get(i).name() + "(") >= 0) {
                used.add(0, support.get(i));
                texts.append(support.get(i).text());
            }
        }
        if (!used.isEmpty()) {
            used.add(0, support.get(0));
        }
        return used;
    }

    private PostgresExpressions words(Optional<ModuleSymbol> module) {
        return new PostgresExpressions(catalog, module, run, marks);
    }

    // ---------------------------------------------------------------- routines

    /** The copies of procedures that tell what they raise; empty while one is being made. */
    private final Map<RoutineSymbol, Optional<ServerPart>> copies = new java.util.LinkedHashMap<>();

    /** The name of the copy of a procedure that tells what it raises, which is made with it. */
    private String copy(RoutineSymbol routine) {
        PostgresExpressions words = words(routine.module());
        String text = routine.tree().name().text();
        boolean isLong = text.length() > 40;
        String own =
                (isLong ? text.substring(0, 30) + Integer.toHexString(text.hashCode()) : text)
                        + "_telling";
        while (!catalog.routinesCalled(own).isEmpty()) {
            own += "_";
        }
        String name =
                routine.tree().name().delimited()
                        ? words.names().quoted(own)
                        : words.names().of(own);
        String full = routine.module().map(m -> words.schema(m) + ".").orElse("") + name;
        if (!copies.containsKey(routine)) {
            Set<RoutineSymbol> before = new HashSet<>(copies.keySet());
            copies.put(routine, Optional.empty());
            try {
                copies.put(routine, Optional.of(copy(routine, full, name)));
            } catch (UnsupportedConstructException e) {
                // What was made on the way may call this one.
                copies.keySet().retainAll(before);
                throw e;
            }
        }
        return full;
    }

    private ServerPart copy(RoutineSymbol symbol, String name, String bare) {
        PostgresExpressions words = words(symbol.module());
        PostgresSignature signature = PostgresSignature.telling(symbol, words, bare);
        Lines out = lines(symbol.tree().span());
        out.add("-- The same for callers with a handler: tells what it raises, and loses nothing.");
        head(symbol, name, signature, words, out);
        return routinePart("PROCEDURE", name, signature.types(), out.toString());
    }

    private ServerObject withCopy(RoutineSymbol routine, ServerObject object) {
        Optional<ServerPart> copy = copies.getOrDefault(routine, Optional.empty());
        if (copy.isEmpty()) {
            return object;
        }
        List<ServerPart> parts = new ArrayList<>(object.parts());
        parts.add(copy.get());
        return new ServerObject(object.kind(), object.name(), object.file(), parts);
    }

    private ServerObject routine(RoutineSymbol symbol) {
        Unit.Routine tree = symbol.tree();
        if (tree.body().isEmpty()) {
            throw new UnsupportedConstructException(tree.name().span(), "PostgreSQL runs no Java");
        }
        PostgresExpressions words = words(symbol.module());
        PostgresSignature signature = new PostgresSignature(symbol, words);
        Lines out = lines(tree.span());
        out.comments(tree.span().start());
        String name = words.callee(symbol);
        head(symbol, name, signature, words, out);
        String kind = symbol.isFunction() ? "FUNCTION" : "PROCEDURE";
        List<ServerPart> parts = new ArrayList<>();
        parts.add(routinePart(kind, name, signature.types(), out.toString()));
        Set<String> known = new HashSet<>(Set.of(parts.get(0).identity()));
        for (List<Integer> set : signature.leftOut()) {
            ServerPart shorter = shortened(symbol, signature, set, words);
            if (!isOverload(symbol, set.size()) && known.add(shorter.identity())) {
                parts.add(shorter);
            }
        }
        tree.characteristics()
                .comment()
                .ifPresent(
                        text -> {
                            String routine =
                                    kind + parts.get(0).identity().substring(kind.length());
                            String comment = ";\nCOMMENT ON " + routine + " IS '";
                            ServerPart whole = parts.get(0);
                            parts.set(
                                    0,
                                    new ServerPart(
                                            whole.identity(),
                                            whole.create()
                                                    + comment
                                                    + text.replace("'", "''")
                                                    + "'",
                                            whole.drop()));
                        });
        return new ServerObject(
                kind.toLowerCase(Locale.ROOT), symbol.name(), tree.span().source().name(), parts);
    }

    /** Writes a routine, from CREATE to the end of its body. */
    private void head(
            RoutineSymbol symbol,
            String name,
            PostgresSignature signature,
            PostgresExpressions words,
            Lines out) {
        Unit.Routine tree = symbol.tree();
        BoundRoutine bound = routines.of(symbol);
        String kind = symbol.isFunction() ? "FUNCTION" : "PROCEDURE";
        List<String> parameters = signature.parameters();
        String head = "CREATE OR REPLACE " + kind + " " + name + " (";
        if (parameters.isEmpty()) {
            out.add(head + ")");
        } else {
            out.add(head).in();
            for (int i = 0; i < parameters.size(); i++) {
                out.add(parameters.get(i) + (i == parameters.size() - 1 ? "" : ","));
            }
            out.out().add(")");
        }
        if (symbol.returns().isPresent()) {
            out.add("RETURNS " + returned(symbol, words));
        }
        out.add("LANGUAGE plpgsql");
        if (tree.characteristics().nullOnNull()) {
            out.add("STRICT");
        }
        Optional<Unit.Rights> rights = tree.characteristics().rights();
        rights.ifPresent(whose -> out.add("SECURITY " + whose));
        if (rights.equals(Optional.of(Unit.Rights.DEFINER)) && effects.endsTransactions(symbol)) {
            throw new UnsupportedConstructException(
                    tree.name().span(),
                    "PostgreSQL ends no transaction in a routine with SQL SECURITY DEFINER");
        }
        out.pass(tree.span().start(), tree.body().get().span().start());
        body(bound, signature, words, out);
    }

    /** Whether another routine of the name takes so many parameters fewer. */
    private boolean isOverload(RoutineSymbol symbol, int fewer) {
        int parameters = symbol.parameters().size() - fewer;
        return catalog.routines(symbol.key()).stream()
                .anyMatch(r -> r != symbol && r.parameters().size() == parameters);
    }

    /** Stands for what quotes a body till that is chosen. */
    private static final String TAG = "\u0001";

    /** A text whose body is quoted by something that does not stand in it. */
    private static String tagged(String create) {
        String tag = "$body$";
        for (int i = 2; create.contains(tag); i++) {
            tag = "$body_" + i + "$";
        }
        return create.replace(TAG, tag);
    }

    /** The server tells routines apart by the types of what they take. */
    private static ServerPart routinePart(
            String kind, String name, List<String> types, String create) {
        List<String> taken =
                types.stream()
                        .filter(t -> !t.startsWith("OUT "))
                        .map(t -> t.replaceFirst("^INOUT ", ""))
                        .toList();
        return new ServerPart(
                kind.toLowerCase(Locale.ROOT) + " " + name + "(" + String.join(", ", taken) + ")",
                tagged(create.stripTrailing()),
                "DROP " + kind + " IF EXISTS " + name + "(" + String.join(", ", types) + ")");
    }

    /** The same procedure without some of its parameters, which passes their defaults on. */
    private ServerPart shortened(
            RoutineSymbol symbol,
            PostgresSignature signature,
            List<Integer> without,
            PostgresExpressions words) {
        String name = words.callee(symbol);
        List<String> parameters = new ArrayList<>();
        List<String> types = new ArrayList<>();
        List<String> passed = new ArrayList<>();
        for (int i = 0; i < signature.parameters().size(); i++) {
            if (without.contains(i)) {
                var parameter = symbol.parameters().get(i);
                passed.add(words.typed(binder.initial(parameter).expression(), parameter.type()));
            } else {
                String parameter = signature.parameters().get(i);
                parameters.add(parameter);
                types.add(signature.types().get(i));
                String bare = parameter.replaceFirst("^(INOUT|OUT) ", "");
                passed.add(bare.substring(0, bare.indexOf(' ')));
            }
        }
        String create =
                "-- The same with what is left out given.\nCREATE OR REPLACE PROCEDURE "
                        + name
                        + " ("
                        + String.join(", ", parameters)
                        + ")\nLANGUAGE plpgsql\nAS "
                        + TAG
                        + "\nBEGIN\n  CALL "
                        + name
                        + "("
                        + String.join(", ", passed)
                        + ");\nEND\n"
                        + TAG;
        return routinePart("PROCEDURE", name, types, create);
    }

    private void body(
            BoundRoutine bound, PostgresSignature signature, PostgresExpressions words, Lines out) {
        out.add("AS " + TAG).add("#variable_conflict use_column");
        PostgresBody body = new PostgresBody(bound, signature, words, effects, this::copy, out);
        (signature.tells() ? body.telling() : body).write();
        out.add(TAG);
    }

    private static String returned(RoutineSymbol routine, PostgresExpressions words) {
        SqlType type = routine.returns().orElseThrow();
        Span span = routine.span();
        boolean named =
                type instanceof SqlType.Row
                        && routine.tree().returns().orElseThrow() instanceof TypeSyntax.Like;
        if (named) {
            // The row of a table has the table's name for its type.
            TypeSyntax.Like like = (TypeSyntax.Like) routine.tree().returns().get();
            return words.names().of(like.table());
        }
        if (type instanceof SqlType.Table table) {
            List<String> columns = new ArrayList<>();
            table.columns()
                    .forEach(
                            c ->
                                    columns.add(
                                            words.names().of(c.name())
                                                    + " "
                                                    + PostgresTypes.bare(c.type(), span)));
            return "TABLE (" + String.join(", ", columns) + ")";
        }
        return PostgresTypes.bare(type, span);
    }

    /** The text of a unit with the comments right above it. */
    private static Lines lines(Span unit) {
        Span whole = UnsupportedReport.withComments(unit);
        return new Lines(whole.source(), whole.start(), whole.end());
    }

    // ---------------------------------------------------------------- triggers

    private List<ServerObject> triggers() {
        List<ServerObject> made = new ArrayList<>();
        Map<String, List<TriggerSymbol>> together = new java.util.LinkedHashMap<>();
        for (TriggerSymbol trigger : catalog.triggers()) {
            Unit.Trigger tree = trigger.tree();
            String key =
                    trigger.table().key() + " " + tree.timing() + tree.event() + tree.eachRow();
            together.computeIfAbsent(key, k -> new ArrayList<>()).add(trigger);
        }
        for (List<TriggerSymbol> group : together.values()) {
            List<TriggerSymbol> byName = new ArrayList<>(group);
            byName.sort(Comparator.comparing(t -> t.tree().name().key()));
            boolean ordered = byName.equals(group);
            for (int i = 0; i < group.size(); i++) {
                TriggerSymbol trigger = group.get(i);
                try {
                    Optional<UnsupportedConstructException> missing =
                            unsupported.missing(routines.of(trigger), Optional.empty());
                    if (missing.isPresent()) {
                        throw missing.get();
                    }
                    String prefix = ordered ? "" : String.format("t%02d_", i + 1);
                    made.add(trigger(trigger, prefix));
                } catch (UnsupportedConstructException e) {
                    unsupported.refuse(e);
                }
            }
        }
        return made;
    }

    private ServerObject trigger(TriggerSymbol symbol, String prefix) {
        Unit.Trigger tree = symbol.tree();
        PostgresExpressions words = words(Optional.empty());
        ServerNames names = words.names();
        BoundRoutine bound = routines.of(symbol);
        boolean tables = tree.oldTable().isPresent() || tree.newTable().isPresent();
        if (tables && !tree.columns().isEmpty()) {
            throw new UnsupportedConstructException(
                    tree.name().span(), "a trigger UPDATE OF can't see transition tables there");
        }
        String name = names.of(tree.name());
        LongNames.onPostgres("t00_" + tree.name().text() + "_trigger", tree.name().span());
        String function =
                tree.name().delimited()
                        ? names.quoted(tree.name().text() + "_trigger")
                        : names.of(tree.name().text() + "_trigger");
        String table = names.of(tree.table());
        String row =
                !tree.eachRow() || tree.timing() == Unit.Timing.AFTER
                        ? "NULL"
                        : tree.event() == Unit.Event.DELETE ? "OLD" : "NEW";
        Lines out = lines(tree.span());
        out.comments(tree.span().start());
        out.add("CREATE OR REPLACE FUNCTION " + function + " ()");
        out.add("RETURNS trigger").add("LANGUAGE plpgsql");
        out.pass(tree.span().start(), tree.body().span().start());
        PostgresSignature signature = new PostgresSignature(name, row);
        boolean inside = bound.condition().filter(PostgresTranslation::asks).isPresent();
        if (inside) {
            throw new UnsupportedConstructException(
                    bound.condition().get().span(), "a query in WHEN");
        }
        body(bound, signature, words, out);
        StringBuilder create = new StringBuilder();
        String shown = prefix.isEmpty() ? name : names.of(prefix + tree.name().text());
        create.append("CREATE OR REPLACE TRIGGER ").append(shown).append('\n');
        create.append("  ").append(tree.timing().name().replace('_', ' ')).append(' ');
        create.append(tree.event());
        if (!tree.columns().isEmpty()) {
            List<String> columns = tree.columns().stream().map(names::of).toList();
            create.append(" OF ").append(String.join(", ", columns));
        }
        create.append(" ON ").append(table).append('\n');
        if (tables) {
            create.append("  REFERENCING");
            tree.oldTable().ifPresent(n -> create.append(" OLD TABLE AS ").append(names.of(n)));
            tree.newTable().ifPresent(n -> create.append(" NEW TABLE AS ").append(names.of(n)));
            create.append('\n');
        }
        create.append("  FOR EACH ").append(tree.eachRow() ? "ROW" : "STATEMENT");
        bound.condition()
                .ifPresent(e -> create.append("\n  WHEN (").append(words.of(e)).append(")"));
        create.append("\n  EXECUTE FUNCTION ").append(function).append("()");
        return new ServerObject(
                "trigger",
                symbol.name(),
                tree.span().source().name(),
                List.of(
                        routinePart("FUNCTION", function, List.of(), out.toString()),
                        new ServerPart(
                                "trigger " + shown + " on " + table,
                                create.toString(),
                                "DROP TRIGGER IF EXISTS " + shown + " ON " + table)));
    }

    private static boolean asks(BoundExpression condition) {
        boolean[] found = {false};
        Walker.expressions(
                condition, e -> found[0] |= e instanceof BoundExpression.DatabaseExpression);
        return found[0];
    }

    // ---------------------------------------------------------------- modules

    private void module(ModuleSymbol module) {
        PostgresExpressions words = words(Optional.of(module));
        String schema = words.schema(module);
        String file = module.tree().span().source().name();
        objects.add(
                new ServerObject(
                        "module",
                        module.name(),
                        file,
                        List.of(
                                new ServerPart(
                                        "schema " + schema,
                                        PostgresSupport.open(schema),
                                        "DROP SCHEMA IF EXISTS " + schema))));
        for (int i = 0; i < module.variables().size(); i++) {
            ModuleSymbol.Shared variable = module.variables().get(i);
            try {
                objects.add(variable(module, i, words, file));
            } catch (UnsupportedConstructException e) {
                unsupported.refuse(
                        new UnsupportedConstructException(variable.name().span(), e.getMessage()));
            }
        }
    }

    /** A function that gives a module's variable, which a setting of the session holds. */
    private ServerObject variable(
            ModuleSymbol module, int index, PostgresExpressions words, String file) {
        ModuleSymbol.Shared variable = module.variables().get(index);
        Span span = variable.name().span();
        String type = PostgresTypes.of(variable.type(), span);
        String initial =
                variable.initial()
                        .map(e -> words.of(binder.initial(module, index).expression()))
                        .orElse("NULL");
        String name = words.schema(module) + "." + words.names().of(variable.name());
        String setting =
                "current_setting('" + PostgresExpressions.setting(module, index) + "', TRUE)";
        String value =
                variable.constant()
                        ? "CAST(" + initial + " AS " + type + ")"
                        : "CASE left("
                                + setting
                                + ", 1)\n"
                                + "    WHEN '=' THEN CAST(substr("
                                + setting
                                + ", 2) AS "
                                + type
                                + ")\n"
                                + "    WHEN '-' THEN NULL\n"
                                + "    ELSE CAST("
                                + initial
                                + " AS "
                                + type
                                + ")\n  END";
        String create =
                "CREATE OR REPLACE FUNCTION "
                        + name
                        + " ()\nRETURNS "
                        + PostgresTypes.bare(variable.type(), span)
                        + "\nLANGUAGE plpgsql\nAS "
                        + TAG
                        + "\nBEGIN\n  RETURN "
                        + value
                        + ";\nEND\n"
                        + TAG;
        return new ServerObject(
                variable.constant() ? "constant" : "variable",
                module.name() + "." + variable.name(),
                file,
                List.of(routinePart("FUNCTION", name, List.of(), create)));
    }
}
