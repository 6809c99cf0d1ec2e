package dev.cantina.editing;

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
 */
public record ProjectView(
        Catalog catalog,
        Map<String, ParsedFile> files,
        List<Source> tables,
        Map<String, List<CheckedUnit>> units) {
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
}
