package dev.cantina.translate.mariadb;

import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.BoundStatement.Target;
import dev.cantina.binding.CursorSymbol;
import dev.cantina.binding.Variable;
import dev.cantina.catalog.Table;
import dev.cantina.database.DeltaTable;
import dev.cantina.facts.RaiseFacts;
import dev.cantina.facts.RowFacts;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlText;
import dev.cantina.syntax.SqlWords;
import dev.cantina.translate.DroppedNulls;
import dev.cantina.translate.Effects;
import dev.cantina.translate.FixedTexts;
import dev.cantina.translate.Handlers;
import dev.cantina.translate.UnsupportedConstructException;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** What brings rows into variables: SELECT INTO, queries as values, and cursors. */
final class MariaQueries {
    private static final String COUNT = "SET cantina_rows = GREATEST(ROW_COUNT(), 0)";

    private final MariaBody body;
    private final MariaExpressions words;
    private final Effects effects;
    private final MariaTargets named;

    MariaQueries(MariaBody body, MariaExpressions words, Effects effects, MariaTargets named) {
        this.body = body;
        this.words = words;
        this.effects = effects;
        this.named = named;
    }

    void fill(BoundStatement.SelectInto fill, Handlers around) {
        Span span = body.span(fill.at());
        DroppedNulls.refuse(fill, around, span, "MariaDB");
        List<String> targets = new ArrayList<>();
        fill.targets().forEach(t -> targets.add(named.of(t, span)));
        boolean handled = around.completion("02000").isPresent();
        boolean sure = RowFacts.exactlyOne(fill.query(), words.catalog()).isYes();
        boolean row =
                fill.targets().stream()
                        .anyMatch(t -> MariaTargets.typeOf(t) instanceof SqlType.Row);
        if (row && fill.targets().size() > 1) {
            throw new UnsupportedConstructException(
                    span, "a row and other variables are filled by one query");
        }
        boolean converts =
                converts(fill.targets(), fill.query().columns())
                        && !around.exceptions(Set.of("22")).isEmpty();
        if (converts && row) {
            throw new UnsupportedConstructException(
                    span,
                    "a value that may not fit its variable: MariaDB would leave NULL in it; cast it");
        }
        boolean padded = !row && isPadded(fill.targets(), fill.query().columns());
        if (padded || !row && effects.isCaught(fill, around) && (converts || canFail(fill))) {
            fillApart(fill, targets, fill.select() && (handled || sure), span);
            return;
        }
        String into = "INTO " + String.join(", ", targets);
        List<String> asked = asked(fill, into, span);
        if (asked.size() > 1) {
            List<String> all = new ArrayList<>();
            if (!handled && !sure) {
                all.add(MariaBody.SKIP.formatted("NOT FOUND"));
            }
            all.addAll(asked);
            if (body.asksRows()) {
                all.add(COUNT);
            }
            body.edits().put(span, MariaBody.block(all, body.indent(span)));
            return;
        }
        String query = asked.get(0);
        if (!fill.select()) {
            if (sure) {
                body.edits().put(span, query);
                return;
            }
            String empty =
                    targets.stream()
                            .map(t -> "SET " + t + " = NULL;")
                            .collect(Collectors.joining(" "));
            String handler = "DECLARE CONTINUE HANDLER FOR NOT FOUND BEGIN " + empty + " END";
            body.edits().put(span, MariaBody.block(List.of(handler, query), body.indent(span)));
            return;
        }
        body.edits().put(span, handled || sure ? query : body.skipping("NOT FOUND", query, span));
        if (body.asksRows()) {
            counted(span);
        }
    }

    /**
     * The statements that a query comes to: two where it goes over the row of an INSERT, which is
     * found by the number that it was given.
     */
    private List<String> asked(BoundStatement.SelectInto fill, String into, Span span) {
        String query = words.of(fill.query(), Optional.of(into));
        if (!fill.query().changes()) {
            return List.of(query);
        }
        DeltaTable delta =
                DeltaTable.of(query)
                        .filter(d -> d.verb().equals("INSERT") && !d.kind().equals("OLD"))
                        .orElseThrow(() -> refusedDelta(span));
        Table table =
                fill.query().scope().tables().stream()
                        .filter(t -> t.role() == SqlText.Role.INSERT)
                        .flatMap(t -> words.catalog().table(t.names().get(0)).stream())
                        .findFirst()
                        .or(() -> inner(fill.query().scope()))
                        .orElseThrow(() -> refusedDelta(span));
        boolean numbered =
                table.primaryKey().size() == 1
                        && table.columns().get(table.primaryKey().get(0)).identity();
        SqlWords change = SqlWords.of(delta.change());
        int values = change.find("VALUES");
        boolean one =
                numbered
                        && values > 0
                        && change.sees(values + 1, "(")
                        && change.closing(values + 1) >= change.all().size() - 1
                        && change.sees(3, "(");
        String key = numbered ? table.columns().get(table.primaryKey().get(0)).name() : "";
        for (int i = 3; one && i < values; i++) {
            one = !change.all().get(i).text().equalsIgnoreCase(key);
        }
        if (!one || !delta.after().isEmpty()) {
            throw refusedDelta(span);
        }
        return List.of(
                delta.change(),
                delta.before()
                        + delta.table()
                        + (delta.alias().isEmpty() ? "" : " AS " + delta.alias())
                        + " WHERE "
                        + delta.known()
                        + "."
                        + words.names().of(key)
                        + " = LAST_INSERT_ID()");
    }

    private Optional<Table> inner(SqlText.Scope scope) {
        for (SqlText.Scope child : scope.children()) {
            for (SqlText.TableUse use : child.tables()) {
                if (use.role() == SqlText.Role.INSERT && !use.names().isEmpty()) {
                    return words.catalog().table(use.names().get(use.names().size() - 1));
                }
            }
        }
        return Optional.empty();
    }

    private static UnsupportedConstructException refusedDelta(Span span) {
        return new UnsupportedConstructException(
                span,
                "MariaDB gives only the row of an INSERT of one row into variables, and only where the"
                        + " table numbers it");
    }

    /** Whether a query can fail with some of its values in their variables already. */
    private boolean canFail(BoundStatement.SelectInto fill) {
        return fill.query().changes()
                || !RaiseFacts.computes(fill.query()).isNo()
                || !RowFacts.atMostOne(fill.query(), words.catalog()).isYes();
    }

    /**
     * A query that fails would leave what it found till then in its variables, so the values go
     * into variables of their own first, which hold what the others do where there is no row.
     */
    private void fillApart(
            BoundStatement.SelectInto fill, List<String> targets, boolean told, Span span) {
        List<String> all = new ArrayList<>();
        List<String> after = new ArrayList<>();
        List<String> own = new ArrayList<>();
        for (int i = 0; i < targets.size(); i++) {
            String name = "cantina_" + (i + 1);
            String type = words.type(MariaTargets.typeOf(fill.targets().get(i)), span);
            own.add(name);
            // A query as a value is NULL where it finds no row.
            String initial = fill.select() ? " DEFAULT " + targets.get(i) : "";
            all.add("DECLARE " + name + " " + type + initial);
            String value = padded(name, fill.targets(), fill.query().columns(), i);
            after.add("SET " + targets.get(i) + " = " + value);
        }
        all.add(MariaBody.PASS_ON.formatted("SQLEXCEPTION"));
        boolean padded = isPadded(fill.targets(), fill.query().columns());
        String passed = padded && fill.select() ? LEAVE : MariaBody.SKIP;
        all.add((told ? MariaBody.PASS_ON : passed).formatted("NOT FOUND"));
        boolean counted = body.asksRows() && fill.select();
        if (counted) {
            all.add("SET cantina_rows = 0");
        }
        all.addAll(asked(fill, "INTO " + String.join(", ", own), span));
        if (counted) {
            all.add(COUNT);
        }
        all.addAll(after);
        body.edits().put(span, MariaBody.block(all, body.indent(span)));
    }

    /** Leaves the block, its variables as they are. */
    private static final String LEAVE = "DECLARE EXIT HANDLER FOR %s BEGIN END";

    private static boolean isPadded(List<Target> targets, List<SqlType.Field> columns) {
        boolean intoRow =
                targets.stream()
                        .anyMatch(
                                t ->
                                        t instanceof BoundStatement.Target.OfRow of
                                                && of.variable().kind() == Variable.Kind.NEW_ROW);
        if (intoRow) {
            // The server fills variables alone.
            return true;
        }
        boolean padded = false;
        for (int i = 0; i < targets.size() && columns.size() == targets.size(); i++) {
            padded |=
                    FixedTexts.loseBlanks(
                            columns.get(i).type(), MariaTargets.typeOf(targets.get(i)));
        }
        return padded;
    }

    /** A value out of a row, with the blanks that the server keeps of no CHAR. */
    private static String padded(
            String value, List<Target> targets, List<SqlType.Field> columns, int i) {
        boolean loses =
                columns.size() == targets.size()
                        && FixedTexts.loseBlanks(
                                columns.get(i).type(), MariaTargets.typeOf(targets.get(i)));
        return loses
                ? "RPAD("
                        + value
                        + ", "
                        + ((SqlType.Text) columns.get(i).type()).length()
                        + ", ' ')"
                : value;
    }

    private void counted(Span span) {
        body.edits().behind(span, ";\n" + body.indent(span) + COUNT);
    }

    /** Whether a column's value may not fit the variable that it goes into. */
    private static boolean converts(List<Target> targets, List<SqlType.Field> columns) {
        if (columns.size() != targets.size()) {
            return true;
        }
        for (int i = 0; i < columns.size(); i++) {
            if (!fits(columns.get(i).type(), MariaTargets.typeOf(targets.get(i)))) {
                return true;
            }
        }
        return false;
    }

    private static boolean fits(SqlType from, SqlType to) {
        if (from instanceof SqlType.Text a && to instanceof SqlType.Text b) {
            return b.length() == 0 || a.length() > 0 && a.length() <= b.length();
        }
        if (from instanceof SqlType.Integral a && to instanceof SqlType.Integral b) {
            return a.size().compareTo(b.size()) <= 0;
        }
        return from.equals(to);
    }

    /** By way of variables of its own, so that a value that does not fit changes nothing. */
    private void fetchApart(
            BoundStatement.Fetch fetch, List<String> targets, boolean told, Span span) {
        List<String> all = new ArrayList<>();
        List<String> own = new ArrayList<>();
        List<String> after = new ArrayList<>();
        for (int i = 0; i < targets.size(); i++) {
            String name = "cantina_" + (i + 1);
            SqlType type = MariaTargets.typeOf(fetch.targets().get(i));
            own.add(name);
            all.add("DECLARE " + name + " " + words.type(type, span));
            String value = padded(name, fetch.targets(), fetch.cursor().columns(), i);
            after.add("SET " + targets.get(i) + " = " + value);
        }
        all.add(MariaBody.PASS_ON.formatted("SQLEXCEPTION"));
        all.add((told ? MariaBody.PASS_ON : LEAVE).formatted("NOT FOUND"));
        String cursor = words.names().of(fetch.cursor().name());
        all.add("FETCH " + cursor + " INTO " + String.join(", ", own));
        all.addAll(after);
        body.edits().put(span, MariaBody.block(all, body.indent(span)));
    }

    void open(BoundStatement.Open open, Span span) {
        CursorSymbol cursor = open.cursor();
        if (cursor.returned()) {
            body.edits().put(span, words.of(cursor.query().orElseThrow()));
        } else {
            reserved(cursor, "OPEN ", span);
        }
    }

    void close(CursorSymbol cursor, Span span) {
        if (cursor.returned()) {
            throw new UnsupportedConstructException(
                    span, "a cursor WITH RETURN hands its rows out as it is opened");
        }
        reserved(cursor, "CLOSE ", span);
    }

    private void reserved(CursorSymbol cursor, String verb, Span span) {
        if (words.names().isReserved(cursor.name())) {
            body.edits().put(span, verb + words.names().of(cursor.name()));
        }
    }

    void fetch(BoundStatement.Fetch fetch, Handlers around, Span span) {
        if (fetch.cursor().scroll() && !fetch.orientation().equals("NEXT")
                || !fetch.orientation().equals("NEXT")) {
            throw new UnsupportedConstructException(span, "MariaDB's cursors go forwards alone");
        }
        if (fetch.cursor().returned()) {
            throw new UnsupportedConstructException(
                    span, "a cursor WITH RETURN hands its rows out as it is opened");
        }
        if (fetch.cursor().positioning().query().isPresent()) {
            throw new UnsupportedConstructException(
                    span, "MariaDB has no changes WHERE CURRENT OF a cursor");
        }
        List<String> targets = new ArrayList<>();
        fetch.targets().forEach(t -> targets.add(named.of(t, span)));
        boolean converts =
                converts(fetch.targets(), fetch.cursor().columns())
                        && !around.exceptions(Set.of("22")).isEmpty();
        if (converts || isPadded(fetch.targets(), fetch.cursor().columns())) {
            fetchApart(fetch, targets, around.completion("02000").isPresent(), span);
            return;
        }
        String text =
                "FETCH "
                        + words.names().of(fetch.cursor().name())
                        + " INTO "
                        + String.join(", ", targets);
        boolean handled = around.completion("02000").isPresent();
        body.edits().put(span, handled ? text : body.skipping("NOT FOUND", text, span));
    }
}
