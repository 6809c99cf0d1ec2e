package dev.cantina.cli;

import dev.cantina.debugging.DebugException;
import dev.cantina.syntax.Nearest;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;

/** A word that the debugger understands, and what help says of it. */
enum DebugWord {
    INTO("into [ROUTINE]", "to the next statement, wherever it is; or into one call"),
    OVER("over", "to the next statement here; Enter repeats the last step"),
    OUT("out", "to the statement after this routine"),
    CONTINUE("continue", "to the next breakpoint, or the end"),
    TO("to LINE", "run to a line of this routine"),
    BACK("back [into|to LINE|to pause]", "to the statement before, data included"),
    RESTART("restart [call]", "back to the first statement, of the run or of this call"),
    PAUSE(
            "pause at [ROUTINE:]LINE|end",
            "a breakpoint; when CONDITION, after N, every N, tell TEXT"),
    PAUSES("pauses", "list them; pause on exception, unhandled, not found, SQLSTATE,"),
    DISABLE("disable N|all", "  change of VARIABLE or write to TABLE sets others"),
    ENABLE("enable N|all", "disable switches them off, enable on again"),
    REMOVE("remove N|all", "take them away"),
    VARS("vars", "the variables, block by block"),
    SHOW("show EXPRESSION", "a value whole, however long it is"),
    SET("set NAME = EXPRESSION", "change a variable, an element, a field"),
    EVAL("eval EXPRESSION", "work something out here"),
    WATCH("watch EXPRESSION|QUERY", "keep it in view at each stop"),
    UNWATCH("unwatch N|all", "keep it no longer"),
    STACK("stack", "where we came from, with the arguments"),
    FRAME("frame N", "the variables there"),
    ROWS("rows TABLE [WHERE …]", "look into a table"),
    SQL("sql QUERY", "ask anything, as the running transaction sees it"),
    SQL_CHANGE("sql! STATEMENT", "change data, inside the running transaction"),
    CURSORS("cursors", "each cursor, and the row that it stands on"),
    DIAGNOSTICS("diagnostics", "what the last statement left, and what handlers see"),
    TRANSACTION("transaction", "open or not, its savepoints, what is uncommitted"),
    CHANGES("changes", "every row changed so far"),
    SOURCE("source", "more lines around"),
    HELP("help", "this"),
    QUIT("quit", "end here: everything is rolled back");

    private final String form;
    private final String meaning;

    DebugWord(String form, String meaning) {
        this.form = form;
        this.meaning = meaning;
    }

    String form() {
        return form;
    }

    String meaning() {
        return meaning;
    }

    /** As it is typed. */
    String word() {
        return form.split(" ", 2)[0];
    }

    static List<String> words() {
        return Arrays.stream(values()).map(DebugWord::word).toList();
    }

    /** The word that a person means: in full, or by its first letters where they leave no doubt. */
    static DebugWord of(String typed) throws DebugException {
        String lower = typed.toLowerCase(Locale.ROOT);
        if (lower.equals("c")) {
            return CONTINUE;
        }
        for (DebugWord word : values()) {
            if (word.word().equals(lower)) {
                return word;
            }
        }
        List<DebugWord> meant =
                Arrays.stream(values()).filter(w -> w.word().startsWith(lower)).toList();
        if (meant.size() == 1) {
            return meant.get(0);
        }
        throw new DebugException(
                meant.isEmpty()
                        ? "there is no word "
                                + typed
                                + Nearest.to(lower, words())
                                        .map(n -> "; did you mean " + n + "?")
                                        .orElse(
                                                "; into, over, out and continue go on, help shows all")
                        : typed
                                + " may be "
                                + String.join(", ", meant.stream().map(DebugWord::word).toList()));
    }

    /** Whether a word that goes with another was typed, in full or in part. */
    static boolean isCalled(String typed, String word) {
        return word.startsWith(typed.toLowerCase(Locale.ROOT));
    }

    /** Refuses what stands behind a word that is complete by itself. */
    void checkRest(String rest) throws DebugException {
        if (!form.contains(" ") && !rest.isEmpty()) {
            throw new DebugException(word() + " stands alone; '" + rest + "' is not understood");
        }
    }

    static String need(String text, String otherwise) throws DebugException {
        if (text.isEmpty()) {
            throw new DebugException(otherwise);
        }
        return text;
    }

    static int number(String text, String otherwise) throws DebugException {
        try {
            return Integer.parseInt(text.strip());
        } catch (NumberFormatException e) {
            throw new DebugException(otherwise);
        }
    }
}
