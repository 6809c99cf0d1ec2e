package dev.cantina.translate.mariadb;

import dev.cantina.binding.Binder;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.ProjectDatabase;
import dev.cantina.database.ServerDatabase;
import dev.cantina.database.ServerPart;
import dev.cantina.database.mariadb.MariaSession;
import dev.cantina.syntax.Problem;
import dev.cantina.translate.BoundRoutines;
import dev.cantina.translate.Calls;
import dev.cantina.translate.ServerLanguage;
import dev.cantina.translate.ServerObject;
import dev.cantina.translate.Translation;
import dev.cantina.types.SqlType;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Collections;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** The language of MariaDB's stored programs. */
public final class MariaLanguage implements ServerLanguage {
    @Override
    public Translation shipped(Catalog catalog, Binder binder, ProjectDatabase tables)
            throws SQLException {
        return new MariaTranslation(catalog, binder, true, tables.cascaded()).translate();
    }

    @Override
    public Translation marked(Catalog catalog, Binder binder, ProjectDatabase tables, String mark)
            throws SQLException {
        return new MariaTranslation(catalog, binder, true, tables.cascaded())
                .marked(mark)
                .translate();
    }

    @Override
    public Translation placed(Catalog catalog, Binder binder, ServerDatabase server, String mark)
            throws SQLException {
        return new MariaTranslation(catalog, binder, false, server.cascaded())
                .marked(mark)
                .translate();
    }

    @Override
    public List<ServerPart> heads(
            Catalog catalog,
            Binder binder,
            ServerDatabase server,
            Optional<String> mark,
            Set<RoutineSymbol> functions)
            throws SQLException {
        return new MariaTranslation(catalog, binder, false, server.cascaded())
                .signatures(functions);
    }

    /**
     * The functions that SQL calls and that can't be called from SQL on MariaDB: it has one
     * function of a name, and none that gives a table.
     */
    @Override
    public List<Problem> unsupportedCalls(Catalog catalog, Binder binder) {
        BoundRoutines routines = new BoundRoutines(binder);
        List<Problem> unsupportedCalls = new ArrayList<>();
        Set<RoutineSymbol> seen = Collections.newSetFromMap(new IdentityHashMap<>());
        for (RoutineSymbol routine : catalog.routines()) {
            if (routine.tree().body().isEmpty()) {
                continue;
            }
            BoundRoutine bound = routines.of(routine);
            for (Calls.Call call : Calls.inSql(bound, catalog, routine.module())) {
                RoutineSymbol called = call.routine();
                if (!seen.add(called)) {
                    continue;
                }
                if (called.returns().filter(SqlType.Table.class::isInstance).isPresent()) {
                    unsupportedCalls.add(
                            Problem.error(
                                    called.tree().name().span(),
                                    MariaTranslation.RULE,
                                    "SQL reads from "
                                            + called.name()
                                            + ", and MariaDB has no functions that give a table",
                                    "put its query into the statement that reads from it"));
                } else if (catalog.routines(called.key()).size() > 1) {
                    unsupportedCalls.add(
                            Problem.error(
                                    called.tree().name().span(),
                                    MariaTranslation.RULE,
                                    "SQL calls "
                                            + called.name()
                                            + ", of which there are several, and MariaDB has one"
                                            + " function of a name",
                                    "call it in a SET before, or give it a name of its own"));
                }
            }
        }
        return unsupportedCalls;
    }

    /**
     * The server keeps with each routine how the session was set that made it, so that is set
     * first; a line of its own ends each, because their bodies have semicolons.
     */
    @Override
    public String script(Translation translation) {
        StringBuilder text = new StringBuilder(Translation.MADE);
        MariaSession.statements().forEach(s -> text.append(s).append(";\n"));
        text.append("\nDELIMITER //\n\n");
        translation.support().forEach(object -> parts(object, text));
        translation.objects().forEach(object -> parts(object, text));
        return text.append("DELIMITER ;\n").toString();
    }

    private static void parts(ServerObject object, StringBuilder text) {
        for (ServerPart part : object.parts()) {
            text.append(part.create().stripTrailing()).append("\n//\n\n");
        }
    }
}
