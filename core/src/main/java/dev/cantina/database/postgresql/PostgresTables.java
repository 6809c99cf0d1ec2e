package dev.cantina.database.postgresql;

import dev.cantina.syntax.SqlWords;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.BiFunction;

/** Definitions of tables in the standard's words as PostgreSQL reads them. */
public final class PostgresTables {
    private static final Map<String, String> WORDS =
            Map.of(
                    "CLOB", "text",
                    "CHARACTER LARGE OBJECT", "text",
                    "BLOB", "bytea",
                    "BINARY LARGE OBJECT", "bytea",
                    "BINARY", "bytea",
                    "VARBINARY", "bytea",
                    "BINARY VARYING", "bytea",
                    "DECFLOAT", "numeric",
                    "TINYINT", "smallint",
                    "DOUBLE", "double precision");

    /** The same word by word, the longer ones before those that they begin with. */
    private static final List<List<String>> TYPES =
            WORDS.keySet().stream()
                    .map(name -> List.of(name.split(" ")))
                    .sorted(Comparator.comparing(name -> -name.size()))
                    .toList();

    private static final Set<String> MOMENTS =
            Set.of(
                    "CURRENT_DATE",
                    "CURRENT_TIMESTAMP",
                    "CURRENT_TIME",
                    "LOCALTIMESTAMP",
                    "LOCALTIME");

    private PostgresTables() {}

    /** The moment that {@link #CLOCK} holds, for what stands on a server while a run lasts. */
    public static String moment(String name) {
        String type =
                switch (name.toUpperCase(Locale.ROOT)) {
                    case "CURRENT_DATE" -> "date";
                    case "CURRENT_TIME", "LOCALTIME" -> "time";
                    default -> "timestamp";
                };
        return "CAST(CAST(current_setting('" + CLOCK + "') AS timestamp) AS " + type + ")";
    }

    /** A setting of the session: what the current time is. */
    public static final String CLOCK = "cantina.clock";

    /** The same in seconds since 1970, for routines in the server's own language. */
    public static final String MOMENT = "cantina.moment";

    /** The same with Cantina's clock in the place of the server's. */
    static String clocked(String definition) {
        return rewritten(translated(definition), PostgresTables::clock);
    }

    public static String translated(String definition) {
        return rewritten(definition, PostgresTables::type);
    }

    /** What is put in the place of the words up to one. */
    private record Put(int to, String text) {}

    private static String rewritten(
            String text, BiFunction<SqlWords, Integer, Optional<Put>> rule) {
        SqlWords words = SqlWords.of(text);
        StringBuilder made = new StringBuilder();
        int at = 0;
        int i = 0;
        while (i < words.all().size()) {
            Optional<Put> put = rule.apply(words, i);
            if (put.isPresent()) {
                made.append(text, at, words.all().get(i).start()).append(put.get().text());
                at = words.all().get(put.get().to() - 1).end();
            }
            i = put.map(Put::to).orElse(i + 1);
        }
        return made.append(text, at, text.length()).toString();
    }

    private static Optional<Put> type(SqlWords words, int at) {
        if (words.sees(at, "DOUBLE", "PRECISION")) {
            return Optional.empty();
        }
        for (List<String> type : TYPES) {
            if (words.sees(at, type.toArray(new String[0]))) {
                int end = behindNumber(words, at + type.size());
                return Optional.of(new Put(end, WORDS.get(String.join(" ", type))));
            }
        }
        return Optional.empty();
    }

    private static Optional<Put> clock(SqlWords words, int at) {
        SqlWords.Word word = words.all().get(at);
        boolean moment = word.kind() == SqlWords.Kind.WORD && MOMENTS.contains(word.text());
        return moment
                ? Optional.of(new Put(behindNumber(words, at + 1), moment(word.text())))
                : Optional.empty();
    }

    /** The word behind a number in brackets, where one stands at a place. */
    private static int behindNumber(SqlWords words, int at) {
        boolean number =
                words.sees(at, "(")
                        && words.sees(at + 2, ")")
                        && Character.isDigit(words.all().get(at + 1).text().charAt(0));
        return number ? at + 3 : at;
    }
}
