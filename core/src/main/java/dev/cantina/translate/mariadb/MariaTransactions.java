package dev.cantina.translate.mariadb;

import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.CursorSymbol;
import dev.cantina.binding.Walker;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.Statement.TransactionVerb;
import dev.cantina.translate.Effects;
import dev.cantina.translate.UnsupportedConstructException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * Transaction statements, and what tells the others of them: whether START TRANSACTION is welcome,
 * and which cursors an end closes.
 */
final class MariaTransactions {
    /** The transaction has no changes now. */
    static final String CLEAN = "SET @cantina_clean = IF(@cantina_clean IS NULL, NULL, TRUE)";

    private static final String CLOSED =
            "BEGIN DECLARE CONTINUE HANDLER FOR 1326 BEGIN END; CLOSE %s; END";

    private final MariaBody body;
    private final MariaExpressions words;
    private final Effects effects;
    private Optional<Boolean> reaches = Optional.empty();

    MariaTransactions(MariaBody body, MariaExpressions words, Effects effects) {
        this.body = body;
        this.words = words;
        this.effects = effects;
    }

    /**
     * After a change: START TRANSACTION is not welcome any more.
     *
     * @param unless where that has changed nothing
     */
    void mark(List<String> after, Span span, String unless) {
        if (startsAfter(span)) {
            after.add(
                    0,
                    "SET @cantina_clean = IF(@cantina_clean IS NULL OR "
                            + unless
                            + ", @cantina_clean, FALSE)");
            if (after.size() > 1 && after.get(1).startsWith("SET cantina_rows = ROW_COUNT()")) {
                after.add(after.remove(0));
            }
        }
    }

    /** Whether a START TRANSACTION may be run after a place: it stands behind it, or goes round. */
    boolean startsAfter(Span span) {
        if (!reachesStart()) {
            return false;
        }
        boolean[] found = {false};
        Walker.statements(
                body.routine().body(),
                s -> {
                    boolean loop =
                            s instanceof BoundStatement.While
                                    || s instanceof BoundStatement.Repeat
                                    || s instanceof BoundStatement.For;
                    boolean handlers =
                            s instanceof BoundStatement.Block block
                                    && block.handlers().stream().anyMatch(h -> begins(h.body()));
                    found[0] |=
                            (loop && begins(s))
                                    || handlers
                                    || starts(s) && body.span(s.at()).start() > span.start();
                });
        return found[0];
    }

    private boolean begins(BoundStatement s) {
        boolean[] found = {false};
        Walker.statements(s, inner -> found[0] |= starts(inner));
        return found[0];
    }

    private boolean starts(BoundStatement s) {
        return s instanceof BoundStatement.Transaction t && t.verb() == TransactionVerb.START
                || s instanceof BoundStatement.Call call
                        && effects.beginsTransactions(call.routine());
    }

    /** Whether START TRANSACTION stands in it, or in something that it calls. */
    boolean reachesStart() {
        if (reaches.isEmpty()) {
            reaches = Optional.of(body.isOutside() && effects.beginsTransactions(body.routine()));
        }
        return reaches.get();
    }

    void transaction(BoundStatement.Transaction transaction, Span span, boolean listed) {
        boolean barred = !body.isOutside() || body.blocks().isAtomic();
        if (barred) {
            body.edits()
                    .put(
                            span,
                            "SIGNAL SQLSTATE '2D000' SET MESSAGE_TEXT ="
                                    + " 'a transaction statement is not allowed here'");
            return;
        }
        if (!transaction.modes().isBlank()
                && !transaction.modes().strip().equalsIgnoreCase("READ WRITE")) {
            throw new UnsupportedConstructException(
                    span, "the modes of a transaction that runs already");
        }
        List<String> after = new ArrayList<>();
        String savepoint = transaction.savepoint().map(words.names()::of).orElse("");
        String text =
                switch (transaction.verb()) {
                    case START -> "CALL cantina_may_begin()";
                    case SET ->
                            throw new UnsupportedConstructException(
                                    span, "the modes of a transaction that runs already");
                    case COMMIT -> "COMMIT AND CHAIN";
                    case ROLLBACK -> "ROLLBACK AND CHAIN";
                    case SAVEPOINT -> "SAVEPOINT " + savepoint;
                    case ROLLBACK_TO -> "ROLLBACK TO SAVEPOINT " + savepoint;
                    case RELEASE -> "RELEASE SAVEPOINT " + savepoint;
                };
        body.edits().put(span, text);
        boolean ends =
                transaction.verb() == TransactionVerb.COMMIT
                        || transaction.verb() == TransactionVerb.ROLLBACK;
        List<String> before = new ArrayList<>();
        if (transaction.verb() == TransactionVerb.COMMIT) {
            // In the same transaction: a ROLLBACK of the next would bring the rows back.
            emptied(before);
        }
        if (ends) {
            closed(transaction, after);
        }
        if (ends && startsAfter(span)) {
            after.add(CLEAN);
        }
        body.surround(span, before, after, listed);
    }

    /** The end of a transaction closes cursors, which the server leaves open. */
    private void closed(BoundStatement.Transaction transaction, List<String> after) {
        int end = body.span(transaction.at()).start();
        Walker.statements(
                body.routine().body(),
                s -> {
                    if (s instanceof BoundStatement.Block block
                            && MariaBlocks.holds(block, transaction)) {
                        block.cursors().stream()
                                .filter(c -> c.lifetime() == CursorSymbol.Lifetime.TRANSACTION)
                                .filter(c -> !c.returned() && canBeOpen(c, block, end))
                                .map(c -> words.names().of(c.name()))
                                .forEach(c -> after.add(CLOSED.formatted(c)));
                    }
                });
    }

    void keptOpen(BoundStatement.Call call, Span span) {
        Walker.statements(
                body.routine().body(),
                s -> {
                    if (s instanceof BoundStatement.Block block
                            && MariaBlocks.holds(block, call)
                            && block.cursors().stream()
                                    .filter(c -> c.lifetime() == CursorSymbol.Lifetime.TRANSACTION)
                                    .anyMatch(c -> canBeOpen(c, block, span.start()))) {
                        throw new UnsupportedConstructException(
                                span,
                                "this ends the transaction, and MariaDB would leave a cursor open;"
                                        + " declare it WITH HOLD");
                    }
                });
    }

    /** Whether a cursor can be open where a statement begins. */
    private boolean canBeOpen(CursorSymbol cursor, BoundStatement.Block block, int at) {
        boolean[] open = {false};
        Walker.statements(
                block,
                s -> {
                    boolean before = s.at() >= 0 && body.span(s.at()).start() < at;
                    boolean loop =
                            s instanceof BoundStatement.While
                                    || s instanceof BoundStatement.Repeat
                                    || s instanceof BoundStatement.For;
                    if (loop && before && body.span(s.at()).end() > at) {
                        Walker.statements(
                                s,
                                inner ->
                                        open[0] |=
                                                inner instanceof BoundStatement.Open o
                                                        && o.cursor() == cursor);
                    } else if (before && s instanceof BoundStatement.Open o) {
                        open[0] |= o.cursor() == cursor;
                    } else if (before && s instanceof BoundStatement.Close c) {
                        open[0] &= c.cursor() != cursor;
                    }
                });
        return open[0];
    }

    /** The tables of blocks whose rows a COMMIT takes away. */
    private void emptied(List<String> after) {
        Walker.statements(
                body.routine().body(),
                s -> {
                    if (s instanceof BoundStatement.Block block) {
                        block.tables().stream()
                                .filter(t -> !t.preserve())
                                .forEach(
                                        t ->
                                                after.add(
                                                        "DELETE FROM "
                                                                + words.names()
                                                                        .of(
                                                                                t.table()
                                                                                        .name()
                                                                                        .toLowerCase(
                                                                                                Locale
                                                                                                        .ROOT))));
                    }
                });
    }
}
