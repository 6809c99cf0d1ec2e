package dev.cantina.testing;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.project.ProjectException;
import dev.cantina.project.YamlNode;
import dev.cantina.runtime.ResultRows;
import dev.cantina.runtime.StandIn;
import dev.cantina.syntax.Nearest;
import dev.cantina.syntax.Problem;
import dev.cantina.types.Condition;
import dev.cantina.types.ConditionException;
import dev.cantina.types.Conversion;
import dev.cantina.types.SqlType;
import dev.cantina.types.Words;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;

/** The routines that a case replaces, what each does instead, and how each was called. */
final class StandIns implements StandIn {
    private static final Set<String> KEYS = Set.of("returns", "rows", "raises");

    /** What a call of a routine comes to: values, rows, or a condition. */
    private record Answer(
            Map<String, Object> values,
            Object returned,
            Optional<YamlNode> rows,
            Optional<Condition> raises) {}

    /** A routine that is replaced; the last answer stays. */
    private static final class Replaced {
        final List<Answer> answers = new ArrayList<>();
        final List<Map<String, Object>> calls = new ArrayList<>();
    }

    private final Catalog catalog;
    private final Map<String, Replaced> replaced = new LinkedHashMap<>();

    /**
     * @param written the {@code stand_in} of a case
     * @throws ProjectException for a routine that is not there, or values that do not fit
     */
    StandIns(YamlNode written, Catalog catalog) throws ProjectException {
        this.catalog = catalog;
        YamlNode.Mapping all = written.mapping("stand_in");
        for (Map.Entry<String, YamlNode> entry : all.fields().entrySet()) {
            RoutineSymbol routine = routine(entry.getKey(), all);
            Replaced one = new Replaced();
            if (entry.getValue() instanceof YamlNode.Sequence several) {
                for (YamlNode item : several.items()) {
                    one.answers.add(answer(item, routine));
                }
            } else {
                one.answers.add(answer(entry.getValue(), routine));
            }
            if (one.answers.isEmpty()) {
                throw entry.getValue().wrong("say what it does: { returns: … }, or {} for nothing");
            }
            replaced.put(routine.key(), one);
        }
    }

    private RoutineSymbol routine(String name, YamlNode.Mapping all) throws ProjectException {
        List<RoutineSymbol> found = catalog.routinesCalled(name);
        if (found.isEmpty()) {
            List<String> known = catalog.routines().stream().map(RoutineSymbol::name).toList();
            throw new ProjectException(
                    Problem.unknown(
                            all.keys().getOrDefault(name, all.span()),
                            "unknown-routine",
                            "there is no routine " + name + " to stand in for",
                            Nearest.to(name, known),
                            Nearest.listed(name, known)));
        }
        return found.get(0);
    }

    private static Answer answer(YamlNode node, RoutineSymbol routine) throws ProjectException {
        YamlNode.Mapping mapping = node.mapping("a stand-in", KEYS);
        Optional<Condition> raises = Optional.empty();
        if (mapping.get("raises").isPresent()) {
            raises = Optional.of(condition(mapping.get("raises").get(), routine));
        }
        Map<String, Object> values = new LinkedHashMap<>();
        Object returned = null;
        if (mapping.get("returns").isPresent()) {
            YamlNode returns = mapping.get("returns").get();
            if (routine.returns().orElse(SqlType.NULL) instanceof SqlType.Table) {
                throw returns.wrong(
                        routine.name() + " gives rows: write rows: [ { column: value } ]");
            }
            if (routine.isFunction()) {
                returned = value(returns, routine.returns().orElse(SqlType.NULL));
            } else {
                YamlNode.Mapping out = returns.mapping("returns of a procedure");
                for (Map.Entry<String, YamlNode> entry : out.fields().entrySet()) {
                    ParameterSymbol parameter = parameter(entry.getKey(), routine, out);
                    values.put(parameter.name().key(), value(entry.getValue(), parameter.type()));
                }
            }
        }
        return new Answer(values, returned, mapping.get("rows"), raises);
    }

    private static Condition condition(YamlNode raises, RoutineSymbol routine)
            throws ProjectException {
        if (raises instanceof YamlNode.Scalar state) {
            return new Condition(state.text(), routine.name() + " is stood in for");
        }
        YamlNode.Mapping mapping = raises.mapping("raises", Set.of("sqlstate", "message"));
        if (mapping.get("sqlstate").isEmpty()) {
            throw raises.wrong("say which condition: { sqlstate: \"45000\" }");
        }
        String message =
                mapping.get("message").isPresent()
                        ? mapping.get("message").get().text("message")
                        : routine.name() + " is stood in for";
        return new Condition(mapping.get("sqlstate").get().text("sqlstate"), message);
    }

    private static ParameterSymbol parameter(
            String name, RoutineSymbol routine, YamlNode.Mapping where) throws ProjectException {
        for (ParameterSymbol parameter : routine.parameters()) {
            if (parameter.mode().isOutput() && parameter.name().text().equalsIgnoreCase(name)) {
                return parameter;
            }
        }
        throw new ProjectException(
                Problem.error(
                        where.keys().getOrDefault(name, where.span()),
                        "unknown-name",
                        routine.name() + " has no OUT or INOUT parameter " + name,
                        "it is " + routine.signature()));
    }

    private static Object value(YamlNode node, SqlType type) throws ProjectException {
        try {
            boolean list = type instanceof SqlType.Array || type instanceof SqlType.Unknown;
            if (node instanceof YamlNode.Sequence sequence && list) {
                SqlType of = type instanceof SqlType.Array array ? array.element() : type;
                List<Object> elements = new ArrayList<>();
                for (YamlNode item : sequence.items()) {
                    elements.add(value(item, of));
                }
                return elements.toArray();
            }
            if (!(node instanceof YamlNode.Scalar scalar)) {
                throw node.wrong("this does not fit " + type.sql() + ": write one value");
            }
            Object value = scalar.value();
            return value instanceof String text && !(type instanceof SqlType.Text)
                    ? Conversion.cast(text, type)
                    : Conversion.store(value, type);
        } catch (ConditionException e) {
            throw node.wrong("this does not fit " + type.sql() + ": " + e.condition().message());
        }
    }

    @Override
    public boolean replaces(RoutineSymbol routine) {
        return replaced.containsKey(routine.key());
    }

    @Override
    public Object[] stand(RoutineSymbol routine, Object[] values, Consumer<ResultRows> results) {
        Replaced one = replaced.get(routine.key());
        Map<String, Object> call = new LinkedHashMap<>();
        for (int i = 0; i < values.length; i++) {
            if (routine.parameters().get(i).mode().isInput()) {
                call.put(routine.parameters().get(i).name().text(), values[i]);
            }
        }
        Answer answer = one.answers.get(Math.min(one.calls.size(), one.answers.size() - 1));
        one.calls.add(call);
        if (answer.raises().isPresent()) {
            throw new ConditionException(answer.raises().get());
        }
        Object[] given = Arrays.copyOf(values, values.length + 1);
        for (int i = 0; i < values.length; i++) {
            ParameterSymbol parameter = routine.parameters().get(i);
            if (parameter.mode().isOutput()) {
                given[i] = answer.values().getOrDefault(parameter.name().key(), given[i]);
            }
        }
        given[values.length] = answer.returned();
        if (answer.rows().isPresent()) {
            ResultRows rows = rows(answer.rows().get(), routine);
            if (routine.isFunction()) {
                given[values.length] = rows;
            } else {
                results.accept(rows);
            }
        } else if (routine.returns().orElse(SqlType.NULL) instanceof SqlType.Table table) {
            given[values.length] = new ResultRows(table.columns(), List.of());
        }
        return given;
    }

    private static ResultRows rows(YamlNode written, RoutineSymbol routine) {
        try {
            List<SqlType.Field> columns = new ArrayList<>();
            if (routine.returns().orElse(SqlType.NULL) instanceof SqlType.Table table) {
                columns.addAll(table.columns());
            }
            List<Object[]> rows = new ArrayList<>();
            for (YamlNode item : written.sequence("rows").items()) {
                YamlNode.Mapping row = item.mapping("a row");
                for (String name : row.fields().keySet()) {
                    if (columns.stream().noneMatch(c -> c.name().equalsIgnoreCase(name))) {
                        columns.add(new SqlType.Field(name, SqlType.NULL));
                    }
                }
            }
            for (YamlNode item : written.sequence("rows").items()) {
                Object[] row = new Object[columns.size()];
                for (Map.Entry<String, YamlNode> field :
                        item.mapping("a row").fields().entrySet()) {
                    for (int i = 0; i < row.length; i++) {
                        if (columns.get(i).name().equalsIgnoreCase(field.getKey())) {
                            row[i] = value(field.getValue(), columns.get(i).type());
                        }
                    }
                }
                rows.add(row);
            }
            return new ResultRows(columns, rows);
        } catch (ProjectException e) {
            throw new ConditionException(
                    "42000", "the stand-in for " + routine.name() + ": " + e.getMessage());
        }
    }

    /** Compares how the routines were called with what {@code asked} says. */
    void compare(YamlNode asked, List<Difference> differences) throws ProjectException {
        YamlNode.Mapping all = asked.mapping("asked");
        for (Map.Entry<String, YamlNode> entry : all.fields().entrySet()) {
            String key = routine(entry.getKey(), all).key();
            if (!replaced.containsKey(key)) {
                throw new ProjectException(
                        Problem.error(
                                all.keys().getOrDefault(entry.getKey(), all.span()),
                                "unknown-routine",
                                entry.getKey() + " is not stood in for in this case",
                                "add it to stand_in"));
            }
            List<Map<String, Object>> calls = replaced.get(key).calls;
            String at = "asked." + entry.getKey();
            if (entry.getValue() instanceof YamlNode.Scalar) {
                Expectation count = Expectation.of(entry.getValue());
                if (!count.matches((long) calls.size())) {
                    differences.add(Difference.of(at, count.shown(), (long) calls.size()));
                }
                continue;
            }
            List<YamlNode> wanted = entry.getValue().sequence(at).items();
            for (int i = 0; i < Math.max(wanted.size(), calls.size()); i++) {
                String place = at + "[" + i + "]";
                if (i >= wanted.size()) {
                    differences.add(
                            Difference.of(
                                    place, new Words("no call"), new Words(words(calls.get(i)))));
                } else if (i >= calls.size()) {
                    differences.add(
                            Difference.of(place, new Words("a call"), new Words("no call")));
                } else {
                    call(place, wanted.get(i).mapping("a call"), calls.get(i), differences);
                }
            }
        }
    }

    private static void call(
            String at,
            YamlNode.Mapping wanted,
            Map<String, Object> actual,
            List<Difference> differences)
            throws ProjectException {
        for (Map.Entry<String, YamlNode> entry : wanted.fields().entrySet()) {
            Optional<String> name =
                    actual.keySet().stream()
                            .filter(k -> k.equalsIgnoreCase(entry.getKey()))
                            .findFirst();
            if (name.isEmpty()) {
                throw new ProjectException(
                        Problem.error(
                                wanted.keys().getOrDefault(entry.getKey(), wanted.span()),
                                "unknown-name",
                                "there is no parameter " + entry.getKey(),
                                "there are " + String.join(", ", actual.keySet())));
            }
            Expectation expectation = Expectation.of(entry.getValue());
            if (!expectation.matches(actual.get(name.get()))) {
                differences.add(
                        Difference.of(
                                at + "." + name.get(),
                                expectation.shown(),
                                actual.get(name.get())));
            }
        }
    }

    private static String words(Map<String, Object> call) {
        List<String> parts = new ArrayList<>();
        call.forEach(
                (name, value) -> parts.add(name + " " + dev.cantina.types.Values.literal(value)));
        return parts.isEmpty() ? "a call" : String.join(", ", parts);
    }
}
