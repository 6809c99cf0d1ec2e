package dev.cantina.translate.postgresql;

import dev.cantina.binding.Binder;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.ProjectDatabase;
import dev.cantina.database.ServerDatabase;
import dev.cantina.database.ServerPart;
import dev.cantina.syntax.Problem;
import dev.cantina.translate.ServerLanguage;
import dev.cantina.translate.ServerObject;
import dev.cantina.translate.Translation;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** PL/pgSQL. */
public final class PostgresLanguage implements ServerLanguage {
    @Override
    public Translation shipped(Catalog catalog, Binder binder, ProjectDatabase tables) {
        return new PostgresTranslation(catalog, binder, Optional.empty()).translate();
    }

    @Override
    public Translation marked(Catalog catalog, Binder binder, ProjectDatabase tables, String mark) {
        return new PostgresTranslation(catalog, binder, Optional.empty()).marked(mark).translate();
    }

    @Override
    public Translation placed(Catalog catalog, Binder binder, ServerDatabase server, String mark) {
        return new PostgresTranslation(catalog, binder, Optional.of(mark)).translate();
    }

    @Override
    public List<ServerPart> heads(
            Catalog catalog,
            Binder binder,
            ServerDatabase server,
            Optional<String> mark,
            Set<RoutineSymbol> functions) {
        return new PostgresTranslation(catalog, binder, mark).signatures(functions);
    }

    @Override
    public List<Problem> unsupportedCalls(Catalog catalog, Binder binder) {
        return List.of();
    }

    @Override
    public List<ServerObject> hidden(ServerDatabase server, List<ServerObject> objects)
            throws SQLException {
        return PostgresNames.taken(server.connection(), objects);
    }

    /** Statement after statement, each ended by a semicolon. */
    @Override
    public String script(Translation translation) {
        StringBuilder text = new StringBuilder(Translation.MADE);
        translation.support().forEach(o -> text.append(o.text()).append('\n'));
        translation.objects().forEach(o -> text.append(o.text()).append('\n'));
        return text.toString();
    }
}
