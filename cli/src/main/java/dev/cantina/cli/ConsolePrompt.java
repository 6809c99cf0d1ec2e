package dev.cantina.cli;

import dev.cantina.cli.Screen.Tone;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.Program;
import dev.cantina.runtime.TableChanges;
import dev.cantina.syntax.Problem;
import dev.cantina.workbench.ConsoleSession;
import dev.cantina.workbench.ValueText;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/** Reads statements and words, runs them, and shows what they came to. */
final class ConsolePrompt {
    private static final String PROMPT = "sql> ";
    private static final String MORE = "  -> ";
    private static final List<String> WORDS =
            List.of("help", "vars", "changes", "undo", "save case ", "quit");
    private static final List<String> STATEMENTS =
            List.of(
                    "BEGIN",
                    "CALL",
                    "COMMIT;",
                    "DECLARE",
                    "DELETE FROM",
                    "INSERT INTO",
                    "ROLLBACK;",
                    "SAVEPOINT",
                    "SELECT",
                    "SET",
                    "UPDATE",
                    "VALUES");

    private final Invocation call;
    private final Screen screen;
    private final Words words;
    private final ConsoleSession console;
    private boolean failed;

    ConsolePrompt(Invocation call, Words words, ConsoleSession console) {
        this.call = call;
        this.screen = call.screen();
        this.words = words;
        this.console = console;
    }

    /** What a line may begin with. */
    static List<String> words(ConsoleSession console) {
        List<String> all = new ArrayList<>(WORDS);
        all.addAll(STATEMENTS);
        return all;
    }

    /**
     * Until the end of the pipe, or quit.
     *
     * @return 1 where something has failed in a pipe; a person has seen it
     */
    int run() throws SQLException {
        if (screen.isTerminal() && !call.quiet()) {
            screen.line(
                    screen.tone(
                            Tone.FAINT,
                            "SQL, CALL and blocks, each ended by a semicolon; help says what else there"
                                    + " is; "
                                    + (call.has("keep")
                                            ? "what was done stays when you leave"
                                            : "nothing stays when you leave")));
        }
        StringBuilder typed = new StringBuilder();
        while (!screen.out().checkError()) {
            Optional<String> line =
                    words.next(screen.tone(Tone.NEW, typed.length() == 0 ? PROMPT : MORE));
            if (line.isEmpty() && words.isCalledOff()) {
                if (typed.length() == 0) {
                    screen.line(screen.tone(Tone.FAINT, "  quit leaves, and so does Ctrl-D"));
                }
                typed.setLength(0);
                continue;
            }
            if (line.isEmpty()) {
                break;
            }
            if (typed.length() == 0 && isWord(line.get())) {
                if (line.get().strip().equalsIgnoreCase("quit")) {
                    break;
                }
                word(line.get().strip());
                continue;
            }
            typed.append(line.get()).append('\n');
            switch (console.typed(typed.toString())) {
                case NOTHING -> typed.setLength(0);
                case WHOLE -> {
                    run(typed.toString().strip());
                    typed.setLength(0);
                }
                case PART -> {
                    // More is to come.
                }
            }
        }
        return ended(typed.toString());
    }

    private int ended(String left) {
        if (!left.isBlank()) {
            failed = true;
            screen.note(
                    "what was typed last has no end, and was not run: "
                            + left.strip().lines().findFirst().orElse(""));
        }
        if (console.isTransactionOpen()) {
            rollback();
        }
        return failed && !screen.isTerminal() ? ExitCode.FAILED : ExitCode.WELL;
    }

    private void rollback() {
        try {
            console.run("ROLLBACK;");
            screen.note("the transaction that was open is rolled back");
        } catch (ProjectException e) {
            screen.note(
                    "the transaction that was open could not be rolled back: " + e.getMessage());
        }
    }

    private static boolean isWord(String line) {
        String text = line.strip().toLowerCase(Locale.ROOT);
        return text.startsWith("save case")
                || text.equals("help")
                || text.equals("vars")
                || text.equals("changes")
                || text.equals("undo")
                || text.equals("quit");
    }

    private void word(String text) throws SQLException {
        String word = text.toLowerCase(Locale.ROOT);
        if (word.equals("help")) {
            help();
        } else if (word.equals("vars")) {
            vars();
        } else if (word.equals("changes")) {
            List<TableChanges> changes = TableChanges.of(console.changes());
            if (changes.isEmpty()) {
                screen.line("  nothing has changed since the beginning");
            }
            new OutcomeView(screen).changes(changes);
        } else if (word.equals("undo")) {
            Optional<String> undone = console.undo();
            screen.line(
                    undone.map(t -> "  taken back: " + t.lines().findFirst().orElse(""))
                            .orElse(
                                    "  there is nothing to take back: only what has changed rows since"
                                            + " the last COMMIT or ROLLBACK can be"));
        } else {
            save(text.substring("save case".length()).strip());
        }
    }

    private void help() {
        for (String[] one :
                new String[][] {
                    {"SELECT … ;  CALL … ;", "any statement, over several lines, to its semicolon"},
                    {
                        "DECLARE n INTEGER;",
                        "a variable that lives on; SET n = 5; and n in statements"
                    },
                    {"BEGIN … END;", "a block, an IF or a loop, to its END"},
                    {
                        "COMMIT;  ROLLBACK;",
                        "end the transaction; SAVEPOINT s; ROLLBACK TO SAVEPOINT s;"
                    },
                    {"vars", "the variables and their values"},
                    {"changes", "the rows that have changed since the console was begun"},
                    {"undo", "take back the last statement that has changed rows"},
                    {
                        "save case NAME",
                        "write what was done as a case, into a new file below cases/"
                    },
                    {"quit", "leave; a transaction that is open is rolled back"}
                }) {
            screen.line("  " + screen.tone(Tone.STRONG, Screen.padded(one[0], 24)) + one[1]);
        }
    }

    private void vars() {
        Map<String, Object> variables = console.variables();
        if (variables.isEmpty()) {
            screen.line("  there are no variables; DECLARE n INTEGER; makes one");
        }
        variables.forEach(
                (name, value) ->
                        screen.line(
                                "  "
                                        + name
                                        + " = "
                                        + screen.tone(Tone.STRONG, ValueText.of(value))));
    }

    private void run(String text) throws SQLException {
        try {
            words.onInterrupt(call.interrupts()::now);
            Outcome outcome = console.run(text);
            new OutcomeView(screen).step(outcome);
            failed |= outcome.kind() != Outcome.Kind.COMPLETED;
        } catch (ProjectException e) {
            failed = true;
            if (e.problems().isEmpty()) {
                screen.line(screen.tone(Tone.BAD, "  " + e.getMessage()));
            }
            e.problems().forEach(this::problem);
        } catch (Program.UnsoundException e) {
            failed = true;
            screen.line(screen.tone(Tone.BAD, "  " + e.getMessage()));
            e.problems().forEach(this::problem);
        }
    }

    private void problem(Problem problem) {
        if (!problem.span().source().name().equals("input")) {
            new ProblemView(screen).toError(problem);
            return;
        }
        String line = problem.span().source().line(problem.span().line());
        screen.line("  " + line);
        screen.line(
                "  "
                        + " ".repeat(Math.max(0, problem.span().column() - 1))
                        + screen.tone(
                                Tone.BAD,
                                "^"
                                        .repeat(
                                                Math.max(
                                                        1,
                                                        Math.min(
                                                                problem.span().end()
                                                                        - problem.span().start(),
                                                                line.length()
                                                                        - problem.span().column()
                                                                        + 1)))));
        screen.line("  " + screen.tone(Tone.BAD, problem.message()));
        problem.hint().ifPresent(h -> screen.line(screen.tone(Tone.FAINT, "  hint: ") + h));
    }

    private void save(String name) throws SQLException {
        if (name.isEmpty()) {
            screen.line("  save case takes the name of the case: save case moves a little wine");
            return;
        }
        if (call.value("on").isPresent()) {
            screen.line(
                    "  a case runs on a fixture, and these rows are a server's own; leave --on out");
            return;
        }
        try {
            Project project = call.project();
            String file = name.toLowerCase(Locale.ROOT).replaceAll("[^\\p{L}\\p{N}]+", "_");
            Path path = project.root().resolve("cases/" + file + ".yaml");
            DraftCommand.free(path, project.shown(path));
            String text = CaseSaver.text(call, project, console.saved(), name);
            DraftCommand.write(path, project.shown(path), text);
            screen.line("  wrote " + project.shown(path));
        } catch (ProjectException | UsageException e) {
            failed = true;
            screen.line(screen.tone(Tone.BAD, "  " + e.getMessage()));
        }
    }
}
