package dev.cantina.editing;

import dev.cantina.editing.OwnView.OwnTable;
import dev.cantina.nativecode.NativeStatement;
import dev.cantina.nativecode.NativeStatement.Part;
import dev.cantina.nativecode.NativeToken;
import dev.cantina.nativecode.NativeVariable;
import dev.cantina.nativecode.OwnText;
import dev.cantina.nativecode.OwnText.Column;
import dev.cantina.nativecode.OwnText.Kind;
import dev.cantina.nativecode.OwnText.Parameter;
import dev.cantina.nativecode.OwnText.Unit;
import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * What names mean in a text in a server's own words, as far as texts say it. Where it can't be
 * told, or more than one thing may be meant, nothing is said.
 */
final class OwnNames {
    /** What a name can be. */
    enum What {
        VARIABLE,
        PARAMETER,
        TABLE,
        COLUMN,
        ROUTINE,
        TRIGGER,
        LABEL
    }

    /**
     * What a name means.
     *
     * @param declared where that is; more than one place of routines that share a name
     */
    record Meaning(What what, String name, List<Span> declared, Described described) {
        boolean isSameAs(Meaning other) {
            return what == other.what
                    && declared.size() == other.declared.size()
                    && !declared.isEmpty()
                    && same(declared.get(0), other.declared.get(0));
        }
    }

    /**
     * A name in a text.
     *
     * @param change the word of the statement that changes what is named; empty for all other uses
     */
    record Use(Span span, Meaning meaning, boolean declares, String change) {
        Use(Span span, Meaning meaning, boolean declares) {
            this(span, meaning, declares, "");
        }
    }

    /** Words behind END before the label that it repeats. */
    private static final Set<String> ENDED = Set.of("loop", "while", "repeat", "for");

    private final OwnView view;
    private final OwnText text;
    private final OwnScopes scopes;
    private final Map<String, OwnTable> tables;
    private final Map<String, List<Unit>> units;
    private final boolean variablesWin;

    OwnNames(OwnView view, OwnText text) {
        this.view = view;
        this.text = text;
        this.scopes = new OwnScopes(text, view.reading());
        this.tables = view.tables();
        this.units = view.units();
        this.variablesWin = view.reading().variablesWin();
    }

    static boolean same(Span one, Span other) {
        return one.start() == other.start() && one.source().name().equals(other.source().name());
    }

    Map<String, OwnTable> tables() {
        return tables;
    }

    Map<String, List<Unit>> units() {
        return units;
    }

    /** All names of the text whose meaning is known, in their order. */
    List<Use> all() {
        List<Use> uses = new ArrayList<>();
        List<? extends NativeToken> tokens = text.tokens();
        int from = 0;
        while (from < tokens.size()) {
            int to = stretchEnd(from);
            stretch(from, to, uses);
            from = to;
        }
        return uses;
    }

    /** The name at an offset. */
    Optional<Use> at(int offset) {
        List<? extends NativeToken> tokens = text.tokens();
        int from = Math.max(0, scopes.first(offset) - 1);
        while (from > 0 && !ends(from - 1)) {
            from--;
        }
        List<Use> uses = new ArrayList<>();
        int at = from;
        while (at < tokens.size() && tokens.get(at).start() <= offset) {
            int to = stretchEnd(at);
            stretch(at, to, uses);
            at = to;
        }
        Use found = null;
        for (Use use : uses) {
            if (use.span().start() <= offset && offset <= use.span().end()) {
                found = use;
                if (offset < use.span().end()) {
                    break;
                }
            }
        }
        return Optional.ofNullable(found);
    }

    // ------------------------------------------------------------------ stretches

    /** Whether a token is the last of a stretch in which names see the same tables. */
    private boolean ends(int i) {
        NativeToken token = text.tokens().get(i);
        if (token.is(";")) {
            return true;
        }
        int end = token.end();
        return boundaries().contains(end);
    }

    private Set<Integer> boundaries;

    /** Where statements begin and heads end, as the bodies that could be read say it. */
    private Set<Integer> boundaries() {
        if (boundaries == null) {
            boundaries = new HashSet<>();
            for (Unit unit : text.units()) {
                unit.block().ifPresent(this::bounds);
                unit.body().ifPresent(b -> edge(b.start()));
                if (unit.of().isEmpty()) {
                    boundaries.add(unit.whole().end());
                    edge(unit.whole().start());
                }
            }
            text.tables().forEach(t -> edge(t.whole().start()));
        }
        return boundaries;
    }

    /** What stands right before an offset is the last of its stretch. */
    private void edge(int offset) {
        int next = scopes.first(offset);
        if (next > 0) {
            boundaries.add(text.tokens().get(next - 1).end());
        }
    }

    private void bounds(NativeStatement statement) {
        edge(statement.begins());
        for (Part part : statement.parts()) {
            boundaries.add(part.head().end());
            part.statements().forEach(this::bounds);
        }
    }

    private int stretchEnd(int from) {
        int at = from;
        while (at < text.tokens().size() && !ends(at)) {
            at++;
        }
        return Math.min(at + 1, text.tokens().size());
    }

    private void stretch(int from, int to, List<Use> uses) {
        List<? extends NativeToken> tokens = text.tokens().subList(from, to);
        OwnRelations relations =
                new OwnRelations(
                        tokens, view.reading().reserved(), k -> Optional.ofNullable(tables.get(k)));
        Optional<Unit> unit = OwnView.unit(text, tokens.get(0).start());
        for (int i = 0; i < tokens.size(); i++) {
            NativeToken token = tokens.get(i);
            if (!token.isName()) {
                continue;
            }
            Span span = text.source().span(token.start(), token.end());
            int at = i;
            Optional<Use> use =
                    declared(span)
                            .or(
                                    () ->
                                            meaning(tokens, at, span, unit, relations)
                                                    .map(
                                                            m ->
                                                                    new Use(
                                                                            span,
                                                                            m,
                                                                            false,
                                                                            relations.change(at))));
            use.ifPresent(uses::add);
        }
    }

    // ------------------------------------------------------------------ what is declared

    private Map<Integer, Use> made;

    /** A name where it is made. */
    private Optional<Use> declared(Span span) {
        if (made == null) {
            made = new HashMap<>();
            for (Unit unit : text.units()) {
                make(unit.at(), routine(family(unit), unit));
                for (Parameter parameter : unit.parameters()) {
                    if (!parameter.name().isEmpty()) {
                        make(parameter.span(), parameter(unit, parameter));
                    }
                }
            }
            for (OwnText.Table table : text.tables()) {
                OwnTable whole = tables.get(OwnView.key(table.name()));
                Use use = new Use(table.at(), table(whole), same(whole.at(), table.at()));
                made.put(table.at().start(), use);
                table.columns().forEach(c -> make(c.span(), column(whole, c)));
            }
        }
        return Optional.ofNullable(made.get(span.start()));
    }

    private void make(Span span, Meaning meaning) {
        made.put(span.start(), new Use(span, meaning, true));
    }

    private List<Unit> family(Unit unit) {
        return units.getOrDefault(OwnView.key(unit), List.of(unit));
    }

    static Described described(Unit unit) {
        String words = unit.kind().name() + " ";
        boolean spaced = unit.kind() == Kind.TRIGGER || unit.kind() == Kind.PACKAGE;
        return new Described(
                (words
                                + unit.of().map(o -> o + ".").orElse("")
                                + unit.name()
                                + (spaced || unit.head().startsWith("RETURNS") ? " " : "")
                                + unit.head())
                        .strip(),
                Described.commentAbove(unit.whole()));
    }

    private Meaning routine(List<Unit> family, Unit shown) {
        Described one = described(shown);
        String more =
                family.size() > 1
                        ? (one.text().isEmpty() ? "" : one.text() + "\n")
                                + family.size()
                                + " routines share this name"
                        : one.text();
        return new Meaning(
                shown.kind() == Kind.TRIGGER ? What.TRIGGER : What.ROUTINE,
                shown.name(),
                family.stream().map(Unit::at).toList(),
                new Described(one.code(), more));
    }

    private static Meaning parameter(Unit unit, Parameter parameter) {
        return new Meaning(
                What.PARAMETER,
                parameter.name(),
                List.of(parameter.span()),
                new Described(
                        parameter.mode() + " " + parameter.name() + " " + parameter.type(),
                        "a parameter of " + unit.name()));
    }

    private Meaning table(OwnTable table) {
        StringBuilder code = new StringBuilder("TABLE " + table.name());
        String sign = " (\n  ";
        for (Column column : table.columns()) {
            code.append(sign).append((column.name() + " " + column.type()).strip());
            sign = ",\n  ";
        }
        if (!table.columns().isEmpty()) {
            code.append("\n)");
        }
        List<String> fired =
                units.values().stream()
                        .flatMap(List::stream)
                        .filter(u -> u.kind() == Kind.TRIGGER)
                        .filter(
                                u ->
                                        u.table()
                                                .map(OwnView::key)
                                                .equals(Optional.of(OwnView.key(table.name()))))
                        .map(Unit::name)
                        .toList();
        return new Meaning(
                What.TABLE,
                table.name(),
                List.of(table.at()),
                new Described(
                        code.toString(),
                        fired.isEmpty() ? "" : "fires " + String.join(", ", fired)));
    }

    Optional<Meaning> table(String key) {
        return Optional.ofNullable(tables.get(key)).map(this::table);
    }

    private static Meaning column(OwnTable table, Column column) {
        return new Meaning(
                What.COLUMN,
                column.name(),
                List.of(column.span()),
                new Described(
                        (column.name() + " " + column.type()).strip(),
                        "a column of " + table.name()));
    }

    private Meaning variable(NativeVariable variable) {
        boolean special = variable.kind() == NativeVariable.Kind.SPECIAL;
        boolean row = variable.kind() == NativeVariable.Kind.ROW;
        String what =
                switch (variable.kind()) {
                    case CONSTANT -> "a constant";
                    case CURSOR -> "a cursor";
                    case LOOP -> "of a FOR loop";
                    case ROW -> "the row of the trigger";
                    case SPECIAL -> "of the language";
                    default -> "a variable";
                };
        return new Meaning(
                What.VARIABLE,
                variable.name(),
                special || row ? List.of() : List.of(nameIn(variable)),
                new Described(variable.name() + " " + variable.type(), what));
    }

    /** A declaration's span may hold more than the name. */
    private Span nameIn(NativeVariable variable) {
        String key = OwnView.key(variable.name());
        for (NativeToken token : scopes.within(variable.span())) {
            if (token.isName() && OwnView.key(token).equals(key)) {
                return text.source().span(token.start(), token.end());
            }
        }
        return variable.span();
    }

    Described describe(Unit unit, Object known) {
        return meaning(unit, known).described();
    }

    private Meaning meaning(Unit unit, Object known) {
        return known instanceof Parameter parameter
                ? parameter(unit, parameter)
                : variable((NativeVariable) known);
    }

    /** The variables and parameters that are known at an offset, the nearest of each name. */
    Map<String, Object> scope(Unit unit, int offset) {
        return scopes.scope(unit, offset);
    }

    // ------------------------------------------------------------------ what a name means

    private Optional<Meaning> meaning(
            List<? extends NativeToken> tokens,
            int i,
            Span span,
            Optional<Unit> unit,
            OwnRelations relations) {
        NativeToken token = tokens.get(i);
        String key = OwnView.key(token);
        boolean reserved = token.isWord() && view.reading().reserved().contains(token.text());
        if (is(tokens, i - 1, ".") && i > 1) {
            return qualified(tokens, i, key, unit, relations);
        }
        OwnRelations.Place place = relations.place(i);
        if (place == OwnRelations.Place.TABLE) {
            return table(key);
        }
        boolean inBody =
                unit.flatMap(Unit::body)
                        .filter(b -> b.start() <= span.start() && span.end() <= b.end())
                        .isPresent();
        if (reserved || place == OwnRelations.Place.NEW_NAME && !declares(tokens, i)) {
            return Optional.empty();
        }
        if (place == OwnRelations.Place.TARGET) {
            return relations.target(i).flatMap(t -> t.column(key).map(c -> column(t, c)));
        }
        if (!inBody) {
            return outside(tokens, i, key, unit)
                    .or(
                            () ->
                                    relations
                                            .owner(i, key)
                                            .flatMap(t -> t.column(key).map(c -> column(t, c))));
        }
        if (is(tokens, i + 1, "=>") || is(tokens, i + 1, ":=") && inCall(tokens, i)) {
            return argument(tokens, i, key);
        }
        if (isJump(tokens, i)) {
            return label(unit.get(), key);
        }
        Map<String, Object> scope = scopes.scope(unit.get(), span.start());
        boolean call = is(tokens, i + 1, "(");
        if (call || is(tokens, i - 1, "call")) {
            Optional<Meaning> routine = routine(key);
            if (routine.isPresent() || !scope.containsKey(key)) {
                return routine;
            }
        }
        if (is(tokens, i + 1, ".")) {
            Optional<OwnRelations.Relation> relation = relations.known(i, key);
            if (relation.isPresent()) {
                return relation.get()
                        .table()
                        .filter(t -> OwnView.key(t.name()).equals(key))
                        .map(this::table);
            }
            if (!scope.containsKey(key)) {
                return Optional.ofNullable(tables.get(key))
                        .map(this::table)
                        .or(() -> routine(key))
                        .or(() -> label(unit.get(), key));
            }
        }
        Optional<OwnTable> owner = relations.owner(i, key);
        if (scope.containsKey(key)) {
            boolean both = owner.isPresent() && !variablesWin && !is(tokens, i + 1, ".");
            return both ? Optional.empty() : Optional.of(meaning(unit.get(), scope.get(key)));
        }
        return owner.flatMap(t -> t.column(key).map(c -> column(t, c)))
                .or(() -> isType(tokens, span) ? table(key) : Optional.empty());
    }

    /** A name of a table may stand in the place of a type. */
    private static boolean isType(List<? extends NativeToken> tokens, Span span) {
        for (int i = 0; i < tokens.size(); i++) {
            if (tokens.get(i).start() == span.start()) {
                return is(tokens, i + 1, "%")
                        || is(tokens, i - 1, "of")
                        || is(tokens, i - 1, "::")
                        || i == 1 && is(tokens, 2, ";")
                        || i == 2 && is(tokens, 0, "declare") && is(tokens, 3, ";");
            }
        }
        return false;
    }

    private static boolean declares(List<? extends NativeToken> tokens, int i) {
        return is(tokens, i + 1, ".");
    }

    private static boolean is(List<? extends NativeToken> tokens, int i, String word) {
        return i >= 0 && i < tokens.size() && tokens.get(i).is(word);
    }

    Optional<Meaning> routine(String key) {
        List<Unit> found = units.getOrDefault(key, List.of());
        return found.isEmpty() ? Optional.empty() : Optional.of(routine(found, found.get(0)));
    }

    /** In a head, or in a statement that is in no routine. */
    private Optional<Meaning> outside(
            List<? extends NativeToken> tokens, int i, String key, Optional<Unit> unit) {
        boolean table =
                is(tokens, i - 1, "table")
                        || is(tokens, i - 1, "references")
                        || is(tokens, i - 1, "on")
                        || is(tokens, i - 1, "setof")
                        || is(tokens, i - 1, "view");
        if (table && tables.containsKey(key)) {
            return Optional.of(table(tables.get(key)));
        }
        if (is(tokens, i + 1, "(")
                || is(tokens, i - 1, "function")
                || is(tokens, i - 1, "procedure")) {
            return routine(key);
        }
        // Columns of the table that a constraint or an index speaks of.
        Optional<OwnTable> of = spokenOf(tokens, i);
        if (of.isPresent()) {
            return of.get().column(key).map(c -> column(of.get(), c));
        }
        return unit.isPresent()
                        && isType(
                                tokens,
                                text.source().span(tokens.get(i).start(), tokens.get(i).end()))
                ? table(key)
                : Optional.empty();
    }

    /** The table whose columns stand between the brackets around a token. */
    private Optional<OwnTable> spokenOf(List<? extends NativeToken> tokens, int i) {
        int depth = 0;
        int open = i;
        while (open >= 0) {
            depth += is(tokens, open, ")") ? 1 : is(tokens, open, "(") ? -1 : 0;
            if (depth < 0) {
                break;
            }
            open--;
        }
        if (open < 1) {
            return Optional.empty();
        }
        for (int back = open - 1; back >= 1 && back > open - 4; back--) {
            if (is(tokens, back - 1, "references") || is(tokens, back - 1, "on")) {
                return Optional.ofNullable(tables.get(OwnView.key(tokens.get(back))));
            }
            boolean own =
                    is(tokens, back, "key")
                            || is(tokens, back, "unique")
                            || is(tokens, back, "check")
                            || is(tokens, back, "index");
            if (own) {
                Span place = text.source().span(tokens.get(i).start(), tokens.get(i).end());
                return text.tables().stream()
                        .filter(
                                t ->
                                        t.whole().start() <= place.start()
                                                && place.end() <= t.whole().end())
                        .findFirst()
                        .map(t -> tables.get(OwnView.key(t.name())));
            }
        }
        return Optional.empty();
    }

    private Optional<Meaning> qualified(
            List<? extends NativeToken> tokens,
            int i,
            String key,
            Optional<Unit> unit,
            OwnRelations relations) {
        String of = OwnView.key(tokens.get(i - 2));
        if (is(tokens, i + 1, "(") || is(tokens, i - 3, "call")) {
            return routine(of + "." + key).or(() -> routine(key));
        }
        if (relations.place(i) == OwnRelations.Place.TABLE) {
            return table(key);
        }
        if (is(tokens, i - 3, ".")) {
            // SCHEMA.TABLE.COLUMN.
            return Optional.ofNullable(tables.get(of))
                    .flatMap(t -> t.column(key).map(c -> column(t, c)));
        }
        Optional<OwnRelations.Relation> relation = relations.known(i, of);
        if (relation.isPresent()) {
            return relation.get().table().flatMap(t -> t.column(key).map(c -> column(t, c)));
        }
        if (of.equals("excluded")) {
            Optional<OwnTable> target = relations.target(i);
            if (target.isPresent()) {
                return target.get().column(key).map(c -> column(target.get(), c));
            }
        }
        if (unit.isPresent()) {
            Object known = scopes.scope(unit.get(), tokens.get(i).start()).get(of);
            if (known != null) {
                return rowOf(unit.get(), known).flatMap(t -> t.column(key).map(c -> column(t, c)));
            }
            if (OwnView.key(unit.get().name()).equals(of)) {
                return unit.get().parameters().stream()
                        .filter(p -> OwnView.key(p.name()).equals(key))
                        .findFirst()
                        .map(p -> parameter(unit.get(), p));
            }
            Optional<NativeStatement> labelled =
                    unit.get().block().flatMap(b -> scopes.labelled(b, of, tokens.get(i).start()));
            if (labelled.isPresent()) {
                return labelled.get().declared().stream()
                        .filter(v -> OwnView.key(v.name()).equals(key))
                        .findFirst()
                        .map(this::variable);
            }
        }
        Optional<Meaning> column =
                Optional.ofNullable(tables.get(of))
                        .flatMap(t -> t.column(key).map(c -> column(t, c)));
        boolean table = column.isEmpty() && (is(tokens, i - 3, "table") || is(tokens, i - 3, "on"));
        return table ? table(key) : column;
    }

    /** The table that a variable holds a row of, where its declaration says so. */
    Optional<OwnTable> rowOf(Unit unit, Object known) {
        String type =
                known instanceof Parameter parameter
                        ? parameter.type()
                        : ((NativeVariable) known).type();
        if (known instanceof NativeVariable variable
                && variable.kind() == NativeVariable.Kind.ROW) {
            List<String> of =
                    unit.table().isPresent()
                            ? List.of(OwnView.key(unit.table().get()))
                            : units.values().stream()
                                    .flatMap(List::stream)
                                    .filter(u -> u.kind() == Kind.TRIGGER)
                                    .filter(
                                            u ->
                                                    u.calls()
                                                            .map(OwnView::key)
                                                            .equals(
                                                                    Optional.of(
                                                                            OwnView.key(
                                                                                    unit.name()))))
                                    .flatMap(u -> u.table().stream())
                                    .map(OwnView::key)
                                    .distinct()
                                    .toList();
            return of.size() == 1 ? Optional.ofNullable(tables.get(of.get(0))) : Optional.empty();
        }
        String named = type.strip().toLowerCase(Locale.ROOT);
        if (named.endsWith("%rowtype")) {
            named = named.substring(0, named.length() - "%rowtype".length()).strip();
        } else if (named.startsWith("row type of ")) {
            named = named.substring("row type of ".length()).strip();
        }
        return Optional.ofNullable(
                tables.get(OwnView.key(named.substring(named.lastIndexOf('.') + 1))));
    }

    /** Whether a name stands between the brackets of a call. */
    private static boolean inCall(List<? extends NativeToken> tokens, int i) {
        return is(tokens, i - 1, "(") && i > 1 || is(tokens, i - 1, ",");
    }

    /** A parameter that an argument names. */
    private Optional<Meaning> argument(List<? extends NativeToken> tokens, int i, String key) {
        int depth = 0;
        for (int open = i - 1; open > 0; open--) {
            depth += is(tokens, open, ")") ? 1 : is(tokens, open, "(") ? -1 : 0;
            if (depth < 0) {
                List<Meaning> found = new ArrayList<>();
                for (Unit of : units.getOrDefault(OwnView.key(tokens.get(open - 1)), List.of())) {
                    of.parameters().stream()
                            .filter(p -> OwnView.key(p.name()).equals(key))
                            .forEach(p -> found.add(parameter(of, p)));
                }
                return found.size() == 1 ? Optional.of(found.get(0)) : Optional.empty();
            }
        }
        return Optional.empty();
    }

    private static boolean isJump(List<? extends NativeToken> tokens, int i) {
        return is(tokens, i - 1, "leave")
                || is(tokens, i - 1, "iterate")
                || is(tokens, i - 1, "exit")
                || is(tokens, i - 1, "continue")
                || is(tokens, i - 1, "<<")
                || is(tokens, i + 1, ":")
                || is(tokens, i - 1, "end")
                || is(tokens, i - 2, "end") && ENDED.stream().anyMatch(w -> is(tokens, i - 1, w));
    }

    private Optional<Meaning> label(Unit unit, String key) {
        List<? extends NativeToken> tokens = scopes.within(unit.whole());
        Span found = null;
        for (int i = 0; i < tokens.size(); i++) {
            boolean labels = is(tokens, i - 1, "<<") || is(tokens, i + 1, ":");
            if (labels && tokens.get(i).isName() && OwnView.key(tokens.get(i)).equals(key)) {
                if (found != null) {
                    return Optional.empty();
                }
                found = text.source().span(tokens.get(i).start(), tokens.get(i).end());
            }
        }
        return Optional.ofNullable(found)
                .map(
                        s ->
                                new Meaning(
                                        What.LABEL,
                                        key,
                                        List.of(s),
                                        new Described(key, "labels a loop or a block")));
    }
}
