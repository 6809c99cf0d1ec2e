package dev.cantina.importing.postgresql;

import dev.cantina.importing.FileNames;
import dev.cantina.importing.ImportedFile;
import dev.cantina.importing.LiveRows;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import java.util.TreeSet;

/** Who may do what in a PostgreSQL database: roles, grants and policies, in one file. */
final class PgRights {
    private final Connection connection;
    private final String among;
    private final FileNames names;
    private final TreeSet<String> roles = new TreeSet<>();
    private final StringBuilder text = new StringBuilder();

    PgRights(PgScope scope) {
        this.connection = scope.connection();
        this.among = scope.among();
        this.names = scope.names();
    }

    /** The file; empty where nobody has been given anything. */
    Optional<ImportedFile> file() throws SQLException {
        // A new database lets everybody look into public.
        given(
                "SCHEMA",
                "quote_ident(n.nspname)",
                "CASE n.nspname WHEN 'public' THEN array_remove(n.nspacl,"
                        + " ('=U/' || quote_ident((SELECT rolname FROM pg_roles"
                        + " WHERE oid = n.nspowner)))::aclitem) ELSE n.nspacl END",
                "n",
                "n.nspowner",
                "pg_namespace n");
        given(
                "TABLE",
                "c.oid::regclass::text",
                "c.relacl",
                "r",
                "c.relowner",
                "pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace"
                        + " AND c.relkind IN ('r', 'p', 'v', 'm')");
        given(
                "SEQUENCE",
                "c.oid::regclass::text",
                "c.relacl",
                "s",
                "c.relowner",
                "pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace AND c.relkind = 'S'");
        columns();
        given(
                "ROUTINE",
                "p.oid::regprocedure::text",
                "p.proacl",
                "f",
                "p.proowner",
                "pg_proc p JOIN pg_namespace n ON n.oid = p.pronamespace AND p.prokind <> 'a'"
                        + " AND "
                        + PgObjects.ofNoExtension("pg_proc", "p.oid"));
        policies();
        if (text.length() == 0) {
            return Optional.empty();
        }
        return Optional.of(
                new ImportedFile(names.path("routines", "_rights"), roles() + "\n" + text));
    }

    /** What is given to others than the owner; what PUBLIC has by itself and was taken away. */
    private void given(String what, String name, String acl, String kind, String owner, String from)
            throws SQLException {
        String given =
                "aclexplode(COALESCE(" + acl + ", acldefault('" + kind + "', " + owner + ")))";
        for (String[] row :
                LiveRows.of(
                        connection,
                        "SELECT "
                                + name
                                + ", string_agg(DISTINCT d.privilege_type, ', ') FROM "
                                + from
                                + " CROSS JOIN LATERAL aclexplode(acldefault('"
                                + kind
                                + "', "
                                + owner
                                + ")) d WHERE "
                                + among
                                + " AND d.grantee = 0 AND NOT EXISTS (SELECT 1 FROM "
                                + given
                                + " g WHERE g.grantee = 0 AND g.privilege_type = d.privilege_type)"
                                + " GROUP BY 1 ORDER BY 1")) {
            text.append("REVOKE ").append(row[1]).append(" ON ").append(what).append(' ');
            text.append(row[0]).append(" FROM PUBLIC;\n");
        }
        for (String[] row :
                LiveRows.of(
                        connection,
                        "SELECT "
                                + name
                                + ", CASE WHEN g.grantee = 0 THEN 'PUBLIC' ELSE (SELECT"
                                + " quote_ident(rolname) FROM pg_roles WHERE oid = g.grantee) END,"
                                + " g.is_grantable, string_agg(DISTINCT g.privilege_type, ', ')"
                                + " FROM "
                                + from
                                + " CROSS JOIN LATERAL "
                                + given
                                + " g WHERE "
                                + among
                                + " AND g.grantee <> "
                                + owner
                                + " AND NOT (g.grantee = 0 AND EXISTS (SELECT 1 FROM"
                                + " aclexplode(acldefault('"
                                + kind
                                + "', "
                                + owner
                                + ")) d WHERE d.grantee = 0 AND d.privilege_type = g.privilege_type))"
                                + " GROUP BY 1, g.grantee, g.is_grantable ORDER BY 1, 2, 3")) {
            grant(row[3], what + " " + row[0], row[1], row[2].equals("t"));
        }
    }

    private void grant(String privileges, String on, String to, boolean grantable) {
        if (to != null && !to.startsWith("pg_")) {
            if (!to.equals("PUBLIC")) {
                roles.add(to);
            }
            text.append("GRANT ").append(privileges).append(" ON ").append(on);
            text.append(" TO ").append(to).append(grantable ? " WITH GRANT OPTION;\n" : ";\n");
        }
    }

    private void columns() throws SQLException {
        for (String[] row :
                LiveRows.of(
                        connection,
                        "SELECT c.oid::regclass::text, CASE WHEN g.grantee = 0 THEN 'PUBLIC' ELSE"
                                + " (SELECT quote_ident(rolname) FROM pg_roles WHERE oid = g.grantee)"
                                + " END, g.is_grantable, string_agg(g.privilege_type || ' ('"
                                + " || quote_ident(a.attname) || ')', ', '"
                                + " ORDER BY a.attnum, g.privilege_type)"
                                + " FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace"
                                + " JOIN pg_attribute a ON a.attrelid = c.oid AND NOT a.attisdropped"
                                + " CROSS JOIN LATERAL aclexplode(a.attacl) g WHERE "
                                + among
                                + " GROUP BY c.oid, g.grantee, g.is_grantable ORDER BY 1, 2, 3")) {
            grant(row[3], "TABLE " + row[0], row[1], row[2].equals("t"));
        }
    }

    private void policies() throws SQLException {
        for (String[] row :
                LiveRows.of(
                        connection,
                        "SELECT c.oid::regclass::text, c.relforcerowsecurity FROM pg_class c"
                                + " JOIN pg_namespace n ON n.oid = c.relnamespace WHERE c.relrowsecurity"
                                + " AND "
                                + among
                                + " ORDER BY 1")) {
            text.append("ALTER TABLE ").append(row[0]).append(" ENABLE ROW LEVEL SECURITY;\n");
            if (row[1].equals("t")) {
                text.append("ALTER TABLE ").append(row[0]).append(" FORCE ROW LEVEL SECURITY;\n");
            }
        }
        for (String[] row :
                LiveRows.of(
                        connection,
                        "SELECT quote_ident(p.polname), c.oid::regclass::text, p.polpermissive,"
                                + " CASE p.polcmd WHEN 'r' THEN 'SELECT' WHEN 'a' THEN 'INSERT'"
                                + " WHEN 'w' THEN 'UPDATE' WHEN 'd' THEN 'DELETE' ELSE 'ALL' END,"
                                + " (SELECT string_agg(COALESCE(quote_ident(r.rolname), 'PUBLIC'), ', '"
                                + " ORDER BY r.rolname) FROM unnest(p.polroles) u (id)"
                                + " LEFT JOIN pg_roles r ON r.oid = u.id),"
                                + " pg_get_expr(p.polqual, p.polrelid),"
                                + " pg_get_expr(p.polwithcheck, p.polrelid)"
                                + " FROM pg_policy p JOIN pg_class c ON c.oid = p.polrelid"
                                + " JOIN pg_namespace n ON n.oid = c.relnamespace WHERE "
                                + among
                                + " ORDER BY 2, 1")) {
            for (String role : row[4].split(", ")) {
                if (!role.equals("PUBLIC") && !role.startsWith("pg_")) {
                    roles.add(role);
                }
            }
            text.append("CREATE POLICY ").append(row[0]).append(" ON ").append(row[1]);
            text.append(row[2].equals("t") ? "" : " AS RESTRICTIVE");
            text.append(" FOR ").append(row[3]).append(" TO ").append(row[4]);
            text.append(row[5] == null ? "" : " USING (" + row[5] + ")");
            text.append(row[6] == null ? "" : " WITH CHECK (" + row[6] + ")").append(";\n");
        }
    }

    /** The roles that are spoken of, and all that they are members of. */
    private String roles() throws SQLException {
        if (roles.isEmpty()) {
            return "";
        }
        StringBuilder made = new StringBuilder();
        StringBuilder members = new StringBuilder();
        String reached =
                "WITH RECURSIVE r (oid) AS (SELECT oid FROM pg_roles WHERE quote_ident(rolname) IN ("
                        + LiveRows.literals(List.copyOf(roles))
                        + ") UNION SELECT a.roleid FROM pg_auth_members a JOIN r ON a.member = r.oid) ";
        for (String[] row :
                LiveRows.of(
                        connection,
                        reached
                                + "SELECT quote_ident(rolname), rolinherit FROM pg_roles JOIN r USING"
                                + " (oid) WHERE rolname NOT LIKE 'pg\\_%' ORDER BY 1")) {
            made.append("CREATE ROLE ").append(row[0]);
            made.append(row[1].equals("t") ? ";\n" : " NOINHERIT;\n");
        }
        for (String[] row :
                LiveRows.of(
                        connection,
                        reached
                                + "SELECT DISTINCT quote_ident(g.rolname), quote_ident(m.rolname)"
                                + " FROM pg_auth_members a JOIN r a1 ON a1.oid = a.member"
                                + " JOIN r a2 ON a2.oid = a.roleid JOIN pg_roles g ON g.oid = a.roleid"
                                + " JOIN pg_roles m ON m.oid = a.member"
                                + " WHERE g.rolname NOT LIKE 'pg\\_%' AND m.rolname NOT LIKE 'pg\\_%'"
                                + " ORDER BY 1, 2")) {
            members.append("GRANT ").append(row[0]).append(" TO ").append(row[1]).append(";\n");
        }
        return made.append(members).toString();
    }
}
