package dev.cantina.runtime;

import dev.cantina.binding.Variable;
import dev.cantina.types.SqlType.Carrier;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import org.objectweb.asm.ClassWriter;
import org.objectweb.asm.ConstantDynamic;
import org.objectweb.asm.Handle;
import org.objectweb.asm.MethodVisitor;
import org.objectweb.asm.Opcodes;
import org.objectweb.asm.Type;

/** A class while it is written: its fields, its constants, and how it is defined. */
final class ClassCode {
    private final ClassWriter writer;
    private final String name;
    private final RoutineLoader loader;
    private final List<Object> constants = new ArrayList<>();
    private final List<String> constantTypes = new ArrayList<>();
    private final Map<Object, Map<String, Integer>> numbers = new IdentityHashMap<>();

    ClassCode(RoutineLoader loader, String routine, Class<?> parent) {
        this.loader = loader;
        this.name = loader.newName(routine);
        this.writer =
                new ClassWriter(ClassWriter.COMPUTE_FRAMES) {
                    @Override
                    protected String getCommonSuperClass(String a, String b) {
                        // What is merged is cast again before it is used as anything but an object.
                        return "java/lang/Object";
                    }
                };
        String parentName = Type.getInternalName(parent);
        writer.visit(
                Opcodes.V17, Opcodes.ACC_PUBLIC | Opcodes.ACC_FINAL, name, null, parentName, null);
        MethodVisitor constructor =
                writer.visitMethod(Opcodes.ACC_PUBLIC, "<init>", "()V", null, null);
        constructor.visitCode();
        constructor.visitVarInsn(Opcodes.ALOAD, 0);
        constructor.visitMethodInsn(Opcodes.INVOKESPECIAL, parentName, "<init>", "()V", false);
        constructor.visitInsn(Opcodes.RETURN);
        constructor.visitMaxs(0, 0);
        constructor.visitEnd();
    }

    String name() {
        return name;
    }

    private int parts;

    /** A number for a method that is split off. */
    int newPart() {
        return parts++;
    }

    void field(Variable variable) {
        String descriptor = MethodCode.descriptor(variable.type());
        writer.visitField(Opcodes.ACC_PUBLIC, "v" + variable.slot(), descriptor, null, null)
                .visitEnd();
        Carrier carrier = variable.type().carrier();
        if (carrier == Carrier.LONG || carrier == Carrier.APPROXIMATE) {
            writer.visitField(Opcodes.ACC_PUBLIC, "p" + variable.slot(), "Z", null, null)
                    .visitEnd();
        }
    }

    /** How many constants are fields; what comes after them is found when it is first used. */
    private static final int CONSTANT_FIELDS = 1000;

    private static final Handle CONSTANT =
            new Handle(
                    Opcodes.H_INVOKESTATIC,
                    Type.getInternalName(Constants.class),
                    "constant",
                    "(Ljava/lang/invoke/MethodHandles$Lookup;Ljava/lang/String;Ljava/lang/Class;I)"
                            + "Ljava/lang/Object;",
                    false);

    MethodVisitor method(int access, String methodName, String descriptor) {
        MethodVisitor method =
                new SizedMethod(writer.visitMethod(access, methodName, descriptor, null, null));
        method.visitCode();
        return method;
    }

    /** Pushes an object that lives as long as the class. */
    void loadConstant(MethodVisitor m, Object value, String internalType) {
        Map<String, Integer> known = numbers.computeIfAbsent(value, v -> new HashMap<>());
        Integer index = known.get(internalType);
        if (index == null) {
            index = constants.size();
            constants.add(value);
            constantTypes.add(internalType);
            known.put(internalType, index);
        }
        if (index >= CONSTANT_FIELDS) {
            m.visitLdcInsn(
                    new ConstantDynamic("c" + index, descriptor(internalType), CONSTANT, index));
            return;
        }
        m.visitFieldInsn(Opcodes.GETSTATIC, name, "c" + index, descriptor(internalType));
    }

    private static String descriptor(String internalType) {
        return internalType.startsWith("[") ? internalType : "L" + internalType + ";";
    }

    Class<?> define() {
        initializer();
        writer.visitEnd();
        return loader.define(name, writer.toByteArray(), constants.toArray());
    }

    private void initializer() {
        MethodVisitor m = method(Opcodes.ACC_STATIC, "<clinit>", "()V");
        m.visitLdcInsn(Type.getObjectType(name));
        m.visitMethodInsn(
                Opcodes.INVOKESTATIC,
                Type.getInternalName(Constants.class),
                "of",
                "(Ljava/lang/Class;)[Ljava/lang/Object;",
                false);
        m.visitVarInsn(Opcodes.ASTORE, 0);
        if (constants.size() > CONSTANT_FIELDS) {
            String all = "[Ljava/lang/Object;";
            int access = Opcodes.ACC_PRIVATE | Opcodes.ACC_STATIC | Opcodes.ACC_FINAL;
            writer.visitField(access, "constants", all, null, null).visitEnd();
            m.visitVarInsn(Opcodes.ALOAD, 0);
            m.visitFieldInsn(Opcodes.PUTSTATIC, name, "constants", all);
        }
        for (int i = 0; i < Math.min(CONSTANT_FIELDS, constants.size()); i++) {
            String descriptor = descriptor(constantTypes.get(i));
            int access = Opcodes.ACC_PRIVATE | Opcodes.ACC_STATIC | Opcodes.ACC_FINAL;
            writer.visitField(access, "c" + i, descriptor, null, null).visitEnd();
            m.visitVarInsn(Opcodes.ALOAD, 0);
            m.visitLdcInsn(i);
            m.visitInsn(Opcodes.AALOAD);
            m.visitTypeInsn(Opcodes.CHECKCAST, constantTypes.get(i));
            m.visitFieldInsn(Opcodes.PUTSTATIC, name, "c" + i, descriptor);
        }
        m.visitInsn(Opcodes.RETURN);
        m.visitMaxs(0, 0);
        m.visitEnd();
    }
}
