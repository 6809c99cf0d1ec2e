package dev.cantina.ship;

import dev.cantina.nativecode.ServerCode;
import dev.cantina.project.Workspace;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.translate.ServerObject;
import dev.cantina.translate.Translation;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;

/** A project in a server's own language, which needs no translation: it goes there as written. */
public final class OwnTranslation {
    private OwnTranslation() {}

    /**
     * The routines and triggers of a project. A statement beside them is refused, at its place.
     *
     * @param workspace on its private server
     */
    public static Translation of(Workspace workspace) {
        ServerCode code = workspace.own().orElseThrow();
        Set<Source> scripts =
                workspace.files().stream().map(ParsedFile::source).collect(Collectors.toSet());
        List<Problem> others = new ArrayList<>();
        List<ServerObject> objects =
                code
                        .objects(
                                scripts,
                                place ->
                                        others.add(
                                                Problem.error(
                                                        place,
                                                        "not-shipped",
                                                        "this makes no routine and no trigger, so it"
                                                                + " is not shipped")))
                        .stream()
                        .map(o -> new ServerObject(o.kind(), o.name(), o.file(), o.parts()))
                        .toList();
        return new Translation(List.of(), objects, others);
    }
}
