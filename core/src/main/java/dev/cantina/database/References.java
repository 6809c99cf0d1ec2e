package dev.cantina.database;

import java.util.ArrayDeque;
import java.util.Deque;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** Which tables refer to which by foreign keys. */
public final class References {
    /** One table refers to another, or to itself. */
    public record Edge(String from, String to) {}

    private final Map<String, Set<String>> parents = new HashMap<>();

    public References(List<Edge> edges) {
        edges.forEach(e -> parents.computeIfAbsent(e.from(), t -> new HashSet<>()).add(e.to()));
    }

    /** Whether what a table refers to leads back to it. */
    public boolean isInCircle(Edge edge) {
        Set<String> seen = new HashSet<>();
        Deque<String> next = new ArrayDeque<>(List.of(edge.to()));
        while (!next.isEmpty()) {
            String table = next.pop();
            if (table.equals(edge.from())) {
                return true;
            }
            if (seen.add(table)) {
                next.addAll(parents.getOrDefault(table, Set.of()));
            }
        }
        return false;
    }
}
