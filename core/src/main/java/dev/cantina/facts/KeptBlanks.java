package dev.cantina.facts;

import dev.cantina.syntax.Expression;
import dev.cantina.syntax.SqlWalk;
import dev.cantina.syntax.TypeSyntax;
import dev.cantina.types.Functions;

/**
 * Where the blanks at the end of a CHAR count in a data statement (ISO 9075-2, 6.29, 8.5 and 9.2):
 * beside {@code ||} and LIKE, as a function's argument, and where it is stored.
 */
public final class KeptBlanks {
    private KeptBlanks() {}

    /** Whether they count of a value where it stands. */
    public static boolean at(SqlWalk.Found found) {
        if (found.around().isEmpty()) {
            return found.place() == SqlWalk.Place.STORED || found.place() == SqlWalk.Place.ROW;
        }
        Expression around = found.around().get().expression();
        if (around instanceof Expression.Opaque || around instanceof Expression.RowValue) {
            // In a statement that is not known nothing says that they don't.
            return found.place() == SqlWalk.Place.UNKNOWN;
        }
        if (around instanceof Expression.Binary binary) {
            return binary.operator() == Expression.Operator.CONCATENATE;
        }
        if (around instanceof Expression.Cast cast) {
            return cast.type() instanceof TypeSyntax.Predefined type
                    && (type.name().equals("VARCHAR") || type.name().endsWith(" VARYING"));
        }
        if (around instanceof Expression.Call call) {
            return call.key().equals("CONCAT")
                    || Functions.find(call.key()).filter(f -> f.traits().keepsBlanks()).isPresent();
        }
        return around instanceof Expression.Like;
    }

    /** Whether a value is compared where it stands, with blanks at its end left out. */
    public static boolean isCompared(SqlWalk.Found found) {
        return found.around()
                .map(SqlWalk.Found::expression)
                .filter(
                        e ->
                                e instanceof Expression.Binary binary
                                                && binary.operator().isComparison()
                                        || e instanceof Expression.Between
                                        || e instanceof Expression.InList
                                        || e instanceof Expression.IsDistinct)
                .isPresent();
    }
}
