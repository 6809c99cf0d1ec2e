package dev.cantina.syntax;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * DROP … IF EXISTS of what the same text creates further down, as files have it that are run on a
 * server again and again. Here CREATE makes it anew anyway, so it says nothing more.
 */
final class DropBeforeCreate {
    private DropBeforeCreate() {}

    /** The units without it; one that drops anything else stays among them. */
    static List<Unit> without(List<Unit> units) {
        List<Unit> left = new ArrayList<>();
        for (int i = 0; i < units.size(); i++) {
            Optional<String> dropped = dropped(units.get(i));
            boolean again =
                    dropped.isPresent()
                            && units.subList(i + 1, units.size()).stream()
                                    .flatMap(DropBeforeCreate::created)
                                    .anyMatch(dropped.get()::equals);
            if (!again) {
                left.add(units.get(i));
            }
        }
        return left;
    }

    /** The kind and the key of what a unit creates. */
    private static Stream<String> created(Unit unit) {
        if (unit instanceof Unit.Routine routine) {
            return Stream.of(routine.kind() + " " + routine.name().key());
        } else if (unit instanceof Unit.Trigger trigger) {
            return Stream.of("TRIGGER " + trigger.name().key());
        } else if (unit instanceof Unit.Module module) {
            return Stream.of("MODULE " + module.name().key());
        }
        return Stream.empty();
    }

    /** The same of what it drops, if it is there; empty where it says anything else. */
    private static Optional<String> dropped(Unit unit) {
        if (!(unit instanceof Unit.Step)) {
            return Optional.empty();
        }
        SqlWords words = SqlWords.of(unit.span().text());
        int end = words.all().size();
        if (!words.sees(0, "DROP") || !words.sees(2, "IF", "EXISTS")) {
            return Optional.empty();
        }
        int name = nameAt(words, 4);
        if (name < 0) {
            return Optional.empty();
        }
        int next = name + 1;
        if (words.sees(next, "(") && isTypes(words, next)) {
            next = words.closing(next) + 1;
        } else if (words.sees(1, "TRIGGER") && words.sees(next, "ON")) {
            int table = nameAt(words, next + 1);
            next = table < 0 ? next : table + 1;
        }
        return next == end
                ? Optional.of(words.all().get(1).text() + " " + words.all().get(name).text())
                : Optional.empty();
    }

    /** Where the last part of a name stands that begins somewhere; -1 where none does. */
    private static int nameAt(SqlWords words, int at) {
        int last = words.sees(at + 1, ".") ? at + 2 : at;
        return last < words.all().size() && words.all().get(last).isName() ? last : -1;
    }

    private static boolean isTypes(SqlWords words, int open) {
        return words
                .all()
                .subList(open, Math.min(words.closing(open) + 1, words.all().size()))
                .stream()
                .allMatch(
                        word ->
                                word.kind() != SqlWords.Kind.SIGN
                                        || "(),[].".contains(word.text()));
    }
}
