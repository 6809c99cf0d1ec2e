package dev.cantina.racing;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/** Isolation levels (ISO 9075-2, 4.41.4), and the one that a database takes by itself. */
public enum IsolationLevel {
    OWN("", 0),
    READ_UNCOMMITTED("READ UNCOMMITTED", Connection.TRANSACTION_READ_UNCOMMITTED),
    READ_COMMITTED("READ COMMITTED", Connection.TRANSACTION_READ_COMMITTED),
    REPEATABLE_READ("REPEATABLE READ", Connection.TRANSACTION_REPEATABLE_READ),
    SERIALIZABLE("SERIALIZABLE", Connection.TRANSACTION_SERIALIZABLE);

    private final String words;
    private final int jdbc;

    IsolationLevel(String words, int jdbc) {
        this.words = words;
        this.jdbc = jdbc;
    }

    /** As SQL says it; empty for the database's own. */
    public String words() {
        return words;
    }

    /** The four of the standard, the weakest first. */
    public static List<IsolationLevel> all() {
        return Stream.of(values()).filter(l -> l != OWN).toList();
    }

    /** The one of these words, however they are written. */
    public static Optional<IsolationLevel> of(String words) {
        String plain = words.strip().replaceAll("[\\s_-]+", " ");
        return all().stream().filter(l -> l.words.equalsIgnoreCase(plain)).findFirst();
    }

    /** Whether the first statement of a transaction may decide what all see. */
    boolean isSnapshot(Connection connection) throws SQLException {
        int own = this == OWN ? connection.getTransactionIsolation() : jdbc;
        return own != Connection.TRANSACTION_READ_UNCOMMITTED
                && own != Connection.TRANSACTION_READ_COMMITTED;
    }

    void set(Connection connection) throws SQLException {
        if (this != OWN) {
            connection.rollback();
            connection.setTransactionIsolation(jdbc);
        }
    }
}
