package dev.cantina.syntax;

import java.util.List;
import java.util.Optional;

/** A statement of a routine (ISO 9075-4, clause 14 and 15). */
public sealed interface Statement extends Node {
    /** {@code [label:] BEGIN [[NOT] ATOMIC] declarations statements END [label]}. */
    record Compound(
            Span span,
            Optional<Name> label,
            boolean atomic,
            List<Declaration> declarations,
            List<Statement> statements)
            implements Statement {
        public Compound {
            declarations = List.copyOf(declarations);
            statements = List.copyOf(statements);
        }
    }

    /** {@code SET target = value}. */
    record Set(Span span, Target target, Expression value) implements Statement {}

    /** {@code SET (a, b) = (e1, e2)} or {@code = (SELECT …)}. */
    record SetSeveral(
            Span span, List<Target> targets, List<Expression> values, Optional<SqlText> query)
            implements Statement {}

    /** What can be assigned to: a variable, an element of it, a field of it. */
    record Target(Span span, List<Name> names, Optional<Expression> index, Optional<Name> field)
            implements Node {
        public Target(Span span, List<Name> names, Optional<Expression> index) {
            this(span, names, index, Optional.empty());
        }

        public Target {
            names = List.copyOf(names);
        }
    }

    /** {@code SELECT … INTO targets FROM …}. */
    record SelectInto(Span span, List<Target> targets, SqlText query) implements Statement {}

    record If(Span span, List<Branch> branches, Optional<List<Statement>> otherwise)
            implements Statement {
        public If {
            branches = List.copyOf(branches);
        }
    }

    /** A condition with the statements that it guards. */
    record Branch(Span span, Expression condition, List<Statement> statements) implements Node {
        public Branch {
            statements = List.copyOf(statements);
        }
    }

    /** A CASE statement, simple where it has an operand. */
    record Case(
            Span span,
            Optional<Expression> operand,
            List<Branch> branches,
            Optional<List<Statement>> otherwise)
            implements Statement {}

    record While(Span span, Optional<Name> label, Expression condition, List<Statement> statements)
            implements Statement {}

    record Repeat(Span span, Optional<Name> label, List<Statement> statements, Expression condition)
            implements Statement {}

    record Loop(Span span, Optional<Name> label, List<Statement> statements) implements Statement {}

    /** {@code FOR row AS [cursor CURSOR FOR] query DO … END FOR}. */
    record For(
            Span span,
            Optional<Name> label,
            Name row,
            Optional<Name> cursor,
            SqlText query,
            List<Statement> statements)
            implements Statement {
        public For {
            statements = List.copyOf(statements);
        }
    }

    record Leave(Span span, Name label) implements Statement {}

    record Iterate(Span span, Name label) implements Statement {}

    record Call(Span span, List<Name> name, List<Expression.Argument> arguments)
            implements Statement {
        public Call {
            name = List.copyOf(name);
            arguments = List.copyOf(arguments);
        }
    }

    record Return(Span span, Optional<Expression> value) implements Statement {}

    /** {@code RETURN TABLE (query)}. */
    record ReturnTable(Span span, SqlText query) implements Statement {}

    /** {@code SIGNAL}, or {@code RESIGNAL} with or without a state of its own. */
    record Signal(
            Span span,
            boolean resignal,
            Optional<String> sqlstate,
            Optional<Name> condition,
            List<SignalItem> items)
            implements Statement {
        public Signal {
            items = List.copyOf(items);
        }
    }

    /** {@code MESSAGE_TEXT = e}. */
    record SignalItem(Span span, Name item, Expression value) implements Node {}

    /**
     * {@code GET [CURRENT | STACKED] DIAGNOSTICS …}.
     *
     * @param condition the number of the condition, where condition items are asked for
     */
    record GetDiagnostics(
            Span span, boolean stacked, Optional<Expression> condition, List<DiagnosticsItem> items)
            implements Statement {
        public GetDiagnostics {
            items = List.copyOf(items);
        }
    }

    /** {@code target = ROW_COUNT}. */
    record DiagnosticsItem(Span span, Target target, Name item) implements Node {}

    /** What a transaction statement does. */
    enum TransactionVerb {
        START,
        SET,
        COMMIT,
        ROLLBACK,
        SAVEPOINT,
        ROLLBACK_TO,
        RELEASE
    }

    /**
     * A transaction statement.
     *
     * @param savepoint for the three that name one
     * @param modes isolation and access as written, for START and SET
     * @param chain whether AND CHAIN is said
     */
    record Transaction(
            Span span, TransactionVerb verb, Optional<Name> savepoint, String modes, boolean chain)
            implements Statement {}

    record Report(Span span, List<Expression> items) implements Statement {}

    /** {@code OPEN cursor [USING …]}. */
    record Open(Span span, Name cursor, List<Expression> using) implements Statement {}

    /** {@code PREPARE name FROM text}. */
    record Prepare(Span span, Name name, Expression text) implements Statement {}

    /** {@code EXECUTE name [INTO …] [USING …]}. */
    record Execute(Span span, Name name, List<Target> targets, List<Expression> using)
            implements Statement {}

    /** {@code EXECUTE IMMEDIATE text}. */
    record ExecuteImmediate(Span span, Expression text) implements Statement {}

    /** {@code DEALLOCATE PREPARE name}. */
    record Deallocate(Span span, Name name) implements Statement {}

    /** {@code FETCH [orientation] FROM cursor INTO targets}. */
    record Fetch(
            Span span,
            String orientation,
            Optional<Expression> offset,
            Name cursor,
            List<Target> targets)
            implements Statement {}

    record Close(Span span, Name cursor) implements Statement {}

    /** A statement that the database executes, or a query whose rows go to the caller. */
    record Data(Span span, SqlText sql) implements Statement {}
}
