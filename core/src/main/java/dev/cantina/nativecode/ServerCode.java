package dev.cantina.nativecode;

import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.nativecode.mariadb.MariaCode;
import dev.cantina.nativecode.mariadb.MariaPlaced;
import dev.cantina.nativecode.mariadb.MariaReading;
import dev.cantina.nativecode.postgresql.PgCode;
import dev.cantina.nativecode.postgresql.PgPlaced;
import dev.cantina.nativecode.postgresql.PgReading;
import dev.cantina.runtime.Program;
import dev.cantina.runtime.ServerRoutines;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.Unit;
import dev.cantina.types.SqlType;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.UnaryOperator;

/** A project's tables and routines in a server's own language, taken to that server. */
public interface ServerCode extends ServerRoutines, AutoCloseable {
    /** Makes one for a connection. */
    interface Opening {
        ServerCode on(Connection connection, Connector connector);
    }

    /** Opens one more connection to the same database, in a transaction. */
    interface Connector {
        Connection open() throws SQLException;

        /** What is done from now on is going to stay in the database after the run. */
        default void staying() throws SQLException {}

        /**
         * Makes sure that there is a role, of which the project is a member. It has no rights but
         * those that the project gives it.
         *
         * @param inherits whether it has the rights of the roles that it is a member of
         * @throws SQLException where it can't be had
         */
        default void role(String name, boolean inherits) throws SQLException {
            throw new SQLException("there can be no roles here", "0A000");
        }

        /**
         * Makes a role a member of another, or no longer.
         *
         * @throws SQLException where that can't be
         */
        default void member(String role, String of, boolean is) throws SQLException {
            throw new SQLException("there can be no roles here", "0A000");
        }
    }

    /** All that there are, by the names of their kinds of server. */
    Map<String, Opening> KINDS = Map.of("postgresql", PgCode::new, "mariadb", MariaCode::new);

    /** How files in their words are read where no server is there. */
    Map<String, OwnReading> READINGS =
            Map.of("postgresql", new PgReading(), "mariadb", new MariaReading());

    /** How the copies of other routines that such a server runs are made to tell. */
    Map<String, PlacedParts.Opening> PLACED =
            Map.of("postgresql", PgPlaced::new, "mariadb", MariaPlaced::new);

    /** Closes connections that nobody wants any longer; null for those that were never opened. */
    static void letGo(Connection... others) {
        for (Connection other : others) {
            if (other != null) {
                try {
                    other.close();
                } catch (SQLException e) {
                    // It was to be gone, and is.
                    continue;
                }
            }
        }
    }

    /** A routine that the server has, as the catalog knows one. */
    static RoutineSymbol symbol(
            Span span,
            boolean function,
            Name name,
            List<ParameterSymbol> parameters,
            Optional<SqlType> returns) {
        Unit.Routine tree =
                new Unit.Routine(
                        span,
                        function ? Unit.RoutineKind.FUNCTION : Unit.RoutineKind.PROCEDURE,
                        name,
                        List.of(),
                        Optional.empty(),
                        new Unit.Characteristics(
                                RoutineSymbol.SERVER,
                                Optional.empty(),
                                Optional.empty(),
                                0,
                                false,
                                Optional.empty(),
                                Optional.empty(),
                                Optional.empty(),
                                Optional.empty()),
                        Optional.empty());
        return new RoutineSymbol(tree, parameters, returns, Optional.empty());
    }

    /** A routine of the standard language could not be made to stand on the server. */
    static SQLException notThere(RoutineSymbol routine) {
        return new SQLException(
                routine.name() + " does not stand on the server; cantina check says why", "0A000");
    }

    /** Which statements of scripts are meant. */
    enum Part {
        ALL,
        BEFORE_TRIGGERS,
        TRIGGERS
    }

    /**
     * Scripts that are to see a time that the session sets, as they are sent for that.
     *
     * @param scripts all of a project
     * @return empty where they see it as they are
     * @throws SQLException where the connection is broken
     */
    default Optional<Clocked> clocked(List<Source> scripts) throws SQLException {
        return Optional.empty();
    }

    /**
     * How a time is set in the place of the server's.
     *
     * @param scripts as they are sent, in the same order
     * @param sent how a statement of somebody else is sent; what would ask for the server's time is
     *     refused
     * @param made how one more routine is sent that is made beside them
     */
    record Clocked(List<Source> scripts, UnaryOperator<String> sent, UnaryOperator<String> made) {}

    /**
     * Runs scripts that make tables and routines. What fails because something is not there yet
     * waits for what is loaded next.
     *
     * @throws SQLException where the connection is broken
     */
    void load(List<Source> scripts, Part part) throws SQLException;

    /** Whether statements wait for what is not there yet. */
    boolean waits();

    /** Tables that could not be made, since something is not here that another server may have. */
    default Set<String> leftOut() {
        return Set.of();
    }

    /** Nothing more will come: what still waits is wrong. */
    void finish() throws SQLException;

    @Override
    void close();

    /** What the server, or the reading, has found wrong, and what was left out. */
    List<Problem> problems();

    /** What can be seen from statements and scopes, and what can't be looked into. */
    List<Problem> advice();

    /**
     * The routines and triggers of scripts, as another server takes them, in the order in which
     * they were made.
     *
     * @param scripts those that are meant
     * @param others takes the place of each statement that makes neither
     */
    List<OwnObject> objects(Set<Source> scripts, Consumer<Span> others);

    /**
     * The routines that can be called from outside, but for those of {@link #take}.
     *
     * @throws SQLException where the connection is broken
     */
    List<RoutineSymbol> symbols() throws SQLException;

    /**
     * Takes what was made to stand beside them of a project's routines in the standard language:
     * the server runs those too.
     *
     * @param placed its copies
     * @param program has the routines that they are copies of
     * @throws SQLException where the connection is broken
     */
    void take(PlacedParts placed, Program program) throws SQLException;

    /** The copies of the project's routines in the standard language. */
    Optional<PlacedRoutines> standard();
}
