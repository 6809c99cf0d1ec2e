package dev.cantina.runtime;

import java.util.List;
import java.util.function.Supplier;

/**
 * The rows that a run changed. The database's log is read when they are first asked for, so a run
 * whose changes nobody looks at does not pay for them; its session asks before it lets go.
 */
final class Changes {
    private Supplier<List<RowEvent>> source;
    private List<RowEvent> events;

    Changes(Supplier<List<RowEvent>> source) {
        this.source = source;
    }

    List<RowEvent> events() {
        if (events == null) {
            events = List.copyOf(source.get());
            source = null;
        }
        return events;
    }
}
