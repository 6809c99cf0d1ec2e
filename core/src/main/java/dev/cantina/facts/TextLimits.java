package dev.cantina.facts;

import dev.cantina.binding.BoundSql;
import dev.cantina.catalog.Catalog;
import dev.cantina.types.SqlType;
import java.util.List;

/**
 * How long a text may be that a change stores into a column: blanks beyond that are lost, as the
 * standard has it (ISO 9075-2, 9.2), also where the database would refuse them.
 */
public final class TextLimits {
    private TextLimits() {}

    /** For each parameter the characters that its column holds; 0 where it goes into none. */
    public static int[] of(BoundSql sql, Catalog catalog) {
        int[] limits = new int[sql.parameters().size()];
        boolean stores = sql.verb().equals("INSERT") || sql.verb().equals("UPDATE");
        for (ColumnUse use : stores ? ColumnUse.of(sql, catalog) : List.<ColumnUse>of()) {
            if (use.stored() && use.column().type() instanceof SqlType.Text text) {
                for (int i = 0; i < limits.length; i++) {
                    limits[i] = sql.parameters().get(i) == use.value() ? text.length() : limits[i];
                }
            }
        }
        return limits;
    }
}
