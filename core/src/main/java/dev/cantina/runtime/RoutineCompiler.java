package dev.cantina.runtime;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.JumpTarget;
import dev.cantina.binding.Variable;
import dev.cantina.syntax.Declaration.HandlerAction;
import dev.cantina.types.SqlType.Carrier;
import java.lang.invoke.MethodHandle;
import java.lang.invoke.MethodHandles;
import java.lang.invoke.MethodType;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import org.objectweb.asm.Label;
import org.objectweb.asm.MethodVisitor;
import org.objectweb.asm.Opcodes;

/**
 * Writes a JVM class for a routine: its variables are fields, its body the method {@code run}, and
 * each handler a method of its own. With probe points, each statement first asks whether anybody
 * watches it; without, nothing of that is there.
 *
 * <p>A method that ends early because of a jump to a place outside it gives that jump's number to
 * its caller: 0 goes on, -1 returns from the routine, and each label has two of its own.
 */
final class RoutineCompiler {
    static final int RETURN = -1;

    /** A method that is still to be written. */
    private record Pending(BoundStatement.Handler handler, Region region) {}

    /** Statements that go into a method of their own. */
    private record PendingPart(String name, List<BoundStatement> statements, Region region) {}

    private final Program program;
    private final BoundRoutine routine;
    private final boolean probed;
    private final ClassCode type;
    private final Map<JumpTarget, Integer> jumps = new IdentityHashMap<>();
    private final Map<Region, String> handling = new IdentityHashMap<>();
    private final Map<Integer, JumpTarget> declaringBlocks = new HashMap<>();
    private final Deque<Pending> pendingHandlers = new ArrayDeque<>();
    private final Deque<PendingPart> pendingParts = new ArrayDeque<>();
    private int parts;
    private final Deque<Region> pendingRegions = new ArrayDeque<>();
    private final Map<Integer, Boolean> queued = new HashMap<>();
    private int marks;

    RoutineCompiler(Program program, BoundRoutine routine, boolean probed) {
        this.program = program;
        this.routine = routine;
        this.probed = probed;
        this.type = new ClassCode(program.loader(), routine.name(), Frame.class);
    }

    RoutineCode compile() {
        routine.variables().forEach(type::field);
        take();
        give();
        body();
        while (!pendingRegions.isEmpty() || !pendingHandlers.isEmpty() || !pendingParts.isEmpty()) {
            while (!pendingParts.isEmpty()) {
                part(pendingParts.poll());
            }
            while (!pendingRegions.isEmpty()) {
                handle(pendingRegions.poll());
            }
            if (!pendingHandlers.isEmpty()) {
                handlerBody(pendingHandlers.poll());
            }
        }
        Class<?> written = type.define();
        try {
            MethodHandle creator =
                    MethodHandles.publicLookup()
                            .findConstructor(written, MethodType.methodType(void.class))
                            .asType(MethodType.methodType(Frame.class));
            return new RoutineCode(routine, written, creator, marks);
        } catch (ReflectiveOperationException e) {
            throw new IllegalStateException(e);
        }
    }

    ClassCode type() {
        return type;
    }

    Program program() {
        return program;
    }

    BoundRoutine routine() {
        return routine;
    }

    boolean probed() {
        return probed;
    }

    int newMark() {
        return marks++;
    }

    /** The number of a jump to a label's end, or to its next turn. */
    int jump(JumpTarget target, boolean iterate) {
        int index = jumps.computeIfAbsent(target, t -> jumps.size());
        return 2 * index + (iterate ? 2 : 1);
    }

    /** The method that handles what is raised in a region. */
    String handlingMethod(Region region) {
        return handling.computeIfAbsent(
                region,
                r -> {
                    pendingRegions.add(r);
                    return "handle" + handling.size();
                });
    }

    private void take() {
        MethodVisitor m = type.method(Opcodes.ACC_PUBLIC, "take", "([Ljava/lang/Object;)V");
        MethodCode code = new MethodCode(type, m, 2);
        ExpressionCode expressions = new ExpressionCode(code, program);
        for (int i = 0; i < routine.parameters().size(); i++) {
            m.visitVarInsn(Opcodes.ALOAD, 1);
            code.push(i);
            m.visitInsn(Opcodes.AALOAD);
            int local = code.keep(Carrier.OBJECT);
            expressions.storeObject(routine.parameters().get(i), local);
            code.release(2);
        }
        m.visitInsn(Opcodes.RETURN);
        m.visitMaxs(0, 0);
        m.visitEnd();
    }

    private void give() {
        MethodVisitor m = type.method(Opcodes.ACC_PUBLIC, "give", "()[Ljava/lang/Object;");
        MethodCode code = new MethodCode(type, m, 1);
        ExpressionCode expressions = new ExpressionCode(code, program);
        List<BoundExpression> reads =
                routine.parameters().stream()
                        .<BoundExpression>map(v -> new BoundExpression.Read(v.span(), v))
                        .toList();
        expressions.objects(reads);
        m.visitInsn(Opcodes.ARETURN);
        m.visitMaxs(0, 0);
        m.visitEnd();
    }

    private void body() {
        MethodVisitor m = type.method(Opcodes.ACC_PUBLIC, "run", "()I");
        MethodCode code = new MethodCode(type, m, 1);
        StatementCode statements = new StatementCode(this, code);
        if (routine.condition().isPresent()) {
            statements.unless(routine.condition().get());
        }
        statements.write(routine.body(), null);
        statements.end();
    }

    /** The method that statements are put into because the one around them is long already. */
    String part(List<BoundStatement> statements, Region region) {
        String name = "part" + parts++;
        pendingParts.add(new PendingPart(name, List.copyOf(statements), region));
        return name;
    }

    private void part(PendingPart part) {
        MethodVisitor m = type.method(Opcodes.ACC_PRIVATE, part.name(), "()I");
        StatementCode statements = new StatementCode(this, new MethodCode(type, m, 1));
        statements.writePart(part.statements(), part.region());
        statements.end();
    }

    private void handlerBody(Pending pending) {
        MethodVisitor m =
                type.method(Opcodes.ACC_PRIVATE, "handler" + pending.handler().number(), "()I");
        StatementCode statements = new StatementCode(this, new MethodCode(type, m, 1));
        statements.write(pending.handler().body(), pending.region());
        statements.end();
    }

    /**
     * {@code int handleN(Throwable)}: chooses a handler, which raises what none takes; runs it with
     * the diagnostics area pushed; and says where to go on.
     */
    private void handle(Region region) {
        HandlerTable table = region.table();
        MethodVisitor m =
                type.method(Opcodes.ACC_PRIVATE, handling.get(region), "(Ljava/lang/Throwable;)I");
        MethodCode code = new MethodCode(type, m, 2);
        code.loadHandling();
        code.loadFrame();
        m.visitVarInsn(Opcodes.ALOAD, 1);
        code.constant(table, HandlerTable.class);
        code.callHandling(
                "choose",
                "(L"
                        + MethodCode.FRAME
                        + ";Ljava/lang/Throwable;Ldev/cantina/runtime/HandlerTable;)I");
        int chosen = code.keep(Carrier.TRI_STATE);
        code.push(0);
        int result = code.keep(Carrier.TRI_STATE);
        List<HandlerTable.Entry> entries = table.blocks().stream().flatMap(List::stream).toList();
        int[] keys = entries.stream().mapToInt(HandlerTable.Entry::number).sorted().toArray();
        Label[] labels = new Label[keys.length];
        for (int i = 0; i < labels.length; i++) {
            labels[i] = new Label();
        }
        Label start = new Label();
        Label end = new Label();
        Label failed = new Label();
        Label done = new Label();
        code.mark(start);
        code.load(Carrier.TRI_STATE, chosen);
        m.visitLookupSwitchInsn(done, keys, labels);
        for (int i = 0; i < keys.length; i++) {
            code.mark(labels[i]);
            handlerCall(code, region, entries, keys[i], result);
            code.jump(done);
        }
        code.mark(end);
        code.mark(failed);
        int thrown = code.keep(Carrier.OBJECT);
        code.loadHandling();
        code.callHandling("handled", "()V");
        code.load(Carrier.OBJECT, thrown);
        code.cast(Throwable.class);
        m.visitInsn(Opcodes.ATHROW);
        m.visitTryCatchBlock(start, end, failed, "java/lang/Throwable");
        code.mark(done);
        code.loadHandling();
        code.callHandling("handled", "()V");
        code.load(Carrier.TRI_STATE, result);
        m.visitInsn(Opcodes.IRETURN);
        m.visitMaxs(0, 0);
        m.visitEnd();
    }

    private void handlerCall(
            MethodCode code,
            Region region,
            List<HandlerTable.Entry> entries,
            int number,
            int result) {
        HandlerTable.Entry entry =
                entries.stream().filter(e -> e.number() == number).findFirst().orElseThrow();
        Region declaring = region.declaring(number);
        BoundStatement.Handler handler =
                declaring.block().handlers().stream()
                        .filter(h -> h.number() == number)
                        .findFirst()
                        .orElseThrow();
        if (queued.put(number, true) == null) {
            pendingHandlers.add(new Pending(handler, Region.ofHandler(declaring.outer(), number)));
            declaringBlocks.put(number, declaring.block().target());
        }
        code.loadFrame();
        code.m.visitMethodInsn(
                Opcodes.INVOKESPECIAL, type.name(), "handler" + number, "()I", false);
        code.m.visitVarInsn(Opcodes.ISTORE, result);
        if (entry.action() != HandlerAction.CONTINUE) {
            Label jumps = new Label();
            code.load(Carrier.TRI_STATE, result);
            code.m.visitJumpInsn(Opcodes.IFNE, jumps);
            code.push(jump(declaring.block().target(), false));
            code.m.visitVarInsn(Opcodes.ISTORE, result);
            code.mark(jumps);
        }
    }

    /** Compiles an expression that stands in no routine. */
    static ProbeCode expression(
            Program program, BoundExpression expression, List<Variable> variables) {
        return expression(program, MethodCode.FRAME, 0, expression, variables);
    }

    /** Compiles an expression that a debugger works out in a frame of a routine. */
    static ProbeCode expression(
            Program program,
            RoutineCode frame,
            BoundExpression expression,
            List<Variable> variables) {
        String type = frame.type().getName().replace('.', '/');
        int slots = frame.routine().variables().size();
        return expression(program, type, slots, expression, variables);
    }

    private static ProbeCode expression(
            Program program,
            String foreignType,
            int foreign,
            BoundExpression expression,
            List<Variable> variables) {
        ClassCode type = new ClassCode(program.loader(), "expression", ProbeCode.class);
        variables.subList(foreign, variables.size()).forEach(type::field);
        MethodVisitor m =
                type.method(
                        Opcodes.ACC_PROTECTED,
                        "evaluate",
                        "(L" + MethodCode.FRAME + ";)Ljava/lang/Object;");
        MethodCode code = new MethodCode(type, m, 2, foreign, foreignType);
        code.m.visitVarInsn(Opcodes.ALOAD, 1);
        code.m.visitTypeInsn(Opcodes.CHECKCAST, foreignType);
        code.m.visitVarInsn(Opcodes.ASTORE, 1);
        new ExpressionCode(code, program).owned(expression);
        m.visitInsn(Opcodes.ARETURN);
        m.visitMaxs(0, 0);
        m.visitEnd();
        try {
            return (ProbeCode) type.define().getConstructor().newInstance();
        } catch (ReflectiveOperationException e) {
            throw new IllegalStateException(e);
        }
    }
}
