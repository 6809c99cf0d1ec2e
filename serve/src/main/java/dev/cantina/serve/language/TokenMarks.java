package dev.cantina.serve.language;

import dev.cantina.editing.AskedText;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlWords;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/** What each word of a text is, as the protocol's semantic tokens say it. */
final class TokenMarks {
    static final List<String> TYPES =
            List.of(
                    "keyword",
                    "variable",
                    "parameter",
                    "function",
                    "class",
                    "property",
                    "namespace",
                    "string",
                    "number",
                    "comment",
                    "label");
    static final List<String> MODIFIERS = List.of("declaration", "readonly");

    private TokenMarks() {}

    /** A stretch of a line. */
    private record Mark(int start, int end, int type, int modifiers) {}

    /**
     * The marks of a text, five numbers each.
     *
     * @param names what its names mean, as far as that is known
     */
    static List<Integer> of(Source source, List<AskedText.Marked> names) {
        Map<Integer, Mark> marks = new TreeMap<>();
        String text = source.written();
        int last = 0;
        for (SqlWords.Word word : SqlWords.of(text).all()) {
            comments(text, last, word.start(), marks);
            last = word.end();
            String type =
                    switch (word.kind()) {
                        case LITERAL -> text.charAt(word.start()) == '\'' ? "string" : "number";
                        case WORD -> word.isName() ? "" : "keyword";
                        default -> "";
                    };
            if (!type.isEmpty()) {
                put(marks, word.start(), word.end(), type, 0);
            }
        }
        comments(text, last, text.length(), marks);
        for (AskedText.Marked named : names) {
            Span span = named.span();
            put(
                    marks,
                    span.start(),
                    span.end(),
                    type(named.mark()),
                    (named.declares() ? 1 : 0) | (named.fixed() ? 2 : 0));
        }
        return numbers(source, new ArrayList<>(marks.values()));
    }

    private static void put(
            Map<Integer, Mark> marks, int start, int end, String type, int modifiers) {
        marks.put(start, new Mark(start, end, TYPES.indexOf(type), modifiers));
    }

    private static void comments(String text, int from, int to, Map<Integer, Mark> marks) {
        int at = from;
        while (at + 1 < to) {
            if (text.startsWith("--", at)) {
                int end = text.indexOf('\n', at);
                int stop = end < 0 || end > to ? to : end;
                put(marks, at, stop, "comment", 0);
                at = stop;
            } else if (text.startsWith("/*", at)) {
                int end = text.indexOf("*/", at + 2);
                int stop = end < 0 || end + 2 > to ? to : end + 2;
                put(marks, at, stop, "comment", 0);
                at = stop;
            } else {
                at++;
            }
        }
    }

    private static String type(AskedText.Mark mark) {
        return switch (mark) {
            case VARIABLE -> "variable";
            case PARAMETER -> "parameter";
            case FUNCTION -> "function";
            case TABLE -> "class";
            case COLUMN -> "property";
            case MODULE -> "namespace";
            case LABEL -> "label";
        };
    }

    /** As the protocol wants them: each from the one before, and none over the end of a line. */
    private static List<Integer> numbers(Source source, List<Mark> marks) {
        List<Integer> numbers = new ArrayList<>();
        int line = 0;
        int column = 0;
        int covered = 0;
        for (Mark mark : marks) {
            int at = Math.max(mark.start(), covered);
            covered = Math.max(covered, mark.end());
            while (at < mark.end()) {
                int thisLine = source.lineOf(at) - 1;
                int start = source.columnOf(at) - 1;
                int length = Math.min(mark.end() - at, source.line(thisLine + 1).length() - start);
                if (length > 0) {
                    numbers.add(thisLine - line);
                    numbers.add(thisLine == line ? start - column : start);
                    numbers.add(length);
                    numbers.add(mark.type());
                    numbers.add(mark.modifiers());
                    line = thisLine;
                    column = start;
                }
                int next = source.written().indexOf('\n', at);
                at = next < 0 ? mark.end() : next + 1;
            }
        }
        return numbers;
    }
}
