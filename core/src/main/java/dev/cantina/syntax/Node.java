package dev.cantina.syntax;

/** Whatever stands in the tree: it knows its place. */
public interface Node {
    Span span();
}
