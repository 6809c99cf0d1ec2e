package dev.cantina.catalog;

import dev.cantina.syntax.Nearest;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.TypeSyntax;
import dev.cantina.types.SqlType;
import dev.cantina.types.SqlType.Shape;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;

/** Types as written, made types that are known (ISO 9075-2, 6.1). */
public final class TypeResolver {
    private static final int DEFAULT_PRECISION = 18;

    private final Map<String, Table> tables;
    private final Consumer<Problem> problems;

    public TypeResolver(Map<String, Table> tables, Consumer<Problem> problems) {
        this.tables = tables;
        this.problems = problems;
    }

    /** The type; {@link SqlType#NULL} where it could not be found, and a problem says so. */
    public SqlType resolve(TypeSyntax syntax) {
        if (syntax instanceof TypeSyntax.Array array) {
            return new SqlType.Array(resolve(array.element()), array.maximum().orElse(0));
        }
        if (syntax instanceof TypeSyntax.Row row) {
            return new SqlType.Row(fields(row.fields()));
        }
        if (syntax instanceof TypeSyntax.Table table) {
            return new SqlType.Table(fields(table.columns()));
        }
        if (syntax instanceof TypeSyntax.Like like) {
            return like(like);
        }
        return predefined((TypeSyntax.Predefined) syntax);
    }

    private List<SqlType.Field> fields(List<TypeSyntax.Field> written) {
        List<SqlType.Field> fields = new ArrayList<>();
        for (TypeSyntax.Field field : written) {
            fields.add(new SqlType.Field(field.name().text(), resolve(field.type())));
        }
        return fields;
    }

    private SqlType like(TypeSyntax.Like like) {
        Table table = tables.get(like.table().key());
        if (table == null) {
            problems.accept(
                    unknown(
                            like.table().span(),
                            "unknown-name",
                            "there is no table " + like.table(),
                            like.table().text(),
                            tables.values().stream().map(Table::name).toList()));
            return SqlType.NULL;
        }
        if (like.column().isEmpty()) {
            return table.rowType();
        }
        Optional<Column> column = table.column(like.column().get().key());
        if (column.isEmpty()) {
            problems.accept(
                    unknown(
                            like.column().get().span(),
                            "unknown-name",
                            "column " + like.column().get() + " not found in " + table.name(),
                            like.column().get().text(),
                            table.columns().stream().map(Column::name).toList()));
            return SqlType.NULL;
        }
        return column.get().type();
    }

    private static Problem unknown(
            Span span, String rule, String message, String written, List<String> names) {
        return Problem.unknown(
                span,
                rule,
                message,
                Nearest.to(written, names),
                "there are " + String.join(", ", names));
    }

    private SqlType predefined(TypeSyntax.Predefined type) {
        List<Integer> given = type.arguments();
        int first = given.isEmpty() ? -1 : given.get(0);
        if (type.name().startsWith("INTERVAL ")) {
            return new SqlType.Interval(type.name().substring(9));
        }
        SqlType resolved =
                switch (type.name()) {
                    case "SMALLINT" -> SqlType.SMALLINT;
                    case "INTEGER" -> SqlType.INTEGER;
                    case "BIGINT" -> SqlType.BIGINT;
                    case "NUMERIC", "DECIMAL" -> exact(type, given);
                    case "REAL" -> new SqlType.Approximate(true);
                    case "FLOAT", "DOUBLE PRECISION" -> SqlType.DOUBLE;
                    case "DECFLOAT" -> new SqlType.DecFloat(first < 0 ? 34 : Math.max(1, first));
                    case "BOOLEAN" -> SqlType.BOOLEAN;
                    case "CHAR" -> new SqlType.Text(Shape.FIXED, first < 0 ? 1 : first);
                    case "VARCHAR" -> new SqlType.Text(Shape.VARYING, Math.max(0, first));
                    case "CLOB" -> new SqlType.Text(Shape.LARGE, Math.max(0, first));
                    case "BINARY" -> new SqlType.Bytes(Shape.FIXED, first < 0 ? 1 : first);
                    case "VARBINARY" -> new SqlType.Bytes(Shape.VARYING, Math.max(0, first));
                    case "BLOB" -> new SqlType.Bytes(Shape.LARGE, Math.max(0, first));
                    case "DATE" -> SqlType.DATE;
                    case "TIME" -> new SqlType.Time(digits(first, 0), false);
                    case "TIME WITH TIME ZONE" -> new SqlType.Time(digits(first, 0), true);
                    case "TIMESTAMP" -> new SqlType.Timestamp(digits(first, 6), false);
                    case "TIMESTAMP WITH TIME ZONE" ->
                            new SqlType.Timestamp(digits(first, 6), true);
                    case "UUID" -> new SqlType.Uuid();
                    case "JSON" -> new SqlType.Json();
                    default -> null;
                };
        if (resolved == null) {
            problems.accept(
                    Problem.error(
                            type.span(),
                            "unknown-type",
                            "the type " + type.span().text() + " is not known here"));
            return SqlType.NULL;
        }
        return resolved;
    }

    private static int digits(int given, int otherwise) {
        return given < 0 ? otherwise : Math.min(given, 9);
    }

    private SqlType exact(TypeSyntax.Predefined type, List<Integer> given) {
        if (given.isEmpty()) {
            return SqlType.DECIMAL;
        }
        int precision = given.get(0);
        int scale = given.size() > 1 ? given.get(1) : 0;
        if (precision < 1 || scale > precision) {
            problems.accept(
                    Problem.error(
                            type.span(),
                            "wrong-type",
                            type.span().text() + " has a scale larger than its precision",
                            "write the number of all digits first: DECIMAL("
                                    + Math.max(DEFAULT_PRECISION, scale)
                                    + ", "
                                    + scale
                                    + ")"));
            return SqlType.DECIMAL;
        }
        return new SqlType.Exact(precision, scale);
    }
}
