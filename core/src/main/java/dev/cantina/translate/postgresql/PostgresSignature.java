package dev.cantina.translate.postgresql;

import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.ServerNames;
import dev.cantina.syntax.Declaration;
import dev.cantina.syntax.Statement;
import dev.cantina.syntax.Unit;
import dev.cantina.translate.Told;
import dev.cantina.translate.UnsupportedConstructException;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A routine's parameters in PL/pgSQL. A parameter has no length and no scale there, so one that
 * needs them has a variable of the same name, which is given its value at the start and gives it
 * back at the end; a result set is one more OUT parameter, a cursor.
 */
public final class PostgresSignature {
    private final List<String> parameters = new ArrayList<>();
    private final List<String> types = new ArrayList<>();
    private final List<String> copies = new ArrayList<>();
    private final List<String> finish = new ArrayList<>();
    private final List<String> taken = new ArrayList<>();

    /** The positions of defaults that PostgreSQL does not take, because OUT parameters follow. */
    private final List<Integer> left = new ArrayList<>();

    private final String label;

    PostgresSignature(RoutineSymbol symbol, PostgresExpressions words) {
        this(symbol, words, words.names().of(symbol.tree().name()));
    }

    /**
     * @param label what the routine is called there, without its schema
     */
    private PostgresSignature(RoutineSymbol symbol, PostgresExpressions words, String label) {
        ServerNames names = words.names();
        this.label = label;
        int number = 0;
        boolean outLater = false;
        for (int i = symbol.parameters().size() - 1; i >= 0; i--) {
            ParameterSymbol parameter = symbol.parameters().get(i);
            boolean out = parameter.mode() != Unit.Mode.IN;
            if (parameter.initial().isPresent()
                    && (outLater || !resultSets(symbol).isEmpty())
                    && !symbol.isFunction()) {
                left.add(0, i);
            }
            outLater |= out && parameter.initial().isEmpty();
        }
        for (ParameterSymbol parameter : symbol.parameters()) {
            number++;
            String name = names.of(parameter.name());
            String bare = PostgresTypes.bare(parameter.type(), parameter.name().span());
            String mode = parameter.mode() == Unit.Mode.IN ? "" : parameter.mode() + " ";
            String initial =
                    parameter
                            .initial()
                            .map(e -> left.isEmpty() ? " DEFAULT " + e.span().text() : "")
                            .orElse("");
            parameters.add(mode + name + " " + bare + initial);
            if (parameter.mode().isInput() || !symbol.isFunction()) {
                types.add((parameter.mode() == Unit.Mode.IN ? "" : parameter.mode() + " ") + bare);
            }
            if (!PostgresTypes.isBounded(parameter.type())) {
                continue;
            }
            String full = PostgresTypes.of(parameter.type(), parameter.name().span());
            if (parameter.mode() == Unit.Mode.IN) {
                String value = label + "." + name;
                boolean octets = parameter.type() instanceof SqlType.Bytes;
                copies.add(
                        name
                                + " "
                                + full
                                + " := "
                                + (octets
                                        ? PostgresConversions.octets(
                                                value, (SqlType.Bytes) parameter.type())
                                        : value)
                                + ";");
                continue;
            }
            String own = plain(parameter.name().text());
            String given = (own.length() > 40 ? "p" + number : own) + "_given";
            taken.add(given);
            copies.add(given + " ALIAS FOR $" + number + ";");
            String start = parameter.mode() == Unit.Mode.INOUT ? " := " + given : "";
            copies.add(name + " " + full + start + ";");
            finish.add(given + " := " + name + ";");
        }
        if (!symbol.isFunction()) {
            for (String result : resultSets(symbol)) {
                parameters.add("OUT " + names.of(result) + " refcursor");
                types.add("OUT refcursor");
            }
        }
    }

    /**
     * A trigger's: no parameters, and at the end the row that is to be stored.
     *
     * @param row what RETURN gives back
     */
    PostgresSignature(String name, String row) {
        label = name;
        finish.add("RETURN " + row + ";");
    }

    private boolean tells;

    /**
     * The parameters of the copy of a procedure that tells what it raises: with one more in front.
     *
     * @param name what the copy is called, without its schema
     */
    static PostgresSignature telling(RoutineSymbol symbol, PostgresExpressions words, String name) {
        PostgresSignature own = new PostgresSignature(symbol, words, name);
        own.tells = true;
        own.parameters.add(0, "OUT " + Told.PARAMETER + " text[]");
        own.types.add(0, "OUT text[]");
        for (int i = 0; i < own.copies.size(); i++) {
            Matcher alias = ALIAS.matcher(own.copies.get(i));
            if (alias.matches()) {
                int number = Integer.parseInt(alias.group(2)) + 1;
                own.copies.set(i, alias.group(1) + number + ";");
            }
        }
        return own;
    }

    private static final Pattern ALIAS = Pattern.compile("(.* ALIAS FOR \\$)(\\d+);");

    boolean tells() {
        return tells;
    }

    private static String plain(String name) {
        return name.toLowerCase(java.util.Locale.ROOT).replaceAll("[^\\p{L}\\p{N}_]", "_");
    }

    /** The parameters as they are declared, one a line. */
    List<String> parameters() {
        return parameters;
    }

    /** What the server tells routines of one name apart by. */
    List<String> types() {
        return types;
    }

    boolean hasCopies() {
        return !copies.isEmpty();
    }

    List<String> copies() {
        return copies;
    }

    /**
     * The sets of parameters that a call may leave out where the server itself allows no default:
     * each wants a procedure of its own that passes the defaults on. Those come first that can be
     * left out by place.
     */
    List<List<Integer>> leftOut() {
        Set<List<Integer>> sets = new LinkedHashSet<>();
        for (int i = 0; i < left.size(); i++) {
            sets.add(left.subList(i, left.size()));
        }
        for (int bits = 1; left.size() <= 3 && bits < 1 << left.size(); bits++) {
            List<Integer> set = new ArrayList<>();
            for (int i = 0; i < left.size(); i++) {
                if ((bits >> i & 1) == 1) {
                    set.add(left.get(i));
                }
            }
            sets.add(set);
        }
        return List.copyOf(sets);
    }

    /** The names that its copies have used up. */
    List<String> taken() {
        return taken;
    }

    /** What is said before the end. */
    List<String> finish() {
        return finish;
    }

    String label() {
        return label;
    }

    /**
     * The result sets of a procedure by name, in the order in which they are opened: a cursor's own
     * name, or {@code rows_1} for a SELECT that stands alone.
     */
    public static List<String> resultSets(RoutineSymbol symbol) {
        List<String> results = new ArrayList<>();
        symbol.tree().body().ifPresent(body -> collect(body, results, 0));
        return results;
    }

    private static void collect(Statement s, List<String> results, int depth) {
        if (s instanceof Statement.Data data && data.sql().isQuery()) {
            results.add("rows_" + (results.size() + 1));
        } else if (s instanceof Statement.Compound block) {
            for (Declaration declaration : block.declarations()) {
                if (declaration instanceof Declaration.Cursor cursor && cursor.withReturn()) {
                    results.add(cursor.name().text());
                } else if (declaration instanceof Declaration.Handler handler) {
                    collect(handler.body(), results, depth);
                }
            }
            block.statements().forEach(inner -> collect(inner, results, depth));
        } else if (s instanceof Statement.If choice) {
            choice.branches().forEach(b -> b.statements().forEach(i -> collect(i, results, depth)));
            choice.otherwise().ifPresent(o -> o.forEach(i -> collect(i, results, depth)));
        } else if (s instanceof Statement.Case choice) {
            choice.branches().forEach(b -> b.statements().forEach(i -> collect(i, results, depth)));
            choice.otherwise().ifPresent(o -> o.forEach(i -> collect(i, results, depth)));
        } else {
            for (Statement inner : repeated(s)) {
                int before = results.size();
                collect(inner, results, depth + 1);
                if (results.size() > before) {
                    throw new UnsupportedConstructException(
                            inner.span(),
                            "rows handed out in a loop: PostgreSQL wants to know how often");
                }
            }
        }
    }

    private static List<Statement> repeated(Statement s) {
        if (s instanceof Statement.While loop) {
            return loop.statements();
        }
        if (s instanceof Statement.Repeat loop) {
            return loop.statements();
        }
        if (s instanceof Statement.Loop loop) {
            return loop.statements();
        }
        return s instanceof Statement.For loop ? loop.statements() : List.of();
    }
}
