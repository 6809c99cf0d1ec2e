package dev.cantina.editing;

import dev.cantina.nativecode.OwnText;
import dev.cantina.nativecode.OwnText.Unit;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Unit.Routine;
import java.util.ArrayList;
import java.util.List;

/** The names that cases may say of a project in a server's own language. */
record OwnWords(OwnView view) implements CaseWords {
    private List<Unit> units() {
        return view.units().values().stream()
                .flatMap(List::stream)
                .filter(
                        u ->
                                u.kind() == OwnText.Kind.PROCEDURE
                                        || u.kind() == OwnText.Kind.FUNCTION)
                .toList();
    }

    private List<Routine> standard() {
        List<Routine> all = new ArrayList<>();
        for (ParsedFile file : view.standard().values()) {
            file.units().stream()
                    .filter(Routine.class::isInstance)
                    .map(Routine.class::cast)
                    .forEach(all::add);
        }
        return all;
    }

    @Override
    public List<Completion.Offer> routines() {
        List<Completion.Offer> all = new ArrayList<>();
        for (Unit unit : units()) {
            all.add(
                    new Completion.Offer(
                            unit.of().map(o -> o + ".").orElse("") + unit.name(),
                            Completion.Kind.FUNCTION,
                            unit.name() + unit.head()));
        }
        standard()
                .forEach(
                        r ->
                                all.add(
                                        new Completion.Offer(
                                                r.name().text(), Completion.Kind.FUNCTION, "")));
        return all;
    }

    @Override
    public List<Completion.Offer> parameters(String routine) {
        List<Completion.Offer> all = new ArrayList<>();
        for (Unit unit : view.units().getOrDefault(OwnView.key(routine), List.of())) {
            unit.parameters().stream()
                    .filter(p -> !p.name().isEmpty())
                    .forEach(
                            p ->
                                    all.add(
                                            new Completion.Offer(
                                                    OwnView.key(p.name()),
                                                    Completion.Kind.VARIABLE,
                                                    p.mode() + " " + p.type())));
        }
        for (Routine one : standard()) {
            if (one.name().text().equalsIgnoreCase(routine)) {
                one.parameters()
                        .forEach(
                                p ->
                                        all.add(
                                                new Completion.Offer(
                                                        p.name().text(),
                                                        Completion.Kind.VARIABLE,
                                                        p.mode() + " " + p.type().span().text())));
            }
        }
        return all;
    }

    @Override
    public List<Completion.Offer> columns(String table) {
        OwnView.OwnTable found = view.tables().get(OwnView.key(table));
        return found == null
                ? List.of()
                : found.columns().stream()
                        .map(
                                c ->
                                        new Completion.Offer(
                                                OwnView.key(c.name()),
                                                Completion.Kind.COLUMN,
                                                c.type()))
                        .toList();
    }

    @Override
    public List<Completion.Offer> tables() {
        return view.tables().values().stream()
                .map(t -> new Completion.Offer(t.name(), Completion.Kind.TABLE, ""))
                .toList();
    }
}
