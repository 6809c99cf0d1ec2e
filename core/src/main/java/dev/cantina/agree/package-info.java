/**
 * The proof that all ways agree: cases run in Cantina on the embedded database, in Cantina on each
 * server, and by each server itself, and what was seen of them side by side.
 */
package dev.cantina.agree;
