/**
 * Routines in a server's own language: read as far as probes and scopes need it, never interpreted.
 * The server runs them; a room for each server.
 */
package dev.cantina.nativecode;
