package dev.cantina.translate;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.Variable;
import dev.cantina.nativecode.Mark;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.function.BiFunction;
import java.util.function.Function;

/**
 * Marks the places of a routine in its copy that stands on a server for a run, so that the copy can
 * be made to tell of itself. What is to stay on a server has no marks.
 */
public final class Marks {
    private final BoundRoutine routine;
    private final Optional<String> key;
    private final Function<Variable, String> names;
    private final BiFunction<Variable, SqlType.Field, String> fields;
    private final boolean setsRows;

    /**
     * @param run what marks the run's own names; empty for what is to stay
     * @param names what the copy calls a variable
     * @param fields how the copy says a field of a row
     * @param setsRows whether the copy may set the new row of a trigger
     */
    public Marks(
            BoundRoutine routine,
            Optional<String> run,
            Function<Variable, String> names,
            BiFunction<Variable, SqlType.Field, String> fields,
            boolean setsRows) {
        this.setsRows = setsRows;
        this.routine = routine;
        this.key = run;
        this.names = names;
        this.fields = fields;
    }

    /** Whether there are any. */
    public boolean isOn() {
        return key.isPresent();
    }

    private Optional<String> mark(int at, Mark.Kind kind, String type, List<Mark.Said> variables) {
        return key.map(
                k ->
                        new Mark(
                                        routine.span().source().name(),
                                        routine.span().start(),
                                        at,
                                        kind,
                                        type,
                                        variables)
                                .text(k));
    }

    /** The mark before a statement; empty where it has none of its own. */
    public Optional<String> before(BoundStatement s) {
        boolean own =
                !(s instanceof BoundStatement.Block
                        || s instanceof BoundStatement.While
                        || s instanceof BoundStatement.Repeat);
        return own ? at(s.at()) : Optional.empty();
    }

    /** The mark of a statement's number: before the test of a loop, for one. */
    public Optional<String> at(int number) {
        return isOn() ? mark(number, Mark.Kind.STATEMENT, "", variables(number)) : Optional.empty();
    }

    /** The marks of what the declarations of a block have done. */
    public List<String> done(BoundStatement.Block block) {
        return block.initial().stream()
                .filter(Marks::isWorked)
                .flatMap(s -> mark(s.at(), Mark.Kind.DONE, "", List.of()).stream())
                .toList();
    }

    /**
     * The mark of the end, where what the routine gives can be changed still.
     *
     * @param at the RETURN that ends it; -1 where it comes to its last END
     */
    public Optional<String> end(int at) {
        List<Variable> seen =
                at < 0 ? routine.variables() : routine.places().get(at).scope().variables();
        List<Mark.Said> given =
                seen.stream()
                        .filter(
                                v ->
                                        v.kind().isParameter()
                                                || v.kind() == Variable.Kind.OLD_ROW
                                                || v.kind() == Variable.Kind.NEW_ROW)
                        .map(this::said)
                        .toList();
        return mark(-1, Mark.Kind.END, "", given);
    }

    /**
     * The mark of what handles a condition that the server has caught.
     *
     * @param body what does
     */
    public Optional<String> caught(BoundStatement body) {
        Set<String> own = new HashSet<>();
        if (body instanceof BoundStatement.Block block) {
            // It may stand behind what the block declares.
            for (BoundStatement initial : block.initial()) {
                ((BoundStatement.Assign) initial)
                        .assignments()
                        .forEach(
                                a ->
                                        own.add(
                                                a.target()
                                                        .variable()
                                                        .name()
                                                        .toUpperCase(Locale.ROOT)));
            }
        }
        return isOn()
                ? mark(
                        -1,
                        Mark.Kind.CAUGHT,
                        "",
                        variables(body.at()).stream()
                                .filter(
                                        v ->
                                                !own.contains(
                                                        routine.variables()
                                                                .get(v.slot())
                                                                .name()
                                                                .toUpperCase(Locale.ROOT)))
                                .toList())
                : Optional.empty();
    }

    /** A mark without a statement. */
    public Optional<String> of(Mark.Kind kind) {
        return mark(-1, kind, "", List.of());
    }

    /**
     * The mark of the declarations.
     *
     * @param type what a function returns, in the server's words; empty where that is no one value
     */
    public Optional<String> head(String type) {
        return mark(-1, Mark.Kind.HEAD, type, List.of());
    }

    /** A declaration without a default, or with NULL, is no statement. */
    private static boolean isWorked(BoundStatement initial) {
        return !(initial instanceof BoundStatement.Assign assign
                && assign.assignments().get(0).value() instanceof BoundExpression.Constant constant
                && constant.value() == null);
    }

    private List<Mark.Said> variables(int number) {
        List<Mark.Said> said = new ArrayList<>();
        for (Variable variable : routine.places().get(number).scope().variables()) {
            if (variable.isHidden()) {
                continue;
            }
            said.add(said(variable));
        }
        return said;
    }

    private Mark.Said said(Variable variable) {
        List<String> columns = new ArrayList<>();
        if (variable.type() instanceof SqlType.Row row) {
            row.fields().forEach(f -> columns.add(fields.apply(variable, f)));
        }
        return new Mark.Said(
                variable.slot(),
                names.apply(variable),
                variable.type() instanceof SqlType.Row
                        ? Mark.Form.ROW
                        : variable.type() instanceof SqlType.Array
                                ? Mark.Form.ARRAY
                                : Mark.Form.TEXT,
                variable.kind().isAssignable()
                        || variable.kind() == Variable.Kind.NEW_ROW && setsRows,
                columns);
    }
}
