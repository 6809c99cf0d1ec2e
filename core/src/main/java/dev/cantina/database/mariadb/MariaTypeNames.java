package dev.cantina.database.mariadb;

import dev.cantina.syntax.TypeSyntax;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/** The standard's types by the names that MariaDB has for them. */
final class MariaTypeNames {
    static final Map<String, String> TYPES =
            Map.ofEntries(
                    Map.entry("CLOB", "longtext"),
                    Map.entry("CHARACTER LARGE OBJECT", "longtext"),
                    Map.entry("BLOB", "longblob"),
                    Map.entry("BINARY LARGE OBJECT", "longblob"),
                    Map.entry("BINARY VARYING", "varbinary"),
                    Map.entry("CHARACTER VARYING", "varchar"),
                    Map.entry("DECFLOAT", "decimal(65, 30)"),
                    Map.entry("REAL", "float"),
                    Map.entry("DOUBLE PRECISION", "double"),
                    Map.entry("TIMESTAMP WITHOUT TIME ZONE", "datetime(6)"),
                    Map.entry("TIMESTAMP", "datetime(6)"));

    /** What CAST takes: it has fewer types than a column. */
    static final Map<String, String> CASTS =
            Map.ofEntries(
                    Map.entry("BIGINT", "signed"),
                    Map.entry("SMALLINT", "signed"),
                    Map.entry("TINYINT", "signed"),
                    Map.entry("BOOLEAN", "signed"),
                    Map.entry("NUMERIC", "decimal"),
                    Map.entry("REAL", "double"),
                    Map.entry("CLOB", "char"),
                    Map.entry("CHARACTER LARGE OBJECT", "char"),
                    Map.entry("TEXT", "char"),
                    Map.entry("VARBINARY", "binary"),
                    Map.entry("BLOB", "binary"));

    private MariaTypeNames() {}

    /** What a type of CAST is called there; empty where it is called the same. */
    static Optional<String> cast(TypeSyntax type) {
        if (!(type instanceof TypeSyntax.Predefined known)) {
            return Optional.empty();
        }
        String name = known.name();
        String arguments =
                known.arguments().isEmpty()
                        ? ""
                        : known.arguments().stream()
                                .map(String::valueOf)
                                .collect(Collectors.joining(", ", "(", ")"));
        if (name.equals("TIMESTAMP") || name.equals("TIMESTAMP WITHOUT TIME ZONE")) {
            return Optional.of(arguments.isEmpty() ? "datetime(6)" : "datetime" + arguments);
        }
        if (arguments.isEmpty() && (name.equals("DECIMAL") || name.equals("NUMERIC"))) {
            return Optional.of("decimal(65, 30)");
        }
        if (arguments.isEmpty() && name.equals("VARCHAR")) {
            return Optional.of("char");
        }
        if (name.equals("DECFLOAT")) {
            return Optional.of("decimal(65, 30)");
        }
        if (name.equals("DOUBLE PRECISION")) {
            return arguments.isEmpty() ? Optional.of("double") : Optional.empty();
        }
        return Optional.ofNullable(CASTS.get(name)).map(own -> own + arguments);
    }
}
