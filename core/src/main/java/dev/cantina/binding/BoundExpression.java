package dev.cantina.binding;

import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.syntax.Expression.Operator;
import dev.cantina.syntax.Span;
import dev.cantina.types.Functions.BuiltIn;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** An expression whose names and types are known. */
public sealed interface BoundExpression {
    Span span();

    SqlType type();

    /** The expressions right inside it. */
    default List<BoundExpression> parts() {
        return List.of();
    }

    /** A value that never changes. */
    record Constant(Span span, Object value, SqlType type) implements BoundExpression {}

    record Read(Span span, Variable variable) implements BoundExpression {
        @Override
        public SqlType type() {
            return variable.type();
        }
    }

    /** A variable of a module, by its position there. */
    record ReadShared(Span span, ModuleSymbol module, int index, SqlType type)
            implements BoundExpression {}

    /** A field of a row, counted from 0. */
    record Field(Span span, BoundExpression row, int index, SqlType type)
            implements BoundExpression {
        @Override
        public List<BoundExpression> parts() {
            return List.of(row);
        }
    }

    /** An element of an array; the index counts from 1. */
    record Element(Span span, BoundExpression array, BoundExpression index, SqlType type)
            implements BoundExpression {
        @Override
        public List<BoundExpression> parts() {
            return List.of(array, index);
        }
    }

    /** Both sides have a carrier of the result's kind. */
    record Arithmetic(
            Span span, Operator operator, BoundExpression left, BoundExpression right, SqlType type)
            implements BoundExpression {
        @Override
        public List<BoundExpression> parts() {
            return List.of(left, right);
        }
    }

    record Negate(Span span, BoundExpression operand, SqlType type) implements BoundExpression {
        @Override
        public List<BoundExpression> parts() {
            return List.of(operand);
        }
    }

    record Concatenate(Span span, BoundExpression left, BoundExpression right, SqlType type)
            implements BoundExpression {
        @Override
        public List<BoundExpression> parts() {
            return List.of(left, right);
        }
    }

    /** A condition. */
    sealed interface Truth extends BoundExpression {
        @Override
        default SqlType type() {
            return SqlType.BOOLEAN;
        }
    }

    /** Both sides have one carrier; {@code fixed} where trailing blanks do not count. */
    record Compare(
            Span span,
            Operator operator,
            BoundExpression left,
            BoundExpression right,
            boolean fixed)
            implements Truth {
        @Override
        public List<BoundExpression> parts() {
            return List.of(left, right);
        }
    }

    /** AND where {@code and}, otherwise OR. */
    record Logical(Span span, boolean and, BoundExpression left, BoundExpression right)
            implements Truth {
        @Override
        public List<BoundExpression> parts() {
            return List.of(left, right);
        }
    }

    record Not(Span span, BoundExpression operand) implements Truth {
        @Override
        public List<BoundExpression> parts() {
            return List.of(operand);
        }
    }

    record IsNull(Span span, BoundExpression operand, boolean negated) implements Truth {
        @Override
        public List<BoundExpression> parts() {
            return List.of(operand);
        }
    }

    record IsTruth(Span span, BoundExpression operand, Optional<Boolean> truth, boolean negated)
            implements Truth {
        @Override
        public List<BoundExpression> parts() {
            return List.of(operand);
        }
    }

    record Distinct(Span span, BoundExpression left, BoundExpression right, boolean negated)
            implements Truth {
        @Override
        public List<BoundExpression> parts() {
            return List.of(left, right);
        }
    }

    record Like(
            Span span,
            BoundExpression operand,
            BoundExpression pattern,
            Optional<BoundExpression> escape,
            boolean negated)
            implements Truth {
        @Override
        public List<BoundExpression> parts() {
            return escape.isPresent()
                    ? List.of(operand, pattern, escape.get())
                    : List.of(operand, pattern);
        }
    }

    /** CASE, COALESCE and NULLIF: all values have the result's type. */
    record Choice(Span span, List<Option> options, BoundExpression otherwise, SqlType type)
            implements BoundExpression {
        @Override
        public List<BoundExpression> parts() {
            List<BoundExpression> parts = new ArrayList<>(options.size() * 2 + 1);
            for (Option option : options) {
                parts.add(option.condition());
                parts.add(option.value());
            }
            parts.add(otherwise);
            return parts;
        }
    }

    /** A condition and the value where it is true. */
    record Option(BoundExpression condition, BoundExpression value) {}

    /** Works a value out once, for a body that uses it more than once. */
    record Let(Span span, Variable variable, BoundExpression value, BoundExpression body)
            implements BoundExpression {
        @Override
        public List<BoundExpression> parts() {
            return List.of(value, body);
        }

        @Override
        public SqlType type() {
            return body.type();
        }
    }

    /** Why a value is converted. */
    enum ConvertKind {
        /** It is stored into a target of the type (ISO 9075-2, 9.2). */
        STORED,
        /** CAST is written. */
        CAST,
        /** It meets a value of another type. */
        IMPLICIT
    }

    record Convert(Span span, BoundExpression operand, SqlType type, ConvertKind kind)
            implements BoundExpression {
        /** Whether it is converted by the rules of storing. */
        public boolean store() {
            return kind == ConvertKind.STORED;
        }

        @Override
        public List<BoundExpression> parts() {
            return List.of(operand);
        }
    }

    record Apply(Span span, BuiltIn function, List<BoundExpression> arguments, SqlType type)
            implements BoundExpression {
        @Override
        public List<BoundExpression> parts() {
            return arguments;
        }
    }

    /** CURRENT_DATE and its kin, and CURRENT_USER. */
    record CurrentDatetime(Span span, String name, SqlType type) implements BoundExpression {}

    /** A call of a function of the project; an argument for each parameter. */
    record Invoke(Span span, RoutineSymbol routine, List<BoundExpression> arguments)
            implements BoundExpression {
        @Override
        public List<BoundExpression> parts() {
            return arguments;
        }

        @Override
        public SqlType type() {
            return routine.returns().orElse(SqlType.NULL);
        }
    }

    /** One value that the database works out. */
    record DatabaseExpression(Span span, BoundSql sql, SqlType type) implements BoundExpression {
        @Override
        public List<BoundExpression> parts() {
            return sql.parameters();
        }
    }

    /** What identifies the row that a cursor stands on; 24000 where it stands on none. */
    record CursorRow(Span span, CursorSymbol cursor) implements BoundExpression {
        @Override
        public SqlType type() {
            return SqlType.NULL;
        }
    }

    /** The fields of a row or the elements of an array. */
    record RowConstructor(Span span, List<BoundExpression> parts, SqlType type)
            implements BoundExpression {}
}
