package dev.cantina.database.mariadb;

import dev.cantina.types.Condition;
import java.sql.SQLException;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** What MariaDB's errors mean by the standard, told by their numbers. */
public final class MariaConditions {
    /** Where the server's own SQLSTATE is not the standard's. */
    private static final Map<Integer, String> STATES =
            Map.ofEntries(
                    Map.entry(1048, "23502"),
                    Map.entry(1364, "23502"),
                    Map.entry(1062, "23505"),
                    Map.entry(1586, "23505"),
                    Map.entry(1216, "23503"),
                    Map.entry(1217, "23503"),
                    Map.entry(1451, "23503"),
                    Map.entry(1452, "23503"),
                    Map.entry(4025, "23514"),
                    Map.entry(1172, "21000"),
                    Map.entry(1242, "21000"),
                    Map.entry(1264, "22003"),
                    Map.entry(1690, "22003"),
                    Map.entry(1916, "22003"),
                    Map.entry(1406, "22001"),
                    Map.entry(1366, "22018"),
                    Map.entry(1265, "22018"),
                    Map.entry(1367, "22018"),
                    Map.entry(1365, "22012"),
                    Map.entry(1292, "22007"),
                    Map.entry(1441, "22008"),
                    Map.entry(1243, "26000"),
                    Map.entry(1210, "07001"),
                    Map.entry(1064, "42601"),
                    Map.entry(1231, "22004"),
                    Map.entry(1422, "2D000"),
                    Map.entry(1146, "42S02"),
                    Map.entry(1205, "40001"),
                    Map.entry(1317, "57014"),
                    Map.entry(1969, "57014"));

    private static final Pattern KEY =
            Pattern.compile("for key '(?:[^']*\\.)?([^'.]+)'|CONSTRAINT `([^`]+)`");
    private static final Pattern TABLE = Pattern.compile("`[^`]+`\\.`([^`]+)`");
    private static final Pattern COLUMN =
            Pattern.compile("(?:[Cc]olumn|Field) '([^']+)'|FOREIGN KEY \\(`([^`]+)`\\)");

    private MariaConditions() {}

    /** By number the states that the server gives in the standard's place. */
    public static Map<Integer, String> states() {
        return STATES;
    }

    static Condition condition(SQLException error) {
        return condition(error, false);
    }

    /** The same by the server's own state. */
    static Condition own(SQLException error) {
        return condition(error, true);
    }

    private static Condition condition(SQLException error, boolean ownState) {
        String message = said(error);
        int code = error.getErrorCode();
        String own = error.getSQLState() == null ? "HY000" : error.getSQLState();
        boolean savepoint = code == 1305 && message.startsWith("SAVEPOINT");
        String state = savepoint ? "3B001" : STATES.getOrDefault(code, own);
        boolean moment = message.matches("(?is)Truncated incorrect (date|time).*");
        if (code == 1292 && message.startsWith("Truncated incorrect") && !moment) {
            state = "22018";
        }
        if (ownState) {
            state = own;
        }
        Map<String, String> items = new LinkedHashMap<>();
        if (code != 0 && code != 1644) {
            items.put("VENDOR_CODE", String.valueOf(code));
        }
        if (state.startsWith("23")) {
            put(items, "CONSTRAINT_NAME", KEY.matcher(message));
            put(items, "COLUMN_NAME", COLUMN.matcher(message));
            put(items, "TABLE_NAME", TABLE.matcher(message));
        }
        return new Condition(state, message, items);
    }

    private static void put(Map<String, String> items, String item, Matcher matcher) {
        if (matcher.find()) {
            String first = matcher.group(1);
            items.put(item, first != null || matcher.groupCount() < 2 ? first : matcher.group(2));
        }
    }

    /**
     * The server's message without what the driver adds: the connection's number, and the
     * statement.
     */
    public static String said(SQLException error) {
        String text = error.getMessage() == null ? "no message" : error.getMessage();
        text = text.replaceFirst("^\\(conn=\\d+\\) ", "");
        // Where a table or a function stands for this run alone means nothing to its author.
        text = text.replaceAll("`?\\bcantina_(?:scratch|agree)_\\w+`?\\.", "");
        int query = text.indexOf("\nQuery is: ");
        return query < 0 ? text : text.substring(0, query);
    }
}
