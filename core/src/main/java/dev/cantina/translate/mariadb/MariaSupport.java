package dev.cantina.translate.mariadb;

import dev.cantina.database.ServerPart;
import dev.cantina.database.mariadb.MariaConditions;
import dev.cantina.translate.ServerObject;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;

/** The few functions that translated routines call for what MariaDB has no words for. */
final class MariaSupport {
    /** By what is divided: for exact numbers, whole ones and approximate ones. */
    private static String divisor(String name, String type) {
        return """
            CREATE OR REPLACE FUNCTION %s (value %s) RETURNS %s
            NO SQL DETERMINISTIC
            BEGIN
              -- What something is divided by; 22012 where it is nothing.
              IF value = 0 THEN
                SIGNAL SQLSTATE '22012' SET MESSAGE_TEXT = 'division by zero';
              END IF;
              RETURN value;
            END"""
                .formatted(name, type, type);
    }

    private static final String NUMBER =
            """
            CREATE OR REPLACE FUNCTION cantina_within (value double, least double, state char(5), what varchar(60))
            RETURNS double
            NO SQL DETERMINISTIC
            BEGIN
              -- An argument that must not be too small: a state of its own where it is.
              IF value < least OR state = '2201E' AND value = least THEN
                CASE state
                  WHEN '2201E' THEN SIGNAL SQLSTATE '2201E' SET MESSAGE_TEXT = what;
                  ELSE SIGNAL SQLSTATE '2201F' SET MESSAGE_TEXT = what;
                END CASE;
              END IF;
              RETURN value;
            END""";
    private static final String SUBSTRING =
            """
            CREATE OR REPLACE FUNCTION cantina_substring (value longtext, start bigint, length bigint)
            RETURNS longtext
            NO SQL DETERMINISTIC
            BEGIN
              -- A part of a text; it may begin before the first character. 22011 for a negative length.
              IF value IS NULL OR start IS NULL OR length IS NULL THEN
                RETURN NULL;
              END IF;
              IF length < 0 THEN
                SIGNAL SQLSTATE '22011' SET MESSAGE_TEXT = 'the length of a substring is negative';
              END IF;
              IF start < 1 THEN
                SET length = start + length - 1;
                SET start = 1;
              END IF;
              RETURN IF(length < 1, '', SUBSTRING(value, start, length));
            END""";
    private static final String POWER =
            """
            CREATE OR REPLACE FUNCTION cantina_power (base double, exponent double)
            RETURNS double
            NO SQL DETERMINISTIC
            BEGIN
              -- A power; 2201F for zero to a negative one and for a root of a negative number.
              IF base = 0 AND exponent < 0 OR base < 0 AND exponent <> ROUND(exponent) THEN
                SIGNAL SQLSTATE '2201F' SET MESSAGE_TEXT = 'there is no such power of this number';
              END IF;
              RETURN POWER(base, exponent);
            END""";
    private static final String PADDED =
            """
            CREATE OR REPLACE FUNCTION cantina_padded (value longtext, length bigint, fill longtext, before_it boolean)
            RETURNS longtext
            NO SQL DETERMINISTIC
            BEGIN
              -- A text cut or filled up to a length; what there is nothing to fill with stays short.
              IF value IS NULL OR length IS NULL OR fill IS NULL THEN
                RETURN NULL;
              END IF;
              IF length < 1 THEN
                RETURN '';
              END IF;
              IF CHAR_LENGTH(fill) = 0 THEN
                RETURN LEFT(value, length);
              END IF;
              RETURN IF(before_it, LPAD(value, length, fill), RPAD(value, length, fill));
            END""";
    private static final String PATTERN =
            """
            CREATE OR REPLACE FUNCTION cantina_pattern (pattern longtext, escape_char longtext)
            RETURNS longtext
            NO SQL DETERMINISTIC
            BEGIN
              -- A pattern of LIKE whose escape character stands before what can be escaped, or 22025.
              DECLARE place bigint DEFAULT 1;
              IF CHAR_LENGTH(escape_char) <> 1 THEN
                SIGNAL SQLSTATE '22019' SET MESSAGE_TEXT = 'ESCAPE wants one character';
              END IF;
              WHILE place <= CHAR_LENGTH(pattern) DO
                IF SUBSTRING(pattern, place, 1) = escape_char THEN
                  SET place = place + 1;
                  IF SUBSTRING(pattern, place, 1) NOT IN ('%', '_', escape_char) THEN
                    SIGNAL SQLSTATE '22025' SET MESSAGE_TEXT = 'the escape character stands before what needs none';
                  END IF;
                END IF;
                SET place = place + 1;
              END WHILE;
              RETURN pattern;
            END""";
    private static final String TRIMMED =
            """
            CREATE OR REPLACE FUNCTION cantina_trimmed (what longtext)
            RETURNS longtext
            NO SQL DETERMINISTIC
            BEGIN
              -- What TRIM takes away: one character, 22027 otherwise.
              IF CHAR_LENGTH(what) <> 1 THEN
                SIGNAL SQLSTATE '22027' SET MESSAGE_TEXT = 'TRIM takes one character';
              END IF;
              RETURN what;
            END""";
    private static final String MAY_BEGIN =
            """
            CREATE OR REPLACE PROCEDURE cantina_may_begin ()
            NO SQL
            BEGIN
              -- START TRANSACTION where one runs already: nothing to do, unless changes stand in it.
              IF @cantina_clean = FALSE THEN
                SIGNAL SQLSTATE '25001' SET MESSAGE_TEXT = 'START TRANSACTION where uncommitted changes stand';
              END IF;
            END""";

    private static final Map<String, String> NAMED =
            Map.ofEntries(
                    Map.entry("cantina_divisor", divisor("cantina_divisor", "DECIMAL(65, 30)")),
                    Map.entry("cantina_whole_divisor", divisor("cantina_whole_divisor", "BIGINT")),
                    Map.entry(
                            "cantina_double_divisor", divisor("cantina_double_divisor", "DOUBLE")),
                    Map.entry("cantina_within", NUMBER),
                    Map.entry("cantina_power", POWER),
                    Map.entry("cantina_substring", SUBSTRING),
                    Map.entry("cantina_padded", PADDED),
                    Map.entry("cantina_pattern", PATTERN),
                    Map.entry("cantina_trimmed", TRIMMED),
                    Map.entry("cantina_may_begin", MAY_BEGIN),
                    Map.entry("cantina_state", state()));

    private MariaSupport() {}

    /** The server's state of an error as the standard's. */
    private static String state() {
        StringBuilder matches = new StringBuilder();
        new TreeMap<>(MariaConditions.states())
                .forEach(
                        (number, state) ->
                                matches.append("    WHEN ")
                                        .append(number)
                                        .append(" THEN '")
                                        .append(state)
                                        .append("'\n"));
        return """
            CREATE OR REPLACE FUNCTION cantina_state (state char(5), number integer, message longtext)
            RETURNS char(5)
            NO SQL DETERMINISTIC
            -- The standard's SQLSTATE for an error that the server gives another.
            RETURN CASE number
                WHEN 1305 THEN IF(message LIKE 'SAVEPOINT%', '3B001', state)
            """
                + matches
                + "    ELSE state\n  END";
    }

    /** What the function is called that casts to a type. */
    static String castTo(SqlType type, String maria) {
        if (type instanceof SqlType.Bool) {
            return "cantina_to_boolean";
        }
        return "cantina_to_"
                + maria.replaceAll(" COLLATE.*", "")
                        .toLowerCase(Locale.ROOT)
                        .replaceAll("[^a-z0-9]+", "_")
                        .replaceAll("_$", "");
    }

    private static String cast(String name, String maria) {
        String head =
                "CREATE OR REPLACE FUNCTION "
                        + name
                        + " (value longtext) RETURNS "
                        + maria
                        + "\nNO SQL DETERMINISTIC\n-- CAST with the standard's conditions: what does"
                        + " not fit is an error.\n";
        if (maria.startsWith("DATE") || maria.startsWith("TIME")) {
            return head + moment(maria);
        }
        if (maria.startsWith("VARCHAR") || maria.startsWith("CHAR")) {
            return head + "RETURN value";
        }
        if (maria.contains("BINARY") || maria.contains("BLOB")) {
            return head.replace("(value longtext)", "(value longblob)")
                    + "BEGIN\n  DECLARE octets "
                    + maria
                    + ";\n  SET octets = value;\n  RETURN octets;\nEND";
        }
        if (maria.equals("UUID")) {
            return head + UUID;
        }
        return head
                + (name.equals("cantina_to_boolean") ? TRUTH : NUMERAL)
                        .formatted(maria.equals("DOUBLE") ? "DOUBLE" : "DECIMAL(65, 30)");
    }

    /** What the server would cut at the first wrong character is looked at first. */
    private static final String NUMERAL =
            """
            BEGIN
              IF TRIM(value) NOT REGEXP '^[-+]?([0-9]+[.]?[0-9]*|[.][0-9]+)([eE][-+]?[0-9]+)?$' THEN
                SIGNAL SQLSTATE '22018' SET MESSAGE_TEXT = 'this text is no number';
              END IF;
              RETURN CAST(TRIM(value) AS %s);
            END""";

    private static final String UUID =
            """
            BEGIN
              IF TRIM(value) NOT REGEXP '^[0-9a-fA-F]{8}(-[0-9a-fA-F]{4}){3}-[0-9a-fA-F]{12}$' THEN
                SIGNAL SQLSTATE '22018' SET MESSAGE_TEXT = 'this text is no UUID';
              END IF;
              RETURN CAST(TRIM(value) AS UUID);
            END""";

    private static final String TRUTH =
            """
            BEGIN
              CASE UPPER(TRIM(value))
                WHEN 'TRUE' THEN RETURN TRUE;
                WHEN 'FALSE' THEN RETURN FALSE;
                WHEN '1' THEN RETURN TRUE;
                WHEN '0' THEN RETURN FALSE;
                WHEN 'UNKNOWN' THEN RETURN NULL;
                ELSE
                  IF value IS NULL THEN
                    RETURN NULL;
                  END IF;
                  SIGNAL SQLSTATE '22018' SET MESSAGE_TEXT = 'this text is neither TRUE nor FALSE';
              END CASE;
            END""";

    private static String moment(String maria) {
        String date = "[0-9]{4}-[0-9]{1,2}-[0-9]{1,2}";
        String time = "[0-9]{1,2}:[0-9]{2}(:[0-9]{2}([.][0-9]+)?)?";
        String shape =
                maria.equals("DATE")
                        ? date
                        : maria.startsWith("TIME") ? time : date + "( " + time + ")?";
        return """
            BEGIN
              DECLARE moment %s;
              DECLARE EXIT HANDLER FOR 1292
                SIGNAL SQLSTATE '22008' SET MESSAGE_TEXT = 'there is no such %s';
              IF TRIM(value) NOT REGEXP '^%s$' THEN
                SIGNAL SQLSTATE '22007' SET MESSAGE_TEXT = 'this text is no %s';
              END IF;
              SET moment = TRIM(value);
              RETURN moment;
            END"""
                .formatted(maria, plain(maria), shape, plain(maria));
    }

    private static String plain(String type) {
        return type.replaceAll("\\(.*", "").toLowerCase(Locale.ROOT);
    }

    /**
     * Those that some texts call.
     *
     * @param casts the server's types by the names of the functions that cast to them
     */
    static List<ServerObject> used(String texts, Map<String, String> casts) {
        List<ServerObject> used = new ArrayList<>();
        Map<String, String> all = new TreeMap<>(NAMED);
        casts.forEach((name, type) -> all.put(name, cast(name, type)));
        all.forEach(
                (name, create) -> {
                    if (texts.contains(name + "(")) {
                        used.add(object(name, create));
                    }
                });
        return used;
    }

    private static ServerObject object(String name, String create) {
        String kind = create.startsWith("CREATE OR REPLACE PROCEDURE") ? "procedure" : "function";
        return new ServerObject(
                "helper",
                name,
                "",
                List.of(
                        new ServerPart(
                                kind + " " + name,
                                create,
                                "DROP " + kind.toUpperCase(Locale.ROOT) + " IF EXISTS " + name)));
    }
}
