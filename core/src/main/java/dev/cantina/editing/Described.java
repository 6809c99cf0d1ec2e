package dev.cantina.editing;

import dev.cantina.binding.NamedUse.Meaning;
import dev.cantina.binding.Variable;
import dev.cantina.catalog.Column;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.Table;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import dev.cantina.types.SqlType;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * What there is to say of a name: a line of code, and a text for a person.
 *
 * @param code such as the head of a routine, in SQL
 * @param text what its author has said of it, or what it is
 */
public record Described(String code, String text) {
    /** What a name means. */
    public static Described of(ProjectView view, Meaning meaning) {
        if (meaning instanceof Meaning.OfRoutine of) {
            return of(of.routine());
        }
        if (meaning instanceof Meaning.OfVariable of) {
            return of(of.variable());
        }
        if (meaning instanceof Meaning.OfTable of) {
            return of(view, of.table());
        }
        if (meaning instanceof Meaning.OfColumn of) {
            return of(of.table(), of.key());
        }
        if (meaning instanceof Meaning.OfField of) {
            SqlType type =
                    of.row().type() instanceof SqlType.Row row
                            ? row.fields().stream()
                                    .filter(f -> f.name().equalsIgnoreCase(of.field()))
                                    .<SqlType>map(SqlType.Field::type)
                                    .findFirst()
                                    .orElse(SqlType.NULL)
                            : SqlType.NULL;
            return new Described(of.field() + " " + type.sql(), "a column of " + of.row().name());
        }
        if (meaning instanceof Meaning.OfCursor of) {
            List<String> columns =
                    of.cursor().columns().stream()
                            .map(c -> c.name() + " " + c.type().sql())
                            .toList();
            return new Described(
                    "CURSOR " + of.cursor().name(),
                    columns.isEmpty() ? "" : "gives " + String.join(", ", columns));
        }
        if (meaning instanceof Meaning.OfShared of) {
            var variable = of.module().variables().get(of.index());
            return new Described(
                    variable.name().text() + " " + variable.type().sql(),
                    "a variable of module " + of.module().name());
        }
        if (meaning instanceof Meaning.OfModule of) {
            return new Described("MODULE " + of.module().name(), "");
        }
        if (meaning instanceof Meaning.OfLabel of) {
            return new Described(
                    of.target().label(), of.target().isLoop() ? "labels a loop" : "labels a block");
        }
        if (meaning instanceof Meaning.OfArgument of) {
            ParameterSymbol parameter = of.routine().parameters().get(of.index());
            return new Described(
                    parameter.mode() + " " + parameter.name() + " " + parameter.type().sql(),
                    "a parameter of " + of.routine().name());
        }
        Meaning.OfCondition of = (Meaning.OfCondition) meaning;
        return new Described("CONDITION " + of.declared().text(), "");
    }

    private static Described of(Variable variable) {
        String kind =
                switch (variable.kind()) {
                    case IN, OUT, INOUT -> variable.kind() + " ";
                    default -> "";
                };
        String what =
                switch (variable.kind()) {
                    case IN, OUT, INOUT -> "a parameter";
                    case CONSTANT -> "a constant";
                    case LOOP_ROW -> "the row of a FOR loop";
                    case OLD_ROW -> "the row before the change";
                    case NEW_ROW -> "the row after the change";
                    default -> "a variable";
                };
        String type =
                variable.type() instanceof SqlType.Row row
                        ? "ROW ("
                                + String.join(
                                        ", ",
                                        row.fields().stream()
                                                .map(f -> f.name() + " " + f.type().sql())
                                                .toList())
                                + ")"
                        : variable.type().sql();
        return new Described(kind + variable.name() + " " + type, what);
    }

    /** A routine, with the comment that stands above it. */
    public static Described of(RoutineSymbol routine) {
        return new Described(
                (routine.isFunction() ? "FUNCTION " : "PROCEDURE ") + routine.signature(),
                routine.tree()
                        .characteristics()
                        .comment()
                        .filter(c -> !c.isBlank())
                        .orElseGet(() -> commentAbove(routine.span())));
    }

    private static Described of(ProjectView view, Table table) {
        StringBuilder code = new StringBuilder("TABLE " + table.name() + " (");
        String sign = "\n  ";
        for (Column column : table.columns()) {
            code.append(sign).append(line(table, column));
            sign = ",\n  ";
        }
        List<TriggerSymbol> triggers = new NameFinder(view).triggers(table);
        return new Described(
                code.append("\n)").toString(),
                triggers.isEmpty()
                        ? ""
                        : "fires "
                                + String.join(
                                        ", ", triggers.stream().map(Described::fired).toList()));
    }

    private static String fired(TriggerSymbol trigger) {
        return trigger.name()
                + " ("
                + trigger.tree().timing().name().toLowerCase(Locale.ROOT).replace('_', ' ')
                + " "
                + trigger.tree().event().name().toLowerCase(Locale.ROOT)
                + ")";
    }

    private static Described of(Table table, String key) {
        Optional<Column> column = table.column(key);
        return new Described(
                column.map(c -> line(table, c)).orElse(key), "a column of " + table.name());
    }

    private static String line(Table table, Column column) {
        boolean key = table.primaryKey().contains(table.columns().indexOf(column));
        return column.name() + " " + column.type().sql() + (key ? " PRIMARY KEY" : "");
    }

    /** The comment right above a text, without its signs. */
    static String commentAbove(Span span) {
        Source source = span.source();
        Deque<String> lines = new ArrayDeque<>();
        int line = span.line() - 1;
        if (line >= 1 && source.line(line).strip().endsWith("*/")) {
            while (line >= 1) {
                String text = source.line(line).strip();
                lines.addFirst(text.replaceAll("^/?\\*+/?|\\*+/$", "").strip());
                if (text.startsWith("/*")) {
                    break;
                }
                line--;
            }
        } else {
            while (line >= 1 && source.line(line).strip().startsWith("--")) {
                lines.addFirst(source.line(line).strip().substring(2).strip());
                line--;
            }
        }
        List<String> kept = new ArrayList<>(lines);
        kept.removeIf(String::isEmpty);
        return String.join("\n", kept);
    }
}
