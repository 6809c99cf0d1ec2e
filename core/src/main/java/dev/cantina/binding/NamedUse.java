package dev.cantina.binding;

import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.Table;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Span;

/**
 * A place in a text at which a name stands, and what it means there.
 *
 * @param declares whether it is declared there
 */
public record NamedUse(Span span, Meaning meaning, boolean declares) {
    /** What a name can mean. Those of one routine are each itself and equal to no other. */
    public sealed interface Meaning {
        record OfVariable(Variable variable) implements Meaning {}

        /** A field of a row, by its name. */
        record OfField(Variable row, String field) implements Meaning {}

        /** A variable of a module. */
        record OfShared(ModuleSymbol module, int index) implements Meaning {}

        record OfModule(ModuleSymbol module) implements Meaning {}

        record OfRoutine(RoutineSymbol routine) implements Meaning {}

        /**
         * A parameter, by its name in a call.
         *
         * @param index of the parameter, from 0
         */
        record OfArgument(RoutineSymbol routine, int index) implements Meaning {}

        record OfTable(Table table) implements Meaning {}

        /**
         * A column of a table.
         *
         * @param key the column's
         */
        record OfColumn(Table table, String key) implements Meaning {}

        record OfCursor(CursorSymbol cursor) implements Meaning {}

        record OfLabel(JumpTarget target) implements Meaning {}

        /**
         * A condition that is declared.
         *
         * @param declared its name where it is declared
         */
        record OfCondition(Name declared) implements Meaning {}
    }
}
