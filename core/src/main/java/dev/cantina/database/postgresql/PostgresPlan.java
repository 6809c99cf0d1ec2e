package dev.cantina.database.postgresql;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.cantina.runtime.AccessPath;
import java.sql.SQLException;
import java.util.List;
import java.util.OptionalLong;

/** Reads what PostgreSQL says of a plan: {@code EXPLAIN (FORMAT JSON)}. */
final class PostgresPlan {
    private PostgresPlan() {}

    static void read(String json, List<AccessPath> into) throws SQLException {
        try {
            walk(new ObjectMapper().readTree(json).path(0).path("Plan"), into);
        } catch (JsonProcessingException e) {
            throw new SQLException("the plan can't be read", e);
        }
    }

    private static void walk(JsonNode node, List<AccessPath> into) {
        String kind = node.path("Node Type").asText();
        if (kind.endsWith("Scan") && node.has("Relation Name")) {
            boolean whole = kind.startsWith("Seq");
            String path =
                    whole
                            ? "every row"
                            : "index "
                                    + node.path("Index Cond")
                                            .asText(node.path("Recheck Cond").asText(""));
            OptionalLong scanned =
                    node.has("Actual Rows")
                            ? PostgresDatabase.rows(
                                    (node.path("Actual Rows").asDouble()
                                                    + node.path("Rows Removed by Filter")
                                                            .asDouble())
                                            * node.path("Actual Loops").asDouble(1))
                            : OptionalLong.empty();
            into.add(new AccessPath(node.path("Relation Name").asText(), path, whole, scanned));
        }
        node.path("Plans").forEach(child -> walk(child, into));
    }
}
