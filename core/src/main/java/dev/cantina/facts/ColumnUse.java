package dev.cantina.facts;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundSql;
import dev.cantina.binding.Variable;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Column;
import dev.cantina.catalog.Table;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A value that a statement stores into a column as it is, or finds its rows by.
 *
 * @param stored whether it is stored; otherwise it is compared with {@code =}
 */
public record ColumnUse(BoundExpression value, Table table, Column column, boolean stored) {
    private static final char MARK = '\u0001';
    private static final String NAME = "\"?([\\p{L}_][\\p{L}\\p{N}_$]*)\"?";
    private static final Pattern INSERT =
            Pattern.compile(
                    "(?is)\\s*INSERT\\s+INTO\\s+"
                            + NAME
                            + "\\s*(?:\\(([^()]*)\\))?\\s*VALUES\\s*\\((.*)\\)\\s*");
    private static final Pattern AFTER =
            Pattern.compile("(?i)\\s*(?:\\z|[,)]|(?:AND|WHERE|ORDER|FETCH)\\b)");

    /** The uses in a statement on one table that can be told from its text. */
    public static List<ColumnUse> of(BoundSql sql, Catalog catalog) {
        if (sql.tables().size() != 1) {
            return List.of();
        }
        Optional<Table> table = catalog.table(sql.tables().iterator().next());
        if (table.isEmpty()) {
            return List.of();
        }
        return sql.verb().equals("INSERT")
                ? inserted(sql, table.get())
                : compared(sql, table.get());
    }

    private static List<ColumnUse> inserted(BoundSql sql, Table table) {
        StringBuilder text = new StringBuilder(sql.pieces().get(0));
        for (int i = 0; i < sql.parameters().size(); i++) {
            text.append(MARK).append(i).append(MARK).append(sql.pieces().get(i + 1));
        }
        Matcher insert = INSERT.matcher(text);
        List<ColumnUse> uses = new ArrayList<>();
        if (!insert.matches()) {
            return uses;
        }
        List<String> values = split(insert.group(3));
        List<String> columns =
                insert.group(2) == null
                        ? table.columns().stream().map(Column::key).toList()
                        : split(insert.group(2));
        for (int i = 0; i < Math.min(columns.size(), values.size()); i++) {
            String value = values.get(i).strip();
            String name = columns.get(i).strip();
            Optional<Column> column =
                    name.startsWith("\"")
                            ? table.column(name.replace("\"", ""))
                            : table.column(name.toUpperCase(Locale.ROOT));
            if (column.isPresent() && isParameter(value)) {
                int number = Integer.parseInt(value.substring(1, value.length() - 1));
                uses.add(new ColumnUse(sql.parameters().get(number), table, column.get(), true));
            }
        }
        return uses;
    }

    /** At the commas outside brackets. */
    private static List<String> split(String list) {
        List<String> parts = new ArrayList<>();
        int depth = 0;
        int start = 0;
        boolean quoted = false;
        for (int i = 0; i < list.length(); i++) {
            char c = list.charAt(i);
            quoted ^= c == '\'';
            depth += quoted ? 0 : c == '(' ? 1 : c == ')' ? -1 : 0;
            if (c == ',' && depth == 0 && !quoted) {
                parts.add(list.substring(start, i));
                start = i + 1;
            }
        }
        parts.add(list.substring(start));
        return parts;
    }

    private static List<ColumnUse> compared(BoundSql sql, Table table) {
        List<ColumnUse> uses = new ArrayList<>();
        boolean set = sql.verb().equals("UPDATE");
        for (int i = 0; i < sql.parameters().size(); i++) {
            String before = sql.pieces().get(i);
            set &= !before.toUpperCase(Locale.ROOT).contains("WHERE");
            Optional<Column> column = comparedColumn(before, table);
            if (column.isPresent() && AFTER.matcher(sql.pieces().get(i + 1)).lookingAt()) {
                BoundExpression value = sql.parameters().get(i);
                uses.add(new ColumnUse(value, table, column.get(), set));
            }
        }
        return uses;
    }

    /** The column that a text ends in, where it ends in a name and {@code =}. */
    private static Optional<Column> comparedColumn(String before, Table table) {
        if (!before.endsWith("=") && !before.endsWith("= ")) {
            return Optional.empty();
        }
        int end = BoundSql.lastVisible(before, before.lastIndexOf('=')) + 1;
        if (end > 0 && before.charAt(end - 1) == '"') {
            end--;
        }
        int start = end;
        while (start > 0 && isNamePart(before.charAt(start - 1))) {
            start--;
        }
        return start == end
                ? Optional.empty()
                : table.column(before.substring(start, end).toUpperCase(Locale.ROOT));
    }

    private static boolean isNamePart(char c) {
        return Character.isLetterOrDigit(c) || c == '_' || c == '$';
    }

    /** Whether a text is one marked value and no more. */
    private static boolean isParameter(String value) {
        return value.length() > 2
                && value.charAt(0) == MARK
                && value.indexOf(MARK, 1) == value.length() - 1;
    }

    /** Whether the column alone says which row is meant. */
    public boolean isKey() {
        int position = table.position(column.key());
        return table.uniqueKeys().contains(List.of(position))
                || table.primaryKey().equals(List.of(position));
    }

    /** The variable that the value is read from, where it is one. */
    public Optional<Variable> variable() {
        BoundExpression read = value;
        while (read instanceof BoundExpression.Convert convert) {
            read = convert.operand();
        }
        return read instanceof BoundExpression.Read r
                ? Optional.of(r.variable())
                : Optional.empty();
    }
}
