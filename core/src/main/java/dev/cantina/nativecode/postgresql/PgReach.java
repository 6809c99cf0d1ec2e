package dev.cantina.nativecode.postgresql;

import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.nativecode.postgresql.PgLexer.Token;
import dev.cantina.nativecode.postgresql.PgScript.Statement;
import dev.cantina.syntax.Source;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Deque;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * What a text may set off of a project's statements, by the names in it: routines, the tables and
 * views that they name, and the triggers of those. More than what it does set off, never less.
 */
final class PgReach {
    /** What follows CREATE where a statement is about the names in it, and no others. */
    private static final Set<String> RELATIONS =
            Set.of("table", "view", "sequence", "index", "trigger", "rule", "policy");

    /** What is only said of what is there, or is done once and for all. */
    private static final Set<String> SAID =
            Set.of("comment", "grant", "revoke", "set", "reset", "insert", "select", "copy");

    private final Map<String, List<Statement>> about = new HashMap<>();
    private final Map<Statement, Set<String>> names = new HashMap<>();
    private final Set<Statement> executing = new HashSet<>();
    private final Set<String> always = new HashSet<>();

    /**
     * @param statements all of a project
     */
    PgReach(List<Statement> statements) {
        Set<String> known = new HashSet<>();
        for (Statement statement : statements) {
            List<Token> tokens = statement.tokens();
            PgRoutine.of(statement)
                    .ifPresentOrElse(r -> known.add(r.name()), () -> known.addAll(created(tokens)));
        }
        for (Statement statement : statements) {
            Set<String> named = new HashSet<>(words(statement));
            named.retainAll(known);
            names.put(statement, named);
            boolean routine = PgRoutine.of(statement).isPresent();
            boolean relation =
                    statement.tokens().stream()
                            .limit(6)
                            .anyMatch(t -> RELATIONS.stream().anyMatch(t::is));
            if (routine) {
                add(PgRoutine.of(statement).orElseThrow().name(), statement);
            } else if (relation) {
                named.forEach(name -> add(name, statement));
            } else if (SAID.stream().noneMatch(statement.tokens().get(0)::is)) {
                always.addAll(named);
            }
        }
    }

    private void add(String name, Statement statement) {
        about.computeIfAbsent(name, n -> new ArrayList<>()).add(statement);
    }

    /** The name of a relation that a statement makes, without its schema. */
    private static List<String> created(List<Token> tokens) {
        int at = 0;
        while (at < tokens.size() && at < 6 && RELATIONS.stream().noneMatch(tokens.get(at)::is)) {
            at++;
        }
        if (at >= Math.min(tokens.size(), 6) || !tokens.get(0).is("create")) {
            return List.of();
        }
        at++;
        while (at < tokens.size() && isExists(tokens.get(at))) {
            at++;
        }
        while (at + 2 < tokens.size() && tokens.get(at + 1).is(".")) {
            at += 2;
        }
        return at < tokens.size() && tokens.get(at).isName()
                ? List.of(tokens.get(at).text())
                : List.of();
    }

    private static boolean isExists(Token token) {
        return token.is("if") || token.is("not") || token.is("exists");
    }

    private Collection<String> words(Statement statement) {
        Set<String> words = new HashSet<>();
        read(statement.tokens(), statement, words);
        PgRoutine.of(statement)
                .filter(r -> r.body().isPresent())
                .ifPresent(
                        r -> {
                            try {
                                read(
                                        PgLexer.read(
                                                r.body().get().source(),
                                                r.body().get().start(),
                                                r.body().get().end(),
                                                r.doubled()),
                                        statement,
                                        words);
                            } catch (NativeSyntaxException e) {
                                // What can't be read may run anything.
                                executing.add(statement);
                            }
                        });
        return words;
    }

    private void read(List<Token> tokens, Statement statement, Set<String> words) {
        for (int i = 0; i < tokens.size(); i++) {
            Token token = tokens.get(i);
            if (token.isName()) {
                words.add(token.text());
            }
            boolean ofTrigger =
                    i + 1 < tokens.size()
                            && (tokens.get(i + 1).is("function")
                                    || tokens.get(i + 1).is("procedure"));
            if (token.is("execute")
                    && !ofTrigger
                    && !statement.begins("grant")
                    && !isPlain(tokens, i + 1, words)) {
                executing.add(statement);
            }
        }
    }

    /** Whether what is executed is a text as it stands, whose names are taken then. */
    private static boolean isPlain(List<Token> tokens, int from, Set<String> words) {
        int at = from;
        while (at < tokens.size() && ENDS.stream().noneMatch(tokens.get(at)::is)) {
            Token token = tokens.get(at);
            String text = token.text();
            boolean dollar = token.kind() == PgLexer.Kind.DOLLAR_STRING;
            boolean doubled = text.startsWith("''") && text.length() > 2;
            if (!dollar
                    && (doubled || token.kind() != PgLexer.Kind.STRING || !text.startsWith("'"))) {
                return false;
            }
            int tag = dollar ? text.indexOf('$', 1) + 1 : 1;
            String held = text.substring(tag, text.length() - tag).replace("''", "'");
            try {
                PgLexer.read(new Source("text", held), 0, held.length(), false).stream()
                        .filter(Token::isName)
                        .forEach(t -> words.add(t.text()));
            } catch (NativeSyntaxException e) {
                return false;
            }
            at++;
        }
        return at > from;
    }

    private static final Set<String> ENDS = Set.of(";", "using", "into", "loop");

    /**
     * What is reached.
     *
     * @param statements that make what may be run or used
     * @param all whether a statement is put together on the way, which may reach anything
     */
    record Reached(Set<Statement> statements, boolean all) {}

    /** What the names of a text may set off. */
    Reached from(List<Token> text) {
        Deque<String> open = new ArrayDeque<>(always);
        text.stream().filter(Token::isName).map(Token::text).forEach(open::add);
        Set<String> seen = new HashSet<>(open);
        Set<Statement> reached = new LinkedHashSet<>();
        while (!open.isEmpty()) {
            for (Statement statement : about.getOrDefault(open.poll(), List.of())) {
                if (reached.add(statement)) {
                    names.get(statement).stream().filter(seen::add).forEach(open::add);
                }
            }
        }
        return new Reached(
                reached,
                reached.stream().anyMatch(executing::contains)
                        || text.stream().anyMatch(t -> t.is("execute")));
    }
}
