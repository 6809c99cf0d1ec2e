/** The editor protocols: what an editor asks, answered by the engines of the core. */
package dev.cantina.serve;
