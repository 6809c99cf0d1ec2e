package dev.cantina.importing.postgresql;

import dev.cantina.importing.ImportedFile;
import dev.cantina.importing.LiveRows;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** The routines, triggers and rules of a PostgreSQL database, a file each. */
final class PgRoutines {
    private final PgScope scope;
    private final Connection connection;
    private final String among;
    private final List<String> leftOut;
    private final List<ImportedFile> files = new ArrayList<>();

    PgRoutines(PgScope scope) throws SQLException {
        this.scope = scope;
        this.connection = scope.connection();
        this.among = scope.among();
        this.leftOut = scope.leftOut();
        routines();
        aggregates();
        triggers();
        rules();
    }

    List<ImportedFile> files() {
        return files;
    }

    private void file(String schema, String name, String text) {
        String path = scope.path(List.of("routines"), schema, name);
        files.add(new ImportedFile(path, text));
    }

    private static final String FROM =
            " FROM pg_proc p JOIN pg_namespace n ON n.oid = p.pronamespace"
                    + " JOIN pg_language l ON l.oid = p.prolang";

    private String where(String kinds) {
        return " WHERE p.prokind IN ("
                + kinds
                + ") AND "
                + among
                + " AND "
                + PgObjects.ofNoExtension("pg_proc", "p.oid");
    }

    private void routines() throws SQLException {
        List<String[]> all =
                LiveRows.of(
                        connection,
                        "SELECT n.nspname, p.proname, pg_get_functiondef(p.oid), l.lanname,"
                                + " pg_get_function_identity_arguments(p.oid),"
                                + " p.oid::regprocedure::text, obj_description(p.oid, 'pg_proc'),"
                                + " CASE p.prokind WHEN 'p' THEN 'PROCEDURE' ELSE 'FUNCTION' END,"
                                + " (SELECT string_agg(format_type(t, NULL), '-' ORDER BY o)"
                                + " FROM unnest(p.proargtypes::oid[]) WITH ORDINALITY u (t, o))"
                                + FROM
                                + where("'f', 'p', 'w'")
                                + " ORDER BY 1, 2, 6");
        Map<String, Integer> counts = new HashMap<>();
        all.forEach(row -> counts.merge(row[0] + "." + row[1], 1, Integer::sum));
        for (String[] row : all) {
            if (row[3].equals("c") || row[3].equals("internal")) {
                leftOut.add("the function " + row[5] + ": it is in a library of the server");
                continue;
            }
            boolean overloaded = counts.get(row[0] + "." + row[1]) > 1;
            String types = row[8] == null ? "" : row[8].replaceAll("[^A-Za-z0-9_.-]+", "_");
            file(
                    row[0],
                    overloaded ? row[1] + "-" + (types.isEmpty() ? "none" : types) : row[1],
                    row[2].stripTrailing()
                            + ";\n"
                            + (row[6] == null
                                    ? ""
                                    : "\nCOMMENT ON "
                                            + row[7]
                                            + " "
                                            + row[5]
                                            + " IS "
                                            + LiveRows.literal(row[6])
                                            + ";\n"));
        }
    }

    private void aggregates() throws SQLException {
        for (String[] row :
                LiveRows.of(
                        connection,
                        "SELECT n.nspname, p.proname, p.oid::regprocedure::text,"
                                + " pg_get_function_arguments(p.oid), a.aggkind, a.aggmtransfn <> 0,"
                                + " a.aggtransfn::regproc::text, format_type(a.aggtranstype, NULL),"
                                + " CASE WHEN a.aggfinalfn <> 0 THEN a.aggfinalfn::regproc::text END,"
                                + " a.agginitval,"
                                + " CASE WHEN a.aggcombinefn <> 0 THEN a.aggcombinefn::regproc::text END,"
                                + " CASE WHEN a.aggsortop <> 0 THEN a.aggsortop::regoper::text END,"
                                + " a.aggfinalextra, p.proparallel"
                                + " FROM pg_aggregate a JOIN pg_proc p ON p.oid = a.aggfnoid"
                                + " JOIN pg_namespace n ON n.oid = p.pronamespace"
                                + where("'a'")
                                + " ORDER BY 1, 2, 3")) {
            if (!row[4].equals("n") || row[5].equals("t")) {
                leftOut.add("the aggregate " + row[2] + ": it is an ordered or a moving one");
                continue;
            }
            String arguments = row[3].isEmpty() ? "*" : row[3];
            file(
                    row[0],
                    row[1],
                    "CREATE AGGREGATE "
                            + row[2].substring(0, row[2].indexOf('('))
                            + " ("
                            + arguments
                            + ") (\n  SFUNC = "
                            + row[6]
                            + ",\n  STYPE = "
                            + row[7]
                            + (row[8] == null ? "" : ",\n  FINALFUNC = " + row[8])
                            + (row[12].equals("t") ? ",\n  FINALFUNC_EXTRA" : "")
                            + (row[10] == null ? "" : ",\n  COMBINEFUNC = " + row[10])
                            + (row[9] == null ? "" : ",\n  INITCOND = " + LiveRows.literal(row[9]))
                            + (row[11] == null ? "" : ",\n  SORTOP = " + row[11])
                            + (row[13].equals("s") ? ",\n  PARALLEL = SAFE" : "")
                            + "\n);\n");
        }
    }

    private void triggers() throws SQLException {
        for (String[] row :
                LiveRows.of(
                        connection,
                        "SELECT n.nspname, c.relname, t.tgname, pg_get_triggerdef(t.oid),"
                                + " CASE t.tgenabled WHEN 'D' THEN 'DISABLE' WHEN 'A' THEN 'ENABLE ALWAYS'"
                                + " WHEN 'R' THEN 'ENABLE REPLICA' END, c.oid::regclass::text,"
                                + " quote_ident(t.tgname), obj_description(t.oid, 'pg_trigger')"
                                + " FROM pg_trigger t JOIN pg_class c ON c.oid = t.tgrelid"
                                + " JOIN pg_namespace n ON n.oid = c.relnamespace"
                                + " WHERE NOT t.tgisinternal AND t.tgparentid = 0 AND "
                                + among
                                + " AND "
                                + PgObjects.ofNoExtension("pg_trigger", "t.oid")
                                + " ORDER BY 1, 2, 3")) {
            StringBuilder text = new StringBuilder(row[3]).append(";\n");
            if (row[4] != null) {
                text.append("\nALTER TABLE ").append(row[5]).append(' ').append(row[4]);
                text.append(" TRIGGER ").append(row[6]).append(";\n");
            }
            if (row[7] != null) {
                text.append("\nCOMMENT ON TRIGGER ").append(row[6]).append(" ON ").append(row[5]);
                text.append(" IS ").append(LiveRows.literal(row[7])).append(";\n");
            }
            String table = scope.name(row[0], row[1]);
            files.add(
                    new ImportedFile(
                            scope.names().path("routines", "triggers", table + "." + row[2]),
                            text.toString()));
        }
    }

    private void rules() throws SQLException {
        for (String[] row :
                LiveRows.of(
                        connection,
                        "SELECT n.nspname, c.relname, r.rulename, pg_get_ruledef(r.oid)"
                                + " FROM pg_rewrite r JOIN pg_class c ON c.oid = r.ev_class"
                                + " JOIN pg_namespace n ON n.oid = c.relnamespace"
                                + " WHERE r.rulename <> '_RETURN' AND "
                                + among
                                + " AND "
                                + PgObjects.ofNoExtension("pg_rewrite", "r.oid")
                                + " ORDER BY 1, 2, 3")) {
            String table = scope.name(row[0], row[1]);
            files.add(
                    new ImportedFile(
                            scope.names().path("routines", "rules", table + "." + row[2]),
                            row[3].stripTrailing() + "\n"));
        }
    }
}
