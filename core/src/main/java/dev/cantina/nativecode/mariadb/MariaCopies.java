package dev.cantina.nativecode.mariadb;

import com.fasterxml.jackson.databind.JsonNode;
import dev.cantina.nativecode.Mark;
import dev.cantina.nativecode.NativeStatement;
import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.nativecode.PlacedFrames;
import dev.cantina.nativecode.PlacedRoutines;
import dev.cantina.runtime.Probe;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import dev.cantina.types.SqlType;
import dev.cantina.types.Values;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

/** Copies of routines in the standard language on MariaDB: read, and woven with probes. */
final class MariaCopies {
    /** What of a session's modes their texts are read by. */
    private static final String MODES = "ANSI_QUOTES,NO_BACKSLASH_ESCAPES";

    private MariaCopies() {}

    /** How values of copies are told. */
    static final PlacedFrames.Values VALUES =
            new PlacedFrames.Values() {
                @Override
                public Object held(JsonNode told, SqlType type) {
                    return decoded(told, type);
                }

                @Override
                public String text(Object value) {
                    return MariaCopies.text(value);
                }
            };

    /** The head of a copy; empty for what makes no routine or trigger. */
    static Optional<MariaRoutine> head(PlacedRoutines.Copy copy) {
        try {
            return MariaRoutine.of(statement(copy.create()), "");
        } catch (NativeSyntaxException e) {
            throw unreadable(copy.create(), e);
        }
    }

    /** What a module has become; empty for what makes no package. */
    static Optional<MariaPackage> packaged(String create) {
        try {
            return MariaPackage.of(statement(create), "");
        } catch (NativeSyntaxException e) {
            throw unreadable(create, e);
        }
    }

    private static MariaScript.Statement statement(String create) throws NativeSyntaxException {
        Source source = new Source("copy", create);
        List<MariaLexer.Token> tokens = new ArrayList<>();
        MariaLexer lexer = new MariaLexer(source, 0, create.length());
        lexer.modes(MODES);
        for (MariaLexer.Token t = lexer.next(); t != null; t = lexer.next()) {
            tokens.add(t);
        }
        return new MariaScript.Statement(
                source.span(tokens.get(0).start(), tokens.get(tokens.size() - 1).end()), tokens);
    }

    /**
     * A copy with probes in the place of its marks.
     *
     * @param standsIn its number where it can be replaced for a run
     * @param parameters as the server has them, where it can be replaced
     */
    static String woven(
            Connection connection,
            PlacedRoutines.Copy copy,
            MariaRoutine routine,
            PlacedRoutines routines,
            Probe.Detail detail,
            Optional<Integer> standsIn,
            List<MariaInside.Parameter> parameters)
            throws SQLException {
        try {
            NativeStatement body = MariaParser.parse(routine);
            MariaPlacedWeaver weaver =
                    new MariaPlacedWeaver(routine, copy, routines, detail, standsIn, parameters);
            weaver.place(body);
            Optional<String> next =
                    routine.what().equals("trigger")
                            ? MariaInside.next(connection, routine.name())
                            : Optional.empty();
            return weaver.weave(body, weaver.outside(), next);
        } catch (NativeSyntaxException e) {
            throw unreadable(copy.create(), e);
        }
    }

    /**
     * The statements that put the woven body of a package in the place of what a module has become.
     *
     * @param copies those of its routines
     * @param standsIn the number of one that can be replaced for a run
     * @param parameters as the server has them, of such a one
     */
    static List<String> woven(
            Connection connection,
            MariaPackage of,
            List<PlacedRoutines.Copy> copies,
            PlacedRoutines routines,
            Probe.Detail detail,
            Function<MariaRoutine, Optional<Integer>> standsIn,
            Function<MariaRoutine, List<MariaInside.Parameter>> parameters)
            throws SQLException {
        Map<MariaRoutine, String> woven = new IdentityHashMap<>();
        for (MariaPackage.Member member : of.routines()) {
            Span span = member.routine().span();
            for (PlacedRoutines.Copy copy : copies) {
                // One may stand there twice: as SQL calls it, and as a procedure does.
                List<Mark.Found> own =
                        copy.marks().stream()
                                .filter(m -> m.start() >= span.start() && m.end() <= span.end())
                                .toList();
                if (!own.isEmpty()) {
                    woven.put(
                            member.routine(),
                            woven(
                                    connection,
                                    new PlacedRoutines.Copy(copy.routine(), copy.create(), own),
                                    member.routine(),
                                    routines,
                                    detail,
                                    standsIn.apply(member.routine()),
                                    parameters.apply(member.routine())));
                }
            }
        }
        return List.of(
                "DROP PACKAGE BODY IF EXISTS " + MariaCode.quoted(of.name()),
                MariaInside.woven(of, woven));
    }

    private static IllegalStateException unreadable(String create, NativeSyntaxException e) {
        return new IllegalStateException(
                "a copy can't be read: " + e.getMessage() + "\n" + create, e);
    }

    private static Object decoded(JsonNode node, SqlType type) {
        if (type instanceof SqlType.Row row && node != null && node.isArray()) {
            Object[] values = new Object[row.fields().size()];
            for (int i = 0; i < values.length; i++) {
                values[i] = decoded(node.get(i), row.fields().get(i).type());
            }
            return values;
        }
        return MariaCode.held(node, type);
    }

    private static String text(Object value) {
        if (value instanceof Boolean truth) {
            return truth ? "1" : "0";
        }
        return value == null
                ? null
                : value instanceof byte[] bytes
                        ? HexFormat.of().formatHex(bytes)
                        : Values.text(value);
    }
}
