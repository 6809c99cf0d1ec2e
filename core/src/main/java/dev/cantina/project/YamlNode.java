package dev.cantina.project;

import dev.cantina.syntax.Nearest;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Span;
import java.math.BigDecimal;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** A YAML value that knows its place. */
public sealed interface YamlNode {
    Span span();

    /** A mapping, with its keys in order and the place of each. */
    record Mapping(Span span, Map<String, YamlNode> fields, Map<String, Span> keys)
            implements YamlNode {}

    record Sequence(Span span, List<YamlNode> items) implements YamlNode {}

    /** {@code value} is a String, a BigDecimal, a Boolean or null; {@code text} as written. */
    record Scalar(Span span, Object value, String text) implements YamlNode {}

    /** The field of a mapping. */
    default Optional<YamlNode> get(String key) {
        return this instanceof Mapping mapping
                ? Optional.ofNullable(mapping.fields.get(key))
                : Optional.empty();
    }

    /**
     * This as a mapping whose keys are all known.
     *
     * @throws ProjectException for another value, or at an unknown key with the nearest known one
     */
    default Mapping mapping(String what, Set<String> known) throws ProjectException {
        Mapping mapping = mapping(what);
        for (String key : mapping.fields.keySet()) {
            if (!known.contains(key)) {
                Optional<String> nearest = Nearest.to(key, known);
                throw new ProjectException(
                        Problem.unknown(
                                mapping.keys.get(key),
                                "unknown-key",
                                what + " has no key " + key,
                                nearest,
                                "known are "
                                        + String.join(", ", known.stream().sorted().toList())));
            }
        }
        return mapping;
    }

    default Mapping mapping(String what) throws ProjectException {
        if (this instanceof Mapping mapping) {
            return mapping;
        }
        if (this instanceof Scalar scalar && scalar.value == null) {
            return new Mapping(span(), Map.of(), Map.of());
        }
        throw wrong(what + " is a mapping: key: value");
    }

    default Sequence sequence(String what) throws ProjectException {
        if (this instanceof Sequence sequence) {
            return sequence;
        }
        throw wrong(what + " is a list");
    }

    /** The text of a scalar, as it was written. */
    default String text(String what) throws ProjectException {
        if (this instanceof Scalar scalar && scalar.value != null) {
            return scalar.text;
        }
        throw wrong(what + " is a text");
    }

    default BigDecimal number(String what) throws ProjectException {
        if (this instanceof Scalar scalar && scalar.value instanceof BigDecimal number) {
            return number;
        }
        throw wrong(what + " is a number");
    }

    default ProjectException wrong(String message) {
        return new ProjectException(Problem.error(span(), "wrong-value", message));
    }

    /** A mapping with fields changed or added. */
    static Mapping with(Mapping mapping, Map<String, YamlNode> changes) {
        Map<String, YamlNode> fields = new LinkedHashMap<>(mapping.fields);
        fields.putAll(changes);
        return new Mapping(mapping.span, fields, mapping.keys);
    }
}
