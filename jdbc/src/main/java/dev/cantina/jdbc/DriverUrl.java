package dev.cantina.jdbc;

import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.runtime.Limits;
import dev.cantina.syntax.Nearest;
import dev.cantina.types.ConditionException;
import dev.cantina.workbench.RunSettings;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.Properties;
import java.util.TreeMap;

/**
 * {@code jdbc:cantina:FOLDER?key=value&key=value}, with the keys that may be said as properties as
 * well.
 *
 * @param text as the program has written it
 * @param folder of the project
 * @param said the keys and their values
 */
record DriverUrl(String text, Path folder, Map<String, String> said) {
    static final String PREFIX = "jdbc:cantina:";

    /** What can be said, and what it is for. */
    static final Map<String, String> KEYS = new LinkedHashMap<>();

    private static final int MOST_PORT = 65_535;

    static {
        KEYS.put("on", "a database of cantina.yaml to run on, in place of the embedded one");
        KEYS.put("fixture", "the fixture whose rows there are at first");
        KEYS.put("name", "rows of its own: connections of one name see the same");
        KEYS.put("fresh", "yes: begin with the fixture again whenever no connection is open");
        KEYS.put("clock", "the moment at which the routines' clock stands: 2026-09-20T08:00");
        KEYS.put("limits", "limits of each call: seconds=5,statements=100000");
        KEYS.put("debug", "a port of this machine at which a debugger may attach; 0 for any");
        KEYS.put("wait", "yes: the first call waits until a debugger is attached");
    }

    /**
     * Reads a URL.
     *
     * @throws SQLException 08001 where it can't be read
     */
    static DriverUrl of(String url, Properties info) throws SQLException {
        String rest = url.substring(PREFIX.length());
        int sign = rest.indexOf('?');
        Map<String, String> said = new TreeMap<>();
        for (String name : info.stringPropertyNames()) {
            if (!name.equals("user") && !name.equals("password")) {
                put(said, name, info.getProperty(name));
            }
        }
        if (sign >= 0) {
            for (String pair : rest.substring(sign + 1).split("&", -1)) {
                int equals = pair.indexOf('=');
                if (equals < 1) {
                    throw Failures.of("08001", "'" + pair + "' in " + url + " is not KEY=VALUE");
                }
                put(said, pair.substring(0, equals), decoded(pair.substring(equals + 1)));
            }
        }
        String folder = decoded(sign < 0 ? rest : rest.substring(0, sign));
        if (folder.isBlank()) {
            throw Failures.of("08001", url + " names no folder: " + PREFIX + "demo/winery");
        }
        try {
            return new DriverUrl(url, Path.of(folder).toAbsolutePath().normalize(), said);
        } catch (InvalidPathException e) {
            throw Failures.of("08001", "'" + folder + "' is no path");
        }
    }

    private static void put(Map<String, String> said, String key, String value)
            throws SQLException {
        if (!KEYS.containsKey(key)) {
            throw Failures.of(
                    "08001",
                    "a connection has no "
                            + key
                            + Nearest.to(key, KEYS.keySet())
                                    .map(n -> "; did you mean " + n + "?")
                                    .orElse("; there are " + String.join(", ", KEYS.keySet())));
        }
        String before = said.put(key, value);
        if (before != null && !before.equals(value)) {
            throw Failures.of(
                    "08001", key + " is said twice: " + before + ", and " + value + " as well");
        }
    }

    private static String decoded(String text) throws SQLException {
        try {
            // A plus sign is one, in a path.
            return URLDecoder.decode(text.replace("+", "%2B"), StandardCharsets.UTF_8);
        } catch (IllegalArgumentException e) {
            throw Failures.of("08001", "'" + text + "': " + e.getMessage());
        }
    }

    Optional<String> value(String key) {
        return Optional.ofNullable(said.get(key)).filter(v -> !v.isBlank());
    }

    /** The port at which a debugger may attach; 0 for any that is free. */
    Optional<Integer> debugPort() throws SQLException {
        if (value("debug").isEmpty()) {
            return Optional.empty();
        }
        try {
            int port = Integer.parseInt(value("debug").get());
            if (port >= 0 && port <= MOST_PORT) {
                return Optional.of(port);
            }
        } catch (NumberFormatException e) {
            // Said below.
        }
        throw Failures.of("08001", "debug is the number of a port, up to " + MOST_PORT);
    }

    /** How the project's routines are to be run. */
    RunSettings settings() throws SQLException {
        try {
            Project project = ProjectReader.read(folder);
            Limits limits = project.limits();
            if (value("limits").isPresent()) {
                for (String limit : value("limits").get().split(",")) {
                    limits = RunSettings.limit(limits, limit.strip());
                }
            }
            return new RunSettings(
                    value("clock").isPresent() ? project.withClock() : project,
                    value("on"),
                    value("fixture"),
                    limits,
                    RunSettings.clock(value("clock")));
        } catch (ProjectException e) {
            throw Failures.of(e);
        } catch (IllegalArgumentException e) {
            throw Failures.of("08001", "limits: " + e.getMessage());
        } catch (ConditionException e) {
            throw Failures.of("08001", "clock: " + e.condition().message());
        }
    }

    /** Whether the rows go when the last connection is closed. */
    boolean isFresh() throws SQLException {
        return isYes("fresh");
    }

    /** Whether the first call waits for a debugger. */
    boolean isWaiting() throws SQLException {
        if (isYes("wait") && value("debug").isEmpty()) {
            throw Failures.of("08001", "wait is for a debugger, and no debug=PORT is said");
        }
        return isYes("wait");
    }

    private boolean isYes(String key) throws SQLException {
        String said = value(key).orElse("no");
        if (!said.equals("yes") && !said.equals("no")) {
            throw Failures.of("08001", key + " is yes or no, not " + said);
        }
        return said.equals("yes");
    }

    /** What tells rows from others: connections of the same see the same. */
    Map<String, String> identity() {
        Map<String, String> all = new TreeMap<>(said);
        all.put("", folder.toString());
        return all;
    }
}
