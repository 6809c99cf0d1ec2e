package dev.cantina.editing;

import dev.cantina.nativecode.NativeStatement;
import dev.cantina.nativecode.NativeStatement.Kind;
import dev.cantina.nativecode.NativeStatement.Part;
import dev.cantina.nativecode.NativeStatement.Role;
import dev.cantina.nativecode.NativeToken;
import dev.cantina.nativecode.NativeVariable;
import dev.cantina.nativecode.OwnText;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.util.HashMap;
import java.util.Map;
import java.util.Set;

/** How far in the lines of routines in a server's own words stand, by their statements. */
final class OwnLines {
    private final OwnText text;
    private final Source source;
    private final LaidLines lines;

    /** The first token of each line. */
    private final Map<Integer, NativeToken> first = new HashMap<>();

    private OwnLines(OwnText text) {
        this.text = text;
        this.source = text.source();
        this.lines = new LaidLines(source);
    }

    static LaidLines of(OwnText text) {
        OwnLines own = new OwnLines(text);
        own.measure();
        return own.lines;
    }

    private void measure() {
        lines.keepsLines(1, source.lines());
        for (OwnText.Unit unit : text.units()) {
            if (isLaid(unit) || unit.kind() == OwnText.Kind.PACKAGE) {
                lines.laysLines(unit.whole().line(), unit.whole().endLine());
            }
        }
        for (OwnText.Unit unit : text.units()) {
            if (unit.body().isPresent() && !isLaid(unit) && unit.kind() != OwnText.Kind.PACKAGE) {
                lines.keepsLines(unit.body().get().line(), unit.body().get().endLine());
            }
        }
        for (NativeToken token : text.tokens()) {
            first.putIfAbsent(source.lineOf(token.start()), token);
            lines.keeps(token.start(), token.end());
        }
        for (OwnText.Unit unit : text.units()) {
            int base = unit.of().isPresent() ? 1 : 0;
            stands(unit.whole().start(), base);
            unit.block().ifPresent(b -> statement(b, base));
        }
    }

    /**
     * Whether the lines of a routine are laid out: not where its body is not read, or stands
     * between single quotes, which has its own doubled, and places of another text.
     */
    static boolean isLaid(OwnText.Unit unit) {
        return unit.block().isPresent() && unit.body().filter(OwnLines::isInQuotes).isEmpty();
    }

    private static boolean isInQuotes(Span body) {
        String text = body.source().text();
        return text.startsWith("'", body.start())
                || body.start() > 0 && text.charAt(body.start() - 1) == '\'';
    }

    /** Where an offset is the first of its line, the line stands so many steps in. */
    private void stands(int offset, int step) {
        int line = source.lineOf(offset);
        NativeToken token = first.get(line);
        if (token != null && token.start() == offset) {
            lines.stands(line, step);
        }
    }

    private static boolean startsWith(Span span, String word) {
        return span.text().regionMatches(true, 0, word, 0, word.length());
    }

    private static boolean when(Part part) {
        return startsWith(part.head(), "when");
    }

    /**
     * @param declared whether it is what a handler does that is declared: a block stands under its
     *     DECLARE, and what is no block goes on with it
     */
    private void statement(NativeStatement s, int depth, boolean declared) {
        if (!declared) {
            statement(s, depth);
        } else if (s.kind() == Kind.BLOCK) {
            statement(s, depth - 1);
        }
    }

    private void statement(NativeStatement s, int depth) {
        stands(s.begins(), depth);
        stands(s.span().start(), depth);
        if (s.kind() == Kind.SIMPLE) {
            return;
        }
        boolean block = s.kind() == Kind.BLOCK;
        boolean branches = s.kind() == Kind.CHOICE && s.what().equals("CASE");
        if (block) {
            words(s, depth, Set.of("declare", "begin", "exception"));
            for (NativeVariable variable : s.declared()) {
                stands(variable.span().start(), depth + 1);
            }
        }
        for (Part part : s.parts()) {
            boolean handles = part.role() == Role.HANDLER;
            int head = depth + (branches || handles ? 1 : 0);
            if (part.head().start() > s.span().start()) {
                stands(part.head().start(), head);
            }
            part.statements().forEach(i -> statement(i, head + 1, handles && !when(part)));
        }
        if (!block && !branches) {
            words(s, depth, Set.of("loop", "do", "then"));
        }
        ends(s, depth);
    }

    /** Words of a statement that have their lines where it begins. */
    private void words(NativeStatement block, int depth, Set<String> wanted) {
        boolean beginsFirst = startsWith(block.span(), "begin");
        for (int line = block.span().line(); line <= block.span().endLine(); line++) {
            NativeToken token = first.get(line);
            boolean own =
                    token != null
                            && token.start() >= block.span().start()
                            && wanted.stream().anyMatch(token::is)
                            && !isInside(block, token.start());
            if (own) {
                lines.stands(line, depth + (token.is("declare") && beginsFirst ? 1 : 0));
            }
        }
    }

    private static boolean isInside(NativeStatement block, int offset) {
        return block.parts().stream()
                .flatMap(p -> p.statements().stream())
                .map(NativeStatement::span)
                .anyMatch(s -> s.start() <= offset && offset < s.end());
    }

    /** The END of a statement, where it begins a line. */
    private void ends(NativeStatement s, int depth) {
        Span span = s.span();
        for (int line = span.endLine(); line > span.line(); line--) {
            NativeToken token = first.get(line);
            if (token != null) {
                if (isInside(s, token.start())) {
                    return;
                }
                if (token.is("end") || token.is("until")) {
                    lines.stands(line, depth);
                }
            }
        }
    }
}
