package dev.cantina.database.postgresql;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.cantina.runtime.StandingServer;
import dev.cantina.types.SqlType;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;

/** What columns a query gives, where only a server that stands in a routine can be asked. */
final class StandingColumns {
    private static final ObjectMapper JSON = new ObjectMapper();

    private StandingColumns() {}

    /** The columns of a query, asked of a server that stands in a routine. */
    static List<SqlType.Field> of(StandingServer standing, String query) throws SQLException {
        standing.change("CREATE TEMPORARY VIEW cantina_described AS " + query);
        String told =
                standing.text(
                        "SELECT json_agg(json_build_array(a.attname, t.typname, a.atttypmod,"
                                + " format_type(a.atttypid, a.atttypmod)) ORDER BY a.attnum)"
                                + " FROM pg_attribute a JOIN pg_type t ON t.oid = a.atttypid"
                                + " WHERE a.attrelid = 'pg_temp.cantina_described'::regclass"
                                + " AND a.attnum > 0");
        standing.change("DROP VIEW pg_temp.cantina_described");
        try {
            List<SqlType.Field> fields = new ArrayList<>();
            for (JsonNode one : JSON.readTree(told)) {
                fields.add(
                        new SqlType.Field(
                                one.get(0).asText(),
                                PostgresCatalog.type(
                                        one.get(1).asText(),
                                        one.get(2).asInt(),
                                        one.get(3).asText())));
            }
            return fields;
        } catch (JsonProcessingException e) {
            throw new SQLException(e);
        }
    }
}
