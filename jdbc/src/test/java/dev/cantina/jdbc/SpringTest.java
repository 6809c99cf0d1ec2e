package dev.cantina.jdbc;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;

import com.zaxxer.hikari.HikariDataSource;
import java.math.BigDecimal;
import java.sql.Types;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.springframework.dao.DuplicateKeyException;
import org.springframework.jdbc.UncategorizedSQLException;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.jdbc.core.SqlOutParameter;
import org.springframework.jdbc.core.SqlParameter;
import org.springframework.jdbc.core.simple.SimpleJdbcCall;
import org.springframework.jdbc.datasource.DataSourceTransactionManager;
import org.springframework.jdbc.datasource.DriverManagerDataSource;
import org.springframework.transaction.TransactionDefinition;
import org.springframework.transaction.support.TransactionTemplate;

/** Transactions as a widely used framework makes them: required, new, nested, read only. */
class SpringTest {
    private HikariDataSource pool;
    private JdbcTemplate jdbc;
    private TransactionTemplate outer;
    private TransactionTemplate inner;

    @BeforeEach
    void open() {
        pool = new HikariDataSource();
        pool.setJdbcUrl(Winery.url());
        pool.setMaximumPoolSize(3);
        jdbc = new JdbcTemplate(pool);
        DataSourceTransactionManager manager = new DataSourceTransactionManager(pool);
        outer = new TransactionTemplate(manager);
        inner = new TransactionTemplate(manager);
    }

    @AfterEach
    void close() {
        pool.close();
    }

    private long lots() {
        return jdbc.queryForObject("SELECT COUNT(*) FROM lot WHERE lot_id > 90", Long.class);
    }

    private void lot(int number) {
        jdbc.update("INSERT INTO lot VALUES (?, 2026, 'made')", number);
    }

    @Test
    void aFailureTakesTheWholeTransactionBack() {
        assertThrows(
                UncategorizedSQLException.class,
                () ->
                        outer.executeWithoutResult(
                                s -> {
                                    lot(91);
                                    jdbc.update("DELETE FROM grower WHERE grower_id = 1");
                                }));
        assertEquals(0, lots());
        assertThrows(
                DuplicateKeyException.class,
                () ->
                        outer.executeWithoutResult(
                                s -> {
                                    lot(91);
                                    lot(91);
                                }));
        assertEquals(0, lots());
    }

    @Test
    void aNewTransactionInsideStaysWhenTheOuterOneGoes() {
        inner.setPropagationBehavior(TransactionDefinition.PROPAGATION_REQUIRES_NEW);
        outer.executeWithoutResult(
                s -> {
                    lot(91);
                    inner.executeWithoutResult(
                            i -> {
                                assertEquals(0, lots());
                                lot(92);
                            });
                    assertEquals(2, lots());
                    s.setRollbackOnly();
                });
        assertEquals(1, lots());
    }

    @Test
    void aNestedOneIsASavepoint() {
        inner.setPropagationBehavior(TransactionDefinition.PROPAGATION_NESTED);
        outer.executeWithoutResult(
                s -> {
                    lot(91);
                    inner.executeWithoutResult(
                            i -> {
                                lot(92);
                                i.setRollbackOnly();
                            });
                    inner.executeWithoutResult(i -> lot(93));
                });
        assertEquals(2, lots());
        assertEquals(
                0,
                jdbc.queryForObject("SELECT COUNT(*) FROM lot WHERE lot_id = 92", Integer.class));
    }

    @Test
    void readOnlyAndIsolationAreTaken() {
        outer.setReadOnly(true);
        outer.setIsolationLevel(TransactionDefinition.ISOLATION_REPEATABLE_READ);
        assertEquals(Long.valueOf(0), outer.execute(s -> lots()));
        outer.setReadOnly(false);
        outer.setIsolationLevel(TransactionDefinition.ISOLATION_SERIALIZABLE);
        outer.executeWithoutResult(s -> lot(91));
        assertEquals(1, lots());
    }

    @Test
    void aProcedureIsCalledByItsNameAlone() {
        Map<String, Object> moved =
                new SimpleJdbcCall(pool)
                        .withProcedureName("move_wine")
                        .declareParameters(
                                new SqlParameter("source", Types.VARCHAR),
                                new SqlParameter("target", Types.VARCHAR),
                                new SqlParameter("litres", Types.DECIMAL),
                                new SqlOutParameter("moved", Types.DECIMAL))
                        .execute(Map.of("source", "T1", "target", "T2", "litres", 12));
        assertEquals(new BigDecimal("12.0"), moved.get("moved"));
        assertEquals(
                "A",
                new SimpleJdbcCall(pool)
                        .withFunctionName("grade_for")
                        .declareParameters(
                                new SqlOutParameter("grade", Types.CHAR),
                                new SqlParameter("sugar", Types.DECIMAL))
                        .executeFunction(String.class, new BigDecimal("23")));
    }

    @Test
    void rowsOfAProcedureAreRead() {
        List<Map<String, Object>> rows = jdbc.queryForList("CALL list_intakes(?)", "A");
        assertEquals(1, rows.size(), rows.toString());
        assertEquals("A", rows.get(0).get("grade"));
    }

    @Test
    void aConnectionForEachStatementSeesTheSameRows() {
        DriverManagerDataSource plain =
                new DriverManagerDataSource(Winery.url().replace("fresh=yes&", ""));
        JdbcTemplate each = new JdbcTemplate(plain);
        each.update("INSERT INTO lot VALUES (91, 2026, 'made')");
        assertEquals(
                1,
                each.queryForObject("SELECT COUNT(*) FROM lot WHERE lot_id = 91", Integer.class));
    }
}
