package dev.cantina.importing;

import java.util.List;

/**
 * What a live server has.
 *
 * @param files its tables and routines
 * @param fixture more files that the rows need: numbers to go on with, views to be filled
 * @param tables those with rows
 * @param searchPath the schemas that names without one are looked for in; empty where that is as
 *     usual
 * @param leftOut what could not be taken, a sentence each
 */
public record Live(
        List<ImportedFile> files,
        List<ImportedFile> fixture,
        List<LiveTable> tables,
        List<String> searchPath,
        List<String> leftOut) {}
