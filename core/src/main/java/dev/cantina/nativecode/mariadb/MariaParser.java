package dev.cantina.nativecode.mariadb;

import dev.cantina.nativecode.BodyParser;
import dev.cantina.nativecode.NativeStatement;
import dev.cantina.nativecode.NativeStatement.Kind;
import dev.cantina.nativecode.NativeStatement.Part;
import dev.cantina.nativecode.NativeStatement.Role;
import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.nativecode.NativeVariable;
import dev.cantina.nativecode.mariadb.MariaLexer.Token;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;

/**
 * Reads the body of a stored routine or trigger of MariaDB into statements (its documentation,
 * Programmatic and Compound Statements). Expressions and queries stay text.
 */
public final class MariaParser extends BodyParser<Token> {
    private static final Set<String> TWO_WORDS =
            Set.of(
                    "insert into",
                    "delete from",
                    "start transaction",
                    "replace into",
                    "get diagnostics");

    private MariaParser(Source source, List<Token> tokens, int at) {
        super(source, tokens, at, tokens.get(tokens.size() - 1).end(), "routine");
    }

    /** The body of a routine: one statement, most often a block. */
    static NativeStatement parse(MariaRoutine routine) throws NativeSyntaxException {
        if (routine.body() < 0) {
            throw new NativeSyntaxException(routine.nameSpan(), "its body can't be found");
        }
        MariaParser parser =
                new MariaParser(
                        routine.span().source(), routine.statement().tokens(), routine.body());
        NativeStatement body = parser.statement();
        if (parser.at < parser.tokens.size()) {
            throw parser.unexpected("the end of the routine");
        }
        return body;
    }

    /**
     * Where a statement ends.
     *
     * @param at its first token
     * @return the token behind it, and behind its semicolon
     */
    static int end(Source source, List<Token> tokens, int at) throws NativeSyntaxException {
        MariaParser parser = new MariaParser(source, tokens, at);
        parser.statement();
        return parser.at;
    }

    /** The last of a routine may have none. */
    @Override
    protected void semicolon() {
        passSemicolon();
    }

    @Override
    protected NativeStatement statement() throws NativeSyntaxException {
        if (at >= tokens.size()) {
            throw unexpected("a statement");
        }
        begins = tokens.get(at).start();
        if (tokens.get(at).isName() && at + 1 < tokens.size() && tokens.get(at + 1).is(":")) {
            at += 2;
        }
        if (at >= tokens.size()) {
            throw unexpected("a statement");
        }
        Token first = tokens.get(at);
        if (first.kind() == MariaLexer.Kind.WORD) {
            switch (first.text()) {
                case "begin" -> {
                    return block();
                }
                case "if" -> {
                    return choice(Set.of("elseif"));
                }
                case "case" -> {
                    return cases();
                }
                case "loop", "while", "repeat", "for" -> {
                    return loop();
                }
                case "end", "else", "elseif", "when", "until", "declare" ->
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
        Token second = tokens.get(Math.min(from + 1, tokens.size() - 1));
        String both = first.text() + " " + second.text();
        return (TWO_WORDS.contains(both) ? both : first.text()).toUpperCase(Locale.ROOT);
    }

    private NativeStatement block() throws NativeSyntaxException {
        int from = at;
        int before = begins;
        expect("begin");
        if (sees("not", "atomic")) {
            at += 2;
        }
        List<NativeVariable> declared = new ArrayList<>();
        List<Part> parts = new ArrayList<>();
        List<Part> handlers = new ArrayList<>();
        Span head = span(from);
        while (sees("declare")) {
            declaration(declared, handlers);
        }
        parts.add(new Part(Role.BODY, head, list(Set.of("end"))));
        parts.addAll(handlers);
        expect("end");
        closing();
        return new NativeStatement(-1, Kind.BLOCK, "BEGIN", before, span(from), parts, declared);
    }

    private void declaration(List<NativeVariable> declared, List<Part> handlers)
            throws NativeSyntaxException {
        int from = at;
        expect("declare");
        if (sees("continue", "handler") || sees("exit", "handler") || sees("undo", "handler")) {
            int head = at;
            until(t -> t.is("for"), "FOR");
            at++;
            condition();
            while (sees(",")) {
                at++;
                condition();
            }
            Span headSpan = span(head);
            handlers.add(new Part(Role.HANDLER, headSpan, List.of(statement())));
            return;
        }
        Token name = take();
        if (sees("cursor") || sees("condition")) {
            boolean cursor = sees("cursor");
            semicolon();
            if (cursor) {
                declared.add(
                        new NativeVariable(
                                written(name), "cursor", NativeVariable.Kind.CURSOR, span(from)));
            }
            return;
        }
        List<Token> names = new ArrayList<>(List.of(name));
        while (sees(",")) {
            at++;
            names.add(take());
        }
        int typeFrom = at;
        while (at < tokens.size() && !sees("default") && !sees(";") && !sees(":=")) {
            at++;
        }
        if (typeFrom >= tokens.size() || at == typeFrom) {
            throw unexpected("a type");
        }
        String type =
                source.written().substring(tokens.get(typeFrom).start(), tokens.get(at - 1).end());
        semicolon();
        for (Token one : names) {
            declared.add(
                    new NativeVariable(written(one), type, NativeVariable.Kind.LOCAL, span(from)));
        }
    }

    /** What a handler is for: a state, a number, a name, or a kind. */
    private void condition() throws NativeSyntaxException {
        if (sees("sqlstate")) {
            at++;
            if (sees("value")) {
                at++;
            }
            at++;
        } else if (sees("not", "found")) {
            at += 2;
        } else {
            take();
        }
    }

    /**
     * The type of the row that goes through {@code IN (query)} or {@code IN cursor}: as one would
     * declare it where that can be said, else with the query.
     */
    private String rowOf(int range) {
        int from = range + 1;
        if (from >= at || !tokens.get(range).is("in")) {
            return "row";
        }
        String written =
                source.written().substring(tokens.get(from).start(), tokens.get(at - 1).end());
        boolean cursor = tokens.get(from).isName() && !tokens.get(from).is("(");
        return cursor ? "row type of " + written(tokens.get(from)) : "row of " + written;
    }

    private NativeStatement loop() throws NativeSyntaxException {
        int from = at;
        int own = number++;
        int before = begins;
        Token first = take();
        List<NativeVariable> declared = new ArrayList<>();
        if (first.is("for")) {
            Token name = take();
            int range = at;
            until(t -> t.is("do"), "DO");
            boolean numbers = false;
            for (int i = range; i < at; i++) {
                numbers |= tokens.get(i).is("..");
            }
            declared.add(
                    new NativeVariable(
                            written(name),
                            numbers ? "bigint" : rowOf(range),
                            NativeVariable.Kind.LOOP,
                            source.span(name.start(), name.end())));
        }
        if (first.is("while") || first.is("for")) {
            until(t -> t.is("do"), "DO");
            expect("do");
        }
        Span head = span(from);
        List<NativeStatement> body = list(Set.of("end", "until"));
        if (first.is("repeat")) {
            expect("until");
            until(t -> t.is("end"), "END REPEAT");
        }
        expect("end");
        expect(first.text());
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
}
