package dev.cantina.serve.language;

import dev.cantina.syntax.Problem;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import org.eclipse.lsp4j.ClientCapabilities;
import org.eclipse.lsp4j.CodeActionKind;
import org.eclipse.lsp4j.CodeActionOptions;
import org.eclipse.lsp4j.CodeLensOptions;
import org.eclipse.lsp4j.CompletionOptions;
import org.eclipse.lsp4j.Diagnostic;
import org.eclipse.lsp4j.DiagnosticSeverity;
import org.eclipse.lsp4j.DidChangeConfigurationParams;
import org.eclipse.lsp4j.DidChangeWatchedFilesParams;
import org.eclipse.lsp4j.InitializeParams;
import org.eclipse.lsp4j.InitializeResult;
import org.eclipse.lsp4j.MessageParams;
import org.eclipse.lsp4j.MessageType;
import org.eclipse.lsp4j.PublishDiagnosticsParams;
import org.eclipse.lsp4j.RenameOptions;
import org.eclipse.lsp4j.ResourceOperationKind;
import org.eclipse.lsp4j.SaveOptions;
import org.eclipse.lsp4j.SemanticTokensLegend;
import org.eclipse.lsp4j.SemanticTokensWithRegistrationOptions;
import org.eclipse.lsp4j.ServerCapabilities;
import org.eclipse.lsp4j.ServerInfo;
import org.eclipse.lsp4j.SignatureHelpOptions;
import org.eclipse.lsp4j.SymbolInformation;
import org.eclipse.lsp4j.TextDocumentSyncKind;
import org.eclipse.lsp4j.TextDocumentSyncOptions;
import org.eclipse.lsp4j.WorkspaceEditCapabilities;
import org.eclipse.lsp4j.WorkspaceSymbol;
import org.eclipse.lsp4j.WorkspaceSymbolParams;
import org.eclipse.lsp4j.jsonrpc.messages.Either;
import org.eclipse.lsp4j.services.LanguageClient;
import org.eclipse.lsp4j.services.LanguageServer;
import org.eclipse.lsp4j.services.TextDocumentService;
import org.eclipse.lsp4j.services.WorkspaceService;

/** The language of routines for an editor, by the Language Server Protocol. */
final class CantinaLanguageServer implements LanguageServer, WorkspaceService {
    /** Of a message that is longer, nobody reads more. */
    private static final int MOST = 1000;

    private final Documents documents;
    private final Answers answers;
    private LanguageClient client;
    private boolean refreshesLenses;

    CantinaLanguageServer() {
        documents =
                new Documents(
                        new OpenProject.Sink() {
                            @Override
                            public void problems(Path file, List<Problem> problems) {
                                publish(file, problems);
                            }

                            @Override
                            public void trouble(String text) {
                                client.showMessage(new MessageParams(MessageType.Warning, text));
                            }

                            @Override
                            public void checked() {
                                if (refreshesLenses) {
                                    client.refreshCodeLenses();
                                }
                            }
                        });
        answers =
                new Answers(
                        documents,
                        text -> client.showMessage(new MessageParams(MessageType.Info, text)));
    }

    void connect(LanguageClient editor) {
        client = editor;
    }

    private void publish(Path file, List<Problem> problems) {
        List<Diagnostic> diagnostics = new ArrayList<>();
        for (Problem problem : problems) {
            Diagnostic diagnostic = new Diagnostic();
            diagnostic.setRange(Positions.of(problem.span()));
            diagnostic.setSeverity(
                    problem.isError() ? DiagnosticSeverity.Error : DiagnosticSeverity.Warning);
            diagnostic.setSource("cantina");
            diagnostic.setCode(problem.rule());
            diagnostic.setMessage(
                    cut(problem.message() + problem.hint().map(h -> "\n" + h).orElse("")));
            diagnostics.add(diagnostic);
        }
        String uri = Documents.uri(file);
        answers.remember(uri, problems);
        client.publishDiagnostics(new PublishDiagnosticsParams(uri, diagnostics));
    }

    private static String cut(String message) {
        return message.length() > MOST ? message.substring(0, MOST) + "…" : message;
    }

    private static boolean movesFiles(ClientCapabilities client) {
        WorkspaceEditCapabilities edits =
                client.getWorkspace() == null ? null : client.getWorkspace().getWorkspaceEdit();
        return edits != null
                && Boolean.TRUE.equals(edits.getDocumentChanges())
                && edits.getResourceOperations() != null
                && edits.getResourceOperations().contains(ResourceOperationKind.Rename);
    }

    @Override
    public CompletableFuture<InitializeResult> initialize(InitializeParams params) {
        refreshesLenses =
                params.getCapabilities() != null
                        && params.getCapabilities().getWorkspace() != null
                        && params.getCapabilities().getWorkspace().getCodeLens() != null
                        && Boolean.TRUE.equals(
                                params.getCapabilities()
                                        .getWorkspace()
                                        .getCodeLens()
                                        .getRefreshSupport());
        documents.movesFiles(
                params.getCapabilities() != null && movesFiles(params.getCapabilities()));
        ServerCapabilities can = new ServerCapabilities();
        TextDocumentSyncOptions sync = new TextDocumentSyncOptions();
        sync.setOpenClose(true);
        sync.setChange(TextDocumentSyncKind.Incremental);
        sync.setSave(new SaveOptions(false));
        can.setTextDocumentSync(sync);
        can.setCompletionProvider(new CompletionOptions(false, List.of(".")));
        can.setHoverProvider(true);
        can.setSignatureHelpProvider(new SignatureHelpOptions(List.of("(", ",")));
        can.setDefinitionProvider(true);
        can.setReferencesProvider(true);
        can.setDocumentHighlightProvider(true);
        can.setDocumentSymbolProvider(true);
        can.setWorkspaceSymbolProvider(true);
        can.setFoldingRangeProvider(true);
        can.setCodeActionProvider(new CodeActionOptions(List.of(CodeActionKind.QuickFix)));
        can.setCodeLensProvider(new CodeLensOptions(false));
        can.setRenameProvider(new RenameOptions(true));
        can.setInlineValueProvider(true);
        can.setInlayHintProvider(true);
        can.setDocumentFormattingProvider(true);
        SemanticTokensWithRegistrationOptions tokens =
                new SemanticTokensWithRegistrationOptions(
                        new SemanticTokensLegend(TokenMarks.TYPES, TokenMarks.MODIFIERS));
        tokens.setFull(true);
        can.setSemanticTokensProvider(tokens);
        return CompletableFuture.completedFuture(
                new InitializeResult(can, new ServerInfo("cantina", "0.1.0")));
    }

    @Override
    public CompletableFuture<Object> shutdown() {
        documents.closeAll();
        return CompletableFuture.completedFuture(null);
    }

    @Override
    public void exit() {
        documents.closeAll();
        over.complete(null);
    }

    private final CompletableFuture<Void> over = new CompletableFuture<>();

    /** Done when the editor has said so. */
    CompletableFuture<Void> over() {
        return over;
    }

    @Override
    public TextDocumentService getTextDocumentService() {
        return answers;
    }

    @Override
    public WorkspaceService getWorkspaceService() {
        return this;
    }

    @Override
    public void didChangeConfiguration(DidChangeConfigurationParams params) {
        // It has no settings of its own: a project says all in its cantina.yaml.
    }

    @Override
    public void didChangeWatchedFiles(DidChangeWatchedFilesParams params) {
        params.getChanges().forEach(c -> documents.stored(c.getUri()));
    }

    @Override
    public CompletableFuture<
                    Either<List<? extends SymbolInformation>, List<? extends WorkspaceSymbol>>>
            symbol(WorkspaceSymbolParams params) {
        return CompletableFuture.supplyAsync(
                () -> Either.forRight(answers.symbols(params.getQuery())));
    }
}
