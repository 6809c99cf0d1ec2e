package dev.cantina.types;

import java.math.BigDecimal;
import java.math.MathContext;
import java.math.RoundingMode;
import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.time.OffsetTime;
import java.time.ZoneOffset;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.function.UnaryOperator;

/**
 * The functions that Cantina works out itself (language profile, "Expressions"). A NULL argument
 * gives NULL, so none of them ever sees one.
 */
public final class Functions {
    /** What a function does with its arguments, none of which is NULL. */
    @FunctionalInterface
    public interface Body {
        Object apply(Object[] arguments);
    }

    /**
     * A function: all that is to be known of it, but for what a server has to be told by statements
     * of its own.
     *
     * @param result the result's type, of the types of the arguments
     * @param strict whether it is NULL where an argument is
     * @param traits what else is true of it
     */
    public record BuiltIn(
            String name,
            int least,
            int most,
            Function<List<SqlType>, SqlType> result,
            boolean strict,
            Body body,
            Traits traits) {
        /** Whether its result is an approximate number whatever numbers it is given. */
        public boolean isApproximate() {
            List<SqlType> whole =
                    java.util.Collections.nCopies(Math.max(1, least), SqlType.INTEGER);
            return result.apply(whole) instanceof SqlType.Approximate;
        }

        /** Whether it can raise a condition, given arguments of its types. */
        public boolean canRaise() {
            return !traits.safe();
        }

        /** What a server calls it, where it means the same there; empty where it has none. */
        public Optional<String> on(String server) {
            return Optional.ofNullable(traits.names().get(server));
        }

        /** The value; for a strict function NULL where an argument is. */
        public Object call(Object[] arguments) {
            for (Object argument : arguments) {
                if (argument == null && strict) {
                    return null;
                }
            }
            return body.apply(arguments);
        }
    }

    /**
     * What is true of a function.
     *
     * @param safe whether it never raises
     * @param keepsBlanks whether the blanks at the end of a CHAR count in it (ISO 9075-2, 6.29)
     * @param texts the places, from 0, of the arguments that are taken as texts
     * @param whole the places of the arguments that are taken as whole numbers
     * @param names what servers call it, by the names of their kinds
     */
    public record Traits(
            boolean safe,
            boolean keepsBlanks,
            Set<Integer> texts,
            Set<Integer> whole,
            Map<String, String> names) {
        static final Traits NONE = new Traits(false, false, Set.of(), Set.of(), Map.of());
    }

    /** A row of the table that is being written. */
    private static final class Row {
        private final String key;

        Row(String key) {
            this.key = key;
        }

        private Row set(UnaryOperator<Traits> change) {
            ALL.computeIfPresent(
                    key,
                    (k, f) ->
                            new BuiltIn(
                                    f.name,
                                    f.least,
                                    f.most,
                                    f.result,
                                    f.strict,
                                    f.body,
                                    change.apply(f.traits)));
            return this;
        }

        Row safe() {
            return set(t -> new Traits(true, t.keepsBlanks, t.texts, t.whole, t.names));
        }

        Row keepsBlanks() {
            return set(t -> new Traits(t.safe, true, t.texts, t.whole, t.names));
        }

        Row texts(Integer... places) {
            return set(t -> new Traits(t.safe, t.keepsBlanks, Set.of(places), t.whole, t.names));
        }

        Row whole(Integer... places) {
            return set(t -> new Traits(t.safe, t.keepsBlanks, t.texts, Set.of(places), t.names));
        }

        /** Servers that have it by its own name. */
        Row on(String... servers) {
            for (String server : servers) {
                called(server, key);
            }
            return this;
        }

        Row called(String server, String name) {
            return set(
                    t -> {
                        Map<String, String> names = new HashMap<>(t.names);
                        names.put(server, name);
                        return new Traits(
                                t.safe, t.keepsBlanks, t.texts, t.whole, Map.copyOf(names));
                    });
        }
    }

    private static final String POSTGRESQL = "postgresql";
    private static final String MARIADB = "mariadb";

    private static final Map<String, BuiltIn> ALL = new HashMap<>();

    static {
        texts();
        numbers();
        others();
        datetimes();
    }

    /** {@code (a, b) OVERLAPS (c, d)}, whose values stand side by side. */
    public static final BuiltIn OVERLAPS =
            new BuiltIn(
                    "OVERLAPS",
                    4,
                    4,
                    always(SqlType.BOOLEAN),
                    false,
                    a -> DatetimeFunctions.overlaps(a[0], a[1], a[2], a[3]),
                    new Traits(false, false, Set.of(), Set.of(), Map.of(POSTGRESQL, "OVERLAPS")));

    private Functions() {}

    public static Optional<BuiltIn> find(String name) {
        return Optional.ofNullable(ALL.get(name));
    }

    /** What the language has beside the functions that have a body here. */
    private static final Set<String> FORMS =
            Set.of(
                    "COALESCE",
                    "NULLIF",
                    "OVERLAPS",
                    "CURRENT_DATE",
                    "CURRENT_TIME",
                    "CURRENT_TIMESTAMP",
                    "LOCALTIME",
                    "LOCALTIMESTAMP",
                    "CURRENT_USER",
                    "SESSION_USER",
                    "USER");

    /** The names of all of them, in upper case. */
    public static Set<String> names() {
        Set<String> names = new java.util.TreeSet<>(ALL.keySet());
        names.addAll(FORMS);
        return names;
    }

    /** Whether a name is that of a function of the language itself, which gives one value. */
    public static boolean isOfLanguage(String name) {
        return ALL.containsKey(name) || FORMS.contains(name);
    }

    /** For compiled code, which names a function that is known to be there. */
    public static BuiltIn get(String name) {
        return ALL.get(name);
    }

    private static Row add(
            String name, int least, int most, Function<List<SqlType>, SqlType> result, Body body) {
        ALL.put(name, new BuiltIn(name, least, most, result, true, body, Traits.NONE));
        return new Row(name);
    }

    private static Function<List<SqlType>, SqlType> always(SqlType type) {
        return types -> type;
    }

    private static String text(Object value) {
        return Values.text(value);
    }

    private static long whole(Object value) {
        return (Long) Conversion.cast(value, SqlType.BIGINT);
    }

    private static void texts() {
        Function<List<SqlType>, SqlType> varchar = always(SqlType.VARCHAR);
        Function<List<SqlType>, SqlType> integer = always(SqlType.INTEGER);
        for (String name : List.of("CHAR_LENGTH", "CHARACTER_LENGTH")) {
            add(name, 1, 1, integer, a -> (long) Texts.length(text(a[0])))
                    .safe()
                    .keepsBlanks()
                    .texts(0)
                    .on(POSTGRESQL, MARIADB);
        }
        add(
                        "OCTET_LENGTH",
                        1,
                        1,
                        integer,
                        a ->
                                a[0] instanceof byte[] bytes
                                        ? (long) bytes.length
                                        : (long) text(a[0]).getBytes(StandardCharsets.UTF_8).length)
                .keepsBlanks()
                .on(POSTGRESQL, MARIADB);
        add("POSITION", 2, 2, integer, a -> Texts.position(text(a[0]), text(a[1])))
                .safe()
                .keepsBlanks()
                .texts(0, 1)
                .on(POSTGRESQL, MARIADB);
        add(
                        "SUBSTRING",
                        2,
                        3,
                        varchar,
                        a ->
                                a.length == 2
                                        ? Texts.substring(text(a[0]), whole(a[1]))
                                        : Texts.substring(text(a[0]), whole(a[1]), whole(a[2])))
                .keepsBlanks()
                .texts(0)
                .whole(1, 2)
                .on(POSTGRESQL);
        // ISO 9075-2, 6.32: the type of what is folded.
        Function<List<SqlType>, SqlType> folded =
                types -> types.get(0) instanceof SqlType.Text text ? text : SqlType.VARCHAR;
        add("UPPER", 1, 1, folded, a -> Texts.cased(text(a[0]), Character::toUpperCase))
                .safe()
                .texts(0)
                .on(POSTGRESQL, MARIADB);
        add("LOWER", 1, 1, folded, a -> Texts.cased(text(a[0]), Character::toLowerCase))
                .safe()
                .texts(0)
                .on(POSTGRESQL, MARIADB);
        trim("TRIM BOTH", true, true).safe().keepsBlanks();
        trim("TRIM LEADING", true, false).safe().keepsBlanks();
        trim("TRIM TRAILING", false, true).safe().keepsBlanks();
        trim("LTRIM", true, false).safe().keepsBlanks().texts(0, 1).on(POSTGRESQL, MARIADB);
        trim("RTRIM", false, true).safe().keepsBlanks().texts(0, 1).on(POSTGRESQL, MARIADB);
        add("LPAD", 2, 3, varchar, a -> pad(a, true))
                .keepsBlanks()
                .texts(0, 2)
                .whole(1)
                .on(POSTGRESQL, MARIADB);
        add("RPAD", 2, 3, varchar, a -> pad(a, false))
                .keepsBlanks()
                .texts(0, 2)
                .whole(1)
                .on(POSTGRESQL, MARIADB);
        add(
                        "OVERLAY",
                        3,
                        4,
                        varchar,
                        a ->
                                Texts.overlay(
                                        text(a[0]),
                                        text(a[1]),
                                        whole(a[2]),
                                        a.length == 4 ? whole(a[3]) : Texts.length(text(a[1]))))
                .keepsBlanks()
                .whole(2, 3)
                .on(POSTGRESQL);
        add("REPLACE", 3, 3, varchar, a -> Texts.replace(text(a[0]), text(a[1]), text(a[2])))
                .safe()
                .keepsBlanks()
                .texts(0, 1, 2)
                .on(POSTGRESQL, MARIADB);
    }

    private static Row trim(String name, boolean leading, boolean trailing) {
        return add(
                name,
                1,
                2,
                always(SqlType.VARCHAR),
                a -> Texts.trim(text(a[0]), a.length == 1 ? " " : text(a[1]), leading, trailing));
    }

    private static String pad(Object[] a, boolean left) {
        return Texts.pad(text(a[0]), whole(a[1]), a.length == 3 ? text(a[2]) : " ", left);
    }

    private static void numbers() {
        Function<List<SqlType>, SqlType> same =
                types -> types.get(0) instanceof SqlType.Unknown ? SqlType.BIGINT : types.get(0);
        Function<List<SqlType>, SqlType> toDouble = always(SqlType.DOUBLE);
        Function<List<SqlType>, SqlType> rounded =
                types ->
                        types.get(0) instanceof SqlType.Exact
                                        || types.get(0) instanceof SqlType.DecFloat
                                ? SqlType.DECIMAL
                                : same.apply(types);
        // The least whole number of a type has no counterpart in it.
        Function<List<SqlType>, SqlType> wide =
                types ->
                        types.get(0) instanceof SqlType.Integral
                                ? SqlType.BIGINT
                                : same.apply(types);
        Function<List<SqlType>, SqlType> roundedUp =
                types ->
                        types.get(0) instanceof SqlType.Integral
                                ? SqlType.BIGINT
                                : rounded.apply(types);
        add("ABS", 1, 1, wide, a -> abs(a[0])).on(POSTGRESQL, MARIADB);
        add(
                        "MOD",
                        2,
                        2,
                        types -> TypeRules.arithmetic("-", types.get(0), types.get(1)),
                        a -> mod(a[0], a[1]))
                .on(POSTGRESQL);
        add("SIGN", 1, 1, always(SqlType.INTEGER), a -> (long) decimal(a[0]).signum())
                .on(POSTGRESQL, MARIADB);
        add("FLOOR", 1, 1, rounded, a -> round(a[0], 0, RoundingMode.FLOOR))
                .on(POSTGRESQL, MARIADB);
        add("CEILING", 1, 1, rounded, a -> round(a[0], 0, RoundingMode.CEILING))
                .on(POSTGRESQL, MARIADB);
        add("CEIL", 1, 1, rounded, a -> round(a[0], 0, RoundingMode.CEILING))
                .called(POSTGRESQL, "CEILING")
                .on(MARIADB);
        add("ROUND", 1, 2, roundedUp, a -> round(a[0], digits(a), RoundingMode.HALF_UP))
                .on(POSTGRESQL, MARIADB);
        add("TRUNCATE", 1, 2, rounded, a -> round(a[0], digits(a), RoundingMode.DOWN))
                .called(POSTGRESQL, "TRUNC");
        add("TRUNC", 1, 2, rounded, a -> round(a[0], digits(a), RoundingMode.DOWN)).on(POSTGRESQL);
        add("POWER", 2, 2, toDouble, a -> power(number(a[0]), number(a[1])))
                .on(POSTGRESQL, MARIADB);
        add(
                        "SQRT",
                        1,
                        1,
                        toDouble,
                        a -> {
                            if (number(a[0]) < 0) {
                                throw new ConditionException(
                                        "2201F",
                                        "a negative number has no square root: " + text(a[0]));
                            }
                            return Math.sqrt(number(a[0]));
                        })
                .on(POSTGRESQL);
        add("EXP", 1, 1, toDouble, a -> Numbers.finite(Math.exp(number(a[0]))))
                .on(POSTGRESQL, MARIADB);
        add("LN", 1, 1, toDouble, a -> Math.log(positive(a[0]))).on(POSTGRESQL);
        add("LOG10", 1, 1, toDouble, a -> Math.log10(positive(a[0]))).called(POSTGRESQL, "LOG");
        add("GREATEST", 1, 1000, Functions::commonOf, a -> extreme(a, 1)).on(MARIADB);
        add("LEAST", 1, 1000, Functions::commonOf, a -> extreme(a, -1)).on(MARIADB);
    }

    private static SqlType commonOf(List<SqlType> types) {
        SqlType common = types.get(0);
        for (SqlType type : types) {
            common = TypeRules.common(common, type).orElse(common);
        }
        return common;
    }

    private static Object extreme(Object[] values, int sign) {
        Object best = values[0];
        for (Object value : values) {
            if (Values.compare(value, best) * sign > 0) {
                best = value;
            }
        }
        return best;
    }

    private static int digits(Object[] a) {
        return a.length == 1 ? 0 : (int) Math.max(-1000, Math.min(1000, whole(a[1])));
    }

    private static BigDecimal decimal(Object value) {
        return (BigDecimal) Conversion.cast(value, SqlType.DECIMAL);
    }

    private static double number(Object value) {
        return (Double) Conversion.cast(value, SqlType.DOUBLE);
    }

    private static Object abs(Object value) {
        if (value instanceof Long number) {
            return Numbers.abs(number);
        }
        if (value instanceof IntervalValue interval) {
            return interval.months() < 0 || interval.nanos().signum() < 0
                    ? interval.negated()
                    : interval;
        }
        return value instanceof Double number ? (Object) Math.abs(number) : decimal(value).abs();
    }

    private static Object mod(Object a, Object b) {
        if (a instanceof Long x && b instanceof Long y) {
            return Numbers.mod(x, y);
        }
        if (a instanceof Double || b instanceof Double) {
            return Numbers.mod(number(a), number(b));
        }
        return Numbers.mod(decimal(a), decimal(b));
    }

    private static Object round(Object value, int digits, RoundingMode mode) {
        BigDecimal exact = decimal(value);
        BigDecimal rounded = exact.scale() <= digits ? exact : exact.setScale(digits, mode);
        if (value instanceof Long) {
            return Numbers.whole(rounded);
        }
        return value instanceof Double
                ? (Object) rounded.doubleValue()
                : rounded.scale() < 0 ? rounded.setScale(0) : rounded;
    }

    /** ISO 9075-2, 6.30: 2201F for a zero to a negative power and a negative to a fraction. */
    private static double power(double base, double exponent) {
        if (base == 0 && exponent < 0 || base < 0 && exponent != Math.rint(exponent)) {
            throw new ConditionException(
                    "2201F", base + " can't be raised to the power " + exponent);
        }
        return Numbers.finite(Math.pow(base, exponent));
    }

    private static double positive(Object value) {
        double number = number(value);
        if (number <= 0) {
            throw new ConditionException(
                    "2201E", "only a positive number has a logarithm, not " + text(value));
        }
        return number;
    }

    /** What the operators mean for dates, times and intervals; no call can name them. */
    private static void datetimes() {
        Function<List<SqlType>, SqlType> first = types -> types.get(0);
        add("+ INTERVAL", 2, 2, first, a -> DatetimeFunctions.plus(a[0], (IntervalValue) a[1]));
        add(
                "- INTERVAL",
                2,
                2,
                first,
                a -> DatetimeFunctions.plus(a[0], ((IntervalValue) a[1]).negated()));
        add(
                "INTERVAL + INTERVAL",
                2,
                2,
                Functions::commonOf,
                a -> ((IntervalValue) a[0]).plus((IntervalValue) a[1]));
        add(
                "INTERVAL - INTERVAL",
                2,
                2,
                Functions::commonOf,
                a -> ((IntervalValue) a[0]).plus(((IntervalValue) a[1]).negated()));
        add("INTERVAL *", 2, 2, first, a -> DatetimeFunctions.times((IntervalValue) a[0], a[1]));
        add("INTERVAL /", 2, 2, first, a -> DatetimeFunctions.divided((IntervalValue) a[0], a[1]));
        add("- OF INTERVAL", 1, 1, first, a -> ((IntervalValue) a[0]).negated());
        add(
                "DIFFERENCE",
                3,
                3,
                types -> SqlType.NULL,
                a -> DatetimeFunctions.between(a[0], a[1], (String) a[2]));
    }

    private static void others() {
        add("CARDINALITY", 1, 1, always(SqlType.INTEGER), a -> (long) ((Object[]) a[0]).length)
                .on(POSTGRESQL);
        add(
                        "TRIM_ARRAY",
                        2,
                        2,
                        types -> types.get(0),
                        a -> {
                            Object[] array = (Object[]) a[0];
                            long fewer = whole(a[1]);
                            if (fewer < 0 || fewer > array.length) {
                                throw new ConditionException(
                                        "2202E",
                                        "an array of "
                                                + array.length
                                                + " has no "
                                                + fewer
                                                + " elements to trim");
                            }
                            return Arrays.copyOf(array, array.length - (int) fewer);
                        })
                .whole(1)
                .on(POSTGRESQL);
        for (String field : List.of("YEAR", "MONTH", "DAY", "HOUR", "MINUTE")) {
            add("EXTRACT " + field, 1, 1, always(SqlType.INTEGER), a -> extract(field, a[0]));
        }
        for (String field : List.of("TIMEZONE_HOUR", "TIMEZONE_MINUTE")) {
            add("EXTRACT " + field, 1, 1, always(SqlType.INTEGER), a -> zone(field, a[0]));
        }
        add("EXTRACT SECOND", 1, 1, always(new SqlType.Exact(11, 9)), a -> seconds(a[0]));
    }

    private static Object extract(String field, Object value) {
        if (value instanceof IntervalValue interval) {
            return interval.field(field).longValue();
        }
        boolean day = field.equals("YEAR") || field.equals("MONTH") || field.equals("DAY");
        if (day) {
            LocalDate date = (LocalDate) Conversion.cast(value, SqlType.DATE);
            return switch (field) {
                case "YEAR" -> (long) date.getYear();
                case "MONTH" -> (long) date.getMonthValue();
                default -> (long) date.getDayOfMonth();
            };
        }
        LocalTime time = time(value);
        return field.equals("HOUR") ? (long) time.getHour() : (long) time.getMinute();
    }

    /** The displacement of the zone, its minutes with the sign of the whole (ISO 9075-2, 6.30). */
    private static Object zone(String field, Object value) {
        ZoneOffset offset;
        if (value instanceof OffsetDateTime moment) {
            offset = moment.getOffset();
        } else if (value instanceof OffsetTime time) {
            offset = time.getOffset();
        } else {
            throw new ConditionException(
                    "22007", Values.shortened(value) + " has no time zone to extract");
        }
        int minutes = offset.getTotalSeconds() / 60;
        return (long) (field.endsWith("HOUR") ? minutes / 60 : minutes % 60);
    }

    private static LocalTime time(Object value) {
        if (value instanceof LocalTime time) {
            return time;
        }
        if (value instanceof OffsetTime time) {
            return time.toLocalTime();
        }
        if (value instanceof OffsetDateTime moment) {
            return moment.toLocalTime();
        }
        return ((LocalDateTime) Conversion.cast(value, new SqlType.Timestamp(9, false)))
                .toLocalTime();
    }

    private static BigDecimal seconds(Object value) {
        if (value instanceof IntervalValue interval) {
            return interval.field("SECOND");
        }
        LocalTime time = time(value);
        BigDecimal nanos = BigDecimal.valueOf(time.getNano(), 9);
        BigDecimal all = nanos.add(BigDecimal.valueOf(time.getSecond()));
        return all.round(MathContext.UNLIMITED);
    }
}
