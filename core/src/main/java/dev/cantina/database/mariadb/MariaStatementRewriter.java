package dev.cantina.database.mariadb;

import dev.cantina.database.DeltaTable;
import dev.cantina.facts.KeptBlanks;
import dev.cantina.syntax.Change;
import dev.cantina.syntax.Clause;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.Expression.Operator;
import dev.cantina.syntax.NullCases;
import dev.cantina.syntax.Query;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlStatement;
import dev.cantina.syntax.SqlText;
import dev.cantina.syntax.SqlWalk;
import dev.cantina.syntax.SqlWords;
import dev.cantina.syntax.TableSource;
import dev.cantina.syntax.TextEdits;
import dev.cantina.syntax.TypeSyntax;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * Statements in the standard's words as MariaDB reads them. What stands in quotes and comments is
 * left alone.
 */
public final class MariaStatementRewriter {
    /** Functions of the server whose bracket must follow their name at once. */
    private static final Set<String> TIGHT =
            Set.of(
                    ("BIT_AND BIT_OR BIT_XOR CAST COUNT EXTRACT GROUP_CONCAT MAX MID MIN NOW POSITION"
                                    + " STD STDDEV STDDEV_POP STDDEV_SAMP SUBSTR SUBSTRING SUM SYSDATE TRIM"
                                    + " VARIANCE VAR_POP VAR_SAMP AVG")
                            .split(" "));

    private static final Set<String> MOMENTS =
            Set.of("CURRENT_TIMESTAMP", "LOCALTIMESTAMP", "LOCALTIME", "CURRENT_TIME");

    private final SqlText text;

    private MariaStatementRewriter(SqlText text) {
        this.text = text;
    }

    /** A statement; the rows of a change are returned by it where the server can. */
    public static String of(String statement) {
        Optional<DeltaTable> delta =
                DeltaTable.of(statement)
                        .filter(d -> d.isReturned() && !d.verb().equals("UPDATE"))
                        .filter(d -> d.isOrdered() && d.after().isEmpty());
        if (delta.isPresent()) {
            String list = delta.get().before().strip();
            return words(delta.get().change())
                    + " RETURNING "
                    + words(
                            unqualified(
                                    list.substring(6, list.length() - 4).strip(),
                                    delta.get().alias()));
        }
        return words(statement);
    }

    /** A select list without what its rows are called, which RETURNING can't name. */
    private static String unqualified(String list, String alias) {
        SqlWords words = SqlWords.of(list);
        StringBuilder plain = new StringBuilder();
        int at = 0;
        for (int i = 0; i < words.all().size() && !alias.isEmpty(); i++) {
            if (words.between(i, i + 1).equalsIgnoreCase(alias) && words.sees(i + 1, ".")) {
                plain.append(list, at, words.all().get(i).start());
                at = words.all().get(i + 1).end();
            }
        }
        return plain.append(list, at, list.length()).toString();
    }

    /** A text in which no blank stands between such a function's name and its bracket. */
    public static String tight(String text) {
        SqlWords words = SqlWords.of(text);
        StringBuilder tight = new StringBuilder();
        int at = 0;
        for (int i = 0; i + 1 < words.all().size(); i++) {
            SqlWords.Word word = words.all().get(i);
            int next = words.all().get(i + 1).start();
            boolean loose =
                    word.kind() == SqlWords.Kind.WORD
                            && TIGHT.contains(word.text())
                            && words.sees(i + 1, "(")
                            && next > word.end()
                            && text.substring(word.end(), next).isBlank();
            if (loose) {
                tight.append(text, at, word.end());
                at = next;
            }
        }
        return tight.append(text, at, text.length()).toString();
    }

    /** A statement, its delta tables left as they are. */
    public static String words(String statement) {
        SqlText read = SqlText.of(statement);
        int query = read.queryInside();
        if (query >= 0) {
            return words(statement.substring(0, query)) + words(statement.substring(query));
        }
        String made = new MariaStatementRewriter(read).rewritten(read.whole());
        boolean data = read.tree().isData() || DATA.contains(read.verb());
        return tight(data ? made : MariaDefinitions.of(made));
    }

    /** What statements begin with that have no types of columns in them. */
    private static final Set<String> DATA =
            Set.of("SELECT", "INSERT", "UPDATE", "DELETE", "WITH", "VALUES", "REPLACE");

    /** Whether a CASE is left that may find nothing behind a NULL. */
    static boolean hasNullCases(String statement) {
        boolean[] found = {false};
        SqlWalk.each(SqlText.of(statement).tree(), f -> found[0] |= NullCases.is(f.expression()));
        return found[0];
    }

    private String rewritten(Span span) {
        TextEdits edits = new TextEdits(span);
        if (span.equals(text.whole())) {
            statement(text.tree(), edits);
        }
        SqlWalk.each(
                text.tree(),
                new SqlWalk.Visitor() {
                    @Override
                    public void clause(Clause clause) {
                        locking(clause, edits);
                    }

                    @Override
                    public void query(Query query) {
                        if (query instanceof Query.OfTable) {
                            Span word = query.span();
                            int end = word.start() + "TABLE".length();
                            edits.put(new Span(word.source(), word.start(), end), "SELECT * FROM");
                        }
                    }

                    @Override
                    public void table(TableSource table) {
                        if (table instanceof TableSource.Derived derived) {
                            derived(derived, edits);
                        } else if (table instanceof TableSource.Delta delta) {
                            statement(delta.change(), edits);
                        }
                    }

                    @Override
                    public void found(SqlWalk.Found found) {
                        if (edits.holds(found.expression().span())) {
                            edit(found, edits);
                        }
                    }
                });
        return edits.text();
    }

    // ---------------------------------------------------------------- statements and clauses

    private static void statement(SqlStatement tree, TextEdits edits) {
        if (tree instanceof Change.Delete delete && delete.alias().isPresent()) {
            // The server wants to hear first what the rows are called.
            Span word =
                    new Span(
                            delete.span().source(),
                            delete.span().start(),
                            delete.span().start() + "DELETE".length());
            edits.behind(word, " " + delete.alias().get().span().text());
        } else if (tree instanceof Change.Insert insert) {
            insert(insert, edits);
        }
    }

    private static void insert(Change.Insert insert, TextEdits edits) {
        Span whole = insert.span();
        int end = insert.rows().map(r -> r.span().start()).orElse(whole.end());
        SqlWords words = SqlWords.of(whole.source().text().substring(whole.start(), end));
        int defaults = words.find("DEFAULT", "VALUES");
        if (defaults >= 0 && insert.rows().isEmpty()) {
            edits.put(part(whole, words, defaults, defaults + 2), "() VALUES ()");
        }
        int overriding = words.find("OVERRIDING");
        if (overriding >= 0 && words.sees(overriding + 2, "VALUE")) {
            edits.put(part(whole, words, overriding, overriding + 3), "");
        }
    }

    private static Span part(Span whole, SqlWords words, int from, int to) {
        return new Span(
                whole.source(),
                whole.start() + words.all().get(from).start(),
                whole.start() + words.all().get(to - 1).end());
    }

    /** FOR READ ONLY, which every cursor there is, goes with the blanks before it. */
    private static void locking(Clause clause, TextEdits edits) {
        if (!(clause instanceof Clause.Locking)
                || !SqlWords.of(clause.span().text()).sees(0, "FOR", "READ", "ONLY")) {
            return;
        }
        String source = clause.span().source().text();
        int start = clause.span().start();
        while (start > 0 && Character.isWhitespace(source.charAt(start - 1))) {
            start--;
        }
        edits.put(new Span(clause.span().source(), start, clause.span().end()), "");
    }

    /**
     * {@code (query) AS x (a, b)} (ISO 9075-2, 7.6): only a common table expression can name the
     * columns of a query there.
     */
    private static void derived(TableSource.Derived table, TextEdits edits) {
        if (table.alias().isEmpty() || table.columns().isEmpty()) {
            return;
        }
        String name = table.alias().get().span().text();
        String columns =
                table.columns().stream()
                        .map(c -> c.span().text())
                        .collect(Collectors.joining(", ", "(", ")"));
        SqlWords words = SqlWords.of(table.span().text());
        int open = 0;
        while (!words.sees(open, "(")) {
            open++;
        }
        int close = words.closing(open);
        Span query = part(table.span(), words, open, close + 1);
        Span behind = new Span(query.source(), query.end(), table.span().end());
        edits.around(query, "(WITH " + name + " " + columns + " AS ", "");
        edits.put(behind, " SELECT * FROM " + name + ") AS " + name);
    }

    // ---------------------------------------------------------------- expressions

    private void edit(SqlWalk.Found found, TextEdits edits) {
        Expression e = found.expression();
        if (e instanceof Expression.Cast cast) {
            cast(found, cast, edits);
        } else if (e instanceof Expression.Case choice && NullCases.is(e)) {
            searched(choice, edits);
        } else if (e instanceof Expression.Call call) {
            call(call, edits);
        } else if (e instanceof Expression.IsDistinct test && test.negated()) {
            same(test, edits);
        } else if (e instanceof Expression.Binary binary
                && binary.operator() == Operator.CONCATENATE) {
            bracketed(binary.left(), edits);
            bracketed(binary.right(), edits);
        } else if (e instanceof Expression.Reference reference) {
            reference(reference, edits);
        }
    }

    private static void reference(Expression.Reference reference, TextEdits edits) {
        if (reference.names().size() == 1
                && !reference.names().get(0).delimited()
                && reference.names().get(0).key().equals("CURRENT_SCHEMA")) {
            edits.put(reference.span(), "DATABASE()");
        }
    }

    private void call(Expression.Call call, TextEdits edits) {
        if (call.name().size() > 1 || call.name().get(0).delimited()) {
            return;
        }
        if (MOMENTS.contains(call.key())) {
            SqlWords words = SqlWords.of(call.span().text());
            boolean digits = words.sees(1, "(") && !words.sees(2, ")");
            edits.put(call.span(), moment(call.key(), digits ? words.all().get(2).text() : ""));
        } else if (call.key().equals("REPLACE") && call.arguments().size() == 3) {
            Expression by = call.arguments().get(2).value();
            // REPLACE by NULL is NULL there only where something is replaced.
            if (!isSure(by) && by.span().text().indexOf('?') < 0) {
                edits.around(call.span(), "IF((" + rewritten(by.span()) + ") IS NULL, NULL, ", ")");
            }
        }
    }

    private static boolean isSure(Expression e) {
        return e instanceof Expression.Literal literal
                && literal.kind() != Expression.LiteralKind.NULL;
    }

    /** Comparisons written out, since the server finds nothing behind a value that is NULL. */
    private void searched(Expression.Case choice, TextEdits edits) {
        Span operand = choice.operand().orElseThrow().span();
        if (operand.text().indexOf('?') >= 0) {
            return;
        }
        String said = rewritten(operand);
        edits.put(operand, "");
        for (Expression.When branch : choice.branches()) {
            edits.around(branch.when().span(), "(" + said + ") = (", ")");
        }
    }

    private static void same(Expression.IsDistinct test, TextEdits edits) {
        Span left = test.left().span();
        Span gap = new Span(left.source(), left.end(), test.right().span().start());
        SqlWords words = SqlWords.of(gap.text());
        int is = words.find("IS");
        if (is >= 0) {
            edits.put(part(gap, words, is, is + 4), "<=>");
        }
    }

    /**
     * A sum or product beside {@code ||}, which binds more there than both, and less here and on
     * other servers.
     */
    private static void bracketed(Expression e, TextEdits edits) {
        boolean sum =
                e instanceof Expression.Binary binary && binary.operator().isArithmetic()
                        || e instanceof Expression.Call call && isOperator(call);
        if (sum && !isBracketed(e.span())) {
            edits.around(e.span(), "(", ")");
        }
    }

    /** {@code a % b} and {@code a DIV b}. */
    private static boolean isOperator(Expression.Call call) {
        return call.name().size() == 1
                && call.arguments().size() == 2
                && call.arguments().get(0).span().start() < call.name().get(0).span().start();
    }

    private static boolean isBracketed(Span span) {
        String source = span.source().text();
        int before = span.start() - 1;
        while (before >= 0 && Character.isWhitespace(source.charAt(before))) {
            before--;
        }
        int behind = span.end();
        while (behind < source.length() && Character.isWhitespace(source.charAt(behind))) {
            behind++;
        }
        return before >= 0
                && source.charAt(before) == '('
                && behind < source.length()
                && source.charAt(behind) == ')';
    }

    /**
     * A CAST to a smaller whole type is an error where it does not fit, and one to a shorter text
     * is none, in a change neither; the server has one whole type to cast to, of 64 bits.
     */
    private static void cast(SqlWalk.Found found, Expression.Cast cast, TextEdits edits) {
        if (!(cast.type() instanceof TypeSyntax.Predefined type)) {
            return;
        }
        String name = type.name();
        List<Integer> arguments = type.arguments();
        boolean text = name.equals("VARCHAR") || name.equals("CHAR");
        if (text && arguments.size() == 1) {
            boolean padded = name.equals("CHAR") && KeptBlanks.at(found);
            edits.around(
                    cast.span(),
                    padded ? "RPAD(" : "LEFT(",
                    ", " + arguments.get(0) + (padded ? ", ' ')" : ")"));
            edits.put(type.span(), "CHAR");
            return;
        }
        long most =
                switch (name) {
                    case "SMALLINT" -> Short.MAX_VALUE;
                    case "INTEGER" -> Integer.MAX_VALUE;
                    default -> 0;
                };
        if (most > 0) {
            // What is beyond the type is beyond 64 bits with this added or taken away.
            long far = Long.MAX_VALUE - most;
            edits.around(
                    cast.span(), "(", " + " + far + " - " + far + " - " + far + " + " + far + ")");
        }
        MariaTypeNames.cast(type).ifPresent(own -> edits.put(type.span(), own));
    }

    /**
     * A moment by its standard name.
     *
     * @param precision as written, or empty
     */
    public static String moment(String name, String precision) {
        return switch (name.toUpperCase(Locale.ROOT)) {
            case "CURRENT_TIMESTAMP", "LOCALTIMESTAMP" ->
                    "CURRENT_TIMESTAMP(" + (precision.isEmpty() ? "6" : precision) + ")";
            case "CURRENT_TIME", "LOCALTIME" ->
                    "CURRENT_TIME" + (precision.isEmpty() ? "" : "(" + precision + ")");
            default -> name;
        };
    }
}
