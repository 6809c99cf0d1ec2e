package dev.cantina.importing.postgresql;

import dev.cantina.importing.ImportedFile;
import dev.cantina.importing.LiveRows;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;

/** All of a PostgreSQL database that is neither a table nor a routine. */
final class PgObjects {
    private final PgScope scope;
    private final Connection connection;
    private final String among;
    private final List<String> leftOut;
    private final List<ImportedFile> files = new ArrayList<>();
    private final List<ImportedFile> fixture = new ArrayList<>();

    PgObjects(PgScope scope) throws SQLException {
        this.scope = scope;
        this.connection = scope.connection();
        this.among = scope.among();
        this.leftOut = scope.leftOut();
        database();
        enums();
        domains();
        rows();
        ranges();
        sequences();
        views();
        others();
    }

    List<ImportedFile> files() {
        return files;
    }

    List<ImportedFile> fixture() {
        return fixture;
    }

    /** A condition: no extension has brought something along, and it stands for itself. */
    static String ofNoExtension(String catalog, String oid) {
        return "NOT EXISTS (SELECT 1 FROM pg_depend e WHERE e.classid = '"
                + catalog
                + "'::regclass AND e.objid = "
                + oid
                // Nor has the server made it for something else, as the functions of a range.
                + " AND (e.deptype = 'e' OR e.deptype = 'i' AND e.refclassid ="
                + " 'pg_type'::regclass AND e.classid IN ('pg_proc'::regclass, 'pg_cast'::regclass)))";
    }

    private void file(String folder, String schema, String name, String text) {
        String path = scope.path(List.of("tables", folder), schema, name);
        files.add(new ImportedFile(path, text));
    }

    private void database() throws SQLException {
        StringBuilder text = new StringBuilder();
        for (String schema : scope.schemas()) {
            if (!schema.equals("public")) {
                String quoted = one("SELECT quote_ident(" + LiveRows.literal(schema) + ")");
                text.append("CREATE SCHEMA ").append(quoted).append(";\n");
            }
        }
        for (String[] row :
                LiveRows.of(
                        connection,
                        "SELECT quote_ident(extname), quote_ident(nspname), extname"
                                + " FROM pg_extension x JOIN pg_namespace n ON n.oid = x.extnamespace"
                                + " WHERE extname <> 'plpgsql' ORDER BY extname")) {
            text.append("CREATE EXTENSION IF NOT EXISTS ").append(row[0]);
            if (!row[1].equals("public") && !row[1].equals("pg_catalog")) {
                text.insert(0, "CREATE SCHEMA IF NOT EXISTS " + row[1] + ";\n");
                text.append(" SCHEMA ").append(row[1]);
            }
            text.append(";\n");
        }
        if (text.length() > 0) {
            files.add(new ImportedFile(scope.names().path("tables", "_database"), text.toString()));
        }
    }

    private String one(String sql) throws SQLException {
        return LiveRows.of(connection, sql).get(0)[0];
    }

    private List<String[]> types(String columns, String from, String kind) throws SQLException {
        return LiveRows.of(
                connection,
                "SELECT n.nspname, t.typname, t.oid::regtype::text, "
                        + columns
                        + ", obj_description(t.oid, 'pg_type')"
                        + " FROM pg_type t JOIN pg_namespace n ON n.oid = t.typnamespace "
                        + from
                        + " WHERE t.typtype = '"
                        + kind
                        + "' AND "
                        + among
                        + " AND "
                        + ofNoExtension("pg_type", "t.oid")
                        + " ORDER BY 1, 2");
    }

    private void type(String[] row, String text) {
        String comment = row[row.length - 1];
        file(
                "types",
                row[0],
                row[1],
                text
                        + (comment == null
                                ? ""
                                : "\nCOMMENT ON "
                                        + (text.startsWith("CREATE DOMAIN") ? "DOMAIN " : "TYPE ")
                                        + row[2]
                                        + " IS "
                                        + LiveRows.literal(comment)
                                        + ";\n"));
    }

    private void enums() throws SQLException {
        String labels =
                "(SELECT string_agg(quote_literal(enumlabel), ', ' ORDER BY enumsortorder)"
                        + " FROM pg_enum WHERE enumtypid = t.oid)";
        for (String[] row : types(labels, "", "e")) {
            String list = row[3] == null ? "" : row[3];
            type(row, "CREATE TYPE " + row[2] + " AS ENUM (" + list + ");\n");
        }
    }

    private void domains() throws SQLException {
        String columns =
                "format_type(t.typbasetype, t.typtypmod), t.typdefault, t.typnotnull,"
                        + " (SELECT string_agg(E'\\n  CONSTRAINT ' || quote_ident(conname) || ' '"
                        + " || pg_get_constraintdef(k.oid), '' ORDER BY conname) FROM pg_constraint k"
                        + " WHERE contypid = t.oid AND contype = 'c'),"
                        + " CASE WHEN t.typcollation NOT IN (0, b.typcollation)"
                        + " THEN t.typcollation::regcollation::text END";
        for (String[] row : types(columns, "JOIN pg_type b ON b.oid = t.typbasetype", "d")) {
            type(
                    row,
                    "CREATE DOMAIN "
                            + row[2]
                            + " AS "
                            + row[3]
                            + (row[7] == null ? "" : " COLLATE " + row[7])
                            + (row[4] == null ? "" : " DEFAULT " + row[4])
                            + (row[5].equals("t") ? " NOT NULL" : "")
                            + (row[6] == null ? "" : row[6])
                            + ";\n");
        }
    }

    private void rows() throws SQLException {
        String fields =
                "(SELECT string_agg('  ' || quote_ident(attname) || ' '"
                        + " || format_type(atttypid, atttypmod), E',\\n' ORDER BY attnum)"
                        + " FROM pg_attribute WHERE attrelid = t.typrelid AND attnum > 0"
                        + " AND NOT attisdropped)";
        String from = "JOIN pg_class c ON c.oid = t.typrelid AND c.relkind = 'c'";
        for (String[] row : types(fields, from, "c")) {
            String list = row[3] == null ? "" : "\n" + row[3] + "\n";
            type(row, "CREATE TYPE " + row[2] + " AS (" + list + ");\n");
        }
    }

    private void ranges() throws SQLException {
        String columns =
                "r.rngsubtype::regtype::text,"
                        + " CASE WHEN r.rngsubdiff <> 0 THEN r.rngsubdiff::regproc::text END,"
                        + " CASE WHEN r.rngcollation <> 0 THEN r.rngcollation::regcollation::text END,"
                        + " r.rngcanonical <> 0";
        for (String[] row : types(columns, "JOIN pg_range r ON r.rngtypid = t.oid", "r")) {
            if (row[6].equals("t")) {
                leftOut.add("the type " + row[2] + ": its canonical function is not in SQL");
                continue;
            }
            type(
                    row,
                    "CREATE TYPE "
                            + row[2]
                            + " AS RANGE (SUBTYPE = "
                            + row[3]
                            + (row[4] == null ? "" : ", SUBTYPE_DIFF = " + row[4])
                            + (row[5] == null ? "" : ", COLLATION = " + row[5])
                            + ");\n");
        }
    }

    /** What a CREATE SEQUENCE says beside its name; empty parts are the server's own. */
    static final String SEQUENCE =
            "CASE WHEN s.seqtypid <> 'bigint'::regtype THEN ' AS ' || s.seqtypid::regtype ELSE '' END"
                    + " || CASE WHEN s.seqincrement <> 1 THEN ' INCREMENT BY ' || s.seqincrement ELSE '' END"
                    + " || CASE WHEN s.seqincrement > 0 AND s.seqmin <> 1 OR s.seqincrement < 0"
                    + " THEN ' MINVALUE ' || s.seqmin ELSE '' END"
                    + " || CASE WHEN s.seqincrement < 0 OR s.seqmax <> CASE s.seqtypid::regtype::text"
                    + " WHEN 'smallint' THEN 32767 WHEN 'integer' THEN 2147483647"
                    + " ELSE 9223372036854775807 END THEN ' MAXVALUE ' || s.seqmax ELSE '' END"
                    + " || CASE WHEN s.seqstart <> s.seqmin OR s.seqincrement < 0"
                    + " THEN ' START WITH ' || s.seqstart ELSE '' END"
                    + " || CASE WHEN s.seqcache <> 1 THEN ' CACHE ' || s.seqcache ELSE '' END"
                    + " || CASE WHEN s.seqcycle THEN ' CYCLE' ELSE '' END";

    private void sequences() throws SQLException {
        StringBuilder numbers = new StringBuilder();
        for (String[] row :
                LiveRows.of(
                        connection,
                        "SELECT n.nspname, c.relname, c.oid::regclass::text, "
                                + SEQUENCE
                                + ", CASE WHEN has_sequence_privilege(c.oid, 'SELECT, USAGE')"
                                + " THEN pg_sequence_last_value(c.oid) END"
                                + " FROM pg_sequence s JOIN pg_class c ON c.oid = s.seqrelid"
                                + " JOIN pg_namespace n ON n.oid = c.relnamespace WHERE "
                                + among
                                + " AND "
                                + ofNoExtension("pg_class", "c.oid")
                                + " AND NOT EXISTS (SELECT 1 FROM pg_depend d WHERE d.objid = c.oid"
                                + " AND d.classid = 'pg_class'::regclass AND d.deptype IN ('a', 'i'))"
                                + " ORDER BY 1, 2")) {
            file("sequences", row[0], row[1], "CREATE SEQUENCE " + row[2] + row[3] + ";\n");
            if (row[4] != null) {
                numbers.append("SELECT setval(")
                        .append(LiveRows.literal(row[2]))
                        .append(", ")
                        .append(row[4])
                        .append(");\n");
            }
        }
        if (numbers.length() > 0) {
            fixture.add(new ImportedFile("numbers.sql", numbers.toString()));
        }
    }

    private void views() throws SQLException {
        StringBuilder filled = new StringBuilder();
        for (String[] row :
                LiveRows.of(
                        connection,
                        "SELECT n.nspname, c.relname, c.oid::regclass::text, c.relkind,"
                                + " pg_get_viewdef(c.oid), array_to_string(c.reloptions, ', '),"
                                + " obj_description(c.oid, 'pg_class'),"
                                + " (SELECT string_agg(pg_get_indexdef(indexrelid) || E';\\n', ''"
                                + " ORDER BY indexrelid) FROM pg_index WHERE indrelid = c.oid),"
                                + " (SELECT string_agg('COMMENT ON COLUMN ' || c.oid::regclass || '.'"
                                + " || quote_ident(attname) || ' IS '"
                                + " || quote_literal(col_description(c.oid, attnum)) || E';\\n', ''"
                                + " ORDER BY attnum) FROM pg_attribute WHERE attrelid = c.oid"
                                + " AND attnum > 0 AND col_description(c.oid, attnum) IS NOT NULL)"
                                + " FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace"
                                + " WHERE c.relkind IN ('v', 'm') AND "
                                + among
                                + " AND "
                                + ofNoExtension("pg_class", "c.oid")
                                + " ORDER BY c.oid")) {
            boolean kept = row[3].equals("m");
            String what = kept ? "MATERIALIZED VIEW " : "VIEW ";
            StringBuilder text = new StringBuilder("CREATE ").append(what).append(row[2]);
            if (row[5] != null) {
                text.append(" WITH (").append(row[5]).append(')');
            }
            text.append(" AS\n").append(row[4].strip()).append('\n');
            if (row[7] != null) {
                text.append('\n').append(row[7]);
            }
            if (row[6] != null) {
                text.append("\nCOMMENT ON ").append(what).append(row[2]).append(" IS ");
                text.append(LiveRows.literal(row[6])).append(";\n");
            }
            if (row[8] != null) {
                text.append('\n').append(row[8]);
            }
            file("views", row[0], row[1], text.toString());
            if (kept) {
                filled.append("REFRESH MATERIALIZED VIEW ").append(row[2]).append(";\n");
            }
        }
        if (filled.length() > 0) {
            fixture.add(new ImportedFile("views.sql", filled.toString()));
        }
    }

    /** What has no text here is said. */
    private void others() throws SQLException {
        String in = " JOIN pg_namespace n ON n.oid = ";
        said(
                "the operator ",
                "o.oid::regoperator::text",
                "pg_operator",
                "o",
                in + "o.oprnamespace");
        said(
                "the type ",
                "t.oid::regtype::text",
                "pg_type",
                "t",
                in + "t.typnamespace" + " AND t.typtype = 'b' AND t.typelem = 0");
        said("the operator class ", "o.opcname", "pg_opclass", "o", in + "o.opcnamespace");
        said(
                "the text search configuration ",
                "c.cfgname",
                "pg_ts_config",
                "c",
                in + "c.cfgnamespace");
        said(
                "the text search dictionary ",
                "d.dictname",
                "pg_ts_dict",
                "d",
                in + "d.dictnamespace");
        said("the collation ", "c.collname", "pg_collation", "c", in + "c.collnamespace");
        said(
                "the foreign table ",
                "c.oid::regclass::text",
                "pg_class",
                "c",
                in + "c.relnamespace" + " AND c.relkind = 'f'");
        for (String[] row :
                LiveRows.of(
                        connection,
                        "SELECT evtname FROM pg_event_trigger x WHERE "
                                + ofNoExtension("pg_event_trigger", "x.oid")
                                + " ORDER BY 1")) {
            leftOut.add("the event trigger " + row[0]);
        }
        for (String[] row :
                LiveRows.of(
                        connection,
                        "SELECT castsource::regtype || ' to ' || casttarget::regtype"
                                + " FROM pg_cast c WHERE oid >= 16384 AND "
                                + ofNoExtension("pg_cast", "c.oid")
                                + " ORDER BY 1")) {
            leftOut.add("the cast of " + row[0]);
        }
    }

    private void said(String what, String name, String catalog, String alias, String join)
            throws SQLException {
        for (String[] row :
                LiveRows.of(
                        connection,
                        "SELECT "
                                + name
                                + " FROM "
                                + catalog
                                + " "
                                + alias
                                + join
                                + " WHERE "
                                + among
                                + " AND "
                                + ofNoExtension(catalog, alias + ".oid")
                                + " ORDER BY 1")) {
            leftOut.add(what + row[0]);
        }
    }
}
