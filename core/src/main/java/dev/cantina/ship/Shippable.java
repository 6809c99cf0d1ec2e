package dev.cantina.ship;

import dev.cantina.database.UnreachableException;
import dev.cantina.project.Placement;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.syntax.Problem;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;

/**
 * A project looked at as the server that it is shipped to sees it: its tables, its types, and
 * functions that only it has.
 */
public final class Shippable implements AutoCloseable {
    private final Optional<Workspace> there;
    private final Workspace workspace;
    private final Optional<String> unseen;

    private Shippable(Optional<Workspace> there, Workspace embedded, Optional<String> unseen) {
        this.there = there;
        this.workspace = there.orElse(embedded);
        this.unseen = unseen;
    }

    /**
     * Looks at a project on a server, in a transaction that leaves nothing behind.
     *
     * @param database as {@code cantina.yaml} calls it
     * @param embedded the same project on the embedded database, which stands in where the server
     *     does not let itself be asked; it stays open as long as this does, and is the caller's to
     *     close
     * @throws ProjectException where the project knows no such server
     * @throws SQLException where the connection is lost
     */
    public static Shippable on(Project project, String database, Workspace embedded)
            throws ProjectException, SQLException {
        try {
            Workspace there =
                    Workspace.on(project, database, Optional.empty(), false, Placement::heads);
            return new Shippable(Optional.of(there), embedded, Optional.empty());
        } catch (SQLException e) {
            boolean lost = e.getSQLState() != null && e.getSQLState().startsWith("08");
            if (lost && !(e instanceof UnreachableException)) {
                throw e;
            }
            // A right is missing to make what is looked at, or a function can't be there at all.
            return new Shippable(Optional.empty(), embedded, Optional.of(e.getMessage()));
        }
    }

    public Workspace workspace() {
        return workspace;
    }

    /** What keeps it from being shipped. */
    public List<Problem> errors() {
        return workspace.errors();
    }

    /** Why the server did not look at it, where the embedded database did in its place. */
    public Optional<String> unseen() {
        return unseen;
    }

    @Override
    public void close() {
        there.ifPresent(Workspace::close);
    }
}
