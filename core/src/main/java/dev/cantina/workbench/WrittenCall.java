package dev.cantina.workbench;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Nearest;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.SqlWords;
import dev.cantina.syntax.Statement;
import dev.cantina.syntax.Unit;
import dev.cantina.types.ConditionException;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * A call of a routine as a program writes it: {@code CALL move_wine(?, 'B1', litres => ?)}, the
 * same in JDBC's braces, and {@code {? = call ullage(?)}} for a function.
 *
 * @param gives whether the first marker takes what a function gives
 * @param name the parts of the routine's name
 * @param arguments in the order in which they are written
 */
public record WrittenCall(boolean gives, List<Name> name, List<Argument> arguments) {
    private static final String MARKER = "cantina_marker_";

    /**
     * What stands for a parameter.
     *
     * @param parameter its name, where it is said
     * @param marker the number of its marker, from 1 on; 0 where it is a value
     * @param value empty for a marker
     */
    public record Argument(Optional<Name> parameter, int marker, Optional<Expression> value) {}

    /** Whether a statement is a call. */
    public static boolean isCall(String statement) {
        List<SqlWords.Word> words = SqlWords.of(statement).all();
        int at = !words.isEmpty() && words.get(0).is("{") ? 1 : 0;
        if (words.size() > at + 1 && words.get(at).is("?") && words.get(at + 1).is("=")) {
            at += 2;
        }
        return words.size() > at && words.get(at).is("CALL");
    }

    /**
     * Reads a call.
     *
     * @throws ConditionException 42000 where it can't be read
     */
    public static WrittenCall of(String statement) {
        StringBuilder text = new StringBuilder();
        List<SqlWords.Word> words = SqlWords.of(statement).all();
        int from = 0;
        int to = words.size();
        if (words.get(0).is("{")) {
            if (!words.get(to - 1).is("}")) {
                boolean closed = words.stream().anyMatch(w -> w.is("}"));
                throw new ConditionException(
                        "42000",
                        closed
                                ? "something stands behind the brace } that closes the call"
                                : "the brace { is not closed");
            }
            from = 1;
            to--;
        }
        boolean gives = words.get(from).is("?");
        from += gives ? 2 : 0;
        int marker = gives ? 2 : 1;
        boolean bracket = words.subList(from, to).stream().anyMatch(w -> w.is("("));
        int at = words.get(from).start();
        int end = words.get(to - 1).end();
        for (SqlWords.Word word : words.subList(from, to)) {
            if (word.is("?")) {
                text.append(statement, at, word.start()).append(MARKER).append(marker++);
                at = word.end();
            }
        }
        text.append(statement, at, end).append(bracket ? "" : "()");
        ParsedFile read = Parser.parse(new Source("statement", text.toString()));
        if (!read.problems().isEmpty()
                || read.units().size() != 1
                || !(read.units().get(0) instanceof Unit.Step step)
                || !(step.statement() instanceof Statement.Call call)) {
            String why =
                    read.problems().isEmpty()
                            ? "it is more than a call"
                            : read.problems().get(0).message();
            throw new ConditionException("42000", "this call can't be read: " + why);
        }
        List<Argument> arguments = new ArrayList<>();
        for (Expression.Argument one : call.arguments()) {
            int number = marker(one.value());
            arguments.add(
                    new Argument(
                            one.name(),
                            number,
                            number > 0 ? Optional.empty() : Optional.of(one.value())));
        }
        WrittenCall written = new WrittenCall(gives, call.name(), arguments);
        if (written.markers() != marker - 1) {
            throw new ConditionException(
                    "0A000", "in a call a marker is a whole argument, and not a part of one");
        }
        return written;
    }

    private static int marker(Expression e) {
        if (e instanceof Expression.Reference reference && reference.names().size() == 1) {
            String name = reference.names().get(0).text();
            if (name.startsWith(MARKER)) {
                return Integer.parseInt(name.substring(MARKER.length()));
            }
        }
        return 0;
    }

    /** How many markers there are, that of a function's value included. */
    public int markers() {
        return (gives ? 1 : 0) + (int) arguments.stream().filter(a -> a.marker() > 0).count();
    }

    /**
     * The routine that is called.
     *
     * @param types of the arguments, in their order; {@link SqlType#NULL} where none is known
     * @throws ConditionException 42000 where there is none
     */
    public RoutineSymbol routine(Catalog catalog, List<SqlType> types) {
        String key = catalog.keyOf(name, Optional.empty());
        Optional<RoutineSymbol> found = catalog.find(key, gives, types);
        if (found.isEmpty() || !found.get().isPublic() || !isNamed(found.get())) {
            throw new ConditionException("42000", missing(catalog, key));
        }
        return found.get();
    }

    private boolean isNamed(RoutineSymbol routine) {
        return arguments.stream()
                .flatMap(a -> a.parameter().stream())
                .allMatch(n -> routine.parameters().stream().anyMatch(p -> p.name().is(n)));
    }

    private String missing(Catalog catalog, String key) {
        String written = String.join(".", name.stream().map(Name::text).toList());
        List<RoutineSymbol> alike = catalog.routines(key);
        if (alike.isEmpty()) {
            List<String> known =
                    catalog.routines().stream()
                            .filter(r -> r.isPublic() && r.isFunction() == gives)
                            .map(RoutineSymbol::name)
                            .toList();
            return "there is no "
                    + (gives ? "function " : "procedure ")
                    + written
                    + Nearest.to(written, known).map(n -> "; did you mean " + n + "?").orElse("");
        }
        RoutineSymbol one = alike.get(0);
        if (!one.isPublic()) {
            return written + " is private in its module";
        }
        if (alike.stream().noneMatch(r -> r.isFunction() == gives)) {
            return gives
                    ? written + " is a procedure, which gives no value: {call " + written + "(…)}"
                    : written + " is a function: {? = call " + written + "(…)}";
        }
        return "the call does not fit " + one.signature();
    }

    /** The argument of each parameter of a routine. */
    public List<Optional<Argument>> matched(RoutineSymbol routine) {
        List<Optional<Argument>> matched = new ArrayList<>();
        for (int i = 0; i < routine.parameters().size(); i++) {
            ParameterSymbol parameter = routine.parameters().get(i);
            Optional<Argument> found = Optional.empty();
            for (int k = 0; k < arguments.size(); k++) {
                Argument argument = arguments.get(k);
                boolean fits =
                        argument.parameter().isPresent()
                                ? argument.parameter().get().is(parameter.name())
                                : k == i;
                found = fits ? Optional.of(argument) : found;
            }
            matched.add(found);
        }
        return matched;
    }
}
