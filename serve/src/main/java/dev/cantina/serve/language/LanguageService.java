package dev.cantina.serve.language;

import dev.cantina.serve.Wire;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.Future;
import org.eclipse.lsp4j.jsonrpc.Launcher;
import org.eclipse.lsp4j.launch.LSPLauncher;
import org.eclipse.lsp4j.services.LanguageClient;

/** Serves one editor over a wire, until it is done, or gone. */
public final class LanguageService {
    private LanguageService() {}

    public static void serve(Wire wire) {
        CantinaLanguageServer server = new CantinaLanguageServer();
        Launcher<LanguageClient> launcher =
                LSPLauncher.createServerLauncher(server, wire.in(), wire.out());
        server.connect(launcher.getRemoteProxy());
        Future<Void> listening = launcher.startListening();
        CompletableFuture<Void> gone =
                CompletableFuture.runAsync(
                        () -> {
                            try {
                                listening.get();
                            } catch (InterruptedException e) {
                                Thread.currentThread().interrupt();
                            } catch (ExecutionException e) {
                                // The wire is cut: the same as its end.
                                return;
                            }
                        });
        CompletableFuture.anyOf(gone, server.over()).join();
        server.exit();
    }
}
