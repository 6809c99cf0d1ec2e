package dev.cantina.report;

import dev.cantina.observe.Profile.Flame;
import dev.cantina.syntax.Visible;
import java.util.Locale;

/**
 * A profile as one SVG file that needs nothing else: each box a routine or a line, as wide as the
 * time spent in it and in all that stands on it. A box tells its figures where a pointer rests on
 * it, and a click makes it as wide as the picture.
 */
public final class FlameGraph {
    private static final int WIDTH = 1200;
    private static final int ROW = 22;
    private static final int MARGIN = 14;
    private static final int HEAD = 64;
    private static final double NARROWEST = 0.25;
    private static final double LETTER = 6.6;

    private final StringBuilder svg = new StringBuilder();
    private final long whole;
    private final int height;

    private FlameGraph(Flame flame, String title) {
        this.whole = Math.max(1, flame.total());
        this.height = HEAD + depth(flame, 0) * ROW + MARGIN;
        head(title);
        double x = MARGIN;
        for (Flame child : flame.children()) {
            x += box(child, x, 0);
        }
        svg.append("</g>\n</svg>\n");
    }

    /** The picture of a profile's tree of calls. */
    public static String svg(Flame flame, String title) {
        return new FlameGraph(flame, title).svg.toString();
    }

    private int depth(Flame flame, int own) {
        int deepest = own;
        for (Flame child : flame.children()) {
            if (width(child) >= NARROWEST) {
                deepest = Math.max(deepest, depth(child, own + 1));
            }
        }
        return deepest;
    }

    private double width(Flame flame) {
        return (WIDTH - 2.0 * MARGIN) * flame.total() / whole;
    }

    private void head(String title) {
        svg.append(
                String.format(
                        Locale.ROOT,
                        """
                        <?xml version="1.0" encoding="UTF-8"?>
                        <!-- made by cantina profile -->
                        <svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %d %d" width="%d" height="%d" role="img">
                        <title>%s</title>
                        <style>
                          .ground { fill: #fbfaf7 } .name { font: 600 16px sans-serif; fill: #2b2a33 }
                          .hint, .seen { font: 12px sans-serif; fill: #6b6875 }
                          .box rect { stroke: #fbfaf7; stroke-width: 1 } .box:hover rect { stroke: #2b2a33 }
                          .box text { font: 11px monospace; fill: #1d1c22; pointer-events: none }
                          .box { cursor: pointer }
                        </style>
                        <rect class="ground" width="%d" height="%d"/>
                        <text class="name" x="%d" y="26">%s</text>
                        <text class="hint" x="%d" y="46">%s ms in all; the callers stand below, what they run above them; a click widens a box, a click on the ground shows all</text>
                        <script><![CDATA[
                        document.addEventListener('click', function (event) {
                          var all = document.querySelectorAll('.box'), left = %d, span = %d;
                          var box = event.target.closest ? event.target.closest('.box') : null;
                          var from = box ? +box.dataset.x : left, wide = box ? +box.dataset.w : span;
                          all.forEach(function (one) {
                            var x = left + (+one.dataset.x - from) * span / wide, w = +one.dataset.w * span / wide;
                            var cut = Math.max(x, left), end = Math.min(x + w, left + span);
                            one.style.display = end - cut > 0.2 ? '' : 'none';
                            var rect = one.querySelector('rect'), text = one.querySelector('text');
                            rect.setAttribute('x', cut); rect.setAttribute('width', Math.max(0, end - cut));
                            text.setAttribute('x', cut + 4);
                            var room = Math.floor((end - cut - 8) / 6.6), name = one.dataset.name;
                            text.textContent = room < 3 ? '' : name.length <= room ? name : name.slice(0, room - 1) + '…';
                          });
                        });
                        ]]></script>
                        <g>
                        """,
                        WIDTH,
                        height,
                        WIDTH,
                        height,
                        escaped(title),
                        WIDTH,
                        height,
                        MARGIN,
                        escaped(title),
                        MARGIN,
                        millis(whole),
                        MARGIN,
                        WIDTH - 2 * MARGIN));
    }

    private double box(Flame flame, double x, int row) {
        double width = width(flame);
        if (width < NARROWEST) {
            return width;
        }
        double y = height - MARGIN - (row + 1.0) * ROW;
        int room = (int) ((width - 8) / LETTER);
        String name = flame.name();
        String label =
                room < 3 ? "" : name.length() <= room ? name : name.substring(0, room - 1) + "…";
        svg.append(
                String.format(
                        Locale.ROOT,
                        "<g class=\"box\" data-name=\"%s\" data-x=\"%.3f\" data-w=\"%.3f\">"
                                + "<title>%s: %s ms, %.1f %%</title>"
                                + "<rect x=\"%.3f\" y=\"%.1f\" width=\"%.3f\" height=\"%d\" rx=\"2\" fill=\"%s\"/>"
                                + "<text x=\"%.3f\" y=\"%.1f\">%s</text></g>\n",
                        escaped(name),
                        x,
                        width,
                        escaped(name),
                        millis(flame.total()),
                        100.0 * flame.total() / whole,
                        x,
                        y,
                        width,
                        ROW - 1,
                        colour(name),
                        x + 4,
                        y + 15,
                        escaped(label)));
        double at = x;
        for (Flame child : flame.children()) {
            at += box(child, at, row + 1);
        }
        return width;
    }

    /** Routines in one family of colours, lines in another; the same name in the same colour. */
    private static String colour(String name) {
        int shade = Math.floorMod(name.hashCode(), 5);
        return name.contains(":")
                ? new String[] {"#cfe3d4", "#bcd9c6", "#c9ddc0", "#b5d3bd", "#d6e8cf"}[shade]
                : new String[] {"#c9a7bd", "#b893b0", "#d0b0c3", "#bf9cb3", "#c2a2c0"}[shade];
    }

    private static String millis(long nanos) {
        return String.format(Locale.ROOT, nanos < 10_000_000 ? "%.2f" : "%.1f", nanos / 1e6);
    }

    private static String escaped(String text) {
        return Visible.lines(text)
                .replace("&", "&amp;")
                .replace("<", "&lt;")
                .replace(">", "&gt;")
                .replace("\"", "&quot;");
    }
}
