package dev.cantina.nativecode.mariadb;

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
import java.util.function.Predicate;

/**
 * Reads the body of a stored routine or trigger of MariaDB into statements (its documentation,
 * Programmatic and Compound Statements). Expressions and queries stay text.
 */
public final class MariaParser {
    private static final Set<String> TWO_WORDS =
            Set.of(
                    "insert into",
                    "delete from",
                    "start transaction",
                    "replace into",
                    "get diagnostics");

    private final Source source;
    private final List<Token> tokens;
    private int at;
    private int number;
    private int begins;

    private MariaParser(Source source, List<Token> tokens, int at) {
        this.source = source;
        this.tokens = tokens;
        this.at = at;
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

    // ---------------------------------------------------------------- tokens

    private boolean sees(String... words) {
        for (int i = 0; i < words.length; i++) {
            if (at + i >= tokens.size() || !tokens.get(at + i).is(words[i])) {
                return false;
            }
        }
        return true;
    }

    private Token take() throws NativeSyntaxException {
        if (at >= tokens.size()) {
            throw unexpected("more");
        }
        return tokens.get(at++);
    }

    private void expect(String word) throws NativeSyntaxException {
        if (!sees(word)) {
            throw unexpected(word.toUpperCase(Locale.ROOT));
        }
        at++;
    }

    private NativeSyntaxException unexpected(String wanted) {
        Token found = tokens.get(Math.min(at, tokens.size() - 1));
        return new NativeSyntaxException(
                source.span(found.start(), found.end()),
                at >= tokens.size()
                        ? "the routine ends where " + wanted + " should stand"
                        : found.text() + " stands where " + wanted + " should");
    }

    private Span span(int from) {
        return source.span(
                tokens.get(Math.min(from, tokens.size() - 1)).start(),
                tokens.get(Math.max(from, at - 1)).end());
    }

    /** Goes to a token outside of brackets and of CASE … END. */
    private void until(Predicate<Token> stop, String wanted) throws NativeSyntaxException {
        int depth = 0;
        int cases = 0;
        while (at < tokens.size()) {
            Token token = tokens.get(at);
            if (depth == 0 && cases == 0 && stop.test(token)) {
                return;
            }
            depth += token.is("(") ? 1 : token.is(")") ? -1 : 0;
            cases += token.is("case") ? 1 : token.is("end") ? -1 : 0;
            if (token.is(";") && depth <= 0) {
                throw unexpected(wanted);
            }
            at++;
        }
        throw unexpected(wanted);
    }

    /** Goes behind the semicolon that ends a statement; the last of a routine may have none. */
    private void semicolon() {
        int depth = 0;
        while (at < tokens.size()) {
            Token token = tokens.get(at);
            depth += token.is("(") ? 1 : token.is(")") ? -1 : 0;
            at++;
            if (token.is(";") && depth <= 0) {
                return;
            }
        }
    }

    // ---------------------------------------------------------------- statements

    private boolean atEnd(Set<String> stops) {
        return at >= tokens.size()
                || tokens.get(at).kind() == MariaLexer.Kind.WORD
                        && stops.contains(tokens.get(at).text());
    }

    private List<NativeStatement> list(Set<String> stops) throws NativeSyntaxException {
        List<NativeStatement> list = new ArrayList<>();
        while (!atEnd(stops)) {
            list.add(statement());
        }
        return list;
    }

    private NativeStatement statement() throws NativeSyntaxException {
        if (at >= tokens.size()) {
            throw unexpected("a statement");
        }
        begins = tokens.get(at).start();
        if (tokens.get(at).isName() && at + 1 < tokens.size() && tokens.get(at + 1).is(":")) {
            at += 2;
        }
        Token first = tokens.get(Math.min(at, tokens.size() - 1));
        if (first.kind() == MariaLexer.Kind.WORD) {
            switch (first.text()) {
                case "begin" -> {
                    return block();
                }
                case "if" -> {
                    return choice();
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
        int from = at;
        int own = number++;
        int before = begins;
        semicolon();
        return new NativeStatement(
                own, Kind.SIMPLE, what(from), before, span(from), List.of(), List.of());
    }

    private String what(int from) {
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

    /** A label, and the semicolon, behind END. */
    private void closing() throws NativeSyntaxException {
        if (at < tokens.size() && tokens.get(at).isName()) {
            at++;
        }
        if (sees(";")) {
            at++;
        } else if (at < tokens.size()) {
            throw unexpected("a semicolon");
        }
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

    private String written(Token name) {
        return source.written().substring(name.start(), name.end());
    }

    private NativeStatement choice() throws NativeSyntaxException {
        int from = at;
        int own = number++;
        int before = begins;
        List<Part> parts = new ArrayList<>();
        Set<String> stops = Set.of("elseif", "else", "end");
        Role role = Role.BODY;
        while (true) {
            int head = at;
            take();
            if (role == Role.BODY) {
                until(t -> t.is("then"), "THEN");
                expect("then");
            }
            Span headSpan = span(head);
            parts.add(new Part(role, headSpan, list(stops)));
            if (sees("end")) {
                break;
            }
            if (role == Role.OTHERWISE) {
                throw unexpected("END IF");
            }
            role = sees("else") ? Role.OTHERWISE : Role.BODY;
        }
        expect("end");
        expect("if");
        closing();
        return new NativeStatement(own, Kind.CHOICE, "IF", before, span(from), parts, List.of());
    }

    private NativeStatement cases() throws NativeSyntaxException {
        int from = at;
        int own = number++;
        int before = begins;
        expect("case");
        if (!sees("when")) {
            until(t -> t.is("when"), "WHEN");
        }
        List<Part> parts = new ArrayList<>();
        Set<String> stops = Set.of("when", "else", "end");
        while (sees("when")) {
            int head = at;
            take();
            until(t -> t.is("then"), "THEN");
            expect("then");
            Span headSpan = span(head);
            parts.add(new Part(Role.BODY, headSpan, list(stops)));
        }
        if (sees("else")) {
            int head = at;
            take();
            Span headSpan = span(head);
            parts.add(new Part(Role.OTHERWISE, headSpan, list(Set.of("end"))));
        }
        expect("end");
        expect("case");
        closing();
        return new NativeStatement(own, Kind.CHOICE, "CASE", before, span(from), parts, List.of());
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
                            numbers ? "bigint" : "row",
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
