package dev.cantina.syntax;

import java.util.List;
import java.util.Optional;

/** A declaration at the head of a block. */
public sealed interface Declaration extends Node {
    /** {@code DECLARE a, b [CONSTANT] type [DEFAULT e]}. */
    record Variables(
            Span span,
            List<Name> names,
            boolean constant,
            TypeSyntax type,
            Optional<Expression> initial)
            implements Declaration {
        public Variables {
            names = List.copyOf(names);
        }
    }

    /** {@code DECLARE name CONDITION [FOR SQLSTATE 'x']}. */
    record Condition(Span span, Name name, Optional<String> sqlstate) implements Declaration {}

    /**
     * {@code DECLARE name [SCROLL] CURSOR [WITH HOLD] [WITH RETURN] FOR query}, or {@code FOR} the
     * name of a prepared statement.
     */
    record Cursor(
            Span span,
            Name name,
            boolean scroll,
            boolean withHold,
            boolean withReturn,
            Optional<SqlText> query,
            Optional<Name> statement)
            implements Declaration {}

    /**
     * {@code DECLARE LOCAL TEMPORARY TABLE [MODULE.]name (…) [ON COMMIT … ROWS]}.
     *
     * @param definition the bracket with its columns, as written
     * @param preserve whether COMMIT leaves its rows
     */
    record TemporaryTable(Span span, Name name, Span definition, boolean preserve)
            implements Declaration {}

    /** How a handler ends. */
    enum HandlerAction {
        CONTINUE,
        EXIT,
        UNDO
    }

    /** {@code DECLARE CONTINUE | EXIT | UNDO HANDLER FOR … statement}. */
    record Handler(
            Span span, HandlerAction action, List<HandledCondition> conditions, Statement body)
            implements Declaration {
        public Handler {
            conditions = List.copyOf(conditions);
        }
    }

    /** What a handler is for. */
    enum HandledKind {
        SQLSTATE,
        NAMED,
        SQLEXCEPTION,
        SQLWARNING,
        NOT_FOUND
    }

    /** One of a handler's conditions; {@code text} is the state or the name. */
    record HandledCondition(Span span, HandledKind kind, String text) implements Node {}
}
