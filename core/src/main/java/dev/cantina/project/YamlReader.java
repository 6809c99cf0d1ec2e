package dev.cantina.project;

import com.fasterxml.jackson.core.JsonLocation;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.JsonToken;
import com.fasterxml.jackson.core.StreamReadConstraints;
import com.fasterxml.jackson.core.StreamReadFeature;
import com.fasterxml.jackson.dataformat.yaml.YAMLFactory;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.io.IOException;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Reads YAML, and keeps the place of every value. */
public final class YamlReader {
    private static final YAMLFactory FACTORY =
            YAMLFactory.builder()
                    .enable(StreamReadFeature.STRICT_DUPLICATE_DETECTION)
                    .streamReadConstraints(
                            StreamReadConstraints.builder().maxNestingDepth(100).build())
                    .build();

    private final Source source;
    private final JsonParser parser;

    private YamlReader(Source source, JsonParser parser) {
        this.source = source;
        this.parser = parser;
    }

    /**
     * Reads one document; an empty text is an empty mapping.
     *
     * @throws ProjectException with the place of what is not YAML
     */
    public static YamlNode read(Source source) throws ProjectException {
        try (JsonParser parser = FACTORY.createParser(source.text())) {
            YamlReader reader = new YamlReader(source, parser);
            if (parser.nextToken() == null) {
                return new YamlNode.Mapping(source.span(0, 0), Map.of(), Map.of());
            }
            YamlNode node = reader.node();
            if (parser.nextToken() != null) {
                throw new ProjectException(
                        Problem.error(
                                reader.span(),
                                "yaml",
                                "a second document begins here, and a file holds one",
                                "take the line --- out, or move what follows into a file of its own"));
            }
            return node;
        } catch (JsonProcessingException e) {
            JsonLocation at = e.getLocation();
            int offset = at == null ? 0 : offset(source, at);
            String message = e.getOriginalMessage().lines().findFirst().orElse("it can't be read");
            throw new ProjectException(
                    Problem.error(
                            source.span(offset, Math.min(offset + 1, source.text().length())),
                            "yaml",
                            "this is not YAML: " + message));
        } catch (IOException e) {
            throw new ProjectException(source.name() + ": " + e.getMessage());
        }
    }

    private static int offset(Source source, JsonLocation at) {
        int line = Math.max(1, at.getLineNr());
        int start = 0;
        for (int i = 1; i < line; i++) {
            int next = source.text().indexOf('\n', start);
            if (next < 0) {
                break;
            }
            start = next + 1;
        }
        return Math.min(source.text().length(), start + Math.max(0, at.getColumnNr() - 1));
    }

    private Span span() throws IOException {
        int start = offset(source, parser.currentTokenLocation());
        String text = parser.getText();
        int length = text == null || parser.currentToken().isStructStart() ? 1 : text.length();
        int lineEnd = source.text().indexOf('\n', start);
        int most = lineEnd < 0 ? source.text().length() : lineEnd;
        return source.span(start, Math.max(start, Math.min(start + Math.max(1, length), most)));
    }

    private YamlNode node() throws IOException {
        JsonToken token = parser.currentToken();
        Span span = span();
        if (token == JsonToken.START_OBJECT) {
            Map<String, YamlNode> fields = new LinkedHashMap<>();
            Map<String, Span> keys = new LinkedHashMap<>();
            while (parser.nextToken() != JsonToken.END_OBJECT) {
                String key = parser.currentName();
                keys.put(key, span());
                parser.nextToken();
                fields.put(key, node());
            }
            return new YamlNode.Mapping(span, fields, keys);
        }
        if (token == JsonToken.START_ARRAY) {
            List<YamlNode> items = new ArrayList<>();
            while (parser.nextToken() != JsonToken.END_ARRAY) {
                items.add(node());
            }
            return new YamlNode.Sequence(span, items);
        }
        String text = parser.getText();
        Object value =
                switch (token) {
                    case VALUE_NULL -> null;
                    case VALUE_TRUE -> true;
                    case VALUE_FALSE -> false;
                    case VALUE_NUMBER_INT, VALUE_NUMBER_FLOAT -> number(text);
                    default -> text;
                };
        return new YamlNode.Scalar(span, value, text);
    }

    private static Object number(String text) {
        try {
            return new BigDecimal(text.replace("_", ""));
        } catch (NumberFormatException e) {
            return text;
        }
    }
}
