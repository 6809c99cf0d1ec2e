package dev.cantina.editing;

import dev.cantina.nativecode.NativeToken;
import dev.cantina.nativecode.OwnText;
import dev.cantina.nativecode.OwnText.Unit;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Gives something of a text in a server's own words another name. Nothing but the texts is asked,
 * so it is done only where they say of each place with the old name whether it means the same, and
 * the new name stands nowhere yet that either could be taken for the other.
 */
final class OwnRename {
    private final OwnState state;
    private final OwnView view;
    private final OwnText text;
    private final OwnNames.Use use;
    private final Map<String, List<Span>> places = new LinkedHashMap<>();
    private String name = "";

    private OwnRename(OwnState state, OwnView view, OwnText text, OwnNames.Use use) {
        this.state = state;
        this.view = view;
        this.text = text;
        this.use = use;
    }

    /**
     * What is named at an offset of a text.
     *
     * @throws ProjectException where nothing is that could have another name
     */
    static OwnRename of(OwnState state, OwnAskedText asked, int offset) throws ProjectException {
        OwnView view = state.view();
        OwnText text = view.files().get(asked.source().name());
        if (text == null) {
            throw new ProjectException(
                    "names are changed where routines are written; here nothing is named that could"
                            + " have another name");
        }
        if (!text.source().written().equals(asked.source().written())) {
            throw new ProjectException(asked.source().name() + " can't be read as it is");
        }
        OwnRename rename =
                new OwnRename(
                        state,
                        view,
                        text,
                        new OwnNames(view, text).at(offset).orElseThrow(Rename::nothingNamed));
        rename.checkKind();
        return rename;
    }

    private OwnNames.Meaning meaning() {
        return use.meaning();
    }

    private String old() {
        return OwnView.key(meaning().name());
    }

    private void checkKind() throws ProjectException {
        OwnNames.What what = meaning().what();
        if (what == OwnNames.What.TABLE || what == OwnNames.What.COLUMN) {
            throw new ProjectException(
                    "tables and columns have rows on servers that go by their names; they are not"
                            + " renamed here");
        }
        if (meaning().declared().isEmpty()) {
            throw new ProjectException(meaning().name() + " is given by the language");
        }
        if (meaning().declared().size() > 1) {
            throw new ProjectException(
                    meaning().declared().size()
                            + " routines share the name "
                            + meaning().name()
                            + ", and the texts do not say which one a call means");
        }
    }

    Span span() {
        return use.span();
    }

    /** What another name comes to. */
    Rename.Change to(String wanted) throws ProjectException {
        name = wanted;
        if (!isName(wanted)) {
            throw new ProjectException("'" + wanted + "' can't be a name without quotes");
        }
        if (OwnView.key(wanted).equals(old())) {
            throw refused("it is called so already");
        }
        Optional<Unit> unit = home();
        switch (meaning().what()) {
            case VARIABLE, LABEL -> {
                Unit own = unit.orElseThrow(Rename::nothingNamed);
                free(own);
                inUnit(text, own);
            }
            case PARAMETER -> {
                Unit own = unit.orElseThrow(Rename::nothingNamed);
                free(own);
                inUnit(declaring(), own);
                inCalls(own);
                inCases(own);
                elsewhere(own.name(), old());
            }
            default -> {
                everywhereFree();
                everywhere();
                inCases(null);
                elsewhere(old(), old());
            }
        }
        boolean local =
                meaning().what() == OwnNames.What.VARIABLE
                        || meaning().what() == OwnNames.What.LABEL;
        return new Rename.Change(
                places,
                Map.of(),
                local ? List.of() : SqlElsewhere.alsoNamed(state.project(), old()));
    }

    private boolean isName(String wanted) {
        Source source = new Source("", wanted);
        List<? extends NativeToken> tokens = view.reading().tokens(source, 0, wanted.length());
        return tokens.size() == 1
                && tokens.get(0).isName()
                && tokens.get(0).isWord()
                && tokens.get(0).start() == 0
                && tokens.get(0).end() == wanted.length()
                && !view.reading().reserved().contains(tokens.get(0).text());
    }

    private ProjectException refused(String why) {
        return new ProjectException(meaning().name() + " can't be called " + name + ": " + why);
    }

    private void add(Span span) {
        List<Span> known = places.computeIfAbsent(span.source().name(), f -> new ArrayList<>());
        if (known.stream().noneMatch(s -> s.start() == span.start())) {
            known.add(span);
        }
    }

    // ------------------------------------------------------------------ where it is declared

    /** The text in which it is declared. */
    private OwnText declaring() {
        return view.files().get(meaning().declared().get(0).source().name());
    }

    /** The routine in which it is declared. */
    private Optional<Unit> home() {
        Span declared = meaning().declared().get(0);
        return OwnView.unit(declaring(), declared.start());
    }

    private static List<? extends NativeToken> tokens(OwnText text, Span within) {
        return text.tokens().stream()
                .filter(t -> t.start() >= within.start() && t.end() <= within.end())
                .toList();
    }

    /** Whether the new name stands nowhere in a routine. */
    private void free(Unit unit) throws ProjectException {
        OwnText of = declaring();
        for (NativeToken token : tokens(of, unit.whole())) {
            if (token.isName() && OwnView.key(token).equals(OwnView.key(name))) {
                throw refused(
                        "this name stands there already, "
                                + of.source().span(token.start(), token.end()).place());
            }
        }
        inBody(of, unit);
    }

    private void everywhereFree() throws ProjectException {
        for (OwnText one : view.files().values()) {
            for (NativeToken token : one.tokens()) {
                if (token.isName() && OwnView.key(token).equals(OwnView.key(name))) {
                    throw refused(
                            "this name stands there already, "
                                    + one.source().span(token.start(), token.end()).place());
                }
            }
        }
    }

    // ------------------------------------------------------------------ where it is named

    /** The uses of a text by their places. */
    private Map<Integer, OwnNames.Use> uses(OwnText of) {
        Map<Integer, OwnNames.Use> uses = new HashMap<>();
        new OwnNames(view, of).all().forEach(u -> uses.put(u.span().start(), u));
        return uses;
    }

    /** All places of the old name in a stretch of a text, each of which must be known. */
    private void in(OwnText of, List<? extends NativeToken> tokens) throws ProjectException {
        Map<Integer, OwnNames.Use> uses = uses(of);
        for (NativeToken token : tokens) {
            if (!token.isName() || !OwnView.key(token).equals(old())) {
                continue;
            }
            Span span = of.source().span(token.start(), token.end());
            OwnNames.Use known = uses.get(token.start());
            if (known == null) {
                throw refused("the texts do not say what is meant by " + span.place());
            }
            if (known.meaning().isSameAs(meaning())) {
                add(span);
            }
        }
    }

    private void inUnit(OwnText of, Unit unit) throws ProjectException {
        in(of, tokens(of, unit.whole()));
    }

    /** Calls that say the name of a parameter. */
    private void inCalls(Unit unit) throws ProjectException {
        for (OwnText of : view.files().values()) {
            Map<Integer, OwnNames.Use> uses = uses(of);
            List<? extends NativeToken> tokens = of.tokens();
            for (int i = 0; i + 1 < tokens.size(); i++) {
                NativeToken token = tokens.get(i);
                boolean says =
                        token.isName()
                                && OwnView.key(token).equals(old())
                                && (tokens.get(i + 1).is("=>") || tokens.get(i + 1).is(":="));
                if (!says) {
                    continue;
                }
                Span span = of.source().span(token.start(), token.end());
                OwnNames.Use known = uses.get(token.start());
                if (known != null && known.meaning().isSameAs(meaning())) {
                    add(span);
                } else if (known == null && calls(tokens, i, unit)) {
                    throw refused("the texts do not say what is meant by " + span.place());
                }
            }
        }
    }

    /** Whether a routine of the name is called around a token. */
    private static boolean calls(List<? extends NativeToken> tokens, int at, Unit unit) {
        for (int i = at; i > 0 && !tokens.get(i).is(";"); i--) {
            if (tokens.get(i).is("(")
                    && OwnView.key(tokens.get(i - 1)).equals(OwnView.key(unit.name()))) {
                return true;
            }
        }
        return false;
    }

    private void everywhere() throws ProjectException {
        for (OwnText of : view.files().values()) {
            in(of, of.tokens());
        }
        boolean makesSql = false;
        for (OwnText of : view.files().values()) {
            for (NativeToken token : of.tokens()) {
                makesSql |=
                        token.isWord()
                                && (token.is("execute") || token.is("prepare"))
                                && !isOfTrigger(of, token);
            }
        }
        for (OwnText of : view.files().values()) {
            texts(of, makesSql);
            for (Unit unit : of.units()) {
                inBody(of, unit);
            }
        }
    }

    /** A body may be a text between quotes, or in another language. */
    private void inBody(OwnText of, Unit unit) throws ProjectException {
        Optional<Span> mention = unit.body().flatMap(b -> SqlElsewhere.word(b, old()));
        boolean read =
                unit.block().isPresent()
                        || mention.isEmpty()
                        || of.tokens().stream().anyMatch(t -> t.start() == mention.get().start());
        if (!read) {
            throw refused(
                    mention.get().place() + " may name it, in a body that is not looked into");
        }
    }

    /** EXECUTE FUNCTION of a trigger is no statement. */
    private static boolean isOfTrigger(OwnText of, NativeToken token) {
        return OwnView.unit(of, token.start())
                .filter(u -> u.kind() == OwnText.Kind.TRIGGER && u.block().isEmpty())
                .isPresent();
    }

    /** Texts in quotes may be SQL where any is made of texts, or the name of something. */
    private void texts(OwnText of, boolean makesSql) throws ProjectException {
        List<? extends NativeToken> tokens = of.tokens();
        for (int i = 0; i < tokens.size(); i++) {
            NativeToken token = tokens.get(i);
            boolean quoted = !token.isName() && token.end() - token.start() > old().length() + 1;
            boolean names = i + 1 < tokens.size() && tokens.get(i + 1).is("::");
            if (quoted && (makesSql || names)) {
                Span span = of.source().span(token.start(), token.end());
                Optional<Span> mention = SqlElsewhere.word(span, old());
                if (mention.isPresent()) {
                    throw refused(mention.get().place() + " may name it, in a text");
                }
            }
        }
    }

    // ------------------------------------------------------------------ beside the routines

    /**
     * @param parameterOf the routine whose parameter it is; null where it is a routine itself
     */
    private void inCases(Unit parameterOf) {
        for (String file : state.caseFiles()) {
            Source source = new Source(file, state.text(file).orElse(""));
            for (CaseNames.Use one : CaseNames.of(source)) {
                boolean routine =
                        parameterOf == null
                                && one.kind() == CaseNames.Kind.ROUTINE
                                && OwnView.key(last(one.name())).equals(old());
                boolean parameter =
                        parameterOf != null
                                && one.kind() == CaseNames.Kind.PARAMETER
                                && OwnView.key(last(one.routine()))
                                        .equals(OwnView.key(parameterOf.name()))
                                && OwnView.key(one.name()).equals(old());
                if ((routine || parameter) && one.span().text().equals(one.name())) {
                    Span span = one.span();
                    int from = routine ? span.end() - last(one.name()).length() : span.start();
                    add(source.span(from, span.end()));
                }
            }
        }
    }

    private static String last(String name) {
        return name.substring(name.lastIndexOf('.') + 1);
    }

    /**
     * SQL that stands in no routine, the settings, and routines in the standard language: it is not
     * told what names mean there.
     *
     * @param both a word that stands there too, where it is named
     */
    private void elsewhere(String both, String word) throws ProjectException {
        List<Source> others = new ArrayList<>();
        SqlElsewhere.of(state.project(), state::text).forEach(p -> others.add(p.source()));
        view.standard().values().forEach(f -> others.add(f.source()));
        Path settings = state.project().root().resolve("cantina.yaml");
        String shown = state.project().shown(settings);
        others.add(
                new Source(
                        shown,
                        state.text(shown).orElse(ProjectReader.source(settings, shown).written())));
        for (Source other : others) {
            Span whole = other.span(0, other.text().length());
            Optional<Span> mention = SqlElsewhere.word(whole, word);
            if (mention.isPresent() && SqlElsewhere.word(whole, both).isPresent()) {
                throw refused(mention.get().place() + " may name it, and is not looked into");
            }
        }
    }
}
