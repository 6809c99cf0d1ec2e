package dev.cantina.bench;

import dev.cantina.catalog.Catalog;
import dev.cantina.database.embedded.EmbeddedDatabase;
import dev.cantina.debugging.Debugger;
import dev.cantina.debugging.Resume;
import dev.cantina.debugging.Stop;
import dev.cantina.observe.Trace;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.Program;
import dev.cantina.runtime.Session;
import dev.cantina.syntax.Source;
import java.time.Clock;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * A run that is watched beside the bare run: best of several rounds, in milliseconds. {@code
 * bench/watching} runs it.
 */
public final class Watching {
    private static final String ROUTINES =
            """
            CREATE FUNCTION integers (turns INTEGER) RETURNS BIGINT
            BEGIN
              DECLARE i INTEGER DEFAULT 0;
              DECLARE even_ones INTEGER DEFAULT 0;
              DECLARE total BIGINT DEFAULT 0;
              WHILE i < turns DO
                IF MOD(i, 2) = 0 THEN
                  SET even_ones = even_ones + 1;
                ELSE
                  SET total = total + i;
                END IF;
                IF i < 0 THEN
                  SET total = 0;
                END IF;
                SET i = i + 1;
              END WHILE;
              RETURN total + even_ones;
            END;
            CREATE PROCEDURE updates (IN turns INTEGER)
            BEGIN
              DECLARE i INTEGER DEFAULT 0;
              DECLARE k INTEGER;
              WHILE i < turns DO
                SET k = MOD(i, 1000);
                UPDATE cell SET v = v + i WHERE id = k;
                IF i < 0 THEN
                  SET k = 0;
                END IF;
                SET i = i + 1;
              END WHILE;
            END;
            """;
    private static final Limits FREE = new Limits(Long.MAX_VALUE - 1, 1e9, 200, 1_000_000);
    private static final int ROUNDS = Integer.getInteger("rounds", 21);

    private static EmbeddedDatabase database;
    private static Program program;

    private Watching() {}

    /** What a run under a debugger is for. */
    private interface Setting {
        void set(Debugger debugger) throws Exception;
    }

    public static void main(String[] arguments) throws Exception {
        database = EmbeddedDatabase.open();
        database.create(
                new Source(
                        "cell.sql",
                        "CREATE TABLE cell (id INTEGER PRIMARY KEY, v BIGINT NOT NULL);"
                                + "INSERT INTO cell SELECT X - 1, 0 FROM SYSTEM_RANGE(1, 1000);"));
        database.connection().commit();
        Catalog catalog = Routines.of(database, ROUTINES);
        program = new Program(catalog, Optional.of(database));
        database.install(catalog);
        System.out.printf(Locale.ROOT, "%-52s %9s %9s %7s%n", "work", "watched", "bare", "ratio");
        Setting idle =
                debugger -> {
                    debugger.pauseAt("integers", 13, Optional.empty(), 0, 1);
                    debugger.pauseAt("updates", 27, Optional.empty(), 0, 1);
                    debugger.pauseOn("exception", 0, 1);
                };
        row("3 million turns, breakpoints that do not stop", "integers", 3_000_000, idle);
        row("100,000 updates, breakpoints that do not stop", "updates", 100_000, idle);
        row(
                "1 million turns, a condition looked at in each",
                "integers",
                1_000_000,
                d -> d.pauseAt("integers", 15, Optional.of("i = -1"), 0, 1));
        back();
        trace();
        database.close();
    }

    private static void row(String name, String routine, int turns, Setting setting)
            throws Exception {
        double watched = Double.MAX_VALUE;
        double bare = Double.MAX_VALUE;
        for (int i = 0; i < ROUNDS; i++) {
            Debugger debugger =
                    new Debugger(program, stop -> Resume.of(Resume.Kind.CONTINUE), false);
            setting.set(debugger);
            watched = Math.min(watched, call(routine, turns, Optional.of(debugger)));
            bare = Math.min(bare, call(routine, turns, Optional.empty()));
        }
        print(name, watched, bare);
    }

    private static void print(String name, double watched, double bare) {
        System.out.printf(
                Locale.ROOT, "%-52s %9.1f %9.1f %7.2f%n", name, watched, bare, watched / bare);
    }

    /** From after three million turns back into the last of them, and from 100,000 updates. */
    private static void back() throws Exception {
        back("back after 3 million turns, beside the way there", "integers", 17, 3_000_000);
        back("back after 100,000 updates, beside the way there", "updates", 25, 100_000);
    }

    private static void back(String name, String routine, int line, int turns) throws Exception {
        double way = Double.MAX_VALUE;
        double back = Double.MAX_VALUE;
        for (int i = 0; i < ROUNDS; i++) {
            long[] times = new long[2];
            boolean[] gone = new boolean[1];
            long[] start = {System.nanoTime()};
            Debugger debugger =
                    new Debugger(
                            program,
                            stop -> {
                                if (stop.reason() == Stop.Reason.BREAKPOINT && !gone[0]) {
                                    times[0] = System.nanoTime() - start[0];
                                    gone[0] = true;
                                    start[0] = System.nanoTime();
                                    return Resume.of(Resume.Kind.BACK);
                                }
                                if (stop.reason() == Stop.Reason.BACK) {
                                    times[1] = System.nanoTime() - start[0];
                                }
                                return Resume.of(Resume.Kind.QUIT);
                            },
                            false);
            if (routine.equals("updates")) {
                debugger.pauseAtEnd(routine, 0, 1);
                debugger.pauseAt(routine, line, Optional.empty(), turns - 1, 1);
            } else {
                debugger.pauseAt(routine, line, Optional.empty(), 0, 1);
            }
            do {
                debugger.begin(program, Optional.empty());
                call(routine, turns, Optional.of(debugger));
            } while (debugger.isAgain());
            way = Math.min(way, times[0] / 1e6);
            back = Math.min(back, times[1] / 1e6);
        }
        print(name, back, way);
    }

    private static void trace() throws Exception {
        long[] events = new long[1];
        double millis = call("integers", 250_000, Optional.of(new Trace(event -> events[0]++)));
        Runtime runtime = Runtime.getRuntime();
        System.gc();
        System.out.printf(
                Locale.ROOT,
                "a trace of %,d events: %.0f ms, %d MB held afterwards, of %d MB allowed%n",
                events[0],
                millis,
                (runtime.totalMemory() - runtime.freeMemory()) >> 20,
                runtime.maxMemory() >> 20);
    }

    private static double call(String name, int turns, Optional<Probe> probe) throws Exception {
        Session session = new Session(program, database, FREE, Clock.systemUTC(), probe);
        try {
            long start = System.nanoTime();
            Outcome outcome =
                    session.run(
                            program.catalog().routines(name.toUpperCase(Locale.ROOT)).get(0),
                            List.of(Optional.of((long) turns)));
            double millis = (System.nanoTime() - start) / 1e6;
            if (outcome.kind() == Outcome.Kind.RAISED) {
                throw new IllegalStateException(outcome.condition().get().message());
            }
            return millis;
        } finally {
            session.close();
            database.connection().rollback();
        }
    }
}
