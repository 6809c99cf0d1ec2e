package dev.cantina.syntax;

import java.util.ArrayDeque;
import java.util.Deque;
import java.util.List;
import java.util.Set;

/**
 * Takes the comments out of the middle of statements, so that nobody who looks at a statement's
 * text meets one. A comment before a statement, or after it, is its author's word to the reader and
 * stays. Every character keeps its place: a comment becomes as many blanks.
 */
final class Comments {
    /** Statements that have statements in them; all others end at their semicolon. */
    private static final Set<String> CONTROL =
            Set.of(
                    "BEGIN", "CASE", "FOR", "IF", "LOOP", "REPEAT", "WHILE", "END", "ELSE",
                    "ELSEIF", "WHEN", "UNTIL");

    /** What may be followed by a statement. */
    private static final Set<String> OPENERS =
            Set.of("ATOMIC", "BEGIN", "DO", "ELSE", "LOOP", "REPEAT", "THEN");

    /** A comment, and which token comes behind it. */
    record Comment(int start, int end, int next) {}

    private final List<Token> tokens;

    /** The CASE expressions that are open. */
    private final Deque<Integer> cases = new ArrayDeque<>();

    private boolean control = true;

    private Comments(List<Token> tokens) {
        this.tokens = tokens;
    }

    /** A text with the comments in its statements blank. */
    static String masked(String text, List<Token> tokens, List<Comment> comments) {
        if (comments.isEmpty()) {
            return text;
        }
        Comments reading = new Comments(tokens);
        StringBuilder masked = new StringBuilder(text);
        int token = 0;
        boolean starts = true;
        for (Comment comment : comments) {
            while (token < comment.next()) {
                starts = reading.pass(token++, starts);
            }
            boolean ends = comment.next() > 0 && tokens.get(comment.next() - 1).is(";");
            Token next = tokens.get(comment.next());
            boolean last = next.kind() == Token.Kind.END;
            boolean inHead = next.is("ATOMIC") || next.is("NOT");
            if (inHead || !starts && !ends && !last) {
                blank(masked, comment);
            } else {
                flatten(masked, comment);
            }
        }
        return masked.toString();
    }

    /** Not every server knows comments in comments: the inner ones lose their signs. */
    private static void flatten(StringBuilder text, Comment comment) {
        for (int i = comment.start() + 2; i + 3 < comment.end(); i++) {
            boolean opens = text.charAt(i) == '/' && text.charAt(i + 1) == '*';
            boolean closes = text.charAt(i) == '*' && text.charAt(i + 1) == '/';
            if (text.charAt(comment.start()) == '/' && (opens || closes)) {
                text.setCharAt(i, ' ');
                text.setCharAt(i + 1, ' ');
            }
        }
    }

    private static void blank(StringBuilder text, Comment comment) {
        for (int i = comment.start(); i < comment.end(); i++) {
            if (text.charAt(i) != '\n' && text.charAt(i) != '\r') {
                text.setCharAt(i, ' ');
            }
        }
    }

    /** Whether a statement may begin behind a token, given whether one may begin with it. */
    private boolean pass(int index, boolean starts) {
        Token token = tokens.get(index);
        if (token.is(";")) {
            cases.clear();
            control = true;
            return true;
        }
        if (token.is(":") && index > 0) {
            control = true;
            return true;
        }
        if (token.kind() != Token.Kind.WORD) {
            control &= !starts;
            return false;
        }
        String word = token.text();
        if (starts) {
            // A label is followed by a colon, which begins anew.
            control = CONTROL.contains(word);
        } else if (word.equals("CASE")) {
            cases.push(index);
        } else if (word.equals("END") && !cases.isEmpty()) {
            cases.pop();
            return false;
        }
        if (word.equals("BEGIN")) {
            control = true;
            cases.clear();
        }
        return control && cases.isEmpty() && OPENERS.contains(word);
    }
}
