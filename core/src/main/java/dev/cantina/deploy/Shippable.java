package dev.cantina.deploy;

import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.syntax.Problem;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import java.util.regex.Pattern;

/**
 * A project looked at as the server that it is shipped to sees it: its tables, its types, and
 * functions that only it has.
 */
public final class Shippable implements AutoCloseable {
    /**
     * How both servers say that they can't read a statement. What is said otherwise there is put
     * into their words only when it is translated, so this alone speaks against nothing.
     */
    private static final Pattern UNREAD =
            Pattern.compile("You have an error in your SQL syntax|syntax error at or near");

    private final Optional<Workspace> there;
    private final Workspace workspace;
    private final List<Problem> errors;

    private Shippable(Optional<Workspace> there, Workspace workspace, List<Problem> errors) {
        this.there = there;
        this.workspace = workspace;
        this.errors = errors;
    }

    /**
     * Looks at a project on a server, in a transaction that leaves nothing behind.
     *
     * @param database as {@code cantina.yaml} calls it
     * @param embedded the same project on the embedded database, which stands in where the server
     *     does not let itself be asked; it stays open as long as this does, and is the caller's to
     *     close
     * @throws ProjectException where the project knows no such server
     */
    public static Shippable on(Project project, String database, Workspace embedded)
            throws ProjectException {
        Optional<Workspace> there = there(project, database);
        if (there.isEmpty()) {
            return new Shippable(there, embedded, embedded.errors());
        }
        List<Problem> errors = there.get().errors();
        boolean unread = errors.stream().allMatch(p -> UNREAD.matcher(p.message()).find());
        if (!errors.isEmpty() && unread && embedded.errors().isEmpty()) {
            return new Shippable(there, embedded, List.of());
        }
        return new Shippable(there, there.get(), errors);
    }

    private static Optional<Workspace> there(Project project, String database)
            throws ProjectException {
        try {
            return Optional.of(
                    Workspace.on(project, database, Optional.empty(), false, Placement::heads));
        } catch (SQLException e) {
            // A right is missing to make what is looked at, or a function can't be there at all.
            return Optional.empty();
        }
    }

    public Workspace workspace() {
        return workspace;
    }

    /** What keeps it from being shipped. */
    public List<Problem> errors() {
        return errors;
    }

    @Override
    public void close() {
        there.ifPresent(Workspace::close);
    }
}
