package dev.cantina.serve.debug;

import com.google.gson.ToNumberPolicy;
import dev.cantina.serve.Wire;
import java.nio.file.Path;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.eclipse.lsp4j.debug.services.IDebugProtocolClient;
import org.eclipse.lsp4j.jsonrpc.Launcher;
import org.eclipse.lsp4j.jsonrpc.debug.DebugLauncher;

/** Serves one debugging over a wire, until the other side is done with it, or gone. */
public final class DebugService {
    private DebugService() {}

    /**
     * @param folder in which paths begin that are not absolute
     * @param endings says what a run came to
     */
    public static void serve(Wire wire, Path folder, EndingText endings) {
        serve(wire, new DebugServer(folder.toAbsolutePath(), endings));
    }

    /** A program that is debugged ends when it has nothing more to do, whoever is attached. */
    private static Thread daemon(Runnable work) {
        Thread thread = new Thread(work, "cantina-debug-wire");
        thread.setDaemon(true);
        return thread;
    }

    static void serve(Wire wire, DebugRequests server) {
        Launcher<IDebugProtocolClient> launcher =
                new DebugLauncher.Builder<IDebugProtocolClient>()
                        .setLocalService(server)
                        .setRemoteInterface(IDebugProtocolClient.class)
                        .setInput(wire.in())
                        .setOutput(wire.out())
                        .setExecutorService(Executors.newCachedThreadPool(DebugService::daemon))
                        // A number is taken as it is written.
                        .configureGson(
                                g ->
                                        g.setObjectToNumberStrategy(
                                                ToNumberPolicy.LAZILY_PARSED_NUMBER))
                        .create();
        server.connect(launcher.getRemoteProxy());
        Future<Void> listening = launcher.startListening();
        try {
            listening.get();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } catch (ExecutionException e) {
            // The wire is cut: the same as its end.
            return;
        } finally {
            server.quit();
            server.await();
        }
    }
}
