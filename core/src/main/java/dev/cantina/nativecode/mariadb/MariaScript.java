package dev.cantina.nativecode.mariadb;

import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.nativecode.mariadb.MariaLexer.Token;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;

/**
 * The statements of a script for MariaDB, with the DELIMITER lines of its clients. Where nobody has
 * set another delimiter, a routine ends where its body does.
 */
public final class MariaScript {
    private static final Set<String> STORED =
            Set.of("procedure", "function", "trigger", "event", "package");
    private static final Set<String> CLOSED_BY_NAME =
            Set.of("if", "loop", "while", "repeat", "for");

    /** A statement of a script, without its delimiter. */
    public record Statement(Span span, List<Token> tokens) {
        /** Whether it begins with these words, in lower case. */
        boolean begins(String... words) {
            for (int i = 0; i < words.length; i++) {
                if (i >= tokens.size() || !tokens.get(i).is(words[i])) {
                    return false;
                }
            }
            return true;
        }

        /** The place of what it creates among its tokens; -1 where it creates nothing stored. */
        int stored() {
            if (!begins("create")) {
                return -1;
            }
            int paren = 0;
            for (int i = 1; i < tokens.size() && i < 30; i++) {
                paren += tokens.get(i).is("(") ? 1 : tokens.get(i).is(")") ? -1 : 0;
                if (paren == 0 && STORED.contains(tokens.get(i).text())) {
                    return i;
                }
                if (tokens.get(i).is("table")
                        || tokens.get(i).is("view")
                        || tokens.get(i).is("as")) {
                    return -1;
                }
            }
            return -1;
        }
    }

    private final Source source;
    private final MariaLexer lexer;
    private final int end;
    private final List<Statement> statements = new ArrayList<>();
    private List<Token> open = new ArrayList<>();
    private String delimiter = ";";

    private MariaScript(Source source, int end) {
        this.source = source;
        this.lexer = new MariaLexer(source, 0, end);
        this.end = end;
    }

    /**
     * The statements of a source.
     *
     * @throws NativeSyntaxException where something in it has no end
     */
    public static List<Statement> of(Source source) throws NativeSyntaxException {
        MariaScript script = new MariaScript(source, source.written().length());
        script.read();
        return script.statements;
    }

    /** Reads a stretch as what stands before it has the server read texts. */
    static MariaLexer lexer(Source source, int from, int to) {
        MariaScript script = new MariaScript(source, from);
        try {
            script.read();
        } catch (NativeSyntaxException e) {
            // What has no end before it says nothing of the modes.
            return script.lexer.of(from, to);
        }
        return script.lexer.of(from, to);
    }

    private void read() throws NativeSyntaxException {
        String text = source.written();
        int depth = 0;
        while (true) {
            lexer.skip();
            int at = lexer.at();
            if (at >= end) {
                break;
            }
            if (open.isEmpty() && text.regionMatches(true, at, "delimiter", 0, 9)) {
                delimiterLine(at);
                continue;
            }
            boolean ends = text.startsWith(delimiter, at);
            if (ends && (!delimiter.equals(";") || depth <= 0)) {
                lexer.to(at + delimiter.length());
                close();
                depth = 0;
                continue;
            }
            Token token = lexer.next();
            open.add(token);
            depth = deeper(token, depth);
        }
        close();
    }

    private void delimiterLine(int at) throws NativeSyntaxException {
        String text = source.written();
        int line = text.indexOf('\n', at);
        int end = line < 0 ? text.length() : line;
        String said = text.substring(at + 9, end).strip();
        if (said.isEmpty()) {
            throw new NativeSyntaxException(
                    source.span(at, end),
                    "DELIMITER says what ends a statement, as in DELIMITER //");
        }
        delimiter = said.split("\\s")[0];
        lexer.delimiter(delimiter);
        lexer.to(end);
    }

    /** How deep in bodies that have semicolons of their own a token leads. */
    private int deeper(Token token, int depth) {
        Statement so = new Statement(null, open);
        // A block that is no part of a routine (Using Compound Statements Outside of Stored
        // Programs).
        boolean alone = so.begins("begin", "not", "atomic");
        if (alone && open.size() == 3) {
            return 1;
        }
        if (open.size() < 2 || so.stored() < 0 && !alone) {
            return 0;
        }
        Token before = open.get(open.size() - 2);
        if (token.is("begin") || token.is("case") && !before.is("end")) {
            return depth + 1;
        }
        if (before.is("end")) {
            // END alone, and END CASE, close what was counted.
            return CLOSED_BY_NAME.contains(token.text()) ? depth + 1 : depth;
        }
        return token.is("end") ? depth - 1 : depth;
    }

    /** SET sql_mode changes how the texts behind it are read; only what is written there counts. */
    private void modes() {
        if (!open.get(0).is("set")) {
            return;
        }
        for (int i = 1; i + 2 < open.size(); i++) {
            String name = open.get(i).text().toLowerCase(Locale.ROOT);
            if (name.equals("sql_mode") || name.startsWith("@@") && name.endsWith("sql_mode")) {
                boolean set = open.get(i + 1).is("=") || open.get(i + 1).is(":=");
                Token value = open.get(i + 2);
                if (set) {
                    boolean text = value.kind() == MariaLexer.Kind.STRING;
                    lexer.modes(text ? value.text().substring(1, value.text().length() - 1) : "");
                }
            }
        }
    }

    private void close() {
        if (!open.isEmpty()) {
            // Many write END; before a delimiter of their own.
            while (open.size() > 1 && open.get(open.size() - 1).is(";")) {
                open.remove(open.size() - 1);
            }
            modes();
            Span span = source.span(open.get(0).start(), open.get(open.size() - 1).end());
            // A comment that the server runs has its marks around the tokens.
            String text = source.written();
            int from = span.start();
            int before = text.lastIndexOf("/*", from);
            boolean marked =
                    before >= 0
                            && before > text.lastIndexOf("*/", from)
                            && text.substring(before, from).matches("/\\*M?!\\d*\\s*");
            int close = marked ? text.indexOf("*/", span.end()) : -1;
            statements.add(
                    new Statement(
                            marked && close >= 0 && text.substring(span.end(), close).isBlank()
                                    ? source.span(before, close + 2)
                                    : span,
                            open));
            open = new ArrayList<>();
        }
    }
}
