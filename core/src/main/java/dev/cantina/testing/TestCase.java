package dev.cantina.testing;

import dev.cantina.project.Invariant;
import dev.cantina.project.YamlNode;
import dev.cantina.syntax.Span;
import java.time.LocalDateTime;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * A test case as written.
 *
 * @param place where it stands
 * @param fixture the one that it asks for; empty for the project's own
 * @param before SQL scripts that run first
 * @param calls what is called, in order, with what each is to come to
 * @param data what all calls together are to change
 * @param ask queries run afterwards, with their rows
 * @param standIns the routines replaced, and what is done in their place
 * @param asked how they are to be called
 * @param as the role with whose rights its calls are made
 * @param clock what the current time is
 * @param limits the case's own
 * @param skip why it is not to be run
 * @param seen whether some of what it expects was only seen, and nobody has judged it yet
 * @param invariants what holds after it, the project's among them
 * @param atOnce whether its calls are made at the same time
 */
public record TestCase(
        Span place,
        String name,
        Optional<String> fixture,
        List<YamlNode> before,
        List<Call> calls,
        Optional<YamlNode> data,
        Optional<YamlNode> ask,
        Optional<YamlNode> standIns,
        Optional<YamlNode> asked,
        Optional<YamlNode> as,
        Optional<LocalDateTime> clock,
        Optional<YamlNode> limits,
        Optional<String> skip,
        List<String> tags,
        boolean seen,
        List<Invariant> invariants,
        Optional<AtOnce> atOnce) {
    /**
     * One call, and what is expected of it.
     *
     * @param at what its differences begin with; empty where it is the only one
     * @param routine as written; it need not be there
     * @param pass the arguments, by parameter
     */
    public record Call(
            Span place,
            String at,
            String routine,
            Map<String, YamlNode> pass,
            Optional<YamlNode> returns,
            Optional<YamlNode> results,
            Optional<YamlNode> raises,
            Optional<YamlNode> says,
            Optional<YamlNode> data) {
        /** The same call with other arguments, of which nothing is expected. */
        Call passing(Map<String, YamlNode> other) {
            return of(place, at, routine, other);
        }

        static Call of(Span place, String at, String routine, Map<String, YamlNode> pass) {
            return new Call(
                    place,
                    at,
                    routine,
                    pass,
                    Optional.empty(),
                    Optional.empty(),
                    Optional.empty(),
                    Optional.empty(),
                    Optional.empty());
        }
    }

    /**
     * One call of which nothing is expected.
     *
     * @param place where it is said to stand
     */
    public static TestCase of(
            Span place,
            String name,
            Optional<String> fixture,
            String routine,
            Map<String, YamlNode> pass,
            Optional<LocalDateTime> clock) {
        return new TestCase(
                place,
                name,
                fixture,
                List.of(),
                List.of(Call.of(place, "", routine, pass)),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                clock,
                Optional.empty(),
                Optional.empty(),
                List.of(),
                true,
                List.of(),
                Optional.empty());
    }

    /**
     * Stands between the name of a case and the row of {@code each} that makes it one of several.
     */
    static final String ROW_MARK = " · ";

    /** A case that can't be run: where it stands, and its name. */
    static TestCase stub(Span place, String name) {
        return new TestCase(
                place,
                name,
                Optional.empty(),
                List.of(),
                List.of(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                List.of(),
                false,
                List.of(),
                Optional.empty());
    }

    /** The same with other invariants. */
    public TestCase holding(List<Invariant> others) {
        return new TestCase(
                place, name, fixture, before, calls, data, ask, standIns, asked, as, clock, limits,
                skip, tags, seen, others, atOnce);
    }

    /** The file, as it is shown. */
    public String file() {
        return place.source().name();
    }

    /** The routine that it is about: the one called first. */
    public String routine() {
        return calls.isEmpty() ? "" : calls.get(0).routine();
    }

    /** What tells it from all other cases of the project. */
    public String id() {
        return file() + ": " + name;
    }
}
