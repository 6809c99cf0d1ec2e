package dev.cantina.database.embedded;

import dev.cantina.runtime.RaisedException;
import java.sql.Connection;
import java.sql.SQLException;
import org.h2.api.Trigger;

/** Where the engine's triggers lead: to a trigger of the project. */
public class EmbeddedTrigger implements Trigger {
    private FiredTrigger fired;

    @Override
    public void init(
            Connection connection,
            String schema,
            String name,
            String table,
            boolean before,
            int type) {
        EntryLoader loader = (EntryLoader) getClass().getClassLoader();
        fired = loader.database().fired(name);
    }

    @Override
    public void fire(Connection connection, Object[] before, Object[] after) throws SQLException {
        try {
            fired.fire(before, after);
        } catch (RaisedException e) {
            throw new SQLException(e.getMessage(), e.condition().sqlstate(), e);
        } catch (RuntimeException e) {
            throw new SQLException(e.getMessage(), "XX000", e);
        }
    }
}
