package dev.cantina.advice;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.ExpressionBinder;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.syntax.Problem;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Gives advice on bound routines, by the rules that a project has not silenced. */
public final class Advice {
    /** One rule. */
    interface Rule {
        /** Its name, as it is shown and silenced by. */
        String name();

        void look(Subject subject, List<Problem> advice);
    }

    private static final List<Rule> RULES =
            List.of(
                    new NullComparison(),
                    new WholeTable(),
                    new ShadowedColumn(),
                    new UnusedName(),
                    new UnsetOut(),
                    new MissingReturn(),
                    new MaybeNoRow(),
                    new MaybeManyRows(),
                    new SwallowedCondition(),
                    new UncheckedWrite(),
                    new LoopInvariantQuery(),
                    new WideNotFound(),
                    new Unreachable(),
                    new OpenCursor(),
                    new OpenTransaction(),
                    new ConcatenatedSql(),
                    new NarrowType(),
                    new UncheckedParameter(),
                    new StaleFetch(),
                    new BoundToOneDatabase(),
                    new FalseDeterministic());

    private final Catalog catalog;
    private final List<String> silenced;

    private static final String RIGHTS = "rights-not-shown";

    /** The names of all rules. */
    public static List<String> names() {
        List<String> names = new ArrayList<>(RULES.stream().map(Rule::name).toList());
        names.add(RIGHTS);
        names.add(ExpressionBinder.NEVER_FITS);
        return names;
    }

    /** Without the advice that nobody wants to hear. */
    List<Problem> wanted(List<Problem> problems) {
        return wanted(problems, silenced);
    }

    /** The same of advice that others give. */
    public static List<Problem> wanted(List<Problem> problems, List<String> silenced) {
        List<Problem> wanted = new ArrayList<>(problems);
        wanted.removeIf(p -> !p.isError() && (silenced.contains(p.rule()) || Silence.covers(p)));
        return wanted;
    }

    /** What a database without users can't show of a routine. */
    Optional<Problem> rights(RoutineSymbol routine) {
        return routine.tree()
                .characteristics()
                .rights()
                .filter(whose -> !silenced.contains(RIGHTS))
                .map(
                        whose ->
                                Problem.advice(
                                        routine.tree().name().span(),
                                        RIGHTS,
                                        routine.name()
                                                + " says SQL SECURITY "
                                                + whose
                                                + ", and the embedded database has no users: every"
                                                + " right is there",
                                        "see what it may do with a case --on a server"))
                .filter(problem -> !Silence.covers(problem));
    }

    public Advice(Catalog catalog, List<String> silenced) {
        this.catalog = catalog;
        this.silenced = silenced;
    }

    /** What will disappoint in a routine. */
    public List<Problem> of(BoundRoutine routine) {
        List<Problem> advice = new ArrayList<>();
        Subject subject = new Subject(routine, catalog);
        for (Rule rule : RULES) {
            if (!silenced.contains(rule.name())) {
                rule.look(subject, advice);
            }
        }
        advice.removeIf(problem -> Silence.covers(problem));
        return advice;
    }
}
