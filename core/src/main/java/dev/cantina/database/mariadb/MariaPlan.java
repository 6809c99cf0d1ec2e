package dev.cantina.database.mariadb;

import dev.cantina.runtime.AccessPath;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.OptionalLong;

/** Reads what MariaDB says of a plan: {@code EXPLAIN}, with the server's estimate of rows. */
final class MariaPlan {
    private MariaPlan() {}

    static List<AccessPath> read(Connection connection, String sql, Object[] values)
            throws SQLException {
        List<AccessPath> paths = new ArrayList<>();
        try (PreparedStatement statement =
                connection.prepareStatement("EXPLAIN " + MariaStatementRewriter.of(sql))) {
            for (int i = 0; i < values.length; i++) {
                statement.setObject(i + 1, values[i]);
            }
            try (ResultSet row = statement.executeQuery()) {
                while (row.next()) {
                    String table = row.getString("table");
                    String type = row.getString("type");
                    if (table == null || type == null || table.startsWith("<")) {
                        continue;
                    }
                    boolean whole = type.equals("ALL");
                    String path = whole ? "every row" : "index " + row.getString("key");
                    String rows = row.getString("rows");
                    paths.add(
                            new AccessPath(
                                    table,
                                    path,
                                    whole,
                                    rows == null
                                            ? OptionalLong.empty()
                                            : OptionalLong.of(Long.parseLong(rows))));
                }
            }
        }
        return paths;
    }
}
