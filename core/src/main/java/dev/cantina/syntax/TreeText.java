package dev.cantina.syntax;

import dev.cantina.syntax.Expression.LiteralKind;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * A tree as text again: read once more it gives the same tree. Brackets stand around everything
 * that could need them, and SQL stands as its author wrote it.
 */
public final class TreeText {
    private final StringBuilder text = new StringBuilder();

    private TreeText() {}

    /** All units of a file, each with its {@code ;}. */
    public static String of(ParsedFile file) {
        TreeText printer = new TreeText();
        file.units().forEach(unit -> printer.unit(unit).add(";\n"));
        return printer.text.toString();
    }

    public static String of(Expression expression) {
        return new TreeText().expression(expression).text.toString();
    }

    private TreeText add(String words) {
        text.append(words);
        return this;
    }

    private TreeText unit(Unit unit) {
        if (unit instanceof Unit.Routine routine) {
            return add("CREATE ").routine(routine);
        }
        if (unit instanceof Unit.Module module) {
            return module(module);
        }
        if (unit instanceof Unit.Trigger trigger) {
            return trigger(trigger);
        }
        return statement(((Unit.Step) unit).statement());
    }

    private TreeText module(Unit.Module module) {
        add("CREATE MODULE " + module.name().written() + "\n");
        for (Declaration declaration : module.declarations()) {
            boolean privateNames =
                    declaration instanceof Declaration.Variables variables
                            && module.privateNames().contains(variables.names().get(0).key());
            add(privateNames ? "PRIVATE " : "").declaration(declaration).add(";\n");
        }
        for (Unit.Routine routine : module.routines()) {
            boolean privateNames = module.privateNames().contains(routine.name().key());
            add(privateNames ? "PRIVATE " : "").routine(routine).add(";\n");
        }
        return add("END MODULE");
    }

    private TreeText routine(Unit.Routine routine) {
        add(routine.kind() + " " + routine.name().written() + " (");
        String between = "";
        for (Unit.Parameter parameter : routine.parameters()) {
            add(between);
            if (routine.kind() == Unit.RoutineKind.PROCEDURE) {
                add(parameter.mode() + " ");
            }
            add(parameter.name().written() + " ").type(parameter.type());
            parameter.initial().ifPresent(e -> add(" DEFAULT ").expression(e));
            between = ", ";
        }
        add(")");
        routine.returns().ifPresent(type -> add(" RETURNS ").type(type));
        characteristics(routine.characteristics());
        routine.body().ifPresent(body -> add("\n").statement(body));
        return this;
    }

    private void characteristics(Unit.Characteristics says) {
        add(" LANGUAGE " + says.language());
        says.deterministic().ifPresent(is -> add(is ? " DETERMINISTIC" : " NOT DETERMINISTIC"));
        says.access().ifPresent(access -> add(" " + access.name().replace('_', ' ')));
        add(says.resultSets() > 0 ? " DYNAMIC RESULT SETS " + says.resultSets() : "");
        add(says.nullOnNull() ? " RETURNS NULL ON NULL INPUT" : "");
        says.rights().ifPresent(whose -> add(" SQL SECURITY " + whose));
        says.comment().ifPresent(text -> add(" COMMENT " + quoted(text)));
        says.specific().ifPresent(name -> add(" SPECIFIC " + name.written()));
        says.external().ifPresent(name -> add(" EXTERNAL NAME " + quoted(name)));
    }

    private TreeText trigger(Unit.Trigger trigger) {
        add("CREATE TRIGGER " + trigger.name().written() + " ");
        add(trigger.timing().name().replace('_', ' ') + " " + trigger.event());
        if (!trigger.columns().isEmpty()) {
            add(" OF " + names(trigger.columns(), ", "));
        }
        add(" ON " + trigger.table().written());
        StringBuilder names = new StringBuilder();
        trigger.oldRow().ifPresent(n -> names.append(" OLD ROW AS ").append(n.written()));
        trigger.newRow().ifPresent(n -> names.append(" NEW ROW AS ").append(n.written()));
        trigger.oldTable().ifPresent(n -> names.append(" OLD TABLE AS ").append(n.written()));
        trigger.newTable().ifPresent(n -> names.append(" NEW TABLE AS ").append(n.written()));
        add(names.length() > 0 ? " REFERENCING" + names : "");
        add(trigger.eachRow() ? " FOR EACH ROW" : " FOR EACH STATEMENT");
        trigger.when().ifPresent(e -> add(" WHEN (").expression(e).add(")"));
        return add("\n").statement(trigger.body());
    }

    private TreeText type(TypeSyntax type) {
        if (type instanceof TypeSyntax.Array array) {
            return type(array.element())
                    .add(" ARRAY" + array.maximum().map(n -> "[" + n + "]").orElse(""));
        }
        if (type instanceof TypeSyntax.Row row) {
            return fields("ROW", row.fields());
        }
        if (type instanceof TypeSyntax.Table table) {
            return fields("TABLE", table.columns());
        }
        if (type instanceof TypeSyntax.Like like) {
            add("LIKE " + like.table().written());
            like.column().ifPresent(column -> add("." + column.written()));
            return this;
        }
        TypeSyntax.Predefined predefined = (TypeSyntax.Predefined) type;
        String zone = " WITH TIME ZONE";
        boolean zoned = predefined.name().endsWith(zone);
        String name =
                zoned
                        ? predefined.name().substring(0, predefined.name().length() - zone.length())
                        : predefined.name();
        add(name);
        if (!predefined.arguments().isEmpty()) {
            add(
                    predefined.arguments().stream()
                            .map(String::valueOf)
                            .collect(Collectors.joining(", ", "(", ")")));
        }
        return add(zoned ? zone : "");
    }

    private TreeText fields(String word, List<TypeSyntax.Field> fields) {
        add(word + " (");
        String between = "";
        for (TypeSyntax.Field field : fields) {
            add(between + field.name().written() + " ").type(field.type());
            between = ", ";
        }
        return add(")");
    }

    private TreeText declaration(Declaration declaration) {
        add("DECLARE ");
        if (declaration instanceof Declaration.Variables variables) {
            add(names(variables.names(), ", ") + (variables.constant() ? " CONSTANT " : " "));
            type(variables.type());
            variables.initial().ifPresent(e -> add(" DEFAULT ").expression(e));
        } else if (declaration instanceof Declaration.Condition condition) {
            add(condition.name().written() + " CONDITION");
            condition.sqlstate().ifPresent(state -> add(" FOR SQLSTATE '" + state + "'"));
        } else if (declaration instanceof Declaration.Cursor cursor) {
            add(cursor.name().written() + (cursor.scroll() ? " SCROLL" : "") + " CURSOR");
            if (cursor.withHold()) {
                add(" WITH HOLD");
            }
            add(cursor.withReturn() ? " WITH RETURN FOR " : " FOR ");
            cursor.query().ifPresent(this::sql);
            cursor.statement().ifPresent(name -> add(name.written()));
        } else if (declaration instanceof Declaration.TemporaryTable table) {
            add("LOCAL TEMPORARY TABLE " + table.name().written() + " ");
            add(table.definition().text());
            add(table.preserve() ? " ON COMMIT PRESERVE ROWS" : "");
        } else {
            handler((Declaration.Handler) declaration);
        }
        return this;
    }

    private void handler(Declaration.Handler handler) {
        add(handler.action() + " HANDLER FOR ");
        add(
                handler.conditions().stream()
                        .map(
                                c ->
                                        switch (c.kind()) {
                                            case SQLSTATE -> "SQLSTATE '" + c.text() + "'";
                                            case NAMED -> c.span().text();
                                            case NOT_FOUND -> "NOT FOUND";
                                            default -> c.kind().name();
                                        })
                        .collect(Collectors.joining(", ")));
        add("\n").statement(handler.body());
    }

    private TreeText sql(SqlText sql) {
        return add(sql.span().text());
    }

    private TreeText statements(List<Statement> statements) {
        statements.forEach(s -> statement(s).add(";\n"));
        return this;
    }

    private TreeText label(Optional<Name> label) {
        label.ifPresent(name -> add(name.written() + ": "));
        return this;
    }

    private TreeText statement(Statement s) {
        if (s instanceof Statement.Compound block) {
            label(block.label()).add(block.atomic() ? "BEGIN ATOMIC\n" : "BEGIN\n");
            block.declarations().forEach(d -> declaration(d).add(";\n"));
            return statements(block.statements()).add("END");
        }
        if (s instanceof Statement.While loop) {
            label(loop.label()).add("WHILE ").expression(loop.condition()).add(" DO\n");
            return statements(loop.statements()).add("END WHILE");
        }
        if (s instanceof Statement.Repeat loop) {
            label(loop.label()).add("REPEAT\n").statements(loop.statements());
            return add("UNTIL ").expression(loop.condition()).add(" END REPEAT");
        }
        if (s instanceof Statement.Loop loop) {
            return label(loop.label()).add("LOOP\n").statements(loop.statements()).add("END LOOP");
        }
        if (s instanceof Statement.For loop) {
            label(loop.label()).add("FOR " + loop.row().written() + " AS ");
            loop.cursor().ifPresent(name -> add(name.written() + " CURSOR FOR "));
            return sql(loop.query()).add(" DO\n").statements(loop.statements()).add("END FOR");
        }
        if (s instanceof Statement.If choice) {
            branches(choice.branches(), "IF ", "ELSEIF ");
            return otherwise(choice.otherwise()).add("END IF");
        }
        if (s instanceof Statement.Case choice) {
            add("CASE ");
            choice.operand().ifPresent(e -> expression(e).add(" "));
            branches(choice.branches(), "WHEN ", "WHEN ");
            return otherwise(choice.otherwise()).add("END CASE");
        }
        return plain(s);
    }

    private void branches(List<Statement.Branch> branches, String first, String next) {
        String word = first;
        for (Statement.Branch branch : branches) {
            add(word).expression(branch.condition()).add(" THEN\n");
            statements(branch.statements());
            word = next;
        }
    }

    private TreeText otherwise(Optional<List<Statement>> statements) {
        statements.ifPresent(list -> add("ELSE\n").statements(list));
        return this;
    }

    private TreeText plain(Statement s) {
        if (s instanceof Statement.Set set) {
            return add("SET ").target(set.target()).add(" = ").expression(set.value());
        }
        if (s instanceof Statement.SetSeveral several) {
            add("SET (").targets(several.targets()).add(") = (");
            several.query().ifPresent(this::sql);
            return expressions(several.values()).add(")");
        }
        if (s instanceof Statement.SelectInto into) {
            return sql(into.query());
        }
        if (s instanceof Statement.Data data) {
            return sql(data.sql());
        }
        if (s instanceof Statement.Leave leave) {
            return add("LEAVE " + leave.label().written());
        }
        if (s instanceof Statement.Iterate iterate) {
            return add("ITERATE " + iterate.label().written());
        }
        if (s instanceof Statement.Call call) {
            return add("CALL " + names(call.name(), ".") + "(")
                    .arguments(call.arguments())
                    .add(")");
        }
        if (s instanceof Statement.Return give) {
            add("RETURN");
            give.value().ifPresent(e -> add(" ").expression(e));
            return this;
        }
        if (s instanceof Statement.ReturnTable give) {
            return add("RETURN TABLE (").sql(give.query()).add(")");
        }
        if (s instanceof Statement.Signal signal) {
            return signal(signal);
        }
        if (s instanceof Statement.GetDiagnostics get) {
            return diagnostics(get);
        }
        if (s instanceof Statement.Transaction transaction) {
            return transaction(transaction);
        }
        if (s instanceof Statement.Report report) {
            return add("REPORT ").expressions(report.items());
        }
        return cursorOrDynamic(s);
    }

    private TreeText signal(Statement.Signal signal) {
        add(signal.resignal() ? "RESIGNAL" : "SIGNAL");
        signal.sqlstate().ifPresent(state -> add(" SQLSTATE '" + state + "'"));
        signal.condition().ifPresent(name -> add(" " + name.written()));
        String between = " SET ";
        for (Statement.SignalItem item : signal.items()) {
            add(between + item.item().written() + " = ").expression(item.value());
            between = ", ";
        }
        return this;
    }

    private TreeText diagnostics(Statement.GetDiagnostics get) {
        add(get.stacked() ? "GET STACKED DIAGNOSTICS " : "GET DIAGNOSTICS ");
        get.condition().ifPresent(e -> add("CONDITION ").expression(e).add(" "));
        String between = "";
        for (Statement.DiagnosticsItem item : get.items()) {
            add(between).target(item.target()).add(" = " + item.item().written());
            between = ", ";
        }
        return this;
    }

    private TreeText transaction(Statement.Transaction t) {
        String name = t.savepoint().map(Name::written).orElse("");
        String chain = t.chain() ? " AND CHAIN" : "";
        return add(
                switch (t.verb()) {
                    case START -> "START TRANSACTION " + t.modes();
                    case SET -> "SET TRANSACTION " + t.modes();
                    case COMMIT -> "COMMIT" + chain;
                    case ROLLBACK -> "ROLLBACK" + chain;
                    case SAVEPOINT -> "SAVEPOINT " + name;
                    case ROLLBACK_TO -> "ROLLBACK TO SAVEPOINT " + name;
                    case RELEASE -> "RELEASE SAVEPOINT " + name;
                });
    }

    private TreeText cursorOrDynamic(Statement s) {
        if (s instanceof Statement.Open open) {
            return add("OPEN " + open.cursor().written()).using(open.using());
        }
        if (s instanceof Statement.Fetch fetch) {
            add("FETCH " + fetch.orientation());
            fetch.offset().ifPresent(e -> add(" ").expression(e));
            return add(" FROM " + fetch.cursor().written() + " INTO ").targets(fetch.targets());
        }
        if (s instanceof Statement.Close close) {
            return add("CLOSE " + close.cursor().written());
        }
        if (s instanceof Statement.Prepare prepare) {
            return add("PREPARE " + prepare.name().written() + " FROM ").expression(prepare.text());
        }
        if (s instanceof Statement.Execute execute) {
            add("EXECUTE " + execute.name().written());
            if (!execute.targets().isEmpty()) {
                add(" INTO ").targets(execute.targets());
            }
            return using(execute.using());
        }
        if (s instanceof Statement.ExecuteImmediate immediate) {
            return add("EXECUTE IMMEDIATE ").expression(immediate.text());
        }
        return add("DEALLOCATE PREPARE " + ((Statement.Deallocate) s).name().written());
    }

    private TreeText using(List<Expression> values) {
        return values.isEmpty() ? this : add(" USING ").expressions(values);
    }

    private TreeText targets(List<Statement.Target> targets) {
        String between = "";
        for (Statement.Target target : targets) {
            add(between).target(target);
            between = ", ";
        }
        return this;
    }

    private TreeText target(Statement.Target target) {
        add(names(target.names(), "."));
        target.index().ifPresent(e -> add("[").expression(e).add("]"));
        target.field().ifPresent(name -> add("." + name.written()));
        return this;
    }

    private static String names(List<Name> names, String between) {
        return names.stream().map(Name::written).collect(Collectors.joining(between));
    }

    private static String quoted(String value) {
        return "'" + value.replace("'", "''") + "'";
    }

    private TreeText expressions(List<Expression> values) {
        String between = "";
        for (Expression value : values) {
            add(between).expression(value);
            between = ", ";
        }
        return this;
    }

    private TreeText arguments(List<Expression.Argument> arguments) {
        String between = "";
        for (Expression.Argument argument : arguments) {
            add(between);
            argument.name().ifPresent(name -> add(name.written() + " => "));
            expression(argument.value());
            between = ", ";
        }
        return this;
    }

    /** In brackets unless it is one word, a call, or in brackets anyway. */
    private TreeText operand(Expression e) {
        boolean closed =
                e instanceof Expression.Literal
                        || e instanceof Expression.Reference
                        || e instanceof Expression.Call call && !call.key().equals("OVERLAPS")
                        || e instanceof Expression.Element
                        || e instanceof Expression.FieldOf
                        || e instanceof Expression.Cast
                        || e instanceof Expression.Case
                        || e instanceof Expression.ScalarQuery
                        || e instanceof Expression.RowValue
                        || e instanceof Expression.ArrayValue;
        return closed ? expression(e) : add("(").expression(e).add(")");
    }

    private TreeText expression(Expression e) {
        if (e instanceof Expression.Literal literal) {
            return literal(literal);
        }
        if (e instanceof Expression.Reference reference) {
            return add(names(reference.names(), "."));
        }
        if (e instanceof Expression.Negation negation) {
            return add("- ").operand(negation.operand());
        }
        if (e instanceof Expression.Not not) {
            return add("NOT ").operand(not.operand());
        }
        if (e instanceof Expression.Binary binary) {
            return operand(binary.left())
                    .add(" " + binary.operator().sign() + " ")
                    .operand(binary.right());
        }
        if (e instanceof Expression.Call call) {
            return call(call);
        }
        if (e instanceof Expression.Case choice) {
            add("CASE ");
            choice.operand().ifPresent(o -> expression(o).add(" "));
            for (Expression.When when : choice.branches()) {
                add("WHEN ").expression(when.when()).add(" THEN ").expression(when.then()).add(" ");
            }
            choice.otherwise().ifPresent(o -> add("ELSE ").expression(o).add(" "));
            return add("END");
        }
        if (e instanceof Expression.Cast cast) {
            return add("CAST(").expression(cast.operand()).add(" AS ").type(cast.type()).add(")");
        }
        if (e instanceof Expression.ScalarQuery scalar) {
            return add("(").sql(scalar.query()).add(")");
        }
        if (e instanceof Expression.Exists exists) {
            return add("EXISTS (").sql(exists.query()).add(")");
        }
        if (e instanceof Expression.FieldOf field) {
            return expression(field.row()).add("." + field.field().written());
        }
        if (e instanceof Expression.Element element) {
            return operand(element.array()).add("[").expression(element.index()).add("]");
        }
        if (e instanceof Expression.Difference difference) {
            return add("(").operand(difference.later())
                    .add(" - ")
                    .operand(difference.earlier())
                    .add(") " + difference.fields());
        }
        if (e instanceof Expression.ArrayValue array) {
            return add("ARRAY[").expressions(array.elements()).add("]");
        }
        if (e instanceof Expression.RowValue row) {
            return add("ROW(").expressions(row.fields()).add(")");
        }
        return test(e);
    }

    private TreeText test(Expression e) {
        if (e instanceof Expression.IsNull test) {
            return operand(test.operand()).add(test.negated() ? " IS NOT NULL" : " IS NULL");
        }
        if (e instanceof Expression.IsTruth test) {
            String truth = test.truth().map(t -> t ? "TRUE" : "FALSE").orElse("UNKNOWN");
            return operand(test.operand()).add((test.negated() ? " IS NOT " : " IS ") + truth);
        }
        if (e instanceof Expression.IsDistinct test) {
            return operand(test.left())
                    .add(test.negated() ? " IS NOT DISTINCT FROM " : " IS DISTINCT FROM ")
                    .operand(test.right());
        }
        if (e instanceof Expression.Between test) {
            operand(test.operand()).add(test.negated() ? " NOT BETWEEN " : " BETWEEN ");
            add(test.symmetric() ? "SYMMETRIC " : "");
            return operand(test.low()).add(" AND ").operand(test.high());
        }
        if (e instanceof Expression.AnyOf any) {
            return expressions(any.values());
        }
        if (e instanceof Expression.InList test) {
            return operand(test.operand())
                    .add(test.negated() ? " NOT IN (" : " IN (")
                    .expressions(test.values())
                    .add(")");
        }
        if (e instanceof Expression.Like test) {
            operand(test.operand()).add(test.negated() ? " NOT LIKE " : " LIKE ");
            operand(test.pattern());
            test.escape().ifPresent(escape -> add(" ESCAPE ").operand(escape));
            return this;
        }
        Expression.QueryComparison test = (Expression.QueryComparison) e;
        return operand(test.operand())
                .add(" " + test.comparison() + " (")
                .sql(test.query())
                .add(")");
    }

    private TreeText literal(Expression.Literal literal) {
        return switch (literal.kind()) {
            case NULL, BOOLEAN, INTEGER, DECIMAL, APPROXIMATE, DEFAULT -> add(literal.text());
            case TEXT -> add(quoted(literal.text()));
            case BYTES -> add("X" + quoted(literal.text()));
            default -> {
                add(literal.kind() + " " + quoted(literal.text()));
                boolean interval = literal.kind() == LiteralKind.INTERVAL;
                yield add(interval ? " " + literal.qualifier() : "");
            }
        };
    }

    private TreeText call(Expression.Call call) {
        String key = call.name().size() == 1 ? call.key() : "";
        if (ExpressionParser.MOMENTS.contains(key) && call.arguments().isEmpty()) {
            return add(key);
        }
        if (key.equals("OVERLAPS") && call.arguments().size() == 2) {
            return operand(call.arguments().get(0).value())
                    .add(" OVERLAPS ")
                    .operand(call.arguments().get(1).value());
        }
        if (key.startsWith("TRIM ")) {
            add("TRIM(" + key.substring(5).toUpperCase(Locale.ROOT) + " ");
            if (call.arguments().size() > 1) {
                expression(call.arguments().get(1).value());
            }
            return add(" FROM ").expression(call.arguments().get(0).value()).add(")");
        }
        if (key.startsWith("EXTRACT ")) {
            return add("EXTRACT(" + key.substring(8) + " FROM ")
                    .expression(call.arguments().get(0).value())
                    .add(")");
        }
        return add(names(call.name(), ".") + "(").arguments(call.arguments()).add(")");
    }
}
