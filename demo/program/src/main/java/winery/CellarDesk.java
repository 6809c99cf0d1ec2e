package winery;

import java.math.BigDecimal;
import java.sql.CallableStatement;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Types;
import java.util.LinkedHashMap;
import java.util.Map;

/**
 * The desk in the cellar: a program as it calls the winery's routines, by plain JDBC. It knows
 * nothing of Cantina but the URL.
 */
public final class CellarDesk {
    private final Connection connection;

    public CellarDesk(Connection connection) {
        this.connection = connection;
    }

    /** How many litres each vessel holds. */
    public Map<String, BigDecimal> levels() throws SQLException {
        Map<String, BigDecimal> levels = new LinkedHashMap<>();
        try (PreparedStatement query =
                        connection.prepareStatement(
                                "SELECT code, level_l FROM vessel ORDER BY code");
                ResultSet row = query.executeQuery()) {
            while (row.next()) {
                levels.put(row.getString("code"), row.getBigDecimal("level_l"));
            }
        }
        return levels;
    }

    /** Moves wine from one vessel to another; gives what was moved. */
    public BigDecimal move(String from, String to, int litres) throws SQLException {
        try (CallableStatement call = connection.prepareCall("{call move_wine(?, ?, ?, ?)}")) {
            call.setString(1, from);
            call.setString(2, to);
            call.setInt(3, litres);
            call.registerOutParameter(4, Types.DECIMAL);
            call.execute();
            return call.getBigDecimal(4);
        }
    }

    /** What a grower is still owed for a vintage. */
    public BigDecimal owed(int grower, int vintage) throws SQLException {
        try (CallableStatement call = connection.prepareCall("{? = call amount_owed(?, ?)}")) {
            call.registerOutParameter(1, Types.DECIMAL);
            call.setInt(2, grower);
            call.setInt(3, vintage);
            call.execute();
            return call.getBigDecimal(1);
        }
    }

    /** Has its day at the desk; the URL may be another: {@code …?on=press-house}. */
    public static void main(String[] arguments) throws SQLException {
        String url = arguments.length > 0 ? arguments[0] : "jdbc:cantina:demo/winery";
        try (Connection connection = DriverManager.getConnection(url)) {
            CellarDesk desk = new CellarDesk(connection);
            System.out.println("in the morning  " + desk.levels());
            System.out.println("moved           " + desk.move("T1", "C7", 80) + " litres");
            System.out.println("in the evening  " + desk.levels());
            System.out.println("owed to Ada     " + desk.owed(1, 2031));
            try {
                desk.move("T1", "B1", 100);
            } catch (SQLException e) {
                System.out.println("refused         " + e.getSQLState() + " " + e.getMessage());
                StackTraceElement where = e.getStackTrace()[0];
                System.out.println(
                        "                in "
                                + where.getMethodName()
                                + ", "
                                + where.getFileName()
                                + ":"
                                + where.getLineNumber());
            }
        }
    }
}
