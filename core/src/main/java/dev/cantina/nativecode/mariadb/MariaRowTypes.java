package dev.cantina.nativecode.mariadb;

import dev.cantina.nativecode.NativeStatement;
import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.nativecode.NativeVariable;
import dev.cantina.nativecode.mariadb.MariaInside.Column;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.sql.Statement;
import java.sql.Types;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** The fields of rows that routines declare, or go through in FOR ("Row data types", "FOR"). */
final class MariaRowTypes {
    private final Connection connection;
    private final Map<String, List<Column>> tables = new LinkedHashMap<>();

    MariaRowTypes(Connection connection) {
        this.connection = connection;
    }

    /**
     * Those of a routine, by their types in small letters. What the server does not tell is left
     * out.
     *
     * @param around what is known in the routine before it declares anything
     */
    Map<String, List<Column>> of(
            NativeStatement body, List<NativeVariable> around, String ofRoutine)
            throws SQLException {
        modes = ofRoutine;
        boolean otherwise =
                MariaRoutine.has(modes, "ANSI_QUOTES")
                        || MariaRoutine.has(modes, "NO_BACKSLASH_ESCAPES");
        if (!otherwise) {
            return of(body, around);
        }
        try (Statement set = connection.createStatement()) {
            set.execute("SET sql_mode = '" + modes + "'");
            try {
                return of(body, around);
            } finally {
                set.execute("SET sql_mode = @@GLOBAL.sql_mode");
            }
        }
    }

    /** The modes of the routine that is read. */
    private String modes = "";

    private Map<String, List<Column>> of(NativeStatement body, List<NativeVariable> around)
            throws SQLException {
        List<NativeVariable> all = new ArrayList<>(around);
        declared(body, all);
        Map<String, String> cursors = new HashMap<>();
        Set<String> names = new HashSet<>();
        for (NativeVariable one : all) {
            String name = MariaWeaver.key(one.name()).toLowerCase(Locale.ROOT);
            if (one.kind() == NativeVariable.Kind.CURSOR) {
                query(one.span(), names).ifPresent(q -> cursors.put(name, q));
            } else {
                names.add(name);
            }
        }
        Map<String, List<Column>> rows = new LinkedHashMap<>();
        for (NativeVariable one : all) {
            String type = one.type().strip();
            Optional<List<Column>> fields = fields(type, cursors, names);
            fields.ifPresent(f -> rows.put(type.toLowerCase(Locale.ROOT), f));
        }
        return rows;
    }

    private static void declared(NativeStatement s, List<NativeVariable> all) {
        all.addAll(s.declared());
        s.parts().forEach(p -> p.statements().forEach(i -> declared(i, all)));
    }

    /**
     * The query of {@code DECLARE name CURSOR [(parameters)] FOR query}.
     *
     * @param names takes the parameters' names
     */
    private Optional<String> query(Span declaration, Set<String> names) {
        List<MariaLexer.Token> tokens =
                tokens(declaration.source(), declaration.start(), declaration.end());
        for (int i = 0; i < tokens.size(); i++) {
            MariaLexer.Token token = tokens.get(i);
            boolean parameter = i > 0 && (tokens.get(i - 1).is("(") || tokens.get(i - 1).is(","));
            if (parameter && token.isName()) {
                names.add(token.text().toLowerCase(Locale.ROOT));
            }
            if (token.is("for")) {
                String text = declaration.source().written();
                return Optional.of(text.substring(token.end(), declaration.end()).strip())
                        .map(q -> q.endsWith(";") ? q.substring(0, q.length() - 1) : q);
            }
        }
        return Optional.empty();
    }

    private List<MariaLexer.Token> tokens(Source source, int from, int to) {
        List<MariaLexer.Token> tokens = new ArrayList<>();
        MariaLexer lexer = new MariaLexer(source, from, to);
        lexer.modes(modes);
        try {
            for (MariaLexer.Token t = lexer.next(); t != null; t = lexer.next()) {
                tokens.add(t);
            }
        } catch (NativeSyntaxException e) {
            return List.of();
        }
        return tokens;
    }

    /** The fields of a row of a type; empty where they are not known, or it is none. */
    private Optional<List<Column>> fields(
            String type, Map<String, String> cursors, Set<String> names) throws SQLException {
        Matcher named = ROW_OF_TABLE.matcher(type);
        if (named.matches()) {
            String name = MariaWeaver.key(named.group(1));
            // A cursor hides a table of its name.
            String query = cursors.get(name.toLowerCase(Locale.ROOT));
            List<Column> columns = query == null ? columns(name) : described(query, names);
            return columns.isEmpty() ? Optional.empty() : Optional.of(columns);
        }
        Matcher asked = ROW_OF_QUERY.matcher(type);
        if (asked.matches()) {
            List<Column> columns = described(asked.group(1), names);
            return columns.isEmpty() ? Optional.empty() : Optional.of(columns);
        }
        Matcher row = ROW.matcher(type);
        if (!row.matches()) {
            return Optional.empty();
        }
        List<Column> fields = new ArrayList<>();
        String inside = row.group(1);
        int from = 0;
        int depth = 0;
        char quote = 0;
        for (int i = 0; i <= inside.length(); i++) {
            char c = i == inside.length() ? ',' : inside.charAt(i);
            if (quote != 0) {
                quote = c == quote ? 0 : quote;
            } else if (c == '\'' || c == '"' || c == '`') {
                quote = c;
            } else if (c == '(') {
                depth++;
            } else if (c == ')') {
                depth--;
            } else if (c == ',' && depth == 0) {
                Matcher field = FIELD.matcher(inside.substring(from, i));
                if (!field.matches()) {
                    return Optional.empty();
                }
                fields.add(new Column(MariaWeaver.key(field.group(1)), field.group(2)));
                from = i + 1;
            }
        }
        return Optional.of(fields);
    }

    private static final Pattern ROW_OF_QUERY = Pattern.compile("(?is)row of (.*)");
    private static final Pattern ROW_OF_TABLE =
            Pattern.compile("(?i)row\\s+type\\s+of\\s+(`[^`]+`|\"[^\"]+\"|[\\w$]+)");
    private static final Pattern ROW = Pattern.compile("(?is)row\\s*\\((.*)\\)");
    private static final Pattern FIELD =
            Pattern.compile("(?s)\\s*(`[^`]+`|\"[^\"]+\"|[\\w$]+)\\s+(.+?)\\s*");

    private static final Set<String> NO_VALUE_AFTER = Set.of(".", "as", "from", "join", "table");

    /**
     * The columns of a query, as the server says when it prepares it; none where it refuses.
     *
     * @param names of variables, which are no names there
     */
    private List<Column> described(String query, Set<String> names) throws SQLException {
        List<Column> columns = new ArrayList<>();
        try (PreparedStatement statement =
                connection.prepareStatement(withoutNames(query, names))) {
            ResultSetMetaData row = statement.getMetaData();
            Set<String> seen = new HashSet<>();
            for (int i = 1; row != null && i <= row.getColumnCount(); i++) {
                String name = row.getColumnLabel(i);
                // What is worked out and has no name of its own has one that the routine may not
                // say as it is here.
                boolean named =
                        ORDINARY.matcher(name).matches() && !name.equals("NULL")
                                || query.contains(MariaCode.quoted(name))
                                || query.contains('"' + name.replace("\"", "\"\"") + '"');
                if (seen.add(name.toLowerCase(Locale.ROOT)) && named) {
                    columns.add(new Column(name, type(row, i)));
                }
            }
        } catch (SQLException e) {
            // Its rows are not shown, then; whether the query is right the server says when it
            // runs.
            return List.of();
        }
        return columns;
    }

    private static final Pattern ORDINARY = Pattern.compile("[A-Za-z_][A-Za-z0-9_]*");

    private static String type(ResultSetMetaData row, int i) throws SQLException {
        String name = row.getColumnTypeName(i).toLowerCase(Locale.ROOT);
        return switch (row.getColumnType(i)) {
            case Types.DECIMAL, Types.NUMERIC ->
                    "decimal(" + row.getPrecision(i) + "," + row.getScale(i) + ")";
            case Types.CHAR, Types.VARCHAR -> "varchar(" + Math.max(1, row.getPrecision(i)) + ")";
            case Types.INTEGER -> name.contains("unsigned") ? "int unsigned" : "int";
            case Types.NULL -> "varchar(1)";
            default -> name;
        };
    }

    /** A query in which nothing stands in the places of variables. */
    private String withoutNames(String query, Set<String> names) {
        Source source = new Source("query", query);
        List<MariaLexer.Token> tokens = tokens(source, 0, query.length());
        StringBuilder text = new StringBuilder();
        int from = 0;
        for (int i = 0; i < tokens.size(); i++) {
            MariaLexer.Token token = tokens.get(i);
            boolean after = i > 0 && NO_VALUE_AFTER.stream().anyMatch(tokens.get(i - 1)::is);
            boolean calls = i + 1 < tokens.size() && tokens.get(i + 1).is("(");
            if (!token.isName()
                    || after
                    || calls
                    || !names.contains(token.text().toLowerCase(Locale.ROOT))) {
                continue;
            }
            int last = i;
            if (i + 2 < tokens.size() && tokens.get(i + 1).is(".")) {
                last = i + 2;
            }
            boolean listed =
                    i > 0
                            && (tokens.get(i - 1).is("select") || tokens.get(i - 1).is(","))
                            && last + 1 < tokens.size()
                            && (tokens.get(last + 1).is(",") || tokens.get(last + 1).is("from"));
            text.append(query, from, token.start()).append("NULL");
            // One in quotes gives its column no name that could be said.
            if (listed && "`\"".indexOf(query.charAt(tokens.get(last).start())) < 0) {
                text.append(" AS ").append(MariaCode.quoted(tokens.get(last).text()));
            }
            from = tokens.get(last).end();
            i = last;
        }
        return text.append(query, from, query.length()).toString();
    }

    /** The columns of a table, in their order; none where there is no such table. */
    List<Column> columns(String table) throws SQLException {
        if (!tables.containsKey(table)) {
            List<Column> columns = new ArrayList<>();
            try (PreparedStatement statement =
                    connection.prepareStatement(
                            "SELECT COLUMN_NAME, COLUMN_TYPE FROM information_schema.COLUMNS"
                                    + " WHERE TABLE_SCHEMA = DATABASE() AND TABLE_NAME = ?"
                                    + " ORDER BY ORDINAL_POSITION")) {
                statement.setString(1, table);
                try (ResultSet row = statement.executeQuery()) {
                    while (row.next()) {
                        columns.add(new Column(row.getString(1), row.getString(2)));
                    }
                }
            }
            tables.put(table, columns);
        }
        return tables.get(table);
    }
}
