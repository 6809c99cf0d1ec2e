package dev.cantina.serve.debug;

import dev.cantina.programs.ProgramWatcher;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.Probe;
import dev.cantina.serve.Wire;
import java.io.IOException;
import java.net.ServerSocket;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.locks.ReentrantLock;

/**
 * Waits at a port of this machine for a debugger, and shows it what a program runs, for as long as
 * it is attached. Then the program's runs take turns; without a debugger nothing waits for
 * anything.
 */
public final class ProgramDebugging implements ProgramWatcher, AutoCloseable {
    private final Workspace workspace;
    private final ServerSocket socket;
    private final ReentrantLock turn = new ReentrantLock();
    private final CountDownLatch first = new CountDownLatch(1);
    private final boolean waits;
    private AttachServer taken;
    private volatile AttachServer attached;

    private ProgramDebugging(Workspace workspace, ServerSocket socket, boolean waits) {
        this.workspace = workspace;
        this.socket = socket;
        this.waits = waits;
    }

    /**
     * Begins to wait.
     *
     * @param port 0 for any that is free
     * @param waits whether the program's first run waits for a debugger
     * @throws IOException where the port is taken
     */
    public static ProgramDebugging listen(Workspace workspace, int port, boolean waits)
            throws IOException {
        ProgramDebugging made = new ProgramDebugging(workspace, Wire.listening(port), waits);
        Thread accepting = new Thread(made::accept, "cantina-debug");
        accepting.setDaemon(true);
        accepting.start();
        return made;
    }

    /** The port at which it waits. */
    public int port() {
        return socket.getLocalPort();
    }

    private void accept() {
        while (!socket.isClosed()) {
            try {
                Wire wire = Wire.accepted(socket);
                Thread serving = new Thread(() -> serve(wire), "cantina-debug-editor");
                serving.setDaemon(true);
                serving.start();
            } catch (IOException e) {
                // It is closed, or whoever came is gone again.
                continue;
            }
        }
    }

    private void serve(Wire wire) {
        try (wire) {
            DebugService.serve(wire, new AttachServer(this, workspace));
        }
    }

    // ------------------------------------------------------------------ who is attached

    /** Whether a debugger may attach: no other is. */
    synchronized boolean take(AttachServer server) {
        if (taken != null) {
            return false;
        }
        taken = server;
        return true;
    }

    /** It has said what it wants; from now on runs are shown to it. */
    synchronized void begin() {
        attached = taken;
        first.countDown();
    }

    synchronized void leave(AttachServer server) {
        if (taken == server) {
            taken = null;
            attached = null;
            first.countDown();
        }
    }

    /** Does something now, if nothing is shown just now; whoever has the turn does it otherwise. */
    void idle(Runnable work) {
        if (turn.tryLock()) {
            try {
                work.run();
            } finally {
                turn.unlock();
            }
        }
    }

    // ------------------------------------------------------------------ what runs

    @Override
    public Watch connection() {
        AttachableProbe probe = new AttachableProbe();
        return new Watch() {
            @Override
            public Probe probe() {
                return probe;
            }

            @Override
            public Outcome watch(Run run) {
                return watched(run, probe);
            }
        };
    }

    private Outcome watched(Run run, AttachableProbe probe) {
        if (waits) {
            try {
                first.await();
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
        }
        AttachServer now = attached;
        if (now == null || turn.isHeldByCurrentThread()) {
            return run.once();
        }
        turn.lock();
        try {
            return now.watch(run, probe);
        } finally {
            turn.unlock();
            // What was asked for between the last statement and now.
            idle(() -> now.debugger().catchUp());
        }
    }

    /** Nobody is shown anything more; what stands goes on. */
    @Override
    public void close() {
        AttachServer now;
        synchronized (this) {
            now = taken;
        }
        if (now != null) {
            now.over();
        }
        first.countDown();
        try {
            socket.close();
        } catch (IOException e) {
            // It was to be closed.
            return;
        }
    }
}
