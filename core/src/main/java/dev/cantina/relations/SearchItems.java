package dev.cantina.relations;

import dev.cantina.catalog.Column;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.Table;
import dev.cantina.editing.Described;
import dev.cantina.editing.TableSources;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.project.Workspace;
import dev.cantina.relations.ProjectMap.Thing;
import dev.cantina.relations.WordSearch.Item;
import dev.cantina.relations.WordSearch.Kind;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import dev.cantina.testing.CaseFiles;
import dev.cantina.testing.TestCase;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** All that can be found by words: in a project, or on a server. */
public final class SearchItems {
    private SearchItems() {}

    /**
     * What a project has.
     *
     * @throws ProjectException where its files can't be read
     */
    public static List<Item> of(Workspace workspace) throws ProjectException {
        Project project = workspace.project();
        List<Item> items = new ArrayList<>();
        Map<String, String> said = new HashMap<>();
        for (RoutineSymbol routine : workspace.catalog().routines()) {
            said.merge(
                    routine.name(),
                    routine.signature().substring(routine.name().length())
                            + "  "
                            + Described.of(routine).text().replace('\n', ' '),
                    (a, b) -> a);
        }
        for (Thing thing : MapReader.of(workspace).things()) {
            items.add(
                    new Item(
                            Kind.valueOf(thing.kind().name()),
                            thing.name(),
                            said.getOrDefault(thing.name(), "").strip(),
                            thing.span().map(s -> s.source().name()).orElse(""),
                            thing.span().map(Span::line).orElse(0)));
        }
        List<Source> texts = texts(project);
        TableSources.Places places = TableSources.places(texts);
        for (Table table : workspace.catalog().tables()) {
            for (Column column : table.columns()) {
                Optional<Span> at = places.of(table.key(), Optional.of(column.key()));
                items.add(
                        new Item(
                                Kind.COLUMN,
                                table.name() + "." + column.name(),
                                column.type().sql(),
                                at.map(s -> s.source().name()).orElse(""),
                                at.map(Span::line).orElse(0)));
            }
        }
        for (TestCase one : CaseFiles.read(project).cases()) {
            items.add(
                    new Item(Kind.CASE, one.name(), one.routine(), one.file(), one.place().line()));
        }
        texts.forEach(t -> comments(t, items));
        return items;
    }

    private static List<Source> texts(Project project) throws ProjectException {
        Set<Path> files = new LinkedHashSet<>();
        for (String folder : List.of("tables", "routines", "scripts")) {
            files.addAll(ProjectReader.files(project.root().resolve(folder), ".sql"));
        }
        if (project.own().isPresent()) {
            Project.OwnLanguage own = project.own().get();
            for (List<String> patterns : List.of(own.tables(), own.routines(), own.standard())) {
                files.addAll(ProjectReader.matching(project, patterns));
            }
        }
        List<Source> texts = new ArrayList<>();
        for (Path file : files) {
            texts.add(ProjectReader.source(file, project.shown(file)));
        }
        return texts;
    }

    /** The comments of a text, a line each. */
    private static void comments(Source text, List<Item> items) {
        boolean inside = false;
        for (int line = 1; line <= text.lines(); line++) {
            String written = text.line(line).strip();
            int at = commentIn(written);
            boolean begins = written.startsWith("/*");
            if (inside || begins) {
                inside = !written.contains("*/");
                comment(text, line, written.replaceAll("^/?\\*+|\\*+/$", ""), items);
            } else if (at >= 0) {
                comment(text, line, written.substring(at + 2), items);
            }
        }
    }

    /** Where a comment begins in a line, and not a text that looks like one; -1 without. */
    private static int commentIn(String line) {
        for (int at = line.indexOf("--"); at >= 0; at = line.indexOf("--", at + 2)) {
            if (line.substring(0, at).chars().filter(c -> c == '\'').count() % 2 == 0) {
                return at;
            }
        }
        return -1;
    }

    private static void comment(Source text, int line, String said, List<Item> items) {
        if (!said.isBlank()) {
            items.add(new Item(Kind.COMMENT, said.strip(), "", text.name(), line));
        }
    }

    /**
     * What a server has in the schema that a session begins in (JDBC, {@code DatabaseMetaData}).
     *
     * @throws SQLException where it does not say
     */
    public static List<Item> of(Connection connection, Collection<Table> tables)
            throws SQLException {
        List<Item> items = new ArrayList<>();
        for (Table table : tables) {
            items.add(new Item(table.view() ? Kind.VIEW : Kind.TABLE, table.name(), "", "", 0));
            for (Column column : table.columns()) {
                items.add(
                        new Item(
                                Kind.COLUMN,
                                table.name() + "." + column.name(),
                                column.type().sql(),
                                "",
                                0));
            }
        }
        DatabaseMetaData data = connection.getMetaData();
        Set<String> functions = new LinkedHashSet<>();
        try (ResultSet row =
                data.getFunctions(connection.getCatalog(), connection.getSchema(), "%")) {
            while (row.next()) {
                functions.add(row.getString("FUNCTION_NAME"));
            }
        }
        Set<String> procedures = new LinkedHashSet<>();
        try (ResultSet row =
                data.getProcedures(connection.getCatalog(), connection.getSchema(), "%")) {
            while (row.next()) {
                procedures.add(row.getString("PROCEDURE_NAME"));
            }
        }
        procedures.removeAll(functions);
        functions.forEach(f -> items.add(new Item(Kind.FUNCTION, f, "", "", 0)));
        procedures.forEach(p -> items.add(new Item(Kind.PROCEDURE, p, "", "", 0)));
        return items;
    }
}
