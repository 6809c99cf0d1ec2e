package dev.cantina.jdbc;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.math.BigDecimal;
import java.sql.CallableStatement;
import java.sql.Connection;
import java.sql.Date;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.sql.Types;
import java.time.LocalDate;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

class CallTest {
    private Connection connection;

    @BeforeEach
    void open() throws SQLException {
        connection = Winery.open();
    }

    @AfterEach
    void close() throws SQLException {
        connection.close();
    }

    @Test
    void valuesGoInAndComeOut() throws SQLException {
        try (CallableStatement call =
                connection.prepareCall("{call move_wine(?, ?, ?, ?)}")) {
            call.setString(1, "T1");
            call.setString(2, "B1");
            call.setInt(3, 100);
            call.registerOutParameter(4, Types.DECIMAL);
            assertFalse(call.execute());
            assertEquals(new BigDecimal("100.0"), call.getBigDecimal(4));
            assertEquals(new BigDecimal("100.0"), call.getObject("moved"));
            assertEquals(100, call.getInt("MOVED"));
            assertFalse(call.wasNull());
            assertEquals(0, call.getUpdateCount());
            assertFalse(call.getMoreResults());
            assertEquals(-1, call.getUpdateCount());
        }
        assertEquals(
                new BigDecimal("100.0"), Winery.ask(connection, "SELECT litres FROM movement ORDER BY id DESC FETCH FIRST ROW ONLY"));
    }
}
