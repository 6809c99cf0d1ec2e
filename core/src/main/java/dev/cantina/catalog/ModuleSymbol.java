package dev.cantina.catalog;

import dev.cantina.syntax.Expression;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Unit;
import dev.cantina.types.SqlType;
import java.util.List;
import java.util.Optional;

/**
 * A module: what its routines share (ISO 9075-4, 9.1). Its variables live as long as a session.
 *
 * @param variables in the order of their declaration
 */
public record ModuleSymbol(Unit.Module tree, List<Shared> variables) {
    /** A variable or constant of a module. */
    public record Shared(
            Name name,
            SqlType type,
            boolean constant,
            boolean isPrivate,
            Optional<Expression> initial) {}

    public String key() {
        return tree.name().key();
    }

    public String name() {
        return tree.name().text();
    }

    /** Whether a routine of it is marked PRIVATE. */
    public boolean hides(String routineKey) {
        return tree.privateNames().contains(routineKey);
    }

    /** The position of a variable, or -1. */
    public int position(String variableKey) {
        for (int i = 0; i < variables.size(); i++) {
            if (variables.get(i).name().key().equals(variableKey)) {
                return i;
            }
        }
        return -1;
    }
}
