package dev.cantina.cli;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.StreamWriteFeature;
import java.io.IOException;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.math.BigDecimal;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.time.OffsetTime;
import java.time.format.DateTimeFormatter;
import java.util.HexFormat;
import java.util.Map;

/** Writes JSON: decimals as exact numbers, dates and times as ISO 8601 text. */
final class Json {
    private static final JsonFactory FACTORY =
            JsonFactory.builder().enable(StreamWriteFeature.WRITE_BIGDECIMAL_AS_PLAIN).build();

    private Json() {}

    /** The text of a value: maps become objects, lists arrays, everything else a scalar. */
    static String text(Object value) {
        StringWriter writer = new StringWriter();
        try (JsonGenerator generator = FACTORY.createGenerator(writer)) {
            write(generator, value);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return writer.toString();
    }

    private static void write(JsonGenerator generator, Object value) throws IOException {
        if (value == null) {
            generator.writeNull();
        } else if (value instanceof Map<?, ?> map) {
            generator.writeStartObject();
            for (Map.Entry<?, ?> entry : map.entrySet()) {
                generator.writeFieldName(entry.getKey().toString());
                write(generator, entry.getValue());
            }
            generator.writeEndObject();
        } else if (value instanceof Iterable<?> items) {
            generator.writeStartArray();
            for (Object item : items) {
                write(generator, item);
            }
            generator.writeEndArray();
        } else if (value instanceof Object[] items) {
            write(generator, java.util.Arrays.asList(items));
        } else if (value instanceof Integer number) {
            generator.writeNumber(number);
        } else if (value instanceof Long number) {
            generator.writeNumber(number);
        } else if (value instanceof BigDecimal number) {
            generator.writeNumber(number);
        } else if (value instanceof Double number) {
            generator.writeNumber(number);
        } else if (value instanceof Boolean truth) {
            generator.writeBoolean(truth);
        } else if (value instanceof byte[] bytes) {
            generator.writeString(HexFormat.of().withUpperCase().formatHex(bytes));
        } else {
            generator.writeString(moment(value));
        }
    }

    private static String moment(Object value) {
        if (value instanceof LocalDate date) {
            return DateTimeFormatter.ISO_LOCAL_DATE.format(date);
        }
        if (value instanceof LocalDateTime moment) {
            return DateTimeFormatter.ISO_LOCAL_DATE_TIME.format(moment);
        }
        if (value instanceof LocalTime time) {
            return DateTimeFormatter.ISO_LOCAL_TIME.format(time);
        }
        if (value instanceof OffsetDateTime moment) {
            return DateTimeFormatter.ISO_OFFSET_DATE_TIME.format(moment);
        }
        if (value instanceof OffsetTime time) {
            return DateTimeFormatter.ISO_OFFSET_TIME.format(time);
        }
        return value.toString();
    }

    /** Milliseconds, to a tenth of a microsecond at most. */
    static double millis(double value) {
        return Math.round(value * 1000) / 1000.0;
    }
}
