package dev.cantina.nativecode;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.List;

/**
 * Marks a place in a routine's copy in a server's language: a comment that says which statement of
 * the routine begins there, and how the copy says the routine's variables. Probes take its place
 * where somebody watches.
 *
 * @param file the source of the routine, and
 * @param offset where the routine begins in it
 * @param at the statement's number; -1 where none begins
 * @param kind what stands there
 * @param type what a function returns, in the server's words; empty where that is no one value
 * @param variables those that have a value there
 */
public record Mark(String file, int offset, int at, Kind kind, String type, List<Said> variables) {
    /** What stands at a place. */
    public enum Kind {
        /** The declarations of the copy. */
        HEAD,
        /** A statement. */
        STATEMENT,
        /** What was done already: the first value of a variable. */
        DONE,
        /** What handles a condition that the server has caught. */
        CAUGHT,
        /** A condition ends the routine, which says so and completes. */
        FAILED,
        /** RETURN, up to the mark behind it. */
        GIVE,
        /** The end of what GIVE begins. */
        GIVEN,
        /** The end of the routine. */
        END
    }

    /**
     * A variable as the copy says it.
     *
     * @param text an expression that is its value
     * @param fields the columns of a row, as the copy says them; empty for what is none
     * @param settable whether it may be assigned
     */
    public record Said(int slot, String text, Form form, boolean settable, List<String> fields) {}

    /** How a variable is told. */
    public enum Form {
        TEXT,
        ARRAY,
        ROW
    }

    /** A mark, and where it stands. */
    public record Found(Mark mark, int start, int end) {}

    private static final ObjectMapper JSON = new ObjectMapper();
    private static final String OPEN = "/*";
    private static final String CLOSE = "*/";

    /**
     * It as a comment.
     *
     * @param key tells it from what an author wrote
     */
    public String text(String key) {
        ObjectNode all = JSON.createObjectNode();
        all.put("f", file).put("o", offset).put("at", at).put("k", kind.name());
        all.put("t", type);
        ArrayNode list = all.putArray("v");
        for (Said one : variables) {
            ArrayNode said = list.addArray();
            said.add(one.slot).add(one.text).add(one.form.name()).add(one.settable);
            ArrayNode fields = said.addArray();
            one.fields.forEach(fields::add);
        }
        StringBuilder plain = new StringBuilder();
        for (char c : all.toString().toCharArray()) {
            // Nothing in it may end the comment, or quote the text around it.
            boolean safe = c < 127 && c != '*' && c != '$' && c != '\'';
            plain.append(safe ? String.valueOf(c) : String.format("\\u%04x", (int) c));
        }
        return OPEN + key + " " + plain + CLOSE;
    }

    /**
     * The marks in a text, in their order.
     *
     * @param key as {@link #text} had it
     */
    public static List<Found> in(String text, String key) {
        List<Found> found = new ArrayList<>();
        String begin = OPEN + key + " ";
        for (int at = text.indexOf(begin); at >= 0; at = text.indexOf(begin, at + 1)) {
            int end = text.indexOf(CLOSE, at);
            found.add(
                    new Found(
                            read(text.substring(at + begin.length(), end)),
                            at,
                            end + CLOSE.length()));
        }
        return found;
    }

    private static Mark read(String text) {
        try {
            JsonNode all = JSON.readTree(text);
            List<Said> variables = new ArrayList<>();
            for (JsonNode said : all.get("v")) {
                List<String> fields = new ArrayList<>();
                said.get(4).forEach(f -> fields.add(f.asText()));
                variables.add(
                        new Said(
                                said.get(0).asInt(),
                                said.get(1).asText(),
                                Form.valueOf(said.get(2).asText()),
                                said.get(3).asBoolean(),
                                fields));
            }
            return new Mark(
                    all.get("f").asText(),
                    all.get("o").asInt(),
                    all.get("at").asInt(),
                    Kind.valueOf(all.get("k").asText()),
                    all.get("t").asText(),
                    variables);
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("a mark can't be read: " + text, e);
        }
    }
}
