package dev.cantina.translate.postgresql;

import dev.cantina.binding.BoundExpression;
import dev.cantina.syntax.Span;
import dev.cantina.translate.SourceForm;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.List;
import java.util.OptionalInt;

/**
 * The digits behind the point of a value that is taken out of several, by CASE, COALESCE, NULLIF,
 * GREATEST or LEAST: as many as the longest of them has, and on PostgreSQL as many as the one that
 * is taken.
 */
final class PostgresDigits {
    private PostgresDigits() {}

    /** How many digits a value must be rounded to for them to be seen; empty where it has them. */
    static OptionalInt missing(BoundExpression e) {
        boolean chooses =
                e instanceof BoundExpression.Choice
                        || e instanceof BoundExpression.Let
                        || isExtreme(e);
        if (!chooses || !(e.type() instanceof SqlType.Exact exact) || exact.precision() == 0) {
            return OptionalInt.empty();
        }
        boolean same = chosen(e).stream().allMatch(one -> hasDigits(one, exact));
        return same ? OptionalInt.empty() : OptionalInt.of(exact.scale());
    }

    private static boolean isExtreme(BoundExpression e) {
        return e instanceof BoundExpression.Apply apply
                && (apply.function().name().equals("GREATEST")
                        || apply.function().name().equals("LEAST"));
    }

    private static boolean hasDigits(BoundExpression e, SqlType.Exact wanted) {
        if (e instanceof BoundExpression.Constant constant) {
            return constant.value() == null || written(e.span()) == wanted.scale();
        }
        return e.type() instanceof SqlType.Exact exact
                && exact.precision() > 0
                && exact.scale() == wanted.scale();
    }

    /** The digits behind the point of a number as its author wrote it. */
    private static int written(Span span) {
        int point = span.text().indexOf('.');
        return point < 0 ? 0 : span.text().length() - point - 1;
    }

    /** What an expression may take its value from. */
    private static List<BoundExpression> chosen(BoundExpression e) {
        List<BoundExpression> all = new ArrayList<>();
        BoundExpression bare = SourceForm.bare(e);
        if (bare instanceof BoundExpression.Choice choice) {
            choice.options().forEach(o -> all.addAll(chosen(o.value())));
            all.addAll(chosen(choice.otherwise()));
        } else if (bare instanceof BoundExpression.Let let) {
            all.addAll(chosen(let.value()));
            all.addAll(chosen(let.body()));
        } else if (isExtreme(bare)) {
            bare.parts().forEach(part -> all.addAll(chosen(part)));
        } else if (!(bare instanceof BoundExpression.Read read && read.variable().isHidden())) {
            all.add(bare);
        }
        return all;
    }
}
