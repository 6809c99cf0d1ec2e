package dev.cantina.check;

import dev.cantina.syntax.Span;
import dev.cantina.types.SqlType;
import java.util.List;

/**
 * A cursor, at its slot among the cursors of the frame.
 *
 * @param columns the columns of its query; empty where they are not known
 */
public record CursorSymbol(
        int slot,
        String name,
        boolean scroll,
        boolean returned,
        BoundSql query,
        List<SqlType.Field> columns,
        Span span) {}
