package dev.cantina.project;

import dev.cantina.database.ServerConnection;
import dev.cantina.runtime.Limits;
import dev.cantina.syntax.Nearest;
import dev.cantina.syntax.Reading;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What {@code cantina.yaml} says.
 *
 * @param root the folder that holds it
 * @param fixture the one used when nothing else is said; empty for tables without rows
 * @param silenced rules of advice that the project does not want
 * @param reading how its routines are read
 * @param own where its tables and routines are, of a project in a server's own language
 * @param imported what it was imported from, and how
 * @param same its routines that another project has in a server's own language, with what they are
 *     called there
 * @param invariants what holds after every run
 * @param clocked whether the time that its routines see is going to be set
 */
public record Project(
        Path root,
        String name,
        String fixture,
        String database,
        Map<String, DatabaseEntry> databases,
        Limits limits,
        List<String> silenced,
        Reading reading,
        Optional<OwnLanguage> own,
        Optional<Imported> imported,
        Map<String, String> same,
        List<Invariant> invariants,
        boolean clocked) {
    /**
     * A project in a server's own language.
     *
     * @param dialect the kind of server: {@code postgresql} or {@code mariadb}
     * @param tables patterns of the files with its tables, in the order that they are run in
     * @param routines likewise with its routines and triggers
     * @param standard likewise with routines and triggers of the standard language, which are
     *     translated for the server
     * @param searchPath the schemas that names without one are looked for in; empty for the
     *     server's usual ones
     */
    public record OwnLanguage(
            String dialect,
            List<String> tables,
            List<String> routines,
            List<String> standard,
            List<String> searchPath) {}

    /**
     * What is taken of a live server.
     *
     * @param from the database of the project that is read
     * @param schemas empty for all that are the user's
     * @param rows how many of each table; 0 for none
     * @param queries more rows, by their tables
     * @param hide how columns are hidden, by {@code COLUMN} or {@code TABLE.COLUMN}
     * @param fixture the one that the rows become
     */
    public record Imported(
            String from,
            List<String> schemas,
            int rows,
            Map<String, String> queries,
            Map<String, String> hide,
            String fixture) {}

    /** A server that the project knows; the password as written, never resolved here. */
    public record DatabaseEntry(String url, String user, String password) {}

    /** The same on another of its databases. */
    public Project on(String other) {
        return with(other, clocked);
    }

    /** The same, to be opened so that its routines see a time that is set. */
    public Project withClock() {
        return with(database, true);
    }

    private Project with(String otherDatabase, boolean withClock) {
        return new Project(
                root,
                name,
                fixture,
                otherDatabase,
                databases,
                limits,
                silenced,
                reading,
                own,
                imported,
                same,
                invariants,
                withClock);
    }

    /**
     * Where a database of the project is.
     *
     * @throws ProjectException where it knows none of the name, or its user has not trusted it
     */
    public ServerConnection.Address address(String database) throws ProjectException {
        DatabaseEntry entry = databases.get(database);
        if (entry == null) {
            throw new ProjectException(
                    "the project knows no database "
                            + database
                            + Nearest.to(database, databases.keySet())
                                    .map(n -> "; did you mean " + n + "?")
                                    .orElse("; databases: in cantina.yaml lists them"));
        }
        Trust.Reach reach = Trust.here().database(this, database);
        // One that the project goes to by itself is never harmless.
        boolean harmless = !database.equals(this.database) && Trust.isHarmless(entry);
        if (!harmless && !Trust.here().isTrusted(reach)) {
            throw new ProjectException(
                    "the database "
                            + database
                            + " of cantina.yaml is not trusted: it "
                            + reach.does()
                            + "; look at it, and say cantina trust");
        }
        return new ServerConnection.Address(database, entry.url(), entry.user(), entry.password());
    }

    /** A file's path as it is shown: below the root, with slashes. */
    public String shown(Path file) {
        Path relative =
                file.toAbsolutePath().startsWith(root.toAbsolutePath())
                        ? root.toAbsolutePath().relativize(file.toAbsolutePath())
                        : file;
        return relative.toString().replace('\\', '/');
    }
}
