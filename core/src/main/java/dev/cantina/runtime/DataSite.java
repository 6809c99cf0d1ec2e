package dev.cantina.runtime;

import dev.cantina.check.BoundSql;
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
 */
public record DataSite(int id, BoundSql sql, List<SqlType> parameterTypes, boolean changesRows) {
    DataSite(int id, BoundSql sql) {
        this(id, sql, sql.parameterTypes(), sql.changesRows());
    }

    /** The columns that it sets. */
    Set<String> updated() {
        return sql.scope().names().stream()
                .filter(n -> n.use() == SqlText.Use.TARGET)
                .map(n -> n.names().get(n.names().size() - 1).key())
                .collect(Collectors.toSet());
    }
}
