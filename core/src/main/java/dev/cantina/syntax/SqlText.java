package dev.cantina.syntax;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;

/**
 * An SQL statement or query that goes to the database: its text, and what the tolerant reader found
 * in it.
 *
 * @param verb the first keyword in upper case: SELECT, INSERT, CREATE, …
 * @param edits where the text sent differs from the text written: an INTO clause is left out, and
 *     so are the {@code TABLE (} and {@code )} around a function that gives rows
 * @param positioned where a change says WHERE CURRENT OF a cursor
 * @param calls the calls of functions, in the order of their ends
 * @param items the values of the outermost select list, with their aliases
 * @param labels the columns that joins name after USING, and the names of windows
 * @param from where the FROM of a query over one table stands that neither groups nor joins
 * @param tree the statement as a tree
 */
public record SqlText(
        Span span,
        String verb,
        Scope scope,
        List<Edit> edits,
        Optional<Positioned> positioned,
        List<Call> calls,
        List<Span> items,
        List<Name> labels,
        OptionalInt from,
        SqlStatement tree)
        implements Node {
    public SqlText {
        edits = List.copyOf(edits);
        calls = List.copyOf(calls);
        items = List.copyOf(items);
        labels = List.copyOf(labels);
    }

    /**
     * A stretch that is sent as another text, or not at all where that is empty.
     *
     * @param overlaps whether it takes the place of OVERLAPS, which not every database knows
     */
    public record Edit(Span span, String text, boolean overlaps) {
        Edit(Span span, String text) {
            this(span, text, false);
        }
    }

    /**
     * {@code f(a, name => b)}.
     *
     * @param span what stands between the brackets
     */
    public record Call(Span span, List<Name> function, List<Argument> arguments) {
        /** Whether an argument says which parameter it is for. */
        public boolean isNamed() {
            return arguments.stream().anyMatch(a -> a.name().isPresent());
        }
    }

    /** An argument of a call: the span is the value's. */
    public record Argument(Optional<Name> name, Span span) {}

    /** {@code CURRENT OF cursor}. */
    public record Positioned(Span span, Name cursor) {}

    /** A text in which nobody has looked for names. */
    public static SqlText plain(Span span, String verb) {
        Scope nothing = new Scope(span, List.of(), List.of(), List.of(), List.of());
        return new SqlText(
                span,
                verb,
                nothing,
                List.of(),
                Optional.empty(),
                List.of(),
                List.of(),
                List.of(),
                OptionalInt.empty(),
                new SqlStatement.Unread(span, new SqlValue(span, Map.of())));
    }

    /** A query inside another statement, whose other notes are those of the statement. */
    static SqlText nested(
            Span span, String verb, Scope scope, List<Span> items, SqlStatement tree) {
        return new SqlText(
                span,
                verb,
                scope,
                List.of(),
                Optional.empty(),
                List.of(),
                items,
                List.of(),
                OptionalInt.empty(),
                tree);
    }

    /** A statement that stands by itself, with {@code ?} where values go. */
    public static SqlText of(String text) {
        Source source = new Source("sql", text);
        TokenReader reader = new TokenReader(source, Lexer.ofStatement(text).tokens());
        try {
            SqlText read = new SqlReader(reader).standalone();
            while (reader.accept(";")) {
                // An empty statement.
            }
            return reader.atEnd() ? read : unread(read);
        } catch (TokenReader.Failure e) {
            return plain(source.span(0, text.length()), "");
        }
    }

    /**
     * Where a query begins in a statement that defines something by one, a view for instance; -1
     * where none does.
     */
    public int queryInside() {
        if (!verb.equals("CREATE")) {
            return -1;
        }
        SqlWords words = SqlWords.of(span.source().text());
        for (int i = 0; i + 1 < words.all().size(); i++) {
            boolean begins =
                    words.sees(i + 1, "SELECT")
                            || words.sees(i + 1, "WITH")
                            || words.sees(i + 1, "VALUES")
                            || words.sees(i + 1, "(", "SELECT")
                            || words.sees(i + 1, "(", "VALUES")
                            || words.sees(i + 1, "(", "WITH")
                            || words.sees(i + 1, "(", "(");
            if (words.sees(i, "AS") && words.all().get(i).depth() == 0 && begins) {
                return words.all().get(i + 1).start();
            }
        }
        return -1;
    }

    /** All of the text that it stands in, what is before and behind it too. */
    public Span whole() {
        return span.source().span(0, span.source().text().length());
    }

    private static SqlText unread(SqlText read) {
        Span whole = read.span().source().span(0, read.span().source().text().length());
        return nested(
                whole,
                read.verb(),
                read.scope(),
                read.items(),
                new SqlStatement.Unread(whole, new SqlValue(whole, Map.of())));
    }

    /** Whether the statement hands out rows. */
    public boolean isQuery() {
        return switch (verb) {
            case "SELECT", "WITH", "VALUES", "TABLE", "(" -> true;
            default -> false;
        };
    }

    /**
     * A query's or a change's own space of names.
     *
     * @param tables what its FROM clause, or its target, brings in
     * @param names the names used in it, in the order of the text
     * @param outputs the names that its select list gives, which ORDER BY may use
     * @param children the queries inside it, which see its names
     */
    public record Scope(
            Span span,
            List<TableUse> tables,
            List<NameUse> names,
            List<Name> outputs,
            List<Scope> children) {
        public Scope {
            tables = List.copyOf(tables);
            names = List.copyOf(names);
            outputs = List.copyOf(outputs);
            children = List.copyOf(children);
        }
    }

    /** How a statement uses a table. */
    public enum Role {
        READ,
        INSERT,
        UPDATE,
        DELETE,
        MERGE
    }

    /**
     * A table in a statement.
     *
     * @param names the table's name with its schema; empty for a query in brackets or a function
     * @param function the name of the function whose rows it is; empty for all others
     * @param columns the columns where the text itself gives them
     * @param visible whether its columns can be named in the scope (an INSERT's target can't)
     */
    public record TableUse(
            Span span,
            List<Name> names,
            Optional<Name> alias,
            List<Name> columns,
            Role role,
            boolean visible,
            List<Name> function) {
        public TableUse {
            names = List.copyOf(names);
            columns = List.copyOf(columns);
            function = List.copyOf(function);
        }

        TableUse(
                Span span,
                List<Name> names,
                Optional<Name> alias,
                List<Name> columns,
                Role role,
                boolean visible) {
            this(span, names, alias, columns, role, visible, List.of());
        }

        /** What its columns can be qualified by. */
        public Optional<Name> known() {
            List<Name> own = names.isEmpty() ? function : names;
            return alias.isPresent() || own.isEmpty()
                    ? alias
                    : Optional.of(own.get(own.size() - 1));
        }
    }

    /** What a name in a statement is used for. */
    public enum Use {
        VALUE,
        TARGET,
        CALL,
        /** CURRENT_TIMESTAMP and its kin. */
        MOMENT
    }

    /**
     * A name in a statement, with its qualifiers.
     *
     * @param order whether it stands in an ORDER BY, where output names may be meant
     */
    public record NameUse(Span span, List<Name> names, Use use, boolean order) {
        public NameUse {
            names = List.copyOf(names);
        }
    }
}
