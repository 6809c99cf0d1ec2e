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
        CASE
    }

    /**
     * A name.
     *
     * @param routine of a parameter: the routine that has it; of a case: the one that it calls
     */
    record Use(Span span, Kind kind, String name, String routine) {}

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
        if (node.get("each").orElse(null) instanceof YamlNode.Sequence rows) {
            rows.items().forEach(r -> keys(r, Kind.PARAMETER, routine));
        }
        if (node.get("calls").orElse(null) instanceof YamlNode.Sequence calls) {
            for (YamlNode call : calls.items()) {
                parameters(call, routine(call, routine));
            }
        }
        node.get("stand_in").ifPresent(n -> keys(n, Kind.ROUTINE, ""));
        node.get("asked").ifPresent(n -> keys(n, Kind.ROUTINE, ""));
        node.get("data").ifPresent(n -> keys(n, Kind.TABLE, ""));
    }

    private void parameters(YamlNode node, String routine) {
        node.get("pass").ifPresent(n -> keys(n, Kind.PARAMETER, routine));
        node.get("returns").ifPresent(n -> keys(n, Kind.PARAMETER, routine));
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
