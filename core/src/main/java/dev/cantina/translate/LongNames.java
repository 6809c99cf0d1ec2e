package dev.cantina.translate;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.CursorSymbol;
import dev.cantina.binding.JumpTarget;
import dev.cantina.binding.Variable;
import dev.cantina.binding.Walker;
import dev.cantina.syntax.Span;
import java.nio.charset.StandardCharsets;

/**
 * Names that are longer than a server's. PostgreSQL cuts them at 63 bytes, so that two of them can
 * become one; MariaDB takes none with more than 64 characters.
 */
public final class LongNames {
    private LongNames() {}

    /**
     * @throws UnsupportedConstructException where a name of a routine, or in it, would be cut
     */
    public static void onPostgres(BoundRoutine routine) {
        each(routine, LongNames::onPostgres);
    }

    /**
     * @throws UnsupportedConstructException where a name of a routine, or in it, would not be taken
     */
    public static void onMaria(BoundRoutine routine) {
        each(
                routine,
                (name, span) -> {
                    if (name.length() > 64) {
                        throw new UnsupportedConstructException(
                                span, "MariaDB's names have at most 64 characters");
                    }
                });
    }

    public static void onPostgres(String name, Span span) {
        if (name.getBytes(StandardCharsets.UTF_8).length > 63) {
            throw new UnsupportedConstructException(
                    span, "PostgreSQL's names have at most 63 bytes");
        }
    }

    private interface Check {
        void name(String name, Span span);
    }

    private static void each(BoundRoutine routine, Check check) {
        String full = routine.name();
        check.name(full.substring(full.lastIndexOf('.') + 1), routine.span());
        for (Variable variable : routine.variables()) {
            if (!variable.isHidden()) {
                Span span = variable.span() == null ? routine.span() : variable.span();
                check.name(variable.name(), span);
            }
        }
        Walker.statements(
                routine.body(),
                s -> {
                    Span span = routine.places().get(s.at()).span();
                    if (s instanceof BoundStatement.Block block) {
                        label(block.target(), span, check);
                        for (CursorSymbol cursor : block.cursors()) {
                            check.name(cursor.name(), cursor.span());
                        }
                        block.tables().forEach(t -> check.name(t.table().name(), span));
                    } else if (s instanceof BoundStatement.While loop) {
                        label(loop.target(), span, check);
                    } else if (s instanceof BoundStatement.Repeat loop) {
                        label(loop.target(), span, check);
                    } else if (s instanceof BoundStatement.For loop) {
                        label(loop.target(), span, check);
                    } else if (s instanceof BoundStatement.Prepare prepare) {
                        check.name(prepare.name(), span);
                    }
                });
    }

    private static void label(JumpTarget target, Span span, Check check) {
        check.name(target.label(), span);
    }
}
