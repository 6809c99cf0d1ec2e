package dev.cantina.check;

import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlText;
import dev.cantina.types.SqlType;
import java.util.List;
import java.util.Set;

/**
 * An SQL statement with its variables taken out.
 *
 * @param pieces the text, cut at each variable
 * @param parameters the variables' values, one fewer than pieces
 * @param columns what it gives, where the database was asked
 * @param tables the keys of the tables in it
 */
public record BoundSql(
        Span span,
        String verb,
        boolean query,
        List<String> pieces,
        List<BoundExpression> parameters,
        List<SqlType.Field> columns,
        Set<String> tables,
        SqlText.Scope scope) {
    /** The types of the parameters. */
    public List<SqlType> parameterTypes() {
        return parameters.stream().map(BoundExpression::type).toList();
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
