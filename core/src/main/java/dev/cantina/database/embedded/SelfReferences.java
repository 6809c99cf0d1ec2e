package dev.cantina.database.embedded;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Table;
import dev.cantina.runtime.RowChange;
import dev.cantina.syntax.Unit;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Collectors;
import org.h2.api.ErrorCode;
import org.h2.message.DbException;

/**
 * Foreign keys of a table to itself. The engine looks at them row by row; by the standard they are
 * looked at when the statement has changed all its rows (ISO 9075-2, 4.20), so that they may refer
 * to each other in any order.
 */
public final class SelfReferences {
    private final EmbeddedDatabase database;

    public SelfReferences(EmbeddedDatabase database) {
        this.database = database;
    }

    /** A look at the rows that a statement has changed. */
    public interface Check {
        void check(List<RowChange> changes) throws SQLException;
    }

    /** Makes a check run after each statement of a kind. */
    public interface Installer {
        void install(Table table, Unit.Event event, Check check) throws SQLException;
    }

    /** A key: the positions of its columns, and of those that they refer to. */
    private record Key(String name, Table table, List<Integer> columns, List<Integer> referred) {}

    /** Takes each such key out of the engine's hands, and has it checked. */
    public void each(Statement statement, Installer installer, Catalog catalog)
            throws SQLException {
        for (Key key : keys(statement, catalog)) {
            statement.execute(
                    "ALTER TABLE "
                            + EmbeddedDatabase.quoted(key.table.key())
                            + " DROP CONSTRAINT "
                            + EmbeddedDatabase.quoted(key.name));
            for (Unit.Event event : Unit.Event.values()) {
                installer.install(key.table, event, rows -> check(key, rows));
            }
        }
    }

    /** Those that change no row by themselves. */
    private static List<Key> keys(Statement statement, Catalog catalog) throws SQLException {
        Map<String, Key> found = new LinkedHashMap<>();
        try (ResultSet row =
                statement.executeQuery(
                        "SELECT R.CONSTRAINT_NAME, C.TABLE_NAME, C.COLUMN_NAME, P.COLUMN_NAME"
                                + " FROM INFORMATION_SCHEMA.REFERENTIAL_CONSTRAINTS R"
                                + " JOIN INFORMATION_SCHEMA.KEY_COLUMN_USAGE C"
                                + " ON C.CONSTRAINT_NAME = R.CONSTRAINT_NAME"
                                + " AND C.CONSTRAINT_SCHEMA = R.CONSTRAINT_SCHEMA"
                                + " JOIN INFORMATION_SCHEMA.KEY_COLUMN_USAGE P"
                                + " ON P.CONSTRAINT_NAME = R.UNIQUE_CONSTRAINT_NAME"
                                + " AND P.CONSTRAINT_SCHEMA = R.UNIQUE_CONSTRAINT_SCHEMA"
                                + " AND P.ORDINAL_POSITION = C.POSITION_IN_UNIQUE_CONSTRAINT"
                                + " WHERE P.TABLE_NAME = C.TABLE_NAME"
                                + " AND R.DELETE_RULE IN ('NO ACTION', 'RESTRICT')"
                                + " AND R.UPDATE_RULE IN ('NO ACTION', 'RESTRICT')"
                                + " ORDER BY 1, C.ORDINAL_POSITION")) {
            while (row.next()) {
                Optional<Table> table = catalog.table(row.getString(2));
                if (table.isEmpty()) {
                    continue;
                }
                String name = row.getString(1);
                Key key =
                        found.computeIfAbsent(
                                name,
                                n -> new Key(n, table.get(), new ArrayList<>(), new ArrayList<>()));
                key.columns.add(table.get().position(row.getString(3)));
                key.referred.add(table.get().position(row.getString(4)));
            }
        }
        return List.copyOf(found.values());
    }

    private void check(Key key, List<RowChange> rows) throws SQLException {
        for (RowChange row : rows) {
            if (!row.table().key().equals(key.table.key())) {
                continue;
            }
            if (row.after() != null) {
                List<Object> parent = values(row.after(), key.columns);
                if (!parent.contains(null) && !exists(key, key.referred, parent)) {
                    throw violated(
                            ErrorCode.REFERENTIAL_INTEGRITY_VIOLATED_PARENT_MISSING_1, key, parent);
                }
            }
            if (row.before() != null) {
                List<Object> was = values(row.before(), key.referred);
                boolean gone =
                        row.after() == null || !was.equals(values(row.after(), key.referred));
                if (gone && exists(key, key.columns, was) && !exists(key, key.referred, was)) {
                    throw violated(
                            ErrorCode.REFERENTIAL_INTEGRITY_VIOLATED_CHILD_EXISTS_1, key, was);
                }
            }
        }
    }

    private static List<Object> values(Object[] row, List<Integer> positions) {
        return positions.stream().map(i -> row[i]).collect(Collectors.toList());
    }

    private boolean exists(Key key, List<Integer> positions, List<Object> values)
            throws SQLException {
        String condition =
                positions.stream()
                        .map(
                                i ->
                                        EmbeddedDatabase.quoted(key.table.columns().get(i).key())
                                                + " = ?")
                        .collect(Collectors.joining(" AND "));
        try (PreparedStatement query =
                database.here()
                        .connection()
                        .prepareStatement(
                                "SELECT 1 FROM "
                                        + EmbeddedDatabase.quoted(key.table.key())
                                        + " WHERE "
                                        + condition
                                        + " FETCH FIRST ROW ONLY")) {
            for (int i = 0; i < values.size(); i++) {
                query.setObject(
                        i + 1,
                        database.driverValue(
                                values.get(i), key.table.columns().get(positions.get(i)).type()));
            }
            try (ResultSet found = query.executeQuery()) {
                return found.next();
            }
        }
    }

    private static SQLException violated(int error, Key key, List<Object> values) {
        String table = "PUBLIC." + key.table.key();
        return DbException.getJdbcSQLException(
                error,
                key.name
                        + ": "
                        + table
                        + " FOREIGN KEY("
                        + names(key, key.columns)
                        + ") REFERENCES "
                        + table
                        + "("
                        + names(key, key.referred)
                        + ") ("
                        + values.stream().map(Objects::toString).collect(Collectors.joining(", "))
                        + ")");
    }

    private static String names(Key key, List<Integer> positions) {
        return positions.stream()
                .map(i -> key.table.columns().get(i).key())
                .collect(Collectors.joining(", "));
    }
}
