package dev.cantina.editing;

import java.util.List;

/** The names of a project that its cases may say. */
public interface CaseWords {
    /** What can be called. */
    List<Completion.Offer> routines();

    /** The parameters of all routines of a name. */
    List<Completion.Offer> parameters(String routine);

    /** The tables. */
    List<Completion.Offer> tables();

    /** The columns of a table. */
    List<Completion.Offer> columns(String table);
}
