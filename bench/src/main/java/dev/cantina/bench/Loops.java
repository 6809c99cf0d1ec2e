package dev.cantina.bench;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.embedded.EmbeddedDatabase;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.Program;
import dev.cantina.runtime.Session;
import dev.cantina.syntax.Source;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.time.Clock;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * Cantina beside plain Java and plain JDBC, in one run: best of several rounds, in milliseconds,
 * and the ratio. {@code bench/loops} runs it.
 */
public final class Loops {
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
                SET i = i + 1;
              END WHILE;
            END;
            CREATE TRIGGER doubled BEFORE INSERT ON entry FOR EACH ROW
            SET NEW.twice = NEW.amount * 2;
            CREATE PROCEDURE inserts (IN turns INTEGER)
            INSERT INTO entry (id, amount) SELECT X, X FROM SYSTEM_RANGE(1, turns);
            CREATE FUNCTION selects (turns INTEGER) RETURNS BIGINT
            BEGIN
              DECLARE i INTEGER DEFAULT 0;
              DECLARE k INTEGER;
              DECLARE one BIGINT;
              DECLARE total BIGINT DEFAULT 0;
              WHILE i < turns DO
                SET k = MOD(i, 1000);
                SELECT c.id INTO one FROM cell c WHERE c.id = k;
                SET total = total + one;
                SET i = i + 1;
              END WHILE;
              RETURN total;
            END;
            """;
    private static final Limits FREE = new Limits(Long.MAX_VALUE - 1, 1e9, 200, 1_000_000);

    private static final int ROUNDS = Integer.getInteger("rounds", 21);

    private Loops() {}

    private interface Work {
        double millis() throws Exception;
    }

    private interface Plain {
        void run() throws Exception;
    }

    /** The work to measure is that whose name holds the argument; all of it without one. */
    public static void main(String[] arguments) throws Exception {
        only = arguments.length > 0 ? arguments[0] : "";
        System.out.printf(Locale.ROOT, "%-47s %9s %9s %7s%n", "work", "Cantina", "plain", "ratio");
        try (Bench bench = new Bench()) {
            int turns = 3_000_000;
            row(
                    "3 million turns, integers",
                    () -> bench.call("integers", turns, false),
                    () -> time(() -> plain(turns)));
            row(
                    "  the same with probe points, none set",
                    () -> bench.call("integers", turns, true),
                    () -> time(() -> plain(turns)));
            int rows = 100_000;
            row(
                    "100,000 updates by key",
                    () -> bench.call("updates", rows, false),
                    () -> bench.plainUpdates(rows));
            row(
                    "100,000 SELECT INTO by key",
                    () -> bench.call("selects", rows, false),
                    () -> time(() -> bench.plainSelects(rows)));
            row(
                    "100,000 rows inserted, a trigger sets a column",
                    () -> bench.call("inserts", rows, false),
                    () -> bench.plainInserts(rows));
        }
    }

    private static void row(String name, Work cantina, Work plain) throws Exception {
        if (!name.contains(only)) {
            return;
        }
        double a = Double.MAX_VALUE;
        double b = Double.MAX_VALUE;
        for (int i = 0; i < ROUNDS; i++) {
            a = Math.min(a, cantina.millis());
            b = Math.min(b, plain.millis());
        }
        System.out.printf(Locale.ROOT, "%-47s %9.1f %9.1f %7.2f%n", name, a, b, a / b);
    }

    private static double time(Plain work) throws Exception {
        long start = System.nanoTime();
        work.run();
        return (System.nanoTime() - start) / 1e6;
    }

    /** How long plain Java takes for 3 million turns: what other machines' figures go by. */
    static double plainMillis() throws Exception {
        double best = Double.MAX_VALUE;
        for (int i = 0; i < ROUNDS * 2; i++) {
            best = Math.min(best, time(() -> plain(3_000_000)));
        }
        return best;
    }

    private static String only;
    private static volatile long sink;

    private static void plain(int turns) {
        int i = 0;
        int even = 0;
        long total = 0;
        while (i < turns) {
            if (i % 2 == 0) {
                even = even + 1;
            } else {
                total = total + i;
            }
            i = i + 1;
        }
        sink = total + even;
    }

    /** The trigger in Java, as the engine takes it. */
    public static final class Doubled implements org.h2.api.Trigger {
        @Override
        public void fire(Connection connection, Object[] before, Object[] after) {
            after[2] = (Integer) after[1] * 2;
        }
    }

    private static final String TABLES =
            "CREATE TABLE entry (id INTEGER PRIMARY KEY, amount INTEGER, twice INTEGER);"
                    + "CREATE TABLE cell (id INTEGER PRIMARY KEY, v BIGINT NOT NULL);"
                    + "INSERT INTO cell SELECT X - 1, 0 FROM SYSTEM_RANGE(1, 1000);";

    private static final class Bench implements AutoCloseable {
        private final EmbeddedDatabase database;
        private final Connection bare;
        private final Program program;

        Bench() throws Exception {
            database = table();
            // A trigger in Java is for the engine's administrator alone, whom nothing of ours is.
            bare = DriverManager.getConnection("jdbc:h2:mem:");
            bare.setAutoCommit(false);
            try (var statement = bare.createStatement()) {
                for (String sql : TABLES.split(";")) {
                    statement.execute(sql);
                }
                statement.execute(
                        "CREATE TRIGGER doubled BEFORE INSERT ON entry FOR EACH ROW CALL '"
                                + Doubled.class.getName()
                                + "'");
            }
            Catalog catalog = Routines.of(database, ROUTINES);
            program = new Program(catalog, Optional.of(database));
            database.install(catalog);
        }

        private static EmbeddedDatabase table() throws Exception {
            EmbeddedDatabase database = EmbeddedDatabase.open();
            database.create(new Source("cell.sql", TABLES));
            database.connection().commit();
            return database;
        }

        double call(String name, int turns, boolean probed) throws Exception {
            RoutineSymbol routine =
                    program.catalog().routines(name.toUpperCase(Locale.ROOT)).get(0);
            Optional<Probe> probe = probed ? Optional.of(new Probe() {}) : Optional.empty();
            Session session = new Session(program, database, FREE, Clock.systemUTC(), probe);
            try {
                long start = System.nanoTime();
                Outcome outcome = session.run(routine, List.of(Optional.of((long) turns)));
                double millis = (System.nanoTime() - start) / 1e6;
                if (outcome.condition().isPresent()) {
                    throw new IllegalStateException(outcome.condition().get().message());
                }
                return millis;
            } finally {
                session.close();
                database.connection().rollback();
            }
        }

        double plainUpdates(int turns) throws Exception {
            Connection connection = bare;
            long start = System.nanoTime();
            try (PreparedStatement update =
                    connection.prepareStatement("UPDATE cell SET v = v + ? WHERE id = ?")) {
                for (int i = 0; i < turns; i++) {
                    update.setInt(1, i);
                    update.setInt(2, i % 1000);
                    update.executeUpdate();
                }
            }
            double millis = (System.nanoTime() - start) / 1e6;
            connection.rollback();
            return millis;
        }

        double plainInserts(int turns) throws Exception {
            try (PreparedStatement insert =
                    bare.prepareStatement(
                            "INSERT INTO entry (id, amount) SELECT X, X FROM SYSTEM_RANGE(1, ?)")) {
                insert.setInt(1, turns);
                long start = System.nanoTime();
                insert.executeUpdate();
                double millis = (System.nanoTime() - start) / 1e6;
                bare.rollback();
                return millis;
            }
        }

        void plainSelects(int turns) throws Exception {
            long total = 0;
            try (PreparedStatement select =
                    bare.prepareStatement("SELECT c.id FROM cell c WHERE c.id = ?")) {
                for (int i = 0; i < turns; i++) {
                    select.setInt(1, i % 1000);
                    try (ResultSet row = select.executeQuery()) {
                        row.next();
                        total += row.getLong(1);
                    }
                }
            }
            sink = total;
        }

        @Override
        public void close() throws java.sql.SQLException {
            database.close();
            bare.close();
        }
    }
}
