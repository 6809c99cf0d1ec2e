package dev.cantina.runtime;

import dev.cantina.binding.Variable;
import dev.cantina.types.SqlType;
import java.sql.SQLException;
import java.util.Optional;

/**
 * An activation of a routine that a server runs, as its probes tell of it. Its variables are as
 * they were when it was heard of last: nothing else runs in it meanwhile.
 */
public final class ServerFrame extends Frame {
    /** What an expression comes to, and the type that the server gives it. */
    public record Value(SqlType type, Object value) {}

    /** What can be done in a routine that stands. */
    public interface Standing {
        /**
         * Gives a variable, or a field of a row, the value of an expression in the server's
         * language, when the routine goes on.
         *
         * @param field empty for the whole variable
         * @return the value as it is held
         * @throws SQLException where the server refuses it, or the frame is not the one that stands
         */
        Object set(ServerFrame frame, Variable variable, String field, String expression)
                throws SQLException;

        /**
         * The variable that a label and a name tell; empty where the language has no labels for
         * variables, or none is told by these.
         *
         * @param label as it is told, without quotes
         */
        default Optional<Variable> labelled(ServerFrame frame, String label, String name) {
            return Optional.empty();
        }

        /**
         * The value of an expression in the server's language, in the scope of a frame.
         *
         * @throws SQLException where the server refuses it
         */
        Value value(ServerFrame frame, String expression) throws SQLException;

        /**
         * The rows of a query in the server's language, which may name variables of a frame.
         *
         * @param most how many rows to read at most
         * @throws SQLException where the server refuses it
         */
        ResultRows query(ServerFrame frame, String query, long most) throws SQLException;
    }

    private final Object[] values;
    private final Standing standing;

    /**
     * @param standing what can be done while it stands
     */
    public ServerFrame(RoutineCode code, Standing standing) {
        this.values = new Object[code.routine().variables().size()];
        this.standing = standing;
        this.code = code;
        this.untold = true;
    }

    @Override
    public Object get(Variable variable) {
        return values[variable.slot()];
    }

    /** Takes what the server has told of a variable. */
    @Override
    public void set(Variable variable, Object value) {
        values[variable.slot()] = value;
    }

    /**
     * Gives a variable, or a field of a row, the value of an expression in the server's language.
     *
     * @param field empty for the whole variable
     * @throws SQLException where the server refuses it, or this is not the frame that stands
     */
    public Object set(Variable variable, String field, String expression) throws SQLException {
        return standing.set(this, variable, field, expression);
    }

    /** The variable that a label and a name tell, which another may hide. */
    public Optional<Variable> labelled(String label, String name) {
        return standing.labelled(this, label, name);
    }

    /**
     * The value of an expression in the server's language.
     *
     * @throws SQLException where the server refuses it
     */
    public Value value(String expression) throws SQLException {
        return standing.value(this, expression);
    }

    /**
     * The rows of a query in the server's language, which may name variables of this frame.
     *
     * @param most how many rows to read at most
     * @throws SQLException where the server refuses it
     */
    public ResultRows query(String query, long most) throws SQLException {
        return standing.query(this, query, most);
    }

    /** Whether a condition in the server's language is true. */
    public boolean holds(String condition) throws SQLException {
        Object value = value(condition).value();
        // To some servers what is true is a number.
        return Boolean.TRUE.equals(value)
                || value instanceof Number number && number.doubleValue() != 0;
    }

    @Override
    public void take(Object[] arguments) {
        throw new UnsupportedOperationException();
    }

    @Override
    public Object[] give() {
        throw new UnsupportedOperationException();
    }

    @Override
    public int run() {
        throw new UnsupportedOperationException();
    }
}
