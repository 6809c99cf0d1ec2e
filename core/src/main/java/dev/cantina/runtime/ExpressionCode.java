package dev.cantina.runtime;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundSql;
import dev.cantina.binding.Variable;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.syntax.Expression.Operator;
import dev.cantina.types.Compound;
import dev.cantina.types.Conversion;
import dev.cantina.types.Functions;
import dev.cantina.types.Logic;
import dev.cantina.types.Numbers;
import dev.cantina.types.SqlType;
import dev.cantina.types.SqlType.Carrier;
import dev.cantina.types.SqlType.Shape;
import dev.cantina.types.Texts;
import java.math.BigDecimal;
import java.util.List;
import java.util.function.Consumer;
import org.objectweb.asm.Label;
import org.objectweb.asm.MethodVisitor;
import org.objectweb.asm.Opcodes;

/**
 * Writes expressions. A value is written in one of four ways: {@link #value}, which jumps away for
 * NULL; {@link #object}, a reference that may be null; {@link #truth}, one of {@link Logic}'s three
 * numbers; {@link #branch}, a jump. At each jump the operand stack is as high as where the writing
 * began, so that the label it goes to always finds the same stack.
 */
final class ExpressionCode {
    private static final String OBJECT = "Ljava/lang/Object;";
    private static final String DECIMAL = "Ljava/math/BigDecimal;";
    private static final String STRING = "Ljava/lang/String;";
    private static final String TYPE = "Ldev/cantina/types/SqlType;";

    private final MethodCode code;
    private final Program program;

    ExpressionCode(MethodCode code, Program program) {
        this.code = code;
        this.program = program;
    }

    /** Whether the value can't be NULL. */
    static boolean isNeverNull(BoundExpression e) {
        if (e instanceof BoundExpression.Constant constant) {
            return constant.value() != null;
        }
        return e instanceof BoundExpression.IsNull
                || e instanceof BoundExpression.IsTruth
                || e instanceof BoundExpression.Distinct
                || e instanceof BoundExpression.RowConstructor
                || e instanceof BoundExpression.CurrentDatetime;
    }

    /** Leaves the value in its carrier; goes to {@code ifNull} instead where it is NULL. */
    void value(BoundExpression e, Label ifNull) {
        switch (e.type().carrier()) {
            case LONG -> whole(e, ifNull);
            case APPROXIMATE -> approximate(e, ifNull);
            case TRI_STATE -> {
                truth(e);
                if (!isNeverNull(e)) {
                    int kept = code.keep(Carrier.TRI_STATE);
                    code.load(Carrier.TRI_STATE, kept);
                    code.push(Logic.UNKNOWN);
                    code.m.visitJumpInsn(Opcodes.IF_ICMPEQ, ifNull);
                    code.load(Carrier.TRI_STATE, kept);
                }
            }
            case OBJECT -> present(e, ifNull);
        }
    }

    private void whole(BoundExpression e, Label ifNull) {
        if (e instanceof BoundExpression.Constant constant) {
            if (constant.value() == null) {
                nothing(ifNull, Carrier.LONG);
            } else {
                code.m.visitLdcInsn(constant.value());
            }
        } else if (e instanceof BoundExpression.Read read) {
            code.getPresent(read.variable());
            code.m.visitJumpInsn(Opcodes.IFEQ, ifNull);
            code.getValue(read.variable());
        } else if (e instanceof BoundExpression.Arithmetic arithmetic) {
            arithmetic(arithmetic, ifNull, "J");
        } else if (e instanceof BoundExpression.Negate negate) {
            whole(negate.operand(), ifNull);
            code.callStatic(Numbers.class, "negate", "(J)J");
        } else if (e instanceof BoundExpression.Convert convert) {
            convertToWhole(convert, ifNull);
        } else if (e instanceof BoundExpression.Apply apply
                && apply.function().name().equals("MOD")
                && apply.arguments().stream().allMatch(a -> a.type().carrier() == Carrier.LONG)) {
            pair(apply.arguments().get(0), apply.arguments().get(1), ifNull);
            code.callStatic(Numbers.class, "mod", "(JJ)J");
        } else if (e instanceof BoundExpression.Choice || e instanceof BoundExpression.Let) {
            nested(e, ifNull);
        } else {
            fromObject(e, ifNull, Long.class, "longValue", "()J");
        }
    }

    /** Jumps, and leaves a value that is never used, so that what follows has what it expects. */
    private void nothing(Label ifNull, Carrier carrier) {
        code.jump(ifNull);
        switch (carrier) {
            case LONG -> code.m.visitInsn(Opcodes.LCONST_0);
            case APPROXIMATE -> code.m.visitInsn(Opcodes.DCONST_0);
            case TRI_STATE -> code.m.visitInsn(Opcodes.ICONST_0);
            case OBJECT -> code.m.visitInsn(Opcodes.ACONST_NULL);
        }
    }

    private void fromObject(
            BoundExpression e, Label ifNull, Class<?> box, String method, String descriptor) {
        rawObject(e);
        int kept = code.keep(Carrier.OBJECT);
        code.load(Carrier.OBJECT, kept);
        code.m.visitJumpInsn(Opcodes.IFNULL, ifNull);
        code.load(Carrier.OBJECT, kept);
        code.cast(Number.class.isAssignableFrom(box) ? Number.class : box);
        String owner =
                Number.class.isAssignableFrom(box) ? "java/lang/Number" : "java/lang/Boolean";
        code.callVirtual(owner, method, descriptor);
    }

    private void approximate(BoundExpression e, Label ifNull) {
        if (e instanceof BoundExpression.Constant constant) {
            if (constant.value() == null) {
                nothing(ifNull, Carrier.APPROXIMATE);
            } else {
                code.m.visitLdcInsn(constant.value());
            }
        } else if (e instanceof BoundExpression.Read read) {
            code.getPresent(read.variable());
            code.m.visitJumpInsn(Opcodes.IFEQ, ifNull);
            code.getValue(read.variable());
        } else if (e instanceof BoundExpression.Arithmetic arithmetic) {
            arithmetic(arithmetic, ifNull, "D");
        } else if (e instanceof BoundExpression.Negate negate) {
            approximate(negate.operand(), ifNull);
            code.m.visitInsn(Opcodes.DNEG);
        } else if (e instanceof BoundExpression.Convert convert) {
            convertToApproximate(convert, ifNull);
        } else if (e instanceof BoundExpression.Choice || e instanceof BoundExpression.Let) {
            nested(e, ifNull);
        } else {
            fromObject(e, ifNull, Double.class, "doubleValue", "()D");
        }
    }

    /** Both values, the left one below; the operand stack holds nothing else at either's jump. */
    private void pair(BoundExpression left, BoundExpression right, Label ifNull) {
        if (!isPlain(right) && !isNeverNull(left)) {
            Carrier a = left.type().carrier();
            Carrier b = right.type().carrier();
            int[] kept =
                    strict(a, none -> value(left, none), b, () -> value(right, ifNull), ifNull);
            code.load(a, kept[0]);
            code.load(b, kept[1]);
            return;
        }
        value(left, ifNull);
        if (right instanceof BoundExpression.Constant constant && constant.value() != null) {
            value(right, ifNull);
            return;
        }
        int a = code.keep(left.type().carrier());
        value(right, ifNull);
        int b = code.keep(right.type().carrier());
        code.load(left.type().carrier(), a);
        code.load(right.type().carrier(), b);
    }

    /**
     * Keeps the left value in a local; what is to come is worked out also where that is NULL, since
     * it may raise or change something. Both servers do so.
     *
     * @param left leaves the value, or goes away where it is NULL
     * @param right leaves the other value, or goes to {@code ifNull}
     * @return the locals of both
     */
    private int[] strict(
            Carrier carrier, Consumer<Label> left, Carrier other, Runnable right, Label ifNull) {
        Label none = new Label();
        Label next = new Label();
        left.accept(none);
        int a = code.keep(carrier);
        code.push(1);
        int there = code.keep(Carrier.TRI_STATE);
        code.jump(next);
        code.mark(none);
        empty(carrier);
        code.store(carrier, a);
        code.push(0);
        code.store(Carrier.TRI_STATE, there);
        code.mark(next);
        right.run();
        int b = code.keep(other);
        code.load(Carrier.TRI_STATE, there);
        code.m.visitJumpInsn(Opcodes.IFEQ, ifNull);
        return new int[] {a, b};
    }

    private void empty(Carrier carrier) {
        code.m.visitInsn(
                switch (carrier) {
                    case LONG -> Opcodes.LCONST_0;
                    case APPROXIMATE -> Opcodes.DCONST_0;
                    case TRI_STATE -> Opcodes.ICONST_0;
                    case OBJECT -> Opcodes.ACONST_NULL;
                });
    }

    /** Whether working a value out can neither raise nor change anything. */
    private static boolean isPlain(BoundExpression e) {
        return e instanceof BoundExpression.Read
                || e instanceof BoundExpression.Constant
                || e instanceof BoundExpression.ReadShared
                || e instanceof BoundExpression.Field
                || e instanceof BoundExpression.CurrentDatetime
                || e instanceof BoundExpression.Convert convert
                        && !convert.store()
                        && convert.operand().type() instanceof SqlType.Integral
                        && isWide(convert.type())
                        && isPlain(convert.operand());
    }

    /** Whether a type takes every whole number. */
    private static boolean isWide(SqlType type) {
        return type.equals(SqlType.BIGINT)
                || type.equals(SqlType.DOUBLE)
                || type instanceof SqlType.Exact exact && exact.precision() == 0;
    }

    private void arithmetic(BoundExpression.Arithmetic e, Label ifNull, String carrier) {
        pair(e.left(), e.right(), ifNull);
        code.callStatic(
                Numbers.class, method(e.operator()), "(" + carrier + carrier + ")" + carrier);
    }

    private static String method(Operator operator) {
        return switch (operator) {
            case ADD -> "add";
            case SUBTRACT -> "subtract";
            case MULTIPLY -> "multiply";
            default -> "divide";
        };
    }

    /** CASE and LET, with their values in their carrier. */
    private void nested(BoundExpression e, Label ifNull) {
        if (e instanceof BoundExpression.Let let) {
            let(let);
            value(let.body(), ifNull);
            return;
        }
        BoundExpression.Choice choice = (BoundExpression.Choice) e;
        Label end = new Label();
        for (BoundExpression.Option option : choice.options()) {
            Label yes = new Label();
            Label no = new Label();
            branch(option.condition(), yes, no, no);
            code.mark(yes);
            value(option.value(), ifNull);
            code.jump(end);
            code.mark(no);
        }
        value(choice.otherwise(), ifNull);
        code.mark(end);
    }

    private void let(BoundExpression.Let let) {
        store(let.variable(), let.value());
    }

    /** Leaves a reference that is not null; goes away where it would be. */
    private void present(BoundExpression e, Label ifNull) {
        if (e instanceof BoundExpression.Constant constant) {
            if (constant.value() == null) {
                nothing(ifNull, Carrier.OBJECT);
            } else {
                constant(constant);
            }
        } else if (e instanceof BoundExpression.Arithmetic arithmetic) {
            int[] kept = boxes(arithmetic.left(), arithmetic.right(), ifNull);
            code.load(Carrier.OBJECT, kept[0]);
            code.cast(BigDecimal.class);
            code.load(Carrier.OBJECT, kept[1]);
            code.cast(BigDecimal.class);
            code.callStatic(
                    Numbers.class,
                    method(arithmetic.operator())
                            + (e.type() instanceof SqlType.DecFloat ? "Float" : ""),
                    "(" + DECIMAL + DECIMAL + ")" + DECIMAL);
        } else if (e instanceof BoundExpression.Negate negate) {
            present(negate.operand(), ifNull);
            code.cast(BigDecimal.class);
            code.callStatic(Numbers.class, "negate", "(" + DECIMAL + ")" + DECIMAL);
        } else if (e instanceof BoundExpression.Concatenate both) {
            pair(both.left(), both.right(), ifNull);
            code.callStatic(Support.class, "concatenate", "(" + OBJECT + OBJECT + ")" + OBJECT);
        } else if (e instanceof BoundExpression.Convert convert) {
            convertToObject(convert, ifNull);
        } else if (e instanceof BoundExpression.Choice || e instanceof BoundExpression.Let) {
            nested(e, ifNull);
        } else {
            rawObject(e);
            if (!isNeverNull(e)) {
                int kept = code.keep(Carrier.OBJECT);
                code.load(Carrier.OBJECT, kept);
                code.m.visitJumpInsn(Opcodes.IFNULL, ifNull);
                code.load(Carrier.OBJECT, kept);
            }
        }
    }

    private void constant(BoundExpression.Constant constant) {
        Object value = constant.value();
        Class<?> as = value instanceof Object[] ? Object[].class : value.getClass();
        if (value instanceof byte[]) {
            as = byte[].class;
        }
        code.constant(value, as);
    }

    /** Leaves a reference, null for NULL; numbers and truths are boxed. */
    void object(BoundExpression e) {
        if (e instanceof BoundExpression.Constant constant && constant.value() == null) {
            code.m.visitInsn(Opcodes.ACONST_NULL);
            return;
        }
        if (e.type().carrier() == Carrier.TRI_STATE) {
            truth(e);
            code.callStatic(Logic.class, "value", "(I)Ljava/lang/Boolean;");
            return;
        }
        if (isDirect(e)) {
            rawObject(e);
            return;
        }
        Label none = new Label();
        Label end = new Label();
        value(e, none);
        box(e.type().carrier());
        code.jump(end);
        code.mark(none);
        code.m.visitInsn(Opcodes.ACONST_NULL);
        code.mark(end);
    }

    private void box(Carrier carrier) {
        if (carrier == Carrier.LONG) {
            code.callStatic(Long.class, "valueOf", "(J)Ljava/lang/Long;");
        } else if (carrier == Carrier.APPROXIMATE) {
            code.callStatic(Double.class, "valueOf", "(D)Ljava/lang/Double;");
        }
    }

    /** Whether {@link #rawObject} writes it as it is. */
    private static boolean isDirect(BoundExpression e) {
        return e instanceof BoundExpression.Read && e.type().carrier() == Carrier.OBJECT
                || e instanceof BoundExpression.ReadShared
                || e instanceof BoundExpression.Field
                || e instanceof BoundExpression.Element
                || e instanceof BoundExpression.Invoke
                || e instanceof BoundExpression.DatabaseExpression
                || e instanceof BoundExpression.RowConstructor
                || e instanceof BoundExpression.CurrentDatetime
                || e instanceof BoundExpression.CursorRow
                || e instanceof BoundExpression.Apply
                || e instanceof BoundExpression.Constant && e.type().carrier() == Carrier.OBJECT;
    }

    /** A reference whose holder is its own: arrays and rows are copied when they are stored. */
    void owned(BoundExpression e) {
        object(e);
        boolean compound =
                e.type() instanceof SqlType.Array
                        || e.type() instanceof SqlType.Row
                        || e.type() instanceof SqlType.Unknown;
        if (compound && !(e instanceof BoundExpression.RowConstructor)) {
            code.callStatic(Support.class, "copy", "(" + OBJECT + ")" + OBJECT);
        }
    }

    /** References of one new array, in order. */
    void objects(List<BoundExpression> values) {
        code.push(values.size());
        code.m.visitTypeInsn(Opcodes.ANEWARRAY, "java/lang/Object");
        for (int i = 0; i < values.size(); i++) {
            code.m.visitInsn(Opcodes.DUP);
            code.push(i);
            owned(values.get(i));
            code.m.visitInsn(Opcodes.AASTORE);
        }
    }

    private void rawObject(BoundExpression e) {
        if (e instanceof BoundExpression.Constant constant) {
            constant(constant);
        } else if (e instanceof BoundExpression.Read read) {
            code.getValue(read.variable());
        } else if (e instanceof BoundExpression.ReadShared shared) {
            code.loadSession();
            code.constant(shared.module(), ModuleSymbol.class);
            code.callSession("module", "(Ldev/cantina/catalog/ModuleSymbol;)[" + OBJECT);
            code.push(shared.index());
            code.m.visitInsn(Opcodes.AALOAD);
        } else if (e instanceof BoundExpression.Field field) {
            object(field.row());
            code.push(field.index());
            code.callStatic(Support.class, "field", "(" + OBJECT + "I)" + OBJECT);
        } else if (e instanceof BoundExpression.Element element) {
            Label none = new Label();
            Label end = new Label();
            object(element.array());
            int array = code.keep(Carrier.OBJECT);
            value(element.index(), none);
            int index = code.keep(Carrier.LONG);
            code.load(Carrier.OBJECT, array);
            code.load(Carrier.LONG, index);
            code.callStatic(Support.class, "element", "(" + OBJECT + "J)" + OBJECT);
            code.jump(end);
            code.mark(none);
            code.m.visitInsn(Opcodes.ACONST_NULL);
            code.mark(end);
        } else if (e instanceof BoundExpression.Invoke invoke) {
            code.loadSession();
            code.loadFrame();
            routine(invoke.routine());
            objects(invoke.arguments());
            code.callSession(
                    "invoke",
                    "(L"
                            + MethodCode.FRAME
                            + ";L"
                            + RoutineReference.INTERNAL
                            + ";["
                            + OBJECT
                            + ")"
                            + OBJECT);
        } else if (e instanceof BoundExpression.DatabaseExpression ask) {
            code.loadData();
            site(ask.sql());
            objects(ask.sql().parameters());
            code.constant(ask.type(), SqlType.class);
            code.callData(
                    "ask", "(L" + SITE + ";[" + OBJECT + "Ldev/cantina/types/SqlType;)" + OBJECT);
        } else if (e instanceof BoundExpression.RowConstructor several) {
            objects(several.parts());
        } else if (e instanceof BoundExpression.CurrentDatetime moment) {
            code.loadSession();
            code.push(moment.name());
            code.callSession("moment", "(" + STRING + ")" + OBJECT);
        } else if (e instanceof BoundExpression.CursorRow row) {
            code.loadData();
            code.loadFrame();
            code.push(row.cursor().slot());
            code.push(row.cursor().name());
            code.callData("cursorRow", "(L" + MethodCode.FRAME + ";I" + STRING + ")" + OBJECT);
        } else if (e instanceof BoundExpression.Apply apply) {
            code.constant(apply.function(), Functions.BuiltIn.class);
            objects(apply.arguments());
            code.callVirtual(
                    "dev/cantina/types/Functions$BuiltIn", "call", "([" + OBJECT + ")" + OBJECT);
        } else {
            object(e);
        }
    }

    static final String SITE = "dev/cantina/runtime/DataSite";

    void site(BoundSql sql) {
        code.constant(new DataSite(program.nextSite(), sql, program.catalog()), DataSite.class);
    }

    void routine(RoutineSymbol symbol) {
        code.constant(new RoutineReference(symbol), RoutineReference.class);
    }

    private void convertToWhole(BoundExpression.Convert e, Label ifNull) {
        SqlType from = e.operand().type();
        SqlType.Whole size = ((SqlType.Integral) e.type()).size();
        if (from instanceof SqlType.Integral integral) {
            whole(e.operand(), ifNull);
            if (integral.size().compareTo(size) > 0) {
                narrow(size);
            }
        } else if (from instanceof SqlType.Exact) {
            present(e.operand(), ifNull);
            code.cast(BigDecimal.class);
            code.callStatic(Numbers.class, "whole", "(" + DECIMAL + ")J");
            narrow(size);
        } else if (from instanceof SqlType.Approximate) {
            approximate(e.operand(), ifNull);
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

    private void convertToApproximate(BoundExpression.Convert e, Label ifNull) {
        SqlType from = e.operand().type();
        if (from instanceof SqlType.Integral) {
            whole(e.operand(), ifNull);
            code.m.visitInsn(Opcodes.L2D);
        } else if (from instanceof SqlType.Approximate) {
            approximate(e.operand(), ifNull);
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

    private void convertToObject(BoundExpression.Convert e, Label ifNull) {
        SqlType from = e.operand().type();
        if (e.type() instanceof SqlType.Exact exact) {
            if (from instanceof SqlType.Integral) {
                whole(e.operand(), ifNull);
                code.callStatic(BigDecimal.class, "valueOf", "(J)" + DECIMAL);
            } else if (from instanceof SqlType.Exact) {
                present(e.operand(), ifNull);
                code.cast(BigDecimal.class);
            } else {
                generic(e, ifNull);
                return;
            }
            if (exact.precision() > 0) {
                code.push(exact.precision());
                code.push(exact.scale());
                code.callStatic(Numbers.class, "decimal", "(" + DECIMAL + "II)" + DECIMAL);
            }
            return;
        }
        boolean text =
                e.store() && from instanceof SqlType.Text && e.type() instanceof SqlType.Text;
        if (text) {
            SqlType.Text to = (SqlType.Text) e.type();
            present(e.operand(), ifNull);
            code.cast(String.class);
            code.push(to.shape() == Shape.FIXED ? Math.max(1, to.length()) : to.length());
            String method = to.shape() == Shape.FIXED ? "fixed" : "varying";
            code.callStatic(Texts.class, method, "(" + STRING + "I)" + STRING);
            return;
        }
        generic(e, ifNull);
    }

    /** Any conversion, by the classes of the values. */
    private void generic(BoundExpression.Convert e, Label ifNull) {
        Label there = new Label();
        object(e.operand());
        code.constant(e.type(), SqlType.class);
        code.callStatic(
                Conversion.class,
                e.store() ? "store" : "cast",
                "(" + OBJECT + "Ldev/cantina/types/SqlType;)" + OBJECT);
        int kept = code.keep(Carrier.OBJECT);
        code.load(Carrier.OBJECT, kept);
        code.m.visitJumpInsn(Opcodes.IFNULL, ifNull);
        code.mark(there);
        code.load(Carrier.OBJECT, kept);
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
                    Compound.class, "compare", "(" + OBJECT + TYPE + STRING + OBJECT + TYPE + ")I");
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
            code.callStatic(Compound.class, "distinct", "(" + OBJECT + TYPE + OBJECT + TYPE + ")Z");
            if (distinct.negated()) {
                code.push(1);
                code.m.visitInsn(Opcodes.IXOR);
            }
        } else if (e instanceof BoundExpression.Like like) {
            like(like);
        } else if (e instanceof BoundExpression.Let let) {
            let(let);
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
            object(convert.operand());
            code.constant(SqlType.BOOLEAN, SqlType.class);
            code.callStatic(
                    Conversion.class,
                    "cast",
                    "(" + OBJECT + "Ldev/cantina/types/SqlType;)" + OBJECT);
            code.callStatic(Logic.class, "of", "(" + OBJECT + ")I");
        } else {
            rawObject(e);
            code.callStatic(Logic.class, "of", "(" + OBJECT + ")I");
        }
    }

    private static boolean isCompound(BoundExpression.Compare e) {
        return Compound.concerns(e.left().type());
    }

    /** Leaves both values with their types, between them the sign where there is one. */
    private void compound(BoundExpression left, String sign, BoundExpression right) {
        object(left);
        int a = code.keep(Carrier.OBJECT);
        object(right);
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
        new ExpressionCode(own, program).truth(e);
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
        present(e.operand(), none);
        int text = code.keep(Carrier.OBJECT);
        present(e.pattern(), none);
        int pattern = code.keep(Carrier.OBJECT);
        int escape = -1;
        if (e.escape().isPresent()) {
            present(e.escape().get(), none);
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
        code.callStatic(Texts.class, "like", "(" + STRING + STRING + STRING + ")Z");
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
                object(isNull.operand());
                code.callStatic(
                        Compound.class,
                        isNull.negated() ? "isPresent" : "isNull",
                        "(" + OBJECT + ")Z");
                code.m.visitJumpInsn(Opcodes.IFNE, yes);
                code.jump(no);
                return;
            } else {
                object(isNull.operand());
                code.m.visitJumpInsn(Opcodes.IFNULL, none);
            }
            code.jump(some);
        } else if (e instanceof BoundExpression.Not not) {
            branch(not.operand(), no, yes, unknown);
        } else if (e instanceof BoundExpression.Let let) {
            let(let);
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
            pair(e.left(), e.right(), unknown);
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
                code.callVirtual("java/math/BigDecimal", "compareTo", "(" + DECIMAL + ")I");
            } else if (left instanceof SqlType.Text && right instanceof SqlType.Text) {
                code.cast(String.class);
                code.load(Carrier.OBJECT, b);
                code.cast(String.class);
                code.callStatic(
                        Texts.class,
                        e.fixed() ? "compareFixed" : "compare",
                        "(" + STRING + STRING + ")I");
            } else {
                code.load(Carrier.OBJECT, b);
                code.push(e.fixed() ? 1 : 0);
                code.callStatic(Support.class, "compare", "(" + OBJECT + OBJECT + "Z)I");
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
    private int[] boxes(BoundExpression left, BoundExpression right, Label ifNull) {
        if (!isPlain(right) && !isNeverNull(left)) {
            return strict(
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
        value(e, ifNull);
        if (e.type().carrier() == Carrier.TRI_STATE) {
            code.callStatic(Logic.class, "value", "(I)Ljava/lang/Boolean;");
        } else {
            box(e.type().carrier());
        }
    }

    /** Stores a value of the variable's type. */
    void store(Variable variable, BoundExpression value) {
        switch (variable.type().carrier()) {
            case LONG, APPROXIMATE -> {
                Label none = new Label();
                Label end = new Label();
                value(value, none);
                int kept = code.keep(variable.type().carrier());
                code.loadOwner(variable);
                code.load(variable.type().carrier(), kept);
                code.putValue(variable);
                code.putPresent(variable, true);
                code.jump(end);
                code.mark(none);
                code.putPresent(variable, false);
                code.mark(end);
            }
            case TRI_STATE -> {
                truth(value);
                int kept = code.keep(Carrier.TRI_STATE);
                code.loadOwner(variable);
                code.load(Carrier.TRI_STATE, kept);
                code.putValue(variable);
            }
            case OBJECT -> {
                owned(value);
                int kept = code.keep(Carrier.OBJECT);
                code.loadOwner(variable);
                code.load(Carrier.OBJECT, kept);
                code.putValue(variable);
            }
        }
    }

    /** Stores the reference in a local, whose class fits the variable's type. */
    void storeObject(Variable variable, int local) {
        switch (variable.type().carrier()) {
            case LONG, APPROXIMATE -> {
                boolean whole = variable.type().carrier() == Carrier.LONG;
                Label none = new Label();
                Label end = new Label();
                code.load(Carrier.OBJECT, local);
                code.m.visitJumpInsn(Opcodes.IFNULL, none);
                code.loadOwner(variable);
                code.load(Carrier.OBJECT, local);
                code.cast(Number.class);
                code.callVirtual(
                        "java/lang/Number",
                        whole ? "longValue" : "doubleValue",
                        whole ? "()J" : "()D");
                code.putValue(variable);
                code.putPresent(variable, true);
                code.jump(end);
                code.mark(none);
                code.putPresent(variable, false);
                code.mark(end);
            }
            case TRI_STATE -> {
                code.loadOwner(variable);
                code.load(Carrier.OBJECT, local);
                code.callStatic(Logic.class, "of", "(" + OBJECT + ")I");
                code.putValue(variable);
            }
            case OBJECT -> {
                code.loadOwner(variable);
                code.load(Carrier.OBJECT, local);
                code.putValue(variable);
            }
        }
    }
}
