package dev.cantina.cli;

import dev.cantina.project.ProjectException;
import java.sql.SQLException;
import java.util.List;
import java.util.Set;
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

    /** What its first argument can be, where that is one of a few words. */
    default List<String> words() {
        return List.of();
    }

    /** What a command that runs something can be told. */
    Set<String> OF_RUNS = Set.of("project", "fixture", "limit", "clock");

    /** Those of the options for all commands that mean something to this one. */
    default Set<String> common() {
        return Set.of("project");
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
