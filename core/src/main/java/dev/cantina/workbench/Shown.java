package dev.cantina.workbench;

import dev.cantina.types.SqlType;
import java.util.List;
import java.util.Optional;

/**
 * Something that is shown of a run that stands: a name with its value, and what is in it.
 *
 * @param type a type's name; empty where there is none
 * @param text the value on one line
 * @param path the expression that names it in the frame; empty where none does
 * @param parts how many parts it has
 * @param isNumbered whether the parts are numbered, and may be many
 */
public record Shown(
        String name,
        String type,
        String text,
        Optional<String> path,
        int parts,
        boolean isNumbered,
        Parts inside) {
    /** What is in it, of which a part is asked for. */
    public interface Parts {
        /** Those from a number on, counted from 0. */
        List<Shown> some(int from, int count);
    }

    /** Something without parts. */
    static Shown leaf(String name, String type, String text) {
        return new Shown(name, type, text, Optional.empty(), 0, false, (from, count) -> List.of());
    }

    /** Something that is a list of others. */
    static Shown list(String name, String text, List<Shown> parts) {
        return new Shown(
                name,
                "",
                text,
                Optional.empty(),
                parts.size(),
                false,
                (from, count) -> parts.subList(from, Math.min(parts.size(), from + count)));
    }

    /**
     * A value with its parts.
     *
     * @param path the expression that names it; empty where none does
     */
    public static Shown value(String name, SqlType type, Object value, Optional<String> path) {
        boolean row = type instanceof SqlType.Row;
        return new Shown(
                name,
                ValueText.typeName(type),
                ValueText.brief(type, value),
                path,
                ValueText.size(value),
                !row,
                (from, count) ->
                        ValueText.parts(type, value, from, count).stream()
                                .map(
                                        p ->
                                                value(
                                                        p.name(),
                                                        p.type(),
                                                        p.value(),
                                                        path.map(
                                                                w ->
                                                                        w
                                                                                + (row ? "." : "")
                                                                                + p.name())))
                                .toList());
    }

    /** Rows: each with its columns. */
    public static Shown rows(String name, List<SqlType.Field> columns, List<Object[]> rows) {
        SqlType.Row type = new SqlType.Row(columns);
        return new Shown(
                name,
                "",
                rows.size() == 1 ? "1 row" : rows.size() + " rows",
                Optional.empty(),
                rows.size(),
                true,
                (from, count) ->
                        java.util.stream.IntStream.range(from, Math.min(rows.size(), from + count))
                                .mapToObj(
                                        i ->
                                                value(
                                                        "[" + (i + 1) + "]",
                                                        type,
                                                        rows.get(i),
                                                        Optional.empty()))
                                .toList());
    }
}
