package dev.cantina.catalog;

import dev.cantina.types.SqlType;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * A table.
 *
 * @param name as its author wrote it
 * @param key as it is looked up
 * @param primaryKey the positions in {@code columns}, from 0; empty where it has none
 * @param uniqueKeys the positions of each unique constraint's columns, the primary key's included
 * @param view whether it is a view
 * @param refersToItself whether a foreign key of it refers to rows of its own
 */
public record Table(
        String name,
        String key,
        List<Column> columns,
        List<Integer> primaryKey,
        List<List<Integer>> uniqueKeys,
        boolean view,
        boolean refersToItself) {
    /** The position of a column, from 0; -1 where there is none. */
    public int position(String columnKey) {
        for (int i = 0; i < columns.size(); i++) {
            if (columns.get(i).key().equals(columnKey)) {
                return i;
            }
        }
        return -1;
    }

    /** The position of a column by its name as a person writes it; -1 where there is none. */
    public int positionCalled(String name) {
        int ordinary = position(name.toUpperCase(Locale.ROOT));
        if (ordinary >= 0) {
            return ordinary;
        }
        int exact = position(name);
        for (int i = 0; exact < 0 && i < columns.size(); i++) {
            exact = columns.get(i).name().equalsIgnoreCase(name) ? i : exact;
        }
        return exact;
    }

    public Optional<Column> column(String columnKey) {
        int position = position(columnKey);
        return position < 0 ? Optional.empty() : Optional.of(columns.get(position));
    }

    /** The type of a whole row. */
    public SqlType.Row rowType() {
        return new SqlType.Row(
                columns.stream().map(c -> new SqlType.Field(c.name(), c.type())).toList());
    }
}
