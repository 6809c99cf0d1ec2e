package dev.cantina.drafting;

import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.syntax.SqlWords;
import dev.cantina.types.SqlType;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.math.RoundingMode;
import java.sql.SQLException;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Values to try for each parameter of a routine: those that are known, the literals of its text and
 * what is next to them, and the edges of its type. Values are as a case file holds them.
 */
final class Candidates {
    /** How many known values of a parameter are tried. */
    private static final int KNOWN = 8;

    /** A text is tried as long as its type has it, but no longer. */
    private static final int LONGEST = 4000;

    /** How many literals of a routine are tried in one parameter. */
    private static final int LITERALS = 24;

    private final Map<String, List<Object>> byParameter = new LinkedHashMap<>();
    private final Map<String, List<Object>> known = new LinkedHashMap<>();
    private final Map<String, Object> plain = new LinkedHashMap<>();

    Candidates(RoutineSymbol routine, ParameterValues values) throws SQLException {
        this(routine, values, List.of(), false);
    }

    /**
     * @param others values that are tried before the literals of its text
     * @param bounds whether the largest and the smallest of each type are tried too
     */
    Candidates(RoutineSymbol routine, ParameterValues values, List<Object> others, boolean bounds)
            throws SQLException {
        Set<Object> literals = new LinkedHashSet<>(others);
        literals.addAll(literals(routine.span().text()));
        Map<List<String>, Integer> taken = new LinkedHashMap<>();
        for (ParameterSymbol parameter : routine.parameters()) {
            if (!parameter.mode().isInput()) {
                continue;
            }
            ParameterValues.Known of = values.of(parameter);
            List<Object> first = new ArrayList<>(spread(of.values()));
            // Two parameters for one column are tried with different values first.
            int turn = of.from().isEmpty() ? 0 : taken.merge(of.from(), 1, Integer::sum) - 1;
            java.util.Collections.rotate(first, -turn);
            known.put(parameter.name().text(), first);
            Set<Object> all = new LinkedHashSet<>(first);
            List<Object> edges = edges(parameter.type(), of.closed());
            // One plain value, then what the routine itself speaks of.
            edges.stream().limit(1).forEach(all::add);
            plain.put(parameter.name().text(), edges.isEmpty() ? null : edges.get(0));
            literals.stream()
                    .filter(l -> fits(l, parameter.type()))
                    .limit(LITERALS)
                    .forEach(all::add);
            all.addAll(edges);
            if (bounds) {
                all.addAll(bounds(parameter.type()));
            }
            byParameter.put(parameter.name().text(), new ArrayList<>(all));
        }
    }

    Set<String> parameters() {
        return byParameter.keySet();
    }

    /** The values for a parameter, the likeliest first; NULL is not among them. */
    List<Object> of(String parameter) {
        return byParameter.get(parameter);
    }

    /** A plain value of a parameter's type, most likely one that the database has not; or null. */
    Object plain(String parameter) {
        return plain.get(parameter);
    }

    /** The values that the database has for a parameter. */
    List<Object> known(String parameter) {
        return known.get(parameter);
    }

    private static List<Object> spread(List<Object> values) {
        if (values.size() <= KNOWN) {
            return values;
        }
        List<Object> some = new ArrayList<>();
        for (int i = 0; i < KNOWN; i++) {
            some.add(values.get(i * (values.size() - 1) / (KNOWN - 1)));
        }
        return some;
    }

    private static boolean isNumber(SqlType type) {
        return type instanceof SqlType.Integral
                || type instanceof SqlType.Exact
                || type instanceof SqlType.Approximate
                || type instanceof SqlType.DecFloat;
    }

    private static boolean fits(Object literal, SqlType type) {
        return literal instanceof BigDecimal && isNumber(type)
                || literal instanceof String text
                        && type instanceof SqlType.Text of
                        && (of.length() == 0 || text.length() <= of.length());
    }

    private static List<Object> edges(SqlType type, boolean closed) {
        if (isNumber(type)) {
            return List.of(
                    BigDecimal.ONE,
                    BigDecimal.ZERO,
                    BigDecimal.ONE.negate(),
                    BigDecimal.TEN,
                    new BigDecimal("99999"));
        }
        if (type instanceof SqlType.Text) {
            return List.of(closed ? "none" : "text", "x", "").stream()
                    .filter(t -> fits(t, type))
                    .map(Object.class::cast)
                    .toList();
        }
        if (type instanceof SqlType.Bool) {
            return List.of(true, false);
        }
        if (type instanceof SqlType.Date) {
            LocalDate day = LocalDate.of(2031, 10, 4);
            return List.of(day, day.plusMonths(1), day.minusYears(1));
        }
        if (type instanceof SqlType.Timestamp timestamp) {
            String zone = timestamp.zone() ? "+00:00" : "";
            return List.of("2031-10-04 09:00:00" + zone, "2030-01-31 23:59:59" + zone);
        }
        if (type instanceof SqlType.Time time) {
            String zone = time.zone() ? "+00:00" : "";
            return List.of("09:00:00" + zone, "23:59:59" + zone);
        }
        if (type instanceof SqlType.Array array) {
            return arrays(array);
        }
        if (type instanceof SqlType.Uuid) {
            return List.of("00000000-0000-4000-8000-000000000001");
        }
        return List.of();
    }

    /** The ends of a type, and values that are easily forgotten. */
    private static List<Object> bounds(SqlType type) {
        if (type instanceof SqlType.Integral whole) {
            BigDecimal end = new BigDecimal(BigInteger.TWO.pow(bits(whole.size()) - 1));
            return List.of(end.subtract(BigDecimal.ONE), end.negate());
        }
        if (type instanceof SqlType.Exact exact && exact.precision() > 0) {
            BigDecimal least = BigDecimal.ONE.movePointLeft(exact.scale());
            BigDecimal most =
                    BigDecimal.ONE
                            .movePointRight(exact.precision() - exact.scale())
                            .subtract(least);
            return List.of(most, most.negate(), least, least.negate());
        }
        if (type instanceof SqlType.Approximate) {
            return List.of(new BigDecimal("1E30"), new BigDecimal("-1E30"), new BigDecimal("0.1"));
        }
        if (type instanceof SqlType.Text text) {
            List<Object> some = new ArrayList<>(List.of(" ", "it's", "Œ", "50%"));
            if (text.length() > 0) {
                some.add("x".repeat(Math.min(text.length(), LONGEST)));
            }
            some.removeIf(t -> !fits(t, type));
            return some;
        }
        if (type instanceof SqlType.Date) {
            return List.of(
                    LocalDate.of(1, 1, 1), LocalDate.of(9999, 12, 31), LocalDate.of(2032, 2, 29));
        }
        return List.of();
    }

    private static int bits(SqlType.Whole size) {
        return switch (size) {
            case SMALLINT -> Short.SIZE;
            case INTEGER -> Integer.SIZE;
            case BIGINT -> Long.SIZE;
        };
    }

    /** Arrays without, with one and with some elements, and NULL among them. */
    private static List<Object> arrays(SqlType.Array type) {
        List<Object> elements = edges(type.element(), false);
        if (elements.isEmpty()) {
            return List.of(new Object[0]);
        }
        Object first = elements.get(0);
        List<Object> all = new ArrayList<>();
        all.add(new Object[] {first, first});
        all.add(new Object[0]);
        elements.forEach(e -> all.add(new Object[] {e}));
        elements.forEach(e -> all.add(new Object[] {first, e}));
        all.add(new Object[] {first, null});
        all.removeIf(a -> type.maximum() > 0 && ((Object[]) a).length > type.maximum());
        return all;
    }

    /** The literals of a text: numbers with their neighbours, and texts. */
    static List<Object> literals(String text) {
        Set<Object> all = new LinkedHashSet<>();
        for (SqlWords.Word word : SqlWords.of(text).all()) {
            if (word.kind() != SqlWords.Kind.LITERAL) {
                continue;
            }
            String literal = text.substring(word.start(), word.end());
            if (literal.startsWith("'")) {
                all.add(literal.substring(1, literal.length() - 1).replace("''", "'"));
            } else if (Character.isDigit(literal.charAt(0))) {
                number(literal, all);
            }
        }
        return new ArrayList<>(all);
    }

    private static void number(String literal, Set<Object> all) {
        try {
            BigDecimal number = new BigDecimal(literal);
            BigDecimal step =
                    BigDecimal.ONE
                            .movePointLeft(Math.max(0, number.scale()))
                            .setScale(Math.max(0, number.scale()), RoundingMode.UNNECESSARY);
            all.add(number);
            all.add(number.add(step));
            all.add(number.subtract(step));
        } catch (NumberFormatException e) {
            // A form of number that means something else.
            return;
        }
    }
}
