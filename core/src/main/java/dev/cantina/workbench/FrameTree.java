package dev.cantina.workbench;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.CursorSymbol;
import dev.cantina.binding.Variable;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.Table;
import dev.cantina.debugging.ExecutionPoint;
import dev.cantina.debugging.Stop;
import dev.cantina.runtime.Cursor;
import dev.cantina.runtime.Frame;
import dev.cantina.runtime.Questions;
import dev.cantina.runtime.ResultRows;
import dev.cantina.runtime.ServerFrame;
import dev.cantina.runtime.Session;
import dev.cantina.runtime.TableChanges;
import dev.cantina.types.SqlType;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** All that there is to see in a frame of a run that stands, for a face that unfolds it. */
public final class FrameTree {
    private final Stop stop;
    private final Frame frame;

    public FrameTree(Stop stop, Frame frame) {
        this.stop = stop;
        this.frame = frame;
    }

    /**
     * One of its parts.
     *
     * @param isCostly whether the database is asked for it
     */
    public record Branch(Kind kind, String name, boolean isCostly, Content content) {}

    /** What a part is about. */
    public enum Kind {
        PARAMETERS,
        VARIABLES,
        OTHER
    }

    /** What is in a part. */
    public interface Content {
        /**
         * @throws SQLException where the database can't tell
         */
        List<Shown> all() throws SQLException;
    }

    /** The parts that have something in them. */
    public List<Branch> branches() {
        List<Branch> all = new ArrayList<>();
        List<Variable> variables = frame.place().scope().variables();
        if (variables.stream().anyMatch(v -> v.kind().isParameter())) {
            all.add(new Branch(Kind.PARAMETERS, "Parameters", false, () -> variables(true)));
        }
        all.add(new Branch(Kind.VARIABLES, "Variables", false, () -> variables(false)));
        Optional<ModuleSymbol> module =
                frame.session.program().catalog().moduleOf(frame.routine().span());
        module.filter(m -> !m.variables().isEmpty())
                .ifPresent(
                        m ->
                                all.add(
                                        new Branch(
                                                Kind.OTHER,
                                                "Module " + m.name(),
                                                false,
                                                () -> shared(m))));
        if (!frame.place().scope().cursors().isEmpty() && !frame.isElsewhere()) {
            all.add(new Branch(Kind.OTHER, "Cursors", false, this::cursors));
        }
        if (frame == stop.frame() && !stop.rows().isEmpty()) {
            all.add(
                    new Branch(
                            Kind.OTHER,
                            "Rows changed since the last stop",
                            false,
                            () -> changes(stop.rows())));
        }
        all.add(
                new Branch(
                        Kind.OTHER,
                        "Rows changed so far",
                        true,
                        () -> changes(TableChanges.of(frame.session.events()))));
        if (!frame.isElsewhere() && !(frame instanceof ServerFrame)) {
            all.add(new Branch(Kind.OTHER, "Diagnostics", true, this::diagnostics));
        }
        all.add(new Branch(Kind.OTHER, "Transaction", true, this::transaction));
        return all;
    }

    private List<Shown> variables(boolean parameters) {
        List<Shown> shown = new ArrayList<>();
        for (Variable variable : frame.place().scope().variables()) {
            if (variable.kind().isParameter() == parameters) {
                Shown value =
                        Shown.value(
                                variable.name(),
                                variable.type(),
                                frame.get(variable),
                                Optional.of(variable.name()));
                shown.add(
                        new Shown(
                                value.name(),
                                variable.typeInWords(),
                                value.text(),
                                value.path(),
                                value.parts(),
                                value.isNumbered(),
                                value.inside()));
            }
        }
        if (!parameters && isEnding()) {
            shown.add(Shown.value("gives", SqlType.NULL, frame.result, Optional.empty()));
        }
        return shown;
    }

    /** Whether it is a function whose value is known. */
    private boolean isEnding() {
        return frame == stop.frame()
                && stop.moment().phase() == ExecutionPoint.Phase.END
                && frame.routine().kind() == BoundRoutine.Kind.FUNCTION
                && !(frame.result instanceof ResultRows);
    }

    private List<Shown> shared(ModuleSymbol module) {
        if (frame.isElsewhere()) {
            // The server holds them.
            return List.of();
        }
        Object[] values = frame.session.questions().aside(() -> frame.session.module(module));
        List<Shown> shown = new ArrayList<>();
        for (int i = 0; i < values.length; i++) {
            ModuleSymbol.Shared variable = module.variables().get(i);
            String name = variable.name().text();
            shown.add(Shown.value(name, variable.type(), values[i], Optional.of(name)));
        }
        return shown;
    }

    private List<Shown> cursors() {
        List<Shown> shown = new ArrayList<>();
        for (CursorSymbol symbol : frame.place().scope().cursors()) {
            Optional<Cursor> cursor = frame.cursor(symbol.slot());
            List<Shown> row =
                    cursor.filter(c -> c.row() != null)
                            .map(
                                    c ->
                                            Shown.value(
                                                            "row",
                                                            new SqlType.Row(c.columns()),
                                                            c.row(),
                                                            Optional.empty())
                                                    .inside()
                                                    .some(0, Integer.MAX_VALUE))
                            .orElse(List.of());
            shown.add(
                    Shown.list(symbol.name(), cursor.map(FrameTree::state).orElse("closed"), row));
        }
        return shown;
    }

    /** Where a cursor stands, in words. */
    public static String state(Cursor cursor) {
        String of = cursor.size() + (cursor.size() == 1 ? " row" : " rows");
        if (cursor.position() == 0) {
            return "open, before the first of " + of;
        }
        return cursor.row() == null
                ? "open, after the last of " + of
                : "open, on row " + cursor.position() + " of " + of;
    }

    /** Rows added, removed and changed, table by table. */
    public static List<Shown> changes(List<TableChanges> changes) {
        List<Shown> tables = new ArrayList<>();
        for (TableChanges one : changes) {
            SqlType.Row type =
                    new SqlType.Row(
                            one.table().columns().stream()
                                    .map(c -> new SqlType.Field(c.name(), c.type()))
                                    .toList());
            List<Shown> rows = new ArrayList<>();
            one.changed().forEach(c -> rows.add(changed(one.table(), c)));
            one.added().forEach(r -> rows.add(whole("added", one.table(), type, r.row())));
            one.removed().forEach(r -> rows.add(whole("removed", one.table(), type, r.row())));
            List<String> counts = new ArrayList<>();
            count(counts, one.changed().size(), "changed");
            count(counts, one.added().size(), "added");
            count(counts, one.removed().size(), "removed");
            tables.add(Shown.list(one.table().name(), String.join(", ", counts), rows));
        }
        return tables;
    }

    private static void count(List<String> counts, int rows, String what) {
        if (rows > 0) {
            counts.add(rows + " " + what);
        }
    }

    private static String key(Table table, Object[] row) {
        return String.join(
                ", ", table.primaryKey().stream().map(i -> ValueText.of(row[i])).toList());
    }

    private static Shown changed(Table table, TableChanges.Changed change) {
        List<Shown> columns = new ArrayList<>();
        List<String> texts = new ArrayList<>();
        for (int i : change.columns()) {
            String name = table.columns().get(i).name();
            String text =
                    ValueText.of(change.before()[i]) + " → " + ValueText.of(change.after()[i]);
            texts.add(name + " " + text);
            columns.add(Shown.leaf(name, ValueText.typeName(table.columns().get(i).type()), text));
        }
        return Shown.list(
                ("changed " + key(table, change.after())).strip(),
                String.join(", ", texts),
                columns);
    }

    private static Shown whole(String what, Table table, SqlType.Row type, Object[] row) {
        Shown value = Shown.value("", type, row, Optional.empty());
        return new Shown(
                (what + " " + key(table, row)).strip(),
                "",
                value.text(),
                Optional.empty(),
                value.parts(),
                false,
                value.inside());
    }

    private List<Shown> diagnostics() {
        List<Shown> areas = new ArrayList<>();
        for (Questions.Diagnosis area : frame.session.questions().diagnoses()) {
            List<Shown> items = new ArrayList<>();
            if (!area.command().isEmpty()) {
                items.add(Shown.leaf("COMMAND_FUNCTION", "", area.command()));
            }
            items.add(Shown.leaf("ROW_COUNT", "", String.valueOf(area.rowCount())));
            if (!area.routine().isEmpty()) {
                items.add(Shown.leaf("ROUTINE_NAME", "", area.routine()));
            }
            area.condition()
                    .items()
                    .forEach((name, value) -> items.add(Shown.leaf(name, "", value.toString())));
            String name = areas.isEmpty() ? "the last statement" : "what this handler is for";
            String text =
                    area.condition().isSuccess()
                            ? "no condition"
                            : area.condition().sqlstate()
                                    + " "
                                    + ValueText.printable(area.condition().message());
            areas.add(Shown.list(name, text, items));
        }
        return areas;
    }

    private List<Shown> transaction() throws SQLException {
        Session session = frame.session;
        List<Shown> shown = new ArrayList<>();
        shown.add(Shown.leaf("open", "", session.inTransaction() ? "yes" : "no"));
        List<String> savepoints = session.savepoints();
        shown.add(
                Shown.leaf(
                        "savepoints",
                        "",
                        savepoints.isEmpty() ? "none" : String.join(", ", savepoints)));
        for (Frame f = frame; f != null; f = f.caller()) {
            if (f.place().atomic()) {
                shown.add(Shown.leaf("inside an ATOMIC block of", "", f.routine().name()));
            }
        }
        List<Shown> uncommitted = changes(TableChanges.of(session.questions().uncommitted()));
        shown.add(Shown.list("not committed", uncommitted.isEmpty() ? "nothing" : "", uncommitted));
        return shown;
    }
}
