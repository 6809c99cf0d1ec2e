package dev.cantina.binding;

import dev.cantina.binding.BoundExpression.Constant;
import dev.cantina.binding.BoundExpression.Convert;
import dev.cantina.binding.BoundExpression.ConvertKind;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.syntax.EditPlaces;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.Expression.Operator;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Span;
import dev.cantina.types.ConditionException;
import dev.cantina.types.Conversion;
import dev.cantina.types.SqlType;
import dev.cantina.types.SqlType.Shape;
import dev.cantina.types.TypeRules;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Binds expressions outside SQL: in them there are only variables (language profile, "Names"). */
public final class ExpressionBinder {
    private final ChoiceBinder choices;
    private final LiteralBinder literals;
    private final FunctionBinder functions;

    /** Advice: a constant that its target can't hold. */
    public static final String NEVER_FITS = "never-fits";

    private final Binding binding;
    private final SqlBinder sql;
    private final DatetimeBinder moments;

    ExpressionBinder(Binding binding, SqlBinder sql) {
        this.binding = binding;
        this.sql = sql;
        this.moments = new DatetimeBinder(binding);
        this.functions = new FunctionBinder(this, binding, moments);
        this.choices = new ChoiceBinder(this, binding);
        this.literals = new LiteralBinder(this, binding);
    }

    /** Binds what chooses between values. */
    ChoiceBinder choices() {
        return choices;
    }

    private boolean outMayBeLeftOut;

    /** In a script a CALL need not take what it is given. */
    void allowLeavingOut() {
        outMayBeLeftOut = true;
    }

    /** An expression of any type. */
    BoundExpression bind(Expression e, Scope scope) {
        if (e instanceof Expression.Literal literal) {
            return literals.literal(literal);
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
            return choices.between(between, scope);
        }
        if (e instanceof Expression.InList in) {
            return choices.in(in, scope);
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
            return choices.choice(choice, scope);
        }
        if (e instanceof Expression.Cast cast) {
            return cast(bind(cast.operand(), scope), binding.resolve(cast.type()), e.span());
        }
        if (e instanceof Expression.Call call) {
            return functions.call(call, scope);
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
            SqlType type = choices.commonType(parts, e.span());
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

    List<BoundExpression> bindAll(List<Expression> expressions, Scope scope) {
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
    BoundExpression convert(BoundExpression e, SqlType type, Span span) {
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

    private BoundExpression reference(Expression.Reference reference, Scope scope) {
        List<Name> names = reference.names();
        Optional<BoundExpression> found =
                chain(reference.span(), names, scope).or(() -> shared(reference.span(), names));
        if (found.isPresent()) {
            binding.means(names, found.get());
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
        binding.error(notNumeric(e, sign));
        return new Constant(e.span(), null, SqlType.BIGINT);
    }

    private static Problem notNumeric(BoundExpression e, String sign) {
        boolean joins = e.type() instanceof SqlType.Text && sign.equals("+");
        String cast = "CAST(" + e.span().text() + " AS DECIMAL(18, 4))";
        Problem problem =
                Problem.error(
                        e.span(),
                        "wrong-type",
                        "'" + sign + "' takes numbers, and this is of type " + e.type().sql(),
                        joins ? "texts are put together with ||" : "write " + cast);
        return joins || !(e.type() instanceof SqlType.Text)
                ? problem
                : problem.with(e.span(), cast);
    }

    private BoundExpression arithmetic(
            Span span, Operator operator, BoundExpression left, BoundExpression right) {
        if (DatetimeBinder.concerns(left.type()) || DatetimeBinder.concerns(right.type())) {
            return moments.arithmetic(span, operator, left, right);
        }
        if (left.type() instanceof SqlType.Text
                && right.type() instanceof SqlType.Text
                && operator == Operator.ADD) {
            Span sign = span.source().span(left.span().end(), right.span().start());
            binding.error(notNumeric(left, "+").with(EditPlaces.words(sign, "+"), "||"));
            return new Constant(span, null, SqlType.BIGINT);
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
                    span,
                    operator,
                    convert(left, type, left.span()),
                    convert(right, type, right.span()),
                    false);
        }
        boolean fixed = isFixed(left.type()) || isFixed(right.type());
        return new BoundExpression.Compare(span, operator, left, right, fixed);
    }

    private static boolean isFixed(SqlType type) {
        return type instanceof SqlType.Text text && text.shape() == Shape.FIXED;
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

    /** A type found without keeping the problems: they come when the value itself is bound. */
    SqlType quietly(Expression e, Scope scope) {
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
                binding.means(name.span(), new NamedUse.Meaning.OfArgument(routine, at));
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
