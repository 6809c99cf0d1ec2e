package dev.cantina.editing;

import dev.cantina.binding.Scope;
import dev.cantina.binding.Variable;
import dev.cantina.catalog.Column;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.Table;
import dev.cantina.syntax.SqlWords;
import dev.cantina.types.Functions;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** What may be typed next at a place of a routine's text. */
public final class Completion {
    /** What is offered. */
    public enum Kind {
        VARIABLE,
        COLUMN,
        TABLE,
        PROCEDURE,
        FUNCTION,
        CURSOR,
        CONDITION,
        LABEL,
        TYPE,
        KEYWORD
    }

    /**
     * Something that may be typed.
     *
     * @param detail a type, or a head; empty where there is nothing to say
     * @param text what the author of a routine has said of it
     */
    public record Offer(String name, Kind kind, String detail, String text) {
        Offer(String name, Kind kind, String detail) {
            this(name, kind, detail, "");
        }
    }

    private static final List<String> STATEMENTS =
            List.of(
                    "BEGIN",
                    "CALL",
                    "CASE",
                    "CLOSE",
                    "COMMIT",
                    "DECLARE",
                    "DELETE FROM",
                    "END",
                    "FETCH",
                    "FOR",
                    "GET DIAGNOSTICS",
                    "IF",
                    "INSERT INTO",
                    "ITERATE",
                    "LEAVE",
                    "LOOP",
                    "MERGE INTO",
                    "OPEN",
                    "REPEAT",
                    "REPORT",
                    "RESIGNAL",
                    "RETURN",
                    "ROLLBACK",
                    "SAVEPOINT",
                    "SELECT",
                    "SET",
                    "SIGNAL",
                    "UPDATE",
                    "WHILE");
    static final List<String> WITHIN =
            List.of(
                    "AND",
                    "AS",
                    "BETWEEN",
                    "BY",
                    "CASE",
                    "CAST",
                    "DESC",
                    "DO",
                    "ELSE",
                    "END",
                    "EXISTS",
                    "FALSE",
                    "FETCH FIRST",
                    "FROM",
                    "GROUP BY",
                    "HAVING",
                    "IN",
                    "INTO",
                    "IS NOT NULL",
                    "IS NULL",
                    "JOIN",
                    "LEFT JOIN",
                    "LIKE",
                    "NOT",
                    "NULL",
                    "ON",
                    "OR",
                    "ORDER BY",
                    "SET",
                    "THEN",
                    "TRUE",
                    "UNION ALL",
                    "VALUES",
                    "WHEN",
                    "WHERE");
    private static final List<String> OUTSIDE =
            List.of(
                    "CREATE FUNCTION",
                    "CREATE MODULE",
                    "CREATE OR REPLACE",
                    "CREATE PROCEDURE",
                    "CREATE TRIGGER");
    private static final List<String> TYPES =
            List.of(
                    "BIGINT",
                    "BLOB",
                    "BOOLEAN",
                    "CHAR",
                    "CLOB",
                    "DATE",
                    "DECIMAL",
                    "DOUBLE PRECISION",
                    "INTEGER",
                    "INTERVAL",
                    "NUMERIC",
                    "REAL",
                    "ROW",
                    "SMALLINT",
                    "TIME",
                    "TIMESTAMP",
                    "VARBINARY",
                    "VARCHAR");

    /** Words behind which a statement begins. */
    private static final Set<String> BEGINS =
            Set.of("BEGIN", "THEN", "ELSE", "DO", "LOOP", "REPEAT", "ATOMIC", ";");

    private final ProjectView view;
    private final String file;
    private final String text;
    private final int from;
    private final List<SqlWords.Word> words;
    private final List<SqlWords.Word> behind;
    private final Map<String, Offer> offers = new LinkedHashMap<>();

    private Completion(ProjectView view, String file, String text, int offset) {
        this.view = view;
        this.file = file;
        this.text = text;
        int start = offset;
        while (start > 0 && isWord(text.charAt(start - 1))) {
            start--;
        }
        this.from = start;
        int unit = unitStart();
        this.words = SqlWords.of(text.substring(unit, start)).all();
        this.behind = SqlWords.of(text.substring(start)).all();
    }

    private static boolean isWord(char c) {
        return Character.isLetterOrDigit(c) || c == '_';
    }

    /** Where the routine begins that is typed in: no text before it matters. */
    private int unitStart() {
        int found = 0;
        for (CheckedUnit unit : view.units().getOrDefault(file, List.of())) {
            if (unit.now() <= from) {
                found = Math.max(found, unit.now());
            }
        }
        int create = text.toUpperCase(Locale.ROOT).lastIndexOf("CREATE ", from);
        return Math.min(from, Math.max(found, create));
    }

    /**
     * What may stand at an offset of a text.
     *
     * @return in no particular order; an editor chooses by what is typed already
     */
    public static List<Offer> at(ProjectView view, String file, String text, int offset) {
        Completion completion = new Completion(view, file, text, offset);
        if (isQuiet(text, offset)) {
            return List.of();
        }
        completion.collect();
        return new ArrayList<>(completion.offers.values());
    }

    /** Whether a comment or a text in quotes is typed, which is nobody's business. */
    static boolean isQuiet(String text, int offset) {
        int line = text.lastIndexOf('\n', Math.max(0, offset - 1)) + 1;
        boolean quoted = false;
        for (int i = line; i < offset; i++) {
            char c = text.charAt(i);
            if (c == '\'') {
                quoted = !quoted;
            } else if (!quoted && c == '-' && i + 1 < offset && text.charAt(i + 1) == '-') {
                return true;
            }
        }
        int comment = text.lastIndexOf("/*", offset);
        return quoted
                || comment >= 0 && text.indexOf("*/", comment) < 0
                || comment >= 0 && text.indexOf("*/", comment) >= offset;
    }

    private SqlWords.Word last(int back) {
        int at = words.size() - back;
        return at < 0 ? null : words.get(at);
    }

    private boolean ends(String... wanted) {
        for (int i = 0; i < wanted.length; i++) {
            SqlWords.Word word = last(wanted.length - i);
            if (word == null || !word.is(wanted[i])) {
                return false;
            }
        }
        return true;
    }

    private void offer(String name, Kind kind, String detail) {
        offers.putIfAbsent(kind + name.toLowerCase(Locale.ROOT), new Offer(name, kind, detail));
    }

    private void collect() {
        SqlWords.Word before = last(1);
        if (before == null) {
            OUTSIDE.forEach(w -> offer(w, Kind.KEYWORD, ""));
        } else if (before.is(".")) {
            qualified(last(2));
        } else if (ends("CALL")) {
            routines(false);
        } else if (ends("OPEN") || ends("CLOSE") || ends("FETCH") || ends("OF") && isPositioned()) {
            cursors();
        } else if (ends("LEAVE") || ends("ITERATE")) {
            labels();
        } else if (ends("SIGNAL") || ends("RESIGNAL") || ends("HANDLER", "FOR")) {
            conditions();
        } else if (isTablePlace()) {
            tables();
        } else if (isTypePlace()) {
            TYPES.forEach(t -> offer(t, Kind.TYPE, ""));
        } else if (BEGINS.contains(before.text())) {
            STATEMENTS.forEach(w -> offer(w, Kind.KEYWORD, ""));
            if (before.is(";") && depthOfBlocks() <= 0) {
                OUTSIDE.forEach(w -> offer(w, Kind.KEYWORD, ""));
            }
        } else {
            values();
        }
    }

    private boolean isPositioned() {
        return ends("CURRENT", "OF");
    }

    private int depthOfBlocks() {
        int depth = 0;
        for (int i = 0; i < words.size(); i++) {
            SqlWords.Word word = words.get(i);
            boolean closes = i > 0 && words.get(i - 1).is("END");
            if (!closes
                    && (word.is("BEGIN") || word.is("IF") || word.is("LOOP") || word.is("CASE"))) {
                depth++;
            } else if (word.is("END")) {
                depth--;
            }
        }
        return depth;
    }

    private boolean isTablePlace() {
        return ends("FROM")
                || ends("JOIN")
                || ends("UPDATE")
                        && !ends("FOR", "UPDATE")
                        && !ends("AFTER", "UPDATE")
                        && !ends("BEFORE", "UPDATE")
                || ends("INSERT", "INTO")
                || ends("MERGE", "INTO")
                || ends("TABLE")
                || ends("ON") && isTriggerHead();
    }

    private boolean isTriggerHead() {
        return words.stream().noneMatch(w -> w.is("BEGIN"))
                && words.stream().anyMatch(w -> w.is("TRIGGER"));
    }

    /** Behind a name that is declared, and in the head behind a parameter's. */
    private boolean isTypePlace() {
        SqlWords.Word name = last(1);
        if (name.kind() == SqlWords.Kind.SIGN || name.kind() == SqlWords.Kind.LITERAL) {
            return false;
        }
        if (ends("RETURNS")) {
            return true;
        }
        if (ends("AS") && insideCast()) {
            return true;
        }
        SqlWords.Word before = last(2);
        if (before == null || !name.isName()) {
            return false;
        }
        boolean head = words.stream().noneMatch(w -> w.is("BEGIN") || w.is("RETURNS"));
        return before.is("DECLARE")
                || head
                        && name.depth() == 1
                        && (before.is("IN")
                                || before.is("OUT")
                                || before.is("INOUT")
                                || before.is("(")
                                || before.is(","));
    }

    private boolean insideCast() {
        int depth = last(1).depth();
        for (int i = words.size() - 1; i > 0; i--) {
            if (words.get(i).is("(") && words.get(i).depth() == depth - 1) {
                return words.get(i - 1).is("CAST");
            }
        }
        return false;
    }

    private Optional<Scope> scope() {
        return view.scope(file, text, from);
    }

    private void cursors() {
        scope().ifPresent(s -> s.cursors().forEach(c -> offer(c.name(), Kind.CURSOR, "")));
        for (int i = 0; i + 2 < words.size(); i++) {
            if (words.get(i).is("DECLARE") && words.get(i + 2).is("CURSOR")) {
                offer(written(words.get(i + 1)), Kind.CURSOR, "");
            }
        }
        if (ends("FETCH")) {
            List.of("NEXT FROM", "PRIOR FROM", "FIRST FROM", "LAST FROM")
                    .forEach(w -> offer(w, Kind.KEYWORD, ""));
        }
    }

    /** The labels of the blocks and loops that are open. */
    private void labels() {
        for (int i = 0; i + 2 < words.size(); i++) {
            boolean opens =
                    words.get(i + 2).is("BEGIN")
                            || words.get(i + 2).is("LOOP")
                            || words.get(i + 2).is("WHILE")
                            || words.get(i + 2).is("REPEAT")
                            || words.get(i + 2).is("FOR");
            if (words.get(i + 1).is(":") && opens) {
                offer(written(words.get(i)), Kind.LABEL, "");
            }
        }
    }

    private void conditions() {
        for (int i = 0; i + 2 < words.size(); i++) {
            if (words.get(i).is("DECLARE") && words.get(i + 2).is("CONDITION")) {
                offer(written(words.get(i + 1)), Kind.CONDITION, "");
            }
        }
        List.of("SQLSTATE").forEach(w -> offer(w, Kind.KEYWORD, ""));
        if (ends("FOR")) {
            List.of("SQLEXCEPTION", "SQLWARNING", "NOT FOUND")
                    .forEach(w -> offer(w, Kind.KEYWORD, ""));
        }
    }

    private void tables() {
        view.catalog().tables().forEach(t -> offer(t.name(), Kind.TABLE, ""));
        if (ends("TABLE")) {
            routines(true);
        }
    }

    private void routines(boolean functions) {
        for (RoutineSymbol routine : view.catalog().routines()) {
            if (routine.isFunction() == functions && routine.isPublic()) {
                offers.putIfAbsent(
                        "R" + routine.signature(),
                        new Offer(
                                routine.name(),
                                functions ? Kind.FUNCTION : Kind.PROCEDURE,
                                routine.signature(),
                                Described.of(routine).text()));
            }
        }
    }

    private String written(SqlWords.Word word) {
        int start = unitStart();
        return text.substring(start + word.start(), start + word.end());
    }

    /** What has a name before a dot: a table by its alias, a row, a module. */
    private void qualified(SqlWords.Word owner) {
        if (owner == null) {
            return;
        }
        String name = owner.text();
        for (Map.Entry<String, Table> use : statementTables().entrySet()) {
            if (use.getKey().equalsIgnoreCase(name)) {
                columns(use.getValue());
            }
        }
        scope().ifPresent(
                        s ->
                                s.variables().stream()
                                        .filter(v -> v.name().equalsIgnoreCase(name))
                                        .filter(v -> v.type() instanceof SqlType.Row)
                                        .flatMap(v -> ((SqlType.Row) v.type()).fields().stream())
                                        .forEach(
                                                f -> offer(f.name(), Kind.COLUMN, f.type().sql())));
        triggerRow(name).ifPresent(this::columns);
        view.catalog().modules().stream()
                .filter(m -> m.name().equalsIgnoreCase(name))
                .forEach(
                        m -> {
                            m.tree().routines().stream()
                                    .filter(r -> !m.hides(r.name().key()))
                                    .forEach(
                                            r ->
                                                    offer(
                                                            r.name().text(),
                                                            r.returns().isPresent()
                                                                    ? Kind.FUNCTION
                                                                    : Kind.PROCEDURE,
                                                            ""));
                            m.variables()
                                    .forEach(
                                            v ->
                                                    offer(
                                                            v.name().text(),
                                                            Kind.VARIABLE,
                                                            v.type().sql()));
                        });
    }

    /** The table of the trigger that is typed in, where a name is that of one of its rows. */
    private Optional<Table> triggerRow(String name) {
        boolean trigger = words.stream().anyMatch(w -> w.is("TRIGGER"));
        if (!trigger || !name.equalsIgnoreCase("OLD") && !name.equalsIgnoreCase("NEW")) {
            return Optional.empty();
        }
        for (int i = 0; i + 1 < words.size(); i++) {
            if (words.get(i).is("ON")) {
                return view.catalog().tableCalled(words.get(i + 1).text());
            }
        }
        return Optional.empty();
    }

    private void columns(Table table) {
        for (Column column : table.columns()) {
            offer(column.name(), Kind.COLUMN, column.type().sql());
        }
    }

    /** The tables of the statement that is typed in, by what their columns can be qualified by. */
    private Map<String, Table> statementTables() {
        List<SqlWords.Word> all = new ArrayList<>();
        int first = words.size();
        while (first > 0 && !BEGINS.contains(words.get(first - 1).text())) {
            first--;
        }
        all.addAll(words.subList(first, words.size()));
        for (SqlWords.Word word : behind) {
            if (word.is(";")) {
                break;
            }
            all.add(word);
        }
        Map<String, Table> found = new LinkedHashMap<>();
        for (int i = 0; i + 1 < all.size(); i++) {
            SqlWords.Word word = all.get(i);
            boolean brings =
                    word.is("FROM")
                            || word.is("JOIN")
                            || word.is("UPDATE")
                            || word.is("INTO")
                            || word.is("USING")
                            || word.is(",");
            Optional<Table> table =
                    brings ? view.catalog().tableCalled(all.get(i + 1).text()) : Optional.empty();
            if (table.isEmpty()) {
                continue;
            }
            int at = i + 2;
            if (at < all.size() && all.get(at).is("AS")) {
                at++;
            }
            boolean alias = at < all.size() && all.get(at).isName() && !isClause(all.get(at));
            found.put(alias ? all.get(at).text() : table.get().name(), table.get());
        }
        return found;
    }

    private static boolean isClause(SqlWords.Word word) {
        return List.of("WHERE", "SET", "JOIN", "LEFT", "INNER", "ON", "ORDER", "GROUP", "VALUES")
                .stream()
                .anyMatch(word::is);
    }

    /** What gives a value: variables, the columns of the statement's tables, functions. */
    private void values() {
        declared();
        scope().ifPresent(s -> s.variables().forEach(v -> offer(v.name(), Kind.VARIABLE, type(v))));
        Map<String, Table> tables = statementTables();
        tables.values().forEach(this::columns);
        tables.keySet().forEach(n -> offer(n, Kind.TABLE, ""));
        routines(true);
        Functions.names().forEach(n -> offer(n, Kind.FUNCTION, ""));
        WITHIN.forEach(w -> offer(w, Kind.KEYWORD, ""));
    }

    private static String type(Variable variable) {
        return variable.type() instanceof SqlType.Row ? "ROW" : variable.type().sql();
    }

    /** The variables and parameters that the text declares, whether or not it can be read. */
    private void declared() {
        boolean head = true;
        for (int i = 0; i + 1 < words.size(); i++) {
            SqlWords.Word word = words.get(i);
            head &= !word.is("BEGIN") && !word.is("RETURNS");
            boolean parameter =
                    head
                            && word.depth() <= 1
                            && (word.is("IN") || word.is("OUT") || word.is("INOUT"));
            if ((parameter || word.is("DECLARE")) && words.get(i + 1).isName()) {
                int next = i + 2;
                boolean variable =
                        next >= words.size()
                                || !words.get(next).is("CURSOR")
                                        && !words.get(next).is("CONDITION")
                                        && !words.get(next).is("HANDLER");
                if (variable) {
                    String type = next < words.size() ? words.get(next).text() : "";
                    offer(written(words.get(i + 1)), Kind.VARIABLE, type);
                }
            }
        }
    }
}
