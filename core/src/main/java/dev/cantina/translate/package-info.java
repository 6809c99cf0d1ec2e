/**
 * Routines in a server's own language: what all servers share here, and a room each below. What the
 * language of a server can not say is refused, with the place and the reason.
 *
 * <p>In: bound routines and facts. Out: {@link dev.cantina.translate.Translation}.
 */
package dev.cantina.translate;
