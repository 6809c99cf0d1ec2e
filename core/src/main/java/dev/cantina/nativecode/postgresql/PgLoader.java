package dev.cantina.nativecode.postgresql;

import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.nativecode.ScriptLoader;
import dev.cantina.nativecode.ServerCode.Connector;
import dev.cantina.nativecode.postgresql.PgLexer.Token;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.io.IOException;
import java.io.StringReader;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.postgresql.PGConnection;
import org.postgresql.util.PSQLException;
import org.postgresql.util.ServerErrorMessage;

/**
 * Runs the scripts of a project in PostgreSQL's own words, in the connection's transaction. A
 * statement that fails because something is not there yet is tried again after the rest.
 */
final class PgLoader extends ScriptLoader<PgScript.Statement> {
    /** What it means that something is not there: the object, table, column, function, type. */
    private static final Set<String> MISSING =
            Set.of("42704", "42P01", "42703", "42883", "3F000", "2BP01", "42P17");

    private static final Pattern LINE = Pattern.compile("line (\\d+)(?: at [^\\n]*)?\\s*$");

    private final List<PgRoutine> routines = new ArrayList<>();
    private final Set<String> leftOut = new HashSet<>();
    private boolean withoutExtension;

    private final PgRoles roles;

    PgLoader(Connection connection, Connector connector) {
        super(connection);
        this.roles = new PgRoles(connection, connector);
    }

    /** The routines that were made, in the order of the texts. */
    List<PgRoutine> routines() {
        return routines;
    }

    /** All statements that have run, in that order. */
    List<PgScript.Statement> statements() {
        return done();
    }

    @Override
    protected List<PgScript.Statement> statements(Source script) throws NativeSyntaxException {
        return PgScript.of(script);
    }

    @Override
    public void finish() throws SQLException {
        super.finish();
        roles.finish();
    }

    @Override
    protected boolean isOfTrigger(PgScript.Statement statement) {
        return statement.begins("create", "trigger")
                || statement.begins("create", "or", "replace", "trigger")
                || statement.begins("create", "constraint", "trigger")
                || statement.begins("create", "event", "trigger")
                || statement.begins("create", "rule")
                || statement.begins("create", "or", "replace", "rule")
                || statement.begins("create", "policy")
                || statement.begins("comment", "on", "trigger")
                || statement.begins("alter", "trigger")
                || statement.begins("alter", "table")
                        && statement.tokens().stream()
                                .anyMatch(t -> t.is("trigger") || t.is("security"));
    }

    /** Dumps set much for their own reading. */
    @Override
    protected void restore() throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute("RESET ALL");
        }
    }

    @Override
    protected Optional<Failure> run(PgScript.Statement statement) throws SQLException {
        if (endsTransactions(statement)) {
            return Optional.empty();
        }
        try {
            Optional<List<Problem>> ofRoles = roles.run(statement);
            if (ofRoles.isPresent()) {
                ofRoles.get().forEach(this::say);
                return Optional.empty();
            }
        } catch (SQLException e) {
            return Optional.of(
                    new Failure(MISSING.contains(e.getSQLState()), problem(statement, e)));
        }
        try {
            if (statement.data().isPresent()) {
                copy(statement.span().text(), statement.data().get());
            } else {
                // One message for the three: there may be thousands.
                execute(MARK + ";" + statement.span().text() + "\n;" + RELEASE);
            }
            PgRoutine.of(statement).ifPresent(routines::add);
            return Optional.empty();
        } catch (SQLException e) {
            if (connection.isClosed()) {
                throw e;
            }
            execute("ROLLBACK TO SAVEPOINT cantina_load;" + RELEASE);
            return Optional.of(
                    new Failure(MISSING.contains(e.getSQLState()), problem(statement, e)));
        }
    }

    private static final String MARK = "SAVEPOINT cantina_load";
    private static final String RELEASE = "RELEASE SAVEPOINT cantina_load";

    private void execute(String sql) throws SQLException {
        try (Statement sent = connection.createStatement()) {
            sent.setEscapeProcessing(false);
            sent.execute(sql);
        }
    }

    private void copy(String statement, String data) throws SQLException {
        execute(MARK);
        try {
            connection
                    .unwrap(PGConnection.class)
                    .getCopyAPI()
                    .copyIn(statement, new StringReader(data));
        } catch (IOException e) {
            throw new SQLException(e);
        }
        execute(RELEASE);
    }

    /** The whole is one transaction, whatever a script says of its own. */
    static boolean endsTransactions(PgScript.Statement statement) {
        Token first = statement.tokens().get(0);
        return statement.tokens().size() <= 3
                && (first.is("begin")
                        || first.is("commit")
                        || first.is("end")
                        || statement.begins("start", "transaction"));
    }

    /** Tables that could not be made, since something is not here that another server may have. */
    Set<String> leftOut() {
        return leftOut;
    }

    private Problem problem(PgScript.Statement statement, SQLException e) {
        ServerErrorMessage said = e instanceof PSQLException p ? p.getServerErrorMessage() : null;
        String message = said == null ? String.valueOf(e.getMessage()) : said.getMessage();
        Span place = statement.span();
        boolean ofRole =
                "42704".equals(e.getSQLState())
                        && message.startsWith("role ")
                        && (statement.begins("grant")
                                || statement.begins("revoke")
                                || statement.begins("alter"));
        if (ofRole) {
            return Problem.advice(
                    place,
                    "left-out",
                    "left out, since " + message,
                    "a private server has no roles of others; nothing depends on it here");
        }
        if ("0LP01".equals(e.getSQLState())) {
            return Problem.advice(
                    place, "left-out", "left out, since " + message, "nobody acts as it here");
        }
        if (statement.begins("create", "extension")) {
            withoutExtension = true;
            return Problem.advice(
                    place,
                    "left-out",
                    "left out, since " + message,
                    "42501".equals(e.getSQLState())
                            ? "only a server's administrator may make it, which no project is; what"
                                    + " needs it is left out too"
                            : "what needs it is left out too; CANTINA_POSTGRESQL may name the"
                                    + " folder of a PostgreSQL that has it");
        }
        if (withoutExtension && MISSING.contains(e.getSQLState())) {
            int name = statement.begins("create", "table") ? 2 : -1;
            if (name > 0 && statement.tokens().size() > name) {
                leftOut.add(tableName(statement, name));
            }
            return Problem.advice(
                    said == null ? place : place(statement, said),
                    "left-out",
                    "left out, since " + message,
                    "it may belong to an extension that is not here");
        }
        if (said != null) {
            place = place(statement, said);
        }
        String hint = said == null ? null : said.getHint();
        String rule = "42601".equals(e.getSQLState()) ? "syntax" : "refused-sql";
        return hint == null
                ? Problem.error(place, rule, message)
                : Problem.error(place, rule, message, hint);
    }

    /** The name behind CREATE TABLE, with its schema. */
    private static String tableName(PgScript.Statement statement, int at) {
        List<Token> tokens = statement.tokens();
        StringBuilder name = new StringBuilder(tokens.get(at).text());
        for (int i = at + 1; i + 1 < tokens.size() && tokens.get(i).is("."); i += 2) {
            name.append('.').append(tokens.get(i + 1).text());
        }
        return name.toString();
    }

    /** Where in its statement the server has found something. */
    private static Span place(PgScript.Statement statement, ServerErrorMessage said) {
        Span whole = statement.span();
        String text = whole.source().written();
        if (said.getPosition() > 0) {
            int at = text.offsetByCodePoints(whole.start(), said.getPosition() - 1);
            return whole.source().span(at, Math.min(whole.end(), word(text, at)));
        }
        Matcher line = LINE.matcher(said.getWhere() == null ? "" : said.getWhere());
        if (line.find()) {
            PgRoutine routine = PgRoutine.of(statement).orElse(null);
            if (routine != null && routine.body().isPresent()) {
                return lineOf(routine.body().get(), Integer.parseInt(line.group(1)));
            }
        }
        return whole.source().span(whole.start(), Math.min(whole.end(), word(text, whole.start())));
    }

    /** A line of a body, counted as the server does: the first is that behind the quote. */
    static Span lineOf(Span body, int line) {
        Source source = body.source();
        int number = source.lineOf(body.start()) + line - 1;
        String text = source.line(number);
        int start = body.start();
        while (source.lineOf(start) < number && start < body.end()) {
            int next = source.written().indexOf('\n', start);
            if (next < 0) {
                break;
            }
            start = next + 1;
        }
        int indent = text.length() - text.stripLeading().length();
        int from = source.columnOf(start) == 1 ? start + indent : start;
        int end = Math.min(body.end(), from + Math.max(1, text.strip().length()));
        return source.span(Math.min(from, end), end);
    }

    private static int word(String text, int at) {
        int end = at;
        while (end < text.length() && Character.isLetterOrDigit(text.charAt(end))) {
            end++;
        }
        return Math.max(at + 1, end);
    }
}
