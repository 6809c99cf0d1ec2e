package dev.cantina.syntax;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** Data types (ISO 9075-2, 6.1). */
final class TypeParser {
    private static final Set<String> SIMPLE =
            Set.of(
                    ("SMALLINT INTEGER INT BIGINT NUMERIC DECIMAL DEC REAL FLOAT DECFLOAT "
                                    + "BOOLEAN CHAR CHARACTER VARCHAR CLOB BINARY VARBINARY BLOB DATE TIME "
                                    + "TIMESTAMP UUID JSON DOUBLE INTERVAL")
                            .split(" "));
    private static final Set<String> FIELDS =
            Set.of("YEAR", "MONTH", "DAY", "HOUR", "MINUTE", "SECOND");

    private final TokenReader reader;

    TypeParser(TokenReader reader) {
        this.reader = reader;
    }

    /** {@code type ::= (predefined | ROW(...) | LIKE table[.column]) [ARRAY[n]]}. */
    TypeSyntax type() {
        Token first = reader.peek();
        TypeSyntax type = unarrayed();
        while (reader.accept("ARRAY")) {
            Optional<Integer> maximum = Optional.empty();
            if (reader.accept("[")) {
                maximum = Optional.of(number());
                reader.expect("]", "after the array's size");
            }
            type = new TypeSyntax.Array(reader.since(first), type, maximum);
        }
        return type;
    }

    private TypeSyntax unarrayed() {
        Token first = reader.peek();
        if (reader.accept("ROW")) {
            return row(first);
        }
        if (reader.accept("LIKE")) {
            Name table = reader.name("a table");
            Optional<Name> column =
                    reader.accept(".") ? Optional.of(reader.name("a column")) : Optional.empty();
            return new TypeSyntax.Like(reader.since(first), table, column);
        }
        if (first.kind() != Token.Kind.WORD || !SIMPLE.contains(first.text())) {
            throw reader.expected("a type", "");
        }
        return predefined();
    }

    /** {@code TABLE (name type, …)}, after RETURNS. */
    TypeSyntax table() {
        Token first = reader.take();
        List<TypeSyntax.Field> columns = fields("TABLE");
        return new TypeSyntax.Table(reader.since(first), columns);
    }

    private TypeSyntax row(Token first) {
        List<TypeSyntax.Field> fields = fields("ROW");
        return new TypeSyntax.Row(reader.since(first), fields);
    }

    private List<TypeSyntax.Field> fields(String word) {
        reader.expect("(", "after " + word);
        List<TypeSyntax.Field> fields = new ArrayList<>();
        do {
            Token start = reader.peek();
            Name name = reader.name("a field");
            TypeSyntax type = type();
            fields.add(new TypeSyntax.Field(reader.since(start), name, type));
        } while (reader.accept(","));
        reader.expect(")", "after the fields of " + word);
        return fields;
    }

    private TypeSyntax predefined() {
        Token first = reader.take();
        List<Integer> arguments = new ArrayList<>();
        String name =
                switch (first.text()) {
                    case "INT" -> "INTEGER";
                    case "DEC" -> "DECIMAL";
                    case "DOUBLE" -> {
                        reader.accept("PRECISION");
                        yield "DOUBLE PRECISION";
                    }
                    case "CHAR", "CHARACTER" -> {
                        if (reader.accept("VARYING")) {
                            yield "VARCHAR";
                        }
                        yield reader.accept("LARGE", "OBJECT") ? "CLOB" : "CHAR";
                    }
                    case "BINARY" -> {
                        if (reader.accept("VARYING")) {
                            yield "VARBINARY";
                        }
                        yield reader.accept("LARGE", "OBJECT") ? "BLOB" : "BINARY";
                    }
                    case "INTERVAL" -> "INTERVAL " + intervalQualifier();
                    default -> first.text();
                };
        arguments(arguments);
        if (name.equals("TIME") || name.equals("TIMESTAMP")) {
            if (reader.accept("WITH", "TIME", "ZONE")) {
                name += " WITH TIME ZONE";
            } else {
                reader.accept("WITHOUT", "TIME", "ZONE");
            }
        }
        return new TypeSyntax.Predefined(reader.since(first), name, arguments);
    }

    private void arguments(List<Integer> arguments) {
        if (reader.accept("(")) {
            do {
                arguments.add(number());
                reader.accept("CHARACTERS");
            } while (reader.accept(","));
            reader.expect(")", "after a type's length or precision");
        }
    }

    /** {@code field [(p)] [TO field [(p)]]}, given as words with one blank between. */
    String intervalQualifier() {
        StringBuilder words = new StringBuilder(field());
        if (reader.accept("TO")) {
            words.append(" TO ").append(field());
        }
        return words.toString();
    }

    private String field() {
        Token token = reader.take();
        if (!FIELDS.contains(token.text())) {
            throw reader.failure(
                    token,
                    "an interval is counted in YEAR, MONTH, DAY, HOUR, MINUTE or SECOND",
                    "INTERVAL '1' DAY");
        }
        if (reader.sees("(") && reader.peek(1).kind() == Token.Kind.INTEGER) {
            reader.take();
            number();
            reader.accept(",");
            if (!reader.sees(")")) {
                number();
            }
            reader.expect(")", "after an interval's precision");
        }
        return token.text();
    }

    private int number() {
        Token token = reader.peek();
        if (token.kind() != Token.Kind.INTEGER) {
            throw reader.expected("a whole number", "");
        }
        reader.take();
        try {
            return Integer.parseInt(token.text());
        } catch (NumberFormatException e) {
            throw reader.failure(
                    token, "a length can't be as large as that", "write a smaller one");
        }
    }
}
