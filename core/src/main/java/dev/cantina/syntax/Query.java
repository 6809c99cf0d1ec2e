package dev.cantina.syntax;

import java.util.List;
import java.util.Optional;

/** A query (ISO 9075-2, 7.12 to 7.17). */
public sealed interface Query extends SqlStatement {
    /** How two queries are put together. */
    enum SetOperator {
        UNION,
        EXCEPT,
        INTERSECT
    }

    /**
     * {@code WITH [RECURSIVE] name AS (…) , … body}.
     *
     * @param body a query, or a change as some databases have it
     */
    record With(Span span, boolean recursive, List<CommonTable> tables, SqlStatement body)
            implements Query {
        public With {
            tables = List.copyOf(tables);
        }
    }

    /** {@code name [(columns)] AS (body)}; the body may be a change. */
    record CommonTable(Span span, Name name, List<Name> columns, SqlStatement body)
            implements Node {
        public CommonTable {
            columns = List.copyOf(columns);
        }
    }

    /** {@code left UNION [ALL] right}. */
    record Combined(Span span, SetOperator operator, boolean all, Query left, Query right)
            implements Query {}

    /** {@code SELECT [DISTINCT] items clauses}, without what stands behind a whole query. */
    record Select(Span span, boolean distinct, List<Item> items, List<Clause> clauses)
            implements Query {
        public Select {
            items = List.copyOf(items);
            clauses = List.copyOf(clauses);
        }

        /** The one clause of a kind; empty where there is none, or more than one. */
        public <C extends Clause> Optional<C> clause(Class<C> kind) {
            return Clause.only(clauses, kind);
        }
    }

    /**
     * A value in a select list.
     *
     * @param alias what the column is called; empty where nothing is said
     */
    record Item(Span span, SqlValue value, Optional<Name> alias) implements Node {
        /** Whether it is {@code *} or {@code t.*}. */
        public boolean isAll() {
            String text = value.span().text();
            String before = text.endsWith("*") ? text.substring(0, text.length() - 1).strip() : "-";
            return before.isEmpty() || before.endsWith(".");
        }
    }

    /** {@code VALUES row, …}: the values of each row. */
    record Values(Span span, List<List<SqlValue>> rows) implements Query {
        public Values {
            rows = List.copyOf(rows);
        }
    }

    /** {@code TABLE t}. */
    record OfTable(Span span, List<TableSource> tables) implements Query {
        public OfTable {
            tables = List.copyOf(tables);
        }
    }

    /** {@code (query)}. */
    record Bracketed(Span span, SqlStatement inner) implements Query {}

    /** A query with what stands behind it: ORDER BY, OFFSET, FETCH, FOR. */
    record Ordered(Span span, Query inner, List<Clause> clauses) implements Query {
        public Ordered {
            clauses = List.copyOf(clauses);
        }

        /** The one clause of a kind; empty where there is none, or more than one. */
        public <C extends Clause> Optional<C> clause(Class<C> kind) {
            return Clause.only(clauses, kind);
        }
    }
}
