package dev.cantina.jdbc;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.lang.reflect.Method;
import java.net.URL;
import java.net.URLClassLoader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import javax.tools.JavaCompiler;
import javax.tools.ToolProvider;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Compiles and runs every example in Java of the docs, each on the winery as it is at first. */
class DocsExamplesTest {
    @TempDir Path folder;

    private static List<String> examples() throws Exception {
        List<String> examples = new ArrayList<>();
        StringBuilder open = null;
        for (String line : Files.readAllLines(Path.of("..", "docs", "programs.md"))) {
            if (line.equals("```java")) {
                open = new StringBuilder();
            } else if (open != null && line.equals("```")) {
                examples.add(open.toString());
                open = null;
            } else if (open != null) {
                open.append(line).append('\n');
            }
        }
        return examples;
    }

    @Test
    void everyExampleDoesWhatItSays() throws Exception {
        List<String> examples = examples();
        StringBuilder text =
                new StringBuilder(
                        "import static org.junit.jupiter.api.Assertions.*;\n"
                                + "import java.math.*;\nimport java.sql.*;\n"
                                + "public class Examples {\n");
        for (int i = 0; i < examples.size(); i++) {
            text.append("public static void example")
                    .append(i)
                    .append("(Connection connection) throws Exception {\n")
                    .append(examples.get(i))
                    .append("}\n");
        }
        Path file = Files.writeString(folder.resolve("Examples.java"), text + "}\n");
        JavaCompiler compiler = ToolProvider.getSystemJavaCompiler();
        int code =
                compiler.run(
                        null,
                        null,
                        null,
                        "-cp",
                        System.getProperty("java.class.path"),
                        "-d",
                        folder.toString(),
                        file.toString());
        assertEquals(0, code);
        assertTrue(examples.size() >= 4, "the page has lost its examples");
        try (URLClassLoader loader = new URLClassLoader(new URL[] {folder.toUri().toURL()})) {
            for (int i = 0; i < examples.size(); i++) {
                Method example =
                        loader.loadClass("Examples").getMethod("example" + i, Connection.class);
                try (Connection connection = Winery.open()) {
                    example.invoke(null, connection);
                }
            }
        }
    }

    @Test
    void everyKeyIsInTheDocs() throws Exception {
        String page = Files.readString(Path.of("..", "docs", "programs.md"));
        for (String key : Set.copyOf(DriverUrl.KEYS.keySet())) {
            assertTrue(page.contains("`" + key + "="), key);
        }
    }
}
