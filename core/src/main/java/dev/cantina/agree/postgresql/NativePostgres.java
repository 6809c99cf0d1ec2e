package dev.cantina.agree.postgresql;

import dev.cantina.agree.NativeCalls;
import dev.cantina.agree.NativeServer;
import dev.cantina.catalog.Table;
import dev.cantina.database.postgresql.PostgresSchemas;
import dev.cantina.database.postgresql.PostgresTables;
import dev.cantina.project.Placement;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.testing.CaseRunner;
import dev.cantina.translate.postgresql.PostgresTranslation;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.sql.Timestamp;
import java.time.LocalDateTime;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/** Runs cases in PostgreSQL's language, in a schema of their own. */
public final class NativePostgres extends NativeServer {
    private final PostgresCalls calls;
    private final String mark;
    private final Map<String, String> numbers = new LinkedHashMap<>();

    public static NativePostgres open(
            Project project, String database, String fixture, CaseRunner cases)
            throws ProjectException, SQLException {
        return new NativePostgres(project, database, fixture, cases, Placement.mark().substring(1));
    }

    private NativePostgres(
            Project project, String database, String fixture, CaseRunner cases, String mark)
            throws ProjectException, SQLException {
        super(
                project,
                database,
                fixture,
                cases,
                PREFIX + mark,
                (catalog, binder, server) ->
                        new PostgresTranslation(catalog, binder, Optional.of("_" + mark))
                                .translate());
        this.mark = mark;
        calls = new PostgresCalls(connection(), workspace().catalog(), Optional.of("_" + mark));
        PostgresSchemas.sweep(connection(), PREFIX, mark);
        for (Table table : tables()) {
            execute("CREATE TABLE " + copy(table) + " AS TABLE " + name(table));
        }
        try (Statement statement = connection().createStatement();
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
        connection().commit();
    }

    @Override
    protected NativeCalls calls() {
        return calls;
    }

    @Override
    protected void clock(LocalDateTime now) throws SQLException {
        execute(
                "SELECT set_config('"
                        + PostgresTables.CLOCK
                        + "', '"
                        + Timestamp.valueOf(now)
                        + "', FALSE)");
    }

    @Override
    protected void reset() throws SQLException {
        connection().setAutoCommit(false);
        connection().rollback();
        if (tables().isEmpty()) {
            return;
        }
        execute("SET LOCAL session_replication_role = replica");
        execute(
                "TRUNCATE "
                        + String.join(", ", tables().stream().map(NativeServer::name).toList()));
        for (Table table : tables()) {
            String columns = columns(table);
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
        connection().commit();
    }

    @Override
    public void close() throws SQLException {
        try {
            connection().setAutoCommit(false);
            connection().rollback();
            PostgresSchemas.drop(connection(), mark);
            connection().commit();
        } finally {
            workspace().close();
        }
    }
}
