package dev.cantina.check;

import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlText;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.regex.Pattern;

/**
 * An SQL statement with its variables taken out.
 *
 * @param pieces the text, cut at each variable
 * @param parameters the variables' values, one fewer than pieces
 * @param columns what it gives, where the database was asked
 * @param tables the keys of the tables in it
 * @param source the statement as its author wrote it
 */
public record BoundSql(
        Span span,
        String verb,
        boolean query,
        List<String> pieces,
        List<BoundExpression> parameters,
        List<SqlType.Field> columns,
        Set<String> tables,
        SqlText source) {
    private static final Pattern COMPARISON = Pattern.compile("(?s).*\\w[\")]?\\s*[=<>]\\s*");
    private static final Pattern END =
            Pattern.compile(
                    "(?si)\\s*(|[),;].*|(AND|OR|WHERE|GROUP|ORDER|FETCH|LIMIT|RETURNING)\\b.*)");

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
            boolean seen =
                    isPlain(type)
                            && endsCompared(pieces.get(i))
                            && COMPARISON.matcher(pieces.get(i)).matches()
                            && END.matcher(pieces.get(i + 1)).matches();
            types.add(seen ? SqlType.NULL : type);
        }
        return types;
    }

    /** A quick look before the slow one. */
    private static boolean endsCompared(String piece) {
        int last = piece.length() - 1;
        while (last > 0 && piece.charAt(last) == ' ') {
            last--;
        }
        return last > 0 && "=<>".indexOf(piece.charAt(last)) >= 0;
    }

    private static boolean isPlain(SqlType type) {
        return type instanceof SqlType.Integral
                || type instanceof SqlType.Exact
                || type instanceof SqlType.Date
                || type instanceof SqlType.Text text && text.shape() == SqlType.Shape.VARYING;
    }

    /** Whether it changes rows or tables. */
    public boolean changes() {
        return !query;
    }

    /** Whether it changes rows: not a query, and not a schema statement. */
    public boolean changesRows() {
        return switch (verb) {
            case "INSERT", "UPDATE", "DELETE", "MERGE", "REPLACE" -> true;
            default -> false;
        };
    }
}
