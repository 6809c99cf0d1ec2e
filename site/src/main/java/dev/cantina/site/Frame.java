package dev.cantina.site;

import java.io.IOException;
import java.util.Collection;
import java.util.List;
import org.commonmark.ext.gfm.tables.TableBlock;
import org.commonmark.ext.gfm.tables.TablesExtension;
import org.commonmark.node.AbstractVisitor;
import org.commonmark.node.Heading;
import org.commonmark.node.Image;
import org.commonmark.node.Link;
import org.commonmark.renderer.html.HtmlRenderer;

/**
 * A page's text with what stands around it on each: the list of pages, the search, its headings.
 */
final class Frame {
    private final Page page;
    private final Collection<Page> pages;

    Frame(Page page, Collection<Page> pages) {
        this.page = page;
        this.pages = pages;
    }

    String html(Links links) throws IOException {
        lead(links);
        String base = Links.relative(page, "site.css").replace("site.css", "");
        String title = page.title().equals("Cantina") ? "Cantina" : page.title() + " – Cantina";
        return """
                <!DOCTYPE html>
                <html lang="en">
                <head>
                <meta charset="utf-8">
                <meta name="viewport" content="width=device-width, initial-scale=1">
                <title>%s</title>
                <link rel="stylesheet" href="%ssite.css">
                </head>
                <body data-base="%s">
                <a class="skip" href="#text">To the text</a>
                <nav aria-label="Pages">
                <form role="search" hidden><input type="search" aria-label="Search the pages" \
                placeholder="Search (press /)" autocomplete="off"></form>
                <div id="found" aria-live="polite" hidden></div>
                <ul id="pages">
                %s</ul>
                </nav>
                <main id="text">
                %s</main>
                <script src="%sindex.js"></script>
                <script src="%ssearch.js"></script>
                </body>
                </html>
                """
                .formatted(escaped(title), base, base, list(), text(), base, base);
    }

    private String list() {
        StringBuilder list = new StringBuilder();
        for (Page other : pages) {
            boolean here = other == page;
            list.append("<li><a href=\"")
                    .append(Links.relative(page, other.address()))
                    .append(here ? "\" aria-current=\"page\">" : "\">")
                    .append(escaped(other.title()))
                    .append("</a>")
                    .append(here ? headings() : "")
                    .append("</li>\n");
        }
        return list.toString();
    }

    private String headings() {
        StringBuilder list = new StringBuilder();
        for (Page.Section section : page.sections()) {
            int hash = section.at().indexOf('#');
            if (hash > 0 && !section.title().equals(page.title())) {
                list.append("<li><a href=\"")
                        .append(section.at().substring(hash))
                        .append("\">")
                        .append(escaped(section.title()))
                        .append("</a></li>\n");
            }
        }
        return list.isEmpty() ? "" : "\n<ul>\n" + list + "</ul>\n";
    }

    private String text() {
        return HtmlRenderer.builder()
                .extensions(List.of(TablesExtension.create()))
                .escapeHtml(true)
                .attributeProviderFactory(
                        context ->
                                (node, tag, attributes) -> {
                                    if (node instanceof Heading) {
                                        attributes.put("id", page.anchors().get(node));
                                    } else if (node instanceof TableBlock || tag.equals("pre")) {
                                        attributes.put("tabindex", "0");
                                    }
                                })
                .build()
                .render(page.text());
    }

    /** Makes the links of the text lead to pages. */
    private void lead(Links links) throws IOException {
        IOException[] nowhere = new IOException[1];
        page.text()
                .accept(
                        new AbstractVisitor() {
                            @Override
                            public void visit(Link link) {
                                link.setDestination(led(link.getDestination()));
                                visitChildren(link);
                            }

                            @Override
                            public void visit(Image image) {
                                image.setDestination(led(image.getDestination()));
                                visitChildren(image);
                            }

                            private String led(String link) {
                                try {
                                    return links.address(page, link);
                                } catch (IOException e) {
                                    nowhere[0] = e;
                                    return link;
                                }
                            }
                        });
        if (nowhere[0] != null) {
            throw nowhere[0];
        }
    }

    private static String escaped(String text) {
        return text.replace("&", "&amp;")
                .replace("<", "&lt;")
                .replace(">", "&gt;")
                .replace("\"", "&quot;");
    }
}
