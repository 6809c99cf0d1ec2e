package dev.cantina.cli;

import dev.cantina.project.ProjectException;
import java.sql.SQLException;
import org.apache.commons.cli.Options;

/** A command of the command line. */
interface Command {
    String name();

    /** What stands after the name, such as {@code ROUTINE [NAME=VALUE…]}. */
    String arguments();

    /** One sentence, without its full stop. */
    String summary();

    /** A command line that works on the demo. */
    String example();

    /** The options beside those that all commands have. */
    default Options options() {
        return new Options();
    }

    /** Whether {@code --json} gives what it has to say as one object. */
    default boolean hasJson() {
        return true;
    }

    /**
     * Runs it, and gives the exit code.
     *
     * @throws SQLException where a database can't be reached, or is gone
     */
    int run(Invocation call) throws UsageException, ProjectException, SQLException;
}
