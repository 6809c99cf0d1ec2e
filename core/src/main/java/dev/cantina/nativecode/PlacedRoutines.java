package dev.cantina.nativecode;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.Variable;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.database.ServerPart;
import dev.cantina.runtime.Frame;
import dev.cantina.runtime.Program;
import dev.cantina.runtime.Routine;
import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * The routines of a program that have copies on a server, by the numbers that the copies' probes
 * tell them by.
 */
public final class PlacedRoutines {
    /** A copy: what makes it, alone or with others, and its own marks in that. */
    public record Copy(int routine, String create, List<Mark.Found> marks) {}

    private final Program program;
    private final List<Routine> all = new ArrayList<>();
    private final Map<String, Integer> numbers = new HashMap<>();
    private final List<Copy> copies = new ArrayList<>();

    /**
     * @param parts what was placed
     * @param key tells the marks in it
     */
    public PlacedRoutines(Program program, List<ServerPart> parts, String key) {
        this.program = program;
        for (ServerPart part : parts) {
            // A module has become one statement for all of its routines.
            boolean together = part.identity().startsWith("package body ");
            Map<Integer, List<Mark.Found>> marks = new LinkedHashMap<>();
            Mark of = null;
            for (Mark.Found one : Mark.in(part.create(), key)) {
                of = of == null || together ? one.mark() : of;
                number(of.file(), of.offset())
                        .ifPresent(n -> marks.computeIfAbsent(n, k -> new ArrayList<>()).add(one));
            }
            marks.forEach((n, own) -> copies.add(new Copy(n, part.create(), own)));
        }
    }

    public List<Copy> copies() {
        return copies;
    }

    private Optional<Integer> number(String file, int offset) {
        String name = offset + " " + file;
        if (!numbers.containsKey(name)) {
            Optional<Routine> found = find(file, offset);
            if (found.isEmpty()) {
                return Optional.empty();
            }
            numbers.put(name, all.size());
            all.add(found.get());
        }
        return Optional.of(numbers.get(name));
    }

    private Optional<Routine> find(String file, int offset) {
        for (RoutineSymbol routine : program.catalog().routines()) {
            if (routine.tree().body().isPresent() && isAt(routine.tree().span(), file, offset)) {
                return Optional.of(program.routine(routine));
            }
        }
        for (TriggerSymbol trigger : program.catalog().triggers()) {
            if (isAt(trigger.tree().span(), file, offset)) {
                return Optional.of(program.routine(trigger));
            }
        }
        return Optional.empty();
    }

    private static boolean isAt(Span span, String file, int offset) {
        return span.start() == offset && span.source().name().equals(file);
    }

    /** How many routines have copies. */
    public int count() {
        return all.size();
    }

    /** The routine of a number; empty for a trigger. */
    public Optional<RoutineSymbol> symbol(int routine) {
        Span span = all.get(routine).bound().span();
        return program.catalog().routines().stream()
                .filter(r -> r.tree().span().equals(span))
                .findFirst();
    }

    /** Whether a routine is among them. */
    public boolean has(BoundRoutine routine) {
        return all.stream().anyMatch(r -> r.bound().span().equals(routine.span()));
    }

    public Frame frame(int routine) {
        return Frame.elsewhere(all.get(routine));
    }

    public BoundRoutine routine(int number) {
        return all.get(number).bound();
    }

    /** How many statements a routine has. */
    public int places(int routine) {
        return routine(routine).places().size();
    }

    /** The variable of a routine at a slot. */
    public Variable variable(int routine, int slot) {
        return routine(routine).variables().get(slot);
    }
}
