package dev.cantina.database.mariadb;

import dev.cantina.syntax.SqlWords;
import dev.cantina.syntax.SqlWords.Word;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/**
 * {@code (query) AS x (a, b)} (ISO 9075-2, 7.6, derived column list): on MariaDB only a common
 * table expression can name the columns of a query.
 */
final class MariaDerivedTables {
    private final String text;
    private final SqlWords words;
    private final List<Word> all;
    private final TreeMap<Integer, String> put = new TreeMap<>();
    private final TreeMap<Integer, Integer> cut = new TreeMap<>();

    private MariaDerivedTables(String text) {
        this.text = text;
        words = SqlWords.of(text);
        all = words.all();
    }

    /** A statement whose derived tables have the columns that their queries give them. */
    static String named(String text) {
        return text.contains(")") ? new MariaDerivedTables(text).named() : text;
    }

    private String named() {
        for (int open = 1; open < all.size(); open++) {
            if (all.get(open).is("(") && isQuery(open + 1) && isTable(open - 1)) {
                named(open, words.closing(open));
            }
        }
        if (put.isEmpty()) {
            return text;
        }
        StringBuilder made = new StringBuilder();
        int at = 0;
        for (Map.Entry<Integer, String> one : put.entrySet()) {
            int place = one.getKey();
            made.append(text, at, place).append(one.getValue());
            at = cut.getOrDefault(place, place);
        }
        return made.append(text, at, text.length()).toString();
    }

    private void named(int open, int close) {
        int alias = close + 1;
        boolean as = words.sees(alias, "AS");
        alias += as ? 1 : 0;
        int list = alias + 1;
        if (list >= all.size() || !isAlias(alias, as) || !all.get(list).is("(")) {
            return;
        }
        int end = words.closing(list);
        if (end >= all.size() || !isNames(list + 1, end)) {
            return;
        }
        String name = words.between(alias, alias + 1);
        put.put(
                all.get(open).start(),
                "(WITH " + name + " " + words.between(list, end + 1) + " AS ");
        int behind = all.get(close).end();
        put.put(behind, " SELECT * FROM " + name + ") AS " + name);
        cut.put(behind, all.get(end).end());
    }

    private boolean isAlias(int at, boolean as) {
        Word word = all.get(at);
        return word.kind() == SqlWords.Kind.NAME
                || word.kind() == SqlWords.Kind.WORD && (as || word.isName());
    }

    private boolean isNames(int from, int end) {
        for (int i = from; i < end; i++) {
            SqlWords.Kind kind = all.get(i).kind();
            boolean name = kind == SqlWords.Kind.NAME || kind == SqlWords.Kind.WORD;
            if (i % 2 == from % 2 ? !name : !all.get(i).is(",")) {
                return false;
            }
        }
        return end > from;
    }

    private boolean isQuery(int at) {
        return words.sees(at, "SELECT")
                || words.sees(at, "WITH")
                || words.sees(at, "VALUES")
                || words.sees(at, "(");
    }

    /** Whether a table may stand behind a word. */
    private boolean isTable(int at) {
        return List.of("FROM", "JOIN", ",", "LATERAL", "(", "USING").stream()
                .anyMatch(word -> words.sees(at, word));
    }
}
