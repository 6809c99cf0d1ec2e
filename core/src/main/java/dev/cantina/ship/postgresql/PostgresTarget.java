package dev.cantina.ship.postgresql;

import dev.cantina.binding.Binder;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Table;
import dev.cantina.database.ServerNames;
import dev.cantina.database.ServerPart;
import dev.cantina.database.postgresql.PostgresCatalog;
import dev.cantina.database.postgresql.PostgresParts;
import dev.cantina.ship.Plan;
import dev.cantina.ship.Plan.Action;
import dev.cantina.ship.Plan.Step;
import dev.cantina.ship.Server;
import dev.cantina.translate.ServerObject;
import dev.cantina.translate.Translation;
import dev.cantina.translate.postgresql.PostgresNames;
import dev.cantina.translate.postgresql.PostgresSupport;
import dev.cantina.translate.postgresql.PostgresTranslation;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** A PostgreSQL server: everything is done in one transaction. */
public final class PostgresTarget implements Server {
    /** States by which CREATE OR REPLACE says that it wants the old one gone first. */
    private static final Set<String> OTHER_SHAPE = Set.of("42P13", "42P16", "42809", "42710");

    private final Connection connection;

    /**
     * @param connection in a transaction; closing this closes it, and what was not performed to its
     *     end is taken back
     */
    public PostgresTarget(Connection connection) {
        this.connection = connection;
    }

    @Override
    public String description() throws SQLException {
        String version = connection.getMetaData().getDatabaseProductVersion();
        return "PostgreSQL " + version.replaceAll(" .*", "") + ", schema " + schema();
    }

    private String schema() throws SQLException {
        String schema = one("SELECT current_schema()");
        if (schema == null) {
            throw new SQLException(
                    "the connection names no schema that exists; add currentSchema to its url",
                    "3F000");
        }
        return schema;
    }

    private String one(String query) throws SQLException {
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(query)) {
            row.next();
            return row.getString(1);
        }
    }

    @Override
    public Translation translate(Catalog catalog, Binder binder) {
        return new PostgresTranslation(catalog, binder, Optional.empty()).translate();
    }

    @Override
    public List<String> missing(Catalog catalog) throws SQLException {
        List<String> missing = new ArrayList<>();
        try (PreparedStatement statement =
                connection.prepareStatement("SELECT to_regclass(?) IS NULL")) {
            for (Table table : catalog.tables()) {
                statement.setString(1, ServerNames.postgres().of(table.name()));
                try (ResultSet row = statement.executeQuery()) {
                    row.next();
                    if (row.getBoolean(1)) {
                        missing.add(table.name());
                    }
                }
            }
        }
        return missing;
    }

    @Override
    public void searchPath(List<String> schemas) throws SQLException {
        try (PreparedStatement statement =
                connection.prepareStatement(
                        "SELECT set_config('search_path', string_agg(quote_ident(s), ', '), FALSE)"
                                + " FROM unnest(?::text[]) s")) {
            statement.setArray(1, connection.createArrayOf("text", schemas.toArray()));
            statement.execute();
        }
    }

    @Override
    public List<String> missing(List<String> tables) throws SQLException {
        List<String> missing = new ArrayList<>();
        try (PreparedStatement statement =
                connection.prepareStatement("SELECT to_regclass(?) IS NULL")) {
            for (String table : tables) {
                statement.setString(1, PostgresCatalog.quoted(table));
                try (ResultSet row = statement.executeQuery()) {
                    row.next();
                    if (row.getBoolean(1)) {
                        missing.add(table);
                    }
                }
            }
        }
        return missing;
    }

    @Override
    public List<ServerObject> hidden(List<ServerObject> objects) throws SQLException {
        return PostgresNames.taken(connection, objects);
    }

    private boolean hasLedger() throws SQLException {
        return one("SELECT to_regclass('cantina.ledger')") != null;
    }

    @Override
    public List<Entry> ledger(String project) throws SQLException {
        List<Entry> entries = new ArrayList<>();
        if (!hasLedger()) {
            return entries;
        }
        try (PreparedStatement statement =
                connection.prepareStatement(
                        "SELECT kind, name, file, identity, shipped, dropping, standing"
                                + " FROM cantina.ledger WHERE project IN (?, '')"
                                + " AND kind <> 'sources' AND home IN (?, '') ORDER BY number")) {
            statement.setString(1, project);
            statement.setString(2, schema());
            try (ResultSet row = statement.executeQuery()) {
                while (row.next()) {
                    entries.add(Entry.of(row));
                }
            }
        }
        return entries;
    }

    /** What Cantina needs itself goes with the last project whose routines call it. */
    @Override
    public boolean isShared(String project, Entry entry) throws SQLException {
        String name = entry.name() + "(";
        try (PreparedStatement statement =
                connection.prepareStatement(
                        "SELECT EXISTS (SELECT FROM cantina.ledger WHERE project <> ''"
                                + " AND kind <> 'sources' AND (project <> ? OR home <> ?)"
                                + " AND (? OR EXISTS (SELECT FROM cantina.ledger s"
                                + " WHERE s.project = '' AND strpos(s.shipped, ?) > 0"
                                + " AND s.name <> ?) OR strpos(shipped, ?) > 0))")) {
            statement.setString(1, project);
            statement.setString(2, schema());
            statement.setBoolean(3, entry.kind().equals("schema"));
            statement.setString(4, name);
            statement.setString(5, entry.name());
            statement.setString(6, name);
            try (ResultSet row = statement.executeQuery()) {
                row.next();
                return row.getBoolean(1);
            }
        }
    }

    @Override
    public Map<String, String> standing(Collection<String> identities) throws SQLException {
        return PostgresParts.standing(connection, identities);
    }

    @Override
    public void perform(String project, Plan plan, String fingerprint) throws SQLException {
        one("SELECT pg_advisory_xact_lock(hashtext('cantina ship'))::text");
        prepareLedger(plan);
        List<Step> drops = plan.steps().stream().filter(s -> s.action() == Action.DROP).toList();
        for (Step step : drops) {
            for (ServerPart part : step.object().parts()) {
                execute(part.drop());
                forget(project, part.identity());
            }
        }
        List<Step> made =
                plan.steps().stream()
                        .filter(s -> s.action() == Action.CREATE || s.action() == Action.REPLACE)
                        .toList();
        List<String> identities = new ArrayList<>();
        for (Step step : made) {
            for (ServerPart part : step.object().parts()) {
                make(part);
                identities.add(part.identity());
            }
        }
        Map<String, String> standing = standing(identities);
        for (Step step : made) {
            for (ServerPart part : step.object().parts()) {
                remember(project, step.object(), part, standing.getOrDefault(part.identity(), ""));
            }
        }
        if (hasLedger()) {
            remember(project, fingerprint);
        }
        if (hasLedger()
                && one("SELECT count(*) FROM cantina.ledger WHERE project <> '' AND kind <> 'sources'")
                        .equals("0")) {
            execute("DROP SCHEMA cantina CASCADE");
        }
        connection.commit();
    }

    private void prepareLedger(Plan plan) throws SQLException {
        boolean wanted =
                plan.steps().stream()
                        .anyMatch(s -> s.action() == Action.CREATE || s.action() == Action.REPLACE);
        if (!wanted || hasLedger()) {
            return;
        }
        execute(PostgresSupport.open("cantina"));
        execute(
                "CREATE TABLE cantina.ledger (number bigint GENERATED ALWAYS AS IDENTITY,"
                        + " project text, home text, identity text, kind text NOT NULL,"
                        + " name text NOT NULL, file text NOT NULL, shipped text NOT NULL,"
                        + " dropping text NOT NULL, standing text NOT NULL,"
                        + " at timestamp with time zone DEFAULT CURRENT_TIMESTAMP NOT NULL,"
                        + " PRIMARY KEY (project, home, identity))");
    }

    private void execute(String sql) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.setEscapeProcessing(false);
            statement.execute(sql);
        }
    }

    /** Replaces what is there, or takes it away first where it has another shape. */
    private void make(ServerPart part) throws SQLException {
        Savepoint before = connection.setSavepoint();
        try {
            execute(part.create());
            connection.releaseSavepoint(before);
        } catch (SQLException e) {
            if (!OTHER_SHAPE.contains(e.getSQLState())) {
                throw new SQLException(
                        part.identity() + " is refused: " + e.getMessage(), e.getSQLState(), e);
            }
            connection.rollback(before);
            execute(part.drop());
            execute(part.create());
        }
    }

    /** The row of the ledger that knows of which sources it is. */
    private void remember(String project, String fingerprint) throws SQLException {
        forget(project, "sources");
        if (!fingerprint.isEmpty()) {
            ServerPart part = new ServerPart("sources", fingerprint, "");
            remember(project, new ServerObject("sources", "", "sources", List.of()), part, "");
        }
    }

    @Override
    public String fingerprint(String project) throws SQLException {
        if (!hasLedger()) {
            return "";
        }
        try (PreparedStatement statement =
                connection.prepareStatement(
                        "SELECT shipped FROM cantina.ledger WHERE project = ? AND home = ?"
                                + " AND kind = 'sources'")) {
            statement.setString(1, project);
            statement.setString(2, schema());
            try (ResultSet row = statement.executeQuery()) {
                return row.next() ? row.getString(1) : "";
            }
        }
    }

    private void forget(String project, String identity) throws SQLException {
        try (PreparedStatement statement =
                connection.prepareStatement(
                        "DELETE FROM cantina.ledger WHERE project IN (?, '') AND home IN (?, '')"
                                + " AND identity = ?")) {
            statement.setString(1, project);
            statement.setString(2, schema());
            statement.setString(3, identity);
            statement.executeUpdate();
        }
    }

    /** What Cantina needs itself belongs to no project: several may share it. */
    private void remember(String project, ServerObject object, ServerPart part, String standing)
            throws SQLException {
        boolean own = object.file().isEmpty();
        try (PreparedStatement statement =
                connection.prepareStatement(
                        "INSERT INTO cantina.ledger (project, home, identity, kind, name, file,"
                                + " shipped, dropping, standing) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)"
                                + " ON CONFLICT (project, home, identity) DO UPDATE SET"
                                + " kind = EXCLUDED.kind, name = EXCLUDED.name,"
                                + " file = EXCLUDED.file, shipped = EXCLUDED.shipped,"
                                + " dropping = EXCLUDED.dropping, standing = EXCLUDED.standing,"
                                + " at = CURRENT_TIMESTAMP")) {
            statement.setString(1, own ? "" : project);
            statement.setString(2, own ? "" : schema());
            statement.setString(3, part.identity());
            statement.setString(4, object.kind());
            statement.setString(5, object.name());
            statement.setString(6, object.file());
            statement.setString(7, part.create());
            statement.setString(8, part.drop());
            statement.setString(9, standing);
            statement.executeUpdate();
        }
    }

    @Override
    public void close() throws SQLException {
        connection.rollback();
        connection.close();
    }
}
