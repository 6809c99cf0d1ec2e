package dev.cantina.bench;

import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.Statement;
import java.util.List;
import java.util.Locale;

/**
 * Seconds of wall time that {@code cantina ship} takes for 1,000 routines, and once more where
 * nothing has changed, and that {@code cantina agree} takes for the demo's cases. {@code
 * bench/ship} runs it.
 */
public final class Shipping {
    private Shipping() {}

    /** Arguments: the command to run, {@code cantina}, and the demo's folder. */
    public static void main(String[] arguments) throws Exception {
        Path command = Path.of(arguments[0]).toAbsolutePath();
        int routines = Integer.getInteger("routines", 1000);
        try (EmbeddedPostgres server = EmbeddedPostgres.builder().start()) {
            String url = server.getJdbcUrl("postgres", "postgres");
            Path project = project(url, routines);
            try (Connection connection = DriverManager.getConnection(url);
                    Statement statement = connection.createStatement()) {
                statement.execute(Checking.TABLES);
            }
            print(routines + " routines shipped", timed(command, project, "ship", "press-house"));
            print("the same once more", timed(command, project, "ship", "press-house"));
            Path demo = Files.createTempDirectory("demo");
            try (var files = Files.walk(Path.of(arguments[1]))) {
                for (Path file : files.sorted().toList()) {
                    Path copy = demo.resolve(Path.of(arguments[1]).relativize(file).toString());
                    if (!Files.exists(copy)) {
                        Files.copy(file, copy);
                    }
                }
            }
            Files.writeString(
                    demo.resolve("cantina.yaml"),
                    Files.readString(demo.resolve("cantina.yaml")) + databases(url));
            print("agree on the demo", timed(command, demo, "agree", "press-house"));
        }
    }

    private static void print(String what, double seconds) {
        System.out.printf(Locale.ROOT, "%-40s %7.2f s%n", what, seconds);
    }

    private static String databases(String url) {
        return "databases:\n  press-house: { url: \"" + url + "\" }\n";
    }

    private static Path project(String url, int routines) throws Exception {
        Path folder = Files.createTempDirectory("shipping");
        Files.createDirectories(folder.resolve("tables"));
        Files.createDirectories(folder.resolve("routines"));
        Files.writeString(folder.resolve("cantina.yaml"), "project: many\n" + databases(url));
        Files.writeString(folder.resolve("tables/all.sql"), Checking.TABLES);
        for (int i = 0; i < routines; i++) {
            Files.writeString(
                    folder.resolve("routines/r" + i + ".sql"),
                    String.format(Locale.ROOT, Checking.ROUTINE, i));
        }
        return folder;
    }

    private static double timed(Path command, Path project, String... words) throws Exception {
        List<String> line = new java.util.ArrayList<>(List.of(command.toString()));
        line.addAll(List.of(words));
        line.add("--quiet");
        long start = System.nanoTime();
        int code =
                new ProcessBuilder(line).directory(project.toFile()).inheritIO().start().waitFor();
        if (code != 0) {
            throw new IllegalStateException(String.join(" ", line) + " ended with " + code);
        }
        return (System.nanoTime() - start) / 1e9;
    }
}
