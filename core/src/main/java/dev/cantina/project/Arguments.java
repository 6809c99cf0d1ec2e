package dev.cantina.project;

import com.fasterxml.jackson.core.JsonProcessingException;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.runtime.Session;
import dev.cantina.syntax.Nearest;
import dev.cantina.types.ConditionException;
import dev.cantina.types.Conversion;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Makes the arguments of a call of what a person gave. */
public final class Arguments {
    /** The arguments do not fit the routine; the message names the parameter and the signature. */
    public static final class MisfitException extends Exception {
        private static final long serialVersionUID = 1L;

        MisfitException(String message, RoutineSymbol routine) {
            super(message + "\n  it is " + routine.signature());
        }
    }

    private Arguments() {}

    /** Asks the database for a value, by a query. */
    @FunctionalInterface
    public interface Asker {
        Object ask(String query) throws ProjectException;
    }

    /**
     * Values by parameter name, from texts such as {@code litres=120}. {@code null} is NULL, a text
     * in quotes is that text, and one that begins with {@code =} is a query for the value.
     *
     * @param saved values that were kept, for the parameters that the texts leave out
     */
    public static Map<String, Object> read(
            RoutineSymbol routine, List<String> texts, Map<String, Object> saved, Asker asker)
            throws MisfitException, ProjectException {
        Map<String, Object> given = new LinkedHashMap<>();
        for (String text : texts) {
            int sign = text.indexOf('=');
            if (sign < 1) {
                throw new MisfitException("'" + text + "' is not NAME=VALUE", routine);
            }
            String name = text.substring(0, sign).strip();
            if (given.containsKey(name)) {
                throw new MisfitException("parameter " + name + " is given twice", routine);
            }
            String value = text.substring(sign + 1).strip();
            given.put(
                    name,
                    value.startsWith("=")
                            ? asker.ask(value.substring(1).strip())
                            : value(text.substring(sign + 1)));
        }
        for (Map.Entry<String, Object> entry : saved.entrySet()) {
            if (given.keySet().stream().noneMatch(entry.getKey()::equalsIgnoreCase)) {
                given.put(entry.getKey(), entry.getValue());
            }
        }
        return given;
    }

    /**
     * The value of one parameter, from a text as a person types it behind NAME=.
     *
     * @throws MisfitException where it does not fit
     */
    public static Object read(
            RoutineSymbol routine, ParameterSymbol parameter, String text, Asker asker)
            throws MisfitException, ProjectException {
        String stripped = text.strip();
        Object value =
                stripped.startsWith("=") ? asker.ask(stripped.substring(1).strip()) : value(text);
        stored(routine, parameter, value);
        return value;
    }

    /** The parameters that take a value, have no default, and are given none. */
    public static List<ParameterSymbol> missing(RoutineSymbol routine, Map<String, Object> given) {
        return routine.parameters().stream()
                .filter(p -> p.mode().isInput() && p.initial().isEmpty())
                .filter(
                        p ->
                                given.keySet().stream()
                                        .noneMatch(k -> k.equalsIgnoreCase(p.name().text())))
                .toList();
    }

    private static Object value(String text) {
        if (text.strip().equalsIgnoreCase("null")) {
            return null;
        }
        if (text.length() >= 2 && text.startsWith("'") && text.endsWith("'")) {
            return text.substring(1, text.length() - 1).replace("''", "'");
        }
        return text;
    }

    /** Of several routines of one name, the one whose parameters these names are. */
    public static RoutineSymbol choose(List<RoutineSymbol> overloads, Collection<String> names) {
        for (RoutineSymbol routine : overloads) {
            boolean known =
                    names.stream()
                            .allMatch(
                                    n ->
                                            routine.parameters().stream()
                                                    .anyMatch(
                                                            p ->
                                                                    p.name()
                                                                            .text()
                                                                            .equalsIgnoreCase(n)));
            boolean enough =
                    routine.parameters().stream()
                            .filter(p -> p.mode().isInput() && p.initial().isEmpty())
                            .allMatch(
                                    p ->
                                            names.stream()
                                                    .anyMatch(p.name().text()::equalsIgnoreCase));
            if (known && enough) {
                return routine;
            }
        }
        return overloads.get(0);
    }

    /** Values by parameter name, stored into the parameters' types, in the parameters' order. */
    public static List<Optional<Object>> match(RoutineSymbol routine, Map<String, Object> given)
            throws MisfitException {
        List<Optional<Object>> arguments = new ArrayList<>();
        known(routine, given);
        Map<String, Object> left = new LinkedHashMap<>(given);
        for (ParameterSymbol parameter : routine.parameters()) {
            String name = parameter.name().text();
            String key =
                    left.keySet().stream()
                            .filter(k -> k.equalsIgnoreCase(name))
                            .findFirst()
                            .orElse(null);
            if (!parameter.mode().isInput()) {
                if (key != null) {
                    throw new MisfitException(
                            "parameter " + name + " is OUT: it gives a value and takes none",
                            routine);
                }
                arguments.add(Optional.empty());
            } else if (key != null) {
                Object value = stored(routine, parameter, left.remove(key));
                arguments.add(Optional.of(value == null ? Session.NULL : value));
            } else if (parameter.initial().isPresent()) {
                arguments.add(Optional.empty());
            } else {
                throw new MisfitException("no value for parameter " + name, routine);
            }
        }
        return arguments;
    }

    private static void known(RoutineSymbol routine, Map<String, Object> given)
            throws MisfitException {
        List<String> known = routine.parameters().stream().map(p -> p.name().text()).toList();
        for (String name : given.keySet()) {
            if (known.stream().noneMatch(name::equalsIgnoreCase)) {
                throw new MisfitException(
                        "there is no parameter "
                                + name
                                + Nearest.to(name, known)
                                        .map(n -> "; did you mean " + n + "?")
                                        .orElse(""),
                        routine);
            }
        }
    }

    private static Object stored(RoutineSymbol routine, ParameterSymbol parameter, Object value)
            throws MisfitException {
        try {
            boolean compound =
                    parameter.type() instanceof SqlType.Array
                            || parameter.type() instanceof SqlType.Row;
            if (value instanceof String text && compound) {
                return Conversion.store(JsonValues.value(text, parameter.type()), parameter.type());
            }
            if (value instanceof String text && !(parameter.type() instanceof SqlType.Text)) {
                return Conversion.cast(text, parameter.type());
            }
            return Conversion.store(value, parameter.type());
        } catch (JsonProcessingException e) {
            throw new MisfitException(
                    "the value of "
                            + parameter.name()
                            + " does not fit: an array is written as JSON, [1, 2], a row as {\"field\": 1}",
                    routine);
        } catch (ConditionException e) {
            if (routine.isOnServer() && isForServer(value, parameter.type())) {
                return value;
            }
            throw new MisfitException(
                    "the value of "
                            + parameter.name()
                            + " does not fit: "
                            + e.condition().message(),
                    routine);
        }
    }

    /** Whether a server knows values of a type that the standard has not, as infinity. */
    private static boolean isForServer(Object value, SqlType type) {
        return (value instanceof String || value instanceof Number)
                && (type instanceof SqlType.Date
                        || type instanceof SqlType.Time
                        || type instanceof SqlType.Timestamp
                        || type instanceof SqlType.Bool
                        || type instanceof SqlType.Exact
                        || type instanceof SqlType.Approximate);
    }
}
