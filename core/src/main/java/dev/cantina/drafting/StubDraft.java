package dev.cantina.drafting;

import dev.cantina.project.YamlNode;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.SqlWords;
import dev.cantina.syntax.SqlWords.Word;
import dev.cantina.testing.TestCase;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/** Stubs of routines that are not there yet: they check, and end in 0A000 when they are called. */
public final class StubDraft {
    private static final String UNKNOWN = "VARCHAR(100)";

    private final String name;
    private final List<String> notes = new ArrayList<>();

    private StubDraft(String name) {
        this.name = name;
    }

    private record Parameter(String mode, String name, String type) {}

    /**
     * A stub for a call that stands in a text, or for a case that calls it; empty where there is
     * neither.
     *
     * @param texts routines and scripts
     */
    public static Optional<Draft> of(String name, List<Source> texts, List<TestCase> cases) {
        StubDraft stub = new StubDraft(name);
        for (Source text : texts) {
            Optional<Draft> found = stub.called(text);
            if (found.isPresent()) {
                return found;
            }
        }
        return cases.stream()
                .flatMap(c -> c.calls().stream())
                .filter(c -> c.routine().equalsIgnoreCase(name))
                .findFirst()
                .map(stub::ofCase);
    }

    // ------------------------------------------------------------------ from a call

    private Optional<Draft> called(Source text) {
        List<Word> words = SqlWords.of(text.written()).all();
        for (int i = 0; i + 1 < words.size(); i++) {
            boolean names = words.get(i).text().equalsIgnoreCase(name) && words.get(i + 1).is("(");
            boolean made =
                    i > 0 && (words.get(i - 1).is("PROCEDURE") || words.get(i - 1).is("FUNCTION"));
            if (names && !made) {
                return Optional.of(ofCall(text, words, i));
            }
        }
        return Optional.empty();
    }

    private Draft ofCall(Source text, List<Word> words, int at) {
        boolean procedure = at > 0 && words.get(at - 1).is("CALL");
        notes.add(
                "from the call in "
                        + text.span(words.get(at).start(), words.get(at).end()).place());
        List<Parameter> parameters = new ArrayList<>();
        int depth = words.get(at + 1).depth();
        int from = at + 2;
        for (int i = from; i < words.size(); i++) {
            boolean ends = words.get(i).is(")") && words.get(i).depth() <= depth;
            boolean parts = words.get(i).is(",") && words.get(i).depth() == depth + 1;
            if (ends || parts) {
                if (i > from) {
                    parameters.add(
                            argument(
                                    text,
                                    words,
                                    words.subList(from, i),
                                    at,
                                    parameters.size() + 1));
                }
                from = i + 1;
            }
            if (ends) {
                break;
            }
        }
        if (procedure && !parameters.isEmpty()) {
            notes.add("which parameters are OUT can't be seen in a call: they are all IN");
        }
        if (!procedure) {
            notes.add("what it returns can't be seen in a call: VARCHAR(100) stands for it");
        }
        return draft(unique(parameters), procedure ? Optional.empty() : Optional.of(UNKNOWN));
    }

    private Parameter argument(
            Source text, List<Word> words, List<Word> argument, int call, int number) {
        List<Word> value = argument;
        String called = "";
        if (argument.size() > 2 && argument.get(1).is("=>")) {
            called = said(text, argument.get(0));
            value = argument.subList(2, argument.size());
        }
        Word last = value.get(value.size() - 1);
        String written = text.written().substring(value.get(0).start(), last.end());
        Optional<String> type = Optional.empty();
        if (value.size() == 1 && last.kind() == SqlWords.Kind.LITERAL) {
            type = Optional.of(literal(written));
        } else if (value.get(0).is("DATE") || value.get(0).is("TIMESTAMP")) {
            type = Optional.of(value.get(0).text().toUpperCase(Locale.ROOT));
        } else if (value.size() == 1 && last.isName()) {
            type = declared(text, words, last.text(), call);
        } else if (value.size() == 3 && value.get(1).is(".")) {
            type = declared(text, words, last.text(), call);
        }
        boolean named = last.isName() && value.size() <= 3 && last.kind() != SqlWords.Kind.LITERAL;
        String parameter =
                !called.isEmpty() ? called : named ? said(text, last) : "argument_" + number;
        if (type.isEmpty()) {
            notes.add("the type of " + parameter + " can't be seen: " + UNKNOWN + " stands for it");
        }
        return new Parameter("IN", parameter, type.orElse(UNKNOWN));
    }

    /** A name in its author's letters. */
    private static String said(Source text, Word word) {
        return word.kind() == SqlWords.Kind.NAME
                ? word.text()
                : text.written().substring(word.start(), word.end());
    }

    private static String literal(String written) {
        if (written.startsWith("'")) {
            return "VARCHAR(" + Math.max(20, written.length()) + ")";
        }
        try {
            return number(new BigDecimal(written));
        } catch (NumberFormatException e) {
            return UNKNOWN;
        }
    }

    private static String number(BigDecimal number) {
        int scale = Math.max(0, number.scale());
        return scale == 0
                ? "INTEGER"
                : "DECIMAL(" + Math.max(12, number.precision() + 6) + ", " + scale + ")";
    }

    /** The type with which a variable or parameter is declared before a place of a text. */
    private static Optional<String> declared(
            Source text, List<Word> words, String name, int before) {
        for (int i = before - 1; i > 0; i--) {
            boolean is = words.get(i).text().equalsIgnoreCase(name) && words.get(i).isName();
            if (!is) {
                continue;
            }
            int first = i;
            while (first > 1 && words.get(first - 1).is(",") && words.get(first - 2).isName()) {
                first -= 2;
            }
            boolean variable = words.get(first - 1).is("DECLARE");
            boolean parameter =
                    List.of("(", ",", "IN", "OUT", "INOUT").stream().anyMatch(words.get(i - 1)::is)
                            && head(words, i);
            if (!variable && !parameter) {
                continue;
            }
            int type = i + 1;
            while (variable && type + 1 < words.size() && words.get(type).is(",")) {
                type += 2;
            }
            int end = type;
            int depth = words.get(i).depth();
            while (end < words.size()
                    && !words.get(end).is(";")
                    && !words.get(end).is("DEFAULT")
                    && !(words.get(end).is(",") && words.get(end).depth() == depth)
                    && !(words.get(end).is(")") && words.get(end).depth() < depth)) {
                end++;
            }
            if (end > type) {
                return Optional.of(
                        text.written()
                                .substring(words.get(type).start(), words.get(end - 1).end())
                                .replaceAll("\\s+", " "));
            }
        }
        return Optional.empty();
    }

    /** Whether a word stands between the brackets of a routine's head. */
    private static boolean head(List<Word> words, int at) {
        int depth = words.get(at).depth();
        for (int i = at - 1; i > 1; i--) {
            if (words.get(i).is("(") && words.get(i).depth() < depth) {
                return words.get(i - 2).is("PROCEDURE") || words.get(i - 2).is("FUNCTION");
            }
        }
        return false;
    }

    // ------------------------------------------------------------------ from a case

    private Draft ofCase(TestCase.Call call) {
        notes.add("from the case in " + call.place().place());
        List<Parameter> parameters = new ArrayList<>();
        call.pass().forEach((p, value) -> parameters.add(new Parameter("IN", p, type(p, value))));
        Optional<String> returns = Optional.empty();
        if (call.returns().isPresent()) {
            if (call.returns().get() instanceof YamlNode.Mapping mapping
                    && mapping.get("any").isEmpty()) {
                mapping.fields()
                        .forEach(
                                (p, value) ->
                                        parameters.add(new Parameter("OUT", p, type(p, value))));
            } else {
                returns = Optional.of(type("what it returns", call.returns().get()));
            }
        }
        return draft(unique(parameters), returns);
    }

    private String type(String parameter, YamlNode value) {
        if (value instanceof YamlNode.Scalar scalar) {
            if (scalar.value() instanceof BigDecimal number) {
                return number(number);
            }
            if (scalar.value() instanceof Boolean) {
                return "BOOLEAN";
            }
            if (scalar.value() instanceof String text) {
                return text.matches("\\d{4}-\\d{2}-\\d{2}")
                        ? "DATE"
                        : "VARCHAR(" + Math.max(20, text.length()) + ")";
            }
        }
        notes.add("the type of " + parameter + " can't be seen: " + UNKNOWN + " stands for it");
        return UNKNOWN;
    }

    // ------------------------------------------------------------------ the text

    private static List<Parameter> unique(List<Parameter> parameters) {
        Map<String, Parameter> all = new LinkedHashMap<>();
        for (Parameter one : parameters) {
            String name = one.name;
            for (int i = 2; all.containsKey(name.toUpperCase(Locale.ROOT)); i++) {
                name = one.name + "_" + i;
            }
            all.put(name.toUpperCase(Locale.ROOT), new Parameter(one.mode, name, one.type));
        }
        return List.copyOf(all.values());
    }

    private static String written(String name) {
        return Name.written(name, name.toUpperCase(Locale.ROOT));
    }

    private Draft draft(List<Parameter> parameters, Optional<String> returns) {
        List<String> list = new ArrayList<>();
        boolean out = parameters.stream().anyMatch(p -> !p.mode.equals("IN"));
        for (Parameter one : parameters) {
            String mode = returns.isPresent() ? "" : out ? one.mode + " " : "IN ";
            list.add(mode + written(one.name) + " " + one.type);
        }
        String head =
                written(name)
                        + " ("
                        + String.join(", ", list)
                        + ")"
                        + returns.map(r -> "\nRETURNS " + r).orElse("");
        return new Draft(name, text(name, returns.isPresent(), head), notes);
    }

    private static String text(String name, boolean function, String head) {
        return "-- To be written.\nCREATE "
                + (function ? "FUNCTION " : "PROCEDURE ")
                + head
                + "\nBEGIN\n  SIGNAL SQLSTATE '0A000' SET MESSAGE_TEXT = '"
                + name.replace("'", "''")
                + " is not written yet';\nEND;\n";
    }

    // ------------------------------------------------------------------ from signatures

    /** What one line of a list of signatures came to. */
    public record Line(int number, String text, Optional<Draft> draft, String trouble) {}

    /**
     * Stubs for a list of signatures, one a line: {@code close_month (month DATE, OUT total
     * DECIMAL(10, 2))} or {@code price (kg INTEGER) RETURNS DECIMAL(8, 2)}. Empty lines and
     * comments are passed over.
     */
    public static List<Line> list(Source list) {
        List<Line> all = new ArrayList<>();
        for (int i = 1; i <= list.lines(); i++) {
            String line = list.line(i).strip().replaceAll(";$", "").strip();
            if (line.isEmpty() || line.startsWith("--")) {
                continue;
            }
            String head =
                    line.replaceFirst(
                            "(?i)^(CREATE\\s+)?(OR\\s+REPLACE\\s+)?(PROCEDURE|FUNCTION)\\s+", "");
            List<Word> words = SqlWords.of(head).all();
            boolean function = words.stream().anyMatch(w -> w.is("RETURNS"));
            if (words.isEmpty() || !words.get(0).isName()) {
                all.add(new Line(i, line, Optional.empty(), "a signature begins with a name"));
                continue;
            }
            String name = said(new Source("signature", head), words.get(0));
            String text = text(name, function, words.size() == 1 ? head + " ()" : head);
            ParsedFile parsed = Parser.parse(new Source("signature", text));
            all.add(
                    parsed.problems().isEmpty() && parsed.units().size() == 1
                            ? new Line(i, line, Optional.of(new Draft(name, text, List.of())), "")
                            : new Line(
                                    i,
                                    line,
                                    Optional.empty(),
                                    parsed.problems().isEmpty()
                                            ? "this is no signature"
                                            : parsed.problems().get(0).message()));
        }
        return all;
    }
}
