package dev.cantina.catalog;

import dev.cantina.types.Condition;
import dev.cantina.types.SqlType;
import java.util.List;

/** Asks a database what it makes of a statement, without running it. */
public interface Describer {
    /** The database's answer. */
    sealed interface Answer {
        /** It takes the statement; the columns are empty where it gives no rows. */
        record Taken(List<SqlType.Field> columns) implements Answer {}

        /** It refuses, for this reason. */
        record Refused(Condition reason) implements Answer {}
    }

    /**
     * Prepares a statement.
     *
     * @param pieces the text, cut at each parameter
     * @param parameters the types of the parameters, one fewer than pieces
     */
    Answer describe(List<String> pieces, List<SqlType> parameters);
}
