package dev.cantina.deploy;

import dev.cantina.check.BoundExpression;
import dev.cantina.check.BoundRoutine;
import dev.cantina.check.BoundStatement;
import dev.cantina.check.Walker;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlWords;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** CALL in dynamic SQL: servers run it, and hand no values out of it. */
final class DynamicCalls {
    private DynamicCalls() {}

    /**
     * @throws Refusal where the values of a CALL go into variables
     */
    static void refuse(
            BoundStatement.Perform perform, BoundRoutine routine, Span span, String server) {
        if (perform.targets().isEmpty()) {
            return;
        }
        List<BoundExpression> texts = new ArrayList<>();
        perform.text().ifPresent(texts::add);
        perform.name()
                .ifPresent(
                        name ->
                                Walker.statements(
                                        routine.body(),
                                        s -> {
                                            if (s instanceof BoundStatement.Prepare prepare
                                                    && prepare.name().equals(name)) {
                                                texts.add(prepare.text());
                                            }
                                        }));
        if (texts.stream()
                .map(DynamicCalls::constant)
                .flatMap(Optional::stream)
                .anyMatch(DynamicCalls::calls)) {
            throw new Refusal(
                    span,
                    server
                            + " hands no values out of a CALL in dynamic SQL; write the CALL as a"
                            + " statement");
        }
    }

    private static Optional<String> constant(BoundExpression text) {
        return Written.bare(text) instanceof BoundExpression.Constant constant
                ? Optional.ofNullable(constant.value()).map(String::valueOf)
                : Optional.empty();
    }

    private static boolean calls(String text) {
        return SqlWords.of(text).sees(0, "CALL");
    }
}
