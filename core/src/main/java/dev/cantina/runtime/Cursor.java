package dev.cantina.runtime;

import dev.cantina.binding.CursorSymbol;
import dev.cantina.types.ConditionException;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/**
 * An open cursor (ISO 9075-2, 4.38), on a result that was read when it was opened, so that no later
 * change is seen through it.
 */
public final class Cursor {
    private final CursorSymbol symbol;
    private final ResultRows result;

    /** The transaction's count when it was opened. */
    private final long opened;

    private List<Object> identities = List.of();

    /**
     * The row it stands on, from 1; 0 is before the first, one more than there are after the last.
     */
    private int position;

    /** Whether the row that it stood on was deleted through it. */
    private boolean deleted;

    Cursor(CursorSymbol symbol, ResultRows result, long opened) {
        this.symbol = symbol;
        this.result = result;
        this.opened = opened;
    }

    /** A cursor whose last column identifies its rows, and is not one of its values. */
    static Cursor identified(CursorSymbol symbol, ResultRows result, long opened) {
        int width = result.columns().size() - 1;
        List<Object[]> rows = new ArrayList<>();
        List<Object> identities = new ArrayList<>();
        for (Object[] row : result.rows()) {
            rows.add(Arrays.copyOf(row, width));
            identities.add(row[width]);
        }
        Cursor cursor =
                new Cursor(
                        symbol, new ResultRows(result.columns().subList(0, width), rows), opened);
        cursor.identities = identities;
        return cursor;
    }

    /** What identifies the row that it stands on. */
    Object identity() {
        if (position < 1 || position > size() || deleted) {
            throw new ConditionException(
                    "24000", "cursor " + name() + " stands on no row; FETCH one first");
        }
        return identities.get(position - 1);
    }

    /** The row that it stands on is no more: it stands before the next one. */
    void rowDeleted() {
        deleted = true;
    }

    /** The row that it stands on is known by something else now. */
    void rowMoved(Object identity) {
        identities.set(position - 1, identity);
    }

    /** Whether COMMIT closes it. */
    boolean endsWithTransaction() {
        return symbol.lifetime() == CursorSymbol.Lifetime.TRANSACTION;
    }

    /** Whether taking back all that came after the transaction's count closes it. */
    boolean isTakenBack(long count) {
        return symbol.lifetime() != CursorSymbol.Lifetime.LOOP && opened > count;
    }

    public String name() {
        return symbol.name();
    }

    boolean isReturned() {
        return symbol.returned();
    }

    public int position() {
        return position;
    }

    public List<SqlType.Field> columns() {
        return result.columns();
    }

    /** The row it stands on; null where it stands on none. */
    public Object[] row() {
        return position >= 1 && position <= size() ? result.rows().get(position - 1) : null;
    }

    public int size() {
        return result.rows().size();
    }

    /** The next row, or null past the end. */
    Object[] next() {
        return moveTo(position + 1L);
    }

    /** Moves as FETCH says, and gives the row, or null where there is none. */
    Object[] fetch(String orientation, long offset) {
        return switch (orientation) {
            case "PRIOR" -> moveTo(position - 1L);
            case "FIRST" -> moveTo(1);
            case "LAST" -> moveTo(size());
            case "ABSOLUTE" -> moveTo(offset < 0 ? size() + 1L + offset : offset);
            case "RELATIVE" -> moveTo(position + offset);
            default -> next();
        };
    }

    private Object[] moveTo(long wanted) {
        deleted = false;
        position = (int) Math.max(0, Math.min(size() + 1L, wanted));
        boolean there = position >= 1 && position <= size();
        return there ? ((Object[]) Support.copy(result.rows().get(position - 1))) : null;
    }

    /** What has not been fetched yet: what a caller gets of a cursor left open. */
    ResultRows rest() {
        List<Object[]> rows = result.rows().subList(Math.min(position, size()), size());
        return new ResultRows(result.columns(), List.copyOf(rows));
    }
}
