package dev.cantina.bench;

import dev.cantina.catalog.Catalog;
import dev.cantina.database.ServerConnection;
import dev.cantina.database.postgresql.PostgresDatabase;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.Program;
import dev.cantina.runtime.Session;
import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.Statement;
import java.time.Clock;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * 20,000 single-row updates on a PostgreSQL server, by a routine and by a plain JDBC loop, in one
 * run: best of several rounds, in milliseconds. {@code bench/onserver} runs it.
 */
public final class OnServer {
    private static final int TURNS = 20_000;
    private static final int ROUNDS = Integer.getInteger("rounds", 5);
    private static final Limits FREE = new Limits(Long.MAX_VALUE - 1, 1e9, 200, 1_000_000);
    private static final String LOOP =
            """
              DECLARE i INTEGER DEFAULT 0;
              DECLARE k INTEGER;
            %s
              WHILE i < turns DO
                SET k = MOD(i, 1000);
                UPDATE cell SET v = v + i WHERE id = k;
                SET i = i + 1;
              END WHILE;
            END;
            """;

    private OnServer() {}

    public static void main(String[] arguments) throws Exception {
        try (EmbeddedPostgres server = EmbeddedPostgres.builder().start()) {
            String url = server.getJdbcUrl("postgres", "postgres");
            System.out.printf(Locale.ROOT, "%-40s %9s %7s%n", "20,000 updates", "ms", "ratio");
            double plain = best(() -> plain(url));
            print("a plain JDBC loop", plain, plain);
            String open = "CREATE PROCEDURE updates (IN turns INTEGER)\nBEGIN\n";
            String handler =
                    "  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION BEGIN END;";
            print("a routine", best(() -> routine(url, open + LOOP.formatted(""), false)), plain);
            print(
                    "a routine with a handler",
                    best(() -> routine(url, open + LOOP.formatted(handler), false)),
                    plain);
            print(
                    "a routine, its changes written down",
                    best(() -> routine(url, open + LOOP.formatted(""), true)),
                    plain);
        }
    }

    /** Rows without the dead ones of an earlier run, which the server would step over. */
    private static void fresh(String url) throws Exception {
        try (Connection setup = DriverManager.getConnection(url);
                Statement statement = setup.createStatement()) {
            statement.execute("DROP TABLE IF EXISTS cell");
            statement.execute("CREATE TABLE cell (id INTEGER PRIMARY KEY, v BIGINT NOT NULL)");
            statement.execute("INSERT INTO cell SELECT g, 0 FROM generate_series(0, 999) g");
            statement.execute("ANALYZE cell");
        }
    }

    /** Work that is timed. */
    private interface Work {
        double millis() throws Exception;
    }

    private static double best(Work work) throws Exception {
        double best = Double.MAX_VALUE;
        for (int i = 0; i < ROUNDS; i++) {
            best = Math.min(best, work.millis());
        }
        return best;
    }

    private static void print(String name, double millis, double plain) {
        System.out.printf(Locale.ROOT, "%-40s %9.0f %7.2f%n", name, millis, millis / plain);
    }

    private static double plain(String url) throws Exception {
        fresh(url);
        try (Connection connection = DriverManager.getConnection(url)) {
            connection.setAutoCommit(false);
            long start = System.nanoTime();
            try (PreparedStatement update =
                    connection.prepareStatement("UPDATE cell SET v = v + ? WHERE id = ?")) {
                for (int i = 0; i < TURNS; i++) {
                    update.setInt(1, i);
                    update.setInt(2, i % 1000);
                    update.executeUpdate();
                }
            }
            double millis = (System.nanoTime() - start) / 1e6;
            connection.rollback();
            return millis;
        }
    }

    private static double routine(String url, String text, boolean watched) throws Exception {
        fresh(url);
        ServerConnection.Address address = new ServerConnection.Address("bench", url, "", "");
        try (PostgresDatabase database =
                new PostgresDatabase(ServerConnection.open(address, Path.of("")))) {
            Catalog catalog = Routines.of(database, text);
            Program program = new Program(catalog, Optional.of(database));
            if (watched) {
                database.install(catalog);
            }
            Session session =
                    new Session(program, database, FREE, Clock.systemUTC(), Optional.empty());
            try {
                long start = System.nanoTime();
                Outcome outcome =
                        session.run(
                                catalog.routines("UPDATES").get(0),
                                List.of(Optional.of((long) TURNS)));
                double millis = (System.nanoTime() - start) / 1e6;
                if (outcome.condition().isPresent()) {
                    throw new IllegalStateException(outcome.condition().get().message());
                }
                return millis;
            } finally {
                session.close();
            }
        }
    }
}
