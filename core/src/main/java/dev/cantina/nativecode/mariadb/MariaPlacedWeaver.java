package dev.cantina.nativecode.mariadb;

import dev.cantina.binding.Variable;
import dev.cantina.nativecode.Mark;
import dev.cantina.nativecode.NativeStatement;
import dev.cantina.nativecode.NativeStatement.Kind;
import dev.cantina.nativecode.NativeStatement.Part;
import dev.cantina.nativecode.NativeStatement.Role;
import dev.cantina.nativecode.NativeVariable;
import dev.cantina.nativecode.PlacedFrames;
import dev.cantina.nativecode.PlacedRoutines;
import dev.cantina.nativecode.ProbeFollower;
import dev.cantina.nativecode.QuietStatements;
import dev.cantina.runtime.Probe;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Writes a copy once more with probes where its marks stand. */
final class MariaPlacedWeaver extends MariaWeaver {
    private final PlacedRoutines.Copy copy;
    private final PlacedRoutines routines;
    private final MariaRoutine routine;
    private final Probe.Detail detail;

    /** The marks that stand right before a statement, by where it begins. */
    private final Map<Integer, List<Mark>> before = new HashMap<>();

    /** Where the bodies of handlers begin. */
    private final Set<Integer> handlers = new HashSet<>();

    private Optional<Mark> end = Optional.empty();

    MariaPlacedWeaver(
            MariaRoutine routine,
            PlacedRoutines.Copy copy,
            PlacedRoutines routines,
            Probe.Detail detail,
            Optional<Integer> standsIn,
            List<MariaInside.Parameter> parameters) {
        super(
                routine,
                copy.routine(),
                Map.of(),
                standsIn,
                parameters,
                routines.routine(copy.routine()).returns(),
                QuietStatements.Quiet.NONE,
                detail);
        this.routine = routine;
        this.copy = copy;
        this.routines = routines;
        this.detail = detail;
    }

    /** The parameters, as the copy says them, and the rows of a trigger. */
    List<NativeVariable> outside() {
        List<NativeVariable> outside = new ArrayList<>();
        for (Mark.Found one : copy.marks()) {
            if (one.mark().kind() == Mark.Kind.END) {
                for (Mark.Said said : one.mark().variables()) {
                    outside.add(
                            new NativeVariable(
                                    said.text(),
                                    "",
                                    NativeVariable.Kind.PARAMETER,
                                    routine.nameSpan()));
                }
            }
        }
        return outside;
    }

    /** Finds the statement of each mark; a mark without one is a probe itself. */
    void place(NativeStatement body) {
        List<Integer> begins = new ArrayList<>();
        begins(body, false, begins);
        for (Mark.Found one : copy.marks()) {
            if (one.mark().kind() == Mark.Kind.END) {
                end = Optional.of(one.mark());
                continue;
            }
            int token =
                    routine.statement().tokens().stream()
                            .mapToInt(MariaLexer.Token::start)
                            .filter(start -> start >= one.end())
                            .min()
                            .orElse(one.end());
            if (begins.contains(token)) {
                before.computeIfAbsent(token, k -> new ArrayList<>()).add(one.mark());
            } else {
                insert(one.start(), " " + probe(one.mark()) + " ");
            }
        }
    }

    private void begins(NativeStatement s, boolean handler, List<Integer> begins) {
        begins.add(s.begins());
        if (handler && s.kind() == Kind.BLOCK) {
            handlers.add(s.begins());
        }
        for (Part part : s.parts()) {
            part.statements().forEach(i -> begins(i, part.role() == Role.HANDLER, begins));
        }
    }

    @Override
    protected int counted(NativeStatement body) {
        return routines.places(copy.routine());
    }

    @Override
    protected boolean standsBehind(boolean isAnswered) {
        return !isAnswered;
    }

    @Override
    protected void reach(NativeStatement s) {
        if (s.at() >= 0) {
            return;
        }
        // A block has no place of its own.
        List<Mark> marks = before.getOrDefault(s.begins(), List.of());
        if (marks.isEmpty()) {
            return;
        }
        List<NativeStatement> inside = body(s);
        if (!handlers.contains(s.begins())) {
            insert(s.begins(), probes(marks));
        } else if (inside.isEmpty()) {
            String text = s.span().text();
            int last = text.toLowerCase(java.util.Locale.ROOT).lastIndexOf("end");
            insert(s.span().start() + last, " " + probes(marks));
        } else {
            // What handles a condition is a block, and begins in it.
            before.computeIfAbsent(inside.get(0).begins(), k -> new ArrayList<>()).addAll(0, marks);
        }
    }

    private String probes(List<Mark> marks) {
        StringBuilder text = new StringBuilder();
        marks.forEach(m -> text.append(probe(m)).append(' '));
        return text.toString();
    }

    @Override
    protected String probe(NativeStatement s, Map<String, NativeVariable> scope) {
        String probes = probes(before.getOrDefault(s.begins(), List.of()));
        // What is NULL for a NULL has no frame of its own.
        boolean made = probes.isEmpty() && s.span().text().equals("RETURN NULL;");
        if (s.what().equals("RETURN") && routine.what().equals("function") && !made) {
            give(s);
        }
        return probes;
    }

    private boolean tellsValues() {
        return detail == Probe.Detail.HOLD || detail == Probe.Detail.VALUES;
    }

    private String probe(Mark mark) {
        return switch (mark.kind()) {
            case STATEMENT ->
                    detail == Probe.Detail.COUNTS ? count(mark.at()) : stop(mark.at(), mark);
            case DONE ->
                    switch (detail) {
                        case HOLD -> "";
                        case COUNTS -> count(mark.at());
                        default -> tell(mark.at(), "'null'");
                    };
            case CAUGHT -> detail == Probe.Detail.COUNTS ? "" : caught(mark);
            default -> "";
        };
    }

    private String count(int at) {
        String counter = "cantina_k" + at;
        return "SET "
                + counter
                + " = "
                + counter
                + " + 1; IF "
                + counter
                + " = 1 THEN "
                + tell(at, "'null'")
                + " END IF;";
    }

    private String stop(int at, Mark mark) {
        if (detail != Probe.Detail.HOLD) {
            return tell(at, tellsValues() ? values(mark) : "'null'");
        }
        String sets = sets(mark);
        return "IF @cantina_mode THEN CALL cantina_at(cantina_a, cantina_d, "
                + spot(at)
                + ", "
                + values(mark)
                + ");"
                + (sets.isEmpty() ? "" : " IF @cantina_c IS NOT NULL THEN" + sets + " END IF;")
                + " END IF;";
    }

    private String caught(Mark mark) {
        boolean held = detail == Probe.Detail.HOLD;
        String state = "'sqlstate', cantina_s, 'sqlerrm', cantina_m, 'errno', cantina_e";
        String pairs = held && !mark.variables().isEmpty() ? ", " + pairs(mark) : "";
        String sets = held ? sets(mark) : "";
        return "IF @cantina_mode THEN BEGIN DECLARE cantina_s VARCHAR(5); DECLARE cantina_m"
                + " LONGTEXT CHARACTER SET utf8mb4; DECLARE cantina_e INT; GET DIAGNOSTICS CONDITION 1 cantina_s ="
                + " RETURNED_SQLSTATE, cantina_m = MESSAGE_TEXT, cantina_e = MYSQL_ERRNO; CALL"
                + " cantina_at(cantina_a, cantina_d, "
                + spot(ProbeFollower.CAUGHT)
                + ", JSON_OBJECT("
                + state
                + pairs
                + "));"
                + (sets.isEmpty() ? "" : " IF @cantina_c IS NOT NULL THEN" + sets + " END IF;")
                + " END; END IF;";
    }

    /** RETURN, whose value is told before it is given. */
    private void give(NativeStatement s) {
        String counts = detail == Probe.Detail.COUNTS ? told() + " " : "";
        String told =
                tellsValues()
                        ? "JSON_OBJECT('"
                                + PlacedFrames.GIVEN
                                + "', "
                                + told(
                                        GIVEN,
                                        routines.routine(copy.routine()).returns().orElseThrow())
                                + ")"
                        : "'null'";
        give(s, counts + tell(ProbeFollower.ENDED, told));
    }

    @Override
    protected boolean tellsValue() {
        return routine.what().equals("function");
    }

    @Override
    protected String ended() {
        String counts = detail == Probe.Detail.COUNTS ? told() + " " : "";
        return counts
                + end.filter(m -> tellsValues())
                        .map(m -> stop(ProbeFollower.ENDED, m))
                        .orElseGet(() -> tell(ProbeFollower.ENDED, "'null'"));
    }

    // ---------------------------------------------------------------- values

    private static String told(String text, SqlType type) {
        // A number of single precision loses digits on its way to a text.
        String exact = type instanceof SqlType.Approximate ? " + 0e0" : "";
        return type instanceof SqlType.Bytes
                ? "HEX(" + text + ")"
                : "CAST(" + text + exact + " AS CHAR)";
    }

    private String values(Mark mark) {
        return "JSON_OBJECT(" + pairs(mark) + ")";
    }

    private String pairs(Mark mark) {
        List<String> pairs = new ArrayList<>();
        for (Mark.Said one : mark.variables()) {
            Variable variable = routines.variable(copy.routine(), one.slot());
            String value;
            if (variable.type() instanceof SqlType.Row row) {
                List<String> fields = new ArrayList<>();
                for (int i = 0; i < one.fields().size(); i++) {
                    fields.add(told(one.fields().get(i), row.fields().get(i).type()));
                }
                value = "JSON_ARRAY(" + String.join(", ", fields) + ")";
            } else {
                value = told(one.text(), variable.type());
            }
            pairs.add("'" + one.slot() + "', " + value);
        }
        return String.join(", ", pairs);
    }

    private static String given(String path, SqlType type) {
        String text = "JSON_VALUE(@cantina_c, '" + path + "')";
        return type instanceof SqlType.Bytes ? "UNHEX(" + text + ")" : text;
    }

    /** Gives variables the values that somebody has set where the run stood. */
    private String sets(Mark mark) {
        StringBuilder text = new StringBuilder();
        for (Mark.Said one : mark.variables()) {
            if (!one.settable()) {
                continue;
            }
            Variable variable = routines.variable(copy.routine(), one.slot());
            String path = "$.\"" + one.slot() + "\"";
            text.append(" IF JSON_EXISTS(@cantina_c, '").append(path).append("') THEN");
            if (variable.type() instanceof SqlType.Row row) {
                for (int i = 0; i < one.fields().size(); i++) {
                    text.append(" SET ")
                            .append(one.fields().get(i))
                            .append(" = ")
                            .append(given(path + "[" + i + "]", row.fields().get(i).type()))
                            .append(';');
                }
            } else {
                text.append(" SET ")
                        .append(one.text())
                        .append(" = ")
                        .append(given(path, variable.type()))
                        .append(';');
            }
            text.append(" END IF;");
        }
        return text.toString();
    }
}
