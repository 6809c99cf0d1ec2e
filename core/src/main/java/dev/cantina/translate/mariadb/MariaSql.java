package dev.cantina.translate.mariadb;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundSql;
import dev.cantina.binding.ColumnTypes;
import dev.cantina.binding.SqlDivision;
import dev.cantina.binding.WrittenNames;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.database.ServerNames;
import dev.cantina.database.mariadb.MariaCasts;
import dev.cantina.database.mariadb.MariaStatementRewriter;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlOperands;
import dev.cantina.syntax.SqlText;
import dev.cantina.syntax.SqlWords;
import dev.cantina.syntax.Unit;
import dev.cantina.translate.FixedVariables;
import dev.cantina.translate.TextEdits;
import dev.cantina.translate.UnsupportedConstructException;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Data statements as MariaDB reads them. */
final class MariaSql {
    private final MariaExpressions words;
    private final Catalog catalog;
    private final Optional<ModuleSymbol> module;
    private final ServerNames names;

    /**
     * @param words for the values in them
     */
    MariaSql(MariaExpressions words) {
        this.words = words;
        this.catalog = words.catalog();
        this.module = words.module();
        this.names = words.names();
    }

    /**
     * A data statement in MariaDB's words.
     *
     * @param into takes the place of what stands after INTO
     */
    String of(BoundSql sql, Optional<String> into) {
        SqlText source = sql.source();
        refuse(sql);
        refuseFromItself(sql);
        if (NULLS.matcher(source.span().text()).find()
                && SqlWords.of(source.span().text()).all().stream().anyMatch(w -> w.is("NULLS"))) {
            throw new UnsupportedConstructException(
                    source.span(),
                    "MariaDB has no NULLS FIRST and NULLS LAST; sort by (x IS NULL) before x");
        }
        if (sql.query() && sql.changes() && into.isEmpty()) {
            throw new UnsupportedConstructException(
                    source.span(), "MariaDB gives the rows of a change to its caller alone");
        }
        TextEdits edits = new TextEdits(source.span());
        boolean put = false;
        for (SqlText.Edit edit : source.edits()) {
            String text = edit.span().text();
            boolean clause = text.strip().regionMatches(true, 0, "INTO", 0, 4);
            if (edit.overlaps()) {
                throw new UnsupportedConstructException(edit.span(), "MariaDB has no OVERLAPS");
            }
            if (clause && into.isPresent()) {
                edits.put(edit.span(), into.get() + text.substring(text.stripTrailing().length()));
                put = true;
            } else if (!clause) {
                edits.put(edit.span(), edit.text());
            }
        }
        render(sql, edits);
        String text = MariaStatementRewriter.words(edits.text()).stripTrailing();
        return into.isPresent() && !put ? text + "\n" + into.get() : text;
    }

    private static final java.util.regex.Pattern QUIET =
            java.util.regex.Pattern.compile("'(?:[^']|'')*'|\"[^\"]*\"|--[^\\n]*|/\\*(?s:.*?)\\*/");

    /** What the server has not got, or means otherwise. */
    private static void refuse(BoundSql sql) {
        Span span = sql.source().span();
        String text = QUIET.matcher(span.text()).replaceAll(m -> " ".repeat(m.group().length()));
        for (Map.Entry<String, String> word :
                Map.of(
                                "\\bMERGE\\s+INTO\\b", "MariaDB has no MERGE",
                                "\\bIS\\s+DISTINCT\\s+FROM\\b",
                                        "MariaDB has no IS DISTINCT FROM; say NOT (… IS NOT DISTINCT FROM …)",
                                "\\bBETWEEN\\s+SYMMETRIC\\b", "MariaDB has no BETWEEN SYMMETRIC",
                                "\\bFULL\\s+(?:OUTER\\s+)?JOIN\\b", "MariaDB has no FULL JOIN",
                                "\\bCURRENT\\s+OF\\b",
                                        "MariaDB has no changes WHERE CURRENT OF a cursor",
                                "\\bFILTER\\s*\\(", "MariaDB has no FILTER for aggregates")
                        .entrySet()) {
            java.util.regex.Matcher found =
                    java.util.regex.Pattern.compile("(?i)" + word.getKey()).matcher(text);
            if (found.find()) {
                Span place =
                        new Span(
                                span.source(),
                                span.start() + found.start(),
                                span.start() + found.end());
                throw new UnsupportedConstructException(place, word.getValue());
            }
        }
    }

    /** What an INSERT reads of its own table is NULL there where a trigger fires before it. */
    private void refuseFromItself(BoundSql sql) {
        for (SqlText.TableUse use : sql.source().scope().tables()) {
            if (use.role() != SqlText.Role.INSERT || use.names().isEmpty()) {
                continue;
            }
            String key = use.names().get(use.names().size() - 1).key();
            boolean fires =
                    catalog.triggers().stream()
                            .map(TriggerSymbol::tree)
                            .filter(t -> t.timing() == Unit.Timing.BEFORE)
                            .filter(t -> t.event() == Unit.Event.INSERT)
                            .anyMatch(t -> t.table().key().equals(key));
            if (fires && isRead(key, sql.source().scope(), use)) {
                throw new UnsupportedConstructException(
                        use.span(),
                        "MariaDB loses what an INSERT reads of its own table where a trigger fires"
                                + " before it; read it into a table of its own first");
            }
        }
    }

    private static boolean isRead(String key, SqlText.Scope scope, SqlText.TableUse change) {
        boolean here =
                scope.tables().stream()
                        .filter(t -> t != change && !t.names().isEmpty())
                        .anyMatch(t -> t.names().get(t.names().size() - 1).key().equals(key));
        return here || scope.children().stream().anyMatch(c -> isRead(key, c, change));
    }

    private static final java.util.regex.Pattern NULLS =
            java.util.regex.Pattern.compile("(?i)\\bNULLS\\s+(FIRST|LAST)\\b");

    /** Says a stretch of a statement in the server's words. */
    private void render(BoundSql sql, TextEdits edits) {
        FixedVariables.of(sql).stream()
                .filter(p -> edits.holds(p.span()))
                .forEach(p -> edits.put(p.span(), words.text(p)));
        for (BoundExpression parameter : sql.parameters()) {
            if (edits.holds(parameter.span())) {
                words.edit(parameter, edits);
            }
        }
        calls(sql, sql.source().scope(), edits);
        WrittenNames.of(sql.source(), catalog, words.declared(), true, names::unreserved)
                .forEach(s -> edits.put(s.span(), s.text()));
        tables(sql.source().scope(), edits);
        rests(sql, edits);
        divisions(sql, edits);
        casts(sql, edits);
    }

    /** A CAST to a number is an error where there is none, or none that fits; the server's is 0. */
    private void casts(BoundSql sql, TextEdits edits) {
        Span whole = sql.source().span();
        for (MariaCasts.Cast cast : MariaCasts.of(whole.text())) {
            Span word = at(whole, cast.start(), cast.operand());
            Optional<SqlType> type =
                    number(cast.type())
                            .or(
                                    () ->
                                            moment(cast.type())
                                                    .filter(
                                                            t ->
                                                                    isText(
                                                                            at(
                                                                                    whole,
                                                                                    cast.operand(),
                                                                                    cast.as()),
                                                                            sql)));
            if (type.isPresent() && edits.holds(word) && !isInValue(word, sql)) {
                edits.put(word, words.caster(type.get(), word) + "(CONCAT(");
                edits.put(at(whole, cast.as(), cast.end()), "))");
            }
        }
    }

    private static final java.util.regex.Pattern MOMENT =
            java.util.regex.Pattern.compile(
                    "(DATE|TIME|TIMESTAMP)(?: \\( (\\d) \\))?(?: WITHOUT TIME ZONE)?");

    private static Optional<SqlType> moment(String type) {
        java.util.regex.Matcher moment = MOMENT.matcher(type);
        if (!moment.matches()) {
            return Optional.empty();
        }
        Optional<Integer> digits = Optional.ofNullable(moment.group(2)).map(Integer::valueOf);
        return Optional.of(
                switch (moment.group(1)) {
                    case "DATE" -> SqlType.DATE;
                    case "TIME" -> new SqlType.Time(digits.orElse(0), false);
                    default -> new SqlType.Timestamp(digits.orElse(6), false);
                });
    }

    /** Whether it is a text for certain: a literal, a variable, a column, or texts put together. */
    private boolean isText(Span operand, BoundSql sql) {
        SqlWords parts = SqlWords.of(operand.text());
        if (parts.all().isEmpty()) {
            return false;
        }
        if (parts.find("||") > 0) {
            return true;
        }
        if (parts.all().size() == 1 && parts.all().get(0).kind() == SqlWords.Kind.LITERAL) {
            return operand.text().strip().startsWith("'");
        }
        int start = operand.start() + parts.all().get(0).start();
        String name = parts.between(0, parts.all().size());
        return sql.parameters().stream()
                .filter(p -> p.span().start() == start && p.span().text().equals(name))
                .map(BoundExpression::type)
                .findFirst()
                .or(() -> ColumnTypes.of(name, sql, catalog))
                .filter(SqlType.Text.class::isInstance)
                .isPresent();
    }

    private static Span at(Span whole, int start, int end) {
        return new Span(whole.source(), whole.start() + start, whole.start() + end);
    }

    private static final java.util.regex.Pattern EXACT =
            java.util.regex.Pattern.compile(
                    "(?:DECIMAL|DEC|NUMERIC) \\( (\\d{1,2})(?: , (\\d{1,2}))? \\)");

    /** The type of numbers that a CAST names. */
    private static Optional<SqlType> number(String type) {
        java.util.regex.Matcher exact = EXACT.matcher(type);
        if (exact.matches()) {
            int scale = exact.group(2) == null ? 0 : Integer.parseInt(exact.group(2));
            return Optional.of(new SqlType.Exact(Integer.parseInt(exact.group(1)), scale));
        }
        return switch (type) {
            case "INTEGER", "INT" -> Optional.of(SqlType.INTEGER);
            case "SMALLINT" -> Optional.of(SqlType.SMALLINT);
            case "BIGINT" -> Optional.of(SqlType.BIGINT);
            case "DOUBLE PRECISION", "DOUBLE" -> Optional.of(SqlType.DOUBLE);
            default -> Optional.empty();
        };
    }

    /** The rest of a division by zero is an error too; the server's is NULL in a query. */
    private void rests(BoundSql sql, TextEdits edits) {
        Span whole = sql.source().span();
        if (whole.text().indexOf('%') < 0 && !SqlWords.mayHold(whole.text(), "MOD")) {
            return;
        }
        SqlWords all = SqlWords.of(whole.text());
        SqlOperands operands = new SqlOperands(all);
        for (int i = 0; i < all.all().size(); i++) {
            int from = -1;
            int to = -1;
            if (all.sees(i, "MOD", "(")) {
                to = all.closing(i + 1);
                int depth = all.all().get(i).depth() + 1;
                for (int k = i + 2; k < to && from < 0; k++) {
                    from = all.sees(k, ",") && all.all().get(k).depth() == depth ? k + 1 : -1;
                }
            } else if (all.sees(i, "%") && i > 0) {
                from = i + 1;
                int first = from;
                while (all.sees(first, "-") || all.sees(first, "+")) {
                    first++;
                }
                to = operands.after(first) + 1;
            }
            if (from < 0 || to <= from || to > all.all().size()) {
                continue;
            }
            Span divisor = at(whole, all.all().get(from).start(), all.all().get(to - 1).end());
            boolean sure = divisor.text().matches("[0-9.]*[1-9][0-9.]*");
            boolean inside = edits.holds(divisor) && !edits.isAll(divisor);
            if (!sure && inside && !isInValue(divisor, sql)) {
                TextEdits inner = new TextEdits(divisor);
                render(sql, inner);
                String value = inner.text();
                edits.put(
                        divisor,
                        "IF((" + value + ") = 0, cantina_whole_divisor(0), " + value + ")");
            }
        }
    }

    /**
     * Whole numbers are cut, and others keep enough digits; by zero is an error, also in a query.
     */
    private void divisions(BoundSql sql, TextEdits edits) {
        if (sql.source().span().text().indexOf('/') < 0) {
            return;
        }
        for (SqlDivision division : SqlDivision.of(sql, catalog)) {
            if (!edits.holds(division.place()) || isInValue(division.place(), sql)) {
                continue;
            }
            boolean sure = division.right().text().matches("[0-9.]*[1-9][0-9.]*");
            switch (division.kind()) {
                case OPEN ->
                        throw new UnsupportedConstructException(
                                division.place(),
                                "MariaDB keeps decimals where whole numbers are divided, and it can't"
                                        + " be seen here whether they are; CAST one side, or divide in"
                                        + " a variable");
                case WHOLE -> edits.put(division.place(), " DIV ");
                case EXACT -> edits.around(division.left(), "CAST(", " AS DECIMAL(65, 30))");
                default -> {}
            }
            if (!sure) {
                String check =
                        switch (division.kind()) {
                            case WHOLE -> "cantina_whole_divisor(";
                            case EXACT -> "cantina_divisor(";
                            default -> "cantina_double_divisor(";
                        };
                boolean column =
                        division.left().text().matches("[A-Za-z_]\\w*(\\.[A-Za-z_]\\w*)?")
                                && sql.parameters().stream()
                                        .noneMatch(
                                                p -> p.span().start() == division.left().start());
                String beside = column ? "IF(" + division.left().text() + " IS NULL, NULL, " : "";
                edits.around(division.right(), check + beside, column ? "))" : ")");
            }
        }
    }

    private static boolean isInValue(Span place, BoundSql sql) {
        return sql.parameters().stream()
                .anyMatch(p -> p.span().start() < place.start() && place.end() < p.span().end());
    }

    private void calls(BoundSql sql, SqlText.Scope scope, TextEdits edits) {
        for (SqlText.NameUse use : scope.names()) {
            if (!edits.holds(use.span())) {
                continue;
            }
            if (use.use() == SqlText.Use.CALL) {
                call(sql, use, edits);
            }
        }
        for (SqlText.TableUse use : scope.tables()) {
            if (!use.function().isEmpty()) {
                throw new UnsupportedConstructException(
                        use.span(), "MariaDB's functions give no rows");
            }
        }
        scope.children().forEach(child -> calls(sql, child, edits));
    }

    private void call(BoundSql sql, SqlText.NameUse use, TextEdits edits) {
        List<RoutineSymbol> all = catalog.functions(catalog.keyOf(use.names(), module));
        if (all.isEmpty()) {
            return;
        }
        SqlText.Call call = callOf(sql, use);
        List<SqlText.Argument> given = call.arguments();
        List<Name> said = given.stream().flatMap(a -> a.name().stream()).toList();
        List<RoutineSymbol> fitting =
                all.stream()
                        .filter(f -> given.size() <= f.parameters().size())
                        .filter(f -> given.size() >= f.required())
                        .filter(
                                f ->
                                        said.stream()
                                                .allMatch(
                                                        n ->
                                                                f.parameters().stream()
                                                                        .anyMatch(
                                                                                p ->
                                                                                        p.name()
                                                                                                .is(
                                                                                                        n))))
                        .toList();
        if (fitting.size() != 1) {
            throw new UnsupportedConstructException(
                    use.span(), "which of several functions this is depends on types there");
        }
        RoutineSymbol function = fitting.get(0);
        edits.put(use.span(), words.callee(function));
        if (!call.isNamed() && given.size() == function.parameters().size()) {
            return;
        }
        List<String> texts = new ArrayList<>();
        for (int i = 0; i < function.parameters().size(); i++) {
            ParameterSymbol parameter = function.parameters().get(i);
            Optional<Span> value = Optional.empty();
            for (int k = 0; k < given.size(); k++) {
                int position = k;
                boolean fits =
                        given.get(k).name().map(n -> parameter.name().is(n)).orElse(position == i);
                value = fits ? Optional.of(given.get(k).span()) : value;
            }
            if (value.isEmpty()) {
                texts.add(words.initial(parameter));
            } else {
                TextEdits inner = new TextEdits(value.get());
                render(sql, inner);
                texts.add(inner.text().strip());
            }
        }
        edits.put(call.span(), String.join(", ", texts));
    }

    /** The call that a function's name stands in: the first that begins behind it. */
    private static SqlText.Call callOf(BoundSql sql, SqlText.NameUse use) {
        return sql.source().calls().stream()
                .filter(c -> c.function().equals(use.names()))
                .filter(c -> c.span().start() > use.span().end())
                .min(Comparator.comparingInt(c -> c.span().start()))
                .orElseThrow(
                        () ->
                                new UnsupportedConstructException(
                                        use.span(), "this call has no end"));
    }

    /** {@code t AS x (a, b)}: the columns of a query alone can be named there. */
    private static void renamed(SqlText.TableUse use, TextEdits edits) {
        Span alias = use.alias().get().span();
        Span whole = use.span();
        String list = whole.source().text().substring(alias.end(), whole.end()).strip();
        if (!list.startsWith("(") || !edits.holds(whole)) {
            return;
        }
        if (!use.names().isEmpty() || !whole.text().startsWith("(")) {
            throw new UnsupportedConstructException(
                    alias, "MariaDB renames no columns of a table; query it in brackets");
        }
    }

    /** Tables by the names that the server knows, whose case counts there. */
    private void tables(SqlText.Scope scope, TextEdits edits) {
        for (SqlText.TableUse use : scope.tables()) {
            if (use.visible() && use.alias().isPresent()) {
                renamed(use, edits);
            }
            if (use.names().size() == 2 && use.names().get(0).key().equals("MODULE")) {
                Span whole = use.names().get(0).span().to(use.names().get(1).span());
                edits.put(whole, names.of(use.names().get(1)));
            }
        }
        scope.children().forEach(child -> tables(child, edits));
    }
}
