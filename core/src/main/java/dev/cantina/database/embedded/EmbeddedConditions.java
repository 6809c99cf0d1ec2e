package dev.cantina.database.embedded;

import dev.cantina.types.Condition;
import java.sql.SQLException;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * The embedded engine's errors in the standard's words (ISO 9075-2, 24.1). The engine's own number
 * is kept as {@code VENDOR_CODE}.
 */
final class EmbeddedConditions {
    private static final Map<Integer, String> STATES =
            Map.of(
                    50200, "40001",
                    23513, "23514",
                    23514, "23514",
                    23506, "23503",
                    23503, "23503",
                    22004, "22003",
                    90053, "21000",
                    90022, "42883",
                    42001, "42601",
                    57014, "57014");
    private static final Pattern NOT_NULL = Pattern.compile("column \"([^\"]+)\"");
    private static final Pattern UNIQUE =
            Pattern.compile(
                    "\"[^\"]*?\\.?([A-Za-z0-9_]+)(?: PRIMARY KEY| INDEX)? ON [A-Za-z0-9_]+\\."
                            + "([A-Za-z0-9_]+)\\(([^)]*)\\)(?: VALUES)? \\( /\\* (?:key:)?(\\S+) \\*/ (.*)\\)\"",
                    Pattern.DOTALL);
    private static final Pattern FOREIGN =
            Pattern.compile(
                    "\"([^:\"]+): [A-Za-z0-9_]+\\.([A-Za-z0-9_]+) FOREIGN KEY\\(([^)]*)\\)"
                            + " REFERENCES [A-Za-z0-9_]+\\.([A-Za-z0-9_]+)\\(([^)]*)\\) \\((.*)\\)\"");
    private static final Pattern CHECK = Pattern.compile("\"([^:\"]+): ");
    private static final Pattern TOO_LONG =
            Pattern.compile(
                    "column \"(?<column>(?:\"\"[^\"]*\"\"|\\S+)) (?<type>[^\"]+)\": \"(?<value>.*) \\(\\d+\\)\"",
                    Pattern.DOTALL);

    /** A CAST has no column, and its type stands in a column's place. */
    private static final Pattern CAST_TOO_LONG =
            Pattern.compile(
                    "column \"(?<type>(?:DECIMAL|NUMERIC|DECFLOAT)\\([^\"]*)\": \"(?<value>.*) \\(\\d+\\)\"",
                    Pattern.DOTALL);

    private static final Pattern ARGUMENT =
            Pattern.compile("\"(?<value>[^\"]*)\" for parameter \"LO?[NG]");
    private static final Pattern NO_NUMBER = Pattern.compile("\"(NaN|-?Infinity)\"");
    private static final Pattern NAME = Pattern.compile("\"([^\"]+)\" not found");

    /** The engine's number for what only its administrator may do. */
    private static final int NO_ADMINISTRATOR = 90040;

    private static final int WRONG_ARGUMENT = 90008;

    private final Map<String, String> spellings;
    private final Map<String, String> checks;

    /**
     * @param checks the conditions of check constraints, by name
     */
    EmbeddedConditions(Map<String, String> spellings, Map<String, String> checks) {
        this.spellings = spellings;
        this.checks = checks;
    }

    Condition condition(SQLException error) {
        int code = error.getErrorCode();
        String state =
                STATES.getOrDefault(
                        code, error.getSQLState() == null ? "HY000" : error.getSQLState());
        if (String.valueOf(error.getMessage()).contains("target record already")) {
            // MERGE has met a row a second time, which the engine calls a duplicate.
            return new Condition(
                    "21000", "MERGE meets a row of its table more than once", Map.of());
        }
        if (code == NO_ADMINISTRATOR) {
            return new Condition(
                    "42501",
                    "this reaches outside the project's tables, which nothing in a project may do",
                    Map.of("VENDOR_CODE", String.valueOf(code)));
        }
        Map<String, String> items = new LinkedHashMap<>();
        items.put("VENDOR_CODE", String.valueOf(code));
        String text = plain(error.getMessage());
        Optional<Condition> number = number(code, text, items);
        if (number.isPresent()) {
            return number.get();
        }
        if (state.startsWith("90") || state.startsWith("HY")) {
            state = "58000";
        }
        Matcher large = TOO_LONG.matcher(text);
        if (state.equals("22001") && large.find()) {
            return tooLong(large, items);
        }
        String message =
                switch (state) {
                    case "23502" -> notNull(text, items);
                    case "23505" -> unique(text, items);
                    case "23503" -> foreign(text, items);
                    case "23514" -> check(text, items);
                    case "22012" -> "division by zero";
                    case "21000" -> "the query gives more than one row";
                    case "42S02", "42S22" -> notFound(text, state, items);
                    case "57014" -> "the statement was interrupted";
                    default -> lowerFirst(text);
                };
        return new Condition(state, message, items);
    }

    /** Functions of numbers, and CAST to one, whose states the engine has not got. */
    private static Optional<Condition> number(int code, String text, Map<String, String> items) {
        Matcher argument = ARGUMENT.matcher(text);
        if (code == WRONG_ARGUMENT && argument.find()) {
            String says = "only a positive number has a logarithm, not " + argument.group("value");
            return Optional.of(new Condition("2201E", says, items));
        }
        Matcher none = NO_NUMBER.matcher(text);
        if (none.find()) {
            return Optional.of(notFinite(none.group(1), items));
        }
        Matcher large = CAST_TOO_LONG.matcher(text);
        return large.find()
                ? Optional.of(
                        new Condition(
                                "22003",
                                large.group("value")
                                        + " is out of range for type "
                                        + large.group("type"),
                                items))
                : Optional.empty();
    }

    /** What a root or a power of a negative number is to the engine, and what is beyond DOUBLE. */
    static Condition notFinite(String value, Map<String, String> items) {
        return value.equals("NaN")
                ? new Condition("2201F", "a root or a power of a negative number", items)
                : new Condition("22003", "a number is out of range for DOUBLE PRECISION", items);
    }

    /** To the engine a number of too many digits is too long as well. */
    private Condition tooLong(Matcher matcher, Map<String, String> items) {
        String column = spelled(matcher.group("column"));
        String type = matcher.group("type").replace("CHARACTER VARYING", "VARCHAR");
        boolean number = type.matches("(DECIMAL|NUMERIC|DECFLOAT).*");
        items.put("COLUMN_NAME", column);
        return new Condition(
                number ? "22003" : "22001",
                matcher.group("value")
                        + (number ? " is out of range for column " : " is too long for column ")
                        + column
                        + " of type "
                        + type,
                items);
    }

    /** The engine's message without the statement and the number that it adds. */
    private static String plain(String message) {
        String text = message == null ? "no message" : message;
        int statement = text.indexOf("; SQL statement:");
        if (statement >= 0) {
            text = text.substring(0, statement);
        }
        return text.replaceAll("\\s*\\[\\d+-\\d+]$", "").strip();
    }

    private static String lowerFirst(String text) {
        return text.isEmpty() ? text : Character.toLowerCase(text.charAt(0)) + text.substring(1);
    }

    private String spelled(String name) {
        String bare =
                name.strip().replaceAll(" (ASC|DESC|NULLS (FIRST|LAST))$", "").replace("\"", "");
        return spellings.getOrDefault(bare, bare);
    }

    private String notNull(String text, Map<String, String> items) {
        Matcher matcher = NOT_NULL.matcher(text);
        if (!matcher.find()) {
            return lowerFirst(text);
        }
        items.put("COLUMN_NAME", spelled(matcher.group(1)));
        return "column " + spelled(matcher.group(1)) + " can't be NULL";
    }

    private String columns(String list) {
        StringBuilder names = new StringBuilder();
        for (String name : list.split(",")) {
            names.append(names.length() == 0 ? "" : ", ").append(spelled(name.strip()));
        }
        return names.toString();
    }

    private String unique(String text, Map<String, String> items) {
        Matcher matcher = UNIQUE.matcher(text);
        if (!matcher.find()) {
            return lowerFirst(text);
        }
        items.put("CONSTRAINT_NAME", spelled(matcher.group(1)));
        items.put("TABLE_NAME", spelled(matcher.group(2)));
        String columns = columns(matcher.group(3));
        items.put("COLUMN_NAME", columns);
        return "a row of "
                + spelled(matcher.group(2))
                + " with this "
                + columns
                + " already exists";
    }

    private String foreign(String text, Map<String, String> items) {
        Matcher matcher = FOREIGN.matcher(text);
        if (!matcher.find()) {
            return lowerFirst(text);
        }
        items.put("CONSTRAINT_NAME", spelled(matcher.group(1)));
        items.put("TABLE_NAME", spelled(matcher.group(2)));
        String column = columns(matcher.group(3));
        items.put("COLUMN_NAME", column);
        String child = spelled(matcher.group(2)) + "." + column;
        String parent = spelled(matcher.group(4));
        // The engine says the same of both sides of the key.
        return child
                + " refers to "
                + parent
                + ", and the row "
                + matcher.group(6)
                + " is missing there, or still needed here";
    }

    private String check(String text, Map<String, String> items) {
        Matcher matcher = CHECK.matcher(text);
        if (!matcher.find()) {
            return lowerFirst(text);
        }
        String name = matcher.group(1);
        items.put("CONSTRAINT_NAME", spelled(name));
        String clause = checks.getOrDefault(name, "");
        return clause.isEmpty()
                ? "the check " + spelled(name) + " does not hold"
                : "the check " + spelled(name) + " does not hold: " + spelledClause(clause);
    }

    private String spelledClause(String clause) {
        Matcher matcher = Pattern.compile("\"([^\"]+)\"").matcher(clause);
        return matcher.replaceAll(m -> Matcher.quoteReplacement(spelled(m.group(1))));
    }

    private String notFound(String text, String state, Map<String, String> items) {
        Matcher matcher = NAME.matcher(text);
        if (!matcher.find()) {
            return lowerFirst(text);
        }
        boolean table = state.equals("42S02");
        String bare = matcher.group(1);
        String name = spelled(bare.substring(bare.lastIndexOf('.') + 1));
        items.put(table ? "TABLE_NAME" : "COLUMN_NAME", name);
        return (table ? "table " : "column ") + name + " not found";
    }
}
