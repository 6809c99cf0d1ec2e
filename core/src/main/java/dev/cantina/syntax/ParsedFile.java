package dev.cantina.syntax;

import java.util.List;

/** What a file turned out to hold; problems in the order of the text. */
public record ParsedFile(Source source, List<Unit> units, List<Problem> problems) {}
