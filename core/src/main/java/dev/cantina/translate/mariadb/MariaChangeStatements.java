package dev.cantina.translate.mariadb;

import dev.cantina.binding.BoundSql;
import dev.cantina.binding.BoundStatement;
import dev.cantina.facts.RowFacts;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlText;
import dev.cantina.syntax.SqlWords;
import dev.cantina.translate.Effects;
import dev.cantina.translate.Handlers;
import dev.cantina.translate.KeyUpdates;
import dev.cantina.translate.UnsupportedConstructException;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;

/** Changes of rows, which are counted where somebody asks. */
final class MariaChangeStatements {
    private final MariaBody body;
    private final MariaExpressions words;
    private final Effects effects;
    private final MariaTransactions transactions;

    MariaChangeStatements(
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
            throw new UnsupportedConstructException(
                    span, "MariaDB ends the transaction at a schema statement");
        }
        String text = words.of(sql);
        boolean none = !RowFacts.insertsSome(sql).isYes() && around.completion("02000").isPresent();
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
        body.edits().put(span, goesOn ? countedWhole(text, update, span) : text);
        body.surround(span, before, after, listed);
        KeyUpdates.refuse(sql, words.catalog(), span, "MariaDB");
        boolean several = !isOfOneRow(sql) && !RowFacts.insertsOne(sql).isYes();
        if (several && sql.scope().tables().stream().anyMatch(this::refersToItself)) {
            throw new UnsupportedConstructException(
                    span,
                    "MariaDB looks at the rows one by one, and rows of this table refer to each other");
        }
    }

    private boolean refersToItself(SqlText.TableUse use) {
        return use.role() != SqlText.Role.READ
                && !use.names().isEmpty()
                && words.catalog()
                        .table(use.names().get(use.names().size() - 1))
                        .filter(dev.cantina.catalog.Table::refersToItself)
                        .isPresent();
    }

    /** Whether a change is of one row at most, and sets nothing else off. */
    boolean isOfOneRow(BoundSql sql) {
        Set<String> changed = new HashSet<>();
        sql.scope().tables().forEach(t -> t.names().forEach(n -> changed.add(n.key())));
        boolean fires =
                words.catalog().triggers().stream()
                        .anyMatch(t -> changed.contains(t.table().key()));
        boolean one =
                RowFacts.insertsOne(sql).isYes()
                        || RowFacts.changesAtMostOne(sql, words.catalog()).isYes();
        return one && !fires;
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

    /**
     * How many rows an UPDATE finds: what the server counts afterwards are those alone that it made
     * another.
     */
    private String counting(String update, String rows, Span span) {
        SqlWords words = SqlWords.of(update);
        int set = words.find("SET");
        int where = words.findFrom(set, "WHERE");
        int order = Math.max(words.find("ORDER"), words.find("LIMIT"));
        if (set < 0 || !words.sees(0, "UPDATE") || order >= 0) {
            throw new UnsupportedConstructException(
                    span, "what this changes can't be counted on MariaDB");
        }
        String table = words.between(1, set);
        String condition = where < 0 ? "" : " " + words.between(where, words.all().size());
        return "SELECT COUNT(*) INTO " + rows + " FROM " + table + condition + " FOR UPDATE";
    }
}
