package dev.cantina.nativecode;

import dev.cantina.nativecode.NativeStatement.Kind;
import dev.cantina.nativecode.NativeStatement.Part;
import dev.cantina.syntax.Span;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Stream;

/**
 * The statements that can set off no routine: they call nothing but functions that the server has
 * built in, and work out expressions, or change tables of which it is known that this fires
 * nothing. What is not known to be one is none.
 */
public final class QuietStatements {
    private static final Set<String> KINDS =
            Set.of(
                    "ASSIGNMENT",
                    "SET",
                    "IF",
                    "CASE",
                    "WHILE",
                    "LOOP",
                    "FOR",
                    "EXIT",
                    "CONTINUE",
                    "LEAVE",
                    "ITERATE",
                    "NULL");

    /** What begins a query or stands in one, or runs something. */
    private static final Set<String> ASKS =
            Set.of(
                    "select",
                    "from",
                    "with",
                    "values",
                    "table",
                    "insert",
                    "update",
                    "delete",
                    "merge",
                    "replace",
                    "execute",
                    "call",
                    "perform",
                    "into",
                    "exists",
                    "fetch",
                    "open",
                    "close",
                    "returning",
                    "operator",
                    "do",
                    "handler",
                    "commit",
                    "rollback");

    /**
     * Words that brackets may follow, and functions that no server lets others take the place of.
     */
    private static final Set<String> BEFORE_BRACKETS =
            Set.of(
                    "if",
                    "elsif",
                    "elseif",
                    "while",
                    "when",
                    "case",
                    "then",
                    "else",
                    "and",
                    "or",
                    "not",
                    "in",
                    "between",
                    "is",
                    "set",
                    "like",
                    "any",
                    "all",
                    "exit",
                    "coalesce",
                    "nullif",
                    "greatest",
                    "least",
                    "abs",
                    "round",
                    "floor",
                    "ceil",
                    "ceiling",
                    "mod",
                    "power",
                    "sqrt",
                    "sign",
                    "char_length",
                    "length",
                    "upper",
                    "lower",
                    "concat",
                    "substring",
                    "substr",
                    "trim",
                    "ltrim",
                    "rtrim",
                    "lpad",
                    "rpad",
                    "position",
                    "numeric",
                    "decimal",
                    "varchar",
                    "char");

    private static final Set<String> CHANGES = Set.of("UPDATE", "INSERT", "DELETE");

    /** What a change of a table may have in it of what asks or runs something. */
    private static final Set<String> IN_CHANGES =
            Set.of("select", "from", "values", "insert", "update", "delete", "into", "exists");

    /** Words that brackets may follow in a change of a table. */
    private static final Set<String> BEFORE_BRACKETS_IN_CHANGES =
            Set.of(
                    "values", "in", "exists", "as", "on", "using", "where", "from", "by", "count",
                    "sum", "min", "max", "avg");

    private final Function<Span, List<NativeAdvice.Word>> words;
    private final Set<String> routines;
    private final Optional<Set<String>> loud;
    private final Set<Integer> quiet = new HashSet<>();
    private final Set<Integer> changes = new HashSet<>();

    /**
     * @param words the tokens of a text, in small letters
     * @param routines the names of all routines that somebody has made there, in small letters
     * @param loud the names of tables and views whose change may set something off, or change other
     *     rows than those that the statement counts; empty where that is not known of any
     */
    public QuietStatements(
            Function<Span, List<NativeAdvice.Word>> words,
            Set<String> routines,
            Optional<Set<String>> loud) {
        this.words = words;
        this.routines = routines;
        this.loud = loud;
    }

    /**
     * Those of a routine.
     *
     * @param all their numbers
     * @param changes the numbers of those that change rows
     */
    public record Quiet(Set<Integer> all, Set<Integer> changes) {
        public static final Quiet NONE = new Quiet(Set.of(), Set.of());
    }

    /** Those of a routine. */
    public Quiet of(NativeStatement body) {
        look(body);
        return new Quiet(quiet, changes);
    }

    private void look(NativeStatement s) {
        if (s.at() >= 0 && isQuiet(s)) {
            quiet.add(s.at());
        } else if (s.at() >= 0 && changesQuietly(s)) {
            quiet.add(s.at());
            changes.add(s.at());
        }
        for (Part part : s.parts()) {
            part.statements().forEach(this::look);
        }
    }

    private boolean isQuiet(NativeStatement s) {
        if (!KINDS.contains(s.what())) {
            return false;
        }
        if (s.kind() == Kind.SIMPLE) {
            return isQuiet(s.span(), false);
        }
        boolean counts = s.what().equals("FOR");
        Span first = s.parts().get(0).head();
        Span head =
                s.span().source().span(s.span().start(), Math.max(s.span().start(), first.end()));
        return Stream.concat(Stream.of(head), s.parts().stream().skip(1).map(Part::head))
                .allMatch(h -> isQuiet(h, counts));
    }

    private boolean changesQuietly(NativeStatement s) {
        if (loud.isEmpty() || s.kind() != Kind.SIMPLE || !CHANGES.contains(s.what())) {
            return false;
        }
        List<NativeAdvice.Word> all = words.apply(s.span());
        for (int i = 0; i < all.size(); i++) {
            String word = all.get(i).text().toLowerCase(Locale.ROOT);
            boolean calls =
                    all.get(i).name()
                            && i + 1 < all.size()
                            && all.get(i + 1).text().equals("(")
                            && !(i > 0 && all.get(i - 1).text().equalsIgnoreCase("into"))
                            && !BEFORE_BRACKETS.contains(word)
                            && !BEFORE_BRACKETS_IN_CHANGES.contains(word);
            boolean quoted = all.get(i).name() && !word.matches("[a-z_][a-z0-9_$]*");
            boolean asks = ASKS.contains(word) && !IN_CHANGES.contains(word);
            if (asks
                    || calls
                    || quoted
                    || word.equals("duplicate")
                    || word.equals("ignore")
                    || routines.contains(word)
                    || loud.get().contains(word)) {
                return false;
            }
        }
        return !all.isEmpty();
    }

    /**
     * @param counts whether it is to go through numbers
     */
    private boolean isQuiet(Span text, boolean counts) {
        List<NativeAdvice.Word> all = words.apply(text);
        boolean range = false;
        for (int i = 0; i < all.size(); i++) {
            String word = all.get(i).text().toLowerCase(Locale.ROOT);
            boolean calls = i + 1 < all.size() && all.get(i + 1).text().equals("(");
            range |= word.equals("..") || word.contains("..");
            boolean quoted = all.get(i).name() && !word.matches("[a-z_][a-z0-9_$]*");
            if (ASKS.contains(word)
                    || routines.contains(word)
                    || quoted
                    || calls && all.get(i).name() && !BEFORE_BRACKETS.contains(word)) {
                return false;
            }
        }
        return !all.isEmpty() && (range || !counts);
    }
}
