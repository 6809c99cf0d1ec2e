package dev.cantina.deploy;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.Table;
import dev.cantina.check.Binder;
import dev.cantina.database.PostgresDatabase;
import dev.cantina.database.PostgresTables;
import dev.cantina.database.ServerPart;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.RowEvent;
import dev.cantina.runtime.TableChanges;
import dev.cantina.syntax.Problem;
import dev.cantina.testing.CaseRunner;
import dev.cantina.testing.TestCase;
import dev.cantina.types.Values;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.sql.Timestamp;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Runs cases with the project's routines in PostgreSQL's language, in a schema of their own with a
 * fixture's rows. What a case commits is undone from copies of the tables; the schemas go when this
 * is closed, and what a killed run has left goes with the next one.
 */
final class NativePostgres implements AutoCloseable {
    private static final String PREFIX = "cantina_agree_";

    private final Workspace workspace;
    private final Connection connection;
    private final PostgresDatabase database;
    private final PostgresCalls calls;
    private final List<Problem> refused;
    private final String mark;
    private final List<Table> tables;
    private final CaseRunner cases;
    private final Map<String, String> numbers = new LinkedHashMap<>();

    /**
     * @param cases reads the cases' arguments
     */
    NativePostgres(Project project, String database, String fixture, CaseRunner cases)
            throws ProjectException, SQLException {
        this.cases = cases;
        this.mark = Placement.mark().substring(1);
        List<ServerPart> parts = new ArrayList<>();
        try (Workspace embedded = Workspace.open(project, Optional.empty())) {
            Catalog catalog = embedded.catalog();
            Binder binder = embedded.program().binder();
            Translation translation =
                    new PostgresTranslation(catalog, binder, Optional.of("_" + mark)).translate();
            translation.support().forEach(o -> parts.addAll(o.parts()));
            translation.objects().forEach(o -> parts.addAll(o.parts()));
            refused = translation.refused();
        }
        workspace =
                Workspace.lasting(
                        project,
                        database,
                        fixture,
                        PREFIX + mark,
                        (catalog, binder, server) -> server.place(parts));
        this.database = (PostgresDatabase) workspace.database();
        connection = workspace.database().connection();
        tables = workspace.catalog().tables().stream().filter(t -> !t.view()).toList();
        calls = new PostgresCalls(connection, workspace.catalog(), Optional.of("_" + mark));
        execute("SELECT pg_advisory_lock(hashtext('" + PREFIX + mark + "'))");
        sweep();
        for (Table table : tables) {
            execute("CREATE TABLE " + copy(table) + " AS TABLE " + name(table));
        }
        try (Statement statement = connection.createStatement();
                ResultSet row =
                        statement.executeQuery(
                                "SELECT format('%I.%I', schemaname, sequencename),"
                                        + " COALESCE(last_value, start_value) || ', '"
                                        + " || (last_value IS NOT NULL)"
                                        + " FROM pg_sequences WHERE schemaname = current_schema")) {
            while (row.next()) {
                numbers.put(row.getString(1), row.getString(2));
            }
        }
        connection.commit();
    }

    private static String name(Table table) {
        return '"' + table.name().replace("\"", "\"\"") + '"';
    }

    private static String copy(Table table) {
        return '"' + "cantina_copy_" + table.name().replace("\"", "\"\"") + '"';
    }

    private void execute(String sql) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.setEscapeProcessing(false);
            statement.execute(sql);
        }
    }

    /** Why a case can't be run this way; empty where it can. */
    Optional<String> cannot(TestCase testCase) {
        if (testCase.standIns().isPresent()) {
            return Optional.of("stand-ins are Cantina's");
        }
        if (testCase.limits().isPresent()) {
            return Optional.of("limits are Cantina's");
        }
        for (TestCase.Call call : testCase.calls()) {
            for (RoutineSymbol routine :
                    workspace
                            .catalog()
                            .routines(call.routine().toUpperCase(java.util.Locale.ROOT))) {
                for (Problem problem : refused) {
                    boolean inside =
                            problem.span().source().name().equals(routine.span().source().name())
                                    && routine.span().start() <= problem.span().start()
                                    && problem.span().end() <= routine.span().end();
                    if (inside) {
                        return Optional.of(problem.message());
                    }
                }
            }
        }
        return Optional.empty();
    }

    Seen run(TestCase testCase) throws ProjectException, SQLException {
        Seen seen = new Seen();
        try {
            connection.setAutoCommit(false);
            LocalDateTime now = LocalDateTime.now(cases.clock(testCase));
            execute(
                    "SELECT set_config('"
                            + PostgresTables.CLOCK
                            + "', '"
                            + Timestamp.valueOf(now)
                            + "', FALSE)");
            cases.begin(testCase, workspace);
            connection.commit();
            Map<Table, Map<List<String>, Object[]>> before = rows();
            for (TestCase.Call call : testCase.calls()) {
                RoutineSymbol routine = CaseRunner.routine(workspace, call);
                List<Optional<Object>> given = cases.arguments(workspace, call, routine);
                connection.commit();
                connection.setAutoCommit(true);
                seen.call(call.at(), routine, calls.call(routine, given));
                connection.setAutoCommit(false);
            }
            seen.changes(TableChanges.of(changed(before, rows())));
            return seen;
        } finally {
            reset();
        }
    }

    private Map<Table, Map<List<String>, Object[]>> rows() throws SQLException {
        Map<Table, Map<List<String>, Object[]>> all = new LinkedHashMap<>();
        for (Table table : tables) {
            Map<List<String>, Object[]> rows = new LinkedHashMap<>();
            try (Statement statement = connection.createStatement();
                    ResultSet row = statement.executeQuery("TABLE " + name(table))) {
                int number = 0;
                while (row.next()) {
                    Object[] values = new Object[table.columns().size()];
                    for (int i = 0; i < values.length; i++) {
                        values[i] = database.read(row, i + 1, table.columns().get(i).type());
                    }
                    rows.put(key(table, values, rows), values);
                    number++;
                }
            }
            all.put(table, rows);
        }
        return all;
    }

    private static List<String> key(Table table, Object[] row, Map<List<String>, Object[]> rows) {
        List<String> key = new ArrayList<>();
        for (int i = 0; i < row.length; i++) {
            if (table.primaryKey().isEmpty() || table.primaryKey().contains(i)) {
                key.add(Values.literal(row[i]));
            }
        }
        // Rows without a key may be there several times.
        int copies = 0;
        while (table.primaryKey().isEmpty() && rows.containsKey(key)) {
            if (copies > 0) {
                key.remove(key.size() - 1);
            }
            key.add("copy " + ++copies);
        }
        return key;
    }

    private static List<RowEvent> changed(
            Map<Table, Map<List<String>, Object[]>> before,
            Map<Table, Map<List<String>, Object[]>> after) {
        List<RowEvent> events = new ArrayList<>();
        before.forEach(
                (table, rows) -> {
                    Map<List<String>, Object[]> now = after.get(table);
                    rows.forEach(
                            (key, row) -> {
                                Object[] there = now.get(key);
                                if (there == null || !Values.same(row, there)) {
                                    events.add(new RowEvent(table, row, there, Optional.empty()));
                                }
                            });
                    now.forEach(
                            (key, row) -> {
                                if (!rows.containsKey(key)) {
                                    events.add(new RowEvent(table, null, row, Optional.empty()));
                                }
                            });
                });
        return events;
    }

    /** Puts the fixture's rows and numbers back. */
    private void reset() throws SQLException {
        connection.setAutoCommit(false);
        connection.rollback();
        if (tables.isEmpty()) {
            return;
        }
        execute("SET LOCAL session_replication_role = replica");
        execute(
                "TRUNCATE "
                        + String.join(", ", tables.stream().map(NativePostgres::name).toList()));
        for (Table table : tables) {
            String columns =
                    String.join(
                            ", ",
                            table.columns().stream()
                                    .filter(c -> !c.generated())
                                    .map(c -> '"' + c.name() + '"')
                                    .toList());
            execute(
                    "INSERT INTO "
                            + name(table)
                            + " ("
                            + columns
                            + ") OVERRIDING SYSTEM VALUE SELECT "
                            + columns
                            + " FROM "
                            + copy(table));
        }
        for (Map.Entry<String, String> number : numbers.entrySet()) {
            execute("SELECT setval('" + number.getKey() + "', " + number.getValue() + ")");
        }
        connection.commit();
    }

    /** Takes away what runs have left that were killed: nobody holds their locks. */
    private void sweep() throws SQLException {
        List<String> left = new ArrayList<>();
        try (Statement statement = connection.createStatement();
                ResultSet row =
                        statement.executeQuery(
                                "SELECT nspname FROM pg_namespace WHERE nspname LIKE '"
                                        + PREFIX.replace("_", "\\_")
                                        + "%' AND nspname <> '"
                                        + PREFIX
                                        + mark
                                        + "' AND pg_try_advisory_xact_lock(hashtext(nspname))")) {
            while (row.next()) {
                left.add(row.getString(1).substring(PREFIX.length()));
            }
        }
        for (String one : left) {
            drop(one);
        }
        connection.commit();
    }

    private void drop(String marked) throws SQLException {
        List<String> schemas = new ArrayList<>();
        try (Statement statement = connection.createStatement();
                ResultSet row =
                        statement.executeQuery(
                                "SELECT quote_ident(nspname) FROM pg_namespace WHERE nspname LIKE '%\\_"
                                        + marked
                                        + "'")) {
            while (row.next()) {
                schemas.add(row.getString(1));
            }
        }
        if (!schemas.isEmpty()) {
            execute("DROP SCHEMA " + String.join(", ", schemas) + " CASCADE");
        }
    }

    @Override
    public void close() throws SQLException {
        try {
            connection.setAutoCommit(false);
            connection.rollback();
            drop(mark);
            connection.commit();
        } finally {
            workspace.close();
        }
    }
}
