package dev.cantina.deploy;

import dev.cantina.database.MariaSession;
import dev.cantina.database.ServerPart;

/** A translation as a file that a server's client, or a migration tool, runs. */
public final class Script {
    private static final String MADE =
            "-- Made by cantina ship --to: the next one replaces it.\n\n";

    private Script() {}

    /** Statement after statement, each ended by a semicolon. */
    public static String postgres(Translation translation) {
        StringBuilder text = new StringBuilder(MADE);
        translation.support().forEach(o -> text.append(o.text()).append('\n'));
        translation.objects().forEach(o -> text.append(o.text()).append('\n'));
        return text.toString();
    }

    /**
     * The server keeps with each routine how the session was set that made it, so that is set
     * first; a line of its own ends each, because their bodies have semicolons.
     */
    public static String maria(Translation translation) {
        StringBuilder text = new StringBuilder(MADE);
        MariaSession.statements().forEach(s -> text.append(s).append(";\n"));
        text.append("\nDELIMITER //\n\n");
        for (ServerObject object : translation.support()) {
            parts(object, text);
        }
        for (ServerObject object : translation.objects()) {
            parts(object, text);
        }
        return text.append("DELIMITER ;\n").toString();
    }

    private static void parts(ServerObject object, StringBuilder text) {
        for (ServerPart part : object.parts()) {
            text.append(part.create().stripTrailing()).append("\n//\n\n");
        }
    }
}
