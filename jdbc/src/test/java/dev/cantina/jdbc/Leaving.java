package dev.cantina.jdbc;

import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;

/** A program that ends in the middle of a transaction, and closes nothing. */
final class Leaving {
    private Leaving() {}

    /** The first argument is a URL. */
    public static void main(String[] arguments) throws SQLException {
        Connection connection = DriverManager.getConnection(arguments[0]);
        connection.setAutoCommit(false);
        Winery.change(connection, "UPDATE vessel SET level_l = 1 WHERE code = 'T2'");
        System.exit(7);
    }
}
