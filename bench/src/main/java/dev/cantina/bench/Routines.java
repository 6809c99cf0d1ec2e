package dev.cantina.bench;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.CatalogBuilder;
import dev.cantina.database.ProjectDatabase;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Source;
import java.util.List;

/** The routines of a benchmark, read from its text. */
final class Routines {
    private Routines() {}

    /** A catalog of a database's tables and these routines, which must have no problem. */
    static Catalog of(ProjectDatabase database, String text) throws Exception {
        return new CatalogBuilder(
                        database.tables(),
                        problem -> {
                            throw new IllegalStateException(problem.toString());
                        })
                .build(List.of(Parser.parse(new Source("bench.sql", text))));
    }
}
