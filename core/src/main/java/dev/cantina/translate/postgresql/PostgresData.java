package dev.cantina.translate.postgresql;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundSql;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.BoundStatement.Target;
import dev.cantina.binding.CursorSymbol;
import dev.cantina.binding.DeclaredTable;
import dev.cantina.binding.Variable;
import dev.cantina.binding.Walker;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.ServerNames;
import dev.cantina.database.postgresql.PostgresStatementRewriter;
import dev.cantina.database.postgresql.PostgresTables;
import dev.cantina.facts.RowFacts;
import dev.cantina.syntax.Span;
import dev.cantina.translate.DroppedNulls;
import dev.cantina.translate.DynamicCalls;
import dev.cantina.translate.FixedTexts;
import dev.cantina.translate.Handlers;
import dev.cantina.translate.Handlers.HandlerMatch;
import dev.cantina.translate.KeyUpdates;
import dev.cantina.translate.Lines;
import dev.cantina.translate.SourceForm;
import dev.cantina.translate.UnsupportedConstructException;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * The statements of a body that ask the database: queries into variables, changes, cursors, dynamic
 * SQL. A row that is not there leaves variables alone with us, and empties them there; so values go
 * into variables of their own first.
 */
final class PostgresData {
    private final PostgresBody body;
    private final PostgresExpressions words;
    private final ServerNames names;
    private final Lines out;
    private final Map<CursorSymbol, String> renamed = new HashMap<>();
    private Catalog catalog;
    private Optional<String> missing = Optional.empty();
    private boolean afterData;

    PostgresData(PostgresBody body, PostgresExpressions words, Lines out) {
        this.body = body;
        this.words = words;
        this.names = words.names();
        this.out = out;
        this.catalog = words.catalog();
    }

    /** Cursors whose state is not plain to see, and is looked at before each use. */
    private final Set<CursorSymbol> watched = new HashSet<>();

    void watch(CursorSymbol cursor) {
        watched.add(cursor);
    }

    boolean isWatched(CursorSymbol cursor) {
        return watched.contains(cursor);
    }

    private void wanted(CursorSymbol cursor, boolean open) {
        if (watched.contains(cursor)) {
            out.add(
                    "PERFORM cantina.open("
                            + name(cursor)
                            + ", "
                            + (open ? "TRUE" : "FALSE")
                            + ");");
        }
    }

    /** What stands right before the next statement. */
    void follows(Optional<BoundStatement> before) {
        afterData =
                before.filter(
                                        s ->
                                                s instanceof BoundStatement.Execute
                                                        || s instanceof BoundStatement.SelectInto
                                                        || s
                                                                instanceof
                                                                BoundStatement.ExecuteDynamic)
                                .isPresent()
                        && !blurred;
        blurred = false;
    }

    /** Whether a handler has changed rows since, which the server counts as well. */
    private boolean blurred;

    boolean afterData() {
        return afterData;
    }

    /** What keeps the count of the change before, where handlers may have come between. */
    private Optional<String> counted = Optional.empty();

    Optional<String> counted() {
        return counted;
    }

    /** A variable for the count of a change, 0 till it has gone well. */
    String counter() {
        String name = body.shared("counted_rows", "bigint");
        out.add(name + " := 0;");
        return name;
    }

    /**
     * What the count of the next statement is kept in, or read from; empty for the server's own.
     */
    void count(Optional<String> counter) {
        counted = counter;
    }

    /** Where to note that no row was found, for a handler that is run later. */
    void remember(Optional<String> flag) {
        missing = flag;
    }

    void renamed(CursorSymbol cursor, String name) {
        renamed.put(cursor, name);
    }

    /** The handler of NOT FOUND that a statement can lead to. */
    Optional<HandlerMatch> completion(BoundStatement s, Handlers around) {
        boolean possible =
                s instanceof BoundStatement.Fetch
                        || s instanceof BoundStatement.ExecuteDynamic
                        || s instanceof BoundStatement.SelectInto fill
                                && !RowFacts.exactlyOne(fill.query(), catalog).isYes()
                        || s instanceof BoundStatement.Execute execute
                                && execute.sql().changesRows()
                                && !RowFacts.insertsSome(execute.sql()).isYes();
        return possible ? around.completion("02000") : Optional.empty();
    }

    void write(BoundStatement s, Handlers around) {
        if (s instanceof BoundStatement.Execute execute) {
            execute.sql().parameters().stream()
                    .filter(p -> p instanceof BoundExpression.CursorRow)
                    .forEach(p -> wanted(((BoundExpression.CursorRow) p).cursor(), true));
            KeyUpdates.refuse(execute.sql(), catalog, body.span(s.at()), "PostgreSQL");
            Optional<CursorSymbol> twice = changedTwice(execute.sql());
            twice.ifPresent(c -> out.add("PERFORM cantina.standing(" + gone(c) + ");"));
            sql(execute.sql(), "", ";");
            counted.ifPresent(name -> out.add("GET DIAGNOSTICS " + name + " = ROW_COUNT;"));
            twice.filter(c -> execute.sql().verb().equals("DELETE"))
                    .ifPresent(c -> out.add(gone(c) + " := FOUND;"));
            found(s, around);
        } else if (s instanceof BoundStatement.SelectInto fill) {
            fill(fill, around);
        } else if (s instanceof BoundStatement.ReturnResultSet rows) {
            handOut(rows);
        } else if (s instanceof BoundStatement.Open open) {
            open(open);
        } else if (s instanceof BoundStatement.Fetch fetch) {
            fetch(fetch, around);
        } else if (s instanceof BoundStatement.Close close) {
            String name = name(close.cursor());
            wanted(close.cursor(), true);
            out.add("CLOSE " + name + ";");
            if (close.cursor().returned() || isWatched(close.cursor())) {
                out.add(name + " := NULL;");
            }
        } else if (s instanceof BoundStatement.Prepare prepare) {
            String name = statement(prepare.name());
            if (body.routine().outlivesFailures()) {
                // A statement of that name is gone, also where this one is refused.
                out.add(name + " := NULL;");
            }
            out.add(name + " := cantina.prepared(" + told(prepare.text()) + ");");
        } else if (s instanceof BoundStatement.Deallocate deallocate) {
            String name = statement(deallocate.name());
            out.add("PERFORM cantina.present(" + name + ", '26000');");
            out.add(name + " := NULL;");
        } else if (s instanceof BoundStatement.ExecuteDynamic perform) {
            perform(perform, around);
        } else {
            throw new UnsupportedConstructException(
                    body.span(s.at()), "this statement has no counterpart there");
        }
    }

    private void sql(BoundSql sql, String before, String after) {
        Span span = sql.source().span();
        out.add(before, span.start(), words.of(sql), after);
    }

    private void found(BoundStatement s, Handlers around) {
        Optional<HandlerMatch> match = completion(s, around);
        if (match.isEmpty()) {
            return;
        }
        out.add("IF NOT FOUND THEN").in();
        missing(match);
        blurred = body.effects().changes(match.get().handler().body());
        out.out().add("END IF;");
    }

    private void missing(Optional<HandlerMatch> match) {
        if (missing.isPresent()) {
            out.add(missing.get() + " := TRUE;");
        } else {
            body.guards().completed(match);
        }
    }

    // ---------------------------------------------------------------- rows into variables

    private void fill(BoundStatement.SelectInto fill, Handlers around) {
        DroppedNulls.refuse(fill, around, body.span(fill.at()), "PostgreSQL");
        List<SqlType.Field> columns = fill.query().columns();
        boolean plain =
                fill.targets().stream().allMatch(t -> t instanceof Target.Whole)
                        && padded(fill.targets(), columns).isEmpty();
        boolean sure = RowFacts.exactlyOne(fill.query(), catalog).isYes();
        boolean several = !RowFacts.atMostOne(fill.query(), catalog).isYes();
        Span span = fill.query().source().span();
        if (plain && sure) {
            List<String> targets = new ArrayList<>();
            fill.targets().forEach(t -> targets.add(body.statements().target(t, fill.at())));
            out.add(
                    "",
                    span.start(),
                    words.of(fill.query(), "INTO " + String.join(", ", targets)),
                    ";");
            return;
        }
        List<String> held = held(fill.targets(), columns, fill.at());
        String strict = several ? "STRICT " : "";
        String query = words.of(fill.query(), "INTO " + strict + String.join(", ", held));
        if (!several) {
            out.add("", span.start(), query, ";");
            taken(fill, fill.targets(), held, around, !fill.select());
            return;
        }
        one(fill, fill.targets(), held, out.moved(span.start(), query) + ";", around);
    }

    /** A query of which two rows are an error and none is a condition. */
    private void one(
            BoundStatement s,
            List<Target> targets,
            List<String> held,
            String query,
            Handlers around) {
        String found = body.local("found_one", "boolean");
        out.add("BEGIN").in();
        out.add(query);
        out.add(found + " := TRUE;");
        out.out().add("EXCEPTION").in();
        out.add("WHEN no_data_found THEN").in().add(found + " := FALSE;").out();
        out.add("WHEN too_many_rows THEN").in();
        out.add(
                "RAISE EXCEPTION USING ERRCODE = '21000', MESSAGE = 'the query gives more than one row';");
        out.out().out().add("END;");
        out.add("IF " + found + " THEN").in();
        stores(targets, held, s.at());
        if (s instanceof BoundStatement.SelectInto fill && !fill.select()) {
            out.out().add("ELSE").in();
            stores(targets, targets.stream().map(t -> "NULL").toList(), s.at());
        } else {
            notFound(s, around);
        }
        out.out().add("END IF;");
    }

    /** Variables that hold a value between its row and its target, each for many statements. */
    private final Map<String, String> passing = new HashMap<>();

    /** The lengths of the columns whose blanks the server would drop on their way, by position. */
    private Map<Integer, Integer> padded(List<Target> targets, List<SqlType.Field> columns) {
        Map<Integer, Integer> lengths = new HashMap<>();
        for (int i = 0; i < targets.size() && columns.size() == targets.size(); i++) {
            SqlType column = columns.get(i).type();
            if (FixedTexts.loseBlanks(column, typeOf(targets.get(i)))) {
                lengths.put(i, Math.max(1, ((SqlType.Text) column).length()));
            }
        }
        return lengths;
    }

    private List<String> held(List<Target> targets, List<SqlType.Field> columns, int at) {
        List<String> held = held(targets, at);
        for (Map.Entry<Integer, Integer> padded : padded(targets, columns).entrySet()) {
            String name = targets.get(padded.getKey()).variable().name() + "_padded";
            held.set(padded.getKey(), body.local(name, "char(" + padded.getValue() + ")"));
            lengths.put(held.get(padded.getKey()), padded.getValue());
        }
        return held;
    }

    /** What holds a CHAR, and its length. */
    private final Map<String, Integer> lengths = new HashMap<>();

    private String whole(String held) {
        return lengths.containsKey(held) ? "rpad(" + held + ", " + lengths.get(held) + ")" : held;
    }

    private List<String> held(List<Target> targets, int at) {
        List<String> held = new ArrayList<>();
        for (Target target : targets) {
            String name = target.variable().name() + "_found";
            if (target instanceof Target.OfRow field) {
                name =
                        ((SqlType.Row) field.variable().type()).fields().get(field.field()).name()
                                + "_found";
            }
            String type = heldType(target, at);
            String wish = name;
            String known = passing.get(wish + " " + type);
            if (known == null || held.contains(known)) {
                known = body.local(wish, type);
                passing.put(wish + " " + type, known);
            }
            held.add(known);
        }
        return held;
    }

    private String heldType(Target target, int at) {
        SqlType type = typeOf(target);
        if (type instanceof SqlType.Bytes bytes && bytes.length() > 0) {
            throw new UnsupportedConstructException(
                    body.span(at),
                    "a query into a binary string of a length, which PostgreSQL keeps of none");
        }
        return type instanceof SqlType.Row ? "record" : PostgresTypes.of(type, body.span(at));
    }

    private static SqlType typeOf(Target target) {
        SqlType type = target.variable().type();
        if (target instanceof Target.OfRow field) {
            return ((SqlType.Row) type).fields().get(field.field()).type();
        }
        if (target instanceof Target.OfArray) {
            return ((SqlType.Array) type).element();
        }
        return target instanceof Target.OfModule shared
                ? shared.module().variables().get(shared.index()).type()
                : type;
    }

    /** Passes on what was found; and where nothing was, runs the handler of that. */
    private void taken(
            BoundStatement s,
            List<Target> targets,
            List<String> held,
            Handlers around,
            boolean set) {
        out.add("IF FOUND THEN").in();
        stores(targets, held, s.at());
        if (set) {
            out.out().add("ELSE").in();
            stores(targets, targets.stream().map(t -> "NULL").toList(), s.at());
        } else {
            notFound(s, around);
        }
        out.out().add("END IF;");
    }

    private void notFound(BoundStatement s, Handlers around) {
        Optional<HandlerMatch> match = completion(s, around);
        if (match.isPresent()) {
            out.out().add("ELSE").in();
            missing(match);
        }
    }

    private void stores(List<Target> targets, List<String> held, int at) {
        for (int i = 0; i < targets.size(); i++) {
            body.statements().store(targets.get(i), whole(held.get(i)), at);
        }
    }

    // ---------------------------------------------------------------- cursors

    String name(CursorSymbol cursor) {
        return renamed.getOrDefault(cursor, names.of(cursor.name()));
    }

    private void handOut(BoundStatement.ReturnResultSet rows) {
        if (body.routine().parameters().stream().anyMatch(Variable::isHidden)) {
            throw new UnsupportedConstructException(body.span(rows.at()), "rows handed out here");
        }
        sql(rows.sql(), "OPEN " + rowsName(rows) + " FOR ", ";");
    }

    private String rowsName(BoundStatement.ReturnResultSet rows) {
        List<Integer> order = new ArrayList<>();
        Walker.statements(
                body.routine().body(),
                s -> {
                    if (s instanceof BoundStatement.ReturnResultSet) {
                        order.add(s.at());
                    } else if (s instanceof BoundStatement.Block block) {
                        block.cursors().stream()
                                .filter(CursorSymbol::returned)
                                .forEach(c -> order.add(-1));
                    }
                });
        return "rows_" + (order.indexOf(rows.at()) + 1);
    }

    private void open(BoundStatement.Open open) {
        CursorSymbol cursor = open.cursor();
        String name = name(cursor);
        if (cursor.lifetime() == CursorSymbol.Lifetime.HELD
                && body.effects().endsTransactions(body.routine())) {
            throw new UnsupportedConstructException(
                    body.span(open.at()), "PL/pgSQL closes a cursor WITH HOLD at COMMIT too");
        }
        wanted(cursor, false);
        if (body.isLeftBefore(cursor)) {
            throw new UnsupportedConstructException(
                    body.span(open.at()),
                    "an EXIT handler between the cursor and this OPEN closes it on PostgreSQL; declare"
                            + " the cursor in the block of the handler");
        }
        if (cursor.statement().isPresent()) {
            out.add(
                    "OPEN "
                            + name
                            + " FOR EXECUTE "
                            + filled(
                                    "filled",
                                    statement(cursor.statement().get()),
                                    given(open.using()))
                            + ";");
        } else if (cursor.returned() || isWatched(cursor)) {
            sql(
                    cursor.query().orElseThrow(),
                    "OPEN " + name + (cursor.scroll() ? " SCROLL" : "") + " FOR ",
                    ";");
        } else {
            out.add("OPEN " + name + ";");
        }
    }

    /**
     * Whether a cursor is opened once and closed beside it, fetched from only between, so that it
     * is never in another state than the standard's.
     */
    boolean isClosed(CursorSymbol cursor, BoundStatement.Block block) {
        int[] counts = new int[2];
        Walker.statements(
                block,
                s -> {
                    counts[0] += s instanceof BoundStatement.Open o && o.cursor() == cursor ? 1 : 0;
                    counts[1] +=
                            s instanceof BoundStatement.Close c && c.cursor() == cursor ? 1 : 0;
                });
        if (counts[0] == 0) {
            return counts[1] == 0 && fetchedBetween(cursor, block);
        }
        boolean[] beside = {false};
        Walker.statements(
                block,
                s -> {
                    for (List<BoundStatement> row : s.rows()) {
                        boolean opened = false;
                        for (BoundStatement one : row) {
                            opened |= one instanceof BoundStatement.Open o && o.cursor() == cursor;
                            beside[0] |=
                                    opened
                                            && one instanceof BoundStatement.Close c
                                            && c.cursor() == cursor;
                        }
                    }
                });
        return counts[0] == 1 && counts[1] == 1 && beside[0] && fetchedBetween(cursor, block);
    }

    private static boolean fetchedBetween(CursorSymbol cursor, BoundStatement.Block block) {
        int[] state = {0};
        boolean[] fine = {true};
        Walker.statements(
                block,
                s -> {
                    if (s instanceof BoundStatement.Open o && o.cursor() == cursor) {
                        state[0] = 1;
                    } else if (s instanceof BoundStatement.Close c && c.cursor() == cursor) {
                        state[0] = 2;
                    } else if (s instanceof BoundStatement.Fetch f && f.cursor() == cursor) {
                        fine[0] &= state[0] == 1;
                    }
                    Walker.expressions(
                            s,
                            e ->
                                    fine[0] &=
                                            !(e instanceof BoundExpression.CursorRow row
                                                            && row.cursor() == cursor)
                                                    || state[0] == 1);
                });
        return fine[0];
    }

    /** Before each FETCH: the row that it comes to stands there yet. */
    void fetches(CursorSymbol cursor) {
        if (changes(cursor) > 1) {
            out.add(gone(cursor) + " := FALSE;");
        }
    }

    private void fetch(BoundStatement.Fetch fetch, Handlers around) {
        wanted(fetch.cursor(), true);
        fetches(fetch.cursor());
        String way = fetch.orientation();
        String offset =
                fetch.offset()
                        .map(
                                o -> {
                                    if (!(SourceForm.bare(o) instanceof BoundExpression.Constant)) {
                                        throw new UnsupportedConstructException(
                                                o.span(), "FETCH takes only a plain number there");
                                    }
                                    return words.of(o) + " ";
                                })
                        .orElse("");
        List<String> held = held(fetch.targets(), fetch.cursor().columns(), fetch.at());
        String words = way.equals("NEXT") ? "" : way + " " + offset + "FROM ";
        out.add("FETCH " + words + name(fetch.cursor()) + " INTO " + String.join(", ", held) + ";");
        taken(fetch, fetch.targets(), held, around, false);
    }

    /**
     * The cursor whose row a statement changes, where others of that cursor may have deleted it.
     */
    private Optional<CursorSymbol> changedTwice(BoundSql sql) {
        return sql.parameters().stream()
                .filter(p -> p instanceof BoundExpression.CursorRow)
                .map(p -> ((BoundExpression.CursorRow) p).cursor())
                .filter(c -> changes(c) > 1)
                .findFirst();
    }

    /** How many statements change a cursor's row; 0 where none of them deletes it. */
    private int changes(CursorSymbol cursor) {
        int[] counts = new int[2];
        Walker.statements(
                body.routine().body(),
                s -> {
                    if (s instanceof BoundStatement.Execute e
                            && e.sql().parameters().stream()
                                    .anyMatch(
                                            p ->
                                                    p instanceof BoundExpression.CursorRow row
                                                            && row.cursor() == cursor)) {
                        counts[0]++;
                        counts[1] += e.sql().verb().equals("DELETE") ? 1 : 0;
                    }
                });
        return counts[1] == 0 ? 0 : counts[0];
    }

    /** Notes that the row of a cursor was deleted through it. */
    private String gone(CursorSymbol cursor) {
        return body.shared(cursor.name().toLowerCase(Locale.ROOT) + "_row_gone", "boolean");
    }

    // ---------------------------------------------------------------- dynamic SQL

    private String statement(String key) {
        return body.shared(key.toLowerCase(Locale.ROOT) + "_text", "text");
    }

    private String filled(String function, String text, List<String> values) {
        StringBuilder call = new StringBuilder("cantina." + function + "(" + text);
        values.forEach(value -> call.append(", ").append(value));
        return call.append(")").toString();
    }

    private List<String> given(List<BoundExpression> using) {
        List<String> values = new ArrayList<>();
        for (BoundExpression value : using) {
            SqlType type = value.type();
            if (type instanceof SqlType.Array || type instanceof SqlType.Row) {
                throw new UnsupportedConstructException(
                        value.span(), "an array or a row for a marker");
            }
            values.add("CAST(" + words.of(value) + " AS text)");
        }
        return values;
    }

    /** A value for each marker of a CALL: what only gives one back is told so by NULL. */
    private List<String> values(DynamicCalls call, BoundStatement.ExecuteDynamic perform) {
        if (body.effects().endsTransactions(call.routine())) {
            throw new UnsupportedConstructException(
                    body.span(perform.at()),
                    "no transaction can end in dynamic SQL on PostgreSQL; write the CALL as a"
                            + " statement");
        }
        List<String> taken = given(perform.using());
        List<String> values = new ArrayList<>();
        int used = 0;
        for (ParameterSymbol marker : call.markers()) {
            values.add(marker.mode().isInput() ? taken.get(used++) : "NULL");
        }
        return values;
    }

    /** The text of a dynamic statement, in the server's words where it is known. */
    private String told(BoundExpression text) {
        return SourceForm.bare(text) instanceof BoundExpression.Constant constant
                        && constant.value() instanceof String known
                        && !PostgresStatementRewriter.of(known, words.catalog().tables())
                                .equals(known)
                ? "'"
                        + PostgresStatementRewriter.of(known, words.catalog().tables())
                                .replace("'", "''")
                        + "'"
                : words.of(text);
    }

    /** The text of EXECUTE IMMEDIATE, which must not be NULL. */
    private String given(BoundExpression text) {
        return SourceForm.bare(text) instanceof BoundExpression.Constant
                ? told(text)
                : "cantina.present(" + words.of(text) + ", '22004')";
    }

    /** The procedures that an EXECUTE may call. */
    List<RoutineSymbol> callable(BoundStatement.ExecuteDynamic perform) {
        return DynamicCalls.callable(perform, body.routine(), words.catalog());
    }

    private void perform(BoundStatement.ExecuteDynamic perform, Handlers around) {
        String text =
                perform.name().isPresent()
                        ? statement(perform.name().get())
                        : given(perform.text().orElseThrow());
        Optional<DynamicCalls> call =
                DynamicCalls.of(
                        perform,
                        body.routine(),
                        words.catalog(),
                        body.span(perform.at()),
                        "PostgreSQL");
        if (call.isPresent()) {
            List<String> values = values(call.get(), perform);
            List<String> held = held(perform.targets(), perform.at());
            String execute = "EXECUTE " + filled("filled", text, values);
            out.add(execute + " INTO " + String.join(", ", held) + ";");
            stores(perform.targets(), held, perform.at());
            return;
        }
        String execute = "EXECUTE " + filled("filled", text, given(perform.using()));
        Optional<HandlerMatch> match = completion(perform, around);
        boolean query =
                perform.text()
                        .map(SourceForm::bare)
                        .filter(
                                t ->
                                        t instanceof BoundExpression.Constant constant
                                                && String.valueOf(constant.value())
                                                        .strip()
                                                        .matches("(?is)(SELECT|VALUES|WITH)\\b.*"))
                        .isPresent();
        if (query && perform.targets().isEmpty()) {
            throw new UnsupportedConstructException(
                    body.span(perform.at()), "rows of dynamic SQL handed out");
        }
        if (perform.targets().isEmpty()) {
            execute = "EXECUTE " + filled("change", text, given(perform.using()));
            out.add(execute + ";");
            if (match.isPresent()) {
                String count = body.local("touched_rows", "bigint");
                out.add("GET DIAGNOSTICS " + count + " = ROW_COUNT;");
                out.add(
                                "IF "
                                        + count
                                        + " = 0 AND "
                                        + text
                                        + " ~* '^\\s*(INSERT|UPDATE|DELETE|MERGE)' THEN")
                        .in();
                missing(match);
                out.out().add("END IF;");
            }
            return;
        }
        List<String> held = held(perform.targets(), perform.at());
        String into = execute + " INTO STRICT " + String.join(", ", held) + ";";
        one(perform, perform.targets(), held, into, around);
    }

    // ---------------------------------------------------------------- tables of a block

    void declaredTable(DeclaredTable table) {
        body.alone(table);
        String name = names.of(table.table().name());
        out.add("IF to_regclass('pg_temp." + name + "') IS NOT NULL THEN");
        out.in().add("DROP TABLE pg_temp." + name + ";").out();
        out.add("END IF;");
        out.add(
                "CREATE TEMPORARY TABLE "
                        + name
                        + " "
                        + PostgresTables.translated(
                                names.definition(definition(table.table().key())))
                        + " ON COMMIT "
                        + (table.preserve() ? "PRESERVE" : "DELETE")
                        + " ROWS;");
    }

    /** The bracket with the columns, as its author wrote it. */
    private String definition(String key) {
        Span span = body.routine().span();
        String text = span.text();
        Matcher declared =
                Pattern.compile(
                                "(?is)\\bLOCAL\\s+TEMPORARY\\s+TABLE\\s+(?:MODULE\\s*\\.\\s*)?\"?"
                                        + Pattern.quote(key)
                                        + "\"?\\s*(?=\\()")
                        .matcher(text);
        int depth = 0;
        for (int i = declared.find() ? declared.end() : text.length(); i < text.length(); i++) {
            depth += text.charAt(i) == '(' ? 1 : text.charAt(i) == ')' ? -1 : 0;
            if (depth == 0) {
                return out.moved(
                        span.start() + declared.end(), text.substring(declared.end(), i + 1));
            }
        }
        throw new UnsupportedConstructException(
                span, "a table that is declared in a way of its own");
    }
}
