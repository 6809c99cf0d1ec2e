package dev.cantina.runtime;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundSql;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.BoundStatement.Assignment;
import dev.cantina.binding.CursorSymbol;
import dev.cantina.binding.DeclaredTable;
import dev.cantina.binding.JumpTarget;
import dev.cantina.binding.Walker;
import dev.cantina.types.SqlType;
import dev.cantina.types.SqlType.Carrier;
import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.objectweb.asm.Label;
import org.objectweb.asm.Opcodes;

/** Writes the statements of one method. */
final class StatementCode {
    private final StoreCode stores;
    static final String OBJECT = "Ljava/lang/Object;";
    private static final String STRING = "Ljava/lang/String;";
    private static final String FRAME = "L" + MethodCode.FRAME + ";";
    private static final String SITE = "L" + ExpressionCode.SITE + ";";
    static final String TYPE = "Ldev/cantina/types/SqlType;";

    private final RoutineCompiler compiler;
    private final MethodCode code;
    private final ExpressionCode expressions;
    private final Map<JumpTarget, Label> leaves = new IdentityHashMap<>();
    private final Map<JumpTarget, Label> iterates = new IdentityHashMap<>();
    private final TreeMap<Integer, Label> local = new TreeMap<>();
    private final Label finish = new Label();
    private final Label dispatch = new Label();
    private final int jumpLocal;
    private boolean dispatches;

    StatementCode(RoutineCompiler compiler, MethodCode code) {
        this.compiler = compiler;
        this.code = code;
        this.expressions = new ExpressionCode(code, compiler.program());
        this.stores = new StoreCode(this, code, expressions);
        this.jumpLocal = code.newLocal(1);
        code.push(0);
        code.m.visitVarInsn(Opcodes.ISTORE, jumpLocal);
    }

    /** A trigger's WHEN: goes to the end unless it is true. */
    void unless(BoundExpression condition) {
        Label yes = new Label();
        expressions.truths().branch(condition, yes, finish, finish);
        code.mark(yes);
    }

    /** Ends the method: falling off the end, returning, and jumps that come from handlers. */
    void end() {
        code.mark(finish);
        code.push(0);
        code.m.visitInsn(Opcodes.IRETURN);
        if (dispatches) {
            code.mark(dispatch);
            code.load(Carrier.TRI_STATE, jumpLocal);
            int[] keys = local.keySet().stream().mapToInt(Integer::intValue).toArray();
            Label elsewhere = new Label();
            code.m.visitLookupSwitchInsn(elsewhere, keys, local.values().toArray(new Label[0]));
            code.mark(elsewhere);
            code.load(Carrier.TRI_STATE, jumpLocal);
            code.m.visitInsn(Opcodes.IRETURN);
        }
        code.m.visitMaxs(0, 0);
        code.m.visitEnd();
    }

    private void open(JumpTarget target, Label leave, Label iterate) {
        leaves.put(target, leave);
        local.put(compiler.jump(target, false), leave);
        if (iterate != null) {
            iterates.put(target, iterate);
            local.put(compiler.jump(target, true), iterate);
        }
    }

    private void writeAll(List<BoundStatement> statements, Region region) {
        for (int i = 0; i < statements.size(); i++) {
            if (code.isLong() && statements.size() - i > 1) {
                part(statements.subList(i, statements.size()), region);
                return;
            }
            write(statements.get(i), region);
        }
    }

    /** Statements in a method of their own, whose jumps out of it are made here. */
    private void part(List<BoundStatement> statements, Region region) {
        code.loadFrame();
        code.m.visitMethodInsn(
                Opcodes.INVOKESPECIAL,
                code.type.name(),
                compiler.part(statements, region),
                "()I",
                false);
        code.m.visitVarInsn(Opcodes.ISTORE, jumpLocal);
        code.load(Carrier.TRI_STATE, jumpLocal);
        dispatches = true;
        code.m.visitJumpInsn(Opcodes.IFNE, dispatch);
    }

    /** The statements of a part. */
    void writePart(List<BoundStatement> statements, Region region) {
        writeAll(statements, region);
    }

    void write(BoundStatement s, Region region) {
        int locals = code.locals();
        boolean outer = undoing;
        undoing = region != null && region.hasHandlers() && changesInExpressions(s);
        if (s instanceof BoundStatement.Block block) {
            block(block, region);
        } else if (s instanceof BoundStatement.If choice) {
            reached(choice.at());
            branches(
                    choice.branches(), choice.otherwise(), region, new Label(), false, choice.at());
        } else if (s instanceof BoundStatement.Case choice) {
            reached(choice.at());
            Label end = new Label();
            choice.operand().ifPresent(a -> guard(region, end, () -> stores.assign(List.of(a))));
            branches(choice.branches(), choice.otherwise(), region, end, true, choice.at());
        } else if (s instanceof BoundStatement.While loop) {
            whileLoop(loop, region);
        } else if (s instanceof BoundStatement.Repeat loop) {
            repeat(loop, region);
        } else if (s instanceof BoundStatement.For loop) {
            forLoop(loop, region);
        } else if (s instanceof BoundStatement.Leave leave) {
            reached(leave.at());
            jump(leaves.get(leave.target()), compiler.jump(leave.target(), false));
        } else if (s instanceof BoundStatement.Iterate iterate) {
            reached(iterate.at());
            jump(iterates.get(iterate.target()), compiler.jump(iterate.target(), true));
        } else if (s instanceof BoundStatement.Return give) {
            giveBack(give, region);
        } else if (s instanceof BoundStatement.ReturnTable give) {
            giveTable(give, region);
        } else {
            reached(s.at());
            if (!(s instanceof BoundStatement.GetDiagnostics)
                    && compiler.routine().asksDiagnostics()) {
                code.loadSession();
                code.push(compiler.routine().places().get(s.at()).command());
                code.callSession("clear", "(Ljava/lang/String;)V");
            }
            guarded(region, new Label(), () -> plain(s, region));
        }
        undoing = outer;
        code.release(locals);
    }

    private void jump(Label here, int number) {
        if (here != null) {
            code.jump(here);
        } else {
            code.push(number);
            code.m.visitInsn(Opcodes.IRETURN);
        }
    }

    /** Notes the place, counts, and asks the probe where there is one. */
    private void reached(int at) {
        code.loadFrame();
        code.push(at);
        code.m.visitFieldInsn(Opcodes.PUTFIELD, code.type.name(), "at", "I");
        code.loadFrame();
        code.m.visitFieldInsn(
                Opcodes.GETFIELD, code.type.name(), "meter", "Ldev/cantina/runtime/Meter;");
        code.m.visitInsn(Opcodes.DUP);
        code.m.visitFieldInsn(Opcodes.GETFIELD, "dev/cantina/runtime/Meter", "statements", "J");
        code.m.visitInsn(Opcodes.LCONST_1);
        code.m.visitInsn(Opcodes.LADD);
        code.m.visitFieldInsn(Opcodes.PUTFIELD, "dev/cantina/runtime/Meter", "statements", "J");
        if (compiler.probed()) {
            Label watched = new Label();
            Label unwatched = new Label();
            moment();
            code.loadFrame();
            code.m.visitFieldInsn(Opcodes.GETFIELD, code.type.name(), "watch", "[B");
            code.push(at);
            code.m.visitInsn(Opcodes.BALOAD);
            code.m.visitJumpInsn(Opcodes.IFNE, watched);
            code.loadFrame();
            code.m.visitFieldInsn(Opcodes.GETFIELD, code.type.name(), "moment", "J");
            meterField("stop");
            code.m.visitInsn(Opcodes.LCMP);
            code.m.visitJumpInsn(Opcodes.IFLT, unwatched);
            code.mark(watched);
            code.loadFrame();
            code.callVirtual(code.type.name(), "reached", "()V");
            code.mark(unwatched);
        }
    }

    /** Keeps the count at which this statement begins, and that of the one before it. */
    private void moment() {
        code.loadFrame();
        code.loadFrame();
        code.m.visitFieldInsn(Opcodes.GETFIELD, code.type.name(), "moment", "J");
        code.m.visitFieldInsn(Opcodes.PUTFIELD, code.type.name(), "earlier", "J");
        code.loadFrame();
        meterField("statements");
        code.m.visitFieldInsn(Opcodes.PUTFIELD, code.type.name(), "moment", "J");
    }

    private void meterField(String field) {
        String meter = "dev/cantina/runtime/Meter";
        code.loadFrame();
        code.m.visitFieldInsn(Opcodes.GETFIELD, code.type.name(), "meter", "L" + meter + ";");
        code.m.visitFieldInsn(Opcodes.GETFIELD, meter, field, "J");
    }

    /** A look at the limits, once in a while: at the end of each turn of a loop. */
    private void poll() {
        Label early = new Label();
        String meter = "dev/cantina/runtime/Meter";
        code.loadFrame();
        code.m.visitFieldInsn(Opcodes.GETFIELD, code.type.name(), "meter", "L" + meter + ";");
        code.m.visitFieldInsn(Opcodes.GETFIELD, meter, "statements", "J");
        code.loadFrame();
        code.m.visitFieldInsn(Opcodes.GETFIELD, code.type.name(), "meter", "L" + meter + ";");
        code.m.visitFieldInsn(Opcodes.GETFIELD, meter, "next", "J");
        code.m.visitInsn(Opcodes.LCMP);
        code.m.visitJumpInsn(Opcodes.IFLT, early);
        code.loadFrame();
        code.m.visitFieldInsn(Opcodes.GETFIELD, code.type.name(), "meter", "L" + meter + ";");
        code.loadFrame();
        code.callVirtual(meter, "poll", "(" + FRAME + ")V");
        code.mark(early);
    }

    /**
     * Writes what a statement does itself, guarded by the handlers of its region. Where one of them
     * goes on, it goes on at {@code after}, which is marked here.
     */
    private void guarded(Region region, Label after, Runnable body) {
        guard(region, after, body);
        code.mark(after);
    }

    /** The same; {@code after} is marked elsewhere. */
    private void guard(Region region, Label after, Runnable body) {
        if (region == null || !region.hasHandlers()) {
            body.run();
            return;
        }
        int mark = undoing ? compiler.newMark() : -1;
        if (mark >= 0) {
            mark(mark);
        }
        Label start = new Label();
        Label end = new Label();
        Label caught = new Label();
        Label done = new Label();
        code.mark(start);
        body.run();
        code.mark(end);
        code.jump(done);
        code.mark(caught);
        int thrown = code.keep(Carrier.OBJECT);
        if (mark >= 0) {
            undone(mark, thrown);
            thrown = code.keep(Carrier.OBJECT);
        }
        code.loadFrame();
        code.load(Carrier.OBJECT, thrown);
        code.cast(Throwable.class);
        code.m.visitMethodInsn(
                Opcodes.INVOKESPECIAL,
                code.type.name(),
                compiler.handlingMethod(region),
                "(Ljava/lang/Throwable;)I",
                false);
        code.m.visitVarInsn(Opcodes.ISTORE, jumpLocal);
        code.load(Carrier.TRI_STATE, jumpLocal);
        code.m.visitJumpInsn(Opcodes.IFEQ, after);
        dispatches = true;
        code.jump(dispatch);
        code.m.visitTryCatchBlock(start, end, caught, "java/lang/Throwable");
        code.mark(done);
    }

    private void block(BoundStatement.Block block, Region outer) {
        Label leave = new Label();
        open(block.target(), leave, null);
        Region around = outer;
        int mark = -1;
        Label start = new Label();
        if (block.atomic()) {
            mark = compiler.newMark();
            around = Region.atomic(outer, mark);
            mark(mark);
            code.mark(start);
        }
        Region inner = block.handlers().isEmpty() ? around : Region.guarded(around, block);
        initials(block.initial(), around);
        block.cursors().forEach(this::forget);
        for (DeclaredTable table : block.tables()) {
            code.loadSession();
            code.loadFrame();
            code.constant(table, DeclaredTable.class);
            code.callSession("openTable", "(" + FRAME + "Ldev/cantina/binding/DeclaredTable;)V");
        }
        writeAll(block.statements(), inner);
        block.cursors().stream().filter(c -> !c.returned()).forEach(this::forget);
        if (block.atomic()) {
            Label end = new Label();
            Label undo = new Label();
            code.jump(leave);
            code.mark(end);
            code.mark(undo);
            undone(mark, code.keep(Carrier.OBJECT));
            code.m.visitInsn(Opcodes.ATHROW);
            code.m.visitTryCatchBlock(start, end, undo, "java/lang/Throwable");
        }
        code.mark(leave);
        if (!block.tables().isEmpty()) {
            code.loadSession();
            code.loadFrame();
            code.push(block.tables().get(0).number());
            code.callSession("closeTables", "(" + FRAME + "I)V");
        }
    }

    /** Takes a mark of where the transaction is. */
    private void mark(int mark) {
        loadMarks();
        code.push(mark);
        code.loadSession();
        code.callSession("mark", "()Ldev/cantina/runtime/Mark;");
        code.m.visitInsn(Opcodes.AASTORE);
    }

    /** Goes back to a mark, and leaves on the stack what to throw on. */
    private void undone(int mark, int thrown) {
        code.loadHandling();
        code.loadFrame();
        code.load(Carrier.OBJECT, thrown);
        code.cast(Throwable.class);
        loadMarks();
        code.push(mark);
        code.m.visitInsn(Opcodes.AALOAD);
        code.callHandling(
                "undone",
                "("
                        + FRAME
                        + "Ljava/lang/Throwable;Ldev/cantina/runtime/Mark;)"
                        + "Ljava/lang/RuntimeException;");
    }

    /**
     * Whether what the statement at hand has changed, by functions in its expressions, is undone
     * where it fails (ISO 9075-2, 4.33.2: all statements but CALL and compound ones are atomic).
     */
    private boolean undoing;

    private boolean changesInExpressions(BoundStatement s) {
        if (s instanceof BoundStatement.Call || s instanceof BoundStatement.Block) {
            return false;
        }
        boolean[] found = {false};
        Walker.expressions(
                s,
                e ->
                        found[0] |=
                                e instanceof BoundExpression.Invoke invoke
                                        && compiler.program().mayChange(invoke.routine()));
        return found[0];
    }

    private void initials(List<BoundStatement> statements, Region region) {
        for (int i = 0; i < statements.size(); i++) {
            if (code.isLong() && statements.size() - i > 1) {
                part(statements.subList(i, statements.size()), region);
                return;
            }
            initial(statements.get(i), region);
        }
    }

    /** A declaration without a default is no statement to count or to stop at. */
    private void initial(BoundStatement initial, Region region) {
        if (initial instanceof BoundStatement.Assign assign
                && assign.assignments().get(0).value() instanceof BoundExpression.Constant constant
                && constant.value() == null) {
            stores.assign(assign.assignments());
        } else {
            write(initial, region);
        }
    }

    private void loadMarks() {
        code.loadFrame();
        code.m.visitFieldInsn(
                Opcodes.GETFIELD, code.type.name(), "marks", "[Ldev/cantina/runtime/Mark;");
    }

    private void forget(CursorSymbol cursor) {
        code.loadData();
        code.loadFrame();
        code.push(cursor.slot());
        code.callData("forget", "(" + FRAME + "I)V");
    }

    private void branches(
            List<BoundStatement.Branch> branches,
            Optional<List<BoundStatement>> otherwise,
            Region region,
            Label end,
            boolean isCase,
            int at) {
        for (BoundStatement.Branch branch : branches) {
            Label yes = new Label();
            Label no = new Label();
            guard(region, end, () -> expressions.truths().branch(branch.condition(), yes, no, no));
            code.mark(yes);
            writeAll(branch.statements(), region);
            code.jump(end);
            code.mark(no);
        }
        if (otherwise.isPresent()) {
            writeAll(otherwise.get(), region);
        } else if (isCase) {
            guard(
                    region,
                    end,
                    () -> {
                        code.callStatic(Session.class, "noCase", "()Ljava/lang/RuntimeException;");
                        code.m.visitInsn(Opcodes.ATHROW);
                    });
        }
        code.mark(end);
    }

    private void whileLoop(BoundStatement.While loop, Region region) {
        Label again = new Label();
        Label body = new Label();
        Label next = new Label();
        Label end = new Label();
        open(loop.target(), end, next);
        code.mark(again);
        if (loop.condition().isPresent()) {
            reached(loop.at());
            guard(
                    region,
                    end,
                    () -> expressions.truths().branch(loop.condition().get(), body, end, end));
        } else {
            code.loadFrame();
            code.push(loop.at());
            code.m.visitFieldInsn(Opcodes.PUTFIELD, code.type.name(), "at", "I");
            countEmpty(loop);
        }
        code.mark(body);
        writeAll(loop.statements(), region);
        code.mark(next);
        poll();
        code.jump(again);
        code.mark(end);
    }

    /** A LOOP without statements must still pass its limits. */
    private void countEmpty(BoundStatement.While loop) {
        if (loop.statements().isEmpty()) {
            reached(loop.at());
        }
    }

    private void repeat(BoundStatement.Repeat loop, Region region) {
        Label again = new Label();
        Label next = new Label();
        Label turn = new Label();
        Label end = new Label();
        open(loop.target(), end, next);
        code.mark(again);
        writeAll(loop.statements(), region);
        code.mark(next);
        reached(loop.conditionAt());
        guard(region, end, () -> expressions.truths().branch(loop.condition(), end, turn, turn));
        code.mark(turn);
        poll();
        code.jump(again);
        code.mark(end);
    }

    private void forLoop(BoundStatement.For loop, Region region) {
        Label next = new Label();
        Label body = new Label();
        Label closing = new Label();
        Label end = new Label();
        open(loop.target(), closing, next);
        reached(loop.at());
        // A handler or a jump may have left the loop the last time.
        forget(loop.cursor());
        guard(region, end, () -> openCursor(loop.cursor()));
        code.mark(next);
        poll();
        guard(
                region,
                closing,
                () -> {
                    code.loadData();
                    code.loadFrame();
                    code.push(loop.cursor().slot());
                    code.callData("next", "(" + FRAME + "I)[" + OBJECT);
                    int row = code.keep(Carrier.OBJECT);
                    code.load(Carrier.OBJECT, row);
                    code.m.visitJumpInsn(Opcodes.IFNULL, closing);
                    expressions.storeObject(loop.row(), row);
                });
        code.jump(body);
        code.mark(body);
        writeAll(loop.statements(), region);
        code.jump(next);
        code.mark(closing);
        forget(loop.cursor());
        code.mark(end);
    }

    private void openCursor(CursorSymbol cursor) {
        code.loadData();
        code.loadFrame();
        code.constant(cursor, CursorSymbol.class);
        BoundSql query = cursor.positioning().query().orElseGet(() -> cursor.query().orElseThrow());
        expressions.site(query);
        expressions.objects(query.parameters());
        code.callData(
                "open",
                "(" + FRAME + "Ldev/cantina/binding/CursorSymbol;" + SITE + "[" + OBJECT + ")V");
    }

    private void giveBack(BoundStatement.Return give, Region region) {
        reached(give.at());
        if (give.value().isPresent()) {
            Label after = new Label();
            guard(
                    region,
                    after,
                    () -> {
                        expressions.owned(give.value().get());
                        int kept = code.keep(Carrier.OBJECT);
                        code.loadFrame();
                        code.load(Carrier.OBJECT, kept);
                        code.m.visitFieldInsn(Opcodes.PUTFIELD, code.type.name(), "result", OBJECT);
                    });
            code.push(RoutineCompiler.RETURN);
            code.m.visitInsn(Opcodes.IRETURN);
            code.mark(after);
            return;
        }
        code.push(RoutineCompiler.RETURN);
        code.m.visitInsn(Opcodes.IRETURN);
    }

    private void giveTable(BoundStatement.ReturnTable give, Region region) {
        reached(give.at());
        Label after = new Label();
        guard(
                region,
                after,
                () -> {
                    code.loadData();
                    expressions.site(give.query());
                    expressions.objects(give.query().parameters());
                    code.constant(give.type(), SqlType.Table.class);
                    code.callData(
                            "table",
                            "("
                                    + SITE
                                    + "["
                                    + OBJECT
                                    + "Ldev/cantina/types/SqlType$Table;)"
                                    + OBJECT);
                    int kept = code.keep(Carrier.OBJECT);
                    code.loadFrame();
                    code.load(Carrier.OBJECT, kept);
                    code.m.visitFieldInsn(Opcodes.PUTFIELD, code.type.name(), "result", OBJECT);
                });
        code.push(RoutineCompiler.RETURN);
        code.m.visitInsn(Opcodes.IRETURN);
        code.mark(after);
    }

    /** Statements that contain no others. */
    private void plain(BoundStatement s, Region region) {
        if (s instanceof BoundStatement.Assign assign) {
            stores.assign(assign.assignments());
        } else if (s instanceof BoundStatement.SelectInto fill) {
            fill(fill, region);
        } else if (s instanceof BoundStatement.Call call) {
            call(call);
        } else if (s instanceof BoundStatement.Signal signal) {
            signal(signal, region);
        } else if (s instanceof BoundStatement.GetDiagnostics get) {
            diagnostics(get);
        } else if (s instanceof BoundStatement.Transaction transaction) {
            code.loadSession();
            code.push(transaction.verb().name());
            code.push(transaction.savepoint().orElse(null));
            code.push(transaction.modes());
            code.push(transaction.chain() ? 1 : 0);
            code.callSession("transaction", "(" + STRING + STRING + STRING + "Z)V");
        } else if (s instanceof BoundStatement.Report report) {
            code.loadSession();
            expressions.objects(report.items());
            code.callSession("report", "([" + OBJECT + ")V");
        } else if (s instanceof BoundStatement.Execute execute) {
            code.loadData();
            expressions.site(execute.sql());
            expressions.objects(execute.sql().parameters());
            code.callData("update", "(" + SITE + "[" + OBJECT + ")V");
            completion(region);
        } else if (s instanceof BoundStatement.ReturnResultSet handOut) {
            code.loadData();
            expressions.site(handOut.sql());
            expressions.objects(handOut.sql().parameters());
            code.callData("handOut", "(" + SITE + "[" + OBJECT + ")V");
        } else if (s instanceof BoundStatement.Open open) {
            if (open.cursor().query().isPresent()) {
                openCursor(open.cursor());
            } else {
                code.loadData();
                code.loadFrame();
                code.constant(open.cursor(), CursorSymbol.class);
                expressions.objects(open.using());
                code.callData(
                        "open",
                        "(" + FRAME + "Ldev/cantina/binding/CursorSymbol;[" + OBJECT + ")V");
            }
        } else if (s instanceof BoundStatement.Prepare prepare) {
            code.loadData();
            code.push(prepare.name());
            expressions.object(prepare.text());
            code.callData("prepare", "(" + STRING + OBJECT + ")V");
        } else if (s instanceof BoundStatement.ExecuteDynamic perform) {
            perform(perform, region);
        } else if (s instanceof BoundStatement.Deallocate deallocate) {
            code.loadData();
            code.push(deallocate.name());
            code.callData("deallocate", "(" + STRING + ")V");
        } else if (s instanceof BoundStatement.Fetch fetch) {
            fetch(fetch, region);
        } else if (s instanceof BoundStatement.Close close) {
            code.loadData();
            code.loadFrame();
            code.push(close.cursor().slot());
            code.push(close.cursor().name());
            code.callData("close", "(" + FRAME + "I" + STRING + ")V");
        } else {
            throw new IllegalStateException(s.getClass().getName());
        }
    }

    /** Raises a warning or NOT FOUND where a handler may take it. */
    private void completion(Region region) {
        if (region != null && region.hasHandlers() && region.table().takesCompletions()) {
            code.loadHandling();
            code.constant(region.table(), HandlerTable.class);
            code.callHandling("raiseCompletion", "(Ldev/cantina/runtime/HandlerTable;)V");
        }
    }

    private void fill(BoundStatement.SelectInto fill, Region region) {
        code.loadData();
        expressions.site(fill.query());
        expressions.objects(fill.query().parameters());
        boolean whole =
                fill.targets().size() == 1
                        && StoreCode.typeOf(fill.targets().get(0)) instanceof SqlType.Row;
        code.push(whole ? -1 : fill.targets().size());
        code.callData("oneRow", "(" + SITE + "[" + OBJECT + "I)[" + OBJECT);
        int row = code.keep(Carrier.OBJECT);
        stores.storeRow(fill.targets(), row);
        if (!fill.select()) {
            // SET (a, b) = (SELECT …) without a row sets them to NULL (ISO 9075-4, 14.5).
            Label there = new Label();
            code.load(Carrier.OBJECT, row);
            code.m.visitJumpInsn(Opcodes.IFNONNULL, there);
            code.m.visitInsn(Opcodes.ACONST_NULL);
            int none = code.keep(Carrier.OBJECT);
            fill.targets().forEach(target -> stores.store(target, none));
            code.mark(there);
        } else {
            completion(region);
        }
    }

    /** EXECUTE and EXECUTE IMMEDIATE. */
    private void perform(BoundStatement.ExecuteDynamic perform, Region region) {
        code.loadData();
        if (perform.name().isPresent()) {
            code.push(perform.name().get());
        } else {
            code.m.visitInsn(Opcodes.ACONST_NULL);
        }
        if (perform.text().isPresent()) {
            expressions.object(perform.text().get());
        } else {
            code.m.visitInsn(Opcodes.ACONST_NULL);
        }
        expressions.objects(perform.using());
        code.push(perform.targets().size());
        code.callData("execute", "(" + STRING + OBJECT + "[" + OBJECT + "I)[" + OBJECT);
        int row = code.keep(Carrier.OBJECT);
        if (!perform.targets().isEmpty()) {
            stores.storeRow(perform.targets(), row);
        }
        completion(region);
    }

    private void call(BoundStatement.Call call) {
        code.loadSession();
        code.loadFrame();
        expressions.routine(call.routine());
        List<BoundExpression> values = new ArrayList<>();
        for (BoundStatement.Argument argument : call.arguments()) {
            values.add(
                    argument.value()
                            .orElseGet(
                                    () ->
                                            new BoundExpression.Constant(
                                                    call.routine().span(), null, SqlType.NULL)));
        }
        expressions.objects(values);
        code.callSession(
                "call",
                "(" + FRAME + "L" + RoutineReference.INTERNAL + ";[" + OBJECT + ")[" + OBJECT);
        int given = code.keep(Carrier.OBJECT);
        for (int i = 0; i < call.arguments().size(); i++) {
            Optional<Assignment> result = call.arguments().get(i).result();
            if (result.isPresent()) {
                code.load(Carrier.OBJECT, given);
                code.m.visitTypeInsn(Opcodes.CHECKCAST, "[" + OBJECT);
                code.push(i);
                code.m.visitInsn(Opcodes.AALOAD);
                int value = code.keep(Carrier.OBJECT);
                expressions.storeObject(holder(result.get()), value);
            }
        }
        List<Assignment> results =
                call.arguments().stream().flatMap(a -> a.result().stream()).toList();
        if (!results.isEmpty()) {
            stores.assign(results);
        }
    }

    /** The hidden variable that a result is put into before it is stored into its target. */
    private static dev.cantina.binding.Variable holder(Assignment result) {
        BoundExpression value = result.value();
        while (value instanceof BoundExpression.Convert convert) {
            value = convert.operand();
        }
        return ((BoundExpression.Read) value).variable();
    }

    private void signal(BoundStatement.Signal signal, Region region) {
        code.loadHandling();
        code.loadFrame();
        code.push(signal.resignal() ? 1 : 0);
        code.push(signal.sqlstate().orElse(null));
        code.push(signal.conditionName().orElse(null));
        code.constant(
                signal.items().stream().map(BoundStatement.SignalItem::item).toArray(String[]::new),
                String[].class);
        expressions.objects(signal.items().stream().map(BoundStatement.SignalItem::value).toList());
        code.callHandling(
                "signal", "(" + FRAME + "Z" + STRING + STRING + "[" + STRING + "[" + OBJECT + ")V");
        completion(region);
    }

    private void diagnostics(BoundStatement.GetDiagnostics get) {
        int number = -1;
        if (get.condition().isPresent()) {
            expressions.object(get.condition().get());
            int asked = code.keep(Carrier.OBJECT);
            code.loadHandling();
            code.push(get.stacked() ? 1 : 0);
            code.load(Carrier.OBJECT, asked);
            code.callHandling("conditionNumber", "(Z" + OBJECT + ")I");
            number = code.keep(Carrier.TRI_STATE);
        } else if (get.stacked()) {
            code.loadHandling();
            code.push(1);
            code.callHandling("checkStacked", "(Z)V");
        }
        for (BoundStatement.DiagnosticsItem item : get.items()) {
            code.loadHandling();
            code.push(get.stacked() ? 1 : 0);
            if (number < 0) {
                code.push(1);
            } else {
                code.load(Carrier.TRI_STATE, number);
            }
            code.push(item.item());
            code.callHandling("diagnostic", "(ZI" + STRING + ")" + OBJECT);
            int value = code.keep(Carrier.OBJECT);
            expressions.storeObject(item.holder(), value);
            stores.assign(List.of(item.assignment()));
        }
    }

    private void fetch(BoundStatement.Fetch fetch, Region region) {
        int offset = -1;
        if (fetch.offset().isPresent()) {
            expressions.object(fetch.offset().get());
            offset = code.keep(Carrier.OBJECT);
        }
        code.loadData();
        code.loadFrame();
        code.push(fetch.cursor().slot());
        code.push(fetch.cursor().name());
        code.push(fetch.orientation());
        if (offset < 0) {
            code.m.visitInsn(Opcodes.ACONST_NULL);
        } else {
            code.load(Carrier.OBJECT, offset);
        }
        code.callData("fetch", "(" + FRAME + "I" + STRING + STRING + OBJECT + ")[" + OBJECT);
        int row = code.keep(Carrier.OBJECT);
        stores.storeRow(fetch.targets(), row);
        completion(region);
    }
}
