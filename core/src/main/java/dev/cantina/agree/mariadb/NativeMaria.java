package dev.cantina.agree.mariadb;

import dev.cantina.agree.NativeCalls;
import dev.cantina.agree.NativeServer;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Table;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.database.ServerPart;
import dev.cantina.database.mariadb.MariaDatabase;
import dev.cantina.project.Placement;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.testing.CaseRunner;
import dev.cantina.translate.ServerObject;
import dev.cantina.translate.Translation;
import dev.cantina.translate.mariadb.MariaTranslation;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.atomic.AtomicReference;

/** Runs cases in MariaDB's language, in a database of their own. */
public final class NativeMaria extends NativeServer {
    /** What of the translation is wanted later. */
    private record Shipped(MariaTranslation translation, Map<String, List<ServerPart>> triggers) {}

    private final MariaCalls calls;
    private final String place;
    private final Shipped shipped;
    private final Map<Table, Map<List<String>, Object[]>> fixture;
    private final Map<String, Long> numbers;

    public static NativeMaria open(
            Project project, String database, String fixture, CaseRunner cases)
            throws ProjectException, SQLException {
        return new NativeMaria(
                project,
                database,
                fixture,
                cases,
                PREFIX + Placement.mark().substring(1),
                new AtomicReference<>());
    }

    private NativeMaria(
            Project project,
            String database,
            String fixture,
            CaseRunner cases,
            String place,
            AtomicReference<Shipped> shipped)
            throws ProjectException, SQLException {
        super(
                project,
                database,
                fixture,
                cases,
                place,
                (catalog, binder, connection) -> {
                    MariaTranslation maria =
                            new MariaTranslation(
                                    catalog, binder, false, MariaDatabase.cascaded(connection));
                    Translation translation = maria.translate();
                    shipped.set(new Shipped(maria, triggers(catalog, translation)));
                    return translation;
                });
        this.place = place;
        this.shipped = shipped.get();
        calls = new MariaCalls(connection(), workspace().catalog(), this.shipped.translation());
        MariaDatabase.sweep(connection(), PREFIX);
        for (Table table : tables()) {
            execute("CREATE TABLE " + copy(table) + " AS SELECT * FROM " + name(table));
        }
        this.fixture = rows();
        numbers = numbers();
        connection().commit();
    }

    private static Map<String, List<ServerPart>> triggers(
            Catalog catalog, Translation translation) {
        Map<String, List<ServerPart>> triggers = new LinkedHashMap<>();
        for (ServerObject object : translation.objects()) {
            for (TriggerSymbol trigger : catalog.triggers()) {
                if (object.kind().equals("trigger") && trigger.name().equals(object.name())) {
                    triggers.computeIfAbsent(trigger.table().key(), t -> new ArrayList<>())
                            .addAll(object.parts());
                }
            }
        }
        return triggers;
    }

    private Map<String, Long> numbers() throws SQLException {
        Map<String, Long> numbers = new LinkedHashMap<>();
        try (Statement statement = connection().createStatement();
                ResultSet row =
                        statement.executeQuery(
                                "SELECT TABLE_NAME, AUTO_INCREMENT FROM information_schema.TABLES"
                                        + " WHERE TABLE_SCHEMA = DATABASE()"
                                        + " AND AUTO_INCREMENT IS NOT NULL")) {
            while (row.next()) {
                numbers.put(row.getString(1), row.getLong(2));
            }
        }
        return numbers;
    }

    @Override
    protected NativeCalls calls() {
        return calls;
    }

    @Override
    protected void clock(LocalDateTime now) throws SQLException {
        ((MariaDatabase) workspace().database()).clock(now);
    }

    /** Puts rows back where some are not as they were; triggers must not see that. */
    @Override
    protected void reset() throws SQLException {
        connection().setAutoCommit(false);
        connection().rollback();
        Map<Table, Map<List<String>, Object[]>> now = rows();
        execute("SET foreign_key_checks = 0");
        List<ServerPart> triggers = new ArrayList<>();
        Set<Table> all = fixture.keySet();
        for (Table table : all) {
            boolean same =
                    changed(Map.of(table, fixture.get(table)), Map.of(table, now.get(table)))
                            .isEmpty();
            if (same) {
                continue;
            }
            for (ServerPart trigger : shipped.triggers().getOrDefault(table.key(), List.of())) {
                execute(trigger.drop());
                triggers.add(trigger);
            }
            execute("DELETE FROM " + name(table));
            execute(
                    "INSERT INTO "
                            + name(table)
                            + " ("
                            + columns(table)
                            + ") SELECT "
                            + columns(table)
                            + " FROM "
                            + copy(table));
        }
        connection().commit();
        Map<String, Long> counted = numbers();
        for (Map.Entry<String, Long> number : numbers.entrySet()) {
            if (!number.getValue().equals(counted.get(number.getKey()))) {
                execute(
                        "ALTER TABLE \""
                                + number.getKey()
                                + "\" AUTO_INCREMENT = "
                                + number.getValue());
            }
        }
        for (ServerPart trigger : triggers) {
            execute(trigger.create());
        }
        execute("SET foreign_key_checks = 1");
        connection().commit();
    }

    @Override
    public void close() throws SQLException {
        try {
            connection().setAutoCommit(false);
            connection().rollback();
            execute("DROP DATABASE IF EXISTS " + place);
        } finally {
            workspace().close();
        }
    }
}
