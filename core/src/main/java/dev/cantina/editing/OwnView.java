package dev.cantina.editing;

import dev.cantina.nativecode.NativeToken;
import dev.cantina.nativecode.OwnReading;
import dev.cantina.nativecode.OwnText;
import dev.cantina.nativecode.OwnText.Column;
import dev.cantina.nativecode.OwnText.Unit;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/**
 * A project in a server's own language as its texts are at one moment.
 *
 * @param files what its files hold, by their names; of one that can't be read just now, what it
 *     held when it could be
 * @param standard its files in the standard language
 */
public record OwnView(
        OwnReading reading, Map<String, OwnText> files, Map<String, ParsedFile> standard) {
    /** A table with all columns that are made for it anywhere. */
    record OwnTable(String name, Span at, List<Column> columns) {
        Optional<Column> column(String key) {
            return columns.stream()
                    .filter(c -> c.name().toLowerCase(Locale.ROOT).equals(key))
                    .findFirst();
        }
    }

    /** A name as it is looked for: without quotes, and in small letters. */
    static String key(NativeToken token) {
        return key(token.text());
    }

    static String key(String name) {
        boolean quoted =
                name.length() > 1
                        && (name.charAt(0) == '"' || name.charAt(0) == '`')
                        && name.charAt(name.length() - 1) == name.charAt(0);
        return (quoted ? name.substring(1, name.length() - 1) : name).toLowerCase(Locale.ROOT);
    }

    /** All tables by their keys. */
    Map<String, OwnTable> tables() {
        Map<String, OwnTable> all = new LinkedHashMap<>();
        for (OwnText text : files.values()) {
            for (OwnText.Table table : text.tables()) {
                all.merge(
                        key(table.name()),
                        new OwnTable(table.name(), table.at(), table.columns()),
                        OwnView::together);
            }
        }
        return all;
    }

    private static OwnTable together(OwnTable first, OwnTable more) {
        List<Column> columns = new ArrayList<>(first.columns());
        for (Column column : more.columns()) {
            if (first.column(key(column.name())).isEmpty()) {
                columns.add(column);
            }
        }
        return new OwnTable(first.name(), first.at(), columns);
    }

    /** All routines, triggers and packages, by their keys; those of one name together. */
    Map<String, List<Unit>> units() {
        Map<String, List<Unit>> all = new LinkedHashMap<>();
        for (OwnText text : files.values()) {
            for (Unit unit : text.units()) {
                all.computeIfAbsent(key(unit), k -> new ArrayList<>()).add(unit);
            }
        }
        return all;
    }

    /** A trigger may be called like a routine. */
    static String key(Unit unit) {
        String kind = unit.kind() == OwnText.Kind.TRIGGER ? "trigger " : "";
        return kind + unit.of().map(o -> key(o) + ".").orElse("") + key(unit.name());
    }

    /** The unit that holds an offset. */
    static Optional<Unit> unit(OwnText text, int offset) {
        Unit found = null;
        for (Unit unit : text.units()) {
            boolean holds = unit.whole().start() <= offset && offset <= unit.whole().end();
            boolean package1 = unit.kind() == OwnText.Kind.PACKAGE;
            if (holds && !(package1 && found != null)) {
                found = unit;
            }
        }
        return Optional.ofNullable(found);
    }
}
