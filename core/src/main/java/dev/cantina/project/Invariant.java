package dev.cantina.project;

import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Something that holds after every run: a query that gives no rows, or whose rows stay what they
 * were.
 *
 * @param name as a person calls it
 * @param same whether the rows are to stay what they were; otherwise there are to be none
 * @param place where it is said
 */
public record Invariant(String name, boolean same, String query, Span place) {
    private static final String OFF = "off";

    /**
     * Reads {@code invariants:}: a mapping of names, each with {@code none: QUERY} or {@code same:
     * QUERY}, or {@code off} for one that does not hold here.
     *
     * @param around those that hold where nothing else is said
     */
    public static List<Invariant> read(YamlNode node, List<Invariant> around)
            throws ProjectException {
        Map<String, Invariant> all = new LinkedHashMap<>();
        around.forEach(i -> all.put(i.name, i));
        YamlNode.Mapping mapping = node.mapping("invariants");
        for (Map.Entry<String, YamlNode> entry : mapping.fields().entrySet()) {
            String name = entry.getKey();
            if (isOff(entry.getValue())) {
                if (all.remove(name) == null) {
                    throw entry.getValue().wrong("there is no invariant '" + name + "' to be off");
                }
                continue;
            }
            YamlNode.Mapping said =
                    entry.getValue().mapping("an invariant", Set.of("none", "same"));
            if (said.fields().size() != 1) {
                throw said.wrong(
                        "an invariant says one of none: QUERY, which gives no rows, and same:"
                                + " QUERY, whose rows stay what they were");
            }
            boolean same = said.get("same").isPresent();
            YamlNode query = said.get(same ? "same" : "none").orElseThrow();
            all.put(
                    name,
                    new Invariant(
                            name, same, query.text("the query of an invariant"), query.span()));
        }
        return new ArrayList<>(all.values());
    }

    private static boolean isOff(YamlNode node) {
        return node instanceof YamlNode.Scalar scalar
                && (scalar.text().equalsIgnoreCase(OFF) || Boolean.FALSE.equals(scalar.value()));
    }
}
