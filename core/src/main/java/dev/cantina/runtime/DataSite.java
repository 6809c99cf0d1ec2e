package dev.cantina.runtime;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundSql;
import dev.cantina.catalog.Catalog;
import dev.cantina.facts.TextLimits;
import dev.cantina.syntax.SqlText;
import dev.cantina.types.SqlType;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * A place in compiled code that sends SQL.
 *
 * @param id counts the sites of a program from 0
 * @param changesRows whether the statement is a change of rows
 * @param changesInside whether it is a query over the rows of a change
 * @param command the statement's code in the diagnostics area
 * @param deletesAt the slot of the cursor whose row it deletes, or -1
 * @param movesAt the slot of the cursor whose row may have another identity afterwards, or -1
 * @param limits for each parameter the characters that its column holds; 0 for any
 * @param small for each parameter whether it is a whole number of at most 32 bits
 */
public record DataSite(
        int id,
        BoundSql sql,
        List<SqlType> parameterTypes,
        boolean changesRows,
        boolean changesInside,
        String command,
        int deletesAt,
        int movesAt,
        int[] limits,
        boolean[] small) {
    DataSite(int id, BoundSql sql, Catalog catalog) {
        this(
                id,
                sql,
                sql.parameterTypes(),
                sql.changesRows(),
                sql.query() && sql.changes(),
                command(sql),
                slot(sql, sql.verb().equals("DELETE")),
                slot(sql, sql.givesIdentity()),
                TextLimits.of(sql, catalog),
                small(sql.parameters()));
    }

    /** As ISO 9075-2, 23.1, has them for its COMMAND_FUNCTION. */
    private static String command(BoundSql sql) {
        return switch (sql.verb()) {
            case "UPDATE", "DELETE" ->
                    sql.verb() + (sql.source().positioned().isPresent() ? " CURSOR" : " WHERE");
            default -> sql.query() ? "SELECT" : sql.verb();
        };
    }

    private static int slot(BoundSql sql, boolean wanted) {
        return sql.parameters().stream()
                .filter(p -> wanted)
                .filter(BoundExpression.CursorRow.class::isInstance)
                .mapToInt(p -> ((BoundExpression.CursorRow) p).cursor().slot())
                .findFirst()
                .orElse(-1);
    }

    private static boolean[] small(List<BoundExpression> parameters) {
        boolean[] small = new boolean[parameters.size()];
        for (int i = 0; i < small.length; i++) {
            small[i] =
                    parameters.get(i).type() instanceof SqlType.Integral whole
                            && whole.size() != SqlType.Whole.BIGINT;
        }
        return small;
    }

    /** A text as its column takes it: without blanks that are too many. */
    Object stored(int parameter, String text) {
        int limit = limits[parameter];
        if (limit == 0 || text.length() <= limit) {
            return text;
        }
        int length = text.codePointCount(0, text.length());
        int end = length <= limit ? text.length() : text.offsetByCodePoints(0, limit);
        return text.substring(end).isBlank() ? text.substring(0, end) : text;
    }

    /** Whether a parameter is a whole number of at most 32 bits. */
    boolean isSmall(int parameter) {
        return small[parameter];
    }

    /** The columns that an UPDATE sets. */
    static Set<String> updated(SqlText.Scope scope) {
        return scope.names().stream()
                .filter(n -> n.use() == SqlText.Use.TARGET)
                .map(n -> n.names().get(n.names().size() - 1).key())
                .collect(Collectors.toSet());
    }
}
