package dev.cantina.site;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.commonmark.ext.gfm.tables.TableCell;
import org.commonmark.ext.gfm.tables.TablesExtension;
import org.commonmark.node.Block;
import org.commonmark.node.Code;
import org.commonmark.node.FencedCodeBlock;
import org.commonmark.node.HardLineBreak;
import org.commonmark.node.Heading;
import org.commonmark.node.HtmlBlock;
import org.commonmark.node.HtmlInline;
import org.commonmark.node.IndentedCodeBlock;
import org.commonmark.node.Node;
import org.commonmark.node.SoftLineBreak;
import org.commonmark.node.Text;
import org.commonmark.parser.Parser;

/** One file of the documentation, read as CommonMark. */
final class Page {
    /**
     * What search finds: the text below one heading.
     *
     * @param page the page's title
     * @param title the heading
     * @param at the address from the folder of the pages, with the heading's anchor
     * @param text the text, without marks
     */
    record Section(String page, String title, String at, String text) {}

    private static final Parser PARSER =
            Parser.builder().extensions(List.of(TablesExtension.create())).build();
    private final String file;
    private final Node text;
    private final Map<Node, String> anchors = new IdentityHashMap<>();

    private Page(String file, Node text) {
        this.file = file;
        this.text = text;
        Map<String, Integer> taken = new HashMap<>();
        for (Node node = text.getFirstChild(); node != null; node = node.getNext()) {
            if (node instanceof Heading) {
                String word = anchor(plain(node));
                int times = taken.merge(word, 1, Integer::sum);
                anchors.put(node, times == 1 ? word : word + "-" + (times - 1));
            }
        }
    }

    static Page read(String file, String text) {
        return new Page(file, PARSER.parse(text));
    }

    String file() {
        return file;
    }

    Node text() {
        return text;
    }

    /** The page's place in the folder of the pages, with slashes. */
    String address() {
        return file.equals("README.md")
                ? "index.html"
                : file.substring(0, file.length() - "md".length()).toLowerCase(Locale.ROOT)
                        + "html";
    }

    String title() {
        for (Node node = text.getFirstChild(); node != null; node = node.getNext()) {
            if (node instanceof Heading) {
                return plain(node);
            }
        }
        return file;
    }

    /** The anchor of each heading. */
    Map<Node, String> anchors() {
        return anchors;
    }

    List<Section> sections() {
        List<Section> sections = new ArrayList<>();
        String title = title();
        String heading = title;
        String at = address();
        StringBuilder below = new StringBuilder();
        for (Node node = text.getFirstChild(); node != null; node = node.getNext()) {
            if (!(node instanceof Heading)) {
                below.append(plain(node)).append(' ');
                continue;
            }
            add(sections, new Section(title, heading, at, below.toString().strip()));
            below.setLength(0);
            heading = plain(node);
            at = address() + "#" + anchors.get(node);
        }
        add(sections, new Section(title, heading, at, below.toString().strip()));
        return sections;
    }

    private static void add(List<Section> sections, Section section) {
        if (section.at().contains("#") || !section.text().isEmpty()) {
            sections.add(section);
        }
    }

    private static String plain(Node node) {
        StringBuilder words = new StringBuilder();
        plain(node, words);
        return words.toString().strip().replaceAll("\\s+", " ");
    }

    private static void plain(Node node, StringBuilder words) {
        if (node instanceof Text text) {
            words.append(text.getLiteral());
        } else if (node instanceof Code code) {
            words.append(code.getLiteral());
        } else if (node instanceof FencedCodeBlock code) {
            words.append(code.getLiteral());
        } else if (node instanceof IndentedCodeBlock code) {
            words.append(code.getLiteral());
        } else if (node instanceof HtmlInline html) {
            words.append(html.getLiteral());
        } else if (node instanceof HtmlBlock html) {
            words.append(html.getLiteral());
        }
        for (Node child = node.getFirstChild(); child != null; child = child.getNext()) {
            plain(child, words);
        }
        boolean ends =
                node instanceof Block
                        || node instanceof TableCell
                        || node instanceof SoftLineBreak
                        || node instanceof HardLineBreak;
        words.append(ends ? " " : "");
    }

    private static String anchor(String heading) {
        StringBuilder anchor = new StringBuilder();
        for (char c : heading.toLowerCase(Locale.ROOT).toCharArray()) {
            if (Character.isLetterOrDigit(c) || c == '_' || c == '-') {
                anchor.append(c);
            } else if (c == ' ') {
                anchor.append('-');
            }
        }
        return anchor.toString();
    }
}
