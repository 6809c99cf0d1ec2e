package dev.cantina.syntax;

import java.util.List;
import java.util.Set;

/** The parser's hand on the tokens: looks, takes, expects, and knows the reserved words. */
final class TokenReader {
    /** Thrown to leave a production; caught where the text can be picked up again. */
    static final class Failure extends RuntimeException {
        private static final long serialVersionUID = 1L;
        private final transient Problem problem;

        Failure(Problem problem) {
            super(problem.message(), null, false, false);
            this.problem = problem;
        }

        Problem problem() {
            return problem;
        }
    }

    /** How deep blocks and brackets may stand in each other: a bound on the parser's own stack. */
    static final int MAXIMUM_DEPTH = 400;

    /** The words of ISO 9075 that the grammar needs kept free. */
    private static final Set<String> RESERVED =
            Set.of(
                    ("ALL AND ANY ARRAY AS BEGIN BETWEEN BY CALL CASE CAST CREATE CROSS "
                                    + "DECLARE DEFAULT DELETE DISTINCT DO ELSE ELSEIF END EXCEPT EXISTS FALSE "
                                    + "FETCH FOR FROM FULL FUNCTION GROUP HAVING IF IN INNER INSERT INTERSECT "
                                    + "INTO IS ITERATE JOIN LEAVE LEFT LIKE LOOP MERGE NATURAL NOT NULL "
                                    + "OFFSET ON OR ORDER OUT OUTER PROCEDURE REPEAT RESIGNAL RETURN RETURNS "
                                    + "RIGHT SELECT SET SIGNAL TABLE THEN TRIGGER TRUE UNION UNKNOWN UNTIL "
                                    + "UPDATE USING VALUES WHEN WHERE WHILE WITH")
                            .split(" "));

    private final Source source;
    private final Token[] tokens;
    private int at;
    private int depth;

    TokenReader(Source source, List<Token> tokens) {
        this.source = source;
        this.tokens = tokens.toArray(new Token[0]);
    }

    static boolean isReserved(String word) {
        return RESERVED.contains(word);
    }

    Token peek() {
        return tokens[at];
    }

    Token peek(int ahead) {
        return tokens[Math.max(0, Math.min(at + ahead, tokens.length - 1))];
    }

    Token take() {
        Token token = tokens[at];
        if (at < tokens.length - 1) {
            at++;
        }
        return token;
    }

    boolean atEnd() {
        return peek().kind() == Token.Kind.END;
    }

    int position() {
        return at;
    }

    void goTo(int position) {
        at = position;
    }

    /** Whether the next token is this word or symbol. */
    boolean sees(String word) {
        return tokens[at].is(word);
    }

    /** Whether the next tokens are these words or symbols. */
    boolean sees(String... words) {
        for (int i = 0; i < words.length; i++) {
            if (!peek(i).is(words[i])) {
                return false;
            }
        }
        return true;
    }

    boolean sees(String first, String second) {
        return tokens[at].is(first) && peek(1).is(second);
    }

    boolean seesAny(String one, String other) {
        Token next = tokens[at];
        return next.is(one) || next.is(other);
    }

    boolean seesAny(String one, String other, String third) {
        Token next = tokens[at];
        return next.is(one) || next.is(other) || next.is(third);
    }

    boolean seesAny(String... words) {
        for (String word : words) {
            if (tokens[at].is(word)) {
                return true;
            }
        }
        return false;
    }

    boolean accept(String word) {
        if (!sees(word)) {
            return false;
        }
        at++;
        return true;
    }

    boolean accept(String first, String second) {
        if (!sees(first, second)) {
            return false;
        }
        at += 2;
        return true;
    }

    boolean accept(String... words) {
        if (!sees(words)) {
            return false;
        }
        at += words.length;
        return true;
    }

    Token expect(String word, String where) {
        if (!peek().is(word)) {
            throw expected(
                    word.length() > 1 || Character.isLetter(word.charAt(0))
                            ? word
                            : "'" + word + "'",
                    where);
        }
        return take();
    }

    /** The END of what began with {@code word} at {@code first}. */
    void expectEnd(String word, Token first) {
        if (!accept("END")) {
            throw expected("END", "to close " + word + " at line " + spanOf(first).line());
        }
    }

    /** An identifier; {@code what} says what it would have named. */
    Name name(String what) {
        if (!seesName()) {
            throw expected("the name of " + what, "");
        }
        return nameOf(take());
    }

    boolean seesName() {
        return isName(peek());
    }

    static boolean isName(Token token) {
        return token.kind() == Token.Kind.DELIMITED
                || token.kind() == Token.Kind.WORD && !isReserved(token.text());
    }

    Name nameOf(Token token) {
        Span span = spanOf(token);
        boolean delimited = token.kind() == Token.Kind.DELIMITED;
        return new Name(token.written(), delimited, span, token.text());
    }

    /** A reserved word that is also the name of a function: {@code LEFT('ab', 1)}. */
    boolean isReservedCall() {
        return peek(1).is("(") && seesAny("LEFT", "RIGHT", "INSERT", "REPEAT");
    }

    Span spanOf(Token token) {
        return source.span(token.start(), token.end());
    }

    /** From the start of {@code first} to the end of what was taken last. */
    Span since(Token first) {
        return source.span(first.start(), Math.max(first.end(), lastEnd()));
    }

    /** From the token at {@code from} up to and without that at {@code to}. */
    Span tokens(int from, int to) {
        int start = tokens[from].start();
        return source.span(start, to > from ? tokens[to - 1].end() : start);
    }

    Span between(int start, int end) {
        return source.span(start, end);
    }

    int lastEnd() {
        return at == 0 ? 0 : tokens[at - 1].end();
    }

    void enter() {
        if (++depth > MAXIMUM_DEPTH) {
            depth = 0;
            throw new Failure(
                    Problem.error(
                            spanOf(peek()),
                            "syntax",
                            "nested more than " + MAXIMUM_DEPTH + " deep",
                            "move the inner part into a routine or a variable of its own"));
        }
    }

    void leave() {
        depth--;
    }

    int depth() {
        return depth;
    }

    void depth(int value) {
        depth = value;
    }

    /** A failure that says what was expected, where, and what stands there instead. */
    Failure expected(String what, String where) {
        Token found = peek();
        String place = where.isEmpty() ? "" : " " + where;
        // What is missing at the end of a line belongs there, not at the start of the next one.
        boolean missing = found.kind() == Token.Kind.END;
        Span span =
                missing && at > 0
                        ? source.span(tokens[at - 1].start(), tokens[at - 1].end())
                        : spanOf(found);
        Problem problem =
                Problem.error(
                        span, "syntax", "expected " + what + place + ", found " + describe(found));
        boolean sign = what.length() == 3 && what.charAt(0) == '\'';
        String words = sign ? what.substring(1, 2) : " " + what;
        return new Failure(
                at > 0 && (sign || isWords(what))
                        ? problem.with(
                                source.span(tokens[at - 1].end(), tokens[at - 1].end()), words)
                        : problem);
    }

    /** Whether what is expected is what to write, and not a kind of thing. */
    private static boolean isWords(String what) {
        return what.chars().allMatch(c -> c == ' ' || c >= 'A' && c <= 'Z');
    }

    Failure failure(Token at, String message, String hint) {
        return new Failure(Problem.error(spanOf(at), "syntax", message, hint));
    }

    private String describe(Token token) {
        if (token.kind() == Token.Kind.END) {
            return "the end of the text";
        }
        String text = source.text().substring(token.start(), token.end());
        if (token.kind() == Token.Kind.TEXT && text.length() > 30) {
            return "a text";
        }
        return token.kind() == Token.Kind.SYMBOL ? "'" + text + "'" : text;
    }
}
