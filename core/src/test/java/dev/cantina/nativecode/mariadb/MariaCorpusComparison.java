package dev.cantina.nativecode.mariadb;

import dev.cantina.hosting.PrivateServer;
import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.runtime.Probe;
import dev.cantina.syntax.Source;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.SQLWarning;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;

/**
 * Runs test scripts of MariaDB's own twice, in a new database each time: as they are, and with
 * every routine and trigger woven with probes that tell variables. What the two give is compared:
 * rows, counts, warnings, errors. {@code bench/corpus mariadb} runs it; it ends with the figures.
 */
public final class MariaCorpusComparison {
    private static final int SECONDS = 5;
    private static final int LONGEST_SECONDS = 120;

    private static final Set<String> SYSTEM =
            Set.of("mysql", "information_schema", "performance_schema", "sys");

    /** What shows the text of a routine, the time, a number of a session, or how a query is run. */
    private static final Pattern APART =
            Pattern.compile(
                    "(?is).*\\b(show\\s+(create|procedure|function|triggers|table|open|status|global"
                            + "|session|engine|binlog|processlist|full)|information_schema|mysql\\s*\\.|explain"
                            + "|analyze|connection_id|performance_schema|now\\s*\\(|uuid|rand\\s*\\("
                            + "|unix_timestamp|sysdate|curtime|current_timestamp|handler_|last_query_cost"
                            + "|shutdown|kill|flush|reset|install|uninstall|change\\s+master|start\\s+slave"
                            + "|load\\s+data|outfile|sleep|set\\s+global|@@global|lock\\s+tables|xa\\s).*");

    private int statements;
    private int routines;
    private int unread;
    private int woven;
    private int differ;
    private int files;

    private MariaCorpusComparison() {}

    public static void main(String[] scripts) throws Exception {
        MariaCorpusComparison all = new MariaCorpusComparison();
        for (String script : scripts) {
            try {
                all.file(Path.of(script));
            } catch (SQLException e) {
                // A script may end the server, or take away what it lives on.
                System.out.println("the server is gone in " + script + ": " + e.getMessage());
                PrivateServer.of("mariadb").stop();
            }
        }
        System.out.println(
                all.files
                        + " scripts, "
                        + all.statements
                        + " statements; "
                        + all.routines
                        + " routines and triggers, "
                        + all.unread
                        + " not read; "
                        + all.woven
                        + " woven; "
                        + all.differ
                        + " statements differ");
        PrivateServer.of("mariadb").stop();
        System.exit(0);
    }

    /** The script without the lines that are for the program that runs such tests. */
    private static String cleaned(String text) {
        StringBuilder made = new StringBuilder();
        String delimiter = ";";
        for (String line : text.split("\n", -1)) {
            String bare = line.strip();
            if (bare.startsWith("--") || bare.startsWith("#")) {
                made.append('\n');
            } else if (bare.toLowerCase(java.util.Locale.ROOT).matches("delimiter\\s+.*")) {
                String next = bare.substring(9).strip();
                if (next.endsWith(delimiter) && next.length() > delimiter.length()) {
                    next = next.substring(0, next.length() - delimiter.length()).strip();
                }
                delimiter = next.isEmpty() ? ";" : next;
                made.append("DELIMITER ").append(delimiter).append('\n');
            } else {
                made.append(line).append('\n');
            }
        }
        return made.toString();
    }

    private void file(Path path) throws Exception {
        String text = new String(Files.readAllBytes(path), StandardCharsets.UTF_8);
        if (text.indexOf('\uFFFD') >= 0 || text.contains("ORACLE")) {
            return;
        }
        List<MariaScript.Statement> script;
        try {
            script = MariaScript.of(new Source(path.getFileName().toString(), cleaned(text)));
        } catch (NativeSyntaxException e) {
            System.out.println("not read " + e.span() + " " + e.getMessage());
            return;
        }
        if (script.stream().noneMatch(s -> s.stored() >= 0)) {
            return;
        }
        files++;
        List<String> plain = run(script, false);
        List<String> probed = run(script, true);
        for (int i = 0; i < Math.min(plain.size(), probed.size()); i++) {
            statements++;
            if (probed.get(i).contains("cantina_at does not exist")) {
                // The script takes away all that stands there.
                break;
            }
            if (!plain.get(i).equals(probed.get(i))) {
                differ++;
                System.out.println(
                        "differs "
                                + script.get(i).span()
                                + " "
                                + script.get(i).span().text().replaceAll("\\s+", " ")
                                + "\n  as it is: "
                                + plain.get(i)
                                + "\n  woven: "
                                + probed.get(i));
                // What comes behind it follows from it.
                break;
            }
        }
    }

    private static Connection connect() throws Exception {
        int port = PrivateServer.of("mariadb").use();
        Path state = Path.of(System.getenv("XDG_STATE_HOME"), "cantina/servers/mariadb");
        String password = Files.readString(state.resolve("administrator")).strip();
        String url = "jdbc:mariadb://127.0.0.1:" + port + "/";
        try (Connection first = DriverManager.getConnection(url, "administrator", password);
                Statement statement = first.createStatement()) {
            List<String> databases = new ArrayList<>();
            try (ResultSet row = statement.executeQuery("SHOW DATABASES")) {
                while (row.next()) {
                    databases.add(row.getString(1));
                }
            }
            for (String database : databases) {
                if (!SYSTEM.contains(database)) {
                    statement.execute("DROP DATABASE " + MariaCode.quoted(database));
                }
            }
            statement.execute("CREATE DATABASE test");
        }
        Connection connection =
                DriverManager.getConnection(url + "test", "administrator", password);
        execute(connection, "SET lock_wait_timeout = 1, innodb_lock_wait_timeout = 1");
        return connection;
    }

    private static void execute(Connection connection, String sql) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.setEscapeProcessing(false);
            statement.execute(sql);
        }
    }

    private List<String> run(List<MariaScript.Statement> script, boolean probes) throws Exception {
        List<String> all = new ArrayList<>();
        long end = System.nanoTime() + LONGEST_SECONDS * 1_000_000_000L;
        try (Connection connection = connect()) {
            if (probes) {
                execute(connection, "CREATE SEQUENCE cantina_numbers");
                for (String helper : MariaCode.helpers()) {
                    execute(connection, helper);
                }
                execute(
                        connection,
                        "SET @cantina_sid = CONNECTION_ID(), @cantina_told = '', @cantina_depth = 0,"
                                + " @cantina_act = 0, @cantina_mode = 2");
            }
            for (MariaScript.Statement one : script) {
                if (System.nanoTime() > end || connection.isClosed()) {
                    break;
                }
                String sql = one.span().text();
                boolean apart = APART.matcher(sql).matches() && one.stored() < 0;
                boolean ends = one.begins("disconnect") || one.begins("connection");
                String said = ends || sql.contains("cantina_") ? "" : result(connection, sql);
                all.add(apart ? "" : said);
                if (one.stored() >= 0 && !said.contains("E ")) {
                    weave(one, connection, probes);
                }
            }
        }
        return all;
    }

    private void weave(MariaScript.Statement one, Connection connection, boolean probes)
            throws Exception {
        String modes = text(connection, "SELECT @@sql_mode");
        Optional<MariaRoutine> routine = MariaRoutine.of(one, modes);
        if (routine.isEmpty()
                || routine.get().speaksOtherwise()
                || isElsewhere(one)
                || !"test".equals(text(connection, "SELECT DATABASE()"))) {
            return;
        }
        routines += probes ? 1 : 0;
        try {
            MariaParser.parse(routine.get());
        } catch (NativeSyntaxException e) {
            if (probes) {
                unread++;
                System.out.println("not read " + e.span() + " " + e.getMessage());
            }
            return;
        }
        if (!probes) {
            return;
        }
        MariaCode code = new MariaCode(connection, () -> null);
        code.made(routine.get());
        code.symbols();
        boolean transaction = "1".equals(text(connection, "SELECT @@in_transaction"));
        for (String sql : code.inside().woven(new IdentityHashMap<>(), Probe.Detail.VALUES, 0)) {
            try {
                execute(connection, sql);
            } catch (SQLException e) {
                differ++;
                System.out.println("can't be woven: " + e.getMessage() + "\n" + sql);
                return;
            }
        }
        woven++;
        execute(connection, "SET sql_mode = '" + modes + "'");
        if (transaction) {
            throw new IllegalStateException("a routine was made inside a transaction");
        }
    }

    /** Whether its name says a database, which may be another one. */
    private static boolean isElsewhere(MariaScript.Statement one) {
        int at = one.stored() + 2;
        return at < one.tokens().size() && one.tokens().get(at).is(".");
    }

    private static String text(Connection connection, String query) throws SQLException {
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(query)) {
            row.next();
            return row.getString(1);
        }
    }

    private static String result(Connection connection, String sql) {
        StringBuilder all = new StringBuilder();
        try (Statement statement = connection.createStatement()) {
            statement.setEscapeProcessing(false);
            statement.setQueryTimeout(SECONDS);
            boolean rows = statement.execute(sql);
            while (rows || statement.getUpdateCount() >= 0) {
                if (rows) {
                    ResultSet row = statement.getResultSet();
                    while (row.next()) {
                        for (int i = 1; i <= row.getMetaData().getColumnCount(); i++) {
                            all.append(row.getString(i)).append('|');
                        }
                        all.append('\n');
                    }
                } else if (!sql.strip().regionMatches(true, 0, "call", 0, 4)) {
                    // What CALL says is a sum of all that was done in it, by probes too.
                    all.append(statement.getUpdateCount()).append('\n');
                }
                rows = statement.getMoreResults();
            }
            for (SQLWarning w = statement.getWarnings(); w != null; w = w.getNextWarning()) {
                all.append("W ").append(w.getMessage()).append('\n');
            }
        } catch (SQLException e) {
            all.append("E ").append(e.getSQLState()).append(' ').append(MariaLoader.said(e));
        }
        return all.toString();
    }
}
