package dev.cantina.nativecode.postgresql;

import dev.cantina.nativecode.BodyParser;
import dev.cantina.nativecode.NativeStatement;
import dev.cantina.nativecode.NativeStatement.Kind;
import dev.cantina.nativecode.NativeStatement.Part;
import dev.cantina.nativecode.NativeStatement.Role;
import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.nativecode.NativeVariable;
import dev.cantina.nativecode.postgresql.PgLexer.Token;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/**
 * Reads the body of a PL/pgSQL routine into statements (PostgreSQL's documentation, chapter
 * PL/pgSQL). Expressions and queries stay text.
 */
public final class PlParser extends BodyParser<Token> {
    private static final Set<String> TWO_WORDS =
            Set.of(
                    "return next",
                    "return query",
                    "get diagnostics",
                    "get stacked",
                    "get current",
                    "insert into",
                    "delete from",
                    "start transaction");

    private PlParser(Source source, List<Token> tokens, int end) {
        super(source, tokens, 0, end, "body");
    }

    /**
     * The outermost block of a body.
     *
     * @param body what stands between the quotes
     * @param doubled whether quotes in it are doubled
     */
    public static NativeStatement parse(Span body, boolean doubled) throws NativeSyntaxException {
        List<Token> tokens = PgLexer.read(body.source(), body.start(), body.end(), doubled);
        PlParser parser = new PlParser(body.source(), tokens, body.end());
        parser.options();
        NativeStatement block = parser.statement();
        if (block.kind() != Kind.BLOCK) {
            throw new NativeSyntaxException(
                    block.span(), "a body is a block: [DECLARE …] BEGIN … END");
        }
        if (parser.sees(";")) {
            parser.at++;
        }
        if (parser.at < tokens.size()) {
            throw parser.unexpected("the end of the body");
        }
        return block;
    }

    private Optional<Token> peek(int offset) {
        return at + offset < tokens.size()
                ? Optional.of(tokens.get(at + offset))
                : Optional.empty();
    }

    @Override
    protected void semicolon() throws NativeSyntaxException {
        if (!passSemicolon()) {
            throw unexpected("a semicolon");
        }
    }

    /** {@code #option …} lines before the block. */
    private void options() throws NativeSyntaxException {
        while (sees("#")) {
            int line = source.lineOf(take().start());
            while (at < tokens.size() && source.lineOf(tokens.get(at).start()) == line) {
                at++;
            }
        }
    }

    /** The label of the statement that is read. */
    private String label = "";

    /** That of the block whose variables are read. */
    private String blockLabel = "";

    @Override
    protected NativeStatement statement() throws NativeSyntaxException {
        begins = at < tokens.size() ? tokens.get(at).start() : end;
        label = "";
        if (sees("<<")) {
            take();
            label = written(take());
            expect(">>");
        }
        Token first = peek(0).orElseThrow(() -> unexpected("a statement"));
        // A variable may be called like the word that begins a statement.
        boolean assigned =
                peek(1).map(t -> t.is(":=") || t.is("=") || t.is(".") || t.is("[")).orElse(false);
        if (first.kind() == PgLexer.Kind.WORD && !assigned) {
            switch (first.text()) {
                case "declare", "begin" -> {
                    return block();
                }
                case "if" -> {
                    return choice(Set.of("elsif", "elseif"));
                }
                case "case" -> {
                    return cases();
                }
                case "loop", "while", "for", "foreach" -> {
                    return loop();
                }
                case "end", "else", "elsif", "elseif", "when", "exception" ->
                        throw unexpected("a statement");
                default -> {
                    // What is left is simple.
                }
            }
        }
        return simple();
    }

    @Override
    protected String what(int from) {
        Token first = tokens.get(from);
        if (first.kind() != PgLexer.Kind.WORD) {
            return "ASSIGNMENT";
        }
        Token second = from + 1 < tokens.size() ? tokens.get(from + 1) : first;
        if (second.is(":=") || second.is("=") || second.is("[") || second.is(".")) {
            return "ASSIGNMENT";
        }
        String both = first.text() + " " + second.text();
        if (both.equals("get stacked") || both.equals("get current")) {
            return "GET DIAGNOSTICS";
        }
        return (TWO_WORDS.contains(both) ? both : first.text()).toUpperCase(Locale.ROOT);
    }

    private NativeStatement block() throws NativeSyntaxException {
        int from = at;
        int before = begins;
        blockLabel = label;
        List<NativeVariable> declared = new ArrayList<>();
        while (sees("declare")) {
            take();
            while (!sees("begin")) {
                if (sees("declare")) {
                    take();
                    continue;
                }
                declaration(declared);
            }
        }
        expect("begin");
        int begins = at - 1;
        List<Part> parts = new ArrayList<>();
        List<NativeStatement> body = list(Set.of("end", "exception"));
        parts.add(
                new Part(
                        Role.BODY,
                        source.span(tokens.get(begins).start(), tokens.get(begins).end()),
                        body));
        if (sees("exception")) {
            take();
            while (sees("when")) {
                int head = at;
                until(t -> t.is("then"), "THEN");
                expect("then");
                Span headSpan = span(head);
                parts.add(new Part(Role.HANDLER, headSpan, list(Set.of("when", "end"))));
            }
        }
        expect("end");
        closing();
        return new NativeStatement(-1, Kind.BLOCK, "BEGIN", before, span(from), parts, declared);
    }

    private void declaration(List<NativeVariable> declared) throws NativeSyntaxException {
        int from = at;
        Token name = take();
        if (!name.isName()) {
            at--;
            throw unexpected("a declaration");
        }
        int typeFrom = at;
        boolean constant = sees("constant");
        if (constant) {
            take();
            typeFrom = at;
        }
        NativeVariable.Kind kind =
                constant ? NativeVariable.Kind.CONSTANT : NativeVariable.Kind.LOCAL;
        boolean cursor = sees("cursor") || sees("no", "scroll") || sees("scroll", "cursor");
        if (sees("alias") || cursor) {
            kind = cursor ? NativeVariable.Kind.CURSOR : NativeVariable.Kind.SPECIAL;
            semicolon();
        } else {
            int depth = 0;
            while (at < tokens.size()
                    && !(depth == 0
                            && (sees(":=")
                                    || sees("=")
                                    || sees("default")
                                    || sees(";")
                                    || sees("not", "null")
                                    || sees("collate")))) {
                depth += sees("(") ? 1 : sees(")") ? -1 : 0;
                at++;
            }
            int typeTo = at;
            if (typeTo == typeFrom) {
                throw unexpected("a type");
            }
            semicolon();
            String type =
                    source.written()
                            .substring(tokens.get(typeFrom).start(), tokens.get(typeTo - 1).end());
            declared.add(new NativeVariable(written(name), type, kind, span(from), blockLabel));
            return;
        }
        if (kind == NativeVariable.Kind.CURSOR) {
            declared.add(
                    new NativeVariable(written(name), "refcursor", kind, span(from), blockLabel));
        }
    }

    private NativeStatement loop() throws NativeSyntaxException {
        int from = at;
        int own = number++;
        int before = begins;
        String loopLabel = label;
        Token first = take();
        List<NativeVariable> declared = new ArrayList<>();
        if (first.is("for")) {
            int names = at;
            until(t -> t.is("in"), "IN");
            boolean one = at == names + 1;
            Token name = tokens.get(names);
            int range = at;
            until(t -> t.is("loop"), "LOOP");
            boolean numbers = false;
            int depth = 0;
            for (int i = range; i < at; i++) {
                depth += tokens.get(i).is("(") ? 1 : tokens.get(i).is(")") ? -1 : 0;
                numbers |= depth == 0 && tokens.get(i).is("..");
            }
            if (one && numbers) {
                declared.add(
                        new NativeVariable(
                                written(name),
                                "integer",
                                NativeVariable.Kind.LOOP,
                                span(names),
                                loopLabel));
            } else if (one && tokens.get(range).is("in") && isCursorLoop(range, at)) {
                declared.add(
                        new NativeVariable(
                                written(name),
                                "record",
                                NativeVariable.Kind.LOOP,
                                span(names),
                                loopLabel));
            }
        } else if (!first.is("loop")) {
            until(t -> t.is("loop"), "LOOP");
        }
        if (!first.is("loop")) {
            expect("loop");
        }
        Span head = span(from);
        List<NativeStatement> body = list(Set.of("end"));
        expect("end");
        expect("loop");
        closing();
        return new NativeStatement(
                own,
                Kind.LOOP,
                first.text().toUpperCase(Locale.ROOT),
                before,
                span(from),
                List.of(new Part(Role.BODY, head, body)),
                declared);
    }

    /** Whether a loop's range is the name of a cursor, with arguments or without. */
    private boolean isCursorLoop(int in, int loop) {
        int first = in + 1;
        if (first >= loop || !tokens.get(first).isName()) {
            return false;
        }
        boolean query =
                Set.of(
                                "select", "with", "execute", "values", "table", "insert", "update",
                                "delete", "merge", "show", "explain", "reverse")
                        .contains(tokens.get(first).text());
        return !query && (first + 1 == loop || tokens.get(first + 1).is("("));
    }
}
