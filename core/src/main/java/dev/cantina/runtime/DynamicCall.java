package dev.cantina.runtime;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.SqlWords;
import dev.cantina.syntax.Statement;
import dev.cantina.syntax.Unit;
import dev.cantina.types.ConditionException;
import dev.cantina.types.Conversion;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * A CALL that is prepared and executed dynamically (ISO 9075-2, 20.10): USING gives the values of
 * the markers of IN and INOUT parameters, in their order, and INTO takes those of OUT and INOUT.
 */
final class DynamicCall {
    private static final String MARKER = "cantina_marker_";

    private final RoutineSymbol routine;

    /** For each parameter what stands for it; a marker is a reference to one. */
    private final List<Optional<Expression>> arguments;

    private DynamicCall(RoutineSymbol routine, List<Optional<Expression>> arguments) {
        this.routine = routine;
        this.arguments = arguments;
    }

    /**
     * Reads a statement.
     *
     * @throws ConditionException where it is no CALL of a procedure that there is
     */
    static DynamicCall of(String statement, Catalog catalog) {
        StringBuilder text = new StringBuilder();
        int at = 0;
        int markers = 0;
        for (SqlWords.Word word : SqlWords.of(statement).all()) {
            if (word.is("?")) {
                text.append(statement, at, word.start()).append(MARKER).append(markers++);
                at = word.end();
            }
        }
        text.append(statement.substring(at));
        ParsedFile read = Parser.parse(new Source("statement", text.toString()));
        if (!read.problems().isEmpty()
                || read.units().size() != 1
                || !(read.units().get(0) instanceof Unit.Step step)
                || !(step.statement() instanceof Statement.Call call)) {
            String why = read.problems().isEmpty() ? "" : ": " + read.problems().get(0).message();
            throw new ConditionException("42000", "this CALL can't be read" + why);
        }
        String key = catalog.keyOf(call.name(), Optional.empty());
        List<SqlType> unknown = call.arguments().stream().<SqlType>map(a -> SqlType.NULL).toList();
        RoutineSymbol routine =
                catalog.find(key, false, unknown)
                        .filter(RoutineSymbol::isPublic)
                        .orElseThrow(
                                () ->
                                        new ConditionException(
                                                "42000",
                                                "there is no procedure "
                                                        + key
                                                        + " with "
                                                        + call.arguments().size()
                                                        + " parameters"));
        return new DynamicCall(routine, matched(routine, call.arguments()));
    }

    private static List<Optional<Expression>> matched(
            RoutineSymbol routine, List<Expression.Argument> given) {
        List<Optional<Expression>> matched = new ArrayList<>();
        for (int i = 0; i < routine.parameters().size(); i++) {
            Name name = routine.parameters().get(i).name();
            Optional<Expression> value = Optional.empty();
            for (int k = 0; k < given.size(); k++) {
                Optional<Name> said = given.get(k).name();
                boolean fits = said.isPresent() ? said.get().is(name) : k == i;
                value = fits ? Optional.of(given.get(k).value()) : value;
            }
            matched.add(value);
        }
        return matched;
    }

    private static boolean isMarker(Expression e) {
        return e instanceof Expression.Reference reference
                && reference.names().size() == 1
                && reference.names().get(0).text().startsWith(MARKER);
    }

    /**
     * Calls it.
     *
     * @param values what USING gives
     * @return what INTO takes, in the order of the parameters
     */
    Object[] run(Session session, Object[] values) {
        Object[] all = new Object[arguments.size()];
        int used = 0;
        for (int i = 0; i < all.length; i++) {
            ParameterSymbol parameter = routine.parameters().get(i);
            Optional<Expression> given = arguments.get(i);
            if (!parameter.mode().isInput()) {
                if (given.isPresent() && !isMarker(given.get())) {
                    throw new ConditionException(
                            "42000",
                            "parameter " + parameter.name() + " gives a value back: it needs a ?");
                }
                continue;
            }
            if (given.isEmpty()) {
                all[i] = session.program().defaultOf(routine, i, session);
                continue;
            }
            Object value;
            if (isMarker(given.get())) {
                if (used == values.length) {
                    throw new ConditionException("07001", "there are more markers than values");
                }
                value = values[used++];
            } else {
                value = session.evaluate(given.get());
            }
            all[i] = Conversion.store(value, parameter.type());
        }
        if (used < values.length) {
            throw new ConditionException("07001", "there are fewer markers than values");
        }
        Object[] after = session.call(session.top(), new RoutineReference(routine), all);
        List<Object> given = new ArrayList<>();
        for (int i = 0; i < all.length; i++) {
            boolean marker = arguments.get(i).filter(DynamicCall::isMarker).isPresent();
            if (routine.parameters().get(i).mode().isOutput() && marker) {
                given.add(after[i]);
            }
        }
        return given.toArray();
    }
}
