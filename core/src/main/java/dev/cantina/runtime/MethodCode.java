package dev.cantina.runtime;

import dev.cantina.binding.Variable;
import dev.cantina.types.SqlType;
import org.objectweb.asm.Label;
import org.objectweb.asm.MethodVisitor;
import org.objectweb.asm.Opcodes;
import org.objectweb.asm.Type;

/**
 * A method while it is written: its instructions, its temporary locals, its way to the variables.
 */
final class MethodCode {
    static final String FRAME = Type.getInternalName(Frame.class);
    static final String SESSION = Type.getInternalName(Session.class);
    static final String HANDLING = Type.getInternalName(Handling.class);
    static final String DATA = Type.getInternalName(DataAccess.class);
    static final String SUPPORT = Type.getInternalName(Support.class);

    private static final int LONG = 4000;

    final MethodVisitor m;
    final ClassCode type;

    /** Slots below this one are fields of the frame in local 1; for expressions of a debugger. */
    private final int foreignSlots;

    private final String foreignType;
    private int nextLocal;

    MethodCode(ClassCode type, MethodVisitor m, int firstLocal) {
        this(type, m, firstLocal, 0, "");
    }

    MethodCode(
            ClassCode type, MethodVisitor m, int firstLocal, int foreignSlots, String foreignType) {
        this.type = type;
        this.m = m;
        this.nextLocal = firstLocal;
        this.foreignSlots = foreignSlots;
        this.foreignType = foreignType;
    }

    /**
     * Whether so much is written that the rest should go into a method of its own: the JVM compiles
     * no method of 8000 bytes or more, and takes none above 65535.
     */
    boolean isLong() {
        return m instanceof SizedMethod sized && sized.size() > LONG;
    }

    /** Whether this method stands for an activation of the routine, so that parts can be made. */
    boolean canSplit() {
        return foreignType.isEmpty();
    }

    int newLocal(int size) {
        int local = nextLocal;
        nextLocal += size;
        return local;
    }

    /** What locals are taken now; {@link #release} frees those taken since. */
    int locals() {
        return nextLocal;
    }

    void release(int locals) {
        nextLocal = locals;
    }

    void loadFrame() {
        m.visitVarInsn(Opcodes.ALOAD, 0);
    }

    void loadSession() {
        loadFrame();
        m.visitFieldInsn(Opcodes.GETFIELD, type.name(), "session", "L" + SESSION + ";");
    }

    /** The session's way to the database, for {@link #callData}. */
    void loadData() {
        loadSession();
        m.visitFieldInsn(Opcodes.GETFIELD, SESSION, "data", "L" + DATA + ";");
    }

    /** The session's way with conditions, for {@link #callHandling}. */
    void loadHandling() {
        loadSession();
        m.visitFieldInsn(Opcodes.GETFIELD, SESSION, "handling", "L" + HANDLING + ";");
    }

    /** The way with conditions is on the stack below the arguments. */
    void callHandling(String name, String descriptor) {
        callVirtual(HANDLING, name, descriptor);
    }

    /** The way to the database is on the stack below the arguments. */
    void callData(String name, String descriptor) {
        callVirtual(DATA, name, descriptor);
    }

    /** The object whose field the variable is. */
    void loadOwner(Variable variable) {
        m.visitVarInsn(Opcodes.ALOAD, variable.slot() < foreignSlots ? 1 : 0);
    }

    private String owner(Variable variable) {
        return variable.slot() < foreignSlots ? foreignType : type.name();
    }

    void getValue(Variable variable) {
        loadOwner(variable);
        m.visitFieldInsn(
                Opcodes.GETFIELD,
                owner(variable),
                "v" + variable.slot(),
                descriptor(variable.type()));
    }

    void getPresent(Variable variable) {
        loadOwner(variable);
        m.visitFieldInsn(Opcodes.GETFIELD, owner(variable), "p" + variable.slot(), "Z");
    }

    /** The value is on the stack, its owner below it. */
    void putValue(Variable variable) {
        m.visitFieldInsn(
                Opcodes.PUTFIELD,
                owner(variable),
                "v" + variable.slot(),
                descriptor(variable.type()));
    }

    void putPresent(Variable variable, boolean present) {
        loadOwner(variable);
        m.visitInsn(present ? Opcodes.ICONST_1 : Opcodes.ICONST_0);
        m.visitFieldInsn(Opcodes.PUTFIELD, owner(variable), "p" + variable.slot(), "Z");
    }

    static String descriptor(SqlType type) {
        return switch (type.carrier()) {
            case LONG -> "J";
            case APPROXIMATE -> "D";
            case TRI_STATE -> "I";
            case OBJECT -> "Ljava/lang/Object;";
        };
    }

    void push(int value) {
        if (value >= -1 && value <= 5) {
            m.visitInsn(Opcodes.ICONST_0 + value);
        } else if (value >= Short.MIN_VALUE && value <= Short.MAX_VALUE) {
            m.visitIntInsn(Opcodes.SIPUSH, value);
        } else {
            m.visitLdcInsn(value);
        }
    }

    void push(String text) {
        if (text == null) {
            m.visitInsn(Opcodes.ACONST_NULL);
        } else {
            type.loadConstant(m, text, "java/lang/String");
        }
    }

    void constant(Object value, Class<?> as) {
        type.loadConstant(m, value, Type.getInternalName(as));
    }

    void callStatic(Class<?> owner, String name, String descriptor) {
        m.visitMethodInsn(
                Opcodes.INVOKESTATIC, Type.getInternalName(owner), name, descriptor, false);
    }

    void callVirtual(String owner, String name, String descriptor) {
        m.visitMethodInsn(Opcodes.INVOKEVIRTUAL, owner, name, descriptor, false);
    }

    /** The session is on the stack below the arguments. */
    void callSession(String name, String descriptor) {
        callVirtual(SESSION, name, descriptor);
    }

    void cast(Class<?> to) {
        m.visitTypeInsn(Opcodes.CHECKCAST, Type.getInternalName(to));
    }

    void jump(Label label) {
        m.visitJumpInsn(Opcodes.GOTO, label);
    }

    void mark(Label label) {
        m.visitLabel(label);
    }

    void load(SqlType.Carrier carrier, int local) {
        m.visitVarInsn(
                switch (carrier) {
                    case LONG -> Opcodes.LLOAD;
                    case APPROXIMATE -> Opcodes.DLOAD;
                    case TRI_STATE -> Opcodes.ILOAD;
                    case OBJECT -> Opcodes.ALOAD;
                },
                local);
    }

    /** Stores what is on the stack into a new local, and gives that. */
    int keep(SqlType.Carrier carrier) {
        boolean wide = carrier == SqlType.Carrier.LONG || carrier == SqlType.Carrier.APPROXIMATE;
        int local = newLocal(wide ? 2 : 1);
        store(carrier, local);
        return local;
    }

    void store(SqlType.Carrier carrier, int local) {
        m.visitVarInsn(
                switch (carrier) {
                    case LONG -> Opcodes.LSTORE;
                    case APPROXIMATE -> Opcodes.DSTORE;
                    case TRI_STATE -> Opcodes.ISTORE;
                    case OBJECT -> Opcodes.ASTORE;
                },
                local);
    }
}
