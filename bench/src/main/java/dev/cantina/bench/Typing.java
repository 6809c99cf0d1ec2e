package dev.cantina.bench;

import dev.cantina.editing.ProjectState;
import dev.cantina.project.ProjectReader;
import dev.cantina.syntax.Problem;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;

/**
 * From a key to the problems of the file, in a project of 1,000 routines: when all is checked, and
 * while the whole is being checked. {@code bench/typing} runs it.
 */
public final class Typing {
    private static final int KEYS = 400;
    private static final String NAME = "routines/r7.sql";

    private Typing() {}

    /** Argument: how many routines, each in a file of its own. */
    public static void main(String[] arguments) throws Exception {
        int routines = Integer.parseInt(arguments[0]);
        Path root = Files.createTempDirectory("typing");
        Files.writeString(root.resolve("cantina.yaml"), "project: typing\n");
        Files.createDirectories(root.resolve("tables"));
        Files.createDirectories(root.resolve("routines"));
        Files.writeString(root.resolve("tables/tables.sql"), Checking.TABLES);
        for (int i = 0; i < routines; i++) {
            Files.writeString(
                    root.resolve("routines/r" + i + ".sql"),
                    String.format(Locale.ROOT, Checking.ROUTINE, i));
        }
        String text = String.format(Locale.ROOT, Checking.ROUTINE, 7);
        LinkedBlockingQueue<List<Problem>> told = new LinkedBlockingQueue<>();
        try (ProjectState state =
                new ProjectState(
                        ProjectReader.read(root),
                        (file, problems) -> {
                            if (file.equals(NAME)) {
                                told.add(problems);
                            }
                        })) {
            long start = System.nanoTime();
            state.check();
            System.out.printf(
                    Locale.ROOT,
                    "the whole, first   %8.0f ms%n",
                    (System.nanoTime() - start) / 1e6);
            Thread checker = new Thread(() -> check(state), "check");
            checker.setDaemon(true);
            checker.start();
            type(state, told, text, "all is checked", false);
            type(state, told, text, "the whole is being checked", true);
            System.gc();
            Runtime runtime = Runtime.getRuntime();
            System.out.printf(
                    Locale.ROOT,
                    "memory in use      %8d MB%n",
                    (runtime.totalMemory() - runtime.freeMemory()) >> 20);
        }
    }

    private static volatile boolean going = true;
    private static final Object BELL = new Object();

    private static void check(ProjectState state) {
        try {
            while (going) {
                while (!state.check()) {
                    continue;
                }
                synchronized (BELL) {
                    BELL.wait(1);
                }
            }
        } catch (Exception e) {
            e.printStackTrace();
        }
    }

    private static void type(
            ProjectState state,
            LinkedBlockingQueue<List<Problem>> told,
            String text,
            String when,
            boolean busy)
            throws InterruptedException {
        double[] millis = new double[KEYS];
        for (int i = 0; i < KEYS; i++) {
            if (busy) {
                // Another signature: everything is to be checked again.
                String other = String.format(Locale.ROOT, Checking.ROUTINE, 3);
                state.change(
                        "routines/r3.sql",
                        i % 2 == 0
                                ? other.replace(
                                        "IN  litres DECIMAL(8, 1)", "IN  litres DECIMAL(9, 1)")
                                : other);
                Thread.sleep(20);
            }
            told.clear();
            String typed = text.replace("SET moved = litres", "SET moved = lit" + i);
            long start = System.nanoTime();
            state.change(NAME, typed);
            while (true) {
                List<Problem> problems = told.poll(20, TimeUnit.SECONDS);
                String name = "lit" + i + " ";
                if (problems == null
                        || problems.stream().anyMatch(p -> p.message().contains(name))) {
                    break;
                }
            }
            millis[i] = (System.nanoTime() - start) / 1e6;
        }
        Arrays.sort(millis);
        System.out.printf(
                Locale.ROOT,
                "%-28s median %6.1f ms, 95 of 100 %6.1f ms, most %6.1f ms%n",
                when,
                millis[KEYS / 2],
                millis[KEYS * 95 / 100],
                millis[KEYS - 1]);
    }
}
