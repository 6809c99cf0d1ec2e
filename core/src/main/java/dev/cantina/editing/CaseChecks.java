package dev.cantina.editing;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Column;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.Table;
import dev.cantina.syntax.Nearest;
import dev.cantina.syntax.Problem;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** Names in cases that nothing of the project has. */
final class CaseChecks {
    private final Catalog catalog;
    private final List<Problem> problems = new ArrayList<>();

    private CaseChecks(Catalog catalog) {
        this.catalog = catalog;
    }

    /** What is wrong with the names of a file. */
    static List<Problem> of(List<CaseNames.Use> uses, Catalog catalog) {
        CaseChecks checks = new CaseChecks(catalog);
        uses.forEach(checks::look);
        return checks.problems;
    }

    private void look(CaseNames.Use use) {
        switch (use.kind()) {
            case ROUTINE -> routine(use);
            case PARAMETER -> parameter(use);
            case TABLE -> table(use);
            case COLUMN -> column(use);
            case RESULT, CASE -> {
                // The one is the query's affair, the other names nothing.
            }
        }
    }

    private List<RoutineSymbol> routines(String name) {
        return catalog.routinesCalled(name.toUpperCase(Locale.ROOT));
    }

    private void routine(CaseNames.Use use) {
        if (routines(use.name()).isEmpty()) {
            List<String> known = catalog.routines().stream().map(RoutineSymbol::name).toList();
            unknown(use, "unknown-routine", "there is no routine " + use.name(), known);
        }
    }

    private void parameter(CaseNames.Use use) {
        List<RoutineSymbol> called = routines(use.routine());
        // What a function returns may be a row, whose fields go by other names; a row of
        // each may have another key of the case, or what a dot leads to.
        boolean unsure =
                called.isEmpty()
                        || use.name().contains(".")
                        || CaseOutline.KEYS.contains(use.name())
                        || use.returned() && called.stream().anyMatch(RoutineSymbol::isFunction);
        List<String> known =
                called.stream()
                        .flatMap(r -> r.parameters().stream())
                        .map(p -> p.name().text())
                        .distinct()
                        .toList();
        if (!unsure && known.stream().noneMatch(k -> CaseNames.same(k, use.name()))) {
            unknown(
                    use,
                    "unknown-parameter",
                    called.get(0).name() + " has no parameter " + use.name(),
                    known);
        }
    }

    private void table(CaseNames.Use use) {
        if (!use.name().equals("others") && catalog.tableCalled(use.name()).isEmpty()) {
            List<String> known = catalog.tables().stream().map(Table::name).toList();
            unknown(use, "unknown-table", "there is no table " + use.name(), known);
        }
    }

    private void column(CaseNames.Use use) {
        Optional<Table> table = catalog.tableCalled(use.routine());
        if (table.isPresent() && table.get().positionCalled(use.name()) < 0) {
            List<String> known = table.get().columns().stream().map(Column::name).toList();
            unknown(
                    use,
                    "unknown-column",
                    "column " + use.name() + " not found in " + table.get().name(),
                    known);
        }
    }

    private void unknown(CaseNames.Use use, String rule, String message, Collection<String> known) {
        problems.add(
                Problem.unknown(
                        use.span(),
                        rule,
                        message,
                        Nearest.to(use.name(), known),
                        known.isEmpty() ? "" : Nearest.listed(use.name(), known)));
    }
}
