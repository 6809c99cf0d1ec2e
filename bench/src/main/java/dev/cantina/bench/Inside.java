package dev.cantina.bench;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.CatalogBuilder;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.embedded.EmbeddedDatabase;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Program;
import dev.cantina.runtime.Session;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Source;
import java.sql.SQLException;
import java.time.Clock;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import org.openjdk.jmh.annotations.Benchmark;
import org.openjdk.jmh.annotations.BenchmarkMode;
import org.openjdk.jmh.annotations.Fork;
import org.openjdk.jmh.annotations.Measurement;
import org.openjdk.jmh.annotations.Mode;
import org.openjdk.jmh.annotations.OutputTimeUnit;
import org.openjdk.jmh.annotations.Scope;
import org.openjdk.jmh.annotations.Setup;
import org.openjdk.jmh.annotations.State;
import org.openjdk.jmh.annotations.TearDown;
import org.openjdk.jmh.annotations.Warmup;

/** The steps of a routine's way, each on its own. {@code bench/inside} runs them. */
@State(Scope.Thread)
@BenchmarkMode(Mode.AverageTime)
@OutputTimeUnit(TimeUnit.MICROSECONDS)
@Warmup(iterations = 3, time = 1)
@Measurement(iterations = 5, time = 1)
@Fork(1)
public class Inside {
    private static final String ROUTINES =
            """
            CREATE FUNCTION inner_one (n INTEGER) RETURNS INTEGER RETURN n + 1;
            CREATE FUNCTION calls (turns INTEGER) RETURNS INTEGER
            BEGIN
              DECLARE i INTEGER DEFAULT 0;
              WHILE i < turns DO SET i = inner_one(i); END WHILE;
              RETURN i;
            END;
            CREATE FUNCTION handled (turns INTEGER) RETURNS INTEGER
            BEGIN
              DECLARE i INTEGER DEFAULT 0;
              DECLARE bad, zero INTEGER DEFAULT 0;
              DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' SET bad = bad + 1;
              WHILE i < turns DO
                SET i = i + 1;
                SET bad = bad / zero;
              END WHILE;
              RETURN bad;
            END;
            """;

    private final Source source = new Source("inside.sql", ROUTINES);
    private EmbeddedDatabase database;
    private Program program;
    private RoutineSymbol one;
    private RoutineSymbol calls;
    private RoutineSymbol handled;

    @Setup
    public void open() throws SQLException {
        database = EmbeddedDatabase.open();
        Catalog catalog = catalog(Parser.parse(source));
        program = new Program(catalog, Optional.of(database));
        database.install(catalog);
        one = catalog.routines("INNER_ONE").get(0);
        calls = catalog.routines("CALLS").get(0);
        handled = catalog.routines("HANDLED").get(0);
    }

    private Catalog catalog(ParsedFile file) throws SQLException {
        return new CatalogBuilder(
                        database.tables(),
                        problem -> {
                            throw new IllegalStateException(problem.toString());
                        })
                .build(List.of(file));
    }

    @TearDown
    public void close() throws SQLException {
        database.close();
    }

    @Benchmark
    public Object readAFile() {
        return Parser.parse(source);
    }

    @Benchmark
    public Object bindARoutine() {
        return program.binder().bind(calls);
    }

    @Benchmark
    public Object aSessionAndOneCall() throws SQLException {
        return run(one, 1);
    }

    @Benchmark
    public Object aThousandCallsOfAFunction() throws SQLException {
        return run(calls, 1000);
    }

    @Benchmark
    public Object aThousandConditionsHandled() throws SQLException {
        return run(handled, 1000);
    }

    private Object run(RoutineSymbol routine, long argument) throws SQLException {
        Session session =
                new Session(program, database, Limits.DEFAULT, Clock.systemUTC(), Optional.empty());
        try {
            return session.run(routine, List.of(Optional.of(argument))).returned();
        } finally {
            session.close();
        }
    }
}
