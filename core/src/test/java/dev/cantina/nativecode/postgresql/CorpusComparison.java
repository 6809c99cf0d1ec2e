package dev.cantina.nativecode.postgresql;

import dev.cantina.hosting.PrivateServer;
import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.runtime.Probe;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.SQLWarning;
import java.sql.Statement;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.postgresql.util.PSQLException;
import org.postgresql.util.ServerErrorMessage;

/**
 * Reads scripts that nobody here wrote, and runs each twice, in a database of its own each time: as
 * it is, and with every routine in PL/pgSQL woven with probes that tell variables. What the two
 * give is compared: rows, counts, messages, states, texts, lines. {@code bench/corpus} runs it; it
 * ends with the figures.
 */
public final class CorpusComparison {
    private static final int SECONDS = 20;

    private int statements;
    private int routines;
    private int unread;
    private int woven;
    private int differ;

    private CorpusComparison() {}

    public static void main(String[] files) throws Exception {
        CorpusComparison all = new CorpusComparison();
        for (String file : files) {
            all.file(Path.of(file));
        }
        System.out.println(
                all.statements
                        + " statements; "
                        + all.routines
                        + " bodies in PL/pgSQL, "
                        + all.unread
                        + " not read; "
                        + all.woven
                        + " woven; "
                        + all.differ
                        + " statements differ");
        PrivateServer.of("postgresql").stop();
        System.exit(0);
    }

    /** Lines for a client are none of ours. */
    private static String withoutClientLines(String text) {
        return text.replaceAll("(?m)^\\\\.*$", "")
                .replaceAll("(?m)\\\\(gset|gexec|gx|g|crosstabview|bind|;).*$", ";");
    }

    private void file(Path path) throws Exception {
        String text =
                withoutClientLines(new String(Files.readAllBytes(path), StandardCharsets.UTF_8));
        List<PgScript.Statement> script;
        try {
            script = PgScript.of(new Source(path.getFileName().toString(), text));
        } catch (NativeSyntaxException e) {
            System.out.println("not read " + e.span() + " " + e.getMessage());
            return;
        }
        try (Connection plain = database("corpus_plain");
                Connection probed = database("corpus_woven")) {
            try (Statement statement = probed.createStatement()) {
                statement.execute(
                        "CREATE TEMP TABLE cantina_changes (seq BIGINT GENERATED ALWAYS AS"
                                + " IDENTITY, tab TEXT, was JSONB, now JSONB)");
                for (String helper : PgProbes.HELPERS) {
                    statement.execute(helper);
                }
            }
            for (PgScript.Statement one : script) {
                if (one.data().isEmpty() && !one.begins("copy")) {
                    compare(one, plain, probed);
                }
            }
        }
    }

    /** A new database of the private server, as its administrator: extensions need one. */
    private static Connection database(String name) throws Exception {
        int port = PrivateServer.of("postgresql").use();
        Path state = Path.of(System.getenv("XDG_STATE_HOME"), "cantina/servers/postgresql");
        String password = Files.readString(state.resolve("administrator")).strip();
        String url = "jdbc:postgresql://127.0.0.1:" + port + "/";
        try (Connection first =
                        DriverManager.getConnection(url + "postgres", "administrator", password);
                Statement statement = first.createStatement()) {
            statement.execute("DROP DATABASE IF EXISTS " + name + " WITH (FORCE)");
            statement.execute("CREATE DATABASE " + name + " TEMPLATE template0");
        }
        return DriverManager.getConnection(
                url + name + "?preferQueryMode=simple", "administrator", password);
    }

    private void compare(PgScript.Statement one, Connection plain, Connection probed)
            throws Exception {
        statements++;
        String sql = one.span().text();
        String bare = run(plain, sql);
        String other = run(probed, sql);
        Optional<PgRoutine> routine = PgRoutine.of(one);
        if (routine.isPresent() && routine.get().language().equals("plpgsql")) {
            routines++;
            try {
                Span body = routine.get().body().orElseThrow();
                PlParser.parse(body, routine.get().doubled());
                if (!other.startsWith("E ")) {
                    weave(routine.get(), probed);
                }
            } catch (NativeSyntaxException e) {
                if (!bare.startsWith("E ")) {
                    unread++;
                    System.out.println("not read " + e.span() + " " + e.getMessage());
                }
            }
        }
        if (!shown(bare).equals(shown(other))) {
            differ++;
            System.out.println(
                    "differs "
                            + one.span()
                            + "\n  as it is: "
                            + shown(bare)
                            + "\n  woven: "
                            + shown(other));
        }
    }

    private void weave(PgRoutine routine, Connection probed) throws Exception {
        PgCode code = new PgCode(probed, () -> null);
        code.made(routine);
        code.symbols();
        for (String text : code.woven(Probe.Detail.VALUES, Set.of())) {
            woven++;
            String said = run(probed, text);
            if (said.startsWith("E ")) {
                throw new IllegalStateException(said + "\n" + text);
            }
        }
    }

    private static String shown(String result) {
        return result.replaceAll("corpus_(plain|woven)", "corpus")
                .replaceAll("pg_temp_\\d+", "pg_temp")
                .replaceAll("(?<![\\d.])\\d{5,}(?![\\d.])", "N");
    }

    private static String run(Connection connection, String sql) {
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
                } else {
                    all.append(statement.getUpdateCount()).append('\n');
                }
                rows = statement.getMoreResults();
            }
            for (SQLWarning w = statement.getWarnings(); w != null; w = w.getNextWarning()) {
                if (!String.valueOf(w.getMessage()).startsWith("CANTINA ")) {
                    all.append("W ").append(w.getMessage()).append('\n');
                }
            }
        } catch (SQLException e) {
            ServerErrorMessage said =
                    e instanceof PSQLException known ? known.getServerErrorMessage() : null;
            all.append("E ").append(e.getSQLState()).append(' ');
            all.append(
                    said == null
                            ? e.getMessage()
                            : String.join(
                                    " / ",
                                    List.of(
                                            String.valueOf(said.getMessage()),
                                            String.valueOf(said.getDetail()),
                                            String.valueOf(said.getHint()),
                                            String.valueOf(said.getWhere()))));
        }
        return all.toString();
    }
}
