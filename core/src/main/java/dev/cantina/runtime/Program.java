package dev.cantina.runtime;

import dev.cantina.binding.Binder;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Describer;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.facts.Reach;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.Unit;
import dev.cantina.types.ConditionException;
import java.sql.SQLException;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Deque;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.atomic.AtomicInteger;

/**
 * The routines of a catalog as they can be run, each bound and compiled when it is first needed.
 * Safe for use by several sessions at once.
 */
public final class Program {
    /** A run was wanted that can reach something with errors. */
    public static final class UnsoundException extends RuntimeException {
        private static final long serialVersionUID = 1L;
        private final transient List<Problem> problems;

        /**
         * @param routine what was to run
         * @param problems what is wrong
         */
        public UnsoundException(String routine, List<Problem> problems) {
            super(routine + " can't run before that is right; nothing was changed");
            this.problems = problems;
        }

        public List<Problem> problems() {
            return problems;
        }
    }

    private final Catalog catalog;
    private final Optional<Describer> describer;
    private final Map<Object, Routine> routines = new IdentityHashMap<>();
    private final Map<Object, Binder.Result> bound = new IdentityHashMap<>();
    private final Gate gate;
    private final ClassLoader externals;
    private final Optional<ServerRoutines> onServer;
    private final Map<RoutineSymbol, ExternalRoutine> found = new IdentityHashMap<>();
    private final AtomicInteger sites = new AtomicInteger();
    private RoutineLoader loader = new RoutineLoader();
    private PlantedSites planted;
    private final Watchdog watchdog = new Watchdog();
    private Optional<PlacedCode> placed = Optional.empty();

    public Program(Catalog catalog, Optional<Describer> describer) {
        this(catalog, describer, Program.class.getClassLoader());
    }

    /**
     * @param externals where the classes of external Java routines are found
     */
    public Program(Catalog catalog, Optional<Describer> describer, ClassLoader externals) {
        this(catalog, describer, externals, Optional.empty());
    }

    /**
     * @param onServer runs those routines that are in a server's own language
     */
    public Program(
            Catalog catalog,
            Optional<Describer> describer,
            ClassLoader externals,
            Optional<ServerRoutines> onServer) {
        this.onServer = onServer;
        this.catalog = catalog;
        this.describer = describer;
        this.externals = externals;
        this.gate = new Gate(this, describer);
    }

    /**
     * What runs the routines in a server's own language, and with them all others of the project.
     */
    Optional<ServerRoutines> onServer() {
        return onServer;
    }

    /**
     * Somebody is going to watch runs: see {@link ServerRoutines#expect}.
     *
     * @throws SQLException where the connection is broken
     */
    public boolean expectWatching(Probe.Detail detail) throws SQLException {
        return expectWatching(Optional.of(detail));
    }

    /**
     * The same where routines may only be replaced.
     *
     * @param detail empty where nobody watches
     */
    public boolean expectWatching(Optional<Probe.Detail> detail) throws SQLException {
        if (placed.isPresent()) {
            return placed.get().expect(detail.orElse(Probe.Detail.HOLD));
        }
        return onServer.isPresent() && onServer.get().expect(detail);
    }

    /**
     * The statements of a script, in the words that the project's database is spoken to.
     *
     * @throws SQLException where something in it has no end
     */
    public List<Span> statements(Source script) throws SQLException {
        return onServer.isPresent() ? onServer.get().statements(script) : Parser.statements(script);
    }

    /** Whether the database runs a routine by itself sometimes, and nothing is heard of that. */
    public boolean runsUnseen(BoundRoutine routine) {
        boolean tells =
                onServer.filter(s -> s.tellsOf(routine)).isPresent()
                        || placed.filter(p -> p.tellsOf(routine)).isPresent();
        return describer.map(Describer::runsAlone).orElse(false) && !tells;
    }

    /** The copies of its routines that a server runs by itself, where they can tell of it. */
    Optional<PlacedCode> placed() {
        return placed;
    }

    /** Says which copies of its routines a server runs by itself. */
    public void placed(PlacedCode code) {
        placed = Optional.of(code);
    }

    /** The routines in a server's own language that can be looked into. */
    public List<BoundRoutine> serverRoutines() {
        return onServer.map(ServerRoutines::routines).orElse(List.of());
    }

    /**
     * Looks whether a routine may run.
     *
     * @param standIn replaces routines that are called; null for none
     * @throws UnsoundException where it, or something that it can reach, has errors
     */
    synchronized void admit(RoutineSymbol routine, StandIn standIn) {
        gate.admit(routine, r -> standIn != null && standIn.replaces(r));
    }

    /**
     * Looks whether a routine may run.
     *
     * @throws UnsoundException where it, or something that it can reach, has errors
     */
    public void admit(RoutineSymbol routine) {
        admit(routine, null);
    }

    /**
     * The same of a script's statements; those of one that makes tables are looked at again when
     * they are called.
     */
    synchronized void admit(BoundRoutine script) {
        gate.admit(script);
    }

    /**
     * Looks whether a statement may be sent that no routine holds.
     *
     * @throws UnsoundException where something that it can set off has errors
     */
    public synchronized void admit(String statement) {
        gate.admit(statement);
    }

    /**
     * Looks whether rows of tables may be changed from outside any routine.
     *
     * @param what who changes them, for a person
     * @param tables their keys
     * @throws UnsoundException where something that it sets off has errors
     */
    public synchronized void admit(String what, Set<String> tables) {
        gate.admit(what, tables);
    }

    private final Map<RoutineSymbol, Boolean> changing = new IdentityHashMap<>();

    /** Whether a routine may change rows, itself or by what it calls. */
    synchronized boolean mayChange(RoutineSymbol symbol) {
        Boolean known = changing.get(symbol);
        if (known != null) {
            return known;
        }
        boolean may = mayChange(symbol, Collections.newSetFromMap(new IdentityHashMap<>()));
        changing.put(symbol, may);
        return may;
    }

    private boolean mayChange(RoutineSymbol symbol, Set<RoutineSymbol> seen) {
        Unit.SqlAccess access =
                symbol.tree().characteristics().access().orElse(Unit.SqlAccess.MODIFIES_SQL_DATA);
        if (access != Unit.SqlAccess.MODIFIES_SQL_DATA || !seen.add(symbol)) {
            return false;
        }
        if (symbol.tree().body().isEmpty()) {
            return true;
        }
        Reach reach = Reach.of(bound(symbol).routine(), catalog, symbol.module());
        return reach.changesRows() || reach.routines().stream().anyMatch(r -> mayChange(r, seen));
    }

    synchronized Binder.Result bound(RoutineSymbol symbol) {
        Binder.Result known = bound.get(symbol);
        if (known == null) {
            known = binder().bind(symbol);
            bound.put(symbol, known);
        }
        return known;
    }

    synchronized Binder.Result bound(TriggerSymbol symbol) {
        Binder.Result known = bound.get(symbol);
        if (known == null) {
            known = binder().bind(symbol);
            bound.put(symbol, known);
        }
        return known;
    }

    /**
     * The Java method of an external routine.
     *
     * @throws dev.cantina.types.ConditionException where it is not there
     */
    synchronized ExternalRoutine external(RoutineSymbol symbol) {
        ExternalRoutine known = found.get(symbol);
        if (known == null) {
            known = ExternalRoutine.find(symbol, externals);
            found.put(symbol, known);
        }
        return known;
    }

    /** Says what is wrong with an external routine's method, if anything is. */
    public Optional<Problem> checkExternal(RoutineSymbol symbol) {
        try {
            external(symbol);
            return Optional.empty();
        } catch (ConditionException e) {
            return Optional.of(
                    Problem.error(
                            symbol.tree().name().span(),
                            "unknown-external",
                            e.condition().message()));
        }
    }

    public Catalog catalog() {
        return catalog;
    }

    public Binder binder() {
        return new Binder(catalog, describer);
    }

    /**
     * The routine of a symbol.
     *
     * @throws UnsoundException where it has errors
     */
    public synchronized Routine routine(RoutineSymbol symbol) {
        Routine known = routines.get(symbol);
        if (known == null) {
            known = sound(symbol.name(), catalog.errors(symbol), bound(symbol));
            routines.put(symbol, known);
        }
        return known;
    }

    /** The routine that a trigger runs; throws as {@link #routine(RoutineSymbol)} does. */
    public synchronized Routine routine(TriggerSymbol symbol) {
        Routine known = routines.get(symbol);
        if (known == null) {
            known = sound(symbol.name(), catalog.errors(symbol), bound(symbol));
            routines.put(symbol, known);
        }
        return known;
    }

    private Routine sound(String name, List<Problem> unread, Binder.Result result) {
        List<Problem> errors = new ArrayList<>(unread);
        result.problems().stream().filter(Problem::isError).forEach(errors::add);
        if (!errors.isEmpty()) {
            throw new UnsoundException(name, errors);
        }
        return routine(result.routine());
    }

    /** The value of a parameter's default, worked out in a session outside any routine. */
    Object defaultOf(RoutineSymbol symbol, int position, Session session) {
        Binder.BoundProbe bound = binder().initial(symbol.parameters().get(position));
        ProbeCode code = RoutineCompiler.expression(this, bound.expression(), bound.variables());
        return code.value(session);
    }

    /** The initial value of a module's variable. */
    Object initial(ModuleSymbol module, int index, Session session) {
        Binder.BoundProbe bound = binder().initial(module, index);
        ProbeCode code = RoutineCompiler.expression(this, bound.expression(), bound.variables());
        return code.value(session);
    }

    Routine routine(BoundRoutine bound) {
        return new Routine(this, bound);
    }

    /**
     * Gives a routine another body for a time, in which nobody else may run the program.
     *
     * @param of whose
     * @param bound without errors; its parameters are those of the routine
     */
    public Planted plant(RoutineSymbol of, BoundRoutine bound) {
        return plant(routine(of), bound);
    }

    /** The same of a trigger. */
    public Planted plant(TriggerSymbol of, BoundRoutine bound) {
        return plant(routine(of), bound);
    }

    private synchronized Planted plant(Routine routine, BoundRoutine bound) {
        RoutineLoader own = loader;
        planted = new PlantedSites();
        // Its classes are to be gone with it.
        loader = new RoutineLoader();
        PlantedSites numbers = planted;
        try {
            Planted made = routine.plant(bound, new RoutineCompiler(this, bound, false).compile());
            return () -> {
                made.close();
                numbers.giveBack();
            };
        } finally {
            loader = own;
            planted = null;
        }
    }

    private final Deque<Integer> spareSites = new ArrayDeque<>();

    /** The numbers of the sites of a body that stands for a time; the next such takes them. */
    private final class PlantedSites {
        private final List<Integer> taken = new ArrayList<>();

        int next() {
            int number = spareSites.isEmpty() ? sites.getAndIncrement() : spareSites.pop();
            taken.add(number);
            return number;
        }

        void giveBack() {
            synchronized (Program.this) {
                taken.forEach(spareSites::push);
            }
        }
    }

    int nextSite() {
        return planted == null ? sites.getAndIncrement() : planted.next();
    }

    Watchdog watchdog() {
        return watchdog;
    }

    RoutineLoader loader() {
        return loader;
    }
}
