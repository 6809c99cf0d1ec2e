package dev.cantina.deploy;

import dev.cantina.check.BoundSql;
import dev.cantina.check.BoundStatement;
import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.List;

/** Changes of rows, which are counted where somebody asks. */
final class MariaChanges {
    private final MariaBody body;
    private final MariaExpressions words;
    private final Effects effects;
    private final MariaTransactions transactions;

    MariaChanges(
            MariaBody body,
            MariaExpressions words,
            Effects effects,
            MariaTransactions transactions) {
        this.body = body;
        this.words = words;
        this.effects = effects;
        this.transactions = transactions;
    }

    void execute(BoundStatement.Execute execute, Handlers around, boolean listed) {
        BoundSql sql = execute.sql();
        Span span = body.span(execute.at());
        boolean schema = !sql.changesRows();
        if (schema) {
            throw new Refusal(span, "MariaDB ends the transaction at a schema statement");
        }
        String text = words.of(sql);
        boolean none = mayChangeNone(sql) && around.completion("02000").isPresent();
        List<String> before = new ArrayList<>();
        List<String> after = new ArrayList<>();
        boolean update = sql.verb().equals("UPDATE");
        boolean asked = body.asksRows();
        boolean goesOn =
                asked
                        && around.exceptions(effects.raisesItself(execute)).stream()
                                .anyMatch(a -> !a.isExit());
        if (goesOn) {
            before.add("SET cantina_rows = 0");
            if (none) {
                after.add("IF cantina_rows = 0 THEN SIGNAL SQLSTATE '02000'; END IF");
            }
        } else if (update && (none || asked)) {
            String rows = asked ? "cantina_rows" : "@cantina_rows";
            before.add(counting(text, rows, span));
            if (none) {
                after.add("IF " + rows + " = 0 THEN SIGNAL SQLSTATE '02000'; END IF");
            }
        } else {
            if (asked) {
                after.add("SET cantina_rows = ROW_COUNT()");
            }
            if (none) {
                after.add(
                        "IF "
                                + (asked ? "cantina_rows" : "ROW_COUNT()")
                                + " = 0 THEN SIGNAL SQLSTATE '02000'; END IF");
            }
        }
        transactions.mark(after, span, asked ? "cantina_rows = 0" : "ROW_COUNT() = 0");
        body.splice().put(span, goesOn ? countedWhole(text, update, span) : text);
        body.surround(span, before, after, listed);
        KeyUpdates.refuse(sql, words.catalog(), span, "MariaDB");
    }

    /** A change that is counted only where it does not fail, after which a handler goes on. */
    private String countedWhole(String text, boolean update, Span span) {
        List<String> all = new ArrayList<>();
        all.add("DECLARE cantina_found integer");
        all.add(MariaBody.PASS_ON.formatted("SQLEXCEPTION"));
        if (update) {
            all.add(counting(text, "cantina_found", span));
        }
        all.add(text);
        all.add("SET cantina_rows = " + (update ? "cantina_found" : "ROW_COUNT()"));
        return MariaBody.block(all, body.indent(span));
    }

    private static boolean mayChangeNone(BoundSql sql) {
        return !sql.verb().equals("INSERT")
                || sql.source().span().text().matches("(?is).*\\b(SELECT|TABLE|WITH)\\b.*");
    }

    /**
     * How many rows an UPDATE finds: what the server counts afterwards are those alone that it made
     * another.
     */
    private String counting(String update, String rows, Span span) {
        int set = keyword(update, "SET", 0);
        int where = keyword(update, "WHERE", set);
        if (set < 0 || !update.regionMatches(true, 0, "UPDATE", 0, 6)) {
            throw new Refusal(span, "what this changes can't be counted on MariaDB");
        }
        String table = update.substring(6, set).strip();
        String condition = where < 0 ? "" : " " + update.substring(where).strip();
        return "SELECT COUNT(*) INTO " + rows + " FROM " + table + condition + " FOR UPDATE";
    }

    /** Where a word stands outside brackets and quotes; -1 where it does not. */
    private static int keyword(String text, String word, int from) {
        int depth = 0;
        char quote = 0;
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            if (quote != 0) {
                quote = c == quote ? 0 : quote;
            } else if (c == '\'' || c == '"' || c == '`') {
                quote = c;
            } else if (c == '(') {
                depth++;
            } else if (c == ')') {
                depth--;
            } else if (depth == 0
                    && i >= from
                    && text.regionMatches(true, i, word, 0, word.length())
                    && (i == 0 || !Character.isJavaIdentifierPart(text.charAt(i - 1)))
                    && (i + word.length() == text.length()
                            || !Character.isJavaIdentifierPart(text.charAt(i + word.length())))) {
                return i;
            }
        }
        return -1;
    }
}
