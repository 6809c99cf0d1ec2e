package dev.cantina.testing;

import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.project.YamlNode;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.io.IOException;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;
import org.apache.commons.csv.QuoteMode;

/** The rows that a case is run for: a list in the case file, or a CSV of the project. */
final class EachRows {
    private static final CSVFormat FORMAT =
            CSVFormat.RFC4180
                    .builder()
                    .setQuoteMode(QuoteMode.ALL_NON_NULL)
                    .setIgnoreEmptyLines(true)
                    .get();

    private EachRows() {}

    /** A row, or what is wrong with it. */
    sealed interface Row {
        record Values(Map<String, YamlNode> fields) implements Row {}

        record Wrong(Problem problem) implements Row {}
    }

    static List<Row> read(YamlNode each, Project project) throws ProjectException {
        if (each instanceof YamlNode.Scalar path) {
            return csv(path, project);
        }
        List<Row> rows = new ArrayList<>();
        for (YamlNode item : each.sequence("each").items()) {
            rows.add(new Row.Values(item.mapping("a row of each").fields()));
        }
        if (rows.isEmpty()) {
            throw each.wrong(
                    "each has no rows, so no case would be run; add one, or leave each out");
        }
        return rows;
    }

    private static List<Row> csv(YamlNode.Scalar path, Project project) throws ProjectException {
        String shown = path.text("each");
        Source source = ProjectReader.source(ProjectReader.inside(project, shown), shown);
        List<Row> rows = new ArrayList<>();
        try (CSVParser parser = CSVParser.parse(source.text(), FORMAT)) {
            List<String> header = null;
            for (CSVRecord record : parser) {
                if (header == null) {
                    header = record.toList();
                    continue;
                }
                int start = (int) Math.min(record.getCharacterPosition(), source.text().length());
                int end = source.text().indexOf('\n', start);
                Span place = source.span(start, end < 0 ? source.text().length() : end);
                rows.add(row(header, record, place));
            }
            if (header == null) {
                throw path.wrong(shown + " is empty; its first line names the columns");
            }
            if (rows.isEmpty()) {
                throw path.wrong(
                        shown + " has a header and no rows, so no case would be run; add a row");
            }
            return rows;
        } catch (IOException | java.io.UncheckedIOException | IllegalStateException e) {
            throw path.wrong(shown + " is not CSV: " + e.getMessage());
        }
    }

    private static Row row(List<String> header, CSVRecord record, Span place) {
        if (record.size() != header.size()) {
            return new Row.Wrong(
                    Problem.error(
                            place,
                            "wrong-row",
                            "this row has "
                                    + record.size()
                                    + " fields, and the header "
                                    + header.size()));
        }
        Map<String, YamlNode> fields = new LinkedHashMap<>();
        for (int i = 0; i < header.size(); i++) {
            fields.put(header.get(i), scalar(place, record.get(i)));
        }
        return new Row.Values(fields);
    }

    private static YamlNode scalar(Span place, String text) {
        if (text == null) {
            return new YamlNode.Scalar(place, null, "");
        }
        Object value = text;
        if (text.matches("-?\\d+(\\.\\d+)?")) {
            value = new BigDecimal(text);
        } else if (text.equals("true") || text.equals("false")) {
            value = Boolean.valueOf(text);
        }
        return new YamlNode.Scalar(place, value, text);
    }
}
