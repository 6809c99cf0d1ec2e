package dev.cantina.project;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Column;
import dev.cantina.catalog.Table;
import dev.cantina.database.DatabaseException;
import dev.cantina.database.ProjectDatabase;
import dev.cantina.syntax.Nearest;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import dev.cantina.types.ConditionException;
import dev.cantina.types.Conversion;
import dev.cantina.types.SqlType;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;
import org.apache.commons.csv.QuoteMode;

/**
 * Loads fixtures: one CSV file (RFC 4180) per table with a header, then the {@code *.sql} files. An
 * empty field is NULL, a quoted empty field an empty text.
 */
public final class FixtureLoader {
    private static final CSVFormat FORMAT =
            CSVFormat.RFC4180
                    .builder()
                    .setIgnoreEmptyLines(true)
                    .setQuoteMode(QuoteMode.ALL_NON_NULL)
                    .get();

    private final Project project;
    private final ProjectDatabase database;

    /** Whether a value that only the server knows how to read is left to it. */
    private final boolean ownWords;

    private final Map<String, Table> tables = new LinkedHashMap<>();
    private Set<String> without = Set.of();

    public FixtureLoader(Project project, ProjectDatabase database, List<Table> tables) {
        this.project = project;
        this.database = database;
        this.ownWords = project.own().isPresent();
        tables.forEach(table -> this.tables.put(table.key(), table));
    }

    /** Leaves out the rows of tables that are not there, and are known not to be. */
    FixtureLoader without(Set<String> names) {
        without = Set.copyOf(names);
        return this;
    }

    /** A fixture with those that it extends before it. */
    public record Plan(List<Path> folders, boolean firesTriggers) {}

    /**
     * Finds a fixture's folder, and those of what it extends.
     *
     * @throws ProjectException where one is missing, or they go round in a circle
     */
    public static Plan plan(Project project, String name) throws ProjectException {
        List<Path> folders = new ArrayList<>();
        List<String> seen = new ArrayList<>();
        boolean fires = false;
        String next = name;
        while (!next.isEmpty()) {
            if (seen.contains(next)) {
                throw new ProjectException(
                        "the fixtures extend each other in a circle: "
                                + String.join(" → ", seen)
                                + " → "
                                + next);
            }
            seen.add(next);
            Path folder = project.root().resolve("fixtures").resolve(next);
            Path all = project.root().resolve("fixtures").normalize();
            if (!Files.isDirectory(folder) || !folder.normalize().startsWith(all)) {
                throw noFixture(project, next);
            }
            folders.add(0, folder);
            Path file = folder.resolve("fixture.yaml");
            next = "";
            if (Files.isRegularFile(file)) {
                YamlNode top =
                        YamlReader.read(ProjectReader.source(file, project.shown(file)))
                                .mapping("fixture.yaml", Set.of("extends", "triggers"));
                if (top.get("extends").isPresent()) {
                    next = top.get("extends").get().text("extends");
                }
                if (top.get("triggers").isPresent()) {
                    String triggers = top.get("triggers").get().text("triggers");
                    if (!triggers.equals("fire") && !triggers.equals("rest")) {
                        throw top.get("triggers").get().wrong("triggers is fire or rest");
                    }
                    fires |= triggers.equals("fire");
                }
            }
        }
        return new Plan(folders, fires);
    }

    private static ProjectException noFixture(Project project, String name) {
        List<String> known = new ArrayList<>();
        try (var list = Files.list(project.root().resolve("fixtures"))) {
            list.filter(Files::isDirectory).forEach(p -> known.add(p.getFileName().toString()));
        } catch (IOException e) {
            return new ProjectException(
                    "there is no fixture " + name + ": the project has no folder fixtures");
        }
        String hint =
                Nearest.to(name, known)
                        .map(n -> "did you mean " + n + "?")
                        .orElse(Nearest.listed(name, known.stream().sorted().toList()));
        return new ProjectException("there is no fixture " + name + "; " + hint);
    }

    /** Loads the folders of a plan, one after the other. */
    public void load(Plan plan) throws ProjectException {
        try {
            database.beforeFixture();
        } catch (SQLException e) {
            throw new ProjectException(
                    "the tables' foreign keys can't be read: " + database.condition(e).message());
        }
        for (Path folder : plan.folders()) {
            Map<String, Path> files = new HashMap<>();
            for (Path file : ProjectReader.files(folder, ".csv")) {
                String name = file.getFileName().toString().replaceFirst("\\.csv$", "");
                Table table = called(name);
                if (table == null && without.contains(name)) {
                    continue;
                }
                if (table == null) {
                    List<String> known = tables.values().stream().map(Table::name).toList();
                    throw new ProjectException(
                            project.shown(file)
                                    + ": there is no table "
                                    + name
                                    + Nearest.to(name, known)
                                            .map(n -> "; did you mean " + n + "?")
                                            .orElse(""));
                }
                files.put(table.key(), file);
            }
            for (Table table : inOrder()) {
                if (files.containsKey(table.key())) {
                    table(table, files.get(table.key()));
                }
            }
            for (Path script : ProjectReader.files(folder, ".sql")) {
                try {
                    database.create(ProjectReader.source(script, project.shown(script)));
                } catch (DatabaseException e) {
                    throw new ProjectException(e.problem());
                }
            }
        }
        try {
            database.afterFixture();
        } catch (SQLException e) {
            throw new ProjectException(
                    "the fixture is refused: " + database.condition(e).message());
        }
        try {
            database.numberOn(List.copyOf(tables.values()));
        } catch (SQLException e) {
            throw new ProjectException(
                    "the identity columns can't be numbered on: "
                            + database.condition(e).message());
        }
    }

    /** A table of exactly this name, or else of one that means it; null for none. */
    private Table called(String name) {
        return tables.values().stream()
                .filter(t -> ownWords && t.name().equals(name))
                .findFirst()
                .or(() -> Catalog.tableCalled(name, tables))
                .orElse(null);
    }

    /** Tables that others refer to come first. */
    private List<Table> inOrder() throws ProjectException {
        try {
            List<Table> ordered = new ArrayList<>();
            for (String key : database.inReferenceOrder(List.copyOf(tables.keySet()))) {
                ordered.add(tables.get(key));
            }
            return ordered;
        } catch (SQLException e) {
            throw new ProjectException("the tables' keys can't be read: " + e.getMessage());
        }
    }

    private void table(Table table, Path file) throws ProjectException {
        Source source = ProjectReader.source(file, project.shown(file));
        try (CSVParser parser = CSVParser.parse(source.text(), FORMAT)) {
            List<Column> columns = null;
            PreparedStatement insert = null;
            for (CSVRecord record : parser) {
                if (columns == null) {
                    columns = header(table, record, source);
                    insert = database.connection().prepareStatement(insert(table, columns));
                } else {
                    row(table, columns, record, source, insert);
                }
            }
            if (columns == null) {
                throw new ProjectException(
                        source.name() + ": the file is empty; its first line names the columns");
            }
            insert.close();
        } catch (IOException | java.io.UncheckedIOException | IllegalStateException e) {
            throw new ProjectException(source.name() + ": this is not CSV: " + e.getMessage());
        } catch (SQLException e) {
            throw new ProjectException(source.name() + ": " + database.condition(e).message());
        }
    }

    private String marker(SqlType type) {
        boolean told =
                type instanceof SqlType.Json
                        || type instanceof SqlType.Uuid
                        || type instanceof SqlType.Interval;
        return told ? database.parameter(type) : "?";
    }

    private String insert(Table table, List<Column> columns) {
        String names =
                columns.stream()
                        .map(c -> database.written(c.name(), c.key()))
                        .collect(Collectors.joining(", "));
        String marks =
                columns.stream().map(c -> marker(c.type())).collect(Collectors.joining(", "));
        return "INSERT INTO "
                + database.written(table.name(), table.key())
                + " ("
                + names
                + ")"
                + database.givesKeys()
                + " VALUES ("
                + marks
                + ")";
    }

    private static List<Column> header(Table table, CSVRecord record, Source source)
            throws ProjectException {
        List<Column> columns = new ArrayList<>();
        for (int i = 0; i < record.size(); i++) {
            String name = record.get(i) == null ? "" : record.get(i).strip();
            if (i == 0 && name.startsWith("\uFEFF")) {
                name = name.substring(1);
            }
            Optional<Column> column = column(table, name);
            if (column.isEmpty()) {
                List<String> known = table.columns().stream().map(Column::name).toList();
                throw new ProjectException(
                        Problem.error(
                                field(source, record, i),
                                "unknown-column",
                                "column " + name + " not found in " + table.name(),
                                Nearest.to(name, known)
                                        .map(n -> "did you mean " + n + "?")
                                        .orElse(Nearest.listed(name, known))));
            }
            if (columns.contains(column.get())) {
                throw new ProjectException(
                        Problem.error(
                                field(source, record, i),
                                "duplicate-column",
                                "column " + name + " stands twice"));
            }
            columns.add(column.get());
        }
        return columns;
    }

    /** A column by its name: exact where it was delimited, whatever its case where not. */
    private static Optional<Column> column(Table table, String name) {
        Optional<Column> exact = table.column(name);
        int position = table.positionCalled(name);
        return exact.isPresent() || position < 0
                ? exact
                : Optional.of(table.columns().get(position));
    }

    private void row(
            Table table,
            List<Column> columns,
            CSVRecord record,
            Source source,
            PreparedStatement insert)
            throws ProjectException {
        if (record.size() != columns.size()) {
            throw new ProjectException(
                    Problem.error(
                            field(source, record, 0),
                            "wrong-row",
                            "this row has "
                                    + record.size()
                                    + " fields, the header "
                                    + columns.size()));
        }
        for (int i = 0; i < columns.size(); i++) {
            Column column = columns.get(i);
            try {
                insert.setObject(i + 1, value(record.get(i), column.type()));
            } catch (ConditionException e) {
                throw new ProjectException(
                        Problem.error(
                                field(source, record, i),
                                "wrong-value",
                                column.name() + ": " + e.condition().message()));
            } catch (SQLException e) {
                throw new ProjectException(
                        Problem.error(
                                field(source, record, i),
                                "wrong-value",
                                column.name() + ": " + database.condition(e).message()));
            }
        }
        try {
            insert.executeUpdate();
        } catch (SQLException e) {
            throw new ProjectException(
                    Problem.error(
                            field(source, record, 0),
                            "refused-row",
                            "the row is refused by "
                                    + table.name()
                                    + ": "
                                    + database.condition(e).message()));
        }
    }

    private Object value(String text, SqlType type) throws ConditionException {
        try {
            return database.driverValue(Conversion.store(text, type), type);
        } catch (ConditionException e) {
            if (ownWords) {
                return text;
            }
            throw e;
        }
    }

    /** Where a field stands, found by counting the commas outside quotes. */
    private static Span field(Source source, CSVRecord record, int index) {
        String text = source.text();
        int at = (int) Math.min(record.getCharacterPosition(), text.length());
        boolean quoted = false;
        int fields = 0;
        while (at < text.length() && fields < index) {
            char c = text.charAt(at++);
            quoted ^= c == '"';
            fields += c == ',' && !quoted ? 1 : 0;
        }
        int end = at;
        while (end < text.length() && ",\r\n".indexOf(text.charAt(end)) < 0) {
            end++;
        }
        return source.span(at, Math.max(at, end));
    }
}
