package dev.cantina.binding;

import dev.cantina.binding.BoundExpression.Choice;
import dev.cantina.binding.BoundExpression.Constant;
import dev.cantina.binding.BoundExpression.Convert;
import dev.cantina.binding.BoundExpression.ConvertKind;
import dev.cantina.binding.BoundExpression.Option;
import dev.cantina.catalog.Describer;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.Expression.Operator;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlText;
import dev.cantina.types.ConditionException;
import dev.cantina.types.Conversion;
import dev.cantina.types.Functions;
import dev.cantina.types.SqlType;
import dev.cantina.types.SqlType.Shape;
import dev.cantina.types.TypeRules;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Binds expressions outside SQL: in them there are only variables (language profile, "Names"). */
public final class ExpressionBinder {
    /** Advice: a constant that its target can't hold. */
    public static final String NEVER_FITS = "never-fits";

    private static final Map<String, SqlType> MOMENTS =
            Map.of(
                    "CURRENT_DATE", SqlType.DATE,
                    "CURRENT_TIME", new SqlType.Time(0, true),
                    "CURRENT_TIMESTAMP", new SqlType.Timestamp(6, true),
                    "LOCALTIME", SqlType.TIME,
                    "LOCALTIMESTAMP", SqlType.TIMESTAMP,
                    "CURRENT_USER", SqlType.VARCHAR,
                    "SESSION_USER", SqlType.VARCHAR,
                    "USER", SqlType.VARCHAR);

    private final Binding binding;
    private final SqlBinder sql;
    private final DatetimeBinder moments;

    ExpressionBinder(Binding binding, SqlBinder sql) {
        this.binding = binding;
        this.sql = sql;
        this.moments = new DatetimeBinder(binding);
    }

    private boolean outMayBeLeftOut;

    /** In a script a CALL need not take what it is given. */
    void allowLeavingOut() {
        outMayBeLeftOut = true;
    }

    /** An expression of any type. */
    BoundExpression bind(Expression e, Scope scope) {
        if (e instanceof Expression.Literal literal) {
            return literal(literal);
        }
        if (e instanceof Expression.Reference reference) {
            return reference(reference, scope);
        }
        if (e instanceof Expression.Binary binary) {
            return binary(binary, scope);
        }
        if (e instanceof Expression.Negation negation) {
            BoundExpression given = bind(negation.operand(), scope);
            if (given.type() instanceof SqlType.Interval) {
                return moments.negated(e.span(), given);
            }
            BoundExpression operand = numeric(given, "-");
            SqlType type =
                    operand.type() instanceof SqlType.Integral ? SqlType.BIGINT : operand.type();
            if (operand instanceof Constant constant && constant.value() instanceof Long value) {
                return new Constant(e.span(), -value, constant.type());
            }
            return new BoundExpression.Negate(e.span(), operand, type);
        }
        if (e instanceof Expression.Not not) {
            return new BoundExpression.Not(e.span(), condition(not.operand(), scope));
        }
        if (e instanceof Expression.IsNull isNull) {
            return new BoundExpression.IsNull(
                    e.span(), bind(isNull.operand(), scope), isNull.negated());
        }
        if (e instanceof Expression.IsTruth is) {
            return new BoundExpression.IsTruth(
                    e.span(), condition(is.operand(), scope), is.truth(), is.negated());
        }
        if (e instanceof Expression.IsDistinct distinct) {
            BoundExpression.Compare compare =
                    compare(
                            e.span(),
                            Operator.EQUAL,
                            bind(distinct.left(), scope),
                            bind(distinct.right(), scope));
            return new BoundExpression.Distinct(
                    e.span(), compare.left(), compare.right(), distinct.negated());
        }
        if (e instanceof Expression.Between between) {
            return between(between, scope);
        }
        if (e instanceof Expression.InList in) {
            return in(in, scope);
        }
        if (e instanceof Expression.Like like) {
            return new BoundExpression.Like(
                    e.span(),
                    text(bind(like.operand(), scope)),
                    text(bind(like.pattern(), scope)),
                    like.escape().map(escape -> text(bind(escape, scope))),
                    like.negated());
        }
        if (e instanceof Expression.Case choice) {
            return choice(choice, scope);
        }
        if (e instanceof Expression.Cast cast) {
            return cast(bind(cast.operand(), scope), binding.types.resolve(cast.type()), e.span());
        }
        if (e instanceof Expression.Call call) {
            return call(call, scope);
        }
        if (e instanceof Expression.Difference difference) {
            return moments.difference(
                    e.span(),
                    bind(difference.later(), scope),
                    bind(difference.earlier(), scope),
                    difference.fields());
        }
        if (e instanceof Expression.FieldOf field) {
            return fieldOf(field, scope);
        }
        if (e instanceof Expression.Element element) {
            return element(element, scope);
        }
        if (e instanceof Expression.ArrayValue array) {
            List<BoundExpression> parts = bindAll(array.elements(), scope);
            SqlType type = commonType(parts, e.span());
            List<BoundExpression> stored =
                    parts.stream().map(p -> convert(p, type, p.span())).toList();
            return new BoundExpression.RowConstructor(e.span(), stored, new SqlType.Array(type, 0));
        }
        if (e instanceof Expression.RowValue row) {
            List<BoundExpression> parts = bindAll(row.fields(), scope);
            List<SqlType.Field> fields = new ArrayList<>();
            for (BoundExpression part : parts) {
                fields.add(new SqlType.Field("f" + (fields.size() + 1), part.type()));
            }
            return new BoundExpression.RowConstructor(e.span(), parts, new SqlType.Row(fields));
        }
        return query(e, scope);
    }

    private List<BoundExpression> bindAll(List<Expression> expressions, Scope scope) {
        return expressions.stream().map(e -> bind(e, scope)).toList();
    }

    /** A condition: an expression of type BOOLEAN. */
    BoundExpression condition(Expression e, Scope scope) {
        BoundExpression bound = bind(e, scope);
        if (!(bound.type() instanceof SqlType.Bool) && !(bound.type() instanceof SqlType.Unknown)) {
            binding.error(
                    e.span(),
                    "wrong-type",
                    "a condition is true, false or unknown, and this is of type "
                            + bound.type().sql(),
                    "compare it with something");
        }
        return convert(bound, SqlType.BOOLEAN, e.span());
    }

    /** An expression whose value is to be stored into a type. */
    BoundExpression stored(Expression e, SqlType type, Scope scope, String where) {
        return stored(bind(e, scope), type, where);
    }

    BoundExpression stored(BoundExpression bound, SqlType type, String where) {
        if (!TypeRules.storable(bound.type(), type)) {
            binding.error(
                    bound.span(),
                    "wrong-type",
                    "a value of type "
                            + bound.type().sql()
                            + " can't be stored in "
                            + where
                            + " of type "
                            + type.sql(),
                    "write CAST(" + bound.span().text() + " AS " + type.sql() + ")");
            return new Constant(bound.span(), null, type);
        }
        if (bound instanceof Constant constant) {
            return storedConstant(constant, type, where);
        }
        return bound.type().equals(type)
                ? bound
                : new Convert(bound.span(), bound, type, ConvertKind.STORED);
    }

    private BoundExpression storedConstant(Constant constant, SqlType type, String where) {
        try {
            return new Constant(constant.span(), Conversion.store(constant.value(), type), type);
        } catch (ConditionException never) {
            binding.problems.add(
                    Problem.advice(
                            constant.span(),
                            NEVER_FITS,
                            "this can never be stored in "
                                    + where
                                    + ": "
                                    + never.condition().message()
                                    + "; it is "
                                    + never.condition().sqlstate()
                                    + " where it is reached",
                            "store a value that fits"));
            return new Convert(constant.span(), constant, type, ConvertKind.STORED);
        }
    }

    /** The value in another type, where the types are known to be of one family. */
    private BoundExpression convert(BoundExpression e, SqlType type, Span span) {
        if (e.type().equals(type)) {
            return e;
        }
        if (e instanceof Constant constant) {
            try {
                return new Constant(span, Conversion.cast(constant.value(), type), type);
            } catch (ConditionException never) {
                return new Convert(span, e, type, ConvertKind.IMPLICIT);
            }
        }
        return new Convert(span, e, type, ConvertKind.IMPLICIT);
    }

    private BoundExpression cast(BoundExpression operand, SqlType type, Span span) {
        if (!TypeRules.castable(operand.type(), type)) {
            binding.error(
                    span,
                    "wrong-type",
                    "a value of type " + operand.type().sql() + " can't be cast to " + type.sql());
            return new Constant(span, null, type);
        }
        return new Convert(span, operand, type, ConvertKind.CAST);
    }

    private BoundExpression literal(Expression.Literal literal) {
        String text = literal.text();
        Span span = literal.span();
        try {
            return switch (literal.kind()) {
                case NULL, DEFAULT -> new Constant(span, null, SqlType.NULL);
                case BOOLEAN ->
                        new Constant(
                                span,
                                text.equals("UNKNOWN") ? null : text.equals("TRUE"),
                                SqlType.BOOLEAN);
                case INTEGER -> integer(span, text);
                case DECIMAL -> {
                    BigDecimal value = new BigDecimal(text);
                    int precision = Math.max(value.precision(), value.scale());
                    yield new Constant(span, value, new SqlType.Exact(precision, value.scale()));
                }
                case APPROXIMATE ->
                        new Constant(span, Conversion.cast(text, SqlType.DOUBLE), SqlType.DOUBLE);
                case TEXT ->
                        new Constant(span, text, new SqlType.Text(Shape.VARYING, length(text)));
                case BYTES -> {
                    SqlType type = new SqlType.Bytes(Shape.VARYING, 0);
                    yield new Constant(span, Conversion.cast(text, type), type);
                }
                case DATE -> new Constant(span, Conversion.cast(text, SqlType.DATE), SqlType.DATE);
                case TIME -> moment(span, text, new SqlType.Time(9, zoned(text, 0)));
                case TIMESTAMP -> moment(span, text, new SqlType.Timestamp(9, zoned(text, 11)));
                case INTERVAL -> moment(span, text, new SqlType.Interval(literal.qualifier()));
            };
        } catch (ConditionException e) {
            binding.error(span, "wrong-literal", e.condition().message());
            return new Constant(span, null, SqlType.NULL);
        }
    }

    private static int length(String text) {
        return Math.max(1, text.codePointCount(0, text.length()));
    }

    private static Constant moment(Span span, String text, SqlType type) {
        return new Constant(span, Conversion.cast(text, type), type);
    }

    private static boolean zoned(String text, int from) {
        return text.length() > from && text.substring(from).matches(".*[+\\-Z].*");
    }

    private static Constant integer(Span span, String text) {
        BigDecimal value = new BigDecimal(text);
        if (value.compareTo(BigDecimal.valueOf(Long.MAX_VALUE)) <= 0) {
            long number = value.longValueExact();
            boolean small = (int) number == number;
            return new Constant(span, number, small ? SqlType.INTEGER : SqlType.BIGINT);
        }
        return new Constant(span, value, new SqlType.Exact(value.precision(), 0));
    }

    private BoundExpression reference(Expression.Reference reference, Scope scope) {
        List<Name> names = reference.names();
        Optional<BoundExpression> found =
                chain(reference.span(), names, scope).or(() -> shared(reference.span(), names));
        if (found.isPresent()) {
            return found.get();
        }
        Name first = names.get(0);
        if (names.size() == 1) {
            binding.unknown(first.span(), "variable", first.text(), scope.variableNames());
        } else {
            Optional<Scope.Found> row = scope.find(first.key());
            if (row.isPresent() && row.get().type() instanceof SqlType.Row type) {
                Name field = names.get(1);
                binding.unknown(
                        field.span(),
                        "column in " + first.text() + " called",
                        field.text(),
                        type.fields().stream().map(SqlType.Field::name).toList());
            } else {
                binding.unknown(
                        reference.span(),
                        "variable",
                        reference.span().text(),
                        scope.variableNames());
            }
        }
        return new Constant(reference.span(), null, SqlType.NULL);
    }

    /** A variable of the routine's own module, or of one that is named. */
    Optional<BoundExpression> shared(Span span, List<Name> names) {
        boolean qualified = names.size() > 1;
        Optional<ModuleSymbol> module =
                qualified ? binding.catalog.module(names.get(0).key()) : binding.module;
        Name name = names.get(qualified ? 1 : 0);
        int index = module.map(m -> m.position(name.key())).orElse(-1);
        if (index < 0 || names.size() > 2) {
            return Optional.empty();
        }
        ModuleSymbol.Shared variable = module.get().variables().get(index);
        if (variable.isPrivate() && !module.equals(binding.module)) {
            binding.error(
                    span,
                    "private-name",
                    name + " is private in module " + module.get().name(),
                    "give the module a routine that hands it out");
        }
        return Optional.of(
                new BoundExpression.ReadShared(span, module.get(), index, variable.type()));
    }

    /** {@code v}, {@code label.v}, {@code row.field} and what can be made of them. */
    static Optional<BoundExpression> chain(Span span, List<Name> names, Scope scope) {
        Name first = names.get(0);
        Optional<Scope.Found> found = scope.find(first.key());
        int next = 1;
        if (names.size() > 1 && (found.isEmpty() || !(found.get().type() instanceof SqlType.Row))) {
            found = scope.find(first.key(), names.get(1).key());
            next = 2;
        }
        if (found.isEmpty()) {
            return Optional.empty();
        }
        BoundExpression value = SqlBinder.read(span, found.get());
        for (; next < names.size(); next++) {
            int field = Scope.fieldOf(value.type(), names.get(next).key());
            if (field < 0) {
                return Optional.empty();
            }
            SqlType type = ((SqlType.Row) value.type()).fields().get(field).type();
            value = new BoundExpression.Field(span, value, field, type);
        }
        return Optional.of(value);
    }

    private BoundExpression binary(Expression.Binary binary, Scope scope) {
        Operator operator = binary.operator();
        Span span = binary.span();
        if (operator == Operator.AND || operator == Operator.OR) {
            return new BoundExpression.Logical(
                    span,
                    operator == Operator.AND,
                    condition(binary.left(), scope),
                    condition(binary.right(), scope));
        }
        BoundExpression left = bind(binary.left(), scope);
        BoundExpression right = bind(binary.right(), scope);
        if (operator.isComparison()) {
            return compare(span, operator, left, right);
        }
        if (operator == Operator.CONCATENATE) {
            return concatenate(span, left, right);
        }
        return arithmetic(span, operator, left, right);
    }

    private BoundExpression concatenate(Span span, BoundExpression left, BoundExpression right) {
        if (left.type() instanceof SqlType.Array || right.type() instanceof SqlType.Array) {
            SqlType type = TypeRules.common(left.type(), right.type()).orElse(left.type());
            return new BoundExpression.Concatenate(span, left, right, type);
        }
        if (left.type() instanceof SqlType.Bytes && right.type() instanceof SqlType.Bytes) {
            SqlType type = new SqlType.Bytes(Shape.VARYING, 0);
            return new BoundExpression.Concatenate(span, left, right, type);
        }
        return new BoundExpression.Concatenate(span, text(left), text(right), SqlType.VARCHAR);
    }

    /** As text: an operand of {@code ||}, LIKE or REPORT may be a number or a date too. */
    private BoundExpression text(BoundExpression e) {
        return e.type() instanceof SqlType.Text ? e : convert(e, SqlType.VARCHAR, e.span());
    }

    private BoundExpression numeric(BoundExpression e, String sign) {
        if (e.type().isNumeric() || e.type() instanceof SqlType.Unknown) {
            return e;
        }
        binding.error(
                e.span(),
                "wrong-type",
                "'" + sign + "' takes numbers, and this is of type " + e.type().sql(),
                e.type() instanceof SqlType.Text && sign.equals("+")
                        ? "texts are put together with ||"
                        : "write CAST(" + e.span().text() + " AS DECIMAL(18, 4))");
        return new Constant(e.span(), null, SqlType.BIGINT);
    }

    private BoundExpression arithmetic(
            Span span, Operator operator, BoundExpression left, BoundExpression right) {
        if (DatetimeBinder.concerns(left.type()) || DatetimeBinder.concerns(right.type())) {
            return moments.arithmetic(span, operator, left, right);
        }
        BoundExpression a = numeric(left, operator.sign());
        // Of two texts one is enough to say so.
        boolean both = left.type() instanceof SqlType.Text && right.type() instanceof SqlType.Text;
        BoundExpression b =
                both
                        ? new Constant(right.span(), null, SqlType.BIGINT)
                        : numeric(right, operator.sign());
        SqlType type = TypeRules.arithmetic(operator.sign(), a.type(), b.type());
        SqlType side = type instanceof SqlType.Exact ? SqlType.DECIMAL : type;
        return new BoundExpression.Arithmetic(
                span, operator, carried(a, side), carried(b, side), type);
    }

    /** The same number in the carrier that a type has, not rounded to it. */
    private BoundExpression carried(BoundExpression e, SqlType type) {
        boolean exact = e.type() instanceof SqlType.Exact && type instanceof SqlType.Exact;
        boolean whole = e.type() instanceof SqlType.Integral && type instanceof SqlType.Integral;
        boolean approximate =
                e.type() instanceof SqlType.Approximate && type instanceof SqlType.Approximate;
        return exact || whole || approximate ? e : convert(e, type, e.span());
    }

    BoundExpression.Compare compare(
            Span span, Operator operator, BoundExpression left, BoundExpression right) {
        Optional<SqlType> common = TypeRules.common(left.type(), right.type());
        if (common.isEmpty()) {
            binding.error(
                    span,
                    "wrong-type",
                    "a value of type "
                            + left.type().sql()
                            + " can't be compared with one of type "
                            + right.type().sql(),
                    "cast one of them to the type of the other");
            return new BoundExpression.Compare(span, operator, left, left, false);
        }
        SqlType type = common.get();
        boolean unknown =
                left.type() instanceof SqlType.Unknown || right.type() instanceof SqlType.Unknown;
        if (type.isNumeric()) {
            SqlType side = type instanceof SqlType.Exact ? SqlType.DECIMAL : type;
            return new BoundExpression.Compare(
                    span, operator, carried(left, side), carried(right, side), false);
        }
        if (unknown) {
            return new BoundExpression.Compare(
                    span, operator, convert(left, type, span), convert(right, type, span), false);
        }
        boolean fixed = isFixed(left.type()) || isFixed(right.type());
        return new BoundExpression.Compare(span, operator, left, right, fixed);
    }

    private static boolean isFixed(SqlType type) {
        return type instanceof SqlType.Text text && text.shape() == Shape.FIXED;
    }

    /** Makes an operand that is used more than once be worked out once. */
    private BoundExpression once(
            Span span,
            BoundExpression operand,
            java.util.function.UnaryOperator<BoundExpression> body) {
        if (operand instanceof BoundExpression.Read || operand instanceof Constant) {
            return body.apply(operand);
        }
        Variable variable = binding.hidden(operand.type(), operand.span());
        BoundExpression read = new BoundExpression.Read(operand.span(), variable);
        return new BoundExpression.Let(span, variable, operand, body.apply(read));
    }

    private BoundExpression between(Expression.Between e, Scope scope) {
        Span span = e.span();
        BoundExpression low = bind(e.low(), scope);
        BoundExpression high = bind(e.high(), scope);
        return once(
                span,
                bind(e.operand(), scope),
                x -> {
                    BoundExpression inside = within(span, x, low, high);
                    if (e.symmetric()) {
                        inside =
                                new BoundExpression.Logical(
                                        span, false, inside, within(span, x, high, low));
                    }
                    return e.negated() ? new BoundExpression.Not(span, inside) : inside;
                });
    }

    private BoundExpression within(
            Span span, BoundExpression x, BoundExpression low, BoundExpression high) {
        return new BoundExpression.Logical(
                span,
                true,
                compare(span, Operator.GREATER_OR_EQUAL, x, low),
                compare(span, Operator.LESS_OR_EQUAL, x, high));
    }

    private BoundExpression in(Expression.InList e, Scope scope) {
        List<BoundExpression> values = bindAll(e.values(), scope);
        return once(
                e.span(),
                bind(e.operand(), scope),
                x -> {
                    List<BoundExpression> tests = new ArrayList<>();
                    for (BoundExpression value : values) {
                        tests.add(compare(e.span(), Operator.EQUAL, x, value));
                    }
                    BoundExpression any = any(e.span(), tests);
                    return e.negated() ? new BoundExpression.Not(e.span(), any) : any;
                });
    }

    /** One OR of all, as a balanced tree: a long list must not become a deep one. */
    private static BoundExpression any(Span span, List<BoundExpression> tests) {
        if (tests.size() == 1) {
            return tests.get(0);
        }
        int half = tests.size() / 2;
        return new BoundExpression.Logical(
                span,
                false,
                any(span, tests.subList(0, half)),
                any(span, tests.subList(half, tests.size())));
    }

    /** Whether an operand is what a branch says, or one of several values. */
    BoundExpression anyOf(Expression when, BoundExpression operand, Scope scope) {
        List<Expression> values =
                when instanceof Expression.AnyOf any ? any.values() : List.of(when);
        List<BoundExpression> tests = new ArrayList<>();
        for (Expression value : values) {
            tests.add(compare(value.span(), Operator.EQUAL, operand, bind(value, scope)));
        }
        return any(when.span(), tests);
    }

    private BoundExpression choice(Expression.Case e, Scope scope) {
        if (e.operand().isPresent()) {
            return once(
                    e.span(),
                    bind(e.operand().get(), scope),
                    operand -> branches(e, Optional.of(operand), scope));
        }
        return branches(e, Optional.empty(), scope);
    }

    private BoundExpression branches(
            Expression.Case e, Optional<BoundExpression> operand, Scope scope) {
        List<Option> options = new ArrayList<>();
        List<BoundExpression> values = new ArrayList<>();
        for (Expression.When branch : e.branches()) {
            BoundExpression test =
                    operand.isPresent()
                            ? compare(
                                    branch.when().span(),
                                    Operator.EQUAL,
                                    operand.get(),
                                    bind(branch.when(), scope))
                            : condition(branch.when(), scope);
            BoundExpression value = bind(branch.then(), scope);
            options.add(new Option(test, value));
            values.add(value);
        }
        BoundExpression otherwise =
                e.otherwise()
                        .map(o -> bind(o, scope))
                        .orElse(new Constant(e.span(), null, SqlType.NULL));
        values.add(otherwise);
        return choiceOf(e.span(), options, otherwise, commonType(values, e.span()));
    }

    private Choice choiceOf(
            Span span, List<Option> options, BoundExpression otherwise, SqlType type) {
        List<Option> typed = new ArrayList<>();
        for (Option option : options) {
            typed.add(new Option(option.condition(), convert(option.value(), type, span)));
        }
        return new Choice(span, typed, convert(otherwise, type, span), type);
    }

    private SqlType commonType(List<BoundExpression> values, Span span) {
        SqlType common = SqlType.NULL;
        for (BoundExpression value : values) {
            Optional<SqlType> wider = TypeRules.common(common, value.type());
            if (wider.isEmpty()) {
                binding.error(
                        value.span(),
                        "wrong-type",
                        "values of type "
                                + common.sql()
                                + " and "
                                + value.type().sql()
                                + " have no common type",
                        "cast them to one type");
                return common;
            }
            common = wider.get();
        }
        return common;
    }

    private BoundExpression fieldOf(Expression.FieldOf e, Scope scope) {
        BoundExpression row = bind(e.row(), scope);
        if (row.type() instanceof SqlType.Unknown) {
            return new Constant(e.span(), null, SqlType.NULL);
        }
        int index = fieldIndex(row.type(), e.field());
        return index < 0
                ? new Constant(e.span(), null, SqlType.NULL)
                : new BoundExpression.Field(
                        e.span(),
                        row,
                        index,
                        ((SqlType.Row) row.type()).fields().get(index).type());
    }

    /** The position of a row's field; -1, with the error said, where there is none. */
    int fieldIndex(SqlType type, Name field) {
        if (!(type instanceof SqlType.Row row)) {
            binding.error(
                    field.span(),
                    "wrong-type",
                    "only a row has fields, and this is of type " + type.sql());
            return -1;
        }
        for (int i = 0; i < row.fields().size(); i++) {
            String name = row.fields().get(i).name();
            if (field.delimited()
                    ? name.equals(field.text())
                    : name.equalsIgnoreCase(field.text())) {
                return i;
            }
        }
        binding.unknown(
                field.span(),
                "field",
                field.text(),
                row.fields().stream().map(SqlType.Field::name).toList());
        return -1;
    }

    private BoundExpression element(Expression.Element e, Scope scope) {
        BoundExpression array = bind(e.array(), scope);
        BoundExpression index = stored(e.index(), SqlType.BIGINT, scope, "an index");
        if (array.type() instanceof SqlType.Unknown) {
            // What only the database knows of shows when the routine runs.
            return new BoundExpression.Element(e.span(), array, index, SqlType.NULL);
        }
        if (!(array.type() instanceof SqlType.Array type)) {
            binding.error(
                    e.array().span(),
                    "wrong-type",
                    "only an array has elements, and this is of type " + array.type().sql());
            return new Constant(e.span(), null, SqlType.NULL);
        }
        return new BoundExpression.Element(e.span(), array, index, type.element());
    }

    private BoundExpression call(Expression.Call call, Scope scope) {
        String key = call.key();
        Span span = call.span();
        String routine = binding.catalog.keyOf(call.name(), binding.module);
        if (!binding.catalog.functions(routine).isEmpty()) {
            return invoke(call, routine, scope);
        }
        if (call.name().size() == 1) {
            if (MOMENTS.containsKey(key) && call.arguments().isEmpty()) {
                return moment(span, key);
            }
            if (key.equals("COALESCE") && !call.arguments().isEmpty()) {
                return coalesce(span, bindAll(positional(call), scope), 0);
            }
            if (key.equals("OVERLAPS") && call.arguments().size() == 2) {
                return overlaps(span, positional(call), scope);
            }
            if (key.equals("NULLIF") && call.arguments().size() == 2) {
                return nullIf(span, bindAll(positional(call), scope));
            }
            Optional<Functions.BuiltIn> function = Functions.find(key);
            if (function.isPresent()) {
                return apply(call, function.get(), scope);
            }
        }
        return ask(call, scope);
    }

    private BoundExpression overlaps(Span span, List<Expression> periods, Scope scope) {
        List<BoundExpression> values = new ArrayList<>();
        for (Expression period : periods) {
            if (!(period instanceof Expression.RowValue row) || row.fields().size() != 2) {
                binding.error(
                        period.span(),
                        "wrong-arguments",
                        "OVERLAPS compares two periods",
                        "write (start, end) on both sides");
                return new Constant(span, null, SqlType.BOOLEAN);
            }
            values.addAll(bindAll(row.fields(), scope));
        }
        for (int i = 0; i < values.size(); i++) {
            SqlType type = values.get(i).type();
            boolean fits =
                    DatetimeBinder.isMoment(type)
                            || type instanceof SqlType.Unknown
                            || i % 2 == 1 && type instanceof SqlType.Interval;
            boolean alike =
                    type instanceof SqlType.Interval
                            || TypeRules.common(type, values.get(0).type()).isPresent();
            if (!fits || !alike) {
                binding.error(
                        values.get(i).span(),
                        "wrong-type",
                        "a period lies between two dates, times or timestamps, and this is of type "
                                + type.sql());
                return new Constant(span, null, SqlType.BOOLEAN);
            }
        }
        return new BoundExpression.Apply(span, Functions.OVERLAPS, values, SqlType.BOOLEAN);
    }

    private BoundExpression nullIf(Span span, List<BoundExpression> sides) {
        return once(
                span,
                sides.get(0),
                x -> {
                    BoundExpression same = compare(span, Operator.EQUAL, x, sides.get(1));
                    Constant none = new Constant(span, null, x.type());
                    return new Choice(span, List.of(new Option(same, none)), x, x.type());
                });
    }

    static BoundExpression moment(Span span, String key) {
        return new BoundExpression.CurrentDatetime(span, key, MOMENTS.get(key));
    }

    private static List<Expression> positional(Expression.Call call) {
        return call.arguments().stream().map(Expression.Argument::value).toList();
    }

    private BoundExpression coalesce(Span span, List<BoundExpression> values, int from) {
        SqlType type = commonType(values.subList(from, values.size()), span);
        if (from == values.size() - 1) {
            return convert(values.get(from), type, span);
        }
        BoundExpression rest = convert(coalesce(span, values, from + 1), type, span);
        return once(
                span,
                convert(values.get(from), type, span),
                x -> {
                    BoundExpression there = new BoundExpression.IsNull(span, x, true);
                    return new Choice(span, List.of(new Option(there, x)), rest, type);
                });
    }

    private BoundExpression apply(Expression.Call call, Functions.BuiltIn function, Scope scope) {
        List<BoundExpression> arguments = bindAll(positional(call), scope);
        if (arguments.size() < function.least() || arguments.size() > function.most()) {
            String wanted =
                    function.least() == function.most()
                            ? String.valueOf(function.least())
                            : function.least() + " to " + function.most();
            binding.error(
                    call.span(),
                    "wrong-arguments",
                    call.name().get(0)
                            + " takes "
                            + wanted
                            + " arguments, not "
                            + arguments.size());
            return new Constant(call.span(), null, SqlType.NULL);
        }
        if (function.name().equals("GREATEST") || function.name().equals("LEAST")) {
            SqlType common = commonType(arguments, call.span());
            List<BoundExpression> alike =
                    arguments.stream().map(a -> convert(a, common, a.span())).toList();
            return new BoundExpression.Apply(call.span(), function, alike, common);
        }
        SqlType type =
                function.result().apply(arguments.stream().map(BoundExpression::type).toList());
        BoundExpression applied = new BoundExpression.Apply(call.span(), function, arguments, type);
        return function.name().equals("EXTRACT SECOND") && !isLong(arguments.get(0))
                ? convert(applied, new SqlType.Exact(8, 6), call.span())
                : applied;
    }

    /** Whether a moment is declared with more than six digits behind its seconds. */
    private static boolean isLong(BoundExpression moment) {
        boolean declared =
                moment instanceof BoundExpression.Read || moment instanceof BoundExpression.Field;
        return declared
                && (moment.type() instanceof SqlType.Timestamp stamp && stamp.precision() > 6
                        || moment.type() instanceof SqlType.Time time && time.precision() > 6);
    }

    private BoundExpression invoke(Expression.Call call, String key, Scope scope) {
        // Types matter only where there are several to choose from.
        boolean overloaded = binding.catalog.functions(key).size() > 1;
        List<SqlType> types = new ArrayList<>();
        for (Expression.Argument argument : call.arguments()) {
            types.add(overloaded ? quietly(argument.value(), scope) : SqlType.NULL);
        }
        Optional<RoutineSymbol> routine = binding.catalog.find(key, true, types);
        if (routine.isEmpty()) {
            RoutineSymbol one = binding.catalog.functions(key).get(0);
            binding.error(
                    call.span(),
                    "wrong-arguments",
                    "the arguments do not fit " + one.name(),
                    "it is " + one.signature());
            return new Constant(call.span(), null, one.returns().orElse(SqlType.NULL));
        }
        checkPublic(routine.get(), call.span());
        if (routine.get().returns().orElse(SqlType.NULL) instanceof SqlType.Table) {
            binding.error(
                    call.span(),
                    "wrong-type",
                    routine.get().name() + " gives rows, and one value is wanted here",
                    "ask for it: (SELECT … FROM TABLE (" + call.span().text() + ") AS t)");
            return new Constant(call.span(), null, SqlType.NULL);
        }
        List<Optional<Expression>> matched = matched(routine.get(), call.arguments(), call.span());
        List<BoundExpression> arguments = new ArrayList<>();
        for (int i = 0; i < matched.size(); i++) {
            ParameterSymbol parameter = routine.get().parameters().get(i);
            arguments.add(value(parameter, matched.get(i), scope, call.span()));
        }
        return new BoundExpression.Invoke(call.span(), routine.get(), arguments);
    }

    /** A routine that is private can be called only from its module. */
    void checkPublic(RoutineSymbol routine, Span call) {
        if (!routine.isPublic() && !routine.module().equals(binding.module)) {
            binding.error(
                    call,
                    "private-name",
                    routine.name() + " is private in its module",
                    "call a public routine of it");
        }
    }

    /** A type found without keeping the problems: they come when the value itself is bound. */
    private SqlType quietly(Expression e, Scope scope) {
        int before = binding.problems.size();
        int variables = binding.variables.size();
        SqlType type = bind(e, scope).type();
        while (binding.problems.size() > before) {
            binding.problems.remove(binding.problems.size() - 1);
        }
        while (binding.variables.size() > variables) {
            binding.variables.remove(binding.variables.size() - 1);
        }
        return type;
    }

    /** The value for a parameter: what was given, or its default. */
    BoundExpression value(
            ParameterSymbol parameter, Optional<Expression> given, Scope scope, Span call) {
        String where = "parameter " + parameter.name();
        if (given.isPresent()) {
            boolean byDefault =
                    given.get() instanceof Expression.Literal literal
                            && literal.kind() == Expression.LiteralKind.DEFAULT;
            if (!byDefault) {
                return stored(given.get(), parameter.type(), scope, where);
            }
        }
        return parameter
                .initial()
                .map(initial -> stored(initial, parameter.type(), Scope.EMPTY, where))
                .orElseGet(() -> new Constant(call, null, parameter.type()));
    }

    /** The arguments in the order of the parameters; empty where the default is to be taken. */
    List<Optional<Expression>> matched(
            RoutineSymbol routine, List<Expression.Argument> arguments, Span call) {
        return match(
                routine,
                arguments.stream().map(a -> new Given<>(a.name(), a.value(), a.span())).toList(),
                call);
    }

    /** An argument as given: by name, or by its place. */
    record Given<T>(Optional<Name> name, T value, Span span) {}

    /** The same for arguments of any kind. */
    <T> List<Optional<T>> match(RoutineSymbol routine, List<Given<T>> arguments, Span call) {
        List<Optional<T>> matched = new ArrayList<>();
        List<ParameterSymbol> parameters = routine.parameters();
        parameters.forEach(p -> matched.add(Optional.empty()));
        int position = 0;
        for (Given<T> argument : arguments) {
            int at = position++;
            if (argument.name().isPresent()) {
                Name name = argument.name().get();
                at = -1;
                for (int i = 0; i < parameters.size(); i++) {
                    at = parameters.get(i).name().is(name) ? i : at;
                }
                if (at < 0) {
                    binding.unknown(
                            name.span(),
                            "parameter of " + routine.name() + " called",
                            name.text(),
                            parameters.stream().map(p -> p.name().text()).toList());
                    continue;
                }
            }
            if (at >= parameters.size()) {
                binding.error(
                        argument.span(),
                        "wrong-arguments",
                        routine.name() + " takes " + parameters.size() + " arguments",
                        "it is " + routine.signature());
                return matched;
            }
            if (matched.get(at).isPresent()) {
                binding.error(
                        argument.span(),
                        "wrong-arguments",
                        "parameter " + parameters.get(at).name() + " is given twice");
            }
            matched.set(at, Optional.of(argument.value()));
        }
        for (int i = 0; i < parameters.size(); i++) {
            ParameterSymbol p = parameters.get(i);
            boolean wanted = p.mode().isInput() || !outMayBeLeftOut;
            if (matched.get(i).isEmpty() && p.initial().isEmpty() && wanted) {
                binding.error(
                        call,
                        "wrong-arguments",
                        "no value for parameter " + p.name() + " of " + routine.name(),
                        "it is " + routine.signature());
            }
        }
        return matched;
    }

    /** A function that only the database knows. */
    private BoundExpression ask(Expression.Call call, Scope scope) {
        List<BoundExpression> arguments = bindAll(positional(call), scope);
        StringBuilder name = new StringBuilder("SELECT ");
        for (Name part : call.name()) {
            name.append(part == call.name().get(0) ? "" : ".").append(part.written());
        }
        List<String> pieces = new ArrayList<>();
        pieces.add(name.append("(").toString());
        for (int i = 0; i < arguments.size(); i++) {
            pieces.add(i == arguments.size() - 1 ? ")" : ", ");
        }
        if (arguments.isEmpty()) {
            pieces.set(0, pieces.get(0) + ")");
        }
        SqlType type = SqlType.NULL;
        if (binding.describer.isPresent()) {
            Describer.Answer answer =
                    binding.describer
                            .get()
                            .describe(pieces, BoundSql.parameterTypes(pieces, arguments));
            if (answer instanceof Describer.Answer.Taken taken && !taken.columns().isEmpty()) {
                type = taken.columns().get(0).type();
            } else if (answer instanceof Describer.Answer.Refused refused) {
                List<String> known = new ArrayList<>();
                binding.catalog.routines().forEach(r -> known.add(r.name()));
                binding.unknown(
                        call.name().get(0).span(), "function", call.name().get(0).text(), known);
            }
        }
        BoundSql text =
                new BoundSql(
                        call.span(),
                        "SELECT",
                        true,
                        pieces,
                        arguments,
                        List.of(),
                        java.util.Set.of(),
                        SqlText.plain(call.span(), "SELECT"),
                        0);
        return new BoundExpression.DatabaseExpression(call.span(), text, type);
    }

    private BoundExpression query(Expression e, Scope scope) {
        if (e instanceof Expression.ScalarQuery scalar) {
            BoundSql text = sql.bind(scalar.query(), scope, "SELECT (", ")");
            SqlType type = text.columns().isEmpty() ? SqlType.NULL : text.columns().get(0).type();
            return new BoundExpression.DatabaseExpression(e.span(), text, type);
        }
        if (e instanceof Expression.Exists exists) {
            BoundSql text = sql.bind(exists.query(), scope, "SELECT EXISTS (", ")");
            return new BoundExpression.DatabaseExpression(e.span(), text, SqlType.BOOLEAN);
        }
        Expression.QueryComparison comparison = (Expression.QueryComparison) e;
        BoundExpression operand = bind(comparison.operand(), scope);
        BoundSql text =
                sql.bind(
                        comparison.query(),
                        scope,
                        List.of("SELECT ", " " + comparison.comparison() + " ("),
                        List.of(operand),
                        ")");
        return new BoundExpression.DatabaseExpression(e.span(), text, SqlType.BOOLEAN);
    }
}
