package dev.cantina.syntax;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * Takes the name of the schema that a file's routines are created in out of the file: what is
 * called {@code depot.add_ints} there is the project's own {@code add_ints}. Every character keeps
 * its place.
 */
final class OwnSchema {
    private static final Set<String> KINDS = Set.of("PROCEDURE", "FUNCTION", "TRIGGER");

    private final List<Token> tokens;
    private final Optional<String> schema;
    private final Set<Integer> headers = new HashSet<>();

    /**
     * @param said the schema that the project says is its own
     */
    OwnSchema(List<Token> tokens, Optional<String> said) {
        this.tokens = tokens;
        Optional<String> found = said;
        for (int i = 0; i + 2 < tokens.size(); i++) {
            int name = header(i);
            if (name >= 0 && isQualified(name)) {
                headers.add(name);
                found = found.isPresent() ? found : Optional.of(tokens.get(name).text());
            }
        }
        this.schema = found;
    }

    /** The schema's key; empty where none is named. */
    Optional<String> schema() {
        return schema;
    }

    /** Where the name begins of a routine that is created at a place; -1 where none is. */
    private int header(int at) {
        if (!tokens.get(at).is("CREATE")) {
            return -1;
        }
        int kind = at + 1;
        if (is(kind, "OR") && is(kind + 1, "REPLACE")) {
            kind += 2;
        }
        if (kind >= tokens.size() || !KINDS.contains(tokens.get(kind).text())) {
            return -1;
        }
        return is(kind + 1, "IF") ? kind + 4 : kind + 1;
    }

    private boolean is(int at, String word) {
        return at < tokens.size() && tokens.get(at).is(word);
    }

    private boolean isQualified(int at) {
        return at + 2 < tokens.size()
                && TokenReader.isName(tokens.get(at))
                && tokens.get(at + 1).is(".")
                && (tokens.get(at + 2).kind() == Token.Kind.WORD
                        || tokens.get(at + 2).kind() == Token.Kind.DELIMITED);
    }

    /** The tokens without it, and the text with blanks in its place. */
    List<Token> without(StringBuilder text) {
        if (schema.isEmpty()) {
            return tokens;
        }
        // Where the word also names something else, only what is created has it taken off.
        boolean other = false;
        for (int i = 0; i < tokens.size(); i++) {
            boolean qualifies = isQualified(i) && (i == 0 || !tokens.get(i - 1).is("."));
            other |= isSchema(i) && !qualifies;
        }
        List<Token> left = new ArrayList<>(tokens.size());
        for (int i = 0; i < tokens.size(); i++) {
            boolean qualifies =
                    isSchema(i) && isQualified(i) && (i == 0 || !tokens.get(i - 1).is("."));
            if (qualifies && (!other || headers.contains(i))) {
                for (int at = tokens.get(i).start(); at < tokens.get(i + 1).end(); at++) {
                    text.setCharAt(at, text.charAt(at) == '\n' ? '\n' : ' ');
                }
                i++;
            } else {
                left.add(tokens.get(i));
            }
        }
        return left;
    }

    private boolean isSchema(int at) {
        Token token = tokens.get(at);
        return (token.kind() == Token.Kind.WORD || token.kind() == Token.Kind.DELIMITED)
                && token.text().equals(schema.get());
    }
}
