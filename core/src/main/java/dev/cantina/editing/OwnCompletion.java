package dev.cantina.editing;

import dev.cantina.editing.Completion.Kind;
import dev.cantina.editing.Completion.Offer;
import dev.cantina.editing.OwnView.OwnTable;
import dev.cantina.nativecode.NativeToken;
import dev.cantina.nativecode.NativeVariable;
import dev.cantina.nativecode.OwnText;
import dev.cantina.nativecode.OwnText.Column;
import dev.cantina.nativecode.OwnText.Parameter;
import dev.cantina.nativecode.OwnText.Unit;
import dev.cantina.syntax.Source;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;

/** What may be typed next at a place of a text in a server's own words. */
final class OwnCompletion {
    private static final Set<String> BEGINS =
            Set.of(";", "begin", "then", "else", "loop", "do", "repeat", "atomic");

    private final OwnView view;
    private final OwnText text;
    private final OwnNames names;
    private final Source now;
    private final List<? extends NativeToken> before;
    private final int begins;
    private final Optional<Unit> unit;
    private final int then;
    private final Map<String, Offer> offers = new LinkedHashMap<>();

    private OwnCompletion(OwnView view, OwnText text, Source now, int offset) {
        this.view = view;
        this.text = text;
        this.names = new OwnNames(view, text);
        this.now = now;
        int start = offset;
        while (start > 0 && isWord(now.written().charAt(start - 1))) {
            start--;
        }
        this.begins = start;
        this.then = CheckedUnit.then(text.source().written(), now.written(), start);
        this.unit = OwnView.unit(text, then);
        int from = unit.map(u -> u.whole().start()).filter(f -> f <= begins).orElse(0);
        boolean same =
                from <= now.written().length()
                        && now.written().startsWith(text.source().written().substring(0, from));
        this.before = view.reading().tokens(now, same ? from : 0, start);
    }

    private static boolean isWord(char c) {
        return Character.isLetterOrDigit(c) || c == '_';
    }

    /**
     * What may stand at an offset of a text.
     *
     * @param now the text as it is, which may be newer than what could be read
     */
    static List<Offer> at(OwnView view, OwnText text, Source now, int offset) {
        if (Completion.isQuiet(now.written(), offset)) {
            return List.of();
        }
        OwnCompletion completion = new OwnCompletion(view, text, now, offset);
        completion.collect();
        return new ArrayList<>(completion.offers.values());
    }

    private boolean ends(String... words) {
        for (int i = 0; i < words.length; i++) {
            int at = before.size() - words.length + i;
            if (at < 0 || !before.get(at).is(words[i])) {
                return false;
            }
        }
        return true;
    }

    private void offer(String name, Kind kind, String detail, String said) {
        offers.putIfAbsent(kind + OwnView.key(name), new Offer(name, kind, detail, said));
    }

    private void collect() {
        if (before.isEmpty()) {
            List.of("CREATE FUNCTION", "CREATE OR REPLACE", "CREATE PROCEDURE", "CREATE TRIGGER")
                    .forEach(w -> offer(w, Kind.KEYWORD, "", ""));
        } else if (ends(".")) {
            qualified();
        } else if (ends("call") || ends("perform")) {
            routines(u -> u.kind() == OwnText.Kind.PROCEDURE || ends("perform"));
        } else if (ends("execute", "function") || ends("execute", "procedure")) {
            routines(u -> u.kind() == OwnText.Kind.FUNCTION);
        } else if (isTablePlace()) {
            tables();
            if (ends("from") || ends("join")) {
                routines(u -> u.kind() == OwnText.Kind.FUNCTION);
            }
        } else if (isTypePlace()) {
            view.reading().types().forEach(t -> offer(t, Kind.TYPE, "", ""));
            tables();
        } else if (BEGINS.contains(before.get(before.size() - 1).text()) && !inCase()) {
            view.reading().statements().forEach(w -> offer(w, Kind.KEYWORD, "", ""));
            variables();
        } else {
            expression();
        }
    }

    /** THEN and ELSE of a CASE inside an expression begin no statement. */
    private boolean inCase() {
        if (!ends("then") && !ends("else")) {
            return false;
        }
        int open = 0;
        for (int i = before.size() - 1; i >= 0 && !before.get(i).is(";"); i--) {
            open += before.get(i).is("case") ? 1 : before.get(i).is("end") ? -1 : 0;
            boolean statement = i == 0 || BEGINS.contains(before.get(i - 1).text());
            if (open > 0 && before.get(i).is("case")) {
                return !statement;
            }
        }
        return false;
    }

    private boolean isTablePlace() {
        boolean into = ends("insert", "into") || ends("replace", "into") || ends("merge", "into");
        boolean update =
                ends("update")
                        && !ends("for", "update")
                        && !ends("do", "update")
                        && !ends("key", "update")
                        && !ends("or", "update")
                        && !ends("after", "update")
                        && !ends("before", "update");
        boolean trigger = ends("on") && before.stream().limit(9).anyMatch(t -> t.is("trigger"));
        return into
                || update
                || trigger
                || ends("from")
                || ends("join")
                || ends("references")
                || ends("table");
    }

    /** Behind a name that is declared, or one of a parameter. */
    private boolean isTypePlace() {
        if (ends("returns") || ends("::") || ends("cast") || ends("setof")) {
            return true;
        }
        int last = before.size() - 1;
        if (last < 1 || !before.get(last).isName()) {
            return false;
        }
        NativeToken ahead = before.get(last - 1);
        boolean inBody = before.stream().anyMatch(t -> t.is("begin"));
        boolean declaring = false;
        for (NativeToken token : before) {
            declaring = token.is("declare") || declaring && !token.is("begin");
        }
        if (ahead.is("declare")) {
            return true;
        }
        if (declaring && ahead.is(";")) {
            return !before.get(last).is("begin");
        }
        boolean head = !inBody && !declaring && before.get(0).is("create");
        return head
                && (ahead.is("(")
                        || ahead.is(",")
                        || ahead.is("in")
                        || ahead.is("out")
                        || ahead.is("inout"))
                && !before.get(last).is("in")
                && !before.get(last).is("out")
                && !before.get(last).is("inout");
    }

    private void tables() {
        names.tables().values().forEach(t -> offer(t.name(), Kind.TABLE, "", ""));
    }

    private void routines(Predicate<Unit> which) {
        for (List<Unit> family : names.units().values()) {
            for (Unit one : family) {
                boolean callable =
                        one.kind() == OwnText.Kind.FUNCTION || one.kind() == OwnText.Kind.PROCEDURE;
                if (callable && which.test(one)) {
                    offer(
                            one.of().map(o -> o + ".").orElse("") + one.name(),
                            one.kind() == OwnText.Kind.FUNCTION ? Kind.FUNCTION : Kind.PROCEDURE,
                            one.head(),
                            Described.commentAbove(one.whole()));
                }
            }
        }
    }

    private Map<String, Object> scope() {
        return unit.map(u -> names.scope(u, then)).orElse(Map.of());
    }

    private void variables() {
        scope().forEach(
                        (key, known) -> {
                            String name =
                                    known instanceof Parameter parameter
                                            ? parameter.name()
                                            : ((NativeVariable) known).name();
                            String type =
                                    known instanceof Parameter parameter
                                            ? parameter.type()
                                            : ((NativeVariable) known).type();
                            boolean cursor =
                                    known instanceof NativeVariable variable
                                            && variable.kind() == NativeVariable.Kind.CURSOR;
                            offer(name, cursor ? Kind.CURSOR : Kind.VARIABLE, type, "");
                        });
    }

    /** The statement around the place: what stands before it, and what behind. */
    private OwnRelations relations() {
        int from = before.size();
        while (from > 0 && !before.get(from - 1).is(";") && !isEdge(from - 1)) {
            from--;
        }
        List<NativeToken> all = new ArrayList<>(before.subList(from, before.size()));
        place = all.size();
        String written = now.written();
        int stop = written.indexOf(';', begins);
        int to = stop < 0 ? written.length() : stop;
        all.addAll(view.reading().tokens(now, begins, to));
        return new OwnRelations(
                all, view.reading().reserved(), k -> Optional.ofNullable(names.tables().get(k)));
    }

    private int place;

    private boolean isEdge(int i) {
        NativeToken token = before.get(i);
        return token.is("begin") || token.is("loop") || token.is("then") && !inCase();
    }

    private void expression() {
        OwnRelations relations = relations();
        int last = Math.max(0, place - 1);
        boolean lists = place > 0 && relations.isColumnList(last);
        boolean sets = place > 0 && relations.isAssigned(last);
        if (lists || sets) {
            relations.target(last).ifPresent(this::columns);
            return;
        }
        variables();
        if (place > 0) {
            relations.visible(last).forEach((c, t) -> column(c, t));
            relations
                    .relations(last)
                    .forEach(
                            r ->
                                    r.table()
                                            .ifPresent(
                                                    t ->
                                                            offer(
                                                                    r.known(),
                                                                    Kind.TABLE,
                                                                    t.name(),
                                                                    "")));
        }
        routines(u -> u.kind() == OwnText.Kind.FUNCTION);
        Completion.WITHIN.forEach(w -> offer(w, Kind.KEYWORD, "", ""));
    }

    private void columns(OwnTable table) {
        table.columns().forEach(c -> column(c, table));
    }

    private void column(Column column, OwnTable table) {
        offer(column.name(), Kind.COLUMN, column.type(), "a column of " + table.name());
    }

    private void qualified() {
        if (before.size() < 2) {
            return;
        }
        String of = OwnView.key(before.get(before.size() - 2));
        OwnRelations relations = relations();
        Optional<OwnRelations.Relation> relation = relations.known(Math.max(0, place - 2), of);
        if (relation.isPresent()) {
            relation.get().table().ifPresent(this::columns);
            return;
        }
        Object known = scope().get(of);
        if (known != null && unit.isPresent()) {
            names.rowOf(unit.get(), known).ifPresent(this::columns);
            return;
        }
        if (of.equals("excluded")) {
            relations.target(Math.max(0, place - 2)).ifPresent(this::columns);
            return;
        }
        names.units().values().stream()
                .flatMap(List::stream)
                .filter(u -> u.of().map(OwnView::key).equals(Optional.of(of)))
                .forEach(
                        u ->
                                offer(
                                        u.name(),
                                        u.kind() == OwnText.Kind.FUNCTION
                                                ? Kind.FUNCTION
                                                : Kind.PROCEDURE,
                                        u.head(),
                                        ""));
        Optional.ofNullable(names.tables().get(of)).ifPresent(this::columns);
    }
}
