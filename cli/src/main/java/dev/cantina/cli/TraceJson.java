package dev.cantina.cli;

import dev.cantina.catalog.Table;
import dev.cantina.observe.TraceEvent;
import dev.cantina.runtime.RowEvent;
import dev.cantina.runtime.StackEntry;
import dev.cantina.syntax.Span;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;

/** Writes a trace as JSON Lines: an object an event, as they come. */
final class TraceJson implements Consumer<TraceEvent> {
    private final Writer writer;

    TraceJson(Writer writer) {
        this.writer = writer;
    }

    @Override
    public void accept(TraceEvent event) {
        if (event instanceof TraceEvent.Opened) {
            // A statement is told once, when it has ended; number says when it began.
            return;
        }
        line(of(event));
    }

    void line(Map<String, Object> object) {
        try {
            writer.write(Json.text(object) + "\n");
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static Map<String, Object> of(TraceEvent event) {
        Map<String, Object> object = new LinkedHashMap<>();
        if (event instanceof TraceEvent.Entered entered) {
            object.put("event", "enter");
            about(object, event);
            object.put("kind", entered.kind());
            place(object, entered.place());
            object.put("arguments", values(entered.arguments()));
        } else if (event instanceof TraceEvent.Statement statement) {
            object.put("event", "statement");
            about(object, event);
            object.put("number", statement.number());
            place(object, statement.place());
            object.put("text", statement.place().written());
            object.put("elapsed_ms", Json.millis(statement.nanos() / 1e6));
            object.put("sent", values(statement.sent()));
            object.put("rows", statement.rows() < 0 ? null : statement.rows());
            object.put("tables", statement.tables());
            object.put("variables", statement.variables().stream().map(TraceJson::change).toList());
            object.put("written", statement.written().stream().map(TraceJson::row).toList());
            object.put("writes", statement.writes());
        } else if (event instanceof TraceEvent.Raised raised) {
            object.put("event", "raise");
            about(object, event);
            place(object, raised.place());
            object.put("sqlstate", raised.condition().sqlstate());
            object.put("message", raised.condition().message());
            object.put("stack", stack(raised));
        } else if (event instanceof TraceEvent.Left left) {
            object.put("event", "leave");
            about(object, event);
            object.put("elapsed_ms", Json.millis(left.nanos() / 1e6));
            object.put("given", values(left.given()));
            object.put("sqlstate", left.condition().map(c -> c.sqlstate()).orElse(null));
        }
        return object;
    }

    private static void about(Map<String, Object> object, TraceEvent event) {
        object.put("depth", event.depth());
        object.put("routine", event.routine());
    }

    private static void place(Map<String, Object> object, Span place) {
        object.put("file", place.source().name());
        object.put("line", place.line());
    }

    private static Map<String, Object> values(List<TraceEvent.Value> values) {
        Map<String, Object> object = new LinkedHashMap<>();
        values.forEach(v -> object.put(v.name().isEmpty() ? "returned" : v.name(), v.value()));
        return object;
    }

    private static Map<String, Object> change(TraceEvent.Change change) {
        Map<String, Object> object = new LinkedHashMap<>();
        object.put("name", change.name());
        object.put("before", change.before());
        object.put("after", change.after());
        return object;
    }

    private static Map<String, Object> row(RowEvent event) {
        Map<String, Object> object = new LinkedHashMap<>();
        object.put("table", event.table().name());
        object.put("before", fields(event.table(), event.before()));
        object.put("after", fields(event.table(), event.after()));
        return object;
    }

    private static Map<String, Object> fields(Table table, Object[] row) {
        if (row == null) {
            return null;
        }
        Map<String, Object> object = new LinkedHashMap<>();
        for (int i = 0; i < row.length; i++) {
            object.put(table.columns().get(i).name(), row[i]);
        }
        return object;
    }

    private static List<Object> stack(TraceEvent.Raised raised) {
        List<Object> stack = new ArrayList<>();
        for (int i = 0; i < raised.stack().size(); i++) {
            StackEntry entry = raised.stack().get(i);
            Map<String, Object> object = new LinkedHashMap<>();
            object.put("routine", entry.routine());
            place(object, entry.place());
            object.put("arguments", values(raised.arguments().get(i)));
            stack.add(object);
        }
        return stack;
    }
}
