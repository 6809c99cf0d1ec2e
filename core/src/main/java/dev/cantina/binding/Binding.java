package dev.cantina.binding;

import dev.cantina.binding.NamedUse.Meaning;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Describer;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.Table;
import dev.cantina.catalog.TypeResolver;
import dev.cantina.syntax.EditPlaces;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Nearest;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlText;
import dev.cantina.syntax.SqlWords;
import dev.cantina.syntax.Statement;
import dev.cantina.syntax.TypeSyntax;
import dev.cantina.syntax.Unit;
import dev.cantina.syntax.Unit.SqlAccess;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** What is gathered while one routine is bound: its slots, its places, its problems. */
final class Binding {
    final Catalog catalog;
    final Optional<Describer> describer;
    final TypeResolver types;
    final List<Problem> problems;
    final List<Variable> variables = new ArrayList<>();
    final List<BoundRoutine.Place> places = new ArrayList<>();
    int cursors;
    int handlers;
    boolean asksDiagnostics;

    /** Whether something in the routine may ask whether there was a warning. */
    boolean watchesWarnings;

    /** A trigger's transition tables. */
    Optional<DeclaredTable> oldTable = Optional.empty();

    Optional<DeclaredTable> newTable = Optional.empty();

    /** How many ATOMIC blocks are around what is bound. */
    int atomicBlocks;

    /** How much SQL the routine says that it does; everything where it does not say. */
    SqlAccess access = SqlAccess.MODIFIES_SQL_DATA;

    /** The module of the routine that is bound. */
    Optional<ModuleSymbol> module = Optional.empty();

    Binding(Catalog catalog, Optional<Describer> describer, List<Problem> problems) {
        this.catalog = catalog;
        this.describer = describer;
        this.problems = problems;
        Map<String, Table> tables = new HashMap<>();
        catalog.tables().forEach(table -> tables.put(table.key(), table));
        this.types = new TypeResolver(tables, problems::add);
    }

    Variable variable(String name, SqlType type, Variable.Kind kind, Span span) {
        Variable variable = new Variable(variables.size(), name, type, kind, span);
        variables.add(variable);
        // One whose name nobody has written has the place of something larger.
        if (!name.isEmpty() && span.end() - span.start() <= name.length() + 2) {
            declares(span, new Meaning.OfVariable(variable));
        }
        return variable;
    }

    Variable hidden(SqlType type, Span span) {
        return variable("", type, Variable.Kind.HIDDEN, span);
    }

    private int tables;

    /**
     * The tables and views that the routine makes itself, as far as it is bound: what they are
     * called, by their keys.
     */
    final Map<String, String> made = new HashMap<>();

    /** Makes a table that belongs to a routine; empty where the database refuses it. */
    Optional<DeclaredTable> declare(
            Name name, String definition, boolean preserve, boolean readOnly) {
        if (describer.isEmpty()) {
            return Optional.empty();
        }
        Describer.Answer answer = describer.get().declareTable(name.key(), definition);
        if (answer instanceof Describer.Answer.Refused refused) {
            error(
                    name.span(),
                    "refused-sql",
                    "the database refuses this table: " + refused.reason().message());
            return Optional.empty();
        }
        Describer.Answer.Declared made = (Describer.Answer.Declared) answer;
        Table table =
                new Table(
                        name.text(),
                        name.key(),
                        made.table().columns(),
                        made.table().primaryKey(),
                        made.table().uniqueKeys(),
                        false,
                        false);
        return Optional.of(new DeclaredTable(tables++, table, made.sqlName(), preserve, readOnly));
    }

    /** What makes an UPDATE of a table's row give its identity; see the describer. */
    Optional<List<String>> identityAfter(SqlText.TableUse use) {
        Optional<Table> table =
                use.names().isEmpty()
                        ? Optional.empty()
                        : catalog.table(use.names().get(use.names().size() - 1));
        return table.flatMap(t -> describer.flatMap(d -> d.identityAfter(t)));
    }

    /** What stands for a statement that could not be bound; it is never run. */
    BoundStatement nothing(Span span) {
        return new BoundStatement.Assign(place(span, Scope.EMPTY, ""), List.of());
    }

    /** The uses of names, where somebody wants to know them; null where nobody does. */
    List<NamedUse> uses;

    void means(Span span, Meaning meaning) {
        if (uses != null) {
            uses.add(new NamedUse(span, meaning, false));
        }
    }

    /** A type as it is written; the table and the column that it is like are named there. */
    SqlType resolve(TypeSyntax type) {
        means(type);
        return types.resolve(type);
    }

    /** What a type names. */
    void means(TypeSyntax type) {
        if (uses == null) {
            return;
        }
        if (type instanceof TypeSyntax.Array array) {
            means(array.element());
        } else if (type instanceof TypeSyntax.Row row) {
            row.fields().forEach(f -> means(f.type()));
        } else if (type instanceof TypeSyntax.Table table) {
            table.columns().forEach(c -> means(c.type()));
        } else if (type instanceof TypeSyntax.Like like) {
            Optional<Table> table = catalog.table(like.table());
            table.ifPresent(t -> means(like.table().span(), new Meaning.OfTable(t)));
            if (table.isPresent() && like.column().isPresent()) {
                Name column = like.column().get();
                table.get()
                        .column(column.key())
                        .ifPresent(
                                c ->
                                        means(
                                                column.span(),
                                                new Meaning.OfColumn(table.get(), c.key())));
            }
        }
    }

    void declares(Span span, Meaning meaning) {
        if (uses != null) {
            uses.add(new NamedUse(span, meaning, true));
        }
    }

    /** A label, at its statement's beginning and, where it is said there, at its end. */
    void labels(Optional<Name> label, Span statement, JumpTarget target) {
        if (uses == null || label.isEmpty()) {
            return;
        }
        Meaning meaning = new Meaning.OfLabel(target);
        declares(label.get().span(), meaning);
        List<SqlWords.Word> words = SqlWords.of(statement.text()).all();
        SqlWords.Word last = words.get(words.size() - 1);
        Span end =
                statement
                        .source()
                        .span(statement.start() + last.start(), statement.start() + last.end());
        if (Name.of(last.text(), end).key().equals(label.get().key()) && words.size() > 2) {
            means(end, meaning);
        }
    }

    /** A chain of names that means a variable, or a field of one. */
    void means(List<Name> names, BoundExpression found) {
        if (uses == null) {
            return;
        }
        int at = names.size() - 1;
        BoundExpression e = found;
        while (e instanceof BoundExpression.Field field && at >= 0) {
            SqlType.Row row = (SqlType.Row) field.row().type();
            Variable of = root(field);
            if (of != null) {
                means(
                        names.get(at).span(),
                        new Meaning.OfField(of, row.fields().get(field.index()).name()));
            }
            e = field.row();
            at--;
        }
        if (at < 0) {
            return;
        }
        if (e instanceof BoundExpression.Read read) {
            means(names.get(at).span(), new Meaning.OfVariable(read.variable()));
        } else if (e instanceof BoundExpression.ReadShared shared) {
            means(names.get(at).span(), new Meaning.OfShared(shared.module(), shared.index()));
            if (at > 0) {
                means(names.get(at - 1).span(), new Meaning.OfModule(shared.module()));
            }
        }
    }

    private static Variable root(BoundExpression.Field field) {
        BoundExpression row = field.row();
        while (row instanceof BoundExpression.Field inner) {
            row = inner.row();
        }
        return row instanceof BoundExpression.Read read ? read.variable() : null;
    }

    /** A routine that is called by a name, with its module's where that is written. */
    void calls(List<Name> names, RoutineSymbol routine) {
        if (uses == null) {
            return;
        }
        means(names.get(names.size() - 1).span(), new Meaning.OfRoutine(routine));
        if (names.size() > 1 && routine.module().isPresent()) {
            means(names.get(names.size() - 2).span(), new Meaning.OfModule(routine.module().get()));
        }
    }

    int place(Span span, Scope scope, String what) {
        places.add(new BoundRoutine.Place(span, scope, what, atomicBlocks > 0));
        return places.size() - 1;
    }

    /** The routine, and the statement that is its body, where it is one. */
    private Optional<Span> routine = Optional.empty();

    private Optional<Span> body = Optional.empty();

    /** What is bound is a routine, with the statement that is its body. */
    void isOf(Span whole, Statement statement) {
        routine = Optional.of(whole);
        body =
                statement instanceof Statement.Compound block
                        ? Optional.of(block.span())
                        : Optional.empty();
    }

    void error(Span span, String rule, String message) {
        problems.add(Problem.error(span, rule, message));
    }

    void error(Span span, String rule, String message, String hint) {
        problems.add(Problem.error(span, rule, message, hint));
    }

    void error(Problem problem) {
        problems.add(problem);
    }

    /** A routine does more with data than its head says. */
    void wrongAccess(Span span, Unit.SqlAccess does) {
        String words = does.name().replace('_', ' ');
        boolean reads = does == Unit.SqlAccess.READS_SQL_DATA;
        Problem problem =
                Problem.error(
                        span,
                        "wrong-access",
                        "the routine says "
                                + access.name().replace('_', ' ')
                                + ", and this "
                                + (reads ? "reads" : "changes")
                                + " data",
                        "say " + words + ", or say nothing: it is found out from the body");
        error(
                routine.map(r -> problem.with(EditPlaces.words(r, access.name().split("_")), words))
                        .orElse(problem));
    }

    /** There is no condition of a name; it can be declared at the head of the body. */
    void noCondition(Span span, String name) {
        String declaration = "DECLARE " + name + " CONDITION FOR SQLSTATE '45000'";
        Problem problem =
                Problem.error(
                        span,
                        "unknown-name",
                        "there is no condition " + name + " here",
                        "declare it: " + declaration);
        error(problem.with(body.flatMap(EditPlaces::behindBegin), "\n  " + declaration + ";"));
    }

    /** An error about a name that is not there, with the nearest one that is. */
    void unknown(Span span, String what, String name, Collection<String> known) {
        Optional<String> nearest = Nearest.to(name, known);
        String message = "there is no " + what + " " + name + " here";
        problems.add(Problem.unknown(span, "unknown-name", message, nearest, ""));
    }

    /** A routine that is private can be called only from its module. */
    void checkPublic(RoutineSymbol routine, Span call) {
        if (!routine.isPublic() && !routine.module().equals(module)) {
            error(
                    call,
                    "private-name",
                    routine.name() + " is private in its module",
                    "call a public routine of it");
        }
    }
}
