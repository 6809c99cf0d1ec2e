package dev.cantina.binding;

import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.syntax.Declaration.HandledKind;
import dev.cantina.syntax.Declaration.HandlerAction;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.Statement.TransactionVerb;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * A statement whose names and types are known. {@code at} is its number in the routine (see {@link
 * BoundRoutine#places()}).
 */
public sealed interface BoundStatement {
    int at();

    /**
     * The statements right inside it, each row of those that follow each other on its own; handlers
     * and defaults left out.
     */
    default List<List<BoundStatement>> rows() {
        return List.of();
    }

    /** Where an assigned value goes. */
    sealed interface Target {
        /** The variable of the frame that it is, or is part of. */
        Variable variable();

        /** The whole variable. */
        record Whole(Variable variable) implements Target {}

        /** A field of a row variable, counted from 0. */
        record OfRow(Variable variable, int field) implements Target {}

        /** An element of an array variable, counted from 1. */
        record OfArray(Variable variable, BoundExpression index) implements Target {}

        /** A field, counted from 0, of an element that is a row. */
        record OfElement(Variable variable, BoundExpression index, int field) implements Target {}

        /**
         * A variable of a module; {@code variable} is a hidden one that holds the value on its way.
         */
        record OfModule(Variable variable, ModuleSymbol module, int index) implements Target {}
    }

    /** A target with the value for it, which has the target's type. */
    record Assignment(Target target, BoundExpression value) {}

    /** {@code initial} are the defaults of the block's variables. */
    record Block(
            int at,
            JumpTarget target,
            boolean atomic,
            List<BoundStatement> initial,
            List<Handler> handlers,
            List<CursorSymbol> cursors,
            List<DeclaredTable> tables,
            List<BoundStatement> statements)
            implements BoundStatement {
        @Override
        public List<List<BoundStatement>> rows() {
            return List.of(statements);
        }
    }

    record Handler(
            int number,
            HandlerAction action,
            List<Handled> conditions,
            BoundStatement body,
            Span span) {}

    /**
     * What a handler takes; {@code sqlstate} for a state, {@code name} for a stateless condition.
     */
    record Handled(HandledKind kind, String sqlstate, String name) {}

    /** All values are worked out before any is stored. */
    record Assign(int at, List<Assignment> assignments) implements BoundStatement {}

    /** SELECT INTO, and SET of several variables from a query. */
    record SelectInto(int at, List<Target> targets, BoundSql query, boolean select)
            implements BoundStatement {}

    record If(int at, List<Branch> branches, Optional<List<BoundStatement>> otherwise)
            implements BoundStatement {
        @Override
        public List<List<BoundStatement>> rows() {
            return Branch.rows(branches, otherwise);
        }
    }

    /** A CASE statement; {@code operand} sets the variable that the branches test. */
    record Case(
            int at,
            Optional<Assignment> operand,
            List<Branch> branches,
            Optional<List<BoundStatement>> otherwise)
            implements BoundStatement {
        @Override
        public List<List<BoundStatement>> rows() {
            return Branch.rows(branches, otherwise);
        }
    }

    record Branch(BoundExpression condition, List<BoundStatement> statements) {
        static List<List<BoundStatement>> rows(
                List<Branch> branches, Optional<List<BoundStatement>> otherwise) {
            List<List<BoundStatement>> rows = new ArrayList<>(branches.size() + 1);
            for (Branch branch : branches) {
                rows.add(branch.statements());
            }
            otherwise.ifPresent(rows::add);
            return rows;
        }
    }

    /** WHILE with its condition; LOOP has none. */
    record While(
            int at,
            JumpTarget target,
            Optional<BoundExpression> condition,
            List<BoundStatement> statements)
            implements BoundStatement {
        @Override
        public List<List<BoundStatement>> rows() {
            return List.of(statements);
        }
    }

    record Repeat(
            int at,
            JumpTarget target,
            List<BoundStatement> statements,
            int conditionAt,
            BoundExpression condition)
            implements BoundStatement {
        @Override
        public List<List<BoundStatement>> rows() {
            return List.of(statements);
        }
    }

    record For(
            int at,
            JumpTarget target,
            Variable row,
            CursorSymbol cursor,
            List<BoundStatement> statements)
            implements BoundStatement {
        @Override
        public List<List<BoundStatement>> rows() {
            return List.of(statements);
        }
    }

    record Leave(int at, JumpTarget target) implements BoundStatement {}

    record Iterate(int at, JumpTarget target) implements BoundStatement {}

    /** Per parameter a value for what it takes and a target for what it gives. */
    record Call(int at, RoutineSymbol routine, List<Argument> arguments)
            implements BoundStatement {}

    record Argument(Optional<BoundExpression> value, Optional<Assignment> result) {}

    record Return(int at, Optional<BoundExpression> value) implements BoundStatement {}

    /** RETURN TABLE: the rows, each stored into the columns of {@code type}. */
    record ReturnTable(int at, BoundSql query, SqlType.Table type) implements BoundStatement {}

    /**
     * SIGNAL or RESIGNAL.
     *
     * @param sqlstate empty for a RESIGNAL that keeps it
     * @param stateless whether it names a condition that was declared without a state
     */
    record Signal(
            int at,
            boolean resignal,
            Optional<String> sqlstate,
            Optional<String> conditionName,
            boolean stateless,
            List<SignalItem> items)
            implements BoundStatement {}

    record SignalItem(String item, BoundExpression value) {}

    /** {@code condition} where condition items are asked for. */
    record GetDiagnostics(
            int at,
            boolean stacked,
            Optional<BoundExpression> condition,
            List<DiagnosticsItem> items)
            implements BoundStatement {}

    /** {@code value} reads a hidden variable that the item is put into first. */
    record DiagnosticsItem(String item, Variable holder, Assignment assignment) {}

    record Transaction(
            int at, TransactionVerb verb, Optional<String> savepoint, String modes, boolean chain)
            implements BoundStatement {}

    record Report(int at, List<BoundExpression> items) implements BoundStatement {}

    /** A change or a schema statement. */
    record Execute(int at, BoundSql sql) implements BoundStatement {}

    /** A query whose rows go to the caller. */
    record ReturnResultSet(int at, BoundSql sql) implements BoundStatement {}

    record Open(int at, CursorSymbol cursor, List<BoundExpression> using)
            implements BoundStatement {}

    record Prepare(int at, String name, BoundExpression text) implements BoundStatement {}

    /** {@code name} is empty for EXECUTE IMMEDIATE, which has its text. */
    record ExecuteDynamic(
            int at,
            Optional<String> name,
            Optional<BoundExpression> text,
            List<Target> targets,
            List<BoundExpression> using)
            implements BoundStatement {}

    record Deallocate(int at, String name) implements BoundStatement {}

    record Fetch(
            int at,
            String orientation,
            Optional<BoundExpression> offset,
            CursorSymbol cursor,
            List<Target> targets)
            implements BoundStatement {}

    record Close(int at, CursorSymbol cursor) implements BoundStatement {}
}
