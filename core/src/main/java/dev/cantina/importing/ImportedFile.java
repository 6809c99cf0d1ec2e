package dev.cantina.importing;

/**
 * A file that an import makes.
 *
 * @param path below the project's folder, with slashes
 * @param text with an end of line at its end
 */
public record ImportedFile(String path, String text) {}
