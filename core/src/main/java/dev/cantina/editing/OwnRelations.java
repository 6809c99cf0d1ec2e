package dev.cantina.editing;

import dev.cantina.nativecode.NativeToken;
import dev.cantina.nativecode.OwnText.Column;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;

/**
 * The tables that the queries and changes of one statement in a server's own words name, and which
 * of them each of its tokens can see. What is not a table of the project is known to be there, and
 * nothing is concluded about it.
 */
final class OwnRelations {
    /** Functions that have a FROM between their brackets. */
    private static final Set<String> OWN_FROM =
            Set.of("extract", "trim", "substring", "substr", "overlay", "position");

    private static final Set<String> LEAVE_FROM =
            Set.of(
                    "where",
                    "group",
                    "order",
                    "having",
                    "set",
                    "values",
                    "returning",
                    "limit",
                    "window",
                    "loop",
                    "do",
                    "fetch",
                    "offset",
                    "for");

    private static final Set<String> SETS = Set.of("union", "intersect", "except");

    /** A table as a statement knows it; empty where it is none of the project. */
    record Relation(String known, Optional<OwnView.OwnTable> table) {}

    /** A query, or what else stands between two brackets. */
    private static final class Level {
        final Level outer;
        final List<Relation> relations = new ArrayList<>();
        Optional<OwnView.OwnTable> target = Optional.empty();
        boolean listsColumns;
        boolean from;
        boolean sets;

        Level(Level outer) {
            this.outer = outer;
        }
    }

    /** What a token is by its place. */
    enum Place {
        /** It names a table. */
        TABLE,
        /** A column of what is changed. */
        TARGET,
        /** A name that is given here. */
        NEW_NAME,
        ANY
    }

    private final List<? extends NativeToken> tokens;
    private final Function<String, Optional<OwnView.OwnTable>> tables;
    private final Set<String> reserved;
    private final Level[] levels;
    private final Place[] places;

    /** Whether a token stands where columns are given values. */
    private final boolean[] sets;

    private final Set<String> named = new HashSet<>();
    private final Map<Integer, Boolean> opened = new HashMap<>();
    private Level level = new Level(null);

    OwnRelations(
            List<? extends NativeToken> tokens,
            Set<String> reserved,
            Function<String, Optional<OwnView.OwnTable>> tables) {
        this.tokens = tokens;
        this.tables = tables;
        this.reserved = reserved;
        this.levels = new Level[tokens.size()];
        this.places = new Place[tokens.size()];
        this.sets = new boolean[tokens.size()];
        withNames();
        read();
    }

    private boolean sees(int i, String word) {
        return i >= 0 && i < tokens.size() && tokens.get(i).is(word);
    }

    private boolean isName(int i) {
        return i >= 0
                && i < tokens.size()
                && tokens.get(i).isName()
                && !(tokens.get(i).isWord() && reserved.contains(tokens.get(i).text()));
    }

    /** The names that WITH gives to queries. */
    private void withNames() {
        for (int i = 1; i < tokens.size(); i++) {
            boolean first = sees(i - 1, "with") || sees(i - 1, "recursive") || sees(i - 1, ",");
            if (!first || !isName(i)) {
                continue;
            }
            int as = i + 1;
            if (sees(as, "(")) {
                while (as < tokens.size() && !sees(as, ")")) {
                    as++;
                }
                as++;
            }
            if (sees(as, "as")
                    && (sees(as + 1, "(") || sees(as + 1, "not") || sees(as + 1, "materialized"))) {
                named.add(OwnView.key(tokens.get(i)));
            }
        }
    }

    private void read() {
        boolean wanted = false;
        boolean insert = false;
        for (int i = 0; i < tokens.size(); i++) {
            NativeToken token = tokens.get(i);
            levels[i] = level;
            sets[i] = level.sets;
            if (places[i] == null) {
                places[i] = Place.ANY;
            }
            if (token.is("(")) {
                if (wanted && !insert) {
                    wanted = false;
                }
                open(i);
                continue;
            }
            if (token.is(")")) {
                level = level.outer == null ? level : level.outer;
                levels[i] = level;
                if (level.from && isName(i + 1) || sees(i + 1, "as") && level.from) {
                    int alias = sees(i + 1, "as") ? i + 2 : i + 1;
                    other(alias);
                }
                continue;
            }
            if (wanted && (token.is("only") || token.is("lateral") || token.is("ignore"))) {
                continue;
            }
            if (wanted && isName(i)) {
                i = relation(i, insert);
                wanted = false;
                continue;
            }
            wanted = false;
            if (!token.isWord() && !token.is(",")) {
                continue;
            }
            if (SETS.contains(token.text())) {
                level = new Level(level.outer);
            } else if (token.is("from")) {
                boolean compares = sees(i - 1, "distinct") && sees(i - 2, "is");
                boolean compared = sees(i - 1, "distinct") && sees(i - 2, "not");
                wanted = !compares && !compared && !isOwnFrom(i);
                insert = false;
                level.from |= wanted;
                level.sets &= !wanted;
            } else if (token.is("join") || token.is(",") && level.from) {
                wanted = true;
                insert = false;
            } else if (token.is("update")) {
                boolean target =
                        !sees(i - 1, "for")
                                && !sees(i - 1, "on")
                                && !sees(i - 1, "do")
                                && !sees(i - 1, "key")
                                && !sees(i - 1, "no");
                wanted = target;
                insert = false;
                level.from |= target;
                level.sets |= sees(i - 1, "key");
                if (target) {
                    changes = true;
                }
            } else if (token.is("into")) {
                wanted =
                        sees(i - 1, "insert")
                                || sees(i - 1, "replace")
                                || sees(i - 1, "merge")
                                || sees(i - 2, "insert");
                insert = wanted;
                changes |= wanted;
            } else if (token.is("using") && level.target.isPresent() && isName(i + 1)) {
                wanted = true;
                insert = false;
                level.from = true;
            } else if (token.is("delete")) {
                changes = true;
            } else if (LEAVE_FROM.contains(token.text())) {
                level.from = false;
                level.sets = token.is("set") && level.target.isPresent();
            }
        }
    }

    /** Whether the next table that is named is changed. */
    private boolean changes;

    private boolean isOwnFrom(int from) {
        int depth = 0;
        for (int i = from; i > 0; i--) {
            depth += sees(i, ")") ? 1 : sees(i, "(") ? -1 : 0;
            if (depth < 0) {
                return OWN_FROM.contains(tokens.get(i - 1).text());
            }
        }
        return false;
    }

    private void open(int i) {
        Level inner = new Level(level);
        boolean ofTarget = listing == i || sees(i - 1, "conflict");
        if (ofTarget && level.target.isPresent()) {
            inner.target = level.target;
            inner.listsColumns = true;
        }
        opened.put(i, inner.listsColumns);
        level = inner;
    }

    /** The bracket that begins the columns of an INSERT. */
    private int listing = -1;

    /** A relation whose columns nobody knows here. */
    private void other(int alias) {
        if (isName(alias)) {
            level.relations.add(new Relation(OwnView.key(tokens.get(alias)), Optional.empty()));
            places[alias] = Place.NEW_NAME;
        }
    }

    /** A table, with the name that it is given; says which token is the last of it. */
    private int relation(int first, boolean insert) {
        int last = first;
        levels[first] = level;
        while (sees(last + 1, ".") && last + 2 < tokens.size() && tokens.get(last + 2).isName()) {
            last += 2;
            levels[last - 1] = level;
            levels[last] = level;
            places[last - 1] = Place.ANY;
        }
        String name = OwnView.key(tokens.get(last));
        boolean function = sees(last + 1, "(") && !insert;
        Optional<OwnView.OwnTable> table =
                function || last == first && named.contains(name)
                        ? Optional.empty()
                        : tables.apply(name);
        places[last] = function ? Place.ANY : Place.TABLE;
        int alias = sees(last + 1, "as") ? last + 2 : last + 1;
        boolean given = isName(alias) && !function && !(alias == last + 1 && sees(alias + 1, "."));
        if (!function) {
            level.relations.add(new Relation(given ? OwnView.key(tokens.get(alias)) : name, table));
        }
        if (changes) {
            level.target = table;
            changes = false;
        }
        if (given) {
            for (int i = last + 1; i <= alias; i++) {
                levels[i] = level;
                places[i] = i == alias ? Place.NEW_NAME : Place.ANY;
            }
            last = alias;
        }
        if (insert && sees(last + 1, "(") && !isQuery(last + 2)) {
            listing = last + 1;
        }
        return last;
    }

    private boolean isQuery(int i) {
        return sees(i, "select") || sees(i, "with") || sees(i, "values");
    }

    Place place(int i) {
        if (places[i] == Place.ANY && isName(i) && !sees(i - 1, ".")) {
            boolean set =
                    sets[i]
                            && (sees(i + 1, "=") || sees(i + 1, ":="))
                            && (sees(i - 1, "set") || sees(i - 1, ",") || sees(i - 1, "update"));
            if (levels[i].listsColumns || set) {
                return Place.TARGET;
            }
            if (sees(i - 1, "as")) {
                return Place.NEW_NAME;
            }
        }
        return places[i];
    }

    /** The word of the statement that changes what a token names; empty where none does. */
    String change(int i) {
        Place at = place(i);
        if (at == Place.TARGET) {
            return levels[i].listsColumns ? "insert" : "update";
        }
        if (at != Place.TABLE) {
            return "";
        }
        int before = i - 1;
        while (sees(before, ".")) {
            before -= 2;
        }
        while (sees(before, "only") || sees(before, "ignore")) {
            before--;
        }
        if (sees(before, "into")) {
            int verb = sees(before - 1, "ignore") ? before - 2 : before - 1;
            return sees(verb, "merge") ? "merge" : "insert";
        }
        if (sees(before, "update") && !sees(before - 1, "for")) {
            return "update";
        }
        return sees(before, "from") && sees(before - 1, "delete") ? "delete" : "";
    }

    /** Whether what stands behind a token is one of the columns that an INSERT lists. */
    boolean isColumnList(int i) {
        return levels[i].listsColumns || sees(i, "(") && opened.containsKey(i) && opened.get(i);
    }

    /** Whether a column that is changed may stand behind a token. */
    boolean isAssigned(int i) {
        boolean begins = sees(i, "set") && levels[i].target.isPresent();
        return begins || sets[i] && sees(i, ",") || sees(i, "update") && sees(i - 1, "key");
    }

    Optional<OwnView.OwnTable> target(int i) {
        for (Level at = levels[i]; at != null; at = at.outer) {
            if (at.target.isPresent()) {
                return at.target;
            }
        }
        return Optional.empty();
    }

    /** The relation that a token can see under a name. */
    Optional<Relation> known(int i, String name) {
        for (Level at = levels[i]; at != null; at = at.outer) {
            List<Relation> found =
                    at.relations.stream().filter(r -> r.known().equals(name)).toList();
            if (!found.isEmpty()) {
                return found.size() == 1
                        ? Optional.of(found.get(0))
                        : Optional.of(new Relation(name, Optional.empty()));
            }
        }
        return Optional.empty();
    }

    /** The table that has the column of this name, where only one can be meant. */
    Optional<OwnView.OwnTable> owner(int i, String column) {
        for (Level at = levels[i]; at != null; at = at.outer) {
            boolean others = at.relations.stream().anyMatch(r -> r.table().isEmpty());
            List<OwnView.OwnTable> found =
                    at.relations.stream()
                            .flatMap(r -> r.table().stream())
                            .filter(t -> t.column(column).isPresent())
                            .toList();
            if (others || found.size() > 1) {
                return Optional.empty();
            }
            if (found.size() == 1) {
                return Optional.of(found.get(0));
            }
        }
        return Optional.empty();
    }

    /** All columns that a token can see, by their tables. */
    Map<Column, OwnView.OwnTable> visible(int i) {
        Map<Column, OwnView.OwnTable> all = new HashMap<>();
        for (Level at = levels[i]; at != null; at = at.outer) {
            at.relations.stream()
                    .flatMap(r -> r.table().stream())
                    .forEach(t -> t.columns().forEach(c -> all.put(c, t)));
        }
        return all;
    }

    /** All names under which a token can see relations. */
    List<Relation> relations(int i) {
        List<Relation> all = new ArrayList<>();
        for (Level at = levels[i]; at != null; at = at.outer) {
            all.addAll(at.relations);
        }
        return all;
    }
}
