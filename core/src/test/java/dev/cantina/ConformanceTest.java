package dev.cantina;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.agree.Behaviour;
import dev.cantina.runtime.Database;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.ResultRows;
import dev.cantina.syntax.Problem;
import dev.cantina.types.Condition;
import dev.cantina.types.Values;
import java.io.IOException;
import java.math.BigDecimal;
import java.math.MathContext;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/**
 * Runs {@code conformance/<area>/*.sql}. A file is a row of sections, each a behaviour:
 *
 * <pre>
 * -- behaviour: what is to be seen
 * CREATE PROCEDURE …;
 * -- call: p a = 1, b = 'x'
 * -- out: c = 2             the OUT values, as literals
 * -- returns: 3             a function's value
 * -- says: one line         once for each line, in order
 * -- raises: 22012          an SQLSTATE, then perhaps words of its message
 * -- rows: [1, 'a'] [2, NULL]        a result set
 * -- data: SELECT … : [1, 'a']       a query afterwards, and its rows
 * -- problem: unknown-name           instead of a call: what check says, then perhaps
 *                                    a part of "line:column message; hint"
 * </pre>
 *
 * Several calls may follow each other; each sees what the ones before it committed. What a section
 * does not list it expects none of: no lines reported, no rows handed out; and no rows changed
 * where it has no {@code data} at all.
 */
public class ConformanceTest {
    private static final Path ROOT = Path.of("src/test/resources/conformance");

    public record Section(String file, String behaviour, String routines, List<String> lines) {
        @Override
        public String toString() {
            return file + ": " + behaviour;
        }
    }

    public static List<Section> sections() throws IOException {
        List<Section> sections = new ArrayList<>();
        try (Stream<Path> files = Files.walk(ROOT)) {
            for (Path file : files.filter(p -> p.toString().endsWith(".sql")).sorted().toList()) {
                if (!file.getParent().equals(ROOT)) {
                    read(file, sections);
                }
            }
        }
        // mvn test -Dconformance=WORDS runs those alone whose file or behaviour has the words.
        String only = System.getProperty("conformance", "");
        return sections.stream()
                .filter(s -> s.toString().replace(" ", ".").contains(only.replace(" ", ".")))
                .toList();
    }

    private static void read(Path file, List<Section> sections) throws IOException {
        String shown = ROOT.relativize(file).toString();
        String behaviour = null;
        StringBuilder routines = new StringBuilder();
        List<String> lines = new ArrayList<>();
        for (String line : Files.readAllLines(file)) {
            if (line.startsWith("-- behaviour: ")) {
                if (behaviour != null) {
                    sections.add(new Section(shown, behaviour, routines.toString(), lines));
                }
                behaviour = line.substring(14);
                routines = new StringBuilder();
                lines = new ArrayList<>();
            } else if (line.matches("-- (call|out|returns|says|raises|rows|data|problem): .*")) {
                lines.add(line.substring(3));
            } else {
                routines.append(line).append('\n');
            }
        }
        sections.add(new Section(shown, behaviour, routines.toString(), lines));
    }

    @ParameterizedTest(name = "{0}")
    @MethodSource("sections")
    void behaves(Section section) throws Exception {
        assertTrue(!section.lines().isEmpty(), "the section expects nothing");
        try (Lab lab = lab(section)) {
            List<String> wanted =
                    section.lines().stream().filter(l -> l.startsWith("problem: ")).toList();
            if (!wanted.isEmpty()) {
                problems(wanted, lab.check().stream().filter(Problem::isError).toList());
                return;
            }
            List<Problem> errors = lab.check().stream().filter(Problem::isError).toList();
            assertEquals(List.of(), errors);
            calls(ground(lab, Lab::call), section.lines());
        }
    }

    private static void problems(List<String> wanted, List<Problem> found) {
        List<String[]> parts =
                wanted.stream().map(l -> l.substring(9).strip().split(" ", 2)).toList();
        assertEquals(
                parts.stream().map(p -> p[0]).toList(), found.stream().map(Problem::rule).toList());
        for (int i = 0; i < found.size(); i++) {
            Problem problem = found.get(i);
            String said =
                    problem.span().line()
                            + ":"
                            + problem.span().column()
                            + " "
                            + problem.message()
                            + "; "
                            + problem.hint().orElse("");
            String words = parts.get(i).length > 1 ? parts.get(i)[1] : "";
            assertTrue(said.contains(words), said);
        }
    }

    /** How a routine is called: plainly, or watched in some way. */
    interface Caller {
        Outcome call(Lab lab, String routine, Map<String, Object> arguments) throws SQLException;
    }

    /** Where the calls are made, and what is in the tables afterwards. */
    public interface Ground {
        Behaviour call(String routine, Map<String, Object> arguments) throws SQLException;

        Database database();
    }

    /** A lab in which routines are called plainly. */
    public static Ground plain(Lab lab) {
        return ground(lab, Lab::call);
    }

    static Ground ground(Lab lab, Caller caller) {
        return new Ground() {
            @Override
            public Behaviour call(String routine, Map<String, Object> arguments)
                    throws SQLException {
                return Behaviour.of(caller.call(lab, routine, arguments));
            }

            @Override
            public Database database() {
                return lab.database();
            }
        };
    }

    public static Lab lab(Section section) throws IOException {
        return new Lab(tables(), section.routines());
    }

    public static String tables() throws IOException {
        return Files.readString(ROOT.resolve("tables.sql"));
    }

    /** The tables that every section finds. */
    private static final List<String> TABLES =
            List.of("item", "log", "parent", "child", "must", "tag", "pad", "node");

    public static void calls(Ground ground, List<String> lines) throws SQLException {
        boolean looks = lines.stream().anyMatch(l -> l.startsWith("data: "));
        String before = looks ? "" : everything(ground.database());
        made(ground, lines);
        if (!looks) {
            assertEquals(
                    before, everything(ground.database()), "rows changed, and none are listed");
        }
    }

    private static String everything(Database database) throws SQLException {
        StringBuilder all = new StringBuilder();
        for (String table : TABLES) {
            all.append(table)
                    .append(' ')
                    .append(data(database, "SELECT * FROM " + table + " ORDER BY 1"));
        }
        return all.toString();
    }

    private static void made(Ground ground, List<String> lines) throws SQLException {
        int at = 0;
        while (at < lines.size()) {
            String call = lines.get(at++);
            assertTrue(call.startsWith("call: "), "a call is wanted before " + call);
            int end = at;
            while (end < lines.size() && !lines.get(end).startsWith("call: ")) {
                end++;
            }
            check(ground, call.substring(6), lines.subList(at, end));
            at = end;
        }
    }

    /** A call that a section makes. */
    public record Call(String routine, Map<String, Object> arguments) {
        public static Call of(String written) {
            String[] parts = written.strip().split(" ", 2);
            Map<String, Object> arguments = new LinkedHashMap<>();
            if (parts.length > 1) {
                for (String argument : split(parts[1])) {
                    int sign = argument.indexOf('=');
                    String value = argument.substring(sign + 1).strip();
                    arguments.put(argument.substring(0, sign).strip(), value(value));
                }
            }
            return new Call(parts[0], arguments);
        }
    }

    private static void check(Ground ground, String call, List<String> wanted) throws SQLException {
        Call made = Call.of(call);
        Behaviour outcome = ground.call(made.routine(), made.arguments());
        String state = outcome.condition().map(Condition::sqlstate).orElse("");
        String detail =
                call + outcome.condition().map(c -> " " + state + " " + c.message()).orElse("");
        assertEquals(
                wanted.stream()
                        .filter(l -> l.startsWith("raises: "))
                        .map(l -> l.substring(8).strip().split(" ", 2)[0])
                        .findFirst()
                        .orElse(""),
                state,
                detail);
        List<String> says = new ArrayList<>();
        List<String> rows = new ArrayList<>();
        for (String line : wanted) {
            String text = line.substring(line.indexOf(": ") + 2).strip();
            switch (line.substring(0, line.indexOf(':'))) {
                case "raises" -> {
                    String[] words = text.split(" ", 2);
                    if (words.length > 1) {
                        String message = outcome.condition().map(Condition::message).orElse("");
                        assertTrue(message.contains(words[1]), message);
                    }
                }
                case "out" -> assertEquals(text, out(outcome), detail);
                case "returns" ->
                        assertEquals(
                                digits(text), digits(Values.literal(outcome.returned())), detail);
                case "says" -> says.add(text);
                case "rows" -> rows.add(text);
                default -> {
                    int colon = text.lastIndexOf(" : ");
                    assertEquals(
                            text.substring(colon + 3).strip(),
                            data(ground.database(), text.substring(0, colon)),
                            text);
                }
            }
        }
        // What a section does not list it expects none of.
        assertEquals(says, outcome.says(), call);
        assertEquals(rows, outcome.results().stream().map(ConformanceTest::shown).toList(), call);
    }

    /** A quotient keeps at least 16 significant digits; how many more is each database's own. */
    private static String digits(String literal) {
        return literal.matches("-?\\d*\\.\\d{17,}")
                ? new BigDecimal(literal).round(new MathContext(16)).toString()
                : literal;
    }

    private static Object value(String text) {
        if (text.equalsIgnoreCase("null")) {
            return null;
        }
        return text.startsWith("'")
                ? text.substring(1, text.length() - 1).replace("''", "'")
                : text;
    }

    private static List<String> split(String text) {
        List<String> parts = new ArrayList<>();
        boolean quoted = false;
        int start = 0;
        for (int i = 0; i < text.length(); i++) {
            quoted ^= text.charAt(i) == '\'';
            if (text.charAt(i) == ',' && !quoted) {
                parts.add(text.substring(start, i).strip());
                start = i + 1;
            }
        }
        parts.add(text.substring(start).strip());
        return parts;
    }

    private static String out(Behaviour outcome) {
        return outcome.out().entrySet().stream()
                .map(
                        e ->
                                e.getKey().toLowerCase(Locale.ROOT)
                                        + " = "
                                        + Values.literal(e.getValue()))
                .collect(Collectors.joining(", "));
    }

    private static String shown(ResultRows result) {
        return result.rows().stream()
                .map(
                        row ->
                                Arrays.stream(row)
                                        .map(Values::literal)
                                        .collect(Collectors.joining(", ", "[", "]")))
                .collect(Collectors.joining(" "));
    }

    private static String data(Database database, String query) throws SQLException {
        List<String> rows = new ArrayList<>();
        try (var statement = database.connection().createStatement();
                var result = statement.executeQuery(query)) {
            int columns = result.getMetaData().getColumnCount();
            while (result.next()) {
                List<String> row = new ArrayList<>();
                for (int i = 1; i <= columns; i++) {
                    var type = database.typeOf(result.getMetaData(), i);
                    row.add(Values.literal(database.read(result, i, type)));
                }
                rows.add("[" + String.join(", ", row) + "]");
            }
        }
        return rows.isEmpty() ? "none" : String.join(" ", rows);
    }
}
