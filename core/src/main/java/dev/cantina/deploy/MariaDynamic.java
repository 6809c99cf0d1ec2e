package dev.cantina.deploy;

import dev.cantina.check.BoundExpression;
import dev.cantina.check.BoundStatement;
import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/** Statements that are texts: PREPARE and EXECUTE. */
final class MariaDynamic {
    private final MariaBody body;
    private final MariaExpressions words;
    private final Effects effects;
    private final MariaTargets named;

    MariaDynamic(MariaBody body, MariaExpressions words, Effects effects, MariaTargets named) {
        this.body = body;
        this.words = words;
        this.effects = effects;
        this.named = named;
    }

    private static String statement(String name) {
        return name.toLowerCase(Locale.ROOT);
    }

    private void dynamic(Span span) {
        if (!body.isOutside()) {
            throw new Refusal(span, "MariaDB runs no dynamic SQL in functions and triggers");
        }
    }

    void prepare(BoundStatement.Prepare prepare, Span span, boolean listed) {
        dynamic(span);
        String name = statement(prepare.name());
        body.splice().put(span, "PREPARE " + words.names().of(name) + " FROM @cantina_" + name);
        body.surround(
                span,
                List.of(
                        "SET @cantina_" + name + " = " + words.of(prepare.text()),
                        notNull("@cantina_" + name)),
                List.of(),
                listed);
    }

    private static String notNull(String text) {
        return "IF "
                + text
                + " IS NULL THEN SIGNAL SQLSTATE '22004' SET MESSAGE_TEXT = 'the statement is NULL'; END IF";
    }

    void perform(BoundStatement.Perform perform, Handlers around, Span span, boolean listed) {
        dynamic(span);
        DynamicCalls.refuse(perform, body.routine(), span, "MariaDB");
        List<String> using = new ArrayList<>();
        List<String> before = new ArrayList<>();
        for (BoundExpression value : perform.using()) {
            boolean plain = Written.bare(value) instanceof BoundExpression.Constant;
            String text = words.of(value);
            boolean called = text.contains("(");
            if (plain || !called) {
                using.add(text);
            } else {
                String held = "@cantina_value_" + (using.size() + 1);
                before.add("SET " + held + " = " + text);
                using.add(held);
            }
        }
        String marks = using.isEmpty() ? "" : " USING " + String.join(", ", using);
        List<String> after = new ArrayList<>();
        String source = "@cantina_" + perform.name().map(MariaDynamic::statement).orElse("text");
        perform.text()
                .ifPresent(
                        t -> {
                            before.add("SET " + source + " = " + words.of(t));
                            before.add(notNull(source));
                        });
        String text;
        if (perform.targets().isEmpty()) {
            text =
                    perform.name()
                            .map(n -> "EXECUTE " + words.names().of(statement(n)) + marks)
                            .orElse("EXECUTE IMMEDIATE " + source + marks);
            if (body.asksRows()) {
                after.add("SET cantina_rows = ROW_COUNT()");
            }
            if (around.completion("02000").isPresent()) {
                after.add("IF ROW_COUNT() = 0 THEN SIGNAL SQLSTATE '02000'; END IF");
            }
        } else {
            List<String> held = new ArrayList<>();
            List<String> sets = new ArrayList<>();
            for (int i = 0; i < perform.targets().size(); i++) {
                held.add("@cantina_got_" + (i + 1));
                String target = named.of(perform.targets().get(i), span);
                sets.add(target + " = @cantina_got_" + (i + 1));
                // Where no row is found, the variable keeps what it has.
                before.add("SET @cantina_got_" + (i + 1) + " = " + target);
            }
            text =
                    "EXECUTE IMMEDIATE 'SELECT got.* INTO "
                            + String.join(", ", held)
                            + " FROM (' || "
                            + source
                            + " || CHAR(10) || ') AS got'"
                            + marks;
            boolean handled = around.completion("02000").isPresent();
            String none = "DECLARE EXIT HANDLER FOR NOT FOUND BEGIN END";
            text =
                    MariaBody.block(
                            List.of(
                                    handled ? MariaBody.PASS_ON.formatted("NOT FOUND") : none,
                                    text,
                                    "SET " + String.join(", ", sets)),
                            body.indent(span));
        }
        body.splice().put(span, text);
        body.surround(span, before, after, listed);
    }
}
