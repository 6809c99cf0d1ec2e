package dev.cantina.importing;

import java.util.List;

/**
 * A table of a live server, as far as its rows are concerned.
 *
 * @param name as a fixture calls it: with its schema where that is not the first
 * @param sql as a statement says it
 * @param key the positions of its primary key's columns; empty where it has none
 * @param unique the positions of the columns of each key, the primary key's too
 * @param readable whether its rows may be read
 */
public record LiveTable(
        String name,
        String sql,
        List<Column> columns,
        List<Integer> key,
        List<List<Integer>> unique,
        List<Reference> references,
        boolean readable) {
    /**
     * A column.
     *
     * @param sql as a statement says it
     * @param type the server's name for it, as {@code character varying(20)}
     * @param generated whether its value follows from others, so that none can be given
     */
    public record Column(
            String name, String sql, String type, Kind kind, boolean nullable, boolean generated) {}

    /** What sort of values a column has, as far as others can be made up for them. */
    public enum Kind {
        TEXT,
        WHOLE,
        DECIMAL,
        DATE,
        MOMENT,
        TIME,
        UUID,
        BYTES,
        TRUTH,
        OTHER
    }

    /**
     * A foreign key.
     *
     * @param columns the positions of its columns here
     * @param parent the name of the table that it refers to
     * @param parents the names of the columns there, in the same order
     */
    public record Reference(
            String name, List<Integer> columns, String parent, List<String> parents) {}

    /** The position of a column; -1 where there is none. */
    public int position(String column) {
        for (int i = 0; i < columns.size(); i++) {
            if (columns.get(i).name().equals(column)) {
                return i;
            }
        }
        return -1;
    }
}
