package dev.cantina.nativecode;

import dev.cantina.nativecode.NativeStatement.Kind;
import dev.cantina.nativecode.NativeStatement.Part;
import dev.cantina.nativecode.NativeStatement.Role;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.function.Predicate;

/**
 * Reads the body of a routine in a server's own language into statements: what those languages have
 * in common. Expressions and queries stay text.
 *
 * @param <T> the language's tokens
 */
public abstract class BodyParser<T extends NativeToken> {
    protected final Source source;
    protected final List<T> tokens;
    protected final int end;
    protected int at;

    /** The number of the next statement that is one by itself, in the order of the text. */
    protected int number;

    /** Where the statement that is read begins, with its label. */
    protected int begins;

    private final String whole;

    /**
     * @param end where the text ends
     * @param whole what the text is called in a message
     */
    protected BodyParser(Source source, List<T> tokens, int at, int end, String whole) {
        this.source = source;
        this.tokens = tokens;
        this.at = at;
        this.end = end;
        this.whole = whole;
    }

    /** One statement, with all that is in it. */
    protected abstract NativeStatement statement() throws NativeSyntaxException;

    /** What a simple statement is, by its first token, in a word or two. */
    protected abstract String what(int from);

    /** Goes behind the semicolon that ends a simple statement. */
    protected abstract void semicolon() throws NativeSyntaxException;

    // ---------------------------------------------------------------- tokens

    protected boolean sees(String... words) {
        for (int i = 0; i < words.length; i++) {
            if (at + i >= tokens.size() || !tokens.get(at + i).is(words[i])) {
                return false;
            }
        }
        return true;
    }

    protected T take() throws NativeSyntaxException {
        if (at >= tokens.size()) {
            throw unexpected("more");
        }
        return tokens.get(at++);
    }

    protected T expect(String word) throws NativeSyntaxException {
        if (!sees(word)) {
            throw unexpected(word.toUpperCase(Locale.ROOT));
        }
        return take();
    }

    protected NativeSyntaxException unexpected(String wanted) {
        if (at >= tokens.size()) {
            int place = tokens.isEmpty() ? end : tokens.get(tokens.size() - 1).start();
            return new NativeSyntaxException(
                    source.span(place, end),
                    "the " + whole + " ends where " + wanted + " should stand");
        }
        T found = tokens.get(at);
        return new NativeSyntaxException(
                source.span(found.start(), found.end()),
                found.text() + " stands where " + wanted + " should");
    }

    protected Span span(int from) {
        return source.span(
                tokens.get(Math.min(from, tokens.size() - 1)).start(),
                tokens.get(Math.max(from, at - 1)).end());
    }

    /** A name as the routine must write it. */
    protected String written(NativeToken name) {
        return source.written().substring(name.start(), name.end());
    }

    /** Goes to a token outside of brackets and of CASE … END. */
    protected void until(Predicate<T> stop, String wanted) throws NativeSyntaxException {
        int depth = 0;
        int cases = 0;
        while (at < tokens.size()) {
            T token = tokens.get(at);
            if (depth == 0 && cases == 0 && stop.test(token)) {
                return;
            }
            if (opens(token)) {
                depth++;
            } else if (closes(token)) {
                depth = Math.max(0, depth - 1);
            } else if (token.is("case")) {
                cases++;
            } else if (token.is("end")) {
                cases = Math.max(0, cases - 1);
            } else if (token.is(";") && depth == 0) {
                throw unexpected(wanted);
            }
            at++;
        }
        throw unexpected(wanted);
    }

    /** Goes behind the next semicolon outside of brackets; says whether there was one. */
    protected boolean passSemicolon() {
        int depth = 0;
        while (at < tokens.size()) {
            T token = tokens.get(at++);
            depth += opens(token) ? 1 : closes(token) ? -1 : 0;
            if (token.is(";") && depth <= 0) {
                return true;
            }
        }
        return false;
    }

    private static boolean opens(NativeToken token) {
        return token.is("(") || token.is("[");
    }

    private static boolean closes(NativeToken token) {
        return token.is(")") || token.is("]");
    }

    // ---------------------------------------------------------------- statements

    protected List<NativeStatement> list(Set<String> stops) throws NativeSyntaxException {
        List<NativeStatement> list = new ArrayList<>();
        while (at < tokens.size()
                && !(tokens.get(at).isWord() && stops.contains(tokens.get(at).text()))) {
            list.add(statement());
        }
        return list;
    }

    protected NativeStatement simple() throws NativeSyntaxException {
        int from = at;
        int own = number++;
        int before = begins;
        semicolon();
        return new NativeStatement(
                own, Kind.SIMPLE, what(from), before, span(from), List.of(), List.of());
    }

    /** A label, and the semicolon, behind END. */
    protected void closing() throws NativeSyntaxException {
        if (at < tokens.size() && tokens.get(at).isName()) {
            at++;
        }
        if (sees(";")) {
            at++;
        } else if (at < tokens.size()) {
            throw unexpected("a semicolon");
        }
    }

    /**
     * IF … END IF.
     *
     * @param again the words that begin a further condition
     */
    protected NativeStatement choice(Set<String> again) throws NativeSyntaxException {
        int from = at;
        int own = number++;
        int before = begins;
        List<Part> parts = new ArrayList<>();
        Set<String> stops = new java.util.HashSet<>(again);
        stops.addAll(Set.of("else", "end"));
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

    /** CASE … END CASE, as a statement. */
    protected NativeStatement cases() throws NativeSyntaxException {
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
}
