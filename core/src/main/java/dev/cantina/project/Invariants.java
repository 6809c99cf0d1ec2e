package dev.cantina.project;

import dev.cantina.runtime.ResultRows;
import dev.cantina.runtime.Session;
import dev.cantina.syntax.Problem;
import dev.cantina.types.Values;
import dev.cantina.types.Words;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/** Looks whether the invariants of a run hold: before it, and after it. */
public final class Invariants {
    /** How many rows are told of one that does not hold. */
    private static final int SHOWN = 3;

    /** What the path of a difference begins with that is one. */
    public static final String AT = "invariants.";

    private final Map<Invariant, List<Object[]>> before = new LinkedHashMap<>();

    /**
     * An invariant that does not hold.
     *
     * @param expected a value, or words
     */
    public record Broken(Invariant invariant, Object expected, Object actual) {}

    private Invariants() {}

    /**
     * Looks before a run.
     *
     * @throws ProjectException where one does not hold already, or its query is refused
     */
    public static Invariants before(List<Invariant> all, Session session) throws ProjectException {
        Invariants looked = new Invariants();
        for (Invariant invariant : all) {
            List<Object[]> rows = rows(invariant, session);
            if (!invariant.same() && !rows.isEmpty()) {
                throw new ProjectException(
                        Problem.error(
                                invariant.place(),
                                "invariant",
                                "'"
                                        + invariant.name()
                                        + "' does not hold before anything was called: "
                                        + shown(rows)));
            }
            looked.before.put(invariant, rows);
        }
        return looked;
    }

    /**
     * Looks after it.
     *
     * @throws ProjectException where a query is refused now
     */
    public List<Broken> after(Session session) throws ProjectException {
        List<Broken> broken = new ArrayList<>();
        for (Map.Entry<Invariant, List<Object[]>> one : before.entrySet()) {
            Invariant invariant = one.getKey();
            List<Object[]> rows = rows(invariant, session);
            if (!invariant.same() && !rows.isEmpty()) {
                broken.add(new Broken(invariant, new Words("no rows"), new Words(shown(rows))));
            } else if (invariant.same() && !isSame(one.getValue(), rows)) {
                broken.add(new Broken(invariant, value(one.getValue()), value(rows)));
            }
        }
        return broken;
    }

    private static List<Object[]> rows(Invariant invariant, Session session)
            throws ProjectException {
        try {
            ResultRows rows = session.questions().inspect(invariant.query(), Long.MAX_VALUE);
            return rows.rows();
        } catch (SQLException e) {
            throw new ProjectException(
                    Problem.error(
                            invariant.place(),
                            "invariant",
                            "the query of '"
                                    + invariant.name()
                                    + "' is refused: "
                                    + session.condition(e).message()));
        }
    }

    private static boolean isSame(List<Object[]> one, List<Object[]> other) {
        if (one.size() != other.size()) {
            return false;
        }
        for (int i = 0; i < one.size(); i++) {
            if (!Values.same(one.get(i), other.get(i))) {
                return false;
            }
        }
        return true;
    }

    /** A single value as such, more in words. */
    private static Object value(List<Object[]> rows) {
        return rows.size() == 1 && rows.get(0).length == 1
                ? rows.get(0)[0]
                : new Words(shown(rows));
    }

    private static String shown(List<Object[]> rows) {
        String some =
                rows.stream()
                        .limit(SHOWN)
                        .map(
                                r ->
                                        Arrays.stream(r)
                                                .map(Values::shortened)
                                                .collect(Collectors.joining(", ", "(", ")")))
                        .collect(Collectors.joining(" "));
        return rows.size() > SHOWN
                ? some + " and " + (rows.size() - SHOWN) + " more"
                : rows.isEmpty() ? "no rows" : some;
    }
}
