package dev.cantina.ship;

import dev.cantina.database.ServerPart;
import dev.cantina.ship.Plan.Action;
import dev.cantina.ship.Plan.Step;
import dev.cantina.ship.Server.Entry;
import dev.cantina.syntax.Problem;
import dev.cantina.translate.ServerObject;
import dev.cantina.translate.Translation;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Compares what a project has with what a server has, and says what is to be done. */
public final class Shipment {
    private final Server server;
    private final String project;

    public Shipment(Server server, String project) {
        this.server = server;
        this.project = project;
    }

    /** The plan that takes a translation to the server. */
    public Plan plan(Translation translation) throws SQLException {
        List<Entry> ledger = server.ledger(project);
        Set<String> identities = new LinkedHashSet<>();
        ledger.forEach(e -> identities.add(e.identity()));
        translation.objects().forEach(o -> o.parts().forEach(p -> identities.add(p.identity())));
        translation.support().forEach(o -> o.parts().forEach(p -> identities.add(p.identity())));
        Map<String, String> standing = server.standing(identities);
        Map<String, Entry> known = new LinkedHashMap<>();
        ledger.forEach(e -> known.put(e.identity(), e));
        List<Step> steps = new ArrayList<>();
        List<Problem> refused = new ArrayList<>(translation.refused());
        Set<ServerObject> hidden = new LinkedHashSet<>(server.hidden(translation.objects()));
        for (ServerObject object : translation.support()) {
            steps.add(step(object, known, standing));
        }
        for (ServerObject object : translation.objects()) {
            if (hidden.contains(object)) {
                steps.add(
                        new Step(
                                Action.HOLD,
                                object,
                                "the server has a function of this name itself, which calls would"
                                        + " reach instead",
                                Action.HOLD,
                                ""));
                continue;
            }
            steps.add(step(object, known, standing));
        }
        steps.addAll(gone(ledger, translation, standing));
        return new Plan(steps, refused);
    }

    /**
     * The plan where the sources are those that were shipped: nothing to do. Empty where that is
     * not so, or the server no longer has what it was given, so that it must be looked at closely.
     *
     * @param fingerprint of the sources as they are
     */
    public Optional<Plan> unchanged(String fingerprint) throws SQLException {
        if (fingerprint.isEmpty() || !server.fingerprint(project).equals(fingerprint)) {
            return Optional.empty();
        }
        List<Entry> ledger = server.ledger(project);
        Map<String, String> standing =
                server.standing(ledger.stream().map(Entry::identity).toList());
        Map<List<String>, List<ServerPart>> objects = new LinkedHashMap<>();
        for (Entry entry : ledger) {
            if (!entry.standing().equals(standing.get(entry.identity()))) {
                return Optional.empty();
            }
            objects.computeIfAbsent(
                            List.of(entry.kind(), entry.name(), entry.file()),
                            k -> new ArrayList<>())
                    .add(new ServerPart(entry.identity(), entry.shipped(), entry.drop()));
        }
        List<Step> steps = new ArrayList<>();
        objects.forEach(
                (key, parts) ->
                        steps.add(
                                plain(
                                        Action.LEAVE,
                                        new ServerObject(key.get(0), key.get(1), key.get(2), parts),
                                        "the same")));
        return Optional.of(new Plan(steps, List.of()));
    }

    /** The plan that takes everything away that was shipped from the project. */
    public Plan removal() throws SQLException {
        List<Entry> ledger = server.ledger(project);
        Map<String, String> standing =
                server.standing(ledger.stream().map(Entry::identity).toList());
        ledger.removeIf(e -> e.file().isEmpty());
        Translation nothing = new Translation(List.of(), List.of(), List.of());
        return new Plan(gone(ledger, nothing, standing), List.of());
    }

    private static Step step(
            ServerObject object, Map<String, Entry> known, Map<String, String> standing) {
        boolean fresh = object.parts().stream().noneMatch(p -> known.containsKey(p.identity()));
        boolean changed = false;
        boolean lost = false;
        boolean alike = false;
        StringBuilder others = new StringBuilder();
        String whose = "";
        for (ServerPart part : object.parts()) {
            Entry entry = known.get(part.identity());
            String stands = standing.get(part.identity());
            boolean schema = part.identity().startsWith("schema ");
            if (entry == null) {
                changed = true;
                boolean same = stands != null && isSame(stands, part.create());
                alike |= same;
                if (stands != null && !schema && !same) {
                    whose = "already exists, and was not shipped from this project";
                    others.append(stands).append('\n');
                }
            } else if (stands == null) {
                lost = true;
            } else {
                changed |= !entry.shipped().equals(part.create());
                if (!entry.standing().equals(stands)) {
                    whose = "was changed on the server since it was shipped";
                    others.append(stands).append('\n');
                }
            }
        }
        if (!whose.isEmpty()) {
            return new Step(Action.HOLD, object, whose, Action.REPLACE, others.toString());
        }
        if (fresh && alike) {
            return plain(Action.REPLACE, object, "the same is there already");
        }
        if (fresh) {
            return plain(Action.CREATE, object, "new");
        }
        if (lost) {
            return plain(Action.CREATE, object, "shipped before, and gone from the server since");
        }
        return changed
                ? plain(Action.REPLACE, object, "the project has changed it")
                : plain(Action.LEAVE, object, "the same");
    }

    /** Whether what stands there is what would be made; more may be said of it behind that. */
    private static boolean isSame(String stands, String create) {
        String there = bare(stands);
        String here = bare(create);
        return here.equals(there) || here.startsWith(there + ";\n");
    }

    /** A statement as it was written, whether it replaces something or not. */
    private static String bare(String create) {
        return create.strip().replaceFirst("^CREATE OR REPLACE ", "CREATE ");
    }

    private static Step plain(Action action, ServerObject object, String why) {
        return new Step(action, object, why, action, "");
    }

    /** What was shipped once and is in the project no more, the last first. */
    private List<Step> gone(
            List<Entry> ledger, Translation translation, Map<String, String> standing)
            throws SQLException {
        Set<String> wanted = new LinkedHashSet<>();
        translation.objects().forEach(o -> o.parts().forEach(p -> wanted.add(p.identity())));
        translation.support().forEach(o -> o.parts().forEach(p -> wanted.add(p.identity())));
        Map<List<String>, List<Entry>> objects = new LinkedHashMap<>();
        List<Entry> last = new ArrayList<>(ledger);
        Collections.reverse(last);
        for (Entry entry : last) {
            boolean own = entry.file().isEmpty();
            if (!wanted.contains(entry.identity()) && !(own && server.isShared(project, entry))) {
                objects.computeIfAbsent(
                                List.of(entry.kind(), entry.name(), entry.file()),
                                k -> new ArrayList<>())
                        .add(entry);
            }
        }
        List<Step> steps = new ArrayList<>();
        objects.forEach((key, entries) -> steps.add(gone(key, entries, standing)));
        return steps;
    }

    private static Step gone(List<String> key, List<Entry> entries, Map<String, String> standing) {
        List<ServerPart> parts = new ArrayList<>();
        StringBuilder changed = new StringBuilder();
        for (Entry entry : entries) {
            parts.add(new ServerPart(entry.identity(), entry.shipped(), entry.drop()));
            String stands = standing.get(entry.identity());
            if (stands != null && !stands.equals(entry.standing())) {
                changed.append(stands).append('\n');
            }
        }
        ServerObject object = new ServerObject(key.get(0), key.get(1), key.get(2), parts);
        return changed.length() > 0
                ? new Step(
                        Action.HOLD,
                        object,
                        "was changed on the server since it was shipped, and is to go",
                        Action.DROP,
                        changed.toString())
                : plain(Action.DROP, object, "no longer in the project");
    }
}
