package dev.cantina.ship.mariadb;

import dev.cantina.binding.Binder;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Table;
import dev.cantina.database.ServerPart;
import dev.cantina.database.mariadb.MariaConditions;
import dev.cantina.database.mariadb.MariaDatabase;
import dev.cantina.database.mariadb.MariaSession;
import dev.cantina.ship.Plan;
import dev.cantina.ship.Plan.Action;
import dev.cantina.ship.Plan.Step;
import dev.cantina.ship.Server;
import dev.cantina.translate.ServerObject;
import dev.cantina.translate.Translation;
import dev.cantina.translate.mariadb.MariaTranslation;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * A MariaDB server. It commits at every statement that makes something, so what stands before a
 * ship is written down first ({@code cantina_steps}); a step that fails, or a process that dies, is
 * followed by putting all of it back, at once or when Cantina ships there the next time. The ship
 * is done at the moment when its ledger is written and its record is emptied, in one transaction.
 */
public final class MariaTarget implements Server {
    private static final String LEDGER =
            "CREATE TABLE IF NOT EXISTS cantina_ledger (number bigint AUTO_INCREMENT UNIQUE,"
                    + " project varchar(100), identity varchar(200), kind varchar(40) NOT NULL,"
                    + " name varchar(200) NOT NULL, file varchar(400) NOT NULL,"
                    + " shipped longtext NOT NULL, dropping varchar(400) NOT NULL,"
                    + " standing longtext NOT NULL, at datetime(6) DEFAULT CURRENT_TIMESTAMP(6),"
                    + " PRIMARY KEY (project, identity)) CHARACTER SET utf8mb4 COLLATE "
                    + MariaSession.COLLATION;
    private static final String STEPS =
            "CREATE TABLE IF NOT EXISTS cantina_steps (number bigint AUTO_INCREMENT PRIMARY KEY,"
                    + " project varchar(100) NOT NULL, identity varchar(200) NOT NULL,"
                    + " dropping varchar(400) NOT NULL, before_text longtext, before_mode longtext,"
                    + " before_charset varchar(64), before_collation varchar(64))"
                    + " CHARACTER SET utf8mb4 COLLATE "
                    + MariaSession.COLLATION;

    private final Connection connection;

    /**
     * @param connection as {@link MariaDatabase} opens one; closing this closes it
     */
    public MariaTarget(Connection connection) throws SQLException {
        this.connection = connection;
        connection.setAutoCommit(true);
    }

    @Override
    public String description() throws SQLException {
        String version = one("SELECT VERSION()").replaceAll("-.*", "");
        return "MariaDB " + version + ", database " + database();
    }

    private String database() throws SQLException {
        String database = one("SELECT DATABASE()");
        if (database == null) {
            throw new SQLException("the connection names no database; add one to its url", "3D000");
        }
        return database;
    }

    private String one(String query) throws SQLException {
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(query)) {
            return row.next() ? row.getString(1) : null;
        }
    }

    private void execute(String sql) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.setEscapeProcessing(false);
            statement.execute(sql);
        } catch (SQLException e) {
            throw new SQLException(MariaConditions.said(e), e.getSQLState(), e.getErrorCode(), e);
        }
    }

    @Override
    public Translation translate(Catalog catalog, Binder binder) throws SQLException {
        int major = connection.getMetaData().getDatabaseMajorVersion();
        int minor = connection.getMetaData().getDatabaseMinorVersion();
        if (!catalog.modules().isEmpty() && (major < 11 || major == 11 && minor < 4)) {
            throw new SQLException(
                    "modules become packages, which MariaDB has from 11.4 on, and this is "
                            + description(),
                    "0A000");
        }
        boolean collated = !MariaSession.COLLATION.equals(one("SELECT @@collation_database"));
        return new MariaTranslation(catalog, binder, collated, MariaDatabase.cascaded(connection))
                .translate();
    }

    @Override
    public List<String> missing(Catalog catalog) throws SQLException {
        return missing(catalog.tables().stream().map(Table::name).toList());
    }

    @Override
    public List<String> missing(List<String> tables) throws SQLException {
        List<String> missing = new ArrayList<>();
        try (PreparedStatement statement =
                connection.prepareStatement(
                        "SELECT COUNT(*) FROM information_schema.TABLES"
                                + " WHERE TABLE_SCHEMA = DATABASE() AND LOWER(TABLE_NAME) = LOWER(?)")) {
            for (String table : tables) {
                statement.setString(1, table);
                try (ResultSet row = statement.executeQuery()) {
                    row.next();
                    if (row.getInt(1) == 0) {
                        missing.add(table);
                    }
                }
            }
        }
        return missing;
    }

    /** A function of the server's own is called in the place of one of the same name. */
    @Override
    public List<ServerObject> hidden(List<ServerObject> objects) throws SQLException {
        List<ServerObject> hidden = new ArrayList<>();
        try (PreparedStatement statement =
                connection.prepareStatement(
                        "SELECT COUNT(*) FROM information_schema.SQL_FUNCTIONS"
                                + " WHERE LOWER(FUNCTION) = LOWER(?)")) {
            for (ServerObject object : objects) {
                if (object.kind().equals("function")) {
                    statement.setString(1, object.name());
                    try (ResultSet row = statement.executeQuery()) {
                        row.next();
                        if (row.getInt(1) > 0) {
                            hidden.add(object);
                        }
                    }
                }
            }
        }
        return hidden;
    }

    private boolean has(String table) throws SQLException {
        return one(
                        "SELECT 1 FROM information_schema.TABLES WHERE TABLE_SCHEMA = DATABASE()"
                                + " AND TABLE_NAME = '"
                                + table
                                + "'")
                != null;
    }

    @Override
    public List<Entry> ledger(String project) throws SQLException {
        List<Entry> entries = new ArrayList<>();
        if (!has("cantina_ledger")) {
            return entries;
        }
        try (PreparedStatement statement =
                connection.prepareStatement(
                        "SELECT kind, name, file, identity, shipped, dropping, standing"
                                + " FROM cantina_ledger WHERE project IN (?, '') AND kind <> 'sources' ORDER BY number")) {
            statement.setString(1, project);
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
        String called = entry.name() + "(";
        try (PreparedStatement statement =
                connection.prepareStatement(
                        "SELECT EXISTS (SELECT 1 FROM cantina_ledger WHERE kind <> 'sources'"
                                + " AND project <> '' AND project <> ?"
                                + " AND (LOCATE(?, shipped) > 0 OR EXISTS (SELECT 1 FROM"
                                + " cantina_ledger s WHERE s.project = '' AND s.name <> ?"
                                + " AND LOCATE(?, s.shipped) > 0)))")) {
            statement.setString(1, project);
            statement.setString(2, called);
            statement.setString(3, entry.name());
            statement.setString(4, called);
            try (ResultSet row = statement.executeQuery()) {
                row.next();
                return row.getBoolean(1);
            }
        }
    }

    // ---------------------------------------------------------------- what stands there

    /** Something that stands on the server, with the session that it was made in. */
    private record Stands(String text, String mode, String charset, String collation) {}

    @Override
    public Map<String, String> standing(Collection<String> identities) throws SQLException {
        Map<String, String> standing = new LinkedHashMap<>();
        for (Map.Entry<String, Stands> one : stands(identities).entrySet()) {
            standing.put(one.getKey(), one.getValue().text());
        }
        return standing;
    }

    private Map<String, Stands> stands(Collection<String> identities) throws SQLException {
        Set<String> known = new HashSet<>();
        try (Statement statement = connection.createStatement();
                ResultSet row =
                        statement.executeQuery(
                                "SELECT CONCAT(LOWER(ROUTINE_TYPE), ' ', ROUTINE_NAME)"
                                        + " FROM information_schema.ROUTINES"
                                        + " WHERE ROUTINE_SCHEMA = DATABASE() UNION ALL"
                                        + " SELECT CONCAT('trigger ', TRIGGER_NAME)"
                                        + " FROM information_schema.TRIGGERS"
                                        + " WHERE TRIGGER_SCHEMA = DATABASE()")) {
            while (row.next()) {
                known.add(row.getString(1).toLowerCase(java.util.Locale.ROOT));
            }
        }
        String mode = one("SELECT @@sql_mode");
        Map<String, Stands> stands = new LinkedHashMap<>();
        for (String identity : identities) {
            String plain =
                    identity.replaceAll("(?<!`)`(?!`)", "")
                            .replace("``", "`")
                            .toLowerCase(java.util.Locale.ROOT);
            if (known.contains(plain)) {
                shown(identity, mode).ifPresent(s -> stands.put(identity, s));
            }
        }
        return stands;
    }

    private Optional<Stands> shown(String identity, String mode) throws SQLException {
        Optional<Stands> first = show(identity);
        if (first.isEmpty() || first.get().mode().equals(mode)) {
            return first;
        }
        // Shown as it has to be written in the mode that it was made in.
        try {
            execute("SET sql_mode = '" + first.get().mode() + "'");
            return show(identity);
        } finally {
            execute("SET sql_mode = '" + mode + "'");
        }
    }

    private Optional<Stands> show(String identity) throws SQLException {
        // The name is everything behind the kind: it may have blanks in it.
        int space = identity.startsWith("package body ") ? 12 : identity.indexOf(' ');
        String kind = identity.substring(0, space).toUpperCase(java.util.Locale.ROOT);
        String name = identity.substring(space + 1);
        String quoted = name.startsWith("`") ? name : "`" + name + "`";
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery("SHOW CREATE " + kind + " " + quoted)) {
            if (!row.next() || row.getString(3) == null) {
                return Optional.empty();
            }
            return Optional.of(
                    new Stands(
                            row.getString(3),
                            row.getString("sql_mode"),
                            row.getString("character_set_client"),
                            row.getString("collation_connection")));
        }
    }

    // ---------------------------------------------------------------- doing it

    @Override
    public Optional<String> unfinished() throws SQLException {
        if (!has("cantina_steps")) {
            return Optional.empty();
        }
        int steps = Integer.parseInt(one("SELECT COUNT(*) FROM cantina_steps"));
        return steps == 0
                ? Optional.empty()
                : Optional.of(
                        "a ship to "
                                + database()
                                + " was cut off: "
                                + steps
                                + (steps == 1 ? " step" : " steps")
                                + " of it may be done");
    }

    @Override
    public void recover() throws SQLException {
        if (has("cantina_steps")) {
            lock();
            undo();
        }
    }

    private void lock() throws SQLException {
        if (!"1".equals(one("SELECT GET_LOCK(CONCAT('cantina ship ', DATABASE()), 10)"))) {
            throw new SQLException(
                    "another session is shipping to this database just now", "55P03");
        }
    }

    @Override
    public void perform(String project, Plan plan, String fingerprint) throws SQLException {
        List<Step> doing =
                plan.steps().stream()
                        .filter(s -> s.action() != Action.LEAVE && s.action() != Action.HOLD)
                        .toList();
        if (doing.isEmpty()) {
            if (has("cantina_ledger")) {
                remember(project, fingerprint);
            }
            return;
        }
        lock();
        execute(LEDGER);
        execute(STEPS);
        undo();
        write(project, doing);
        try {
            for (Step step : doing) {
                for (ServerPart part : step.object().parts()) {
                    execute(step.action() == Action.DROP ? part.drop() : part.create(), part);
                }
            }
            finish(project, doing, fingerprint);
        } catch (SQLException e) {
            undoAfter(e);
            throw e;
        }
        if (one("SELECT COUNT(*) FROM cantina_ledger WHERE project <> '' AND kind <> 'sources'")
                .equals("0")) {
            forgetAll();
        }
    }

    /** Nothing is shipped from anywhere any more: what Cantina needed itself goes too. */
    private void forgetAll() throws SQLException {
        try (Statement statement = connection.createStatement();
                ResultSet row =
                        statement.executeQuery(
                                "SELECT dropping FROM cantina_ledger WHERE kind <> 'sources'")) {
            List<String> drops = new ArrayList<>();
            while (row.next()) {
                drops.add(row.getString(1));
            }
            for (String drop : drops) {
                execute(drop);
            }
        }
        execute("DROP TABLE IF EXISTS cantina_ledger, cantina_steps");
    }

    private void execute(String sql, ServerPart part) throws SQLException {
        try {
            if (part.modes().isPresent()) {
                execute("SET NAMES utf8mb4");
                execute("SET sql_mode = '" + part.modes().get() + "'");
            }
            execute(sql);
        } catch (SQLException e) {
            throw new SQLException(
                    part.identity() + " is refused: " + MariaConditions.said(e),
                    e.getSQLState(),
                    e.getErrorCode(),
                    e);
        } finally {
            if (part.modes().isPresent() && !connection.isClosed()) {
                for (String session : MariaSession.statements()) {
                    execute(session);
                }
            }
        }
    }

    /** Writes down what stands where something is going to be done. */
    private void write(String project, List<Step> doing) throws SQLException {
        List<ServerPart> parts = new ArrayList<>();
        doing.forEach(s -> parts.addAll(s.object().parts()));
        Map<String, Stands> before = stands(parts.stream().map(ServerPart::identity).toList());
        connection.setAutoCommit(false);
        try (PreparedStatement statement =
                connection.prepareStatement(
                        "INSERT INTO cantina_steps (project, identity, dropping, before_text,"
                                + " before_mode, before_charset, before_collation)"
                                + " VALUES (?, ?, ?, ?, ?, ?, ?)")) {
            for (ServerPart part : parts) {
                Stands stands = before.get(part.identity());
                statement.setString(1, project);
                statement.setString(2, part.identity());
                statement.setString(3, part.drop());
                statement.setString(4, stands == null ? null : stands.text());
                statement.setString(5, stands == null ? null : stands.mode());
                statement.setString(6, stands == null ? null : stands.charset());
                statement.setString(7, stands == null ? null : stands.collation());
                statement.addBatch();
            }
            statement.executeBatch();
            connection.commit();
        } finally {
            connection.setAutoCommit(true);
        }
    }

    /** Writes the ledger and empties the record: the moment at which the ship is done. */
    private void finish(String project, List<Step> doing, String fingerprint) throws SQLException {
        List<String> identities = new ArrayList<>();
        doing.forEach(s -> s.object().parts().forEach(p -> identities.add(p.identity())));
        Map<String, String> standing = standing(identities);
        connection.setAutoCommit(false);
        try {
            for (Step step : doing) {
                for (ServerPart part : step.object().parts()) {
                    forget(project, part.identity());
                    if (step.action() != Action.DROP) {
                        remember(
                                project,
                                step.object(),
                                part,
                                standing.getOrDefault(part.identity(), ""));
                    }
                }
            }
            remember(project, fingerprint);
            execute("DELETE FROM cantina_steps");
            connection.commit();
        } catch (SQLException e) {
            connection.rollback();
            throw e;
        } finally {
            connection.setAutoCommit(true);
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
        if (!has("cantina_ledger")) {
            return "";
        }
        try (PreparedStatement statement =
                connection.prepareStatement(
                        "SELECT shipped FROM cantina_ledger WHERE project = ? AND kind = 'sources'")) {
            statement.setString(1, project);
            try (ResultSet row = statement.executeQuery()) {
                return row.next() ? row.getString(1) : "";
            }
        }
    }

    @Override
    public String circumstances() throws SQLException {
        return one("SELECT @@collation_database")
                + new java.util.TreeMap<>(MariaDatabase.cascaded(connection));
    }

    private void forget(String project, String identity) throws SQLException {
        try (PreparedStatement statement =
                connection.prepareStatement(
                        "DELETE FROM cantina_ledger WHERE project IN (?, '') AND identity = ?")) {
            statement.setString(1, project);
            statement.setString(2, identity);
            statement.executeUpdate();
        }
    }

    private void remember(String project, ServerObject object, ServerPart part, String standing)
            throws SQLException {
        try (PreparedStatement statement =
                connection.prepareStatement(
                        "INSERT INTO cantina_ledger (project, identity, kind, name, file, shipped,"
                                + " dropping, standing) VALUES (?, ?, ?, ?, ?, ?, ?, ?)")) {
            statement.setString(1, object.file().isEmpty() ? "" : project);
            statement.setString(2, part.identity());
            statement.setString(3, object.kind());
            statement.setString(4, object.name());
            statement.setString(5, object.file());
            statement.setString(6, part.create());
            statement.setString(7, part.drop());
            statement.setString(8, standing);
            statement.executeUpdate();
        }
    }

    private void undoAfter(SQLException failure) {
        try {
            if (!connection.getAutoCommit()) {
                connection.setAutoCommit(true);
            }
            undo();
        } catch (SQLException e) {
            // The record stays, and the next ship puts it right.
            failure.addSuppressed(e);
        }
    }

    /** Puts back what the record says, the last first. */
    private void undo() throws SQLException {
        List<String[]> steps = new ArrayList<>();
        try (Statement statement = connection.createStatement();
                ResultSet row =
                        statement.executeQuery(
                                "SELECT identity, dropping, before_text, before_mode,"
                                        + " before_charset, before_collation FROM cantina_steps"
                                        + " ORDER BY number DESC")) {
            while (row.next()) {
                String[] step = new String[6];
                for (int i = 0; i < step.length; i++) {
                    step[i] = row.getString(i + 1);
                }
                steps.add(step);
            }
        }
        if (steps.isEmpty()) {
            return;
        }
        Map<String, Stands> now = stands(steps.stream().map(s -> s[0]).toList());
        for (String[] step : steps) {
            Stands stands = now.get(step[0]);
            boolean same = stands == null ? step[2] == null : stands.text().equals(step[2]);
            if (!same) {
                execute(step[1]);
            }
        }
        // What is needed by others stands before them: the order in which it was made.
        for (int i = steps.size() - 1; i >= 0; i--) {
            String[] step = steps.get(i);
            Stands stands = now.get(step[0]);
            boolean same = stands != null && stands.text().equals(step[2]);
            if (!same && step[2] != null) {
                restore(step);
            }
        }
        execute("DELETE FROM cantina_steps");
    }

    private void restore(String[] step) throws SQLException {
        try {
            execute("SET sql_mode = '" + step[3] + "'");
            execute("SET NAMES " + step[4] + " COLLATE " + step[5]);
            // A server that knows no users shows one without a name, which it does not take back.
            execute(step[2].replaceFirst("DEFINER=(``|\"\")(@(``|\"\"))? ", ""));
        } finally {
            for (String sql : MariaSession.statements()) {
                execute(sql);
            }
        }
    }

    /** What the server calls this connection, for whoever wants to end it. */
    public String connectionId() throws SQLException {
        return one("SELECT CONNECTION_ID()");
    }

    @Override
    public void close() throws SQLException {
        connection.close();
    }
}
