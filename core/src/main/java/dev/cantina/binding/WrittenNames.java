package dev.cantina.binding;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Column;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlText;
import dev.cantina.syntax.SqlText.NameUse;
import dev.cantina.syntax.SqlText.TableUse;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.UnaryOperator;

/**
 * Where a statement's names must be written otherwise for a database: in the case that what they
 * mean was given, and in quotes where the database reserves the word.
 */
public final class WrittenNames {
    /** Words that stand for a value of the database's own, or begin one. */
    private static final Set<String> VALUES =
            Set.of(
                    ("CURRENT_ROLE CURRENT_USER CURRENT_CATALOG CURRENT_SCHEMA SESSION_USER"
                                    + " SYSTEM_USER USER UTC_DATE UTC_TIME UTC_TIMESTAMP LOCALTIME"
                                    + " LOCALTIMESTAMP BINARY INTERVAL ARRAY ROW DISTINCTROW"
                                    + " STRAIGHT_JOIN HIGH_PRIORITY LOW_PRIORITY DELAYED VARIADIC")
                            .split(" "));

    private final Catalog catalog;
    private final Map<Integer, String> spelled = new HashMap<>();

    /** What surely names something. */
    private final List<Name> sure = new ArrayList<>();

    /** Words alone, which may be one that only the database knows, such as a moment's. */
    private final List<Name> alone = new ArrayList<>();

    private final Set<String> known = new HashSet<>();
    private final Set<Span> values = new HashSet<>();

    private WrittenNames(Catalog catalog) {
        this.catalog = catalog;
    }

    /**
     * All of a statement.
     *
     * @param declared the names of a routine's own tables, by their keys
     * @param heedsCase whether the case of tables and aliases counts
     * @param quoted puts a word in quotes where the database reserves it
     */
    public static List<Spellings.Spelling> of(
            SqlText text,
            Catalog catalog,
            Map<String, String> declared,
            boolean heedsCase,
            UnaryOperator<String> quoted) {
        WrittenNames names = new WrittenNames(catalog);
        if (heedsCase) {
            Spellings.of(text.scope(), catalog, declared)
                    .forEach(s -> names.spelled.put(s.span().start(), s.text()));
        }
        names.scope(text.scope());
        names.sure.addAll(text.labels());
        return names.written(quoted);
    }

    private List<Spellings.Spelling> written(UnaryOperator<String> quoted) {
        // What a select list gives by its own name alone, it may have from the database.
        sure.removeIf(n -> values.contains(n.span()));
        sure.forEach(n -> known.add(n.key()));
        alone.stream()
                .filter(n -> known.contains(n.key()) || !VALUES.contains(n.key()))
                .forEach(sure::add);
        List<Spellings.Spelling> found = new ArrayList<>();
        Set<Span> seen = new HashSet<>();
        for (Name name : sure) {
            if (name.delimited() || !seen.add(name.span())) {
                continue;
            }
            String text = quoted.apply(spelled.getOrDefault(name.span().start(), name.written()));
            if (!text.equals(name.written())) {
                found.add(new Spellings.Spelling(name.span(), text));
            }
        }
        return found;
    }

    private void scope(SqlText.Scope scope) {
        for (TableUse use : scope.tables()) {
            if (use.function().isEmpty()) {
                sure.addAll(use.names());
            }
            use.alias().ifPresent(sure::add);
            sure.addAll(use.columns());
            if (use.names().size() == 1) {
                catalog.table(use.names().get(0))
                        .ifPresent(t -> t.columns().stream().map(Column::key).forEach(known::add));
            }
        }
        sure.addAll(scope.outputs());
        for (NameUse use : scope.names()) {
            boolean single = use.names().size() == 1 && use.use() == SqlText.Use.VALUE;
            boolean own =
                    use.use() == SqlText.Use.CALL
                            && use.names().size() == 1
                            && !catalog.functions(use.names().get(0).key()).isEmpty();
            if (own) {
                sure.addAll(use.names());
            } else if (single) {
                alone.addAll(use.names());
            } else if (use.use() == SqlText.Use.VALUE || use.use() == SqlText.Use.TARGET) {
                sure.addAll(use.names());
            }
            if (single || use.use() == SqlText.Use.MOMENT) {
                use.names().forEach(n -> values.add(n.span()));
            }
        }
        scope.children().forEach(this::scope);
    }
}
