package dev.cantina.jdbc;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.programs.ProgramConnection;
import dev.cantina.runtime.Mark;
import dev.cantina.runtime.Outcome;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.SqlWords;
import dev.cantina.types.Condition;
import dev.cantina.workbench.WrittenCall;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Method;
import java.sql.CallableStatement;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Executor;
import java.util.function.Consumer;

/** A program's connection to a project. */
final class ConnectionAnswers extends Answers<Connection> {
    private static final Set<String> BEGINS = Set.of("START", "BEGIN", "SAVEPOINT", "RELEASE");

    private final String url;
    private final ProgramConnection program;
    private final Connection real;
    private final Consumer<Connection> released;
    private boolean autoCommit = true;
    private volatile boolean closed;

    /** A savepoint is good for the transaction that it was set in. */
    private record SetSavepoint(Object transaction, Mark mark, int number, String name)
            implements Savepoint {
        @Override
        public int getSavepointId() throws SQLException {
            if (name != null) {
                throw Failures.of("0A000", "the savepoint has a name, and no number");
            }
            return number;
        }

        @Override
        public String getSavepointName() throws SQLException {
            if (name == null) {
                throw Failures.of("0A000", "the savepoint has a number, and no name");
            }
            return name;
        }
    }

    private int numbered;

    /** Those of this transaction that can be gone back to, the earliest first. */
    private final List<Savepoint> savepoints = new ArrayList<>();

    /**
     * @param released is told when it is closed
     */
    ConnectionAnswers(String url, ProgramConnection program, Consumer<Connection> released) {
        super(Connection.class);
        this.url = url;
        this.program = program;
        this.real = program.database().connection();
        this.released = released;
    }

    ProgramConnection program() {
        return program;
    }

    String url() {
        return url;
    }

    @Override
    String describe() {
        return url;
    }

    @Override
    SQLException translated(SQLException failure) {
        if (closed) {
            return Failures.of("08003", "the connection is closed");
        }
        Condition condition = program.database().condition(failure);
        SQLException known = Failures.of(condition.sqlstate(), condition.message());
        known.initCause(failure);
        return known;
    }

    void checkOpen() throws SQLException {
        if (closed) {
            throw Failures.of("08003", "the connection is closed");
        }
    }

    // ------------------------------------------------------------------ what is run

    /** Work that reflection does. */
    interface Work {
        Object run() throws ReflectiveOperationException;
    }

    /**
     * Has a statement sent; throws what it has ended in.
     *
     * @param on what is executed once by it; empty where it is not, or more often
     */
    synchronized Outcome send(String text, Optional<Statement> on, Work work) throws SQLException {
        checkOpen();
        return completed(
                program.send(
                        text,
                        on,
                        () -> {
                            try {
                                return work.run();
                            } catch (InvocationTargetException e) {
                                if (e.getCause() instanceof SQLException failure) {
                                    throw failure;
                                }
                                throw new IllegalStateException(e.getCause());
                            } catch (ReflectiveOperationException e) {
                                throw new IllegalStateException(e);
                            }
                        }));
    }

    /** Calls a routine; throws the condition that it has ended in. */
    synchronized Outcome call(RoutineSymbol routine, List<Optional<Object>> values)
            throws SQLException {
        checkOpen();
        return completed(program.call(routine, values));
    }

    private static Outcome completed(Outcome outcome) throws SQLException {
        if (outcome.kind() != Outcome.Kind.COMPLETED) {
            throw Failures.of(outcome);
        }
        return outcome;
    }

    /** The value of an argument that stands in a call. */
    synchronized Object evaluate(Expression expression) throws SQLException {
        Outcome outcome = program.caller().evaluate(expression);
        if (outcome.condition().isPresent()) {
            throw Failures.of(outcome);
        }
        return outcome.returned();
    }

    // ------------------------------------------------------------------ what is asked

    @Override
    Object answer(String name, Method method, Object[] arguments) throws Throwable {
        switch (name) {
            case "close":
                close();
                return null;
            case "isClosed":
                return closed;
            case "isValid":
                return !closed && real.isValid(0);
            case "abort":
                abort((Executor) arguments[0]);
                return null;
            default:
                checkOpen();
                break;
        }
        Object made = made(name, method, arguments);
        return made != null ? made : transactions(name, method, arguments);
    }

    /** Statements; null where no statement is asked for. */
    private Object made(String name, Method method, Object[] arguments) throws Throwable {
        switch (name) {
            case "createStatement":
                return new StatementAnswers<>(
                                Statement.class,
                                this,
                                (Statement) handOn(real, method, arguments),
                                Optional.empty())
                        .proxy();
            case "prepareStatement", "prepareCall":
                return prepared(text(arguments[0]), name, method, arguments);
            case "getMetaData":
                return new MetaDataAnswers(this, real.getMetaData()).proxy();
            default:
                return null;
        }
    }

    private Object prepared(String text, String name, Method method, Object[] arguments)
            throws Throwable {
        if (WrittenCall.isCall(text)) {
            return new CallAnswers(this, text).proxy();
        }
        Object made = handOn(real, method, arguments);
        return name.equals("prepareCall")
                ? new StatementAnswers<>(
                                CallableStatement.class,
                                this,
                                (CallableStatement) made,
                                Optional.of(text))
                        .proxy()
                : new StatementAnswers<>(
                                PreparedStatement.class,
                                this,
                                (PreparedStatement) made,
                                Optional.of(text))
                        .proxy();
    }

    private synchronized Object transactions(String name, Method method, Object[] arguments)
            throws Throwable {
        switch (name) {
            case "getAutoCommit":
                return autoCommit;
            case "setAutoCommit":
                setAutoCommit((Boolean) arguments[0]);
                return null;
            case "commit":
                inTransaction("commit");
                program.caller().commit();
                return null;
            case "rollback":
                inTransaction("rollback");
                if (arguments.length == 1) {
                    backTo((SetSavepoint) known((Savepoint) arguments[0]));
                } else {
                    program.caller().rollback();
                }
                return null;
            case "setSavepoint":
                inTransaction("setSavepoint");
                return set(arguments.length == 1 ? (String) arguments[0] : null);
            case "releaseSavepoint":
                savepoints
                        .subList(
                                savepoints.indexOf(known((Savepoint) arguments[0])),
                                savepoints.size())
                        .clear();
                return null;
            case "setSchema", "setCatalog":
                Object now = name.equals("setSchema") ? real.getSchema() : real.getCatalog();
                if (arguments[0] != null && !Objects.equals(arguments[0], now)) {
                    throw Failures.of("0A000", "a project has one schema, " + now);
                }
                return null;
            default:
                return handOn(real, method, arguments);
        }
    }

    // ------------------------------------------------------------------ transactions

    private void setAutoCommit(boolean each) throws SQLException {
        if (each != autoCommit) {
            // The standard's API says so: what is open is committed.
            program.caller().commit();
            program.caller().setAutoCommit(each);
            autoCommit = each;
        }
    }

    private void inTransaction(String what) throws SQLException {
        if (autoCommit) {
            throw Failures.of(
                    "25000",
                    what
                            + " needs a transaction, and auto-commit is on; setAutoCommit(false) first");
        }
    }

    private Savepoint set(String name) throws SQLException {
        Object transaction = program.caller().transactionMark();
        savepoints.removeIf(s -> ((SetSavepoint) s).transaction != transaction);
        SetSavepoint made =
                new SetSavepoint(transaction, program.caller().mark(), ++numbered, name);
        savepoints.add(made);
        return made;
    }

    private Savepoint known(Savepoint savepoint) throws SQLException {
        boolean good =
                savepoints.contains(savepoint)
                        && ((SetSavepoint) savepoint).transaction
                                == program.caller().transactionMark();
        if (!good) {
            throw Failures.of("3B001", "there is no such savepoint in this transaction");
        }
        return savepoint;
    }

    /** Those that were set behind it are gone with what was done. */
    private void backTo(SetSavepoint savepoint) throws SQLException {
        program.caller().backTo(savepoint.mark);
        savepoints.subList(savepoints.indexOf(savepoint) + 1, savepoints.size()).clear();
    }

    /**
     * Whether a text ends the transaction, which is done then.
     *
     * @throws SQLException where it begins one, or names a savepoint: JDBC has methods for that
     */
    synchronized boolean endsTransaction(String text) throws SQLException {
        List<SqlWords.Word> words = SqlWords.of(text).all();
        String first =
                words.isEmpty() ? "" : words.get(0).text().toUpperCase(java.util.Locale.ROOT);
        boolean plain =
                words.stream()
                        .skip(1)
                        .allMatch(w -> w.is("WORK") || w.is("TRANSACTION") || w.is(";"));
        if (plain && (first.equals("COMMIT") || first.equals("ROLLBACK"))) {
            checkOpen();
            inTransaction(first);
            if (first.equals("COMMIT")) {
                program.caller().commit();
            } else {
                program.caller().rollback();
            }
            return true;
        }
        boolean other = first.equals("COMMIT") || first.equals("ROLLBACK");
        if (other || BEGINS.contains(first)) {
            throw Failures.of(
                    "0A000",
                    "a program's transactions are begun by setAutoCommit(false), and their"
                            + " savepoints set by setSavepoint; this statement does neither: "
                            + text.strip());
        }
        return false;
    }

    private synchronized void close() throws SQLException {
        if (closed) {
            return;
        }
        closed = true;
        try {
            program.close();
        } finally {
            released.accept(proxy());
        }
    }

    private void abort(Executor executor) {
        program.caller().interrupt();
        executor.execute(
                () -> {
                    try {
                        close();
                    } catch (SQLException e) {
                        // It was to go either way.
                        return;
                    }
                });
    }
}
