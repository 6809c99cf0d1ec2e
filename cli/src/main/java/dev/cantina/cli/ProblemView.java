package dev.cantina.cli;

import dev.cantina.cli.Screen.Tone;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Span;

/** Shows problems: the place, what is wrong, the line with the place marked, and the hint. */
final class ProblemView {
    private final Screen screen;

    ProblemView(Screen screen) {
        this.screen = screen;
    }

    void toOutput(Problem problem) {
        screen.line(text(problem));
    }

    void toError(Problem problem) {
        screen.note(text(problem));
    }

    private String text(Problem problem) {
        Span span = problem.span();
        Tone tone = problem.isError() ? Tone.BAD : Tone.CAREFUL;
        String word = problem.isError() ? "error" : "advice";
        StringBuilder text = new StringBuilder();
        text.append(screen.tone(Tone.STRONG, span.place()))
                .append(": ")
                .append(screen.tone(tone, word + " (" + problem.rule() + ")"))
                .append(": ")
                .append(problem.message());
        String line = span.source().line(span.line());
        if (!line.isBlank()) {
            String shown = line.replace('\t', ' ');
            int start = span.column() - 1;
            int end =
                    span.endLine() == span.line()
                            ? span.endColumn() - 1
                            : shown.stripTrailing().length();
            int cut = shown.length() <= 110 ? 0 : Math.max(0, start - 60);
            String visible = shown.substring(Math.min(cut, shown.length()));
            visible = visible.length() > 110 ? visible.substring(0, 109) + "…" : visible;
            int length = Math.max(1, Math.min(end - start, 110 - (start - cut)));
            text.append("\n    ").append(visible.stripTrailing());
            text.append("\n    ")
                    .append(" ".repeat(Math.max(0, start - cut)))
                    .append(screen.tone(tone, "^".repeat(length)));
        }
        problem.hint()
                .ifPresent(
                        hint ->
                                text.append("\n    ")
                                        .append(screen.tone(Tone.FAINT, "hint: "))
                                        .append(hint));
        return text.toString();
    }
}
