package dev.cantina.hosting;

import dev.cantina.database.ServerConnection.Address;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.channels.OverlappingFileLockException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.FileTime;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.SecureRandom;
import java.sql.SQLException;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HexFormat;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;

/**
 * A server of the user's own, on 127.0.0.1, with a data folder that nobody else can read and
 * passwords that are made up at its start. It runs on between commands, and {@link Keeper} ends it
 * when nobody has used it for a while. What is in it is scratch, and goes when it ends.
 */
public abstract class PrivateServer {
    /** What a project in a server's own language calls it in {@code database:}. */
    public static final String NAME = "private";

    /** Idle for so long it ends by itself. */
    static final Duration IDLE = Duration.ofMinutes(10);

    /** The user that projects are: the owner of databases of their own, and nothing more. */
    protected static final String USER = "cantina";

    private static final int START_SECONDS = 30;

    /** In this process, the servers that it has said it uses. */
    private static final Map<Path, FileLock> USED = new HashMap<>();

    private final String kind;
    private final Path state;
    private final Map<String, String> environment;

    protected PrivateServer(String kind, Map<String, String> environment) throws HostingException {
        this.kind = kind;
        this.environment = environment;
        this.state =
                folder(environment, "XDG_STATE_HOME", ".local/state")
                        .resolve("servers")
                        .resolve(kind);
    }

    /**
     * The one of a kind.
     *
     * @param kind {@code postgresql} or {@code mariadb}
     */
    public static PrivateServer of(String kind) throws HostingException {
        return of(kind, System.getenv());
    }

    static PrivateServer of(String kind, Map<String, String> environment) throws HostingException {
        return switch (kind) {
            case "postgresql" -> new PrivatePostgres(environment);
            case "mariadb" -> new PrivateMaria(environment);
            default -> throw new HostingException("there is no private server of kind " + kind);
        };
    }

    /** A folder of the user's for Cantina. */
    static Path folder(Map<String, String> environment, String variable, String below)
            throws HostingException {
        String said = environment.getOrDefault(variable, "");
        String home = environment.getOrDefault("HOME", "");
        if (said.isEmpty() && home.isEmpty()) {
            throw new HostingException(
                    "there is no home folder to keep a private server in; set HOME, or "
                            + variable);
        }
        return (said.isEmpty() ? Path.of(home).resolve(below) : Path.of(said))
                .toAbsolutePath()
                .resolve("cantina");
    }

    /** Makes a new data folder, with the two users. */
    protected abstract void initialize(Path programs) throws HostingException, IOException;

    /** Starts it on a port; comes back when it takes connections. */
    protected abstract void launch(Path programs, int port) throws HostingException, IOException;

    /** Ends it; comes back when it has ended. */
    protected abstract void end() throws HostingException, IOException;

    /** A program by which its folder is known. */
    protected abstract String probe();

    /** The address of a database of it, as an administrator or as projects are. */
    protected abstract Address address(int port, String database, boolean administrator);

    protected Path data() {
        return state.resolve("data");
    }

    protected Path log() {
        return state.resolve("log");
    }

    /** The file with the password of its administrator, or of projects. */
    protected Path password(boolean administrator) {
        return state.resolve(administrator ? "administrator" : "password");
    }

    Path state() {
        return state;
    }

    /**
     * Makes sure that it runs, and says that this process uses it.
     *
     * @return its port
     */
    public int use() throws HostingException {
        try {
            Files.createDirectories(state);
            Files.setPosixFilePermissions(state, PosixFilePermissions.fromString("rwx------"));
            holdInUse();
            Optional<Integer> port = running();
            if (port.isPresent()) {
                return port.get();
            }
            // A lock of a file is one of the process: its threads have this one between them.
            synchronized (USED) {
                try (FileChannel channel = open("start")) {
                    // Held until the channel is closed.
                    channel.lock();
                    port = running();
                    return port.isPresent() ? port.get() : start();
                }
            }
        } catch (IOException e) {
            throw trouble("can't be started: " + e.getMessage());
        }
    }

    private int start() throws HostingException, IOException {
        Path programs = programs();
        endLeft();
        clear();
        Files.createDirectories(state);
        secret(password(true));
        secret(password(false));
        initialize(programs);
        int port;
        try (ServerSocket free = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            port = free.getLocalPort();
        }
        launch(programs, port);
        Files.writeString(state.resolve("port"), String.valueOf(port));
        Keeper.begin(kind, state);
        return port;
    }

    /** One that was being started when its starter was killed still runs, and nobody knows it. */
    private void endLeft() throws IOException {
        if (!Files.isDirectory(data())) {
            return;
        }
        try {
            end();
        } catch (HostingException e) {
            // It has ended by itself.
            return;
        }
    }

    private void secret(Path file) throws IOException {
        byte[] bytes = new byte[24];
        new SecureRandom().nextBytes(bytes);
        Files.deleteIfExists(file);
        Files.createFile(
                file,
                PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
        Files.writeString(file, HexFormat.of().formatHex(bytes));
    }

    /** Takes away what an earlier one has left. */
    private void clear() throws IOException {
        for (Path left : List.of(data(), state.resolve("port"), log())) {
            if (Files.exists(left)) {
                try (Stream<Path> all = Files.walk(left)) {
                    for (Path file : all.sorted(Comparator.reverseOrder()).toList()) {
                        Files.delete(file);
                    }
                }
            }
        }
    }

    /** The port that it takes connections at; empty where it does not run. */
    public Optional<Integer> running() {
        try {
            int port = Integer.parseInt(Files.readString(state.resolve("port")).strip());
            try (Socket socket = new Socket()) {
                socket.connect(new InetSocketAddress(InetAddress.getLoopbackAddress(), port), 1000);
                return Optional.of(port);
            }
        } catch (IOException | NumberFormatException e) {
            return Optional.empty();
        }
    }

    /** How long nobody has used it; empty where somebody does. */
    Optional<Duration> idle() throws IOException {
        try (FileChannel channel = open("used");
                FileLock lock = channel.tryLock()) {
            if (lock == null) {
                return Optional.empty();
            }
            Instant last = Files.getLastModifiedTime(state.resolve("used")).toInstant();
            return Optional.of(Duration.between(last, Instant.now()));
        } catch (OverlappingFileLockException e) {
            return Optional.empty();
        }
    }

    /** How many seconds ago it was started. */
    public Optional<Duration> age() {
        try {
            return Optional.of(
                    Duration.between(
                            Files.getLastModifiedTime(state.resolve("port")).toInstant(),
                            Instant.now()));
        } catch (IOException e) {
            return Optional.empty();
        }
    }

    /** Ends it where it runs, and takes its data away; says whether it ran. */
    public boolean stop() throws HostingException {
        try {
            if (!Files.isDirectory(state)) {
                return false;
            }
            synchronized (USED) {
                try (FileChannel channel = open("start")) {
                    // Held until the channel is closed.
                    channel.lock();
                    boolean ran = running().isPresent();
                    if (Files.isDirectory(data())) {
                        end();
                    }
                    clear();
                    return ran;
                }
            }
        } catch (IOException e) {
            throw trouble("can't be ended: " + e.getMessage());
        }
    }

    /** The folder with the server's programs. */
    protected Path programs() throws HostingException, IOException {
        return new ServerPrograms(environment).find(kind, probe());
    }

    private FileChannel open(String name) throws IOException {
        return FileChannel.open(
                state.resolve(name),
                StandardOpenOption.CREATE,
                StandardOpenOption.READ,
                StandardOpenOption.WRITE);
    }

    /** Says that this process uses it, until it ends. */
    private void holdInUse() throws IOException {
        synchronized (USED) {
            if (!USED.containsKey(state)) {
                USED.put(state, open("used").lock(0, Long.MAX_VALUE, true));
            }
        }
        Files.setLastModifiedTime(state.resolve("used"), FileTime.from(Instant.now()));
    }

    /** A database of a project's own for one run, which nobody else uses meanwhile. */
    public interface Lease extends AutoCloseable {
        /** Where there can be no roles but those that there are. */
        String NO_ROLES = "roles are not made on a server of others";

        Address address();

        /**
         * Something is going to stay in the database: whoever has it next gets a new one.
         *
         * @throws SQLException where that can't be kept
         */
        void staying() throws SQLException;

        /**
         * Makes sure that the server has a role without rights, of which projects are members.
         *
         * @param inherits whether it has the rights of the roles that it is a member of
         * @throws SQLException where it can't be had: the server's own are not to be had
         */
        void role(String name, boolean inherits) throws SQLException;

        /** Makes such a role a member of another one, or no longer. */
        void member(String role, String of, boolean is) throws SQLException;

        /** Gives it back; its rows and tables are whatever the run has left. */
        @Override
        void close();
    }

    /**
     * A database for a run.
     *
     * @param project tells one project from another; letters and digits
     */
    public Lease lease(String project) throws HostingException {
        int port = use();
        try {
            for (int i = 0; ; i++) {
                String name = USER + "_" + project + "_" + i;
                Optional<FileLock> lock = tryLock(name);
                if (lock.isEmpty()) {
                    continue;
                }
                Path used = state.resolve(name + ".used");
                if (Files.exists(used)) {
                    drop(port, name);
                    Files.delete(used);
                }
                create(port, name);
                Address address = address(port, name, false);
                return new Lease() {
                    @Override
                    public Address address() {
                        return address;
                    }

                    @Override
                    public void staying() throws SQLException {
                        try {
                            Files.writeString(used, "");
                        } catch (IOException e) {
                            throw new SQLException(used + " can't be written", "58030", e);
                        }
                    }

                    @Override
                    public void role(String name, boolean inherits) throws SQLException {
                        PrivateServer.this.role(port, name, inherits);
                    }

                    @Override
                    public void member(String role, String of, boolean is) throws SQLException {
                        PrivateServer.this.member(port, role, of, is);
                    }

                    @Override
                    public void close() {
                        left();
                        try {
                            lock.get().channel().close();
                        } catch (IOException e) {
                            // The lock goes with the process at the latest.
                            return;
                        }
                    }
                };
            }
        } catch (IOException e) {
            throw trouble("can't be used: " + e.getMessage());
        }
    }

    private Optional<FileLock> tryLock(String name) throws IOException {
        FileChannel channel = open(name + ".lock");
        try {
            FileLock lock = channel.tryLock();
            if (lock != null) {
                return Optional.of(lock);
            }
        } catch (OverlappingFileLockException e) {
            // Another run of this process has it.
        }
        channel.close();
        return Optional.empty();
    }

    /** Takes a database away, whoever is connected to it. */
    protected void drop(int port, String database) throws HostingException {
        // Where nothing stays in one there is nothing to take away.
        return;
    }

    /** Makes a database where there is none of the name. */
    protected abstract void create(int port, String database) throws HostingException;

    /** See {@link Lease#role}. */
    protected void role(int port, String name, boolean inherits) throws SQLException {
        throw new SQLException("no roles can be made on the private " + title(), "0A000");
    }

    /** A lease is given back: what was held for it goes. */
    protected void left() {}

    /** See {@link Lease#member}. */
    protected void member(int port, String role, String of, boolean is) throws SQLException {
        throw new SQLException("no roles can be made on the private " + title(), "0A000");
    }

    protected HostingException trouble(String what) {
        return new HostingException("the private " + title() + " " + what);
    }

    /** What people call it. */
    public abstract String title();

    /**
     * Runs a program of the server to its end.
     *
     * @throws HostingException with the end of what it says, where it fails
     */
    protected void run(List<String> command, Map<String, String> variables)
            throws HostingException, IOException {
        run(command, variables, Path.of("/dev/null"));
    }

    /** The same with something to read. */
    protected void run(List<String> command, Map<String, String> variables, Path input)
            throws HostingException, IOException {
        ProcessBuilder builder = new ProcessBuilder(asOther(command));
        builder.environment().putAll(variables);
        builder.environment().put("LC_ALL", "C.UTF-8");
        Path said = state.resolve("said");
        builder.redirectErrorStream(true).redirectOutput(said.toFile());
        builder.redirectInput(ProcessBuilder.Redirect.from(input.toFile()));
        Process process = builder.start();
        try {
            boolean ended = process.waitFor(START_SECONDS, TimeUnit.SECONDS);
            if (!ended) {
                process.destroyForcibly();
                throw trouble("did not answer for " + START_SECONDS + " s; its log is " + log());
            }
            if (process.exitValue() != 0) {
                List<String> lines =
                        Files.readString(said).lines().filter(l -> !l.isBlank()).toList();
                String last = lines.isEmpty() ? "" : lines.get(lines.size() - 1);
                throw trouble(
                        "can't be started: "
                                + Path.of(command.get(0)).getFileName()
                                + " says "
                                + last
                                + "; its log is "
                                + log());
            }
        } catch (InterruptedException e) {
            process.destroyForcibly();
            Thread.currentThread().interrupt();
            throw trouble("was not waited for");
        }
    }

    /** Servers refuse to run as root; in a user namespace of its own nobody is. */
    protected List<String> asOther(List<String> command) {
        if (!System.getProperty("user.name").equals("root") || !refusesRoot()) {
            return command;
        }
        List<String> all = new ArrayList<>(List.of("unshare", "-U"));
        all.addAll(command);
        return all;
    }

    protected abstract boolean refusesRoot();

    @Override
    public String toString() {
        return "private " + kind.toLowerCase(Locale.ROOT);
    }
}
