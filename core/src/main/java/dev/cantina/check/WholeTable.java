package dev.cantina.check;

import dev.cantina.syntax.Problem;
import java.util.List;
import java.util.Locale;

/** UPDATE or DELETE without WHERE. */
final class WholeTable implements Advice.Rule {
    @Override
    public String name() {
        return "whole-table";
    }

    @Override
    public void look(Subject subject, List<Problem> advice) {
        subject.statements()
                .forEach(
                        s ->
                                Walker.sql(s)
                                        .filter(
                                                sql ->
                                                        sql.verb().equals("UPDATE")
                                                                || sql.verb().equals("DELETE"))
                                        .filter(
                                                sql ->
                                                        !sql.span()
                                                                .text()
                                                                .toUpperCase(Locale.ROOT)
                                                                .contains("WHERE"))
                                        .ifPresent(
                                                sql ->
                                                        advice.add(
                                                                Problem.advice(
                                                                        sql.span(),
                                                                        name(),
                                                                        sql.verb()
                                                                                + " without WHERE touches every row",
                                                                        "add WHERE, or WHERE TRUE if every row is meant"))));
    }
}
