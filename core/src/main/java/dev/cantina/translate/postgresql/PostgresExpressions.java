package dev.cantina.translate.postgresql;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundSql;
import dev.cantina.binding.Variable;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.ServerNames;
import dev.cantina.database.postgresql.PostgresTables;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlText;
import dev.cantina.syntax.TextEdits;
import dev.cantina.translate.SourceForm;
import dev.cantina.translate.UnsupportedConstructException;
import dev.cantina.types.SqlType;
import java.util.Collections;
import java.util.HashSet;
import java.util.HexFormat;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Expressions and data statements as PostgreSQL reads them: the author's own text, with only those
 * stretches in other words that mean something else there.
 */
public final class PostgresExpressions {
    private final Catalog catalog;
    private final Optional<ModuleSymbol> module;
    private final ServerNames names = ServerNames.postgres();
    private final Optional<String> run;
    private final Optional<String> marks;

    /**
     * @param run what schemas are marked by that stand for a run alone, whose clock is Cantina's;
     *     empty for what is to stay
     */
    public PostgresExpressions(
            Catalog catalog, Optional<ModuleSymbol> module, Optional<String> run) {
        this(catalog, module, run, run);
    }

    /**
     * @param marks tells the marks of statements; empty for none
     */
    PostgresExpressions(
            Catalog catalog,
            Optional<ModuleSymbol> module,
            Optional<String> run,
            Optional<String> marks) {
        this.catalog = catalog;
        this.module = module;
        this.run = run;
        this.marks = marks;
    }

    Catalog catalog() {
        return catalog;
    }

    Optional<ModuleSymbol> module() {
        return module;
    }

    public ServerNames names() {
        return names;
    }

    /** An expression in PostgreSQL's words. */
    String of(BoundExpression e) {
        TextEdits edits = new TextEdits(e.span());
        edit(e, edits);
        return edits.text();
    }

    /** The same where the server would otherwise look for a function of another type. */
    String typed(BoundExpression e, SqlType type) {
        BoundExpression given = SourceForm.bare(e);
        if (given.type().equals(type) && !(given instanceof BoundExpression.Constant)) {
            return of(e);
        }
        String name = PostgresTypes.bare(type, e.span());
        if (given instanceof BoundExpression.Constant constant && constant.value() == null) {
            return "CAST(NULL AS " + name + ")";
        }
        if (given instanceof BoundExpression.Constant
                && type.equals(SqlType.INTEGER)
                && given.type() instanceof SqlType.Integral) {
            return of(e);
        }
        String text = of(e);
        if (type instanceof SqlType.Integral && given.type() instanceof SqlType.Approximate) {
            text = "CAST(" + text + " AS numeric)";
        } else if (type instanceof SqlType.Text && given.type() instanceof SqlType.Bool) {
            text = "upper(CAST(" + text + " AS text))";
        }
        return "CAST(" + text + " AS " + name + ")";
    }

    /** What is worked out once, by the variable that holds it and that nobody declared. */
    private final Map<Variable, BoundExpression> held = new IdentityHashMap<>();

    /** What such a variable stands for. */
    BoundExpression held(BoundExpression bare) {
        return bare instanceof BoundExpression.Read read && held.containsKey(read.variable())
                ? SourceForm.bare(held.get(read.variable()))
                : bare;
    }

    void edit(BoundExpression e, TextEdits edits) {
        if (e instanceof BoundExpression.Let let) {
            held.put(let.variable(), let.value());
        }
        PostgresDigits.missing(e)
                .ifPresent(
                        digits -> {
                            if (shown) {
                                edits.aroundOnce(e.span(), "ROUND(", ", " + digits + ")");
                            }
                        });
        if (!(e instanceof BoundExpression.Convert) && SourceForm.isMade(e)) {
            edits.put(e.span(), SourceForm.made(e, this::wide, this::name));
        } else if (e instanceof BoundExpression.Constant constant) {
            constant(constant, edits);
        } else if (e instanceof BoundExpression.Read read) {
            if (!read.variable().isHidden() && !isRowStar(read.span())) {
                edits.put(read.span(), read(read));
            }
        } else if (e instanceof BoundExpression.Field field) {
            field(field, edits);
        } else if (e instanceof BoundExpression.ReadShared shared) {
            edits.put(shared.span(), shared(shared.module(), shared.index(), shared.span()));
        } else if (e instanceof BoundExpression.Element element) {
            edits.put(
                    element.span(),
                    "cantina.element(" + of(element.array()) + ", " + of(element.index()) + ")");
        } else if (e instanceof BoundExpression.Convert convert) {
            new PostgresConversions(this).convert(convert, edits);
        } else if (e instanceof BoundExpression.Arithmetic sum) {
            arithmetic(sum, edits);
        } else if (e instanceof BoundExpression.Negate negate) {
            negated(negate, edits);
        } else if (e instanceof BoundExpression.Concatenate both) {
            new PostgresTexts(this).concatenate(both, edits);
        } else if (e instanceof BoundExpression.Compare compare) {
            new PostgresTexts(this).compare(compare, edits);
        } else if (e instanceof BoundExpression.IsTruth is && is.truth().isEmpty()) {
            edit(is.operand(), edits);
        } else if (e instanceof BoundExpression.Apply apply) {
            new PostgresBuiltIns(this).apply(apply, edits);
        } else if (e instanceof BoundExpression.CurrentDatetime moment) {
            edits.put(moment.span(), moment(moment));
        } else if (e instanceof BoundExpression.Invoke invoke) {
            edits.put(invoke.span(), invoke(invoke));
        } else if (e instanceof BoundExpression.DatabaseExpression ask) {
            new PostgresSql(this).ask(ask, edits);
        } else if (e instanceof BoundExpression.RowConstructor array
                && array.type() instanceof SqlType.Array
                && array.parts().isEmpty()) {
            edits.put(
                    array.span(),
                    "CAST('{}' AS " + PostgresTypes.of(array.type(), array.span()) + ")");
        } else if (e instanceof BoundExpression.CursorRow) {
            return;
        } else if (isMixedNullif(e)) {
            // The server gives it the type that both have in common.
            String type = PostgresTypes.of(e.type(), e.span());
            edits.around(e.span(), "CAST(", " AS " + type + ")");
            parts(e, edits);
        } else if (e instanceof BoundExpression.Let let) {
            // A comparison may want the value in other words than it has by itself.
            edit(let.body(), edits);
            edit(let.value(), edits);
        } else {
            if (e instanceof BoundExpression.Like like) {
                like(like, edits);
            }
            parts(e, edits);
        }
    }

    /** NULLIF of a number of one type and one of another, of which it keeps the first. */
    private static boolean isMixedNullif(BoundExpression e) {
        BoundExpression body = e instanceof BoundExpression.Let let ? let.body() : e;
        boolean written =
                e.type().isNumeric() && e.span().text().regionMatches(true, 0, "NULLIF", 0, 6);
        boolean mixed =
                body instanceof BoundExpression.Choice choice
                        && choice.span().equals(e.span())
                        && choice.options().size() == 1
                        && choice.options().get(0).condition()
                                instanceof BoundExpression.Compare compare
                        && !SourceForm.bare(compare.right()).type().equals(e.type());
        return written && mixed;
    }

    /** Without ESCAPE nothing is escaped; and what is escaped must be there to be. */
    private void like(BoundExpression.Like like, TextEdits edits) {
        BoundExpression pattern = SourceForm.bare(like.pattern());
        boolean plain =
                pattern instanceof BoundExpression.Constant constant
                        && !String.valueOf(constant.value()).contains("\\");
        if (like.escape().isEmpty()) {
            if (!plain) {
                edits.around(pattern.span(), "", " ESCAPE ''");
            }
        } else {
            String escape = of(like.escape().get());
            edits.put(pattern.span(), "cantina.pattern(" + text(pattern) + ", " + escape + ")");
        }
    }

    void parts(BoundExpression e, TextEdits edits) {
        e.parts().forEach(part -> edit(part, edits));
    }

    private static boolean isRowStar(Span span) {
        return span.text().endsWith("*");
    }

    private void constant(BoundExpression.Constant constant, TextEdits edits) {
        Span span = constant.span();
        String text = span.text();
        if (constant.type() instanceof SqlType.Bytes && text.regionMatches(true, 0, "X'", 0, 2)) {
            // The value and not the text: a type with a length has filled it up.
            String hex =
                    constant.value() instanceof byte[] bytes
                            ? HexFormat.of().formatHex(bytes)
                            : text.substring(2, text.length() - 1);
            edits.put(span, "'\\x" + hex + "'::bytea");
        } else if (text.equalsIgnoreCase("UNKNOWN")) {
            edits.put(span, "CAST(NULL AS boolean)");
        } else if (constant.type() instanceof SqlType.Approximate
                && text.matches("(?i)[-+]?[0-9.]+E[-+]?[0-9]+")) {
            edits.put(span, text + "::double precision");
        } else if (constant.type() instanceof SqlType.Timestamp stamp && stamp.zone()
                || constant.type() instanceof SqlType.Time time && time.zone()) {
            // Without these words the server drops the zone that stands in the literal.
            edits.put(span, text.replaceFirst("\\w+", "$0 WITH TIME ZONE"));
        }
    }

    private Map<Variable, String> shadowing = Map.of();

    /** Gives names to the variables that would hide others of their name. */
    void name(Map<Variable, String> own) {
        shadowing = own;
    }

    /** A variable's name. */
    String name(Variable variable) {
        String own = shadowing.get(variable);
        return own == null ? names.of(variable) : own;
    }

    private String read(BoundExpression.Read read) {
        String text = read.span().text();
        Variable variable = read.variable();
        if (variable.kind() == Variable.Kind.OLD_ROW) {
            return "OLD";
        }
        if (variable.kind() == Variable.Kind.NEW_ROW) {
            return "NEW";
        }
        if (shadowing.containsKey(variable)) {
            return shadowing.get(variable);
        }
        boolean hidden =
                !text.contains(".") && rows.contains(variable.name().toUpperCase(Locale.ROOT));
        if (hidden) {
            String label =
                    qualifier
                            .apply(variable)
                            .orElseThrow(
                                    () ->
                                            new UnsupportedConstructException(
                                                    read.span(),
                                                    "a table of this statement has the name of the"
                                                            + " variable "
                                                            + text));
            return label + "." + names.of(variable);
        }
        return text.matches("\"[^\"]*\"") ? names.of(variable) : dotted(text);
    }

    /** A name with its dots, each part written as the server wants it. */
    private String dotted(String text) {
        if (text.contains("\"")) {
            return text;
        }
        StringBuilder name = new StringBuilder();
        for (String part : text.split("\\s*\\.\\s*")) {
            name.append(name.length() == 0 ? "" : ".").append(names.of(part));
        }
        return name.toString();
    }

    private void field(BoundExpression.Field field, TextEdits edits) {
        if (isRowStar(field.span())) {
            return;
        }
        if (!(field.row() instanceof BoundExpression.Read read)) {
            if (field.row() instanceof BoundExpression.Element) {
                throw new UnsupportedConstructException(
                        field.span(), "rows in arrays are not taken to PostgreSQL");
            }
            edits.put(field.span(), dotted(field.span().text()));
            return;
        }
        SqlType.Row type = (SqlType.Row) read.variable().type();
        String column = names.of(type.fields().get(field.index()).name());
        String row =
                switch (read.variable().kind()) {
                    case OLD_ROW -> "OLD";
                    case NEW_ROW -> "NEW";
                    default -> name(read.variable());
                };
        edits.put(field.span(), row + "." + column);
    }

    /** Where a module's variable lives: in a setting of the session. */
    public static String setting(ModuleSymbol module, int index) {
        return (module.name() + "." + module.variables().get(index).name().text())
                .toLowerCase(Locale.ROOT);
    }

    private String shared(ModuleSymbol of, int index, Span span) {
        ModuleSymbol.Shared variable = of.variables().get(index);
        String function = schema(of) + "." + names.of(variable.name());
        if (variable.type() instanceof SqlType.Array || variable.type() instanceof SqlType.Row) {
            throw new UnsupportedConstructException(
                    span, "a module's variable that is an array or a row");
        }
        return function + "()";
    }

    String schema(ModuleSymbol of) {
        return run.isPresent() ? names.of(of.name() + run.get()) : names.of(of.tree().name());
    }

    private void arithmetic(BoundExpression.Arithmetic sum, TextEdits edits) {
        BoundExpression left = SourceForm.bare(sum.left());
        BoundExpression right = SourceForm.bare(sum.right());
        boolean whole =
                left.type() instanceof SqlType.Integral && right.type() instanceof SqlType.Integral;
        boolean wide = isWide(left) || isWide(right) || narrow.contains(sum);
        // Whole numbers are worked out as BIGINT, so that no result on the way overflows.
        if (whole && !wide) {
            if (isLeaf(left)) {
                edits.around(left.span(), "", "::bigint");
            } else if (isLeaf(right)) {
                edits.around(right.span(), "", "::bigint");
            } else {
                edits.put(left.span(), "CAST(" + of(left) + " AS bigint)");
            }
        }
        parts(sum, edits);
    }

    private void negated(BoundExpression.Negate negate, TextEdits edits) {
        BoundExpression operand = SourceForm.bare(negate.operand());
        boolean small =
                operand.type() instanceof SqlType.Integral
                        && !operand.type().equals(SqlType.BIGINT)
                        && !(operand instanceof BoundExpression.Constant)
                        && !narrow.contains(negate);
        if (small && isLeaf(operand)) {
            edits.around(operand.span(), "", "::bigint");
        } else if (small) {
            edits.put(operand.span(), wide(operand));
            return;
        }
        parts(negate, edits);
    }

    /** Whether it is a BIGINT there too: -2147483648 is an integer. */
    private static boolean isWide(BoundExpression e) {
        boolean small =
                e instanceof BoundExpression.Constant constant
                        && constant.value() instanceof Long number
                        && number == Integer.MIN_VALUE;
        return e.type().equals(SqlType.BIGINT) && !small;
    }

    private String wide(BoundExpression e) {
        return "CAST(" + of(e) + " AS bigint)";
    }

    private static boolean isLeaf(BoundExpression e) {
        return e instanceof BoundExpression.Read
                || e instanceof BoundExpression.Constant
                || e instanceof BoundExpression.Invoke;
    }

    /** Sums and the like for a variable of their own size, which overflows where they would. */
    private final Set<BoundExpression> narrow = Collections.newSetFromMap(new IdentityHashMap<>());

    /** A value as text, as {@code CAST(… AS VARCHAR)} gives it. */
    String text(BoundExpression value) {
        boolean outer = shown;
        shown = true;
        try {
            return new PostgresTexts(this).shown(value);
        } finally {
            shown = outer;
        }
    }

    /** An expression, all of whose digits will be seen where that is so. */
    String digits(BoundExpression e, boolean seen) {
        boolean outer = shown;
        shown |= seen;
        String text = of(e);
        shown = outer;
        return text;
    }

    /** Lets a sum stay of the size of its values. */
    void narrow(BoundExpression sum) {
        narrow.add(sum);
    }

    /** Whether the digits of what is said now will be seen. */
    private boolean shown;

    private String moment(BoundExpression.CurrentDatetime moment) {
        return run.isPresent() && !moment.name().equals("CURRENT_USER")
                ? PostgresTables.moment(moment.name())
                : moment.span().text();
    }

    private String invoke(BoundExpression.Invoke invoke) {
        StringBuilder call = new StringBuilder(callee(invoke.routine())).append("(");
        List<BoundExpression> arguments = invoke.arguments();
        for (int i = 0; i < arguments.size(); i++) {
            SqlType type = invoke.routine().parameters().get(i).type();
            call.append(i == 0 ? "" : ", ").append(typed(arguments.get(i), type));
        }
        return call.append(")").toString();
    }

    public String callee(RoutineSymbol routine) {
        String name = names.of(routine.tree().name());
        return routine.module().map(m -> schema(m) + "." + name).orElse(name);
    }

    private java.util.function.Function<Variable, Optional<String>> qualifier =
            v -> Optional.empty();
    private Set<String> rows = Set.of();

    /** Says by what label a variable can be named that a statement's table would hide. */
    void qualifiedBy(java.util.function.Function<Variable, Optional<String>> labels) {
        qualifier = labels;
    }

    /** What tells the marks of statements; empty for none. */
    Optional<String> marks() {
        return marks;
    }

    /** What means a row, or something of a row, in a statement: its tables, and hidden columns. */
    Set<String> rowNames(BoundSql sql) {
        Set<String> found = new HashSet<>();
        rowNames(sql.source().scope(), found);
        if (!found.isEmpty()) {
            found.addAll(List.of("CTID", "TABLEOID", "XMIN", "XMAX", "CMIN", "CMAX"));
        }
        return found;
    }

    private static void rowNames(SqlText.Scope scope, Set<String> into) {
        scope.tables().forEach(t -> t.known().ifPresent(n -> into.add(n.key())));
        scope.children().forEach(child -> rowNames(child, into));
    }

    /** Says something of a statement, in which some names mean rows. */
    void among(Set<String> names, Runnable what) {
        Set<String> outer = rows;
        rows = names;
        what.run();
        rows = outer;
    }

    /** A data statement in PostgreSQL's words. */
    String of(BoundSql sql) {
        return new PostgresSql(this).of(sql);
    }

    /** The same, with its INTO clause naming other variables. */
    String of(BoundSql sql, String into) {
        return new PostgresSql(this).of(sql, into);
    }
}
