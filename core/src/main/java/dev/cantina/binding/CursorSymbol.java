package dev.cantina.binding;

import dev.cantina.syntax.Span;
import dev.cantina.types.SqlType;
import java.util.List;
import java.util.Optional;

/**
 * A cursor, at its slot among the cursors of the frame.
 *
 * @param query what it runs over; empty where that is a prepared statement
 * @param statement the name of the prepared statement
 * @param columns the columns of its query; empty where they are not known
 */
public record CursorSymbol(
        int slot,
        String name,
        boolean scroll,
        Lifetime lifetime,
        boolean returned,
        Optional<BoundSql> query,
        Optional<String> statement,
        List<SqlType.Field> columns,
        Positioning positioning,
        Span span) {
    /** How long it stays open, where nobody closes it before (ISO 9075-2, 4.38). */
    public enum Lifetime {
        /** Till COMMIT or ROLLBACK. */
        TRANSACTION,
        /** WITH HOLD: over COMMIT, till the ROLLBACK of the transaction that opened it. */
        HELD,
        /** A FOR loop's own: till the loop ends. */
        LOOP
    }

    /** Whether a statement changes the row that the cursor stands on, which must then be known. */
    public static final class Positioning {
        private BoundSql query;

        /** The cursor's query, with the identity of its row as one more column. */
        public Optional<BoundSql> query() {
            return Optional.ofNullable(query);
        }

        void use(BoundSql identifying) {
            query = identifying;
        }
    }
}
