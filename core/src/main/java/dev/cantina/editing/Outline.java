package dev.cantina.editing;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.syntax.Declaration;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.Statement;
import dev.cantina.syntax.Unit;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;

/**
 * What a file holds: its routines, triggers and modules, and what these declare.
 *
 * @param detail what stands behind the name
 * @param whole all of it
 * @param at its name
 */
public record Outline(
        String name, Kind kind, String detail, Span whole, Span at, List<Outline> inside) {
    /** What something is. */
    public enum Kind {
        MODULE,
        PROCEDURE,
        FUNCTION,
        TRIGGER,
        TABLE,
        COLUMN,
        VARIABLE,
        CURSOR,
        CONDITION,
        CASE
    }

    /** The outline of a file of routines. */
    public static List<Outline> of(ParsedFile file) {
        List<Outline> all = new ArrayList<>();
        for (Unit unit : file.units()) {
            if (unit instanceof Unit.Routine routine) {
                all.add(routine(routine));
            } else if (unit instanceof Unit.Trigger trigger) {
                all.add(
                        new Outline(
                                trigger.name().text(),
                                Kind.TRIGGER,
                                words(trigger.timing().name())
                                        + " "
                                        + words(trigger.event().name())
                                        + " on "
                                        + trigger.table().text(),
                                trigger.span(),
                                trigger.name().span(),
                                declared(List.of(trigger.body()))));
            } else if (unit instanceof Unit.Module module) {
                List<Outline> inside = new ArrayList<>(declarations(module.declarations()));
                module.routines().forEach(r -> inside.add(routine(r)));
                all.add(
                        new Outline(
                                module.name().text(),
                                Kind.MODULE,
                                "",
                                module.span(),
                                module.name().span(),
                                inside));
            }
        }
        return all;
    }

    private static String words(String name) {
        return name.toLowerCase(Locale.ROOT).replace('_', ' ');
    }

    private static Outline routine(Unit.Routine routine) {
        String parameters =
                routine.parameters().stream()
                        .map(p -> p.name() + " " + p.type().span().text())
                        .collect(Collectors.joining(", ", "(", ")"));
        return new Outline(
                routine.name().text(),
                routine.kind() == Unit.RoutineKind.FUNCTION ? Kind.FUNCTION : Kind.PROCEDURE,
                parameters + routine.returns().map(r -> " " + r.span().text()).orElse(""),
                routine.span(),
                routine.name().span(),
                declared(routine.body().stream().toList()));
    }

    /** What the outermost block of a body declares. */
    private static List<Outline> declared(List<Statement> body) {
        return !body.isEmpty() && body.get(0) instanceof Statement.Compound compound
                ? declarations(compound.declarations())
                : List.of();
    }

    private static List<Outline> declarations(List<Declaration> declarations) {
        List<Outline> all = new ArrayList<>();
        for (Declaration declaration : declarations) {
            if (declaration instanceof Declaration.Variables variables) {
                variables
                        .names()
                        .forEach(
                                n ->
                                        all.add(
                                                leaf(
                                                        n.text(),
                                                        Kind.VARIABLE,
                                                        variables.type().span().text(),
                                                        declaration.span(),
                                                        n.span())));
            } else if (declaration instanceof Declaration.Cursor cursor) {
                all.add(
                        leaf(
                                cursor.name().text(),
                                Kind.CURSOR,
                                "",
                                declaration.span(),
                                cursor.name().span()));
            } else if (declaration instanceof Declaration.Condition condition) {
                all.add(
                        leaf(
                                condition.name().text(),
                                Kind.CONDITION,
                                condition.sqlstate().orElse(""),
                                declaration.span(),
                                condition.name().span()));
            }
        }
        return all;
    }

    private static Outline leaf(String name, Kind kind, String detail, Span whole, Span at) {
        return new Outline(name, kind, detail, whole, at, List.of());
    }

    /** The routines of a file that can be called, for what is offered beside them. */
    public static List<RoutineSymbol> callable(ProjectView view, String file) {
        ParsedFile parsed = view.files().get(file);
        return parsed == null
                ? List.of()
                : view.catalog().routines().stream()
                        .filter(r -> r.span().source() == parsed.source())
                        .filter(r -> r.tree().body().isPresent() && r.isPublic())
                        .toList();
    }
}
