package dev.cantina.nativecode.postgresql;

import dev.cantina.database.postgresql.PostgresTables;
import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.nativecode.postgresql.PgLexer.Kind;
import dev.cantina.nativecode.postgresql.PgLexer.Token;
import dev.cantina.runtime.Program;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Predicate;
import java.util.regex.Pattern;

/**
 * Puts a time that can be set in the place of the server's (its documentation, 9.9.5, Current
 * Date/Time): texts are sent with functions of a schema of their own for those that tell the time.
 * What might ask for the time without being seen to is an obstacle.
 */
final class PgClock {
    /** The schema of the functions that tell the time that was set. */
    static final String SCHEMA = "cantina_clock";

    private static final Set<String> KEYWORDS =
            Set.of(
                    "current_date",
                    "current_time",
                    "current_timestamp",
                    "localtime",
                    "localtimestamp");

    private static final Set<String> FUNCTIONS =
            Set.of(
                    "now",
                    "transaction_timestamp",
                    "statement_timestamp",
                    "clock_timestamp",
                    "timeofday",
                    "age");

    /** What stands before a name that is no call of a function, though a bracket follows. */
    private static final Set<String> DECLARES =
            Set.of("function", "procedure", "routine", "aggregate", "table", "into", "exists");

    /** The same for a name that may be a table's as well. */
    private static final Set<String> TABLES =
            Set.of("on", "references", "as", "with", "recursive", "update", "join");

    /** Texts that are moments where a date or a time is wanted (8.5.1.4, Special Values). */
    private static final Set<String> MOMENTS = Set.of("now", "today", "tomorrow", "yesterday");

    /** The functions, which tell the server's time until one is set. */
    static final List<String> MADE =
            List.of(
                    "CREATE SCHEMA " + SCHEMA,
                    "GRANT USAGE ON SCHEMA " + SCHEMA + " TO PUBLIC",
                    made("now()", "timestamptz", "STABLE", set("now")),
                    made("transaction_timestamp()", "timestamptz", "STABLE", set("now")),
                    made(
                            "statement_timestamp()",
                            "timestamptz",
                            "STABLE",
                            set("statement_timestamp")),
                    made("clock_timestamp()", "timestamptz", "VOLATILE", set("clock_timestamp")),
                    made(
                            "timeofday()",
                            "text",
                            "VOLATILE",
                            "pg_catalog.to_char("
                                    + set("clock_timestamp")
                                    + ", 'Dy Mon DD HH24:MI:SS.US YYYY TZ')"),
                    keyword("current_date", "date"),
                    keyword("current_time", "timetz"),
                    keyword("current_timestamp", "timestamptz"),
                    keyword("localtime", "time"),
                    keyword("localtimestamp", "timestamp"),
                    rounded("current_time", "timetz"),
                    rounded("current_timestamp", "timestamptz"),
                    rounded("localtime", "time"),
                    rounded("localtimestamp", "timestamp"),
                    age("timestamptz"),
                    age("timestamp"),
                    made("age(pg_catalog.xid)", "int4", "STABLE", "pg_catalog.age($1)"),
                    "CREATE FUNCTION "
                            + SCHEMA
                            + ".checked(pg_catalog.text) RETURNS pg_catalog.text LANGUAGE plpgsql"
                            + " STABLE AS $f$ BEGIN IF pg_catalog.regexp_replace($1, '"
                            + SCHEMA
                            + "[.]\"?\\w+', '', 'g') OPERATOR(pg_catalog.~*)"
                            + " $r$\\m(current_(date|time|timestamp)|localtime(stamp)?)\\M"
                            + "|\\m(now|(transaction|statement|clock)_timestamp|timeofday)\\s*\\("
                            + "|\\mage\\s*\\([^,()]*\\)"
                            + "|'\\s*(now|today|tomorrow|yesterday)\\M$r$ THEN RAISE EXCEPTION"
                            + " 'the time can''t be set for a statement that is put together: %', $1"
                            + " USING ERRCODE = 'assert_failure'; END IF; RETURN $1; END $f$");

    /** What is found in the statement that is read. */
    private List<Problem> obstacles = new ArrayList<>();

    private final Map<PgScript.Statement, List<Problem>> ofStatements = new LinkedHashMap<>();
    private final Map<Source, List<PgScript.Statement>> scripts = new LinkedHashMap<>();
    private final Set<String> own = new HashSet<>();
    private final List<PgScript.Statement> all = new ArrayList<>();
    private PgReach reach;

    /**
     * @param scripts all of a project: what one of them says may matter to another
     */
    PgClock(List<Source> scripts) {
        scripts.forEach(this::take);
    }

    private void take(Source script) {
        try {
            List<PgScript.Statement> statements = PgScript.of(script);
            scripts.put(script, statements);
            all.addAll(statements);
            statements.forEach(s -> PgRoutine.of(s).ifPresent(r -> own.add(r.name())));
            own.retainAll(FUNCTIONS);
            reach = null;
        } catch (NativeSyntaxException e) {
            // The loader says it.
            return;
        }
    }

    /** One more routine, as it is made beside the others. */
    String made(String sql) {
        Source source = new Source("a copy", sql);
        take(source);
        return clocked(source).text();
    }

    /** The scripts with the time that is set in the place of the server's. */
    List<Source> clocked(List<Source> all) {
        return all.stream().map(this::clocked).toList();
    }

    private Source clocked(Source script) {
        Source.Rewriting rewriting = new Source.Rewriting(script);
        try {
            for (PgScript.Statement statement : scripts.getOrDefault(script, List.of())) {
                TreeMap<Integer, Put> puts = new TreeMap<>();
                obstacles = new ArrayList<>();
                statement(script, statement, puts);
                puts.values().forEach(p -> rewriting.put(p.place(), p.words()));
                ofStatements.put(statement, obstacles);
            }
        } catch (NativeSyntaxException e) {
            // The loader says it.
            return script;
        }
        return rewriting.source();
    }

    /** Words in the place of others. */
    private record Put(Span place, String words) {}

    /**
     * A statement that somebody has typed, as it is sent.
     *
     * @throws Program.UnsoundException where it, or what it may set off, asks for the server's time
     */
    String sent(String sql) {
        Source source = new Source("typed", sql);
        PgClock typed = new PgClock(List.of(source));
        String sent = typed.clocked(source).text();
        List<Problem> found = new ArrayList<>();
        typed.ofStatements.values().forEach(found::addAll);
        refuse(sql.strip(), found);
        admit(sql);
        return sent;
    }

    /** The same of what is only to be looked at, with values that may look like moments. */
    static String looked(String sql) {
        Source source = new Source("typed", sql);
        return new PgClock(List.of(source)).clocked(source).text();
    }

    /**
     * Looks at what a text may set off.
     *
     * @throws Program.UnsoundException where that asks for the server's time
     */
    void admit(String text) {
        try {
            if (reach == null) {
                reach = new PgReach(all);
            }
            PgReach.Reached reached =
                    reach.from(PgLexer.read(new Source("typed", text), 0, text.length(), false));
            List<Problem> found = new ArrayList<>();
            ofStatements.forEach(
                    (statement, problems) -> {
                        if (reached.all() || reached.statements().contains(statement)) {
                            found.addAll(problems);
                        }
                    });
            refuse(text.strip(), found);
        } catch (NativeSyntaxException e) {
            // The server says it.
            return;
        }
    }

    private static void refuse(String what, List<Problem> found) {
        if (!found.isEmpty()) {
            throw new Program.UnsoundException(what, found);
        }
    }

    private static Problem obstacle(Span place, String what) {
        return Problem.error(
                place,
                "clock",
                "the time can't be set here: " + what,
                "pass the moment to the routine, or leave clock out");
    }

    private void statement(Source source, PgScript.Statement statement, Map<Integer, Put> puts)
            throws NativeSyntaxException {
        PgRoutine routine = PgRoutine.of(statement).orElse(null);
        if (routine == null) {
            boolean anonymous = statement.begins("do");
            code(source, statement.tokens(), anonymous, puts);
            for (Token token : anonymous ? statement.tokens() : List.<Token>of()) {
                if (token.kind() == Kind.DOLLAR_STRING) {
                    Span body = inside(source, token);
                    code(source, PgLexer.read(source, body.start(), body.end(), false), true, puts);
                }
            }
            return;
        }
        boolean read = routine.language().equals("plpgsql") || routine.language().equals("sql");
        List<Token> head = new ArrayList<>(statement.tokens());
        routine.body()
                .ifPresent(b -> head.removeIf(t -> t.start() < b.end() && t.end() > b.start()));
        code(source, head, false, puts);
        if (read && routine.body().isPresent()) {
            Span body = routine.body().get();
            code(
                    source,
                    PgLexer.read(source, body.start(), body.end(), routine.doubled()),
                    true,
                    puts);
        } else if (!read || statement.tokens().stream().anyMatch(PgClock::isEscaped)) {
            if (asks(statement.span().text())) {
                obstacles.add(
                        obstacle(
                                routine.nameSpan(),
                                routine.name() + " is in a language or in quotes not read here"));
            }
        }
    }

    private static void put(Map<Integer, Put> puts, Span place, String words) {
        puts.put(place.start(), new Put(place, words));
    }

    private static boolean isEscaped(Token token) {
        return token.kind() == Kind.STRING && !token.text().startsWith("'");
    }

    private static Span inside(Source source, Token dollar) {
        int tag = dollar.text().indexOf('$', 1) + 1;
        return source.span(dollar.start() + tag, dollar.end() - tag);
    }

    /**
     * @param routine whether it is the inside of one, where texts may become statements
     */
    private void code(Source source, List<Token> tokens, boolean routine, Map<Integer, Put> puts)
            throws NativeSyntaxException {
        boolean executed = false;
        boolean raised = false;
        for (int i = 0; i < tokens.size(); i++) {
            Token token = tokens.get(i);
            Token before = i > 0 ? tokens.get(i - 1) : null;
            if (token.is(";") || token.is("loop") || token.is("using")) {
                executed = false;
                raised &= !token.is(";");
            } else if (token.is("execute")) {
                executed = routine;
                if (routine) {
                    checked(source, tokens, i + 1, puts);
                }
            } else if (token.is("raise")) {
                raised = routine;
            } else if (token.kind() == Kind.STRING || token.kind() == Kind.DOLLAR_STRING) {
                boolean joined =
                        before != null && before.is("||")
                                || i + 1 < tokens.size() && tokens.get(i + 1).is("||");
                if (!joined) {
                    moment(source, token, raised || said(tokens));
                }
                text(source, token, executed, raised || said(tokens), routine, puts);
            } else if (before != null && before.is("reset") && token.is("all")
                    || token.is("discard") && routine) {
                obstacles.add(
                        obstacle(
                                source.span(token.start(), token.end()),
                                "settings are forgotten, and the time is one"));
            } else if (token.kind() == Kind.WORD && KEYWORDS.contains(token.text())) {
                boolean name = before != null && (before.is(".") || before.is("as"));
                if (!name) {
                    boolean bracket = i + 1 < tokens.size() && tokens.get(i + 1).is("(");
                    put(
                            puts,
                            source.span(token.start(), token.end()),
                            SCHEMA + ".\"" + token.text() + '"' + (bracket ? "" : "()"));
                }
            } else if (token.isName()
                    && FUNCTIONS.contains(token.text())
                    && i + 1 < tokens.size()
                    && tokens.get(i + 1).is("(")) {
                call(source, tokens, i, puts);
            }
        }
    }

    /**
     * A statement that is put together is looked at when it is there: what asks for the time in it
     * ends the run, and no handler of OTHERS takes that ("PL/pgSQL", 43.6.8).
     */
    private static void checked(
            Source source, List<Token> tokens, int from, Map<Integer, Put> puts) {
        int depth = 0;
        int to = from;
        while (to < tokens.size() && (depth > 0 || ENDS.stream().noneMatch(tokens.get(to)::is))) {
            depth += tokens.get(to).is("(") || tokens.get(to).is("[") ? 1 : 0;
            depth -= tokens.get(to).is(")") || tokens.get(to).is("]") ? 1 : 0;
            to++;
        }
        boolean plain =
                to == from + 1
                        && (tokens.get(from).kind() == Kind.STRING
                                || tokens.get(from).kind() == Kind.DOLLAR_STRING);
        if (to > from && !plain) {
            int start = tokens.get(from).start();
            int end = tokens.get(to - 1).end();
            put(puts, source.span(start, start), SCHEMA + ".checked((");
            put(puts, source.span(end, end), ")::pg_catalog.text)");
        }
    }

    /** What stands behind the expression of EXECUTE. */
    private static final Set<String> ENDS = Set.of(";", "into", "using", "loop");

    /** Whether its texts are for people alone. */
    private static boolean said(List<Token> tokens) {
        return tokens.get(0).is("comment");
    }

    private void call(Source source, List<Token> tokens, int at, Map<Integer, Put> puts) {
        Token token = tokens.get(at);
        Token before = at > 0 ? tokens.get(at - 1) : null;
        if (token.text().equals("age") && arguments(tokens, at + 1) != 1) {
            return;
        }
        if (before != null && before.is(".")) {
            Token schema = at > 1 ? tokens.get(at - 2) : null;
            if (schema != null && schema.isName() && schema.text().equals("pg_catalog")) {
                put(puts, source.span(schema.start(), schema.end()), SCHEMA);
            }
            return;
        }
        boolean declared = before != null && DECLARES.stream().anyMatch(before::is);
        boolean table = before != null && TABLES.stream().anyMatch(before::is);
        if (declared || table && token.text().equals("age")) {
            return;
        }
        if (own.contains(token.text())) {
            obstacles.add(
                    obstacle(
                            source.span(token.start(), token.end()),
                            "the project has a function " + token.text() + " of its own"));
            return;
        }
        put(puts, source.span(token.start(), token.start()), SCHEMA + ".");
    }

    /** How many arguments stand in the brackets that begin at a place. */
    private static int arguments(List<Token> tokens, int open) {
        int depth = 0;
        int count = 0;
        for (int i = open; i < tokens.size(); i++) {
            depth += tokens.get(i).is("(") || tokens.get(i).is("[") ? 1 : 0;
            depth -= tokens.get(i).is(")") || tokens.get(i).is("]") ? 1 : 0;
            if (depth == 0) {
                break;
            }
            count = Math.max(count, i > open ? 1 : 0);
            count += depth == 1 && tokens.get(i).is(",") ? 1 : 0;
        }
        return count;
    }

    /** A text that is a moment of the server's where a date or a time is wanted. */
    private void moment(Source source, Token token, boolean said) {
        Span place = source.span(token.start(), token.end());
        String text =
                token.kind() == Kind.DOLLAR_STRING ? inside(source, token).text() : token.text();
        String held = text.replace("'", "").strip().toLowerCase(Locale.ROOT);
        String first = held.split("\\s", 2)[0];
        boolean moment = MOMENTS.contains(first) && (held.equals(first) || hasTime(held));
        // Letters that are written by their numbers may be any.
        boolean hidden = isEscaped(token) && held.matches("(e|u&).{0,80}") && NUMBERED.test(held);
        if (!said && (moment || hidden)) {
            obstacles.add(
                    obstacle(
                            place,
                            "a date or a time made of the text "
                                    + token.text()
                                    + (hidden ? " may be" : " is")
                                    + " the server's"));
        }
    }

    private static final Predicate<String> NUMBERED =
            Pattern.compile("\\\\[0-9xu+a-f]").asPredicate();

    private void text(
            Source source,
            Token token,
            boolean executed,
            boolean said,
            boolean routine,
            Map<Integer, Put> puts)
            throws NativeSyntaxException {
        if (said || !routine) {
            return;
        }
        Span place = source.span(token.start(), token.end());
        boolean dollar = token.kind() == Kind.DOLLAR_STRING;
        boolean plain = dollar || token.text().startsWith("'") && !token.text().startsWith("''");
        if (executed && plain) {
            Span body =
                    dollar
                            ? inside(source, token)
                            : source.span(token.start() + 1, token.end() - 1);
            code(source, PgLexer.read(source, body.start(), body.end(), !dollar), false, puts);
        } else if (executed && asks(token.text())) {
            obstacles.add(obstacle(place, "a statement is made of a text with escapes"));
        }
    }

    private static boolean hasTime(String moment) {
        return moment.matches("\\w+\\s+[0-9:.+-]+");
    }

    /** Whether a text has a word that tells the time, for all that is known. */
    private static boolean asks(String text) {
        String lower = text.toLowerCase(Locale.ROOT);
        return KEYWORDS.stream().anyMatch(lower::contains)
                || MOMENTS.stream().anyMatch(m -> lower.contains("'" + m + "'"))
                || FUNCTIONS.stream().anyMatch(f -> calls(lower, f));
    }

    private static boolean calls(String text, String function) {
        for (int at = text.indexOf(function); at >= 0; at = text.indexOf(function, at + 1)) {
            int end = at + function.length();
            while (end < text.length() && Character.isWhitespace(text.charAt(end))) {
                end++;
            }
            boolean whole = at == 0 || !Character.isJavaIdentifierPart(text.charAt(at - 1));
            if (whole && end < text.length() && text.charAt(end) == '(') {
                return true;
            }
        }
        return false;
    }

    private static String made(String head, String type, String volatility, String value) {
        return "CREATE FUNCTION "
                + SCHEMA
                + '.'
                + head
                + " RETURNS pg_catalog."
                + type
                + " LANGUAGE sql "
                + volatility
                + " AS $$ SELECT "
                + value
                + " $$";
    }

    /** The moment that is set, or else what the server has. */
    private static String set(String server) {
        return "coalesce(pg_catalog.to_timestamp(CAST(nullif(pg_catalog.current_setting('"
                + PostgresTables.MOMENT
                + "', TRUE), '') AS pg_catalog.float8)), pg_catalog."
                + server
                + "())";
    }

    private static String keyword(String name, String type) {
        return made(
                '"' + name + "\"()",
                type,
                "STABLE",
                "CAST(" + set("now") + " AS pg_catalog." + type + ")");
    }

    /** The same with so many digits behind the second. */
    private static String rounded(String name, String type) {
        StringBuilder digits = new StringBuilder("CASE $1");
        for (int i = 0; i < 6; i++) {
            digits.append(" WHEN ").append(i).append(" THEN CAST(").append(set("now"));
            digits.append(" AS pg_catalog.").append(type).append('(').append(i).append("))");
        }
        digits.append(" ELSE CAST(").append(set("now")).append(" AS pg_catalog.").append(type);
        return made(
                '"' + name + "\"(pg_catalog.int4)",
                type,
                "STABLE",
                digits.append(") END").toString());
    }

    private static String age(String type) {
        return made(
                "age(pg_catalog." + type + ")",
                "interval",
                "STABLE",
                "pg_catalog.age(CAST(CAST("
                        + set("now")
                        + " AS pg_catalog.date) AS pg_catalog."
                        + type
                        + "), $1)");
    }
}
