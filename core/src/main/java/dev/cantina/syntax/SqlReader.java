package dev.cantina.syntax;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.function.BooleanSupplier;

/**
 * Reads SQL statements tolerantly: it follows the shape of queries and changes well enough to make
 * a tree of them and to find each table, scope and name, and lets everything else stand as written.
 * It refuses nothing but brackets that do not close.
 */
final class SqlReader {
    final TokenReader reader;
    final ValueReader values;
    final TableReader tables;
    final QueryReader queries;
    final ChangeReader changes;

    /** Where a reading ends, beside the end of the text and a closing bracket. */
    private String end = ";";

    /** What is noted of the statement that is being read. */
    private Notes notes = new Notes();

    private Optional<Span> into = Optional.empty();
    private Optional<SqlText.Positioned> positioned = Optional.empty();
    private BooleanSupplier intoReader = () -> false;

    /** What stands in a statement wherever it is nested. */
    static final class Notes {
        final List<SqlText.Edit> edits = new ArrayList<>();
        final List<SqlText.Call> calls = new ArrayList<>();
        final List<Name> labels = new ArrayList<>();
    }

    /** The queries inside all statements of a text, by where they begin. */
    private final Map<Integer, SqlText> nested = new HashMap<>();

    void nested(int start, SqlText query) {
        nested.put(start, query);
    }

    SqlReader(TokenReader reader) {
        this.reader = reader;
        this.values = new ValueReader(this);
        this.tables = new TableReader(this);
        this.queries = new QueryReader(this);
        this.changes = new ChangeReader(this);
    }

    Notes notes() {
        return notes;
    }

    boolean seesBracketedQuery() {
        return queries.seesBracketedQuery();
    }

    boolean seesQuery() {
        return queries.seesQuery();
    }

    /** A query up to {@code stop}, which is left standing. */
    SqlText query(String stop) {
        if (!seesQuery()) {
            throw reader.expected("a query", "");
        }
        return text(stop);
    }

    /** A whole statement up to its {@code ;}, which is left standing. */
    SqlText statement() {
        return text(";");
    }

    /**
     * A query with an INTO clause in its first SELECT.
     *
     * @param targets reads what stands after INTO and says whether that was wanted here
     */
    SqlText queryInto(BooleanSupplier targets) {
        BooleanSupplier outer = intoReader;
        intoReader = targets;
        into = Optional.empty();
        try {
            return text(";");
        } finally {
            intoReader = outer;
            into = Optional.empty();
        }
    }

    /** A statement in any server's words, whose INTO may name whatever it will. */
    SqlText standalone() {
        return queryInto(
                () -> {
                    while (!atStop() && !QueryReader.isClause(reader.peek())) {
                        reader.take();
                    }
                    return true;
                });
    }

    private SqlText text(String stop) {
        String outer = end;
        Notes outerNotes = notes;
        end = stop;
        notes = new Notes();
        positioned = Optional.empty();
        Token first = reader.peek();
        SqlScope root = new SqlScope();
        try {
            SqlStatement read =
                    switch (first.text()) {
                        case "INSERT", "UPDATE", "DELETE", "MERGE" -> changes.change(root);
                        case "SELECT", "VALUES", "WITH", "TABLE", "(" -> queries.query(root);
                        case "TRUNCATE" -> changes.truncate();
                        default -> anything(first);
                    };
            SqlStatement tree = rest(root, read);
            Span span = reader.since(first);
            into.ifPresent(this::leaveOut);
            boolean ofOneTable =
                    first.is("SELECT")
                            && root.from >= 0
                            && !root.grouped
                            && root.tables.size() == 1
                            && root.tables.get(0).names().size() == 1;
            return new SqlText(
                    span,
                    first.text(),
                    root.done(span),
                    notes.edits,
                    positioned,
                    notes.calls,
                    root.items,
                    notes.labels,
                    ofOneTable ? OptionalInt.of(root.from) : OptionalInt.empty(),
                    tree);
        } finally {
            end = outer;
            notes = outerNotes;
        }
    }

    void leaveOut(Span span) {
        notes.edits.add(new SqlText.Edit(span, ""));
    }

    /** Whatever still stands before the end: read for its names, kept as it is. */
    SqlStatement rest(SqlScope scope, SqlStatement read) {
        Token first = reader.peek();
        int before = reader.position();
        while (!atStop()) {
            values.region(scope, java.util.Set.of());
            if (!atStop()) {
                values.name(scope, reader.take());
            }
        }
        if (reader.position() == before) {
            return read;
        }
        Span rest = reader.since(first);
        Span whole = read.span().to(rest);
        return read instanceof Query query
                ? new Query.Ordered(whole, query, List.of(opaque(rest)))
                : unread(whole);
    }

    boolean atStop() {
        return reader.atEnd() || reader.seesAny(")", ";") || reader.sees(end);
    }

    /** Makes a closing bracket the end; gives what was it before. */
    String endAtBracket() {
        String outer = end;
        end = ")";
        return outer;
    }

    void endAt(String outer) {
        end = outer;
    }

    /** Statements of another kind, schema statements for one: nothing in them is resolved. */
    private SqlStatement anything(Token first) {
        Optional<Name> made = made();
        int depth = 0;
        while (!reader.atEnd() && !(depth == 0 && atStop()) && !reader.sees(";")) {
            Token token = reader.take();
            depth += token.is("(") ? 1 : token.is(")") ? -1 : 0;
        }
        Span span = reader.since(first);
        return new SqlStatement.Schema(span, first.text(), made, new SqlValue(span, nested));
    }

    /** {@code CREATE … {TABLE | VIEW} [IF NOT EXISTS] name}; nothing is taken. */
    private Optional<Name> made() {
        int ahead = 1;
        while (reader.sees("CREATE")
                && reader.peek(ahead).kind() == Token.Kind.WORD
                && !reader.peek(ahead).is("TABLE")
                && !reader.peek(ahead).is("VIEW")) {
            ahead++;
        }
        if (!reader.sees("CREATE") || reader.peek(ahead).kind() != Token.Kind.WORD) {
            return Optional.empty();
        }
        ahead++;
        if (reader.peek(ahead).is("IF")) {
            ahead += 3;
        }
        while (reader.peek(ahead + 1).is(".")) {
            ahead += 2;
        }
        Token name = reader.peek(ahead);
        return TokenReader.isName(name) ? Optional.of(reader.nameOf(name)) : Optional.empty();
    }

    /** {@code WHERE CURRENT OF cursor}; WHERE is taken already. */
    Clause currentOf(Token where) {
        Token current = reader.take();
        reader.take();
        Name cursor = reader.name("a cursor");
        positioned = Optional.of(new SqlText.Positioned(reader.since(current), cursor));
        return new Clause.CurrentOf(reader.since(where), cursor);
    }

    Clause intoClause() {
        Token word = reader.take();
        if (!intoReader.getAsBoolean()) {
            throw reader.failure(
                    word,
                    "INTO stands only in the outermost SELECT of a statement",
                    "take the value with SET v = (SELECT …)");
        }
        if (into.isPresent()) {
            throw reader.failure(word, "a second INTO in one statement", "keep one of them");
        }
        into = Optional.of(reader.since(word));
        return new Clause.Into(reader.since(word));
    }

    SqlStatement unread(Span span) {
        return new SqlStatement.Unread(span, new SqlValue(span, nested));
    }

    /** A clause that is not known. */
    Clause opaque(Span span) {
        return new Clause.Opaque(span, new SqlValue(span, nested));
    }

    /** A value that stands between two places. */
    SqlValue value(int from, int to) {
        return new SqlValue(reader.tokens(from, to), nested);
    }

    List<Name> qualified(String what) {
        List<Name> names = new ArrayList<>();
        names.add(reader.name(what));
        while (reader.accept(".")) {
            names.add(reader.name(what));
        }
        return names;
    }
}
