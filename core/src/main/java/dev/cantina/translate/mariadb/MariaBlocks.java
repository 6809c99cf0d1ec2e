package dev.cantina.translate.mariadb;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.BoundStatement.Handler;
import dev.cantina.binding.Walker;
import dev.cantina.syntax.Declaration;
import dev.cantina.syntax.Declaration.HandlerAction;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlWords;
import dev.cantina.syntax.Statement;
import dev.cantina.translate.Effects;
import dev.cantina.translate.Handlers;
import dev.cantina.translate.Layout;
import dev.cantina.translate.SourceForm;
import dev.cantina.translate.UnsupportedConstructException;
import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Blocks with their declarations and handlers, and the statements that hold others. */
final class MariaBlocks {
    /**
     * What a handler was set off by: the last that was signalled, since RESIGNAL adds to those
     * before; otherwise the first error, since others only follow from that.
     */
    private static final List<String> CAPTURE =
            List.of(
                    "DECLARE cantina_error, cantina_state char(5)",
                    "DECLARE cantina_number, cantina_errno, cantina_count integer",
                    "DECLARE cantina_message, cantina_text longtext",
                    "GET DIAGNOSTICS cantina_count = NUMBER",
                    """
                    WHILE cantina_count > 0 DO
                      GET DIAGNOSTICS CONDITION cantina_count cantina_state = RETURNED_SQLSTATE,
                        cantina_errno = MYSQL_ERRNO, cantina_text = MESSAGE_TEXT;
                      IF cantina_errno NOT IN (4094, 1105)
                        AND (cantina_error IS NULL OR cantina_state > '03') THEN
                        SET cantina_error = cantina_state, cantina_number = cantina_errno,
                          cantina_message = cantina_text;
                      END IF;
                      SET cantina_count = IF(cantina_number = 1644, 0, cantina_count - 1);
                    END WHILE""");

    private final MariaBody body;
    private final MariaExpressions words;
    private final Effects effects;
    private final MariaAtomics atomicsInReach;
    private final MariaDeclarations declarations;
    private final MariaLoops loops;

    /** The blocks that are being written, the innermost last. */
    private final List<BoundStatement.Block> open = new ArrayList<>();

    /** The savepoint of each ATOMIC block that has one. */
    private final List<String> savepoints = new ArrayList<>();

    private final Map<dev.cantina.binding.JumpTarget, String> rounds = new IdentityHashMap<>();
    private int atomics;
    private int handlers;
    private boolean atomic;

    MariaBlocks(MariaBody body, MariaExpressions words, Effects effects) {
        this.body = body;
        this.words = words;
        this.effects = effects;
        atomicsInReach = new MariaAtomics(body.routine(), effects, body::own);
        declarations = new MariaDeclarations(body, words, effects);
        loops = new MariaLoops(this, body, words, effects);
    }

    MariaAtomics atomics() {
        return atomicsInReach;
    }

    /** Whether the place is inside a handler. */
    boolean inHandler() {
        return handlers > 0;
    }

    boolean isAtomic() {
        return atomic;
    }

    /** What ITERATE of a loop comes to, where it must not leave the test out. */
    Optional<String> round(dev.cantina.binding.JumpTarget target) {
        return Optional.ofNullable(rounds.get(target));
    }

    /** From now on ITERATE of a loop leaves the block that is its round. */
    void inRounds(dev.cantina.binding.JumpTarget target, String round) {
        rounds.put(target, round);
    }

    /** Handlers can't leave what is around the block that declares them. */
    void jump(dev.cantina.binding.JumpTarget target, Span span) {
        if (handlers > 0 && !insideHandler.contains(target)) {
            throw new UnsupportedConstructException(
                    span, "MariaDB's handlers can't leave what is around them");
        }
    }

    /** The loops and blocks that stand in the handler that is being written. */
    private final List<dev.cantina.binding.JumpTarget> insideHandler = new ArrayList<>();

    private void label(BoundStatement s) {
        Statement tree = body.written(s);
        Optional<Name> label =
                tree instanceof Statement.Compound x
                        ? x.label()
                        : tree instanceof Statement.While x
                                ? x.label()
                                : tree instanceof Statement.Repeat x
                                        ? x.label()
                                        : tree instanceof Statement.Loop x
                                                ? x.label()
                                                : tree instanceof Statement.For x
                                                        ? x.label()
                                                        : Optional.empty();
        if (label.isEmpty()
                || label.get().delimited()
                || words.names().beginning(label.get()).equals(label.get().text())) {
            return;
        }
        body.statements().label(label.get());
        SqlWords text = SqlWords.of(tree.span().text());
        SqlWords.Word end = text.all().get(text.all().size() - 1);
        if (end.kind() == SqlWords.Kind.WORD && end.text().equals(label.get().key())) {
            body.edits()
                    .put(
                            part(tree.span(), end.start(), end.end()),
                            words.names().beginning(label.get()));
        }
    }

    void target(BoundStatement s) {
        if (handlers == 0) {
            return;
        }
        if (s instanceof BoundStatement.Block x) {
            insideHandler.add(x.target());
        } else if (s instanceof BoundStatement.While x) {
            insideHandler.add(x.target());
        } else if (s instanceof BoundStatement.Repeat x) {
            insideHandler.add(x.target());
        } else if (s instanceof BoundStatement.For x) {
            insideHandler.add(x.target());
        }
    }

    /** How many SETs of several variables are being written, whose parts are no statements. */
    private int together;

    void visit(BoundStatement s, Handlers around, boolean listed) {
        Span whole = body.span(s.at());
        if (together == 0) {
            body.mark(whole, body.marks().before(s).stream().toList());
        }
        if (s instanceof BoundStatement.Block block && SourceForm.isRange(whole)) {
            loops.range(block, around);
            return;
        }
        boolean sets =
                s instanceof BoundStatement.Block && SqlWords.of(whole.text()).sees(0, "SET");
        if (sets && !around.exceptions(effects.raises(s)).isEmpty()) {
            throw new UnsupportedConstructException(
                    whole,
                    "where one of these assignments fails a handler would go on in the middle of the"
                            + " others; write each as a statement of its own");
        }
        if (sets) {
            together((BoundStatement.Block) s, whole, listed);
        }
        target(s);
        if (!s.rows().isEmpty()) {
            label(s);
        }
        if (s instanceof BoundStatement.Block block) {
            block(block, around, listed);
        } else if (s instanceof BoundStatement.Repeat loop) {
            loops.repeat(loop, around);
        } else if (s instanceof BoundStatement.For loop) {
            loops.each(loop, around);
        } else if (!s.rows().isEmpty()) {
            tests(s);
            fillEmpty(body.written(s));
            if (s instanceof BoundStatement.While loop) {
                loops.turns(loop);
            }
            s.rows().forEach(row -> list(row, around));
        } else {
            Optional<dev.cantina.binding.JumpTarget> jump =
                    s instanceof BoundStatement.Leave leave
                            ? Optional.of(leave.target())
                            : s instanceof BoundStatement.Iterate iterate
                                    ? Optional.of(iterate.target())
                                    : Optional.empty();
            body.statements().write(s, around, listed);
            jump.ifPresent(
                    target ->
                            body.surround(
                                    whole,
                                    atomicsInReach.jumping(open, target),
                                    List.of(),
                                    listed));
        }
    }

    private boolean isTogether(BoundStatement.Block block) {
        return SqlWords.of(body.span(block.at()).text()).sees(0, "SET");
    }

    /** The assignments of one SET are statements of their own where their places are marked. */
    private void together(BoundStatement.Block several, Span whole, boolean listed) {
        if (!body.marks().isOn()) {
            return;
        }
        List<BoundStatement> parts = several.statements();
        if (!listed) {
            body.edits().around(whole, "BEGIN ", "; END");
        }
        body.mark(whole, body.marks().before(parts.get(0)).stream().toList());
        for (int i = 1; i < parts.size(); i++) {
            int from = body.span(parts.get(i - 1).at()).end();
            int to = body.span(parts.get(i).at()).start();
            body.edits()
                    .put(
                            new Span(whole.source(), from, to),
                            "; " + body.marks().before(parts.get(i)).orElse("") + " SET ");
        }
    }

    void list(List<BoundStatement> row, Handlers around) {
        Optional<BoundStatement> before = Optional.empty();
        for (BoundStatement s : row) {
            body.statements().follows(before);
            visit(s, around, true);
            before = Optional.of(s);
        }
    }

    /** The server wants a statement in each list of them. */
    void fillEmpty(Statement s) {
        if (s instanceof Statement.If choice) {
            branches(choice.span(), choice.branches(), choice.otherwise());
        } else if (s instanceof Statement.Case choice) {
            branches(choice.span(), choice.branches(), choice.otherwise());
        } else if (s instanceof Statement.While loop && loop.statements().isEmpty()) {
            after("DO", loop.condition().span().end(), s.span());
        } else if (s instanceof Statement.For loop && loop.statements().isEmpty()) {
            after("DO", loop.query().span().end(), s.span());
        } else if (s instanceof Statement.Loop loop && loop.statements().isEmpty()) {
            after("LOOP", s.span().start(), s.span());
        } else if (s instanceof Statement.Repeat loop && loop.statements().isEmpty()) {
            after("REPEAT", s.span().start(), s.span());
        }
    }

    private void branches(
            Span whole, List<Statement.Branch> branches, Optional<List<Statement>> otherwise) {
        for (Statement.Branch branch : branches) {
            if (branch.statements().isEmpty()) {
                after("THEN", branch.condition().span().end(), whole);
            }
        }
        if (otherwise.filter(List::isEmpty).isPresent()) {
            Statement.Branch last = branches.get(branches.size() - 1);
            int from =
                    last.statements().isEmpty()
                            ? last.condition().span().end()
                            : last.statements().get(last.statements().size() - 1).span().end();
            after("ELSE", from, whole);
        }
    }

    /** Puts a statement that does nothing behind a word. */
    private void after(String word, int from, Span whole) {
        SqlWords words = SqlWords.of(whole.source().text().substring(from, whole.end()));
        words.all().stream()
                .filter(w -> w.is(word))
                .findFirst()
                .ifPresent(
                        w -> {
                            int end = from + w.end();
                            body.edits().put(new Span(whole.source(), end, end), " BEGIN END;");
                        });
    }

    private void tests(BoundStatement s) {
        if (s instanceof BoundStatement.If choice) {
            choice.branches().forEach(b -> words.edit(b.condition(), body.edits()));
        } else if (s instanceof BoundStatement.Case choice) {
            choice.operand().ifPresent(a -> words.edit(a.value(), body.edits()));
            boolean several =
                    choice.operand().isPresent()
                            && choice.branches().stream()
                                    .anyMatch(
                                            b -> b.condition() instanceof BoundExpression.Logical);
            if (several) {
                throw new UnsupportedConstructException(
                        body.span(choice.at()),
                        "a CASE there takes one value after WHEN; write a branch for each");
            }
            choice.branches().forEach(b -> words.edit(b.condition(), body.edits()));
        } else if (s instanceof BoundStatement.While loop) {
            loop.condition().ifPresent(c -> words.edit(c, body.edits()));
        }
    }

    // ---------------------------------------------------------------- blocks

    private void block(BoundStatement.Block block, Handlers around, boolean listed) {
        Statement.Compound tree = (Statement.Compound) body.written(block);
        SqlWords written = SqlWords.of(tree.span().text());
        int begin = first(written);
        int last = begin + (written.sees(begin + 1, "NOT") ? 2 : 1);
        if (written.sees(last, "ATOMIC")) {
            int from = written.all().get(begin).end();
            body.edits().put(part(tree.span(), from, written.all().get(last).end()), "");
        }
        Handlers inside = around.inside(block.target().label(), block.handlers(), block.atomic());
        cursorsLeftOpen(block);
        boolean outer = atomic;
        atomic |= block.atomic();
        if (block.atomic() && effects.changes(block) && !undoneWhole(block, tree, around)) {
            undo(block, tree, around, listed);
        } else {
            savepoints.add("");
        }
        declarations.tables(block, tree);
        open.add(block);
        declarations(block, tree, inside);
        if (!block.statements().isEmpty()) {
            body.mark(body.span(block.statements().get(0).at()), body.marks().done(block));
        }
        boolean several = isTogether(block);
        together += several ? 1 : 0;
        list(block.statements(), inside);
        together -= several ? 1 : 0;
        open.remove(open.size() - 1);
        declarations.dropTables(block, tree);
        savepoints.remove(savepoints.size() - 1);
        atomic = outer;
    }

    /**
     * An EXIT handler that is run for something in a block inside leaves the cursors of that block
     * behind there, and whatever cursor comes next is taken for one of them.
     */
    private void cursorsLeftOpen(BoundStatement.Block block) {
        boolean leaves =
                block.handlers().stream().anyMatch(h -> h.action() != HandlerAction.CONTINUE);
        if (!leaves || !block.statements().stream().anyMatch(MariaBlocks::hasCursor)) {
            return;
        }
        int end = body.span(block.at()).end();
        boolean[] later = {false};
        Walker.statements(
                body.routine().body(),
                s -> {
                    boolean around =
                            s != block
                                    && (s instanceof BoundStatement.While
                                            || s instanceof BoundStatement.Repeat
                                            || s instanceof BoundStatement.For)
                                    && holds(s, block);
                    boolean own =
                            s instanceof BoundStatement.For
                                    || s instanceof BoundStatement.Block b
                                            && !b.cursors().isEmpty();
                    later[0] |= around || own && body.span(s.at()).start() > end;
                });
        for (Handler handler : block.handlers()) {
            later[0] |= hasCursor(handler.body());
        }
        if (later[0]) {
            throw new UnsupportedConstructException(
                    block.handlers().get(0).span(),
                    "an EXIT handler leaves a cursor behind on MariaDB, and cursors follow; make it a"
                            + " routine of its own");
        }
    }

    private static boolean hasCursor(BoundStatement s) {
        boolean[] found = {false};
        Walker.statements(
                s,
                inner ->
                        found[0] |=
                                inner instanceof BoundStatement.For
                                        || inner instanceof BoundStatement.Block b
                                                && !b.cursors().isEmpty());
        return found[0];
    }

    static boolean holds(BoundStatement outer, BoundStatement inner) {
        boolean[] found = {false};
        Walker.statements(outer, s -> found[0] |= s == inner);
        return found[0];
    }

    /** The place of a statement's first word, which may have a label before it. */
    static int first(SqlWords statement) {
        return statement.sees(1, ":") ? 2 : 0;
    }

    static Span part(Span whole, int from, int to) {
        return new Span(whole.source(), whole.start() + from, whole.start() + to);
    }

    /**
     * Whether an exception that leaves an ATOMIC block ends the statement that set the function or
     * trigger off, which the server undoes whole. It does so no more once a savepoint was set in
     * the middle of it.
     */
    private boolean undoneWhole(
            BoundStatement.Block block, Statement.Compound tree, Handlers around) {
        if (body.isOutside()) {
            return false;
        }
        boolean undo = block.handlers().stream().anyMatch(h -> h.action() == HandlerAction.UNDO);
        boolean caught =
                around.exceptions(effects.leaves(block)).stream()
                        .anyMatch(
                                a ->
                                        a.isExit()
                                                || !a.level()
                                                        .beyond()
                                                        .exceptions(
                                                                effects.raises(a.handler().body()))
                                                        .isEmpty());
        boolean called = body.routine().kind() == BoundRoutine.Kind.PROCEDURE;
        if (undo || caught || called) {
            throw new UnsupportedConstructException(
                    tree.span(),
                    "MariaDB can't undo an ATOMIC block by itself in the middle of a statement, as in"
                            + " a function or a trigger");
        }
        return true;
    }

    /** An ATOMIC block: a savepoint before it, to which an exception that leaves it goes back. */
    private void undo(
            BoundStatement.Block block, Statement.Compound tree, Handlers around, boolean listed) {
        if (effects.isRecursive(body.routine())) {
            throw new UnsupportedConstructException(
                    tree.span(), "an ATOMIC block in a routine that calls itself, on MariaDB");
        }
        Optional<String> mark = atomicsInReach.mark(block);
        if (mark.isPresent()) {
            savepoints.add(mark.get());
            body.surround(
                    tree.span(),
                    List.of("SAVEPOINT " + mark.get(), "SET " + mark.get() + " = TRUE"),
                    List.of("SET " + mark.get() + " = FALSE", "RELEASE SAVEPOINT " + mark.get()),
                    listed);
            return;
        }
        StringBuilder leaving = new StringBuilder("SQLEXCEPTION");
        for (String state : List.of("02000", "01000")) {
            Optional<Handlers.HandlerMatch> match = around.completion(state);
            if (match.isPresent() && match.get().isExit()) {
                leaving.append(state.startsWith("02") ? ", NOT FOUND" : ", SQLWARNING");
            }
        }
        String savepoint = body.own("atomic_" + ++atomics);
        savepoints.add(savepoint);
        String indent = body.indent(tree.span());
        // What was open inside is taken back with it.
        List<String> inner = atomicsInReach.leaving(block);
        String closed = inner.isEmpty() ? "" : inner.get(1) + ";\n    ";
        String head =
                "BEGIN\n"
                        + "  DECLARE EXIT HANDLER FOR "
                        + leaving
                        + "\n"
                        + "  BEGIN\n"
                        + "    ROLLBACK TO SAVEPOINT "
                        + savepoint
                        + ";\n    "
                        + closed
                        + "RESIGNAL;\n  END;\n  SAVEPOINT "
                        + savepoint
                        + ";\n";
        body.edits()
                .around(
                        tree.span(),
                        Layout.shifted(head, indent),
                        ";\n"
                                + indent
                                + "  RELEASE SAVEPOINT "
                                + savepoint
                                + ";\n"
                                + indent
                                + "END");
    }

    private void declarations(
            BoundStatement.Block block, Statement.Compound tree, Handlers inside) {
        block.initial().stream()
                .filter(BoundStatement.Assign.class::isInstance)
                .flatMap(s -> ((BoundStatement.Assign) s).assignments().stream())
                .forEach(a -> words.edit(a.value(), body.edits()));
        int handler = 0;
        boolean late = false;
        for (Declaration declaration : tree.declarations()) {
            boolean early =
                    declaration instanceof Declaration.Variables
                            || declaration instanceof Declaration.Condition;
            if (early && late) {
                throw new UnsupportedConstructException(
                        declaration.span(),
                        "MariaDB wants this declared before the cursors and handlers beside it");
            }
            late |=
                    declaration instanceof Declaration.Cursor
                            || declaration instanceof Declaration.Handler;
            if (declaration instanceof Declaration.Variables variables) {
                declarations.variables(variables);
            } else if (declaration instanceof Declaration.Cursor cursor) {
                declarations.cursor(cursor, block);
            } else if (declaration instanceof Declaration.Handler written) {
                handler(written, block.handlers().get(handler++), inside);
            } else if (declaration instanceof Declaration.Condition condition) {
                if (condition.sqlstate().isPresent()) {
                    declarations.name(condition.name());
                    continue;
                }
                throw new UnsupportedConstructException(
                        condition.span(),
                        "a condition with no SQLSTATE is unknown there; declare it FOR SQLSTATE");
            }
        }
    }

    // ---------------------------------------------------------------- handlers

    private void handler(Declaration.Handler written, Handler handler, Handlers inside) {
        if (handler.action() == HandlerAction.UNDO) {
            SqlWords.of(written.span().text()).all().stream()
                    .filter(w -> w.is("UNDO"))
                    .findFirst()
                    .ifPresent(
                            w ->
                                    body.edits()
                                            .put(part(written.span(), w.start(), w.end()), "EXIT"));
        }
        for (int i = 0; i < handler.conditions().size(); i++) {
            declarations.condition(written.conditions().get(i), handler.conditions().get(i));
        }
        List<String> before = new ArrayList<>();
        String savepoint = savepoints.get(savepoints.size() - 1);
        BoundStatement.Block block = open.get(open.size() - 1);
        List<String> leaving = atomicsInReach.leaving(block);
        if (handler.action() == HandlerAction.UNDO && !savepoint.isEmpty()) {
            before.add("ROLLBACK TO SAVEPOINT " + savepoint);
            before.addAll(leaving.isEmpty() ? List.of() : leaving.subList(1, 2));
        } else if (handler.action() != HandlerAction.CONTINUE) {
            before.addAll(leaving);
        }
        if (body.statements().asksCondition(handler.body())) {
            before.addAll(0, CAPTURE);
        }
        if (body.asksRows() && effects.changes(handler.body())) {
            // What a handler changes is not what the statement before it came to.
            before.add(0, "DECLARE cantina_rows integer DEFAULT 0");
        }
        Handlers beyond = inside.beyond();
        handlers++;
        body.statements().beginHandler(body.statements().asksCondition(handler.body()));
        body.statements().follows(Optional.empty());
        body.surround(written.body().span(), before, List.of(), false);
        body.mark(written.body().span(), body.marks().caught(handler.body()).stream().toList());
        visit(handler.body(), beyond, !before.isEmpty());
        body.statements().endHandler();
        handlers--;
    }
}
