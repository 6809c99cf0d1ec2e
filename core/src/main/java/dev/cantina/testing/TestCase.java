package dev.cantina.testing;

import dev.cantina.project.YamlNode;
import dev.cantina.syntax.Span;
import java.time.LocalDateTime;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * A test case as written.
 *
 * @param place where it stands
 * @param routine as written; it need not be there
 * @param fixture the one that it asks for; empty for the project's own
 * @param before SQL scripts that run first
 * @param pass the arguments, by parameter
 * @param clock what the current time is
 * @param skip why it is not to be run
 */
public record TestCase(
        Span place,
        String name,
        String routine,
        Optional<String> fixture,
        List<YamlNode> before,
        Map<String, YamlNode> pass,
        Optional<YamlNode> returns,
        Optional<YamlNode> raises,
        Optional<YamlNode> says,
        Optional<YamlNode> data,
        Optional<LocalDateTime> clock,
        Optional<String> skip,
        List<String> tags) {
    /**
     * Stands between the name of a case and the row of {@code each} that makes it one of several.
     */
    static final String ROW_MARK = " · ";

    /** The file, as it is shown. */
    public String file() {
        return place.source().name();
    }
}
