package dev.cantina.translate.mariadb;

import dev.cantina.binding.Binder;
import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundSql;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.Walker;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.database.ServerNames;
import dev.cantina.database.ServerPart;
import dev.cantina.database.mariadb.MariaFunctions;
import dev.cantina.database.mariadb.MariaStatementRewriter;
import dev.cantina.syntax.Expression.Operator;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.Unit;
import dev.cantina.translate.BoundRoutines;
import dev.cantina.translate.Calls;
import dev.cantina.translate.Effects;
import dev.cantina.translate.ServerObject;
import dev.cantina.translate.SourceForm;
import dev.cantina.translate.Translation;
import dev.cantina.translate.UnsupportedConstructException;
import dev.cantina.translate.UnsupportedReport;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;

/**
 * Translates a project's routines, modules and triggers into MariaDB's dialect of SQL/PSM. A module
 * becomes a package.
 */
public final class MariaTranslation {
    public static final String RULE = "not-on-mariadb";
    private static final String INSIDE =
            "-- The same, as functions and triggers call it: it begins no transaction.\n";

    private final Catalog catalog;
    private final Binder binder;
    private final BoundRoutines routines;
    private final Effects effects;
    private final boolean collated;
    private final Map<String, Set<Unit.Event>> cascaded;
    private final UnsupportedReport unsupported;
    private final Map<String, String> called = new HashMap<>();
    private final Map<String, String> casts = new TreeMap<>();

    /** What the procedures are called that stand there once more; see {@link MariaInside}. */
    private final Map<String, String> inside = new HashMap<>();

    /** Those procedures as functions and triggers call them. */
    private final Map<RoutineSymbol, String> again = new HashMap<>();

    /**
     * @param binder for a catalog without errors
     * @param collated whether texts say how they compare, because the database compares them
     *     otherwise
     * @param cascaded what foreign keys do with the rows of which tables
     */
    public MariaTranslation(
            Catalog catalog,
            Binder binder,
            boolean collated,
            Map<String, Set<Unit.Event>> cascaded) {
        this.catalog = catalog;
        this.binder = binder;
        this.routines = new BoundRoutines(binder);
        this.effects = new Effects(routines);
        this.collated = collated;
        this.cascaded = cascaded;
        this.unsupported = new UnsupportedReport(RULE, catalog, routines);
        name();
    }

    private Optional<String> run = Optional.empty();

    /**
     * Marks the places of routines and triggers, for what stands there for one run.
     *
     * @param key tells the marks
     */
    public MariaTranslation marked(String key) {
        run = Optional.of(key);
        return this;
    }

    public Translation translate() {
        // What is in the server's own language is there already.
        Map<RoutineSymbol, String> made =
                texts(catalog.routines().stream().filter(r -> !r.isOnServer()).toList());
        List<ServerObject> objects = new ArrayList<>();
        catalog.modules().forEach(m -> module(m, made).ifPresent(objects::add));
        made.forEach(
                (routine, text) -> {
                    if (routine.module().isEmpty()) {
                        objects.add(object(routine, text));
                    }
                });
        triggers(objects);
        StringBuilder all = new StringBuilder();
        objects.forEach(o -> all.append(o.text()));
        return new Translation(
                MariaSupport.used(all.toString(), casts), objects, unsupported.refused());
    }

    /** Functions that do nothing yet, so that what calls them can be looked at. */
    public List<ServerPart> signatures(Collection<RoutineSymbol> wanted) {
        List<ServerPart> parts = new ArrayList<>();
        Map<ModuleSymbol, StringBuilder> modules = new LinkedHashMap<>();
        for (RoutineSymbol routine : wanted) {
            if (!routine.isFunction() || routine.tree().body().isEmpty()) {
                continue;
            }
            try {
                MariaExpressions words = words(routine.module());
                String head = head(routine, bare(routine), routines.of(routine), words).strip();
                if (routine.module().isPresent()) {
                    modules.computeIfAbsent(routine.module().get(), m -> new StringBuilder())
                            .append(head)
                            .append(routine.isPublic() ? ";\u0000" : ";\u0001");
                } else {
                    parts.add(
                            new ServerPart(
                                    "function " + bare(routine),
                                    "CREATE OR REPLACE " + head + " RETURN NULL",
                                    "DROP FUNCTION IF EXISTS " + bare(routine)));
                }
            } catch (UnsupportedConstructException e) {
                // It is refused with its reason when it is translated whole.
                continue;
            }
        }
        modules.forEach((module, heads) -> parts.addAll(signatures(module, heads.toString())));
        return parts;
    }

    private static List<ServerPart> signatures(ModuleSymbol module, String heads) {
        String name = ServerNames.mariadb().of(module.tree().name());
        String open = heads.replaceAll("[^\u0000\u0001]*\u0001", "").replace("\u0000", "\n");
        String closed = heads.replaceAll(";[\u0000\u0001]", "\nRETURN NULL;\n");
        return List.of(
                new ServerPart(
                        "package " + name,
                        "CREATE OR REPLACE PACKAGE " + name + "\n" + open + "END",
                        "DROP PACKAGE IF EXISTS " + name),
                new ServerPart(
                        "package body " + name,
                        "CREATE OR REPLACE PACKAGE BODY " + name + "\n" + closed + "END",
                        "DROP PACKAGE BODY IF EXISTS " + name));
    }

    private Map<RoutineSymbol, String> texts(Collection<RoutineSymbol> wanted) {
        List<RoutineSymbol> symbols = new ArrayList<>(wanted);
        symbols.sort(Comparator.comparing(r -> !r.isFunction()));
        Map<RoutineSymbol, String> made = new LinkedHashMap<>();
        for (RoutineSymbol routine : symbols) {
            try {
                made.put(routine, routine(routine));
            } catch (UnsupportedConstructException e) {
                unsupported.add(routine, e);
            }
        }
        unsupported.loseCallers(made);
        return made;
    }

    /** The server tells routines apart by name alone: of several the first keeps it. */
    private void name() {
        Set<String> taken = new HashSet<>();
        for (RoutineSymbol routine : catalog.routines()) {
            String name = routine.tree().name().text();
            if (routine.isOnServer()) {
                // It has its name already.
                taken.add(" " + name.toUpperCase(Locale.ROOT));
                called.put(place(routine), ServerNames.mariadb().beginning(name));
            }
        }
        for (RoutineSymbol routine : catalog.routines()) {
            if (routine.isOnServer()) {
                continue;
            }
            String name = routine.tree().name().text();
            String home = routine.module().map(ModuleSymbol::key).orElse("") + " ";
            StringBuilder own = new StringBuilder(name);
            if (taken.contains(home + name.toUpperCase(Locale.ROOT))) {
                routine.parameters().forEach(p -> own.append('_').append(p.name().text()));
            }
            int times = 1;
            String wish = own.toString();
            while (!taken.add(home + wish.toUpperCase(Locale.ROOT))) {
                wish = own.toString() + "_" + ++times;
            }
            called.put(place(routine), ServerNames.mariadb().beginning(wish));
        }
        for (RoutineSymbol routine : MariaInside.of(catalog, routines, effects)) {
            String home = routine.module().map(ModuleSymbol::key).orElse("") + " ";
            String name = bare(routine).replace("`", "") + "_inside";
            String wish = name;
            for (int i = 2; !taken.add(home + wish.toUpperCase(Locale.ROOT)); i++) {
                wish = name + "_" + i;
            }
            inside.put(place(routine), ServerNames.mariadb().beginning(wish));
        }
    }

    /** What a routine is called by what runs inside a statement. */
    private String fromInside(RoutineSymbol routine) {
        return inside.getOrDefault(place(routine), bare(routine));
    }

    private boolean hasInside(RoutineSymbol routine) {
        return inside.containsKey(place(routine));
    }

    /** The same for every catalog that is made of the same sources. */
    private static String place(RoutineSymbol routine) {
        return routine.span().source().name() + " " + routine.span().start();
    }

    /** What a routine is called on the server, without its module. */
    private String bare(RoutineSymbol routine) {
        return called.get(place(routine));
    }

    /** What a routine is called on the server. */
    public String called(RoutineSymbol routine) {
        String name = bare(routine);
        return routine.module()
                .map(m -> ServerNames.mariadb().of(m.tree().name()) + "." + name)
                .orElse(name);
    }

    public MariaExpressions words(Optional<ModuleSymbol> module) {
        return words(module, false);
    }

    private MariaExpressions words(Optional<ModuleSymbol> module, boolean runsInside) {
        return new MariaExpressions(
                catalog,
                binder,
                module,
                collated,
                runsInside ? this::fromInside : this::bare,
                this::isHidden);
    }

    /** Whether a column in a module's statements has the name of one of its variables. */
    private boolean isHidden(ModuleSymbol.Shared variable) {
        return catalog.routines().stream()
                .filter(r -> r.module().filter(m -> m.variables().contains(variable)).isPresent())
                .filter(r -> r.tree().body().isPresent())
                .anyMatch(
                        r ->
                                MariaNames.columns(routines.of(r))
                                        .contains(variable.name().text().toUpperCase(Locale.ROOT)));
    }

    // ---------------------------------------------------------------- routines

    private ServerObject object(RoutineSymbol symbol, String text) {
        String kind = symbol.tree().kind().word();
        Span span = symbol.tree().span();
        List<ServerPart> parts = new ArrayList<>();
        parts.add(part(kind, bare(symbol), comments(span) + "CREATE OR REPLACE " + text));
        if (hasInside(symbol)) {
            parts.add(
                    part(
                            kind,
                            fromInside(symbol),
                            INSIDE + "CREATE OR REPLACE " + again.get(symbol)));
        }
        return new ServerObject(kind, symbol.name(), span.source().name(), parts);
    }

    private static ServerPart part(String kind, String name, String create) {
        return new ServerPart(
                kind + " " + name,
                create,
                "DROP " + kind.toUpperCase(Locale.ROOT) + " IF EXISTS " + name);
    }

    /** The comments above a unit. */
    private static String comments(Span span) {
        Span whole = UnsupportedReport.withComments(span);
        return whole.source().text().substring(whole.start(), span.start());
    }

    /** A routine without the words CREATE OR REPLACE. */
    private String routine(RoutineSymbol symbol) {
        if (hasInside(symbol)) {
            // What is refused there is refused here.
            again.put(symbol, routine(symbol, true));
        }
        return routine(symbol, symbol.isFunction());
    }

    private String routine(RoutineSymbol symbol, boolean runsInside) {
        Unit.Routine tree = symbol.tree();
        if (tree.body().isEmpty()) {
            throw new UnsupportedConstructException(tree.name().span(), "MariaDB runs no Java");
        }
        BoundRoutine bound = routines.of(symbol);
        if (symbol.isFunction() && isRecursive(symbol)) {
            throw new UnsupportedConstructException(
                    tree.name().span(), "MariaDB's functions can't call themselves");
        }
        MariaExpressions words = words(symbol.module(), runsInside);
        MariaNames names = new MariaNames(bound);
        words.in(names);
        String head = head(symbol, runsInside ? fromInside(symbol) : bare(symbol), bound, words);
        MariaBody body =
                new MariaBody(bound, tree.body().get(), words, effects, runsInside, run, false);
        String text = MariaStatementRewriter.tight(body.text());
        if (tree.characteristics().nullOnNull() && symbol.isFunction()) {
            text = orNull(symbol, bound, words, text, body.indent(tree.body().get().span()));
        }
        casts.putAll(words.casts());
        return head + body.given() + text;
    }

    private boolean isRecursive(RoutineSymbol symbol) {
        Set<RoutineSymbol> seen = new HashSet<>();
        List<RoutineSymbol> open = new ArrayList<>(List.of(symbol));
        while (!open.isEmpty()) {
            RoutineSymbol next = open.remove(open.size() - 1);
            if (next.tree().body().isEmpty()) {
                continue;
            }
            for (Calls.Call call : Calls.of(routines.of(next), catalog, next.module())) {
                if (call.routine() == symbol) {
                    return true;
                }
                if (seen.add(call.routine())) {
                    open.add(call.routine());
                }
            }
        }
        return false;
    }

    private String head(
            RoutineSymbol symbol, String name, BoundRoutine bound, MariaExpressions words) {
        Unit.Routine tree = symbol.tree();
        Optional<SqlType> given = symbol.returns();
        if (given.filter(SqlType.Table.class::isInstance).isPresent()) {
            throw new UnsupportedConstructException(
                    tree.name().span(), "MariaDB's functions give no rows");
        }
        if (given.filter(SqlType.Row.class::isInstance).isPresent()) {
            throw new UnsupportedConstructException(
                    tree.name().span(), "MariaDB's functions give one value, not a row");
        }
        if (symbol.isFunction() && MariaFunctions.has(name)) {
            throw new UnsupportedConstructException(
                    tree.name().span(),
                    "MariaDB has a function "
                            + tree.name()
                            + " of its own, and would call that; rename yours");
        }
        StringBuilder head = new StringBuilder();
        head.append(symbol.isFunction() ? "FUNCTION " : "PROCEDURE ").append(name);
        head.append(signature(symbol, bound, words)).append('\n');
        symbol.returns()
                .ifPresent(
                        type ->
                                head.append("RETURNS ")
                                        .append(words.type(type, tree.span()))
                                        .append('\n'));
        tree.characteristics()
                .deterministic()
                .ifPresent(d -> head.append(d ? "DETERMINISTIC\n" : "NOT DETERMINISTIC\n"));
        tree.characteristics()
                .access()
                .ifPresent(a -> head.append(a.name().replace('_', ' ')).append('\n'));
        tree.characteristics()
                .rights()
                .ifPresent(whose -> head.append("SQL SECURITY ").append(whose).append('\n'));
        tree.characteristics()
                .comment()
                .ifPresent(
                        text ->
                                head.append("COMMENT '")
                                        .append(text.replace("'", "''"))
                                        .append("'\n"));
        return head.toString();
    }

    private static String signature(
            RoutineSymbol symbol, BoundRoutine bound, MariaExpressions words) {
        List<String> parameters = new ArrayList<>();
        for (int i = 0; i < symbol.parameters().size(); i++) {
            ParameterSymbol parameter = symbol.parameters().get(i);
            String mode = symbol.isFunction() ? "" : parameter.mode() + " ";
            parameters.add(
                    mode
                            + words.name(bound.parameters().get(i))
                            + " "
                            + words.type(parameter.type(), parameter.name().span()));
        }
        boolean lines = symbol.tree().span().text().split("\\)", 2)[0].contains("\n");
        return parameters.isEmpty()
                ? " ()"
                : lines
                        ? " (\n  " + String.join(",\n  ", parameters) + "\n)"
                        : " (" + String.join(", ", parameters) + ")";
    }

    /** RETURNS NULL ON NULL INPUT, which the server has no word for. */
    private static String orNull(
            RoutineSymbol symbol,
            BoundRoutine bound,
            MariaExpressions words,
            String text,
            String indent) {
        List<String> tests = new ArrayList<>();
        for (int i = 0; i < symbol.parameters().size(); i++) {
            tests.add(words.name(bound.parameters().get(i)) + " IS NULL");
        }
        if (tests.isEmpty()) {
            return text;
        }
        String test = "IF " + String.join(" OR ", tests) + " THEN RETURN NULL; END IF";
        return MariaBody.block(List.of(test, text), indent);
    }

    // ---------------------------------------------------------------- modules

    private Optional<ServerObject> module(ModuleSymbol module, Map<RoutineSymbol, String> made) {
        List<RoutineSymbol> own =
                made.keySet().stream().filter(r -> r.module().equals(Optional.of(module))).toList();
        String name = ServerNames.mariadb().of(module.tree().name());
        StringBuilder open = new StringBuilder("CREATE OR REPLACE PACKAGE " + name + "\n");
        StringBuilder closed = new StringBuilder();
        closed.append(comments(module.tree().span()));
        closed.append("CREATE OR REPLACE PACKAGE BODY ").append(name).append('\n');
        try {
            MariaExpressions words = words(Optional.of(module));
            StringBuilder getters = new StringBuilder();
            for (int i = 0; i < module.variables().size(); i++) {
                ModuleSymbol.Shared variable = module.variables().get(i);
                String type = words.type(variable.type(), variable.name().span());
                closed.append("  DECLARE ").append(words.shared(variable));
                closed.append(' ').append(type);
                if (variable.initial().isPresent()) {
                    String initial = words.of(binder.initial(module, i).expression());
                    closed.append(" DEFAULT ").append(initial);
                }
                closed.append(";\n");
                if (isSeen(module, i)) {
                    String head = "FUNCTION " + words.getter(variable) + " () RETURNS " + type;
                    open.append("  ").append(head).append(";\n");
                    getters.append("\n  ").append(head).append("\n  RETURN ");
                    getters.append(words.shared(variable)).append(";\n");
                }
            }
            casts.putAll(words.casts());
            closed.append(getters);
        } catch (UnsupportedConstructException e) {
            unsupported.refuse(e);
            own.forEach(made::remove);
            return Optional.empty();
        }
        for (RoutineSymbol routine : own) {
            if (routine.isPublic()) {
                MariaExpressions words = words(routine.module());
                BoundRoutine bound = routines.of(routine);
                words.in(new MariaNames(bound));
                opened(open, head(routine, bare(routine), bound, words));
                if (hasInside(routine)) {
                    opened(open, head(routine, fromInside(routine), bound, words));
                }
            }
            Span whole = UnsupportedReport.withComments(routine.tree().span());
            String above =
                    whole.source()
                            .text()
                            .substring(whole.start(), routine.tree().span().start())
                            .replaceAll("(?i)\\bPRIVATE\\s*$", "");
            closed.append("\n  ").append(above.strip());
            closed.append(above.isBlank() ? "" : "\n  ");
            closed.append(indented(made.get(routine))).append(";\n");
            if (hasInside(routine)) {
                closed.append("\n  ").append(INSIDE).append("  ");
                closed.append(indented(again.get(routine))).append(";\n");
            }
        }
        return Optional.of(
                new ServerObject(
                        "module",
                        module.name(),
                        module.tree().span().source().name(),
                        List.of(
                                new ServerPart(
                                        "package " + name,
                                        open + "END",
                                        "DROP PACKAGE IF EXISTS " + name),
                                new ServerPart(
                                        "package body " + name,
                                        closed + "END",
                                        "DROP PACKAGE BODY IF EXISTS " + name))));
    }

    private static void opened(StringBuilder open, String head) {
        open.append("  ").append(head.strip().replace("\n", "\n  ")).append(";\n");
    }

    /** A routine's head stands one step in, as its body does already. */
    private static String indented(String text) {
        int body = text.indexOf("\n");
        StringBuilder lines = new StringBuilder();
        boolean head = true;
        for (String line : text.split("\n", -1)) {
            boolean shifted = head && !line.startsWith("  ") && lines.length() > 0;
            lines.append(lines.length() == 0 ? "" : "\n").append(shifted ? "  " : "").append(line);
            head &=
                    body >= 0
                            && !line.strip()
                                    .matches("(?is)(\\w+: )?BEGIN\\b.*|RETURN\\b.*|SELECT\\b.*");
        }
        return lines.toString();
    }

    /** Whether a module's variable is read from outside it. */
    private boolean isSeen(ModuleSymbol module, int index) {
        boolean[] seen = {false};
        for (RoutineSymbol routine : catalog.routines()) {
            if (routine.module().equals(Optional.of(module)) || routine.tree().body().isEmpty()) {
                continue;
            }
            Walker.statements(
                    routines.of(routine).body(),
                    s -> Walker.expressions(s, e -> seen[0] |= reads(e, module, index)));
        }
        for (TriggerSymbol trigger : catalog.triggers()) {
            Walker.statements(
                    routines.of(trigger).body(),
                    s -> Walker.expressions(s, e -> seen[0] |= reads(e, module, index)));
        }
        return seen[0];
    }

    private static boolean reads(BoundExpression e, ModuleSymbol module, int index) {
        return e instanceof BoundExpression.ReadShared shared
                && shared.module() == module
                && shared.index() == index;
    }

    // ---------------------------------------------------------------- triggers

    private void triggers(List<ServerObject> objects) {
        Map<String, String> last = new HashMap<>();
        for (TriggerSymbol trigger : catalog.triggers()) {
            try {
                Optional<UnsupportedConstructException> missing =
                        unsupported.missing(routines.of(trigger), Optional.empty());
                if (missing.isPresent()) {
                    throw missing.get();
                }
                Unit.Trigger tree = trigger.tree();
                String key = trigger.table().key() + " " + tree.timing() + tree.event();
                objects.add(trigger(trigger, Optional.ofNullable(last.get(key))));
                last.put(key, ServerNames.mariadb().of(tree.name()));
            } catch (UnsupportedConstructException e) {
                unsupported.refuse(e);
            }
        }
    }

    private ServerObject trigger(TriggerSymbol symbol, Optional<String> follows) {
        Unit.Trigger tree = symbol.tree();
        BoundRoutine bound = routines.of(symbol);
        check(symbol, bound);
        MariaExpressions words = words(Optional.empty(), true);
        words.in(new MariaNames(bound));
        String name = words.names().of(tree.name());
        boolean before = tree.timing() == Unit.Timing.BEFORE;
        MariaBody body = new MariaBody(bound, tree.body(), words, effects, true, run, before);
        String text = MariaStatementRewriter.tight(body.text());
        if (bound.condition().isPresent()) {
            String indent = body.indent(tree.body().span());
            text =
                    "IF "
                            + words.of(bound.condition().get())
                            + " THEN\n"
                            + indent
                            + "  "
                            + MariaBody.shifted(text)
                            + ";\n"
                            + indent
                            + "END IF";
        }
        casts.putAll(words.casts());
        String create =
                comments(tree.span())
                        + "CREATE OR REPLACE TRIGGER "
                        + name
                        + "\n"
                        + tree.timing()
                        + " "
                        + tree.event()
                        + " ON "
                        + words.names().of(symbol.table().name())
                        + "\nFOR EACH ROW"
                        + follows.map(f -> " FOLLOWS " + f).orElse("")
                        + "\n"
                        + body.given()
                        + text;
        return new ServerObject(
                "trigger",
                symbol.name(),
                tree.span().source().name(),
                List.of(
                        new ServerPart(
                                "trigger " + name, create, "DROP TRIGGER IF EXISTS " + name)));
    }

    private void check(TriggerSymbol symbol, BoundRoutine bound) {
        Unit.Trigger tree = symbol.tree();
        Span place = tree.name().span();
        if (tree.timing() == Unit.Timing.INSTEAD_OF) {
            throw new UnsupportedConstructException(place, "MariaDB has no triggers on views");
        }
        if (!tree.eachRow()) {
            throw new UnsupportedConstructException(
                    place, "MariaDB's triggers run for each row alone");
        }
        if (tree.oldTable().isPresent() || tree.newTable().isPresent()) {
            throw new UnsupportedConstructException(
                    place, "MariaDB's triggers see no transition tables");
        }
        if (!tree.columns().isEmpty() && !changes(tree, bound)) {
            throw new UnsupportedConstructException(
                    tree.columns().get(0).span(),
                    "MariaDB does not know which columns an UPDATE sets; with WHEN (old.c <> new.c)"
                            + " it need not");
        }
        if (cascaded.getOrDefault(symbol.table().key(), Set.of()).contains(tree.event())) {
            throw new UnsupportedConstructException(
                    place,
                    "a foreign key changes rows of "
                            + symbol.table().name()
                            + ", which sets off no trigger on MariaDB");
        }
        boolean own =
                tree.timing() == Unit.Timing.AFTER
                        && tables(bound, new HashSet<>()).contains(symbol.table().key());
        if (own || writes(bound, symbol.table().key())) {
            throw new UnsupportedConstructException(
                    place,
                    "the trigger looks at "
                            + symbol.table().name()
                            + " itself, and MariaDB runs it between one row and the next");
        }
    }

    /** Whether a trigger UPDATE OF runs only where one of these columns has another value. */
    private static boolean changes(Unit.Trigger tree, BoundRoutine bound) {
        if (bound.condition().isEmpty()) {
            return false;
        }
        List<BoundExpression> open = new ArrayList<>(List.of(bound.condition().get()));
        while (!open.isEmpty()) {
            BoundExpression e = open.remove(0);
            if (e instanceof BoundExpression.Logical both && both.and()) {
                open.add(both.left());
                open.add(both.right());
            } else if (e instanceof BoundExpression.Compare compare
                    && compare.operator() == Operator.NOT_EQUAL
                    && isColumn(compare.left(), tree)
                    && isColumn(compare.right(), tree)) {
                return true;
            } else if (e instanceof BoundExpression.Distinct distinct
                    && !distinct.negated()
                    && isColumn(distinct.left(), tree)
                    && isColumn(distinct.right(), tree)) {
                return true;
            }
        }
        return false;
    }

    private static boolean isColumn(BoundExpression e, Unit.Trigger tree) {
        return SourceForm.bare(e) instanceof BoundExpression.Field field
                && field.row() instanceof BoundExpression.Read read
                && tree.columns().stream()
                        .anyMatch(
                                c ->
                                        c.key()
                                                .equalsIgnoreCase(
                                                        ((SqlType.Row) read.variable().type())
                                                                .fields()
                                                                .get(field.index())
                                                                .name()));
    }

    /** The tables that a routine's statements name, and those of what it calls. */
    private Set<String> tables(BoundRoutine routine, Set<RoutineSymbol> seen) {
        Set<String> tables = new HashSet<>();
        for (BoundSql sql : MariaNames.statements(routine)) {
            tables.addAll(sql.tables());
        }
        for (Calls.Call call : Calls.of(routine, catalog, Optional.empty())) {
            if (seen.add(call.routine()) && call.routine().tree().body().isPresent()) {
                tables.addAll(tables(routines.of(call.routine()), seen));
            }
        }
        return tables;
    }

    private static boolean writes(BoundRoutine routine, String table) {
        boolean[] found = {false};
        Walker.statements(
                routine.body(),
                s ->
                        found[0] |=
                                s instanceof BoundStatement.Execute execute
                                        && execute.sql().changesRows()
                                        && !execute.sql().scope().tables().isEmpty()
                                        && execute.sql().tables().contains(table)
                                        && execute.sql()
                                                .scope()
                                                .tables()
                                                .get(0)
                                                .names()
                                                .get(0)
                                                .key()
                                                .equals(table));
        return found[0];
    }
}
