package dev.cantina.binding;

import dev.cantina.binding.BoundStatement.Target;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.Statement;
import dev.cantina.types.SqlType;
import java.util.Optional;

/** Binds what is assigned to: a variable, an element of it, a field of it. */
public final class TargetBinder {
    private final Binding binding;
    private final ExpressionBinder expressions;

    TargetBinder(Binding binding, ExpressionBinder expressions) {
        this.binding = binding;
        this.expressions = expressions;
    }

    /** What an assignment, a FETCH or an OUT argument writes to. */
    Target bind(Statement.Target written, Scope scope) {
        Optional<BoundExpression> found =
                ExpressionBinder.chain(written.span(), written.names(), scope)
                        .or(() -> expressions.shared(written.span(), written.names()));
        found.ifPresent(f -> binding.means(written.names(), f));
        if (found.isPresent() && found.get() instanceof BoundExpression.ReadShared shared) {
            return shared(shared, written);
        }
        if (found.isEmpty()) {
            binding.unknown(
                    written.span(), "variable", written.span().text(), scope.variableNames());
            return lost(written.span());
        }
        if (found.get() instanceof BoundExpression.Field field
                && field.row() instanceof BoundExpression.Read row) {
            return assignable(row.variable(), written)
                    ? new Target.OfRow(row.variable(), field.index())
                    : lost(written.span());
        }
        if (!(found.get() instanceof BoundExpression.Read read)
                || !assignable(read.variable(), written)) {
            return lost(written.span());
        }
        if (written.index().isPresent()) {
            if (!(read.type() instanceof SqlType.Array)) {
                binding.error(
                        written.span(),
                        "wrong-type",
                        "only an array has elements, and "
                                + read.variable().name()
                                + " is of type "
                                + read.type().sql());
                return lost(written.span());
            }
            BoundExpression index =
                    expressions.stored(written.index().get(), SqlType.BIGINT, scope, "an index");
            if (written.field().isPresent()) {
                SqlType element = ((SqlType.Array) read.type()).element();
                int field = expressions.fieldIndex(element, written.field().get());
                return field < 0
                        ? lost(written.span())
                        : new Target.OfElement(read.variable(), index, field);
            }
            return new Target.OfArray(read.variable(), index);
        }
        return new Target.Whole(read.variable());
    }

    private Target shared(BoundExpression.ReadShared read, Statement.Target written) {
        if (read.module().variables().get(read.index()).constant()) {
            binding.error(
                    written.span(),
                    "not-assignable",
                    written.span().text() + " is a constant and can't be assigned");
            return lost(written.span());
        }
        if (written.index().isPresent()) {
            binding.error(
                    written.span(),
                    "unsupported",
                    "an element of a module's array is set through a variable",
                    "copy the array, change the copy, and store it back");
            return lost(written.span());
        }
        Variable held = binding.hidden(read.type(), written.span());
        return new Target.OfModule(held, read.module(), read.index());
    }

    private Target lost(Span span) {
        return new Target.Whole(binding.hidden(SqlType.NULL, span));
    }

    private boolean assignable(Variable variable, Statement.Target written) {
        boolean newRow = variable.kind() == Variable.Kind.NEW_ROW;
        if (variable.kind().isAssignable() || newRow && newRowAssignable) {
            return true;
        }
        String message =
                switch (variable.kind()) {
                    case CONSTANT -> variable.name() + " is a constant and can't be assigned";
                    case NEW_ROW -> "only a BEFORE trigger can change its new row";
                    case OLD_ROW -> "the old row of a trigger can't be changed";
                    default -> "the row of FOR can't be assigned: it shows what the query gave";
                };
        binding.error(written.span(), "not-assignable", message);
        return false;
    }

    private boolean newRowAssignable;

    /** A BEFORE trigger may set the columns of its new row. */
    void allowNewRow() {
        newRowAssignable = true;
    }

    public static SqlType typeOf(Target target) {
        if (target instanceof Target.OfRow field) {
            SqlType.Row row = (SqlType.Row) field.variable().type();
            return row.fields().get(field.field()).type();
        }
        if (target instanceof Target.OfArray element) {
            return ((SqlType.Array) element.variable().type()).element();
        }
        if (target instanceof Target.OfElement element) {
            SqlType.Row row = (SqlType.Row) ((SqlType.Array) element.variable().type()).element();
            return row.fields().get(element.field()).type();
        }
        return target.variable().type();
    }
}
