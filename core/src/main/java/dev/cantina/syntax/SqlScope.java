package dev.cantina.syntax;

import dev.cantina.syntax.SqlText.NameUse;
import dev.cantina.syntax.SqlText.Scope;
import dev.cantina.syntax.SqlText.TableUse;
import java.util.ArrayList;
import java.util.List;

/** A query's or a change's own space of names, while it is being read. */
final class SqlScope {
    final List<TableUse> tables = new ArrayList<>();
    final List<NameUse> names = new ArrayList<>();
    final List<Name> outputs = new ArrayList<>();
    final List<Scope> children = new ArrayList<>();

    /** The values of its select list. */
    final List<Span> items = new ArrayList<>();

    /** Where FROM stands; -1 where there is none, or where its rows are not a table's own. */
    int from = -1;

    boolean grouped;

    Scope done(Span span) {
        return new Scope(span, tables, names, outputs, children);
    }

    /** Takes in all of another one, which is no scope by itself. */
    void takeIn(SqlScope other) {
        tables.addAll(other.tables);
        names.addAll(other.names);
        outputs.addAll(other.outputs);
        children.addAll(other.children);
        from = other.from;
        grouped = other.grouped;
    }
}
