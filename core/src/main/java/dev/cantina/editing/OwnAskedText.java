package dev.cantina.editing;

import dev.cantina.nativecode.NativeStatement;
import dev.cantina.nativecode.NativeToken;
import dev.cantina.nativecode.NativeVariable;
import dev.cantina.nativecode.OwnText;
import dev.cantina.nativecode.OwnText.Parameter;
import dev.cantina.nativecode.OwnText.Unit;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.Unit.Routine;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;

/** A text of a project in a server's own language; what is said of it, it says itself. */
public final class OwnAskedText implements AskedText {
    private final OwnState state;
    private final OwnView view;
    private final Source source;
    private final OwnText text;

    public OwnAskedText(OwnState state, Source source) {
        this.state = state;
        this.view = state.view();
        this.source = source;
        this.text = view.files().get(source.name());
    }

    @Override
    public Project project() {
        return state.project();
    }

    @Override
    public Source source() {
        return source;
    }

    /** An offset of the text as it is, in the one that could be read last. */
    private int then(int offset) {
        return CheckedUnit.then(text.source().written(), source.written(), offset);
    }

    /** A place of the text that could be read last, in the one as it is; empty where it is gone. */
    private Optional<Span> now(Span span) {
        if (text == null || span.source() != text.source()) {
            return Optional.of(span);
        }
        String old = text.source().written();
        String written = source.written();
        if (old.equals(written)) {
            return Optional.of(span);
        }
        int from = CheckedUnit.then(written, old, span.start());
        int to = from + span.end() - span.start();
        boolean there = to <= written.length() && written.startsWith(span.text(), from);
        return there ? Optional.of(source.span(from, to)) : Optional.empty();
    }

    private Optional<OwnNames.Meaning> meaning(int offset) {
        if (text != null) {
            return new OwnNames(view, text).at(then(offset)).map(OwnNames.Use::meaning);
        }
        for (CaseNames.Use use : inCases()) {
            if (use.span().start() <= offset && offset <= use.span().end()) {
                return ofCase(use);
            }
        }
        return Optional.empty();
    }

    private List<CaseNames.Use> inCases() {
        return isCase() ? CaseNames.of(source) : List.of();
    }

    private boolean isCase() {
        return source.name().endsWith(".yaml") || source.name().endsWith(".yml");
    }

    private Optional<OwnNames.Meaning> ofCase(CaseNames.Use use) {
        OwnNames names = new OwnNames(view, new OwnText(source, List.of(), List.of(), List.of()));
        return switch (use.kind()) {
            case ROUTINE -> names.routine(OwnView.key(use.name()));
            case TABLE -> names.table(OwnView.key(use.name()));
            case PARAMETER, COLUMN, RESULT, CASE -> Optional.empty();
        };
    }

    @Override
    public Optional<Hovered> hover(int offset) {
        if (text == null) {
            return inCases().stream()
                    .filter(u -> u.span().start() <= offset && offset <= u.span().end())
                    .findFirst()
                    .flatMap(u -> ofCase(u).map(m -> new Hovered(u.span(), m.described())));
        }
        return new OwnNames(view, text)
                .at(then(offset))
                .flatMap(u -> now(u.span()).map(s -> new Hovered(s, u.meaning().described())));
    }

    @Override
    public List<Span> definitions(int offset) {
        return meaning(offset).stream()
                .flatMap(m -> m.declared().stream())
                .flatMap(s -> now(s).stream())
                .toList();
    }

    @Override
    public List<Span> references(int offset) {
        Optional<OwnNames.Meaning> wanted = meaning(offset);
        List<Span> all = new ArrayList<>();
        if (wanted.isEmpty()) {
            return all;
        }
        boolean local =
                wanted.get().what() == OwnNames.What.VARIABLE
                        || wanted.get().what() == OwnNames.What.LABEL;
        for (OwnText file : view.files().values()) {
            if (local && file != text) {
                continue;
            }
            for (OwnNames.Use use : new OwnNames(view, file).all()) {
                if (use.meaning().isSameAs(wanted.get())) {
                    now(use.span()).ifPresent(all::add);
                }
            }
        }
        if (!local) {
            inCases(wanted.get(), all);
        }
        wanted.get().declared().stream()
                .flatMap(s -> now(s).stream())
                .filter(s -> all.stream().noneMatch(a -> OwnNames.same(a, s)))
                .forEach(all::add);
        return all;
    }

    private void inCases(OwnNames.Meaning wanted, List<Span> all) {
        for (String file : state.caseFiles()) {
            Source cases = new Source(file, state.text(file).orElse(""));
            for (CaseNames.Use use : CaseNames.of(cases)) {
                if (ofCase(use).filter(wanted::isSameAs).isPresent()) {
                    all.add(use.span());
                }
            }
        }
    }

    @Override
    public List<Completion.Offer> completion(int offset) {
        if (text != null) {
            return OwnCompletion.at(view, text, source, offset);
        }
        return isCase()
                ? CaseOutline.offers(new OwnWords(view), source.name(), source.written(), offset)
                : List.of();
    }

    @Override
    public Optional<Call> call(int offset) {
        if (text == null || Completion.isQuiet(source.written(), offset)) {
            return Optional.empty();
        }
        int begin = source.written().lastIndexOf(';', Math.max(0, offset - 1)) + 1;
        List<? extends NativeToken> tokens = view.reading().tokens(source, begin, offset);
        boolean head =
                tokens.stream().anyMatch(t -> t.is("create"))
                        && tokens.stream().noneMatch(t -> t.is("begin"));
        if (head) {
            return Optional.empty();
        }
        OwnNames names = new OwnNames(view, text);
        int closed = 0;
        int argument = 0;
        for (int i = tokens.size() - 1; i > 0; i--) {
            NativeToken token = tokens.get(i);
            if (token.is(")") || token.is("]")) {
                closed++;
            } else if ((token.is("(") || token.is("[")) && closed > 0) {
                closed--;
            } else if (token.is(",") && closed == 0) {
                argument++;
            } else if (token.is("(")) {
                String name = OwnView.key(tokens.get(i - 1));
                String full =
                        i > 2 && tokens.get(i - 2).is(".")
                                ? OwnView.key(tokens.get(i - 3)) + "." + name
                                : name;
                List<Unit> found =
                        names.units()
                                .getOrDefault(full, names.units().getOrDefault(name, List.of()));
                if (!found.isEmpty()) {
                    return Optional.of(
                            new Call(
                                    found.stream().map(OwnAskedText::signature).toList(),
                                    argument));
                }
                argument = 0;
            }
        }
        return Optional.empty();
    }

    private static Signature signature(Unit unit) {
        Described said = OwnNames.described(unit);
        return new Signature(
                unit.name() + unit.head(),
                said.text(),
                unit.parameters().stream().map(p -> (p.name() + " " + p.type()).strip()).toList());
    }

    @Override
    public List<Outline> outline() {
        ParsedFile parsed = view.standard().get(source.name());
        if (parsed != null) {
            return Outline.of(parsed);
        }
        if (text == null) {
            return CaseOutline.of(source);
        }
        List<Outline> all = new ArrayList<>();
        for (OwnText.Table table : text.tables()) {
            List<Outline> columns = new ArrayList<>();
            for (OwnText.Column column : table.columns()) {
                now(column.span())
                        .ifPresent(
                                s ->
                                        columns.add(
                                                new Outline(
                                                        column.name(),
                                                        Outline.Kind.COLUMN,
                                                        column.type(),
                                                        s,
                                                        s,
                                                        List.of())));
            }
            add(all, table.name(), Outline.Kind.TABLE, "", table.whole(), table.at(), columns);
        }
        for (Unit unit : text.units()) {
            List<Outline> declared = new ArrayList<>();
            unit.block()
                    .ifPresent(
                            b ->
                                    b.declared()
                                            .forEach(
                                                    v ->
                                                            add(
                                                                    declared,
                                                                    v.name(),
                                                                    v.kind()
                                                                                    == NativeVariable
                                                                                            .Kind
                                                                                            .CURSOR
                                                                            ? Outline.Kind.CURSOR
                                                                            : Outline.Kind.VARIABLE,
                                                                    v.type(),
                                                                    v.span(),
                                                                    v.span(),
                                                                    List.of())));
            add(
                    all,
                    unit.of().map(o -> o + ".").orElse("") + unit.name(),
                    switch (unit.kind()) {
                        case PROCEDURE -> Outline.Kind.PROCEDURE;
                        case FUNCTION -> Outline.Kind.FUNCTION;
                        case TRIGGER -> Outline.Kind.TRIGGER;
                        case PACKAGE -> Outline.Kind.MODULE;
                    },
                    unit.head(),
                    unit.whole(),
                    unit.at(),
                    declared);
        }
        all.sort(java.util.Comparator.comparingInt(o -> o.whole().start()));
        return all;
    }

    private void add(
            List<Outline> all,
            String name,
            Outline.Kind kind,
            String detail,
            Span whole,
            Span at,
            List<Outline> inside) {
        Optional<Span> here = now(at);
        if (here.isEmpty()) {
            return;
        }
        Span around = now(whole).orElse(here.get());
        boolean holds = around.start() <= here.get().start() && here.get().end() <= around.end();
        all.add(new Outline(name, kind, detail, holds ? around : here.get(), here.get(), inside));
    }

    @Override
    public List<int[]> folds() {
        List<int[]> folds = new ArrayList<>();
        if (text != null && text.source().written().equals(source.written())) {
            Set<Integer> begun = new TreeSet<>();
            text.tables().forEach(t -> Folds.add(folds, begun, t.whole()));
            for (Unit unit : text.units()) {
                Folds.add(folds, begun, unit.whole());
                unit.block().ifPresent(b -> folds(b, begun, folds));
            }
        }
        if (source.name().endsWith(".sql")) {
            Folds.comments(source, folds);
        }
        return folds;
    }

    private static void folds(NativeStatement statement, Set<Integer> begun, List<int[]> folds) {
        Folds.add(folds, begun, statement.span());
        statement.parts().forEach(p -> p.statements().forEach(s -> folds(s, begun, folds)));
    }

    @Override
    public List<Callable> callables() {
        List<Callable> all = new ArrayList<>();
        ParsedFile parsed = view.standard().get(source.name());
        if (parsed != null) {
            parsed.units().stream()
                    .filter(Routine.class::isInstance)
                    .map(Routine.class::cast)
                    .forEach(
                            r ->
                                    all.add(
                                            new Callable(
                                                    r.name().span(),
                                                    r.name().text(),
                                                    r.parameters().stream()
                                                            .filter(p -> p.mode().isInput())
                                                            .map(
                                                                    p ->
                                                                            p.name()
                                                                                    + " "
                                                                                    + p.type()
                                                                                            .span()
                                                                                            .text())
                                                            .toList())));
        }
        if (text == null) {
            return all;
        }
        for (Unit unit : text.units()) {
            boolean routine =
                    unit.kind() == OwnText.Kind.PROCEDURE || unit.kind() == OwnText.Kind.FUNCTION;
            boolean ofTrigger =
                    view.reading().special(unit).stream()
                            .anyMatch(v -> v.kind() == NativeVariable.Kind.ROW);
            if (routine && !ofTrigger) {
                now(unit.at())
                        .ifPresent(
                                at ->
                                        all.add(
                                                new Callable(
                                                        at,
                                                        unit.of().map(o -> o + ".").orElse("")
                                                                + unit.name(),
                                                        unit.parameters().stream()
                                                                .filter(Parameter::isInput)
                                                                .filter(p -> !p.name().isEmpty())
                                                                .map(p -> p.name() + " " + p.type())
                                                                .toList())));
            }
        }
        return all;
    }

    @Override
    public List<Span> variables(int offset) {
        List<Span> all = new ArrayList<>();
        if (text == null || !text.source().written().equals(source.written())) {
            return all;
        }
        Optional<Unit> unit = OwnView.unit(text, offset);
        for (OwnNames.Use use : new OwnNames(view, text).all()) {
            boolean variable =
                    use.meaning().what() == OwnNames.What.VARIABLE
                            || use.meaning().what() == OwnNames.What.PARAMETER;
            boolean inside =
                    unit.isPresent()
                            && use.span().start() >= unit.get().whole().start()
                            && use.span().start() <= offset;
            if (variable && inside) {
                all.add(use.span());
            }
        }
        return all;
    }

    @Override
    public Optional<String> laid() {
        ParsedFile parsed = view.standard().get(source.name());
        if (parsed != null) {
            return Layout.of(parsed);
        }
        return text != null && text.source().written().equals(source.written())
                ? Optional.of(Layout.of(text, view.reading()))
                : Optional.empty();
    }

    @Override
    public List<ArgumentHints.Hint> argumentHints() {
        return text != null && text.source().written().equals(source.written())
                ? ArgumentHints.of(new OwnNames(view, text), text)
                : List.of();
    }

    @Override
    public Span renamable(int offset) throws ProjectException {
        return OwnRename.of(state, this, offset).span();
    }

    @Override
    public Rename.Change rename(int offset, String name) throws ProjectException {
        return OwnRename.of(state, this, offset).to(name);
    }

    @Override
    public List<Marked> names() {
        List<Marked> all = new ArrayList<>();
        if (text == null) {
            return all;
        }
        for (OwnNames.Use use : new OwnNames(view, text).all()) {
            Mark mark =
                    switch (use.meaning().what()) {
                        case VARIABLE -> Mark.VARIABLE;
                        case PARAMETER -> Mark.PARAMETER;
                        case TABLE -> Mark.TABLE;
                        case COLUMN -> Mark.COLUMN;
                        case ROUTINE, TRIGGER -> Mark.FUNCTION;
                        case LABEL -> Mark.LABEL;
                    };
            boolean fixed = use.meaning().described().text().equals("a constant");
            now(use.span()).ifPresent(s -> all.add(new Marked(s, mark, use.declares(), fixed)));
        }
        return all;
    }
}
