package dev.cantina.nativecode.mariadb;

import com.fasterxml.jackson.databind.JsonNode;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.nativecode.Followed;
import dev.cantina.nativecode.PlacedFrames;
import dev.cantina.nativecode.PlacedRoutines;
import dev.cantina.nativecode.ServerCode;
import dev.cantina.runtime.PlacedCode;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.ServerRoutines.ServerRun;
import dev.cantina.types.Condition;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Callable;

/** The copies of a project's triggers and functions that MariaDB runs by itself. */
public final class MariaPlaced implements PlacedCode {
    private final Connection connection;
    private final ServerCode.Connector connector;
    private final PlacedRoutines routines;
    private Connection controller;
    private Connection looking;

    /** What the woven copies tell. */
    private Probe.Detail woven;

    /** Whether they were woven for good, for any number of connections. */
    private boolean shared;

    private long turn;

    public MariaPlaced(
            Connection connection, ServerCode.Connector connector, PlacedRoutines routines) {
        this.connection = connection;
        this.connector = connector;
        this.routines = routines;
    }

    /** What makes a copy ends the transaction, so that it is done before one begins. */
    @Override
    public boolean expect(Probe.Detail detail) throws SQLException {
        if (woven == detail) {
            return false;
        }
        List<String> all = new ArrayList<>();
        if (woven == null) {
            // Where changes are found by comparing tables nothing is numbered.
            all.add("CREATE SEQUENCE IF NOT EXISTS cantina_numbers");
            // The helpers are written in the server's usual way.
            all.add("SET @cantina_modes = @@sql_mode, sql_mode = @@GLOBAL.sql_mode");
            all.addAll(MariaCode.helpers());
            all.add("SET sql_mode = @cantina_modes");
        }
        woven = detail;
        try (Statement statement = connection.createStatement()) {
            statement.setEscapeProcessing(false);
            for (String sql : all) {
                statement.execute(sql);
            }
            Set<String> packages = new HashSet<>();
            for (PlacedRoutines.Copy copy : routines.copies()) {
                Optional<String> sql = woven(copy);
                if (sql.isPresent()) {
                    statement.execute(sql.get());
                } else if (packages.add(copy.create())) {
                    for (String part : packaged(copy.create())) {
                        statement.execute(part);
                    }
                }
            }
        }
        return true;
    }

    private Optional<String> woven(PlacedRoutines.Copy copy) throws SQLException {
        Optional<MariaRoutine> routine = MariaCopies.head(copy);
        return routine.isEmpty()
                ? Optional.empty()
                : Optional.of(
                        MariaCopies.woven(
                                connection,
                                copy,
                                routine.get(),
                                routines,
                                woven,
                                Optional.empty(),
                                List.of()));
    }

    /** The routines of a module, which are made anew together. */
    private List<String> packaged(String create) throws SQLException {
        Optional<MariaPackage> of = MariaCopies.packaged(create);
        return of.isEmpty()
                ? List.of()
                : MariaCopies.woven(
                        connection,
                        of.get(),
                        routines.copies().stream().filter(c -> c.create().equals(create)).toList(),
                        routines,
                        woven,
                        r -> Optional.empty(),
                        r -> List.of());
    }

    @Override
    public boolean tellsOf(BoundRoutine routine) {
        return routines.has(routine);
    }

    @Override
    public void share(Probe.Detail detail) throws SQLException {
        expect(detail);
        shared = true;
    }

    @Override
    public Follower follow(Connection session, ServerRun run) throws SQLException {
        if (shared) {
            Connection own = connector.open();
            Connection look = null;
            try {
                look = looking();
                MariaFollower.execute(
                        session, "INSERT INTO cantina_at (sid, turn) VALUES (CONNECTION_ID(), -1)");
                Following following = new Following(session, own, look, run);
                following.open();
                session.commit();
                return following;
            } catch (SQLException | RuntimeException e) {
                ServerCode.letGo(own, look);
                throw e;
            }
        }
        if (controller == null) {
            controller = connector.open();
            looking = looking();
        }
        looking.setAutoCommit(true);
        expect(run.probe().orElseThrow().detail());
        Following following = new Following(session, controller, looking, run);
        following.open();
        return following;
    }

    private Connection looking() throws SQLException {
        Connection made = connector.open();
        try (Statement setup = made.createStatement()) {
            made.setAutoCommit(true);
            made.setCatalog(connection.getCatalog());
            setup.execute("SET SESSION TRANSACTION ISOLATION LEVEL READ UNCOMMITTED");
            return made;
        } catch (SQLException e) {
            ServerCode.letGo(made);
            throw e;
        }
    }

    @Override
    public void close() {
        ServerCode.letGo(controller, looking);
    }

    /** Follows the statements of one session. */
    private final class Following extends MariaFollower implements Follower {
        private final PlacedFrames frames = new PlacedFrames(routines, MariaCopies.VALUES);

        @Override
        protected Followed followed() {
            return frames;
        }

        Following(Connection session, Connection controller, Connection looking, ServerRun run) {
            super(session, controller, looking, run, null);
        }

        void open() throws SQLException {
            turn = shared ? 0 : MariaPlaced.this.turn;
            prepare();
        }

        @Override
        protected void prepare() throws SQLException {
            session = number(connection, "SELECT CONNECTION_ID()");
            long control = number(controller, "SELECT CONNECTION_ID()");
            long sent = System.nanoTime();
            long micros =
                    number(
                            connection,
                            "SELECT CAST(UNIX_TIMESTAMP(SYSDATE(6)) * 1000000 AS INTEGER)");
            clock(micros, sent + (System.nanoTime() - sent) / 2);
            execute(
                    controller,
                    "DO GET_LOCK(" + lock("G0") + ", 5), GET_LOCK(" + lock("G1") + ", 5)");
            written(number(connection, "SELECT COALESCE(PREVIOUS VALUE FOR cantina_numbers, 0)"));
            execute(
                    connection,
                    "SET @cantina_sid = "
                            + session
                            + ", @cantina_ctl = "
                            + control
                            + ", @cantina_told = '', @cantina_act = 0, @cantina_mode = NULL");
        }

        @Override
        public boolean execute(Statement statement, Callable<Boolean> work) throws SQLException {
            execute(
                    connection,
                    "SET @cantina_mode = "
                            + (holds ? "1" : "2")
                            + ", @cantina_depth = 0, @cantina_turn = "
                            + turn
                            + (holds
                                    ? ", @cantina_x = GET_LOCK(" + lock("R" + turn % 2) + ", 5)"
                                    : ""));
            standing = false;
            collected = false;
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
                if (!shared) {
                    MariaPlaced.this.turn = turn;
                }
            }
        }

        /** Nobody listens any longer; who waits for a stop hears that there is none. */
        @Override
        protected void done(boolean failed) throws SQLException {
            if (holds) {
                release(failed);
            }
            StringBuilder all = new StringBuilder("SET @cantina_mode = NULL");
            for (String name : holds ? List.of("R0", "R1", "G0", "G1") : List.<String>of()) {
                all.append(", @cantina_x = RELEASE_LOCK(").append(lock(name)).append(')');
            }
            execute(connection, all.toString());
        }

        @Override
        protected void end() throws SQLException {
            execute(controller, "DO RELEASE_ALL_LOCKS()");
        }

        @Override
        protected Optional<Condition> handled(JsonNode at) {
            int number = at.path("v").path("errno").asInt();
            return super.handled(at)
                    .map(c -> run.condition(new SQLException(c.message(), c.sqlstate(), number)));
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
                    ServerCode.letGo(controller, looking);
                }
            }
        }
    }
}
