package dev.cantina.observe;

import dev.cantina.runtime.RowEvent;
import dev.cantina.runtime.StackEntry;
import dev.cantina.syntax.Span;
import dev.cantina.types.Condition;
import dev.cantina.types.SqlType;
import java.util.List;
import java.util.Optional;

/** Something that happened in a run. The depth is that of the frame, counted from 1. */
public sealed interface TraceEvent {
    int depth();

    String routine();

    /** A name with its value. */
    record Value(String name, Object value) {}

    /** A variable of a type whose value is not as it was. */
    record Change(String name, SqlType type, Object before, Object after) {}

    /**
     * A routine begins.
     *
     * @param kind procedure, function, trigger or script
     * @param arguments of a trigger the fields of its row: the key and what differs
     */
    record Entered(int depth, String routine, String kind, Span place, List<Value> arguments)
            implements TraceEvent {}

    /** A statement has begun something that is told next: a routine that it calls or sets off. */
    record Opened(int depth, String routine, long number, Span place) implements TraceEvent {}

    /**
     * A statement has ended.
     *
     * @param number it was the so many-th to begin
     * @param nested whether it was {@link Opened} before
     * @param nanos what it took, with all that it set off
     * @param sent the values that went to the database with it
     * @param rows how many rows it changed or read; -1 where it asked for none
     * @param tables which tables it named
     * @param variables which variables have changed
     * @param written the first of the rows that it changed
     * @param writes how many it changed
     */
    record Statement(
            int depth,
            String routine,
            long number,
            Span place,
            boolean nested,
            long nanos,
            List<Value> sent,
            long rows,
            List<String> tables,
            List<Change> variables,
            List<RowEvent> written,
            long writes)
            implements TraceEvent {}

    /**
     * A condition was raised.
     *
     * @param stack where, innermost first
     * @param arguments of each routine on the stack
     */
    record Raised(
            int depth,
            String routine,
            Span place,
            Condition condition,
            List<StackEntry> stack,
            List<List<Value>> arguments)
            implements TraceEvent {}

    /**
     * A routine has ended.
     *
     * @param given what it gives, where it completed
     * @param condition what ended it, where one did
     */
    record Left(
            int depth, String routine, long nanos, List<Value> given, Optional<Condition> condition)
            implements TraceEvent {}
}
