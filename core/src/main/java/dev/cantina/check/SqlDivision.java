package dev.cantina.check;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Column;
import dev.cantina.catalog.Table;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlText;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

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

    private static final Pattern QUIET =
            Pattern.compile("'(?:[^']|'')*'|--[^\\n]*|/\\*(?s:.*?)\\*/");
    private static final Pattern TOKEN =
            Pattern.compile(
                    "(?is)\\bCAST\\s*\\(.*?\\bAS\\s+(?<cast>\\w+)"
                            + "|(?<count>\\bCOUNT\\s*\\()|(?<average>\\bAVG\\s*\\()"
                            + "|(?<decimal>\\d*\\.\\d+(?!E)|\\d+\\.(?!\\d))|(?<approximate>\\d[\\d.]*E[-+]?\\d+)"
                            + "|(?<whole>\\b\\d+\\b)|(?<call>\\b\\w+\\s*\\()"
                            + "|(?<name>[\\p{L}_\"][\\p{L}\\p{N}_\"]*(?:\\s*\\.\\s*[\\p{L}_\"][\\p{L}\\p{N}_\"]*)*)");

    /** A text that ends in a word which names no function. */
    private static final Pattern KEYWORD =
            Pattern.compile(
                    "(?i)\\b(SELECT|WHERE|AND|OR|NOT|WHEN|THEN|ELSE|BY|ON|IN|HAVING|BETWEEN|VALUES|RETURNING"
                            + "|DISTINCT|ALL|SET|LIKE|AS)$");

    /** All of a statement, in the order of its text. */
    public static List<SqlDivision> of(BoundSql sql, Catalog catalog) {
        Span span = sql.source().span();
        String text = QUIET.matcher(span.text()).replaceAll(m -> "_".repeat(m.group().length()));
        List<SqlDivision> all = new ArrayList<>();
        for (int at = text.indexOf('/'); at >= 0; at = text.indexOf('/', at + 1)) {
            int end = at;
            while (end > 0 && Character.isWhitespace(text.charAt(end - 1))) {
                end--;
            }
            int from = before(text, end);
            int start = at + 1;
            while (start < text.length() && Character.isWhitespace(text.charAt(start))) {
                start++;
            }
            int to = behind(text, start);
            Kind left = kind(text, from, end, sql, catalog);
            Kind right = kind(text, start, to, sql, catalog);
            all.add(
                    new SqlDivision(
                            part(span, at, at + 1),
                            part(span, from, end),
                            part(span, start, to),
                            both(left, right)));
        }
        return all;
    }

    private static Span part(Span whole, int from, int to) {
        return new Span(whole.source(), whole.start() + from, whole.start() + to);
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

    private static boolean isWord(char c) {
        return Character.isJavaIdentifierPart(c) || c == '.' || c == '"';
    }

    private static int before(String text, int end) {
        int at = end - 1;
        if (at >= 0 && text.charAt(at) == ')') {
            int depth = 0;
            for (; at >= 0; at--) {
                depth += text.charAt(at) == ')' ? 1 : text.charAt(at) == '(' ? -1 : 0;
                if (depth == 0) {
                    break;
                }
            }
            at--;
            // A function's name may stand apart from its bracket.
            int name = at;
            while (name >= 0 && Character.isWhitespace(text.charAt(name))) {
                name--;
            }
            boolean called =
                    name >= 0
                            && Character.isJavaIdentifierPart(text.charAt(name))
                            && !KEYWORD.matcher(text.substring(0, name + 1)).find();
            at = called ? name : at;
        }
        while (at >= 0 && isWord(text.charAt(at))) {
            at--;
        }
        // What qualifies the name may stand apart from it.
        int dot = at;
        while (dot >= 0 && Character.isWhitespace(text.charAt(dot))) {
            dot--;
        }
        boolean begins = at + 1 < text.length() && text.charAt(at + 1) == '.';
        if (dot >= 0
                && dot < at
                && (text.charAt(dot) == '.' || begins)
                && isWord(text.charAt(dot))) {
            return before(text, dot + 1);
        }
        return at + 1;
    }

    private static int behind(String text, int start) {
        int at = start;
        while (at < text.length() && isWord(text.charAt(at))) {
            at++;
        }
        int next = at;
        while (next < text.length() && Character.isWhitespace(text.charAt(next))) {
            next++;
        }
        boolean open = at > start && text.charAt(at - 1) == '.';
        if (next > at && next < text.length() && (text.charAt(next) == '.' || open)) {
            return behind(text, next);
        }
        if (next < text.length() && text.charAt(next) == '(') {
            at = next;
        }
        if (at < text.length() && text.charAt(at) == '(') {
            int depth = 0;
            for (; at < text.length(); at++) {
                depth += text.charAt(at) == '(' ? 1 : text.charAt(at) == ')' ? -1 : 0;
                if (depth == 0) {
                    return at + 1;
                }
            }
        }
        return at;
    }

    private static Kind kind(String text, int from, int to, BoundSql sql, Catalog catalog) {
        Kind kind = null;
        Matcher token = TOKEN.matcher(text).region(from, to);
        while (token.find()) {
            Kind one = kind(token, sql, catalog);
            if (one != null) {
                kind = kind == null ? one : both(kind, one);
            }
        }
        return kind == null ? Kind.OPEN : kind;
    }

    /** What a token says; null where it says nothing. */
    private static Kind kind(Matcher token, BoundSql sql, Catalog catalog) {
        if (token.group("cast") != null) {
            return switch (token.group("cast").toUpperCase(Locale.ROOT)) {
                case "DECIMAL", "NUMERIC", "DEC", "DECFLOAT" -> Kind.EXACT;
                case "DOUBLE", "REAL", "FLOAT" -> Kind.APPROXIMATE;
                case "INTEGER", "INT", "BIGINT", "SMALLINT", "TINYINT" -> Kind.WHOLE;
                default -> Kind.OPEN;
            };
        }
        if (token.group("average") != null || token.group("decimal") != null) {
            return Kind.EXACT;
        }
        if (token.group("approximate") != null) {
            return Kind.APPROXIMATE;
        }
        if (token.group("count") != null || token.group("whole") != null) {
            return Kind.WHOLE;
        }
        if (token.group("call") != null) {
            return null;
        }
        int start = sql.source().span().start() + token.start("name");
        int end = sql.source().span().start() + token.end("name");
        Optional<SqlType> type =
                sql.parameters().stream()
                        .filter(p -> p.span().start() == start && p.span().end() == end)
                        .map(BoundExpression::type)
                        .findFirst()
                        .or(() -> column(token.group("name"), sql.source().scope(), catalog));
        if (type.isEmpty()) {
            return Kind.OPEN;
        }
        if (type.get() instanceof SqlType.Integral) {
            return Kind.WHOLE;
        }
        return type.get() instanceof SqlType.Approximate ? Kind.APPROXIMATE : Kind.EXACT;
    }

    /** The type of a column of the statement's tables; empty where it is none, or not one alone. */
    private static Optional<SqlType> column(String name, SqlText.Scope scope, Catalog catalog) {
        String[] parts = name.replace("\"", "").toUpperCase(Locale.ROOT).split("\\s*\\.\\s*");
        String column = parts[parts.length - 1];
        List<SqlType> types = new ArrayList<>();
        collect(scope, parts.length > 1 ? parts[parts.length - 2] : "", column, catalog, types);
        return types.stream().distinct().count() == 1
                ? Optional.of(types.get(0))
                : Optional.empty();
    }

    private static void collect(
            SqlText.Scope scope,
            String qualifier,
            String column,
            Catalog catalog,
            List<SqlType> types) {
        for (SqlText.TableUse use : scope.tables()) {
            boolean meant =
                    qualifier.isEmpty()
                            || use.known().map(Name::key).filter(qualifier::equals).isPresent();
            if (meant && !use.names().isEmpty()) {
                Optional<Table> table = catalog.table(use.names().get(use.names().size() - 1));
                table.flatMap(t -> t.column(column)).map(Column::type).ifPresent(types::add);
            }
        }
        scope.children().forEach(c -> collect(c, qualifier, column, catalog, types));
    }
}
