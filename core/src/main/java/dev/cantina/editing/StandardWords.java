package dev.cantina.editing;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.Table;
import java.util.List;
import java.util.Locale;

/** The names that cases may say of a project in the standard language. */
record StandardWords(ProjectView view) implements CaseWords {
    @Override
    public List<Completion.Offer> routines() {
        return view.catalog().routines().stream()
                .filter(RoutineSymbol::isPublic)
                .map(r -> new Completion.Offer(r.name(), Completion.Kind.FUNCTION, r.signature()))
                .toList();
    }

    @Override
    public List<Completion.Offer> parameters(String routine) {
        return view.catalog().routinesCalled(routine.toUpperCase(Locale.ROOT)).stream()
                .flatMap(r -> r.parameters().stream())
                .map(
                        p ->
                                new Completion.Offer(
                                        p.name().text(),
                                        Completion.Kind.VARIABLE,
                                        p.mode() + " " + p.type().sql()))
                .toList();
    }

    @Override
    public List<Completion.Offer> columns(String table) {
        return view.catalog().tableCalled(table).stream()
                .flatMap(t -> t.columns().stream())
                .map(c -> new Completion.Offer(c.name(), Completion.Kind.COLUMN, c.type().sql()))
                .toList();
    }

    @Override
    public List<Completion.Offer> tables() {
        return view.catalog().tables().stream()
                .map(Table::name)
                .map(n -> new Completion.Offer(n, Completion.Kind.TABLE, ""))
                .toList();
    }
}
