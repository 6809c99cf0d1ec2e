package dev.cantina.runtime;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundSql;
import dev.cantina.binding.Variable;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.syntax.Expression.Operator;
import dev.cantina.types.Functions;
import dev.cantina.types.Logic;
import dev.cantina.types.Numbers;
import dev.cantina.types.SqlType;
import dev.cantina.types.SqlType.Carrier;
import java.math.BigDecimal;
import java.util.List;
import java.util.function.Consumer;
import org.objectweb.asm.Label;
import org.objectweb.asm.Opcodes;

/**
 * Writes expressions. A value is written in one of four ways: {@link #value}, which jumps away for
 * NULL; {@link #object}, a reference that may be null; {@link #truth}, one of {@link Logic}'s three
 * numbers; {@link #branch}, a jump. At each jump the operand stack is as high as where the writing
 * began, so that the label it goes to always finds the same stack.
 */
final class ExpressionCode {
    private final TruthCode truths;
    private final ConversionCode conversions;
    static final String OBJECT = "Ljava/lang/Object;";
    static final String DECIMAL = "Ljava/math/BigDecimal;";
    static final String STRING = "Ljava/lang/String;";
    static final String TYPE = "Ldev/cantina/types/SqlType;";

    private final MethodCode code;
    final Program program;

    ExpressionCode(MethodCode code, Program program) {
        this.code = code;
        this.program = program;
        this.conversions = new ConversionCode(this, code);
        this.truths = new TruthCode(this, code);
    }

    /** Writes conditions. */
    TruthCode truths() {
        return truths;
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
                truths.truth(e);
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

    void whole(BoundExpression e, Label ifNull) {
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
            conversions.convertToWhole(convert, ifNull);
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

    void approximate(BoundExpression e, Label ifNull) {
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
            conversions.convertToApproximate(convert, ifNull);
        } else if (e instanceof BoundExpression.Choice || e instanceof BoundExpression.Let) {
            nested(e, ifNull);
        } else {
            fromObject(e, ifNull, Double.class, "doubleValue", "()D");
        }
    }

    /** Both values, the left one below; the operand stack holds nothing else at either's jump. */
    void pair(BoundExpression left, BoundExpression right, Label ifNull) {
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
    int[] strict(
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
    static boolean isPlain(BoundExpression e) {
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
            truths.branch(option.condition(), yes, no, no);
            code.mark(yes);
            value(option.value(), ifNull);
            code.jump(end);
            code.mark(no);
        }
        value(choice.otherwise(), ifNull);
        code.mark(end);
    }

    void let(BoundExpression.Let let) {
        store(let.variable(), let.value());
    }

    /** Leaves a reference that is not null; goes away where it would be. */
    void present(BoundExpression e, Label ifNull) {
        if (e instanceof BoundExpression.Constant constant) {
            if (constant.value() == null) {
                nothing(ifNull, Carrier.OBJECT);
            } else {
                constant(constant);
            }
        } else if (e instanceof BoundExpression.Arithmetic arithmetic) {
            int[] kept = truths.boxes(arithmetic.left(), arithmetic.right(), ifNull);
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
            conversions.convertToObject(convert, ifNull);
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
            truths.truth(e);
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

    void box(Carrier carrier) {
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

    void rawObject(BoundExpression e) {
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
                truths.truth(value);
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
