package dev.cantina.translate.postgresql;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundSql;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.BoundStatement.Branch;
import dev.cantina.binding.JumpTarget;
import dev.cantina.binding.Walker;
import dev.cantina.database.ServerNames;
import dev.cantina.translate.Effects;
import dev.cantina.translate.Handlers;
import dev.cantina.translate.Handlers.HandlerMatch;
import dev.cantina.translate.Lines;
import dev.cantina.translate.UnsupportedConstructException;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * The statements of a body that hold others: choices and loops. A test that can fail where somebody
 * handles that is worked out in an error block of its own, before the choice or the turn.
 */
final class PostgresControl {
    private final PostgresBody body;
    private final PostgresExpressions words;
    private final ServerNames names;
    private final Effects effects;
    private final Lines out;

    PostgresControl(PostgresBody body, PostgresExpressions words, Effects effects, Lines out) {
        this.body = body;
        this.words = words;
        this.names = words.names();
        this.effects = effects;
        this.out = out;
    }

    void write(BoundStatement s, Handlers around) {
        if (s instanceof BoundStatement.Block block) {
            body.block(block, around);
        } else if (s instanceof BoundStatement.If choice) {
            choice(choice.branches(), choice.otherwise(), Optional.empty(), s, around);
        } else if (s instanceof BoundStatement.Case choice) {
            caseStatement(choice, around);
        } else if (s instanceof BoundStatement.While loop) {
            whileLoop(loop, around);
        } else if (s instanceof BoundStatement.Repeat loop) {
            repeat(loop, around);
        } else {
            forLoop((BoundStatement.For) s, around);
        }
    }

    private boolean testsFail(List<Branch> branches, Handlers around) {
        return branches.stream()
                .anyMatch(b -> !around.exceptions(effects.raises(b.condition())).isEmpty());
    }

    private void choice(
            List<Branch> branches,
            Optional<List<BoundStatement>> otherwise,
            Optional<String> operand,
            BoundStatement s,
            Handlers around) {
        if (testsFail(branches, around)) {
            String label = body.free("choice");
            out.add("<<" + label + ">>");
            out.add("BEGIN").in();
            tested(branches, 0, otherwise, operand, label, s, around);
            out.out();
            out.add("END " + label + ";");
            return;
        }
        String word = "IF ";
        for (Branch branch : branches) {
            BoundExpression test = branch.condition();
            out.comments(test.span().start());
            out.pass(test.span().start(), test.span().end());
            String said = operand.map(o -> chosen(o, test)).orElseGet(() -> words.of(test));
            // Outside brackets the first THEN would end the condition.
            String text = said.matches("(?is).*\\bTHEN\\b.*") ? "(" + said + ")" : said;
            out.add(word, test.span().start(), text, " THEN");
            inner(branch.statements(), around);
            word = "ELSIF ";
        }
        otherwise(otherwise, s, around);
        out.add("END IF;");
    }

    /** Whether the operand of a CASE is what a branch says. */
    private String chosen(String operand, BoundExpression test) {
        return test instanceof BoundExpression.Logical
                ? operand + " IN (" + words.of(test) + ")"
                : operand + " = " + words.of(test);
    }

    private void otherwise(
            Optional<List<BoundStatement>> otherwise, BoundStatement s, Handlers around) {
        if (otherwise.isPresent()) {
            out.add("ELSE");
            inner(otherwise.get(), around);
        } else if (s instanceof BoundStatement.Case) {
            out.add("ELSE").in();
            List<HandlerMatch> matches = around.exceptions(Set.of("20"));
            String raise =
                    "RAISE EXCEPTION USING ERRCODE = '20000', MESSAGE = 'no branch of the CASE fits';";
            if (matches.isEmpty()) {
                out.add(raise);
            } else {
                out.add("BEGIN").in().add(raise).out();
                body.guards().matches(matches, "", Optional.empty());
                out.add("END;");
            }
            out.out();
        }
    }

    private void tested(
            List<Branch> branches,
            int at,
            Optional<List<BoundStatement>> otherwise,
            Optional<String> operand,
            String label,
            BoundStatement s,
            Handlers around) {
        Branch branch = branches.get(at);
        String test = body.local("test", "boolean");
        test(test, branch.condition(), operand, around, "EXIT " + label + ";");
        out.add("IF " + test + " THEN");
        inner(branch.statements(), around);
        if (at + 1 < branches.size()) {
            out.add("ELSE").in();
            tested(branches, at + 1, otherwise, operand, label, s, around);
            out.out();
        } else {
            otherwise(otherwise, s, around);
        }
        out.add("END IF;");
    }

    /** Works a test out where its failure is handled; a CONTINUE handler goes on afterwards. */
    private void test(
            String into,
            BoundExpression condition,
            Optional<String> operand,
            Handlers around,
            String afterwards) {
        String text = words.of(condition);
        String value = operand.map(o -> chosen(o, condition)).orElse(text);
        List<HandlerMatch> matches = around.exceptions(effects.raises(condition));
        if (matches.isEmpty()) {
            out.add(into + " := " + value + ";");
            return;
        }
        out.add("BEGIN").in();
        out.add(into + " := " + value + ";");
        out.out();
        body.guards().matches(matches, "", Optional.of(afterwards));
        out.add("END;");
    }

    private void inner(List<BoundStatement> statements, Handlers around) {
        out.in();
        int before = out.mark();
        body.guards().list(statements, around, "");
        if (out.mark() == before) {
            out.add("NULL;");
        }
        out.out();
    }

    private void caseStatement(BoundStatement.Case choice, Handlers around) {
        if (choice.operand().isEmpty()) {
            choice(choice.branches(), choice.otherwise(), Optional.empty(), choice, around);
            return;
        }
        BoundExpression operand = choice.operand().get().value();
        List<HandlerMatch> matches = around.exceptions(effects.raises(operand));
        String held = body.local("chosen", PostgresTypes.of(operand.type(), operand.span()));
        String label = body.free("choice");
        if (!matches.isEmpty()) {
            out.add("<<" + label + ">>").add("BEGIN").in();
            out.add("BEGIN").in();
        }
        out.add(held + " := " + words.of(operand) + ";");
        if (!matches.isEmpty()) {
            out.out();
            body.guards().matches(matches, "", Optional.of("EXIT " + label + ";"));
            out.add("END;");
        }
        choice(choice.branches(), choice.otherwise(), Optional.of(held), choice, around);
        if (!matches.isEmpty()) {
            out.out().add("END " + label + ";");
        }
    }

    private String loopLabel(JumpTarget target, boolean needed) {
        boolean made = target.label().startsWith("cantina_");
        String label =
                target.label().isEmpty() || made
                        ? needed || made ? body.free("turns") : ""
                        : names.of(target.label());
        body.leave().put(target, label);
        body.iterate().put(target, "CONTINUE " + label + ";");
        if (!label.isEmpty()) {
            out.add("<<" + label + ">>");
        }
        return label;
    }

    private void whileLoop(BoundStatement.While loop, Handlers around) {
        List<HandlerMatch> matches =
                loop.condition().map(c -> around.exceptions(effects.raises(c))).orElse(List.of());
        String label = loopLabel(loop.target(), !matches.isEmpty());
        if (loop.condition().isEmpty()) {
            out.add("LOOP");
            if (loop.statements().isEmpty()) {
                out.in();
                mark(loop.at());
                out.out();
            }
        } else if (matches.isEmpty() && body.marks().isOn()) {
            // Each test is a place of its own.
            BoundExpression test = loop.condition().get();
            out.pass(test.span().start(), test.span().end());
            out.add("LOOP").in();
            mark(loop.at());
            out.add("EXIT WHEN (", test.span().start(), words.of(test), ") IS NOT TRUE;").out();
        } else if (matches.isEmpty()) {
            BoundExpression test = loop.condition().get();
            out.pass(test.span().start(), test.span().end());
            out.add("WHILE ", test.span().start(), words.of(test), " LOOP");
        } else {
            String test = body.local("test", "boolean");
            out.add("LOOP").in();
            mark(loop.at());
            test(test, loop.condition().get(), Optional.empty(), around, "EXIT " + label + ";");
            out.add("EXIT WHEN " + test + " IS NOT TRUE;").out();
        }
        inner(loop.statements(), around);
        out.comments(body.span(loop.at()).end());
        out.add("END LOOP" + (label.isEmpty() ? ";" : " " + label + ";"));
    }

    private void repeat(BoundStatement.Repeat loop, Handlers around) {
        boolean[] iterates = {false};
        Walker.statements(
                loop,
                s ->
                        iterates[0] |=
                                s instanceof BoundStatement.Iterate i
                                        && i.target() == loop.target());
        List<HandlerMatch> matches = around.exceptions(effects.raises(loop.condition()));
        String label = loopLabel(loop.target(), !matches.isEmpty());
        out.add("LOOP").in();
        if (iterates[0]) {
            String turn = body.free("turn");
            body.iterate().put(loop.target(), "EXIT " + turn + ";");
            out.add("<<" + turn + ">>").add("BEGIN");
            inner(loop.statements(), around);
            out.add("END " + turn + ";");
        } else {
            body.guards().list(loop.statements(), around, "");
        }
        out.comments(loop.condition().span().start());
        mark(loop.conditionAt());
        if (matches.isEmpty()) {
            out.add("EXIT WHEN ", loop.condition().span().start(), words.of(loop.condition()), ";");
        } else {
            String test = body.local("test", "boolean");
            test(test, loop.condition(), Optional.empty(), around, "EXIT " + label + ";");
            out.add("EXIT WHEN " + test + ";");
        }
        out.out();
        out.add("END LOOP" + (label.isEmpty() ? ";" : " " + label + ";"));
    }

    private void mark(int at) {
        body.marks().at(at).ifPresent(out::add);
    }

    private void forLoop(BoundStatement.For loop, Handlers around) {
        BoundSql query = loop.cursor().query().orElseThrow();
        boolean named = !loop.cursor().name().equals(loop.row().name());
        boolean positioned = loop.cursor().positioning().query().isPresent();
        List<HandlerMatch> matches = around.exceptions(effects.raisesItself(loop));
        String row = body.shared(words.name(loop.row()), "record");
        out.pass(query.span().start(), query.span().end());
        if (matches.isEmpty() && !positioned) {
            String label = loopLabel(loop.target(), false);
            out.add("FOR " + row + " IN");
            out.in().in().add("", query.span().start(), words.of(query), "").out().out();
            out.add("LOOP");
            inner(loop.statements(), around);
            out.comments(body.span(loop.at()).end());
            out.add("END LOOP" + (label.isEmpty() ? ";" : " " + label + ";"));
            return;
        }
        if (named && !positioned && usesCursor(loop)) {
            throw new UnsupportedConstructException(
                    body.span(loop.at()), "a loop's cursor used by name");
        }
        String cursor = body.local(named ? loop.cursor().name() : row + "s", "refcursor");
        body.data().renamed(loop.cursor(), cursor);
        String after = body.free("after");
        body.leave().put(loop.target(), after);
        String turns =
                loop.target().label().isEmpty()
                        ? body.free("turns")
                        : names.of(loop.target().label());
        body.iterate().put(loop.target(), "CONTINUE " + turns + ";");
        out.add("<<" + after + ">>").add("BEGIN").in();
        attempt("OPEN " + cursor + " FOR " + words.of(query) + ";", matches, "EXIT " + after + ";");
        out.add("<<" + turns + ">>").add("LOOP").in();
        body.data().fetches(loop.cursor());
        attempt("FETCH " + cursor + " INTO " + row + ";", matches, "EXIT " + after + ";");
        out.add("EXIT WHEN NOT FOUND;");
        out.out();
        inner(loop.statements(), around);
        out.add("END LOOP " + turns + ";");
        out.out();
        out.add("END " + after + ";");
        body.closeIfOpen(cursor);
        out.add(cursor + " := NULL;");
    }

    private static boolean usesCursor(BoundStatement.For loop) {
        boolean[] found = {false};
        Walker.statements(
                loop,
                s ->
                        Walker.expressions(
                                s, e -> found[0] |= e instanceof BoundExpression.CursorRow));
        return found[0];
    }

    private void attempt(String statement, List<HandlerMatch> matches, String afterwards) {
        if (matches.isEmpty()) {
            out.add(statement);
            return;
        }
        out.add("BEGIN").in().add(statement).out();
        body.guards().matches(matches, "", Optional.of(afterwards));
        out.add("END;");
    }
}
