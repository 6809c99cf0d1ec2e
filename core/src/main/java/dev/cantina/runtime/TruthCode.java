package dev.cantina.runtime;

import dev.cantina.binding.BoundExpression;
import dev.cantina.types.Compound;
import dev.cantina.types.Conversion;
import dev.cantina.types.Logic;
import dev.cantina.types.SqlType;
import dev.cantina.types.SqlType.Carrier;
import dev.cantina.types.SqlType.Shape;
import dev.cantina.types.Texts;
import java.math.BigDecimal;
import org.objectweb.asm.Label;
import org.objectweb.asm.MethodVisitor;
import org.objectweb.asm.Opcodes;

/** Writes conditions: as values of three kinds, and as jumps (ISO 9075-2, 6.39 and 8). */
final class TruthCode {
    private final ExpressionCode expressions;
    private final MethodCode code;

    TruthCode(ExpressionCode expressions, MethodCode code) {
        this.expressions = expressions;
        this.code = code;
    }

    /** Leaves 0, 1 or 2. */
    void truth(BoundExpression e) {
        if (isSplit(e)) {
            part(e);
            return;
        }
        if (e instanceof BoundExpression.Constant constant) {
            code.push(Logic.of(constant.value()));
        } else if (e instanceof BoundExpression.Read read && e.type() instanceof SqlType.Bool) {
            code.getValue(read.variable());
        } else if (e instanceof BoundExpression.Not not) {
            truth(not.operand());
            code.callStatic(Logic.class, "not", "(I)I");
        } else if (e instanceof BoundExpression.Logical logical) {
            logical(logical);
        } else if (e instanceof BoundExpression.Compare compare && isCompound(compare)) {
            compound(compare.left(), compare.operator().sign(), compare.right());
            code.callStatic(
                    Compound.class,
                    "compare",
                    "("
                            + ExpressionCode.OBJECT
                            + ExpressionCode.TYPE
                            + ExpressionCode.STRING
                            + ExpressionCode.OBJECT
                            + ExpressionCode.TYPE
                            + ")I");
        } else if (e instanceof BoundExpression.Compare || e instanceof BoundExpression.IsNull) {
            Label yes = new Label();
            Label no = new Label();
            Label unknown = new Label();
            Label end = new Label();
            branch(e, yes, no, unknown);
            code.mark(yes);
            code.push(Logic.TRUE);
            code.jump(end);
            code.mark(no);
            code.push(Logic.FALSE);
            code.jump(end);
            code.mark(unknown);
            code.push(Logic.UNKNOWN);
            code.mark(end);
        } else if (e instanceof BoundExpression.IsTruth is) {
            truth(is.operand());
            code.push(is.truth().map(Logic::of).orElse(Logic.UNKNOWN));
            Label same = new Label();
            Label end = new Label();
            code.m.visitJumpInsn(Opcodes.IF_ICMPEQ, same);
            code.push(is.negated() ? Logic.TRUE : Logic.FALSE);
            code.jump(end);
            code.mark(same);
            code.push(is.negated() ? Logic.FALSE : Logic.TRUE);
            code.mark(end);
        } else if (e instanceof BoundExpression.Distinct distinct) {
            compound(distinct.left(), "", distinct.right());
            code.callStatic(
                    Compound.class,
                    "distinct",
                    "("
                            + ExpressionCode.OBJECT
                            + ExpressionCode.TYPE
                            + ExpressionCode.OBJECT
                            + ExpressionCode.TYPE
                            + ")Z");
            if (distinct.negated()) {
                code.push(1);
                code.m.visitInsn(Opcodes.IXOR);
            }
        } else if (e instanceof BoundExpression.Like like) {
            like(like);
        } else if (e instanceof BoundExpression.Let let) {
            expressions.let(let);
            truth(let.body());
        } else if (e instanceof BoundExpression.Choice choice) {
            Label end = new Label();
            for (BoundExpression.Option option : choice.options()) {
                Label yes = new Label();
                Label no = new Label();
                branch(option.condition(), yes, no, no);
                code.mark(yes);
                truth(option.value());
                code.jump(end);
                code.mark(no);
            }
            truth(choice.otherwise());
            code.mark(end);
        } else if (e instanceof BoundExpression.Convert convert) {
            expressions.object(convert.operand());
            code.constant(SqlType.BOOLEAN, SqlType.class);
            code.callStatic(
                    Conversion.class,
                    "cast",
                    "("
                            + ExpressionCode.OBJECT
                            + "Ldev/cantina/types/SqlType;)"
                            + ExpressionCode.OBJECT);
            code.callStatic(Logic.class, "of", "(" + ExpressionCode.OBJECT + ")I");
        } else {
            expressions.rawObject(e);
            code.callStatic(Logic.class, "of", "(" + ExpressionCode.OBJECT + ")I");
        }
    }

    private static boolean isCompound(BoundExpression.Compare e) {
        return Compound.concerns(e.left().type());
    }

    /** Leaves both values with their types, between them the sign where there is one. */
    private void compound(BoundExpression left, String sign, BoundExpression right) {
        expressions.object(left);
        int a = code.keep(Carrier.OBJECT);
        expressions.object(right);
        int b = code.keep(Carrier.OBJECT);
        code.load(Carrier.OBJECT, a);
        code.constant(left.type(), SqlType.class);
        if (!sign.isEmpty()) {
            code.push(sign);
        }
        code.load(Carrier.OBJECT, b);
        code.constant(right.type(), SqlType.class);
    }

    private boolean isSplit(BoundExpression e) {
        return e instanceof BoundExpression.Logical && code.isLong() && code.canSplit();
    }

    /** A condition in a method of its own, because the one around it is long already. */
    private void part(BoundExpression e) {
        String name = "truth" + code.type.newPart();
        MethodVisitor m = code.type.method(Opcodes.ACC_PRIVATE, name, "()I");
        MethodCode own = new MethodCode(code.type, m, 1);
        new ExpressionCode(own, expressions.program).truths().truth(e);
        m.visitInsn(Opcodes.IRETURN);
        m.visitMaxs(0, 0);
        m.visitEnd();
        code.loadFrame();
        code.m.visitMethodInsn(Opcodes.INVOKESPECIAL, code.type.name(), name, "()I", false);
    }

    private static boolean isFixed(BoundExpression e) {
        return e.type() instanceof SqlType.Text text && text.shape() == Shape.FIXED;
    }

    /** The right side is worked out only where the left one leaves the result open. */
    private void logical(BoundExpression.Logical e) {
        Label open = new Label();
        Label end = new Label();
        truth(e.left());
        int left = code.keep(Carrier.TRI_STATE);
        code.load(Carrier.TRI_STATE, left);
        code.push(e.and() ? Logic.FALSE : Logic.TRUE);
        code.m.visitJumpInsn(Opcodes.IF_ICMPNE, open);
        code.load(Carrier.TRI_STATE, left);
        code.jump(end);
        code.mark(open);
        truth(e.right());
        int right = code.keep(Carrier.TRI_STATE);
        code.load(Carrier.TRI_STATE, left);
        code.load(Carrier.TRI_STATE, right);
        code.callStatic(Logic.class, e.and() ? "and" : "or", "(II)I");
        code.mark(end);
    }

    private void like(BoundExpression.Like e) {
        Label none = new Label();
        Label end = new Label();
        expressions.present(e.operand(), none);
        int text = code.keep(Carrier.OBJECT);
        expressions.present(e.pattern(), none);
        int pattern = code.keep(Carrier.OBJECT);
        int escape = -1;
        if (e.escape().isPresent()) {
            expressions.present(e.escape().get(), none);
            escape = code.keep(Carrier.OBJECT);
        }
        code.load(Carrier.OBJECT, text);
        code.cast(String.class);
        code.load(Carrier.OBJECT, pattern);
        code.cast(String.class);
        if (escape < 0) {
            code.m.visitInsn(Opcodes.ACONST_NULL);
        } else {
            code.load(Carrier.OBJECT, escape);
            code.cast(String.class);
        }
        code.callStatic(
                Texts.class,
                "like",
                "(" + ExpressionCode.STRING + ExpressionCode.STRING + ExpressionCode.STRING + ")Z");
        if (e.negated()) {
            code.push(1);
            code.m.visitInsn(Opcodes.IXOR);
        }
        code.jump(end);
        code.mark(none);
        code.push(Logic.UNKNOWN);
        code.mark(end);
    }

    /** Goes to one of the three labels, two of which may be one. */
    void branch(BoundExpression e, Label yes, Label no, Label unknown) {
        boolean split = isSplit(e);
        if (e instanceof BoundExpression.Compare compare && !isCompound(compare)) {
            compare(compare, yes, no, unknown);
        } else if (e instanceof BoundExpression.IsNull isNull) {
            Label none = isNull.negated() ? no : yes;
            Label some = isNull.negated() ? yes : no;
            if (isNull.operand() instanceof BoundExpression.Read read
                    && (read.type().carrier() == Carrier.LONG
                            || read.type().carrier() == Carrier.APPROXIMATE)) {
                code.getPresent(read.variable());
                code.m.visitJumpInsn(Opcodes.IFEQ, none);
            } else if (isNull.operand().type() instanceof SqlType.Row) {
                expressions.object(isNull.operand());
                code.callStatic(
                        Compound.class,
                        isNull.negated() ? "isPresent" : "isNull",
                        "(" + ExpressionCode.OBJECT + ")Z");
                code.m.visitJumpInsn(Opcodes.IFNE, yes);
                code.jump(no);
                return;
            } else {
                expressions.object(isNull.operand());
                code.m.visitJumpInsn(Opcodes.IFNULL, none);
            }
            code.jump(some);
        } else if (e instanceof BoundExpression.Not not) {
            branch(not.operand(), no, yes, unknown);
        } else if (e instanceof BoundExpression.Let let) {
            expressions.let(let);
            branch(let.body(), yes, no, unknown);
        } else if (!split
                && e instanceof BoundExpression.Logical logical
                && (unknown == no || unknown == yes)) {
            Label next = new Label();
            boolean unknownIsNo = unknown == no;
            if (logical.and()) {
                branch(logical.left(), next, no, unknownIsNo ? no : next);
            } else {
                branch(logical.left(), yes, next, unknownIsNo ? next : yes);
            }
            code.mark(next);
            branch(logical.right(), yes, no, unknown);
        } else {
            truth(e);
            int kept = code.keep(Carrier.TRI_STATE);
            code.load(Carrier.TRI_STATE, kept);
            code.m.visitJumpInsn(Opcodes.IFEQ, no);
            code.load(Carrier.TRI_STATE, kept);
            code.push(Logic.TRUE);
            code.m.visitJumpInsn(Opcodes.IF_ICMPEQ, yes);
            code.jump(unknown);
        }
    }

    private void compare(BoundExpression.Compare e, Label yes, Label no, Label unknown) {
        SqlType left = e.left().type();
        SqlType right = e.right().type();
        Carrier carrier = left.carrier();
        boolean same = carrier == right.carrier();
        if (same && (carrier == Carrier.LONG || carrier == Carrier.APPROXIMATE)) {
            expressions.pair(e.left(), e.right(), unknown);
            code.m.visitInsn(carrier == Carrier.LONG ? Opcodes.LCMP : Opcodes.DCMPL);
        } else {
            Label none = unknown;
            int[] kept = boxes(e.left(), e.right(), none);
            int b = kept[1];
            code.load(Carrier.OBJECT, kept[0]);
            if (left instanceof SqlType.Exact && right instanceof SqlType.Exact) {
                code.cast(BigDecimal.class);
                code.load(Carrier.OBJECT, b);
                code.cast(BigDecimal.class);
                code.callVirtual(
                        "java/math/BigDecimal", "compareTo", "(" + ExpressionCode.DECIMAL + ")I");
            } else if (left instanceof SqlType.Text && right instanceof SqlType.Text) {
                code.cast(String.class);
                code.load(Carrier.OBJECT, b);
                code.cast(String.class);
                code.callStatic(
                        Texts.class,
                        e.fixed() ? "compareFixed" : "compare",
                        "(" + ExpressionCode.STRING + ExpressionCode.STRING + ")I");
            } else {
                code.load(Carrier.OBJECT, b);
                code.push(e.fixed() ? 1 : 0);
                code.callStatic(
                        Support.class,
                        "compare",
                        "(" + ExpressionCode.OBJECT + ExpressionCode.OBJECT + "Z)I");
            }
        }
        code.m.visitJumpInsn(
                switch (e.operator()) {
                    case EQUAL -> Opcodes.IFEQ;
                    case NOT_EQUAL -> Opcodes.IFNE;
                    case LESS -> Opcodes.IFLT;
                    case LESS_OR_EQUAL -> Opcodes.IFLE;
                    case GREATER -> Opcodes.IFGT;
                    default -> Opcodes.IFGE;
                },
                yes);
        code.jump(no);
    }

    /** Both values as references in locals; goes away where either is NULL. */
    int[] boxes(BoundExpression left, BoundExpression right, Label ifNull) {
        if (!ExpressionCode.isPlain(right) && !ExpressionCode.isNeverNull(left)) {
            return expressions.strict(
                    Carrier.OBJECT,
                    none -> boxed(left, none),
                    Carrier.OBJECT,
                    () -> boxed(right, ifNull),
                    ifNull);
        }
        boxed(left, ifNull);
        int a = code.keep(Carrier.OBJECT);
        boxed(right, ifNull);
        return new int[] {a, code.keep(Carrier.OBJECT)};
    }

    /** A reference that is not null, whatever the carrier. */
    private void boxed(BoundExpression e, Label ifNull) {
        expressions.value(e, ifNull);
        if (e.type().carrier() == Carrier.TRI_STATE) {
            code.callStatic(Logic.class, "value", "(I)Ljava/lang/Boolean;");
        } else {
            expressions.box(e.type().carrier());
        }
    }
}
