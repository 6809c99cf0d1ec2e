package dev.cantina.editing;

import dev.cantina.nativecode.NativeStatement;
import dev.cantina.nativecode.NativeStatement.Part;
import dev.cantina.nativecode.NativeToken;
import dev.cantina.nativecode.NativeVariable;
import dev.cantina.nativecode.OwnReading;
import dev.cantina.nativecode.OwnText;
import dev.cantina.nativecode.OwnText.Unit;
import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/**
 * Which variables, parameters and labels are known at a place of a text in a server's own words.
 */
final class OwnScopes {
    private final OwnText text;
    private final OwnReading reading;

    OwnScopes(OwnText text, OwnReading reading) {
        this.text = text;
        this.reading = reading;
    }

    /** The first token that begins at an offset or behind it. */
    int first(int offset) {
        List<? extends NativeToken> tokens = text.tokens();
        int low = 0;
        int high = tokens.size();
        while (low < high) {
            int middle = (low + high) / 2;
            if (tokens.get(middle).start() < offset) {
                low = middle + 1;
            } else {
                high = middle;
            }
        }
        return low;
    }

    List<? extends NativeToken> within(Span span) {
        int from = first(span.start());
        return text.tokens().subList(from, Math.max(from, first(span.end())));
    }

    /** The variables and parameters that are known at an offset, the nearest of each name. */
    Map<String, Object> scope(Unit unit, int offset) {
        Map<String, Object> scope = new LinkedHashMap<>();
        reading.special(unit).forEach(v -> scope.put(OwnView.key(v.name()), v));
        unit.parameters().stream()
                .filter(p -> !p.name().isEmpty())
                .forEach(p -> scope.put(OwnView.key(p.name()), p));
        if (unit.block().isPresent()) {
            declaredAround(unit.block().get(), offset, scope);
        } else {
            unit.body().ifPresent(b -> loose(b, offset, scope));
        }
        return scope;
    }

    private static void declaredAround(
            NativeStatement statement, int offset, Map<String, Object> scope) {
        if (offset < statement.span().start() || offset > statement.span().end()) {
            return;
        }
        statement.declared().forEach(v -> scope.put(OwnView.key(v.name()), v));
        for (Part part : statement.parts()) {
            for (NativeStatement inside : part.statements()) {
                declaredAround(inside, offset, scope);
            }
        }
    }

    /** What a body that can't be read just now declares before an offset, blocks or not. */
    private void loose(Span body, int offset, Map<String, Object> scope) {
        boolean runsOn = reading.declaresOnce();
        boolean declaring = false;
        List<NativeToken> open = new ArrayList<>();
        int end = Math.max(body.start(), Math.min(offset, body.end()));
        for (NativeToken token : within(text.source().span(body.start(), end))) {
            if (token.is("declare")) {
                declaring = true;
                open.clear();
            } else if (token.is("begin")) {
                declaring = false;
            } else if (declaring && token.is(";")) {
                looseOne(open, scope);
                open.clear();
                declaring = runsOn;
            } else if (declaring) {
                open.add(token);
            }
        }
    }

    private void looseOne(List<NativeToken> tokens, Map<String, Object> scope) {
        if (tokens.size() < 2
                || !tokens.get(0).isName()
                || tokens.get(1).is("handler")
                || tokens.get(1).is("condition")) {
            return;
        }
        List<NativeToken> names = new ArrayList<>(List.of(tokens.get(0)));
        int type = 1;
        while (type + 1 < tokens.size() && tokens.get(type).is(",")) {
            names.add(tokens.get(type + 1));
            type += 2;
        }
        if (type < tokens.size() && tokens.get(type).is("constant")) {
            type++;
        }
        int end = type;
        while (end < tokens.size()
                && !tokens.get(end).is("default")
                && !tokens.get(end).is(":=")
                && !tokens.get(end).is("=")
                && !tokens.get(end).is("not")) {
            end++;
        }
        String written =
                end > type
                        ? text.source()
                                .written()
                                .substring(tokens.get(type).start(), tokens.get(end - 1).end())
                        : "";
        NativeVariable.Kind kind =
                written.toLowerCase(Locale.ROOT).startsWith("cursor")
                        ? NativeVariable.Kind.CURSOR
                        : NativeVariable.Kind.LOCAL;
        for (NativeToken name : names) {
            scope.put(
                    OwnView.key(name),
                    new NativeVariable(
                            text.source().written().substring(name.start(), name.end()),
                            written,
                            kind,
                            text.source().span(name.start(), name.end())));
        }
    }

    /** The statement around an offset that has a label. */
    Optional<NativeStatement> labelled(NativeStatement s, String label, int offset) {
        if (offset < s.span().start() || offset > s.span().end()) {
            return Optional.empty();
        }
        boolean has =
                within(text.source().span(s.begins(), s.span().start())).stream()
                        .anyMatch(t -> t.isName() && OwnView.key(t).equals(label));
        if (has) {
            return Optional.of(s);
        }
        for (Part part : s.parts()) {
            for (NativeStatement inside : part.statements()) {
                Optional<NativeStatement> found = labelled(inside, label, offset);
                if (found.isPresent()) {
                    return found;
                }
            }
        }
        return Optional.empty();
    }
}
