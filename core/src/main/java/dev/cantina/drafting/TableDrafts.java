package dev.cantina.drafting;

import dev.cantina.catalog.Column;
import dev.cantina.catalog.Table;
import dev.cantina.database.ForeignKey;
import dev.cantina.syntax.Name;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;

/** Drafts the procedures that nearly every table gets. */
public final class TableDrafts {
    /** What a procedure does with a table. */
    public enum Kind {
        INSERT,
        UPDATE,
        DELETE,
        LIST
    }

    /** Nothing can be drafted; the message says why, and what to do. */
    public static final class CannotException extends Exception {
        private static final long serialVersionUID = 1L;

        CannotException(String message) {
            super(message);
        }
    }

    private static final String USER_STATE = "450%02d";

    private final Table table;
    private final String procedure;
    private final String tableName;
    private final List<ForeignKey> referring;
    private final List<String> notes = new ArrayList<>();
    private final List<String> conditions = new ArrayList<>();

    private TableDrafts(Table table, String procedure, List<ForeignKey> referring) {
        this.table = table;
        this.procedure = procedure;
        this.referring = referring;
        this.tableName = Name.written(table.name(), table.key());
    }

    /** What a procedure is called where nobody says it. */
    public static String name(Kind kind, Table table) {
        String base = table.name().replaceAll("[^\\p{L}\\p{N}_]", "_");
        return kind.name().toLowerCase(Locale.ROOT) + "_" + base.toLowerCase(Locale.ROOT);
    }

    /**
     * Drafts a procedure.
     *
     * @param name of the procedure
     * @param referring foreign keys of other tables to this one
     * @throws CannotException where the table does not allow it
     */
    public static Draft of(Kind kind, Table table, String name, List<ForeignKey> referring)
            throws CannotException {
        TableDrafts drafts = new TableDrafts(table, name, referring);
        if (table.view() && kind != Kind.LIST) {
            throw new CannotException(
                    table.name()
                            + " is a view: draft for the tables below it, or write a trigger INSTEAD OF");
        }
        String text =
                switch (kind) {
                    case INSERT -> drafts.insert();
                    case UPDATE -> drafts.update();
                    case DELETE -> drafts.delete();
                    case LIST -> drafts.list();
                };
        return new Draft(name, text, drafts.notes);
    }

    // ------------------------------------------------------------------ parts

    private static String written(Column column) {
        return Name.written(column.name(), column.key());
    }

    private String type(Column column) {
        return "LIKE " + tableName + "." + written(column);
    }

    /** A parameter said in full, where a column of its name would win. */
    private String own(Column column) {
        return Name.written(procedure, procedure.toUpperCase(Locale.ROOT)) + "." + written(column);
    }

    /** The columns by which one row is told from all others. */
    private List<Column> key(String purpose) throws CannotException {
        List<Integer> key = table.primaryKey();
        if (key.isEmpty()) {
            List<List<Integer>> sound =
                    table.uniqueKeys().stream()
                            .filter(
                                    k ->
                                            k.stream()
                                                    .noneMatch(
                                                            i -> table.columns().get(i).nullable()))
                            .toList();
            if (sound.isEmpty()) {
                throw new CannotException(
                        table.name()
                                + " has no key: which row is meant can't be known, so nothing is"
                                + " drafted to "
                                + purpose
                                + " one; give it a PRIMARY KEY");
            }
            key = sound.get(0);
            notes.add(
                    table.name()
                            + " has no primary key; its unique key ("
                            + names(key)
                            + ") says which row is meant");
        }
        otherKeys(key);
        return key.stream().map(i -> table.columns().get(i)).toList();
    }

    private void otherKeys(List<Integer> chosen) {
        List<String> others =
                table.uniqueKeys().stream()
                        .filter(k -> !k.equals(chosen))
                        .map(k -> "(" + names(k) + ")")
                        .distinct()
                        .toList();
        if (!others.isEmpty()) {
            notes.add(
                    table.name()
                            + " has more keys: "
                            + String.join(", ", others)
                            + "; whether one of them should say which row is meant can't be known");
        }
    }

    private String names(List<Integer> positions) {
        return positions.stream()
                .map(i -> table.columns().get(i).name())
                .collect(Collectors.joining(", "));
    }

    private record Given(String mode, Column column, String initial) {}

    /** The head of the procedure, with its parameters below each other. */
    private String head(String comment, List<Given> parameters, String access) {
        StringBuilder text = new StringBuilder();
        text.append(comment);
        text.append("CREATE PROCEDURE ")
                .append(Name.written(procedure, procedure.toUpperCase(Locale.ROOT)))
                .append(" (");
        int mode = parameters.stream().mapToInt(p -> p.mode.length()).max().orElse(0);
        int name = parameters.stream().mapToInt(p -> written(p.column).length()).max().orElse(0);
        String sign = "\n";
        for (Given one : parameters) {
            text.append(sign)
                    .append("  ")
                    .append(padded(one.mode, mode))
                    .append(' ')
                    .append(padded(written(one.column), name))
                    .append(' ')
                    .append(type(one.column))
                    .append(one.initial);
            sign = ",\n";
        }
        text.append(parameters.isEmpty() ? ")\n" : "\n)\n");
        return text.append(access).toString();
    }

    private static String padded(String text, int width) {
        return text + " ".repeat(Math.max(0, width - text.length()));
    }

    /** What must be given is asked for, each with a condition of its own. */
    private String tests(List<Column> required) {
        StringBuilder text = new StringBuilder();
        for (Column column : required) {
            String condition = condition(column.name() + "_missing");
            text.append("  IF ")
                    .append(written(column))
                    .append(" IS NULL THEN\n    SIGNAL ")
                    .append(condition)
                    .append(" SET MESSAGE_TEXT = ")
                    .append(quoted(table.name() + " needs a value for " + column.name()))
                    .append(";\n  END IF;\n");
        }
        return text.toString();
    }

    private String condition(String wanted) {
        String base = wanted.replaceAll("[^\\p{L}\\p{N}_]", "_");
        String name = base;
        for (int i = 2; conditions.contains(name); i++) {
            name = base + i;
        }
        conditions.add(name);
        return name;
    }

    private String declarations(String first) {
        int width = conditions.stream().mapToInt(String::length).max().orElse(0);
        StringBuilder text = new StringBuilder(first);
        for (int i = 0; i < conditions.size(); i++) {
            text.append("  DECLARE ")
                    .append(padded(conditions.get(i), width))
                    .append(" CONDITION FOR SQLSTATE '")
                    .append(String.format(Locale.ROOT, USER_STATE, (i + 1) % 100))
                    .append("';\n");
        }
        return text.isEmpty() ? "" : text + "\n";
    }

    private static String quoted(String text) {
        return "'" + text.replace("'", "''") + "'";
    }

    private static String listed(List<String> names) {
        int last = names.size() - 1;
        return last < 1
                ? String.join("", names)
                : String.join(", ", names.subList(0, last)) + " and " + names.get(last);
    }

    private static boolean isLarge(Column column) {
        SqlType type = column.type();
        return type instanceof SqlType.Array
                || type instanceof SqlType.Row
                || type instanceof SqlType.Json
                || type instanceof SqlType.Bytes
                || type instanceof SqlType.Text text && text.shape() == SqlType.Shape.LARGE;
    }

    private static String lines(List<String> items, String indent) {
        StringBuilder text = new StringBuilder();
        int width = indent.length();
        for (int i = 0; i < items.size(); i++) {
            String item = items.get(i) + (i + 1 < items.size() ? "," : "");
            if (i > 0 && width + item.length() > 88) {
                text.append("\n").append(indent);
                width = indent.length();
            } else if (i > 0) {
                text.append(' ');
                width++;
            }
            text.append(item);
            width += item.length();
        }
        return text.toString();
    }

    // ------------------------------------------------------------------ the procedures

    private String insert() {
        List<Column> kept = new ArrayList<>();
        List<Column> given = new ArrayList<>();
        for (Column column : table.columns()) {
            boolean itself =
                    column.generated() || column.identity() || column.initial().isPresent();
            (itself ? kept : given).add(column);
        }
        List<Column> handed =
                table.primaryKey().stream()
                        .map(i -> table.columns().get(i))
                        .filter(kept::contains)
                        .toList();
        if (table.primaryKey().isEmpty()) {
            notes.add(table.name() + " has no primary key, so no new key is handed out");
        }
        List<Given> parameters = new ArrayList<>();
        given.forEach(c -> parameters.add(new Given("IN", c, c.nullable() ? " DEFAULT NULL" : "")));
        handed.forEach(c -> parameters.add(new Given("OUT", c, "")));
        List<String> left =
                kept.stream().filter(c -> !handed.contains(c)).map(Column::name).toList();
        String comment =
                "-- Adds a row to "
                        + table.name()
                        + (handed.isEmpty()
                                ? "."
                                : " and hands out the new "
                                        + listed(handed.stream().map(Column::name).toList())
                                        + ".")
                        + (left.isEmpty() ? "" : "\n-- Left to the table: " + listed(left) + ".")
                        + "\n";
        String tests = tests(given.stream().filter(c -> !c.nullable()).toList());
        String columns = lines(given.stream().map(TableDrafts::written).toList(), " ".repeat(10));
        String values = lines(given.stream().map(TableDrafts::written).toList(), " ".repeat(10));
        String insert =
                given.isEmpty()
                        ? "INSERT INTO " + tableName + " DEFAULT VALUES"
                        : "INSERT INTO "
                                + tableName
                                + " ("
                                + columns
                                + ")\n  VALUES ("
                                + values
                                + ")";
        StringBuilder body = new StringBuilder();
        if (handed.isEmpty()) {
            body.append("  ").append(insert).append(";\n");
        } else {
            body.append("  SELECT ")
                    .append(
                            handed.stream()
                                    .map(c -> "added." + written(c))
                                    .collect(Collectors.joining(", ")))
                    .append(" INTO ")
                    .append(
                            handed.stream()
                                    .map(TableDrafts::written)
                                    .collect(Collectors.joining(", ")))
                    .append("\n    FROM FINAL TABLE (\n      ")
                    .append(insert.replace("\n", "\n    "))
                    .append("\n    ) AS added;\n");
        }
        return head(comment, parameters, "MODIFIES SQL DATA\nBEGIN\n")
                + declarations("")
                + tests
                + (tests.isEmpty() ? "" : "\n")
                + body
                + "END;\n";
    }

    private String update() throws CannotException {
        List<Column> key = key("change");
        List<Column> rest =
                table.columns().stream()
                        .filter(c -> !key.contains(c) && !c.generated() && !c.identity())
                        .toList();
        if (rest.isEmpty()) {
            throw new CannotException(
                    table.name() + " has no column beside its key: there is nothing to change");
        }
        List<Given> parameters = new ArrayList<>();
        key.forEach(c -> parameters.add(new Given("IN", c, "")));
        rest.forEach(c -> parameters.add(new Given("IN", c, "")));
        List<Column> required = new ArrayList<>(key);
        rest.stream().filter(c -> !c.nullable()).forEach(required::add);
        String comment =
                "-- Changes the row of "
                        + table.name()
                        + " with this "
                        + listed(key.stream().map(Column::name).toList())
                        + "; each other column becomes what is given.\n";
        String tests = tests(required);
        String set =
                rest.stream()
                        .map(c -> written(c) + " = " + own(c))
                        .collect(Collectors.joining(",\n         "));
        String body =
                "  UPDATE "
                        + tableName
                        + "\n     SET "
                        + set
                        + "\n   WHERE "
                        + isKey(key)
                        + ";\n"
                        + touched(key);
        return head(comment, parameters, "MODIFIES SQL DATA\nBEGIN\n")
                + declarations("  DECLARE " + counted() + " INTEGER;\n")
                + tests
                + "\n"
                + body
                + "END;\n";
    }

    private String delete() throws CannotException {
        List<Column> key = key("delete");
        List<Given> parameters = new ArrayList<>();
        key.forEach(c -> parameters.add(new Given("IN", c, "")));
        List<String> others =
                referring.stream().map(ForeignKey::table).distinct().sorted().toList();
        String comment =
                "-- Deletes the row of "
                        + table.name()
                        + " with this "
                        + listed(key.stream().map(Column::name).toList())
                        + ".\n";
        if (!others.isEmpty()) {
            notes.add(
                    "rows of "
                            + listed(others.stream().map(o -> o.toLowerCase(Locale.ROOT)).toList())
                            + " may refer to the row: the table's foreign keys say what becomes of"
                            + " them");
        }
        String tests = tests(key);
        String body =
                "  DELETE FROM " + tableName + "\n   WHERE " + isKey(key) + ";\n" + touched(key);
        return head(comment, parameters, "MODIFIES SQL DATA\nBEGIN\n")
                + declarations("  DECLARE " + counted() + " INTEGER;\n")
                + tests
                + "\n"
                + body
                + "END;\n";
    }

    /** A variable that no parameter is called like. */
    private String counted() {
        String name = "touched";
        while (table.column(name.toUpperCase(Locale.ROOT)).isPresent()) {
            name = name + "_rows";
        }
        return name;
    }

    private String isKey(List<Column> key) {
        return key.stream()
                .map(c -> tableName + "." + written(c) + " = " + own(c))
                .collect(Collectors.joining("\n     AND "));
    }

    /** The number of rows is looked at; nothing that was meant is lost in silence. */
    private String touched(List<Column> key) {
        String condition = condition("no_such_" + table.name().toLowerCase(Locale.ROOT));
        Function<Column, String> said =
                c ->
                        c.type() instanceof SqlType.Text
                                ? written(c)
                                : "CAST(" + written(c) + " AS VARCHAR(100))";
        boolean sayable = key.stream().noneMatch(TableDrafts::isLarge);
        String message =
                sayable
                        ? quoted("there is no " + table.name() + " ")
                                + " || "
                                + key.stream()
                                        .map(said)
                                        .collect(Collectors.joining("\n      || ', ' || "))
                        : quoted("there is no such " + table.name());
        return "  GET DIAGNOSTICS "
                + counted()
                + " = ROW_COUNT;\n  IF "
                + counted()
                + " = 0 THEN\n    SIGNAL "
                + condition
                + " SET MESSAGE_TEXT = "
                + message
                + ";\n  END IF;\n";
    }

    private String list() {
        List<Column> filters = table.columns().stream().filter(c -> !isLarge(c)).toList();
        List<Given> parameters =
                filters.stream().map(c -> new Given("IN", c, " DEFAULT NULL")).toList();
        List<String> order =
                (table.primaryKey().isEmpty() ? List.<Integer>of() : table.primaryKey())
                        .stream()
                                .map(i -> table.columns().get(i))
                                .map(c -> "r." + written(c))
                                .toList();
        if (order.isEmpty()) {
            notes.add(table.name() + " has no primary key, so its rows come in no order");
        }
        Optional<String> where =
                filters.stream()
                        .map(
                                c ->
                                        "("
                                                + own(c)
                                                + " IS NULL OR r."
                                                + written(c)
                                                + " = "
                                                + own(c)
                                                + ")")
                        .reduce((a, b) -> a + "\n   AND " + b);
        return head(
                        "-- The rows of "
                                + table.name()
                                + ", by whatever is asked; a filter that is NULL lets everything"
                                + " through.\n",
                        parameters,
                        "READS SQL DATA\nDYNAMIC RESULT SETS 1\n")
                + "SELECT "
                + lines(table.columns().stream().map(c -> "r." + written(c)).toList(), "       ")
                + "\n  FROM "
                + tableName
                + " AS r"
                + where.map(w -> "\n WHERE " + w).orElse("")
                + (order.isEmpty() ? "" : "\n ORDER BY " + String.join(", ", order))
                + ";\n";
    }
}
