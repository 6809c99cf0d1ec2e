package dev.cantina.cli;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;

/** Runs command lines in a folder, as a pipe would see them. */
final class Cli {
    static final Path WINERY = Path.of("../demo/winery");

    /** What a command line gave. */
    record Result(int code, String out, String err) {}

    private final Path folder;

    Cli(Path folder) {
        this.folder = folder;
    }

    /** In a copy of the winery. */
    static Cli winery(Path temporary) throws IOException {
        Path copy = temporary.resolve("winery");
        try (Stream<Path> all = Files.walk(WINERY)) {
            for (Path path : all.sorted().toList()) {
                Files.copy(path, copy.resolve(WINERY.relativize(path).toString()));
            }
        }
        return new Cli(copy);
    }

    Path path(String name) {
        return folder.resolve(name);
    }

    void write(String name, String text) throws IOException {
        Files.createDirectories(path(name).getParent());
        Files.writeString(path(name), text);
    }

    Result run(String... words) {
        return typing("", words);
    }

    /** With a standard input. */
    Result typing(String input, String... words) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        ByteArrayOutputStream err = new ByteArrayOutputStream();
        InputStream before = System.in;
        System.setIn(new ByteArrayInputStream(input.getBytes(StandardCharsets.UTF_8)));
        try {
            Screen screen =
                    new Screen(
                            new PrintStream(out, true, StandardCharsets.UTF_8),
                            new PrintStream(err, true, StandardCharsets.UTF_8),
                            false,
                            false);
            int code = Main.run(List.of(words), screen, folder, new Interrupts());
            return new Result(
                    code,
                    out.toString(StandardCharsets.UTF_8),
                    err.toString(StandardCharsets.UTF_8));
        } finally {
            System.setIn(before);
        }
    }
}
