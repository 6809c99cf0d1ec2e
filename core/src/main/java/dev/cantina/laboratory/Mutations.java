package dev.cantina.laboratory;

import dev.cantina.laboratory.Mutation.Kind;
import dev.cantina.syntax.Change;
import dev.cantina.syntax.Clause;
import dev.cantina.syntax.Declaration;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.ExpressionWalk;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlStatement;
import dev.cantina.syntax.SqlText;
import dev.cantina.syntax.SqlValue;
import dev.cantina.syntax.SqlWalk;
import dev.cantina.syntax.SqlWords;
import dev.cantina.syntax.Statement;
import dev.cantina.syntax.TableSource;
import dev.cantina.syntax.Unit;
import java.time.LocalDate;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Finds the small mistakes that can be made in a routine or a trigger, in the order of its text.
 */
final class Mutations {
    private final List<Mutation> found = new ArrayList<>();

    /** The keys of variables that hold row counts. */
    private final Set<String> counts = new HashSet<>();

    private Mutations() {}

    static List<Mutation> of(Unit.Routine routine) {
        Mutations mutations = new Mutations();
        routine.body().ifPresent(mutations::unit);
        return mutations.sorted();
    }

    static List<Mutation> of(Unit.Trigger trigger) {
        Mutations mutations = new Mutations();
        trigger.when().ifPresent(mutations::expression);
        mutations.unit(trigger.body());
        return mutations.sorted();
    }

    private List<Mutation> sorted() {
        Set<String> known = new HashSet<>();
        return found.stream()
                .filter(m -> known.add(m.span().start() + " " + m.span().end() + " " + m.text()))
                .sorted((a, b) -> Integer.compare(a.span().start(), b.span().start()))
                .toList();
    }

    private void unit(Statement body) {
        counts(body);
        if (isRemovable(body)) {
            remove(body);
        }
        statement(body);
    }

    private void add(Kind kind, Span span, String text) {
        if (!span.text().equals(text)) {
            found.add(new Mutation(kind, span, text));
        }
    }

    // ------------------------------------------------------------------ statements

    private void counts(Statement statement) {
        if (statement instanceof Statement.GetDiagnostics get) {
            get.items().stream()
                    .filter(i -> i.item().key().equals("ROW_COUNT"))
                    .forEach(i -> i.target().names().forEach(n -> counts.add(n.key())));
        }
        inner(statement).forEach(this::counts);
        if (statement instanceof Statement.Compound block) {
            block.declarations().stream()
                    .filter(Declaration.Handler.class::isInstance)
                    .forEach(d -> counts(((Declaration.Handler) d).body()));
        }
    }

    /** The statements right inside one, without those of handlers. */
    private static List<Statement> inner(Statement statement) {
        List<Statement> all = new ArrayList<>();
        if (statement instanceof Statement.Compound block) {
            all.addAll(block.statements());
        } else if (statement instanceof Statement.If choice) {
            choice.branches().forEach(b -> all.addAll(b.statements()));
            choice.otherwise().ifPresent(all::addAll);
        } else if (statement instanceof Statement.Case choice) {
            choice.branches().forEach(b -> all.addAll(b.statements()));
            choice.otherwise().ifPresent(all::addAll);
        } else if (statement instanceof Statement.While loop) {
            all.addAll(loop.statements());
        } else if (statement instanceof Statement.Repeat loop) {
            all.addAll(loop.statements());
        } else if (statement instanceof Statement.Loop loop) {
            all.addAll(loop.statements());
        } else if (statement instanceof Statement.For loop) {
            all.addAll(loop.statements());
        }
        return all;
    }

    private static boolean isRemovable(Statement statement) {
        return inner(statement).isEmpty() && !(statement instanceof Statement.Compound);
    }

    private void remove(Statement statement) {
        add(Kind.STATEMENT, statement.span(), Mutation.NOTHING);
    }

    private void statement(Statement statement) {
        if (statement instanceof Statement.Compound block) {
            block.declarations().forEach(this::declaration);
        } else if (statement instanceof Statement.If choice) {
            choice.branches().forEach(b -> guard(b.condition()));
        } else if (statement instanceof Statement.Case choice) {
            choice.operand().ifPresent(this::expression);
            choice.branches().forEach(b -> expression(b.condition()));
            swap(
                    choice.branches().stream().map(Statement.Branch::statements).toList(),
                    choice.otherwise());
        } else if (statement instanceof Statement.While loop) {
            expression(loop.condition());
        } else if (statement instanceof Statement.Repeat loop) {
            expression(loop.condition());
        } else if (statement instanceof Statement.For loop) {
            sql(loop.query());
        } else {
            simple(statement);
        }
        for (Statement one : inner(statement)) {
            if (isRemovable(one)) {
                remove(one);
            }
            statement(one);
        }
    }

    private void simple(Statement statement) {
        if (statement instanceof Statement.Set set) {
            set.target().index().ifPresent(this::expression);
            expression(set.value());
        } else if (statement instanceof Statement.SetSeveral set) {
            set.values().forEach(this::expression);
            set.query().ifPresent(this::sql);
        } else if (statement instanceof Statement.SelectInto select) {
            sql(select.query());
        } else if (statement instanceof Statement.Call call) {
            call.arguments().forEach(a -> expression(a.value()));
        } else if (statement instanceof Statement.Return give) {
            give.value().ifPresent(this::expression);
        } else if (statement instanceof Statement.ReturnTable give) {
            sql(give.query());
        } else if (statement instanceof Statement.Signal signal) {
            signal.sqlstate().ifPresent(state -> state(signal.span(), state));
        } else if (statement instanceof Statement.Transaction transaction) {
            exchange(transaction);
        } else if (statement instanceof Statement.Open open) {
            open.using().forEach(this::expression);
        } else if (statement instanceof Statement.Prepare prepare) {
            expression(prepare.text());
        } else if (statement instanceof Statement.Execute execute) {
            execute.using().forEach(this::expression);
        } else if (statement instanceof Statement.ExecuteImmediate execute) {
            expression(execute.text());
        } else if (statement instanceof Statement.Fetch fetch) {
            fetch.offset().ifPresent(this::expression);
        } else if (statement instanceof Statement.Data data) {
            sql(data.sql());
        }
        // What RAISE says, and the messages of SIGNAL, are for people.
    }

    private void exchange(Statement.Transaction transaction) {
        String other =
                switch (transaction.verb()) {
                    case COMMIT -> "ROLLBACK";
                    case ROLLBACK -> "COMMIT";
                    default -> "";
                };
        if (!other.isEmpty()) {
            word(transaction.span(), transaction.verb().name())
                    .ifPresent(w -> add(Kind.TRANSACTION, w, other));
        }
    }

    /** The first time that a word stands in a stretch. */
    private static Optional<Span> word(Span span, String word) {
        return SqlWords.of(span.text()).all().stream()
                .filter(w -> w.is(word))
                .findFirst()
                .map(w -> span.source().span(span.start() + w.start(), span.start() + w.end()));
    }

    /** The place of an SQLSTATE that a stretch names; another of its class takes it. */
    private void state(Span span, String state) {
        String other = state.substring(0, 2) + (state.endsWith("999") ? "998" : "999");
        SqlWords.of(span.text()).all().stream()
                .filter(w -> w.kind() == SqlWords.Kind.LITERAL)
                .map(w -> span.source().span(span.start() + w.start(), span.start() + w.end()))
                .filter(w -> w.text().equals("'" + state + "'"))
                .findFirst()
                .ifPresent(w -> add(Kind.CONSTANT, w, "'" + other + "'"));
    }

    private void declaration(Declaration declaration) {
        if (declaration instanceof Declaration.Variables variables) {
            variables.initial().ifPresent(this::expression);
        } else if (declaration instanceof Declaration.Condition condition) {
            condition.sqlstate().ifPresent(state -> state(condition.span(), state));
        } else if (declaration instanceof Declaration.Cursor cursor) {
            cursor.query().ifPresent(this::sql);
        } else if (declaration instanceof Declaration.Handler handler) {
            add(Kind.HANDLER, withSemicolon(handler.span()), "");
            String other =
                    handler.action() == Declaration.HandlerAction.CONTINUE ? "EXIT" : "CONTINUE";
            word(handler.span(), handler.action().name())
                    .ifPresent(w -> add(Kind.HANDLER_ACTION, w, other));
            if (isRemovable(handler.body())) {
                remove(handler.body());
            }
            statement(handler.body());
        }
    }

    private static Span withSemicolon(Span span) {
        String text = span.source().text();
        int end = span.end();
        while (end < text.length() && text.charAt(end) != ';') {
            end++;
        }
        return span.source().span(span.start(), Math.min(text.length(), end + 1));
    }

    /** The statements of a branch and of the next change places. */
    private void swap(List<List<Statement>> branches, Optional<List<Statement>> otherwise) {
        List<List<Statement>> all = new ArrayList<>(branches);
        otherwise.ifPresent(all::add);
        for (int i = 0; i + 1 < all.size(); i++) {
            if (!all.get(i).isEmpty() && !all.get(i + 1).isEmpty()) {
                swap(whole(all.get(i)), whole(all.get(i + 1)));
            }
        }
    }

    private static Span whole(List<Statement> statements) {
        return statements.get(0).span().to(statements.get(statements.size() - 1).span());
    }

    private void swap(Span one, Span other) {
        String between = one.source().written().substring(one.end(), other.start());
        add(Kind.BRANCHES, one.to(other), written(other) + between + written(one));
    }

    private static String written(Span span) {
        return span.source().written().substring(span.start(), span.end());
    }

    // ------------------------------------------------------------------ conditions and values

    /** The condition of an IF. */
    private void guard(Expression condition) {
        add(Kind.BRANCHES, condition.span(), "NOT (" + written(condition.span()) + ")");
        ExpressionWalk.each(
                condition,
                e -> {
                    boolean compares =
                            e instanceof Expression.Binary b && b.operator().isComparison();
                    boolean counted =
                            compares
                                    && ExpressionWalk.any(
                                            e,
                                            r ->
                                                    r instanceof Expression.Reference name
                                                            && name.names().size() == 1
                                                            && counts.contains(
                                                                    name.names().get(0).key()));
                    if (counted) {
                        add(Kind.ROW_COUNT, e.span(), "FALSE");
                    }
                });
        expression(condition);
    }

    private void expression(Expression expression) {
        one(expression);
        query(expression).ifPresent(this::sql);
        ExpressionWalk.parts(expression).forEach(this::expression);
    }

    private static Optional<SqlText> query(Expression e) {
        if (e instanceof Expression.ScalarQuery scalar) {
            return Optional.of(scalar.query());
        }
        if (e instanceof Expression.Exists exists) {
            return Optional.of(exists.query());
        }
        return e instanceof Expression.QueryComparison comparison
                ? Optional.of(comparison.query())
                : Optional.empty();
    }

    private static final Map<Expression.Operator, String> MOVED =
            Map.of(
                    Expression.Operator.LESS, "<=",
                    Expression.Operator.LESS_OR_EQUAL, "<",
                    Expression.Operator.GREATER, ">=",
                    Expression.Operator.GREATER_OR_EQUAL, ">");

    private static final Map<Expression.Operator, String> TURNED =
            Map.of(
                    Expression.Operator.EQUAL, "<>",
                    Expression.Operator.NOT_EQUAL, "=",
                    Expression.Operator.LESS, ">=",
                    Expression.Operator.LESS_OR_EQUAL, ">",
                    Expression.Operator.GREATER, "<=",
                    Expression.Operator.GREATER_OR_EQUAL, "<");

    private static final Map<Expression.Operator, String> EXCHANGED =
            Map.of(
                    Expression.Operator.ADD, "-",
                    Expression.Operator.SUBTRACT, "+",
                    Expression.Operator.MULTIPLY, "/",
                    Expression.Operator.DIVIDE, "*",
                    Expression.Operator.AND, "OR",
                    Expression.Operator.OR, "AND");

    private void one(Expression e) {
        if (e instanceof Expression.Literal literal) {
            literal(literal);
        } else if (e instanceof Expression.Binary binary) {
            operator(binary).ifPresent(sign -> binary(binary, sign));
        } else if (e instanceof Expression.IsNull test) {
            add(Kind.NULL_TEST, test.span(), test.negated() ? "TRUE" : "FALSE");
        } else if (e instanceof Expression.Not not) {
            add(Kind.COMPARISON, not.span(), written(not.operand().span()));
        } else if (e instanceof Expression.Between between && !between.negated()) {
            between(between);
        } else if (e instanceof Expression.Case choice) {
            choice(choice);
        } else if (e instanceof Expression.Aggregate aggregate) {
            String key = aggregate.function().key();
            if (key.equals("MIN") || key.equals("MAX")) {
                add(Kind.OPERATOR, aggregate.function().span(), key.equals("MIN") ? "MAX" : "MIN");
            }
        } else if (e instanceof Expression.Call call
                && call.key().equals("COALESCE")
                && call.arguments().size() > 1) {
            add(Kind.NULL_TEST, call.span(), written(call.arguments().get(0).value().span()));
        }
    }

    private void binary(Expression.Binary binary, Span sign) {
        Expression.Operator operator = binary.operator();
        if (MOVED.containsKey(operator)) {
            add(Kind.BOUND, sign, MOVED.get(operator));
        }
        if (TURNED.containsKey(operator)) {
            add(Kind.COMPARISON, sign, TURNED.get(operator));
        }
        if (EXCHANGED.containsKey(operator)) {
            add(Kind.OPERATOR, sign, EXCHANGED.get(operator));
        }
    }

    /** Where the sign of an operator stands, between its sides. */
    private static Optional<Span> operator(Expression.Binary binary) {
        int from = binary.left().span().end();
        int to = binary.right().span().start();
        if (from > to) {
            return Optional.empty();
        }
        Span between = binary.span().source().span(from, to);
        return SqlWords.of(between.text()).all().stream()
                .filter(w -> w.is(binary.operator().sign()) || w.is("!=") && isNotEqual(binary))
                .findFirst()
                .map(w -> between.source().span(from + w.start(), from + w.end()));
    }

    private static boolean isNotEqual(Expression.Binary binary) {
        return binary.operator() == Expression.Operator.NOT_EQUAL;
    }

    private void between(Expression.Between between) {
        String operand = written(between.operand().span());
        String low = written(between.low().span());
        String high = written(between.high().span());
        if (!between.symmetric()) {
            String text = "(%s %s %s AND %s %s %s)";
            add(Kind.BOUND, between.span(), text.formatted(operand, ">", low, operand, "<=", high));
            add(Kind.BOUND, between.span(), text.formatted(operand, ">=", low, operand, "<", high));
        }
        word(between.span(), "BETWEEN").ifPresent(w -> add(Kind.COMPARISON, w, "NOT BETWEEN"));
    }

    /** The values of a branch and of the next change places. */
    private void choice(Expression.Case choice) {
        List<Expression> values =
                new ArrayList<>(choice.branches().stream().map(Expression.When::then).toList());
        choice.otherwise().ifPresent(values::add);
        for (int i = 0; i + 1 < values.size(); i++) {
            swap(values.get(i).span(), values.get(i + 1).span());
        }
    }

    private void literal(Expression.Literal literal) {
        String written = written(literal.span());
        switch (literal.kind()) {
            case INTEGER -> {
                if (written.matches("[0-9]{1,15}")) {
                    long value = Long.parseLong(written);
                    add(Kind.CONSTANT, literal.span(), String.valueOf(value + 1));
                    if (value > 0) {
                        add(Kind.CONSTANT, literal.span(), String.valueOf(value - 1));
                    }
                }
            }
            case DECIMAL, APPROXIMATE -> {
                if (written.matches("[0-9]*[.][0-9]+")) {
                    char last = written.charAt(written.length() - 1);
                    add(
                            Kind.CONSTANT,
                            literal.span(),
                            written.substring(0, written.length() - 1)
                                    + (last == '9' ? '8' : (char) (last + 1)));
                }
            }
            case BOOLEAN -> {
                if (!literal.text().equalsIgnoreCase("UNKNOWN")) {
                    boolean truth = literal.text().equalsIgnoreCase("TRUE");
                    add(Kind.CONSTANT, literal.span(), truth ? "FALSE" : "TRUE");
                }
            }
            case TEXT -> text(literal, written);
            case DATE -> date(literal, written);
            default -> {
                // Of NULL there is one only, and moments and intervals are let be.
            }
        }
    }

    private void text(Expression.Literal literal, String written) {
        if (!written.startsWith("'") || written.length() < 2) {
            return;
        }
        String inner = written.substring(1, written.length() - 1);
        if (inner.isEmpty()) {
            add(Kind.CONSTANT, literal.span(), "'x'");
            return;
        }
        char last = inner.charAt(inner.length() - 1);
        if (last == '\'' || Character.isSurrogate(last)) {
            return;
        }
        char other = last == 'x' || last == 'X' ? 'y' : Character.isUpperCase(last) ? 'X' : 'x';
        add(
                Kind.CONSTANT,
                literal.span(),
                "'" + inner.substring(0, inner.length() - 1) + other + "'");
    }

    private void date(Expression.Literal literal, String written) {
        try {
            LocalDate next = LocalDate.parse(literal.text()).plusDays(1);
            add(Kind.CONSTANT, literal.span(), written.replace(literal.text(), next.toString()));
        } catch (DateTimeParseException e) {
            // A date that is none is somebody else's mistake.
            return;
        }
    }

    // ------------------------------------------------------------------ data statements

    private void sql(SqlText text) {
        SqlStatement tree = text.tree();
        if (tree instanceof Change.Update update) {
            assignments(update.assignments());
        } else if (tree instanceof Change.Merge merge) {
            merge.branches().forEach(b -> assignments(b.assignments()));
        }
        SqlWalk.each(
                tree,
                new SqlWalk.Visitor() {
                    @Override
                    public void clause(Clause clause) {
                        if (clause instanceof Clause.Where where) {
                            condition(where.span(), where.condition(), true);
                        } else if (clause instanceof Clause.Having having) {
                            condition(having.span(), having.condition(), true);
                        } else if (clause instanceof Clause.OrderBy order) {
                            order.keys().forEach(key -> turn(key));
                        }
                    }

                    @Override
                    public void table(TableSource table) {
                        if (table instanceof TableSource.Join join) {
                            join.on().ifPresent(on -> condition(on.span(), on, false));
                        }
                    }

                    @Override
                    public void found(SqlWalk.Found one) {
                        if (one.place() != SqlWalk.Place.UNKNOWN) {
                            one(one.expression());
                        }
                    }
                });
    }

    private void turn(Clause.SortKey key) {
        if (key.descending()) {
            word(key.span(), "DESC").ifPresent(w -> add(Kind.ORDER, w, "ASC"));
            return;
        }
        Optional<Span> ascending = word(key.span(), "ASC");
        if (ascending.isPresent()) {
            add(Kind.ORDER, ascending.get(), "DESC");
        } else {
            Span value = key.value().span();
            add(Kind.ORDER, value, written(value) + " DESC");
        }
    }

    /** Each term of a condition is left out in turn. */
    private void condition(Span clause, SqlValue value, boolean mayGo) {
        Optional<Expression> read = value.expression();
        if (read.isEmpty() || value.span().start() == value.span().end()) {
            return;
        }
        List<Expression> terms = new ArrayList<>();
        terms(read.get(), terms);
        if (terms.size() == 1) {
            add(Kind.TERM, mayGo ? clause : value.span(), mayGo ? "" : "TRUE");
            return;
        }
        for (int i = 0; i < terms.size(); i++) {
            Span term = terms.get(i).span();
            Span around =
                    i > 0
                            ? term.source().span(terms.get(i - 1).span().end(), term.end())
                            : term.source().span(term.start(), terms.get(1).span().start());
            String between =
                    i > 0
                            ? term.source().text().substring(around.start(), term.start())
                            : term.source().text().substring(term.end(), around.end());
            boolean plain = between.strip().equalsIgnoreCase("AND");
            add(Kind.TERM, plain ? around : term, plain ? "" : "TRUE");
        }
    }

    private static void terms(Expression e, List<Expression> terms) {
        if (e instanceof Expression.Binary binary && binary.operator() == Expression.Operator.AND) {
            terms(binary.left(), terms);
            terms(binary.right(), terms);
        } else {
            terms.add(e);
        }
    }

    private void assignments(List<Change.Assignment> assignments) {
        for (int i = 0; i < assignments.size() && assignments.size() > 1; i++) {
            Span one = assignments.get(i).span();
            Span around =
                    i > 0
                            ? one.source().span(assignments.get(i - 1).span().end(), one.end())
                            : one.source().span(one.start(), assignments.get(1).span().start());
            add(Kind.ASSIGNMENT, around, "");
        }
    }
}
