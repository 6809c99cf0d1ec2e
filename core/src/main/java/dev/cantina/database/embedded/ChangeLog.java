package dev.cantina.database.embedded;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Table;
import dev.cantina.runtime.RowChange;
import dev.cantina.types.SqlType;
import java.nio.charset.StandardCharsets;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.h2.engine.Constants;
import org.h2.engine.SessionLocal;
import org.h2.jdbc.JdbcConnection;
import org.h2.mvstore.tx.Transaction;
import org.h2.mvstore.tx.TransactionStore;
import org.h2.result.Row;
import org.h2.value.ValueToObjectConverter;

/**
 * What a transaction changed, read from the engine's own undo log: it holds each row that was
 * touched as it was before, in order, and forgets what is rolled back. Watching costs nothing while
 * the routine runs.
 */
public final class ChangeLog {
    private final JdbcConnection connection;

    /** By the name of the map that the engine keeps a table's rows in. */
    private Map<String, Table> tables = Map.of();

    private Optional<Catalog> watched = Optional.empty();
    private volatile boolean stale;

    public ChangeLog(JdbcConnection connection) {
        this.connection = connection;
    }

    /** The same for another connection to the same rows. */
    ChangeLog beside(JdbcConnection another) {
        ChangeLog log = new ChangeLog(another);
        log.watched = watched;
        log.tables = tables;
        log.stale = stale;
        return log;
    }

    /** From now on the rows of these tables are told. */
    public void watch(Catalog catalog) {
        watched = Optional.of(catalog);
        stale = false;
        SessionLocal session = session();
        Map<String, Table> found = new HashMap<>();
        for (Table table : catalog.tables()) {
            org.h2.table.Table known =
                    session.getDatabase()
                            .getSchema(Constants.SCHEMA_MAIN)
                            .findTableOrView(session, table.key());
            if (known != null) {
                found.put("table." + known.getId(), table);
            }
        }
        tables = found;
    }

    /** A schema statement may give a table's rows another place. */
    public void schemaChanged() {
        stale = true;
    }

    private SessionLocal session() {
        return (SessionLocal) connection.getSession();
    }

    public long position() {
        return session().getTransaction().setSavepoint();
    }

    /** A row on its way back through the log. */
    private static final class Journey {
        final Table table;
        final String map;
        final Object key;
        final long last;
        long first;
        Row before;

        Journey(Table table, String map, Object key, long last) {
            this.table = table;
            this.map = map;
            this.key = key;
            this.last = last;
        }
    }

    public List<RowChange> since(long position) throws SQLException {
        Transaction transaction = session().getTransaction();
        long at = transaction.setSavepoint();
        if (at <= position) {
            return List.of();
        }
        if (stale) {
            watched.ifPresent(this::watch);
        }
        Map<String, Map<Object, Journey>> journeys = new LinkedHashMap<>();
        Iterator<TransactionStore.Change> changes = transaction.getChanges(position);
        while (changes.hasNext()) {
            TransactionStore.Change change = changes.next();
            at--;
            Table table = tables.get(change.mapName);
            if (table == null) {
                continue;
            }
            Map<Object, Journey> rows =
                    journeys.computeIfAbsent(change.mapName, m -> new LinkedHashMap<>());
            Journey journey = rows.get(change.key);
            if (journey == null) {
                journey = new Journey(table, change.mapName, change.key, at);
                rows.put(change.key, journey);
            }
            journey.first = at;
            journey.before = (Row) change.value;
        }
        List<Journey> all = new ArrayList<>();
        journeys.values().forEach(rows -> all.addAll(rows.values()));
        Collections.sort(all, (a, b) -> Long.compare(a.first, b.first));
        List<RowChange> told = new ArrayList<>();
        for (Journey journey : all) {
            Row after = (Row) transaction.openMap(journey.map).getImmediate(journey.key);
            if (journey.before != null || after != null) {
                told.add(
                        new RowChange(
                                journey.table,
                                values(journey.table, journey.before),
                                values(journey.table, after),
                                journey.last));
            }
        }
        return told;
    }

    private Object[] values(Table table, Row row) throws SQLException {
        if (row == null) {
            return null;
        }
        Object[] values = new Object[table.columns().size()];
        for (int i = 0; i < Math.min(values.length, row.getColumnCount()); i++) {
            Object value =
                    ValueToObjectConverter.valueToDefaultObject(row.getValue(i), connection, false);
            values[i] =
                    value instanceof byte[] json
                                    && table.columns().get(i).type() instanceof SqlType.Json
                            ? new String(json, StandardCharsets.UTF_8)
                            : JavaTypes.held(value);
        }
        return values;
    }
}
