package dev.cantina.agree;

import dev.cantina.agree.mariadb.NativeMaria;
import dev.cantina.agree.postgresql.NativePostgres;
import dev.cantina.binding.Binder;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.Table;
import dev.cantina.database.ServerConnection;
import dev.cantina.database.ServerKind;
import dev.cantina.database.ServerPart;
import dev.cantina.database.TableRows;
import dev.cantina.nativecode.PlacedParts;
import dev.cantina.project.Placement;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.RowEvent;
import dev.cantina.runtime.TableChanges;
import dev.cantina.syntax.Problem;
import dev.cantina.testing.CaseRunner;
import dev.cantina.testing.TestCase;
import dev.cantina.translate.Translation;
import dev.cantina.types.Values;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Runs cases with the project's routines in a server's own language, in a place of their own with a
 * fixture's rows. What a case commits is undone from copies of the tables; the place goes when this
 * is closed, and what a killed run has left goes with the next one.
 */
public abstract class NativeServer implements AutoCloseable {
    /** How the names of such places begin. */
    public static final String PREFIX = "cantina_agree_";

    /** Opens one. */
    public interface Opening {
        NativeServer open(Project project, String database, String fixture, CaseRunner cases)
                throws ProjectException, SQLException;
    }

    /** All that there are, by the names of their kinds. */
    private static final Map<String, Opening> KINDS =
            Map.of("postgresql", NativePostgres::open, "mariadb", NativeMaria::open);

    private final CaseRunner cases;
    private final List<Problem> refused;
    private final Workspace workspace;
    private final Connection connection;
    private final List<Table> tables;
    private final Unsound unsound = new Unsound();

    /** What is taken to the server: the translation, and what makes it stand there. */
    public interface Shipping {
        Translation translation(Catalog catalog, Binder binder, Connection server)
                throws SQLException;
    }

    /**
     * @param cases reads the cases' arguments
     * @param place the name of the place that is made
     */
    public NativeServer(
            Project project,
            String database,
            String fixture,
            CaseRunner cases,
            String place,
            Shipping shipping)
            throws ProjectException, SQLException {
        this.cases = cases;
        List<Problem> problems = new ArrayList<>();
        workspace =
                Workspace.lasting(
                        project,
                        database,
                        fixture,
                        place,
                        (catalog, binder, server) -> {
                            try (Workspace bound =
                                    Workspace.bound(project, database, Placement::heads)) {
                                Translation translation =
                                        shipping.translation(
                                                bound.catalog(),
                                                bound.program().binder(),
                                                server.connection());
                                unsound.look(bound);
                                problems.addAll(translation.refused());
                                List<ServerPart> parts = new ArrayList<>();
                                translation.support().forEach(o -> parts.addAll(o.parts()));
                                translation.objects().stream()
                                        .filter(o -> !unsound.holds(o))
                                        .forEach(o -> parts.addAll(o.parts()));
                                server.place(parts);
                                return PlacedParts.NONE;
                            }
                        },
                        false);
        refused = problems;
        connection = workspace.database().connection();
        tables = workspace.catalog().tables().stream().filter(t -> !t.view()).toList();
    }

    /** The one for the kind of server that an address means. */
    protected static NativeServer open(
            Project project, String database, String fixture, CaseRunner cases)
            throws ProjectException, SQLException {
        String kind =
                ServerKind.of(project.address(database).url()).map(ServerKind::name).orElse("");
        Opening opening = KINDS.get(kind);
        if (opening == null) {
            // Says why this is no server that can be used.
            ServerConnection.open(project.address(database), project.root());
        }
        return opening.open(project, database, fixture, cases);
    }

    protected Workspace workspace() {
        return workspace;
    }

    protected Connection connection() {
        return connection;
    }

    /** The tables of the fixture, views left out. */
    protected List<Table> tables() {
        return tables;
    }

    protected void execute(String sql) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.setEscapeProcessing(false);
            statement.execute(sql);
        }
    }

    /** A name that nothing of the table's own has. */
    protected static String copy(Table table) {
        return '"' + "cantina_copy_" + table.name().replace("\"", "\"\"") + '"';
    }

    protected static String name(Table table) {
        return '"' + table.name().replace("\"", "\"\"") + '"';
    }

    /** The columns that rows are put back into. */
    protected static String columns(Table table) {
        return String.join(
                ", ",
                table.columns().stream()
                        .filter(c -> !c.generated())
                        .map(c -> '"' + c.name().replace("\"", "\"\"") + '"')
                        .toList());
    }

    /** What calls routines there. */
    protected abstract NativeCalls calls();

    /** Makes it a moment there. */
    protected abstract void clock(LocalDateTime now) throws SQLException;

    /** Puts the fixture's rows and numbers back. */
    protected abstract void reset() throws SQLException;

    /** Why a case can't be run this way; empty where it can. */
    protected Optional<String> cannot(TestCase testCase) {
        if (testCase.standIns().isPresent()) {
            return Optional.of("stand-ins are Cantina's");
        }
        if (testCase.limits().isPresent()) {
            return Optional.of("limits are Cantina's");
        }
        for (TestCase.Call call : testCase.calls()) {
            for (RoutineSymbol routine : workspace.catalog().routinesCalled(call.routine())) {
                Optional<String> error = unsound.reason(routine);
                if (error.isPresent()) {
                    return error;
                }
                for (Problem problem : refused) {
                    boolean inside =
                            problem.span().source().name().equals(routine.span().source().name())
                                    && routine.span().start() <= problem.span().start()
                                    && problem.span().end() <= routine.span().end();
                    if (inside) {
                        return Optional.of(problem.message());
                    }
                }
            }
        }
        return Optional.empty();
    }

    protected ObservedResult run(TestCase testCase) throws ProjectException, SQLException {
        ObservedResult seen = new ObservedResult();
        try {
            connection.setAutoCommit(false);
            clock(LocalDateTime.now(cases.clock(testCase)));
            cases.begin(testCase, workspace);
            // A script of the case may have set the clock back to the server's.
            clock(LocalDateTime.now(cases.clock(testCase)));
            connection.commit();
            Map<Table, Map<List<String>, Object[]>> before = rows();
            for (TestCase.Call call : testCase.calls()) {
                RoutineSymbol routine = CaseRunner.routine(workspace, call);
                List<Optional<Object>> given = cases.arguments(workspace, call, routine);
                connection.commit();
                connection.setAutoCommit(true);
                seen.call(call.at(), routine, calls().call(routine, given));
                connection.setAutoCommit(false);
            }
            seen.changes(TableChanges.of(changed(before, rows())));
            return seen;
        } finally {
            reset();
        }
    }

    /** All rows as they are now. */
    protected Map<Table, Map<List<String>, Object[]>> rows() throws SQLException {
        Map<Table, Map<List<String>, Object[]>> all = new LinkedHashMap<>();
        for (Table table : tables) {
            all.put(table, TableRows.read(connection, table, workspace.database()::read));
        }
        return all;
    }

    protected static List<RowEvent> changed(
            Map<Table, Map<List<String>, Object[]>> before,
            Map<Table, Map<List<String>, Object[]>> after) {
        List<RowEvent> events = new ArrayList<>();
        before.forEach(
                (table, rows) -> {
                    Map<List<String>, Object[]> now = after.get(table);
                    rows.forEach(
                            (key, row) -> {
                                Object[] there = now.get(key);
                                if (there == null || !Values.same(row, there)) {
                                    events.add(new RowEvent(table, row, there, Optional.empty()));
                                }
                            });
                    now.forEach(
                            (key, row) -> {
                                if (!rows.containsKey(key)) {
                                    events.add(new RowEvent(table, null, row, Optional.empty()));
                                }
                            });
                });
        return events;
    }

    @Override
    public abstract void close() throws SQLException;
}
