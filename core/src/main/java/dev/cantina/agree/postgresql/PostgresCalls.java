package dev.cantina.agree.postgresql;

import dev.cantina.agree.Behaviour;
import dev.cantina.agree.NativeCalls;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.postgresql.PostgresDatabase;
import dev.cantina.runtime.ResultRows;
import dev.cantina.runtime.Session;
import dev.cantina.translate.postgresql.PostgresExpressions;
import dev.cantina.translate.postgresql.PostgresSignature;
import dev.cantina.translate.postgresql.PostgresTypes;
import dev.cantina.types.ConditionException;
import dev.cantina.types.Conversion;
import dev.cantina.types.SqlType;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.SQLWarning;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Calls shipped routines on a PostgreSQL server, which runs them itself. */
public final class PostgresCalls implements NativeCalls {
    private final Connection connection;
    private final PostgresDatabase database;
    private final PostgresExpressions words;
    private final Catalog catalog;

    /**
     * @param connection that commits by itself, so that routines may end transactions
     * @param run as the translation was marked
     */
    public PostgresCalls(Connection connection, Catalog catalog, Optional<String> run) {
        this.connection = connection;
        this.database = new PostgresDatabase(connection);
        this.words = new PostgresExpressions(catalog, Optional.empty(), run);
        this.catalog = catalog;
    }

    /** Makes the variables of modules what they are when a session begins. */
    private void fresh() throws SQLException {
        try (Statement statement = connection.createStatement()) {
            for (ModuleSymbol module : catalog.modules()) {
                for (int i = 0; i < module.variables().size(); i++) {
                    String setting = PostgresExpressions.setting(module, i);
                    statement.execute("SELECT set_config('" + setting + "', '', FALSE)");
                }
            }
        }
    }

    @Override
    public Behaviour call(RoutineSymbol routine, List<Optional<Object>> arguments)
            throws SQLException {
        List<String> texts = new ArrayList<>();
        List<Object> values = new ArrayList<>();
        try {
            for (int i = 0; i < arguments.size(); i++) {
                argument(routine, i, arguments.get(i), texts, values);
            }
        } catch (ConditionException e) {
            return failed(List.of(), e.condition());
        }
        List<String> cursors =
                routine.isFunction() ? List.of() : PostgresSignature.resultSets(routine);
        cursors.forEach(c -> texts.add(words.names().of(c) + " => NULL"));
        boolean table = routine.returns().filter(SqlType.Table.class::isInstance).isPresent();
        String call = words.callee(routine) + "(" + String.join(", ", texts) + ")";
        String sql =
                !routine.isFunction()
                        ? "CALL " + call
                        : table ? "SELECT * FROM " + call : "SELECT " + call;
        fresh();
        // A cursor lives as long as its transaction.
        connection.setAutoCommit(cursors.isEmpty());
        try (PreparedStatement statement = connection.prepareStatement(sql)) {
            for (int i = 0; i < values.size(); i++) {
                statement.setObject(i + 1, values.get(i));
            }
            try {
                boolean rows = statement.execute();
                List<String> says = says(statement.getWarnings());
                return rows
                        ? completed(routine, statement.getResultSet(), cursors, table, says)
                        : new Behaviour(Map.of(), null, List.of(), says, Optional.empty());
            } catch (SQLException e) {
                return failed(says(statement.getWarnings()), database.condition(e));
            }
        } finally {
            if (!connection.getAutoCommit()) {
                connection.commit();
                connection.setAutoCommit(true);
            }
        }
    }

    private static Behaviour failed(List<String> says, dev.cantina.types.Condition condition) {
        return new Behaviour(Map.of(), null, List.of(), says, Optional.of(condition));
    }

    private void argument(
            RoutineSymbol routine,
            int position,
            Optional<Object> given,
            List<String> texts,
            List<Object> values)
            throws SQLException {
        ParameterSymbol parameter = routine.parameters().get(position);
        String name = words.names().of(parameter.name()) + " => ";
        if (!parameter.mode().isInput()) {
            texts.add(name + "NULL");
            return;
        }
        if (given.isEmpty() && parameter.initial().isPresent()) {
            return;
        }
        SqlType type = parameter.type();
        Object value =
                given.isEmpty() || given.get() == Session.NULL
                        ? null
                        : Conversion.store(given.get(), type);
        texts.add(name + "CAST(? AS " + PostgresTypes.of(type, parameter.name().span()) + ")");
        if (type instanceof SqlType.Array array && value instanceof Object[] elements) {
            String element = PostgresTypes.bare(array.element(), parameter.name().span());
            values.add(connection.createArrayOf(element, elements));
        } else {
            values.add(database.driverValue(value, type));
        }
    }

    private static List<String> says(SQLWarning first) {
        List<String> says = new ArrayList<>();
        for (SQLWarning w = first; w != null; w = w.getNextWarning()) {
            if ("00000".equals(w.getSQLState())) {
                says.add(w.getMessage());
            }
        }
        return says;
    }

    private Behaviour completed(
            RoutineSymbol routine,
            ResultSet row,
            List<String> cursors,
            boolean table,
            List<String> says)
            throws SQLException {
        if (table) {
            SqlType.Table type = (SqlType.Table) routine.returns().orElseThrow();
            ResultRows rows = NativeCalls.rows(database, row, type.columns());
            return new Behaviour(Map.of(), null, List.of(rows), says, Optional.empty());
        }
        row.next();
        if (routine.isFunction()) {
            Object value = database.read(row, 1, routine.returns().orElseThrow());
            return new Behaviour(
                    Map.of(),
                    NativeCalls.fitted(value, routine.returns().get()),
                    List.of(),
                    says,
                    Optional.empty());
        }
        Map<String, Object> out = new LinkedHashMap<>();
        int column = 0;
        for (ParameterSymbol parameter : routine.parameters()) {
            if (parameter.mode().isOutput()) {
                Object value = database.read(row, ++column, parameter.type());
                out.put(parameter.name().text(), NativeCalls.fitted(value, parameter.type()));
            }
        }
        List<String> open = new ArrayList<>();
        for (int i = 0; i < cursors.size(); i++) {
            open.add(row.getString(++column));
        }
        List<ResultRows> results = new ArrayList<>();
        for (String cursor : open) {
            if (cursor != null) {
                try (Statement fetch = connection.createStatement();
                        ResultSet all = fetch.executeQuery("FETCH ALL FROM \"" + cursor + "\"")) {
                    results.add(NativeCalls.rows(database, all, List.of()));
                }
            }
        }
        return new Behaviour(out, null, results, says, Optional.empty());
    }
}
