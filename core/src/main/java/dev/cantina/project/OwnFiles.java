package dev.cantina.project;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/** What is known of the files of a project in a server's own language before any is read. */
public final class OwnFiles {
    private OwnFiles() {}

    /**
     * Whether runs beside each other may disturb each other: MariaDB forgets what a session's
     * packages hold when anybody makes a routine. What can't be read has no such thing.
     */
    public static boolean haveState(Project project) {
        if (project.own().filter(o -> o.dialect().equals("mariadb")).isEmpty()) {
            return false;
        }
        Project.OwnLanguage own = project.own().get();
        List<String> patterns = new ArrayList<>(own.tables());
        patterns.addAll(own.routines());
        patterns.addAll(own.standard());
        try {
            for (Path file : ProjectReader.matching(project, patterns)) {
                String text =
                        ProjectReader.source(file, project.shown(file))
                                .text()
                                .toLowerCase(Locale.ROOT);
                if (text.contains("package") || text.contains("module")) {
                    return true;
                }
            }
        } catch (ProjectException e) {
            // Whoever opens the project says what is wrong.
            return true;
        }
        return false;
    }
}
