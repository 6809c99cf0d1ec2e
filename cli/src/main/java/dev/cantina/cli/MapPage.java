package dev.cantina.cli;

import dev.cantina.relations.ProjectMap;
import dev.cantina.relations.ProjectMap.Link;
import dev.cantina.relations.ProjectMap.Thing;
import dev.cantina.relations.ProjectMap.Way;
import dev.cantina.syntax.Visible;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.eclipse.elk.alg.layered.options.LayeredMetaDataProvider;
import org.eclipse.elk.core.RecursiveGraphLayoutEngine;
import org.eclipse.elk.core.data.LayoutMetaDataService;
import org.eclipse.elk.core.math.ElkPadding;
import org.eclipse.elk.core.options.CoreOptions;
import org.eclipse.elk.core.options.Direction;
import org.eclipse.elk.core.util.BasicProgressMonitor;
import org.eclipse.elk.graph.ElkBendPoint;
import org.eclipse.elk.graph.ElkEdge;
import org.eclipse.elk.graph.ElkEdgeSection;
import org.eclipse.elk.graph.ElkNode;
import org.eclipse.elk.graph.util.ElkGraphUtil;

/** Draws a map in layers, as one page of SVG 1.1 that needs nothing else. */
final class MapPage {
    private static final double HEIGHT = 30;
    private static final double LETTER = 7.4;
    private static final int LEGEND = 44;

    private final ProjectMap map;
    private final Set<Thing> shown = new LinkedHashSet<>();
    private final Set<Thing> asked = new LinkedHashSet<>();

    /**
     * @param about what to show, with all that it uses and all that uses it; empty for everything
     */
    MapPage(ProjectMap map, List<MapCommand.Asked> about) {
        this.map = map;
        if (about.isEmpty()) {
            shown.addAll(map.things());
        }
        for (MapCommand.Asked one : about) {
            asked.add(one.thing());
            shown.add(one.thing());
            shown.addAll(map.touched(one.thing(), one.column()));
            below(one.thing());
        }
    }

    private void below(Thing thing) {
        for (Link link : map.from(thing)) {
            if (shown.add(link.to()) && !link.to().kind().isTable()) {
                below(link.to());
            }
        }
        map.runs(thing)
                .forEach(
                        t -> {
                            if (shown.add(t)) {
                                below(t);
                            }
                        });
    }

    /** Several ways from one to another are one line: the strongest. */
    private Map<String, Link> lines() {
        Map<String, Link> lines = new LinkedHashMap<>();
        for (Link link : map.links()) {
            boolean both = shown.contains(link.from()) && shown.contains(link.to());
            if (both && !link.from().equals(link.to())) {
                lines.merge(
                        link.from().kind()
                                + link.from().name()
                                + "|"
                                + link.to().kind()
                                + link.to().name(),
                        link,
                        (a, b) -> a.way().isChange() || !b.way().isChange() ? a : b);
            }
        }
        return lines;
    }

    /** The page. */
    String svg(String title) {
        LayoutMetaDataService.getInstance()
                .registerLayoutMetaDataProviders(new LayeredMetaDataProvider());
        ElkNode graph = ElkGraphUtil.createGraph();
        graph.setProperty(CoreOptions.ALGORITHM, "org.eclipse.elk.layered");
        graph.setProperty(CoreOptions.DIRECTION, Direction.RIGHT);
        graph.setProperty(CoreOptions.SPACING_NODE_NODE, 14.0);
        graph.setProperty(CoreOptions.SPACING_EDGE_NODE, 12.0);
        graph.setProperty(
                org.eclipse.elk.alg.layered.options.LayeredOptions.SPACING_NODE_NODE_BETWEEN_LAYERS,
                70.0);
        graph.setProperty(CoreOptions.PADDING, new ElkPadding(24));
        Map<Thing, ElkNode> nodes = new HashMap<>();
        for (Thing thing : shown) {
            ElkNode node = ElkGraphUtil.createNode(graph);
            node.setDimensions(Math.max(60, 22 + LETTER * Screen.width(thing.name())), HEIGHT);
            nodes.put(thing, node);
        }
        Map<ElkEdge, Link> edges = new LinkedHashMap<>();
        for (Link link : lines().values()) {
            edges.put(
                    ElkGraphUtil.createSimpleEdge(nodes.get(link.from()), nodes.get(link.to())),
                    link);
        }
        new RecursiveGraphLayoutEngine().layout(graph, new BasicProgressMonitor());
        StringBuilder page = new StringBuilder();
        double width = Math.max(620, graph.getWidth());
        double height = graph.getHeight() + LEGEND;
        page.append(
                String.format(
                        Locale.ROOT,
                        "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"%1$.0f\""
                                + " height=\"%2$.0f\" viewBox=\"0 0 %1$.0f %2$.0f\""
                                + " font-family=\"DejaVu Sans, Verdana, sans-serif\""
                                + " font-size=\"12\">\n",
                        width,
                        height));
        page.append("<!-- cantina map -->\n<title>")
                .append(escaped(title))
                .append("</title>\n")
                .append(STYLE);
        page.append("<rect width=\"100%\" height=\"100%\" fill=\"#fbfaf7\"/>\n");
        legend(page, title, height);
        edges.forEach((edge, link) -> edge(page, edge, link));
        nodes.forEach((thing, node) -> node(page, thing, node));
        return page.append("</svg>\n").toString();
    }

    private static final String STYLE =
            """
            <style>
            .edge { fill: none; stroke: #b9b2a3; stroke-width: 1.1 }
            .calls { stroke: #3d5a73; stroke-width: 1.5 }
            .changes { stroke: #a8452f; stroke-width: 1.7 }
            .fires { stroke: #7a4f8f; stroke-width: 1.5; stroke-dasharray: 5 3 }
            .edge:hover { stroke-width: 4 }
            .box { stroke: #5d574b; stroke-width: 1 }
            .asked { stroke: #000000; stroke-width: 3 }
            </style>
            <defs>
            <marker id="e" viewBox="0 0 8 8" refX="7.5" refY="4" markerWidth="7" markerHeight="7" orient="auto" markerUnits="userSpaceOnUse"><path d="M0 0 8 4 0 8z" fill="#6d675b"/></marker>
            </defs>
            """;

    private static void legend(StringBuilder page, String title, double height) {
        double y = height - 16;
        page.append(
                String.format(
                        Locale.ROOT,
                        "<text x=\"24\" y=\"%.1f\" font-weight=\"bold\">%s</text>\n",
                        y,
                        escaped(title)));
        double x = 40 + LETTER * Screen.width(title);
        for (String[] one :
                new String[][] {
                    {"calls", "calls"},
                    {"", "reads"},
                    {"changes", "changes"},
                    {"fires", "sets off"}
                }) {
            page.append(
                    String.format(
                            Locale.ROOT,
                            "<path class=\"edge %s\" d=\"M%.1f %.1fh34\" marker-end=\"url(#e)\"/>"
                                    + "<text x=\"%.1f\" y=\"%.1f\">%s</text>\n",
                            one[0],
                            x,
                            y - 4,
                            x + 40,
                            y,
                            one[1]));
            x += 56 + LETTER * one[1].length();
        }
    }

    private void node(StringBuilder page, Thing thing, ElkNode node) {
        String fill =
                switch (thing.kind()) {
                    case PROCEDURE -> "#dbe7f0";
                    case FUNCTION -> "#e6efdc";
                    case TRIGGER -> "#eadff0";
                    case TABLE -> "#f6e3cf";
                    case VIEW -> "#fbf1df";
                    case SCRIPT -> "#ececec";
                };
        double round = thing.kind().isTable() ? 1 : 9;
        page.append(
                String.format(
                        Locale.ROOT,
                        "<g><title>%s</title><rect class=\"box%s\" x=\"%.1f\" y=\"%.1f\""
                                + " width=\"%.1f\" height=\"%.1f\" rx=\"%.0f\" fill=\"%s\"/>"
                                + "<text x=\"%.1f\" y=\"%.1f\" text-anchor=\"middle\">%s</text></g>\n",
                        escaped(about(thing)),
                        asked.contains(thing) ? " asked" : "",
                        node.getX(),
                        node.getY(),
                        node.getWidth(),
                        node.getHeight(),
                        round,
                        fill,
                        node.getX() + node.getWidth() / 2,
                        node.getY() + node.getHeight() / 2 + 4,
                        escaped(thing.name())));
    }

    private String about(Thing thing) {
        StringBuilder text = new StringBuilder(thing.kind().word() + " " + thing.name());
        thing.span().ifPresent(s -> text.append("\n").append(s.source().name()));
        if (!thing.kind().isTable()) {
            int cases = map.casesOf(Set.of(thing)).size();
            text.append("\n").append(cases).append(cases == 1 ? " case" : " cases");
        }
        return text.toString();
    }

    private void edge(StringBuilder page, ElkEdge edge, Link link) {
        String kind =
                link.way() == Way.CALLS
                        ? "calls"
                        : link.way() == Way.FIRES
                                ? "fires"
                                : link.way().isChange() ? "changes" : "";
        for (ElkEdgeSection section : edge.getSections()) {
            StringBuilder path =
                    new StringBuilder(
                            String.format(
                                    Locale.ROOT,
                                    "M%.1f %.1f",
                                    section.getStartX(),
                                    section.getStartY()));
            for (ElkBendPoint bend : section.getBendPoints()) {
                path.append(String.format(Locale.ROOT, "L%.1f %.1f", bend.getX(), bend.getY()));
            }
            path.append(
                    String.format(Locale.ROOT, "L%.1f %.1f", section.getEndX(), section.getEndY()));
            String said =
                    link.from().name()
                            + " "
                            + link.way().word()
                            + " "
                            + link.to().name()
                            + (link.columns().isEmpty()
                                    ? ""
                                    : " (" + String.join(", ", link.columns()) + ")");
            page.append("<path class=\"edge ")
                    .append(kind)
                    .append("\" d=\"")
                    .append(path)
                    .append("\" marker-end=\"url(#e)\"><title>")
                    .append(escaped(said))
                    .append("</title></path>\n");
        }
    }

    private static String escaped(String text) {
        return Visible.lines(text)
                .replace("&", "&amp;")
                .replace("<", "&lt;")
                .replace(">", "&gt;")
                .replace("\"", "&quot;");
    }
}
