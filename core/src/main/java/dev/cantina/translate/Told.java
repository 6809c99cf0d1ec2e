package dev.cantina.translate;

import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.BoundStatement.Handler;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.syntax.Declaration.HandledKind;
import dev.cantina.syntax.Declaration.HandlerAction;
import dev.cantina.syntax.Span;
import java.util.List;

/**
 * Procedures that tell what they raise in place of raising it. PostgreSQL takes back what was done
 * in a block whose error is caught, and so all that a procedure had done which a handler stands
 * around; SQL/PSM keeps it. Such a call goes to a second copy of the procedure, which ends without
 * an error and gives it back as a value, and the caller raises that again where nothing is lost.
 */
public interface Told {
    /** What the parameter is called that tells. */
    String PARAMETER = "cantina_raised";

    /** The label of the block that a telling procedure leaves. */
    String LABEL = "cantina_told";

    /**
     * The name of the copy of a procedure that tells.
     *
     * @throws UnsupportedConstructException where there can be none
     */
    String copy(RoutineSymbol routine);

    /** The number of the handler that tells. */
    int TELLS = -1;

    /** The handler that tells, around a whole body. */
    static Handlers around(Span whole) {
        Handler handler =
                new Handler(
                        TELLS,
                        HandlerAction.EXIT,
                        List.of(new BoundStatement.Handled(HandledKind.SQLEXCEPTION, "", "")),
                        new BoundStatement.Report(0, List.of()),
                        whole);
        return Handlers.NONE.inside(LABEL, List.of(handler), false);
    }
}
