package dev.cantina.translate.mariadb;

import dev.cantina.binding.BoundStatement.Target;
import dev.cantina.binding.Variable;
import dev.cantina.syntax.Span;
import dev.cantina.translate.UnsupportedConstructException;
import dev.cantina.types.SqlType;

/** What takes values, in the words of the server. */
final class MariaTargets {
    private final MariaExpressions words;

    MariaTargets(MariaExpressions words) {
        this.words = words;
    }

    /** The words for a target. */
    String of(Target target, Span span) {
        if (target instanceof Target.Whole && target.variable().kind() == Variable.Kind.NEW_ROW) {
            throw new UnsupportedConstructException(
                    span, "the whole new row is set; set its columns");
        }
        if (target instanceof Target.OfArray || target instanceof Target.OfElement) {
            throw new UnsupportedConstructException(span, "MariaDB has no arrays");
        }
        if (target instanceof Target.OfRow field) {
            SqlType.Row type = (SqlType.Row) field.variable().type();
            return words.row(field.variable())
                    + "."
                    + words.names().of(type.fields().get(field.field()).name());
        }
        if (target instanceof Target.OfModule shared) {
            if (words.module().filter(m -> m == shared.module()).isEmpty()) {
                throw new UnsupportedConstructException(
                        span, "a module's variable is set from inside its module alone there");
            }
            return words.shared(shared.module().variables().get(shared.index()));
        }
        return words.name(target.variable());
    }

    /** The type of what it takes. */
    static SqlType typeOf(Target target) {
        SqlType type = target.variable().type();
        if (target instanceof Target.OfRow field) {
            return ((SqlType.Row) type).fields().get(field.field()).type();
        }
        if (target instanceof Target.OfModule shared) {
            return shared.module().variables().get(shared.index()).type();
        }
        return type;
    }
}
