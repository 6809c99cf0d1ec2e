package dev.cantina.nativecode.mariadb;

import dev.cantina.nativecode.NativeFrames;
import dev.cantina.nativecode.NativeStatement;
import dev.cantina.nativecode.NativeStatement.Kind;
import dev.cantina.nativecode.NativeStatement.Part;
import dev.cantina.nativecode.NativeStatement.Role;
import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.nativecode.NativeVariable;
import dev.cantina.nativecode.ProbeFollower;
import dev.cantina.nativecode.QuietStatements;
import dev.cantina.nativecode.mariadb.MariaLexer.Token;
import dev.cantina.runtime.Probe;
import dev.cantina.syntax.Span;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.IntFunction;

/**
 * Writes a routine or trigger once more with a probe before each statement, on that statement's own
 * line. A probe does nothing until somebody watches: {@code @cantina_mode}.
 *
 * <p>A probe is a call, which empties what the diagnostics area and {@code ROW_COUNT()} tell of the
 * statement before it: see {@link MariaAsked}. A statement that asks the diagnostics area has its
 * probe behind it.
 */
class MariaWeaver {
    /**
     * What holds the value of a function until that is told. It is called what the server calls a
     * function's value where it says that one does not fit.
     */
    protected static final String GIVEN = "`(null)`";

    private record Edit(int at, int to, String text, int order) {}

    private final MariaRoutine routine;
    private final int number;
    private final Map<String, List<MariaInside.Column>> rows;
    private final Optional<Integer> standsIn;
    private final List<MariaInside.Parameter> parameters;
    private final List<Edit> edits = new ArrayList<>();
    private final Optional<SqlType> returns;
    private final MariaAsked asked;
    private final boolean counters;
    private final boolean values;
    private final Set<Integer> quiet;
    private final Set<Integer> changes;
    private final boolean isShort;
    private Map<String, NativeVariable> outside = Map.of();
    private int places;

    /**
     * @param number of the routine, for its places
     * @param rows the columns of a trigger's rows, by {@code NEW} and {@code OLD}, and of rows of a
     *     type by that
     * @param standsIn its number where it can be replaced for a run
     * @param returns what a function gives
     * @param quiet the statements that can set off no other routine
     * @param detail what is wanted of it
     */
    MariaWeaver(
            MariaRoutine routine,
            int number,
            Map<String, List<MariaInside.Column>> rows,
            Optional<Integer> standsIn,
            List<MariaInside.Parameter> parameters,
            Optional<SqlType> returns,
            QuietStatements.Quiet quiet,
            Probe.Detail detail) {
        this.asked =
                new MariaAsked(routine.statement().tokens(), routine.span().source().written());
        boolean order = detail == Probe.Detail.ORDER;
        // What is asked of a statement afterwards is kept where it is told.
        boolean loud = asked.isAny();
        this.changes = order && !loud ? quiet.changes() : Set.of();
        this.quiet = order ? new HashSet<>(quiet.all()) : Set.of();
        if (order && loud) {
            this.quiet.removeAll(quiet.changes());
        }
        this.isShort = detail == Probe.Detail.ORDER;
        this.counters = detail == Probe.Detail.COUNTS;
        this.values = detail == Probe.Detail.HOLD || detail == Probe.Detail.VALUES;
        this.routine = routine;
        this.number = number;
        this.rows = rows;
        this.standsIn = standsIn;
        this.parameters = parameters;
        this.returns = returns;
    }

    /**
     * A place as a probe tells it: {@link MariaProbes} knows by it where it is inside a statement.
     */
    protected final long spot(int statement) {
        return place(number, statement)
                + (routine.what().equals("procedure") ? 0 : MariaProbes.INSIDE);
    }

    static long place(int routine, int statement) {
        return ((long) routine << 20) + statement;
    }

    static int routineOf(long place) {
        return (int) (place >> 20);
    }

    static int statementOf(long place) {
        return (int) (place & 0xfffff);
    }

    /** A name without the quotes that it is written in. */
    static String key(String written) {
        String quote = written.isEmpty() ? "" : written.substring(0, 1);
        return quote.equals("`") || quote.equals("\"")
                ? written.substring(1, written.length() - 1).replace(quote + quote, quote)
                : written;
    }

    /** A text as the routine would write it. */
    private String literal(String text) {
        boolean escapes = !MariaRoutine.has(routine.modes(), "NO_BACKSLASH_ESCAPES");
        String written = escapes ? text.replace("\\", "\\\\") : text;
        return "'" + written.replace("'", "''") + "'";
    }

    /**
     * The statement that creates the woven copy.
     *
     * @param before the trigger that runs behind it
     */
    String weave(NativeStatement body, List<NativeVariable> outside, Optional<String> before)
            throws NativeSyntaxException {
        Span whole = routine.span();
        List<Token> tokens = routine.statement().tokens();
        Map<String, NativeVariable> scope = new LinkedHashMap<>();
        outside.forEach(v -> scope.put(key(v.name()), v));
        this.outside = new LinkedHashMap<>(scope);
        places = counted(body);
        if (!quiet.isEmpty() && !asked.isAny() && !handles()) {
            runs(body);
        }
        int start = tokens.get(routine.body()).start();
        int last = tokens.get(tokens.size() - 1).end();
        insert(
                start,
                before.filter(b -> !routine.isOrdered())
                                .map(b -> " PRECEDES " + MariaCode.quoted(b) + " ")
                                .orElse("")
                        + head());
        walk(body, scope);
        insert(last, "; " + ended() + " SET @cantina_depth = cantina_d - 1; END");
        if (asked.asksCounts()) {
            for (int i = routine.body(); i + 2 < tokens.size(); i++) {
                boolean call = tokens.get(i + 1).is("(") && tokens.get(i + 2).is(")");
                if (call && (tokens.get(i).is("row_count") || tokens.get(i).is("found_rows"))) {
                    edits.add(
                            new Edit(
                                    tokens.get(i).start(),
                                    tokens.get(i + 2).end(),
                                    tokens.get(i).is("row_count") ? "cantina_r" : "cantina_f",
                                    edits.size()));
                }
            }
        }
        edits.sort(
                Comparator.comparingInt(Edit::at)
                        .thenComparing(e -> e.to() > e.at())
                        .thenComparingInt(Edit::order));
        String text = MariaLoader.withoutDefiner(routine.statement());
        StringBuilder woven = new StringBuilder();
        int from = whole.start();
        for (Edit one : edits) {
            woven.append(text, from - whole.start(), one.at - whole.start());
            woven.append(one.text);
            from = one.to;
        }
        woven.append(text, from - whole.start(), whole.end() - whole.start());
        return woven.toString();
    }

    /** What stands at the end of the whole. */
    protected String ended() {
        return counters
                ? told()
                : values
                        ? stop(ProbeFollower.ENDED, outside, "", "")
                        : (quiet.isEmpty() ? "" : tell(ProbeFollower.COUNTED, counts()) + " ")
                                + tell(ProbeFollower.ENDED, "'null'");
    }

    /**
     * The statements that stand in a row and have one counter, that of the first: which of them it
     * is, by their numbers.
     */
    private final Map<Integer, NativeStatement> first = new HashMap<>();

    /** Such rows, by their first. */
    private final Map<NativeStatement, List<NativeStatement>> inARow = new HashMap<>();

    private void runs(NativeStatement s) {
        for (Part part : s.parts()) {
            List<NativeStatement> row = new ArrayList<>();
            for (NativeStatement one : part.statements()) {
                boolean counted =
                        one.kind() == Kind.SIMPLE
                                && quiet.contains(one.at())
                                && one.begins() == one.span().start();
                if (!counted) {
                    take(row);
                    row = new ArrayList<>();
                    runs(one);
                } else {
                    row.add(one);
                }
            }
            take(row);
        }
    }

    private void take(List<NativeStatement> row) {
        if (row.size() > 1) {
            row.forEach(one -> first.put(one.at(), row.get(0)));
            inARow.put(row.get(0), row);
        }
    }

    /** Whether a condition may end a statement and not the routine. */
    private boolean handles() {
        return routine.statement().tokens().stream().anyMatch(t -> t.is("handler"));
    }

    /** What counts how often a statement has run. */
    private String counter(int statement) {
        return "cantina_k" + (first.containsKey(statement) ? first.get(statement).at() : statement);
    }

    /** The same at a statement: those behind it in its row have not run yet. */
    private String counts(int at) {
        NativeStatement row = first.get(at);
        return counts(
                i -> counter(i) + (i > at && row != null && first.get(i) == row ? " - 1" : ""));
    }

    /** How often each statement that can set off no other has run so far. */
    private String counts() {
        return counts(this::counter);
    }

    private String counts(IntFunction<String> counter) {
        List<String> all = new ArrayList<>();
        for (int i = 0; i < places; i++) {
            all.add(quiet.contains(i) ? counter.apply(i) : "0");
        }
        String counts = "JSON_ARRAY(" + String.join(", ", all) + ")";
        if (changes.isEmpty()) {
            return counts;
        }
        List<String> rows = new ArrayList<>();
        for (int i = 0; i < places; i++) {
            rows.add(changes.contains(i) ? "cantina_r" + i : "0");
        }
        return "JSON_ARRAY(" + counts + ", JSON_ARRAY(" + String.join(", ", rows) + "))";
    }

    /** Whether a function's value is told before it is given. */
    protected boolean tellsValue() {
        return values && routine.what().equals("function");
    }

    /** Whether a handler may let the routine go on behind a statement that has failed. */
    private boolean goesOn() {
        List<Token> tokens = routine.statement().tokens();
        boolean goesOn = false;
        for (int i = 0; i + 1 < tokens.size(); i++) {
            goesOn |= tokens.get(i).is("continue") && tokens.get(i + 1).is("handler");
        }
        return goesOn;
    }

    /** What a function returns, as its head says it. */
    private String returnedType() {
        List<Token> tokens = routine.statement().tokens();
        int at = 0;
        while (!tokens.get(at).is("returns")) {
            at++;
        }
        int last = at + 1;
        while (last + 1 < routine.body()
                && !MariaRoutine.CHARACTERISTICS.contains(tokens.get(last + 1).text())) {
            last++;
        }
        return routine.span()
                .source()
                .written()
                .substring(tokens.get(at).end(), tokens.get(last).end())
                .strip();
    }

    /**
     * RETURN, whose value is told before it is given. Where it fails and a handler lets the
     * function go on, it has given nothing: a SELECT tells the two apart.
     *
     * @param telling tells it
     */
    protected final void give(NativeStatement s, String telling) {
        int start = s.span().start();
        String text = s.span().text();
        int end = s.span().end() - (text.endsWith(";") ? 1 : 0);
        boolean closed = text.endsWith(";");
        boolean goesOn = goesOn();
        String given = telling + " SET @cantina_depth = cantina_d - 1; RETURN " + GIVEN;
        replace(start, start + "RETURN".length(), goesOn ? "SELECT" : "SET " + GIVEN + " =");
        if (goesOn) {
            insert(end, ", 1 INTO " + GIVEN + ", cantina_g");
        }
        insert(
                s.span().end(),
                (closed ? " " : "; ")
                        + (goesOn ? "IF cantina_g THEN " + given + "; END IF" : given)
                        + (closed ? ";" : ""));
    }

    /** Tells something where somebody watches. */
    protected final String tell(int what, String values) {
        return "IF @cantina_mode THEN " + telling(what, values) + " END IF;";
    }

    /** How much is told at once; inside a statement no table is written if that can be helped. */
    private static final int MUCH = 8000;

    private static final int MUCH_INSIDE = 400_000;

    /**
     * Tells a place. Where nothing waits and no values are told it does so by itself, since a call
     * takes longer than most statements.
     */
    private String telling(int what, String values) {
        if (!isShort) {
            return "CALL cantina_at(cantina_a, cantina_d, " + spot(what) + ", " + values + ");";
        }
        return "SET @cantina_depth = cantina_d, @cantina_told = CONCAT(@cantina_told, '{\"a\":',"
                + " cantina_a, ',\"d\":', cantina_d, ',\"p\":"
                + place(number, what)
                + ",\"w\":', COALESCE(PREVIOUS VALUE FOR cantina_numbers, 0), ',\"t\":',"
                + " CAST(UNIX_TIMESTAMP(SYSDATE(6)) * 1000000 AS INTEGER), ',\"v\":', "
                + values
                + ", '}', CHAR(10 USING utf8mb4)); IF LENGTH(@cantina_told) > "
                + (routine.what().equals("procedure") ? MUCH : MUCH_INSIDE)
                + " THEN CALL cantina_flush(); END IF;";
    }

    /** How many places have a counter. */
    protected int counted(NativeStatement body) {
        return places(body);
    }

    /** How many statements there are. */
    private static int places(NativeStatement s) {
        int places = s.at() + 1;
        for (Part part : s.parts()) {
            for (NativeStatement inside : part.statements()) {
                places = Math.max(places, places(inside));
            }
        }
        return places;
    }

    /** Tells how often each statement was reached, where one was more than once. */
    protected final String told() {
        if (places == 0) {
            return "";
        }
        List<String> all = new ArrayList<>();
        for (int i = 0; i < places; i++) {
            all.add("cantina_k" + i);
        }
        String list = String.join(", ", all);
        return "IF GREATEST(0, "
                + list
                + ") > 1 THEN CALL cantina_at(cantina_a, cantina_d, "
                + spot(ProbeFollower.COUNTED)
                + ", JSON_ARRAY("
                + list
                + ")); END IF;";
    }

    /** Says a stretch in other words. */
    protected final void replace(int from, int to, String text) {
        edits.add(new Edit(from, to, text, edits.size()));
    }

    protected final void insert(int at, String text) {
        edits.add(new Edit(at, at, text, edits.size()));
    }

    /** What a stand-in of a function gives: bytes are told in digits, and bits as a number. */
    private String returned() {
        String text = "JSON_VALUE(@cantina_c, '$.r')";
        if (returns.map(t -> t instanceof SqlType.Bytes).orElse(false)) {
            return "UNHEX(" + text + ")";
        }
        return returns.map(MariaCode.WIDEST::equals).orElse(false)
                ? "CAST(" + text + " AS DECIMAL(20, 0))"
                : text;
    }

    /** The block around the whole, which knows what activation this is, and may stand in for it. */
    private String head() {
        StringBuilder head =
                new StringBuilder(
                        "cantina_top: BEGIN DECLARE cantina_a BIGINT DEFAULT (@cantina_act :="
                                + " COALESCE(@cantina_act, 0) + 1); DECLARE cantina_d INT DEFAULT"
                                + " (@cantina_depth := COALESCE(@cantina_depth, 0) + 1);");
        head.append(asked.declarations()).append(declarations());
        for (int i = 0; i < places; i++) {
            boolean own = !first.containsKey(i) || first.get(i).at() == i;
            if (counters || quiet.contains(i) && own) {
                head.append(" DECLARE cantina_k").append(i).append(" BIGINT DEFAULT 0;");
            }
        }
        for (int change : changes) {
            head.append(" DECLARE cantina_r").append(change).append(" BIGINT DEFAULT 0;");
        }
        standsIn.ifPresent(
                n -> {
                    List<String> pairs = new ArrayList<>();
                    List<String> gives = new ArrayList<>();
                    for (int i = 0; i < parameters.size(); i++) {
                        MariaInside.Parameter one = parameters.get(i);
                        String name = MariaCode.quoted(one.name());
                        if (one.input()) {
                            pairs.add("'" + i + "', " + MariaInside.told(name, one.type()));
                        }
                        if (one.output()) {
                            gives.add(
                                    "SET "
                                            + name
                                            + " = "
                                            + MariaInside.given(
                                                    "JSON_VALUE(@cantina_c, '$.\"" + i + "\"')",
                                                    one.type())
                                            + ";");
                        }
                    }
                    head.append(" IF @cantina_s")
                            .append(n)
                            .append(" THEN CALL cantina_at(0, 0, ")
                            .append(-(n + 1))
                            .append(", JSON_OBJECT(")
                            .append(String.join(", ", pairs))
                            .append("));")
                            .append(
                                    " IF JSON_EXISTS(@cantina_c, '$.state') THEN SET @cantina_x ="
                                            + " JSON_VALUE(@cantina_c, '$.message'); CALL"
                                            + " cantina_raise(JSON_VALUE(@cantina_c, '$.state'),"
                                            + " @cantina_x); END IF; ")
                            .append(String.join(" ", gives))
                            .append(
                                    routine.what().equals("function")
                                            ? " RETURN " + returned() + ";"
                                            : " LEAVE cantina_top;")
                            .append(" END IF;");
                });
        return head.append(asked.beginning()).append(' ').toString();
    }

    /** What else is declared. */
    protected String declarations() {
        return tellsValue()
                ? " DECLARE cantina_g INT DEFAULT 0; DECLARE " + GIVEN + " " + returnedType() + ";"
                : "";
    }

    /** Something is done before a statement and what is in it are gone through. */
    protected void reach(NativeStatement s) {}

    /** Whether the probe of a statement that asks the diagnostics area stands behind it. */
    protected boolean standsBehind(boolean isAnswered) {
        return true;
    }

    private void walk(NativeStatement s, Map<String, NativeVariable> outer) {
        reach(s);
        if (s.at() >= 0) {
            boolean asks = s.what().equals("GET DIAGNOSTICS") || s.what().equals("SHOW");
            String probe = probe(s, outer);
            boolean simple = s.kind() == Kind.SIMPLE && !isJump(s) && asked.isAny();
            Optional<MariaAsked.Answer> answer =
                    s.what().equals("GET DIAGNOSTICS") ? asked.answer(s) : Optional.empty();
            answer.ifPresent(a -> insert(s.span().end(), a.behind()));
            boolean behind = asks && standsBehind(answer.isPresent());
            insert(behind ? s.span().end() : s.begins(), probe);
            answer.ifPresent(a -> insert(s.begins(), a.before()));
            if (changes.contains(s.at())) {
                insert(
                        s.span().end(),
                        (s.span().text().endsWith(";") ? "" : ";")
                                + counted(s.at())
                                + (s.span().text().endsWith(";") ? ";" : ""));
            }
            List<NativeStatement> row = inARow.getOrDefault(first.get(s.at()), List.of());
            if (!row.isEmpty() && row.get(row.size() - 1) == s) {
                insert(s.span().end(), " ELSE " + untold(row) + " END IF;");
            }
            if (simple && answer.isEmpty()) {
                insert(s.begins(), asked.before(s));
                insert(s.span().end(), asked.after(s, outer));
            }
        }
        Map<String, NativeVariable> scope = new LinkedHashMap<>(outer);
        s.declared().forEach(v -> scope.put(key(v.name()), v));
        for (Part part : s.parts()) {
            for (NativeStatement inside : part.statements()) {
                boolean handler = part.role() == Role.HANDLER;
                boolean wraps = handler && inside.kind() != Kind.BLOCK;
                if (wraps) {
                    insert(inside.begins(), "BEGIN ");
                }
                List<NativeStatement> body = wraps ? List.of(inside) : body(inside);
                boolean keeps = handler && asked.isAny() && !body.isEmpty();
                if (keeps) {
                    insert(body.get(0).begins(), asked.handlerBegins());
                }
                walk(inside, scope);
                if (keeps) {
                    insert(body.get(body.size() - 1).span().end(), asked.handlerEnds());
                }
                if (wraps) {
                    insert(inside.span().end(), " END;");
                }
            }
        }
    }

    /** Adds the rows that the statement before has changed. */
    private static String counted(int change) {
        String rows = "cantina_r" + change;
        return " SET " + rows + " = " + rows + " + ROW_COUNT()";
    }

    /** A row of statements once more, of which nothing is told. */
    private String untold(List<NativeStatement> row) {
        StringBuilder text = new StringBuilder();
        for (NativeStatement s : row) {
            text.append(s.span().text());
            if (changes.contains(s.at())) {
                text.append(counted(s.at())).append(';');
            }
            text.append(' ');
        }
        return text.toString();
    }

    /** The statements of a block itself, without its handlers. */
    protected static List<NativeStatement> body(NativeStatement block) {
        return block.parts().stream()
                .filter(p -> p.role() == Role.BODY)
                .flatMap(p -> p.statements().stream())
                .toList();
    }

    /** What has nothing behind it. */
    private static boolean isJump(NativeStatement s) {
        return List.of("RETURN", "LEAVE", "ITERATE", "SIGNAL", "RESIGNAL").contains(s.what());
    }

    /** What stands before a statement. */
    protected String probe(NativeStatement s, Map<String, NativeVariable> scope) {
        if (counters) {
            String counter = "cantina_k" + s.at();
            return " SET "
                    + counter
                    + " = "
                    + counter
                    + " + 1; IF "
                    + counter
                    + " = 1 THEN CALL cantina_at(cantina_a, cantina_d, "
                    + spot(s.at())
                    + ", 'null'); END IF; "
                    + (s.what().equals("RETURN") ? told() + " " : "");
        }
        if (!quiet.isEmpty()) {
            return passing(s);
        }
        if (tellsValue() && s.what().equals("RETURN")) {
            String value =
                    "'"
                            + NativeFrames.GIVEN
                            + "', "
                            + MariaInside.told(GIVEN, returnedType().toLowerCase(Locale.ROOT));
            Map<String, NativeVariable> seen = new LinkedHashMap<>(outside);
            seen.entrySet().removeIf(e -> scope.get(e.getKey()) != e.getValue());
            give(s, stop(ProbeFollower.ENDED, seen, value, ""));
            return stop(s.at(), scope, "", "");
        }
        return stop(s.at(), scope, "", depth(s));
    }

    /** Tells of a statement, and how often others have run before it. */
    private String passing(NativeStatement s) {
        String told = telling(s.at(), counts(s.at()));
        String counter = counter(s.at());
        if (first.containsKey(s.at()) && first.get(s.at()) != s) {
            return " " + told + " ";
        }
        return first.containsKey(s.at())
                ? counting(counter) + told + " "
                : quiet.contains(s.at())
                        ? counting(counter) + told + " END IF; "
                        : " IF @cantina_mode THEN " + told + depth(s) + " END IF; ";
    }

    /** Counts, and begins what is done the first times and then now and again. */
    private static String counting(String counter) {
        return " SET "
                + counter
                + " = "
                + counter
                + " + 1; IF ("
                + counter
                + " <= "
                + ProbeFollower.TOLD
                + " OR "
                + counter
                + " & 1023 = 0) AND @cantina_mode THEN ";
    }

    /**
     * Tells where the run is, with the variables, and sets those that somebody has changed.
     *
     * @param more what else is told, as pairs
     * @param behind what is done behind it where somebody watches
     */
    private String stop(int at, Map<String, NativeVariable> scope, String more, String behind) {
        StringBuilder text =
                new StringBuilder(" IF @cantina_mode THEN CALL cantina_at(cantina_a, cantina_d, ")
                        .append(spot(at))
                        .append(", JSON_OBJECT(");
        if (!values) {
            return " IF @cantina_mode THEN " + telling(at, "'null'") + behind + " END IF; ";
        }
        List<String> pairs = new ArrayList<>();
        if (!more.isEmpty()) {
            pairs.add(more);
        }
        StringBuilder sets = new StringBuilder();
        scope.forEach(
                (key, variable) -> {
                    List<MariaInside.Column> columns = MariaInside.columns(variable, rows);
                    if (!columns.isEmpty() || variable.kind() == NativeVariable.Kind.ROW) {
                        List<String> fields = new ArrayList<>();
                        String name =
                                variable.kind() == NativeVariable.Kind.ROW
                                        ? key
                                        : MariaCode.quoted(key);
                        for (MariaInside.Column column : columns) {
                            String field = name + "." + MariaCode.quoted(column.name());
                            fields.add(
                                    literal(column.name())
                                            + ", "
                                            + MariaInside.told(field, column.type()));
                            if (variable.kind() != NativeVariable.Kind.ROW) {
                                sets.append(
                                        set(
                                                field,
                                                column.type(),
                                                "$." + '"' + key + "\".\"" + column.name() + '"'));
                            }
                        }
                        pairs.add(
                                literal(key) + ", JSON_OBJECT(" + String.join(", ", fields) + ")");
                    } else if (MariaInside.isShown(variable)) {
                        // SET password = … would be another statement.
                        String name =
                                variable.name().startsWith("`")
                                        ? variable.name()
                                        : MariaCode.quoted(key(variable.name()));
                        pairs.add(literal(key) + ", " + MariaInside.told(name, variable.type()));
                        sets.append(set(name, variable.type(), "$.\"" + key + '"'));
                    }
                });
        text.append(String.join(", ", pairs)).append("));");
        if (sets.length() > 0) {
            text.append(" IF @cantina_c IS NOT NULL THEN").append(sets).append(" END IF;");
        }
        return text.append(behind).append(" END IF; ").toString();
    }

    /** Sets what somebody has changed. */
    private String set(String name, String type, String at) {
        String path = literal(at);
        return " IF JSON_EXISTS(@cantina_c, "
                + path
                + ") THEN SET "
                + name
                + " = "
                + MariaInside.given("JSON_VALUE(@cantina_c, " + path + ")", type)
                + "; END IF;";
    }

    /** A RETURN that calls nothing: what comes next is no longer inside of it. */
    private static String depth(NativeStatement s) {
        return s.what().equals("RETURN") && s.span().text().indexOf('(') < 0
                ? " SET @cantina_depth = cantina_d - 1;"
                : "";
    }
}
