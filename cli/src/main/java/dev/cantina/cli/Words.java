package dev.cantina.cli;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Optional;
import org.jline.reader.EndOfFileException;
import org.jline.reader.LineReader;
import org.jline.reader.LineReaderBuilder;
import org.jline.reader.UserInterruptException;
import org.jline.reader.impl.completer.StringsCompleter;
import org.jline.terminal.Terminal;
import org.jline.terminal.TerminalBuilder;

/** Where the debugger's words come from: a person at a terminal, or a pipe. */
interface Words extends AutoCloseable {
    /** The next line; empty at the end of the pipe, or when the person leaves. */
    Optional<String> next(String prompt);

    @Override
    void close();

    /** A terminal where both ends are one, otherwise the standard input as it comes. */
    static Words open(Screen screen) {
        return screen.isTerminal() ? new Typed(DebugPrompt.WORDS) : new Piped(screen);
    }

    /** Lines of a pipe, shown as they are read, so that a transcript can be followed. */
    final class Piped implements Words {
        private final Screen screen;
        private final BufferedReader reader =
                new BufferedReader(new InputStreamReader(System.in, StandardCharsets.UTF_8));

        Piped(Screen screen) {
            this.screen = screen;
        }

        @Override
        public Optional<String> next(String prompt) {
            try {
                String line = reader.readLine();
                if (line != null) {
                    screen.line(prompt + line);
                }
                return Optional.ofNullable(line);
            } catch (IOException e) {
                return Optional.empty();
            }
        }

        @Override
        public void close() {
            screen.out().flush();
        }
    }

    /** Lines that a person types, with history and completion. */
    final class Typed implements Words {
        private final Terminal terminal;
        private final LineReader reader;

        Typed(List<String> words) {
            try {
                terminal = TerminalBuilder.builder().system(true).dumb(true).build();
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
            reader =
                    LineReaderBuilder.builder()
                            .terminal(terminal)
                            .completer(new StringsCompleter(words))
                            .build();
        }

        @Override
        public Optional<String> next(String prompt) {
            try {
                return Optional.of(reader.readLine(prompt));
            } catch (UserInterruptException | EndOfFileException e) {
                return Optional.empty();
            }
        }

        @Override
        public void close() {
            try {
                terminal.close();
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }
    }
}
