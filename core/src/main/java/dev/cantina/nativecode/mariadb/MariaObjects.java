package dev.cantina.nativecode.mariadb;

import dev.cantina.database.ServerPart;
import dev.cantina.nativecode.OwnObject;
import dev.cantina.nativecode.mariadb.MariaLexer.Token;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;

/** The routines and triggers of scripts. */
final class MariaObjects {
    private final Map<String, MariaRoutine> routines;

    /**
     * @param routines what was made, by kind and name
     */
    MariaObjects(Map<String, MariaRoutine> routines) {
        this.routines = routines;
    }

    /**
     * Triggers of one event run in the order in which they were made: they are one object, so that
     * all are made anew where one is.
     */
    List<OwnObject> of(
            List<MariaScript.Statement> statements, Set<Source> scripts, Consumer<Span> others) {
        Map<String, OwnObject> objects = new LinkedHashMap<>();
        for (MariaScript.Statement statement : statements) {
            Source source = statement.span().source();
            if (!scripts.contains(source)) {
                continue;
            }
            Optional<MariaRoutine> made =
                    routines.values().stream().filter(r -> r.statement() == statement).findFirst();
            if (made.isEmpty()) {
                boolean madeAgain = statement.stored() >= 0 && isRoutine(statement);
                if (!madeAgain && !isOfTheScript(statement)) {
                    others.accept(statement.span());
                }
                continue;
            }
            MariaRoutine routine = made.get();
            OwnObject one =
                    new OwnObject(
                            routine.what(), routine.name(), source.name(), List.of(part(routine)));
            String key =
                    routine.what().equals("trigger")
                            ? event(routine)
                            : MariaLoader.key(routine.what(), routine.name());
            objects.merge(key, one, MariaObjects::together);
        }
        return List.copyOf(objects.values());
    }

    /** What a script says for its own session, and before it makes a routine anew. */
    private static boolean isOfTheScript(MariaScript.Statement statement) {
        List<Token> tokens = statement.tokens();
        boolean global =
                tokens.stream().anyMatch(t -> t.is("global") || t.text().startsWith("@@global"));
        boolean drops =
                statement.begins("drop")
                        && tokens.size() > 1
                        && List.of("procedure", "function", "trigger")
                                .contains(tokens.get(1).text());
        return statement.begins("set") && !global || statement.begins("use") || drops;
    }

    /** A package or an event is none that is shipped. */
    private static boolean isRoutine(MariaScript.Statement statement) {
        String what = statement.tokens().get(statement.stored()).text();
        return List.of("procedure", "function", "trigger").contains(what);
    }

    private static OwnObject together(OwnObject a, OwnObject b) {
        List<ServerPart> parts = new ArrayList<>(a.parts());
        parts.addAll(b.parts());
        return new OwnObject(a.kind(), a.name() + ", " + b.name(), a.file(), parts);
    }

    private static String event(MariaRoutine trigger) {
        StringBuilder event = new StringBuilder("on ");
        for (Token token : trigger.statement().tokens()) {
            if (token.is("before") || token.is("after")) {
                event.append(token.text());
            }
            if (token.is("insert") || token.is("update") || token.is("delete")) {
                event.append(' ').append(token.text());
                break;
            }
        }
        return event + " " + trigger.table().orElse("").toLowerCase(Locale.ROOT);
    }

    private static ServerPart part(MariaRoutine routine) {
        String name = MariaCode.quoted(routine.name());
        String identity = routine.what() + " " + name;
        return new ServerPart(
                identity,
                replacing(routine.statement()),
                "DROP " + routine.what().toUpperCase(Locale.ROOT) + " IF EXISTS " + name,
                Optional.of(routine.modes()));
    }

    /** A CREATE that takes the place of what is there. */
    private static String replacing(MariaScript.Statement statement) {
        String text = statement.span().text();
        List<Token> tokens = statement.tokens();
        int start = statement.span().start();
        StringBuilder made = new StringBuilder(text);
        for (int i = statement.stored(); i + 2 < tokens.size() && i < statement.stored() + 2; i++) {
            if (tokens.get(i).is("if") && tokens.get(i + 1).is("not")) {
                // It can't be said together with OR REPLACE.
                for (int c = tokens.get(i).start(); c < tokens.get(i + 2).end(); c++) {
                    made.setCharAt(c - start, made.charAt(c - start) == '\n' ? '\n' : ' ');
                }
            }
        }
        if (!tokens.get(1).is("or")) {
            made.insert(tokens.get(0).end() - start, " OR REPLACE");
        }
        return made.toString();
    }
}
