package dev.cantina.nativecode.postgresql;

import dev.cantina.nativecode.NativeFrames;
import dev.cantina.nativecode.NativeStatement;
import dev.cantina.nativecode.NativeStatement.Part;
import dev.cantina.nativecode.NativeStatement.Role;
import dev.cantina.nativecode.NativeVariable;
import dev.cantina.nativecode.ProbeFollower;
import dev.cantina.nativecode.QuietStatements;
import dev.cantina.runtime.Probe;
import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;

/**
 * Writes a routine once more with a probe before each statement, on that statement's own line, so
 * that lines stay what they are.
 */
final class PgWeaver {
    /** What a woven routine declares for itself. */
    private static final String DECLARED =
            " cantina_ pg_catalog.jsonb; cantina_a pg_catalog.int8 :="
                    + " pg_catalog.nextval('pg_temp.cantina_activation');"
                    + " cantina_d pg_catalog.int4 := pg_temp.cantina_depth();";

    private static final int PAIRS = 45;

    private record Insertion(int at, String text) {}

    private final PgRoutine routine;
    private final Probe.Detail detail;
    private final Optional<String> value;
    private final Set<Integer> quiet;
    private final Set<Integer> changes;
    private final Predicate<NativeVariable> composite;
    private final int number;
    private final List<Insertion> insertions = new ArrayList<>();

    /**
     * @param number of the routine, for its places
     * @param detail what is wanted of it
     * @param value the type of the one value that it gives
     * @param quiet the statements that can set off no other routine
     * @param composite whether a variable holds fields
     */
    PgWeaver(
            PgRoutine routine,
            int number,
            Probe.Detail detail,
            Optional<String> value,
            QuietStatements.Quiet quiet,
            Predicate<NativeVariable> composite) {
        this.value = value;
        this.quiet = quiet.all();
        this.changes = quiet.changes();
        this.routine = routine;
        this.number = number;
        this.detail = detail;
        this.composite = composite;
    }

    /** A place by the number that a probe tells. */
    static long place(int routine, int statement) {
        return ((long) routine << 20) + statement;
    }

    static int routineOf(long place) {
        return (int) (place >> 20);
    }

    static int statementOf(long place) {
        return (int) (place & 0xfffff);
    }

    /** The statement that creates the woven copy. */
    String weave(NativeStatement block, List<NativeVariable> outside) {
        Span body = routine.body().orElseThrow();
        String text = body.source().written();
        Map<String, NativeVariable> scope = new LinkedHashMap<>();
        outside.forEach(v -> scope.put(key(v.name()), v));
        boolean declares = text.regionMatches(true, block.span().start(), "declare", 0, 7);
        int at = block.span().start() + (declares ? 7 : 0);
        String own =
                DECLARED
                        + (detail == Probe.Detail.COUNTS || passes() ? counters(places(block)) : "")
                        + (tellsValues() && value.isPresent()
                                ? " cantina_v " + value.get() + ";"
                                : "");
        given = new LinkedHashMap<>(scope);
        Map<String, NativeVariable> inside = new LinkedHashMap<>(scope);
        block.declared().forEach(v -> inside.put(key(v.name()), v));
        String ended = ended(inside, "");
        insertions.add(new Insertion(at, declares ? own : "DECLARE" + own + " "));
        walk(block, scope);
        for (Part part : block.parts()) {
            int count = part.statements().size();
            if (count > 0) {
                insertions.add(
                        new Insertion(
                                part.statements().get(count - 1).span().end(),
                                switch (detail) {
                                    case COUNTS -> told();
                                    case ORDER -> passes() ? passed() : "";
                                    default -> ended;
                                }));
            }
        }
        insertions.sort(Comparator.comparingInt(Insertion::at));
        StringBuilder woven = new StringBuilder();
        int from = routine.span().start();
        for (Insertion one : insertions) {
            woven.append(text, from, one.at);
            woven.append(routine.doubled() ? one.text.replace("'", "''") : one.text);
            from = one.at;
        }
        woven.append(text, from, routine.span().end());
        return replacing(woven.toString());
    }

    /** A statement that creates a routine, as one that puts it in the place of what is there. */
    static String replacing(String create) {
        return create.replaceFirst("(?is)^create\\s+(or\\s+replace\\s+)?", "CREATE OR REPLACE ");
    }

    /** How many statements there are. */
    private static int places(NativeStatement s) {
        int places = s.at() + 1;
        for (Part part : s.parts()) {
            for (NativeStatement inside : part.statements()) {
                places = Math.max(places, places(inside));
            }
        }
        return places;
    }

    /** Whether some statements are counted between those that are told. */
    private boolean passes() {
        return detail == Probe.Detail.ORDER && !quiet.isEmpty();
    }

    /** How often each has run so far. */
    private String counts() {
        List<String> all = new ArrayList<>();
        for (int i = 0; i < counters.size(); i++) {
            all.add(quiet.contains(i) ? counters.get(i) : "0");
        }
        String counts = String.join(", ", all);
        if (changes.isEmpty()) {
            return "pg_catalog.to_jsonb(ARRAY[" + counts + "]::pg_catalog.int8[])";
        }
        List<String> rows = new ArrayList<>();
        for (int i = 0; i < counters.size(); i++) {
            rows.add(changes.contains(i) ? "cantina_r" + i : "0");
        }
        return "pg_catalog.to_jsonb(ARRAY[["
                + counts
                + "], ["
                + String.join(", ", rows)
                + "]]::pg_catalog.int8[])";
    }

    /** Tells at the end what was not told yet. */
    private String passed() {
        return " cantina_ := pg_temp.cantina_tell(cantina_a, cantina_d, "
                + place(number, ProbeFollower.COUNTED)
                + ", "
                + counts()
                + ");";
    }

    private String counters(int places) {
        StringBuilder text = new StringBuilder();
        for (int i = 0; i < places; i++) {
            counters.add("cantina_k" + i);
            text.append(" cantina_k").append(i).append(" pg_catalog.int8 := 0;");
        }
        for (int change : changes) {
            text.append(" cantina_r").append(change).append(" pg_catalog.int8 := 0;");
        }
        if (!changes.isEmpty()) {
            text.append(" cantina_n pg_catalog.int8;");
        }
        return text.toString();
    }

    private final List<String> counters = new ArrayList<>();

    /** Tells how often each statement was reached, where one was more than once. */
    private String told() {
        String all = String.join(", ", counters);
        return " IF GREATEST("
                + all
                + ") > 1 THEN cantina_ := pg_temp.cantina_tell(cantina_a, cantina_d, "
                + place(number, ProbeFollower.COUNTED)
                + ", pg_catalog.to_jsonb(ARRAY["
                + all
                + "])); END IF;";
    }

    private void walk(NativeStatement s, Map<String, NativeVariable> outer) {
        if (s.at() >= 0) {
            boolean leaves = s.what().equals("RETURN");
            boolean counts = leaves && detail == Probe.Detail.COUNTS;
            insertions.add(
                    new Insertion(s.begins(), probe(s.at(), outer) + (counts ? told() + " " : "")));
            if (leaves && tellsValues()) {
                leave(s, outer);
            }
            if (changes.contains(s.at())) {
                String rows = "cantina_r" + s.at();
                insertions.add(
                        new Insertion(
                                s.span().end(),
                                " GET DIAGNOSTICS cantina_n = ROW_COUNT; "
                                        + rows
                                        + " := "
                                        + rows
                                        + " + cantina_n;"));
            }
        }
        Map<String, NativeVariable> scope = new LinkedHashMap<>(outer);
        s.declared().stream()
                .map(NativeVariable::label)
                .filter(label -> !label.isEmpty())
                .findFirst()
                .ifPresent(label -> NativeVariable.hide(scope, key(label)));
        s.declared()
                .forEach(
                        v ->
                                NativeVariable.declare(
                                        scope,
                                        v,
                                        one -> one,
                                        NativeVariable::labelled,
                                        PgWeaver::key));
        for (Part part : s.parts()) {
            Map<String, NativeVariable> inside = new LinkedHashMap<>(scope);
            if (part.role() == Role.HANDLER) {
                for (String name : List.of("sqlstate", "sqlerrm")) {
                    inside.put(
                            name,
                            new NativeVariable(
                                    name, "text", NativeVariable.Kind.SPECIAL, part.head()));
                }
            }
            part.statements().forEach(i -> walk(i, inside));
        }
    }

    /** A name as it is told: an ordinary one in small letters. */
    static String key(String written) {
        return written.startsWith("\"")
                ? written.substring(1, written.length() - 1).replace("\"\"", "\"")
                : written.toLowerCase(Locale.ROOT);
    }

    private static String literal(String text) {
        return "'" + text.replace("'", "''") + "'";
    }

    /** The parameters, or a trigger's rows. */
    private Map<String, NativeVariable> given = Map.of();

    private boolean tellsValues() {
        return detail == Probe.Detail.HOLD || detail == Probe.Detail.VALUES;
    }

    /**
     * Tells that the routine has come to its end, with the parameters that nothing hides.
     *
     * @param scope what is seen there
     * @param more what else is told than the parameters
     */
    private String ended(Map<String, NativeVariable> scope, String more) {
        Map<String, NativeVariable> seen = new LinkedHashMap<>(given);
        seen.entrySet().removeIf(e -> scope.get(e.getKey()) != e.getValue());
        return probe(ProbeFollower.ENDED, seen, more);
    }

    /**
     * RETURN, whose value is told before it is given: it becomes an assignment of what stands
     * behind it, which may be more than an expression ("PL/pgSQL", 43.6.1).
     */
    private void leave(NativeStatement s, Map<String, NativeVariable> scope) {
        if (value.isEmpty()) {
            insertions.add(new Insertion(s.begins(), ended(scope, "")));
            return;
        }
        int start = s.span().start();
        int behind = start + "RETURN".length();
        insertions.add(new Insertion(start, "cantina_v := /*"));
        insertions.add(new Insertion(behind, "*/"));
        String told =
                "pg_catalog.jsonb_build_object("
                        + literal(NativeFrames.GIVEN)
                        + ", cantina_v::pg_catalog.text)";
        insertions.add(new Insertion(s.span().end(), ended(scope, told) + "RETURN cantina_v;"));
    }

    private String probe(int statement, Map<String, NativeVariable> scope) {
        return probe(statement, scope, "");
    }

    /**
     * @param more an object of what else is told; empty for nothing
     */
    private String probe(int statement, Map<String, NativeVariable> scope, String more) {
        boolean values = tellsValues();
        String told =
                more.isEmpty()
                        ? values(scope)
                        : scope.isEmpty()
                                ? more
                                : values(scope) + " OPERATOR(pg_catalog.||) " + more;
        String call =
                "(cantina_a, cantina_d, "
                        + place(number, statement)
                        + ", "
                        + (values ? told : "NULL")
                        + ");";
        if (detail == Probe.Detail.COUNTS) {
            String counter = "cantina_k" + statement;
            return " "
                    + counter
                    + " := "
                    + counter
                    + " + 1; IF "
                    + counter
                    + " = 1 THEN cantina_ := pg_temp.cantina_tell"
                    + call
                    + " END IF; ";
        }
        if (passes()) {
            String tell =
                    "cantina_ := pg_temp.cantina_tell(cantina_a, cantina_d, "
                            + place(number, statement)
                            + ", "
                            + counts()
                            + ");";
            String counter = "cantina_k" + statement;
            return quiet.contains(statement)
                    ? " "
                            + counter
                            + " := "
                            + counter
                            + " + 1; IF "
                            + counter
                            + " <= "
                            + ProbeFollower.TOLD
                            + " OR "
                            + counter
                            + " & 1023 = 0 THEN "
                            + tell
                            + " END IF; "
                    : " " + tell + " ";
        }
        if (detail != Probe.Detail.HOLD) {
            return " cantina_ := pg_temp.cantina_tell" + call + " ";
        }
        StringBuilder text =
                new StringBuilder(" cantina_ := pg_temp.cantina_stop")
                        .append(call)
                        .append(" IF cantina_ IS NOT NULL THEN");
        scope.forEach(
                (key, variable) -> {
                    boolean fixed =
                            variable.kind() == NativeVariable.Kind.CONSTANT
                                    || variable.kind() == NativeVariable.Kind.SPECIAL;
                    if (!fixed) {
                        String of = literal(key);
                        text.append(" IF cantina_ OPERATOR(pg_catalog.?) ")
                                .append(of)
                                .append(" THEN ")
                                .append(variable.name())
                                .append(" := ")
                                .append(
                                        composite.test(variable)
                                                ? "pg_catalog.jsonb_populate_record("
                                                        + variable.name()
                                                        + ", cantina_ OPERATOR(pg_catalog.->) "
                                                        + of
                                                        + ")"
                                                : "cantina_ OPERATOR(pg_catalog.->>) " + of)
                                .append("; END IF;");
                    }
                });
        return text.append(" END IF; ").toString();
    }

    /** A text cast from a CHAR has lost the blanks at its end ("Character Types"). */
    private static boolean isPadded(String type) {
        String bare = type.strip().toLowerCase(Locale.ROOT);
        return (bare.startsWith("char") || bare.startsWith("bpchar"))
                && !bare.startsWith("character varying")
                && !bare.endsWith("]");
    }

    private String values(Map<String, NativeVariable> scope) {
        if (scope.isEmpty()) {
            return "NULL";
        }
        StringBuilder text = new StringBuilder("pg_catalog.jsonb_build_object(");
        int pairs = 0;
        for (Map.Entry<String, NativeVariable> entry : scope.entrySet()) {
            if (pairs > 0 && pairs % PAIRS == 0) {
                text.append(") OPERATOR(pg_catalog.||) pg_catalog.jsonb_build_object(");
            } else if (pairs > 0) {
                text.append(", ");
            }
            pairs++;
            String name = entry.getValue().name();
            text.append(literal(entry.getKey())).append(", ");
            text.append(
                    composite.test(entry.getValue())
                            ? (entry.getValue().type().strip().equalsIgnoreCase("record")
                                            ? "pg_temp.cantina_record("
                                            : "pg_catalog.to_jsonb(")
                                    + name
                                    + ")"
                            : isPadded(entry.getValue().type())
                                    ? "(" + name + ")"
                                    : "(" + name + ")::pg_catalog.text");
        }
        return text.append(')').toString();
    }
}
