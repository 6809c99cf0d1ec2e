package dev.cantina.catalog;

import dev.cantina.syntax.Unit;

/** A trigger on a table that exists. */
public record TriggerSymbol(Unit.Trigger tree, Table table) {
    public String name() {
        return tree.name().text();
    }
}
