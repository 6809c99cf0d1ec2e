package dev.cantina.importing;

import dev.cantina.project.Project;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.QuoteMode;

/** Reads a live server, and makes the files of a project of it. */
public final class ProjectImport {
    private static final CSVFormat FORMAT =
            CSVFormat.RFC4180.builder().setQuoteMode(QuoteMode.MINIMAL).get();

    /** What can't be imported as it was said. */
    public static final class ImportException extends Exception {
        private static final long serialVersionUID = 1L;

        ImportException(String message) {
            super(message);
        }
    }

    /**
     * What an import comes to.
     *
     * @param files all that the project is to have of it
     * @param rows how many of each table, of those that have some
     * @param hidden columns that are hidden since they share values with one that is
     * @param searchPath see {@link Live}
     * @param leftOut what could not be taken, a sentence each
     */
    public record Result(
            List<ImportedFile> files,
            Map<String, Integer> rows,
            List<String> hidden,
            List<String> searchPath,
            List<String> leftOut) {}

    private final LiveServer server;
    private final Project.Imported wanted;
    private final byte[] key;

    /**
     * @param key that made-up values follow from; the same one gives the same values
     */
    public ProjectImport(LiveServer server, Project.Imported wanted, byte[] key) {
        this.server = server;
        this.wanted = wanted;
        this.key = key.clone();
    }

    /**
     * Reads all that is wanted.
     *
     * @throws ImportException where a schema, table or column that was said is not there, or a
     *     query is refused
     */
    public Result run() throws SQLException, ImportException {
        Live live;
        Hiding hiding;
        try {
            live = server.read(wanted.schemas());
            hiding = new Hiding(live.tables(), wanted.hide(), key);
        } catch (LiveServer.UnknownSchemaException | Hiding.HidingException e) {
            throw new ImportException(e.getMessage());
        }
        List<ImportedFile> files = new ArrayList<>(live.files());
        List<String> leftOut = new ArrayList<>(live.leftOut());
        Map<String, Integer> counts = new LinkedHashMap<>();
        if (wanted.rows() > 0 || !wanted.queries().isEmpty()) {
            live.tables().stream()
                    .filter(t -> !t.readable())
                    .forEach(
                            t -> leftOut.add("the rows of " + t.name() + ": they may not be read"));
            WholeRows rows = rows(live);
            leftOut.addAll(rows.complete());
            for (Map.Entry<LiveTable, List<String[]>> entry : rows.rows().entrySet()) {
                LiveTable table = entry.getKey();
                if (!isFileName(table.name())) {
                    leftOut.add("the rows of " + table.name() + ": no file can have its name");
                    continue;
                }
                counts.put(table.name(), entry.getValue().size());
                files.add(
                        new ImportedFile(
                                folder() + table.name() + ".csv",
                                text(table, entry.getValue(), hiding)));
            }
            live.fixture().forEach(f -> files.add(new ImportedFile(folder() + f.path(), f.text())));
        }
        return new Result(files, counts, hiding.followed(), live.searchPath(), leftOut);
    }

    private String folder() {
        return "fixtures/" + wanted.fixture() + "/";
    }

    private static boolean isFileName(String name) {
        return !name.isBlank()
                && !name.startsWith(".")
                && name.chars().noneMatch(c -> c == '/' || c == '\\' || c < ' ' || c == ':');
    }

    private WholeRows rows(Live live) throws SQLException, ImportException {
        WholeRows rows = new WholeRows(server, live.tables());
        for (LiveTable table : live.tables()) {
            if (wanted.rows() > 0 && table.readable()) {
                rows.add(table, server.first(table, wanted.rows()));
            }
        }
        for (Map.Entry<String, String> entry : wanted.queries().entrySet()) {
            LiveTable table =
                    live.tables().stream()
                            .filter(t -> t.name().equalsIgnoreCase(entry.getKey()))
                            .findFirst()
                            .orElseThrow(
                                    () ->
                                            new ImportException(
                                                    "there is no table "
                                                            + entry.getKey()
                                                            + " to take rows of"));
            try {
                rows.add(table, server.of(table, entry.getValue().strip().replaceFirst(";$", "")));
            } catch (SQLException e) {
                throw new ImportException(
                        "the query for the rows of "
                                + table.name()
                                + " is refused: "
                                + e.getMessage()
                                + "; it gives all columns of the table, as SELECT * FROM "
                                + table.name()
                                + " WHERE … does");
            }
        }
        return rows;
    }

    /** The rows as a fixture has them: an empty field is NULL, a quoted one an empty text. */
    private static String text(LiveTable table, List<String[]> rows, Hiding hiding) {
        List<Integer> columns = new ArrayList<>();
        for (int i = 0; i < table.columns().size(); i++) {
            if (!table.columns().get(i).generated()) {
                columns.add(i);
            }
        }
        StringBuilder text = new StringBuilder();
        line(text, columns.stream().map(i -> table.columns().get(i).name()).toList());
        for (String[] row : rows) {
            String[] shown = hiding.row(table, row);
            // Where there is one column alone, a line that is empty would be none.
            if (columns.size() > 1 || shown[columns.get(0)] != null) {
                line(text, columns.stream().map(i -> shown[i]).collect(Collectors.toList()));
            }
        }
        return text.toString();
    }

    private static void line(StringBuilder text, List<String> values) {
        text.append(
                        values.stream()
                                .map(v -> v == null ? "" : v.isEmpty() ? "\"\"" : FORMAT.format(v))
                                .collect(Collectors.joining(",")))
                .append('\n');
    }
}
