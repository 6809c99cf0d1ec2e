package dev.cantina.cli;

import dev.cantina.project.ProjectReader;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Stream;
import org.apache.commons.cli.Options;

/** {@code new DIR}: a project that already runs. */
final class NewCommand implements Command {
    @Override
    public String name() {
        return "new";
    }

    @Override
    public String arguments() {
        return "DIR";
    }

    @Override
    public String summary() {
        return "start a project that already runs: a table, a routine, a fixture, a case";
    }

    @Override
    public String example() {
        return "cantina new my-cellar";
    }

    @Override
    public Options options() {
        Options options = new Options();
        Main.option(
                options,
                "dialect",
                "KIND",
                "in a server's own language, on a private server: postgresql or mariadb");
        return options;
    }

    @Override
    public boolean hasJson() {
        return false;
    }

    @Override
    public Set<String> common() {
        return Set.of();
    }

    @Override
    public int run(Invocation call) throws UsageException {
        if (call.arguments().size() != 1) {
            throw new UsageException("new takes one folder: cantina new DIR");
        }
        String dialect = call.value("dialect").orElse("standard");
        if (!List.of("standard", "postgresql", "mariadb").contains(dialect)) {
            throw new UsageException(
                    "--dialect is standard, postgresql or mariadb, not " + dialect);
        }
        Path root = call.folder().resolve(call.arguments().get(0)).toAbsolutePath().normalize();
        try {
            if (Files.exists(root) && !isEmptyFolder(root)) {
                throw new UsageException(
                        root
                                + " already exists and is not empty; name a new folder, nothing was written");
            }
            for (Map.Entry<String, String> file : files(root, dialect).entrySet()) {
                Path path = root.resolve(file.getKey());
                Files.createDirectories(path.getParent());
                Files.writeString(path, file.getValue(), StandardCharsets.UTF_8);
                if (!call.quiet()) {
                    call.screen().line("  " + file.getKey());
                }
            }
        } catch (IOException e) {
            throw new UsageException(root + " can't be written (" + ProjectReader.reason(e) + ")");
        }
        if (!call.quiet()) {
            call.screen().line();
            boolean here = root.equals(call.folder().toAbsolutePath().normalize());
            String place = here ? "this folder" : call.arguments().get(0);
            call.screen().line("A project in " + place + ". Try:");
            if (!here) {
                call.screen().line("  cd " + place);
            }
            if (!dialect.equals("standard")) {
                call.screen().line("  cantina trust");
            }
            call.screen().line("  cantina test");
            call.screen().line("  cantina call pour glass=G1 millilitres=100");
        }
        return ExitCode.WELL;
    }

    private static boolean isEmptyFolder(Path path) throws IOException {
        if (!Files.isDirectory(path)) {
            return false;
        }
        try (Stream<Path> list = Files.list(path)) {
            return list.findAny().isEmpty();
        }
    }

    private static Map<String, String> files(Path root, String dialect) {
        Map<String, String> files = new LinkedHashMap<>();
        String name = String.valueOf(root.toAbsolutePath().normalize().getFileName());
        files.put(
                ProjectReader.FILE,
                "project: \""
                        + name.replace("\\", "\\\\").replace("\"", "\\\"")
                        + "\"\nfixture: small\n"
                        + (dialect.equals("standard")
                                ? ""
                                : "dialect: " + dialect + "\ndatabase: private\n"));
        files.put(
                "tables/glass.sql",
                """
                CREATE TABLE glass (
                  code   VARCHAR(8) PRIMARY KEY,
                  holds  INTEGER NOT NULL,
                  filled INTEGER DEFAULT 0 NOT NULL,
                  CHECK (filled BETWEEN 0 AND holds)
                );
                """);
        files.put(
                "routines/pour.sql",
                switch (dialect) {
                    case "postgresql" ->
                            """
                            -- Pours into a glass, and says how full it is afterwards.
                            CREATE OR REPLACE PROCEDURE pour (
                              glass       varchar,
                              millilitres integer,
                              OUT filled_now integer
                            )
                            LANGUAGE plpgsql
                            AS $$
                            BEGIN
                              UPDATE glass g SET filled = filled + millilitres
                               WHERE code = pour.glass
                              RETURNING g.filled INTO filled_now;
                              IF NOT FOUND THEN
                                RAISE EXCEPTION 'there is no glass %', glass USING ERRCODE = '45000';
                              END IF;
                            END;
                            $$;
                            """;
                    case "mariadb" ->
                            """
                            -- Pours into a glass, and says how full it is afterwards.
                            CREATE OR REPLACE PROCEDURE pour (
                              IN  glass       VARCHAR(8),
                              IN  millilitres INTEGER,
                              OUT filled_now  INTEGER
                            )
                            BEGIN
                              DECLARE said VARCHAR(128);

                              UPDATE glass g SET g.filled = g.filled + millilitres WHERE g.code = glass;
                              IF ROW_COUNT() = 0 THEN
                                SET said = CONCAT('there is no glass ', glass);
                                SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = said;
                              END IF;
                              SELECT g.filled INTO filled_now FROM glass g WHERE g.code = glass;
                            END;
                            """;
                    default ->
                            """
                            -- Pours into a glass, and says how full it is afterwards.
                            CREATE PROCEDURE pour (
                              IN  glass       VARCHAR(8),
                              IN  millilitres INTEGER,
                              OUT filled_now  INTEGER
                            )
                            BEGIN
                              DECLARE touched INTEGER;

                              UPDATE glass SET filled = filled + millilitres WHERE code = pour.glass;
                              GET DIAGNOSTICS touched = ROW_COUNT;
                              IF touched = 0 THEN
                                SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'there is no glass ' || glass;
                              END IF;
                              SET filled_now = (SELECT g.filled FROM glass g WHERE g.code = pour.glass);
                            END;
                            """;
                });
        files.put("fixtures/small/glass.csv", "code,holds,filled\nG1,250,0\nG2,120,100\n");
        files.put(
                "cases/pour.yaml",
                """
                routine: pour

                cases:
                  - case: fills a glass
                    pass: { glass: G1, millilitres: 100 }
                    returns: { filled_now: 100 }
                    data: { glass: { changed: { G1: { filled: 100 } } } }

                  - case: a glass does not run over
                    pass: { glass: G2, millilitres: 100 }
                    raises: { sqlstate: "CHECK" }
                    data: untouched

                  - case: there must be a glass
                    pass: { glass: G9, millilitres: 10 }
                    raises: { sqlstate: "45000", message: { like: "%G9" } }
                """);
        // MariaDB has one state for all that a constraint refuses.
        files.computeIfPresent(
                "cases/pour.yaml",
                (file, text) ->
                        text.replace("CHECK", dialect.equals("mariadb") ? "23000" : "23514"));
        files.put(".gitignore", ".cantina/\n");
        return files;
    }
}
