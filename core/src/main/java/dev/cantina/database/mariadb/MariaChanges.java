package dev.cantina.database.mariadb;

import dev.cantina.runtime.RowChange;
import java.sql.SQLException;
import java.util.List;

/** What changes in a transaction on MariaDB, row by row. */
public interface MariaChanges {
    /** From now on it is read on another connection, or on its own again. */
    default void reading(java.sql.Connection by) {}

    /** Something may have been written, or taken back. */
    void touched();

    /** How far the log has got. */
    long position() throws SQLException;

    List<RowChange> since(long position) throws SQLException;
}
