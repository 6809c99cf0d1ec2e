package dev.cantina.editing;

import dev.cantina.nativecode.NativeToken;
import dev.cantina.nativecode.OwnText;
import dev.cantina.nativecode.OwnText.Unit;
import dev.cantina.project.Project;
import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/** Who names what in the texts of a project in a server's own words. */
public final class OwnLinks {
    /** What something is. */
    public enum Kind {
        PROCEDURE,
        FUNCTION,
        TRIGGER,
        TABLE
    }

    /**
     * One routine or trigger names something; or, where nothing is named, is there.
     *
     * @param at its name where it is made
     * @param to what is named; empty where nothing is
     * @param toAt where that is made
     * @param column of the table, where one is named
     * @param changes what is done to the table, {@code insert} or its kin; of a trigger what it
     *     fires on
     * @param firesOn the table of a trigger, in the one link that says so
     * @param isUnbounded in the one link that says so: it runs SQL that it puts together itself
     */
    public record Link(
            Kind kind,
            String from,
            Optional<Span> at,
            Kind toKind,
            String to,
            Optional<Span> toAt,
            Optional<String> column,
            Set<String> changes,
            Optional<String> firesOn,
            boolean isUnbounded) {}

    private static final Set<String> EVENTS = Set.of("insert", "update", "delete");

    private final OwnView view;
    private final List<Link> links = new ArrayList<>();

    private OwnLinks(OwnView view) {
        this.view = view;
    }

    /** All of a project, routines of the standard language left out. */
    public static List<Link> of(Project project) {
        OwnLinks all = new OwnLinks(new OwnState(project).view());
        for (OwnText text : all.view.files().values()) {
            all.read(text);
        }
        return all.links;
    }

    private static Kind kind(Unit unit) {
        return switch (unit.kind()) {
            case PROCEDURE -> Kind.PROCEDURE;
            case TRIGGER -> Kind.TRIGGER;
            default -> Kind.FUNCTION;
        };
    }

    /** Routines that share a name are told apart by the types of their parameters. */
    private String name(Unit unit) {
        String name = unit.of().map(o -> o + ".").orElse("") + unit.name();
        boolean shared =
                unit.kind() != OwnText.Kind.TRIGGER
                        && view.units().getOrDefault(OwnView.key(unit), List.of()).size() > 1;
        List<String> types =
                unit.parameters().stream()
                        .filter(OwnText.Parameter::isInput)
                        .map(OwnText.Parameter::type)
                        .toList();
        return shared ? name + "(" + String.join(", ", types) + ")" : name;
    }

    private void add(
            Unit from,
            Kind toKind,
            String to,
            Optional<Span> toAt,
            Optional<String> column,
            Set<String> changes) {
        links.add(
                new Link(
                        kind(from),
                        name(from),
                        Optional.of(from.at()),
                        toKind,
                        to,
                        toAt,
                        column,
                        changes,
                        Optional.empty(),
                        false));
    }

    private void read(OwnText text) {
        for (Unit unit : text.units()) {
            if (unit.kind() == OwnText.Kind.PACKAGE) {
                continue;
            }
            add(unit, Kind.TABLE, "", Optional.empty(), Optional.empty(), Set.of());
            unit.calls().ifPresent(f -> called(unit, OwnView.key(f)));
            unit.table().ifPresent(t -> fires(unit, t));
            if (makesSql(text, unit)) {
                links.add(
                        new Link(
                                kind(unit),
                                name(unit),
                                Optional.of(unit.at()),
                                Kind.TABLE,
                                "",
                                Optional.empty(),
                                Optional.empty(),
                                Set.of(),
                                Optional.empty(),
                                true));
            }
        }
        for (OwnNames.Use use : new OwnNames(view, text).all()) {
            Optional<Unit> unit =
                    OwnView.unit(text, use.span().start())
                            .filter(u -> u.kind() != OwnText.Kind.PACKAGE);
            boolean head =
                    unit.isPresent()
                            && unit.get().kind() == OwnText.Kind.TRIGGER
                            && unit.get()
                                    .body()
                                    .filter(b -> b.start() <= use.span().start())
                                    .isEmpty();
            if (unit.isPresent() && !use.declares() && !head) {
                named(unit.get(), use);
            }
        }
    }

    private void called(Unit from, String key) {
        for (Unit to : view.units().getOrDefault(key, List.of())) {
            add(from, kind(to), name(to), Optional.of(to.at()), Optional.empty(), Set.of());
        }
    }

    private void named(Unit from, OwnNames.Use use) {
        OwnNames.Meaning meaning = use.meaning();
        Set<String> changes = use.change().isEmpty() ? Set.of() : Set.of(use.change());
        if (meaning.what() == OwnNames.What.ROUTINE) {
            view.units().values().stream()
                    .flatMap(List::stream)
                    .filter(
                            u ->
                                    meaning.declared().stream()
                                            .anyMatch(d -> OwnNames.same(d, u.at())))
                    .forEach(
                            u ->
                                    add(
                                            from,
                                            kind(u),
                                            name(u),
                                            Optional.of(u.at()),
                                            Optional.empty(),
                                            Set.of()));
        } else if (meaning.what() == OwnNames.What.TABLE) {
            add(
                    from,
                    Kind.TABLE,
                    meaning.name(),
                    meaning.declared().stream().findFirst(),
                    Optional.empty(),
                    changes);
        } else if (meaning.what() == OwnNames.What.COLUMN) {
            String said = meaning.described().text();
            add(
                    from,
                    Kind.TABLE,
                    said.substring(said.lastIndexOf(' ') + 1),
                    Optional.empty(),
                    Optional.of(meaning.name()),
                    changes);
        }
    }

    private void fires(Unit trigger, String table) {
        Set<String> events = new java.util.LinkedHashSet<>();
        for (String word : trigger.head().toLowerCase(Locale.ROOT).split("[^a-z]+")) {
            if (word.equals("on")) {
                break;
            }
            if (EVENTS.contains(word)) {
                events.add(word);
            }
        }
        links.add(
                new Link(
                        Kind.TRIGGER,
                        name(trigger),
                        Optional.of(trigger.at()),
                        Kind.TABLE,
                        "",
                        Optional.empty(),
                        Optional.empty(),
                        events,
                        Optional.of(table),
                        false));
    }

    /** EXECUTE in PL/pgSQL, PREPARE and EXECUTE IMMEDIATE in MariaDB. */
    private static boolean makesSql(OwnText text, Unit unit) {
        if (unit.body().isEmpty()) {
            return false;
        }
        Span body = unit.body().get();
        for (NativeToken token : text.tokens()) {
            boolean inside = token.start() >= body.start() && token.end() <= body.end();
            if (inside && token.isWord() && (token.is("execute") || token.is("prepare"))) {
                return true;
            }
        }
        return false;
    }
}
