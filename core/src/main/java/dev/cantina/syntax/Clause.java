package dev.cantina.syntax;

import java.util.List;
import java.util.Optional;

/** A clause of a query or a change, in the order in which they are written. */
public sealed interface Clause extends Node {
    record From(Span span, List<TableSource> tables) implements Clause {
        public From {
            tables = List.copyOf(tables);
        }
    }

    record Where(Span span, SqlValue condition) implements Clause {}

    /** {@code WHERE CURRENT OF cursor}. */
    record CurrentOf(Span span, Name cursor) implements Clause {}

    record GroupBy(Span span, List<SqlValue> values) implements Clause {
        public GroupBy {
            values = List.copyOf(values);
        }
    }

    record Having(Span span, SqlValue condition) implements Clause {}

    /** {@code WINDOW name AS (…), …}. */
    record Windows(Span span, List<SqlValue> windows) implements Clause {
        public Windows {
            windows = List.copyOf(windows);
        }
    }

    /** Where the targets of a query stand. */
    record Into(Span span) implements Clause {}

    record OrderBy(Span span, List<SortKey> keys) implements Clause {
        public OrderBy {
            keys = List.copyOf(keys);
        }
    }

    /**
     * A value by which rows are sorted.
     *
     * @param descending whether DESC is said
     * @param nullsFirst what NULLS says; empty where it is not said
     */
    record SortKey(Span span, SqlValue value, boolean descending, Optional<Boolean> nullsFirst)
            implements Node {}

    record Offset(Span span, SqlValue count) implements Clause {}

    /**
     * {@code FETCH FIRST [count] ROWS ONLY}, and LIMIT of one number.
     *
     * @param count how many rows; empty for one
     * @param exact whether it is neither PERCENT nor WITH TIES
     */
    record Fetch(Span span, Optional<SqlValue> count, boolean exact) implements Clause {
        /** Whether one row at most is left. */
        public boolean isOne() {
            return exact && count.map(c -> c.span().text().equals("1")).orElse(true);
        }
    }

    /** {@code FOR UPDATE}, {@code FOR READ ONLY} and their like. */
    record Locking(Span span) implements Clause {}

    record Returning(Span span, List<Query.Item> items) implements Clause {
        public Returning {
            items = List.copyOf(items);
        }
    }

    /**
     * A clause that is not known.
     *
     * @param value what stands behind its first word
     */
    record Opaque(Span span, SqlValue value) implements Clause {}

    /** The one of a kind; empty where there is none, or more than one. */
    static <C extends Clause> Optional<C> only(List<Clause> clauses, Class<C> kind) {
        List<C> all = clauses.stream().filter(kind::isInstance).map(kind::cast).toList();
        return all.size() == 1 ? Optional.of(all.get(0)) : Optional.empty();
    }
}
