package dev.cantina.cli;

import dev.cantina.report.LabPage;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.function.Supplier;
import org.apache.commons.cli.Options;

/** {@code --page FILE} of the commands of the safety lab. */
final class LabPages {
    private LabPages() {}

    static void option(Options options) {
        Main.option(options, "page", "FILE", "write what was found as a page (HTML), too");
    }

    /** Writes it, where that was asked for. */
    static void write(Invocation call, Supplier<LabPage> page) throws UsageException {
        if (call.value("page").isEmpty()) {
            return;
        }
        String name = call.value("page").get();
        Path file = call.folder().resolve(name);
        try {
            if (file.getParent() != null) {
                Files.createDirectories(file.getParent());
            }
            Files.writeString(file, page.get().html(Instant.now()), StandardCharsets.UTF_8);
        } catch (IOException e) {
            throw new UsageException(name + ": " + FileTrouble.writing(e));
        }
        if (!call.quiet() && !call.json()) {
            call.screen().line("wrote " + name);
        }
    }
}
