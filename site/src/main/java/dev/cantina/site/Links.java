package dev.cantina.site;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;

/** Where links between the files of the documentation lead once they are pages. */
final class Links {
    private final Path root;
    private final Map<String, Page> pages;
    private final List<String> copied;

    Links(Path root, Map<String, Page> pages, List<String> copied) {
        this.root = root;
        this.pages = pages;
        this.copied = copied;
    }

    /**
     * @param from the page that the link stands on
     * @param link as it is written
     * @return its address from that page; a folder's is the list of its files
     * @throws IOException where it leads to nothing that is among the pages
     */
    String address(Page from, String link) throws IOException {
        int hash = link.indexOf('#');
        String path = hash < 0 ? link : link.substring(0, hash);
        String anchor = hash < 0 ? "" : link.substring(hash);
        String wanted = path.isEmpty() ? from.file() : inSources(from, path);
        Page page = pages.get(wanted);
        if (page != null) {
            if (!anchor.isEmpty() && !page.anchors().containsValue(anchor.substring(1))) {
                throw nowhere(from, link);
            }
            return relative(from, page.address()) + anchor;
        }
        Path file = root.resolve(wanted);
        boolean known =
                copied.stream().anyMatch(c -> wanted.equals(c) || wanted.startsWith(c + "/"));
        if (!known || !Files.exists(file)) {
            throw nowhere(from, link);
        }
        return relative(from, wanted) + (Files.isDirectory(file) ? "/index.html" : "") + anchor;
    }

    private static IOException nowhere(Page from, String link) {
        return new IOException(from.file() + " leads to " + link + ", which no page has");
    }

    private String inSources(Page from, String path) {
        Path at = root.resolve(from.file()).resolveSibling(path).normalize();
        return root.relativize(at).toString().replace('\\', '/');
    }

    /** From one page to another place in the folder of the pages. */
    static String relative(Page from, String to) {
        Path folder = Path.of("/", from.address()).getParent();
        return folder.relativize(Path.of("/", to)).toString().replace('\\', '/');
    }
}
