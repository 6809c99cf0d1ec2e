package dev.cantina.translate;

import dev.cantina.binding.Binder;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.ProjectDatabase;
import dev.cantina.database.ServerDatabase;
import dev.cantina.database.ServerKind;
import dev.cantina.database.ServerPart;
import dev.cantina.syntax.Problem;
import dev.cantina.translate.mariadb.MariaLanguage;
import dev.cantina.translate.postgresql.PostgresLanguage;
import java.sql.SQLException;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** The language of a kind of server. */
public interface ServerLanguage {
    /** All that there are, by the names of their kinds. */
    Map<String, ServerLanguage> ALL =
            Map.of("postgresql", new PostgresLanguage(), "mariadb", new MariaLanguage());

    /** That of a kind of server. */
    static ServerLanguage of(ServerKind kind) {
        return ALL.get(kind.name());
    }

    /**
     * A project as it is to stand there for good.
     *
     * @param tables knows what foreign keys change
     */
    Translation shipped(Catalog catalog, Binder binder, ProjectDatabase tables) throws SQLException;

    /**
     * A project as it is to stand there for good, with marks that let it tell of itself.
     *
     * @param mark tells them
     */
    Translation marked(Catalog catalog, Binder binder, ProjectDatabase tables, String mark)
            throws SQLException;

    /**
     * A project as it stands there for one run.
     *
     * @param mark tells it from what stands there for other runs
     */
    Translation placed(Catalog catalog, Binder binder, ServerDatabase server, String mark)
            throws SQLException;

    /**
     * Functions without what they do, so that what calls them can be looked at there.
     *
     * @param mark as {@link #placed} has it; empty for what is to stay
     */
    List<ServerPart> heads(
            Catalog catalog,
            Binder binder,
            ServerDatabase server,
            Optional<String> mark,
            Set<RoutineSymbol> functions)
            throws SQLException;

    /** The functions that SQL calls and that can't be called from SQL there. */
    List<Problem> unsupportedCalls(Catalog catalog, Binder binder);

    /**
     * The routines that a call would not reach, because the server finds its own function of the
     * name first.
     *
     * @throws SQLException where the connection is broken
     */
    default List<ServerObject> hidden(ServerDatabase server, List<ServerObject> objects)
            throws SQLException {
        return List.of();
    }

    /** A translation as a file that the server's client, or a migration tool, runs. */
    String script(Translation translation);
}
