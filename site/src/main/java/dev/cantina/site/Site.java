package dev.cantina.site;

import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;

/**
 * Makes the documentation into pages that need nothing but a folder: no server, nothing from
 * elsewhere. Their search is over an index that is made here.
 */
public final class Site {
    /** The files that are pages, in the order of their list; README is the first page. */
    private static final List<String> PAGES =
            List.of(
                    "README.md",
                    "docs/commands.md",
                    "docs/testing.md",
                    "docs/debugging.md",
                    "docs/safety.md",
                    "docs/authoring.md",
                    "docs/programs.md",
                    "docs/editors.md",
                    "docs/language.md",
                    "docs/servers.md",
                    "docs/native.md",
                    "docs/performance.md",
                    "docs/architecture.md",
                    "SECURITY.md",
                    "CONTRIBUTING.md",
                    "CHANGELOG.md");

    /** What pages lead to and that is copied as it is. */
    private static final List<String> FILES =
            List.of("LICENSE", "docs/screenshots", "docs/schemas", "docs/ci");

    private final Path root;
    private final Path target;

    private Site(Path root, Path target) {
        this.root = root;
        this.target = target;
    }

    /**
     * @param arguments the folder of the sources, and the folder for the pages
     * @throws IOException where a page can't be read or written, or leads nowhere
     */
    public static void main(String[] arguments) throws IOException {
        if (arguments.length != 2) {
            throw new IllegalArgumentException("two folders are wanted: the sources', the pages'");
        }
        make(Path.of(arguments[0]), Path.of(arguments[1]));
    }

    /**
     * Makes the pages of {@code root} in {@code target}; what is there already is written over.
     *
     * @throws IOException where a page can't be read or written, leads nowhere, or where docs has a
     *     page that the list of pages lacks
     */
    static void make(Path root, Path target) throws IOException {
        new Site(root.toAbsolutePath().normalize(), target.toAbsolutePath().normalize()).write();
    }

    private void write() throws IOException {
        lacksNone();
        Map<String, Page> pages = new LinkedHashMap<>();
        for (String file : PAGES) {
            pages.put(file, Page.read(file, Files.readString(root.resolve(file))));
        }
        Links links = new Links(root, pages, FILES);
        Files.createDirectories(target);
        List<Page.Section> sections = new ArrayList<>();
        for (Page page : pages.values()) {
            Path at = target.resolve(page.address());
            Files.createDirectories(at.getParent());
            Files.writeString(at, new Frame(page, pages.values()).html(links));
            sections.addAll(page.sections());
        }
        String index = new ObjectMapper().writeValueAsString(sections);
        Files.writeString(target.resolve("index.js"), "const sections = " + index + ";\n");
        resource("site.css");
        resource("search.js");
        for (String file : FILES) {
            copy(root.resolve(file));
            if (Files.isDirectory(root.resolve(file))) {
                Page list = Page.read(file + "/index.md", list(file));
                Files.writeString(
                        target.resolve(list.address()),
                        new Frame(list, pages.values()).html(links));
            }
        }
    }

    private void lacksNone() throws IOException {
        try (Stream<Path> docs = Files.list(root.resolve("docs"))) {
            for (Path doc : docs.sorted().toList()) {
                String file = "docs/" + doc.getFileName();
                if (file.endsWith(".md") && !PAGES.contains(file)) {
                    throw new IOException(
                            file + " is not in the site's list of pages (Site.PAGES)");
                }
            }
        }
    }

    private String list(String folder) throws IOException {
        StringBuilder list = new StringBuilder("# " + folder + "\n\n");
        try (Stream<Path> files = Files.list(root.resolve(folder))) {
            files.map(f -> f.getFileName().toString())
                    .sorted()
                    .forEach(f -> list.append("- [" + f + "](" + f + ")\n"));
        }
        return list.toString();
    }

    private void resource(String name) throws IOException {
        try (InputStream in = Site.class.getResourceAsStream(name)) {
            Files.copy(in, target.resolve(name), StandardCopyOption.REPLACE_EXISTING);
        }
    }

    private void copy(Path from) throws IOException {
        try (Stream<Path> all = Files.walk(from)) {
            for (Path one : all.filter(Files::isRegularFile).toList()) {
                Path to = target.resolve(root.relativize(one).toString());
                Files.createDirectories(to.getParent());
                Files.copy(one, to, StandardCopyOption.REPLACE_EXISTING);
            }
        }
    }
}
