package dev.cantina.catalog;

import dev.cantina.syntax.Unit;
import dev.cantina.types.Condition;
import dev.cantina.types.SqlType;
import java.sql.SQLException;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Asks a database what it makes of a statement, without running it. */
public interface Describer {
    /** The database's answer. */
    sealed interface Answer {
        /** It takes the statement; the columns are empty where it gives no rows. */
        record Taken(List<SqlType.Field> columns) implements Answer {}

        /** It has made a table; {@code sqlName} is how a statement names it. */
        record Declared(Table table, String sqlName) implements Answer {}

        /** It refuses, for this reason. */
        record Refused(Condition reason) implements Answer {}
    }

    /**
     * Makes a table that belongs to a routine, so that statements with it can be prepared and run.
     * Two declarations of a name share a table where they say the same, and get two where not.
     *
     * @param name in upper case unless it was delimited
     * @param definition the bracket with its columns, or {@code AS} with a query
     * @return Declared, or Refused
     */
    Answer declareTable(String name, String definition);

    /** Whether a statement may say OVERLAPS. */
    default boolean knowsOverlaps() {
        return false;
    }

    /** Whether {@code /} gives a whole number where two whole numbers are divided. */
    default boolean cutsQuotients() {
        return true;
    }

    /** Whether it has a type BOOLEAN; otherwise what is true or false is a number to it. */
    default boolean knowsBooleans() {
        return true;
    }

    /**
     * Whether the database has a function of its own that a call in SQL would go to.
     *
     * @param name in upper case
     * @param arguments how many the call gives
     */
    default boolean hasFunction(String name, int arguments) {
        return false;
    }

    /** Whether a function that gives a row can be called in SQL. */
    default boolean takesRows() {
        return false;
    }

    /** Whether a statement must give a function all its arguments, whatever defaults they have. */
    default boolean wantsAllArguments() {
        return false;
    }

    /**
     * What an argument of a function is cast to, where the database finds a function by the types
     * of its arguments alone.
     */
    default Optional<String> argument(SqlType parameter) {
        return Optional.empty();
    }

    /**
     * What the value of a function is cast to, where the database would not know how many digits it
     * has.
     */
    default Optional<String> result(SqlType returns) {
        return Optional.empty();
    }

    /** A function's name as it stands in a call, in quotes where the database wants some. */
    default String function(String name) {
        return name;
    }

    /**
     * How a statement calls a function of a module.
     *
     * @param key the module's and the function's, with a dot between
     */
    default String called(String key) {
        return '"' + key + '"';
    }

    /**
     * The keys of the tables whose rows foreign keys change by themselves, and what they do with
     * them: UPDATE or DELETE.
     *
     * @throws SQLException where the connection is broken
     */
    Map<String, Set<Unit.Event>> cascaded() throws SQLException;

    /** Whether the case counts in which a statement names tables and aliases. */
    default boolean heedsCase() {
        return false;
    }

    /** A word that names something in a statement: in quotes where the database reserves it. */
    default String name(String word) {
        return word;
    }

    /**
     * Whether it runs triggers, and functions that statements call, by itself, where no probe sees
     * them.
     */
    default boolean runsAlone() {
        return false;
    }

    /** Whether it has users with rights, so that SQL SECURITY means something. */
    default boolean knowsRights() {
        return true;
    }

    /** What names a row of a table in a statement, whatever its key. */
    String rowIdentity();

    /**
     * What stands before and behind an UPDATE of one row so that it gives the row's identity as it
     * is afterwards; empty where that stays what it was, or can't be had.
     */
    default Optional<List<String>> identityAfter(Table table) {
        return Optional.empty();
    }

    /**
     * Prepares a statement.
     *
     * @param pieces the text, cut at each parameter
     * @param parameters the types of the parameters, one fewer than pieces
     */
    Answer describe(List<String> pieces, List<SqlType> parameters);
}
