package dev.cantina.importing;

import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;

/** A server whose rows are read by SELECT, each value as a text. */
public abstract class SqlServer implements LiveServer {
    /** In a transaction; nothing of it is used by anybody else. */
    protected final Connection connection;

    protected SqlServer(Connection connection) {
        this.connection = connection;
    }

    /** A column as its text: one that is read back to the same value. */
    protected abstract String text(LiveTable.Column column);

    /** A text as a value of a column. */
    protected abstract String value(String text, LiveTable.Column column);

    protected void execute(String sql) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute(sql);
        }
    }

    private String columns(LiveTable table) {
        return table.columns().stream().map(this::text).collect(Collectors.joining(", "));
    }

    private static String names(LiveTable table, List<Integer> columns) {
        return columns.stream()
                .map(i -> table.columns().get(i).sql())
                .collect(Collectors.joining(", "));
    }

    @Override
    public List<String[]> first(LiveTable table, int most) throws SQLException {
        String order = table.key().isEmpty() ? "" : " ORDER BY " + names(table, table.key());
        return LiveRows.of(
                connection,
                "SELECT " + columns(table) + " FROM " + table.sql() + order + " LIMIT " + most);
    }

    @Override
    public List<String[]> of(LiveTable table, String query) throws SQLException {
        return LiveRows.of(
                connection, "SELECT " + columns(table) + " FROM (" + query + "\n) AS taken");
    }

    @Override
    public List<String[]> with(LiveTable table, List<Integer> columns, List<List<String>> values)
            throws SQLException {
        List<String> rows = new ArrayList<>();
        for (List<String> row : values) {
            List<String> texts = new ArrayList<>();
            for (int i = 0; i < row.size(); i++) {
                texts.add(value(row.get(i), table.columns().get(columns.get(i))));
            }
            rows.add("(" + String.join(", ", texts) + ")");
        }
        return LiveRows.of(
                connection,
                "SELECT "
                        + columns(table)
                        + " FROM "
                        + table.sql()
                        + " WHERE ("
                        + names(table, columns)
                        + ") IN ("
                        + String.join(", ", rows)
                        + ")");
    }
}
