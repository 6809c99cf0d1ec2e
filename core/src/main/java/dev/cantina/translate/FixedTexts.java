package dev.cantina.translate;

import dev.cantina.binding.BoundExpression;
import dev.cantina.types.SqlType;
import dev.cantina.types.SqlType.Shape;

/** CHAR values, whose blanks at the end no server keeps everywhere. */
public final class FixedTexts {
    private FixedTexts() {}

    /** Whether a CHAR goes into a text of another kind, where servers drop its blanks. */
    public static boolean loseBlanks(BoundExpression e, SqlType to) {
        return !(e instanceof BoundExpression.Constant) && loseBlanks(e.type(), to);
    }

    public static boolean loseBlanks(SqlType from, SqlType to) {
        return from instanceof SqlType.Text a
                && a.shape() == Shape.FIXED
                && to instanceof SqlType.Text b
                && b.shape() != Shape.FIXED;
    }
}
