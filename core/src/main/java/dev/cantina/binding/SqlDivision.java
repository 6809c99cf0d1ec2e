package dev.cantina.binding;

import dev.cantina.catalog.Catalog;
import dev.cantina.syntax.SimpleCase;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlOperands;
import dev.cantina.syntax.SqlWords;
import dev.cantina.syntax.SqlWords.Word;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;

/**
 * The divisions in a data statement, as far as what they divide can be told: whole numbers are cut
 * by the standard, and not by every server.
 *
 * @param place where the slash stands
 * @param left what is right before it: a name, a number, a call, or what stands in brackets
 * @param right what is right behind it
 */
public record SqlDivision(Span place, Span left, Span right, Kind kind) {
    /** What comes of it. */
    public enum Kind {
        WHOLE,
        EXACT,
        APPROXIMATE,
        /** It can't be told. */
        OPEN
    }

    /** Functions whose result is a whole number, whatever they are given. */
    private static final Set<String> COUNTING =
            Set.of(
                    "COUNT",
                    "CHAR_LENGTH",
                    "CHARACTER_LENGTH",
                    "OCTET_LENGTH",
                    "POSITION",
                    "ROW_NUMBER",
                    "RANK",
                    "DENSE_RANK",
                    "NTILE");

    private static final Set<String> APPROXIMATE =
            Set.of("SQRT", "EXP", "LN", "LOG", "LOG10", "POWER", "PERCENT_RANK", "CUME_DIST");

    /** All of a statement, in the order of its text. */
    public static List<SqlDivision> of(BoundSql sql, Catalog catalog) {
        Span span = sql.source().span();
        SqlWords words = SqlWords.of(span.text());
        SqlOperands operands = new SqlOperands(words);
        Operands kinds = new Operands(sql, catalog, words);
        List<SqlDivision> all = new ArrayList<>();
        for (int at = 0; at < words.all().size(); at++) {
            if (!words.all().get(at).is("/")) {
                continue;
            }
            int from = operands.before(at);
            int first = at + 1;
            while (words.sees(first, "-") || words.sees(first, "+")) {
                first++;
            }
            int to = Math.max(at, operands.after(first));
            all.add(
                    new SqlDivision(
                            part(span, words, at, at + 1),
                            part(span, words, from, at),
                            part(span, words, at + 1, to + 1),
                            both(kinds.of(from, at), kinds.of(at + 1, to + 1))));
        }
        return all;
    }

    /** The stretch of some words; of none it is empty. */
    private static Span part(Span whole, SqlWords words, int from, int to) {
        int last = words.all().size() - 1;
        int start = words.all().get(Math.min(from, last)).start();
        int end = from < to ? words.all().get(Math.min(to - 1, last)).end() : start;
        return new Span(whole.source(), whole.start() + start, whole.start() + end);
    }

    private static Kind both(Kind a, Kind b) {
        if (a == Kind.APPROXIMATE || b == Kind.APPROXIMATE) {
            return Kind.APPROXIMATE;
        }
        if (a == Kind.EXACT || b == Kind.EXACT) {
            return Kind.EXACT;
        }
        return a == Kind.OPEN || b == Kind.OPEN ? Kind.OPEN : Kind.WHOLE;
    }

    /** Tells what numbers a stretch of a statement comes to. */
    private record Operands(BoundSql sql, Catalog catalog, SqlWords words) {
        Kind of(int from, int to) {
            Kind kind = null;
            int i = from;
            while (i < to) {
                int next = behind(i, to);
                Kind one = one(i, next);
                if (one != null) {
                    kind = kind == null ? one : both(kind, one);
                }
                i = next;
            }
            return kind == null ? Kind.OPEN : kind;
        }

        /** Where the value or word ends that begins at a place: what decides by itself is one. */
        private int behind(int at, int to) {
            Word word = words.all().get(at);
            if (word.is("CASE")) {
                // What it compares is no part of its value.
                return SimpleCase.at(words, at).map(c -> c.operand().to()).orElse(at + 1);
            }
            if (word.is("WHEN") || word.is("OVER") || word.is("FILTER")) {
                return Math.min(to, skipped(at));
            }
            boolean called = word.isName() || word.kind() == SqlWords.Kind.WORD;
            if (called && words.sees(at + 1, "(") && decides(word.text(), at)) {
                return Math.min(to, words.closing(at + 1) + 1);
            }
            int end = at + 1;
            while (word.isName() && words.sees(end, ".") && end + 1 < to) {
                end += 2;
            }
            return end;
        }

        /** A condition up to its THEN, or a bracket: neither is a part of the value. */
        private int skipped(int at) {
            if (!words.sees(at, "WHEN")) {
                return words.sees(at + 1, "(") ? words.closing(at + 1) + 1 : at + 1;
            }
            int cases = 0;
            for (int i = at + 1; i < words.all().size(); i++) {
                cases += words.sees(i, "CASE") ? 1 : words.sees(i, "END") ? -1 : 0;
                if (cases == 0 && words.sees(i, "THEN")) {
                    return i + 1;
                }
            }
            return words.all().size();
        }

        private boolean decides(String name, int at) {
            return name.equals("CAST")
                    || name.equals("EXTRACT")
                    || COUNTING.contains(name)
                    || APPROXIMATE.contains(name)
                    || !catalog.functions(name).isEmpty();
        }

        /** What a word or call says; null where it says nothing. */
        private Kind one(int at, int next) {
            Word word = words.all().get(at);
            if (word.kind() == SqlWords.Kind.LITERAL) {
                return literal(words.between(at, at + 1));
            }
            if (word.is("SELECT") || word.is("WITH")) {
                return Kind.OPEN;
            }
            boolean call = words.sees(at + 1, "(") && !isSaid(word);
            if (call && next > at + 1) {
                return called(word.text(), at);
            }
            if (call || !word.isName() || isSaid(word)) {
                return word.is("AVG") ? Kind.EXACT : null;
            }
            return named(at, next);
        }

        private static boolean isSaid(Word word) {
            return Set.of(
                            "CASE",
                            "WHEN",
                            "THEN",
                            "ELSE",
                            "END",
                            "NULL",
                            "DISTINCT",
                            "ALL",
                            "OVER",
                            "FILTER")
                    .contains(word.text());
        }

        /** What a literal is as it is written; a text or bytes can't be told. */
        private static Kind literal(String text) {
            if (!Character.isDigit(text.charAt(0)) && text.charAt(0) != '.') {
                return Kind.OPEN;
            }
            if (text.toUpperCase(Locale.ROOT).contains("E")) {
                return Kind.APPROXIMATE;
            }
            return text.contains(".") ? Kind.EXACT : Kind.WHOLE;
        }

        private Kind called(String name, int at) {
            if (COUNTING.contains(name)) {
                return Kind.WHOLE;
            }
            if (APPROXIMATE.contains(name)) {
                return Kind.APPROXIMATE;
            }
            if (name.equals("EXTRACT")) {
                return words.sees(at + 2, "SECOND") ? Kind.EXACT : Kind.WHOLE;
            }
            if (name.equals("CAST")) {
                int as = words.closing(at + 1) - 1;
                while (as > at && !words.sees(as, "AS")) {
                    as--;
                }
                return switch (words.all().get(as + 1).text()) {
                    case "DECIMAL", "NUMERIC", "DEC", "DECFLOAT" -> Kind.EXACT;
                    case "DOUBLE", "REAL", "FLOAT" -> Kind.APPROXIMATE;
                    case "INTEGER", "INT", "BIGINT", "SMALLINT", "TINYINT" -> Kind.WHOLE;
                    default -> Kind.OPEN;
                };
            }
            List<Kind> results =
                    catalog.functions(name).stream()
                            .map(f -> f.returns().map(Operands::of).orElse(Kind.OPEN))
                            .distinct()
                            .toList();
            return results.size() == 1 ? results.get(0) : Kind.OPEN;
        }

        private Kind named(int at, int next) {
            Span whole = sql.source().span();
            int start = whole.start() + words.all().get(at).start();
            int end = whole.start() + words.all().get(next - 1).end();
            return sql.parameters().stream()
                    .filter(p -> p.span().start() == start && p.span().end() == end)
                    .map(BoundExpression::type)
                    .findFirst()
                    .or(() -> ColumnTypes.of(words.between(at, next), sql, catalog))
                    .map(Operands::of)
                    .orElse(Kind.OPEN);
        }

        private static Kind of(SqlType type) {
            if (type instanceof SqlType.Integral) {
                return Kind.WHOLE;
            }
            if (type instanceof SqlType.Approximate) {
                return Kind.APPROXIMATE;
            }
            return type.isNumeric() ? Kind.EXACT : Kind.OPEN;
        }
    }
}
