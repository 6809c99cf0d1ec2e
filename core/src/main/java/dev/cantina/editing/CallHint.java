package dev.cantina.editing;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.syntax.SqlWords;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * The call whose arguments are being typed.
 *
 * @param routines those that may be meant
 * @param argument which argument it is, from 0
 */
public record CallHint(List<RoutineSymbol> routines, int argument) {
    /** The call around an offset, where it is one of a routine of the project. */
    public static Optional<CallHint> at(ProjectView view, String text, int offset) {
        int begin = Math.max(text.lastIndexOf(';', Math.max(0, offset - 1)) + 1, 0);
        List<SqlWords.Word> words = SqlWords.of(text.substring(begin, offset)).all();
        int closed = 0;
        int argument = 0;
        for (int i = words.size() - 1; i > 0; i--) {
            SqlWords.Word word = words.get(i);
            if (word.is(")")) {
                closed++;
            } else if (word.is("(") && closed > 0) {
                closed--;
            } else if (word.is(",") && closed == 0) {
                argument++;
            } else if (word.is("(")) {
                String name = words.get(i - 1).text();
                if (i > 2 && words.get(i - 2).is(".")) {
                    name = words.get(i - 3).text() + "." + name;
                }
                boolean call =
                        i > 1 && words.get(i - 2).is("CALL")
                                || i > 3 && words.get(i - 4).is("CALL");
                boolean head =
                        words.subList(0, i).stream().anyMatch(w -> w.is("CREATE"))
                                && words.subList(0, i).stream().noneMatch(w -> w.is("BEGIN"));
                List<RoutineSymbol> routines =
                        head
                                ? List.of()
                                : view
                                        .catalog()
                                        .routinesCalled(name.toUpperCase(Locale.ROOT))
                                        .stream()
                                        .filter(r -> call != r.isFunction())
                                        .toList();
                if (!routines.isEmpty()) {
                    return Optional.of(new CallHint(routines, argument));
                }
                argument = 0;
            }
        }
        return Optional.empty();
    }
}
