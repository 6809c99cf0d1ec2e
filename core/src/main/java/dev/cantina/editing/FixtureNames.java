package dev.cantina.editing;

import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** The names of a table and its columns in the CSV files of fixtures. */
final class FixtureNames {
    private final Project project;

    FixtureNames(Project project) {
        this.project = project;
    }

    /** The files with rows of a table. */
    List<Path> files(String table) throws ProjectException {
        List<Path> all = new ArrayList<>();
        for (Path folder : SqlElsewhere.fixtures(project)) {
            for (Path file : ProjectReader.files(folder, ".csv")) {
                if (CaseNames.same(file.getFileName().toString(), table + ".csv")) {
                    all.add(file);
                }
            }
        }
        return all;
    }

    /** The files with rows of a table, each with its name if the table has another. */
    Map<String, String> moves(String table, String name) throws ProjectException {
        Map<String, String> moves = new LinkedHashMap<>();
        for (Path file : files(table)) {
            moves.put(project.shown(file), project.shown(file.resolveSibling(name + ".csv")));
        }
        return moves;
    }

    /** Where a column stands in the first lines of files with rows of its table. */
    List<Span> headers(String table, String column) throws ProjectException {
        List<Span> all = new ArrayList<>();
        for (Path file : files(table)) {
            Source source = ProjectReader.source(file, project.shown(file));
            String text = source.text();
            int end = text.indexOf('\n') < 0 ? text.length() : text.indexOf('\n');
            int from = 0;
            while (from < end) {
                int comma = text.indexOf(',', from);
                int to = comma < 0 || comma > end ? end : comma;
                field(source, from, to, column, all);
                from = to + 1;
            }
        }
        return all;
    }

    private static void field(Source source, int from, int to, String column, List<Span> all) {
        String text = source.text();
        int start = from;
        int end = to;
        while (start < end && (text.charAt(start) <= ' ' || text.charAt(start) == '\uFEFF')) {
            start++;
        }
        while (end > start && text.charAt(end - 1) <= ' ') {
            end--;
        }
        if (end - start > 1 && text.charAt(start) == '"' && text.charAt(end - 1) == '"') {
            start++;
            end--;
        }
        if (CaseNames.same(text.substring(start, end), column)) {
            all.add(source.span(start, end));
        }
    }
}
