package dev.cantina.nativecode.postgresql;

import dev.cantina.nativecode.ServerCode.Connector;
import dev.cantina.nativecode.postgresql.PgLexer.Token;
import dev.cantina.syntax.Problem;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * The roles that a project's scripts make, and who is a member of which. They belong to a server
 * and not to a database, and no transaction of the project can make them: the server's
 * administrator does, without any right but to be named.
 */
final class PgRoles {
    /** What an administrator would be, or could; no role of a project is. */
    private static final Set<String> MORE =
            Set.of("superuser", "createdb", "createrole", "replication", "bypassrls");

    /** Options that say nothing here, or are looked at by themselves. */
    private static final Set<String> PLAIN =
            Set.of(
                    "nosuperuser",
                    "nocreatedb",
                    "nocreaterole",
                    "noreplication",
                    "nobypassrls",
                    "login",
                    "nologin",
                    "inherit",
                    "noinherit",
                    "encrypted",
                    "unencrypted");

    /** Options with a value, which says nothing here: a password, a limit, an end. */
    private static final Set<String> VALUED = Set.of("password", "connection", "valid", "sysid");

    private static boolean isGroup(Token token) {
        return token.is("role") || token.is("group");
    }

    private static SQLException misread(Token token) {
        return new SQLException("syntax error at or near \"" + token.text() + "\"", "42601");
    }

    /** One role is a member of another. */
    private record Member(String role, String of) {}

    private final Connection connection;
    private final Connector connector;
    private final Set<String> roles = new LinkedHashSet<>();
    private final Set<Member> members = new LinkedHashSet<>();

    PgRoles(Connection connection, Connector connector) {
        this.connection = connection;
        this.connector = connector;
    }

    /**
     * Does what a statement says of roles.
     *
     * @return empty where it says nothing of them; else what is to be said of it, if anything
     * @throws SQLException where it can't be done
     */
    Optional<List<Problem>> run(PgScript.Statement statement) throws SQLException {
        List<Token> tokens = statement.tokens();
        boolean kind =
                tokens.size() > 2
                        && (tokens.get(1).is("role")
                                || tokens.get(1).is("group")
                                || tokens.get(1).is("user") && !tokens.get(2).is("mapping"));
        if (kind && tokens.get(0).is("create")) {
            return Optional.of(create(statement));
        }
        if (kind && (tokens.get(0).is("alter") || tokens.get(0).is("drop"))) {
            return Optional.of(
                    List.of(
                            Problem.advice(
                                    statement.span(),
                                    "left-out",
                                    "left out: roles are what CREATE ROLE says of them",
                                    "say it there")));
        }
        boolean ofRoles = tokens.stream().noneMatch(t -> t.is("on"));
        if (ofRoles && statement.begins("grant")) {
            grant(tokens);
            return Optional.of(List.of());
        }
        return Optional.empty();
    }

    private List<Problem> create(PgScript.Statement statement) throws SQLException {
        List<Token> tokens = statement.tokens();
        String name = tokens.get(2).text();
        boolean inherits = tokens.stream().noneMatch(t -> t.is("noinherit"));
        connector.role(name, inherits);
        roles.add(name);
        List<Problem> said = new ArrayList<>();
        int i = tokens.size() > 3 && tokens.get(3).is("with") ? 4 : 3;
        while (i < tokens.size()) {
            Token token = tokens.get(i);
            boolean in = token.is("in") && i + 1 < tokens.size() && isGroup(tokens.get(i + 1));
            if (in || isGroup(token) || token.is("admin") || token.is("user")) {
                int from = in ? i + 2 : i + 1;
                List<String> others = names(tokens, from);
                if (others.isEmpty()) {
                    throw misread(token);
                }
                for (String other : others) {
                    member(in ? name : other, in ? other : name);
                }
                i = from + 2 * others.size() - 1;
            } else if (MORE.contains(token.text())) {
                said.add(
                        Problem.advice(
                                statement.span().source().span(token.start(), token.end()),
                                "left-out",
                                "left out: no role of a project is " + token.text(),
                                "it has the rights that the project gives it"));
                i++;
            } else if (PLAIN.contains(token.text())) {
                i++;
            } else if (VALUED.contains(token.text()) && i + 1 < tokens.size()) {
                boolean two = token.is("connection") || token.is("valid");
                i += two ? 3 : 2;
            } else {
                throw misread(token);
            }
        }
        return said;
    }

    /** GRANT role, … TO role, …. */
    private void grant(List<Token> tokens) throws SQLException {
        List<String> given = names(tokens, 1);
        int to = 1;
        while (to < tokens.size() && !tokens.get(to).is("to")) {
            to++;
        }
        List<String> takers = names(tokens, to + 1);
        int behind = to + 2 * takers.size();
        boolean known =
                behind >= tokens.size()
                        || tokens.get(behind).is("with")
                        || tokens.get(behind).is("granted");
        if (given.isEmpty() || takers.isEmpty() || !known) {
            throw misread(tokens.get(Math.min(behind, tokens.size() - 1)));
        }
        for (String role : takers) {
            for (String of : given) {
                member(role, of);
            }
        }
    }

    private void member(String role, String of) throws SQLException {
        for (String one : List.of(role, of)) {
            if (!roles.contains(one)) {
                throw new SQLException("role \"" + one + "\" does not exist", "42704");
            }
        }
        Member member = new Member(role, of);
        members.add(member);
        if (there == null) {
            there = known();
        }
        if (there.add(member)) {
            connector.member(role, of, true);
        }
    }

    /** Who is a member of which, of all roles; null until it is asked for. */
    private Set<Member> there;

    private static List<String> names(List<Token> tokens, int from) {
        List<String> names = new ArrayList<>();
        for (int i = from; i < tokens.size() && tokens.get(i).isName(); i += 2) {
            names.add(tokens.get(i).text());
            if (i + 1 >= tokens.size() || !tokens.get(i + 1).is(",")) {
                break;
            }
        }
        return names;
    }

    /** What an earlier project has said of these roles, and this one does not, is no longer so. */
    void finish() throws SQLException {
        if (roles.isEmpty()) {
            return;
        }
        for (Member known : known()) {
            boolean own = roles.contains(known.role()) && roles.contains(known.of());
            if (own && !members.contains(known)) {
                connector.member(known.role(), known.of(), false);
            }
        }
    }

    private Set<Member> known() throws SQLException {
        Set<Member> known = new LinkedHashSet<>();
        try (PreparedStatement statement =
                        connection.prepareStatement(
                                "SELECT m.rolname, g.rolname FROM pg_auth_members a"
                                        + " JOIN pg_roles m ON m.oid = a.member"
                                        + " JOIN pg_roles g ON g.oid = a.roleid");
                ResultSet row = statement.executeQuery()) {
            while (row.next()) {
                known.add(new Member(row.getString(1), row.getString(2)));
            }
        }
        return known;
    }
}
