package dev.cantina.cli;

import dev.cantina.cli.Screen.Tone;
import dev.cantina.database.ServerPart;
import dev.cantina.ship.Plan;
import dev.cantina.ship.Plan.Action;
import dev.cantina.ship.Plan.Step;
import dev.cantina.syntax.Problem;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Shows what a shipment does, or would do. */
final class ShipView {
    private static final int DIFFERENT = 8;
    private static final Pattern BODY = Pattern.compile("(?s)AS (\\$\\w*\\$)(.*?)\\1");

    private static final Pattern BEGIN =
            Pattern.compile(
                    "(?im)^\\s*(\\w+: )?(BEGIN|RETURN|IF|SELECT|INSERT|UPDATE|DELETE|SET|CALL|SIGNAL|DECLARE)\\b");

    private final Invocation call;
    private final Screen screen;

    ShipView(Invocation call) {
        this.call = call;
        this.screen = call.screen();
    }

    static String count(long number, String word) {
        return number + " " + word + (number == 1 ? "" : "s");
    }

    void show(String database, String description, Plan plan, boolean done) {
        if (call.json()) {
            json(database, plan, done);
            return;
        }
        if (!call.quiet()) {
            screen.line(
                    screen.tone(Tone.STRONG, database)
                            + screen.tone(Tone.FAINT, "  " + description));
            plan.steps().stream().filter(ShipView::isShown).forEach(this::step);
        }
        plan.refused().forEach(p -> new ProblemView(screen).toOutput(p));
        if (!call.quiet()) {
            screen.line(summary(plan, done));
        }
    }

    /** What Cantina needs itself is shown only where it stands in the way. */
    private static boolean isShown(Step step) {
        return !step.object().file().isEmpty() || step.action() == Action.HOLD;
    }

    private void step(Step step) {
        Action action = step.action();
        Tone tone =
                switch (action) {
                    case CREATE -> Tone.NEW;
                    case REPLACE -> Tone.GOOD;
                    case DROP, HOLD -> Tone.CAREFUL;
                    case LEAVE -> Tone.FAINT;
                };
        String word = String.format("  %-8s", action.name().toLowerCase(Locale.ROOT));
        String what = String.format("%-10s %-24s", step.object().kind(), step.object().name());
        boolean plain = action == Action.LEAVE || step.why().equals("new");
        screen.line(
                screen.tone(tone, word)
                        + what
                        + screen.tone(
                                Tone.FAINT, plain ? " " + step.object().file() : " " + step.why()));
        if (!step.standing().isEmpty()) {
            difference(step);
        }
    }

    /** The lines of the body that the server has, beside those that would take their place. */
    private void difference(Step step) {
        List<String> there = body(step.standing());
        List<String> here = new ArrayList<>();
        for (ServerPart part : step.object().parts()) {
            here.addAll(body(part.create()));
        }
        List<String> only = new ArrayList<>(there);
        here.forEach(only::remove);
        List<String> missing = new ArrayList<>(here);
        there.forEach(missing::remove);
        beside("there", only, Tone.CAREFUL);
        beside("here ", missing, Tone.NEW);
    }

    private void beside(String whose, List<String> lines, Tone tone) {
        lines.stream()
                .limit(DIFFERENT)
                .forEach(l -> screen.line("             " + whose + "   " + screen.tone(tone, l)));
        if (lines.size() > DIFFERENT) {
            screen.line(
                    screen.tone(
                            Tone.FAINT,
                            "             "
                                    + whose
                                    + "   … and "
                                    + (lines.size() - DIFFERENT)
                                    + " lines more"));
        }
    }

    /** What stands between the quotes of a body; the head is written in each server's own way. */
    private static List<String> body(String text) {
        List<String> lines = new ArrayList<>();
        Matcher body = BODY.matcher(text);
        while (body.find()) {
            body.group(2).lines().map(String::strip).filter(l -> !l.isEmpty()).forEach(lines::add);
        }
        if (lines.isEmpty()) {
            // A server whose bodies stand in no quotes: what follows the head.
            Matcher begin = BEGIN.matcher(text);
            String rest = begin.find() ? text.substring(begin.start()) : text;
            rest.lines().map(String::strip).filter(l -> !l.isEmpty()).forEach(lines::add);
        }
        return lines;
    }

    private String summary(Plan plan, boolean done) {
        List<String> parts = new ArrayList<>();
        for (Action action : Action.values()) {
            long number =
                    plan.steps().stream().filter(s -> s.action() == action && isShown(s)).count();
            if (number > 0) {
                parts.add(said(action, number, done));
            }
        }
        String all =
                parts.isEmpty()
                        ? "there is nothing to do"
                        : (done ? "" : "would ") + String.join(", ", parts);
        return screen.tone(done ? Tone.GOOD : Tone.STRONG, all)
                + (plan.refused().isEmpty()
                        ? ""
                        : screen.tone(Tone.BAD, "; " + plan.refused().size() + " can't be there"));
    }

    private static String said(Action action, long number, boolean done) {
        return switch (action) {
            case CREATE -> done ? number + " created" : "create " + number;
            case REPLACE -> done ? number + " replaced" : "replace " + number;
            case LEAVE -> done ? number + " left alone" : "leave " + number + " alone";
            case DROP -> done ? number + " dropped" : "drop " + number;
            case HOLD -> done ? number + " held" : "hold " + number + " back";
        };
    }

    private void json(String database, Plan plan, boolean done) {
        Map<String, Object> object = new LinkedHashMap<>();
        object.put("database", database);
        object.put("done", done);
        List<Map<String, Object>> steps = new ArrayList<>();
        for (Step step : plan.steps()) {
            Map<String, Object> one = new LinkedHashMap<>();
            one.put("action", step.action().name().toLowerCase(Locale.ROOT));
            one.put("kind", step.object().kind());
            one.put("name", step.object().name());
            one.put("file", step.object().file().isEmpty() ? null : step.object().file());
            one.put("why", step.why());
            one.put("standing", step.standing().isEmpty() ? null : step.standing());
            steps.add(one);
        }
        object.put("steps", steps);
        List<Map<String, Object>> refused = new ArrayList<>();
        for (Problem problem : plan.refused()) {
            Map<String, Object> one = new LinkedHashMap<>();
            one.put("file", problem.span().source().name());
            one.put("line", problem.span().line());
            one.put("column", problem.span().column());
            one.put("message", problem.message());
            refused.add(one);
        }
        object.put("refused", refused);
        screen.line(Json.text(object));
    }
}
