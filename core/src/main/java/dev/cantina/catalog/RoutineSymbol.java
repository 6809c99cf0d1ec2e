package dev.cantina.catalog;

import dev.cantina.syntax.Span;
import dev.cantina.syntax.Unit;
import dev.cantina.types.SqlType;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * A procedure or function that can be called.
 *
 * @param returns the type that a function gives
 * @param module that it belongs to
 */
public record RoutineSymbol(
        Unit.Routine tree,
        List<ParameterSymbol> parameters,
        Optional<SqlType> returns,
        Optional<ModuleSymbol> module) {
    /** What stands for the language of a routine that a server runs. */
    public static final String SERVER = "SERVER";

    /** As it is called from anywhere: with its module, where it has one. */
    public String name() {
        return module.map(m -> m.name() + ".").orElse("") + tree.name().text();
    }

    public String key() {
        return module.map(m -> m.key() + ".").orElse("") + tree.name().key();
    }

    /** Whether it can be called from outside its module. */
    public boolean isPublic() {
        return module.isEmpty() || !module.get().hides(tree.name().key());
    }

    public boolean isFunction() {
        return tree.kind() == Unit.RoutineKind.FUNCTION;
    }

    /** Whether it is written in a server's own language, and that server runs it. */
    public boolean isOnServer() {
        return tree.characteristics().language().equals(SERVER);
    }

    public Span span() {
        return tree.span();
    }

    /**
     * How many arguments must be given at least; a script may leave out what is only given back.
     */
    public int required() {
        return (int)
                parameters.stream()
                        .filter(p -> p.initial().isEmpty() && p.mode().isInput())
                        .count();
    }

    /** {@code move_wine(IN source VARCHAR(8), …)}: for a person who called it wrongly. */
    public String signature() {
        String list =
                parameters.stream()
                        .map(
                                p ->
                                        (isFunction() ? "" : p.mode() + " ")
                                                + p.name()
                                                + " "
                                                + p.type().sql()
                                                + p.initial()
                                                        .map(e -> " DEFAULT " + e.span().text())
                                                        .orElse(""))
                        .collect(Collectors.joining(", ", "(", ")"));
        return name() + list + returns.map(type -> " RETURNS " + type.sql()).orElse("");
    }
}
