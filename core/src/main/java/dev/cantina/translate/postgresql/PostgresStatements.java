package dev.cantina.translate.postgresql;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.BoundStatement.Target;
import dev.cantina.binding.Variable;
import dev.cantina.binding.Walker;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.database.ServerNames;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.Statement.TransactionVerb;
import dev.cantina.translate.Lines;
import dev.cantina.translate.SourceForm;
import dev.cantina.translate.UnsupportedConstructException;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * The statements of a body that hold no others and ask no database: assignments, calls, what is
 * returned, raised, reported and asked of the diagnostics area.
 */
final class PostgresStatements {
    private final PostgresBody body;
    private final BoundRoutine routine;
    private final PostgresExpressions words;
    private final ServerNames names;
    private final Lines out;

    PostgresStatements(PostgresBody body, PostgresExpressions words, Lines out) {
        this.body = body;
        this.routine = body.routine();
        this.words = words;
        this.names = words.names();
        this.out = out;
    }

    /** Writes a statement, and says whether it is one of these. */
    boolean write(BoundStatement s) {
        if (s instanceof BoundStatement.Assign assign) {
            assign(assign);
        } else if (s instanceof BoundStatement.Return give) {
            giveBack(give);
        } else if (s instanceof BoundStatement.ReturnTable give) {
            giveTable(give);
        } else if (s instanceof BoundStatement.Signal signal) {
            signal(signal);
        } else if (s instanceof BoundStatement.Report report) {
            report(report);
        } else if (s instanceof BoundStatement.Transaction transaction) {
            transaction(transaction);
        } else if (s instanceof BoundStatement.GetDiagnostics get) {
            diagnostics(get);
        } else if (s instanceof BoundStatement.Call call) {
            call(call);
        } else {
            return false;
        }
        return true;
    }

    /** A variable, or the field of a row, as it is set. */
    String target(Target target, int at) {
        Variable variable = target.variable();
        if (target instanceof Target.Whole && variable.kind() == Variable.Kind.NEW_ROW) {
            throw new UnsupportedConstructException(
                    body.span(at), "the whole new row is set, and it may be NULL; set its columns");
        }
        if (target instanceof Target.OfElement) {
            throw new UnsupportedConstructException(
                    body.span(at), "rows in arrays are not taken to PostgreSQL");
        }
        if (target instanceof Target.OfModule) {
            return variable.name();
        }
        String name =
                switch (variable.kind()) {
                    case OLD_ROW -> "OLD";
                    case NEW_ROW -> "NEW";
                    default -> words.name(variable);
                };
        if (target instanceof Target.OfRow field) {
            SqlType.Row row = (SqlType.Row) variable.type();
            return name + "." + names.of(row.fields().get(field.field()).name());
        }
        return name;
    }

    /**
     * A row that is set from values, as its fields: the server would give them names of its own.
     */
    private static BoundStatement.Assign byField(BoundStatement.Assign assign) {
        BoundStatement.Assignment a = assign.assignments().get(0);
        boolean row =
                assign.assignments().size() == 1
                        && a.target() instanceof Target.Whole whole
                        && whole.variable().type() instanceof SqlType.Row
                        && whole.variable().kind() != Variable.Kind.NEW_ROW;
        if (!row
                || !(SourceForm.bare(a.value()) instanceof BoundExpression.RowConstructor values)
                || !(values.type() instanceof SqlType.Row)) {
            return assign;
        }
        SqlType.Row type = (SqlType.Row) a.target().variable().type();
        List<BoundStatement.Assignment> fields = new ArrayList<>();
        for (int i = 0; i < values.parts().size(); i++) {
            BoundExpression part = values.parts().get(i);
            SqlType wanted = type.fields().get(i).type();
            BoundExpression stored =
                    part.type().equals(wanted)
                            ? part
                            : new BoundExpression.Convert(
                                    part.span(), part, wanted, BoundExpression.ConvertKind.STORED);
            fields.add(
                    new BoundStatement.Assignment(
                            new Target.OfRow(a.target().variable(), i), stored));
        }
        return new BoundStatement.Assign(assign.at(), fields);
    }

    private void assign(BoundStatement.Assign written) {
        BoundStatement.Assign assign = byField(written);
        if (assign.assignments().size() > 1) {
            List<String> held = new ArrayList<>();
            for (BoundStatement.Assignment a : assign.assignments()) {
                String type = PostgresTypes.of(a.value().type(), body.span(assign.at()));
                String name = body.local(a.target().variable().name() + "_new", type);
                out.add(name + " := " + words.of(a.value()) + ";");
                held.add(name);
            }
            for (int i = 0; i < held.size(); i++) {
                store(assign.assignments().get(i).target(), held.get(i), assign.at());
            }
            return;
        }
        BoundStatement.Assignment a = assign.assignments().get(0);
        if (a.value() instanceof BoundExpression.RowConstructor several
                && several.type() instanceof SqlType.Row) {
            throw new UnsupportedConstructException(
                    body.span(assign.at()), "a whole row is set from values");
        }
        Span value = a.value().span();
        String text = words.of(a.value());
        if (a.target() instanceof Target.Whole || a.target() instanceof Target.OfRow) {
            out.pass(value.start(), value.end());
            out.add(target(a.target(), assign.at()) + " := ", value.start(), stored(a, text), ";");
        } else {
            store(a.target(), text, assign.at());
        }
    }

    /** A value on its way into a variable, where the server's own conversion is another. */
    String stored(BoundStatement.Assignment a, String text) {
        SqlType to = a.value().type();
        SqlType from = SourceForm.bare(a.value()).type();
        if (to instanceof SqlType.Integral && from instanceof SqlType.Approximate) {
            return "CAST(" + text + " AS numeric)";
        }
        if (to instanceof SqlType.Text && from instanceof SqlType.Bool) {
            return "upper(CAST(" + text + " AS text))";
        }
        if (to instanceof SqlType.Array array) {
            String type = PostgresTypes.of(to, a.value().span());
            boolean written = text.matches("(?is)ARRAY\\s*\\[.*");
            String list = written ? "CAST(" + text + " AS " + type + ")" : text;
            return array.maximum() > 0 && !from.equals(to)
                    ? "cantina.bounded(" + list + ", " + array.maximum() + ")"
                    : list;
        }
        return text;
    }

    /** Puts a value, given as text, into a target. */
    void store(Target target, String value, int at) {
        if (target instanceof Target.OfArray element) {
            SqlType.Array type = (SqlType.Array) element.variable().type();
            String name = target(target, at);
            out.add(
                    name
                            + " := cantina.placed("
                            + name
                            + ", "
                            + words.of(element.index())
                            + ", CAST("
                            + value
                            + " AS "
                            + PostgresTypes.bare(type.element(), body.span(at))
                            + "), "
                            + type.maximum()
                            + ");");
        } else if (target instanceof Target.OfModule shared) {
            String type =
                    PostgresTypes.of(
                            shared.module().variables().get(shared.index()).type(), body.span(at));
            out.add(
                    "PERFORM set_config('"
                            + PostgresExpressions.setting(shared.module(), shared.index())
                            + "', COALESCE('=' || CAST(CAST("
                            + value
                            + " AS "
                            + type
                            + ") AS text), '-'), FALSE);");
        } else {
            out.add(target(target, at) + " := " + value + ";");
        }
    }

    private void giveBack(BoundStatement.Return give) {
        if (give.value().isEmpty()) {
            body.finish(give.at());
            if (routine.kind() != BoundRoutine.Kind.TRIGGER) {
                out.add("RETURN;");
            }
            return;
        }
        BoundExpression value = give.value().get();
        Span span = value.span();
        SqlType wanted = routine.returns().orElseThrow();
        SqlType given = SourceForm.bare(value).type();
        out.pass(span.start(), span.end());
        if (PostgresTypes.isBounded(wanted) && !given.equals(wanted)) {
            String held = body.shared("result", PostgresTypes.of(wanted, span));
            out.add(held + " := ", span.start(), words.of(value), ";");
            body.giving(() -> out.add("RETURN " + held + ";"));
            return;
        }
        String text = words.of(value);
        if (wanted instanceof SqlType.Integral && given instanceof SqlType.Approximate) {
            text = "CAST(" + text + " AS numeric)";
        }
        String said = text;
        body.giving(() -> out.add("RETURN ", span.start(), said, ";"));
    }

    /** Each column must be of just the type that was declared. */
    private void giveTable(BoundStatement.ReturnTable give) {
        List<String> columns = new ArrayList<>();
        List<String> values = new ArrayList<>();
        for (SqlType.Field column : give.type().columns()) {
            String name = "c" + (columns.size() + 1);
            columns.add(name);
            values.add(
                    "CAST(r."
                            + name
                            + " AS "
                            + PostgresTypes.of(column.type(), body.span(give.at()))
                            + ")");
        }
        out.add("RETURN QUERY SELECT " + String.join(", ", values));
        out.in();
        out.add("FROM (", give.query().source().span().start(), words.of(give.query()), ")");
        out.add("AS r (" + String.join(", ", columns) + ");");
        out.out();
        body.marks().end(give.at()).ifPresent(out::add);
        out.add("RETURN;");
    }

    private void signal(BoundStatement.Signal signal) {
        if (signal.stateless()) {
            throw new UnsupportedConstructException(
                    body.span(signal.at()),
                    "a condition with no SQLSTATE can't be told from others there; declare it FOR"
                            + " SQLSTATE");
        }
        if (signal.resignal() && !body.guards().inHandler()) {
            throw new UnsupportedConstructException(
                    body.span(signal.at()), "RESIGNAL of a completion condition");
        }
        if (signal.resignal() && signal.sqlstate().isEmpty() && signal.items().isEmpty()) {
            out.add("RAISE;");
            return;
        }
        List<String> options = new ArrayList<>();
        options.add(
                "ERRCODE = "
                        + signal.sqlstate().map(state -> "'" + state + "'").orElse("SQLSTATE"));
        boolean said = false;
        for (BoundStatement.SignalItem item : signal.items()) {
            Optional<String> option = PostgresConditions.option(item.item());
            if (option.isPresent()) {
                said |= item.item().equals("MESSAGE_TEXT");
                options.add(option.get() + " = " + words.text(item.value()));
            } else {
                throw new UnsupportedConstructException(
                        body.span(signal.at()), item.item() + " can't be given there");
            }
        }
        if (!said && signal.resignal()) {
            options.add("MESSAGE = SQLERRM");
        }
        if (!said && !signal.resignal()) {
            options.add("MESSAGE = 'condition " + signal.sqlstate().get() + "'");
        }
        String all = String.join(", ", options);
        if (all.length() < 70) {
            out.add("RAISE EXCEPTION USING " + all + ";");
        } else {
            out.add("RAISE EXCEPTION USING");
            out.in().in();
            for (int i = 0; i < options.size(); i++) {
                out.add(options.get(i) + (i == options.size() - 1 ? ";" : ","));
            }
            out.out().out();
        }
    }

    private void report(BoundStatement.Report report) {
        List<String> items = new ArrayList<>();
        for (BoundExpression item : report.items()) {
            String text = words.text(item);
            boolean sure =
                    SourceForm.bare(item) instanceof BoundExpression.Constant c
                            && c.value() != null;
            items.add(sure ? text : "COALESCE(" + text + ", 'NULL')");
        }
        out.add("RAISE NOTICE '%', " + String.join(" || ", items) + ";");
    }

    private void transaction(BoundStatement.Transaction t) {
        switch (t.verb()) {
            case COMMIT -> out.add(t.chain() ? "COMMIT AND CHAIN;" : "COMMIT;");
            case ROLLBACK -> out.add(t.chain() ? "ROLLBACK AND CHAIN;" : "ROLLBACK;");
            case START -> {
                if (!t.modes().isBlank()) {
                    throw new UnsupportedConstructException(
                            body.span(t.at()),
                            "a procedure there can't choose the modes of its transaction");
                }
                out.add("PERFORM cantina.start_transaction();");
            }
            default ->
                    throw new UnsupportedConstructException(
                            body.span(t.at()),
                            t.verb() == TransactionVerb.SET
                                    ? "a procedure there can't choose the modes of its transaction"
                                    : "PL/pgSQL has no savepoints");
        }
    }

    private void diagnostics(BoundStatement.GetDiagnostics get) {
        for (BoundStatement.DiagnosticsItem item : get.items()) {
            Target target = item.assignment().target();
            String source =
                    body.data()
                            .counted()
                            .orElseGet(
                                    () ->
                                            PostgresConditions.item(
                                                    item.item(),
                                                    get,
                                                    body.guards().inHandler(),
                                                    body.guards().isFresh(),
                                                    body.data().afterData()));
            if (source.isEmpty()) {
                throw new UnsupportedConstructException(
                        body.span(get.at()),
                        item.item()
                                + (item.item().equals("ROW_COUNT")
                                        ? " is kept there only right after the statement that it counts"
                                        : " is not kept there"));
            }
            if (source.startsWith("GET ")) {
                boolean plain = target instanceof Target.Whole;
                String into =
                        plain
                                ? target(target, get.at())
                                : body.local(
                                        "got", source.contains("ROW_COUNT") ? "bigint" : "text");
                out.add(source.replace("$", into) + ";");
                if (!plain) {
                    store(target, into, get.at());
                }
            } else {
                store(target, source, get.at());
            }
        }
    }

    private void call(BoundStatement.Call call) {
        store(begin(call, "", ""), call.at());
    }

    /** What a call has given, which is to be stored: variables that hold it, and their targets. */
    record Given(List<String> held, List<BoundStatement.Assignment> results) {
        boolean isEmpty() {
            return held.isEmpty();
        }
    }

    void store(Given given, int at) {
        for (int i = 0; i < given.held().size(); i++) {
            store(given.results().get(i).target(), given.held().get(i), at);
        }
    }

    /** Whether what a call gives is stored after it. */
    boolean stores(BoundStatement.Call call) {
        for (int i = 0; i < call.arguments().size(); i++) {
            boolean given = call.arguments().get(i).result().isPresent() && !isSame(call, i);
            if (given) {
                return true;
            }
        }
        return false;
    }

    /** Whether the server can put what a parameter gives right where it is to be. */
    private boolean isSame(BoundStatement.Call call, int i) {
        BoundStatement.Argument argument = call.arguments().get(i);
        var parameter = call.routine().parameters().get(i);
        String bare = PostgresTypes.bare(parameter.type(), body.span(call.at()));
        return argument.result().isPresent()
                && argument.result().get().target() instanceof Target.Whole whole
                && PostgresTypes.bare(whole.variable().type(), body.span(call.at())).equals(bare)
                && !PostgresTypes.isBounded(whole.variable().type())
                && !parameter.mode().isInput()
                && timesSet(call, whole.variable()) == 1;
    }

    /**
     * Calls, and leaves what is given in variables.
     *
     * @param copy the copy of the procedure that tells what it raises, and {@code raised} what
     *     takes it; empty for the procedure itself
     */
    Given begin(BoundStatement.Call call, String copy, String raised) {
        if (!PostgresSignature.resultSets(call.routine()).isEmpty()) {
            throw new UnsupportedConstructException(
                    body.span(call.at()),
                    call.routine().name() + " hands out rows, and is called here");
        }
        List<String> arguments = new ArrayList<>();
        Given given = new Given(new ArrayList<>(), new ArrayList<>());
        if (!copy.isEmpty()) {
            arguments.add(raised);
        }
        for (int i = 0; i < call.arguments().size(); i++) {
            BoundStatement.Argument argument = call.arguments().get(i);
            var parameter = call.routine().parameters().get(i);
            if (!parameter.mode().isOutput()) {
                String value = words.typed(argument.value().orElseThrow(), parameter.type());
                arguments.add(
                        asksDatabase(argument.value().get())
                                ? held(value, parameter, call)
                                : value);
                continue;
            }
            if (copy.isEmpty() && isSame(call, i)) {
                arguments.add(target(argument.result().get().target(), call.at()));
                continue;
            }
            String bare = PostgresTypes.bare(parameter.type(), body.span(call.at()));
            String held = body.local(parameter.name().text() + "_given", bare);
            if (argument.value().isPresent()) {
                out.add(held + " := " + words.of(argument.value().get()) + ";");
            }
            arguments.add(held);
            argument.result()
                    .ifPresent(
                            r -> {
                                given.held().add(held);
                                given.results().add(r);
                            });
        }
        String callee = copy.isEmpty() ? words.callee(call.routine()) : copy;
        out.add("CALL " + callee + "(" + String.join(", ", arguments) + ");");
        return given;
    }

    /** How many parameters of a call give a variable its value. */
    private static long timesSet(BoundStatement.Call call, Variable variable) {
        return call.arguments().stream()
                .flatMap(a -> a.result().stream())
                .filter(r -> r.target().variable() == variable)
                .count();
    }

    /** Whether a query stands in an expression, which the server takes in no argument of CALL. */
    private static boolean asksDatabase(BoundExpression value) {
        boolean[] found = {false};
        Walker.expressions(value, e -> found[0] |= e instanceof BoundExpression.DatabaseExpression);
        return found[0];
    }

    /** An argument that is worked out before the call. */
    private String held(String value, ParameterSymbol parameter, BoundStatement.Call call) {
        String type = PostgresTypes.bare(parameter.type(), body.span(call.at()));
        String name = body.local(parameter.name().text() + "_given", type);
        out.add(name + " := " + value + ";");
        return name;
    }
}
