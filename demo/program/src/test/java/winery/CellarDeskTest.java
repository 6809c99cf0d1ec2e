package winery;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;

import com.zaxxer.hikari.HikariDataSource;
import java.math.BigDecimal;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** The desk, tested with the project's own tables, fixture and routines. */
class CellarDeskTest {
    private static final Path WINERY = Path.of("..", "winery").toAbsolutePath().normalize();

    private HikariDataSource pool;

    @BeforeEach
    void open() {
        pool = new HikariDataSource();
        pool.setJdbcUrl("jdbc:cantina:" + WINERY + "?fresh=yes");
        pool.setMaximumPoolSize(2);
    }

    @AfterEach
    void close() {
        pool.close();
    }

    @Test
    void wineIsMoved() throws SQLException {
        try (Connection connection = pool.getConnection()) {
            CellarDesk desk = new CellarDesk(connection);
            assertEquals(new BigDecimal("80.0"), desk.move("T1", "C7", 80));
            assertEquals(new BigDecimal("420.0"), desk.levels().get("T1"));
            assertEquals(new BigDecimal("180.0"), desk.levels().get("C7"));
        }
    }

    @Test
    void whatHasNoRoomIsRefusedAndNothingIsLost() throws SQLException {
        try (Connection connection = pool.getConnection()) {
            CellarDesk desk = new CellarDesk(connection);
            SQLException refused =
                    assertThrows(SQLException.class, () -> desk.move("T1", "B1", 100));
            assertEquals("45000", refused.getSQLState());
            assertEquals(new BigDecimal("500.0"), desk.levels().get("T1"));
        }
    }

    @Test
    void aGrowerIsOwedWhatIsNotPaid() throws SQLException {
        try (Connection connection = pool.getConnection()) {
            assertEquals(new BigDecimal("1638.95"), new CellarDesk(connection).owed(1, 2031));
        }
    }
}
