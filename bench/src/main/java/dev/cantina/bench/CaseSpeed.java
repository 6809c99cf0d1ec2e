package dev.cantina.bench;

import dev.cantina.project.Project;
import dev.cantina.project.ProjectReader;
import dev.cantina.testing.CaseFiles;
import dev.cantina.testing.CaseResult;
import dev.cantina.testing.CaseRunner;
import dev.cantina.testing.TestCase;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** How fast cases run, and what a large fixture costs each of them. {@code bench/cases} runs it. */
public final class CaseSpeed {
    private static final int CASES = 3000;

    private CaseSpeed() {}

    /** Arguments: the command to run, {@code cantina}, and the winery's folder. */
    public static void main(String[] arguments) throws Exception {
        isolated();
        winery(Path.of(arguments[0]).toAbsolutePath(), Path.of(arguments[1]));
    }

    private static void write(Path root, String name, String text) throws java.io.IOException {
        Files.createDirectories(root.resolve(name).getParent());
        Files.writeString(root.resolve(name), text);
    }

    /** Cases a second of a routine with one statement, on a small table and on a large one. */
    private static void isolated() throws Exception {
        int[] rows = {10, 1_000_000};
        double[] best = new double[2];
        Path[] roots = {project(rows[0]), project(rows[1])};
        CaseRunner[] runners = new CaseRunner[2];
        TestCase[] cases = new TestCase[2];
        for (int i = 0; i < 2; i++) {
            Project project = ProjectReader.read(roots[i]);
            cases[i] = CaseFiles.read(project).cases().get(0);
            runners[i] =
                    new CaseRunner(
                            project, Optional.empty(), project.limits(), Clock.systemDefaultZone());
        }
        for (int round = 0; round < 24; round++) {
            int which = round % 2;
            long start = System.nanoTime();
            for (int i = 0; i < CASES; i++) {
                CaseResult result = runners[which].run(cases[which]);
                if (result.verdict() != CaseResult.Verdict.PASSED) {
                    throw new IllegalStateException(result.toString());
                }
            }
            best[which] = Math.max(best[which], CASES / ((System.nanoTime() - start) / 1e9));
        }
        for (int i = 0; i < 2; i++) {
            runners[i].close();
            remove(roots[i]);
            System.out.printf(
                    Locale.ROOT,
                    "%,d rows in the fixture: %,.0f cases a second%n",
                    rows[i],
                    best[i]);
        }
        System.out.printf(
                Locale.ROOT,
                "the large fixture costs a case %.2f times the small one%n",
                best[0] / best[1]);
    }

    private static Path project(int rows) throws Exception {
        Path root = Files.createTempDirectory("cases");
        write(root, "cantina.yaml", "project: cases\nfixture: some\n");
        write(
                root,
                "tables/t.sql",
                "CREATE TABLE cell (id INTEGER PRIMARY KEY, v INTEGER NOT NULL);");
        write(
                root,
                "fixtures/some/fill.sql",
                "INSERT INTO cell SELECT X, 0 FROM SYSTEM_RANGE(1, " + rows + ");");
        write(
                root,
                "routines/r.sql",
                "CREATE PROCEDURE put (IN which INTEGER) UPDATE cell SET v = which WHERE id = which;\n");
        write(
                root,
                "cases/c.yaml",
                "routine: put\ncases:\n"
                        + "  - { case: one, pass: { which: 7 }, data: { cell: { changed: { 7: { v: 7 } } } } }\n");
        return root;
    }

    /** The demo's own cases, and 2,000 of their kind, each as a whole process. */
    private static void winery(Path command, Path winery) throws Exception {
        time("cantina test on the demo, cold", command, winery, 46);
        Path root = Files.createTempDirectory("winery");
        try (var files = Files.walk(winery)) {
            for (Path file : files.filter(Files::isRegularFile).toList()) {
                Path to = root.resolve(winery.relativize(file).toString());
                if (!to.toString().contains(".cantina")) {
                    Files.createDirectories(to.getParent());
                    Files.copy(file, to);
                }
            }
        }
        List<Path> cases;
        try (var files = Files.list(root.resolve("cases"))) {
            cases = files.toList();
        }
        int copies = 2000 / 46 + 1;
        for (Path file : cases) {
            String text = Files.readString(file);
            for (int i = 1; i < copies; i++) {
                String name = file.getFileName().toString().replace(".yaml", "_" + i + ".yaml");
                Files.writeString(root.resolve("cases").resolve(name), text);
            }
        }
        time("the same, " + 46 * copies + " cases", command, root, 46 * copies);
        remove(root);
    }

    private static void time(String what, Path command, Path folder, int cases) throws Exception {
        double best = Double.MAX_VALUE;
        long most = 0;
        Path out = Files.createTempFile("out", ".txt");
        for (int i = 0; i < 5; i++) {
            long start = System.nanoTime();
            Process process =
                    new ProcessBuilder(command.toString(), "test", "--quiet")
                            .directory(folder.toFile())
                            .redirectErrorStream(true)
                            .redirectOutput(out.toFile())
                            .start();
            while (process.isAlive()) {
                most = Math.max(most, Checking.megabytes(process.pid()));
                Thread.sleep(20);
            }
            best = Math.min(best, (System.nanoTime() - start) / 1e9);
        }
        if (!Files.readString(out).contains(cases + " cases")) {
            throw new IllegalStateException(Files.readString(out));
        }
        Files.delete(out);
        System.out.printf(Locale.ROOT, "%s: %.2f s, %d MB%n", what, best, most);
    }

    private static void remove(Path root) throws java.io.IOException {
        try (var all = Files.walk(root)) {
            all.sorted(java.util.Comparator.reverseOrder()).forEach(p -> p.toFile().delete());
        }
    }
}
