package dev.cantina.nativecode.postgresql;

import dev.cantina.database.ServerPart;
import dev.cantina.nativecode.OwnObject;
import dev.cantina.nativecode.postgresql.PgLexer.Token;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;

/** The routines and triggers of scripts, with what is said of them: comments, rights, settings. */
final class PgObjects {
    private final List<PgCode.Known> known;

    /** What makes each, by its identity; in the order in which they were made. */
    private final Map<String, Made> made = new LinkedHashMap<>();

    /** An object while its statements are gathered. */
    private static final class Made {
        String kind;
        String name;
        String file;
        String drop;
        StringBuilder create;
    }

    PgObjects(List<PgCode.Known> known) {
        this.known = known;
    }

    List<OwnObject> of(
            List<PgScript.Statement> statements, Set<Source> scripts, Consumer<Span> others) {
        for (PgScript.Statement statement : statements) {
            if (scripts.contains(statement.span().source())) {
                boolean taken =
                        routine(statement)
                                || trigger(statement)
                                || said(statement)
                                || drops(statement);
                if (!taken) {
                    others.accept(statement.span());
                }
            }
        }
        List<OwnObject> objects = new ArrayList<>();
        made.forEach(
                (identity, one) ->
                        objects.add(
                                new OwnObject(
                                        one.kind,
                                        one.name,
                                        one.file,
                                        List.of(
                                                new ServerPart(
                                                        identity,
                                                        one.create.toString(),
                                                        one.drop,
                                                        Optional.of(""))))));
        return objects;
    }

    private void put(
            PgScript.Statement statement, String kind, String name, String rest, String create) {
        Made one = new Made();
        one.kind = kind;
        one.name = name;
        one.file = statement.span().source().name();
        one.drop = "DROP " + kind.toUpperCase(java.util.Locale.ROOT) + " IF EXISTS " + rest;
        one.create = new StringBuilder(create);
        String identity = kind + " " + rest;
        // One that is made again stands where it was made last.
        made.remove(identity);
        made.put(identity, one);
    }

    private boolean routine(PgScript.Statement statement) {
        Optional<PgRoutine> routine = PgRoutine.of(statement);
        if (routine.isEmpty()) {
            return false;
        }
        known.stream()
                .filter(k -> k.written().span().equals(statement.span()))
                .findFirst()
                .ifPresent(
                        k ->
                                put(
                                        statement,
                                        routine.get().function() ? "function" : "procedure",
                                        routine.get().name(),
                                        k.signature(),
                                        replacing(statement)));
        return true;
    }

    /** A CREATE FUNCTION that takes the place of another. */
    private static String replacing(PgScript.Statement statement) {
        String text = statement.span().text();
        int end = statement.tokens().get(0).end() - statement.span().start();
        return statement.tokens().get(1).is("or")
                ? text
                : text.substring(0, end) + " OR REPLACE" + text.substring(end);
    }

    private boolean trigger(PgScript.Statement statement) {
        List<Token> tokens = statement.tokens();
        int at = statement.trigger();
        if (at < 0) {
            return false;
        }
        String name = tokens.get(at + 1).text();
        int on = at + 2;
        while (on < tokens.size() && !tokens.get(on).is("on")) {
            on++;
        }
        put(
                statement,
                "trigger",
                name,
                PgCode.quoted(name) + " on " + qualified(tokens, on + 1),
                statement.span().text());
        return true;
    }

    private static String qualified(List<Token> tokens, int from) {
        StringBuilder name = new StringBuilder();
        for (int i = from; i < tokens.size() && tokens.get(i).isName(); i += 2) {
            name.append(PgCode.quoted(tokens.get(i).text()));
            if (i + 1 >= tokens.size() || !tokens.get(i + 1).is(".")) {
                break;
            }
            name.append('.');
        }
        return name.toString();
    }

    /** What a script says before it makes a routine anew. */
    private static boolean drops(PgScript.Statement statement) {
        return statement.begins("drop")
                && statement.tokens().size() > 1
                && List.of("function", "procedure", "routine", "trigger")
                        .contains(statement.tokens().get(1).text());
    }

    /** COMMENT, GRANT, REVOKE and ALTER that speak of one that was made go along with it. */
    private boolean said(PgScript.Statement statement) {
        List<Token> tokens = statement.tokens();
        boolean comment = statement.begins("comment", "on");
        boolean right = statement.begins("grant") || statement.begins("revoke");
        boolean alters = statement.begins("alter");
        if (!comment && !right && !alters) {
            return false;
        }
        for (int i = 1; i + 1 < tokens.size(); i++) {
            Token token = tokens.get(i);
            boolean routine = token.is("function") || token.is("procedure") || token.is("routine");
            if (routine || token.is("trigger")) {
                int last = i + 1;
                while (last + 2 < tokens.size() && tokens.get(last + 1).is(".")) {
                    last += 2;
                }
                return along(tokens.get(last).text(), routine, statement);
            }
            if (token.is("to") || token.is("is")) {
                return false;
            }
        }
        return false;
    }

    private boolean along(String name, boolean routine, PgScript.Statement statement) {
        Made found = null;
        for (Made one : made.values()) {
            if (one.name.equals(name) && routine != one.kind.equals("trigger")) {
                found = one;
            }
        }
        if (found == null) {
            return false;
        }
        found.create.append(";\n").append(statement.span().text());
        return true;
    }
}
