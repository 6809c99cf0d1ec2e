package dev.cantina.check;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Table;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.SqlText.TableUse;
import dev.cantina.syntax.SqlWords;
import dev.cantina.syntax.SqlWords.Word;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * What is sure of a data statement, whatever is in the tables. An answer of true is a proof; what
 * can't be told is false.
 */
public final class QueryFacts {
    private static final Set<String> AGGREGATES = Set.of("AVG", "COUNT", "MAX", "MIN", "SUM");

    /** What lets a query of one row give none, or one of many rows. */
    private static final String[] CUTS = {
        "EXCEPT",
        "FETCH",
        "GROUP",
        "HAVING",
        "INTERSECT",
        "LIMIT",
        "OFFSET",
        "QUALIFY",
        "UNION",
        "WINDOW"
    };

    private QueryFacts() {}

    private static SqlWords words(BoundSql sql) {
        return SqlWords.of(sql.source().span().text());
    }

    /** Whether a query gives exactly one row. */
    public static boolean exactlyOneRow(BoundSql sql) {
        if (!sql.verb().equals("SELECT")) {
            return false;
        }
        SqlWords words = words(sql);
        if (!words.sees(0, "SELECT") || words.hasAny(CUTS)) {
            return false;
        }
        int from = words.find("FROM");
        if (from < 0) {
            return !words.hasAny("WHERE");
        }
        return aggregates(words, 1, from);
    }

    /**
     * The aggregates in the select list of a query.
     *
     * @param from where its FROM begins
     * @param arguments what each is of, as written
     */
    record Aggregates(int from, List<String> arguments) {}

    /**
     * Those of a query that is one SELECT and no more; empty where none of them can leave NULLs
     * out.
     */
    static Optional<Aggregates> aggregates(String query) {
        SqlWords words = SqlWords.of(query);
        int from = words.find("FROM");
        if (!words.sees(0, "SELECT")
                || from < 0
                || words.hasAny("UNION", "EXCEPT", "INTERSECT")
                || words.sees(1, "DISTINCT")) {
            return Optional.empty();
        }
        List<String> arguments = new ArrayList<>();
        List<Word> all = words.all();
        for (int i = 1; i < from; i++) {
            if (words.sees(i, "(", "SELECT") || words.sees(i, "(", "WITH")) {
                i = words.closing(i);
                continue;
            }
            if (isAggregate(words, i)) {
                int close = words.closing(i + 1);
                boolean other = words.sees(close + 1, "OVER") || words.sees(close + 1, "FILTER");
                int start =
                        words.sees(i + 2, "DISTINCT") || words.sees(i + 2, "ALL") ? i + 3 : i + 2;
                // An argument of one name alone: what else it may be would have to be sent twice.
                boolean name = true;
                for (int k = start; k < close; k++) {
                    name &= all.get(k).isName() || words.sees(k, ".");
                }
                if (!other && name && start < close) {
                    arguments.add(words.between(start, close));
                }
                i = close;
            }
        }
        return arguments.isEmpty()
                ? Optional.empty()
                : Optional.of(new Aggregates(all.get(from).start(), arguments));
    }

    /** Whether an aggregate's call begins at a word, which is not the first. */
    private static boolean isAggregate(SqlWords words, int at) {
        Word word = words.all().get(at);
        return word.kind() == SqlWords.Kind.WORD
                && AGGREGATES.contains(word.text())
                && words.sees(at + 1, "(")
                && !words.all().get(at - 1).is(".");
    }

    /** Whether an aggregate of a query may leave a NULL out, so that there is a warning of that. */
    public static boolean mayDropNulls(BoundSql sql) {
        return aggregates(sql.source().span().text()).isPresent();
    }

    /** Whether an aggregate of the query itself stands in its select list. */
    private static boolean aggregates(SqlWords words, int start, int end) {
        for (int i = start; i < end; i++) {
            if (words.sees(i, "(", "SELECT") || words.sees(i, "(", "WITH")) {
                i = words.closing(i);
                continue;
            }
            if (isAggregate(words, i)) {
                int close = words.closing(i + 1);
                if (words.sees(close + 1, "FILTER", "(")) {
                    close = words.closing(close + 2);
                }
                if (!words.sees(close + 1, "OVER")) {
                    return true;
                }
                i = close;
            }
        }
        return false;
    }

    /** Whether a query gives one row at most. */
    public static boolean atMostOneRow(BoundSql sql, Catalog catalog) {
        if (exactlyOneRow(sql)) {
            return true;
        }
        SqlWords words = words(sql);
        if (isLimitedToOne(words)) {
            return true;
        }
        return sql.verb().equals("SELECT")
                && !words.hasAny("UNION", "EXCEPT", "INTERSECT")
                && isOneTable(sql)
                && oneByKey(sql, words, catalog);
    }

    /** Whether a change is of one row at most. */
    public static boolean changesOneRowAtMost(BoundSql sql, Catalog catalog) {
        if (sql.source().positioned().isPresent()) {
            return true;
        }
        boolean change = sql.verb().equals("UPDATE") || sql.verb().equals("DELETE");
        return change && isOneTable(sql) && oneByKey(sql, words(sql), catalog);
    }

    private static boolean isOneTable(BoundSql sql) {
        return sql.scope().tables().size() == 1;
    }

    private static boolean isLimitedToOne(SqlWords words) {
        int fetch = words.find("FETCH");
        if (fetch >= 0) {
            int at = fetch + 1;
            if (!words.sees(at, "FIRST") && !words.sees(at, "NEXT")) {
                return false;
            }
            at++;
            if (at < words.all().size() && words.all().get(at).text().equals("1")) {
                at++;
            }
            boolean rows = words.sees(at, "ROW") || words.sees(at, "ROWS");
            return rows && words.sees(at + 1, "ONLY");
        }
        int limit = words.find("LIMIT");
        return limit >= 0
                && limit + 1 < words.all().size()
                && words.all().get(limit + 1).text().equals("1")
                && !words.sees(limit + 2, ",")
                && !words.sees(limit + 2, "WITH");
    }

    /** Whether the condition sets each column of a unique key equal to one value. */
    private static boolean oneByKey(BoundSql sql, SqlWords words, Catalog catalog) {
        TableUse use = sql.scope().tables().get(0);
        if (use.names().isEmpty()) {
            return false;
        }
        Optional<Table> table = catalog.table(use.names().get(use.names().size() - 1));
        int where = words.find("WHERE");
        if (table.isEmpty() || table.get().view() || where < 0) {
            return false;
        }
        Set<Integer> fixed = new HashSet<>();
        int end = end(words, where);
        int start = where + 1;
        for (int i = start; i <= end; i++) {
            if (i < end && words.all().get(i).depth() == 0 && words.all().get(i).is("OR")) {
                return false;
            }
            boolean between = i < end && between(words, start, i);
            if (i == end || words.all().get(i).depth() == 0 && words.sees(i, "AND") && !between) {
                equal(sql, words, start, i, table.get(), use).ifPresent(fixed::add);
                start = i + 1;
            }
        }
        return table.get().uniqueKeys().stream()
                .anyMatch(key -> !key.isEmpty() && fixed.containsAll(key));
    }

    private static boolean between(SqlWords words, int start, int at) {
        int open = 0;
        for (int i = start; i < at; i++) {
            if (words.all().get(i).depth() == 0) {
                open += words.sees(i, "BETWEEN") ? 1 : words.sees(i, "AND") ? -1 : 0;
            }
        }
        return open > 0;
    }

    private static int end(SqlWords words, int where) {
        int end = words.all().size();
        for (String clause :
                new String[] {
                    "GROUP",
                    "ORDER",
                    "FETCH",
                    "OFFSET",
                    "LIMIT",
                    "FOR",
                    "RETURNING",
                    "HAVING",
                    "WINDOW"
                }) {
            int at = words.findFrom(where, clause);
            end = at >= 0 ? Math.min(end, at) : end;
        }
        return end;
    }

    /** The column that {@code a = b} sets equal to a value that is the same for each row. */
    private static Optional<Integer> equal(
            BoundSql sql, SqlWords words, int from, int to, Table table, TableUse use) {
        int sign = -1;
        for (int i = from; i < to; i++) {
            if (words.all().get(i).depth() == 0 && words.sees(i, "=")) {
                if (sign >= 0) {
                    return Optional.empty();
                }
                sign = i;
            }
        }
        if (sign < 0) {
            return Optional.empty();
        }
        Optional<Integer> left = column(words, from, sign, table, use);
        Optional<Integer> right = column(words, sign + 1, to, table, use);
        if (left.isPresent() && isFixed(sql, words, sign + 1, to, table, left.get())) {
            return left;
        }
        boolean fixed = right.isPresent() && isFixed(sql, words, from, sign, table, right.get());
        return fixed ? right : Optional.empty();
    }

    private static Optional<Integer> column(
            SqlWords words, int from, int to, Table table, TableUse use) {
        int name = to - 1;
        if (to - from == 3) {
            String known = use.known().map(Name::key).orElse("");
            if (!words.sees(from + 1, ".") || !words.all().get(from).text().equals(known)) {
                return Optional.empty();
            }
        } else if (to - from != 1) {
            return Optional.empty();
        }
        int position =
                words.all().get(name).isName() ? table.position(words.all().get(name).text()) : -1;
        return position < 0 ? Optional.empty() : Optional.of(position);
    }

    /** Whether a stretch is a literal or a variable's value, and nothing else. */
    private static boolean isFixed(
            BoundSql sql, SqlWords words, int from, int to, Table table, int column) {
        if (from >= to) {
            return false;
        }
        if (to - from == 1 && words.all().get(from).kind() == SqlWords.Kind.LITERAL) {
            return true;
        }
        int base = sql.source().span().start();
        int start = base + words.all().get(from).start();
        int end = base + words.all().get(to - 1).end();
        return sql.parameters().stream()
                .filter(p -> p.span().start() == start && p.span().end() == end)
                .anyMatch(p -> isAlike(p.type(), table.columns().get(column).type()));
    }

    /** Where only one side has blanks that do not count, two values may be equal to one. */
    private static boolean isAlike(SqlType a, SqlType b) {
        return !(a instanceof SqlType.Text left && b instanceof SqlType.Text right)
                || left.shape() == right.shape();
    }

    /** Whether a query gives the rows of an INSERT with VALUES, all of them; for advice. */
    static boolean givesInserted(BoundSql sql) {
        SqlWords words = words(sql);
        int from = words.find("FROM");
        return from > 0
                && (words.sees(from + 1, "FINAL") || words.sees(from + 1, "NEW"))
                && words.sees(from + 2, "TABLE", "(", "INSERT")
                && words.find("WHERE") < 0
                && words.all().stream().anyMatch(w -> w.is("VALUES"))
                && words.all().stream().filter(w -> w.is("SELECT")).count() == 1;
    }

    /** Whether a query gives the one row of an INSERT that names it; for advice. */
    static boolean givesOneInserted(BoundSql sql) {
        if (!givesInserted(sql)) {
            return false;
        }
        SqlWords words = words(sql);
        int values = 0;
        while (!words.all().get(values).is("VALUES")) {
            values++;
        }
        return words.sees(values + 1, "(") && words.sees(words.closing(values + 1) + 1, ")");
    }

    /** Whether an INSERT puts at least one row in, or fails. */
    public static boolean insertsForSure(BoundSql sql) {
        if (!sql.verb().equals("INSERT")) {
            return false;
        }
        SqlWords words = words(sql);
        return words.sees(0, "INSERT", "INTO")
                && words.hasAny("VALUES")
                && !words.hasAny("SELECT", "TABLE", "WITH", "ON", "IGNORE");
    }

    /** Whether an INSERT is of the one row that it names. */
    public static boolean insertsOneRow(BoundSql sql) {
        if (!insertsForSure(sql)) {
            return false;
        }
        SqlWords words = words(sql);
        int values = words.find("VALUES");
        int open = values + 1;
        return words.sees(open, "(") && words.closing(open) >= words.all().size() - 1;
    }

    /** Whether a query can't raise: it reads columns and values as they are, and orders them. */
    public static boolean neverRaises(BoundSql sql, Catalog catalog) {
        if (!sql.verb().equals("SELECT") || !sql.scope().children().isEmpty()) {
            return false;
        }
        for (TableUse use : sql.scope().tables()) {
            boolean plain =
                    !use.names().isEmpty()
                            && catalog.table(use.names().get(use.names().size() - 1))
                                    .filter(t -> !t.view())
                                    .isPresent();
            if (!plain) {
                return false;
            }
        }
        return plainValues(words(sql));
    }

    private static final Set<String> PLAIN_SIGNS =
            Set.of(",", ".", "=", "<>", "<", ">", "<=", ">=");

    private static boolean plainValues(SqlWords words) {
        List<Word> all = words.all();
        for (int i = 0; i < all.size(); i++) {
            Word word = all.get(i);
            if (word.is("*")) {
                // All columns, not a product.
                boolean columns =
                        i > 0
                                && (words.sees(i - 1, "SELECT")
                                        || words.sees(i - 1, ".")
                                        || words.sees(i - 1, ","));
                if (!columns) {
                    return false;
                }
            } else if (word.kind() == SqlWords.Kind.SIGN && !PLAIN_SIGNS.contains(word.text())
                    || word.is("CAST")
                    || word.is("LIKE")
                    || word.is("CASE")) {
                return false;
            }
        }
        return true;
    }

    /**
     * Whether a statement works anything out, by a sign or a function: that may fail as it runs.
     */
    public static boolean computes(BoundSql sql) {
        for (Word word : words(sql).all()) {
            if (word.kind() == SqlWords.Kind.SIGN
                    && (word.is("+")
                            || word.is("-")
                            || word.is("*")
                            || word.is("/")
                            || word.is("%")
                            || word.is("("))) {
                return true;
            }
        }
        return false;
    }

    /** Whether an UPDATE or DELETE has a condition of its own. */
    public static boolean hasCondition(BoundSql sql) {
        return words(sql).hasAny("WHERE");
    }
}
