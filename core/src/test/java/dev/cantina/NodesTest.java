package dev.cantina;

import static org.junit.jupiter.api.Assertions.assertEquals;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundSql;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.Walker;
import dev.cantina.syntax.Change;
import dev.cantina.syntax.Clause;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.ExpressionWalk;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Query;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.SqlText;
import dev.cantina.syntax.SqlValue;
import dev.cantina.syntax.SqlWalk;
import dev.cantina.syntax.Statement;
import dev.cantina.syntax.TableSource;
import java.io.IOException;
import java.lang.reflect.RecordComponent;
import java.util.Arrays;
import java.util.Collection;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/**
 * Every kind of node stands in the conformance suite, which is checked, compiled, run, shipped and
 * run on servers: so each of these stages meets each node in every build, and one that a stage does
 * not know can't stay unseen.
 */
class NodesTest {
    /** What stands in no routine of the suite: only on the way to a server, or unknown. */
    private static final Set<Class<?>> ELSEWHERE =
            Set.of(Clause.Opaque.class, Clause.Returning.class, Expression.Parameter.class);

    @Test
    void everyNodeOfTheSyntaxIsInTheSuite() throws IOException {
        Set<Class<?>> seen = new HashSet<>();
        for (ConformanceTest.Section section : ConformanceTest.sections()) {
            collect(Parser.parse(new Source("s.sql", section.routines())).units(), seen);
        }
        for (Class<?> kind :
                List.of(
                        Statement.class,
                        Expression.class,
                        Query.class,
                        Change.class,
                        Clause.class,
                        TableSource.class)) {
            assertEquals(Set.of(), missing(kind, seen), kind.getSimpleName());
        }
    }

    @Test
    void everyBoundNodeIsInTheSuite() throws IOException {
        Set<Class<?>> seen = new HashSet<>();
        for (ConformanceTest.Section section : ConformanceTest.sections()) {
            if (section.lines().stream().anyMatch(l -> l.startsWith("problem: "))) {
                continue;
            }
            try (Lab lab = ConformanceTest.lab(section)) {
                lab.program().catalog().routines().stream()
                        .filter(r -> r.tree().body().isPresent())
                        .forEach(r -> bound(lab.program().binder().bind(r).routine(), seen));
                lab.program()
                        .catalog()
                        .triggers()
                        .forEach(t -> bound(lab.program().binder().bind(t).routine(), seen));
            }
        }
        for (Class<?> kind :
                List.of(BoundStatement.class, BoundExpression.class, BoundStatement.Target.class)) {
            assertEquals(Set.of(), missing(kind, seen), kind.getSimpleName());
        }
    }

    private static Set<String> missing(Class<?> kind, Set<Class<?>> seen) {
        return Arrays.stream(kind.getPermittedSubclasses())
                .flatMap(
                        c ->
                                c.isInterface()
                                        ? Arrays.stream(c.getPermittedSubclasses())
                                        : Stream.of(c))
                .filter(c -> !seen.contains(c) && !ELSEWHERE.contains(c))
                .map(Class::getSimpleName)
                .collect(Collectors.toCollection(TreeSet::new));
    }

    private static void bound(BoundRoutine routine, Set<Class<?>> seen) {
        Walker.statements(
                routine.body(),
                s -> {
                    seen.add(s.getClass());
                    Walker.expressions(s, e -> seen.add(e.getClass()));
                    parts(s, seen);
                });
    }

    /** The parts of a statement, the statements in it left out. */
    private static void parts(Object part, Set<Class<?>> seen) {
        if (part instanceof Optional<?> some) {
            some.ifPresent(one -> parts(one, seen));
        } else if (part instanceof Collection<?> all) {
            all.stream()
                    .filter(one -> !(one instanceof BoundStatement))
                    .forEach(one -> parts(one, seen));
        } else if (part instanceof Record && !(part instanceof BoundSql)) {
            seen.add(part.getClass());
            for (RecordComponent component : part.getClass().getRecordComponents()) {
                Object inner = of(part, component);
                boolean own =
                        inner instanceof BoundStatement.Target
                                || inner instanceof BoundExpression
                                || inner instanceof Optional<?>
                                || inner instanceof Collection<?>
                                || inner instanceof BoundStatement.Assignment;
                if (own) {
                    parts(inner, seen);
                }
            }
        }
    }

    private static void collect(Object part, Set<Class<?>> seen) {
        if (part instanceof Optional<?> some) {
            some.ifPresent(one -> collect(one, seen));
        } else if (part instanceof Collection<?> all) {
            all.forEach(one -> collect(one, seen));
        } else if (part instanceof SqlValue value) {
            value.expression().ifPresent(e -> ExpressionWalk.each(e, x -> collect(x, seen)));
        } else if (part instanceof Record) {
            seen.add(part.getClass());
            if (part instanceof SqlText text) {
                SqlWalk.each(text.tree(), found -> seen.add(found.expression().getClass()));
            }
            for (RecordComponent component : part.getClass().getRecordComponents()) {
                collect(of(part, component), seen);
            }
        }
    }

    private static Object of(Object part, RecordComponent component) {
        try {
            component.getAccessor().setAccessible(true);
            return component.getAccessor().invoke(part);
        } catch (ReflectiveOperationException e) {
            throw new AssertionError(e);
        }
    }
}
