package dev.cantina.cli;

import dev.cantina.project.ProjectException;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import org.jline.reader.Candidate;
import org.jline.reader.EndOfFileException;
import org.jline.reader.LineReader;
import org.jline.reader.LineReaderBuilder;
import org.jline.reader.UserInterruptException;
import org.jline.terminal.Terminal;
import org.jline.terminal.TerminalBuilder;

/** Where the debugger's words come from: a person at a terminal, or a pipe. */
interface Words extends AutoCloseable {
    /** The next line; empty at the end of the pipe, or when the person leaves. */
    Optional<String> next(String prompt);

    @Override
    void close();

    /** Whether there was no next line because a person has called off what they were typing. */
    default boolean isCalledOff() {
        return false;
    }

    /** What is to be done where a person interrupts while no line is asked for. */
    default void onInterrupt(Runnable action) {}

    /** Names that may be meant besides the words themselves. */
    default void complete(Supplier<List<String>> names) {}

    /** What may be typed first on a line from now on. */
    default void offer(List<String> first) {}

    /**
     * A terminal where both ends are one, otherwise the standard input as it comes.
     *
     * @param record the file to keep the lines in
     * @throws ProjectException where that can't be written
     */
    static Words open(Screen screen, Optional<Path> record) throws ProjectException {
        Words words = screen.isTerminal() ? new Typed(DebugWord.words()) : new Piped(screen);
        return record.isPresent() ? Recorded.open(words, record.get()) : words;
    }

    /** Words that are written down as they come. */
    final class Recorded implements Words {
        private final Words words;
        private final Writer file;

        private Recorded(Words words, Writer file) {
            this.words = words;
            this.file = file;
        }

        static Words open(Words words, Path file) throws ProjectException {
            try {
                return new Recorded(words, Files.newBufferedWriter(file));
            } catch (IOException e) {
                throw new ProjectException(
                        "the words can't be kept in "
                                + file.getFileName()
                                + ": "
                                + FileTrouble.writing(e));
            }
        }

        @Override
        public Optional<String> next(String prompt) {
            Optional<String> line = words.next(prompt);
            try {
                if (line.isPresent()) {
                    file.write(line.get() + "\n");
                    file.flush();
                }
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
            return line;
        }

        @Override
        public void complete(Supplier<List<String>> names) {
            words.complete(names);
        }

        @Override
        public void offer(List<String> first) {
            words.offer(first);
        }

        @Override
        public void onInterrupt(Runnable action) {
            words.onInterrupt(action);
        }

        @Override
        public void close() {
            words.close();
            try {
                file.close();
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }
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
        private Supplier<List<String>> names = List::of;
        private List<String> firsts;
        private boolean calledOff;

        Typed(List<String> words) {
            firsts = words;
            try {
                terminal = TerminalBuilder.builder().system(true).dumb(true).build();
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
            reader =
                    LineReaderBuilder.builder()
                            .terminal(terminal)
                            // What is typed is what is meant: ! and a backslash have no meaning of
                            // their own.
                            .option(LineReader.Option.DISABLE_EVENT_EXPANSION, true)
                            .completer(
                                    (line, typed, candidates) -> {
                                        boolean first = typed.wordIndex() == 0;
                                        List<String> meant = first ? firsts : names.get();
                                        meant.forEach(w -> candidates.add(new Candidate(w)));
                                    })
                            .build();
        }

        @Override
        public void onInterrupt(Runnable action) {
            terminal.handle(Terminal.Signal.INT, signal -> action.run());
        }

        @Override
        public boolean isCalledOff() {
            return calledOff;
        }

        @Override
        public void complete(Supplier<List<String>> known) {
            names = known;
        }

        @Override
        public void offer(List<String> first) {
            firsts = first;
        }

        @Override
        public Optional<String> next(String prompt) {
            calledOff = false;
            try {
                return Optional.of(reader.readLine(Screen.printed(prompt)));
            } catch (UserInterruptException e) {
                calledOff = true;
                return Optional.empty();
            } catch (EndOfFileException e) {
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
