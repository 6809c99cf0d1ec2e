package dev.cantina.binding;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Table;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlText;
import dev.cantina.syntax.SqlText.NameUse;
import dev.cantina.syntax.SqlText.TableUse;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * Where a statement names a table, an alias or a common table expression in another case than it
 * was given: to some servers those are names of nothing.
 */
public final class Spellings {
    /** A name, and how what it means is spelled. */
    public record Spelling(Span span, String text) {}

    private final Catalog catalog;
    private final List<Spelling> found = new ArrayList<>();

    private Spellings(Catalog catalog) {
        this.catalog = catalog;
    }

    /** All of a statement. */
    public static List<Spelling> of(SqlText.Scope scope, Catalog catalog) {
        return of(scope, catalog, Map.of());
    }

    /**
     * The same.
     *
     * @param declared the names of a routine's own tables, by their keys
     */
    public static List<Spelling> of(
            SqlText.Scope scope, Catalog catalog, Map<String, String> declared) {
        Spellings spellings = new Spellings(catalog);
        spellings.scope(scope, declared);
        return spellings.found;
    }

    private void scope(SqlText.Scope scope, Map<String, String> outer) {
        Map<String, String> known = new HashMap<>(outer);
        for (TableUse use : scope.tables()) {
            use.alias().ifPresent(a -> known.put(a.key(), a.written()));
            if (use.names().size() == 1) {
                Name name = use.names().get(0);
                String spelled =
                        known.getOrDefault(
                                name.key(), catalog.table(name).map(Table::name).orElse(null));
                if (spelled != null && !name.delimited()) {
                    spell(name, spelled);
                    if (use.alias().isEmpty()) {
                        known.put(name.key(), spelled);
                    }
                }
            }
        }
        for (NameUse use : scope.names()) {
            Name first = use.names().get(0);
            String spelled = use.names().size() > 1 ? known.get(first.key()) : null;
            if (spelled != null && !first.delimited()) {
                spell(first, spelled);
            }
        }
        scope.children().forEach(child -> scope(child, known));
    }

    private void spell(Name name, String spelled) {
        if (!name.written().equals(spelled) && name.text().equalsIgnoreCase(spelled)) {
            found.add(new Spelling(name.span(), spelled));
        }
    }
}
