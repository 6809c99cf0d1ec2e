package dev.cantina.syntax;

import java.util.List;
import java.util.Optional;

/** A statement that changes rows (ISO 9075-2, 14.9 to 14.15). */
public sealed interface Change extends SqlStatement {
    /** The name of the table that is changed, with its schema. */
    List<Name> table();

    /** The clauses behind what is changed, WHERE among them. */
    List<Clause> clauses();

    /** The one clause of a kind; empty where there is none, or more than one. */
    default <C extends Clause> Optional<C> clause(Class<C> kind) {
        return Clause.only(clauses(), kind);
    }

    /**
     * {@code INSERT INTO table [(columns)] rows}.
     *
     * @param rows VALUES or a query; empty for DEFAULT VALUES, and where it is not known
     */
    record Insert(
            Span span,
            List<Name> table,
            List<Name> columns,
            Optional<Query> rows,
            List<Clause> clauses)
            implements Change {
        public Insert {
            table = List.copyOf(table);
            columns = List.copyOf(columns);
            clauses = List.copyOf(clauses);
        }
    }

    /** {@code UPDATE table [AS alias] SET assignments clauses}. */
    record Update(
            Span span,
            List<Name> table,
            Optional<Name> alias,
            List<Assignment> assignments,
            List<Clause> clauses)
            implements Change {
        public Update {
            table = List.copyOf(table);
            assignments = List.copyOf(assignments);
            clauses = List.copyOf(clauses);
        }
    }

    /** {@code column = value}, or {@code (column, …) = value}; each column with its qualifiers. */
    record Assignment(Span span, List<List<Name>> columns, SqlValue value) implements Node {
        public Assignment {
            columns = List.copyOf(columns);
        }
    }

    /** {@code DELETE FROM table [AS alias] clauses}. */
    record Delete(Span span, List<Name> table, Optional<Name> alias, List<Clause> clauses)
            implements Change {
        public Delete {
            table = List.copyOf(table);
            clauses = List.copyOf(clauses);
        }
    }

    /** {@code MERGE INTO table [AS alias] USING source ON condition branches}. */
    record Merge(
            Span span,
            List<Name> table,
            Optional<Name> alias,
            Optional<TableSource> source,
            Optional<SqlValue> on,
            List<Branch> branches,
            List<Clause> clauses)
            implements Change {
        public Merge {
            table = List.copyOf(table);
            branches = List.copyOf(branches);
            clauses = List.copyOf(clauses);
        }
    }

    /** What a branch of MERGE does. */
    enum Action {
        UPDATE,
        INSERT,
        DELETE,
        NOTHING
    }

    /**
     * {@code WHEN [NOT] MATCHED [AND condition] THEN action}.
     *
     * @param assignments of an UPDATE
     * @param values of an INSERT
     */
    record Branch(
            Span span,
            boolean matched,
            Optional<SqlValue> condition,
            Action action,
            List<Assignment> assignments,
            List<Name> columns,
            List<SqlValue> values)
            implements Node {
        public Branch {
            assignments = List.copyOf(assignments);
            columns = List.copyOf(columns);
            values = List.copyOf(values);
        }
    }

    /** {@code TRUNCATE TABLE table …}. */
    record Truncate(Span span, List<Name> table, List<Clause> clauses) implements Change {
        public Truncate {
            table = List.copyOf(table);
            clauses = List.copyOf(clauses);
        }
    }
}
