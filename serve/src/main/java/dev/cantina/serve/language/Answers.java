package dev.cantina.serve.language;

import dev.cantina.editing.ArgumentHints;
import dev.cantina.editing.AskedText;
import dev.cantina.editing.CaseOutline;
import dev.cantina.editing.Completion;
import dev.cantina.editing.Described;
import dev.cantina.editing.Outline;
import dev.cantina.editing.Rename;
import dev.cantina.editing.StandardText;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.serve.language.Documents.Document;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.function.Supplier;
import org.eclipse.lsp4j.CodeAction;
import org.eclipse.lsp4j.CodeActionKind;
import org.eclipse.lsp4j.CodeActionParams;
import org.eclipse.lsp4j.CodeLens;
import org.eclipse.lsp4j.CodeLensParams;
import org.eclipse.lsp4j.Command;
import org.eclipse.lsp4j.CompletionItem;
import org.eclipse.lsp4j.CompletionItemKind;
import org.eclipse.lsp4j.CompletionList;
import org.eclipse.lsp4j.CompletionParams;
import org.eclipse.lsp4j.DefinitionParams;
import org.eclipse.lsp4j.Diagnostic;
import org.eclipse.lsp4j.DidChangeTextDocumentParams;
import org.eclipse.lsp4j.DidCloseTextDocumentParams;
import org.eclipse.lsp4j.DidOpenTextDocumentParams;
import org.eclipse.lsp4j.DidSaveTextDocumentParams;
import org.eclipse.lsp4j.DocumentFormattingParams;
import org.eclipse.lsp4j.DocumentHighlight;
import org.eclipse.lsp4j.DocumentHighlightParams;
import org.eclipse.lsp4j.DocumentSymbol;
import org.eclipse.lsp4j.DocumentSymbolParams;
import org.eclipse.lsp4j.FoldingRange;
import org.eclipse.lsp4j.FoldingRangeRequestParams;
import org.eclipse.lsp4j.Hover;
import org.eclipse.lsp4j.HoverParams;
import org.eclipse.lsp4j.InlayHint;
import org.eclipse.lsp4j.InlayHintKind;
import org.eclipse.lsp4j.InlayHintParams;
import org.eclipse.lsp4j.InlineValue;
import org.eclipse.lsp4j.InlineValueParams;
import org.eclipse.lsp4j.InlineValueVariableLookup;
import org.eclipse.lsp4j.Location;
import org.eclipse.lsp4j.LocationLink;
import org.eclipse.lsp4j.MarkupContent;
import org.eclipse.lsp4j.MarkupKind;
import org.eclipse.lsp4j.ParameterInformation;
import org.eclipse.lsp4j.Position;
import org.eclipse.lsp4j.PrepareRenameDefaultBehavior;
import org.eclipse.lsp4j.PrepareRenameParams;
import org.eclipse.lsp4j.PrepareRenameResult;
import org.eclipse.lsp4j.Range;
import org.eclipse.lsp4j.ReferenceParams;
import org.eclipse.lsp4j.RenameFile;
import org.eclipse.lsp4j.RenameParams;
import org.eclipse.lsp4j.ResourceOperation;
import org.eclipse.lsp4j.SemanticTokens;
import org.eclipse.lsp4j.SemanticTokensParams;
import org.eclipse.lsp4j.SignatureHelp;
import org.eclipse.lsp4j.SignatureHelpParams;
import org.eclipse.lsp4j.SignatureInformation;
import org.eclipse.lsp4j.SymbolInformation;
import org.eclipse.lsp4j.SymbolKind;
import org.eclipse.lsp4j.TextDocumentEdit;
import org.eclipse.lsp4j.TextEdit;
import org.eclipse.lsp4j.VersionedTextDocumentIdentifier;
import org.eclipse.lsp4j.WorkspaceEdit;
import org.eclipse.lsp4j.WorkspaceSymbol;
import org.eclipse.lsp4j.jsonrpc.ResponseErrorException;
import org.eclipse.lsp4j.jsonrpc.messages.Either;
import org.eclipse.lsp4j.jsonrpc.messages.Either3;
import org.eclipse.lsp4j.jsonrpc.messages.ResponseError;
import org.eclipse.lsp4j.jsonrpc.messages.ResponseErrorCode;
import org.eclipse.lsp4j.services.TextDocumentService;

/** What an editor asks of a text. */
final class Answers implements TextDocumentService {
    private static final int MOST_SYMBOLS = 200;
    private static final int MOST_SHOWN = 60;

    private final Documents documents;

    /** What was said of each file last, for what mends it. */
    private final Map<String, List<Problem>> problems = new ConcurrentHashMap<>();

    /** Takes what the person at the editor is told. */
    private final Consumer<String> said;

    Answers(Documents documents, Consumer<String> said) {
        this.documents = documents;
        this.said = said;
    }

    void remember(String uri, List<Problem> found) {
        problems.put(uri, found);
    }

    @Override
    public void didOpen(DidOpenTextDocumentParams params) {
        documents.open(params.getTextDocument().getUri(), params.getTextDocument().getText());
    }

    @Override
    public void didChange(DidChangeTextDocumentParams params) {
        documents.change(params.getTextDocument().getUri(), params.getContentChanges());
    }

    @Override
    public void didClose(DidCloseTextDocumentParams params) {
        documents.close(params.getTextDocument().getUri());
    }

    @Override
    public void didSave(DidSaveTextDocumentParams params) {
        documents.stored(params.getTextDocument().getUri());
    }

    // ------------------------------------------------------------------ what is asked of

    /** A text in a project, asked for by a place of it. */
    private record Asked(Document document, AskedText of) {
        String text() {
            return of.source().written();
        }

        Source source() {
            return of.source();
        }

        int offset(Position position) {
            return Positions.offset(text(), position);
        }

        /** For what is answered of the standard language alone. */
        Optional<StandardText> standard() {
            return of instanceof StandardText text ? Optional.of(text) : Optional.empty();
        }
    }

    /** Answers from what was checked last. */
    private <T> CompletableFuture<T> ask(String uri, T otherwise, Function<Asked, T> work) {
        return CompletableFuture.supplyAsync(() -> asked(uri).map(work).orElse(otherwise));
    }

    /** Answers when all that has changed is checked. */
    private <T> CompletableFuture<T> askChecked(String uri, T otherwise, Function<Asked, T> work) {
        Optional<OpenProject> project = documents.document(uri).flatMap(Document::project);
        CompletableFuture<Void> checked =
                project.map(OpenProject::checked)
                        .orElseGet(() -> CompletableFuture.completedFuture(null));
        return checked.thenApplyAsync(v -> asked(uri).map(work).orElse(otherwise));
    }

    private Optional<Asked> asked(String uri) {
        Optional<Document> document = documents.document(uri);
        Optional<OpenProject> project = document.flatMap(Document::project);
        Optional<String> text = documents.text(uri);
        return project.isPresent() && text.isPresent()
                ? project.get()
                        .asked(new Source(document.get().name(), text.get()))
                        .map(of -> new Asked(document.get(), of))
                : Optional.empty();
    }

    private static Location location(Asked asked, Span span) {
        return location(asked.of().project(), span);
    }

    private static Location location(Project project, Span span) {
        Path file = project.root().toAbsolutePath().resolve(span.source().name());
        return new Location(Documents.uri(file.normalize()), Positions.of(span));
    }

    // ------------------------------------------------------------------ names

    @Override
    public CompletableFuture<Either<List<? extends Location>, List<? extends LocationLink>>>
            definition(DefinitionParams params) {
        return askChecked(
                params.getTextDocument().getUri(),
                Either.forLeft(List.of()),
                asked ->
                        Either.forLeft(
                                asked.of().definitions(asked.offset(params.getPosition())).stream()
                                        .map(s -> location(asked, s))
                                        .toList()));
    }

    @Override
    public CompletableFuture<List<? extends Location>> references(ReferenceParams params) {
        return askChecked(
                params.getTextDocument().getUri(),
                List.of(),
                asked -> {
                    int offset = asked.offset(params.getPosition());
                    boolean declared = params.getContext().isIncludeDeclaration();
                    List<Span> definitions = asked.of().definitions(offset);
                    List<Location> all = new ArrayList<>();
                    for (Span span : asked.of().references(offset)) {
                        if (declared || definitions.stream().noneMatch(d -> same(d, span))) {
                            all.add(location(asked, span));
                        }
                    }
                    return all;
                });
    }

    private static boolean same(Span one, Span other) {
        return one.start() == other.start() && one.source().name().equals(other.source().name());
    }

    @Override
    public CompletableFuture<List<? extends DocumentHighlight>> documentHighlight(
            DocumentHighlightParams params) {
        return ask(
                params.getTextDocument().getUri(),
                List.of(),
                asked ->
                        asked.of().references(asked.offset(params.getPosition())).stream()
                                .filter(s -> s.source().name().equals(asked.document().name()))
                                .map(s -> new DocumentHighlight(Positions.of(s)))
                                .toList());
    }

    @Override
    public CompletableFuture<Either3<Range, PrepareRenameResult, PrepareRenameDefaultBehavior>>
            prepareRename(PrepareRenameParams params) {
        return askChecked(
                params.getTextDocument().getUri(),
                null,
                asked -> {
                    try {
                        Span span = asked.of().renamable(asked.offset(params.getPosition()));
                        return Either3.forSecond(
                                new PrepareRenameResult(Positions.of(span), span.text()));
                    } catch (ProjectException e) {
                        throw refused(e.getMessage());
                    }
                });
    }

    private static ResponseErrorException refused(String why) {
        return new ResponseErrorException(
                new ResponseError(ResponseErrorCode.RequestFailed, why, null));
    }

    @Override
    public CompletableFuture<WorkspaceEdit> rename(RenameParams params) {
        return askChecked(
                params.getTextDocument().getUri(),
                null,
                asked -> {
                    try {
                        Rename.Change change =
                                asked.of()
                                        .rename(
                                                asked.offset(params.getPosition()),
                                                params.getNewName());
                        WorkspaceEdit edit = edit(asked, params.getNewName(), change);
                        if (!change.alsoNamed().isEmpty()) {
                            said.accept(
                                    "the old name stands in "
                                            + String.join(", ", change.alsoNamed())
                                            + " too, which is left as it is");
                        }
                        return edit;
                    } catch (ProjectException e) {
                        throw refused(e.getMessage());
                    }
                });
    }

    /** Texts that are changed, and then files that are called otherwise. */
    private WorkspaceEdit edit(Asked asked, String name, Rename.Change change) {
        Map<String, List<TextEdit>> edits = new LinkedHashMap<>();
        change.places()
                .forEach(
                        (file, spans) ->
                                edits.put(
                                        location(asked, spans.get(0)).getUri(),
                                        spans.stream()
                                                .map(s -> new TextEdit(Positions.of(s), name))
                                                .toList()));
        if (change.moves().isEmpty()) {
            return new WorkspaceEdit(edits);
        }
        if (!documents.canMoveFiles()) {
            throw refused(
                    "files with rows go by the name of their table, and this editor does not rename"
                            + " files for a server: "
                            + String.join(", ", change.moves().keySet()));
        }
        List<Either<TextDocumentEdit, ResourceOperation>> all = new ArrayList<>();
        edits.forEach(
                (uri, list) ->
                        all.add(
                                Either.forLeft(
                                        new TextDocumentEdit(
                                                new VersionedTextDocumentIdentifier(uri, null),
                                                list))));
        Path root = asked.of().project().root();
        change.moves()
                .forEach(
                        (from, to) ->
                                all.add(
                                        Either.forRight(
                                                new RenameFile(
                                                        root.resolve(from).toUri().toString(),
                                                        root.resolve(to).toUri().toString()))));
        return new WorkspaceEdit(all);
    }

    @Override
    public CompletableFuture<Hover> hover(HoverParams params) {
        return ask(
                params.getTextDocument().getUri(),
                null,
                asked ->
                        asked.of()
                                .hover(asked.offset(params.getPosition()))
                                .map(
                                        h ->
                                                new Hover(
                                                        markdown(h.described()),
                                                        Positions.of(h.span())))
                                .orElse(null));
    }

    private static MarkupContent markdown(Described described) {
        String text = described.text().isEmpty() ? "" : "\n" + described.text();
        return new MarkupContent(
                MarkupKind.MARKDOWN, "```sql\n" + described.code() + "\n```" + text);
    }

    @Override
    public CompletableFuture<SignatureHelp> signatureHelp(SignatureHelpParams params) {
        return ask(
                params.getTextDocument().getUri(),
                null,
                asked ->
                        asked.of()
                                .call(asked.offset(params.getPosition()))
                                .map(Answers::signatures)
                                .orElse(null));
    }

    private static SignatureHelp signatures(AskedText.Call call) {
        List<SignatureInformation> signatures = new ArrayList<>();
        for (AskedText.Signature one : call.signatures()) {
            SignatureInformation signature = new SignatureInformation(one.head());
            if (!one.text().isEmpty()) {
                signature.setDocumentation(one.text());
            }
            signature.setParameters(
                    one.parameters().stream().map(ParameterInformation::new).toList());
            signatures.add(signature);
        }
        return new SignatureHelp(signatures, 0, call.argument());
    }

    @Override
    public CompletableFuture<Either<List<CompletionItem>, CompletionList>> completion(
            CompletionParams params) {
        return ask(
                params.getTextDocument().getUri(),
                Either.forLeft(List.of()),
                asked ->
                        Either.forLeft(
                                asked.of().completion(asked.offset(params.getPosition())).stream()
                                        .map(Answers::item)
                                        .toList()));
    }

    private static CompletionItem item(Completion.Offer offer) {
        CompletionItem item = new CompletionItem(offer.name());
        item.setKind(
                switch (offer.kind()) {
                    case VARIABLE, CURSOR, CONDITION, LABEL -> CompletionItemKind.Variable;
                    case COLUMN -> CompletionItemKind.Field;
                    case TABLE -> CompletionItemKind.Class;
                    case PROCEDURE, FUNCTION -> CompletionItemKind.Function;
                    case TYPE -> CompletionItemKind.TypeParameter;
                    case KEYWORD -> CompletionItemKind.Keyword;
                });
        if (!offer.detail().isEmpty()) {
            item.setDetail(offer.detail());
        }
        if (!offer.text().isEmpty()) {
            item.setDocumentation(offer.text());
        }
        // What is known here before what is known everywhere.
        item.setSortText(
                switch (offer.kind()) {
                            case VARIABLE, COLUMN, CURSOR, CONDITION, LABEL -> "1";
                            case TABLE, PROCEDURE, TYPE -> "2";
                            case FUNCTION -> offer.detail().isEmpty() ? "4" : "3";
                            case KEYWORD -> "5";
                        }
                        + offer.name());
        return item;
    }

    // ------------------------------------------------------------------ the text as a whole

    @Override
    public CompletableFuture<List<Either<SymbolInformation, DocumentSymbol>>> documentSymbol(
            DocumentSymbolParams params) {
        return askChecked(
                params.getTextDocument().getUri(),
                List.of(),
                asked ->
                        asked.of().outline().stream()
                                .map(
                                        o ->
                                                Either.<SymbolInformation, DocumentSymbol>forRight(
                                                        symbol(o)))
                                .toList());
    }

    private static DocumentSymbol symbol(Outline outline) {
        DocumentSymbol symbol =
                new DocumentSymbol(
                        outline.name(),
                        kind(outline.kind()),
                        Positions.of(outline.whole()),
                        Positions.of(outline.at()),
                        outline.detail());
        symbol.setChildren(outline.inside().stream().map(Answers::symbol).toList());
        return symbol;
    }

    private static SymbolKind kind(Outline.Kind kind) {
        return switch (kind) {
            case MODULE -> SymbolKind.Module;
            case PROCEDURE, FUNCTION -> SymbolKind.Function;
            case TRIGGER -> SymbolKind.Event;
            case VARIABLE, CURSOR -> SymbolKind.Variable;
            case CONDITION -> SymbolKind.Constant;
            case CASE -> SymbolKind.Method;
            case TABLE -> SymbolKind.Class;
            case COLUMN -> SymbolKind.Field;
        };
    }

    List<WorkspaceSymbol> symbols(String query) {
        String wanted = query.toLowerCase(Locale.ROOT);
        List<WorkspaceSymbol> all = new ArrayList<>();
        for (OpenProject project : documents.projects()) {
            for (AskedText text : project.files()) {
                for (Outline outline : text.outline()) {
                    if (outline.name().toLowerCase(Locale.ROOT).contains(wanted)
                            && all.size() < MOST_SYMBOLS) {
                        WorkspaceSymbol symbol = new WorkspaceSymbol();
                        symbol.setName(outline.name());
                        symbol.setKind(kind(outline.kind()));
                        symbol.setLocation(
                                Either.forLeft(location(project.project(), outline.at())));
                        all.add(symbol);
                    }
                }
            }
        }
        return all;
    }

    @Override
    public CompletableFuture<List<FoldingRange>> foldingRange(FoldingRangeRequestParams params) {
        return askChecked(
                params.getTextDocument().getUri(),
                List.of(),
                asked -> {
                    List<FoldingRange> ranges = new ArrayList<>();
                    for (int[] lines : asked.of().folds()) {
                        FoldingRange range = new FoldingRange(lines[0] - 1, lines[1] - 1);
                        if (lines[2] == 1) {
                            range.setKind("comment");
                        }
                        ranges.add(range);
                    }
                    return ranges;
                });
    }

    @Override
    public CompletableFuture<List<InlayHint>> inlayHint(InlayHintParams params) {
        return askChecked(
                params.getTextDocument().getUri(),
                List.of(),
                asked -> {
                    List<InlayHint> hints = new ArrayList<>();
                    int from = asked.offset(params.getRange().getStart());
                    int to = asked.offset(params.getRange().getEnd());
                    for (ArgumentHints.Hint hint : asked.of().argumentHints()) {
                        if (from <= hint.offset() && hint.offset() <= to) {
                            InlayHint shown =
                                    new InlayHint(
                                            Positions.of(asked.source(), hint.offset()),
                                            Either.forLeft(hint.parameter() + ":"));
                            shown.setKind(InlayHintKind.Parameter);
                            shown.setPaddingRight(true);
                            hints.add(shown);
                        }
                    }
                    return hints;
                });
    }

    /** The text laid out, where it can be read. */
    @Override
    public CompletableFuture<List<? extends TextEdit>> formatting(DocumentFormattingParams params) {
        return askChecked(
                params.getTextDocument().getUri(),
                List.of(),
                asked -> {
                    if (!asked.document().name().endsWith(".sql")) {
                        return List.of();
                    }
                    String laid =
                            asked.of()
                                    .laid()
                                    .orElseThrow(
                                            () -> refused("what can't be read is not laid out"));
                    return laid.equals(asked.text())
                            ? List.of()
                            : List.of(
                                    new TextEdit(
                                            Positions.of(
                                                    asked.source().span(0, asked.text().length())),
                                            laid));
                });
    }

    @Override
    public CompletableFuture<SemanticTokens> semanticTokensFull(SemanticTokensParams params) {
        return askChecked(
                params.getTextDocument().getUri(),
                new SemanticTokens(List.of()),
                asked ->
                        new SemanticTokens(
                                asked.document().name().endsWith(".sql")
                                        ? TokenMarks.of(asked.source(), asked.of().names())
                                        : List.of()));
    }

    // ------------------------------------------------------------------ what can be done

    @Override
    public CompletableFuture<List<Either<Command, CodeAction>>> codeAction(
            CodeActionParams params) {
        String uri = params.getTextDocument().getUri();
        Supplier<List<Either<Command, CodeAction>>> work =
                () -> {
                    List<Either<Command, CodeAction>> actions = new ArrayList<>();
                    for (Problem problem : problems.getOrDefault(uri, List.of())) {
                        if (problem.edit().isPresent()
                                && overlaps(Positions.of(problem.span()), params.getRange())) {
                            actions.add(Either.forRight(action(uri, problem, params)));
                        }
                    }
                    return actions;
                };
        return CompletableFuture.supplyAsync(work);
    }

    private static boolean overlaps(Range one, Range other) {
        return !isBefore(one.getEnd(), other.getStart())
                && !isBefore(other.getEnd(), one.getStart());
    }

    private static boolean isBefore(Position one, Position other) {
        return one.getLine() < other.getLine()
                || one.getLine() == other.getLine() && one.getCharacter() < other.getCharacter();
    }

    private static CodeAction action(String uri, Problem problem, CodeActionParams params) {
        Problem.Edit edit = problem.edit().orElseThrow();
        CodeAction action =
                new CodeAction(
                        edit.text().isEmpty()
                                ? "Leave out " + shortened(edit.range().text())
                                : "Write " + shortened(edit.text()));
        action.setKind(CodeActionKind.QuickFix);
        action.setIsPreferred(true);
        action.setDiagnostics(
                params.getContext().getDiagnostics().stream()
                        .filter(d -> d.getRange().equals(Positions.of(problem.span())))
                        .map(Diagnostic.class::cast)
                        .toList());
        action.setEdit(
                new WorkspaceEdit(
                        Map.of(
                                uri,
                                List.of(new TextEdit(Positions.of(edit.range()), edit.text())))));
        return action;
    }

    /** The first words of a text, for a line of a menu. */
    private static String shortened(String text) {
        String line = text.strip().replaceAll("\\s+", " ");
        return line.length() > MOST_SHOWN ? line.substring(0, MOST_SHOWN - 1) + "…" : line;
    }

    @Override
    public CompletableFuture<List<? extends CodeLens>> codeLens(CodeLensParams params) {
        return askChecked(
                params.getTextDocument().getUri(),
                List.of(),
                asked -> {
                    String root =
                            asked.of().project().root().toAbsolutePath().normalize().toString();
                    List<CodeLens> lenses = new ArrayList<>();
                    for (AskedText.Callable routine : asked.of().callables()) {
                        Range at = Positions.of(routine.at());
                        String name = routine.name();
                        List<String> parameters = routine.parameters();
                        lenses.add(lens(at, "Run", "cantina.run", root, name, parameters));
                        lenses.add(lens(at, "Debug", "cantina.debug", root, name, parameters));
                        lenses.add(lens(at, "Test", "cantina.test", root, name));
                        lenses.add(lens(at, "Profile", "cantina.profile", root, name, parameters));
                    }
                    for (Outline one : CaseOutline.of(asked.source())) {
                        for (Outline inside :
                                one.inside().isEmpty() ? List.of(one) : one.inside()) {
                            Range at = Positions.of(inside.at());
                            lenses.add(lens(at, "Run", "cantina.runCase", root, inside.name()));
                            lenses.add(lens(at, "Debug", "cantina.debugCase", root, inside.name()));
                        }
                    }
                    return lenses;
                });
    }

    private static CodeLens lens(Range at, String title, String command, Object... arguments) {
        CodeLens lens = new CodeLens(at);
        lens.setCommand(new Command(title, command, List.of(arguments)));
        return lens;
    }

    @Override
    public CompletableFuture<List<InlineValue>> inlineValue(InlineValueParams params) {
        return ask(
                params.getTextDocument().getUri(),
                List.of(),
                asked -> {
                    List<InlineValue> values = new ArrayList<>();
                    int from = asked.offset(params.getRange().getStart());
                    int to =
                            asked.offset(
                                    params.getContext() == null
                                            ? params.getRange().getEnd()
                                            : params.getContext().getStoppedLocation().getEnd());
                    int stopped = to;
                    for (Span span : asked.of().variables(stopped)) {
                        if (span.start() >= from && span.end() <= to) {
                            values.add(
                                    new InlineValue(
                                            new InlineValueVariableLookup(
                                                    Positions.of(span), false)));
                        }
                    }
                    return values;
                });
    }
}
