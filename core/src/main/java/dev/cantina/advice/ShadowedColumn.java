package dev.cantina.advice;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundSql;
import dev.cantina.binding.Scope;
import dev.cantina.catalog.Catalog;
import dev.cantina.syntax.EditPlaces;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.SqlText;
import java.util.List;
import java.util.Optional;

/** A bare name in a statement that is a column of it and a variable too. */
final class ShadowedColumn implements Advice.Rule {
    @Override
    public String name() {
        return "shadowed-column";
    }

    @Override
    public void look(Subject subject, List<Problem> advice) {
        BoundRoutine routine = subject.routine();
        Catalog catalog = subject.catalog();
        for (Subject.Sent sent : subject.sent()) {
            Scope scope = routine.places().get(sent.by().at()).scope();
            look(sent.sql().scope(), sent.sql(), scope, catalog, routine, advice);
        }
    }

    /** Whether a name is a value that the statement is given. */
    private static boolean isTaken(SqlText.NameUse use, BoundSql sql) {
        return sql.parameters().stream().anyMatch(p -> p.span().start() == use.span().start());
    }

    private void look(
            SqlText.Scope names,
            BoundSql sql,
            Scope scope,
            Catalog catalog,
            BoundRoutine routine,
            List<Problem> advice) {
        for (SqlText.NameUse use : names.names()) {
            if (use.use() != SqlText.Use.VALUE || use.names().size() != 1) {
                continue;
            }
            Optional<Scope.Found> variable = scope.find(use.names().get(0).key());
            if (variable.isPresent() && variable.get().field() < 0 && !isTaken(use, sql)) {
                String name = use.names().get(0).text();
                boolean parameter = variable.get().variable().kind().isParameter();
                Problem problem =
                        Problem.advice(
                                use.span(),
                                name(),
                                name + " is the column here, not the variable of the same name",
                                parameter
                                        ? "say the variable in full: "
                                                + routine.name()
                                                + "."
                                                + name
                                                + ", or give it another name"
                                        : "give the variable another name, or label its block and say label."
                                                + name);
                advice.add(
                        parameter
                                ? problem.with(EditPlaces.before(use.span()), routine.name() + ".")
                                : problem);
            }
        }
        for (SqlText.Scope child : names.children()) {
            look(child, sql, scope, catalog, routine, advice);
        }
    }
}
