package dev.cantina.debugging;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.project.KeptFile;
import dev.cantina.project.Project;
import dev.cantina.syntax.Source;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * The breakpoints of a project between two runs, in {@code .cantina/breakpoints.json}. One on a
 * line is kept with the text of the line, and follows it when the file is edited.
 */
public final class KeptBreakpoints {
    private final KeptFile file;
    private final ObjectNode content;

    /** Those that can't stand anywhere just now, kept for when they can again. */
    private final List<JsonNode> homeless = new ArrayList<>();

    public KeptBreakpoints(Project project) {
        this.file = new KeptFile(project, "breakpoints.json");
        this.content = file.read();
    }

    /**
     * Gives a debugger the breakpoints that are kept.
     *
     * @return what there is to say about them, a line each: which have moved, and which can't stand
     */
    public List<String> restore(Debugger debugger) {
        List<String> notes = new ArrayList<>();
        for (JsonNode kept : content.path("breakpoints")) {
            Optional<Breakpoint> read = read(kept);
            if (read.isEmpty()) {
                continue;
            }
            try {
                Breakpoint breakpoint = followed(debugger, read.get(), kept.path("text"));
                Breakpoint stood = debugger.keep(breakpoint);
                if (stood.kind() == Breakpoint.Kind.LINE && stood.line() != read.get().line()) {
                    notes.add(
                            "breakpoint "
                                    + stood.number()
                                    + " has moved with its line, from "
                                    + read.get().line()
                                    + " to "
                                    + stood.routine()
                                    + ":"
                                    + stood.line());
                }
            } catch (DebugException e) {
                homeless.add(kept);
                notes.add("a breakpoint that was kept is left out: " + e.getMessage());
            }
        }
        return notes;
    }

    /** The breakpoint where its line is now. */
    private static Breakpoint followed(Debugger debugger, Breakpoint kept, JsonNode text)
            throws DebugException {
        if (kept.kind() != Breakpoint.Kind.LINE) {
            return kept;
        }
        BoundRoutine routine = debugger.known().routine(kept.routine(), kept.line());
        Source source = routine.span().source();
        int best = kept.line();
        int bestLikeness = 0;
        for (int line = routine.span().line(); line <= routine.span().endLine(); line++) {
            int likeness = likeness(source, line, text);
            boolean nearer = Math.abs(line - kept.line()) < Math.abs(best - kept.line());
            if (likeness > bestLikeness || likeness == bestLikeness && likeness > 0 && nearer) {
                best = line;
                bestLikeness = likeness;
            }
        }
        return Breakpoint.of(kept.kind(), kept.routine(), best, kept.on())
                .when(kept.condition())
                .counted(kept.after(), kept.every())
                .telling(kept.tells())
                .enabled(kept.enabled());
    }

    private static Optional<Breakpoint> read(JsonNode kept) {
        Breakpoint.Kind kind = null;
        for (Breakpoint.Kind known : Breakpoint.Kind.values()) {
            kind = known.name().equalsIgnoreCase(kept.path("kind").asText()) ? known : kind;
        }
        if (kind == null) {
            return Optional.empty();
        }
        return Optional.of(
                Breakpoint.of(
                                kind,
                                kept.path("routine").asText(),
                                kept.path("line").asInt(),
                                kept.path("on").asText())
                        .when(Optional.ofNullable(kept.get("when")).map(JsonNode::asText))
                        .counted(kept.path("after").asInt(), kept.path("every").asInt(1))
                        .telling(Optional.ofNullable(kept.get("tell")).map(JsonNode::asText))
                        .enabled(kept.path("enabled").asBoolean(true)));
    }

    /**
     * Keeps the breakpoints that a debugger has now.
     *
     * @return whether they could be kept
     */
    public boolean keep(Debugger debugger) {
        ArrayNode all = content.putArray("breakpoints");
        for (Breakpoint breakpoint : debugger.breakpoints()) {
            ObjectNode kept = all.addObject();
            kept.put("kind", breakpoint.kind().name().toLowerCase(java.util.Locale.ROOT));
            kept.put("routine", breakpoint.routine());
            kept.put("on", breakpoint.on());
            if (breakpoint.kind() == Breakpoint.Kind.LINE) {
                kept.put("line", breakpoint.line());
                text(debugger, breakpoint).forEach(kept.putArray("text")::add);
            }
            breakpoint.condition().ifPresent(c -> kept.put("when", c));
            breakpoint.tells().ifPresent(t -> kept.put("tell", t));
            kept.put("after", breakpoint.after());
            kept.put("every", breakpoint.every());
            kept.put("enabled", breakpoint.enabled());
        }
        homeless.forEach(all::add);
        return file.write(content);
    }

    /** The text of a breakpoint's line, and of those before and after it. */
    private static List<String> text(Debugger debugger, Breakpoint breakpoint) {
        try {
            BoundRoutine routine =
                    debugger.known().routine(breakpoint.routine(), breakpoint.line());
            Source source = routine.span().source();
            int line = breakpoint.line();
            return List.of(line(source, line), line(source, line - 1), line(source, line + 1));
        } catch (DebugException e) {
            return List.of();
        }
    }

    private static String line(Source source, int line) {
        return line < 1 || line > source.lines() ? "" : source.line(line).strip();
    }

    /** How much of a line and those around it reads as it was kept; 0 where the line does not. */
    private static int likeness(Source source, int line, JsonNode text) {
        if (!line(source, line).equals(text.path(0).asText())) {
            return 0;
        }
        return 1
                + (line(source, line - 1).equals(text.path(1).asText()) ? 1 : 0)
                + (line(source, line + 1).equals(text.path(2).asText()) ? 1 : 0);
    }
}
