package dev.cantina.nativecode.postgresql;

import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.JsonToken;
import com.fasterxml.jackson.databind.JsonNode;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.database.JsonRows;
import dev.cantina.database.postgresql.PostgresIntervals;
import dev.cantina.nativecode.Followed;
import dev.cantina.nativecode.PlacedFrames;
import dev.cantina.nativecode.PlacedRoutines;
import dev.cantina.nativecode.ServerCode;
import dev.cantina.runtime.PlacedCode;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.ServerRoutines.ServerRun;
import dev.cantina.types.Condition;
import dev.cantina.types.SqlType;
import java.io.IOException;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import org.postgresql.util.PGInterval;

/** The copies of a project's triggers and functions that PostgreSQL runs by itself. */
public final class PgPlaced implements PlacedCode {
    /** How values of copies are told. */
    static final PlacedFrames.Values VALUES =
            new PlacedFrames.Values() {
                @Override
                public Object held(JsonNode told, SqlType type) {
                    return decoded(told, type);
                }

                @Override
                public String text(Object value) {
                    return PgFollower.text(value);
                }
            };

    private final Connection connection;
    private final ServerCode.Connector connector;
    private final PlacedRoutines routines;
    private Connection controller;

    /** What the woven copies tell. */
    private Probe.Detail woven;

    /** Whether they were woven for good, for any number of connections. */
    private boolean shared;

    public PgPlaced(
            Connection connection, ServerCode.Connector connector, PlacedRoutines routines) {
        this.connection = connection;
        this.connector = connector;
        this.routines = routines;
    }

    /** They are woven inside the transaction, when a session begins. */
    @Override
    public boolean expect(Probe.Detail detail) {
        return false;
    }

    @Override
    public boolean tellsOf(BoundRoutine routine) {
        return routines.has(routine);
    }

    @Override
    public void share(Probe.Detail detail) throws SQLException {
        shared = true;
        woven = detail;
        try (Statement setup = connection.createStatement()) {
            setup.setEscapeProcessing(false);
            for (PlacedRoutines.Copy copy : routines.copies()) {
                setup.execute(woven(copy));
            }
        }
    }

    private String woven(PlacedRoutines.Copy copy) {
        return new PgPlacedWeaver(copy, routines.places(copy.routine()), woven).weave();
    }

    @Override
    public Follower follow(Connection session, ServerRun run) throws SQLException {
        if (shared) {
            Connection own = connector.open();
            try {
                Following following = new Following(session, own, run);
                following.open();
                // What it has made for itself is there after each ROLLBACK, too.
                session.commit();
                return following;
            } catch (SQLException | RuntimeException e) {
                ServerCode.letGo(own);
                throw e;
            }
        }
        if (controller == null) {
            controller = connector.open();
        }
        Following following = new Following(session, controller, run);
        following.open();
        return following;
    }

    @Override
    public void close() {
        ServerCode.letGo(controller);
    }

    /** Follows the statements of one session. */
    private final class Following extends PgFollower implements Follower {
        private final PlacedFrames frames = new PlacedFrames(routines, VALUES);

        @Override
        protected Followed followed() {
            return frames;
        }

        Following(Connection session, Connection controller, ServerRun run) {
            super(session, controller, run, null);
        }

        void open() throws SQLException {
            prepare();
            lock(LISTENING, false);
        }

        @Override
        protected boolean isOutdated() {
            return !shared && woven != detail.orElse(null);
        }

        @Override
        protected void weave(Statement setup) throws SQLException {
            if (shared) {
                // Nobody counts this connection's changes.
                setup.execute("CREATE TEMP SEQUENCE cantina_changes_seq_seq");
                setup.execute("GRANT ALL ON SEQUENCE pg_temp.cantina_changes_seq_seq TO PUBLIC");
                return;
            }
            woven = detail.orElseThrow();
            for (PlacedRoutines.Copy copy : routines.copies()) {
                setup.execute(woven(copy));
            }
        }

        @Override
        public boolean execute(Statement statement, Callable<Boolean> work) throws SQLException {
            if (cut) {
                release();
                cut = false;
            }
            hear(statement);
            if (holds) {
                lock(LISTENING, true);
            }
            try {
                boolean rows = super.execute(statement, work);
                ended(new Object[0], null);
                return rows;
            } catch (SQLException e) {
                throw raised(e, e);
            } catch (RuntimeException e) {
                throw raised(e, new SQLException(e.getMessage(), interrupted()));
            } finally {
                frames.clear();
                if (holds) {
                    lock(LISTENING, false);
                }
            }
        }

        /** Whether a statement was cut off while it stood: what it held it may hold still. */
        private boolean cut;

        @Override
        protected void cancel() {
            cut = true;
            super.cancel();
        }

        /** Whoever sends the statement takes what it says. */
        @Override
        protected void say(String message) {}

        @Override
        protected Optional<Condition> handled(JsonNode at) {
            return super.handled(at)
                    .map(c -> run.condition(new SQLException(c.message(), c.sqlstate())));
        }

        @Override
        public void close() {
            frames.close();
            try {
                end();
            } catch (SQLException e) {
                // The server is gone, and its locks with it.
                return;
            } finally {
                if (shared) {
                    ServerCode.letGo(controller);
                }
            }
        }
    }

    // ---------------------------------------------------------------- values

    private static Object decoded(JsonNode node, SqlType type) {
        if (node == null || node.isNull()) {
            return null;
        }
        if (type instanceof SqlType.Row row) {
            return row(node.asText(), row);
        }
        if (type instanceof SqlType.Array array && node.isArray()) {
            List<Object> elements = new ArrayList<>();
            node.forEach(e -> elements.add(decoded(e, array.element())));
            return elements.toArray();
        }
        String text = node.asText();
        if (type instanceof SqlType.Bytes && text.startsWith("\\x")) {
            return HexFormat.of().parseHex(text.substring(2));
        }
        if (type instanceof SqlType.Interval) {
            try {
                return PostgresIntervals.held(new PGInterval(text));
            } catch (SQLException e) {
                return text;
            }
        }
        return JsonRows.text(text, type);
    }

    /** A row by the order of its fields: two of them may have one name. */
    private static Object row(String text, SqlType.Row type) {
        Object[] values = new Object[type.fields().size()];
        try (JsonParser parser = PgFollower.JSON.createParser(text)) {
            if (parser.nextToken() != JsonToken.START_OBJECT) {
                return null;
            }
            for (int i = 0; parser.nextToken() == JsonToken.FIELD_NAME; i++) {
                parser.nextToken();
                JsonNode field = parser.readValueAsTree();
                if (i < values.length) {
                    values[i] = decoded(field, type.fields().get(i).type());
                }
            }
            return values;
        } catch (JsonProcessingException e) {
            // What can't be shown says why.
            return null;
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
    }
}
