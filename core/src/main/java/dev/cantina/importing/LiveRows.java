package dev.cantina.importing;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;

/** Queries whose values are all texts. */
public final class LiveRows {
    private LiveRows() {}

    /** All rows of a query; null for NULL. */
    public static List<String[]> of(Connection connection, String sql) throws SQLException {
        List<String[]> rows = new ArrayList<>();
        each(connection, sql, rows::add);
        return rows;
    }

    /** The same, one after the other. */
    public static void each(Connection connection, String sql, Consumer<String[]> taker)
            throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.setEscapeProcessing(false);
            statement.setFetchSize(1000);
            try (ResultSet row = statement.executeQuery(sql)) {
                int width = row.getMetaData().getColumnCount();
                while (row.next()) {
                    String[] values = new String[width];
                    for (int i = 0; i < width; i++) {
                        values[i] = row.getString(i + 1);
                    }
                    taker.accept(values);
                }
            }
        }
    }

    /** A text as a literal of SQL; quotes are doubled, and nothing else is special. */
    public static String literal(String text) {
        return "'" + text.replace("'", "''") + "'";
    }

    /** Names, each as a literal, separated by commas. */
    public static String literals(List<String> texts) {
        return String.join(", ", texts.stream().map(LiveRows::literal).toList());
    }
}
