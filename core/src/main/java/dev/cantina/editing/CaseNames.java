package dev.cantina.editing;

import dev.cantina.project.ProjectException;
import dev.cantina.project.YamlNode;
import dev.cantina.project.YamlReader;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/** The names of routines, parameters and tables in a file of cases. */
final class CaseNames {
    /** What a name stands for. */
    enum Kind {
        ROUTINE,
        PARAMETER,
        TABLE,
        /** A column of a table, in what is expected of it. */
        COLUMN,
        /** A column of rows that a routine hands out. */
        RESULT,
        CASE
    }

    /**
     * A name.
     *
     * @param routine of a parameter: the routine that has it; of a case: the one that it calls; of
     *     a column: its table
     * @param returned of a parameter: whether it is one that hands something out there
     */
    record Use(Span span, Kind kind, String name, String routine, boolean returned) {
        Use(Span span, Kind kind, String name, String routine) {
            this(span, kind, name, routine, false);
        }
    }

    private final List<Use> uses = new ArrayList<>();

    private CaseNames() {}

    /** Those of a file; none where it can't be read. */
    static List<Use> of(Source source) {
        CaseNames names = new CaseNames();
        try {
            YamlNode root = YamlReader.read(source);
            String routine = names.routine(root, "");
            if (root.get("cases").orElse(null) instanceof YamlNode.Sequence cases) {
                cases.items().forEach(c -> names.oneCase(c, routine));
            }
        } catch (ProjectException e) {
            return List.of();
        }
        return names.uses;
    }

    /** The routine that a mapping names, or the one around it. */
    private String routine(YamlNode node, String around) {
        Optional<YamlNode> named = node.get("routine");
        if (named.isPresent() && named.get() instanceof YamlNode.Scalar scalar) {
            uses.add(new Use(scalar.span(), Kind.ROUTINE, scalar.text(), ""));
            return scalar.text();
        }
        return around;
    }

    private void oneCase(YamlNode node, String around) {
        String routine = routine(node, around);
        if (node.get("case").orElse(null) instanceof YamlNode.Scalar name) {
            uses.add(new Use(name.span(), Kind.CASE, name.text(), routine));
        }
        parameters(node, routine);
        changes(node);
        if (node.get("each").orElse(null) instanceof YamlNode.Sequence rows) {
            rows.items().forEach(r -> keys(r, Kind.PARAMETER, routine));
        }
        if (node.get("calls").orElse(null) instanceof YamlNode.Sequence calls) {
            for (YamlNode call : calls.items()) {
                parameters(call, routine(call, routine));
                changes(call);
            }
        }
        node.get("stand_in").ifPresent(n -> keys(n, Kind.ROUTINE, ""));
        node.get("asked").ifPresent(n -> keys(n, Kind.ROUTINE, ""));
        node.get("ask").ifPresent(this::results);
    }

    /** What is expected of the tables, and of the rows that are handed out. */
    private void changes(YamlNode node) {
        node.get("results").ifPresent(this::results);
        if (!(node.get("data").orElse(null) instanceof YamlNode.Mapping tables)) {
            return;
        }
        keys(tables, Kind.TABLE, "");
        for (Map.Entry<String, YamlNode> table : tables.fields().entrySet()) {
            for (String kind : List.of("added", "removed")) {
                if (table.getValue().get(kind).orElse(null) instanceof YamlNode.Sequence rows) {
                    rows.items().forEach(r -> keys(r, Kind.COLUMN, table.getKey()));
                }
            }
            if (table.getValue().get("changed").orElse(null) instanceof YamlNode.Mapping rows) {
                rows.fields().values().forEach(r -> keys(r, Kind.COLUMN, table.getKey()));
            }
        }
    }

    /** The keys of rows, however deep they stand. */
    private void results(YamlNode node) {
        if (node instanceof YamlNode.Sequence sequence) {
            sequence.items().forEach(this::results);
        } else if (node instanceof YamlNode.Mapping mapping) {
            if (mapping.get("rows").isPresent() || mapping.get("query").isPresent()) {
                mapping.get("rows").ifPresent(this::results);
            } else {
                keys(mapping, Kind.RESULT, "");
            }
        }
    }

    private void parameters(YamlNode node, String routine) {
        node.get("pass").ifPresent(n -> keys(n, Kind.PARAMETER, routine));
        if (node.get("returns").orElse(null) instanceof YamlNode.Mapping returned) {
            for (Map.Entry<String, Span> key : returned.keys().entrySet()) {
                uses.add(new Use(key.getValue(), Kind.PARAMETER, key.getKey(), routine, true));
            }
        }
    }

    private void keys(YamlNode node, Kind kind, String routine) {
        if (!(node instanceof YamlNode.Mapping mapping)) {
            return;
        }
        for (Map.Entry<String, Span> key : mapping.keys().entrySet()) {
            uses.add(new Use(key.getValue(), kind, key.getKey(), routine));
        }
    }

    /** Whether two names are the same, without regard to case. */
    static boolean same(String one, String other) {
        return one.toLowerCase(Locale.ROOT).equals(other.toLowerCase(Locale.ROOT));
    }
}
