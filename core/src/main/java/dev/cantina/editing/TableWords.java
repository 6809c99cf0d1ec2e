package dev.cantina.editing;

import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlWords;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Where a script that makes tables names a table or a column of one, beside where that is made.
 * What it says elsewhere than in the definitions of tables and indexes is not looked into here.
 */
final class TableWords {
    /**
     * What a script names.
     *
     * @param uses the places
     * @param unread the statements that name something of the name, and may mean it
     */
    record Found(List<Span> uses, List<Span> unread) {}

    private static final Set<String> CONSTRAINTS =
            Set.of("CONSTRAINT", "PRIMARY", "UNIQUE", "FOREIGN", "CHECK", "LIKE");

    private final Source script;
    private final String table;
    private final Optional<String> column;
    private final Map<String, List<String>> columns = new HashMap<>();
    private final List<Span> uses = new ArrayList<>();
    private final List<Span> unread = new ArrayList<>();

    private TableWords(Source script, String table, Optional<String> column, List<Source> scripts) {
        this.script = script;
        this.table = table;
        this.column = column;
        for (Source one : scripts) {
            for (TableSources.Made made : TableSources.of(one)) {
                List<String> all = columns.computeIfAbsent(made.table(), t -> new ArrayList<>());
                made.column().ifPresent(all::add);
            }
        }
    }

    /**
     * Those of one script.
     *
     * @param table its key
     * @param column the key of a column of it
     * @param scripts all scripts that make tables
     */
    static Found of(Source script, String table, Optional<String> column, List<Source> scripts) {
        TableWords words = new TableWords(script, table, column, scripts);
        for (Span statement : Parser.statements(script)) {
            words.statement(statement);
        }
        return new Found(words.uses, words.unread);
    }

    private String wanted() {
        return column.orElse(table);
    }

    private void statement(Span statement) {
        SqlWords words = SqlWords.of(statement.text());
        boolean named = words.all().stream().anyMatch(w -> isWanted(w));
        if (!named) {
            return;
        }
        int at = 0;
        boolean makes = words.sees(0, "CREATE");
        boolean alters = words.sees(0, "ALTER", "TABLE");
        while (makes && at < words.all().size() && !words.sees(at, "TABLE") && at < 4) {
            if (words.sees(at, "INDEX")) {
                index(statement, words, at);
                return;
            }
            at++;
        }
        if (alters) {
            at = 1;
        }
        if (!alters && !(makes && words.sees(at, "TABLE"))) {
            unread.add(statement);
            return;
        }
        at++;
        while (words.sees(at, "IF") || words.sees(at, "NOT") || words.sees(at, "EXISTS")) {
            at++;
        }
        if (words.sees(at + 1, ".") || at >= words.all().size()) {
            unread.add(statement);
            return;
        }
        definition(statement, words, at, makes);
    }

    private boolean isWanted(SqlWords.Word word) {
        return word.kind() != SqlWords.Kind.LITERAL && key(word).equals(wanted());
    }

    private static String key(SqlWords.Word word) {
        return word.kind() == SqlWords.Kind.NAME
                ? word.text()
                : word.text().toUpperCase(Locale.ROOT);
    }

    private Span span(Span statement, SqlWords.Word word) {
        return script.span(statement.start() + word.start(), statement.start() + word.end());
    }

    private void index(Span statement, SqlWords words, int from) {
        int on = from;
        while (on < words.all().size() && !words.sees(on, "ON")) {
            on++;
        }
        if (on + 1 >= words.all().size()) {
            unread.add(statement);
            return;
        }
        String of = key(words.all().get(on + 1));
        for (int i = on + 1; i < words.all().size(); i++) {
            SqlWords.Word word = words.all().get(i);
            boolean table1 = column.isEmpty() && i == on + 1;
            boolean column1 = column.isPresent() && i > on + 1 && of.equals(table);
            if (isWanted(word) && (table1 || column1)) {
                uses.add(span(statement, word));
            }
        }
    }

    /** {@code CREATE TABLE own (…)} or {@code ALTER TABLE own …}. */
    private void definition(Span statement, SqlWords words, int at, boolean makes) {
        List<SqlWords.Word> all = words.all();
        String own = key(all.get(at));
        if (!makes && column.isEmpty() && own.equals(table)) {
            uses.add(span(statement, all.get(at)));
        }
        boolean begins = makes;
        String of = own;
        int ofDepth = -1;
        for (int i = at + 1; i < all.size(); i++) {
            SqlWords.Word word = all.get(i);
            if (ofDepth >= 0 && word.depth() <= ofDepth && word.is(")")) {
                of = own;
                ofDepth = -1;
            }
            if (makes && word.depth() == 1 && word.is(",") || word.depth() == 0 && word.is("(")) {
                begins = makes;
                continue;
            }
            if (words.sees(i - 1, "REFERENCES")) {
                if (column.isEmpty() && isWanted(word)) {
                    uses.add(span(statement, word));
                }
                if (words.sees(i + 1, "(")) {
                    of = key(word);
                    ofDepth = word.depth();
                }
                begins = false;
                continue;
            }
            boolean constraint = CONSTRAINTS.stream().anyMatch(word::is);
            if (begins && !constraint && makes && word.depth() == 1) {
                // A column where it is made, and its type.
                i++;
            } else if (isWanted(word)) {
                use(statement, words, i, own, of);
            }
            begins = false;
        }
    }

    private void use(Span statement, SqlWords words, int i, String own, String of) {
        SqlWords.Word word = words.all().get(i);
        if (words.sees(i - 1, "CONSTRAINT")) {
            return;
        }
        boolean qualifies = words.sees(i + 1, ".");
        if (column.isEmpty()) {
            if (qualifies) {
                uses.add(span(statement, word));
            } else if (!columns.getOrDefault(of, List.of()).contains(table)
                    && !columns.getOrDefault(own, List.of()).contains(table)) {
                unread.add(statement);
            }
            return;
        }
        if (!qualifies && of.equals(table)) {
            uses.add(span(statement, word));
        }
    }
}
