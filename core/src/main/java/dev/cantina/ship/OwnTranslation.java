package dev.cantina.ship;

import dev.cantina.database.ServerDatabase;
import dev.cantina.nativecode.ServerCode;
import dev.cantina.project.Workspace;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.translate.ServerLanguage;
import dev.cantina.translate.ServerObject;
import dev.cantina.translate.Translation;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * A project in a server's own language: it goes there as written, and its routines in the standard
 * language, where it has some, as they are translated.
 */
public final class OwnTranslation {
    private OwnTranslation() {}

    /**
     * The routines and triggers of a project. A statement beside them is refused, at its place.
     *
     * @param workspace on its private server
     * @throws SQLException where that can't be asked
     */
    public static Translation of(Workspace workspace) throws SQLException {
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
        if (code.standard().isEmpty()) {
            return new Translation(List.of(), objects, others);
        }
        ServerDatabase database = (ServerDatabase) workspace.database();
        Translation standard =
                ServerLanguage.of(database.kind())
                        .shipped(workspace.catalog(), workspace.program().binder(), database);
        // What is bound when it is made finds those there.
        List<ServerObject> all = new ArrayList<>(standard.objects());
        all.addAll(objects);
        others.addAll(standard.refused());
        return new Translation(standard.support(), all, others);
    }
}
