package dev.cantina.testing;

import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.project.YamlNode;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.ResultRows;
import dev.cantina.runtime.Session;
import dev.cantina.runtime.StackEntry;
import dev.cantina.runtime.TableChanges;
import dev.cantina.syntax.Nearest;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.types.Condition;
import dev.cantina.types.ConditionException;
import dev.cantina.types.SqlType;
import dev.cantina.types.Values;
import dev.cantina.types.Words;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Compares what the calls of a case came to with what it says. */
final class CaseComparison {
    private final Workspace workspace;
    private final Session session;
    private final List<Difference> differences;

    /**
     * @param session still open: it works out the matchers that are SQL, with its clock
     */
    CaseComparison(Workspace workspace, Session session, List<Difference> differences) {
        this.workspace = workspace;
        this.session = session;
        this.differences = differences;
    }

    /**
     * @param given the arguments: what INOUT parameters still hold where the routine did not
     *     complete
     */
    void call(
            TestCase.Call call,
            RoutineSymbol routine,
            List<Optional<Object>> given,
            Outcome outcome)
            throws ProjectException, SQLException {
        condition(call, outcome);
        boolean completed = outcome.kind() == Outcome.Kind.COMPLETED;
        boolean expected = completed || call.raises().isPresent() && !routine.isFunction();
        if (call.returns().isPresent() && expected) {
            Map<String, Object> out = completed ? outcome.out() : kept(routine, given);
            returns(call.at(), resolved(call.returns().get()), routine, outcome, out);
        }
        if (call.results().isPresent() && outcome.kind() == Outcome.Kind.COMPLETED) {
            results(call.at() + "results", call.results().get(), outcome.results());
        }
        if (call.says().isPresent()) {
            says(call.at(), resolved(call.says().get()), outcome);
        }
        if (call.data().isPresent()) {
            data(call.data().get(), call.at() + "data", TableChanges.of(outcome.events()));
        }
    }

    /**
     * What a caller holds after a routine that ended in a condition: INOUT as it was, OUT nothing.
     */
    private static Map<String, Object> kept(RoutineSymbol routine, List<Optional<Object>> given) {
        Map<String, Object> kept = new LinkedHashMap<>();
        for (int i = 0; i < given.size(); i++) {
            ParameterSymbol parameter = routine.parameters().get(i);
            if (parameter.mode().isOutput()) {
                Object value = given.get(i).orElse(Session.NULL);
                kept.put(parameter.name().text(), value == Session.NULL ? null : value);
            }
        }
        return kept;
    }

    void data(YamlNode data, String at, List<TableChanges> changes) throws ProjectException {
        new DataExpectation(workspace.catalog(), at, differences).compare(resolved(data), changes);
    }

    /** Queries run after all calls, each with what it is to give. */
    void ask(YamlNode ask) throws ProjectException, SQLException {
        int number = 0;
        for (YamlNode item : ask.sequence("ask").items()) {
            YamlNode.Mapping one =
                    item.mapping(
                            "a query of ask", Set.of("query", "rows", "same_as", "in_any_order"));
            if (one.get("query").isEmpty()) {
                throw one.wrong("say what to ask: query: SELECT …");
            }
            String sql = one.get("query").get().text("query");
            ResultRows actual = rows(one.get("query").get(), sql);
            result("ask[" + number++ + "]", one, actual);
        }
    }

    private ResultRows rows(YamlNode place, String sql) throws ProjectException {
        try {
            return session.questions().inspect(sql, Long.MAX_VALUE);
        } catch (SQLException e) {
            throw place.wrong(
                    "this query is refused: " + workspace.database().condition(e).message());
        }
    }

    private void results(String at, YamlNode written, List<ResultRows> actual)
            throws ProjectException {
        List<YamlNode> wanted = written.sequence("results").items();
        boolean only =
                !wanted.isEmpty()
                        && wanted.stream()
                                .allMatch(
                                        w ->
                                                w instanceof YamlNode.Mapping m
                                                        && m.get("rows").isEmpty()
                                                        && m.get("same_as").isEmpty());
        if (only) {
            wanted = List.of(written);
        }
        for (int i = 0; i < Math.max(wanted.size(), actual.size()); i++) {
            String place = wanted.size() <= 1 && actual.size() <= 1 ? at : at + "[" + i + "]";
            if (i >= wanted.size()) {
                differences.add(
                        Difference.of(
                                place,
                                new Words("no result set"),
                                new Words(actual.get(i).rows().size() + " rows")));
            } else if (i >= actual.size()) {
                differences.add(Difference.of(place, new Words("a result set"), new Words("none")));
            } else {
                result(place, wanted.get(i), actual.get(i));
            }
        }
    }

    /** One result set: a list of its rows, or a mapping that says more. */
    private void result(String at, YamlNode wanted, ResultRows actual) throws ProjectException {
        if (wanted instanceof YamlNode.Sequence) {
            new RowsExpectation(at, actual, differences).compare(resolved(wanted), false);
            return;
        }
        YamlNode.Mapping mapping =
                wanted.mapping("a result", Set.of("query", "rows", "same_as", "in_any_order"));
        Optional<YamlNode> order = mapping.get("in_any_order");
        boolean anyOrder =
                order.isPresent()
                        && order.get() instanceof YamlNode.Scalar scalar
                        && Boolean.TRUE.equals(scalar.value());
        RowsExpectation rows = new RowsExpectation(at, actual, differences);
        if (mapping.get("same_as").isPresent()) {
            YamlNode query = mapping.get("same_as").get();
            rows.compare(rows(query, query.text("same_as")), anyOrder);
        } else if (mapping.get("rows").isPresent()) {
            YamlNode expected = resolved(mapping.get("rows").get());
            if (expected instanceof YamlNode.Sequence) {
                rows.compare(expected, anyOrder);
            } else {
                Expectation count = Expectation.of(expected);
                if (!count.matches((long) actual.rows().size())) {
                    differences.add(
                            Difference.of(
                                    at + ".rows", count.shown(), (long) actual.rows().size()));
                }
            }
        } else {
            throw mapping.wrong("say what it gives: rows: …, or same_as: SELECT …");
        }
    }

    /** The same with each {@code { sql: … }} worked out. */
    YamlNode resolved(YamlNode node) throws ProjectException {
        if (node instanceof YamlNode.Sequence sequence) {
            List<YamlNode> items = new ArrayList<>();
            for (YamlNode item : sequence.items()) {
                items.add(resolved(item));
            }
            return new YamlNode.Sequence(sequence.span(), items);
        }
        if (!(node instanceof YamlNode.Mapping mapping)) {
            return node;
        }
        if (mapping.fields().keySet().equals(Set.of("sql"))) {
            String text = mapping.get("sql").get().text("sql");
            Parser.ParsedExpression parsed = Parser.parseExpression(new Source("sql", text));
            if (parsed instanceof Parser.ParsedExpression.Unreadable unreadable) {
                throw node.wrong("sql: " + unreadable.problem().message());
            }
            try {
                Object value =
                        session.evaluate(((Parser.ParsedExpression.Read) parsed).expression());
                return new YamlNode.Scalar(node.span(), value, Values.text(value));
            } catch (ConditionException e) {
                throw node.wrong("sql: " + e.condition().message());
            }
        }
        Map<String, YamlNode> fields = new LinkedHashMap<>();
        for (Map.Entry<String, YamlNode> field : mapping.fields().entrySet()) {
            fields.put(field.getKey(), resolved(field.getValue()));
        }
        return new YamlNode.Mapping(mapping.span(), fields, mapping.keys());
    }

    private void condition(TestCase.Call call, Outcome outcome) throws ProjectException {
        Optional<StackEntry> place = outcome.stack().stream().findFirst();
        if (call.raises().isEmpty()) {
            outcome.condition()
                    .ifPresent(
                            c ->
                                    differences.add(
                                            new Difference(
                                                    call.at() + "raises",
                                                    new Words("nothing"),
                                                    new Words(c.sqlstate() + " " + c.message()),
                                                    place)));
            return;
        }
        YamlNode raises = resolved(call.raises().get());
        boolean anything =
                raises instanceof YamlNode.Scalar scalar && "anything".equals(scalar.value());
        if (outcome.condition().isEmpty()) {
            differences.add(
                    Difference.of(
                            call.at() + "raises",
                            new Words(anything ? "a condition" : words(raises)),
                            new Words("the routine completed")));
            return;
        }
        if (anything) {
            return;
        }
        Condition condition = outcome.condition().get();
        for (Map.Entry<String, YamlNode> item : raises.mapping("raises").fields().entrySet()) {
            Object actual =
                    switch (item.getKey()) {
                        case "sqlstate" -> condition.sqlstate();
                        case "message" -> condition.message();
                        default ->
                                condition
                                        .item(item.getKey().toUpperCase(java.util.Locale.ROOT))
                                        .orElse(null);
                    };
            Expectation expectation =
                    item.getKey().equals("sqlstate") && item.getValue() instanceof YamlNode.Scalar s
                            ? new Expectation.Equal(s.text())
                            : Expectation.of(item.getValue());
            if (!expectation.matches(actual)) {
                differences.add(
                        new Difference(
                                call.at() + "raises." + item.getKey(),
                                expectation.shown(),
                                actual,
                                place));
            }
        }
    }

    private static String words(YamlNode raises) throws ProjectException {
        List<String> parts = new ArrayList<>();
        for (Map.Entry<String, YamlNode> item : raises.mapping("raises").fields().entrySet()) {
            parts.add(
                    item.getKey()
                            + " "
                            + (item.getValue() instanceof YamlNode.Scalar s
                                    ? s.text()
                                    : Expectation.of(item.getValue()).shown()));
        }
        return String.join(", ", parts);
    }

    private void returns(
            String at,
            YamlNode returns,
            RoutineSymbol routine,
            Outcome outcome,
            Map<String, Object> out)
            throws ProjectException {
        if (routine.isFunction()) {
            Expectation expectation = Expectation.of(returns);
            SqlType type = routine.returns().orElse(SqlType.VARCHAR);
            if (!expectation.matches(outcome.returned(), type)) {
                differences.add(
                        Difference.of(at + "returns", expectation.shown(), outcome.returned()));
            }
            return;
        }
        YamlNode.Mapping values = returns.mapping("returns of a procedure");
        for (Map.Entry<String, YamlNode> entry : values.fields().entrySet()) {
            Optional<String> name =
                    out.keySet().stream()
                            .filter(k -> k.equalsIgnoreCase(entry.getKey()))
                            .findFirst();
            if (name.isEmpty()) {
                throw new ProjectException(
                        Problem.unknown(
                                values.keys().getOrDefault(entry.getKey(), entry.getValue().span()),
                                "unknown-name",
                                routine.name() + " has no OUT or INOUT parameter " + entry.getKey(),
                                Nearest.to(entry.getKey(), out.keySet()),
                                "it is " + routine.signature()));
            }
            Expectation expectation = Expectation.of(entry.getValue());
            Object actual = out.get(name.get());
            SqlType type =
                    routine.parameters().stream()
                            .filter(p -> p.name().text().equalsIgnoreCase(name.get()))
                            .findFirst()
                            .orElseThrow()
                            .type();
            if (!expectation.matches(actual, type)) {
                differences.add(
                        Difference.of(at + "returns." + name.get(), expectation.shown(), actual));
            }
        }
    }

    private void says(String prefix, YamlNode says, Outcome outcome) throws ProjectException {
        List<YamlNode> wanted = says.sequence("says").items();
        List<String> actual = outcome.messages();
        for (int i = 0; i < Math.max(wanted.size(), actual.size()); i++) {
            String at = prefix + "says[" + i + "]";
            if (i >= wanted.size()) {
                differences.add(Difference.of(at, new Words("no line"), actual.get(i)));
            } else if (i >= actual.size()) {
                differences.add(
                        Difference.of(
                                at, Expectation.of(wanted.get(i)).shown(), new Words("no line")));
            } else if (!Expectation.of(wanted.get(i)).matches(actual.get(i))) {
                differences.add(
                        Difference.of(at, Expectation.of(wanted.get(i)).shown(), actual.get(i)));
            }
        }
    }
}
