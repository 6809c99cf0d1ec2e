package dev.cantina.agree.postgresql;

import dev.cantina.agree.NativeCalls;
import dev.cantina.agree.NativeServer;
import dev.cantina.catalog.Table;
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
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
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
        execute("SELECT pg_advisory_lock(hashtext('" + PREFIX + mark + "'))");
        sweep();
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

    /** Takes away what runs have left that were killed: nobody holds their locks. */
    private void sweep() throws SQLException {
        List<String> left = new ArrayList<>();
        try (Statement statement = connection().createStatement();
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
        connection().commit();
    }

    private void drop(String marked) throws SQLException {
        List<String> schemas = new ArrayList<>();
        try (Statement statement = connection().createStatement();
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
            connection().setAutoCommit(false);
            connection().rollback();
            drop(mark);
            connection().commit();
        } finally {
            workspace().close();
        }
    }
}
