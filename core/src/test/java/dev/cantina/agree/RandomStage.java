package dev.cantina.agree;

import dev.cantina.Lab;
import dev.cantina.agree.mariadb.MariaCalls;
import dev.cantina.agree.postgresql.PostgresCalls;
import dev.cantina.database.MariaServer;
import dev.cantina.database.PostgresServer;
import dev.cantina.database.ServerConnection;
import dev.cantina.database.ServerPart;
import dev.cantina.database.mariadb.MariaSession;
import dev.cantina.database.mariadb.MariaStatementRewriter;
import dev.cantina.translate.Translation;
import dev.cantina.translate.mariadb.MariaTranslation;
import dev.cantina.translate.postgresql.PostgresTranslation;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** A server on which random programs are run, with their tables. */
abstract class RandomStage implements AutoCloseable {
    /** What a program is there. */
    record Shipped(Translation translation, NativeCalls calls) {
        List<ServerPart> parts() {
            List<ServerPart> parts = new ArrayList<>();
            translation.support().forEach(o -> parts.addAll(o.parts()));
            translation.objects().forEach(o -> parts.addAll(o.parts()));
            return parts;
        }
    }

    private final Connection connection;
    private final String tables;

    RandomStage(Connection connection, String tables) {
        this.connection = connection;
        this.tables = tables;
    }

    static RandomStage postgres(String tables) throws SQLException {
        return new Postgres(DriverManager.getConnection(PostgresServer.url()), tables);
    }

    static RandomStage maria(String tables) throws SQLException {
        return new Maria(MariaServer.connect(), tables);
    }

    String tables() {
        return tables;
    }

    Connection connection() {
        return connection;
    }

    void execute(String sql) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.setEscapeProcessing(false);
            statement.execute(sql);
        }
    }

    abstract ServerConnection.Address address();

    abstract Shipped shipped(Lab lab) throws SQLException;

    /** Makes the rows what they are at the start, whatever triggers there are. */
    abstract void reset(List<ServerPart> parts) throws SQLException;

    @Override
    public void close() throws SQLException {
        connection.close();
    }

    private static final class Postgres extends RandomStage {
        Postgres(Connection connection, String tables) throws SQLException {
            super(connection, tables);
            execute("DROP SCHEMA IF EXISTS play_random CASCADE");
            execute("CREATE SCHEMA play_random");
            execute("SET search_path TO play_random");
            execute("SET statement_timeout = '10s'");
            execute(tables);
        }

        @Override
        ServerConnection.Address address() {
            return new ServerConnection.Address("postgresql", PostgresServer.url(), "", "");
        }

        @Override
        Shipped shipped(Lab lab) {
            return new Shipped(
                    new PostgresTranslation(
                                    lab.program().catalog(),
                                    lab.program().binder(),
                                    Optional.empty())
                            .translate(),
                    new PostgresCalls(connection(), lab.program().catalog(), Optional.empty()));
        }

        @Override
        void reset(List<ServerPart> parts) throws SQLException {
            execute("ALTER TABLE item DISABLE TRIGGER USER");
            execute("TRUNCATE item, log RESTART IDENTITY");
            execute(RandomProgram.ROWS);
            execute("ALTER TABLE item ENABLE TRIGGER USER");
        }
    }

    private static final class Maria extends RandomStage {
        Maria(Connection connection, String tables) throws SQLException {
            super(connection, tables);
            execute("DROP DATABASE IF EXISTS play_random");
            execute("CREATE DATABASE play_random COLLATE " + MariaSession.COLLATION);
            execute("USE play_random");
            execute("SET max_statement_time = 10");
            for (String table : tables.split(";\n")) {
                execute(MariaStatementRewriter.of(table));
            }
        }

        @Override
        ServerConnection.Address address() {
            return new ServerConnection.Address("mariadb", MariaServer.url(), "", "");
        }

        @Override
        Shipped shipped(Lab lab) throws SQLException {
            MariaTranslation maria = MariaConformanceTest.translation(lab);
            return new Shipped(
                    maria.translate(),
                    new MariaCalls(connection(), lab.program().catalog(), maria));
        }

        @Override
        void reset(List<ServerPart> parts) throws SQLException {
            List<ServerPart> triggers =
                    parts.stream().filter(p -> p.identity().startsWith("trigger ")).toList();
            for (ServerPart trigger : triggers) {
                execute(trigger.drop());
            }
            execute("TRUNCATE item");
            execute("TRUNCATE log");
            for (String row : RandomProgram.ROWS.split(";\n")) {
                execute(row);
            }
            for (ServerPart trigger : triggers) {
                execute(trigger.create());
            }
        }
    }
}
