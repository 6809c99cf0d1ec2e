package dev.cantina.database.embedded;

import dev.cantina.catalog.Describer.Answer;
import dev.cantina.catalog.Table;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Source;
import dev.cantina.types.Condition;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.HashMap;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;
import org.h2.engine.SessionLocal;
import org.h2.jdbc.JdbcConnection;
import org.h2.schema.Sequence;

/**
 * The tables that belong to routines. They are made when a routine is bound, as temporary ones that
 * do not end the transaction, and stay with the connection.
 */
final class EmbeddedTables {
    private final Connection connection;
    private final Map<String, String> spellings;
    private final Function<SQLException, Condition> conditions;
    private final Map<String, Answer.Declared> declared = new HashMap<>();
    private final Map<String, Integer> names = new HashMap<>();

    /** How each is made, by its name; known to all connections that share their rows. */
    private final Map<String, String> definitions;

    EmbeddedTables(
            Connection connection,
            Map<String, String> spellings,
            Function<SQLException, Condition> conditions) {
        this(connection, spellings, conditions, new ConcurrentHashMap<>());
    }

    private EmbeddedTables(
            Connection connection,
            Map<String, String> spellings,
            Function<SQLException, Condition> conditions,
            Map<String, String> definitions) {
        this.connection = connection;
        this.spellings = spellings;
        this.conditions = conditions;
        this.definitions = definitions;
    }

    /** The same tables for another connection, which makes each when it is first used. */
    EmbeddedTables beside(Connection another) {
        return new EmbeddedTables(another, spellings, conditions, definitions);
    }

    /** The table of a name and a definition, made if it is not there yet. */
    Answer declare(String name, String definition) {
        String which = name + " " + definition.strip().replaceAll("\\s+", " ");
        Answer.Declared known = declared.get(which);
        if (known != null) {
            return known;
        }
        int number = names.merge(name, 1, Integer::sum);
        String sqlName = number == 1 ? name : name + "_" + number;
        Parser.spellings(new Source(name, definition)).forEach(spellings::putIfAbsent);
        boolean query = definition.startsWith("AS ");
        String options = " NOT PERSISTENT TRANSACTIONAL ";
        try (Statement statement = connection.createStatement()) {
            String made =
                    "CREATE LOCAL TEMPORARY TABLE "
                            + EmbeddedDatabase.quoted(sqlName)
                            + (query
                                    ? options + definition + " WITH NO DATA"
                                    : " " + definition + options);
            make(statement, made);
            definitions.put(sqlName, made);
            Table table =
                    new EmbeddedCatalog(connection, spellings)
                            .table(sqlName)
                            .orElseThrow(() -> new SQLException(sqlName + " is not there"));
            known = new Answer.Declared(table, sqlName);
            declared.put(which, known);
            return known;
        } catch (SQLException e) {
            names.merge(name, -1, Integer::sum);
            return new Answer.Refused(conditions.apply(e));
        }
    }

    /** Others need not wait for the end of this transaction: none of them sees the table. */
    private void make(Statement statement, String definition) throws SQLException {
        statement.execute(definition);
        SessionLocal session = (SessionLocal) ((JdbcConnection) connection).getSession();
        session.getDatabase().unlockMeta(session);
    }

    void empty(String table) throws SQLException {
        SessionLocal session = (SessionLocal) ((JdbcConnection) connection).getSession();
        boolean made = session.findLocalTempTable(table) != null;
        try (Statement statement = connection.createStatement()) {
            if (!made && definitions.containsKey(table)) {
                make(statement, definitions.get(table));
                return;
            }
            statement.executeUpdate("DELETE FROM " + EmbeddedDatabase.quoted(table));
        }
        org.h2.table.Table known = session.findLocalTempTable(table);
        if (known != null) {
            for (org.h2.table.Column column : known.getColumns()) {
                Sequence sequence = column.getSequence();
                if (sequence != null) {
                    sequence.modify(sequence.getStartValue(), null, null, null, null, null, null);
                }
            }
        }
    }
}
