package dev.cantina.serve.language;

import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.serve.Wire;
import java.io.IOException;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import org.eclipse.lsp4j.Diagnostic;
import org.eclipse.lsp4j.DidChangeTextDocumentParams;
import org.eclipse.lsp4j.DidOpenTextDocumentParams;
import org.eclipse.lsp4j.FoldingRangeRequestParams;
import org.eclipse.lsp4j.InitializeParams;
import org.eclipse.lsp4j.Location;
import org.eclipse.lsp4j.MessageActionItem;
import org.eclipse.lsp4j.MessageParams;
import org.eclipse.lsp4j.Position;
import org.eclipse.lsp4j.PublishDiagnosticsParams;
import org.eclipse.lsp4j.ShowMessageRequestParams;
import org.eclipse.lsp4j.TextDocumentContentChangeEvent;
import org.eclipse.lsp4j.TextDocumentIdentifier;
import org.eclipse.lsp4j.TextDocumentItem;
import org.eclipse.lsp4j.VersionedTextDocumentIdentifier;
import org.eclipse.lsp4j.jsonrpc.ResponseErrorException;
import org.eclipse.lsp4j.launch.LSPLauncher;
import org.eclipse.lsp4j.services.LanguageClient;
import org.eclipse.lsp4j.services.LanguageServer;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.io.TempDir;

/** A language server, and the protocol's own client to ask it. */
abstract class LanguageTest {
    @TempDir Path folder;
    final Map<String, List<Diagnostic>> diagnostics = new ConcurrentHashMap<>();
    final List<String> messages = new CopyOnWriteArrayList<>();
    LanguageServer server;
    private Socket socket;
    private Thread service;

    @BeforeEach
    void connect() throws Exception {
        try (ServerSocket waiting = Wire.listening(0)) {
            socket = new Socket(waiting.getInetAddress(), waiting.getLocalPort());
            Wire wire = Wire.accepted(waiting);
            service =
                    new Thread(
                            () -> {
                                try (wire) {
                                    LanguageService.serve(wire);
                                }
                            });
            service.start();
        }
        var launcher =
                LSPLauncher.createClientLauncher(
                        client(), socket.getInputStream(), socket.getOutputStream());
        launcher.startListening();
        server = launcher.getRemoteProxy();
        get(server.initialize(new InitializeParams()));
    }

    private LanguageClient client() {
        return new LanguageClient() {
            @Override
            public void telemetryEvent(Object object) {}

            @Override
            public void publishDiagnostics(PublishDiagnosticsParams params) {
                Path file = Path.of(java.net.URI.create(params.getUri()));
                diagnostics.put(file.getFileName().toString(), params.getDiagnostics());
            }

            @Override
            public void showMessage(MessageParams params) {
                messages.add(params.getMessage());
            }

            @Override
            public CompletableFuture<MessageActionItem> showMessageRequest(
                    ShowMessageRequestParams params) {
                return null;
            }

            @Override
            public void logMessage(MessageParams params) {}
        };
    }

    @AfterEach
    void close() throws Exception {
        socket.close();
        service.join(10_000);
        assertFalse(service.isAlive(), "it still serves");
    }

    Path write(String name, String text) throws IOException {
        Path file = folder.resolve(name);
        Files.createDirectories(file.getParent());
        return Files.writeString(file, text);
    }

    static <T> T get(CompletableFuture<T> answer) {
        try {
            return answer.get(20, TimeUnit.SECONDS);
        } catch (ExecutionException e) {
            if (e.getCause() instanceof ResponseErrorException refused) {
                throw refused;
            }
            throw new IllegalStateException(e);
        } catch (InterruptedException | TimeoutException e) {
            throw new IllegalStateException(e);
        }
    }

    static String uri(Path file) {
        return file.toUri().toString();
    }

    static TextDocumentIdentifier id(Path file) {
        return new TextDocumentIdentifier(uri(file));
    }

    void open(Path file) throws IOException {
        open(file, Files.readString(file));
    }

    void open(Path file, String text) {
        server.getTextDocumentService()
                .didOpen(
                        new DidOpenTextDocumentParams(
                                new TextDocumentItem(uri(file), "sql", 1, text)));
        settle(file);
    }

    void type(Path file, String text) {
        server.getTextDocumentService()
                .didChange(
                        new DidChangeTextDocumentParams(
                                new VersionedTextDocumentIdentifier(uri(file), 2),
                                List.of(new TextDocumentContentChangeEvent(text))));
        settle(file);
    }

    /** Waits until all that was typed is checked. */
    void settle(Path file) {
        get(server.getTextDocumentService().foldingRange(new FoldingRangeRequestParams(id(file))));
    }

    /** The place behind a text, the first time that it stands there. */
    static Position at(String text, String what) {
        int offset = text.indexOf(what);
        assertTrue(offset >= 0, what);
        String before = text.substring(0, offset + what.length());
        int line = (int) before.chars().filter(c -> c == '\n').count();
        return new Position(line, before.length() - before.lastIndexOf('\n') - 1);
    }

    String said(String file) {
        StringBuilder text = new StringBuilder();
        for (Diagnostic one : diagnostics.getOrDefault(file, List.of())) {
            text.append(one.getRange().getStart().getLine() + 1)
                    .append(':')
                    .append(one.getRange().getStart().getCharacter() + 1)
                    .append(' ')
                    .append(one.getMessage())
                    .append('\n');
        }
        return text.toString();
    }

    static String shown(Location location) {
        Path file = Path.of(java.net.URI.create(location.getUri()));
        Position start = location.getRange().getStart();
        return file.getFileName() + ":" + (start.getLine() + 1) + ":" + (start.getCharacter() + 1);
    }
}
