package dev.cantina.bench;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.observe.Coverage;
import dev.cantina.observe.Profile;
import dev.cantina.project.Arguments;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectReader;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Frame;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.Session;
import dev.cantina.testing.CaseFiles;
import dev.cantina.testing.CaseResult;
import dev.cantina.testing.Suite;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;

/**
 * Routines in a server's own language on a private server: cases a second, the time of a step, what
 * watching costs beside the bare run, and checking many. {@code bench/native} runs it.
 */
public final class NativeSpeed {
    private static final Limits FREE = new Limits(Long.MAX_VALUE - 1, 1e9, 200, 1_000_000);
    private static final int CASES = 2000;

    /** How many turns of a loop are run, by its name and what watches it. */
    private static final Map<String, Integer> TURNS =
            Map.of(
                    "trivial, coverage", 300_000,
                    "trivial, profile", 30_000,
                    "touching, coverage", 25_000,
                    "touching, profile", 25_000);

    private static final int ROUNDS = 7;

    private static final int STEPPED = 3000;
    private static final int ROUTINES = 500;

    private static final Map<String, String> TABLES =
            Map.of(
                    "postgresql",
                    "CREATE TABLE item (id int PRIMARY KEY, n int NOT NULL);"
                            + " INSERT INTO item SELECT i, 0 FROM generate_series(1, 100) i;",
                    "mariadb",
                    "CREATE TABLE item (id INT PRIMARY KEY, n INT NOT NULL) ENGINE=InnoDB;"
                            + " INSERT INTO item SELECT seq, 0 FROM seq_1_to_100;");

    private static final Map<String, String> CODE =
            Map.of(
                    "postgresql",
                    """
                    CREATE FUNCTION add_one(k int) RETURNS int LANGUAGE plpgsql AS $$
                    BEGIN
                      UPDATE item SET n = n + 1 WHERE id = k;
                      RETURN k + 1;
                    END $$;
                    CREATE FUNCTION trivial(turns int) RETURNS int LANGUAGE plpgsql AS $$
                    DECLARE s int := 0;
                    BEGIN
                      FOR i IN 1..turns LOOP
                        s := s + i;
                        IF s > 1000 THEN
                          s := 0;
                        END IF;
                      END LOOP;
                      RETURN s;
                    END $$;
                    CREATE FUNCTION touching(turns int) RETURNS int LANGUAGE plpgsql AS $$
                    DECLARE s int := 0;
                    BEGIN
                      FOR i IN 1..turns LOOP
                        UPDATE item SET n = n + 1 WHERE id = i % 100 + 1;
                      END LOOP;
                      RETURN s;
                    END $$;
                    """,
                    "mariadb",
                    """
                    DELIMITER //
                    CREATE FUNCTION add_one(k INT) RETURNS INT MODIFIES SQL DATA
                    BEGIN
                      UPDATE item SET n = n + 1 WHERE id = k;
                      RETURN k + 1;
                    END //
                    CREATE PROCEDURE trivial(IN turns INT)
                    BEGIN
                      DECLARE s, i INT DEFAULT 0;
                      WHILE i < turns DO
                        SET s = s + i;
                        IF s > 1000 THEN
                          SET s = 0;
                        END IF;
                        SET i = i + 1;
                      END WHILE;
                    END //
                    CREATE PROCEDURE touching(IN turns INT)
                    BEGIN
                      DECLARE i INT DEFAULT 0;
                      WHILE i < turns DO
                        UPDATE item SET n = n + 1 WHERE id = i % 100 + 1;
                        SET i = i + 1;
                      END WHILE;
                    END //
                    """);

    private NativeSpeed() {}

    public static void main(String[] arguments) throws Exception {
        List<String> kinds =
                arguments.length > 0 ? List.of(arguments) : List.of("postgresql", "mariadb");
        for (String kind : kinds) {
            Path root = Files.createTempDirectory("cantina-native");
            write(root, "cantina.yaml", "dialect: " + kind + "\ndatabase: private\n");
            write(root, "tables/t.sql", TABLES.get(kind));
            write(root, "routines/r.sql", CODE.get(kind));
            StringBuilder cases = new StringBuilder("routine: add_one\ncases:\n");
            for (int i = 0; i < CASES; i++) {
                cases.append("  - { case: c").append(i).append(", pass: { k: ").append(i % 100 + 1);
                cases.append(" }, returns: ").append(i % 100 + 2).append(" }\n");
            }
            write(root, "cases/add.yaml", cases.toString());
            Project project = ProjectReader.read(root);
            System.out.println(kind);
            cases(project);
            try (Workspace workspace = Workspace.open(project, Optional.empty())) {
                expect(workspace, Probe.Detail.HOLD);
                steps(workspace);
                for (String routine : List.of("trivial", "touching")) {
                    watched(workspace, routine);
                }
            }
            check(root, kind);
        }
    }

    private static void write(Path root, String name, String text) throws Exception {
        Files.createDirectories(root.resolve(name).getParent());
        Files.writeString(root.resolve(name), text);
    }

    private static void cases(Project project) throws Exception {
        long best = Long.MAX_VALUE;
        for (int round = 0; round < 3; round++) {
            Suite suite =
                    new Suite(project, Optional.empty(), FREE, Clock.systemUTC(), Optional::empty);
            long start = System.nanoTime();
            List<CaseResult> results =
                    suite.run(
                            CaseFiles.read(project).cases(),
                            new Suite.Order(1, Optional.empty(), false),
                            r -> {});
            best = Math.min(best, System.nanoTime() - start);
            if (results.stream().anyMatch(r -> r.verdict() != CaseResult.Verdict.PASSED)) {
                throw new IllegalStateException("a case has not passed");
            }
        }
        say("cases a second, one job", CASES / (best / 1e9));
    }

    private static long run(Workspace workspace, String routine, int turns, Optional<Probe> probe)
            throws Exception {
        RoutineSymbol symbol = workspace.routine(routine, List.of("turns"));
        long start = System.nanoTime();
        try (Session session =
                new Session(
                        workspace.program(),
                        workspace.database(),
                        FREE,
                        Clock.systemUTC(),
                        probe)) {
            session.run(symbol, Arguments.match(symbol, Map.of("turns", turns)));
            long took = System.nanoTime() - start;
            session.events();
            return took;
        } finally {
            workspace.database().restore();
        }
    }

    /** Stops at each statement, as a person would who steps. */
    private static void steps(Workspace workspace) throws Exception {
        List<Long> times = new ArrayList<>();
        long[] last = {0};
        Probe stepping =
                new Probe() {
                    @Override
                    public void entered(Frame frame) {
                        frame.session.watchAll(true);
                        Arrays.fill(frame.watch, (byte) 1);
                    }

                    @Override
                    public void reached(Frame frame) {
                        long now = System.nanoTime();
                        if (last[0] != 0) {
                            times.add(now - last[0]);
                        }
                        last[0] = System.nanoTime();
                    }
                };
        run(workspace, "trivial", STEPPED, Optional.of(stepping));
        times.sort(null);
        say("a step, median, ms", times.get(times.size() / 2) / 1e6);
        say("a step, 95 of 100, ms", times.get(times.size() * 95 / 100) / 1e6);
        say("steps", times.size());
    }

    private static void expect(Workspace workspace, Probe.Detail detail) throws Exception {
        workspace.program().expectWatching(detail);
        workspace.database().keep();
    }

    /** The second run in a workspace of its own. */
    private static long fresh(
            Workspace like, String routine, int turns, Optional<Supplier<Probe>> probe)
            throws Exception {
        // Rows that were taken back make a table slow, so each run has tables of its own.
        try (Workspace workspace = Workspace.open(like.project(), Optional.empty())) {
            if (probe.isPresent()) {
                workspace.program().expectWatching(probe.get().get().detail());
            }
            workspace.database().keep();
            run(workspace, routine, turns, probe.map(Supplier::get));
            return run(workspace, routine, turns, probe.map(Supplier::get));
        }
    }

    private static void watched(Workspace workspace, String routine) throws Exception {
        Map<String, Supplier<Probe>> probes =
                Map.of("coverage", () -> new Coverage().probe(), "profile", Profile::new);
        for (String name : List.of("coverage", "profile")) {
            int turns = TURNS.get(routine + ", " + name);
            long plain = Long.MAX_VALUE;
            List<Double> factors = new ArrayList<>();
            for (int round = 0; round < ROUNDS; round++) {
                // In turns, and the two in both orders: what else runs here troubles both alike.
                boolean first = round % 2 == 0;
                long before = first ? fresh(workspace, routine, turns, Optional.empty()) : 0;
                long watched = fresh(workspace, routine, turns, Optional.of(probes.get(name)));
                long bare = first ? before : fresh(workspace, routine, turns, Optional.empty());
                plain = Math.min(plain, bare);
                factors.add(watched / (double) bare);
            }
            factors.sort(null);
            say("loop " + routine + ", bare, ms", plain / 1e6);
            say("loop " + routine + ", " + name + ", times", factors.get(ROUNDS / 2));
            say("  of " + ROUNDS + ", the lowest", factors.get(0));
            say("  and the highest", factors.get(ROUNDS - 1));
        }
    }

    private static void check(Path root, String kind) throws Exception {
        StringBuilder many = new StringBuilder();
        String one = CODE.get(kind);
        for (int i = 0; i < ROUTINES; i += 3) {
            many.append(
                    one.replace("add_one", "add_one_" + i)
                            .replace("trivial", "trivial_" + i)
                            .replace("touching", "touching_" + i));
        }
        write(root, "routines/r.sql", many.toString());
        long start = System.nanoTime();
        try (Workspace workspace = Workspace.open(ProjectReader.read(root), Optional.empty())) {
            if (!workspace.check().isEmpty()) {
                throw new IllegalStateException(workspace.check().toString());
            }
            say(
                    "check of " + workspace.catalog().routines().size() + " routines, s",
                    (System.nanoTime() - start) / 1e9);
        }
    }

    private static void say(String what, double figure) {
        System.out.println(String.format(Locale.ROOT, "  %-34s %10.2f", what, figure));
    }
}
