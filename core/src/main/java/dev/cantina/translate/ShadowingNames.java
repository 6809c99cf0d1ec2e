package dev.cantina.translate;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.CursorSymbol;
import dev.cantina.binding.Variable;
import dev.cantina.catalog.Catalog;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;

/**
 * Finds the variables and cursors of inner blocks that hide others of their name. A handler's
 * statements are moved to where it is set off, and there a name must mean what it means where the
 * handler stands; so those that hide get names of their own.
 */
public final class ShadowingNames {
    private final Map<Variable, String> variables = new LinkedHashMap<>();
    private final Map<CursorSymbol, String> cursors = new LinkedHashMap<>();
    private final Set<String> used = new HashSet<>();

    private ShadowingNames(BoundRoutine routine, Catalog catalog) {
        routine.variables().forEach(v -> used.add(folded(v.name())));
        // Inside a statement a column would win over a variable of its name.
        catalog.tables().forEach(t -> t.columns().forEach(c -> used.add(folded(c.name()))));
        Map<String, Boolean> seen = new HashMap<>();
        routine.parameters().forEach(p -> seen.put(folded(p.name()), true));
        statement(routine.body(), seen);
    }

    public static ShadowingNames of(BoundRoutine routine, Catalog catalog) {
        return new ShadowingNames(routine, catalog);
    }

    /** The names for the variables that hide others. */
    public Map<Variable, String> variables() {
        return variables;
    }

    /** The names for the cursors that hide others. */
    public Map<CursorSymbol, String> cursors() {
        return cursors;
    }

    /** The names given here. */
    public Set<String> given() {
        Set<String> given = new HashSet<>(variables.values());
        given.addAll(cursors.values());
        return given;
    }

    private static String folded(String name) {
        return name.toLowerCase(Locale.ROOT);
    }

    private void statement(BoundStatement s, Map<String, Boolean> around) {
        Map<String, Boolean> seen = around;
        if (s instanceof BoundStatement.Block block) {
            seen = new HashMap<>(around);
            for (BoundStatement initial : block.initial()) {
                Variable variable =
                        ((BoundStatement.Assign) initial).assignments().get(0).target().variable();
                declare(variable, around);
                seen.put(folded(variable.name()), true);
            }
            for (CursorSymbol cursor : block.cursors()) {
                if (around.containsKey(folded(cursor.name()))) {
                    cursors.put(cursor, fresh(cursor.name()));
                }
                seen.put(folded(cursor.name()), true);
            }
            for (BoundStatement.Handler handler : block.handlers()) {
                statement(handler.body(), seen);
            }
        } else if (s instanceof BoundStatement.For loop) {
            declare(loop.row(), around);
            seen = new HashMap<>(around);
            seen.put(folded(loop.row().name()), true);
        }
        for (List<BoundStatement> row : s.rows()) {
            for (BoundStatement inner : row) {
                statement(inner, seen);
            }
        }
    }

    private void declare(Variable variable, Map<String, Boolean> around) {
        if (!variable.isHidden() && around.containsKey(folded(variable.name()))) {
            variables.put(variable, fresh(variable.name()));
        }
    }

    private String fresh(String name) {
        String plain = name.matches("[\\p{L}_][\\p{L}\\p{N}_]*") ? folded(name) : "inner";
        for (int i = 2; ; i++) {
            String wish = plain + "_" + i;
            if (used.add(wish)) {
                return wish;
            }
        }
    }
}
