package dev.cantina.editing;

import dev.cantina.nativecode.NativeToken;
import dev.cantina.nativecode.OwnText;
import dev.cantina.nativecode.OwnText.Unit;
import dev.cantina.project.Project;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * The columns that the parameters of routines in a server's own words are compared with or stored
 * into, as far as their texts say it: good enough to suggest a value, and for nothing else.
 */
public final class OwnColumnUses {
    /**
     * A column by its names.
     *
     * @param stored whether the parameter is put into it
     */
    public record Use(String table, String column, boolean stored) {}

    private final Map<Integer, OwnNames.Use> named = new HashMap<>();
    private final List<? extends NativeToken> tokens;
    private final Unit unit;
    private final Map<String, List<Use>> uses = new LinkedHashMap<>();

    private OwnColumnUses(OwnView view, OwnText text, Unit unit) {
        this.tokens = text.tokens();
        this.unit = unit;
        new OwnNames(view, text).all().forEach(u -> named.put(u.span().start(), u));
        for (int i = 0; i < tokens.size(); i++) {
            boolean inside =
                    tokens.get(i).start() >= unit.whole().start()
                            && tokens.get(i).end() <= unit.whole().end();
            if (inside && sees(i, "=")) {
                compared(i - 1, i + 1);
            } else if (inside && sees(i, "values") && sees(i + 1, "(") && sees(i - 1, ")")) {
                inserted(i);
            }
        }
    }

    /** The uses of each parameter of a routine, by the parameter's key. */
    public static Map<String, List<Use>> of(Project project, String file, String routine) {
        OwnView view = new OwnState(project).view();
        OwnText text = view.files().get(file);
        if (text == null) {
            return Map.of();
        }
        return text.units().stream()
                .filter(u -> u.name().equalsIgnoreCase(routine))
                .findFirst()
                .map(u -> new OwnColumnUses(view, text, u).uses)
                .orElse(Map.of());
    }

    private boolean sees(int i, String word) {
        return i >= 0 && i < tokens.size() && tokens.get(i).is(word);
    }

    private Optional<OwnNames.Meaning> meaning(int i, OwnNames.What what) {
        return i < 0 || i >= tokens.size()
                ? Optional.empty()
                : Optional.ofNullable(named.get(tokens.get(i).start()))
                        .map(OwnNames.Use::meaning)
                        .filter(m -> m.what() == what);
    }

    private void compared(int left, int right) {
        // The right side may be qualified: v.code.
        int last = right;
        while (sees(last + 1, ".")) {
            last += 2;
        }
        for (int[] pair : new int[][] {{left, last}, {last, left}}) {
            add(
                    meaning(pair[0], OwnNames.What.COLUMN),
                    meaning(pair[1], OwnNames.What.PARAMETER),
                    false);
        }
    }

    private void add(
            Optional<OwnNames.Meaning> column,
            Optional<OwnNames.Meaning> parameter,
            boolean stored) {
        if (column.isPresent() && parameter.isPresent()) {
            String said = column.get().described().text();
            uses.computeIfAbsent(OwnView.key(parameter.get().name()), k -> new ArrayList<>())
                    .add(
                            new Use(
                                    said.substring(said.lastIndexOf(' ') + 1),
                                    column.get().name(),
                                    stored));
        }
    }

    /** {@code (a, b) VALUES (x, y)}: what stands at the same place in both. */
    private void inserted(int values) {
        int open = values - 1;
        while (open > 0 && !sees(open, "(")) {
            open--;
        }
        int column = open + 1;
        int depth = 0;
        int from = values + 2;
        for (int i = from; i < tokens.size(); i++) {
            boolean ends = depth == 0 && (sees(i, ",") || sees(i, ")"));
            if (ends) {
                if (i == from + 1) {
                    add(
                            meaning(column, OwnNames.What.COLUMN),
                            meaning(from, OwnNames.What.PARAMETER),
                            true);
                }
                column += 2;
                from = i + 1;
                if (sees(i, ")")) {
                    return;
                }
                continue;
            }
            depth += sees(i, "(") ? 1 : sees(i, ")") ? -1 : 0;
        }
    }
}
