package dev.cantina.cli;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.sql.BatchUpdateException;
import java.sql.CallableStatement;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;

/** A program on a server, and the terminal's debugger that attaches to it. */
final class AttachedOnServer {
    private final Cli cli;
    private final String database;

    /**
     * @param cli the winery, whose settings know the server
     * @param database the server's name there
     */
    AttachedOnServer(Cli cli, String database) {
        this.cli = cli;
        this.database = database;
    }

    /** What a program does, on a connection of its own. */
    interface Work {
        void on(Connection connection) throws SQLException;
    }

    private String url;
    private int port;

    private CompletableFuture<String> program(Work work) throws IOException, SQLException {
        try (ServerSocket free = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            port = free.getLocalPort();
        }
        url =
                "jdbc:cantina:"
                        + cli.path("")
                        + "?fresh=yes&wait=yes&on="
                        + database
                        + "&debug="
                        + port;
        Connection connection = DriverManager.getConnection(url);
        return CompletableFuture.supplyAsync(
                () -> {
                    try (connection) {
                        work.on(connection);
                        return "completed";
                    } catch (SQLException e) {
                        return e.getSQLState();
                    }
                });
    }

    private String attached(String... words) {
        Cli.Result result =
                cli.typing(
                        String.join("\n", words) + "\n", "debug", "--attach", String.valueOf(port));
        assertEquals(0, result.code(), result.out() + result.err());
        return result.out();
    }

    private static void move(Connection connection, String target, int litres) throws SQLException {
        try (CallableStatement call = connection.prepareCall("{call move_wine('T1', ?, ?, ?)}")) {
            call.setString(1, target);
            call.setInt(2, litres);
            call.execute();
        }
    }

    private static String level(Connection connection, String vessel) throws SQLException {
        try (Statement statement = connection.createStatement();
                ResultSet row =
                        statement.executeQuery(
                                "SELECT level_l FROM vessel WHERE code = '" + vessel + "'")) {
            row.next();
            return row.getString(1);
        }
    }

    /** In a trigger under a routine that the program calls: it looks, sets, goes out and back. */
    void stopsInATriggerOfACall() throws Exception {
        List<String> after = new ArrayList<>();
        CompletableFuture<String> program =
                program(
                        connection -> {
                            move(connection, "C7", 80);
                            after.add(level(connection, "T1"));
                            move(connection, "B1", 80);
                        });
        String out =
                attached(
                        "pause at vessel_journal:7",
                        "continue",
                        "stack",
                        "show now.level_l",
                        "back",
                        "into",
                        "stack",
                        "out",
                        "rows vessel WHERE code = 'T1'",
                        "back",
                        "stack",
                        "remove all",
                        "continue");
        assertTrue(out.contains("vessel_journal stopped at line 7"), out);
        assertTrue(out.contains("  1  move_wine  routines/move_wine.sql:24\n"), out);
        assertTrue(out.contains("move_wine stopped at line 26"), out);
        assertTrue(out.contains("level_l 420.0"), out);
        assertEquals(3, out.split("gone back", -1).length, out);
        assertTrue(out.endsWith("the program has ended\n"), out);
        assertEquals("45000", program.get(30, TimeUnit.SECONDS));
        assertEquals(List.of("420.0"), after);
    }

    /** In a trigger that a statement of the program's own has set off, each time it does. */
    void stopsInATriggerOfTheProgramsOwnStatement() throws Exception {
        CompletableFuture<String> program =
                program(
                        connection -> {
                            connection.setAutoCommit(false);
                            try (PreparedStatement update =
                                    connection.prepareStatement(
                                            "UPDATE vessel SET level_l = ? WHERE code = ?")) {
                                for (int litres : new int[] {100, 200}) {
                                    update.setInt(1, litres);
                                    update.setString(2, "T1");
                                    assertEquals(1, update.executeUpdate());
                                    assertEquals(null, update.getWarnings());
                                    connection.rollback();
                                }
                            }
                            assertEquals("500.0", level(connection, "T1"));
                        });
        String out =
                attached(
                        "pause at vessel_journal:7",
                        "continue",
                        "show now.level_l",
                        "stack",
                        "continue",
                        "show now.level_l",
                        "remove all",
                        "continue");
        assertTrue(out.contains("  100.0  DECIMAL(8, 1)\n"), out);
        assertTrue(out.contains("  200.0  DECIMAL(8, 1)\n"), out);
        assertTrue(out.contains("▸ 0  vessel_journal  routines/vessel_journal.sql:7\n"), out);
        assertEquals("completed", program.get(30, TimeUnit.SECONDS));
    }

    /** In the trigger of each turn of a batch; one that fails gives the counts before it. */
    void stopsInEachTurnOfABatch() throws Exception {
        CompletableFuture<String> program =
                program(
                        connection -> {
                            String text = "UPDATE vessel SET level_l = ? WHERE code = 'T1'";
                            try (PreparedStatement update = connection.prepareStatement(text)) {
                                for (int litres : new int[] {10, 20, -1, 30}) {
                                    update.setInt(1, litres);
                                    update.addBatch();
                                }
                                BatchUpdateException failed =
                                        assertThrows(
                                                BatchUpdateException.class, update::executeBatch);
                                assertArrayEquals(new int[] {1, 1}, failed.getUpdateCounts());
                                update.setInt(1, 40);
                                update.addBatch();
                                assertArrayEquals(new int[] {1}, update.executeBatch());
                            }
                        });
        String out =
                attached(
                        "pause at vessel_journal:7",
                        "continue",
                        "show now.level_l",
                        "continue",
                        "show now.level_l",
                        "continue",
                        "show now.level_l",
                        "continue");
        assertTrue(out.contains("  10.0  DECIMAL(8, 1)\n"), out);
        assertTrue(out.contains("  20.0  DECIMAL(8, 1)\n"), out);
        assertTrue(out.contains("  40.0  DECIMAL(8, 1)\n"), out);
        assertEquals("completed", program.get(30, TimeUnit.SECONDS));
    }

    /** In a function that a query of the program's own calls; and what is set there counts. */
    void stopsInAFunctionOfAQuery() throws Exception {
        List<String> got = new ArrayList<>();
        CompletableFuture<String> program =
                program(
                        connection -> {
                            try (Statement statement = connection.createStatement();
                                    ResultSet row =
                                            statement.executeQuery(
                                                    "SELECT grade_for(20.0), grade_for(20.0)")) {
                                row.next();
                                got.add(row.getString(1) + row.getString(2));
                            }
                        });
        String out =
                attached(
                        "pause at grade_for:6",
                        "continue",
                        "vars",
                        "set sugar = 23",
                        "remove all",
                        "continue");
        assertTrue(out.contains("grade_for stopped at line 6"), out);
        assertTrue(out.contains("  sugar  20.0"), out);
        assertEquals("completed", program.get(30, TimeUnit.SECONDS));
        assertEquals(List.of("AB"), got);
    }

    /** A second connection goes on while the first stands, and is stopped after it. */
    void severalConnectionsAreStoppedOneAfterTheOther() throws Exception {
        CompletableFuture<String> program =
                program(
                        connection -> {
                            try (Connection another = DriverManager.getConnection(url)) {
                                another.setAutoCommit(false);
                                move(connection, "C7", 80);
                                move(another, "C7", 40);
                                // The routine has committed by itself.
                                another.rollback();
                                move(another, "C7", 20);
                            }
                            assertEquals("360.0", level(connection, "T1"));
                        });
        String out =
                attached(
                        "pause at vessel_journal:7",
                        "continue",
                        "show now.level_l",
                        "continue",
                        "continue",
                        "show now.level_l",
                        "remove all",
                        "continue");
        assertTrue(out.contains("  420.0  DECIMAL(8, 1)\n"), out);
        assertTrue(out.contains("  380.0  DECIMAL(8, 1)\n"), out);
        assertTrue(out.endsWith("the program has ended\n"), out);
        assertEquals("completed", program.get(30, TimeUnit.SECONDS));
    }

    /** Who goes away lets the program go on; it is as fast afterwards as nobody's. */
    void letsGo() throws Exception {
        CompletableFuture<String> program =
                program(
                        connection -> {
                            move(connection, "C7", 80);
                            move(connection, "C7", 60);
                            assertEquals("360.0", level(connection, "T1"));
                        });
        String out = attached("pause at vessel_journal:7", "continue", "quit");
        assertTrue(out.endsWith("detached: the program goes on\n"), out);
        assertEquals("completed", program.get(30, TimeUnit.SECONDS));
    }

    void all() throws Exception {
        stopsInATriggerOfACall();
        stopsInATriggerOfTheProgramsOwnStatement();
        stopsInEachTurnOfABatch();
        stopsInAFunctionOfAQuery();
        severalConnectionsAreStoppedOneAfterTheOther();
        letsGo();
    }
}
