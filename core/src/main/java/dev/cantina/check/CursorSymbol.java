package dev.cantina.check;

import dev.cantina.syntax.Span;
import dev.cantina.types.SqlType;
import java.util.List;
import java.util.Optional;

/**
 * A cursor, at its slot among the cursors of the frame.
 *
 * @param query what it runs over; empty where that is a prepared statement
 * @param statement the name of the prepared statement
 * @param columns the columns of its query; empty where they are not known
 */
public record CursorSymbol(
        int slot,
        String name,
        boolean scroll,
        boolean returned,
        Optional<BoundSql> query,
        Optional<String> statement,
        List<SqlType.Field> columns,
        Span span) {}
