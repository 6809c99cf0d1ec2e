package dev.cantina.editing;

import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlWords;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/** Where tables and their columns are made in the scripts of a project. */
public final class TableSources {
    /** A table where it is made, or a column of one. */
    record Made(String table, Optional<String> column, Span span) {}

    private TableSources() {}

    /** All that a script makes. */
    static List<Made> of(Source source) {
        List<Made> made = new ArrayList<>();
        List<SqlWords.Word> words = SqlWords.of(source.written()).all();
        for (int i = 0; i + 2 < words.size(); i++) {
            if (!words.get(i).is("CREATE")) {
                continue;
            }
            int at = i + 1;
            while (at < words.size()
                    && (words.get(at).is("GLOBAL")
                            || words.get(at).is("LOCAL")
                            || words.get(at).is("TEMPORARY")
                            || words.get(at).is("OR")
                            || words.get(at).is("REPLACE"))) {
                at++;
            }
            if (at >= words.size() || !words.get(at).is("TABLE") && !words.get(at).is("VIEW")) {
                continue;
            }
            at++;
            while (at < words.size()
                    && (words.get(at).is("IF")
                            || words.get(at).is("NOT")
                            || words.get(at).is("EXISTS"))) {
                at++;
            }
            while (at + 2 < words.size() && words.get(at + 1).is(".")) {
                at += 2;
            }
            if (at < words.size() && words.get(at).kind() != SqlWords.Kind.SIGN) {
                table(source, words, at, made);
            }
        }
        return made;
    }

    private static void table(Source source, List<SqlWords.Word> words, int at, List<Made> made) {
        String table = key(words.get(at));
        made.add(new Made(table, Optional.empty(), span(source, words.get(at))));
        if (at + 1 >= words.size() || !words.get(at + 1).is("(")) {
            return;
        }
        int depth = words.get(at + 1).depth() + 1;
        boolean begins = true;
        for (int i = at + 2; i < words.size() && words.get(i).depth() >= depth; i++) {
            SqlWords.Word word = words.get(i);
            if (word.depth() == depth && word.is(",")) {
                begins = true;
            } else if (begins) {
                boolean constraint =
                        List.of("CONSTRAINT", "PRIMARY", "UNIQUE", "FOREIGN", "CHECK", "LIKE")
                                .stream()
                                .anyMatch(word::is);
                if (!constraint) {
                    made.add(new Made(table, Optional.of(key(word)), span(source, word)));
                }
                begins = false;
            }
        }
    }

    private static String key(SqlWords.Word word) {
        return word.kind() == SqlWords.Kind.NAME
                ? word.text()
                : word.text().toUpperCase(Locale.ROOT);
    }

    private static Span span(Source source, SqlWords.Word word) {
        return source.span(word.start(), word.end());
    }

    /** Where a table, or a column of it, is made. */
    static Optional<Span> find(List<Source> scripts, String table, Optional<String> column) {
        for (Source script : scripts) {
            for (Made made : of(script)) {
                if (made.table().equals(table) && made.column().equals(column)) {
                    return Optional.of(made.span());
                }
            }
        }
        return Optional.empty();
    }

    /** Where all tables and columns of some scripts are made. */
    public static Places places(List<Source> scripts) {
        Map<String, Span> all = new HashMap<>();
        for (Source script : scripts) {
            for (Made made : of(script)) {
                all.putIfAbsent(Places.key(made.table(), made.column()), made.span());
            }
        }
        return new Places(all);
    }

    /** Places by the keys of tables and columns. */
    public record Places(Map<String, Span> spans) {
        private static String key(String table, Optional<String> column) {
            return table + column.map(c -> "\n" + c).orElse("");
        }

        /** Where a table, or a column of it, is made. */
        public Optional<Span> of(String table, Optional<String> column) {
            return Optional.ofNullable(spans.get(key(table, column)));
        }
    }
}
