package dev.cantina.translate.postgresql;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundSql;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.BoundStatement.Handler;
import dev.cantina.binding.CursorSymbol;
import dev.cantina.binding.DeclaredTable;
import dev.cantina.binding.JumpTarget;
import dev.cantina.binding.Variable;
import dev.cantina.binding.Walker;
import dev.cantina.database.ServerNames;
import dev.cantina.nativecode.Mark;
import dev.cantina.syntax.Declaration.HandledKind;
import dev.cantina.syntax.Declaration.HandlerAction;
import dev.cantina.syntax.Span;
import dev.cantina.translate.Effects;
import dev.cantina.translate.Handlers;
import dev.cantina.translate.Handlers.HandlerMatch;
import dev.cantina.translate.Lines;
import dev.cantina.translate.LongNames;
import dev.cantina.translate.Marks;
import dev.cantina.translate.ShadowingNames;
import dev.cantina.translate.SourceForm;
import dev.cantina.translate.Told;
import dev.cantina.translate.UnsupportedConstructException;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** A routine's body in PL/pgSQL. */
final class PostgresBody {
    private static final Set<String> OWN = Set.of("FOUND", "SQLSTATE", "SQLERRM");

    private final BoundRoutine routine;
    private final PostgresExpressions words;
    private final ServerNames names;
    private final Effects effects;
    private final Lines out;
    private final PostgresSignature signature;
    private final PostgresData data;
    private final PostgresStatements statements;
    private final PostgresControl control;
    private final PostgresGuards guards;
    private final Told told;
    private final Marks marks;
    private Handlers outermost = Handlers.NONE;
    private final Map<JumpTarget, String> leave = new HashMap<>();
    private final Map<JumpTarget, String> iterate = new HashMap<>();
    private final Set<String> taken = new HashSet<>();
    private final List<String> locals = new ArrayList<>();

    PostgresBody(
            BoundRoutine routine,
            PostgresSignature signature,
            PostgresExpressions words,
            Effects effects,
            Told told,
            Lines out) {
        this.told = told;
        this.routine = routine;
        this.signature = signature;
        this.words = words;
        this.names = words.names();
        this.effects = effects;
        this.out = out;
        this.marks =
                new Marks(
                        routine,
                        words.marks(),
                        this::said,
                        (row, field) -> said(row) + "." + names.of(field.name()),
                        true);
        this.data = new PostgresData(this, words, out);
        this.statements = new PostgresStatements(this, words, out);
        this.control = new PostgresControl(this, words, effects, out);
        this.guards = new PostgresGuards(this, effects, out);
        for (Variable variable : routine.variables()) {
            if (OWN.contains(variable.name().toUpperCase(Locale.ROOT))) {
                throw new UnsupportedConstructException(
                        variable.span(),
                        "PL/pgSQL has a variable "
                                + variable.name()
                                + " of its own; choose another name");
            }
            taken.add(variable.name().toLowerCase(Locale.ROOT));
        }
        taken.addAll(signature.taken());
        ShadowingNames shadowing = ShadowingNames.of(routine, words.catalog());
        taken.addAll(shadowing.given());
        words.name(shadowing.variables());
        shadowing.cursors().forEach(data::renamed);
        effects.requireDeclaredAccess(routine, "PostgreSQL");
        LongNames.onPostgres(routine);
    }

    /** What marks the places of a copy that stands for one run. */
    Marks marks() {
        return marks;
    }

    private String said(Variable variable) {
        return switch (variable.kind()) {
            case OLD_ROW -> "OLD";
            case NEW_ROW -> "NEW";
            default -> words.name(variable);
        };
    }

    Span span(int at) {
        return routine.places().get(at).span();
    }

    Effects effects() {
        return effects;
    }

    BoundRoutine routine() {
        return routine;
    }

    Told told() {
        return told;
    }

    /** From now on the body tells what it would raise. */
    PostgresBody telling() {
        outermost = Told.around(routine.span());
        return this;
    }

    PostgresStatements statements() {
        return statements;
    }

    /** What leaves a block or a loop, by its label. */
    Map<JumpTarget, String> leave() {
        return leave;
    }

    /** The statement that goes on with a loop's next turn. */
    Map<JumpTarget, String> iterate() {
        return iterate;
    }

    PostgresControl control() {
        return control;
    }

    PostgresGuards guards() {
        return guards;
    }

    PostgresData data() {
        return data;
    }

    /** A name that nothing else has, declared at the head of the routine. */
    String local(String wish, String type) {
        String name = free(wish);
        locals.add(name + " " + type + ";");
        return name;
    }

    /** The name of a local that several places share. */
    String shared(String name, String type) {
        String written = name.startsWith("\"") ? name : names.of(name);
        String declaration = written + " " + type + ";";
        if (!locals.contains(declaration)) {
            locals.add(declaration);
        }
        return written;
    }

    String free(String wish) {
        // A name that its author put in quotes can hold anything.
        String plain = wish.toLowerCase(Locale.ROOT).replaceAll("[^\\p{L}\\p{N}_]", "_");
        plain = plain.length() > 40 ? plain.substring(0, 40) : plain;
        String base = plain.isEmpty() || Character.isDigit(plain.charAt(0)) ? "v" + plain : plain;
        String name = base;
        for (int i = 2; !taken.add(name) || names.isReserved(name); i++) {
            name = base + "_" + i;
        }
        return name;
    }

    /** Writes the whole body, from the first label to the last END. */
    void write() {
        BoundStatement body = routine.body();
        boolean merged =
                body instanceof BoundStatement.Block block
                        && block.target().label().isEmpty()
                        && !clashes(block);
        String label = merged ? blockLabel((BoundStatement.Block) body, outermost) : "";
        boolean nested =
                !label.isEmpty() && (signature.hasCopies() || !signature.finish().isEmpty());
        boolean named = signature.hasCopies() || merged && likeTables();
        words.qualifiedBy(
                v ->
                        v.kind().isParameter() || named && merged && isOuter(v)
                                ? Optional.of(signature.label())
                                : Optional.empty());
        nested |= named && !label.isEmpty();
        if (named) {
            out.add("<<" + signature.label() + ">>");
        } else if (!label.isEmpty() && !nested) {
            out.add("<<" + label + ">>");
        }
        int head = out.mark();
        out.in();
        if (merged) {
            declare((BoundStatement.Block) body, outermost);
        }
        out.out();
        int declared = out.mark();
        out.add("BEGIN").in();
        boolean tells = outermost != Handlers.NONE;
        if (tells) {
            out.add("<<" + Told.LABEL + ">>").add("BEGIN").in();
        }
        if (merged) {
            BoundStatement.Block block = (BoundStatement.Block) body;
            open.push(block);
            opening(block, outermost);
            if (nested) {
                out.add("<<" + label + ">>").add("BEGIN").in();
            }
            contents(block, label, outermost);
            out.comments(routine.span().end());
            closing(block);
            if (nested) {
                out.out().add("END " + label + ";");
            }
        } else {
            guards.list(List.of(body), outermost, "");
            out.comments(routine.span().end());
        }
        if (tells) {
            out.out().add("END " + Told.LABEL + ";");
        }
        if (routine.kind() == BoundRoutine.Kind.FUNCTION) {
            // Who comes here has forgotten RETURN, which is an error.
            signature.finish().forEach(out::add);
        } else {
            finish(-1);
        }
        out.out();
        out.add("END");
        out.in();
        marks.head(given()).ifPresent(locals::add);
        out.insert(declared, locals);
        out.insert(head, signature.copies());
        out.out();
        if (declared > head || !locals.isEmpty() || !signature.copies().isEmpty()) {
            out.insert(head, List.of("DECLARE"));
        }
    }

    /** The type of the one value that a function returns; empty where it gives no such. */
    private String given() {
        return routine.returns()
                .filter(t -> !(t instanceof SqlType.Table || t instanceof SqlType.Row))
                .map(t -> PostgresTypes.bare(t, routine.span()))
                .orElse("");
    }

    /** Whether a variable has the name of a table that some statement uses. */
    private boolean likeTables() {
        Set<String> tables = new HashSet<>();
        Walker.statements(
                routine.body(),
                s -> {
                    Walker.sql(s).ifPresent(sql -> tables.addAll(words.rowNames(sql)));
                    Walker.expressions(
                            s,
                            e -> {
                                if (e instanceof BoundExpression.DatabaseExpression ask) {
                                    tables.addAll(words.rowNames(ask.sql()));
                                }
                            });
                });
        return routine.variables().stream()
                .anyMatch(v -> tables.contains(v.name().toUpperCase(Locale.ROOT)));
    }

    private boolean isOuter(Variable variable) {
        return routine.body() instanceof BoundStatement.Block block
                && block.initial().stream()
                        .anyMatch(
                                i ->
                                        ((BoundStatement.Assign) i)
                                                        .assignments()
                                                        .get(0)
                                                        .target()
                                                        .variable()
                                                == variable);
    }

    /** Whether a block declares what a parameter is called, so that it must stand on its own. */
    private boolean clashes(BoundStatement.Block block) {
        Set<String> parameters = new HashSet<>();
        routine.parameters().forEach(p -> parameters.add(p.name().toUpperCase(Locale.ROOT)));
        return block.initial().stream()
                        .map(i -> ((BoundStatement.Assign) i).assignments().get(0).target())
                        .anyMatch(
                                t ->
                                        parameters.contains(
                                                t.variable().name().toUpperCase(Locale.ROOT)))
                || block.atomic() && !block.handlers().isEmpty();
    }

    /**
     * What is said before the end, and before each RETURN.
     *
     * @param at the RETURN; -1 for the end
     */
    void finish(int at) {
        marks.end(at).ifPresent(out::add);
        signature.finish().forEach(out::add);
    }

    /** Marks a RETURN, whose value is told where somebody watches. */
    void giving(Runnable give) {
        marks.of(Mark.Kind.GIVE).ifPresent(out::add);
        give.run();
        marks.of(Mark.Kind.GIVEN).ifPresent(out::add);
    }

    // ---------------------------------------------------------------- blocks

    private String blockLabel(BoundStatement.Block block, Handlers around) {
        String own = block.target().label();
        boolean exits =
                block.handlers().stream()
                        .anyMatch(
                                h ->
                                        h.action() != HandlerAction.CONTINUE
                                                && !guards.passesOn(h, around));
        String label = !own.isEmpty() ? names.of(own) : exits ? free("guarded") : "";
        leave.put(block.target(), label);
        return label;
    }

    /** Names that only their case tells apart are one where the server folds them. */
    private void apart(Variable variable) {
        String name = names.of(variable).replace("\"", "");
        for (Variable other : routine.variables()) {
            boolean same =
                    names.of(other).replace("\"", "").equalsIgnoreCase(name)
                            && !names.of(other).equalsIgnoreCase(names.of(variable));
            if (same && !other.isHidden()) {
                throw new UnsupportedConstructException(
                        variable.span(), "two variables are told apart by case alone; rename one");
            }
        }
    }

    private void declare(BoundStatement.Block block, Handlers around) {
        for (BoundStatement initial : block.initial()) {
            BoundStatement.Assignment assignment =
                    ((BoundStatement.Assign) initial).assignments().get(0);
            Variable variable = assignment.target().variable();
            apart(variable);
            out.comments(variable.span().start());
            String type = declaredType(variable, span(initial.at()));
            boolean constant = variable.kind() == Variable.Kind.CONSTANT;
            boolean none =
                    SourceForm.bare(assignment.value()) instanceof BoundExpression.Constant value
                            && value.value() == null;
            boolean later = none || startsLater(assignment, around) || type.equals("record");
            out.add(
                    words.name(variable)
                            + (constant && !later ? " CONSTANT " : " ")
                            + type
                            + (later
                                    ? ""
                                    : " := "
                                            + statements.stored(
                                                    assignment, words.of(assignment.value())))
                            + ";");
            out.pass(span(initial.at()).start(), span(initial.at()).end());
        }
        for (CursorSymbol cursor : block.cursors()) {
            if (cursor.returned()) {
                continue;
            }
            out.comments(cursor.span().start());
            if (cursor.query().isEmpty() || !data.isClosed(cursor, block)) {
                data.watch(cursor);
                out.add(data.name(cursor) + " refcursor;");
            } else {
                BoundSql query = cursor.query().get();
                out.add(
                        data.name(cursor) + (cursor.scroll() ? " SCROLL" : "") + " CURSOR FOR ",
                        query.span().start(),
                        words.of(query),
                        ";");
            }
            out.pass(cursor.span().start(), cursor.span().end());
        }
    }

    /**
     * Whether a first value can fail where somebody handles that, so that it is set in the body.
     */
    private boolean startsLater(BoundStatement.Assignment assignment, Handlers around) {
        return !around.exceptions(effects.raises(assignment.value())).isEmpty();
    }

    private String declaredType(Variable variable, Span declaration) {
        String text = declaration.text();
        var like =
                java.util.regex.Pattern.compile(
                                "(?is).*?\\bLIKE\\s+(\\w+)(?:\\.(\\w+))?(\\s+DEFAULT\\b.*)?")
                        .matcher(text);
        if (like.matches()) {
            return like.group(2) == null
                    ? names.of(like.group(1)) + "%ROWTYPE"
                    : names.of(like.group(1)) + "." + names.of(like.group(2)) + "%TYPE";
        }
        if (variable.type() instanceof SqlType.Row) {
            return "record";
        }
        return PostgresTypes.of(variable.type(), variable.span());
    }

    /** What a block does before its first statement. */
    private void opening(BoundStatement.Block block, Handlers around) {
        marks.done(block).forEach(out::add);
        for (BoundStatement initial : block.initial()) {
            BoundStatement.Assign assign = (BoundStatement.Assign) initial;
            BoundStatement.Assignment assignment = assign.assignments().get(0);
            Variable variable = assignment.target().variable();
            if (variable.type() instanceof SqlType.Row row
                    && declaredType(variable, span(initial.at())).equals("record")) {
                List<String> fields = new ArrayList<>();
                row.fields()
                        .forEach(
                                f ->
                                        fields.add(
                                                "CAST(NULL AS "
                                                        + PostgresTypes.of(
                                                                f.type(), variable.span())
                                                        + ") AS "
                                                        + names.of(f.name())));
                out.add(
                        "SELECT "
                                + String.join(", ", fields)
                                + " INTO "
                                + words.name(variable)
                                + ";");
                if (!(SourceForm.bare(assignment.value()) instanceof BoundExpression.Constant)) {
                    throw new UnsupportedConstructException(
                            variable.span(), "a row variable with a first value");
                }
            } else if (startsLater(assignment, around)) {
                guards.guarded(assign, around, "");
            }
        }
        for (DeclaredTable table : block.tables()) {
            data.declaredTable(table);
        }
        if (block.cursors().stream().anyMatch(c -> c.query().isPresent() && !c.returned())) {
            out.comments(block.cursors().get(0).span().end());
        }
    }

    private void contents(BoundStatement.Block block, String label, Handlers around) {
        List<Handler> undo =
                block.handlers().stream().filter(h -> h.action() == HandlerAction.UNDO).toList();
        Handlers inside = around.inside(label, block.handlers(), block.atomic());
        if (block.atomic() && !undo.isEmpty()) {
            boolean completions =
                    undo.stream()
                            .flatMap(h -> h.conditions().stream())
                            .anyMatch(
                                    c ->
                                            c.kind() == HandledKind.NOT_FOUND
                                                    || c.kind() == HandledKind.SQLWARNING);
            if (completions) {
                throw new UnsupportedConstructException(
                        undo.get(0).span(), "an UNDO handler for a completion condition");
            }
            List<HandlerMatch> matches = guards.undoing(inside);
            out.add("BEGIN").in();
            guards.list(block.statements(), inside.passing(Handlers.Passed.UNDO), label);
            out.out();
            guards.matches(matches, label, Optional.empty());
            out.add("END;");
            return;
        }
        boolean ends = block.atomic() && undo.isEmpty() && callsEnding(block);
        if (ends) {
            // COMMIT and ROLLBACK are refused in an error block, as in an ATOMIC one.
            out.add("BEGIN").in();
        }
        guards.list(block.statements(), inside, ends ? "" : label);
        if (ends) {
            out.out().add("EXCEPTION").in().add("WHEN OTHERS THEN RAISE;").out().add("END;");
        }
    }

    /** A declared table is known to the whole session there: no two of a name can be in use. */
    void alone(DeclaredTable table) {
        boolean twice =
                effects.isRecursive(routine)
                        || effects.calledDeclares(routine, table.table().key());
        if (twice) {
            throw new UnsupportedConstructException(
                    routine.span(),
                    "the table "
                            + table.table().name()
                            + " would be in use twice at a time, and PostgreSQL knows one in a session");
        }
    }

    private boolean callsEnding(BoundStatement block) {
        boolean[] found = {false};
        Walker.statements(
                block,
                s ->
                        found[0] |=
                                s instanceof BoundStatement.Call call
                                        && effects.endsTransactions(call.routine()));
        return found[0];
    }

    /** The blocks that are being written, the innermost first. */
    private final java.util.Deque<BoundStatement.Block> open = new java.util.ArrayDeque<>();

    /**
     * Whether an EXIT handler stands between a cursor and here: its error block would take back the
     * OPEN too.
     */
    boolean isLeftBefore(CursorSymbol cursor) {
        for (BoundStatement.Block block : open) {
            if (block.cursors().contains(cursor)) {
                return false;
            }
            boolean leaves =
                    block.handlers().stream()
                            .filter(h -> h.action() != HandlerAction.CONTINUE)
                            .flatMap(h -> h.conditions().stream())
                            .anyMatch(
                                    c ->
                                            c.kind() != HandledKind.NOT_FOUND
                                                    && c.kind() != HandledKind.SQLWARNING);
            if (leaves) {
                return true;
            }
        }
        return false;
    }

    void block(BoundStatement.Block block, Handlers around) {
        Handlers outside = around;
        List<HandlerMatch> passing = List.of();
        if (block.atomic()) {
            // What leaves an ATOMIC block takes all of it back: the block stands in an error block.
            passing = guards.leaving(around, effects.raises(block));
            if (!passing.isEmpty()) {
                out.add("BEGIN").in();
                outside = around.passing(Handlers.Passed.EXIT);
            }
        }
        String label = blockLabel(block, outside);
        boolean declares =
                !block.initial().isEmpty() || block.cursors().stream().anyMatch(c -> !c.returned());
        if (!label.isEmpty()) {
            out.add("<<" + label + ">>");
        }
        if (declares) {
            out.add("DECLARE").in();
            declare(block, outside);
            out.out();
        }
        out.add("BEGIN").in();
        open.push(block);
        opening(block, outside);
        contents(block, label, outside);
        open.pop();
        out.comments(span(block.at()).end());
        closing(block);
        out.out();
        out.add("END" + (label.isEmpty() ? ";" : " " + label + ";"));
        if (!passing.isEmpty()) {
            out.out();
            guards.matches(passing, "", Optional.empty());
            out.add("END;");
        }
    }

    /** A cursor that its block leaves open is closed with it. */
    private void closing(BoundStatement.Block block) {
        for (CursorSymbol cursor : block.cursors()) {
            if (!cursor.returned() && data.isWatched(cursor)) {
                String name = data.name(cursor);
                closeIfOpen(name);
            }
        }
    }

    /** The server has closed it itself where an error took back its opening. */
    void closeIfOpen(String cursor) {
        out.add(
                "IF EXISTS (SELECT FROM pg_cursors WHERE name = CAST("
                        + cursor
                        + " AS text)) THEN");
        out.in().add("CLOSE " + cursor + ";").out().add("END IF;");
    }
}
