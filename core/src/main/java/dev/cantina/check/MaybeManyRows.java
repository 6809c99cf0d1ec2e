package dev.cantina.check;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Table;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.SqlWords;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** SELECT INTO whose condition names no whole unique key, and which sets no limit. */
public final class MaybeManyRows implements Advice.Rule {
    @Override
    public String name() {
        return "maybe-many-rows";
    }

    @Override
    public void look(Subject subject, List<Problem> advice) {
        Catalog catalog = subject.catalog();
        subject.statements()
                .forEach(
                        s -> {
                            if (s instanceof BoundStatement.Fill fill
                                    && !QueryFacts.exactlyOneRow(fill.query())
                                    && !QueryFacts.givesOneInserted(fill.query())
                                    && !isLimited(fill.query())
                                    && !byKey(fill.query(), catalog)) {
                                advice.add(
                                        Problem.advice(
                                                fill.query().span(),
                                                name(),
                                                "this may find several rows, and two are 21000",
                                                "ask by a unique key, or add FETCH FIRST ROW ONLY with an ORDER BY"));
                            }
                        });
    }

    private static boolean isLimited(BoundSql sql) {
        return SqlWords.of(sql.source().span().text()).hasAny("FETCH", "LIMIT");
    }

    /** Whether every table in it is asked by equality with a whole unique key; views are let be. */
    private static boolean byKey(BoundSql sql, Catalog catalog) {
        if (sql.scope().tables().size() != 1 || sql.scope().tables().get(0).names().isEmpty()) {
            return true;
        }
        Optional<Table> table =
                sql.scope().tables().get(0).names().stream()
                        .reduce((a, b) -> b)
                        .flatMap(catalog::table);
        if (table.isEmpty()) {
            return true;
        }
        String text = sql.span().text().toUpperCase(Locale.ROOT);
        return table.get().uniqueKeys().stream()
                .anyMatch(
                        key ->
                                key.stream()
                                        .allMatch(
                                                i ->
                                                        isAsked(
                                                                text,
                                                                table.get()
                                                                        .columns()
                                                                        .get(i)
                                                                        .key())));
    }

    /** Whether a name is compared in a text: {@code = …} or {@code IN …} follows it. */
    private static boolean isAsked(String text, String name) {
        for (int at = text.indexOf(name); at >= 0; at = text.indexOf(name, at + 1)) {
            int next = at + name.length();
            while (next < text.length() && Character.isWhitespace(text.charAt(next))) {
                next++;
            }
            boolean whole = at == 0 || !isWordPart(text.charAt(at - 1));
            boolean equal = text.startsWith("=", next);
            boolean in =
                    text.startsWith("IN", next)
                            && (next + 2 == text.length() || !isWordPart(text.charAt(next + 2)));
            if (whole && (equal || in)) {
                return true;
            }
        }
        return false;
    }

    private static boolean isWordPart(char c) {
        return c == '_' || Character.isLetterOrDigit(c);
    }
}
