package dev.cantina;

import dev.cantina.advice.CatalogCheck;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.CatalogBuilder;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.DatabaseException;
import dev.cantina.database.embedded.EmbeddedDatabase;
import dev.cantina.project.Arguments;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.Program;
import dev.cantina.runtime.Session;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import java.sql.SQLException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/** Tables and routines given as text, on an embedded database of their own. */
public final class Lab implements AutoCloseable {
    private final EmbeddedDatabase database;
    private final Program program;
    private final List<Problem> problems = new ArrayList<>();

    public Lab(String tables, String routines) {
        try {
            database = EmbeddedDatabase.open();
            database.create(new Source("tables.sql", tables));
            ParsedFile file = Parser.parse(new Source("routines.sql", routines));
            problems.addAll(file.problems());
            Catalog catalog =
                    new CatalogBuilder(database.tables(), problems::add).build(List.of(file));
            program = new Program(catalog, Optional.of(database));
            database.install(catalog);
        } catch (SQLException e) {
            throw new IllegalStateException(e);
        } catch (DatabaseException e) {
            throw new IllegalStateException(e.problem().toString(), e);
        }
    }

    public Program program() {
        return program;
    }

    public EmbeddedDatabase database() {
        return database;
    }

    /** Everything that check would say. */
    public List<Problem> check() {
        List<Problem> all = new ArrayList<>(problems);
        all.addAll(
                new CatalogCheck(program.catalog(), program.binder(), program::checkExternal)
                        .problems(List.of()));
        return all;
    }

    public Outcome call(String routine, Map<String, Object> arguments) {
        return call(routine, arguments, Limits.DEFAULT, Optional.empty());
    }

    public Outcome call(
            String routine, Map<String, Object> arguments, Limits limits, Optional<Probe> probe) {
        if (problems.stream().anyMatch(Problem::isError)) {
            throw new IllegalStateException(problems.toString());
        }
        RoutineSymbol symbol =
                Arguments.choose(
                        program.catalog().routines(routine.toUpperCase(Locale.ROOT)),
                        arguments.keySet());
        try {
            Session session = new Session(program, database, limits, Clock.systemUTC(), probe);
            try {
                return session.run(symbol, Arguments.match(symbol, arguments));
            } catch (Program.UnsoundException e) {
                throw new IllegalStateException(e.problems().toString(), e);
            } finally {
                session.close();
            }
        } catch (SQLException | Arguments.MisfitException e) {
            throw new IllegalStateException(e);
        }
    }

    @Override
    public void close() {
        try {
            database.close();
        } catch (SQLException e) {
            throw new IllegalStateException(e);
        }
    }
}
