package dev.cantina.cli;

import dev.cantina.database.ServerConnection;
import dev.cantina.importing.Hiding;
import dev.cantina.importing.ProjectImport;
import dev.cantina.project.Project;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/** What an import is told on the command line, and how a new project keeps it. */
final class ImportSettings {
    /** What has to be there before any table: schemas, extensions. */
    private static final String FIRST = "tables/_database.sql";

    private ImportSettings() {}

    static Project.Imported of(Invocation call) throws UsageException {
        int rows = 0;
        if (call.has("rows")) {
            String said = call.value("rows").get();
            if (!said.matches("\\d{1,9}")) {
                throw new UsageException("--rows is a whole number, 0 for none, not " + said);
            }
            rows = Integer.parseInt(said);
        }
        Map<String, String> queries = new LinkedHashMap<>();
        for (String said : call.values("rows-of")) {
            int colon = said.indexOf(':');
            if (colon <= 0 || said.substring(colon + 1).isBlank()) {
                throw new UsageException(
                        "--rows-of takes TABLE: QUERY, as in --rows-of 'lot: SELECT * FROM lot WHERE"
                                + " id = 7'");
            }
            String table = said.substring(0, colon).strip();
            if (queries.put(table, said.substring(colon + 1).strip()) != null) {
                throw new UsageException("--rows-of says " + table + " twice; join its queries");
            }
        }
        Map<String, String> hide = new LinkedHashMap<>();
        for (String said : call.values("hide")) {
            int sign = said.indexOf('=');
            String column = (sign < 0 ? said : said.substring(0, sign)).strip();
            if (column.isEmpty()) {
                throw new UsageException(
                        "--hide takes COLUMN=HOW, as in --hide customer.email=made-up");
            }
            hide.put(column, sign < 0 ? Hiding.MADE_UP : said.substring(sign + 1));
        }
        String fixture = call.value("fixture").orElse("imported");
        if (!fixture.matches("[\\p{L}\\p{N}_-]+")) {
            throw new UsageException("--fixture is the name of a folder: letters, digits, - and _");
        }
        return new Project.Imported(
                ImportCommand.LIVE, call.values("schema"), rows, queries, hide, fixture);
    }

    /** The cantina.yaml of a new project. */
    static String yaml(
            Path root,
            String dialect,
            ServerConnection.Address address,
            Project.Imported wanted,
            ProjectImport.Result result) {
        StringBuilder yaml = new StringBuilder();
        yaml.append("project: ").append(quoted(String.valueOf(root.getFileName()))).append('\n');
        yaml.append("dialect: ").append(dialect).append('\n');
        yaml.append("database: private\n");
        if (result.files().stream().anyMatch(f -> f.path().equals(FIRST))) {
            yaml.append("tables: ").append(list(List.of(FIRST, "tables/**/*.sql"))).append('\n');
        }
        boolean filled = result.files().stream().anyMatch(f -> f.path().startsWith("fixtures/"));
        if (filled) {
            yaml.append("fixture: ").append(quoted(wanted.fixture())).append('\n');
        }
        if (!result.searchPath().isEmpty()) {
            yaml.append("search_path: ").append(list(result.searchPath())).append('\n');
        }
        yaml.append("\ndatabases:\n  ").append(address.name()).append(":\n");
        yaml.append("    url: ").append(quoted(address.url())).append('\n');
        if (!address.user().isEmpty()) {
            yaml.append("    user: ").append(quoted(address.user())).append('\n');
        }
        if (!address.password().isEmpty()) {
            yaml.append("    password: ").append(quoted(address.password())).append('\n');
        }
        yaml.append("\nimport:\n  from: ").append(address.name()).append('\n');
        if (!wanted.schemas().isEmpty()) {
            yaml.append("  schemas: ").append(list(wanted.schemas())).append('\n');
        }
        yaml.append("  rows: ").append(wanted.rows()).append('\n');
        mapping(yaml, "queries", wanted.queries());
        mapping(yaml, "hide", wanted.hide());
        yaml.append("  fixture: ").append(quoted(wanted.fixture())).append('\n');
        return yaml.toString();
    }

    private static void mapping(StringBuilder yaml, String key, Map<String, String> values) {
        if (!values.isEmpty()) {
            yaml.append("  ").append(key).append(":\n");
            values.forEach(
                    (name, value) ->
                            yaml.append("    ")
                                    .append(quoted(name))
                                    .append(": ")
                                    .append(quoted(value))
                                    .append('\n'));
        }
    }

    private static String list(List<String> texts) {
        return texts.stream()
                .map(ImportSettings::quoted)
                .collect(Collectors.joining(", ", "[", "]"));
    }

    /** A text that YAML takes for just that: JSON's quotes are YAML's too (YAML 1.2.2, 1.2). */
    private static String quoted(String text) {
        return text.matches("[A-Za-z][A-Za-z0-9_-]*")
                        && !text.matches("(?i)true|false|yes|no|on|off|null|y|n")
                ? text
                : Json.text(text);
    }
}
