package dev.cantina.nativecode;

import dev.cantina.nativecode.NativeStatement.Kind;
import dev.cantina.nativecode.NativeStatement.Part;
import dev.cantina.nativecode.NativeStatement.Role;
import dev.cantina.syntax.EditPlaces;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;

/**
 * Advice on a routine in a server's own language, by its statements, scopes and the words in them.
 * The rules have the names of those for routines of the standard language.
 */
public final class NativeAdvice {
    /** A token as the rules look at it: words and names in lower case, and operators. */
    public record Word(String text, boolean name, int start) {}

    private final Function<Span, List<Word>> words;
    private final Set<String> textParameters;
    private final List<Problem> advice = new ArrayList<>();

    /**
     * @param words the tokens of a stretch
     * @param textParameters the parameters that bring texts in from outside, in lower case
     */
    public NativeAdvice(Function<Span, List<Word>> words, Set<String> textParameters) {
        this.words = words;
        this.textParameters = textParameters;
    }

    /**
     * Looks at a routine.
     *
     * @param outside what is there before anything is declared
     */
    public List<Problem> of(NativeStatement body, List<NativeVariable> outside) {
        Map<String, Span> scope = new LinkedHashMap<>();
        outside.stream()
                .filter(v -> v.kind() == NativeVariable.Kind.PARAMETER)
                .forEach(v -> scope.put(key(v), v.span()));
        walk(body, scope, false);
        list(List.of(body), false);
        dynamic(body);
        return advice;
    }

    private static String key(NativeVariable variable) {
        String name = variable.name();
        boolean quoted = name.length() > 1 && (name.startsWith("\"") || name.startsWith("`"));
        String quote = quoted ? name.substring(0, 1) : "";
        String bare =
                quoted ? name.substring(1, name.length() - 1).replace(quote + quote, quote) : name;
        return bare.toLowerCase(Locale.ROOT);
    }

    private void add(Span place, String rule, String message, String hint) {
        advice.add(Problem.advice(place, rule, message, hint));
    }

    /**
     * @param handled whether a handler may let what has failed go on
     */
    private void walk(NativeStatement s, Map<String, Span> outer, boolean handled) {
        Map<String, Span> scope = new LinkedHashMap<>(outer);
        boolean goesOn = handled || s.parts().stream().anyMatch(this::letsGoOn);
        if (s.kind() == Kind.BLOCK) {
            List<Word> inside = words.apply(s.span());
            for (NativeVariable one : s.declared()) {
                String name = key(one);
                long uses = inside.stream().filter(w -> w.name() && w.text().equals(name)).count();
                if (uses < 2 && one.kind() != NativeVariable.Kind.SPECIAL) {
                    advice.add(
                            Problem.advice(
                                            one.span(),
                                            "unused-name",
                                            one.name() + " is never used",
                                            "remove it")
                                    .with(declaration(one, s), ""));
                }
                if (outer.containsKey(name)) {
                    add(
                            one.span(),
                            "shadowed-name",
                            one.name()
                                    + " hides what is called so in line "
                                    + outer.get(name).line(),
                            "give one of them another name");
                }
                scope.put(name, one.span());
            }
        }
        for (Part part : s.parts()) {
            if (part.role() == Role.HANDLER) {
                handler(part);
            }
            list(part.statements(), goesOn);
            committed(part.statements());
            part.statements().forEach(i -> walk(i, scope, goesOn));
        }
    }

    /** Whether what has failed goes on behind the statement, when this has handled it. */
    private boolean letsGoOn(Part part) {
        return part.role() == Role.HANDLER
                && words.apply(part.head()).stream().anyMatch(w -> w.text().equals("continue"));
    }

    /** What stands behind a statement that never goes on. */
    private void list(List<NativeStatement> statements, boolean goesOn) {
        for (int i = 0; i + 1 < statements.size(); i++) {
            boolean jumps = Set.of("LEAVE", "ITERATE").contains(statements.get(i).what());
            if (neverGoesOn(statements.get(i)) && (jumps || !goesOn)) {
                Span first = statements.get(i + 1).span();
                Span last = statements.get(statements.size() - 1).span();
                advice.add(
                        Problem.advice(
                                        first,
                                        "unreachable",
                                        "nothing reaches this: what stands before it never goes on",
                                        "remove it, or let what stands before it go on")
                                .with(EditPlaces.withLines(first.to(last)), ""));
                return;
            }
        }
    }

    /** A COMMIT after a change whose number of rows nobody looked at. */
    private void committed(List<NativeStatement> statements) {
        Span open = null;
        for (NativeStatement s : statements) {
            List<Word> all = words.apply(s.span());
            String first = all.isEmpty() ? "" : all.get(0).text();
            boolean looks =
                    all.stream()
                            .anyMatch(
                                    w ->
                                            Set.of("found", "row_count", "diagnostics", "returning")
                                                    .contains(w.text()));
            if (looks) {
                open = null;
            } else if (s.kind() == Kind.SIMPLE
                    && (first.equals("update") || first.equals("delete"))) {
                open = s.span();
            } else if (s.kind() == Kind.SIMPLE && first.equals("commit") && open != null) {
                add(
                        open,
                        "unchecked-write",
                        "this is committed whether or not it touched a row",
                        "look at FOUND, or at ROW_COUNT, before the COMMIT");
                open = null;
            }
        }
    }

    private boolean neverGoesOn(NativeStatement s) {
        if (s.kind() != Kind.SIMPLE) {
            return false;
        }
        List<Word> all = words.apply(s.span());
        String second = all.size() > 1 ? all.get(1).text() : "";
        return switch (s.what()) {
            case "RETURN", "LEAVE", "ITERATE", "SIGNAL", "RESIGNAL" -> true;
            case "EXIT", "CONTINUE" -> all.stream().noneMatch(w -> w.text().equals("when"));
            case "RAISE" -> !Set.of("debug", "log", "info", "notice", "warning").contains(second);
            default -> false;
        };
    }

    /** A handler for everything that does nothing. */
    private void handler(Part part) {
        boolean general =
                words.apply(part.head()).stream()
                        .anyMatch(
                                w -> w.text().equals("others") || w.text().equals("sqlexception"));
        if (general && part.statements().stream().noneMatch(NativeAdvice::doesSomething)) {
            Problem problem =
                    Problem.advice(
                            part.head(),
                            "swallowed-condition",
                            "every exception ends here, and leaves no trace",
                            "raise it again, record it in a table, or set something that tells the"
                                    + " caller");
            advice.add(part.statements().size() == 1 ? raising(problem, part) : problem);
        }
    }

    /** The one statement of a handler is NULL, or a block with nothing in it. */
    private Problem raising(Problem problem, Part part) {
        NativeStatement only = part.statements().get(0);
        List<Word> all = words.apply(only.span());
        Source source = only.span().source();
        if (only.kind() == Kind.SIMPLE && all.get(0).text().equals("null")) {
            int start = all.get(0).start();
            return problem.with(source.span(start, start + "null".length()), "RAISE");
        }
        boolean empty =
                only.kind() == Kind.BLOCK
                        && only.declared().isEmpty()
                        && only.parts().stream().allMatch(p -> p.statements().isEmpty());
        Optional<Word> end = all.stream().filter(w -> w.text().equals("end")).reduce((a, b) -> b);
        return empty && end.isPresent()
                ? problem.with(source.span(end.get().start(), end.get().start()), "RESIGNAL; ")
                : problem;
    }

    /** A declaration of one variable whose value no routine works out. */
    private static Optional<Span> declaration(NativeVariable one, NativeStatement block) {
        boolean alone =
                block.declared().stream()
                                .filter(v -> v.span().start() == one.span().start())
                                .count()
                        == 1;
        String text = one.span().text().toLowerCase(Locale.ROOT);
        int value = Math.max(text.indexOf("default"), text.indexOf('='));
        boolean goes =
                one.kind() == NativeVariable.Kind.LOCAL
                        || one.kind() == NativeVariable.Kind.CONSTANT
                        || one.kind() == NativeVariable.Kind.CURSOR;
        return alone && goes && (value < 0 || text.indexOf('(', value) < 0)
                ? Optional.of(EditPlaces.withLines(one.span()))
                : Optional.empty();
    }

    private static boolean doesSomething(NativeStatement s) {
        return s.kind() == Kind.SIMPLE && !s.what().equals("NULL")
                || s.parts().stream()
                        .flatMap(p -> p.statements().stream())
                        .anyMatch(NativeAdvice::doesSomething);
    }

    // ---------------------------------------------------------------- SQL that is put together

    private static final Set<String> SAFE =
            Set.of("quote_ident", "quote_literal", "quote_nullable", "format", "quote");

    /** The variables whose text becomes a statement: {@code PREPARE s FROM @sql}. */
    private final Set<String> prepared = new HashSet<>();

    private void dynamic(NativeStatement body) {
        each(body, this::prepares);
        each(body, this::concatenates);
    }

    private static void each(NativeStatement s, java.util.function.Consumer<NativeStatement> work) {
        work.accept(s);
        for (Part part : s.parts()) {
            part.statements().forEach(i -> each(i, work));
        }
    }

    private void prepares(NativeStatement s) {
        List<Word> all = s.kind() == Kind.SIMPLE ? words.apply(s.span()) : List.of();
        for (int i = 0; i + 1 < all.size(); i++) {
            if (s.what().equals("PREPARE") && all.get(i).text().equals("from")) {
                prepared.add(all.get(i + 1).text());
            }
        }
    }

    /**
     * FORMAT puts in as it is what stands for {@code %s}, with a place and a width or without
     * ("String Functions and Operators", format).
     */
    private static boolean putsInAsWritten(List<Word> all, int at) {
        boolean format =
                all.get(at).text().equals("format")
                        && at + 2 < all.size()
                        && all.get(at + 1).text().equals("(");
        String pattern = format ? all.get(at + 2).text() : "";
        for (int i = pattern.indexOf('%'); i >= 0; i = pattern.indexOf('%', i + 1)) {
            int end = i + 1;
            while (end < pattern.length() && "0123456789$-*".indexOf(pattern.charAt(end)) >= 0) {
                end++;
            }
            if (end < pattern.length() && pattern.charAt(end) == 's') {
                return true;
            }
            i = end < pattern.length() && pattern.charAt(end) == '%' ? end : i;
        }
        return false;
    }

    /** The last word of a function's arguments; the function where it has none. */
    private static int behindArguments(List<Word> all, int function) {
        int depth = 0;
        for (int i = function + 1; i < all.size(); i++) {
            depth += all.get(i).text().equals("(") ? 1 : all.get(i).text().equals(")") ? -1 : 0;
            if (depth <= 0) {
                return i;
            }
        }
        return function;
    }

    private void concatenates(NativeStatement s) {
        Span head =
                s.kind() == Kind.SIMPLE
                        ? s.span()
                        : s.kind() == Kind.LOOP && s.what().equals("FOR")
                                ? s.parts().get(0).head()
                                : null;
        if (head == null) {
            return;
        }
        List<Word> all = words.apply(head);
        int from = -1;
        for (int i = 0; i < all.size() && from < 0; i++) {
            boolean executes =
                    all.get(i).text().equals("execute")
                            && (i == 0 || !all.get(i - 1).text().equals("."));
            boolean sets =
                    i + 1 < all.size()
                            && prepared.contains(all.get(i).text())
                            && (all.get(i + 1).text().equals("=")
                                    || all.get(i + 1).text().equals(":="));
            from = executes || sets ? i + 1 : -1;
        }
        if (from < 0) {
            return;
        }
        boolean joined = false;
        for (int i = from; i < all.size(); i++) {
            joined |=
                    all.get(i).text().equals("||")
                            || all.get(i).text().equals("concat")
                            || putsInAsWritten(all, i);
        }
        for (int i = from; joined && i < all.size(); i++) {
            if (all.get(i).text().equals("using")) {
                return;
            }
            if (SAFE.contains(all.get(i).text()) && !putsInAsWritten(all, i)) {
                i = behindArguments(all, i);
                continue;
            }
            if (all.get(i).name() && textParameters.contains(all.get(i).text())) {
                add(
                        s.span(),
                        "concatenated-sql",
                        "a text that was passed in becomes part of a statement",
                        "pass values with USING; put a name in by a function that quotes it");
                return;
            }
        }
    }
}
