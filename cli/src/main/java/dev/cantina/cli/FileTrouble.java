package dev.cantina.cli;

import java.io.UncheckedIOException;
import java.nio.file.AccessDeniedException;
import java.nio.file.NoSuchFileException;

/** Says why a file could not be read or written. */
final class FileTrouble {
    private FileTrouble() {}

    static String reading(Exception trouble) {
        return reason(trouble, "there is no such file", "you may not read it");
    }

    static String writing(Exception trouble) {
        return reason(trouble, "there is no such folder", "it can't be written to");
    }

    private static String reason(Exception trouble, String missing, String denied) {
        Throwable cause = trouble instanceof UncheckedIOException ? trouble.getCause() : trouble;
        return cause instanceof NoSuchFileException
                ? missing
                : cause instanceof AccessDeniedException
                        ? denied
                        : String.valueOf(cause.getMessage());
    }
}
