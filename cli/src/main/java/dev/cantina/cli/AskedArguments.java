package dev.cantina.cli;

import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.cli.Screen.Tone;
import dev.cantina.drafting.ParameterValues;
import dev.cantina.project.Arguments;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import java.sql.SQLException;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Asks a person at a terminal for the arguments that are missing. */
final class AskedArguments {
    /** How many values are shown; completion has all. */
    private static final int SHOWN = 8;

    private final Screen screen;
    private final Words words;
    private final RoutineSymbol routine;
    private final Workspace workspace;
    private final Map<String, Object> last;

    AskedArguments(
            Screen screen,
            Words words,
            RoutineSymbol routine,
            Workspace workspace,
            Map<String, Object> last) {
        this.screen = screen;
        this.words = words;
        this.routine = routine;
        this.workspace = workspace;
        this.last = last;
    }

    /** Asks for all that has no value yet, and adds it to what is given. */
    static void ask(
            Invocation call,
            RoutineSymbol routine,
            Workspace workspace,
            Map<String, Object> given,
            Map<String, Object> last)
            throws UsageException, ProjectException {
        if (call.words().isPresent()) {
            new AskedArguments(call.screen(), call.words().get(), routine, workspace, last)
                    .ask(given);
            call.words().get().offer(DebugWord.words());
            return;
        }
        try (Words words = new Words.Typed(List.of())) {
            new AskedArguments(call.screen(), words, routine, workspace, last).ask(given);
        }
    }

    void ask(Map<String, Object> given) throws UsageException, ProjectException {
        screen.line(screen.tone(Tone.STRONG, routine.signature()));
        try {
            ParameterValues values = new ParameterValues(workspace, routine);
            for (ParameterSymbol parameter : routine.parameters()) {
                String name = parameter.name().text();
                boolean open =
                        parameter.mode().isInput()
                                && given.keySet().stream().noneMatch(name::equalsIgnoreCase);
                if (open) {
                    one(parameter, values.of(parameter), given);
                }
            }
        } catch (SQLException e) {
            throw new ProjectException("the database: " + e.getMessage());
        }
    }

    private void one(
            ParameterSymbol parameter, ParameterValues.Known known, Map<String, Object> given)
            throws UsageException, ProjectException {
        String name = parameter.name().text();
        List<String> texts = known.values().stream().map(DraftCommand::argument).toList();
        words.offer(texts);
        Optional<String> before = before(name);
        StringBuilder about = new StringBuilder("  " + parameter.type().sql());
        if (!texts.isEmpty()) {
            about.append(known.closed() ? ", one of " : ", such as ")
                    .append(String.join(", ", texts.subList(0, Math.min(SHOWN, texts.size()))))
                    .append(texts.size() > SHOWN ? ", …" : "");
        }
        before.ifPresent(b -> about.append("; Enter takes ").append(b).append(", as last time"));
        if (before.isEmpty() && parameter.initial().isPresent()) {
            about.append("; Enter takes its default, ")
                    .append(parameter.initial().get().span().text());
        }
        screen.line(screen.tone(Tone.FAINT, about.toString()));
        while (true) {
            screen.out().flush();
            Optional<String> line = words.next(name + " = ");
            if (line.isEmpty()) {
                throw new UsageException("no value for parameter " + name + "; nothing was run");
            }
            String text = line.get();
            if (text.isBlank()) {
                if (before.isPresent()) {
                    text = before.get();
                } else if (parameter.initial().isPresent()) {
                    return;
                } else {
                    screen.line(
                            screen.tone(
                                    Tone.CAREFUL,
                                    "  a value is needed; null for NULL, '' for an empty text"));
                    continue;
                }
            }
            try {
                given.put(name, Arguments.read(routine, parameter, text, workspace::ask));
                return;
            } catch (Arguments.MisfitException | ProjectException e) {
                String said = e.getMessage().lines().findFirst().orElse("");
                screen.line(screen.tone(Tone.CAREFUL, "  " + said));
            }
        }
    }

    private Optional<String> before(String name) {
        return last.entrySet().stream()
                .filter(e -> e.getKey().equalsIgnoreCase(name))
                .findFirst()
                .map(e -> DraftCommand.argument(e.getValue()));
    }
}
