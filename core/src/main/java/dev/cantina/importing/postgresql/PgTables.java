package dev.cantina.importing.postgresql;

import dev.cantina.importing.ImportedFile;
import dev.cantina.importing.LiveRows;
import dev.cantina.importing.LiveTable;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** The tables of a PostgreSQL database, each with all that belongs to it. */
final class PgTables {
    private final PgScope scope;
    private final Connection connection;
    private final String among;
    private final List<String> leftOut;
    private final Map<String, Table> tables = new LinkedHashMap<>();

    /** A table while it is put together; by its number on the server. */
    private static final class Table {
        String schema;
        String name;
        String sql;
        String kind;
        String unlogged;
        String partitionKey;
        String parent;
        String bound;
        String parents;
        String options;
        String comment;
        boolean readable;
        final List<String> lines = new ArrayList<>();
        final List<LiveTable.Column> columns = new ArrayList<>();
        final Map<String, Integer> numbers = new HashMap<>();
        final List<String> before = new ArrayList<>();
        final List<String> after = new ArrayList<>();
        final List<List<Integer>> unique = new ArrayList<>();
        final List<LiveTable.Reference> references = new ArrayList<>();
        List<Integer> key = List.of();
    }

    PgTables(PgScope scope) throws SQLException {
        this.scope = scope;
        this.connection = scope.connection();
        this.among = scope.among();
        this.leftOut = scope.leftOut();
        heads();
        columns();
        sequences();
        constraints();
        indexes();
        keys();
    }

    private static final String FROM =
            " FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace";

    private String where() {
        return " WHERE c.relkind IN ('r', 'p') AND "
                + among
                + " AND "
                + PgObjects.ofNoExtension("pg_class", "c.oid");
    }

    private void heads() throws SQLException {
        for (String[] row :
                LiveRows.of(
                        connection,
                        "SELECT c.oid, n.nspname, c.relname, c.oid::regclass::text, c.relkind,"
                                + " CASE WHEN c.relpersistence = 'u' THEN 'UNLOGGED ' ELSE '' END,"
                                + " pg_get_partkeydef(c.oid),"
                                + " CASE WHEN c.relispartition THEN (SELECT inhparent::regclass::text"
                                + " FROM pg_inherits WHERE inhrelid = c.oid) END,"
                                + " pg_get_expr(c.relpartbound, c.oid),"
                                + " (SELECT string_agg(inhparent::regclass::text, ', ' ORDER BY inhseqno)"
                                + " FROM pg_inherits WHERE inhrelid = c.oid AND NOT c.relispartition),"
                                + " array_to_string(c.reloptions, ', '),"
                                + " obj_description(c.oid, 'pg_class'),"
                                + " has_table_privilege(c.oid, 'SELECT')"
                                + FROM
                                + where()
                                + " ORDER BY n.nspname, c.relname")) {
            Table table = new Table();
            table.schema = row[1];
            table.name = row[2];
            table.sql = row[3];
            table.kind = row[4];
            table.unlogged = row[5];
            table.partitionKey = row[6];
            table.parent = row[7];
            table.bound = row[8];
            table.parents = row[9];
            table.options = row[10];
            table.comment = row[11];
            table.readable = row[12].equals("t");
            tables.put(row[0], table);
        }
    }

    private void columns() throws SQLException {
        for (String[] row :
                LiveRows.of(
                        connection,
                        "SELECT c.oid, a.attname, quote_ident(a.attname),"
                                + " format_type(a.atttypid, a.atttypmod), a.attnotnull,"
                                + " pg_get_expr(d.adbin, d.adrelid), a.attidentity, a.attgenerated,"
                                + " CASE WHEN a.attcollation <> 0 AND a.attcollation <> t.typcollation"
                                + " THEN a.attcollation::regcollation::text END, a.attislocal,"
                                + " col_description(c.oid, a.attnum), a.attnum, t.typcategory,"
                                + " CASE WHEN t.typtype = 'd' THEN t.typbasetype ELSE t.oid END::regtype,"
                                + " (SELECT "
                                + PgObjects.SEQUENCE
                                + " FROM pg_sequence s JOIN pg_depend i ON i.objid = s.seqrelid"
                                + " AND i.classid = 'pg_class'::regclass AND i.deptype = 'i'"
                                + " AND i.refclassid = 'pg_class'::regclass"
                                + " WHERE i.refobjid = c.oid AND i.refobjsubid = a.attnum)"
                                + FROM
                                + " JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum > 0"
                                + " AND NOT a.attisdropped"
                                + " JOIN pg_type t ON t.oid = a.atttypid"
                                + " LEFT JOIN pg_attrdef d ON d.adrelid = c.oid AND d.adnum = a.attnum"
                                + where()
                                + " ORDER BY c.oid, a.attnum")) {
            Table table = tables.get(row[0]);
            boolean generated = !row[7].isEmpty();
            table.numbers.put(row[11], table.columns.size());
            table.columns.add(
                    new LiveTable.Column(
                            row[1],
                            row[2],
                            row[3],
                            kind(row[12], row[13]),
                            !row[4].equals("t"),
                            generated));
            if (row[10] != null) {
                table.after.add(
                        "COMMENT ON COLUMN "
                                + table.sql
                                + "."
                                + row[2]
                                + " IS "
                                + LiveRows.literal(row[10]));
            }
            if (table.parent == null && row[9].equals("t")) {
                table.lines.add(line(row));
            }
        }
    }

    private static String line(String[] row) {
        StringBuilder line = new StringBuilder(row[2]).append(' ').append(row[3]);
        if (row[8] != null) {
            line.append(" COLLATE ").append(row[8]);
        }
        if (row[7].equals("s") || row[7].equals("v")) {
            line.append(" GENERATED ALWAYS AS (").append(row[5]);
            line.append(row[7].equals("s") ? ") STORED" : ") VIRTUAL");
        } else if (row[5] != null) {
            line.append(" DEFAULT ").append(row[5]);
        }
        if (!row[6].isEmpty()) {
            line.append(row[6].equals("a") ? " GENERATED ALWAYS" : " GENERATED BY DEFAULT");
            line.append(" AS IDENTITY");
            String options = row[14] == null ? "" : row[14].replaceFirst("^ AS \\w+", "").strip();
            if (!options.isEmpty()) {
                line.append(" (").append(options).append(')');
            }
        }
        if (row[4].equals("t")) {
            line.append(" NOT NULL");
        }
        return line.toString();
    }

    private static LiveTable.Kind kind(String category, String type) {
        return switch (type) {
            case "smallint", "integer", "bigint" -> LiveTable.Kind.WHOLE;
            case "numeric", "real", "double precision", "money" -> LiveTable.Kind.DECIMAL;
            case "date" -> LiveTable.Kind.DATE;
            case "timestamp without time zone", "timestamp with time zone" -> LiveTable.Kind.MOMENT;
            case "time without time zone", "time with time zone" -> LiveTable.Kind.TIME;
            case "uuid" -> LiveTable.Kind.UUID;
            case "bytea" -> LiveTable.Kind.BYTES;
            case "boolean" -> LiveTable.Kind.TRUTH;
            default -> category.equals("S") ? LiveTable.Kind.TEXT : LiveTable.Kind.OTHER;
        };
    }

    /** The sequences that belong to a column which is not an identity. */
    private void sequences() throws SQLException {
        for (String[] row :
                LiveRows.of(
                        connection,
                        "SELECT c.oid, s.seqrelid::regclass::text, quote_ident(a.attname), "
                                + PgObjects.SEQUENCE
                                + FROM
                                + " JOIN pg_depend d ON d.refclassid = 'pg_class'::regclass"
                                + " AND d.refobjid = c.oid AND d.classid = 'pg_class'::regclass"
                                + " AND d.deptype = 'a'"
                                + " JOIN pg_sequence s ON s.seqrelid = d.objid"
                                + " JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum = d.refobjsubid"
                                + where()
                                + " ORDER BY c.oid, a.attnum")) {
            Table table = tables.get(row[0]);
            table.before.add("CREATE SEQUENCE " + row[1] + row[3]);
            table.after.add(
                    0, "ALTER SEQUENCE " + row[1] + " OWNED BY " + table.sql + "." + row[2]);
        }
    }

    private void constraints() throws SQLException {
        for (String[] row :
                LiveRows.of(
                        connection,
                        "SELECT c.oid, quote_ident(k.conname), k.contype, pg_get_constraintdef(k.oid),"
                                + " k.confrelid, k.conkey::text, k.confkey::text"
                                + FROM
                                + " JOIN pg_constraint k ON k.conrelid = c.oid AND k.conparentid = 0"
                                + " AND k.contype IN ('p', 'u', 'c', 'x', 'f')"
                                + " AND (k.conislocal OR k.contype = 'f')"
                                + where()
                                + " ORDER BY c.oid, strpos('pucxf', k.contype::text), k.conname")) {
            Table table = tables.get(row[0]);
            String constraint = "CONSTRAINT " + row[1] + " " + row[3];
            if (row[2].equals("f")) {
                // The tables that it refers to may come later, or refer to this one.
                table.after.add("ALTER TABLE " + table.sql + " ADD " + constraint);
                reference(table, row);
            } else if (table.parent != null || row[3].contains(" NOT VALID")) {
                table.after.add("ALTER TABLE " + table.sql + " ADD " + constraint);
            } else {
                table.lines.add(constraint);
            }
        }
    }

    private void reference(Table table, String[] row) {
        Table parent = tables.get(row[4]);
        if (parent == null) {
            leftOut.add(
                    "the foreign key "
                            + row[1]
                            + " of "
                            + table.sql
                            + " is kept, and refers to a table outside of what is imported");
            return;
        }
        List<Integer> columns = new ArrayList<>();
        for (String number : row[5].replaceAll("[{}]", "").split(",")) {
            columns.add(table.numbers.get(number));
        }
        List<String> parents = new ArrayList<>();
        for (String number : row[6].replaceAll("[{}]", "").split(",")) {
            parents.add(parent.columns.get(parent.numbers.get(number)).name());
        }
        table.references.add(
                new LiveTable.Reference(
                        row[1], columns, scope.name(parent.schema, parent.name), parents));
    }

    private void indexes() throws SQLException {
        for (String[] row :
                LiveRows.of(
                        connection,
                        "SELECT c.oid, CASE c.relkind WHEN 'p' THEN"
                                // That of the whole has one for each part.
                                + " replace(pg_get_indexdef(i.indexrelid), ' ON ONLY ', ' ON ')"
                                + " ELSE pg_get_indexdef(i.indexrelid) END"
                                + FROM
                                + " JOIN pg_index i ON i.indrelid = c.oid"
                                + " AND NOT EXISTS (SELECT 1 FROM pg_constraint k"
                                + " WHERE k.conindid = i.indexrelid AND k.contype IN ('p', 'u', 'x'))"
                                + " AND NOT EXISTS (SELECT 1 FROM pg_inherits h"
                                + " WHERE h.inhrelid = i.indexrelid)"
                                + where()
                                + " ORDER BY c.oid, i.indexrelid::regclass::text")) {
            tables.get(row[0]).after.add(row[1]);
        }
    }

    private void keys() throws SQLException {
        for (String[] row :
                LiveRows.of(
                        connection,
                        "SELECT c.oid, i.indisprimary, i.indkey::text"
                                + FROM
                                + " JOIN pg_index i ON i.indrelid = c.oid AND i.indisunique"
                                + " AND i.indexprs IS NULL"
                                + where()
                                + " ORDER BY c.oid, i.indexrelid")) {
            Table table = tables.get(row[0]);
            List<Integer> columns = new ArrayList<>();
            for (String number : row[2].split(" ")) {
                columns.add(table.numbers.get(number));
            }
            table.unique.add(columns);
            if (row[1].equals("t")) {
                table.key = columns;
            }
        }
    }

    List<ImportedFile> files() {
        List<ImportedFile> files = new ArrayList<>();
        for (Table table : tables.values()) {
            String path = scope.path(List.of("tables"), table.schema, table.name);
            files.add(new ImportedFile(path, text(table)));
        }
        return files;
    }

    private static String text(Table table) {
        StringBuilder text = new StringBuilder();
        table.before.forEach(s -> text.append(s).append(";\n\n"));
        text.append("CREATE ").append(table.unlogged).append("TABLE ").append(table.sql);
        if (table.parent != null) {
            text.append(" PARTITION OF ").append(table.parent).append(' ').append(table.bound);
        } else if (table.lines.isEmpty()) {
            text.append(" ()");
        } else {
            text.append(" (\n  ").append(String.join(",\n  ", table.lines)).append("\n)");
        }
        if (table.parents != null) {
            text.append("\nINHERITS (").append(table.parents).append(')');
        }
        if (table.partitionKey != null) {
            text.append("\nPARTITION BY ").append(table.partitionKey);
        }
        if (table.options != null) {
            text.append("\nWITH (").append(table.options).append(')');
        }
        text.append(";\n");
        if (table.comment != null) {
            text.append("\nCOMMENT ON TABLE ").append(table.sql).append(" IS ");
            text.append(LiveRows.literal(table.comment)).append(";\n");
        }
        table.after.forEach(s -> text.append('\n').append(s).append(";\n"));
        return text.toString();
    }

    /** The tables whose rows are taken; those of a partition come with the whole. */
    List<LiveTable> live() {
        List<LiveTable> live = new ArrayList<>();
        for (Table table : tables.values()) {
            if (table.parent == null) {
                live.add(
                        new LiveTable(
                                scope.name(table.schema, table.name),
                                table.kind.equals("p") ? table.sql : "ONLY " + table.sql,
                                List.copyOf(table.columns),
                                table.key,
                                List.copyOf(table.unique),
                                List.copyOf(table.references),
                                table.readable));
            }
        }
        return live;
    }
}
