package dev.cantina.nativecode.postgresql;

import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.nativecode.postgresql.PgLexer.Kind;
import dev.cantina.nativecode.postgresql.PgLexer.Token;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** The statements of a script for PostgreSQL, with the rows of COPY FROM STDIN. */
public final class PgScript {
    /**
     * A statement of a script.
     *
     * @param span without its semicolon
     * @param data the lines that follow a COPY FROM STDIN
     */
    public record Statement(Span span, List<Token> tokens, Optional<String> data) {
        /** Whether it begins with these words, in lower case. */
        boolean begins(String... words) {
            for (int i = 0; i < words.length; i++) {
                if (i >= tokens.size() || !tokens.get(i).is(words[i])) {
                    return false;
                }
            }
            return true;
        }

        /** The place of the word TRIGGER in a CREATE TRIGGER; -1 where it is none. */
        int trigger() {
            int at = 1;
            while (at < tokens.size() && at < 5 && !tokens.get(at).is("trigger")) {
                at++;
            }
            boolean makes =
                    begins("create")
                            && at + 1 < tokens.size()
                            && tokens.get(at).is("trigger")
                            && !tokens.get(at - 1).is("event");
            return makes ? at : -1;
        }
    }

    private final Source source;
    private final List<Statement> statements = new ArrayList<>();
    private List<Token> open = new ArrayList<>();

    private PgScript(Source source) {
        this.source = source;
    }

    /**
     * The statements of a source.
     *
     * @throws NativeSyntaxException where something in it has no end, or is for the client alone
     */
    public static List<Statement> of(Source source) throws NativeSyntaxException {
        PgScript script = new PgScript(source);
        script.read();
        return script.statements;
    }

    private void read() throws NativeSyntaxException {
        int at = 0;
        int end = source.written().length();
        int depth = 0;
        int inside = 0;
        while (true) {
            Token token = PgLexer.token(source, at, end);
            if (token == null) {
                break;
            }
            at = token.end();
            if (open.isEmpty() && token.kind() == Kind.SYMBOL && token.text().startsWith("\\")) {
                at = clientLine(token);
                continue;
            }
            depth += token.is("(") || token.is("[") ? 1 : token.is(")") || token.is("]") ? -1 : 0;
            inside += atomic(token, inside);
            if (token.is(";") && depth <= 0 && inside == 0) {
                at = close(at);
                depth = 0;
                continue;
            }
            open.add(token);
        }
        if (!open.isEmpty()) {
            close(end);
        }
    }

    /** A body that is written out, BEGIN ATOMIC … END, has semicolons of its own. */
    private int atomic(Token token, int inside) {
        boolean begins = token.is("atomic") && !open.isEmpty() && last().is("begin");
        if (begins && inside == 0) {
            return 1;
        }
        if (inside > 0 && token.is("case")) {
            return 1;
        }
        return inside > 0 && token.is("end") ? -1 : 0;
    }

    private Token last() {
        return open.get(open.size() - 1);
    }

    private int close(int at) {
        int next = at;
        if (!open.isEmpty()) {
            Span span = source.span(open.get(0).start(), last().end());
            Statement statement = new Statement(span, open, Optional.empty());
            boolean copies =
                    statement.begins("copy")
                            && open.stream().anyMatch(t -> t.is("stdin"))
                            && open.stream().anyMatch(t -> t.is("from"));
            if (copies) {
                String text = source.written();
                int from = text.indexOf('\n', at) + 1;
                int stop = from == 0 ? -1 : text.indexOf("\n\\.", from - 1);
                int to = stop < 0 ? text.length() : stop + 1;
                statement =
                        new Statement(
                                span,
                                open,
                                Optional.of(
                                        from == 0 ? "" : text.substring(from, Math.max(from, to))));
                int line = stop < 0 ? -1 : text.indexOf('\n', stop + 1);
                next = line < 0 ? text.length() : line + 1;
            }
            statements.add(statement);
            open = new ArrayList<>();
        }
        return next;
    }

    /** A line for the client: those that a dump has say nothing that matters here. */
    private int clientLine(Token token) throws NativeSyntaxException {
        String text = source.written();
        int line = text.indexOf('\n', token.start());
        int end = line < 0 ? text.length() : line;
        String said = text.substring(token.start(), end).strip();
        if (!said.matches("\\\\(restrict|unrestrict|echo|set|pset|timing|encoding)\\b.*")) {
            throw new NativeSyntaxException(
                    source.span(token.start(), end),
                    said.split("\\s")[0]
                            + " is for a client of the server, which this is not; leave the line out");
        }
        return end;
    }
}
