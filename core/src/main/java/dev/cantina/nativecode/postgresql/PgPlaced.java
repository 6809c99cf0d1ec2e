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
    public Follower follow(ServerRun run) throws SQLException {
        if (controller == null) {
            controller = connector.open();
        }
        Following following = new Following(run);
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

        Following(ServerRun run) {
            super(PgPlaced.this.connection, PgPlaced.this.controller, run, null);
        }

        void open() throws SQLException {
            prepare();
            lock(LISTENING, false);
        }

        @Override
        protected boolean isOutdated() {
            return woven != detail.orElse(null);
        }

        @Override
        protected void weave(Statement setup) throws SQLException {
            woven = detail.orElseThrow();
            for (PlacedRoutines.Copy copy : routines.copies()) {
                setup.execute(
                        new PgPlacedWeaver(copy, routines.places(copy.routine()), woven).weave());
            }
        }

        @Override
        public boolean execute(Statement statement, Callable<Boolean> work) throws SQLException {
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
