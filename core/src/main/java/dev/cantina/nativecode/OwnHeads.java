package dev.cantina.nativecode;

import dev.cantina.nativecode.OwnText.Column;
import dev.cantina.nativecode.OwnText.Parameter;
import dev.cantina.nativecode.OwnText.Table;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/** Parameters and columns as they are written in the heads of CREATE statements. */
public final class OwnHeads {
    private static final Set<String> MODES = Set.of("in", "out", "inout", "variadic");

    /** First words of types that have more than one, so that they are no parameters' names. */
    private static final Set<String> LONG_TYPES =
            Set.of("double", "character", "bit", "timestamp", "time", "national", "interval");

    private static final Set<String> TYPE_RESTS =
            Set.of("precision", "varying", "with", "without", "character", "char", "year", "day");

    /** What stands in the place of a column and is none. */
    private static final Set<String> NO_COLUMNS =
            Set.of(
                    "constraint",
                    "primary",
                    "unique",
                    "foreign",
                    "check",
                    "like",
                    "exclude",
                    "key",
                    "index",
                    "fulltext",
                    "spatial",
                    "period");

    /** What ends a column's type. */
    private static final Set<String> BEHIND_TYPES =
            Set.of(
                    "not",
                    "null",
                    "default",
                    "primary",
                    "references",
                    "check",
                    "unique",
                    "generated",
                    "constraint",
                    "collate",
                    "auto_increment",
                    "comment",
                    "on",
                    "as",
                    "invisible",
                    "virtual",
                    "stored",
                    "persistent");

    private final Source source;
    private final List<? extends NativeToken> tokens;

    public OwnHeads(Source source, List<? extends NativeToken> tokens) {
        this.source = source;
        this.tokens = tokens;
    }

    private NativeToken at(int i) {
        return tokens.get(i);
    }

    private boolean sees(int i, String word) {
        return i >= 0 && i < tokens.size() && at(i).is(word);
    }

    private String text(int from, int to) {
        return source.written()
                .substring(at(from).start(), at(to - 1).end())
                .strip()
                .replaceAll("\\s+", " ");
    }

    private Span span(int i) {
        return source.span(at(i).start(), at(i).end());
    }

    /** The token behind the bracket that closes one. */
    public int behind(int open) {
        int depth = 0;
        int i = open;
        do {
            depth += sees(i, "(") ? 1 : sees(i, ")") ? -1 : 0;
            i++;
        } while (depth > 0 && i < tokens.size());
        return i;
    }

    /**
     * A list of parameters.
     *
     * @param open its bracket
     * @param mode what they are where nothing else is said
     */
    public List<Parameter> parameters(int open, String mode) {
        List<Parameter> all = new ArrayList<>();
        int end = behind(open) - 1;
        int from = open + 1;
        int depth = 0;
        for (int i = from; i <= end && i < tokens.size(); i++) {
            if (i == end || depth == 0 && sees(i, ",")) {
                if (i > from) {
                    all.add(parameter(from, i, mode));
                }
                from = i + 1;
                continue;
            }
            depth += sees(i, "(") || sees(i, "[") ? 1 : sees(i, ")") || sees(i, "]") ? -1 : 0;
        }
        return all;
    }

    private Parameter parameter(int begin, int end, String usual) {
        int from = begin;
        String mode = usual;
        if (MODES.contains(at(from).text()) && from + 1 < end) {
            mode = at(from).text().toUpperCase(Locale.ROOT);
            from++;
            if (mode.equals("IN") && sees(from, "out") && from + 2 < end) {
                mode = "INOUT";
                from++;
            }
        }
        int until = end;
        for (int i = from + 1; i < end; i++) {
            if (sees(i, "default") || sees(i, "=") || sees(i, ":=")) {
                until = i;
                break;
            }
        }
        boolean named =
                at(from).isName()
                        && from + 1 < until
                        && at(from + 1).isName()
                        && !(LONG_TYPES.contains(at(from).text())
                                && TYPE_RESTS.contains(at(from + 1).text()));
        String name = named ? source.written().substring(at(from).start(), at(from).end()) : "";
        return new Parameter(
                mode,
                name,
                text(named ? from + 1 : from, until),
                until + 1 < end ? Optional.of(text(until + 1, end)) : Optional.empty(),
                named ? span(from) : source.span(at(from).start(), at(until - 1).end()));
    }

    /** The table that a CREATE TABLE or CREATE VIEW makes, or whose columns an ALTER adds to. */
    public Optional<Table> table() {
        int i = 0;
        boolean creates = sees(0, "create");
        boolean alters = sees(0, "alter") && sees(1, "table");
        if (!creates && !alters) {
            return Optional.empty();
        }
        while (i < tokens.size() && i < 9 && !sees(i, "table") && !sees(i, "view")) {
            if (i > 0 && sees(i, "(")) {
                return Optional.empty();
            }
            i++;
        }
        if (!sees(i, "table") && !sees(i, "view")) {
            return Optional.empty();
        }
        i++;
        while (sees(i, "if") || sees(i, "not") || sees(i, "exists") || sees(i, "only")) {
            i++;
        }
        while (sees(i + 1, ".")) {
            i += 2;
        }
        if (i >= tokens.size() || !at(i).isName()) {
            return Optional.empty();
        }
        Span whole = source.span(at(0).start(), at(tokens.size() - 1).end());
        List<Column> columns = new ArrayList<>();
        if (creates && sees(i + 1, "(")) {
            columns(i + 1, columns);
        } else if (alters) {
            added(i + 1, columns);
        }
        return Optional.of(new Table(at(i).text(), span(i), whole, columns));
    }

    private void columns(int open, List<Column> columns) {
        int end = behind(open) - 1;
        int depth = 0;
        boolean begins = true;
        for (int i = open + 1; i < end; i++) {
            if (begins
                    && at(i).isName()
                    && !(at(i).isWord() && NO_COLUMNS.contains(at(i).text()))) {
                columns.add(column(i, end));
            }
            begins = depth == 0 && sees(i, ",");
            depth += sees(i, "(") || sees(i, "[") ? 1 : sees(i, ")") || sees(i, "]") ? -1 : 0;
        }
    }

    private void added(int from, List<Column> columns) {
        for (int i = from; i + 1 < tokens.size(); i++) {
            if (!sees(i, "add")) {
                continue;
            }
            int name = i + 1;
            while (sees(name, "column")
                    || sees(name, "if")
                    || sees(name, "not")
                    || sees(name, "exists")) {
                name++;
            }
            if (name < tokens.size()
                    && at(name).isName()
                    && !(at(name).isWord() && NO_COLUMNS.contains(at(name).text()))) {
                columns.add(column(name, tokens.size()));
            }
        }
    }

    private Column column(int name, int end) {
        int depth = 0;
        int i = name + 1;
        while (i < end
                && (depth > 0
                        || !sees(i, ",")
                                && !(at(i).isWord() && BEHIND_TYPES.contains(at(i).text())))) {
            depth += sees(i, "(") ? 1 : sees(i, ")") ? -1 : 0;
            i++;
        }
        String type = i > name + 1 ? text(name + 1, i) : "";
        return new Column(at(name).text(), type, span(name));
    }
}
