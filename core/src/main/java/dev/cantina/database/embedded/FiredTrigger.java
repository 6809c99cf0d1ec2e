package dev.cantina.database.embedded;

import java.sql.SQLException;

/** What a trigger of the engine does; either row may be null. */
@FunctionalInterface
interface FiredTrigger {
    void fire(Object[] before, Object[] after) throws SQLException;
}
