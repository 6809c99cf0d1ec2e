package dev.cantina.binding;

import dev.cantina.syntax.Name;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;

/**
 * What names mean at one place of a routine. A scope never changes: a declaration makes a new one
 * that has the old one behind it, and it is handed down.
 */
public final class Scope {
    /** Where nothing is declared. */
    public static final Scope EMPTY = new Scope(null, null);

    private sealed interface Entry {}

    private record VariableEntry(String key, Variable variable, boolean fieldsVisible)
            implements Entry {}

    private record ConditionEntry(String key, Name name, Optional<String> sqlstate)
            implements Entry {}

    private record CursorEntry(String key, CursorSymbol cursor) implements Entry {}

    private record TableEntry(String key, DeclaredTable table) implements Entry {}

    /** The start of a block, a loop or the routine, whose name qualifies what it declares. */
    private record BlockEntry(String key, JumpTarget target) implements Entry {}

    /** A variable, or a field of a row variable where the index is not negative. */
    public record Found(Variable variable, int field) {
        public SqlType type() {
            return field < 0
                    ? variable.type()
                    : ((SqlType.Row) variable.type()).fields().get(field).type();
        }
    }

    private final Scope outer;
    private final Entry entry;

    private Scope(Scope outer, Entry entry) {
        this.outer = outer;
        this.entry = entry;
    }

    public Scope with(Name name, Variable variable) {
        return new Scope(this, new VariableEntry(name.key(), variable, false));
    }

    /** A FOR loop's row, whose columns can be named without it (ISO 9075-4, 14.13). */
    Scope withLoopRow(Name name, Variable row) {
        return new Scope(this, new VariableEntry(name.key(), row, true));
    }

    Scope withCondition(Name name, Optional<String> sqlstate) {
        return new Scope(this, new ConditionEntry(name.key(), name, sqlstate));
    }

    Scope withCursor(Name name, CursorSymbol cursor) {
        return new Scope(this, new CursorEntry(name.key(), cursor));
    }

    Scope withTable(Name name, DeclaredTable table) {
        return new Scope(this, new TableEntry(name.key(), table));
    }

    Scope block(Optional<Name> label, JumpTarget target) {
        return new Scope(this, new BlockEntry(label.map(Name::key).orElse(""), target));
    }

    /** The variable of a bare name, the innermost first. */
    public Optional<Found> find(String key) {
        for (Scope s = this; s.entry != null; s = s.outer) {
            if (s.entry instanceof VariableEntry e) {
                if (e.key.equals(key)) {
                    return Optional.of(new Found(e.variable, -1));
                }
                if (e.fieldsVisible) {
                    int field = fieldOf(e.variable.type(), key);
                    if (field >= 0) {
                        return Optional.of(new Found(e.variable, field));
                    }
                }
            }
        }
        return Optional.empty();
    }

    /** The variable that a block with this label, or the routine of this name, declares. */
    public Optional<Found> find(String label, String key) {
        Found found = null;
        for (Scope s = this; s.entry != null; s = s.outer) {
            if (s.entry instanceof VariableEntry e && found == null && e.key.equals(key)) {
                found = new Found(e.variable, -1);
            } else if (s.entry instanceof BlockEntry block) {
                if (block.key.equals(label)) {
                    return Optional.ofNullable(found);
                }
                found = null;
            }
        }
        return Optional.empty();
    }

    /** Whether the innermost block declares a variable of this name already. */
    boolean declaresHere(String key) {
        for (Scope s = this; s.entry != null && !(s.entry instanceof BlockEntry); s = s.outer) {
            if (s.entry instanceof VariableEntry e && e.key.equals(key)
                    || s.entry instanceof CursorEntry c && c.key.equals(key)
                    || s.entry instanceof ConditionEntry d && d.key.equals(key)
                    || s.entry instanceof TableEntry t && t.key.equals(key)) {
                return true;
            }
        }
        return false;
    }

    /** A declared condition's SQLSTATE; the inner one is empty where it has none. */
    Optional<Optional<String>> condition(String key) {
        for (Scope s = this; s.entry != null; s = s.outer) {
            if (s.entry instanceof ConditionEntry e && e.key.equals(key)) {
                return Optional.of(e.sqlstate);
            }
        }
        return Optional.empty();
    }

    /** A condition's name where it is declared. */
    Optional<Name> conditionName(String key) {
        for (Scope s = this; s.entry != null; s = s.outer) {
            if (s.entry instanceof ConditionEntry e && e.key.equals(key)) {
                return Optional.of(e.name);
            }
        }
        return Optional.empty();
    }

    Optional<CursorSymbol> cursor(String key) {
        for (Scope s = this; s.entry != null; s = s.outer) {
            if (s.entry instanceof CursorEntry e && e.key.equals(key)) {
                return Optional.of(e.cursor);
            }
        }
        return Optional.empty();
    }

    /** A table that a block around this place declares. */
    public Optional<DeclaredTable> table(String key) {
        for (Scope s = this; s.entry != null; s = s.outer) {
            if (s.entry instanceof TableEntry e && e.key.equals(key)) {
                return Optional.of(e.table);
            }
        }
        return Optional.empty();
    }

    Optional<JumpTarget> target(String label) {
        for (Scope s = this; s.entry != null; s = s.outer) {
            if (s.entry instanceof BlockEntry e && e.target != null && e.key.equals(label)) {
                return Optional.of(e.target);
            }
        }
        return Optional.empty();
    }

    /** All variables with a name, the innermost last, hidden ones left out. */
    public List<Variable> variables() {
        Map<String, Variable> seen = new LinkedHashMap<>();
        for (Scope s = this; s.entry != null; s = s.outer) {
            if (s.entry instanceof VariableEntry e) {
                seen.putIfAbsent(e.key, e.variable);
            }
        }
        List<Variable> variables = new ArrayList<>(seen.values());
        java.util.Collections.reverse(variables);
        return variables;
    }

    /** All cursors with a name, the innermost last. */
    public List<CursorSymbol> cursors() {
        Map<String, CursorSymbol> seen = new LinkedHashMap<>();
        for (Scope s = this; s.entry != null; s = s.outer) {
            if (s.entry instanceof CursorEntry e) {
                seen.putIfAbsent(e.key, e.cursor);
            }
        }
        List<CursorSymbol> cursors = new ArrayList<>(seen.values());
        java.util.Collections.reverse(cursors);
        return cursors;
    }

    /**
     * How many blocks deep a variable is declared here, the routine's own parameters at 0; empty
     * where it can't be named.
     */
    public OptionalInt blockOf(Variable variable) {
        int inside = 0;
        int found = -1;
        for (Scope s = this; s.entry != null; s = s.outer) {
            if (s.entry instanceof VariableEntry e && e.variable == variable) {
                found = inside;
            } else if (s.entry instanceof BlockEntry) {
                inside++;
            }
        }
        return found < 0 ? OptionalInt.empty() : OptionalInt.of(inside - 1 - found);
    }

    /** The names of all variables that can be named here. */
    List<String> variableNames() {
        return variables().stream().map(Variable::name).toList();
    }

    List<String> labels() {
        List<String> labels = new ArrayList<>();
        for (Scope s = this; s.entry != null; s = s.outer) {
            if (s.entry instanceof BlockEntry e && e.target != null && !e.key.isEmpty()) {
                labels.add(e.target.label());
            }
        }
        return labels;
    }

    /** The position of a field in a row type by its key, or -1. */
    static int fieldOf(SqlType type, String key) {
        if (type instanceof SqlType.Row row) {
            for (int i = 0; i < row.fields().size(); i++) {
                if (row.fields().get(i).name().equalsIgnoreCase(key)) {
                    return i;
                }
            }
        }
        return -1;
    }
}
