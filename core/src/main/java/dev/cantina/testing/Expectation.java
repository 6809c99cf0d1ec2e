package dev.cantina.testing;

import dev.cantina.project.ProjectException;
import dev.cantina.project.YamlNode;
import dev.cantina.types.ConditionException;
import dev.cantina.types.Conversion;
import dev.cantina.types.SqlType;
import dev.cantina.types.Texts;
import dev.cantina.types.Values;
import dev.cantina.types.Words;
import java.math.BigDecimal;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.time.OffsetTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.UUID;

/** What a value is expected to be: a value, or a matcher. Comparison is SQL's; texts are exact. */
public sealed interface Expectation {
    boolean matches(Object actual);

    /**
     * The same of a value of a type: of a CHAR the blanks at its end don't count (ISO 9075-2, 8.2).
     */
    default boolean matches(Object actual, SqlType type) {
        return matches(actual);
    }

    /** What to show for it: the value, or the matcher in words. */
    Object shown();

    /** Exactly this value. */
    record Equal(Object value) implements Expectation {
        @Override
        public boolean matches(Object actual) {
            if (value == null || actual == null) {
                return value == actual;
            }
            return Values.same(like(actual), actual);
        }

        @Override
        public boolean matches(Object actual, SqlType type) {
            boolean padded =
                    type instanceof SqlType.Text text
                            && text.shape() == SqlType.Shape.FIXED
                            && value instanceof String
                            && actual instanceof String;
            return padded
                    ? ((String) value).stripTrailing().equals(((String) actual).stripTrailing())
                    : matches(actual);
        }

        /** The expected value in the type of the actual one, where it can be that. */
        private Object like(Object actual) {
            try {
                if (value instanceof String text) {
                    SqlType type = typeOf(actual);
                    return type == null ? text : Conversion.cast(text, type);
                }
                if (value instanceof BigDecimal number && actual instanceof String) {
                    return number.toPlainString();
                }
                return value;
            } catch (ConditionException e) {
                return value;
            }
        }

        private static SqlType typeOf(Object actual) {
            if (actual instanceof LocalDate) {
                return SqlType.DATE;
            }
            if (actual instanceof byte[]) {
                return new SqlType.Bytes(SqlType.Shape.VARYING, 0);
            }
            if (actual instanceof LocalDateTime) {
                return new SqlType.Timestamp(9, false);
            }
            if (actual instanceof OffsetDateTime) {
                return new SqlType.Timestamp(9, true);
            }
            if (actual instanceof LocalTime) {
                return new SqlType.Time(9, false);
            }
            if (actual instanceof OffsetTime) {
                return new SqlType.Time(9, true);
            }
            return actual instanceof UUID ? new SqlType.Uuid() : null;
        }

        @Override
        public Object shown() {
            return value;
        }
    }

    /** A list: an array, element by element. */
    record Elements(List<Expectation> elements) implements Expectation {
        @Override
        public boolean matches(Object actual) {
            if (!(actual instanceof Object[] array) || array.length != elements.size()) {
                return false;
            }
            for (int i = 0; i < array.length; i++) {
                if (!elements.get(i).matches(array[i])) {
                    return false;
                }
            }
            return true;
        }

        @Override
        public boolean matches(Object actual, SqlType type) {
            if (!(type instanceof SqlType.Array of)
                    || !(actual instanceof Object[] array)
                    || array.length != elements.size()) {
                return matches(actual);
            }
            for (int i = 0; i < array.length; i++) {
                if (!elements.get(i).matches(array[i], of.element())) {
                    return false;
                }
            }
            return true;
        }

        @Override
        public Object shown() {
            return elements.stream().map(Expectation::shown).toArray();
        }
    }

    record About(BigDecimal value, BigDecimal within) implements Expectation {
        @Override
        public boolean matches(Object actual) {
            if (!(actual instanceof Number)) {
                return false;
            }
            BigDecimal number = (BigDecimal) Conversion.cast(actual, SqlType.DECIMAL);
            return number.subtract(value).abs().compareTo(within) <= 0;
        }

        @Override
        public Object shown() {
            return new Words(
                    "about " + value.toPlainString() + ", within " + within.toPlainString());
        }
    }

    record Like(String pattern) implements Expectation {
        @Override
        public boolean matches(Object actual) {
            return actual != null && Texts.like(Values.text(actual), pattern, null);
        }

        @Override
        public Object shown() {
            return new Words("like '" + pattern + "'");
        }
    }

    record Between(Expectation.Equal low, Expectation.Equal high) implements Expectation {
        @Override
        public boolean matches(Object actual) {
            try {
                return actual != null
                        && Values.compare(actual, low.like(actual)) >= 0
                        && Values.compare(actual, high.like(actual)) <= 0;
            } catch (ConditionException e) {
                return false;
            }
        }

        @Override
        public Object shown() {
            return new Words(
                    "between "
                            + Values.literal(low.value())
                            + " and "
                            + Values.literal(high.value()));
        }
    }

    record Any() implements Expectation {
        @Override
        public boolean matches(Object actual) {
            return true;
        }

        @Override
        public Object shown() {
            return new Words("anything");
        }
    }

    record Not(Expectation inner) implements Expectation {
        @Override
        public boolean matches(Object actual) {
            return !inner.matches(actual);
        }

        @Override
        public boolean matches(Object actual, SqlType type) {
            return !inner.matches(actual, type);
        }

        @Override
        public Object shown() {
            Object what = inner.shown();
            return new Words(
                    "not " + (what instanceof Words words ? words.text() : Values.literal(what)));
        }
    }

    Set<String> MATCHERS = Set.of("about", "within", "like", "between", "any", "not");

    /**
     * Reads an expectation.
     *
     * @throws ProjectException for an unknown matcher, with the nearest known one
     */
    static Expectation of(YamlNode node) throws ProjectException {
        if (node instanceof YamlNode.Scalar scalar) {
            return new Equal(scalar.value());
        }
        if (node instanceof YamlNode.Sequence sequence) {
            List<Expectation> elements = new ArrayList<>();
            for (YamlNode item : sequence.items()) {
                elements.add(of(item));
            }
            return new Elements(elements);
        }
        YamlNode.Mapping mapping = node.mapping("a matcher", MATCHERS);
        if (mapping.get("about").isPresent()) {
            BigDecimal within =
                    mapping.get("within").isPresent()
                            ? mapping.get("within").get().number("within")
                            : BigDecimal.ZERO;
            return new About(mapping.get("about").get().number("about"), within);
        }
        if (mapping.get("like").isPresent()) {
            return new Like(mapping.get("like").get().text("like"));
        }
        if (mapping.get("not").isPresent()) {
            return new Not(of(mapping.get("not").get()));
        }
        if (mapping.get("between").isPresent()) {
            List<YamlNode> bounds = mapping.get("between").get().sequence("between").items();
            if (bounds.size() == 2
                    && of(bounds.get(0)) instanceof Equal low
                    && of(bounds.get(1)) instanceof Equal high) {
                return new Between(low, high);
            }
            throw mapping.wrong("between takes two values: [1, 9]");
        }
        if (mapping.get("any").isPresent()) {
            return new Any();
        }
        throw mapping.wrong("this matcher says nothing; write { like: … } or { any: true }");
    }
}
