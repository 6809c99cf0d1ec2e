package dev.cantina.runtime;

import dev.cantina.binding.BoundStatement.Assignment;
import dev.cantina.binding.BoundStatement.Target;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.types.Conversion;
import dev.cantina.types.SqlType;
import dev.cantina.types.SqlType.Carrier;
import java.util.ArrayList;
import java.util.List;
import org.objectweb.asm.Label;
import org.objectweb.asm.Opcodes;

/** Writes assignments, and the storing of values into their targets (ISO 9075-4, 14.5). */
final class StoreCode {
    private final StatementCode statements;
    private final MethodCode code;
    private final ExpressionCode expressions;

    StoreCode(StatementCode statements, MethodCode code, ExpressionCode expressions) {
        this.statements = statements;
        this.code = code;
        this.expressions = expressions;
    }

    /** All values are worked out before any is stored. */
    void assign(List<Assignment> assignments) {
        if (assignments.size() == 1) {
            Assignment only = assignments.get(0);
            if (only.target() instanceof Target.Whole whole) {
                expressions.store(whole.variable(), only.value());
                return;
            }
        }
        List<Integer> kept = new ArrayList<>();
        for (Assignment assignment : assignments) {
            expressions.owned(assignment.value());
            kept.add(code.keep(Carrier.OBJECT));
        }
        for (int i = 0; i < kept.size(); i++) {
            store(assignments.get(i).target(), kept.get(i));
        }
    }

    /** Stores the reference in a local, whose class fits the target's type. */
    void store(Target target, int local) {
        if (target instanceof Target.Whole whole) {
            expressions.storeObject(whole.variable(), local);
        } else if (target instanceof Target.OfModule shared) {
            code.loadSession();
            code.constant(shared.module(), ModuleSymbol.class);
            code.callSession(
                    "module", "(Ldev/cantina/catalog/ModuleSymbol;)[" + StatementCode.OBJECT);
            code.push(shared.index());
            code.load(Carrier.OBJECT, local);
            code.m.visitInsn(Opcodes.AASTORE);
        } else if (target instanceof Target.OfRow field) {
            code.getValue(field.variable());
            code.push(((SqlType.Row) field.variable().type()).fields().size());
            code.push(field.field());
            code.load(Carrier.OBJECT, local);
            code.callStatic(
                    Support.class,
                    "withField",
                    "("
                            + StatementCode.OBJECT
                            + "II"
                            + StatementCode.OBJECT
                            + ")"
                            + StatementCode.OBJECT);
            int row = code.keep(Carrier.OBJECT);
            expressions.storeObject(field.variable(), row);
        } else if (target instanceof Target.OfArray element) {
            SqlType.Array type = (SqlType.Array) element.variable().type();
            expressions.object(element.index());
            int index = code.keep(Carrier.OBJECT);
            code.getValue(element.variable());
            code.load(Carrier.OBJECT, index);
            code.callStatic(Session.class, "index", "(" + StatementCode.OBJECT + ")J");
            code.load(Carrier.OBJECT, local);
            code.push(type.maximum());
            code.callStatic(
                    Support.class,
                    "withElement",
                    "("
                            + StatementCode.OBJECT
                            + "J"
                            + StatementCode.OBJECT
                            + "I)"
                            + StatementCode.OBJECT);
            int array = code.keep(Carrier.OBJECT);
            expressions.storeObject(element.variable(), array);
        } else if (target instanceof Target.OfElement element) {
            SqlType.Array type = (SqlType.Array) element.variable().type();
            expressions.object(element.index());
            int index = code.keep(Carrier.OBJECT);
            code.getValue(element.variable());
            code.load(Carrier.OBJECT, index);
            code.callStatic(Session.class, "index", "(" + StatementCode.OBJECT + ")J");
            code.push(((SqlType.Row) type.element()).fields().size());
            code.push(element.field());
            code.load(Carrier.OBJECT, local);
            code.push(type.maximum());
            code.callStatic(
                    Support.class,
                    "withElementField",
                    "("
                            + StatementCode.OBJECT
                            + "JII"
                            + StatementCode.OBJECT
                            + "I)"
                            + StatementCode.OBJECT);
            int array = code.keep(Carrier.OBJECT);
            expressions.storeObject(element.variable(), array);
        }
    }

    /** Stores the values of a row, if there is one, into targets of whatever types. */
    void storeRow(List<Target> targets, int row) {
        Label none = new Label();
        code.load(Carrier.OBJECT, row);
        code.m.visitJumpInsn(Opcodes.IFNULL, none);
        List<Integer> values = new ArrayList<>();
        boolean whole = targets.size() == 1 && typeOf(targets.get(0)) instanceof SqlType.Row;
        for (int i = 0; i < targets.size(); i++) {
            code.load(Carrier.OBJECT, row);
            if (!whole) {
                code.m.visitTypeInsn(Opcodes.CHECKCAST, "[" + StatementCode.OBJECT);
                code.push(i);
                code.m.visitInsn(Opcodes.AALOAD);
            }
            code.constant(typeOf(targets.get(i)), SqlType.class);
            code.callStatic(
                    Conversion.class,
                    "store",
                    "(" + StatementCode.OBJECT + StatementCode.TYPE + ")" + StatementCode.OBJECT);
            values.add(code.keep(Carrier.OBJECT));
        }
        for (int i = 0; i < targets.size(); i++) {
            store(targets.get(i), values.get(i));
        }
        code.mark(none);
    }

    static SqlType typeOf(Target target) {
        if (target instanceof Target.OfRow field) {
            return ((SqlType.Row) field.variable().type()).fields().get(field.field()).type();
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
