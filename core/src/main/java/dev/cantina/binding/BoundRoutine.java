package dev.cantina.binding;

import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlText;
import dev.cantina.syntax.Unit.SqlAccess;
import dev.cantina.types.SqlType;
import java.util.List;
import java.util.Optional;

/**
 * A routine, trigger or script block, ready to be compiled. It is equal to itself alone: whoever
 * counts by routine must not compare whole bodies.
 *
 * @param name as it is shown in a call stack
 * @param parameters in order; for a trigger its OLD and NEW row, where it has them
 * @param variables all slots of the frame, in their order
 * @param condition a trigger's WHEN
 * @param oldTable a trigger's transition table of the rows before, where it names one
 * @param newTable likewise of the rows after
 * @param access how much SQL it may do: what it says, or everything
 * @param places where each numbered statement stands, by number from 0
 */
public record BoundRoutine(
        Kind kind,
        String name,
        String key,
        Span span,
        List<Variable> parameters,
        Optional<SqlType> returns,
        List<Variable> variables,
        int cursors,
        Optional<BoundExpression> condition,
        BoundStatement body,
        List<Place> places,
        boolean asksDiagnostics,
        Optional<DeclaredTable> oldTable,
        Optional<DeclaredTable> newTable,
        SqlAccess access) {
    /** What kind of code it is. */
    public enum Kind {
        PROCEDURE,
        FUNCTION,
        TRIGGER,
        SCRIPT;

        public String word() {
            return name().toLowerCase(java.util.Locale.ROOT);
        }
    }

    /**
     * Whether it can go on after one of its statements has failed: by a handler, or because an
     * ATOMIC block takes back what it did.
     */
    public boolean outlivesFailures() {
        return Walker.handles(body, handled -> true) || places.stream().anyMatch(Place::atomic);
    }

    /** Whether it changes what there is, and not only rows: what it calls is bound when called. */
    public boolean makesTables() {
        boolean[] found = {false};
        Walker.statements(
                body,
                s ->
                        found[0] |=
                                s instanceof BoundStatement.Execute execute
                                        && !execute.sql().changesRows());
        return found[0];
    }

    /** What a statement says itself: its text up to where the first of those inside it begins. */
    public Span head(int statement) {
        Span whole = places.get(statement).span();
        int end = whole.end();
        for (Place place : places) {
            Span inner = place.span();
            if (inner.start() > whole.start() && inner.end() <= whole.end()) {
                end = Math.min(end, inner.start());
            }
        }
        String text = whole.source().text();
        while (end > whole.start() + 1 && Character.isWhitespace(text.charAt(end - 1))) {
            end--;
        }
        return whole.source().span(whole.start(), end);
    }

    @Override
    public boolean equals(Object other) {
        return this == other;
    }

    @Override
    public int hashCode() {
        return System.identityHashCode(this);
    }

    /**
     * A statement's place.
     *
     * @param scope what names mean there
     * @param what the statement's kind in words, such as {@code WHILE}
     * @param atomic whether an ATOMIC block is around it
     */
    public record Place(Span span, Scope scope, String what, boolean atomic) {
        /** The statement's code (ISO 9075-2, 23.1, and 9075-4, 22.1: COMMAND_FUNCTION). */
        public String command() {
            return switch (what) {
                case "SET" -> "ASSIGNMENT";
                case "SELECT INTO" -> "SELECT";
                case "BEGIN" -> "BEGIN END";
                case "UPDATE", "DELETE" ->
                        what
                                + (SqlText.of(span.text()).positioned().isPresent()
                                        ? " CURSOR"
                                        : " WHERE");
                case "CLOSE" -> "CLOSE CURSOR";
                case "DEALLOCATE" -> "DEALLOCATE PREPARE";
                case "COMMIT" -> "COMMIT WORK";
                case "ROLLBACK", "ROLLBACK TO SAVEPOINT" -> "ROLLBACK WORK";
                default -> what;
            };
        }
    }
}
