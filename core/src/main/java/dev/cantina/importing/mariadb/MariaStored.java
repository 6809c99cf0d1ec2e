package dev.cantina.importing.mariadb;

import dev.cantina.importing.FileNames;
import dev.cantina.importing.ImportedFile;
import dev.cantina.importing.LiveRows;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;

/** The routines, packages and triggers of a MariaDB database, a file each. */
final class MariaStored {
    /** The modes that a server has by itself: a routine that was made under them needs no word. */
    private static final TreeSet<String> USUAL =
            new TreeSet<>(
                    List.of(
                            "STRICT_TRANS_TABLES",
                            "ERROR_FOR_DIVISION_BY_ZERO",
                            "NO_AUTO_CREATE_USER",
                            "NO_ENGINE_SUBSTITUTION"));

    private final Connection connection;
    private final FileNames names;
    private final List<String> leftOut;
    private final List<ImportedFile> files = new ArrayList<>();

    MariaStored(Connection connection, FileNames names, List<String> leftOut) throws SQLException {
        this.connection = connection;
        this.names = names;
        this.leftOut = leftOut;
        routines();
        triggers();
        events();
    }

    List<ImportedFile> files() {
        return files;
    }

    private void routines() throws SQLException {
        for (String[] row :
                LiveRows.of(
                        connection,
                        "SELECT ROUTINE_TYPE, ROUTINE_NAME FROM information_schema.ROUTINES"
                                + " WHERE ROUTINE_SCHEMA = DATABASE()"
                                + " ORDER BY ROUTINE_NAME, ROUTINE_TYPE")) {
            String[] made =
                    LiveRows.of(
                                    connection,
                                    "SHOW CREATE " + row[0] + " " + MariaLive.quoted(row[1]))
                            .get(0);
            if (made[2] == null) {
                leftOut.add(
                        "the text of the "
                                + row[0].toLowerCase(java.util.Locale.ROOT)
                                + " "
                                + row[1]
                                + ": it may not be read");
                continue;
            }
            String name = row[0].equals("PACKAGE BODY") ? row[1] + ".body" : row[1];
            files.add(new ImportedFile(names.path("routines", name), text(made[2], made[1])));
        }
    }

    private void triggers() throws SQLException {
        List<String[]> all =
                LiveRows.of(
                        connection,
                        "SELECT TRIGGER_NAME, EVENT_OBJECT_TABLE, ACTION_ORDER,"
                                + " CONCAT(EVENT_OBJECT_TABLE, ' ', ACTION_TIMING, ' ',"
                                + " EVENT_MANIPULATION)"
                                + " FROM information_schema.TRIGGERS WHERE TRIGGER_SCHEMA = DATABASE()"
                                + " ORDER BY EVENT_OBJECT_TABLE, ACTION_TIMING, EVENT_MANIPULATION,"
                                + " CAST(ACTION_ORDER AS INTEGER)");
        Map<String, Integer> counts = new HashMap<>();
        all.forEach(row -> counts.merge(row[3], 1, Integer::sum));
        for (String[] row : all) {
            String[] made =
                    LiveRows.of(connection, "SHOW CREATE TRIGGER " + MariaLive.quoted(row[0]))
                            .get(0);
            if (made[2] == null) {
                leftOut.add("the text of the trigger " + row[0] + ": it may not be read");
                continue;
            }
            // Several on one event run in the order in which they are made: that of the names.
            String order = counts.get(row[3]) > 1 ? row[2] + "." : "";
            files.add(
                    new ImportedFile(
                            names.path("routines", "triggers", row[1] + "." + order + row[0]),
                            text(made[2], made[1])));
        }
    }

    private void events() throws SQLException {
        for (String[] row :
                LiveRows.of(
                        connection,
                        "SELECT EVENT_NAME FROM information_schema.EVENTS"
                                + " WHERE EVENT_SCHEMA = DATABASE() ORDER BY 1")) {
            leftOut.add("the event " + row[0] + ": nothing runs by the clock here");
        }
    }

    /** A text between delimiters that it does not hold, under the modes that it was made in. */
    private static String text(String stored, String modes) {
        String delimiter = "//";
        for (int i = 0; stored.contains(delimiter); i++) {
            delimiter = List.of("$$", ";;", "@@", "//end", "//end//").get(i);
        }
        TreeSet<String> said = new TreeSet<>(List.of(modes.split(",")));
        said.remove("");
        boolean usual = said.equals(USUAL);
        return (usual
                        ? ""
                        : "SET @modes_before = @@sql_mode, sql_mode = '"
                                + String.join(",", said)
                                + "';\n")
                + "DELIMITER "
                + delimiter
                + "\n"
                + stored.stripTrailing()
                + "\n"
                + delimiter
                + "\nDELIMITER ;\n"
                + (usual ? "" : "SET sql_mode = @modes_before;\n");
    }
}
