package dev.cantina.binding;

import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlText;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/**
 * An SQL statement with its variables taken out.
 *
 * @param pieces the text, cut at each variable
 * @param parameters the variables' values, one fewer than pieces
 * @param columns what it gives, where the database was asked
 * @param tables the keys of the tables in it
 * @param source the statement as its author wrote it
 * @param counts how many columns more it gives at its end: the NULLs that each aggregate left out
 */
public record BoundSql(
        Span span,
        String verb,
        boolean query,
        List<String> pieces,
        List<BoundExpression> parameters,
        List<SqlType.Field> columns,
        Set<String> tables,
        SqlText source,
        int counts) {
    private static final Set<String> ENDS =
            Set.of("AND", "OR", "WHERE", "GROUP", "ORDER", "FETCH", "LIMIT", "RETURNING");

    /** Whether a value ends where a piece begins: no sign or word goes on with it. */
    private static boolean ends(String piece) {
        int at = 0;
        while (at < piece.length() && Character.isWhitespace(piece.charAt(at))) {
            at++;
        }
        if (at == piece.length() || "),;".indexOf(piece.charAt(at)) >= 0) {
            return true;
        }
        int end = at;
        while (end < piece.length() && isWordPart(piece.charAt(end))) {
            end++;
        }
        return ENDS.contains(piece.substring(at, end).toUpperCase(Locale.ROOT));
    }

    /** The value of a variable that stands at a place in its source. */
    public Optional<BoundExpression> parameterAt(Span place) {
        return parameters.stream()
                .filter(p -> p.span().start() == place.start() && p.span().end() == place.end())
                .findFirst();
    }

    public SqlText.Scope scope() {
        return source.scope();
    }

    /** The types that the database has to be told of; unknown where it sees the type itself. */
    public List<SqlType> parameterTypes() {
        return parameterTypes(pieces, parameters);
    }

    /** A value that is compared with something, or set as a column, takes that one's type. */
    static List<SqlType> parameterTypes(List<String> pieces, List<BoundExpression> parameters) {
        List<SqlType> types = new ArrayList<>();
        for (int i = 0; i < parameters.size(); i++) {
            SqlType type = parameters.get(i).type();
            boolean seen = isPlain(type) && endsCompared(pieces.get(i)) && ends(pieces.get(i + 1));
            types.add(seen ? SqlType.NULL : type);
        }
        return types;
    }

    /** Whether a piece ends in a name or a call that is compared with what follows. */
    private static boolean endsCompared(String piece) {
        int sign = lastVisible(piece, piece.length());
        if (sign < 0 || "=<>".indexOf(piece.charAt(sign)) < 0) {
            return false;
        }
        int name = lastVisible(piece, sign);
        if (name > 0 && (piece.charAt(name) == '"' || piece.charAt(name) == ')')) {
            name--;
        }
        return name >= 0 && isWordPart(piece.charAt(name));
    }

    /** The place of the last character before {@code end} that is no white space, or -1. */
    public static int lastVisible(String text, int end) {
        int at = end - 1;
        while (at >= 0 && Character.isWhitespace(text.charAt(at))) {
            at--;
        }
        return at;
    }

    private static boolean isWordPart(char c) {
        return c == '_' || c < 128 && Character.isLetterOrDigit(c);
    }

    private static boolean isPlain(SqlType type) {
        return type instanceof SqlType.Integral
                || type instanceof SqlType.Exact
                || type instanceof SqlType.Date
                || type instanceof SqlType.Text text && text.shape() == SqlType.Shape.VARYING;
    }

    /** Whether it is an UPDATE of a cursor's row that gives its identity afterwards. */
    public boolean givesIdentity() {
        return verb.equals("UPDATE")
                && source.positioned().isPresent()
                && (pieces.get(0).startsWith("SELECT ")
                        || pieces.get(pieces.size() - 1).endsWith(" RETURNING ctid"));
    }

    /** Whether it changes rows or tables; a query does so over the rows of a change. */
    public boolean changes() {
        return !query || changes(source.scope());
    }

    private static boolean changes(SqlText.Scope scope) {
        return scope.tables().stream().anyMatch(t -> t.role() != SqlText.Role.READ)
                || scope.children().stream().anyMatch(BoundSql::changes);
    }

    /** Whether it changes rows: not a query, and not a schema statement. */
    public boolean changesRows() {
        return switch (verb) {
            case "INSERT", "UPDATE", "DELETE", "MERGE", "REPLACE" -> true;
            default -> false;
        };
    }
}
