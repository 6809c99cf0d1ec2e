package dev.cantina.binding;

import dev.cantina.catalog.Catalog;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.Expression.LiteralKind;
import dev.cantina.syntax.Expression.Operator;
import dev.cantina.syntax.Query;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlValue;
import dev.cantina.syntax.SqlWalk;
import dev.cantina.syntax.SqlWords;
import dev.cantina.syntax.TypeSyntax;
import dev.cantina.types.Functions;
import dev.cantina.types.SqlType;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * The divisions in a data statement, as far as what they divide can be told: whole numbers are cut
 * by the standard, and not by every server.
 *
 * @param place where the slash stands
 * @param left what is divided, without brackets around it
 * @param right what it is divided by, without brackets around it
 * @param name the name that is divided, its sign left out; empty where it is anything else
 * @param safe whether what it is divided by is a number, and not zero
 */
public record SqlDivision(
        Span place, Span left, Span right, Optional<Span> name, boolean safe, Kind kind) {
    /** What comes of it. */
    public enum Kind {
        WHOLE,
        EXACT,
        APPROXIMATE,
        /** It can't be told. */
        OPEN
    }

    /** Functions of windows whose result is a whole number, or an approximate one. */
    private static final Map<String, Kind> WINDOWS =
            Map.of(
                    "COUNT", Kind.WHOLE,
                    "ROW_NUMBER", Kind.WHOLE,
                    "RANK", Kind.WHOLE,
                    "DENSE_RANK", Kind.WHOLE,
                    "NTILE", Kind.WHOLE,
                    "PERCENT_RANK", Kind.APPROXIMATE,
                    "CUME_DIST", Kind.APPROXIMATE);

    /** Functions whose result is of the kind of their first argument. */
    private static final Set<String> OF_FIRST =
            Set.of("NULLIF", "LAG", "LEAD", "FIRST_VALUE", "LAST_VALUE", "NTH_VALUE");

    private static final Set<String> OF_ALL = Set.of("COALESCE", "SUM", "MAX", "MIN");

    /** All of a statement, in the order of its text. */
    public static List<SqlDivision> of(BoundSql sql, Catalog catalog) {
        if (sql.source().span().text().indexOf('/') < 0) {
            return List.of();
        }
        Kinds kinds = new Kinds(sql, catalog);
        List<SqlDivision> all = new ArrayList<>();
        SqlWalk.each(
                sql.source().tree(),
                new SqlWalk.Visitor() {
                    @Override
                    public void found(SqlWalk.Found found) {
                        if (found.expression() instanceof Expression.Binary binary
                                && binary.operator() == Operator.DIVIDE) {
                            all.add(division(binary, kinds));
                        } else if (found.expression() instanceof Expression.Opaque opaque) {
                            unknown(opaque).ifPresent(all::add);
                        }
                    }

                    @Override
                    public void unread(SqlValue value, SqlWalk.Place place) {
                        slash(value.span()).map(SqlDivision::unknown).ifPresent(all::add);
                    }
                });
        all.sort(Comparator.comparingInt(d -> d.place().start()));
        return all;
    }

    private static SqlDivision division(Expression.Binary binary, Kinds kinds) {
        Span left = binary.left().span();
        Span right = binary.right().span();
        Span between = new Span(left.source(), left.end(), right.start());
        return new SqlDivision(
                slash(between).orElseThrow(),
                left,
                right,
                name(binary.left()),
                isSafe(binary.right()),
                both(kinds.of(binary.left()), kinds.of(binary.right())));
    }

    private static SqlDivision unknown(Span slash) {
        return new SqlDivision(slash, slash, slash, Optional.empty(), false, Kind.OPEN);
    }

    private static Optional<Span> name(Expression e) {
        if (e instanceof Expression.Negation negation) {
            return name(negation.operand());
        }
        return e instanceof Expression.Reference ? Optional.of(e.span()) : Optional.empty();
    }

    /** Whether it is a number, and not zero. */
    public static boolean isSafe(Expression e) {
        return e instanceof Expression.Literal literal
                && (literal.kind() == LiteralKind.INTEGER || literal.kind() == LiteralKind.DECIMAL)
                && new BigDecimal(literal.text()).signum() != 0;
    }

    /** A slash between the parts of what is not known. */
    private static Optional<SqlDivision> unknown(Expression.Opaque opaque) {
        int at = opaque.span().start();
        for (Expression part : opaque.parts()) {
            Optional<Span> slash =
                    slash(new Span(opaque.span().source(), at, Math.max(at, part.span().start())));
            if (slash.isPresent()) {
                return slash.map(SqlDivision::unknown);
            }
            at = part.span().end();
        }
        return slash(new Span(opaque.span().source(), at, Math.max(at, opaque.span().end())))
                .map(SqlDivision::unknown);
    }

    /** The first slash in a stretch that is one, and no part of a text or comment. */
    private static Optional<Span> slash(Span stretch) {
        if (stretch.text().indexOf('/') < 0) {
            return Optional.empty();
        }
        return SqlWords.of(stretch.text()).all().stream()
                .filter(w -> w.is("/"))
                .findFirst()
                .map(
                        w ->
                                new Span(
                                        stretch.source(),
                                        stretch.start() + w.start(),
                                        stretch.start() + w.end()));
    }

    /** What comes of two kinds; null of one that says nothing. */
    private static Kind both(Kind a, Kind b) {
        if (a == null || b == null) {
            return a == null && b == null ? Kind.OPEN : a == null ? b : a;
        }
        if (a == Kind.APPROXIMATE || b == Kind.APPROXIMATE) {
            return Kind.APPROXIMATE;
        }
        if (a == Kind.EXACT || b == Kind.EXACT) {
            return Kind.EXACT;
        }
        return a == Kind.OPEN || b == Kind.OPEN ? Kind.OPEN : Kind.WHOLE;
    }

    /** Tells what numbers an expression comes to; null for NULL, which can be any. */
    private record Kinds(BoundSql sql, Catalog catalog) {
        Kind of(Expression e) {
            Optional<Kind> variable = variable(e);
            if (variable.isPresent()) {
                return variable.get();
            }
            if (e instanceof Expression.Literal literal) {
                return of(literal);
            }
            if (e instanceof Expression.Reference reference) {
                return ColumnTypes.of(reference.span().text(), sql, catalog)
                        .map(Kinds::of)
                        .orElse(Kind.OPEN);
            }
            if (e instanceof Expression.Negation negation) {
                return of(negation.operand());
            }
            if (e instanceof Expression.Binary binary) {
                return binary.operator().isArithmetic()
                        ? both(of(binary.left()), of(binary.right()))
                        : Kind.OPEN;
            }
            if (e instanceof Expression.Case choice) {
                return of(choice);
            }
            if (e instanceof Expression.Cast cast) {
                return of(cast.type());
            }
            if (e instanceof Expression.Call call) {
                List<Expression> given =
                        call.arguments().stream().map(Expression.Argument::value).toList();
                return called(call.key(), given);
            }
            if (e instanceof Expression.Aggregate aggregate) {
                return called(aggregate.function().key(), aggregate.arguments());
            }
            if (e instanceof Expression.ScalarQuery query) {
                return of(query);
            }
            return Kind.OPEN;
        }

        private Optional<Kind> variable(Expression e) {
            return sql.parameterAt(e.span()).map(BoundExpression::type).map(Kinds::of);
        }

        private static Kind of(Expression.Literal literal) {
            return switch (literal.kind()) {
                case INTEGER -> Kind.WHOLE;
                case DECIMAL -> Kind.EXACT;
                case APPROXIMATE -> Kind.APPROXIMATE;
                case NULL -> null;
                default -> Kind.OPEN;
            };
        }

        private Kind of(Expression.Case choice) {
            Kind kind = null;
            for (Expression.When branch : choice.branches()) {
                kind = joined(kind, of(branch.then()));
            }
            if (choice.otherwise().isPresent()) {
                kind = joined(kind, of(choice.otherwise().get()));
            }
            return kind;
        }

        private static Kind joined(Kind a, Kind b) {
            return a == null ? b : b == null ? a : both(a, b);
        }

        private Kind called(String name, List<Expression> given) {
            List<Kind> results =
                    catalog.functions(name).stream()
                            .map(f -> f.returns().map(Kinds::of).orElse(Kind.OPEN))
                            .distinct()
                            .toList();
            if (!results.isEmpty()) {
                return results.size() == 1 ? results.get(0) : Kind.OPEN;
            }
            if (WINDOWS.containsKey(name)) {
                return WINDOWS.get(name);
            }
            if (name.equals("AVG") && given.size() == 1) {
                return of(given.get(0)) == Kind.APPROXIMATE ? Kind.APPROXIMATE : Kind.EXACT;
            }
            if (OF_FIRST.contains(name) && !given.isEmpty()) {
                return of(given.get(0));
            }
            if (OF_ALL.contains(name)) {
                Kind kind = null;
                for (Expression e : given) {
                    kind = joined(kind, of(e));
                }
                return kind;
            }
            // ISO 9075-2, 6.29 and 6.30: the type of the result, of arguments of these kinds.
            return Functions.find(name)
                    .filter(f -> f.least() <= given.size() && given.size() <= f.most())
                    .map(f -> of(f.result().apply(given.stream().map(this::example).toList())))
                    .orElse(Kind.OPEN);
        }

        /** A type of the kind of an expression. */
        private SqlType example(Expression e) {
            Kind kind = of(e);
            if (kind == null) {
                return SqlType.NULL;
            }
            return switch (kind) {
                case WHOLE -> SqlType.INTEGER;
                case EXACT -> SqlType.DECIMAL;
                case APPROXIMATE -> SqlType.DOUBLE;
                case OPEN -> SqlType.VARCHAR;
            };
        }

        /** That of the one value that a query gives. */
        private Kind of(Expression.ScalarQuery query) {
            return query.query().tree() instanceof Query.Select select && select.items().size() == 1
                    ? select.items().get(0).value().expression().map(this::of).orElse(Kind.OPEN)
                    : Kind.OPEN;
        }

        private static Kind of(TypeSyntax type) {
            String name = type instanceof TypeSyntax.Predefined known ? known.name() : "";
            return switch (name) {
                case "DECIMAL", "NUMERIC", "DEC", "DECFLOAT" -> Kind.EXACT;
                case "DOUBLE PRECISION", "DOUBLE", "REAL", "FLOAT" -> Kind.APPROXIMATE;
                case "INTEGER", "INT", "BIGINT", "SMALLINT", "TINYINT" -> Kind.WHOLE;
                default -> Kind.OPEN;
            };
        }

        private static Kind of(SqlType type) {
            if (type instanceof SqlType.Integral) {
                return Kind.WHOLE;
            }
            if (type instanceof SqlType.Approximate) {
                return Kind.APPROXIMATE;
            }
            return type.isNumeric() ? Kind.EXACT : Kind.OPEN;
        }
    }
}
