package dev.cantina.runtime;

import org.objectweb.asm.Handle;
import org.objectweb.asm.Label;
import org.objectweb.asm.MethodVisitor;
import org.objectweb.asm.Opcodes;

/** Counts the bytes of a method while it is written, no fewer than there will be. */
final class SizedMethod extends MethodVisitor {
    private int size;

    SizedMethod(MethodVisitor method) {
        super(Opcodes.ASM9, method);
    }

    int size() {
        return size;
    }

    @Override
    public void visitInsn(int opcode) {
        size++;
        super.visitInsn(opcode);
    }

    @Override
    public void visitIntInsn(int opcode, int operand) {
        size += 3;
        super.visitIntInsn(opcode, operand);
    }

    @Override
    public void visitVarInsn(int opcode, int local) {
        size += local < 4 ? 1 : local < 256 ? 2 : 4;
        super.visitVarInsn(opcode, local);
    }

    @Override
    public void visitTypeInsn(int opcode, String type) {
        size += 3;
        super.visitTypeInsn(opcode, type);
    }

    @Override
    public void visitFieldInsn(int opcode, String owner, String name, String descriptor) {
        size += 3;
        super.visitFieldInsn(opcode, owner, name, descriptor);
    }

    @Override
    public void visitMethodInsn(
            int opcode, String owner, String name, String descriptor, boolean isInterface) {
        size += 5;
        super.visitMethodInsn(opcode, owner, name, descriptor, isInterface);
    }

    @Override
    public void visitInvokeDynamicInsn(
            String name, String descriptor, Handle bootstrap, Object... arguments) {
        size += 5;
        super.visitInvokeDynamicInsn(name, descriptor, bootstrap, arguments);
    }

    @Override
    public void visitJumpInsn(int opcode, Label label) {
        size += 3;
        super.visitJumpInsn(opcode, label);
    }

    @Override
    public void visitLdcInsn(Object value) {
        size += 3;
        super.visitLdcInsn(value);
    }

    @Override
    public void visitLookupSwitchInsn(Label otherwise, int[] keys, Label[] labels) {
        size += 12 + 8 * keys.length;
        super.visitLookupSwitchInsn(otherwise, keys, labels);
    }
}
