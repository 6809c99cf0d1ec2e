package dev.cantina.editing;

import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.nativecode.OwnReading;
import dev.cantina.nativecode.OwnText;
import dev.cantina.nativecode.ServerCode;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Source;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * A project in a server's own language as an editor has it, text included that is not saved. What
 * it knows, it knows of the texts alone: no server is asked. May be called from any thread.
 */
public final class OwnState {
    private final Project project;
    private final Project.OwnLanguage own;
    private final OwnReading reading;
    private final OpenTexts texts;
    private final Set<String> changed = new LinkedHashSet<>();
    private final Map<String, OwnText> files = new LinkedHashMap<>();
    private final Map<String, ParsedFile> standard = new LinkedHashMap<>();
    private Set<String> ofStandard = Set.of();
    private Set<String> ofServer = Set.of();
    private boolean reread = true;
    private OwnView view;

    /** Only for a project in a server's own language. */
    public OwnState(Project project) {
        this.project = project;
        this.own = project.own().orElseThrow();
        this.reading = ServerCode.READINGS.get(own.dialect());
        this.texts = new OpenTexts(project);
    }

    public Project project() {
        return project;
    }

    /** A file's text as an editor has it now. */
    public synchronized void change(String file, String text) {
        texts.put(file, text);
        changed.add(file);
    }

    /** An editor has closed a file: it is again as it is stored. */
    public synchronized void forget(String file) {
        texts.remove(file);
        changed.add(file);
    }

    /** Files may have come or gone, or be others than they were. */
    public synchronized void reread() {
        reread = true;
    }

    /** A file's text: as an editor has it, or as it is stored; empty where there is none. */
    public Optional<String> text(String file) {
        return texts.text(file);
    }

    /** The texts that an editor has open, by the names of their files. */
    public Map<String, String> typed() {
        return texts.all();
    }

    /** The files of cases, by their names. */
    List<String> caseFiles() {
        return texts.caseFiles();
    }

    /** The project as its texts are now. */
    public synchronized OwnView view() {
        if (reread) {
            list();
        }
        for (String file : changed) {
            read(file);
        }
        if (reread || !changed.isEmpty() || view == null) {
            view = new OwnView(reading, new LinkedHashMap<>(files), new LinkedHashMap<>(standard));
        }
        reread = false;
        changed.clear();
        return view;
    }

    private void list() {
        List<String> patterns = new ArrayList<>(own.tables());
        patterns.addAll(own.routines());
        ofServer = matching(patterns);
        ofStandard = matching(own.standard());
        files.keySet().retainAll(ofServer);
        standard.keySet().retainAll(ofStandard);
        changed.addAll(ofServer);
        changed.addAll(ofStandard);
    }

    private Set<String> matching(List<String> patterns) {
        Set<String> names = new LinkedHashSet<>();
        for (String pattern : patterns) {
            try {
                for (Path file : ProjectReader.matching(project, List.of(pattern))) {
                    names.add(project.shown(file));
                }
            } catch (ProjectException e) {
                // Whoever checks the project says so; the other patterns may do.
                continue;
            }
        }
        return names;
    }

    private void read(String file) {
        Optional<String> text = texts.text(file);
        if (text.isEmpty()) {
            files.remove(file);
            standard.remove(file);
            return;
        }
        if (ofStandard.contains(file)) {
            ParsedFile before = standard.get(file);
            if (before == null || !before.source().written().equals(text.get())) {
                standard.put(file, Parser.parse(new Source(file, text.get()), project.reading()));
            }
        } else if (ofServer.contains(file)) {
            OwnText before = files.get(file);
            if (before == null || !before.source().written().equals(text.get())) {
                try {
                    files.put(file, reading.read(new Source(file, text.get())));
                } catch (NativeSyntaxException e) {
                    // Half typed: what was known last is better than nothing.
                    files.putIfAbsent(
                            file,
                            new OwnText(
                                    new Source(file, text.get()), List.of(), List.of(), List.of()));
                }
            }
        }
    }
}
