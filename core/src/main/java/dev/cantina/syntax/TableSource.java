package dev.cantina.syntax;

import java.util.List;
import java.util.Optional;

/** What a FROM clause takes rows from (ISO 9075-2, 7.6 and 7.10). */
public sealed interface TableSource extends Node {
    /** How two tables are joined; UNKNOWN is a row of words that the standard does not have. */
    enum JoinKind {
        INNER,
        LEFT,
        RIGHT,
        FULL,
        CROSS,
        UNKNOWN
    }

    /**
     * A table by its name.
     *
     * @param names its name with its schema
     */
    record Named(Span span, List<Name> names, Optional<Name> alias, List<Name> columns)
            implements TableSource {
        public Named {
            names = List.copyOf(names);
            columns = List.copyOf(columns);
        }

        /** The name without a schema. */
        public Name name() {
            return names.get(names.size() - 1);
        }

        /** What its columns can be qualified by. */
        public Name known() {
            return alias.orElseGet(this::name);
        }
    }

    /** {@code [LATERAL] (query) [AS alias (columns)]}. */
    record Derived(
            Span span,
            boolean lateral,
            SqlStatement query,
            Optional<Name> alias,
            List<Name> columns)
            implements TableSource {
        public Derived {
            columns = List.copyOf(columns);
        }
    }

    /** A function that gives rows, with UNNEST and its like. */
    record OfFunction(Span span, SqlValue call, Optional<Name> alias, List<Name> columns)
            implements TableSource {
        public OfFunction {
            columns = List.copyOf(columns);
        }
    }

    /** {@code FINAL | NEW | OLD TABLE (change)}. */
    record Delta(Span span, String which, SqlStatement change, Optional<Name> alias)
            implements TableSource {}

    /**
     * {@code left [kind] JOIN right [ON condition | USING (columns)]}.
     *
     * @param natural whether NATURAL is said
     */
    record Join(
            Span span,
            TableSource left,
            JoinKind kind,
            boolean natural,
            TableSource right,
            Optional<SqlValue> on,
            List<Name> using)
            implements TableSource {
        public Join {
            using = List.copyOf(using);
        }
    }

    /** Joined tables in brackets. */
    record Bracketed(Span span, List<TableSource> tables) implements TableSource {
        public Bracketed {
            tables = List.copyOf(tables);
        }
    }
}
