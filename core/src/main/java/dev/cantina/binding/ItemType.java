package dev.cantina.binding;

import dev.cantina.syntax.Expression;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.PredicateText;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.TypeSyntax;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;

/**
 * Truth values and bytes in a select list, told by how they are written, for databases that call
 * them numbers and texts (ISO 9075-2, 6.39 and 6.29).
 */
final class ItemType {
    private static final Set<String> OF_ALL = Set.of("COALESCE", "NULLIF", "GREATEST", "LEAST");
    private static final Set<String> BINARY =
            Set.of("BINARY", "VARBINARY", "BINARY VARYING", "BLOB", "BINARY LARGE OBJECT");

    private static final SqlType BYTES = new SqlType.Bytes(SqlType.Shape.VARYING, 0);

    private final Function<String, Optional<SqlType>> named;
    private final Function<List<Name>, Optional<SqlType>> called;

    /**
     * @param named the type of a variable or column, by its name as it is written
     * @param called that of what a function of the project gives
     */
    ItemType(
            Function<String, Optional<SqlType>> named,
            Function<List<Name>, Optional<SqlType>> called) {
        this.named = named;
        this.called = called;
    }

    /**
     * BOOLEAN or VARBINARY; empty for any other and where it can't be told.
     *
     * @param item a value, with its alias where it has one
     */
    Optional<SqlType> of(String item) {
        String value = PredicateText.value(item);
        Parser.ParsedExpression parsed = Parser.parseExpression(new Source("item", value));
        if (parsed instanceof Parser.ParsedExpression.Read read) {
            return of(read.expression());
        }
        return PredicateText.isPredicate(item) ? Optional.of(SqlType.BOOLEAN) : Optional.empty();
    }

    private Optional<SqlType> of(Expression e) {
        if (e instanceof Expression.Literal literal) {
            return switch (literal.kind()) {
                case BOOLEAN -> Optional.of(SqlType.BOOLEAN);
                case BYTES -> Optional.of(ItemType.BYTES);
                default -> Optional.empty();
            };
        }
        if (e instanceof Expression.Reference reference) {
            return told(named.apply(reference.span().text()));
        }
        if (e instanceof Expression.Binary binary) {
            return switch (binary.operator()) {
                case CONCATENATE -> any(List.of(binary.left(), binary.right()), true);
                case ADD, SUBTRACT, MULTIPLY, DIVIDE -> Optional.empty();
                default -> Optional.of(SqlType.BOOLEAN);
            };
        }
        if (e instanceof Expression.Case choice) {
            List<Expression> results = new ArrayList<>();
            choice.branches().forEach(b -> results.add(b.then()));
            choice.otherwise().ifPresent(results::add);
            return any(results, false);
        }
        if (e instanceof Expression.Cast cast) {
            return cast.type() instanceof TypeSyntax.Predefined type
                    ? named(type.name())
                    : Optional.empty();
        }
        if (e instanceof Expression.Call call && OF_ALL.contains(call.key())) {
            return any(call.arguments().stream().map(Expression.Argument::value).toList(), false);
        }
        if (e instanceof Expression.Call call) {
            return told(called.apply(call.name()));
        }
        return isTest(e) ? Optional.of(SqlType.BOOLEAN) : Optional.empty();
    }

    private static Optional<SqlType> told(Optional<SqlType> type) {
        return type.filter(t -> t instanceof SqlType.Bool || t instanceof SqlType.Bytes)
                .map(t -> t instanceof SqlType.Bytes ? BYTES : t);
    }

    private static Optional<SqlType> named(String type) {
        if (type.equals("BOOLEAN")) {
            return Optional.of(SqlType.BOOLEAN);
        }
        return BINARY.contains(type) ? Optional.of(BYTES) : Optional.empty();
    }

    private static boolean isTest(Expression e) {
        return e instanceof Expression.Not
                || e instanceof Expression.IsNull
                || e instanceof Expression.IsTruth
                || e instanceof Expression.IsDistinct
                || e instanceof Expression.Between
                || e instanceof Expression.InList
                || e instanceof Expression.Like
                || e instanceof Expression.Exists
                || e instanceof Expression.QueryComparison;
    }

    /** Values of one type: what one of them is, all are. */
    private Optional<SqlType> any(List<Expression> values, boolean bytes) {
        return values.stream()
                .flatMap(v -> of(v).stream())
                .filter(t -> !bytes || t instanceof SqlType.Bytes)
                .findFirst();
    }
}
