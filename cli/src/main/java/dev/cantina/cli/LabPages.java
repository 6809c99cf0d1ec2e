package dev.cantina.cli;

import dev.cantina.project.Project;
import dev.cantina.report.LabPage;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.function.Supplier;
import org.apache.commons.cli.Options;

/** What the commands of the safety lab write: {@code --page FILE}, and {@code --to FILE}. */
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

    /**
     * Writes what was found as cases, into a file that is not there yet, and says how to run them.
     */
    static void cases(Invocation call, Project project, Path file, String text)
            throws UsageException {
        String shown = project.shown(file);
        DraftCommand.write(file, shown, text);
        if (!call.json() && !call.quiet()) {
            call.screen().line("wrote " + shown);
            call.screen().line("  cantina test " + Screen.typed(shown));
        }
    }
}
