package dev.cantina.cli;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.Variable;
import dev.cantina.catalog.Table;
import dev.cantina.cli.Screen.Tone;
import dev.cantina.debugging.DebugException;
import dev.cantina.debugging.Debugger;
import dev.cantina.debugging.Evaluated;
import dev.cantina.debugging.Stop;
import dev.cantina.runtime.Frame;
import dev.cantina.runtime.Questions;
import dev.cantina.runtime.RaisedException;
import dev.cantina.runtime.ResultRows;
import dev.cantina.runtime.ServerFrame;
import dev.cantina.runtime.Session;
import dev.cantina.runtime.TableChanges;
import dev.cantina.types.SqlType;
import dev.cantina.workbench.ValueText;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;

/** The words that look at a run that stands still, or change something in it. */
final class DebugLook {
    private static final int MOST_ROWS = 50;
    private static final int WATCHED_ROWS = 8;

    private final Screen screen;
    private final Debugger debugger;
    private final FrameView view;
    private final List<String> watches = new ArrayList<>();
    private Stop stop;

    DebugLook(Screen screen, Debugger debugger) {
        this.screen = screen;
        this.debugger = debugger;
        this.view = new FrameView(screen);
    }

    void at(Stop now) {
        stop = now;
    }

    void perform(DebugWord word, String rest, Frame frame) throws DebugException {
        switch (word) {
            case VARS -> view.variables(frame);
            case SHOW -> {
                String wanted = DebugWord.need(rest, "show takes an expression: show note");
                Evaluated value = debugger.evaluate(frame, wanted);
                view.whole("  ", value.type(), value.value());
            }
            case SET -> set(rest, frame);
            case EVAL -> {
                String wanted = DebugWord.need(rest, "eval takes an expression: eval litres * 2");
                Evaluated value = debugger.evaluate(frame, wanted);
                screen.line(
                        "  "
                                + view.value(value.type(), value.value())
                                + (value.type() instanceof SqlType.Unknown
                                        ? ""
                                        : screen.tone(Tone.FAINT, "  " + value.type().sql())));
            }
            case WATCH -> watch(rest, frame);
            case UNWATCH -> unwatch(rest);
            case ROWS ->
                    rows(
                            "SELECT * FROM "
                                    + DebugWord.need(
                                            rest,
                                            "rows takes a table: rows vessel WHERE level_l > 0"),
                            frame,
                            MOST_ROWS);
            case SQL -> sql(rest, frame);
            case SQL_CHANGE -> change(rest, frame);
            case CURSORS -> view.cursors(frame);
            case DIAGNOSTICS -> diagnostics(frame);
            case TRANSACTION -> transaction(frame);
            case CHANGES -> changes(frame);
            default -> throw new IllegalStateException(word.word());
        }
    }

    /** What a variable's type is, for its parts to be named; of all else nothing is known. */
    static SqlType type(Frame frame, String name) {
        return frame.place().scope().variables().stream()
                .filter(v -> v.name().equalsIgnoreCase(name))
                .<SqlType>map(Variable::type)
                .findFirst()
                .orElse(SqlType.NULL);
    }

    private void set(String text, Frame frame) throws DebugException {
        int sign = text.indexOf('=');
        if (sign < 1) {
            throw new DebugException("set takes a variable and a value: set litres = 10");
        }
        String name = text.substring(0, sign).strip();
        Object value = debugger.set(frame, name, text.substring(sign + 1).strip());
        screen.line("  " + name + " is now " + view.value(type(frame, name), value));
    }

    private void watch(String text, Frame frame) throws DebugException {
        if (!text.isEmpty()) {
            if (Debugger.isQuery(text)) {
                debugger.query(frame, text, 1);
            } else {
                debugger.eval(frame, text);
            }
            watches.add(text);
        }
        if (watches.isEmpty()) {
            screen.line("  nothing is watched; watch EXPRESSION or a query keeps it in view");
        }
        watches(frame);
    }

    private void unwatch(String text) throws DebugException {
        if (text.equals("all")) {
            watches.clear();
            return;
        }
        int number = DebugWord.number(text, "unwatch takes a number, or all; watch lists them");
        if (number < 1 || number > watches.size()) {
            throw new DebugException("there is no watch " + number + "; watch lists them");
        }
        watches.remove(number - 1);
    }

    /** What is kept in view. */
    void watches(Frame frame) {
        int number = 1;
        for (String text : watches) {
            String head = "  " + screen.tone(Tone.NEW, "watch " + number++ + "  ") + text;
            try {
                if (Debugger.isQuery(text)) {
                    ResultRows rows = debugger.query(frame, text, WATCHED_ROWS);
                    screen.line(head);
                    new TableView(screen).show("    ", rows.columns(), rows.rows());
                } else {
                    Evaluated value = debugger.evaluate(frame, text);
                    screen.line(head + " = " + view.value(value.type(), value.value()));
                }
            } catch (DebugException e) {
                screen.line(head + screen.tone(Tone.FAINT, "  not here: " + e.getMessage()));
            }
        }
    }

    private void sql(String text, Frame frame) throws DebugException {
        if (!Debugger.isQuery(
                DebugWord.need(text, "sql takes a query: sql SELECT * FROM vessel"))) {
            throw new DebugException("sql only looks; to change data, say sql! " + text);
        }
        rows(text, frame, MOST_ROWS);
    }

    private void rows(String text, Frame frame, int most) throws DebugException {
        ResultRows result = debugger.query(frame, text, most);
        new TableView(screen).show("  ", result.columns(), result.rows());
        if (result.rows().size() == most) {
            screen.line("  … the first " + most + " rows");
        }
    }

    private void change(String text, Frame frame) throws DebugException {
        int rows =
                debugger.change(
                        frame,
                        DebugWord.need(text, "sql! takes a statement: sql! DELETE FROM movement"));
        screen.line(
                "  "
                        + rows
                        + (rows == 1 ? " row" : " rows")
                        + " changed, inside the running transaction");
    }

    private static DebugException refused(Frame frame, SQLException e) {
        for (Throwable cause = e; cause != null; cause = cause.getCause()) {
            if (cause instanceof RaisedException raised) {
                return new DebugException(
                        raised.condition().sqlstate() + " " + raised.condition().message());
            }
        }
        var condition = frame.session.database().condition(e);
        return new DebugException(condition.sqlstate() + " " + condition.message());
    }

    private void diagnostics(Frame frame) {
        if (frame.isElsewhere() || frame instanceof ServerFrame) {
            screen.line("  not known: the server has its own");
            return;
        }
        int number = 0;
        for (Questions.Diagnosis area : frame.session.questions().diagnoses()) {
            String head = number++ == 0 ? "the last statement" : "what this handler is for";
            screen.line(
                    "  "
                            + Screen.padded(head, 26)
                            + screen.tone(
                                    area.condition().isException() ? Tone.BAD : Tone.STRONG,
                                    area.condition().sqlstate())
                            + "  "
                            + (area.condition().isSuccess()
                                    ? screen.tone(Tone.FAINT, "no condition")
                                    : ValueText.printable(area.condition().message())));
            List<String> more = new ArrayList<>();
            if (!area.command().isEmpty()) {
                more.add("COMMAND_FUNCTION " + area.command());
            }
            more.add("ROW_COUNT " + area.rowCount());
            if (!area.routine().isEmpty()) {
                more.add("ROUTINE_NAME " + area.routine());
            }
            area.condition().items().forEach((name, value) -> more.add(name + " " + value));
            screen.line(" ".repeat(28) + screen.tone(Tone.FAINT, String.join(", ", more)));
        }
    }

    private void transaction(Frame frame) throws DebugException {
        Session session = frame.session;
        try {
            List<TableChanges> uncommitted = TableChanges.of(session.questions().uncommitted());
            boolean open = session.inTransaction();
            screen.line("  " + (open ? "a transaction is open" : "no transaction is open"));
            screen.line(
                    "  savepoints: "
                            + (session.savepoints().isEmpty()
                                    ? "none"
                                    : String.join(", ", session.savepoints())));
            for (Frame f = frame; f != null; f = f.caller()) {
                if (f.place().atomic()) {
                    screen.line("  inside an ATOMIC block of " + f.routine().name());
                }
            }
            screen.line(
                    uncommitted.isEmpty()
                            ? "  no row is changed that is not committed"
                            : "  not committed yet:");
            new OutcomeView(screen).changes(uncommitted);
        } catch (SQLException e) {
            throw refused(frame, e);
        }
    }

    private void changes(Frame frame) throws DebugException {
        List<TableChanges> changes;
        try {
            changes = TableChanges.of(frame.session.events());
        } catch (SQLException e) {
            throw refused(frame, e);
        }
        if (changes.isEmpty()) {
            screen.line("  no row has changed so far");
        }
        new OutcomeView(screen).changes(changes);
    }

    /** What a routine that is about to end gives. */
    void gives(Frame frame) {
        for (Variable variable : frame.routine().variables()) {
            if (variable.kind() == Variable.Kind.OUT || variable.kind() == Variable.Kind.INOUT) {
                Object value = frame.get(variable);
                screen.line(
                        "  gives " + variable.name() + " = " + view.value(variable.type(), value));
            }
        }
        if (frame.routine().kind() == BoundRoutine.Kind.FUNCTION
                && !(frame.result instanceof ResultRows)) {
            screen.line("  gives " + view.value(SqlType.NULL, frame.result));
        }
    }

    /** The names that are known in a frame: variables, tables, routines. */
    List<String> names(Frame frame) {
        List<String> names = new ArrayList<>();
        frame.place().scope().variables().forEach(v -> names.add(v.name()));
        var catalog = frame.session.program().catalog();
        catalog.tables().stream().map(Table::name).forEach(names::add);
        catalog.routines().forEach(r -> names.add(r.name()));
        return names;
    }
}
