package dev.cantina.nativecode.postgresql;

import dev.cantina.nativecode.Mark;
import dev.cantina.nativecode.PlacedRoutines;
import dev.cantina.nativecode.ProbeFollower;
import dev.cantina.runtime.Probe;
import java.util.ArrayList;
import java.util.List;

/** Writes a copy once more with probes where its marks stand. */
final class PgPlacedWeaver {
    private static final int PAIRS = 45;

    private final PlacedRoutines.Copy copy;
    private final Probe.Detail detail;
    private final List<String> counters = new ArrayList<>();
    private String gives = "";

    /**
     * @param places how many statements the routine has
     */
    PgPlacedWeaver(PlacedRoutines.Copy copy, int places, Probe.Detail detail) {
        this.copy = copy;
        this.detail = detail;
        if (detail == Probe.Detail.COUNTS) {
            for (int i = 0; i < places; i++) {
                counters.add("cantina_k" + i);
            }
        }
    }

    /** The statement that makes the woven copy. */
    String weave() {
        String text = copy.create();
        StringBuilder woven = new StringBuilder();
        int from = 0;
        for (Mark.Found one : copy.marks()) {
            Mark mark = one.mark();
            if (mark.kind() == Mark.Kind.HEAD) {
                gives = mark.type();
            }
        }
        for (Mark.Found one : copy.marks()) {
            String before = text.substring(from, one.start());
            from = one.end();
            Mark mark = one.mark();
            if (mark.kind() == Mark.Kind.GIVEN) {
                woven.append(give(before));
                continue;
            }
            woven.append(before);
            switch (mark.kind()) {
                case HEAD -> woven.append(declarations());
                case STATEMENT -> woven.append(probe(mark));
                case DONE -> woven.append(done(mark));
                case CAUGHT -> woven.append(condition(ProbeFollower.CAUGHT, mark));
                case FAILED -> woven.append(condition(ProbeFollower.FAILED, mark));
                case END ->
                        woven.append(
                                switch (detail) {
                                    case HOLD -> end(values(mark)) + sets(mark);
                                    case VALUES -> end(values(mark));
                                    default -> end("NULL");
                                });
                default -> woven.append("");
            }
        }
        return woven.append(text, from, text.length()).toString();
    }

    private String declarations() {
        StringBuilder own =
                new StringBuilder(
                        "cantina_ pg_catalog.jsonb; cantina_a pg_catalog.int8 :="
                                + " pg_catalog.nextval('pg_temp.cantina_activation');"
                                + " cantina_d pg_catalog.int4 := pg_temp.cantina_depth();");
        if (!gives.isEmpty()) {
            own.append(" cantina_v ").append(gives).append(';');
        }
        counters.forEach(c -> own.append(' ').append(c).append(" pg_catalog.int8 := 0;"));
        return own.toString();
    }

    private String call(long statement, String values) {
        return "cantina_ := pg_temp."
                + (detail == Probe.Detail.HOLD ? "cantina_stop" : "cantina_tell")
                + "(cantina_a, cantina_d, "
                + (((long) copy.routine() << ProbeFollower.PLACES) + statement)
                + ", "
                + values
                + ");";
    }

    private String counted(int statement) {
        String counter = counters.get(statement);
        return counter
                + " := "
                + counter
                + " + 1; IF "
                + counter
                + " = 1 THEN "
                + call(statement, "NULL")
                + " END IF;";
    }

    private String probe(Mark mark) {
        if (detail == Probe.Detail.COUNTS) {
            return counted(mark.at());
        }
        boolean values = detail == Probe.Detail.HOLD || detail == Probe.Detail.VALUES;
        String call = call(mark.at(), values ? values(mark) : "NULL");
        return detail == Probe.Detail.HOLD ? call + sets(mark) : call;
    }

    /** What a declaration has done is not stopped at: there is nothing left to change. */
    private String done(Mark mark) {
        return switch (detail) {
            case HOLD -> "";
            case COUNTS -> counted(mark.at());
            default -> call(mark.at(), "NULL");
        };
    }

    private String condition(long place, Mark mark) {
        String state = "pg_catalog.jsonb_build_object('sqlstate', SQLSTATE, 'sqlerrm', SQLERRM)";
        return switch (detail) {
            case COUNTS -> "";
            case HOLD ->
                    mark.variables().isEmpty()
                            ? call(place, state)
                            : call(place, state + " OPERATOR(pg_catalog.||) " + values(mark))
                                    + sets(mark);
            default -> call(place, state);
        };
    }

    private String end(String value) {
        String counts =
                counters.isEmpty()
                        ? ""
                        : "IF GREATEST("
                                + String.join(", ", counters)
                                + ") > 1 THEN "
                                + call(
                                        ProbeFollower.COUNTED,
                                        "pg_catalog.to_jsonb(ARRAY["
                                                + String.join(", ", counters)
                                                + "])")
                                + " END IF; ";
        return counts + call(ProbeFollower.ENDED, value);
    }

    /** RETURN, whose value is told before it is given. */
    private String give(String returned) {
        String statement = returned.strip();
        String value = statement.substring("RETURN".length(), statement.lastIndexOf(';'));
        if (gives.isEmpty()) {
            boolean plain = value.strip().matches("[\\w.]+|\"[^\"]+\"");
            boolean told = plain && detail != Probe.Detail.COUNTS;
            return end(
                            told
                                    ? "pg_catalog.jsonb_build_object('v', pg_temp.cantina_record("
                                            + value.strip()
                                            + "))"
                                    : "NULL")
                    + " "
                    + statement;
        }
        String told = gives.endsWith("]") ? "pg_catalog.to_jsonb(cantina_v)" : "cantina_v::text";
        return "cantina_v := ("
                + value.strip()
                + "); "
                + end(
                        detail == Probe.Detail.COUNTS
                                ? "NULL"
                                : "pg_catalog.jsonb_build_object('v', " + told + ")")
                + " RETURN cantina_v;";
    }

    private static String literal(String text) {
        return "'" + text.replace("'", "''") + "'";
    }

    private static String values(Mark mark) {
        List<String> pairs = new ArrayList<>();
        for (Mark.Said one : mark.variables()) {
            pairs.add(
                    literal(String.valueOf(one.slot()))
                            + ", "
                            + switch (one.form()) {
                                case TEXT -> "(" + one.text() + ")::pg_catalog.text";
                                case ARRAY -> "pg_catalog.to_jsonb(" + one.text() + ")";
                                case ROW -> "pg_temp.cantina_record(" + one.text() + ")";
                            });
        }
        if (pairs.isEmpty()) {
            return "NULL";
        }
        StringBuilder text = new StringBuilder("pg_catalog.jsonb_build_object(");
        for (int i = 0; i < pairs.size(); i++) {
            text.append(
                            i == 0
                                    ? ""
                                    : i % PAIRS == 0
                                            ? ") OPERATOR(pg_catalog.||) pg_catalog.jsonb_build_object("
                                            : ", ")
                    .append(pairs.get(i));
        }
        return text.append(')').toString();
    }

    /** Gives variables the values that somebody has set where the run stood. */
    private static String sets(Mark mark) {
        StringBuilder text = new StringBuilder();
        for (Mark.Said one : mark.variables()) {
            if (!one.settable()) {
                continue;
            }
            String slot = literal(String.valueOf(one.slot()));
            String node = "cantina_ OPERATOR(pg_catalog.->) " + slot;
            text.append(" IF cantina_ OPERATOR(pg_catalog.?) ").append(slot).append(" THEN ");
            switch (one.form()) {
                case TEXT ->
                        text.append(one.text())
                                .append(" := cantina_ OPERATOR(pg_catalog.->>) ")
                                .append(slot)
                                .append(';');
                case ARRAY ->
                        text.append(one.text())
                                .append(" := CASE WHEN pg_catalog.jsonb_typeof(")
                                .append(node)
                                .append(") <> 'null' THEN ARRAY(SELECT")
                                .append(" pg_catalog.jsonb_array_elements_text(")
                                .append(node)
                                .append(")) END;");
                case ROW -> {
                    for (int i = 0; i < one.fields().size(); i++) {
                        text.append(i == 0 ? "" : " ")
                                .append(one.fields().get(i))
                                .append(" := ")
                                .append(node)
                                .append(" OPERATOR(pg_catalog.->>) ")
                                .append(i)
                                .append(';');
                    }
                }
            }
            text.append(" END IF;");
        }
        return text.length() == 0 ? "" : " IF cantina_ IS NOT NULL THEN" + text + " END IF;";
    }
}
