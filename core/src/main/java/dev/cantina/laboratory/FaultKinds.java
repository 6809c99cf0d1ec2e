package dev.cantina.laboratory;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Table;
import dev.cantina.database.ProjectDatabase;
import dev.cantina.runtime.Frame;
import dev.cantina.runtime.Performed;
import dev.cantina.syntax.SqlText;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Which conditions can come to a statement, by what it does and what its tables allow. */
final class FaultKinds {
    private final Catalog catalog;

    /**
     * The kinds of constraints of a table, by its name in capitals; PARENT where it has children.
     */
    private final Map<String, Set<String>> constraints;

    private FaultKinds(Catalog catalog, Map<String, Set<String>> constraints) {
        this.catalog = catalog;
        this.constraints = constraints;
    }

    /** Asks the database for its constraints (ISO 9075-11, 5.62 and 6.48). */
    static FaultKinds of(ProjectDatabase database, Catalog catalog) throws SQLException {
        Map<String, Set<String>> found = new HashMap<>();
        try (Statement statement = database.connection().createStatement()) {
            try (ResultSet row =
                    statement.executeQuery(
                            "SELECT TABLE_NAME, CONSTRAINT_TYPE FROM"
                                    + " INFORMATION_SCHEMA.TABLE_CONSTRAINTS")) {
                while (row.next()) {
                    add(found, row.getString(1), row.getString(2));
                }
            }
            try (ResultSet row =
                    statement.executeQuery(
                            "SELECT T.TABLE_NAME FROM INFORMATION_SCHEMA.REFERENTIAL_CONSTRAINTS R"
                                    + " JOIN INFORMATION_SCHEMA.TABLE_CONSTRAINTS T ON"
                                    + " T.CONSTRAINT_NAME = R.UNIQUE_CONSTRAINT_NAME")) {
                while (row.next()) {
                    add(found, row.getString(1), "PARENT");
                }
            }
        }
        return new FaultKinds(catalog, found);
    }

    private static void add(Map<String, Set<String>> found, String table, String kind) {
        found.computeIfAbsent(table.toUpperCase(Locale.ROOT), t -> new HashSet<>()).add(kind);
    }

    /** The SQLSTATEs that can come to a statement that is about to be sent. */
    List<String> of(Frame frame, Performed performed) {
        SqlText text =
                performed.site().isPresent()
                        ? performed.site().get().sql().source()
                        : SqlText.of(performed.text().orElse(""));
        String verb =
                performed.site().isPresent() ? performed.site().get().sql().verb() : text.verb();
        List<String> states = new ArrayList<>();
        if (!isInside(frame)) {
            // Inside a trigger the statement that set it off is ended with the transaction.
            states.add("40001");
        }
        states.add("57014");
        states.add(Fault.LOST);
        if (!performed.changes()) {
            return states;
        }
        states.add("53100");
        Optional<Table> table =
                text.scope().tables().stream()
                        .flatMap(t -> t.names().stream().reduce((a, b) -> b).stream())
                        .flatMap(n -> catalog.table(n.key()).stream())
                        .findFirst();
        Set<String> kinds =
                table.map(t -> constraints.getOrDefault(t.key().toUpperCase(Locale.ROOT), Set.of()))
                        .orElse(Set.of());
        boolean writes = Set.of("INSERT", "UPDATE", "MERGE").contains(verb);
        if (writes && table.filter(t -> !t.uniqueKeys().isEmpty()).isPresent()) {
            states.add("23505");
        }
        if (writes && table.filter(FaultKinds::hasNotNull).isPresent()) {
            states.add("23502");
        }
        if (writes && kinds.contains("CHECK")) {
            states.add("23514");
        }
        boolean child = writes && kinds.contains("FOREIGN KEY");
        if (child || !verb.equals("INSERT") && kinds.contains("PARENT")) {
            states.add("23503");
        }
        return states;
    }

    private static boolean hasNotNull(Table table) {
        return table.columns().stream()
                .anyMatch(c -> !c.nullable() && !c.identity() && !c.generated());
    }

    /** Whether a statement of the database is still running around it. */
    private static boolean isInside(Frame frame) {
        for (Frame f = frame; f != null; f = f.caller()) {
            BoundRoutine.Kind kind = f.routine().kind();
            if (kind == BoundRoutine.Kind.TRIGGER || kind == BoundRoutine.Kind.FUNCTION) {
                return true;
            }
        }
        return false;
    }
}
