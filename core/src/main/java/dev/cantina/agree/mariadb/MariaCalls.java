package dev.cantina.agree.mariadb;

import dev.cantina.agree.Behaviour;
import dev.cantina.agree.NativeCalls;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.mariadb.MariaDatabase;
import dev.cantina.runtime.ResultRows;
import dev.cantina.runtime.Session;
import dev.cantina.translate.mariadb.MariaExpressions;
import dev.cantina.translate.mariadb.MariaTranslation;
import dev.cantina.types.ConditionException;
import dev.cantina.types.Conversion;
import dev.cantina.types.SqlType;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Calls shipped routines on a MariaDB server, which runs them itself. */
public final class MariaCalls implements NativeCalls {
    private final Connection connection;
    private final MariaDatabase database;
    private final MariaTranslation translation;
    private final MariaExpressions words;
    private final boolean modules;

    /**
     * @param connection that commits by itself, as that of a client does
     * @param translation the one that was shipped
     */
    public MariaCalls(Connection connection, Catalog catalog, MariaTranslation translation) {
        this.connection = connection;
        this.database = new MariaDatabase(connection);
        this.translation = translation;
        this.words = translation.words(Optional.empty());
        this.modules = !catalog.modules().isEmpty();
    }

    private void execute(String sql) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute(sql);
        }
    }

    /** As a session begins: nothing was said, and the variables of modules are as declared. */
    private void fresh() throws SQLException {
        execute("SET @cantina_says = NULL, @cantina_clean = NULL");
        if (modules) {
            // Any new routine makes the server load its packages anew.
            execute("CREATE OR REPLACE PROCEDURE cantina_fresh () BEGIN END");
        }
    }

    @Override
    public Behaviour call(RoutineSymbol routine, List<Optional<Object>> arguments)
            throws SQLException {
        List<String> texts = new ArrayList<>();
        List<Object> values = new ArrayList<>();
        fresh();
        try {
            for (int i = 0; i < arguments.size(); i++) {
                texts.add(argument(routine, i, arguments.get(i), values));
            }
        } catch (ConditionException e) {
            return failed(List.of(), e.condition());
        }
        String call = translation.called(routine) + "(" + String.join(", ", texts) + ")";
        List<ResultRows> results = new ArrayList<>();
        Object returned = null;
        try (PreparedStatement statement =
                connection.prepareStatement(
                        routine.isFunction() ? "SELECT " + call : "CALL " + call)) {
            for (int i = 0; i < values.size(); i++) {
                statement.setObject(i + 1, values.get(i));
            }
            boolean rows = statement.execute();
            while (rows || statement.getUpdateCount() >= 0) {
                if (rows) {
                    try (ResultSet result = statement.getResultSet()) {
                        if (routine.isFunction()) {
                            result.next();
                            SqlType type = routine.returns().orElseThrow();
                            returned = NativeCalls.fitted(database.read(result, 1, type), type);
                        } else {
                            results.add(NativeCalls.rows(database, result, List.of()));
                        }
                    }
                }
                rows = statement.getMoreResults();
            }
        } catch (SQLException e) {
            return failed(says(), database.condition(e));
        }
        return new Behaviour(out(routine), returned, results, says(), Optional.empty());
    }

    private static Behaviour failed(List<String> says, dev.cantina.types.Condition condition) {
        return new Behaviour(Map.of(), null, List.of(), says, Optional.of(condition));
    }

    /** A value's marker, or the variable of the session that a value is given back in. */
    private String argument(
            RoutineSymbol routine, int position, Optional<Object> given, List<Object> values)
            throws SQLException {
        ParameterSymbol parameter = routine.parameters().get(position);
        String variable = "@cantina_argument_" + (position + 1);
        if (!parameter.mode().isInput()) {
            execute("SET " + variable + " = NULL");
            return variable;
        }
        if (given.isEmpty() && parameter.initial().isPresent()) {
            String initial = words.initial(parameter);
            if (parameter.mode().isOutput()) {
                execute("SET " + variable + " = " + initial);
                return variable;
            }
            return initial;
        }
        SqlType type = parameter.type();
        Object value =
                given.isEmpty() || given.get() == Session.NULL
                        ? null
                        : database.driverValue(Conversion.store(given.get(), type), type);
        if (!parameter.mode().isOutput()) {
            values.add(value);
            return "?";
        }
        try (PreparedStatement statement =
                connection.prepareStatement("SET " + variable + " = ?")) {
            statement.setObject(1, value);
            statement.execute();
        }
        return variable;
    }

    private List<String> says() throws SQLException {
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery("SELECT @cantina_says")) {
            row.next();
            String text = row.getString(1);
            return text == null ? List.of() : List.of(text.split("\n", -1));
        }
    }

    private Map<String, Object> out(RoutineSymbol routine) throws SQLException {
        Map<String, Object> out = new LinkedHashMap<>();
        for (int i = 0; i < routine.parameters().size(); i++) {
            ParameterSymbol parameter = routine.parameters().get(i);
            if (!parameter.mode().isOutput()) {
                continue;
            }
            try (Statement statement = connection.createStatement();
                    ResultSet row = statement.executeQuery("SELECT @cantina_argument_" + (i + 1))) {
                row.next();
                SqlType type = parameter.type();
                boolean moment =
                        type instanceof SqlType.Date
                                || type instanceof SqlType.Time
                                || type instanceof SqlType.Timestamp;
                Object value = moment ? row.getString(1) : database.read(row, 1, type);
                out.put(parameter.name().text(), NativeCalls.fitted(value, type));
            }
        }
        return out;
    }
}
