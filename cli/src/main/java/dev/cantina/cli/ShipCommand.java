package dev.cantina.cli;

import dev.cantina.binding.Binder;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Table;
import dev.cantina.database.ServerConnection;
import dev.cantina.database.ServerKind;
import dev.cantina.database.UnreachableException;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Sources;
import dev.cantina.project.Workspace;
import dev.cantina.ship.OwnTranslation;
import dev.cantina.ship.Plan;
import dev.cantina.ship.Server;
import dev.cantina.ship.Shipment;
import dev.cantina.ship.Shippable;
import dev.cantina.syntax.Problem;
import dev.cantina.translate.ServerLanguage;
import dev.cantina.translate.Translation;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import org.apache.commons.cli.Options;

/** {@code ship DATABASE}. */
final class ShipCommand implements Command {
    @Override
    public String name() {
        return "ship";
    }

    @Override
    public String arguments() {
        return "DATABASE";
    }

    @Override
    public String summary() {
        return "take the routines to a server, in its own language";
    }

    @Override
    public String example() {
        return "cantina --project demo/winery ship postgresql --to winery.sql --rest";
    }

    @Override
    public Options options() {
        Options options = new Options();
        Main.option(options, "plan", null, "show what would be done, and do nothing");
        Main.option(options, "to", "FILE", "write a script instead; - for standard output");
        Main.option(options, "rest", null, "ship the rest where some routines can't be there");
        Main.option(options, "take-over", null, "replace what others made or changed there");
        Main.option(options, "remove", null, "take away all that was shipped from this project");
        return options;
    }

    @Override
    public int run(Invocation call) throws UsageException, ProjectException, SQLException {
        Project project = call.project();
        if (call.arguments().size() != 1) {
            throw new UsageException(
                    "ship takes the name of one database; cantina.yaml lists them under databases:");
        }
        String name = call.arguments().get(0);
        if (call.value("to").isPresent()) {
            if (project.own().isPresent()) {
                throw new UsageException(
                        "--to writes what is translated; a project in "
                                + project.own().get().dialect()
                                + "'s own language is its script itself: the files in routines:");
            }
            return script(call, project, name);
        }
        ServerConnection.Address address = project.address(name);
        mustBeOfItsKind(project, name, address);
        try (Server server = Server.open(address, project.root())) {
            recover(call, server);
            return call.has("remove")
                    ? remove(call, project, name, server)
                    : ship(call, project, name, server);
        }
    }

    private static void mustBeOfItsKind(
            Project project, String name, ServerConnection.Address address) throws UsageException {
        String kind = ServerKind.of(address.url()).map(ServerKind::name).orElse("");
        String dialect = project.own().map(Project.OwnLanguage::dialect).orElse(kind);
        if (!kind.equals(dialect)) {
            throw new UsageException(
                    "the routines are in "
                            + dialect
                            + "'s own language, and "
                            + name
                            + " is another kind of server");
        }
    }

    /** A ship that was cut off is put right before anything else. */
    private static void recover(Invocation call, Server server) throws SQLException {
        Optional<String> unfinished = server.unfinished();
        if (unfinished.isEmpty()) {
            return;
        }
        if (call.has("plan")) {
            call.screen()
                    .note("cantina: " + unfinished.get() + "; the next ship takes that back first");
            return;
        }
        server.recover();
        call.screen().note("cantina: " + unfinished.get() + "; all of it is taken back now");
    }

    /** The project's routines, all of them without errors. */
    private static Workspace sound(Invocation call, Project project)
            throws UsageException, ProjectException {
        Workspace workspace = Workspace.open(project, Optional.empty());
        try {
            mustBeSound(call, workspace.errors());
        } catch (UsageException e) {
            workspace.close();
            throw e;
        }
        return workspace;
    }

    private static void mustBeSound(Invocation call, List<Problem> errors) throws UsageException {
        if (!errors.isEmpty()) {
            errors.forEach(new ProblemView(call.screen())::toError);
            throw new UsageException(
                    "nothing was shipped: the project has the errors above; correct them first");
        }
    }

    private static int script(Invocation call, Project project, String name)
            throws UsageException, ProjectException, SQLException {
        Optional<ServerKind> kind = ServerKind.named(name);
        if (kind.isEmpty()) {
            kind = ServerKind.of(project.address(name).url());
        }
        if (kind.isEmpty()) {
            throw new UsageException(name + " is no server that routines can be shipped to");
        }
        ServerLanguage language = ServerLanguage.of(kind.get());
        Translation translation;
        try (Workspace workspace = sound(call, project)) {
            Catalog catalog = workspace.catalog();
            Binder binder = workspace.program().binder();
            translation = language.shipped(catalog, binder, workspace.database());
        }
        translation.refused().forEach(p -> new ProblemView(call.screen()).toError(p));
        if (!translation.refused().isEmpty() && !call.has("rest")) {
            call.screen().note(refusal(translation.refused().size(), "nothing was written"));
            return ExitCode.FAILED;
        }
        String text = language.script(translation);
        String file = call.value("to").orElseThrow();
        if (file.equals("-")) {
            call.screen().line(text.stripTrailing());
            return ExitCode.WELL;
        }
        try {
            Files.writeString(call.folder().resolve(Path.of(file)), text);
        } catch (IOException e) {
            throw new UsageException(file + " can't be written: " + e.getMessage());
        }
        if (!call.quiet()) {
            call.screen()
                    .line(
                            ShipView.count(translation.objects().size(), "object")
                                    + " written to "
                                    + file);
        }
        return ExitCode.WELL;
    }

    private static String refusal(int routines, String so) {
        return "cantina: "
                + ShipView.count(routines, "routine")
                + " can't be said in the server's language, so "
                + so
                + "; change them, or ship the others with --rest";
    }

    private static int ship(Invocation call, Project project, String name, Server server)
            throws UsageException, ProjectException, SQLException {
        Shipment shipment = new Shipment(server, project.name());
        List<String> path = project.own().map(Project.OwnLanguage::searchPath).orElse(List.of());
        if (!path.isEmpty()) {
            server.searchPath(path);
        }
        String fingerprint = Sources.fingerprint(project) + server.circumstances();
        Optional<Plan> unchanged = shipment.unchanged(fingerprint);
        if (unchanged.isPresent()) {
            new ShipView(call).show(name, server.description(), unchanged.get(), !call.has("plan"));
            return ExitCode.WELL;
        }
        Plan plan;
        try (Workspace embedded = Workspace.open(project, Optional.empty())) {
            List<String> missing =
                    project.own().isPresent()
                            ? server.missing(
                                    embedded.catalog().tables().stream().map(Table::name).toList())
                            : server.missing(embedded.catalog());
            if (!missing.isEmpty()) {
                throw new UnreachableException(
                        name
                                + " has not got the tables "
                                + String.join(", ", missing)
                                + " ("
                                + server.description()
                                + "); make them first, nothing was shipped");
            }
            plan =
                    shipment.plan(
                            project.own().isPresent()
                                    ? own(call, embedded)
                                    : translation(call, project, name, server, embedded));
        }
        if (call.has("take-over")) {
            plan = plan.takenOver();
        }
        boolean refused = !plan.refused().isEmpty() && !call.has("rest");
        boolean does = !call.has("plan") && !refused && !plan.isHeld();
        if (does) {
            perform(server, project, plan, plan.refused().isEmpty() ? fingerprint : "");
        }
        ShipView view = new ShipView(call);
        view.show(name, server.description(), plan, does);
        if (refused && !call.has("plan")) {
            call.screen()
                    .note(
                            project.own().isPresent()
                                    ? "cantina: "
                                            + ShipView.count(plan.refused().size(), "statement")
                                            + " can't be shipped, so nothing was shipped; take what"
                                            + " makes no routine to the tables, or ship the others"
                                            + " with --rest"
                                    : refusal(plan.refused().size(), "nothing was shipped"));
        } else if (plan.isHeld() && !call.has("plan")) {
            call.screen()
                    .note(
                            "cantina: nothing was shipped, because of what is held; --take-over"
                                    + " replaces it");
        }
        return refused || plan.isHeld() ? ExitCode.FAILED : ExitCode.WELL;
    }

    /** Routines in the server's own language, without errors on a private one. */
    private static Translation own(Invocation call, Workspace workspace)
            throws UsageException, SQLException {
        mustBeSound(call, workspace.errors());
        return OwnTranslation.of(workspace);
    }

    /** What is shipped, checked as the server sees it. */
    private static Translation translation(
            Invocation call, Project project, String name, Server server, Workspace embedded)
            throws UsageException, ProjectException, SQLException {
        try (Shippable looked = Shippable.on(project, name, embedded)) {
            looked.unseen()
                    .ifPresent(
                            reason ->
                                    call.screen()
                                            .note(
                                                    "cantina: "
                                                            + name
                                                            + " could not look at the routines first ("
                                                            + reason
                                                            + "), so the embedded database did"));
            mustBeSound(call, looked.errors());
            Workspace workspace = looked.workspace();
            return server.translate(workspace.catalog(), workspace.program().binder());
        }
    }

    /** What MariaDB says where a right is missing, by its numbers. */
    private static final List<Integer> DENIED = List.of(1044, 1142, 1227, 1370, 1419);

    private static void perform(Server server, Project project, Plan plan, String fingerprint)
            throws UnreachableException {
        try {
            server.perform(project.name(), plan, fingerprint);
        } catch (SQLException e) {
            String state = e.getSQLState() == null ? "" : e.getSQLState();
            boolean lost = state.startsWith("08") || state.startsWith("57P");
            String reason =
                    state.equals("42501") || DENIED.contains(e.getErrorCode())
                            ? "the user lacks a right: " + e.getMessage()
                            : lost ? "the connection was lost" : e.getMessage();
            throw new UnreachableException(
                    reason
                            + (lost
                                    ? "; what is there is all or nothing of it, or is taken back by"
                                            + " the next ship: cantina ship --plan tells which"
                                    : "; nothing was shipped, all of it is taken back"));
        }
    }

    private static int remove(Invocation call, Project project, String name, Server server)
            throws SQLException {
        Plan plan = new Shipment(server, project.name()).removal();
        if (call.has("take-over")) {
            plan = plan.takenOver();
        }
        boolean does = !call.has("plan") && !plan.isHeld();
        if (does) {
            perform(server, project, plan, "");
        }
        new ShipView(call).show(name, server.description(), plan, does);
        return plan.isHeld() ? ExitCode.FAILED : ExitCode.WELL;
    }
}
