package dev.cantina.serve;

import java.io.FileDescriptor;
import java.io.FileInputStream;
import java.io.FileOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.util.logging.Level;
import java.util.logging.Logger;

/** What an editor is connected by: the standard streams, or a socket on this machine. */
public final class Wire implements AutoCloseable {
    private final InputStream in;
    private final OutputStream out;
    private final AutoCloseable held;

    public Wire(InputStream in, OutputStream out) {
        this(in, out, () -> {});
    }

    /** What the library logs is told to the editor too, or is its end. */
    private static final Logger LIBRARY = Logger.getLogger("org.eclipse.lsp4j");

    static {
        LIBRARY.setLevel(Level.OFF);
    }

    private Wire(InputStream in, OutputStream out, AutoCloseable held) {
        this.in = in;
        this.out = out;
        this.held = held;
    }

    /** The standard streams; whatever else is printed from now on goes to the error stream. */
    public static Wire standard() {
        Wire wire =
                new Wire(
                        new FileInputStream(FileDescriptor.in),
                        new FileOutputStream(FileDescriptor.out));
        System.setOut(System.err);
        return wire;
    }

    /** A socket that waits, on this machine only. */
    public static ServerSocket listening(int port) throws IOException {
        return new ServerSocket(port, 1, InetAddress.getLoopbackAddress());
    }

    /** The one who connects to a socket. */
    public static Wire accepted(ServerSocket socket) throws IOException {
        Socket peer = socket.accept();
        peer.setTcpNoDelay(true);
        return new Wire(peer.getInputStream(), peer.getOutputStream(), peer);
    }

    public InputStream in() {
        return in;
    }

    public OutputStream out() {
        return out;
    }

    @Override
    public void close() {
        try {
            held.close();
        } catch (Exception e) {
            // The other side is gone already.
            return;
        }
    }
}
