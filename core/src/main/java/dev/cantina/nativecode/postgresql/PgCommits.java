package dev.cantina.nativecode.postgresql;

import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.nativecode.postgresql.PgLexer.Token;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** Which procedures may end a transaction, themselves or by what they call. */
final class PgCommits {
    /** What stands before a statement (PostgreSQL, "PL/pgSQL", 43.2 and 43.6). */
    private static final Set<String> BEFORE = Set.of(";", "begin", "then", "else", "loop", ">>");

    private final Set<String> ending = new HashSet<>();
    private final Map<String, Set<String>> calls = new HashMap<>();

    PgCommits(List<PgCode.Known> all) {
        for (PgCode.Known one : all) {
            if (!one.written().function() && one.language().equals("plpgsql")) {
                look(one.written());
            }
        }
    }

    private void look(PgRoutine routine) {
        Set<String> called = calls.computeIfAbsent(routine.name(), n -> new HashSet<>());
        if (routine.body().isEmpty()) {
            // What can't be read may do it.
            ending.add(routine.name());
            return;
        }
        int at = routine.body().get().start();
        int end = routine.body().get().end();
        String before = ";";
        boolean call = false;
        try {
            for (Token token = PgLexer.token(routine.span().source(), at, end);
                    token != null;
                    token = PgLexer.token(routine.span().source(), token.end(), end)) {
                boolean ends = token.is("commit") || token.is("rollback");
                if (ends && BEFORE.contains(before)) {
                    ending.add(routine.name());
                }
                // The last part of a name is what is called.
                if (call && token.isName()) {
                    called.add(token.text());
                }
                call = token.is("call") || call && (token.isName() || token.is("."));
                before = token.text();
            }
        } catch (NativeSyntaxException e) {
            ending.add(routine.name());
        }
    }

    boolean mayEnd(PgCode.Known routine) {
        if (routine.written().function()) {
            return false;
        }
        Set<String> seen = new HashSet<>();
        Deque<String> next = new ArrayDeque<>(List.of(routine.written().name()));
        while (!next.isEmpty()) {
            String name = next.pop();
            if (ending.contains(name)) {
                return true;
            }
            if (seen.add(name)) {
                next.addAll(calls.getOrDefault(name, Set.of()));
            }
        }
        return false;
    }
}
