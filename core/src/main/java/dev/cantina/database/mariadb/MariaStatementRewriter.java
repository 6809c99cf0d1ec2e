package dev.cantina.database.mariadb;

import dev.cantina.database.DeltaTable;
import dev.cantina.syntax.SqlWords;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Statements in the standard's words as MariaDB reads them: types, moments, and the few clauses
 * that it says otherwise. What stands in quotes and comments is left alone.
 */
public final class MariaStatementRewriter {
    private static final Map<String, String> TYPES =
            Map.ofEntries(
                    Map.entry("CLOB", "longtext"),
                    Map.entry("CHARACTER LARGE OBJECT", "longtext"),
                    Map.entry("BLOB", "longblob"),
                    Map.entry("BINARY LARGE OBJECT", "longblob"),
                    Map.entry("BINARY VARYING", "varbinary"),
                    Map.entry("CHARACTER VARYING", "varchar"),
                    Map.entry("DECFLOAT", "decimal(65, 30)"),
                    Map.entry("REAL", "float"),
                    Map.entry("DOUBLE PRECISION", "double"),
                    Map.entry("TIMESTAMP WITHOUT TIME ZONE", "datetime(6)"),
                    Map.entry("TIMESTAMP", "datetime(6)"));

    /** What CAST takes: it has fewer types than a column. */
    private static final Map<String, String> CASTS =
            Map.ofEntries(
                    Map.entry("BIGINT", "signed"),
                    Map.entry("SMALLINT", "signed"),
                    Map.entry("TINYINT", "signed"),
                    Map.entry("BOOLEAN", "signed"),
                    Map.entry("NUMERIC", "decimal"),
                    Map.entry("REAL", "double"),
                    Map.entry("CLOB", "char"),
                    Map.entry("CHARACTER LARGE OBJECT", "char"),
                    Map.entry("TEXT", "char"),
                    Map.entry("VARBINARY", "binary"),
                    Map.entry("BLOB", "binary"));

    private static final String QUIET =
            "'(?:[^']|'')*'|\"[^\"]*\"|`[^`]*`|--[^\\n]*|/\\*(?s:.*?)\\*/";

    private static final Pattern TOKEN =
            Pattern.compile(
                    "(?i)"
                            + QUIET
                            + "|\\bTIMESTAMP\\s*(?='|\")"
                            + "|\\bTIMESTAMP\\s*\\(\\s*(?<digits>\\d)\\s*\\)(?:\\s+WITHOUT\\s+TIME\\s+ZONE)?"
                            + "|\\bAS\\s+(?<cast>BIGINT|SMALLINT|TINYINT|BOOLEAN|NUMERIC|REAL|CLOB"
                            + "|CHARACTER\\s+LARGE\\s+OBJECT|TEXT|VARBINARY|BLOB)\\b(?=\\s*[(),])"
                            + "|\\bAS\\s+(?<open>DECIMAL|NUMERIC|VARCHAR)\\s*(?=\\))"
                            + "|\\b(?<type>CHARACTER\\s+LARGE\\s+OBJECT|BINARY\\s+LARGE\\s+OBJECT"
                            + "|BINARY\\s+VARYING|CHARACTER\\s+VARYING|CLOB|BLOB|DECFLOAT|REAL"
                            + "|DOUBLE\\s+PRECISION|TIMESTAMP\\s+WITHOUT\\s+TIME\\s+ZONE|TIMESTAMP)\\b"
                            + "(?!\\s*[.=])(?<bracket>\\s*\\(\\s*\\d+\\s*\\))?"
                            + "|\\bGENERATED\\s+(?:ALWAYS|BY\\s+DEFAULT)\\s+AS\\s+(?<identity>IDENTITY)\\b"
                            + "(?:\\s*\\([^)]*\\))?(?<key>\\s+(?:PRIMARY\\s+KEY|UNIQUE))?"
                            + "|\\b(?<moment>CURRENT_TIMESTAMP|LOCALTIMESTAMP|LOCALTIME|CURRENT_TIME)\\b"
                            + "(?:\\s*\\(\\s*(?<precision>\\d?)\\s*\\))?"
                            + "|\\b(?<schema>CURRENT_SCHEMA)\\b(?:\\s*\\(\\s*\\))?"
                            + "|\\bIS\\s+(?<same>NOT)\\s+DISTINCT\\s+FROM\\b"
                            + "|\\b(?<defaults>DEFAULT\\s+VALUES)\\b"
                            + "|\\bOVERRIDING\\s+(?<overriding>SYSTEM|USER)\\s+VALUE\\b");

    private MariaStatementRewriter() {}

    /** A statement; the rows of a change are returned by it where the server can. */
    public static String of(String statement) {
        Optional<DeltaTable> delta =
                DeltaTable.of(statement)
                        .filter(d -> d.isReturned() && !d.verb().equals("UPDATE"))
                        .filter(d -> d.isOrdered() && d.after().isEmpty());
        if (delta.isPresent()) {
            String list = delta.get().before().strip();
            return words(delta.get().change())
                    + " RETURNING "
                    + words(
                            unqualified(
                                    list.substring(6, list.length() - 4).strip(),
                                    delta.get().alias()));
        }
        return words(statement);
    }

    /** A select list without what its rows are called, which RETURNING can't name. */
    private static String unqualified(String list, String alias) {
        SqlWords words = SqlWords.of(list);
        StringBuilder plain = new StringBuilder();
        int at = 0;
        for (int i = 0; i < words.all().size() && !alias.isEmpty(); i++) {
            if (words.between(i, i + 1).equalsIgnoreCase(alias) && words.sees(i + 1, ".")) {
                plain.append(list, at, words.all().get(i).start());
                at = words.all().get(i + 1).end();
            }
        }
        return plain.append(list, at, list.length()).toString();
    }

    /** Functions of the server whose bracket must follow their name at once. */
    private static final Pattern LOOSE =
            Pattern.compile(
                    QUIET
                            + "|(?i)\\b(?<call>BIT_AND|BIT_OR|BIT_XOR|CAST|COUNT|EXTRACT|GROUP_CONCAT|MAX|MID|MIN"
                            + "|NOW|POSITION|STD|STDDEV|STDDEV_POP|STDDEV_SAMP|SUBSTR|SUBSTRING|SUM"
                            + "|SYSDATE|TRIM|VARIANCE|VAR_POP|VAR_SAMP|AVG)\\s+(?=\\()");

    /** A text in which no blank stands between such a function's name and its bracket. */
    public static String tight(String text) {
        Matcher loose = LOOSE.matcher(text);
        StringBuilder tight = new StringBuilder();
        while (loose.find()) {
            String call = loose.group("call");
            loose.appendReplacement(
                    tight, Matcher.quoteReplacement(call == null ? loose.group() : call));
        }
        return loose.appendTail(tight).toString();
    }

    /** A cursor's query without FOR READ ONLY, which every cursor there is. */
    private static String withoutReadOnly(String statement) {
        SqlWords words = SqlWords.of(statement);
        int at = words.find("FOR", "READ", "ONLY");
        return at <= 0
                ? statement
                : statement.substring(0, words.all().get(at - 1).end())
                        + statement.substring(words.all().get(at + 2).end());
    }

    /** {@code DELETE FROM t AS x …}: the server wants to hear first what the rows are called. */
    private static String aliasFirst(String statement) {
        SqlWords words = SqlWords.of(statement);
        if (!words.sees(0, "DELETE", "FROM")) {
            return statement;
        }
        int at = 3;
        while (words.sees(at, ".")) {
            at += 2;
        }
        at += words.sees(at, "AS") ? 1 : 0;
        boolean alias =
                at < words.all().size()
                        && words.all().get(at).isName()
                        && AFTER_DELETED.stream().noneMatch(words.all().get(at)::is);
        if (!alias) {
            return statement;
        }
        int behind = words.all().get(0).end();
        return statement.substring(0, behind)
                + " "
                + words.between(at, at + 1)
                + statement.substring(behind);
    }

    private static final List<String> AFTER_DELETED =
            List.of("WHERE", "RETURNING", "ORDER", "LIMIT", "USING", "PARTITION");

    /** A statement, its delta tables left as they are. */
    public static String words(String statement) {
        String given = MariaDerivedTables.named(aliasFirst(withoutReadOnly(statement)));
        String plain =
                tight(
                        MariaConcatenation.bracketed(
                                MariaCasts.narrowed(
                                        MariaSearched.replaced(MariaSearched.of(given)))));
        boolean data = isData(plain);
        List<MariaCasts.Cast> casts = data ? MariaCasts.of(plain) : List.of();
        Matcher token = TOKEN.matcher(plain);
        StringBuilder text = new StringBuilder();
        while (token.find()) {
            int at = token.start();
            boolean type = token.group("type") != null || token.group("digits") != null;
            // Elsewhere in a data statement it is a name.
            boolean name =
                    type && data && casts.stream().noneMatch(c -> c.as() < at && at < c.end());
            token.appendReplacement(
                    text, Matcher.quoteReplacement(name ? token.group() : put(token)));
        }
        return token.appendTail(text).toString();
    }

    private static boolean isData(String statement) {
        List<SqlWords.Word> words = SqlWords.of(statement).all();
        int first = 0;
        while (first < words.size() && words.get(first).is("(")) {
            first++;
        }
        return first < words.size() && DATA.contains(words.get(first).text());
    }

    private static final Set<String> DATA =
            Set.of("SELECT", "INSERT", "UPDATE", "DELETE", "WITH", "VALUES", "REPLACE");

    private static String put(Matcher token) {
        if (token.group("digits") != null) {
            return "datetime(" + token.group("digits") + ")";
        }
        if (token.group("cast") != null) {
            return "AS " + CASTS.get(plain(token.group("cast")));
        }
        if (token.group("open") != null) {
            return plain(token.group("open")).equals("VARCHAR") ? "AS char" : "AS decimal(65, 30)";
        }
        if (token.group("type") != null) {
            String type = TYPES.get(plain(token.group("type")));
            String bracket = token.group("bracket");
            boolean bounded = type.equals("varchar") || type.equals("varbinary");
            return bounded && bracket != null ? type + bracket.strip() : type;
        }
        if (token.group("identity") != null) {
            // The server numbers the columns of a key alone.
            String key = token.group("key");
            return "AUTO_INCREMENT" + (key == null ? " UNIQUE" : key);
        }
        if (token.group("moment") != null) {
            String precision = token.group("precision");
            return moment(token.group("moment"), precision == null ? "" : precision);
        }
        if (token.group("schema") != null) {
            return "DATABASE()";
        }
        if (token.group("same") != null) {
            return "<=>";
        }
        if (token.group("overriding") != null) {
            return "";
        }
        return token.group("defaults") != null ? "() VALUES ()" : token.group();
    }

    private static String plain(String words) {
        return words.toUpperCase(Locale.ROOT).replaceAll("\\s+", " ");
    }

    /**
     * A moment by its standard name.
     *
     * @param precision as written, or empty
     */
    public static String moment(String name, String precision) {
        return switch (plain(name)) {
            case "CURRENT_TIMESTAMP", "LOCALTIMESTAMP" ->
                    "CURRENT_TIMESTAMP(" + (precision.isEmpty() ? "6" : precision) + ")";
            case "CURRENT_TIME", "LOCALTIME" ->
                    "CURRENT_TIME" + (precision.isEmpty() ? "" : "(" + precision + ")");
            default -> name;
        };
    }
}
