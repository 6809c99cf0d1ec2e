package dev.cantina.database;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.util.Locale;
import java.util.Optional;
import java.util.Properties;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Connects to a server, and says what went wrong in words that hold no secret. */
public final class ServerConnection {
    private static final int TIMEOUT_SECONDS = 10;

    private ServerConnection() {}

    /**
     * Where a server is, and as whom to go there.
     *
     * @param name as the project calls it
     * @param password {@code env:NAME}, {@code file:PATH}, or empty where there is none
     */
    public record Address(String name, String url, String user, String password) {}

    /**
     * A connection in a transaction.
     *
     * @param root the folder that a password's file is seen from
     * @throws UnreachableException where there is none to be had, with the reason
     */
    public static Connection open(Address address, Path root) throws UnreachableException {
        ServerKind kind =
                ServerKind.of(address.url())
                        .orElseThrow(() -> new UnreachableException(unknown(address)));
        Properties properties = new Properties();
        if (!address.user().isEmpty()) {
            properties.setProperty("user", address.user());
        }
        String password = password(address, root);
        if (!password.isEmpty() && isUnprotected(address.url())) {
            throw new UnreachableException(
                    address.name()
                            + " is on another machine, and nothing says whether the password goes"
                            + " there encrypted; say "
                            + kind.encryption()
                            + "=verify-full in the url, or "
                            + kind.encryption()
                            + "=disable where the network is your own");
        }
        if (!password.isEmpty()) {
            properties.setProperty("password", password);
        }
        kind.prepare(properties, TIMEOUT_SECONDS);
        try {
            Connection connection = DriverManager.getConnection(address.url(), properties);
            DatabaseMetaData server = connection.getMetaData();
            Optional<String> old =
                    tooOld(
                            address.name(),
                            kind,
                            new ServerKind.Version(
                                    server.getDatabaseMajorVersion(),
                                    server.getDatabaseMinorVersion()));
            if (old.isPresent()) {
                connection.close();
                throw new UnreachableException(old.get());
            }
            kind.begin(connection);
            connection.setAutoCommit(false);
            return connection;
        } catch (SQLException e) {
            throw new UnreachableException(reason(address, e));
        }
    }

    private static String unknown(Address address) {
        return address.name()
                + " can't be used: its url must begin with "
                + String.join(" or ", ServerKind.ALL.stream().map(ServerKind::prefix).toList());
    }

    /** Says so where a server lacks what Cantina makes use of. */
    static Optional<String> tooOld(String name, ServerKind kind, ServerKind.Version version) {
        return version.isBefore(kind.lowest())
                ? Optional.of(
                        name
                                + " is "
                                + kind.title()
                                + " "
                                + version.major()
                                + "."
                                + version.minor()
                                + ", which is too old; "
                                + kind.lowest()
                                + " or later is wanted")
                : Optional.empty();
    }

    /** Whether a url says a user or a password itself. */
    public static boolean holdsPassword(String url) {
        return SECRET.matcher(url).find();
    }

    private static final Pattern SECRET =
            Pattern.compile(
                    "(?i)^jdbc:[a-z]+:(?:[a-z]+:)?//[^/?;]*@|[?&;][^=&;]*(password|pwd)[^=&;]*=");

    private static final Pattern HOSTS = Pattern.compile("^jdbc:[a-z]+:(?:[a-z]+:)?//([^/?;]*)");

    private static final Pattern ENCRYPTION =
            Pattern.compile("(?i)[?&;](sslmode|usessl|ssl|gssencmode)=");

    /** What a url may say without loading a class, reading a file or running a statement. */
    private static final Set<String> PLAIN =
            Set.of(
                    "user",
                    "currentschema",
                    "applicationname",
                    "connecttimeout",
                    "sockettimeout",
                    "logintimeout",
                    "sslmode",
                    "usessl",
                    "ssl",
                    "tcpkeepalive");

    /** Whether a url leads to this machine, and says only how to talk to the server there. */
    public static boolean isPlainAndHere(String url) {
        Matcher hosts = HOSTS.matcher(url);
        if (!hosts.find() || !isHere(hosts.group(1))) {
            return false;
        }
        int options = url.indexOf('?');
        if (url.indexOf(';') >= 0 || url.indexOf('@') >= 0) {
            return false;
        }
        for (String option : (options < 0 ? "" : url.substring(options + 1)).split("&")) {
            String key = option.replaceFirst("=.*", "").toLowerCase(Locale.ROOT);
            if (!key.isEmpty() && !PLAIN.contains(key)) {
                return false;
            }
        }
        return true;
    }

    private static boolean isHere(String hosts) {
        for (String host : hosts.split(",")) {
            String name = host.replaceFirst(":\\d*$", "");
            boolean here =
                    name.isEmpty()
                            || name.equalsIgnoreCase("localhost")
                            || name.matches("127(\\.\\d{1,3}){3}")
                            || name.equals("[::1]");
            if (!here) {
                return false;
            }
        }
        return true;
    }

    /** Whether a password would go over a network, and nothing says whether it is encrypted. */
    static boolean isUnprotected(String url) {
        Matcher hosts = HOSTS.matcher(url);
        if (!hosts.find() || ENCRYPTION.matcher(url).find()) {
            return false;
        }
        return !isHere(hosts.group(1));
    }

    private static String password(Address address, Path root) throws UnreachableException {
        String said = address.password();
        if (said.startsWith("env:")) {
            String value = System.getenv(said.substring(4));
            if (value == null) {
                throw new UnreachableException(
                        address.name()
                                + " wants its password from the environment, and "
                                + said.substring(4)
                                + " is not set");
            }
            return value;
        }
        if (said.startsWith("file:")) {
            try {
                return Files.readString(root.resolve(said.substring(5))).strip();
            } catch (IOException e) {
                throw new UnreachableException(
                        address.name()
                                + " wants its password from the file "
                                + said.substring(5)
                                + ", which can't be read");
            }
        }
        if (!said.isEmpty()) {
            throw new UnreachableException(
                    address.name()
                            + " has a password in cantina.yaml; write env:NAME or file:PATH there,"
                            + " and keep the password itself out of the project");
        }
        return "";
    }

    private static String reason(Address address, SQLException e) {
        String where = address.url().replaceAll("\\?.*", "");
        String state =
                switch (e.getErrorCode()) {
                    case 1049 -> "3D000";
                    case 1044, 1045, 1698 -> "28000";
                    case 1040, 1203 -> "53300";
                    default -> e.getSQLState() == null ? "" : e.getSQLState();
                };
        String who = address.user().isEmpty() ? "" : " as " + address.user();
        return address.name()
                + switch (state) {
                    case "08000", "08001", "08004", "08006" ->
                            " can't be reached at " + where + "; is the server running, and open?";
                    case "28000", "28P01" ->
                            " refuses the user or the password" + who + " at " + where;
                    case "3D000" -> " has no such database: " + where;
                    case "53300" -> " takes no more connections just now";
                    default -> " refuses the connection to " + where + " (SQLSTATE " + state + ")";
                };
    }
}
