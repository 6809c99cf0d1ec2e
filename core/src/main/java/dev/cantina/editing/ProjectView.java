package dev.cantina.editing;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.Scope;
import dev.cantina.catalog.Catalog;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Source;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * A project at one moment: what its files hold, and what was found in them.
 *
 * @param files the routines' files by their names
 * @param tables the scripts of the tables
 * @param units what was found in the routines of each file, in their order
 * @param before what was found in those that can't be read just now, when they could be
 */
public record ProjectView(
        Catalog catalog,
        Map<String, ParsedFile> files,
        List<Source> tables,
        Map<String, List<CheckedUnit>> units,
        Map<String, List<CheckedUnit>> before) {
    /** What is checked of the unit of a file that holds an offset. */
    Optional<CheckedUnit> unit(String file, int offset) {
        CheckedUnit found = null;
        for (CheckedUnit unit : units.getOrDefault(file, List.of())) {
            if (unit.now() <= offset) {
                found = unit;
            }
        }
        return Optional.ofNullable(found);
    }

    /**
     * The names that are known around an offset, as far as its routine could be read.
     *
     * @param text of the file, which may be newer than what was checked
     */
    Optional<Scope> scope(String file, String text, int offset) {
        Optional<CheckedUnit> unit = unit(file, offset);
        for (CheckedUnit other : before.getOrDefault(file, List.of())) {
            if (other.now() <= offset && unit.filter(u -> u.now() > other.now()).isEmpty()) {
                unit = Optional.of(other);
            }
        }
        if (unit.isEmpty() || unit.get().routine().isEmpty()) {
            return Optional.empty();
        }
        int then = unit.get().then(text, offset);
        BoundRoutine.Place best = null;
        for (BoundRoutine.Place place : unit.get().routine().get().places()) {
            boolean begun = place.span().start() <= then;
            if (begun
                    && !place.what().isEmpty()
                    && (best == null || place.span().start() >= best.span().start())) {
                best = place;
            }
        }
        return Optional.ofNullable(best).map(BoundRoutine.Place::scope);
    }
}
