package dev.cantina.nativecode.mariadb;

import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.nativecode.ScriptLoader;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Runs the scripts of a project in MariaDB's own words, in the database of the run. A statement
 * that fails because something is not there yet is tried again after the rest.
 */
final class MariaLoader extends ScriptLoader<MariaScript.Statement> {
    /** No such table, routine, database, column of a view; a foreign key to what is not there. */
    private static final Set<Integer> MISSING = Set.of(1146, 1305, 1049, 1054, 1005, 1356, 1824);

    private static final Pattern NEAR = Pattern.compile("(?s)near '(.*)' at line (\\d+)\\s*$");

    private final Map<String, MariaRoutine> routines = new LinkedHashMap<>();
    private final Map<String, MariaPackage> packages = new LinkedHashMap<>();
    private final List<Problem> unread = new ArrayList<>();

    /** The session's {@code sql_mode}; empty where it is not known. */
    private String modes = "";

    MariaLoader(Connection connection) {
        super(connection);
    }

    /** What was made, by kind and name; the last of a name. */
    Map<String, MariaRoutine> routines() {
        return routines;
    }

    /** Heads and bodies of packages, by kind and name; the last of a name. */
    Map<String, MariaPackage> packages() {
        return packages;
    }

    /** What could not be read of them, though the server has taken it. */
    List<Problem> unread() {
        return unread;
    }

    private void take(MariaScript.Statement statement) {
        MariaRoutine.of(statement, modes).ifPresent(r -> routines.put(key(r.what(), r.name()), r));
        try {
            MariaPackage.of(statement, modes)
                    .ifPresent(p -> packages.put(key(p.body() ? "body" : "package", p.name()), p));
        } catch (NativeSyntaxException e) {
            unread.add(
                    Problem.advice(
                            e.span(),
                            "not-looked-into",
                            "this package runs, and can't be looked into: " + e.getMessage(),
                            "please report it, with this package"));
        }
    }

    static String key(String what, String name) {
        return what + " " + name.toLowerCase(Locale.ROOT);
    }

    /** All statements that have run, in that order. */
    List<MariaScript.Statement> statements() {
        return done();
    }

    @Override
    protected List<MariaScript.Statement> statements(Source script) throws NativeSyntaxException {
        return MariaScript.of(script);
    }

    @Override
    protected boolean isOfTrigger(MariaScript.Statement statement) {
        int stored = statement.stored();
        return stored >= 0 && statement.tokens().get(stored).is("trigger");
    }

    private static String modes(Statement sent) throws SQLException {
        try (ResultSet row = sent.executeQuery("SELECT @@sql_mode")) {
            row.next();
            return row.getString(1);
        }
    }

    /** Dumps set much for their own reading. */
    @Override
    protected void restore() throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute("SET NAMES utf8mb4");
            statement.execute(
                    "SET sql_mode = @@GLOBAL.sql_mode, time_zone = @@GLOBAL.time_zone,"
                            + " foreign_key_checks = 1, unique_checks = 1");
        }
        modes = "";
    }

    @Override
    protected Optional<Failure> run(MariaScript.Statement statement) throws SQLException {
        if (leavesThePlace(statement)) {
            say(
                    Problem.advice(
                            statement.span(),
                            "left-out",
                            "left out: a run has a database of its own",
                            "nothing depends on the name of the database here"));
            return Optional.empty();
        }
        try (Statement sent = connection.createStatement()) {
            sent.setEscapeProcessing(false);
            sent.execute(withoutDefiner(statement));
            if (modes.isEmpty() || statement.begins("set")) {
                modes = modes(sent);
            }
            take(statement);
            return Optional.empty();
        } catch (SQLException e) {
            if (connection.isClosed()) {
                throw e;
            }
            return Optional.of(
                    new Failure(MISSING.contains(e.getErrorCode()), problem(statement, e)));
        }
    }

    /** CREATE DATABASE and USE, which dumps begin with. */
    private static boolean leavesThePlace(MariaScript.Statement statement) {
        return statement.begins("use")
                || statement.begins("create", "database")
                || statement.begins("create", "schema")
                || statement.begins("drop", "database");
    }

    /** Whose a routine is on another server is nobody here: it is the run's own. */
    static String withoutDefiner(MariaScript.Statement statement) {
        Span span = statement.span();
        if (statement.begins("create")) {
            for (int i = 1; i + 2 < statement.tokens().size() && i < 6; i++) {
                if (statement.tokens().get(i).is("definer")) {
                    int end = i + 2;
                    while (end + 1 < statement.tokens().size()
                            && (statement.tokens().get(end + 1).kind() == MariaLexer.Kind.VARIABLE
                                    || statement.tokens().get(end + 1).is("("))) {
                        end += statement.tokens().get(end + 1).is("(") ? 2 : 1;
                    }
                    int from = statement.tokens().get(i).start();
                    int to = statement.tokens().get(end).end();
                    String text = span.text();
                    return text.substring(0, from - span.start())
                            // Lines stay what they are.
                            + text.substring(from - span.start(), to - span.start())
                                    .replaceAll("[^\\n]", " ")
                            + text.substring(to - span.start());
                }
            }
        }
        return span.text();
    }

    private static Problem problem(MariaScript.Statement statement, SQLException e) {
        Span whole = statement.span();
        String message = said(e);
        Matcher near = NEAR.matcher(message);
        Span place =
                whole.source()
                        .span(
                                whole.start(),
                                Math.min(whole.end(), statement.tokens().get(0).end()));
        if (near.find()) {
            int line = Integer.parseInt(near.group(2));
            place = at(whole, line, near.group(1));
            message = "there is an error in the syntax near '" + first(near.group(1)) + "'";
        }
        return Problem.error(place, e.getErrorCode() == 1064 ? "syntax" : "refused-sql", message);
    }

    /** What the server has said, without what its driver puts before it. */
    static String said(SQLException e) {
        return String.valueOf(e.getMessage()).replaceFirst("^\\(conn=\\d+\\) ", "");
    }

    private static String first(String text) {
        String line = text.strip().lines().findFirst().orElse("");
        return line.length() > 40 ? line.substring(0, 40) + "…" : line;
    }

    /** Where a text stands from a line of a statement on. */
    private static Span at(Span whole, int line, String near) {
        Source source = whole.source();
        int start = whole.start();
        for (int i = 1; i < line; i++) {
            int next = source.written().indexOf('\n', start);
            if (next < 0 || next >= whole.end()) {
                break;
            }
            start = next + 1;
        }
        // The server shows at most eighty characters of it.
        String shown = near.length() > 70 ? near.substring(0, 70) : near;
        int found = source.written().indexOf(shown, start);
        int at = found < 0 || found >= whole.end() ? start : found;
        int end = at;
        while (end < whole.end() && Character.isLetterOrDigit(source.written().charAt(end))) {
            end++;
        }
        return source.span(at, Math.min(whole.end(), Math.max(at + 1, end)));
    }
}
