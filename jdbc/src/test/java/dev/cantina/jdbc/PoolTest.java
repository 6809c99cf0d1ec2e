package dev.cantina.jdbc;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.zaxxer.hikari.HikariConfig;
import com.zaxxer.hikari.HikariDataSource;
import java.math.BigDecimal;
import java.sql.CallableStatement;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** The driver under a pool of connections. */
@Timeout(60)
class PoolTest {
    private HikariDataSource pool;

    @BeforeEach
    void open() {
        HikariConfig config = new HikariConfig();
        config.setJdbcUrl(Winery.url());
        config.setMaximumPoolSize(4);
        config.setUsername("nobody");
        pool = new HikariDataSource(config);
    }

    @AfterEach
    void close() {
        pool.close();
    }

    private Object ask(String query) throws SQLException {
        try (Connection connection = pool.getConnection()) {
            return Winery.ask(connection, query);
        }
    }

    @Test
    void manyThreadsCallAtOnceAndNothingIsLost() throws Exception {
        ExecutorService threads = Executors.newFixedThreadPool(4);
        List<Future<Integer>> done = new ArrayList<>();
        for (int thread = 0; thread < 4; thread++) {
            String name = "thread " + thread;
            done.add(
                    threads.submit(
                            () -> {
                                int moved = 0;
                                for (int i = 0; i < 25; i++) {
                                    moved += move();
                                    register(name + " " + i);
                                }
                                return moved;
                            }));
        }
        int moved = 0;
        for (Future<Integer> one : done) {
            moved += one.get();
        }
        threads.shutdown();
        assertTrue(threads.awaitTermination(1, TimeUnit.SECONDS));
        assertEquals(100, moved);
        assertEquals(new BigDecimal("100.0"), ask("SELECT level_l FROM vessel WHERE code = 'T2'"));
        assertEquals(new BigDecimal("400.0"), ask("SELECT level_l FROM vessel WHERE code = 'T1'"));
        assertEquals(200L, ask("SELECT COUNT(*) FROM journal"));
        assertEquals(100L, ask("SELECT COUNT(DISTINCT name) FROM grower WHERE name LIKE 'thr%'"));
        assertEquals(100L, ask("SELECT COUNT(*) FROM movement WHERE litres = 1"));
    }

    private int move() throws SQLException {
        try (Connection connection = pool.getConnection();
                CallableStatement call =
                        connection.prepareCall("{call move_wine('T1', 'T2', 1, ?)}")) {
            call.execute();
            return call.getInt(1);
        }
    }

    private void register(String name) throws SQLException {
        try (Connection connection = pool.getConnection();
                PreparedStatement insert =
                        connection.prepareStatement(
                                "INSERT INTO grower (name, village) VALUES (?, 'Colle')")) {
            insert.setString(1, name);
            insert.executeUpdate();
        }
    }

    @Test
    void whatIsLeftOpenIsTakenBackByThePool() throws SQLException {
        try (Connection connection = pool.getConnection()) {
            connection.setAutoCommit(false);
            Winery.change(connection, "UPDATE vessel SET level_l = 9 WHERE code = 'T2'");
        }
        try (Connection connection = pool.getConnection()) {
            assertTrue(connection.getAutoCommit());
        }
        assertEquals(new BigDecimal("0.0"), ask("SELECT level_l FROM vessel WHERE code = 'T2'"));
    }

    @Test
    void aConnectionIsGoodAfterAFailure() throws SQLException {
        for (int i = 0; i < 20; i++) {
            try (Connection connection = pool.getConnection();
                    CallableStatement call =
                            connection.prepareCall("{call move_wine('T1', 'B1', 900, ?)}")) {
                assertThrows(SQLException.class, call::execute);
            }
        }
        assertEquals(0L, ask("SELECT COUNT(*) FROM journal"));
    }

    @Test
    void rollbackOfOneIsNothingToTheOthers() throws SQLException {
        try (Connection one = pool.getConnection();
                Connection other = pool.getConnection()) {
            one.setAutoCommit(false);
            Winery.change(one, "INSERT INTO lot VALUES (91, 2026, 'mine')");
            Winery.change(other, "INSERT INTO lot VALUES (92, 2026, 'yours')");
            one.rollback();
        }
        assertEquals(1L, ask("SELECT COUNT(*) FROM lot WHERE lot_id > 90"));
    }
}
