package dev.cantina.syntax;

import java.util.List;
import java.util.Optional;
import java.util.Set;

/** What a file is made of. */
public sealed interface Unit extends Node {
    /** Procedures are called, functions give a value. */
    enum RoutineKind {
        PROCEDURE,
        FUNCTION;

        public String word() {
            return this == PROCEDURE ? "procedure" : "function";
        }
    }

    /** The way a parameter is passed. */
    enum Mode {
        IN,
        OUT,
        INOUT;

        public boolean isInput() {
            return this != OUT;
        }

        public boolean isOutput() {
            return this != IN;
        }
    }

    /** How much SQL a routine says that it does (ISO 9075-2, 11.60). */
    enum SqlAccess {
        NO_SQL,
        CONTAINS_SQL,
        READS_SQL_DATA,
        MODIFIES_SQL_DATA
    }

    /** A parameter. */
    record Parameter(Span span, Mode mode, Name name, TypeSyntax type, Optional<Expression> initial)
            implements Node {}

    /** What a routine says of itself; empty where it does not say. */
    record Characteristics(
            String language,
            Optional<Boolean> deterministic,
            Optional<SqlAccess> access,
            int resultSets,
            boolean nullOnNull,
            Optional<Rights> rights,
            Optional<Name> specific,
            Optional<String> external,
            Optional<String> comment) {}

    /** Whose rights a routine runs with (ISO 9075-2, 11.60, rights clause). */
    enum Rights {
        INVOKER,
        DEFINER
    }

    /** {@code CREATE [OR REPLACE] PROCEDURE | FUNCTION}. */
    record Routine(
            Span span,
            RoutineKind kind,
            Name name,
            List<Parameter> parameters,
            Optional<TypeSyntax> returns,
            Characteristics characteristics,
            Optional<Statement> body)
            implements Unit {}

    /**
     * {@code CREATE [OR REPLACE] MODULE name … END MODULE}.
     *
     * @param secret the keys of what is marked PRIVATE
     */
    record Module(
            Span span,
            Name name,
            List<Routine> routines,
            List<Declaration> declarations,
            Set<String> privateNames)
            implements Unit {}

    /** When a trigger fires. */
    enum Timing {
        BEFORE,
        AFTER,
        INSTEAD_OF
    }

    /** What makes a trigger fire. */
    enum Event {
        INSERT,
        DELETE,
        UPDATE
    }

    /** {@code CREATE [OR REPLACE] TRIGGER}. */
    record Trigger(
            Span span,
            Name name,
            Timing timing,
            Event event,
            List<Name> columns,
            Name table,
            Optional<Name> oldRow,
            Optional<Name> newRow,
            Optional<Name> oldTable,
            Optional<Name> newTable,
            boolean eachRow,
            Optional<Expression> when,
            Statement body)
            implements Unit {}

    /** A statement of a script. */
    record Step(Span span, Statement statement) implements Unit {}
}
