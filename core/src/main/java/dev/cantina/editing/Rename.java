package dev.cantina.editing;

import dev.cantina.binding.NamedUse;
import dev.cantina.binding.NamedUse.Meaning;
import dev.cantina.catalog.Table;
import dev.cantina.project.ProjectException;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlWords;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Gives something another name, wherever it is named: in routines, scripts, tables, fixtures and
 * cases. It is done only where it is shown that all names of the project mean afterwards what they
 * meant before, and that nothing is wrong that was right; of a table or a column also, that each
 * case that passes still does.
 */
public final class Rename {
    /**
     * What a new name comes to.
     *
     * @param places where it is written, file by file
     * @param moves files that are called otherwise then, with their new names
     * @param alsoNamed files that have the old name in them, and are left as they are, since what
     *     they say is not known
     */
    public record Change(
            Map<String, List<Span>> places, Map<String, String> moves, List<String> alsoNamed) {}

    private static final Set<String> MESSAGES = Set.of("REPORT", "SIGNAL", "RESIGNAL");

    /** What statements stand behind. */
    private static final Set<String> BEGINNINGS =
            Set.of(";", "BEGIN", "THEN", "ELSE", "DO", "LOOP", "REPEAT");

    private final ProjectState state;
    private final ProjectView view;
    private final NameFinder.Found found;
    private final String name;
    private final Map<String, List<Span>> places = new LinkedHashMap<>();

    /** The statements outside routines in which the old name stands, or the new one. */
    private final List<Source> named = new ArrayList<>();

    private Rename(ProjectState state, NameFinder.Found found, String name) {
        this.state = state;
        this.view = state.view().orElseThrow();
        this.found = found;
        this.name = name;
    }

    static ProjectException nothingNamed() {
        return new ProjectException("nothing is named here that could have another name");
    }

    /** Whether something can be given another name at all; the answer says why not. */
    public static Optional<String> refusal(NameFinder.Found found) {
        Meaning meaning = found.meaning();
        if (meaning instanceof Meaning.OfField) {
            return Optional.of("a field goes by the name that its type or its query gives it");
        }
        if (meaning instanceof Meaning.OfVariable of
                && of.variable().span().text().length() > of.variable().name().length() + 2) {
            return Optional.of(of.variable().name() + " is given by the language");
        }
        return Optional.empty();
    }

    /**
     * What another name comes to.
     *
     * @throws ProjectException where it would change what something means; the message says what
     */
    public static Change of(ProjectState state, NameFinder.Found found, String name)
            throws ProjectException {
        Optional<String> refusal = refusal(found);
        if (refusal.isPresent()) {
            throw new ProjectException(refusal.get());
        }
        if (!isName(name)) {
            throw new ProjectException("'" + name + "' can't be a name without quotes");
        }
        Rename rename = new Rename(state, found, name);
        rename.checkFree();
        return rename.change();
    }

    /** Whether nothing of the kind has the new name. */
    private void checkFree() throws ProjectException {
        if (name.equalsIgnoreCase(old())) {
            return;
        }
        String key = name.toUpperCase(Locale.ROOT);
        Meaning meaning = found.meaning();
        if (meaning instanceof Meaning.OfRoutine of) {
            String inside = of.routine().module().map(m -> m.key() + ".").orElse("");
            if (!view.catalog().routines(inside + key).isEmpty()) {
                throw refused("there is a routine of this name");
            }
        }
        if (meaning instanceof Meaning.OfModule && view.catalog().module(key).isPresent()) {
            throw refused("there is a module of this name");
        }
        if (meaning instanceof Meaning.OfTable && view.catalog().table(key).isPresent()) {
            throw refused("there is a table of this name");
        }
        if (meaning instanceof Meaning.OfColumn of && of.table().column(key).isPresent()) {
            throw refused(of.table().name() + " has a column of this name");
        }
    }

    private static boolean isName(String name) {
        List<SqlWords.Word> words = SqlWords.of(name).all();
        return words.size() == 1
                && words.get(0).kind() == SqlWords.Kind.WORD
                && words.get(0).isName()
                && words.get(0).start() == 0
                && words.get(0).end() == name.length();
    }

    // ------------------------------------------------------------------ the places

    private Change change() throws ProjectException {
        Map<String, List<Problem>> wrongNow = new HashMap<>();
        try (ProjectState now = new ProjectState(state.project(), wrongNow::put)) {
            fill(now, Map.of());
            List<SqlElsewhere.Piece> pieces = SqlElsewhere.of(state.project(), state::text);
            inTexts();
            for (SqlElsewhere.Piece piece : pieces) {
                inPiece(now, piece);
            }
            if (!NameFinder.isLocal(found.meaning())) {
                inDynamicSql();
            }
            for (String file : places.keySet()) {
                if (view.files().containsKey(file) && !view.files().get(file).faults().isEmpty()) {
                    throw refused(file + " can't be read as it is");
                }
            }
            RenameProof proof = new RenameProof(found, old(), name, wrongNow, this::refused);
            prove(proof, now);
            Map<String, String> moves = Map.of();
            if (found.meaning() instanceof Meaning.OfTable of) {
                moves = new FixtureNames(state.project()).moves(of.table().name(), name);
            }
            boolean local = NameFinder.isLocal(found.meaning()) && parameter().isEmpty();
            Change change =
                    new Change(
                            places,
                            moves,
                            local ? List.of() : SqlElsewhere.alsoNamed(state.project(), old()));
            return table().isPresent()
                    ? new RenameTrial(state, name, old())
                            .proved(change, found.meaning() instanceof Meaning.OfColumn)
                    : change;
        }
    }

    private void prove(RenameProof proof, ProjectState now) throws ProjectException {
        boolean more = true;
        while (more) {
            Map<String, List<Problem>> wrongThen = new HashMap<>();
            try (ProjectState then = new ProjectState(state.project(), wrongThen::put)) {
                fill(then, places);
                // Rows that a query gives have fields called like its columns.
                List<Span> fields = new ArrayList<>();
                if (found.meaning() instanceof Meaning.OfColumn) {
                    fields.addAll(proof.fields(now, then, places));
                    for (Source piece : named) {
                        fields.addAll(proof.fields(now, then, piece, renamed(piece), places));
                    }
                }
                more = !fields.isEmpty();
                fields.forEach(this::add);
                if (!more) {
                    proof.compare(now, then, wrongThen);
                    for (Source piece : named) {
                        proof.compare(now, then, piece, renamed(piece));
                    }
                }
            }
        }
    }

    /** A piece as it would be; what is renamed around it is no part of it. */
    private Source renamed(Source piece) {
        List<Span> inside =
                places.getOrDefault(piece.name(), List.of()).stream()
                        .filter(s -> s.end() <= piece.text().length())
                        .filter(s -> !piece.text().substring(s.start(), s.end()).isBlank())
                        .toList();
        return new Source(piece.name(), renamed(piece.written(), inside, name));
    }

    /** The project as it is, or as it would be. */
    private void fill(ProjectState other, Map<String, List<Span>> renamed) throws ProjectException {
        List<String> files = new ArrayList<>(view.files().keySet());
        view.tables().forEach(t -> files.add(t.name()));
        files.addAll(state.caseFiles());
        for (String file : files) {
            Optional<String> text = state.text(file);
            if (text.isPresent()) {
                other.change(
                        file, renamed(text.get(), renamed.getOrDefault(file, List.of()), name));
            }
        }
        while (!other.check()) {
            continue;
        }
    }

    /** The table that is renamed, or whose column is. */
    private Optional<Table> table() {
        return found.meaning() instanceof Meaning.OfTable of
                ? Optional.of(of.table())
                : found.meaning() instanceof Meaning.OfColumn of
                        ? Optional.of(of.table())
                        : Optional.empty();
    }

    private void inTexts() throws ProjectException {
        new NameFinder(view).references(found).forEach(this::add);
        for (String file : state.caseFiles()) {
            inCases(file);
        }
        Optional<Table> table = table();
        if (table.isEmpty()) {
            return;
        }
        Optional<String> column =
                found.meaning() instanceof Meaning.OfColumn of
                        ? Optional.of(of.key())
                        : Optional.empty();
        if (new NameFinder(view).definition(found).isEmpty()) {
            throw refused("the scripts of tables do not say where it is made");
        }
        for (Source script : view.tables()) {
            TableWords.Found words =
                    TableWords.of(script, table.get().key(), column, view.tables());
            words.uses().forEach(this::add);
            if (!words.unread().isEmpty()) {
                Span statement = words.unread().get(0);
                throw refused(
                        SqlElsewhere.word(statement, old()).orElse(statement).place()
                                + " may name it, and is not looked into");
            }
        }
        if (column.isPresent()) {
            new FixtureNames(state.project()).headers(table.get().name(), old()).forEach(this::add);
        }
    }

    private void inPiece(ProjectState now, SqlElsewhere.Piece piece) throws ProjectException {
        Meaning wanted = parameter().map(Meaning.class::cast).orElse(found.meaning());
        Optional<Span> mention = SqlElsewhere.mention(piece.source(), old());
        if (NameFinder.isLocal(wanted)) {
            return;
        }
        if (mention.isEmpty()) {
            // The new name may mean something there already.
            if (piece.isExact() && SqlElsewhere.mention(piece.source(), name).isPresent()) {
                named.add(piece.source());
            }
            return;
        }
        if (!piece.isExact()) {
            throw refused(
                    piece.source().name()
                            + " may name it, in SQL that YAML has signs of its own in");
        }
        List<NamedUse> uses;
        try {
            uses = now.uses(piece.source());
        } catch (ProjectException e) {
            throw refused(
                    mention.get().place()
                            + " may name it, in SQL that can't be read as it is: "
                            + e.getMessage());
        }
        named.add(piece.source());
        for (NamedUse use : uses) {
            if (NameFinder.same(use.meaning(), wanted)) {
                add(use.span());
            }
        }
    }

    /** Where a project runs SQL that it puts together, texts may be parts of it. */
    private void inDynamicSql() throws ProjectException {
        List<Source> sources = new ArrayList<>(named);
        view.files().values().forEach(f -> sources.add(f.source()));
        boolean makes = false;
        for (Source source : sources) {
            SqlWords words = SqlWords.of(source.text());
            makes |=
                    words.all().stream()
                            .anyMatch(
                                    w ->
                                            w.kind() == SqlWords.Kind.WORD
                                                    && (w.is("EXECUTE") || w.is("PREPARE")));
        }
        for (Source source : makes ? sources : List.<Source>of()) {
            boolean message = false;
            boolean begins = true;
            for (SqlWords.Word word : SqlWords.of(source.text()).all()) {
                if (begins) {
                    // What is reported or signalled is read by people alone.
                    message = MESSAGES.stream().anyMatch(word::is);
                }
                begins = BEGINNINGS.stream().anyMatch(word::is);
                Span span = source.span(word.start(), word.end());
                Optional<Span> mention =
                        word.kind() == SqlWords.Kind.LITERAL && !message
                                ? SqlElsewhere.word(span, old())
                                : Optional.empty();
                if (mention.isPresent()) {
                    throw refused(
                            mention.get().place()
                                    + " has it in a text, and the project runs SQL that it puts"
                                    + " together of texts");
                }
            }
        }
    }

    private Optional<Meaning.OfArgument> parameter() {
        return new NameFinder(view).argument(found);
    }

    private void add(Span span) {
        List<Span> known = places.computeIfAbsent(span.source().name(), f -> new ArrayList<>());
        if (known.stream().noneMatch(s -> s.start() == span.start())) {
            known.add(span);
        }
    }

    private void inCases(String file) {
        Optional<String> text = state.text(file);
        if (text.isEmpty()) {
            return;
        }
        for (CaseNames.Use use : CaseNames.of(new Source(file, text.get()))) {
            if (CaseNames.same(use.span().text(), use.name())) {
                inCase(use).ifPresent(this::add);
            }
        }
    }

    /** What of a name in a case is the one that is renamed. */
    private Optional<Span> inCase(CaseNames.Use use) {
        Span span = use.span();
        if (found.meaning() instanceof Meaning.OfTable of) {
            boolean fits =
                    use.kind() == CaseNames.Kind.TABLE
                            && CaseNames.same(use.name(), of.table().name());
            return fits ? Optional.of(span) : Optional.empty();
        }
        if (found.meaning() instanceof Meaning.OfColumn of) {
            boolean fits =
                    use.kind() == CaseNames.Kind.COLUMN
                            && CaseNames.same(use.routine(), of.table().name())
                            && CaseNames.same(use.name(), old());
            return fits ? Optional.of(span) : Optional.empty();
        }
        Optional<Meaning.OfArgument> parameter = parameter();
        if (parameter.isPresent()) {
            boolean fits =
                    use.kind() == CaseNames.Kind.PARAMETER
                            && CaseNames.same(use.routine(), parameter.get().routine().name())
                            && CaseNames.same(use.name(), old());
            return fits ? Optional.of(span) : Optional.empty();
        }
        if (use.kind() != CaseNames.Kind.ROUTINE) {
            return Optional.empty();
        }
        int dot = use.name().lastIndexOf('.');
        if (found.meaning() instanceof Meaning.OfRoutine of
                && CaseNames.same(use.name(), of.routine().name())) {
            return Optional.of(span.source().span(span.start() + dot + 1, span.end()));
        }
        boolean inModule =
                found.meaning() instanceof Meaning.OfModule of
                        && dot > 0
                        && CaseNames.same(use.name().substring(0, dot), of.module().name());
        return inModule
                ? Optional.of(span.source().span(span.start(), span.start() + dot))
                : Optional.empty();
    }

    private String old() {
        Meaning meaning = found.meaning();
        if (meaning instanceof Meaning.OfVariable of) {
            return of.variable().name();
        }
        if (meaning instanceof Meaning.OfTable of) {
            return of.table().name();
        }
        if (meaning instanceof Meaning.OfColumn of) {
            return of.table().column(of.key()).orElseThrow().name();
        }
        // In a case a routine of a module stands with the module's name before it.
        return meaning instanceof Meaning.OfRoutine of
                ? of.routine().tree().name().text()
                : found.span().text();
    }

    /** A text with a name written at some of its places. */
    public static String renamed(String text, List<Span> places, String name) {
        StringBuilder all = new StringBuilder(text);
        places.stream()
                .sorted(Comparator.comparingInt(Span::start).reversed())
                .forEach(s -> all.replace(s.start(), s.end(), name));
        return all.toString();
    }

    private ProjectException refused(String why) {
        return new ProjectException(old() + " can't be called " + name + ": " + why);
    }
}
