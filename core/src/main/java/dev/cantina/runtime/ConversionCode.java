package dev.cantina.runtime;

import dev.cantina.binding.BoundExpression;
import dev.cantina.types.Conversion;
import dev.cantina.types.Numbers;
import dev.cantina.types.SqlType;
import dev.cantina.types.SqlType.Carrier;
import dev.cantina.types.SqlType.Shape;
import dev.cantina.types.Texts;
import java.math.BigDecimal;
import org.objectweb.asm.Label;
import org.objectweb.asm.Opcodes;

/** Writes conversions from one type to another (ISO 9075-2, 6.13 and 9.2). */
final class ConversionCode {
    private final ExpressionCode expressions;
    private final MethodCode code;

    ConversionCode(ExpressionCode expressions, MethodCode code) {
        this.expressions = expressions;
        this.code = code;
    }

    void convertToWhole(BoundExpression.Convert e, Label ifNull) {
        SqlType from = e.operand().type();
        SqlType.Whole size = ((SqlType.Integral) e.type()).size();
        if (from instanceof SqlType.Integral integral) {
            expressions.whole(e.operand(), ifNull);
            if (integral.size().compareTo(size) > 0) {
                narrow(size);
            }
        } else if (from instanceof SqlType.Exact) {
            expressions.present(e.operand(), ifNull);
            code.cast(BigDecimal.class);
            code.callStatic(Numbers.class, "whole", "(" + ExpressionCode.DECIMAL + ")J");
            narrow(size);
        } else if (from instanceof SqlType.Approximate) {
            expressions.approximate(e.operand(), ifNull);
            code.callStatic(Numbers.class, "whole", "(D)J");
            narrow(size);
        } else {
            generic(e, ifNull);
            code.cast(Long.class);
            code.callVirtual("java/lang/Long", "longValue", "()J");
        }
    }

    private void narrow(SqlType.Whole size) {
        if (size != SqlType.Whole.BIGINT) {
            String method = size == SqlType.Whole.INTEGER ? "integer" : "smallint";
            code.callStatic(Numbers.class, method, "(J)J");
        }
    }

    void convertToApproximate(BoundExpression.Convert e, Label ifNull) {
        SqlType from = e.operand().type();
        if (from instanceof SqlType.Integral) {
            expressions.whole(e.operand(), ifNull);
            code.m.visitInsn(Opcodes.L2D);
        } else if (from instanceof SqlType.Approximate) {
            expressions.approximate(e.operand(), ifNull);
        } else {
            generic(e, ifNull);
            code.cast(Double.class);
            code.callVirtual("java/lang/Double", "doubleValue", "()D");
            return;
        }
        if (((SqlType.Approximate) e.type()).single()) {
            code.callStatic(Numbers.class, "real", "(D)D");
        }
    }

    void convertToObject(BoundExpression.Convert e, Label ifNull) {
        SqlType from = e.operand().type();
        if (e.type() instanceof SqlType.Exact exact) {
            if (from instanceof SqlType.Integral) {
                expressions.whole(e.operand(), ifNull);
                code.callStatic(BigDecimal.class, "valueOf", "(J)" + ExpressionCode.DECIMAL);
            } else if (from instanceof SqlType.Exact) {
                expressions.present(e.operand(), ifNull);
                code.cast(BigDecimal.class);
            } else {
                generic(e, ifNull);
                return;
            }
            if (exact.precision() > 0) {
                code.push(exact.precision());
                code.push(exact.scale());
                code.callStatic(
                        Numbers.class,
                        "decimal",
                        "(" + ExpressionCode.DECIMAL + "II)" + ExpressionCode.DECIMAL);
            }
            return;
        }
        boolean text =
                e.store() && from instanceof SqlType.Text && e.type() instanceof SqlType.Text;
        if (text) {
            SqlType.Text to = (SqlType.Text) e.type();
            expressions.present(e.operand(), ifNull);
            code.cast(String.class);
            code.push(to.shape() == Shape.FIXED ? Math.max(1, to.length()) : to.length());
            String method = to.shape() == Shape.FIXED ? "fixed" : "varying";
            code.callStatic(
                    Texts.class,
                    method,
                    "(" + ExpressionCode.STRING + "I)" + ExpressionCode.STRING);
            return;
        }
        generic(e, ifNull);
    }

    /** Any conversion, by the classes of the values. */
    private void generic(BoundExpression.Convert e, Label ifNull) {
        Label there = new Label();
        expressions.object(e.operand());
        code.constant(e.type(), SqlType.class);
        code.callStatic(
                Conversion.class,
                e.store() ? "store" : "cast",
                "("
                        + ExpressionCode.OBJECT
                        + "Ldev/cantina/types/SqlType;)"
                        + ExpressionCode.OBJECT);
        int kept = code.keep(Carrier.OBJECT);
        code.load(Carrier.OBJECT, kept);
        code.m.visitJumpInsn(Opcodes.IFNULL, ifNull);
        code.mark(there);
        code.load(Carrier.OBJECT, kept);
    }
}
