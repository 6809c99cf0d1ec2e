package dev.cantina.importing.postgresql;

import dev.cantina.importing.FileNames;
import dev.cantina.importing.LiveRows;
import java.sql.Connection;
import java.util.ArrayList;
import java.util.List;

/**
 * What of a PostgreSQL database is read, and where it is said what becomes of it.
 *
 * @param main the schema whose names need not be said
 * @param leftOut takes what could not be read, a sentence each
 */
record PgScope(
        Connection connection,
        List<String> schemas,
        String main,
        FileNames names,
        List<String> leftOut) {
    /** A condition: it is in one of the schemas, {@code n}. */
    String among() {
        return "n.nspname IN (" + LiveRows.literals(schemas) + ")";
    }

    /** A file's path: below a folder of its schema, where that is not the first. */
    String path(List<String> folders, String schema, String name) {
        List<String> parts = new ArrayList<>(folders);
        if (!schema.equals(main)) {
            parts.add(schema);
        }
        parts.add(name);
        return names.path(parts.toArray(String[]::new));
    }

    /** A name as a fixture says it: with its schema, where that is not the first. */
    String name(String schema, String name) {
        return schema.equals(main) ? part(name) : part(schema) + "." + part(name);
    }

    /** What has a dot in itself stands in quotes. */
    private static String part(String name) {
        return name.indexOf('.') < 0 ? name : '"' + name.replace("\"", "\"\"") + '"';
    }
}
