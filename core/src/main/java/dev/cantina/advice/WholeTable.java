package dev.cantina.advice;

import dev.cantina.binding.BoundSql;
import dev.cantina.facts.RowFacts;
import dev.cantina.syntax.EditPlaces;
import dev.cantina.syntax.Problem;
import java.util.List;

/** UPDATE or DELETE without WHERE. */
final class WholeTable implements Advice.Rule {
    @Override
    public String name() {
        return "whole-table";
    }

    @Override
    public void look(Subject subject, List<Problem> advice) {
        for (Subject.Sent sent : subject.sent()) {
            BoundSql sql = sent.sql();
            boolean change = sql.verb().equals("UPDATE") || sql.verb().equals("DELETE");
            if (change && RowFacts.hasCondition(sql).isNo()) {
                advice.add(
                        Problem.advice(
                                        sql.span(),
                                        name(),
                                        sql.verb() + " without WHERE touches every row",
                                        "add WHERE, or WHERE TRUE if every row is meant")
                                .with(EditPlaces.behind(sql.span()), " WHERE TRUE"));
            }
        }
    }
}
