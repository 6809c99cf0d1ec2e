package dev.cantina.database.mariadb;

import dev.cantina.catalog.Table;
import dev.cantina.database.RowLines;
import dev.cantina.database.RowReader;
import dev.cantina.database.TableRows;
import dev.cantina.runtime.RowChange;
import dev.cantina.types.Values;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * The changes of tables that are somebody's own, on which no trigger of ours may stand: whole
 * tables are compared. What it costs follows the size of the tables.
 */
final class MariaSnapshots implements MariaChanges {
    private final Connection connection;
    private final List<Table> tables;
    private final RowReader reader;
    private final List<RowChange> lines = new ArrayList<>();
    private Map<Table, Map<List<String>, Object[]>> last;
    private long seen;

    MariaSnapshots(Connection connection, List<Table> tables, RowReader reader)
            throws SQLException {
        this.connection = connection;
        this.tables = tables;
        this.reader = reader;
        this.last = rows();
        this.seen = written();
    }

    /** The server itself says whether something was written. */
    @Override
    public void touched() {}

    @Override
    public long position() throws SQLException {
        look();
        return lines.size();
    }

    @Override
    public List<RowChange> since(long position) throws SQLException {
        look();
        return RowLines.folded(new ArrayList<>(lines.subList((int) position, lines.size())));
    }

    /** How many rows this session has written so far, and how often it went back. */
    private long written() throws SQLException {
        long sum = 0;
        try (Statement statement = connection.createStatement();
                ResultSet row =
                        statement.executeQuery(
                                "SHOW SESSION STATUS WHERE Variable_name IN ('Handler_write',"
                                        + " 'Handler_update', 'Handler_delete', 'Handler_rollback',"
                                        + " 'Handler_savepoint_rollback')")) {
            while (row.next()) {
                sum += row.getLong(2);
            }
        }
        return sum;
    }

    /** Writes down what differs from the last look; what was taken back goes from the end. */
    private void look() throws SQLException {
        long sum = written();
        if (sum == seen) {
            return;
        }
        seen = sum;
        Map<Table, Map<List<String>, Object[]>> now = rows();
        for (Table table : tables) {
            Map<List<String>, Object[]> before = last.get(table);
            Map<List<String>, Object[]> after = now.get(table);
            before.forEach(
                    (key, row) -> {
                        Object[] there = after.get(key);
                        if (there == null || !Values.same(row, there)) {
                            add(table, row, there);
                        }
                    });
            after.forEach(
                    (key, row) -> {
                        if (!before.containsKey(key)) {
                            add(table, null, row);
                        }
                    });
        }
        last = now;
    }

    private void add(Table table, Object[] before, Object[] after) {
        int end = lines.size() - 1;
        if (end >= 0 && isUndone(lines.get(end), table, before, after)) {
            lines.remove(end);
            return;
        }
        lines.add(new RowChange(table, before, after, lines.size() + 1L));
    }

    private static boolean isUndone(RowChange line, Table table, Object[] before, Object[] after) {
        return line.table() == table && same(line.before(), after) && same(line.after(), before);
    }

    private static boolean same(Object[] a, Object[] b) {
        return a == null || b == null ? a == b : Values.same(a, b);
    }

    private Map<Table, Map<List<String>, Object[]>> rows() throws SQLException {
        Map<Table, Map<List<String>, Object[]>> all = new LinkedHashMap<>();
        for (Table table : tables) {
            all.put(table, TableRows.read(connection, table, reader));
        }
        return all;
    }
}
