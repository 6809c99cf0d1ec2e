package dev.cantina.database.embedded;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.types.SqlType;
import java.math.BigDecimal;
import java.sql.Connection;
import java.sql.ResultSet;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.h2.value.Value;
import org.objectweb.asm.ClassWriter;
import org.objectweb.asm.MethodVisitor;
import org.objectweb.asm.Opcodes;
import org.objectweb.asm.Type;

/**
 * Defines the classes that the embedded engine calls back into: one static method for each function
 * (the engine reads its signature), and a trigger class. They find their database through this
 * loader, so several databases live beside each other and none is held by anything static.
 */
final class EntryLoader extends ClassLoader {
    private static final String PACKAGE = "dev.cantina.database.written.";

    private final EmbeddedDatabase database;
    private final List<List<RoutineSymbol>> functions = new ArrayList<>();

    EntryLoader(EmbeddedDatabase database) {
        super(EntryLoader.class.getClassLoader());
        this.database = database;
    }

    EmbeddedDatabase database() {
        return database;
    }

    /** The name of a trigger class that belongs to this loader's database. */
    String triggerClass() {
        String name = PACKAGE + "Fired";
        ClassWriter writer = new ClassWriter(ClassWriter.COMPUTE_MAXS);
        String parent = Type.getInternalName(EmbeddedTrigger.class);
        writer.visit(Opcodes.V17, Opcodes.ACC_PUBLIC, name.replace('.', '/'), null, parent, null);
        MethodVisitor m = writer.visitMethod(Opcodes.ACC_PUBLIC, "<init>", "()V", null, null);
        m.visitCode();
        m.visitVarInsn(Opcodes.ALOAD, 0);
        m.visitMethodInsn(Opcodes.INVOKESPECIAL, parent, "<init>", "()V", false);
        m.visitInsn(Opcodes.RETURN);
        m.visitMaxs(0, 0);
        m.visitEnd();
        writer.visitEnd();
        define(name, writer);
        return name;
    }

    private void define(String name, ClassWriter writer) {
        byte[] code = writer.toByteArray();
        defineClass(name, code, 0, code.length);
    }

    /**
     * Writes the entry of a function and its overloads; gives {@code class.method}. The engine
     * tells methods apart by the number of their parameters alone, so overloads that take the same
     * number of arguments share one, which takes values of any type.
     */
    String functionEntry(List<RoutineSymbol> overloads) {
        String name = PACKAGE + "Function" + functions.size();
        ClassWriter writer = entryClass(name);
        Set<Integer> counts = new HashSet<>();
        for (RoutineSymbol function : overloads) {
            for (int i = function.required(); i <= function.parameters().size(); i++) {
                int count = i;
                if (counts.add(count)) {
                    List<RoutineSymbol> alike =
                            overloads.stream()
                                    .filter(f -> f.required() <= count)
                                    .filter(f -> f.parameters().size() >= count)
                                    .toList();
                    method(writer, name, alike, count);
                }
            }
        }
        writer.visitEnd();
        define(name, writer);
        return name + ".call";
    }

    private void method(ClassWriter writer, String name, List<RoutineSymbol> alike, int count) {
        int number = functions.size();
        functions.add(alike);
        RoutineSymbol function = alike.get(0);
        List<Class<?>> parameters = new ArrayList<>();
        boolean rows = function.returns().orElseThrow() instanceof SqlType.Table;
        if (rows) {
            parameters.add(Connection.class);
        }
        for (int i = 0; i < count; i++) {
            int at = i;
            List<Class<?>> types =
                    alike.stream()
                            .<Class<?>>map(f -> JavaTypes.of(f.parameters().get(at).type()))
                            .distinct()
                            .toList();
            parameters.add(types.size() == 1 && alike.size() == 1 ? types.get(0) : Value.class);
        }
        Class<?> result = rows ? ResultSet.class : result(alike);
        MethodVisitor m =
                writer.visitMethod(
                        Opcodes.ACC_PUBLIC | Opcodes.ACC_STATIC,
                        "call",
                        Type.getMethodDescriptor(
                                Type.getType(result),
                                parameters.stream().map(Type::getType).toArray(Type[]::new)),
                        null,
                        new String[] {"java/sql/SQLException"});
        m.visitCode();
        m.visitLdcInsn(Type.getObjectType(name.replace('.', '/')));
        m.visitLdcInsn(number);
        m.visitLdcInsn(parameters.size());
        m.visitTypeInsn(Opcodes.ANEWARRAY, "java/lang/Object");
        for (int i = 0; i < parameters.size(); i++) {
            m.visitInsn(Opcodes.DUP);
            m.visitLdcInsn(i);
            m.visitVarInsn(Opcodes.ALOAD, i);
            m.visitInsn(Opcodes.AASTORE);
        }
        handOver(
                m,
                rows ? "table" : "call",
                "(Ljava/lang/Class;I[Ljava/lang/Object;)Ljava/lang/Object;",
                result);
    }

    /** The one class that the engine can be told of for what any of these gives. */
    static Class<?> result(List<RoutineSymbol> alike) {
        List<Class<?>> types =
                alike.stream()
                        .<Class<?>>map(f -> JavaTypes.of(f.returns().orElse(SqlType.NULL)))
                        .distinct()
                        .toList();
        if (types.size() == 1) {
            return types.get(0);
        }
        boolean numbers =
                alike.stream().allMatch(f -> f.returns().orElse(SqlType.NULL).isNumeric());
        return numbers ? BigDecimal.class : String.class;
    }

    private static ClassWriter entryClass(String name) {
        ClassWriter writer = new ClassWriter(ClassWriter.COMPUTE_MAXS);
        writer.visit(
                Opcodes.V17,
                Opcodes.ACC_PUBLIC | Opcodes.ACC_FINAL,
                name.replace('.', '/'),
                null,
                "java/lang/Object",
                null);
        return writer;
    }

    /**
     * Ends an entry: what is on the stack goes to {@link FunctionEntry}, its answer to the engine.
     */
    private static void handOver(
            MethodVisitor m, String method, String descriptor, Class<?> result) {
        m.visitMethodInsn(
                Opcodes.INVOKESTATIC,
                Type.getInternalName(FunctionEntry.class),
                method,
                descriptor,
                false);
        m.visitTypeInsn(Opcodes.CHECKCAST, Type.getInternalName(result));
        m.visitInsn(Opcodes.ARETURN);
        m.visitMaxs(0, 0);
        m.visitEnd();
    }

    /** Writes the entry of a moment such as CURRENT_DATE; gives {@code class.method}. */
    String momentEntry(String moment, Class<?> result) {
        String name = PACKAGE + "Moment_" + moment;
        ClassWriter writer = entryClass(name);
        MethodVisitor m =
                writer.visitMethod(
                        Opcodes.ACC_PUBLIC | Opcodes.ACC_STATIC,
                        "call",
                        Type.getMethodDescriptor(Type.getType(result)),
                        null,
                        null);
        m.visitCode();
        m.visitLdcInsn(Type.getObjectType(name.replace('.', '/')));
        m.visitLdcInsn(moment);
        handOver(m, "moment", "(Ljava/lang/Class;Ljava/lang/String;)Ljava/lang/Object;", result);
        writer.visitEnd();
        define(name, writer);
        return name + ".call";
    }

    /** The functions behind an entry, which differ in the types of their parameters alone. */
    List<RoutineSymbol> functions(int number) {
        return functions.get(number);
    }
}
