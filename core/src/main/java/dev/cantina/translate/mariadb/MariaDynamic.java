package dev.cantina.translate.mariadb;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.BoundStatement.Target;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.syntax.Span;
import dev.cantina.translate.DynamicCalls;
import dev.cantina.translate.Effects;
import dev.cantina.translate.Handlers;
import dev.cantina.translate.SourceForm;
import dev.cantina.translate.UnsupportedConstructException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

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
            throw new UnsupportedConstructException(
                    span, "MariaDB runs no dynamic SQL in functions and triggers");
        }
    }

    void deallocate(BoundStatement.Deallocate deallocate, Span span) {
        String name = statement(deallocate.name());
        if (words.names().isReserved(name)) {
            body.edits().put(span, "DEALLOCATE PREPARE " + words.names().of(name));
        }
    }

    void prepare(BoundStatement.Prepare prepare, Span span, boolean listed) {
        dynamic(span);
        String name = statement(prepare.name());
        body.edits().put(span, "PREPARE " + words.names().of(name) + " FROM @cantina_" + name);
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

    void perform(
            BoundStatement.ExecuteDynamic perform, Handlers around, Span span, boolean listed) {
        dynamic(span);
        Optional<DynamicCalls> call =
                DynamicCalls.of(perform, body.routine(), words.catalog(), span, "MariaDB");
        List<String> using = new ArrayList<>();
        List<String> before = new ArrayList<>();
        for (BoundExpression value : perform.using()) {
            boolean plain = SourceForm.bare(value) instanceof BoundExpression.Constant;
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
        call.ifPresent(c -> passed(c, using, before));
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
        String execute =
                perform.name()
                        .map(n -> "EXECUTE " + words.names().of(statement(n)) + marks)
                        .orElse("EXECUTE IMMEDIATE " + source + marks);
        if (call.isPresent()) {
            text = stored(perform, List.of(), List.of(execute), span);
        } else if (perform.targets().isEmpty()) {
            text = execute;
            if (body.asksRows()) {
                after.add("SET cantina_rows = ROW_COUNT()");
            }
            if (around.completion("02000").isPresent()) {
                after.add("IF ROW_COUNT() = 0 THEN SIGNAL SQLSTATE '02000'; END IF");
            }
        } else {
            List<String> held = new ArrayList<>();
            for (int i = 0; i < perform.targets().size(); i++) {
                held.add(got(i));
                // Where no row is found, the variable keeps what it has.
                before.add("SET " + got(i) + " = " + named.of(perform.targets().get(i), span));
            }
            String query =
                    "EXECUTE IMMEDIATE 'SELECT got.* INTO "
                            + String.join(", ", held)
                            + " FROM (' || "
                            + source
                            + " || CHAR(10) || ') AS got'"
                            + marks;
            boolean handled = around.completion("02000").isPresent();
            String none = "DECLARE EXIT HANDLER FOR NOT FOUND BEGIN END";
            text =
                    stored(
                            perform,
                            List.of(handled ? MariaBody.PASS_ON.formatted("NOT FOUND") : none),
                            List.of(query),
                            span);
        }
        body.edits().put(span, text);
        body.surround(span, before, after, listed);
    }

    private static String got(int i) {
        return "@cantina_got_" + (i + 1);
    }

    /** What was got goes into variables of its own first: one that does not fit changes nothing. */
    private String stored(
            BoundStatement.ExecuteDynamic perform,
            List<String> handlers,
            List<String> run,
            Span span) {
        List<String> all = new ArrayList<>();
        List<String> held = new ArrayList<>();
        List<String> sets = new ArrayList<>();
        for (int i = 0; i < perform.targets().size(); i++) {
            Target target = perform.targets().get(i);
            String own = "cantina_" + (i + 1);
            all.add("DECLARE " + own + " " + words.type(MariaTargets.typeOf(target), span));
            held.add("SET " + own + " = " + got(i));
            sets.add(named.of(target, span) + " = " + own);
        }
        all.add(MariaBody.PASS_ON.formatted("SQLEXCEPTION"));
        all.addAll(handlers);
        all.addAll(run);
        all.addAll(held);
        all.add("SET " + String.join(", ", sets));
        return MariaBody.block(all, body.indent(span));
    }

    /** Passes what a CALL gives back through variables of the session. */
    private static void passed(DynamicCalls call, List<String> using, List<String> before) {
        List<String> values = new ArrayList<>(using);
        using.clear();
        int used = 0;
        int given = 0;
        for (ParameterSymbol marker : call.markers()) {
            String value = marker.mode().isInput() ? values.get(used++) : "NULL";
            if (marker.mode().isOutput()) {
                before.add("SET " + got(given) + " = " + value);
                using.add(got(given++));
            } else {
                using.add(value);
            }
        }
    }
}
