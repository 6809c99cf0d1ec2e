package dev.cantina.drafting;

import java.util.List;

/**
 * A first version.
 *
 * @param name of what it makes
 * @param text of a file
 * @param notes what can't be known, and what its reader has to judge
 */
public record Draft(String name, String text, List<String> notes) {}
